"""Files that take long to read: told how far, cancelled with Esc, and nothing comes of it."""

import pytest
from PyQt6.QtCore import Qt
from tests.support.drawings import drawing, entity
from tests.support.windows import settle

from architectonic.base.errors import UserFault

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def many_lines(tmp_path, count):
    return drawing(tmp_path, *(entity("LINE", 10, k, 20, 0, 11, k + 1, 21, 1) for k in range(count)))


def test_an_enormous_drawing_says_how_far_it_is_and_can_be_cancelled(qtbot, pad, tmp_path):
    files, family = pad.commands.models.sketches.files, pad.desk.family
    files.bring(many_lines(tmp_path, 120_000))
    assert pad.work_card.isVisible() and "drawing.dxf" in pad.work_card.title.text()
    qtbot.waitUntil(lambda: pad.work_card.bar.value() > 0, timeout=20_000)
    qtbot.keyClick(pad.work_card, Qt.Key.Key_Escape)
    assert not pad.work_card.isVisible() and "cancelled" in pad.strip.line.text()
    qtbot.wait(300)
    assert not pad.prompt.isVisible() and pad.desk.family is family


def test_a_drawing_with_more_curves_than_a_sketch_can_hold_is_refused_and_stays_at_hand(qtbot, pad, tmp_path):
    files, family = pad.commands.models.sketches.files, pad.desk.family
    files.bring(many_lines(tmp_path, 3_100))
    qtbot.waitUntil(pad.prompt.isVisible, timeout=20_000)
    qtbot.keyClick(pad.prompt.fields[1], Qt.Key.Key_Return)
    assert "more than a sketch can work with" in pad.strip.line.text()
    assert pad.prompt.isVisible() and pad.desk.family is family


def test_what_fails_meanwhile_is_told_and_new_work_takes_the_place_of_old(qtbot, pad):
    work, done = pad.desk.work, []

    def refuse(_):
        raise UserFault("it is no good", "file.x", "take another")

    work.run("Reading file.x", refuse, done.append)
    assert "it is no good" in pad.strip.line.text() and not done

    def endless(watch):
        while True:
            watch.at(0.5)

    work.run("Reading endless.x", endless, done.append)
    assert pad.work_card.isVisible()
    work.run("Reading short.x", lambda _: "short", done.append)
    assert done == ["short"] and not pad.work_card.isVisible()
    settle(qtbot, pad)
