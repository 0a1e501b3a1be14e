"""Alternates and joints in the real window: the grid, the chooser, joints dragged to their limits, a joint by two clicks."""

import math

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QLineEdit
from tests.support.hands import field, row, show, type_into
from tests.support.windows import settle

from architectonic.base import rigid
from architectonic.describe.results import Node
from architectonic.desktop.body.jointsigns import JointSigns
from architectonic.desktop.commands.placed.results import ResultCommands
from architectonic.family import edits

pytestmark = [pytest.mark.window, pytest.mark.kernel]


@pytest.fixture
def light(qtbot, window):
    """The window with the light and its alternates."""
    show(qtbot, window, "Light")
    window.show_tab("Alternates")
    qtbot.waitUntil(lambda: len(window.alternates.model.cells) == 10)
    return window


def names(window):
    return [r.name for r in window.alternates.model.rows]


def cell(window, alternate, heading):
    model = window.alternates.model
    column = next(k for k, h in enumerate(model.headers) if heading in h)
    return model.cells[names(window).index(alternate)][column], model.index(names(window).index(alternate), column)


def to_cell(qtbot, window, alternate, heading):
    """A click into a cell."""
    view, index = window.alternates.view, cell(window, alternate, heading)[1]
    view.scrollTo(index)
    at = view.visualRect(index).center()
    qtbot.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, pos=at)
    current(qtbot, window)


def type_in_cell(qtbot, window, text):
    view = window.alternates.view
    view.edit(view.currentIndex())
    editor = view.findChild(QLineEdit)
    editor.setText(text)
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    current(qtbot, window)


def current(qtbot, window):
    """What is typed into a cell is taken, and the grid made anew, in turns of the loop of their own."""
    qtbot.wait(20)
    settle(qtbot, window)
    qtbot.wait(20)


def placement(window, instance):
    at = window.desk.main.at
    key = next(i.id for i in window.desk.main.document.instances if i.name == instance)
    return window.desk.settled.value(Node("placed", at, key)).placement


def test_the_row_one_works_in_is_shown_and_a_pose_typed_there_is_its_own(qtbot, light):
    assert names(light)[:4] == ["Reading", "Reading, clamp", "Reading, wall", "Folded"]
    assert light.head.alternate_button.text().startswith("alternate  Reading")
    to_cell(qtbot, light, "Folded", "Shoulder")
    assert light.head.alternate_button.text().startswith("alternate  Folded") and light.tab == "Alternates"
    assert math.degrees(math.asin(placement(light, "Cheek L")[8])) == pytest.approx(
        58, abs=1e-6
    )  # 86 - 28, as modelled
    type_in_cell(qtbot, light, "70")
    found, _ = cell(light, "Folded", "Shoulder")
    assert (found.text, found.marked) == ("70.0", True)
    assert (
        cell(light, "Folded, wall", "Shoulder")[0].text == "70.0"
        and not cell(light, "Folded, wall", "Shoulder")[0].marked
    )
    assert cell(light, "Reading", "Shoulder")[0].text == "28.0"
    assert light.head.undo_button.text() == "↶ Undo: Shoulder of Folded 86.0 → 70"
    to_cell(qtbot, light, "Folded", "Shoulder")
    qtbot.keyClick(light.alternates.view, Qt.Key.Key_Delete)
    settle(qtbot, light)
    assert cell(light, "Folded", "Shoulder")[0].text == "28.0"  # what Reading says shows through again


def test_what_fills_a_place_is_typed_or_chosen_and_nonsense_is_a_sentence(qtbot, light):
    to_cell(qtbot, light, "Boxed", "Stand")
    type_in_cell(qtbot, light, "nothing")
    assert cell(light, "Boxed", "Stand")[0].text == "nothing"
    placed = light.desk.settled.value(Node("assembly", light.desk.main.at, ""))
    assert len(placed) == 4 and cell(light, "Boxed, clamp", "Stand")[0].text == "Stand, Desk clamp"
    before = light.desk.family
    type_in_cell(qtbot, light, "Stand, Marble plinth")
    assert light.desk.family is before and "Stand has no “Marble plinth”" in light.strip.line.text()
    type_in_cell(qtbot, light, "Light")
    assert light.desk.family is before and "contains this assembly" in light.strip.line.text()


def test_cells_are_copied_and_pasted_as_spreadsheets_do(qtbot, light):
    model, view = light.alternates.model, light.alternates.view
    for heading in ("Swivel", "Tilt"):
        assert cell(light, "Folded", heading)[0].text in ("0.0", "-90.0")
    first = cell(light, "Folded", "Swivel")[1]
    text = "10\t80\t-20\nnonsense"
    before = light.desk.family
    assert not model.paste(first.row(), first.column(), text) and light.desk.family is before
    assert model.paste(first.row(), first.column(), "10\t80\t-20\n11\t81\t-21")
    settle(qtbot, light)
    got = [
        [cell(light, a, h)[0].expression for h in ("Swivel", "Shoulder", "Tilt")] for a in ("Folded", "Folded, clamp")
    ]
    assert got == [["10 deg", "80 deg", "-20 deg"], ["11 deg", "81 deg", "-21 deg"]]
    assert light.head.undo_button.text() == "↶ Undo: paste into 6 cells"
    view.setFocus()
    selection = view.selectionModel()
    for heading in ("Swivel", "Shoulder", "Tilt"):
        selection.select(cell(light, "Folded", heading)[1], selection.SelectionFlag.Select)
    qtbot.keyClick(view, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert QGuiApplication.clipboard().text() == "10 deg\t80 deg\t-20 deg"


def test_a_name_in_the_last_row_makes_an_alternate_and_delete_says_who_used_it(qtbot, light):
    model = light.alternates.model
    assert model.setData(model.index(len(model.rows), 0), "Parked")
    settle(qtbot, light)
    assert "Parked" in names(light) and cell(light, "Parked", "Shoulder")[0].text == "28.0"
    show(qtbot, light, "Stand")
    light.show_tab("Alternates")
    qtbot.waitUntil(lambda: names(light) == ["Weighted foot", "Desk clamp", "Wall plate"])
    to_cell(qtbot, light, "Wall plate", "Alternate")
    qtbot.keyClick(light.alternates.view, Qt.Key.Key_Delete)
    settle(qtbot, light)
    assert names(light) == ["Weighted foot", "Desk clamp"]
    assert any(i.what == "the alternate that it takes is gone" for i in light.desk.attention)
    qtbot.keyClick(light, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    settle(qtbot, light)
    assert names(light) == ["Weighted foot", "Desk clamp", "Wall plate"] and not light.desk.attention


def test_alternates_are_made_followed_ordered_and_stepped_through_by_actions(qtbot, light):
    def answer(text):
        prompt = light.prompt.fields[0]
        prompt.setCurrentText(text) if hasattr(prompt, "setCurrentText") else prompt.setText(text)
        qtbot.keyClick(prompt, Qt.Key.Key_Return)
        settle(qtbot, light)

    assert light.actions_.run("alternate.copy")
    answer("Reading low")
    assert light.head.alternate_button.text().startswith("alternate  Reading low")
    assert light.actions_.run("alternate.follow")
    answer("Folded")
    assert next(a.parent for a in light.desk.main.document.alternates if a.name == "Reading low") == next(
        a.id for a in light.desk.main.document.alternates if a.name == "Folded"
    )
    light.desk.show(alternate=next(a.id for a in light.desk.main.document.alternates if a.name == "Boxed"))
    settle(qtbot, light)
    order = [a.name for a in light.desk.main.document.alternates]
    assert light.actions_.run("alternate.up")
    settle(qtbot, light)
    moved = [a.name for a in light.desk.main.document.alternates]
    assert moved.index("Boxed") == order.index("Boxed") - 1 and sorted(moved) == sorted(order)
    assert light.actions_.run("alternate.next")
    settle(qtbot, light)
    assert light.desk.main.at.alternate == light.desk.main.document.alternates[moved.index("Boxed") + 1].id


# --- joints ---------------------------------------------------------------------------------------------


def signs(window):
    found = next(h for h in window.bodies.handles if isinstance(h, JointSigns))
    return found, {s.bond.name: s for s in found.signs()}


def spot(window, name, value=None):
    handle, found = signs(window)
    sign = found[name]
    return handle.ways.spot(sign.at(sign.value if value is None else value, handle.ways.reach()))


def drag_joint(qtbot, window, name, *degrees):
    canvas = window.bodies
    start = spot(window, name)
    ways = [spot(window, name, math.radians(d)) for d in degrees]
    qtbot.mouseMove(canvas, start.toPoint())
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for way in ways:
        qtbot.mouseMove(canvas, way.toPoint())
        qtbot.waitUntil(lambda: not window.desk.updating)
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=ways[-1].toPoint())
    settle(qtbot, window)


def test_a_joint_is_dragged_stops_at_its_limit_and_is_one_step_to_undo(qtbot, light):
    light.show_tab("Bodies")
    light.bodies.look("front")
    settle(qtbot, light)
    assert set(signs(light)[1]) == {"Swivel", "Shoulder", "Tilt"}
    drag_joint(qtbot, light, "Shoulder", 35, 45)
    text = edits.bond_text(
        light.desk.family,
        light.desk.main.document,
        light.desk.main.at,
        next(b for b in light.desk.main.document.bonds if b.name == "Shoulder"),
        "turn",
    )[1]
    assert abs(float(text.split()[0]) - 45) <= 2 and text.endswith("deg")
    assert light.head.undo_button.text().startswith("↶ Undo: Shoulder 28 → 4")
    drag_joint(qtbot, light, "Shoulder", 70, 100, 130)
    assert signs(light)[1]["Shoulder"].value == pytest.approx(math.radians(88))
    assert not light.desk.attention
    for _ in range(2):
        qtbot.keyClick(light, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        settle(qtbot, light)
    assert signs(light)[1]["Shoulder"].value == pytest.approx(math.radians(28))


def test_a_joint_that_turns_edge_on_says_so_and_one_driven_by_names_is_not_written_over(qtbot, light):
    light.show_tab("Bodies")
    light.bodies.look("top")
    settle(qtbot, light)
    before = light.desk.family
    drag_joint(qtbot, light, "Shoulder", 40)
    assert light.desk.family is before
    shoulder = next(b for b in light.desk.main.document.bonds if b.name == "Shoulder")
    light.desk.apply(
        "by name",
        lambda f: edits.set_bond_value(
            f,
            light.desk.main.document_id,
            shoulder.id,
            "turn",
            "Elevation.Side.arm_angle",
            light.desk.main.at.alternate,
        ),
    )
    light.bodies.look("front")
    settle(qtbot, light)
    before = light.desk.family
    drag_joint(qtbot, light, "Shoulder", 40, 50)
    assert light.desk.family is before and "driven by Elevation.Side.arm_angle" in light.strip.line.text()


def test_a_pose_is_a_driver_and_other_values_may_name_it(qtbot, light):
    type_into(qtbot, field(light, "Tilt"), "-20")
    qtbot.keyClick(field(light, "Tilt"), Qt.Key.Key_Return)
    settle(qtbot, light)
    assert cell(light, "Reading", "Tilt")[0].text == "-20.0" and cell(light, "Folded", "Tilt")[0].text == "-90.0"
    to_cell(qtbot, light, "Reading", "Tilt")
    type_in_cell(qtbot, light, "-Shoulder / 2")
    assert cell(light, "Reading", "Tilt")[0].text == "-14.0" and cell(light, "Reading", "Tilt")[0].kind == "computed"
    before = light.desk.family
    to_cell(qtbot, light, "Reading", "Shoulder")
    type_in_cell(qtbot, light, "Tilt")
    assert light.desk.family is before and "circle" in light.strip.line.text()


def test_rows_tell_joints_with_their_values_and_a_passed_limit_at_its_joint(qtbot, light):
    assert (
        row(light, "Shoulder").text == "Shoulder: Cheek L turns about Stem" and row(light, "Shoulder").note == "28 deg"
    )
    to_cell(qtbot, light, "Reading", "Shoulder")
    type_in_cell(qtbot, light, "-40")
    assert row(light, "Shoulder").problem.what == "it stands at -40 deg, its limit is -20 deg"
    assert light.head.pill.text().startswith("1 needs attention")


# --- a joint by two clicks -------------------------------------------------------------------------------


@pytest.fixture
def pair(qtbot, window):
    """A clamp that stays, and a stem that stands 120 mm beside it."""
    made = []

    def edit(family):
        family, key = edits.add_document(family, "assembly", "Pair")
        made.append(key)
        for name, at in (("Desk clamp", ()), ("Stem", rigid.shift(120.0, 40.0, 0.0))):
            family = edits.add_instance(family, key, edits.find_document(family, name).id, placement=at)
        return edits.fix(family, key, edits.assembly(family, key).instances[0].id)

    window.desk.apply("a pair", edit)
    window.desk.show(made[0])
    settle(qtbot, window)
    return window


def bore(window, instance):
    """The round face of an instance, as a pick."""
    key = next(i.id for i in window.desk.main.document.instances if i.name == instance)
    return next(
        ("face", b, f)
        for b, m, _ in window.bodies.meshes
        if b.path == (key,)
        for f, kind in zip(m.faces, m.face_kinds, strict=True)
        if kind == "cylinder"
    )


def test_two_picks_make_a_joint_it_is_seen_before_it_is_kept_and_edited_again(qtbot, pair):
    desk, card = pair.desk, pair.bond_card
    assert (
        pair.actions_.run("bond.joint")
        and "what is to move" not in card.hint.text()
        and card.hint.text().startswith("Click a face")
    )
    desk.main.pick([bore(pair, "Stem")])
    assert "Now click what it goes to" in card.hint.text() and not card.answers[1].isEnabled()
    desk.main.pick([bore(pair, "Desk clamp")])
    qtbot.waitUntil(lambda: not desk.updating and "freedom" in card.hint.text())
    assert card.hint.text() == "1 freedom is left."
    placed = desk.evaluation.value(Node("assembly", desk.main.at, ""))
    assert rigid.moved(placed[1].placement, (0, 0, 0))[:2] == pytest.approx((0, 0), abs=1e-6)
    assert not desk.main.document.bonds  # seen, not stored
    type_into(qtbot, card.blanks["turn"].expression, "30")
    qtbot.waitUntil(lambda: not desk.updating and "no freedoms" in card.hint.text().lower())
    card.keep()
    settle(qtbot, pair)
    (bond,) = desk.main.document.bonds
    assert (bond.kind, bond.turn.text) == ("revolute", "30 deg") and desk.main.operation == bond.id
    assert row(pair, "Revolute").text == "Revolute: Stem turns about Desk clamp"
    assert pair.actions_.run("bond.edit")
    type_into(qtbot, card.blanks["most"].expression, "45")
    type_into(qtbot, card.blanks["name"].field, "Post")
    card.keep()
    settle(qtbot, pair)
    (bond,) = desk.main.document.bonds
    assert bond.name == "Post" and bond.limits["turn"].most.text == "45 deg" and bond.limits["turn"].least is None


def test_a_joint_where_things_are_moves_nothing_and_one_that_contradicts_is_kept_only_when_asked_twice(qtbot, pair):
    desk, card = pair.desk, pair.bond_card
    before = placement(pair, "Stem")
    pair.actions_.run("bond.joint")
    desk.main.pick([bore(pair, "Stem")])
    desk.main.pick([bore(pair, "Desk clamp")])
    card.blanks["still"].button.click()
    qtbot.waitUntil(lambda: not desk.updating and "freedom" in card.hint.text())
    card.keep()
    settle(qtbot, pair)
    assert desk.main.document.bonds[0].apart and placement(pair, "Stem") == pytest.approx(before, abs=1e-7)
    sign = signs(pair)[1]["Revolute"]
    assert sign.value == pytest.approx(0, abs=1e-9)
    pair.actions_.run("bond.rule")
    desk.main.pick([bore(pair, "Stem")])
    desk.main.pick([bore(pair, "Desk clamp")])
    qtbot.waitUntil(lambda: not desk.updating and "cannot all be true" in card.hint.text())
    card.keep()
    assert len(desk.main.document.bonds) == 1 and "Enter keeps it all the same" in card.hint.text()
    card.keep()
    settle(qtbot, pair)
    assert len(desk.main.document.bonds) == 2
    assert any("cannot all be true: Revolute, Coaxial" in i.what for i in desk.attention)


# --- what comes of it -----------------------------------------------------------------------------------


def listed(window):
    rows = window.list_card.rows
    return [[rows.item(r, c).text() for c in range(rows.columnCount())] for r in range(rows.rowCount())]


def test_what_runs_into_what_is_listed_and_lit_and_the_parts_list_follows_the_alternate(qtbot, light):
    assert light.actions_.run("assembly.clashes") and "nothing runs into anything" in light.list_card.title.text()
    light.list_card.leave()
    to_cell(qtbot, light, "Folded", "Shoulder")
    type_in_cell(qtbot, light, "-70")
    light.actions_.run("assembly.clashes")
    pairs = [r[:2] for r in listed(light)]
    assert ["Stem", "Arm tube"] in pairs and "Folded, clamp" in light.list_card.title.text()
    light.list_card._go(pairs.index(["Stem", "Arm tube"]))
    assert {p.body.document for p in light.desk.main.picks} == {
        edits.find_document(light.desk.family, n).id for n in ("Stem", "Arm tube")
    }
    assert (
        cell(light, "Folded", "Interference")[0].text.endswith("mm³")
        and cell(light, "Reading", "Interference")[0].text == "none"
    )
    light.actions_.run("assembly.parts")
    assert ["", "    Foot", "M", "ABS", "1", "105.6 g"] in listed(light)
    light.list_card.leave()
    to_cell(qtbot, light, "Folded, wall", "Shoulder")
    light.actions_.run("assembly.parts")
    told = [r[1].strip() for r in listed(light)]
    assert "Wall plate" in told and "Foot" not in told


def test_alternates_are_compared_laid_over_and_played(qtbot, light):
    light.actions_.run("alternate.compare")
    light.prompt.fields[0].setCurrentText("Boxed, clamp")
    qtbot.keyClick(light.prompt.fields[0], Qt.Key.Key_Return)
    assert ["Pose", "Swivel deg", "0.0", "90.0"] in listed(light) and ["Parts", "Desk clamp", "none", "1"] in listed(
        light
    )
    light.list_card.leave()
    light.actions_.run("alternate.over")
    light.prompt.fields[0].setCurrentText("Folded")
    qtbot.keyClick(light.prompt.fields[0], Qt.Key.Key_Return)
    laid = light.bodies.laid
    assert len(laid.bodies()) == len(light.bodies.meshes) and laid.share == 1.0 and laid.slider.isVisible()
    laid.slider.setValue(90)
    assert laid.share == pytest.approx(0.2) and {o for *_, o in laid.bodies()} == {1.0}
    laid.lay([])
    assert not laid.slider.isVisible() and not laid.bodies()
    before = light.desk.family
    light.desk.main.select(next(b.id for b in light.desk.main.document.bonds if b.name == "Tilt"))
    player = next(s for s in light.commands.more if isinstance(s, ResultCommands)).player
    assert light.actions_.run("bond.play") and player.playing
    player._way = player._way[:6]
    qtbot.waitUntil(lambda: not player.playing)
    settle(qtbot, light)
    assert light.desk.family is before and light.desk.previewed is None
    assert "Tilt goes through its whole range. Everything is where it was." in light.strip.line.text()
