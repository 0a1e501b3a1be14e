"""A sketch drawn by mouse and keyboard in the real window, then extruded."""

import pytest
from PyQt6.QtCore import QPointF, Qt

from architectonic.describe.results import Node
from tests.desktop.conftest import settle

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def click(qtbot, canvas, x, y, keys=Qt.KeyboardModifier.NoModifier):
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, keys, canvas.to_screen((x, y)).toPoint())


@pytest.fixture
def pad(qtbot, window, tmp_path):
    """A family of one's own with an empty part and a sketch on its top plane."""
    assert window.commands.families.make_family(tmp_path / "mine", "Mine", "A, B")
    window.actions_.run("document.new_part")
    qtbot.keyClick(window.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, window)
    window.show_tab("Sketch")
    window.actions_.run("sketch.new")
    window.prompt.fields[0].setText("Outline")
    qtbot.keyClick(window.prompt.fields[1], Qt.Key.Key_Return)
    settle(qtbot, window)
    window.sketches.scale, window.sketches.centre = 4.0, (20.0, 10.0)
    return window


def test_a_rectangle_with_a_hole_is_drawn_dimensioned_and_extruded(qtbot, pad):
    """Closed form: (50 x 30 - pi 6^2) x 10."""
    canvas, bench = pad.sketches, pad.bench
    assert pad.actions_.run("sketch.rectangle") and "first corner" in canvas.tools.hint()
    click(qtbot, canvas, 0.3, -0.2)
    click(qtbot, canvas, 40, 20)
    settle(qtbot, pad)
    assert canvas.solved.freedoms == 2  # joined to the origin by the snap
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    assert not canvas.tools.tool
    for at, value in (((20, 0), "50 mm"), ((50, 12), "30 mm")):
        click(qtbot, canvas, *at)
        assert len(canvas.shown.curves) == 1
        assert pad.actions_.run("dimension.distance")
        pad.prompt.fields[0].setText(value)
        qtbot.keyClick(pad.prompt.fields[0], Qt.Key.Key_Return)
        settle(qtbot, pad)
    assert canvas.solved.freedoms == 0
    pad.actions_.run("sketch.circle")
    click(qtbot, canvas, 25, 15)
    click(qtbot, canvas, 31, 15)
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    settle(qtbot, pad)
    click(qtbot, canvas, 19, 15)
    pad.actions_.run("dimension.diameter")
    pad.prompt.fields[0].setText("12")
    qtbot.keyClick(pad.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, pad)
    click(qtbot, canvas, 8, 22)
    assert pad.actions_.run("operation.extrude")
    qtbot.keyClick(pad.card.value, Qt.Key.Key_Return)
    settle(qtbot, pad)
    (body,) = bench.main.document.bodies
    measured = bench.settled.value(Node("measure", *bench.main.at, body))
    assert measured["volume_mm3"] == pytest.approx((50 * 30 - 3.14159265358979 * 36) * 10, rel=1e-6)
    assert not bench.attention


def test_a_chain_of_lines_closes_on_its_start(qtbot, pad):
    canvas = pad.sketches
    pad.actions_.run("sketch.line")
    for x, y in ((0, 0), (30, 0.4), (30.2, 18)):
        click(qtbot, canvas, x, y)
        settle(qtbot, pad)
    click(qtbot, canvas, 0, 0)
    settle(qtbot, pad)
    kinds = sorted(c.kind for c in canvas.sketch.constraints)
    assert kinds.count("coincident") == 4 and "horizontal" in kinds and "vertical" in kinds
    assert len(canvas.solved.regions) == 1 and not canvas.tools.clicked
    for _ in range(3):
        pad.actions_.run("edit.undo")
    settle(qtbot, pad)
    assert canvas.sketch.curves == {}


def test_what_is_decided_already_is_refused_in_words(qtbot, pad):
    canvas = pad.sketches
    pad.actions_.run("sketch.rectangle")
    click(qtbot, canvas, 0, 0)
    click(qtbot, canvas, 40, 20)
    settle(qtbot, pad)
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    family = pad.bench.family
    click(qtbot, canvas, 20, 0)
    assert pad.actions_.run("constrain.horizontal") and not pad.actions_.run("constrain.parallel")
    assert "decided already by: horizontal" in pad.strip.line.text() and pad.bench.family is family
    assert canvas.shown.curves  # still chosen, for another try


def test_a_free_end_is_dragged_and_a_curve_deleted(qtbot, pad):
    canvas = pad.sketches
    pad.actions_.run("sketch.line")
    click(qtbot, canvas, 0, 0)
    click(qtbot, canvas, 20, 12)
    settle(qtbot, pad)
    for _ in range(2):
        qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    start, end = canvas.to_screen((20, 12)), canvas.to_screen((35, 25))
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start.toPoint())
    assert canvas.tools.held
    qtbot.mouseMove(canvas, ((start + end) / 2).toPoint())
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=end.toPoint())
    settle(qtbot, pad)
    (line,) = canvas.solved.curves.values()
    assert line.values == pytest.approx((0, 0, 35, 25), abs=0.5)
    middle = canvas.to_screen((17.5, 12.5))
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=QPointF(middle).toPoint())
    qtbot.keyClick(canvas, Qt.Key.Key_Delete)
    settle(qtbot, pad)
    assert canvas.sketch.curves == {}
