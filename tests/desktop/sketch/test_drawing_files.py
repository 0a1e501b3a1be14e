"""A drawing brought into a sketch and written out again, in the real window."""

import pytest
from PyQt6.QtCore import Qt
from tests.support.drawings import SLOT, codes_of, drawing, entities_of, entity
from tests.support.hands import lay_down
from tests.support.windows import settle, worked

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def test_a_drawing_in_inches_comes_in_by_layer_and_goes_out_in_mm(qtbot, pad, tmp_path):
    files, canvas = pad.commands.models.sketches.files, pad.sketches
    source = drawing(
        tmp_path,
        entity("LWPOLYLINE", *SLOT, layer="outline"),
        entity("CIRCLE", 10, 20.0, 20, 0.0, 40, 3.0, layer="notes"),
        units=0,
    )
    files.bring(source)
    worked(qtbot, pad)
    unit, layers, into, near = pad.prompt.fields
    assert unit.currentText() == "mm" and near.text() == "0.01 mm" and into.currentText() == "the shown sketch"
    unit.setCurrentText("in")
    layers.setText("Outline")
    qtbot.keyClick(near, Qt.Key.Key_Return)
    settle(qtbot, pad)
    assert len(canvas.sketch.curves) == 4 and "4 ends joined" in pad.strip.line.text()
    assert [r.area for r in canvas.solved.regions] == pytest.approx([(800 + 314.159265359) * 25.4**2], rel=1e-6)
    lay_down(qtbot, canvas)
    out = tmp_path / "out.dxf"
    assert files.send(out) and "Wrote 4 curves" in pad.strip.line.text()
    assert sorted(k for k, _ in entities_of(codes_of(out))) == ["ARC", "ARC", "LINE", "LINE"]
    pad.actions_.run("edit.undo")
    settle(qtbot, pad)
    assert canvas.sketch.curves == {}


def test_layers_are_named_and_a_new_sketch_is_placed_on_a_plane(qtbot, pad, tmp_path):
    files = pad.commands.models.sketches.files
    source = drawing(
        tmp_path,
        entity("LINE", 10, 0.0, 20, 0.0, 11, 30.0, 21, 0.0, layer="a"),
        entity("LINE", 10, 30.0, 20, 0.0, 11, 30.0, 21, 20.0, layer="b"),
        entity("LINE", 10, 0.0, 20, 9.0, 11, 5.0, 21, 9.0, layer="c"),
        units=4,
    )
    files.bring(source)
    worked(qtbot, pad)
    _, layers, into, near = pad.prompt.fields
    layers.setText("a, nowhere")
    into.setCurrentText("a new sketch on front")
    qtbot.keyClick(near, Qt.Key.Key_Return)
    assert pad.prompt.isVisible() and "there is no layer “nowhere”" in pad.strip.line.text()
    layers.setText("a, b")
    qtbot.keyClick(near, Qt.Key.Key_Return)
    settle(qtbot, pad)
    made = pad.desk.main.build[-1]
    assert made.plane.item == "front" and len(made.curves) == 2 and len(made.constraints) == 1


def test_what_is_no_drawing_changes_nothing(qtbot, pad, tmp_path):
    files, family = pad.commands.models.sketches.files, pad.desk.family
    bad = tmp_path / "bad.dxf"
    bad.write_text("nothing of ours\n")
    files.bring(bad)
    worked(qtbot, pad)
    assert "bad.dxf" in pad.strip.line.text() and pad.desk.family is family and not pad.prompt.isVisible()
    assert not files.send(tmp_path / "no" / "such" / "folder.dxf") and "cannot be written" in pad.strip.line.text()
