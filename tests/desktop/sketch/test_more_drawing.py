"""Free curves, text, copies, marks, grid, playing and names, by mouse and keyboard in the real window."""

import math

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QPushButton
from tests.support.hands import answer, click, lay_down
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.records import Spline, Text

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def tool(qtbot, pad, name, *at):
    """Take a tool up, click places, lay it down."""
    assert pad.actions_.run(f"sketch.{name}")
    for x, y in at:
        click(qtbot, pad.sketches, x, y)
        settle(qtbot, pad)


def choose(qtbot, pad, *at):
    lay_down(qtbot, pad.sketches)
    for k, (x, y) in enumerate(at):
        click(qtbot, pad.sketches, x, y, Qt.KeyboardModifier.ShiftModifier if k else Qt.KeyboardModifier.NoModifier)


def test_an_ellipse_with_typed_half_axes_is_extruded(qtbot, pad):
    """Closed form: pi a b h."""
    canvas, desk = pad.sketches, pad.desk
    tool(qtbot, pad, "ellipse", (0, 0), (30, 2))
    qtbot.mouseMove(canvas, canvas.to_screen((3, 12)).toPoint())
    canvas.tools.move(canvas.to_screen((3, 12)))
    qtbot.keyClick(canvas, "2")
    fields = list(canvas.sizes.fields.values())
    fields[0].setText("25 mm")
    fields[1].setText("10 mm")
    qtbot.keyClick(fields[1], Qt.Key.Key_Return)
    settle(qtbot, pad)
    assert canvas.solved.freedoms == 1  # its direction
    lay_down(qtbot, canvas)
    click(qtbot, canvas, -12, -3)
    assert desk.main.regions[1]
    assert pad.actions_.run("operation.extrude")
    qtbot.keyClick(pad.card.value, Qt.Key.Key_Return)
    settle(qtbot, pad)
    (body,) = desk.main.document.bodies
    measured = desk.settled.value(Node("measure", desk.main.at, body))
    assert measured["volume_mm3"] == pytest.approx(math.pi * 25 * 10 * 10, rel=1e-6)


def test_a_half_axis_is_dimensioned_from_the_chosen_ellipse(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "ellipse", (0, 0), (30, 0), (0, 12))
    lay_down(qtbot, canvas)
    pad.desk.main.curves = list(canvas.sketch.curves)
    pad.desk.main.selection_changed.emit()
    assert pad.actions_.run("dimension.second_half_axis")
    answer(qtbot, pad, "9 mm")
    (ellipse,) = canvas.solved.curves.values()
    assert math.dist(ellipse.values[:2], ellipse.values[4:6]) == pytest.approx(9)


def test_a_curve_takes_any_number_of_points_until_enter(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "spline", (0, 0), (12, 9), (25, -3), (38, 8))
    assert canvas.sketch.curves == {} and "Enter" in canvas.tools.hint()
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    settle(qtbot, pad)
    (curve,) = canvas.sketch.curves.values()
    assert isinstance(curve, Spline) and len(curve.points) == 4
    assert not canvas.tools.clicked and canvas.tools.tool == "spline"
    lay_down(qtbot, canvas)


def test_text_is_asked_for_placed_and_measured(qtbot, pad):
    canvas = pad.sketches
    pad.actions_.run("sketch.text")
    answer(qtbot, pad, "R8", "6 mm")
    click(qtbot, canvas, 0, 0)
    settle(qtbot, pad)
    (text,) = [c for c in canvas.sketch.curves.values() if isinstance(c, Text)]
    assert text.text == "R8" and math.dist(text.at, text.over) == pytest.approx(6)
    assert len(canvas.solved.regions) >= 2
    lay_down(qtbot, canvas)
    pad.desk.main.curves = list(canvas.sketch.curves)
    pad.desk.main.selection_changed.emit()
    assert ("Height of capitals", "6 mm") in pad.right.facts()
    assert pad.actions_.run("choose.letters")
    inked = [r for r in canvas.solved.regions if r.label in pad.desk.main.regions[1]]
    assert len(inked) == 2 and len(canvas.solved.regions) == 5  # R and 8; the R has one hole, the 8 has two
    assert pad.actions_.run("operation.extrude")
    pad.card.value.setText("2 mm")
    qtbot.keyClick(pad.card.value, Qt.Key.Key_Return)
    settle(qtbot, pad)
    (body,) = pad.desk.main.document.bodies
    measured = pad.desk.settled.value(Node("measure", pad.desk.main.at, body))
    assert measured["volume_mm3"] == pytest.approx(2 * sum(r.area for r in inked), rel=1e-5) and measured["solids"] == 2


def test_what_a_click_snaps_to_is_told_and_kept(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "line", (0, 0), (40, 0))
    lay_down(qtbot, canvas)
    pad.actions_.run("sketch.line")
    click(qtbot, canvas, 12, 25)
    for at, told in (
        ((20.2, 0.3), "middle"),
        ((12.3, 10), "upright"),
        ((31, 0.4), "on the curve"),
        ((0.2, 0.1), "end"),
    ):
        canvas.tools.move(canvas.to_screen(at))
        assert told in canvas.tools.told or (told == "end" and canvas.tools.told in ("end", "origin")), at
    click(qtbot, canvas, 20.2, 0.3)
    settle(qtbot, pad)
    assert any(c.kind == "midpoint" for c in canvas.sketch.constraints)
    lay_down(qtbot, canvas)
    pad.actions_.run("sketch.line")
    click(qtbot, canvas, 5, 30)
    before = len(canvas.sketch.constraints)
    click(qtbot, canvas, 30, 0.4, Qt.KeyboardModifier.AltModifier)
    settle(qtbot, pad)
    assert len(canvas.sketch.constraints) == before  # held off


def test_a_grid_is_snapped_to_on_one_key(qtbot, pad):
    canvas = pad.sketches
    canvas.setFocus()
    qtbot.keyClick(canvas, Qt.Key.Key_G)
    assert canvas.grid and canvas.grid_step() == 5.0  # 14 px at 4 px/mm, in steps of 1, 2, 5
    tool(qtbot, pad, "line", (13.3, 11.4), (27.1, 21.3))
    (line,) = canvas.sketch.curves.values()
    assert (line.start, line.end) == ((15, 10), (25, 20))


def test_an_offset_is_asked_for_and_follows(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "rectangle", (0, 0), (40, 20))
    choose(qtbot, pad, (20, 0), (40, 10), (20, 20), (0, 10))
    assert pad.actions_.run("copies.offset")
    assert [f.text() if hasattr(f, "text") else f.currentText() for f in pad.prompt.fields] == ["3 mm", "outside"]
    answer(qtbot, pad, "2 mm")
    assert len(canvas.sketch.curves) == 8
    assert sorted(r.area for r in canvas.solved.regions) == pytest.approx([44 * 24 - 800, 800], rel=0.02)
    choose(qtbot, pad, (20, 0))
    pad.actions_.run("dimension.distance")
    answer(qtbot, pad, "60 mm")
    assert sorted(r.area for r in canvas.solved.regions) == pytest.approx([64 * 24 - 1200, 1200], rel=0.02)


def test_a_ring_of_holes_has_one_step_and_a_move_tells_what_it_let_go(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "circle", (20, 0), (23, 0))
    choose(qtbot, pad, (23, 0))
    assert pad.actions_.run("copies.ring")
    answer(qtbot, pad, "6")
    assert len(canvas.sketch.curves) == 6
    names = [c.name for c in canvas.sketch.constraints if c.kind == "turned"]
    assert sorted(names) == ["", "", "", "", "step"]
    choose(qtbot, pad, (23, 0))
    assert pad.actions_.run("place.move")
    answer(qtbot, pad, "5 mm", "0 mm")
    assert (
        "letting go of what no longer held:" in pad.strip.line.text()
        and "with circle 1 and circle 6" in pad.strip.line.text()
    )


def test_a_count_is_named_typed_where_it_stands_and_draws_what_is_missing(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "circle", (20, 0), (23, 0))
    choose(qtbot, pad, (23, 0))
    assert pad.actions_.run("copies.ring")
    answer(qtbot, pad, "holes = 4")
    assert len(canvas.sketch.curves) == len(canvas.solved.curves) == 4
    count = next(c for c in canvas.sketch.constraints if c.kind == "count")
    assert count.name == "holes"
    canvas.grab()
    assert any(c.id == count.id for _, c in canvas.labels)
    for typed, drawn, there in (("3", 4, 3), ("6", 6, 6)):
        editor = canvas.edit(count.id)
        editor.setText(typed)
        qtbot.keyClick(editor, Qt.Key.Key_Return)
        settle(qtbot, pad)
        assert (len(canvas.sketch.curves), len(canvas.solved.curves)) == (drawn, there)
        canvas.grab()
    turned = [math.degrees(math.atan2(c.values[1], c.values[0])) % 360 for c in canvas.solved.curves.values()]
    first = turned[0]
    assert sorted((t - first) % 360 for t in turned) == pytest.approx([60 * k for k in range(6)], abs=1e-6)


def test_curves_travel_through_the_clipboard(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "rectangle", (0, 0), (20, 10))
    choose(qtbot, pad, (10, 0), (20, 5), (10, 10), (0, 5))
    assert pad.actions_.run("edit.copy") and "Copied 4 curves" in pad.strip.line.text()
    pad.actions_.run("sketch.new")
    pad.prompt.fields[0].setText("Second")
    qtbot.keyClick(pad.prompt.fields[1], Qt.Key.Key_Return)
    settle(qtbot, pad)
    assert canvas.sketch.name == "Second"
    assert pad.actions_.run("edit.paste")
    settle(qtbot, pad)
    assert len(canvas.sketch.curves) == 4 and sorted(canvas.shown.curves) == sorted(canvas.sketch.curves)
    clipboard = QApplication.clipboard()
    clipboard.setText("nothing of ours")
    pad.actions_.run("edit.paste")
    assert "holds no curves" in pad.strip.line.text()
    assert pad.actions_.run("sketch.fork")
    settle(qtbot, pad)
    assert canvas.sketch.name == "Second 2"


def test_marks_show_what_holds_the_chosen_curve_and_can_be_picked(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "rectangle", (0, 0), (40, 20))
    choose(qtbot, pad, (20, 20))
    canvas.grab()
    words = {c.kind for _, c in canvas.mark_boxes}
    assert "horizontal" in words and "vertical" not in words
    qtbot.keyClick(canvas, Qt.Key.Key_K)
    canvas.grab()
    assert {c.kind for _, c in canvas.mark_boxes} == {"horizontal", "vertical"}
    box, c = canvas.mark_boxes[0]
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert canvas.shown.constraint == c.id


def test_helper_curves_go_out_of_picking_on_one_key(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "line", (0, 5), (40, 5))
    choose(qtbot, pad, (20, 5))
    pad.actions_.run("sketch.helper")
    settle(qtbot, pad)
    lay_down(qtbot, canvas)
    qtbot.keyClick(canvas, Qt.Key.Key_H)
    choose(qtbot, pad, (20, 5))
    assert canvas.shown.curves == []
    qtbot.keyClick(canvas, Qt.Key.Key_H)
    choose(qtbot, pad, (20, 5))
    assert len(canvas.shown.curves) == 1


def dimensioned(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "rectangle", (0, 0), (40, 20))
    for at, value in (((20, 0), "40 mm"), ((40, 10), "20 mm")):
        choose(qtbot, pad, at)
        pad.actions_.run("dimension.distance")
        answer(qtbot, pad, value)
    lay_down(qtbot, canvas)
    canvas.grab()
    return canvas


def test_a_click_on_a_dimension_puts_its_name_into_the_expression(qtbot, pad):
    canvas = dimensioned(qtbot, pad)
    width, height = [c for _, c in canvas.labels]
    editor = canvas.edit(height.id)
    editor.setText("")
    editor.setFocus()
    box = next(b for b, c in canvas.labels if c.id == width.id)
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    settle(qtbot, pad)
    assert editor.text() == "length1"
    qtbot.keyClicks(editor, " / 4")
    qtbot.waitUntil(lambda: editor.told.text() == "= 10 mm")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    settle(qtbot, pad)
    assert [r.area for r in canvas.solved.regions] == pytest.approx([400])
    assert {c.name for c in canvas.sketch.constraints if c.name} == {"length1"}


def test_names_are_completed_as_they_are_typed(qtbot, pad):
    canvas = dimensioned(qtbot, pad)
    pad.desk.apply("name", lambda f: edits.rename_item(f, pad.desk.main.document_id, canvas.labels[0][1].id, "breadth"))
    settle(qtbot, pad)
    editor = canvas.edit(canvas.labels[1][1].id)
    editor.setText("")
    qtbot.keyClicks(editor, "2 * brea")
    assert editor.offer.popup().isVisible()
    editor.offer.popup().setCurrentIndex(editor.offer.completionModel().index(0, 0))
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    assert editor.text() == "2 * breadth"


def test_a_dimension_is_played_and_springs_back(qtbot, pad):
    canvas = dimensioned(qtbot, pad)
    family = pad.desk.family
    canvas.choose_constraint(canvas.labels[0][1].id)
    assert pad.actions_.run("dimension.play")
    answer(qtbot, pad, "30 mm", "50 mm")
    qtbot.waitUntil(lambda: bool(canvas.player.moving), timeout=5000)
    assert canvas.live is not None and canvas.player.told
    qtbot.waitUntil(lambda: canvas.player.span is None, timeout=20_000)
    assert "solves from 30 to 50 mm, the whole span" in pad.strip.line.text()
    assert pad.desk.family is family and canvas.live is None


def test_a_part_shows_its_bodies_behind_a_sketch_cut_at_the_plane_on_request(qtbot, window):
    desk = window.desk
    key = next(d.id for d in desk.family.documents.values() if d.name == "Foot")
    desk.show(key)
    settle(qtbot, window)
    sketch = next(o for o in desk.main.build if type(o).__name__ == "Sketch")
    desk.main.select(sketch.id)
    window.show_tab("Sketch")
    settle(qtbot, window)
    canvas = window.sketches
    whole = canvas.backdrop.pieces()
    assert len(whole) > 20
    qtbot.keyClick(canvas, Qt.Key.Key_X)
    assert len(canvas.backdrop.pieces()) < len(whole)


def test_a_group_of_verbs_opens_by_its_figure_and_a_letter_takes_one(qtbot, pad):
    row, canvas = pad.verbs, pad.sketches
    canvas.setFocus()
    qtbot.keyClick(canvas, Qt.Key.Key_1)
    assert row.list.isVisible() and row.list.title == "Draw"
    words = [a.word for a in row.list.actions_]
    assert words[:5] == ["Line", "Rectangle", "Centred rectangle", "Slanted rectangle", "Circle"]
    qtbot.keyClick(row.list, Qt.Key.Key_Right)
    assert row.list.title == "Dimension" and not any(a.enabled() for a in row.list.actions_)
    assert row.list.actions_[1].wants == "wants 2 lines"
    qtbot.keyClick(row.list, Qt.Key.Key_Left)
    qtbot.keyClick(row.list, Qt.Key.Key_R)
    assert not row.list.isVisible() and canvas.tools.tool == "rectangle" and canvas.hasFocus()
    qtbot.wait(20)
    assert row.first.text().startswith("Rectang") and row.first.geometry().width() == 82
    qtbot.keyClick(canvas, Qt.Key.Key_Space)  # what is in hand, and what it may be instead
    assert [a.word for a in row.list.actions_] == words[1:4]
    qtbot.keyClick(row.list, Qt.Key.Key_Escape)
    assert canvas.tools.tool == "rectangle" and not row.list.isVisible()


def test_words_of_the_row_keep_their_places_whatever_is_chosen(qtbot, pad):
    row, canvas = pad.verbs, pad.sketches
    tool(qtbot, pad, "line", (0, 5), (40, 15))
    before = [(b.text(), b.geometry()) for b in row.words]
    assert row.words[1].property("soft")
    choose(qtbot, pad, (10, 7.5))
    qtbot.wait(20)
    assert [(b.text(), b.geometry()) for b in row.words] == before
    assert not row.words[1].property("soft") and row.first.text().startswith("1 curve")
    assert "dimension.distance" in row.verbs() and canvas.height() + row.height() <= pad.area.height()


def test_what_joins_on_and_what_is_alike_is_chosen_at_once(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "rectangle", (0, 0), (40, 20))
    tool(qtbot, pad, "circle", (20, 10), (24, 10))
    choose(qtbot, pad, (20, 20))
    assert pad.actions_.run("choose.chain")
    assert len(canvas.shown.curves) == 4
    tool(qtbot, pad, "circle", (30, 10), (35, 10))
    choose(qtbot, pad, (35, 10))
    assert pad.actions_.run("choose.kind")
    assert {type(canvas.sketch.curves[k]).__name__ for k in canvas.shown.curves} == {"Circle"}
    assert len(canvas.shown.curves) == 2


def test_what_decides_already_is_lit_and_can_be_taken_back(qtbot, pad):
    canvas = dimensioned(qtbot, pad)
    choose(qtbot, pad, (20, 20))
    assert pad.actions_.run("dimension.distance")
    lit = {c.kind for c in canvas.sketch.constraints if c.id in canvas.shown.lit}
    assert "distance" in lit and lit <= {"distance", "vertical", "coincident", "horizontal"}
    back = [b for b in pad.prompt.findChildren(QPushButton) if b.text() == "Take back: line 1 length 40 mm"]
    qtbot.waitUntil(back[0].isVisible)
    qtbot.mouseClick(back[0], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: len(pad.prompt.fields) == 2, timeout=5000)  # the new dimension is asked for
    answer(qtbot, pad, "44 mm")
    assert canvas.solved.freedoms == 0 and not canvas.shown.lit
    assert [r.area for r in canvas.solved.regions] == pytest.approx([44 * 20])


def test_what_stands_against_a_typed_value_is_lit_until_typing_ends(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "line", (0, 0), (40, 3))
    lay_down(qtbot, canvas)
    tool(qtbot, pad, "line", (40, 3), (20, 30))
    lay_down(qtbot, canvas)
    tool(qtbot, pad, "line", (20, 30), (0, 0))
    for at, value in (((20, 1.5), "40 mm"), ((30, 16.5), "34 mm"), ((10, 15), "36 mm")):
        choose(qtbot, pad, at)
        pad.actions_.run("dimension.distance")
        answer(qtbot, pad, value)
    lay_down(qtbot, canvas)
    canvas.grab()
    family, sizes = pad.desk.family, [c for _, c in canvas.labels]
    editor = canvas.edit(sizes[0].id)
    editor.setText("90 mm")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    assert "cannot all be true" in pad.strip.line.text() and pad.desk.family is family
    assert canvas.shown.lit == {c.id for c in sizes}  # exactly the three sides (triangle inequality)
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    assert not canvas.shown.lit


def test_curves_are_mirrored_at_an_axis_that_is_picked(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "circle", (20, 12), (24, 12))
    choose(qtbot, pad, (24, 12), (0, 22))
    assert canvas.shown.curves[1:] == ["y_axis"]
    assert "copies.mirror" in pad.verbs.verbs() and pad.actions_.run("copies.mirror")
    settle(qtbot, pad)
    first, second = (c.values for c in canvas.solved.curves.values())
    assert second == pytest.approx((-first[0], first[1], first[2]))


def test_what_is_offered_follows_what_is_chosen(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "line", (0, 5), (40, 15), (30, 30))  # a chain of two
    choose(qtbot, pad, (10, 7.5))
    assert "copies.mirror" not in pad.verbs.verbs()
    click(qtbot, canvas, 33, 25.5, Qt.KeyboardModifier.ShiftModifier)
    assert "copies.mirror" in pad.verbs.verbs()


def test_an_undo_between_clicks_lets_the_clicks_go_and_what_lay_under_them(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "line", (10, 5), (40, 7))
    lay_down(qtbot, canvas)
    pad.actions_.run("sketch.touching")
    click(qtbot, canvas, 40, 7)
    assert canvas.tools.clicked[0].under
    pad.actions_.run("edit.undo")
    settle(qtbot, pad)
    assert canvas.tools.clicked == []
    for at in ((5, 5), (15, 5), (10, 12)):
        click(qtbot, canvas, *at)
        settle(qtbot, pad)
    (ring,) = canvas.solved.curves.values()
    assert ring.kind == "circle" and not [c for c in canvas.sketch.constraints if c.kind == "tangent"]


def test_the_rim_of_a_circle_keeps_to_a_point_and_promises_nothing_else(qtbot, pad):
    canvas = pad.sketches
    tool(qtbot, pad, "line", (10, 5), (40, 15))
    lay_down(qtbot, canvas)
    pad.actions_.run("sketch.circle")
    click(qtbot, canvas, 25, 25)
    canvas.tools.move(canvas.to_screen((25, 10)))
    assert canvas.tools.told == ""  # the middle of the line would not be kept
    canvas.tools.move(canvas.to_screen((40, 15)))
    assert canvas.tools.told == "end"
    click(qtbot, canvas, 40, 15)
    settle(qtbot, pad)
    assert [c.kind for c in canvas.sketch.constraints] == ["on_curve"]
