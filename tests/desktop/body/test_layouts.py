"""Layouts in space, datums, underlays, traces and parts in place, by mouse and keyboard in the real window."""

import math
import threading

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, QPointF, Qt
from tests.support.hands import answer, drag, held, place, show
from tests.support.windows import settle, worked

from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.session.feeds import tracing

pytestmark = [pytest.mark.window, pytest.mark.kernel]


@pytest.fixture
def layout(qtbot, window):
    show(qtbot, window, "Elevation")
    window.show_tab("3D")
    window.bodies.grab()
    return window


def operation(window, name):
    return next(o for o in window.desk.main.build if o.name == name)


def test_a_layout_is_seen_in_space_with_names_and_figures(layout):
    space = layout.bodies.space
    named = {t.operation.name for _, t in space.plates}
    assert {"Shoulder", "Foot top", "Arm square", "Head face"} <= named
    figures = {c.name for _, _, _, c in space.tags}
    assert {"stem_length", "arm_length", "foot_d"} <= figures
    side = operation(layout, "Side")
    flat = {k: space.to_screen(p) for k, p in next(space.lines(t) for t in space.things() if t.operation.id == side.id)}
    assert len(flat) == 4


def test_a_figure_is_typed_where_it_stands_and_the_parts_follow(qtbot, layout):
    canvas = layout.bodies
    box, *_ = next(t for t in canvas.space.tags if t[3].name == "arm_angle")
    qtbot.mouseDClick(canvas, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    field = canvas._field
    assert field.text() == "28 deg" and field._value("30 deg") == "= 30 deg"
    field.setText("35 deg")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    settle(qtbot, layout)
    frame = layout.desk.settled.value(Node("frame", layout.desk.main.at, operation(layout, "Head face").id))
    assert math.degrees(math.asin(frame.normal[2])) == pytest.approx(35)
    assert "arm_angle" in layout.strip.line.text()


def test_a_curve_is_hovered_chosen_and_its_sketch_opened(qtbot, layout):
    canvas, side = layout.bodies, operation(layout, "Side")
    thing = next(t for t in canvas.space.things() if t.operation.id == side.id)
    key, points = canvas.space.lines(thing)[0]
    x, y = canvas.space.to_screen(points)[len(points) // 3]
    qtbot.mouseMove(canvas, QPointF(x, y).toPoint())
    assert canvas.space.over is not None and canvas.space.over.curve == key
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=QPointF(x, y).toPoint())
    assert layout.desk.main.operation == side.id and layout.desk.main.curves == [key]
    qtbot.mouseDClick(canvas, Qt.MouseButton.LeftButton, pos=QPointF(x, y).toPoint())
    assert layout.tab == "Sketch" and layout.sketches.sketch.id == side.id


def test_several_planes_are_named_while_they_are_made(qtbot, layout):
    layout.actions_.run("datum.new")
    card = layout.card
    card.name.setText("Shelf 1, Shelf 2, Shelf 3")
    place(qtbot, layout, "top", "Sizes.height / 4")
    heights = [
        layout.desk.settled.value(Node("frame", layout.desk.main.at, operation(layout, f"Shelf {k}").id)).origin[2]
        for k in (1, 2, 3)
    ]
    assert heights == [90, 180, 270]
    layout.actions_.run("edit.undo")
    settle(qtbot, layout)
    assert not any(o.name.startswith("Shelf") for o in layout.desk.main.build)


def test_a_datum_that_cannot_be_says_why_and_esc_changes_nothing(qtbot, layout):
    family = layout.desk.family
    layout.actions_.run("datum.axis")
    card = layout.card
    card.head.how.setCurrentText("Axis where two planes cross")
    held(card)[0].setCurrentText("top")
    held(card)[1].setCurrentText("Shoulder")
    qtbot.waitUntil(lambda: "never cross" in card.hint.text())
    card.name.setText("")
    card.preview()
    assert "needs a name" in card.hint.text()
    qtbot.keyClick(card.name, Qt.Key.Key_Escape)
    settle(qtbot, layout)
    assert layout.desk.family is family and not card.isVisible()


def test_a_datum_is_changed_by_its_sentence(qtbot, layout):
    layout.desk.main.select(operation(layout, "Shoulder").id)
    assert layout.actions_.run("operation.edit")
    card = layout.card
    assert held(card)[0].currentText() == "top" and held(card)[1].text() == "Sizes.height"
    held(card)[1].setText("Sizes.height - 10 mm")
    qtbot.keyClick(card.name, Qt.Key.Key_Return)
    settle(qtbot, layout)
    at = layout.desk.main.at
    assert layout.desk.settled.value(Node("frame", at, operation(layout, "Shoulder").id)).origin[2] == 350


def test_a_picture_is_laid_under_and_scaled_by_two_clicks_and_a_distance(qtbot, layout, tmp_path):
    file = tmp_path / "sketch of mine.png"
    Image.new("RGB", (800, 400), "white").save(file)
    layout.underlays.bring(file)
    worked(qtbot, layout)
    layout.prompt.fields[1].setCurrentText("front")
    answer(qtbot, layout, "Mine")
    assert (layout.desk.session.stored.folder / "files").glob("sketch-of-mine-*.png")
    layout.actions_.run("underlay.scale")
    picking, canvas = layout.bodies.plane_pick, layout.bodies
    frame = picking.asked[0]
    to = canvas.space.on_screen(frame)
    for point in ((20.0, 30.0), (120.0, 30.0)):
        qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=to(point).toPoint())
    answer(qtbot, layout, "150 mm")
    picture = layout.desk.settled.value(Node("underlay", layout.desk.main.at, operation(layout, "Mine").id))
    assert picture.size[0] == pytest.approx(300, rel=0.02) and picture.size[1] == picture.size[0] / 2
    bad = tmp_path / "bad.png"
    bad.write_bytes(b"no picture")
    family = layout.desk.family
    layout.underlays.bring(bad)
    worked(qtbot, layout)
    assert "bad.png" in layout.strip.line.text() and layout.desk.family is family


def test_an_edge_is_traced_with_an_offset_and_follows(qtbot, window):
    """What lies under the pointer is named, [ ] steps behind it; one Enter traces and offsets."""
    show(qtbot, window, "Foot")
    window.show_tab("Sketch")
    window.actions_.run("sketch.new")
    window.prompt.fields[1].setCurrentText("top")
    answer(qtbot, window, "Ring")
    assert window.actions_.run("sketch.trace")
    settle(qtbot, window)
    card, canvas = window.trace_card, window.sketches
    rim = next(t for t in card.things if t.takes == "edge" and abs(math.hypot(*t.points[0]) - 75) < 1e-3)
    x, y = rim.points[5]
    spot = canvas.to_screen((float(x), float(y))).toPoint()
    qtbot.mouseMove(canvas, spot)
    assert "dge of Shell" in card.hint.text() and card.over
    if len(card.over) > 1:
        first = card.hint.text()
        qtbot.keyClick(canvas, Qt.Key.Key_BracketRight)
        assert card.hint.text() != first or "2 of" in card.hint.text()
        qtbot.keyClick(canvas, Qt.Key.Key_BracketLeft)
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=spot)
    card.blanks["offset"].field.setText("Sizes.wall + 0.6 mm")
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    settle(qtbot, window)
    radii = sorted(c.values[2] for c in canvas.solved.curves.values() if c.kind == "circle")
    assert radii == pytest.approx([72, 75])
    window.desk.apply("wider", lambda f: edits.set_value(f, edits.find_document(f, "Sizes").id,
                       next(p.id for p in edits.find_document(f, "Sizes").parameters if p.name == "foot_d"), "160 mm", ""))  # fmt: skip
    settle(qtbot, window)
    assert sorted(c.values[2] for c in canvas.solved.curves.values() if c.kind == "circle") == pytest.approx([77, 80])


def test_what_cannot_be_traced_is_told_on_the_card_and_geometry_is_asked_beside_the_event_loop(
    qtbot, window, monkeypatch
):
    show(qtbot, window, "Foot")
    window.show_tab("Sketch")
    window.actions_.run("sketch.new")
    window.prompt.fields[1].setCurrentText("top")
    answer(qtbot, window, "Ring")
    window.actions_.run("sketch.trace")
    card, family = window.trace_card, window.desk.family
    qtbot.keyClick(card, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert "nothing is chosen to trace" in card.hint.text() and window.desk.family is family
    card.chosen = [next(k for k, t in enumerate(card.things) if t.takes == "edge")]
    card.on_changed("things")
    card.blanks["offset"].field.setText("2 kg")
    qtbot.keyClick(card, Qt.Key.Key_Return)
    assert "a length" in card.hint.text() and window.desk.family is family
    card.blanks["offset"].field.setText("")
    how = card.blanks["how"].list
    how.setCurrentIndex(how.findData("section"))
    assert not card.blanks["reach"].list.isVisible()  # all of the body is meant
    threads = []
    real = tracing.trace
    monkeypatch.setattr(tracing, "trace", lambda *a: threads.append(threading.current_thread()) or real(*a))
    qtbot.keyClick(card, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert not card.isVisible() and len(threads) == 1 and threads[0] is not threading.main_thread()
    sketch = next(o for o in window.desk.main.build if o.name == "Ring")
    assert {c.how for c in sketch.curves.values()} == {"section"}


def test_a_plan_is_typed_and_a_part_is_started_in_place(qtbot, window):
    show(qtbot, window, "Light")
    window.show_tab("Plan")
    tree = window.plan.tree
    names = [tree.topLevelItem(k).text(0) for k in range(tree.topLevelItemCount())]
    assert names == ["Stand", "Stem", "Cheek L", "Arm tube", "Head"] and "Elevation" in window.plan.frame.text()
    tree.choose(edits.find_document(window.desk.family, "Diffuser").id)
    tree.add("part")
    item = tree.currentItem()
    item.setText(0, "Reflector")
    settle(qtbot, window)
    made = edits.find_document(window.desk.family, "Reflector")
    assert made.number == "BRL-67" and [i.name for i in edits.find_document(window.desk.family, "Head").instances] == [
        "Bezel",
        "Diffuser",
        "Reflector",
        "Neck",
    ]
    assert not window.desk.attention
    window.show_tab("Bodies")
    canvas = window.bodies
    settle(qtbot, window)
    (key, mesh, _) = next(b for b in canvas.meshes if canvas.body_name(b[0]) == "Stand / Base / Shell")
    top = max((p[0][2], f) for f, p in zip(mesh.faces, mesh.planes, strict=True) if p and p[1][2] > 0.9)[1]
    window.desk.main.pick([("face", key, top)])
    assert window.actions_.run("part.here")
    assert window.prompt.fields[2].currentText() == "the picked face of Foot"
    answer(qtbot, window, "Cap")
    assert window.desk.main.document.name == "Cap" and window.tab == "Sketch"
    assert {window.desk.family.documents[k.at.document].name for k in window.desk.main.behind()} >= {
        "Foot",
        "Stem",
        "Elevation",
    }
    window.show_tab("Bodies")
    assert canvas.around
    qtbot.keyClick(canvas, Qt.Key.Key_B)
    settle(qtbot, window)
    assert not canvas.around and not window.desk.main.behind()
    part = window.desk.main.document
    assert [f.name for f in part.feeds.values()] == ["Elevation whole", "start on Foot"]


def test_from_effect_back_to_cause(qtbot, window):
    """Double-click a traced curve in the part: the layout's sketch opens beside; what is typed there moves the part."""
    show(qtbot, window, "Bezel")
    window.show_tab("Sketch")
    canvas = window.sketches
    (ring,) = window.desk.main.document.bodies
    node = Node("measure", window.desk.main.at, ring)
    before = window.desk.settled.value(node)["volume_mm3"]
    traced = next(k for k, c in canvas.solved.curves.items() if c.fixed and c.kind == "line")
    x0, y0, x1, y1 = canvas.solved.curves[traced].values
    middle = canvas.to_screen(((x0 + 2 * x1) / 3, (y0 + 2 * y1) / 3)).toPoint()
    qtbot.mouseDClick(canvas, Qt.MouseButton.LeftButton, pos=middle)
    settle(qtbot, window)
    beside = window.beside.sketches
    assert window.desk.beside.document.name == "Elevation" and beside.sketch.name == "Head outline"
    beside.grab()
    corner = next(c for c in beside.sketch.constraints if c.name == "corner")
    editor = beside.edit(corner.id)
    editor.setText("16 mm")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.desk.settled.value(node)["volume_mm3"] != before


def test_a_copy_of_a_plane_is_pulled_off_by_its_name(qtbot, layout):
    """Upwards by 60 pixels: the distance is what those pixels are along the normal, in round steps."""
    canvas, card = layout.bodies, layout.card
    box, _ = next((b, t) for b, t in canvas.space.plates if t.operation.name == "Shoulder")
    start = box.center().toPoint()
    base, up = canvas.space.to_screen(np.array([[0, 0, 0], [0, 0, 1.0]]))
    wanted = 60 / float(base[1] - up[1])
    drag(qtbot, canvas, start, start - QPoint(0, 60))
    assert card.isVisible() and held(card)[0].currentText() == "Shoulder" and card.name.hasFocus()
    far = float(held(card)[1].text().removesuffix(" mm"))
    assert far == pytest.approx(wanted, rel=0.2) and far % 10 == 0
    card.name.setText("Upper, Uppermost")
    qtbot.keyClick(card.name, Qt.Key.Key_Return)
    settle(qtbot, layout)
    at, heights = layout.desk.main.at, []
    for name in ("Shoulder", "Upper", "Uppermost"):
        heights.append(layout.desk.settled.value(Node("frame", at, operation(layout, name).id)).origin[2])
    assert heights == pytest.approx([360, 360 + far, 360 + 2 * far])


def test_a_plane_seen_square_on_is_not_pulled(qtbot, layout):
    canvas, family = layout.bodies, layout.desk.family
    canvas.look("top")
    canvas.grab()
    box, _ = next((b, t) for b, t in canvas.space.plates if t.operation.name == "Shoulder")
    start = box.center().toPoint()
    drag(qtbot, canvas, start, start + QPoint(0, 60))
    assert "Turn the view" in layout.strip.line.text()
    assert not layout.card.isVisible() and layout.desk.family is family


def test_a_part_shows_what_it_has_not_used_yet(qtbot, layout):
    """A new sketch is seen in 3D until something is made of it; datums stay."""
    show(qtbot, layout, "Knob")
    assert not [t for t in layout.bodies.space.things() if not t.faint]
    layout.actions_.run("datum.new")
    place(qtbot, layout, "top", "40 mm")
    layout.show_tab("Bodies")
    layout.desk.main.select("")
    assert [t.operation.name for t in layout.bodies.space.things() if not t.faint] == ["Plane 1"]
