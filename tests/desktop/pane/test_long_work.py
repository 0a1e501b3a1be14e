"""Files that take long to read: told how far, cancelled with Esc, and nothing comes of it."""

import contextlib
import os
import signal

import msgspec
import pytest
from PyQt6.QtCore import Qt
from tests.support.drawings import drawing, entity
from tests.support.windows import settle

from architectonic.base.errors import UserFault
from architectonic.family import edits
from architectonic.family.operations.solids.extrude import Extrude
from architectonic.family.records import Expression

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


def test_one_thing_that_takes_long_is_named_and_can_be_cancelled(qtbot, pad, block, engine):
    desk, waits = pad.desk, pad.strip.waits
    engine.pool.submit("k", "measure", msgspec.msgpack.encode({}), ()).exception()  # whoever works is there
    workers = engine.pool.processes()
    for worker in workers:
        os.kill(worker, signal.SIGSTOP)
    try:
        part = desk.main.document
        block = next(o for o in part.build if isinstance(o, Extrude))
        end = edits.replace(block.far, value=Expression(text="37 mm"))
        desk.apply("longer", lambda f: edits.replace_operation(f, part.id, edits.replace(block, far=end)))
        qtbot.waitUntil(lambda: not waits.isHidden())
        assert f"Waiting for {block.name} of {part.name}, " in pad.strip.line.text()
        qtbot.mouseClick(waits, Qt.MouseButton.LeftButton)
        qtbot.waitUntil(lambda: waits.isHidden() and not desk.updating)
        assert "was cancelled" in pad.strip.line.text()
    finally:
        for worker in workers:
            with contextlib.suppress(ProcessLookupError):  # one that computes nothing for long is replaced
                os.kill(worker, signal.SIGCONT)
    desk.update()
    settle(qtbot, pad)
    assert waits.isHidden() and desk.settled.family is desk.family
