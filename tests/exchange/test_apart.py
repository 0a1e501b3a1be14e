"""Files of others are read in a process of their own: what they try costs one sentence, and stopping needs no patience."""

import os
import random
import threading
import time

import pytest
from bench.hostile import MAKERS, hostile, many_rows, mutated, small

from architectonic.base.cancel import Cancelled, CancelToken, Watch
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.demo import files as demo_files
from architectonic.exchange import apart, dxf, picturefile, spreadsheet

READ = {"spreadsheet": apart.spreadsheet, "drawing": apart.drawing, "picture": apart.picture}


def test_it_says_what_reading_says(tmp_path):
    demo_files.write(tmp_path)
    for file in sorted(tmp_path.rglob("*")):
        if file.suffix in (".csv", ".xlsx"):
            assert apart.spreadsheet(file) == spreadsheet.read(file)
        elif file.suffix == ".dxf":
            assert apart.drawing(file) == dxf.read(file)
        elif file.suffix in (".png", ".svg"):
            assert apart.picture(file) == picturefile.read(file)


QUICK = sorted(
    name
    for name, (kind, _, _) in MAKERS.items()
    if kind in READ and not name.endswith("without end") and name != "a million rows"
)


@pytest.mark.parametrize("name", QUICK)
def test_hostile_files_are_one_sentence(tmp_path, name, monkeypatch):
    """Or are read, where nothing is wrong with them: never more than that."""
    monkeypatch.setattr("bench.hostile.MAKERS", {name: MAKERS[name]})
    ((_, kind, path),) = hostile(tmp_path, random.Random(5))
    try:
        READ[kind](path)
    except (UserFault, EnvironmentFault) as fault:
        told = getattr(fault, "sentence", str(fault))
        assert told and "\n" not in told and "Traceback" not in told


def test_what_takes_too_much_memory_or_computing_is_told_and_ended(tmp_path, monkeypatch):
    path = tmp_path / "many.xlsx"
    path.write_bytes(many_rows(60_000))
    monkeypatch.setenv("ARCHITECTONIC_READ_SECONDS", "1")
    with pytest.raises(UserFault, match="takes more than"):
        apart.spreadsheet(path)
    monkeypatch.setenv("ARCHITECTONIC_READ_SECONDS", "60")
    monkeypatch.setenv("ARCHITECTONIC_READ_MEMORY", "120000000")
    with pytest.raises(UserFault, match=r"takes more than|more in it than can be read"):
        apart.spreadsheet(path)


def test_what_unpacks_without_end_is_refused_before_it_does(tmp_path):
    path = tmp_path / "bomb.xlsx"
    path.write_bytes(bomb())
    with pytest.raises(UserFault, match="unpacks to more than 400 MB"):
        spreadsheet.read(path)


def bomb():
    import io
    import zipfile

    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as book, book.open("xl/worksheets/s.xml", "w") as part:
        for _ in range(41):
            part.write(b"x" * 10_000_000)
    return file.getvalue()


def test_damaged_files_are_one_sentence(tmp_path):
    draw = random.Random(11)
    for number in range(12):
        (kind, ending), data = draw.choice([k for k in small().items() if k[0][0] in READ])
        path = tmp_path / f"{number}{ending}"
        path.write_bytes(mutated(data, draw))
        try:
            READ[kind](path)
        except (UserFault, EnvironmentFault) as fault:
            assert "\n" not in getattr(fault, "sentence", str(fault))


def test_stopping_needs_no_patience(tmp_path):
    path, token = tmp_path / "many.xlsx", CancelToken()
    path.write_bytes(many_rows(200_000))
    threading.Timer(0.3, token.cancel).start()
    with pytest.raises(Cancelled):
        apart.spreadsheet(path, "", Watch(token))


@pytest.mark.parametrize("kind", READ)
def test_pipes_devices_and_folders_are_refused_and_never_waited_for(tmp_path, kind):
    ending = {"spreadsheet": ".csv", "drawing": ".dxf", "picture": ".png"}[kind]
    pipe, device, folder = (tmp_path / f"{n}{ending}" for n in ("pipe", "device", "folder"))
    os.mkfifo(pipe)
    device.symlink_to("/dev/zero")
    folder.mkdir()
    for path in (pipe, device, folder, tmp_path / f"none{ending}"):
        with pytest.raises((UserFault, EnvironmentFault)):
            READ[kind](path)


def test_a_reader_that_stands_still_is_given_up(tmp_path, monkeypatch):
    """As on a disk that does not answer: here the process is stopped."""
    import signal
    import subprocess

    monkeypatch.setattr(apart, "SILENT", 0.4)
    start = subprocess.Popen

    def stopped(*arguments, **more):
        process = start(*arguments, **more)
        os.kill(process.pid, signal.SIGSTOP)
        return process

    monkeypatch.setattr(subprocess, "Popen", stopped)
    file = tmp_path / "a.csv"
    file.write_text("name,M\n")
    began = time.monotonic()
    with pytest.raises(EnvironmentFault, match="does not answer"):
        apart.spreadsheet(file)
    assert time.monotonic() > began + 0.4


def test_a_family_reads_nothing_outside_its_folder_that_nobody_linked_here(tmp_path, monkeypatch):
    """Not by an absolute path, nor upwards, nor through a link that lies in its folder."""
    from architectonic.exchange import allowed
    from architectonic.family import edits
    from architectonic.family.records import Link
    from architectonic.session.tables import spreadsheets

    monkeypatch.setenv("ARCHITECTONIC_STATE", str(tmp_path / "state"))
    folder, secret = tmp_path / "family", tmp_path / "secret.csv"
    folder.mkdir()
    secret.write_text("name;all sizes\na;7 mm\n")
    (folder / "through.csv").symlink_to(secret)
    (folder / "own.csv").write_text("name;all sizes\na;8 mm\n")
    family, key = edits.add_document(edits.new_family("F"), "table", "T")
    family = edits.add_parameter(family, key, "a", "1 mm")
    row = family.documents[key].parameters[0].id

    def seen(file, family=family):
        link = Link(name="l", file=file, name_column="name", columns={"": "all sizes"}, rows={row: "a"})
        linked = edits.put(family, edits.replace(family.documents[key], links={"l": link}))
        return spreadsheets.look(linked, folder)[0]

    assert seen("own.csv").difference is not None
    for file in (str(secret), "../secret.csv", "through.csv"):
        assert "was not linked on this machine" in seen(file).fault
    spreadsheets.link(family, key, folder, secret)
    for file in (str(secret), "../secret.csv", "through.csv"):
        assert seen(file).difference is not None
    allowed._here.clear()  # as after the next start
    assert seen(str(secret)).difference is not None
    assert "was not linked" in seen(str(secret), edits.replace(family, head=edits.new_family("Other").head)).fault
