"""Faults of the program: told with what was being done, and a report to copy that tells nothing of the family."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from tests.support.hands import click, draw, field, type_into
from tests.support.windows import settle

from architectonic.desktop.pane import updater


def test_a_fault_says_what_was_being_done_and_offers_a_report(qtbot, window, monkeypatch):
    def broken(*_):
        raise ZeroDivisionError("made up")

    monkeypatch.setattr(updater, "attention", broken)
    line = field(window, window.drivers.fields[0].row.name)
    type_into(qtbot, line, "151 mm")
    with qtbot.waitSignal(window.desk.defects.told, timeout=240_000):
        qtbot.keyClick(line, Qt.Key.Key_Return)
    monkeypatch.undo()
    told = window.strip.line.text()
    assert "A fault of the program during" in told and "ZeroDivisionError: made up" in told and "Undo" in told
    assert window.strip.report.isVisible()
    qtbot.mouseClick(window.strip.report, Qt.MouseButton.LeftButton)
    report = QGuiApplication.clipboard().text()
    assert report == window.desk.defects.report and "Traceback" in report and "Python 3" in report
    assert window.desk.family.head.name not in report and not window.strip.report.isVisible()
    window.desk.undo()
    settle(qtbot, window)
    assert window.desk.attention == []


def test_two_points_are_put_over_one_another_whatever_they_are_points_of(qtbot, pad):
    """The centre of a circle over the middle of a rectangle, and level with it."""
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.rectangle_about", (20, 10), (30, 16))
    draw(qtbot, pad, "sketch.circle", (44, 24), (49, 24))
    middle = next(k for k, c in canvas.solved.curves.items() if c.kind == "point")
    ring = next(k for k, c in canvas.solved.curves.items() if c.kind == "circle")
    for kind, axis in (("vertical", 0), ("horizontal", 1)):
        at = [canvas.solved.curves[k].values[:2] for k in (middle, ring)]
        click(qtbot, canvas, *at[0])
        click(qtbot, canvas, *at[1], Qt.KeyboardModifier.ShiftModifier)
        assert len(canvas.shown.curves) == 2 and pad.actions_.run(f"constrain.{kind}"), canvas.shown.curves
        settle(qtbot, pad)
        first, second = (canvas.solved.curves[k].values for k in (middle, ring))
        assert abs(first[axis] - second[axis]) < 1e-6
        canvas.shown.curves = []
