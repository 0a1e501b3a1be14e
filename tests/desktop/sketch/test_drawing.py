"""A sketch drawn by mouse and keyboard in the real window, then extruded."""

import pytest
from PyQt6.QtCore import QPointF, Qt
from tests.support.hands import answer, click, drag, draw, lay_down, triangle
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.family import edits, names
from architectonic.family.records import Constraint, Expression

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def test_a_rectangle_with_a_hole_is_drawn_dimensioned_and_extruded(qtbot, pad):
    """Closed form: (50 x 30 - pi 6^2) x 10."""
    canvas, desk = pad.sketches, pad.desk
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
        answer(qtbot, pad, value)
    assert canvas.solved.freedoms == 0
    pad.actions_.run("sketch.circle")
    click(qtbot, canvas, 25, 15)
    click(qtbot, canvas, 31, 15)
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    settle(qtbot, pad)
    click(qtbot, canvas, 19, 15)
    pad.actions_.run("dimension.diameter")
    answer(qtbot, pad, "12")
    click(qtbot, canvas, 8, 22)
    assert pad.actions_.run("operation.extrude")
    qtbot.keyClick(pad.card.value, Qt.Key.Key_Return)
    settle(qtbot, pad)
    (body,) = desk.main.document.bodies
    measured = desk.settled.value(Node("measure", desk.main.at, body))
    assert measured["volume_mm3"] == pytest.approx((50 * 30 - 3.14159265358979 * 36) * 10, rel=1e-6)
    assert not desk.attention


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
    family = pad.desk.family
    click(qtbot, canvas, 20, 0)
    assert pad.actions_.run("constrain.horizontal") and not pad.actions_.run("constrain.parallel")
    assert "decided already by: line 1 level" in pad.strip.line.text() and pad.desk.family is family
    assert canvas.shown.curves  # still chosen, for another try


def test_a_free_end_is_dragged_and_a_curve_deleted(qtbot, pad):
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.line", (0, 0), (20, 12))
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


def test_an_arc_and_a_point_are_drawn_and_constraints_fit_what_is_chosen(qtbot, pad):
    canvas = pad.sketches
    pad.actions_.run("sketch.arc")
    for x, y in ((0, 0), (20, 0), (3, 14)):
        click(qtbot, canvas, x, y)
    settle(qtbot, pad)
    (arc,) = canvas.solved.curves.values()
    assert arc.kind == "arc" and arc.values[6] == pytest.approx(20, abs=0.3)
    draw(qtbot, pad, "sketch.line", (30, 5), (34, 19))
    free = canvas.solved.freedoms
    click(qtbot, canvas, 32, 12)
    assert "constrain.vertical" in pad.verbs.verbs() and "constrain.tangent" not in pad.verbs.verbs()
    middle = (20 * 0.985, 20 * 0.17)
    click(qtbot, canvas, *middle, Qt.KeyboardModifier.ShiftModifier)
    assert len(canvas.shown.curves) == 2 and "constrain.tangent" in pad.verbs.verbs()
    assert pad.actions_.run("constrain.tangent")
    settle(qtbot, pad)
    assert canvas.solved.freedoms == free - 1
    by_kind = {c.kind: c for c in canvas.solved.curves.values()}
    line, round_ = by_kind["line"], by_kind["arc"]
    (a, b, c, d), (ox, oy, r) = line.values, (*round_.values[:2], round_.values[6])
    away = abs((c - a) * (oy - b) - (d - b) * (ox - a)) / ((c - a) ** 2 + (d - b) ** 2) ** 0.5
    assert away == pytest.approx(r, abs=1e-7)


def test_two_points_get_a_distance_across_and_a_helper_bounds_nothing(qtbot, pad):
    canvas = pad.sketches
    for tool, clicks in (("rectangle", ((0, 0), (40, 20))), ("point", ((25, 8),))):
        pad.actions_.run(f"sketch.{tool}")
        for at in clicks:
            click(qtbot, canvas, *at)
        settle(qtbot, pad)
        qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    click(qtbot, canvas, 0, 0, Qt.KeyboardModifier.ShiftModifier)
    click(qtbot, canvas, 25, 8, Qt.KeyboardModifier.ShiftModifier)
    assert canvas.tools.kinds() == ("point", "point")
    assert pad.actions_.run("dimension.horizontal_distance")
    assert pad.prompt.fields[0].text().startswith("25")
    pad.prompt.fields[0].setText("30 mm")
    pad.prompt.fields[1].setText("inset")
    qtbot.keyClick(pad.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, pad)
    point = next(c for c in canvas.solved.curves.values() if c.kind == "point")
    assert point.values[0] == pytest.approx(30)
    assert len(canvas.solved.regions) == 1
    click(qtbot, canvas, 20, 20)
    assert pad.actions_.run("sketch.helper")
    settle(qtbot, pad)
    assert not canvas.solved.regions


def test_a_dimension_that_cannot_hold_is_not_stored(qtbot, pad):
    """A triangle of 30, 40 and then 80: no such triangle exists (triangle inequality)."""
    canvas = pad.sketches
    triangle(qtbot, pad)
    family = pad.desk.family
    last = canvas.sketch.constraints[-1]
    canvas.grab()
    editor = canvas.edit(last.id)
    editor.setText("80")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    assert pad.desk.family is family and "cannot all be true" in pad.strip.line.text()
    assert "nothing was stored" in pad.strip.line.text()


def test_the_text_of_a_dimension_is_moved_and_solves_nothing(qtbot, pad):
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.line", (0, 0), (30, 0.2))
    click(qtbot, canvas, 15, 0)
    pad.actions_.run("dimension.distance")
    qtbot.keyClick(pad.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, pad)
    canvas.grab()
    ((box, _),) = canvas.labels
    target = canvas.to_screen((10, -12))
    drag(qtbot, canvas, box.center().toPoint(), target.toPoint())
    settle(qtbot, pad)
    moved = next(c for c in canvas.sketch.constraints if c.value is not None)
    assert moved.at == pytest.approx((10, -12), abs=0.5)
    assert pad.desk.settled.work.computed == 0


def test_constraints_are_told_in_words_chosen_and_taken_away(qtbot, pad):
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.rectangle", (0, 0), (40, 20))
    free = canvas.solved.freedoms
    click(qtbot, canvas, 20, 20)
    qtbot.wait(50)
    words = dict(pad.right.reasons())
    assert sorted(w.split(" ")[0] for w in words.values()) == ["joined", "joined", "level"]
    level = next(k for k, w in words.items() if w == "level")
    pad.right.constraint_chosen.emit(level)
    assert canvas.shown.constraint == level and not canvas.shown.curves
    qtbot.keyClick(canvas, Qt.Key.Key_Delete)
    settle(qtbot, pad)
    assert canvas.solved.freedoms == free + 1 and not canvas.shown.constraint


def test_what_is_decided_becomes_a_read_out_on_offer_and_drives_again(qtbot, pad):
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.rectangle", (0, 0), (40, 20))
    click(qtbot, canvas, 20, 0)
    pad.actions_.run("dimension.distance")
    qtbot.keyClick(pad.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, pad)
    free = canvas.solved.freedoms
    click(qtbot, canvas, 20, 20)
    assert pad.actions_.run("dimension.distance")
    assert pad.prompt.isVisible() and not pad.prompt.fields
    qtbot.keyClick(pad.prompt, Qt.Key.Key_Return)
    settle(qtbot, pad)
    (read,) = [c for c in canvas.sketch.constraints if c.reads]
    assert canvas.solved.freedoms == free
    canvas.grab()
    box = next(box for box, c in canvas.labels if c.id == read.id)
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert canvas.shown.constraint == read.id and "dimension.turn" in pad.verbs.verbs()
    driving = next(c for c in canvas.sketch.constraints if c.value is not None)
    canvas.choose_constraint(driving.id)
    pad.actions_.run("dimension.turn")
    settle(qtbot, pad)
    assert canvas.solved.freedoms == free + 1
    canvas.choose_constraint(read.id)
    pad.actions_.run("dimension.turn")
    settle(qtbot, pad)
    assert canvas.solved.freedoms == free
    pad.actions_.run("dimension.rename")
    pad.prompt.fields[0].setText("width")
    qtbot.keyClick(pad.prompt.fields[0], Qt.Key.Key_Return)
    assert any(c.name == "width" for c in canvas.sketch.constraints)


def test_sizes_are_typed_while_drawing_and_become_dimensions(qtbot, pad):
    """A 50 x 30 rectangle from two typed sizes; a line of 2 * 12 mm at 30 deg."""
    canvas = pad.sketches
    pad.actions_.run("sketch.rectangle")
    click(qtbot, canvas, 0, 0)
    qtbot.mouseMove(canvas, canvas.to_screen((20, 11)).toPoint())
    qtbot.keyClick(canvas, "5")
    assert canvas.sizes.isVisible() and "type a size" in canvas.tools.hint()
    width, height = canvas.sizes.fields.values()
    qtbot.keyClicks(width, "0")
    height.setText("30")
    qtbot.keyClick(height, Qt.Key.Key_Return)
    settle(qtbot, pad)
    assert not canvas.sizes.isVisible() and canvas.solved.freedoms == 0
    assert canvas.solved.regions[0].area == pytest.approx(1500)
    pad.actions_.run("sketch.line")
    click(qtbot, canvas, 60, 5)
    qtbot.mouseMove(canvas, canvas.to_screen((70, 12)).toPoint())
    qtbot.keyClick(canvas, "2")
    length, angle = canvas.sizes.fields.values()
    length.setText("2 * 12 mm")
    angle.setText("30 deg")
    qtbot.keyClick(length, Qt.Key.Key_Return)
    settle(qtbot, pad)
    line = [c for c in canvas.solved.curves.values() if c.kind == "line"][-1].values
    assert line[:2] == pytest.approx((60, 5), abs=0.2)  # it grows from where it was begun
    assert line[2] - line[0] == pytest.approx(24 * 3**0.5 / 2) and line[3] - line[1] == pytest.approx(12)
    family = pad.desk.family
    pad.actions_.run("sketch.circle")
    click(qtbot, canvas, 80, 5)
    qtbot.mouseMove(canvas, canvas.to_screen((84, 5)).toPoint())
    qtbot.keyClick(canvas, "9")
    canvas.sizes.fields["diameter"].setText("9 kg")
    qtbot.keyClick(canvas.sizes.fields["diameter"], Qt.Key.Key_Return)
    assert pad.desk.family is family


def test_a_sketch_whose_constraints_disagree_can_be_worked_on(qtbot, pad):
    """Two lengths of one line are refused when they differ; once a value makes them differ, both are named and lit."""
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.line", (0, 0), (30, 0.2))
    (line,) = canvas.sketch.curves
    key = pad.desk.main.document_id
    pad.desk.apply("span", lambda f: edits.add_parameter(f, key, "span", "30 mm"))
    model = pad.desk.main.document
    texts = [names.bind_quantity(pad.desk.family, model, t, "length", "mm") for t in ("30 mm", "span")]
    lengths = [Constraint(id=e.text, kind="distance", of=(line,), value=e) for e in texts]
    both = edits.replace(canvas.sketch, constraints=(*canvas.sketch.constraints, *lengths))
    apart = edits.replace(
        both, constraints=(*both.constraints[:-1], edits.replace(lengths[1], value=Expression(text="31 mm")))
    )
    said = []
    pad.desk.told.connect(lambda words, wrong: said.append((words, wrong)))
    assert not pad.desk.apply("two lengths", lambda f: edits.replace_operation(f, key, apart))
    assert said[-1][1] and "nothing was stored" in said[-1][0]
    assert pad.desk.apply("two lengths", lambda f: edits.replace_operation(f, key, both))
    pad.desk.apply("longer", lambda f: edits.set_value(f, key, model.parameters[0].id, "35 mm"))
    settle(qtbot, pad)
    assert [k for k, _ in pad.right.disagreeing()] == ["30 mm", "span"]
    assert canvas.solved is not None and list(canvas.solved.curves) == [line]
    canvas.grab()
    pad.right.constraint_chosen.emit("span")
    assert pad.actions_.run("dimension.turn")
    settle(qtbot, pad)
    assert not pad.right.disagreeing() and not pad.desk.attention


def test_the_rest_is_held_one_by_one_and_arrows_show_what_is_left(qtbot, pad):
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.rectangle", (0, 0), (40, 20))
    canvas.grab()
    meter = pad.tabs.meter
    assert meter.isVisible() and meter.text() == "Outline: 2 freedoms left"
    qtbot.mouseMove(meter)
    assert len(canvas.arrows) > 3
    canvas.grab()
    qtbot.mouseMove(canvas, canvas.rect().center())
    assert not canvas.arrows
    assert canvas.solved.freedoms == 2 and pad.actions_.run("sketch.hold")
    for left in (1, 0):
        qtbot.waitUntil(pad.prompt.isVisible, timeout=5000)
        qtbot.keyClick(pad.prompt.fields[0], Qt.Key.Key_Return)
        settle(qtbot, pad)
        assert canvas.solved.freedoms == left
    assert not pad.actions_.run("sketch.hold")


def test_a_rocker_is_drawn_and_held_by_mouse_and_keyboard_alone(qtbot, pad):  # noqa: PLR0915 - one job, told in order
    """Two bosses of radius 12 and 7, 60 apart, joined by tangent lines, a bore in each and a slot between.

    Outline: a belt round two pulleys (open belt): area = d sqrt(d^2 - (R - r)^2) ... as the sum of the trapezoid
    pieces (R + r) L, and the sectors R^2 (pi / 2 + t) + r^2 (pi / 2 - t), with sin t = (R - r) / d, L = d cos t.
    """
    import math

    canvas = pad.sketches

    def tool(name, *clicks, sizes=()):
        if canvas.tools.tool != name:
            pad.actions_.run(f"sketch.{name}")
        for at in clicks[:-1]:
            click(qtbot, canvas, *at)
        if not sizes:
            click(qtbot, canvas, *clicks[-1])
        else:
            qtbot.mouseMove(canvas, canvas.to_screen(clicks[-1]).toPoint())
            qtbot.keyClick(canvas, sizes[0][0])
            for field, text in zip(canvas.sizes.fields.values(), sizes, strict=False):
                field.setText(text)
            qtbot.keyClick(next(iter(canvas.sizes.fields.values())), Qt.Key.Key_Return)
        settle(qtbot, pad)

    def do(action, value=None):
        assert pad.actions_.run(action), (action, canvas.tools.kinds())
        if value is not None:
            answer(qtbot, pad, value)
        settle(qtbot, pad)

    canvas.scale, canvas.centre = 8.0, (28.0, 0.0)
    tool("circle", (0, 0), (11, 5), sizes=("24 mm",))
    tool("circle", (60, 2), (66, 4), sizes=("14 mm",))
    tool("circle", (0, 0), (4, 1), sizes=("8 mm",))
    lay_down(qtbot, canvas)
    small = next(k for k, c in canvas.solved.curves.items() if c.kind == "circle" and c.values[0] > 30)
    canvas.choose(f"{small}.centre")
    canvas.choose("origin", True)
    do("dimension.horizontal_distance", "60 mm")
    canvas.choose(f"{small}.centre")
    canvas.choose("origin", True)
    do("dimension.vertical_distance", "0 mm")
    assert canvas.solved.freedoms == 0
    at = canvas.solved.curves[small].values
    tool("circle", at[:2], (62, 1), sizes=("5 mm",))
    tool("line", (3, 14), (57, 9))
    lay_down(qtbot, canvas)
    tool("line", (3, -14), (57, -9))
    lay_down(qtbot, canvas)
    lines = [k for k, c in canvas.solved.curves.items() if c.kind == "line"]
    big = next(k for k, c in canvas.solved.curves.items() if c.kind == "circle" and c.values[2] > 11)
    for line in lines:
        for boss, end in ((big, "start"), (small, "end")):
            canvas.choose(line)
            canvas.choose(boss, True)
            do("constrain.tangent")
            canvas.choose(f"{line}.{end}")
            canvas.choose(boss, True)
            do("constrain.on_curve")
    lay_down(qtbot, canvas)
    assert canvas.solved.freedoms == 0
    tool("trim", (12, 0))
    tool("trim", (53, 0))
    lay_down(qtbot, canvas)
    tool("slot", (20, 0), (38, 0.2), (30, 3))
    lay_down(qtbot, canvas)
    for _ in range(14):
        if not canvas.solved.freedoms:
            break
        pad.actions_.run("sketch.hold")
        qtbot.waitUntil(pad.prompt.isVisible, timeout=5000)
        qtbot.keyClick(pad.prompt.fields[0] if pad.prompt.fields else pad.prompt, Qt.Key.Key_Return)
        settle(qtbot, pad)
        pad.commands.models.sketches._next.stop()
        pad.prompt.hide()
    assert canvas.solved.freedoms == 0 and not pad.desk.attention
    outer = max(canvas.solved.regions, key=lambda r: r.area)
    t = math.asin(5 / 60)
    length = 60 * math.cos(t)
    body = 19 * length + 144 * (math.pi / 2 + t) + 49 * (math.pi / 2 - t)
    slot_r = next(c for c in canvas.solved.curves.values() if c.kind == "arc" and c.values[6] < 5).values[6]
    slot_l = next(math.dist(c.values[:2], c.values[2:]) for c in canvas.solved.curves.values()
                  if c.kind == "line" and abs(c.values[1]) < 5 and abs(c.values[3]) < 5)  # fmt: skip
    holes = math.pi * 16 + math.pi * 6.25 + 2 * slot_r * slot_l + math.pi * slot_r**2
    assert outer.area == pytest.approx(body - holes, rel=1e-6)


def test_a_box_chooses_what_is_inside_or_crossed_and_undo_works_inside_a_tool(qtbot, pad):
    canvas = pad.sketches
    pad.actions_.run("sketch.line")
    for at in ((5, 5), (20, 9), (30, 20)):
        click(qtbot, canvas, *at)
        settle(qtbot, pad)
    assert len(canvas.sketch.curves) == 2 and canvas.tools.clicked
    pad.actions_.run("edit.undo")
    settle(qtbot, pad)
    assert canvas.tools.tool == "line" and not canvas.tools.clicked and len(canvas.sketch.curves) == 1
    click(qtbot, canvas, 20, 9)
    click(qtbot, canvas, 30, 20)
    settle(qtbot, pad)
    lay_down(qtbot, canvas)
    first, second = canvas.sketch.curves
    low, high = canvas.to_screen((2, 2)).toPoint(), canvas.to_screen((28, 13)).toPoint()
    drag(qtbot, canvas, low, high)
    assert canvas.shown.curves == [first]
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    drag(qtbot, canvas, high, low)
    assert sorted(canvas.shown.curves) == sorted([first, second])
