"""A kind of operation and a kind of document, declared in a package of their own, are at home everywhere: in files, in
reports, on the command line and in the window. No line of the program knows them.

Volume and mass of a ball in closed form; the density of aluminium as typed.
"""

import json
import math
import os
import subprocess
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parent
VOLUME = 4 / 3 * math.pi * 10**3


@pytest.fixture(scope="module")
def knowing():
    """An environment whose processes know the package."""
    path = os.pathsep.join([str(HERE), *filter(None, [os.environ.get("PYTHONPATH", "")])])
    return {**os.environ, "ARCHITECTONIC_KINDS": "outpost", "PYTHONPATH": path}


def run(environment, *arguments, code=0):
    done = subprocess.run([sys.executable, *map(str, arguments)], env=environment, capture_output=True, text=True)
    assert done.returncode == code, done.stderr + done.stdout
    return done.stdout


@pytest.fixture(scope="module")
def folder(knowing, tmp_path_factory):
    made = tmp_path_factory.mktemp("balls")
    run(knowing, HERE / "used.py", "write", made / "family")
    return made


def test_files_hold_their_words_and_the_schema_knows_them(knowing, folder):
    files = {json.loads(f.read_text("utf-8"))["kind"]: f for f in (folder / "family").glob("[MB]*.json")}
    assert set(files) == {"part", "bill"}
    assert json.loads(files["part"].read_text("utf-8"))["build"][0]["kind"] == "ball"
    told = run(knowing, "-c", "import json; from architectonic.family import codec; print(json.dumps(codec.schema()))")
    assert {"Ball", "Bill"} <= set(json.loads(told)["$defs"])


@pytest.mark.kernel
def test_the_command_line_builds_and_reports_them(knowing, folder):
    environment = {**knowing, "ARCHITECTONIC_CACHE": str(folder / "store")}
    told = json.loads(run(environment, "-m", "architectonic.cli", "build", folder / "family", "--json"))
    part = told["documents"]["Marble"]["configurations"]["default"]
    assert part["operations"] == [{"name": "Ball", "kind": "ball", "status": "ok", "message": ""}]
    assert part["bodies"][0]["volume_mm3"] == pytest.approx(VOLUME, rel=1e-9)
    bill = told["documents"]["Bill"]
    assert bill["kind"] == "bill"
    assert bill["configurations"]["default"]["weight_g"] == pytest.approx(VOLUME * 2.7e-3, rel=1e-9)


@pytest.mark.kernel
@pytest.mark.window
def test_the_window_shows_them(knowing, folder):
    pytest.importorskip("PyQt6")
    shown = json.loads(run({**knowing, "QT_QPA_PLATFORM": "offscreen"}, HERE / "used.py", "window", folder))
    assert shown["rows"] == ["Ball: make Marble about the origin with radius 10 mm"]
    assert shown["volume"] == f"{VOLUME / 1000:.2f} cm³"
    assert shown["sentence"] == ["acts_on", "centre", "radius"]
    assert shown["found"] == "Ball" and shown["verbs"] == "Ball…"
    assert "bill" in shown["new"].lower() and shown["tabs"][0] == "Values" and shown["sign"]


def test_without_the_package_the_files_are_refused_by_name_and_a_wrong_name_is_told(folder):
    plain = {k: v for k, v in os.environ.items() if k != "ARCHITECTONIC_KINDS"}
    done = subprocess.run(
        [sys.executable, "-m", "architectonic.cli", "build", str(folder / "family")],
        env=plain,
        capture_output=True,
        text=True,
    )
    told = done.stdout + done.stderr  # the documents are told, left alone, and the others built
    assert done.returncode == 1 and ("ball" in told or "bill" in told) and "Traceback" not in told
    wrong = {**plain, "ARCHITECTONIC_KINDS": "nowhere"}
    done = subprocess.run(
        [sys.executable, "-m", "architectonic.cli", "new", str(folder / "x")], env=wrong, capture_output=True, text=True
    )
    assert done.returncode == 2 and "nowhere" in done.stderr and "Traceback" not in done.stderr
