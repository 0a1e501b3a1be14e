"""What stands against an edit of a sketch is named in the words of the window, each with a way to take it back; corners."""

import math

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QPushButton
from tests.support.hands import answer, click, draw, triangle
from tests.support.windows import settle


def test_what_stands_against_a_typed_value_is_named_and_taken_back_at_once(qtbot, pad):
    """A triangle of 30, 32 and 31 whose last side is asked to be 80: in the words of the window, with a way out of each."""
    canvas = pad.sketches
    triangle(qtbot, pad)
    last = canvas.sketch.constraints[-1]
    canvas.grab()
    editor = canvas.edit(last.id)
    editor.setText("80")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    assert "line 1 length 30 mm" in pad.strip.line.text() and "coincident" not in pad.strip.line.text()
    words = [b.text() for b in pad.prompt.findChildren(QPushButton) if b.isVisible()]
    assert words[0].startswith("Take back: line") and {
        "Take back: line 1 length 30 mm",
        "Take back: line 3 length 32 mm",
    } <= set(words)
    next(b for b in pad.prompt.findChildren(QPushButton) if b.text() == "Take back: line 1 length 30 mm").click()
    settle(qtbot, pad)
    qtbot.keyClick(editor, Qt.Key.Key_Return)  # nothing stands against it now: Enter again stores it
    settle(qtbot, pad)
    assert [c.value.text for c in canvas.sketch.constraints if c.kind == "distance"] == ["32 mm", "80 mm"]


def test_a_constraint_that_does_not_go_names_what_holds_and_is_tried_again(qtbot, pad):
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.line", (0, 0), (30, 5))
    draw(qtbot, pad, "sketch.line", (10, 10), (18, 32))

    def both():
        for k, c in enumerate(canvas.solved.curves.values()):
            x, y = (c.values[0] + c.values[2]) / 2, (c.values[1] + c.values[3]) / 2
            click(qtbot, canvas, x, y, *([Qt.KeyboardModifier.ShiftModifier] if k else []))

    both()
    assert pad.actions_.run("constrain.perpendicular")
    settle(qtbot, pad)
    both()
    assert pad.actions_.run("constrain.parallel")
    assert pad.prompt.isVisible() and "line 1 square with line 2" in pad.strip.line.text()
    first = next(b for b in pad.prompt.findChildren(QPushButton) if b.isVisible())
    assert first.text() == "Take back: line 1 square with line 2"
    first.click()
    settle(qtbot, pad)
    assert [c.kind for c in canvas.sketch.constraints if c.kind in ("parallel", "perpendicular")] == ["parallel"]


def test_all_corners_are_rounded_from_a_chosen_outline(qtbot, pad):
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.rectangle", (0, 0), (40, 20))
    click(qtbot, canvas, 20, 0)
    assert not pad.actions_.run("sketch.round")  # one line is no corner
    pad.actions_.run("choose.chain")
    assert pad.actions_.run("sketch.round")
    assert any("4 corners" in label.text() for label in pad.prompt.findChildren(QLabel) if label.isVisible())
    answer(qtbot, pad, "3 mm")
    assert sum(c.kind == "arc" for c in canvas.solved.curves.values()) == 4
    assert max(r.area for r in canvas.solved.regions) == pytest.approx(40 * 20 - (4 - math.pi) * 9, rel=0.02)


def test_between_an_edit_and_its_solution_the_picture_of_before_stands(qtbot, pad):
    """A dimension is carried over to a corner point that the solution of before does not know."""
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.rectangle", (0, 0), (40, 20))
    click(qtbot, canvas, 20, 0)
    pad.actions_.run("dimension.distance")
    answer(qtbot, pad, "40 mm")
    click(qtbot, canvas, 20, 0)
    pad.actions_.run("choose.chain")
    pad.actions_.run("sketch.round")
    pad.prompt.fields[0].setText("3 mm")
    pad.prompt.keep()
    canvas.grab()
    settle(qtbot, pad)
    canvas.grab()
    assert len(canvas.labels) == 2  # the length, and one radius for all corners
    pad.desk.undo()
    canvas.grab()
    settle(qtbot, pad)


def test_an_empty_sketch_is_not_called_held(qtbot, pad):
    pad.sketches.grab()
    assert pad.tabs.meter.text() == "Outline: nothing drawn yet" and pad.made_of.entries[0].note == "empty"
    draw(qtbot, pad, "sketch.line", (0, 0), (10, 5))
    pad.sketches.grab()
    assert "freedoms left" in pad.tabs.meter.text() and "free" in pad.made_of.entries[0].note
