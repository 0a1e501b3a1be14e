"""A family touches nothing outside its folder, hangs on nothing, and loses nothing to somebody who saves at the same time."""

import json
import os
import subprocess
import sys
import textwrap

import pytest

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.exchange import dxf, folder, locking, picturefile, spreadsheet
from architectonic.family import edits
from architectonic.family.records import Family


def new_family(place, parameters=("a", "b")):
    """A family of one table with a parameter each, 1 mm."""
    family = edits.new_family("Small")
    family, key = edits.add_document(family, "table", "Numbers")
    for name in parameters:
        family = edits.add_parameter(family, key, name, "1 mm")
    return folder.save(folder.Stored(place, Family(head=family.head), {}), family)


@pytest.fixture
def stored(tmp_path):
    return new_family(tmp_path / "f")


def with_value(family, name, text):
    table = edits.find_document(family, "Numbers")
    return edits.set_value(family, table.id, next(p.id for p in table.parameters if p.name == name), text)


@pytest.mark.parametrize(
    "record",
    [
        {"writes": {}, "removes": ["../victim.txt"]},
        {"writes": {}, "removes": ["/victim.json"]},
        {"writes": {}, "removes": ["files/inside.json"]},
        {"writes": {}, "removes": [".hidden.json"]},
        {"writes": {}, "removes": ["note.txt"]},
        {"writes": {"../victim.json": "0"}, "removes": []},
        {"writes": {"..\\victim.json": "0"}, "removes": []},
        {"writes": [], "removes": 3},
    ],
    ids=lambda r: json.dumps(r),
)
def test_a_record_that_names_anything_but_documents_here_is_refused(stored, tmp_path, record):
    victims = [tmp_path / "victim.txt", tmp_path / "victim.json", stored.folder / "note.txt"]
    for victim in victims:
        victim.write_text("mine")
    (tmp_path / "victim.json.part").write_text("theirs")
    (stored.folder / folder.RECORD).write_text(json.dumps(record))
    for act in (
        lambda: folder.load(stored.folder),
        lambda: folder.save(stored, with_value(stored.family, "a", "2 mm")),
    ):
        with pytest.raises(UserFault, match="unfinished save"):
            act()
    assert [v.read_text() for v in victims] == ["mine"] * 3
    (stored.folder / folder.RECORD).unlink()  # as the message says
    assert folder.load(stored.folder).family == stored.family


def test_links_are_not_written_through(stored, tmp_path):
    outside = tmp_path / "outside.txt"
    outside.write_text("mine")
    name = stored.files[next(iter(stored.family.documents))][0]
    for link in (f"{name}{folder.PART}", f"{folder.RECORD}{folder.PART}"):
        (stored.folder / link).symlink_to(outside)
    folder.save(stored, with_value(stored.family, "a", "2 mm"))
    assert outside.read_text() == "mine" and not (stored.folder / name).is_symlink()
    (stored.folder / locking.LOCK).unlink()
    (stored.folder / locking.LOCK).symlink_to(outside)
    with pytest.raises(EnvironmentFault, match="cannot be written"):
        folder.save(folder.load(stored.folder), with_value(stored.family, "a", "3 mm"))
    assert outside.read_text() == "mine"


@pytest.mark.parametrize("through_link", [False, True])
def test_nothing_hangs_on_a_pipe(stored, tmp_path, through_link):
    def pipe(place):
        if through_link:
            os.mkfifo(tmp_path / f"{place.name}.fifo")
            place.symlink_to(tmp_path / f"{place.name}.fifo")
        else:
            os.mkfifo(place)

    for name, read in (("t.csv", spreadsheet.read), ("p.png", picturefile.read), ("d.dxf", dxf.read)):
        pipe(tmp_path / name)
        with pytest.raises((EnvironmentFault, UserFault), match="no ordinary file"):
            read(tmp_path / name)
    pipe(stored.folder / "Pipe-0000.json")
    (one,) = folder.load(stored.folder).unread
    assert "no ordinary file" in one.told
    assert folder.changed_on_disk(stored) == ["Pipe-0000.json"]
    (stored.folder / "Pipe-0000.json").unlink()
    pipe(stored.folder / folder.RECORD)
    with pytest.raises(EnvironmentFault, match="no ordinary file"):
        folder.load(stored.folder)


def test_a_folder_that_is_gone_or_another_familys_is_noticed_and_can_be_followed(stored, tmp_path):
    changed = with_value(stored.family, "a", "2 mm")
    moved = tmp_path / "moved"
    stored.folder.rename(moved)
    for overwrite in (False, True):
        with pytest.raises(folder.Gone, match="moved or removed"):
            folder.save(stored, changed, overwrite)
    assert not stored.folder.exists()
    new_family(stored.folder)
    with pytest.raises(folder.Gone, match="it is the family “Small” by now"):
        folder.save(stored, changed, overwrite=True)
    with pytest.raises(UserFault, match="this is the family “Small”"):
        folder.follow(stored, stored.folder)
    there = folder.follow(stored, moved)
    assert folder.load(folder.save(there, changed).folder).family == changed


def test_what_vanished_from_the_folder_is_written_again_when_ours_shall_stay(stored):
    name = stored.files[next(iter(stored.family.documents))][0]
    (stored.folder / name).unlink()
    assert folder.changed_on_disk(stored) == [name]
    folder.save(stored, stored.family, overwrite=True)
    assert folder.load(stored.folder).family == stored.family


def test_saving_elsewhere_carries_everything(stored, tmp_path):
    for name in ("files/concept.png", "kept/body.bin"):
        (stored.folder / name).parent.mkdir(exist_ok=True)
        (stored.folder / name).write_bytes(b"x" * 9)
    changed = with_value(stored.family, "a", "2 mm")
    made = folder.save_as(stored, changed, tmp_path / "new")
    assert folder.load(made.folder).family == changed and folder.load(stored.folder).family == stored.family
    assert all((made.folder / n).read_bytes() == b"x" * 9 for n in ("files/concept.png", "kept/body.bin"))
    with pytest.raises(UserFault, match="not empty"):
        folder.save_as(stored, changed, made.folder)
    with pytest.raises(UserFault, match="holds a family already"):
        folder.save(folder.Stored(made.folder, Family(head=changed.head), {}), changed)


def test_what_is_read_back_must_be_what_was_written(stored, monkeypatch):
    real = folder._on_disk
    name = stored.files[next(iter(stored.family.documents))][0]
    asked = []

    def bad(path):
        asked.append(path.name)
        return "bad" if path.name == name and asked.count(name) > 1 else real(path)

    monkeypatch.setattr(folder, "_on_disk", bad)
    with pytest.raises(EnvironmentFault, match="not what is read back"):
        folder.save(stored, with_value(stored.family, "a", "2 mm"))


WRITER = """
import sys
from pathlib import Path
from architectonic.base.errors import UserFault
from architectonic.exchange import folder
from architectonic.family import edits
place, name, times = Path(sys.argv[1]), sys.argv[2], int(sys.argv[3])
stored, refused = folder.load(place), 0
for number in range(1, times + 1):
    while True:
        table = edits.find_document(stored.family, "Numbers")
        key = next(p.id for p in table.parameters if p.name == name)
        try:
            stored = folder.save(stored, edits.set_value(stored.family, table.id, key, f"{number} mm"))
            break
        except UserFault as fault:  # the other one was first: take theirs, and again
            assert "changed on disk by someone else" in str(fault), fault
            now = folder.load(place)
            assert now.files != stored.files, "refused although nobody had changed anything"
            stored, refused = now, refused + 1
print(refused)
"""
READER = """
import sys
from pathlib import Path
from architectonic.exchange import folder
place, seen = Path(sys.argv[1]), [0, 0]
while not (place / "files" / "done").exists():
    table = next(iter(folder.load(place).family.documents.values()))
    now = [int(p.common.text.split()[0]) for p in table.parameters]
    assert all(a >= b for a, b in zip(now, seen)), (now, seen)
    seen = now
"""


def test_two_who_save_at_the_same_time_lose_nothing_and_readers_see_whole_families(stored):
    """100 saves each, taking turns as they come; every value only ever grows for a reader, and ends at 100."""
    (stored.folder / "files").mkdir()
    run = [sys.executable, "-c"]
    readers = [subprocess.Popen([*run, textwrap.dedent(READER), str(stored.folder)]) for _ in range(2)]
    writers = [subprocess.Popen([*run, textwrap.dedent(WRITER), str(stored.folder), n, "100"]) for n in ("a", "b")]
    assert [w.wait() for w in writers] == [0, 0]
    (stored.folder / "files" / "done").touch()
    assert [r.wait() for r in readers] == [0, 0]
    table = edits.find_document(folder.load(stored.folder).family, "Numbers")
    assert [p.common.text for p in table.parameters] == ["100 mm", "100 mm"]


MOUNTS = """\
36 35 98:0 /mnt1 /mnt2 rw,noatime master:1 - ext3 /dev/root rw,errors=continue
40 35 0:31 / /share rw,relatime shared:2 - nfs4 host:/share rw,vers=4.2,local_lock=none
41 35 0:32 / /old rw,relatime shared:3 - nfs host:/old rw,vers=3,nolock
42 35 0:33 / /away rw,nosuid - fuse.sshfs me@host: rw,user_id=0
43 35 0:34 / /office rw - cifs //host/office rw,vers=3.0,nobrl
44 35 0:35 / /guest rw - 9p tag rw,trans=virtio
"""
"""As proc(5) shows it (its own example first)."""


@pytest.mark.parametrize(
    ("device", "kind"),
    [
        ("98:0", ""),
        ("0:31", ""),
        ("0:32", "nfs"),
        ("0:33", "fuse.sshfs"),
        ("0:34", "cifs"),
        ("0:35", "9p"),
        ("9:9", ""),
    ],
)
def test_disks_whose_locks_reach_nobody_else_are_told_by_their_mounts(device, kind):
    assert locking.told_by(MOUNTS, device) == kind


@pytest.fixture
def doubtful(monkeypatch):
    monkeypatch.setattr(locking, "doubtful", lambda _: "nfs")


def test_where_locks_are_doubtful_a_file_stands_for_them(stored, doubtful, monkeypatch):
    monkeypatch.setattr(locking, "PATIENCE", 0.2)
    held = stored.folder / locking.HELD
    with locking.locked(stored.folder, write=True):
        assert held.exists()
        with pytest.raises(EnvironmentFault, match="another program is saving"):
            folder.load(stored.folder)
    assert folder.load(stored.folder).family == stored.family and not held.exists()


@pytest.mark.parametrize("old", [False, True])
def test_a_file_for_a_lock_that_a_dead_process_left_holds_nobody(stored, doubtful, monkeypatch, old):
    """Also when it died before it said who it is."""
    monkeypatch.setattr(locking, "PATIENCE", 5.0)
    held = stored.folder / locking.HELD
    killed = f"""
import os, pathlib
from architectonic.exchange import locking
locking.doubtful = lambda _: "nfs"
with locking.locked(pathlib.Path({str(stored.folder)!r}), write=True):
    os.kill(os.getpid(), 9)
"""
    assert subprocess.run([sys.executable, "-c", killed], check=False).returncode == -9 and held.exists()
    if old:
        held.write_bytes(b"")
        os.utime(held, (1, 1))
    assert folder.save(stored, with_value(stored.family, "a", "2 mm")).family != stored.family
    assert not list(stored.folder.glob(f"{locking.HELD}*"))


def test_a_lock_that_was_taken_anew_meanwhile_is_left_to_who_has_it(stored, doubtful, monkeypatch):
    """Two find what a dead process left; one has freed and taken it before the other comes to it."""
    held = stored.folder / locking.HELD
    held.write_bytes(b"who lives")
    monkeypatch.setattr(locking, "_holder", lambda _: locking._Holder(b"who was dead", False))
    locking._freed(held)
    assert held.read_bytes() == b"who lives" and [p.name for p in stored.folder.glob(f"{locking.HELD}*")] == [held.name]
