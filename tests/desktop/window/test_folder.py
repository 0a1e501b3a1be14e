"""What goes on in the folder, in the real window: others who have it open, what they save, what a killed window left."""

import threading

import pytest
from PyQt6.QtWidgets import QPushButton
from tests.support.hands import show
from tests.support.windows import settle

from architectonic.base.processes import claims
from architectonic.desktop.window import folderwatch
from architectonic.exchange.presence import PREFIX, Presence
from architectonic.family import edits
from architectonic.session.open.session import Session
from architectonic.session.open.whatif import with_values

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def value(text):
    return lambda f: with_values(f, [text])


def choose(window, words):
    button = next(b for b in window.prompt.findChildren(QPushButton) if b.isVisible() and b.text().startswith(words))
    button.click()


def test_what_others_save_and_who_they_are_is_seen_at_once(qtbot, window):
    notices, folder = window.head.notices, window.desk.session.stored.folder
    assert notices.newer.isHidden() and notices.others.isHidden() and notices.left.isHidden()
    (folder / f"{PREFIX}there").write_text('{"host":"far","boot":"b","pid":7,"started":1,"user":"anna","since":1.0}')
    qtbot.waitUntil(lambda: notices.others.isVisible())
    assert notices.others.text() == "Also open: anna" and "anna on far" in notices.others.toolTip()
    notices.others.click()
    assert "anna on far" in window.strip.line.text()
    (folder / f"{PREFIX}there").unlink()
    other = Session.open(folder)
    other.apply("gap", value("Sizes.gap=0.5 mm"))
    other.save()
    qtbot.waitUntil(lambda: notices.newer.isVisible() and notices.others.isHidden())
    notices.newer.click()
    choose(window, "Take theirs")
    settle(qtbot, window)
    assert window.desk.family == other.family
    qtbot.waitUntil(lambda: notices.newer.isHidden())


def test_what_a_killed_window_left_is_told_until_it_is_answered(qtbot, window, tmp_path):
    session = window.desk.session
    killed = Session.open(session.stored.folder, None, tmp_path / "state")
    killed.apply("wall", value("Sizes.wall=3 mm"))
    killed.apply("reach", value("Sizes.reach=420 mm"))  # too long for the foot
    killed.end()
    notices = window.head.notices
    qtbot.waitUntil(lambda: notices.left.isVisible() and notices.left.text() == "Edits left unsaved")
    assert "Sizes" in notices.left.toolTip() and "last: reach" in notices.left.toolTip()
    notices.left.click()
    choose(window, "Later")
    assert notices.left.isVisible()
    notices.left.click()
    choose(window, "Take them")
    settle(qtbot, window)
    assert window.desk.family == killed.family and window.desk.session.history.undo_label == "edits that were left"
    qtbot.waitUntil(lambda: "newly failing or out of rule" in window.strip.line.text())  # what it brings is told
    assert "edits that were left" in window.strip.line.text() and window.strip.take_back.isVisible()
    qtbot.waitUntil(lambda: notices.left.isHidden())


def test_a_disk_whose_locks_reach_nobody_else_is_named(qtbot, window, monkeypatch):
    assert "locks" not in window.head.family_button.toolTip()
    monkeypatch.setattr("architectonic.desktop.window.folderwatch.doubtful", lambda _: "nfs")
    window.head.watch.look()
    qtbot.waitUntil(lambda: "nfs, whose locks may not reach" in window.head.family_button.toolTip())


def test_a_disk_that_answers_no_more_keeps_no_window_from_closing(qtbot, window, monkeypatch):
    hangs = threading.Event()
    monkeypatch.setattr(folderwatch, "PATIENCE", 0.2)
    monkeypatch.setattr(Presence, "leave", lambda _: hangs.wait())
    window.leave()
    assert not window.isVisible() and not hangs.is_set()
    hangs.set()


def test_trouble_with_keeping_edits_stands_in_the_pill(qtbot, window, monkeypatch):
    def full(path, key, content):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("architectonic.base.stores.write", full)
    sizes = edits.find_document(window.desk.family, "Sizes")
    wall = next(p for p in sizes.parameters if p.name == "wall")
    window.desk.apply("wall", lambda f: edits.set_value(f, sizes.id, wall.id, "3 mm"))
    qtbot.waitUntil(lambda: window.head.pill.text().startswith("Edits not kept"))
    assert "No space left" in window.head.pill.toolTip()


def test_a_window_that_closes_is_here_no_more(qtbot, window):
    folder = window.desk.session.stored.folder
    qtbot.waitUntil(lambda: bool(list(folder.glob(f"{PREFIX}*"))))
    assert claims.mine().host in next(folder.glob(f"{PREFIX}*")).read_text()
    window.leave()
    assert not list(folder.glob(f"{PREFIX}*"))


def test_a_document_that_cannot_be_read_is_told_and_the_others_are_there(qtbot, window):
    """Also in a family that follows no file, opened after another one."""
    folder = window.desk.session.stored.folder
    (broken,) = folder.glob("Collar-*.json")
    broken.write_text("{")
    assert window.commands.families.show_family(folder)
    settle(qtbot, window)
    qtbot.waitUntil(lambda: any(i.where == broken.name for i in window.desk.attention))
    (told,) = [i for i in window.desk.attention if i.where == broken.name]
    assert told.what.startswith("this document cannot be read") and told.severity == "failing"
    window.attention._open(told.document, told.item)  # as a click on its entry does
    sizes = edits.find_document(window.desk.family, "Sizes")
    wall = next(p for p in sizes.parameters if p.name == "wall")
    window.desk.apply("wall", lambda f: edits.set_value(f, sizes.id, wall.id, "3 mm"))
    window.commands.families.save()
    settle(qtbot, window)
    assert broken.read_text() == "{" and not window.desk.session.unsaved


def test_the_head_band_never_widens_the_window(qtbot, window):
    """However much it has to say: what is undone is shortened first."""
    head, notices = window.head, window.head.notices
    sizes = edits.find_document(window.desk.family, "Sizes")
    wall = next(p for p in sizes.parameters if p.name == "wall")
    show(qtbot, window, "Light")
    label = "wall of everything 2.4 mm → 3 mm"
    window.desk.apply(label, lambda f: edits.set_value(f, sizes.id, wall.id, "3 mm"))
    settle(qtbot, window)
    qtbot.waitUntil(lambda: head.undo_button.text().startswith("↶ Undo: wall"))
    folder = window.desk.session.stored.folder
    (folder / f"{PREFIX}there").write_text('{"host":"far","boot":"b","pid":7,"started":1,"user":"anna","since":1.0}')
    qtbot.waitUntil(lambda: notices.others.isVisible())
    settle(qtbot, window)
    assert window.width() == 1280 and head.minimumSizeHint().width() <= 1280
    assert head.undo_button.text().startswith("↶ Undo") and label in head.undo_button.toolTip()
    assert head.pill.geometry().right() <= head.width()
