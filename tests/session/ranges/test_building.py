"""Ranges built and handed out: files of every row, the catalogue, a cluster; read back by other packages."""

import errno
import json
import math
from pathlib import Path

import junitparser
import pandas
import pypdf
import pytest
import trimesh

import architectonic as a
from architectonic import cli
from architectonic.base.cancel import Cancelled, CancelToken
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.family import edits
from architectonic.session.open.engine import Engine
from architectonic.session.ranges import building
from architectonic.session.ranges.catalogue import write_catalogue

pytestmark = pytest.mark.kernel
LENGTHS = {"P 40": 40, "P 63": 63, "P 100": 100, "P 160": 160}  # R5 of ISO 3


@pytest.fixture
def pins(store):
    """Round pins of four lengths, bored along where they are longer than 80 mm."""
    with a.new("Pins", store=store) as opened:
        part = opened.part("Pin")
        part.parameter("length", "40 mm")
        outline = part.sketch("Outline")
        outline.circle((0, 0), diameter="12 mm")
        part.extrude(make="Pin", regions=outline.region(), far="length", name="Block")
        part.body("Pin").made_of("steel")
        hole = part.sketch("Hole")
        hole.circle((0, 0), diameter="4 mm")
        part.extrude(cut="Pin", regions=hole.region(), far="through", name="Bore").switch("length > 80 mm")
        for name, length in LENGTHS.items():
            part.row(name, length=f"{length} mm")
        yield part


def volume(length):
    return math.pi / 4 * (144 - (16 if length > 80 else 0)) * length


def built(pins, **more):
    return building.build(pins.opened.engine.evaluator, pins.opened.family, pins.id, **more)


def test_every_row_becomes_a_file_of_its_own_and_the_catalogue_tells_them(pins, tmp_path):
    made = built(pins)
    assert [(r.name, r.state) for r in made.rows] == [("default", "current"), *((n, "current") for n in LENGTHS)]
    paths = building.write_files(
        pins.opened.engine,
        made,
        tmp_path / "out",
        ".stl",
        "pin-{length}-{n:02}",
        more=[lambda f: write_catalogue(made, f)],
    )
    names = {f"pin-{length}-{n:02}.stl": length for n, length in enumerate((40, *LENGTHS.values()), 1)}
    assert {p.name for p in paths} == {*names, "Pin-catalogue.pdf", "Pin-catalogue.xlsx"}
    assert sorted(p.name for p in (tmp_path / "out").iterdir()) == sorted(p.name for p in paths)
    for name, length in names.items():
        mesh = trimesh.load_mesh(tmp_path / "out" / name)
        assert mesh.is_watertight and mesh.volume == pytest.approx(volume(length), rel=0.03)
    table = pandas.read_excel(tmp_path / "out" / "Pin-catalogue.xlsx").set_index("Configuration")
    for name, length in LENGTHS.items():
        assert table.loc[name, "length mm"] == length and table.loc[name, "Bore"] == ("on" if length > 80 else "off")
        assert table.loc[name, "Mass g"] == pytest.approx(volume(length) * 7.85e-3, abs=0.06)
    pages = pypdf.PdfReader(tmp_path / "out" / "Pin-catalogue.pdf").pages
    text = "\n".join(p.extract_text() for p in pages)
    assert all(n in text for n in LENGTHS) and "160.00" in text and len(pages[0].images) == 4  # the first two are alike
    assert round(float(pages[0].mediabox.width)) == 842 and round(float(pages[0].mediabox.height)) == 595  # A4 across


def test_names_that_are_alike_or_none_are_refused_before_anything_is_written(pins, tmp_path):
    made, engine = built(pins), pins.opened.engine
    for pattern, told in (
        ("pin", "would both be called “pin”"),
        ("{number}", "default has no number"),
        ("{nothing}", "“nothing” names nothing here"),
        ("a/{name}", "is no name of a file"),
    ):
        with pytest.raises(UserFault, match=told):
            building.write_files(engine, made, tmp_path / "out", ".step", pattern)
    assert not (tmp_path / "out").exists()


def test_a_disk_that_fills_half_way_leaves_nothing_behind(pins, tmp_path, monkeypatch):
    made, real = built(pins), Path.write_bytes

    def full(self, data):
        if "P 100" in self.name:
            real(self, data[:100])
            raise OSError(errno.ENOSPC, "No space left on device")
        return real(self, data)

    (tmp_path / "out").mkdir()
    (tmp_path / "out" / "Pin P 40.stl").write_text("of before")
    monkeypatch.setattr(Path, "write_bytes", full)
    with pytest.raises(EnvironmentFault, match=r"No space left on device.*nothing was left half written"):
        building.write_files(pins.opened.engine, made, tmp_path / "out", ".stl")
    assert [p.name for p in (tmp_path / "out").iterdir()] == ["Pin P 40.stl"]
    assert (tmp_path / "out" / "Pin P 40.stl").read_text() == "of before"


def test_what_fails_is_grouped_by_its_cause_and_the_others_are_handed_out(pins, tmp_path):
    pins.opened.set("Pin.length@P 63", "0 mm")
    pins.opened.set("Pin.length@P 160", "0 mm")
    made = built(pins)
    assert [r.name for r in made.rows if r.state == "failing"] == ["P 63", "P 160"]
    (cause,) = made.causes
    assert cause.configurations == ("P 63", "P 160") and cause.where == "Pin / Block"
    paths = building.write_files(pins.opened.engine, made, tmp_path, ".step")
    assert [p.name for p in paths] == ["Pin P 100.step", "Pin P 40.step", "Pin default.step"]


def test_only_what_differs_is_built_and_it_can_be_stopped(pins):
    told = []
    first = built(pins, told=told.append)
    assert first.evaluation.work.computed and told[-1].done <= told[-1].most
    assert built(pins).evaluation.work.computed == 0
    pins.opened.set("Pin.length@P 63", "64 mm")
    assert 0 < built(pins).evaluation.work.computed < first.evaluation.work.computed / 2
    token = CancelToken()
    token.cancel()
    pins.opened.set("Pin.length@P 63", "65 mm")
    with pytest.raises(Cancelled):
        built(pins, cancel=token)
    assert built(pins).rows[2].state == "current"


def test_the_command_writes_the_range_and_says_what_came_of_it(pins, tmp_path, capsys):
    pins.opened.save(tmp_path / "family")
    out = tmp_path / "out"
    assert cli.main(["range", str(tmp_path / "family"), "Pin", "--to", str(out), "--format", "3mf", "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert set(data["rows"]) == {"default", *LENGTHS} and len(data["files"]) == 7 and data["attention"] == []
    half = ["range", str(tmp_path / "family"), "Pin", "--to", str(out), "--set", "Pin.length@P 63=0 mm"]
    assert cli.main(half) == 1 and "4 of 5 configurations built" in capsys.readouterr().out
    assert cli.main([*half[:5], "--names", "x"]) == 2 and "both be called" in capsys.readouterr().err
    assert cli.main([*half[:5], "--cluster", "tcp://127.0.0.1:1"]) == 2
    assert "no cluster answers" in capsys.readouterr().err


def test_checks_are_told_to_servers_that_build(pins, tmp_path, capsys):
    pins.rule("long enough", "length >= 40 mm", "A pin holds nothing that is shorter.")
    pins.opened.set("Pin.length@P 63", "39 mm")
    pins.opened.save(tmp_path / "family")
    assert cli.main(["check", str(tmp_path / "family"), "--json", "--junit", str(tmp_path / "checks.xml")]) == 1
    checks = json.loads(capsys.readouterr().out)["checks"]
    found = {(c["configuration"], c["name"]): (c["state"], c["value"], c["limit"]) for c in checks}
    assert found["P 63", "long enough"] == ("out of rule", 39.0, 40.0)
    assert found["P 40", "long enough"][0] == "near" and found["P 100", "long enough"] == ("holds", 100.0, 40.0)
    read = junitparser.JUnitXml.fromfile(str(tmp_path / "checks.xml"))
    assert (read.tests, read.failures, read.errors) == (10, 1, 0)
    cases = {(suite.name, case.name): case for suite in read for case in suite}
    (failure,) = cases["Pin, P 63", "long enough"].result
    assert "A pin holds nothing that is shorter." in failure.message
    assert cases["Pin, P 100", "long enough"].is_passed


def test_a_cluster_makes_the_same_shapes(pins, tmp_path):
    distributed = pytest.importorskip("distributed")
    with distributed.LocalCluster(n_workers=1, threads_per_worker=1, dashboard_address=None) as cluster:
        engine = Engine.start(tmp_path / "own", 1, cluster.scheduler_address)
        try:
            assert engine.pool.workers == 1
            made = building.build(engine.evaluator, pins.opened.family, pins.id)
            here = built(pins)
            volumes = [
                {n: o.value["volume_mm3"] for n, o in e.outcomes.items() if n.what == "measure"}
                for e in (made.evaluation, here.evaluation)
            ]
            assert volumes[0] == volumes[1] and len(volumes[0]) == 5
            paths = building.write_files(engine, made, tmp_path / "out", ".step")
            assert len(paths) == 5 and all(p.stat().st_size > 1000 for p in paths)
        finally:
            engine.close()
    assert edits.find_document(pins.opened.family, "Pin").id == pins.id
