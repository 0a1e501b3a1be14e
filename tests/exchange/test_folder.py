"""The folder: one transaction, recovery at every point of interruption, nothing of others overwritten unasked."""

import json
import shutil

import pytest

from architectonic.base import files
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.exchange import folder
from architectonic.family import codec, edits
from architectonic.family.records import Family


@pytest.fixture
def stored(demo, tmp_path):
    return folder.save(folder.Stored(tmp_path / "f", Family(head=demo.head), {}), demo)


def changed(family):
    """Two documents changed, one removed."""
    sizes = edits.find_document(family, "Sizes")
    family = edits.set_value(family, sizes.id, sizes.parameters[0].id, "333 mm")
    family = edits.rename_document(family, edits.find_document(family, "Foot").id, "Base")
    return edits.delete_document(family, edits.find_document(family, "Stem").id)


def test_load_gives_what_was_saved(stored, demo):
    again = folder.load(stored.folder)
    assert again.family == demo and again.files == stored.files
    assert folder.load(stored.folder / "family.json").family == demo


def test_saving_writes_only_what_differs(stored, demo):
    times = {f.name: f.stat().st_mtime_ns for f in stored.folder.glob("*.json")}
    sizes = edits.find_document(demo, "Sizes")
    folder.save(stored, edits.set_value(demo, sizes.id, sizes.parameters[0].id, "333 mm"))
    moved = [f.name for f in stored.folder.glob("*.json") if f.stat().st_mtime_ns != times[f.name]]
    assert moved == [folder.file_name(sizes)]


def test_two_people_who_add_a_parameter_each_touch_different_lines(stored, demo):
    text = (stored.folder / folder.file_name(edits.find_document(demo, "Sizes"))).read_text()
    assert max(len(line) for line in text.splitlines()) < 200
    assert list(json.loads(text)) == sorted(json.loads(text))


class Power(Exception):
    """The machine stops here."""


@pytest.mark.parametrize("stop_after", range(1, 12))
def test_a_save_stopped_anywhere_is_all_or_nothing(stored, demo, monkeypatch, stop_after):
    """The program dies after each step of saving in turn; opening finds the old family or the new one, never a mixture."""
    new = changed(demo)
    steps = 0

    def step():
        nonlocal steps
        steps += 1
        if steps == stop_after:
            raise Power

    real_write, real_replace, real_unlink = files.write, folder.Path.replace, folder.Path.unlink
    monkeypatch.setattr(files, "write", lambda p, d: (real_write(p, d), step()))
    monkeypatch.setattr(
        folder.Path,
        "replace",
        lambda self, to: (real_replace(self, to), step()) if self.name.endswith(".part") else real_replace(self, to),
    )
    monkeypatch.setattr(folder.Path, "unlink", lambda self, missing_ok=False: (real_unlink(self, missing_ok), step()))
    finished = False
    try:
        folder.save(stored, new)
        finished = True
    except Power:
        pass
    monkeypatch.undo()
    again = folder.load(stored.folder).family
    assert again in (demo, new) and (not finished or again == new)
    assert not list(stored.folder.glob("*.part")) and not (stored.folder / folder.RECORD).exists()


def test_a_write_that_fails_changes_nothing(stored, demo, monkeypatch):
    def full(path, data):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(files, "write", full)
    with pytest.raises(EnvironmentFault, match="No space left"):
        folder.save(stored, changed(demo))
    monkeypatch.undo()
    assert folder.load(stored.folder).family == demo


def test_what_others_changed_is_not_overwritten_without_a_choice(stored, demo):
    file = stored.folder / folder.file_name(edits.find_document(demo, "Sizes"))
    theirs = file.read_bytes().replace(b"360 mm", b"361 mm")
    file.write_bytes(theirs)
    assert folder.changed_on_disk(stored) == [file.name]
    new = changed(demo)
    with pytest.raises(UserFault, match="changed on disk by someone else"):
        folder.save(stored, new)
    assert file.read_bytes() == theirs
    folder.save(stored, new, overwrite=True)
    assert folder.load(stored.folder).family == new


def test_others_work_on_other_documents_is_left_alone(stored, demo):
    file = stored.folder / folder.file_name(edits.find_document(demo, "Light"))
    file.write_bytes(file.read_bytes().replace(b'"name": "Light"', b'"name": "Lamp"'))
    theirs = file.read_bytes()
    sizes = edits.find_document(demo, "Sizes")
    folder.save(stored, edits.set_value(demo, sizes.id, sizes.parameters[0].id, "333 mm"))
    assert file.read_bytes() == theirs


def test_a_copied_file_is_a_named_problem(stored, demo):
    file = stored.folder / folder.file_name(edits.find_document(demo, "Foot"))
    shutil.copy(file, stored.folder / "copy.json")
    with pytest.raises(UserFault, match="copy of"):
        folder.load(stored.folder)


BROKEN = [
    b"",
    b"{",
    b"[" * 5000,
    b'{"kind": "part"}',
    b'{"format": 7, "kind": "part", "id": "x", "name": "y"}',
    b"\xff\x00",
]


@pytest.mark.parametrize("content", BROKEN)
def test_a_broken_document_is_told_and_left_alone_and_the_others_work(stored, demo, content, tmp_path):
    """It is never written over, nor removed, nor lost when all is saved elsewhere."""
    name = folder.file_name(edits.find_document(demo, "Collar"))
    (stored.folder / name).write_bytes(content)
    again = folder.load(stored.folder)
    (one,) = again.unread
    assert one.file == name and one.told and "\n" not in one.told
    assert len(again.family.documents) == len(demo.documents) - 1 and folder.changed_on_disk(again) == []
    changed_ = folder.save(again, changed(again.family))
    elsewhere = folder.save_as(changed_, changed_.family, tmp_path / "elsewhere")
    for at in (stored.folder, elsewhere.folder):
        assert (at / name).read_bytes() == content and folder.load(at).unread[0].file == name
    (stored.folder / name).write_bytes(codec.encode(edits.find_document(demo, "Collar")))
    assert folder.changed_on_disk(changed_) == [name]  # somebody has mended it
    assert folder.load(stored.folder).unread == ()


def test_missing_folders_and_heads_are_told(tmp_path):
    with pytest.raises(EnvironmentFault, match="not a folder"):
        folder.load(tmp_path / "nowhere")
    with pytest.raises(EnvironmentFault, match=r"no family\.json"):
        folder.load(tmp_path)
