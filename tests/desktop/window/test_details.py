"""Holes, patterns, marks, hands, outside parts and checks in the real window, on the demo."""

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QPushButton
from tests.support.canvases import block, tap  # noqa: F401
from tests.support.faces import face_at
from tests.support.hands import answer, field, rows, run, show, type_into
from tests.support.windows import settle

from architectonic.describe.references.measurement import passing
from architectonic.describe.results import Node
from architectonic.desktop.body.looks.surveyed import SurveyColours
from architectonic.desktop.commands.parts.outside import OutsideCommands
from architectonic.desktop.sentences.over.membertags import MemberTags
from architectonic.family import edits
from architectonic.family.operations.holes.hole import Hole, Tapped
from architectonic.family.operations.marks.engrave import Engrave
from architectonic.family.records import Reference
from architectonic.family.scopes import InPlace
from architectonic.session.files import outside
from architectonic.session.open import queries
from architectonic.session.picking.subject import Pick

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def press(qtbot, window, words):
    button = next(b for b in window.list_card.findChildren(QPushButton) if b.text().startswith(words))
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    settle(qtbot, window)


def waited(qtbot, window):
    qtbot.waitUntil(lambda: not window.desk.work.busy, timeout=60000)
    settle(qtbot, window)


def choose(window, name):
    window.desk.main.select(next(o.id for o in window.desk.main.build if o.name == name))


def test_a_tapped_hole_is_made_by_a_click_and_listed(qtbot, block):  # noqa: F811
    canvas, card = block.bodies, block.card
    run(qtbot, block, "operation.tapped_hole")
    canvas.frame_all()
    canvas.grab()
    tap(qtbot, canvas, face_at(canvas, ":end"))
    settle(qtbot, block)
    places = card.blanks["places"]
    assert len(places.picked) == 1 and places.spot is not None
    assert card.drawing.isVisible() == (card.drawing.parentWidget().width() >= 560)
    qtbot.keyClick(card.blanks["far"].field, Qt.Key.Key_Return)
    settle(qtbot, block)
    made = block.desk.main.build[-1]
    assert isinstance(made, Hole) and isinstance(made.by, Tapped)
    run(qtbot, block, "holes.list")
    assert "M4" in " ".join(rows(block)[0])


def test_a_member_of_a_pattern_is_left_out_by_its_tag(qtbot, window):
    show(qtbot, window, "Knob")
    window.show_tab("Bodies")
    settle(qtbot, window)
    before = len(window.bodies.meshes[0][1].faces)
    choose(window, "Flutes all round")
    run(qtbot, window, "operation.edit")
    (tags,) = [h for h in window.bodies.handles if isinstance(h, MemberTags)]
    found = {m.number: box for m, box in tags.tags()}
    assert sorted(found) == list(range(2, 13))
    assert tags.take(QPointF(found[11].center()))
    settle(qtbot, window)
    qtbot.keyClick(window.card.blanks["by.count"].field, Qt.Key.Key_Return)
    settle(qtbot, window)
    record = next(o for o in window.desk.main.build if o.name == "Flutes all round")
    assert len(record.left_out) == 1
    assert len(window.bodies.meshes[0][1].faces) < before


def test_a_text_is_typed_with_a_property_from_the_list(qtbot, block):  # noqa: F811
    canvas, card = block.bodies, block.card
    run(qtbot, block, "operation.engrave")
    canvas.frame_all()
    canvas.grab()
    tap(qtbot, canvas, face_at(canvas, ":end"))
    settle(qtbot, block)
    text = card.blanks["by.text"]
    text.field.setText("No ")
    text.insert.setCurrentIndex(text.insert.findText("size"))
    text.insert.activated.emit(text.insert.currentIndex())
    card.blanks["by.height"].field.setText("3 mm")
    settle(qtbot, block)
    assert text.field.text() == "No {size}"
    qtbot.keyClick(text.field, Qt.Key.Key_Return)
    settle(qtbot, block)
    made = block.desk.main.build[-1]
    assert isinstance(made, Engrave) and [p.of or p.text for p in made.by.text] == ["No ", "size"]
    assert "“No {size}”" in block.made_of.entries[-1].text


def test_hands_are_begun_compared_and_forked(qtbot, window):
    desk = window.desk
    show(qtbot, window, "Cheek L")
    window.show_tab("Bodies")
    settle(qtbot, window)
    notes = {e.text.split(":")[0]: e.note for e in window.made_of.entries}
    assert notes["Cheek plate"] == "shared" and notes["Spring hole"] == ""
    choose(window, "Cheek plate")
    run(qtbot, window, "operation.edit")
    assert "Cheek R shares this row" in window.card.hint.text()
    qtbot.keyClick(window.card, Qt.Key.Key_Escape)
    run(qtbot, window, "hand.differs")
    assert desk.beside.document is not None and desk.beside.document.name == "Cheek R"
    assert ["Spring hole", "there", "—"] in rows(window) and ["Stop screw", "—", "there"] in rows(window)
    qtbot.keyClick(window.list_card, Qt.Key.Key_Escape)
    show(qtbot, window, "Cheek R")
    assert "shared with Cheek L" in window.made_of.entries[0].text
    run(qtbot, window, "hand.fork")
    assert "Cheek plate" in [o.name for o in desk.main.build]
    assert not window.actions_.actions["hand.fork"].enabled()
    run(qtbot, window, "edit.undo")
    assert window.actions_.actions["hand.fork"].enabled()
    show(qtbot, window, "Knob")
    run(qtbot, window, "hand.new")
    answer(qtbot, window, "Knob opposite", "Right")
    assert desk.main.document.name == "Knob opposite" and len(desk.main.build) == 2


def test_a_casting_is_brought_in_and_taken_anew(qtbot, window):
    desk = window.desk
    file = desk.session.stored.folder / "files" / "ballast.step"
    show(qtbot, window, "Knob")
    commands = window.actions_.actions["outside.bring"].run.__self__
    assert isinstance(commands, OutsideCommands)
    commands.bring(file)
    waited(qtbot, window)
    assert "holds 1 body" in window.list_card.title.text()
    assert rows(window)[0][:2] == ["Ballast", "Ballast"]
    press(qtbot, window, "As reference in Knob")
    made = desk.main.build[-1]
    assert made.name == "ballast" and (desk.session.stored.folder / "kept" / made.content).exists()
    (key,) = made.bodies
    assert desk.main.document.bodies[key].backdrop_only
    choose(window, "ballast")
    run(qtbot, window, "outside.look")
    waited(qtbot, window)
    assert "is as it was read" in window.list_card.title.text()
    qtbot.keyClick(window.list_card, Qt.Key.Key_Escape)
    file.write_bytes(file.read_bytes().replace(b"'Ballast'", b"'Weight'"))
    assert [s.state for s in outside.stale(desk.family, desk.session.stored.folder)] == ["changed"]
    run(qtbot, window, "outside.look")
    waited(qtbot, window)
    assert ["Ballast", "is called Weight now"] in rows(window)
    press(qtbot, window, "Take it")
    changed = next(o for o in desk.main.build if o.id == made.id)
    assert changed.bodies[key].path == ("Weight",)
    assert window.made_of.entries[-1].problem is None


def test_walls_are_checked_in_colour_and_kept_as_a_rule(qtbot, window):
    desk = window.desk
    show(qtbot, window, "Foot")
    window.show_tab("Bodies")
    settle(qtbot, window)
    run(qtbot, window, "check.wall")
    answer(qtbot, window, "1 mm")
    waited(qtbot, window)
    colours = window.bodies.opening.surveys
    assert isinstance(colours, SurveyColours) and colours.found is not None
    assert len(colours.found.of) == 2  # the ballast only stands there
    assert "Wall thickness, by rays: least" in window.list_card.title.text()
    figures = [float(r[0].split()[0]) for r in rows(window)]
    assert figures == sorted(figures) and figures[0] > 0
    window.bodies.grab()
    press(qtbot, window, "Make it a rule")
    answer(qtbot, window, "thinnest", "0.5 mm")
    foot = edits.find_document(desk.family, "Foot")
    assert [m.what for m in foot.measurements] == ["wall"]
    assert any(r.name.startswith("Wall thickness") for r in foot.rules)
    assert colours.found is None  # the part is not what was checked any more
    run(qtbot, window, "check.margin")
    answer(qtbot, window, None)
    waited(qtbot, window)
    assert "Holes to edges" in window.list_card.title.text()
    run(qtbot, window, "check.bodies")
    waited(qtbot, window)
    assert "none runs into another" in window.list_card.title.text()
    first = rows(window)[0]
    qtbot.keyClick(window.list_card, Qt.Key.Key_Return)
    assert [p.kind for p in desk.main.picks] == ["face", "face"]
    lit = {foot.bodies[p.body.body].name for p in desk.main.picks}
    assert lit == set(first[:2])
    of = tuple(Reference(item=p.body.body, label=p.label) for p in desk.main.picks)
    node = Node("gauged", desk.main.at, "", passing("distance", of))
    apart = queries.ask(desk.family, [node]).value(node).value  # between the nearest faces, and not any
    assert first[2] == ("touch" if apart < 1e-6 else f"{apart:.4g} mm apart")
    run(qtbot, window, "check.hand")
    assert "no threads" in window.list_card.title.text() or "right-handed" in window.list_card.title.text()


def test_a_hole_set_is_taken_by_a_click_on_a_wall_and_what_matches_is_drilled(qtbot, window):
    show(qtbot, window, "Bezel")
    source = edits.find_document(window.desk.family, "Cheek L")
    window.desk.show_beside(source.id)
    settle(qtbot, window)
    assert window.actions_.run("feed.new")
    settle(qtbot, window)
    beside, card = window.desk.beside, window.feed_card
    (key,) = source.bodies
    body = InPlace((), beside.at, key)
    mesh = beside.mesh(body)
    hole = next(o for o in source.build if o.name == "Spring hole")
    wall = next(f for f in mesh.faces if f.startswith(f"{hole.id}:wall:"))
    beside.picks = [Pick("face", body, wall)]
    beside.selection_changed.emit()
    assert "1 hole set of Cheek L" in card.blanks["things"].button.text()
    qtbot.keyClick(card.blanks["name"].field, Qt.Key.Key_Return)
    settle(qtbot, window)
    (feed,) = [f for f in window.desk.main.document.feeds.values() if f.name == "from Cheek L"]
    (socket,) = feed.sockets.items()
    assert socket[1].takes == "holes" and socket[1].source.item == hole.id
    assert window.actions_.run("operation.matching_hole")
    settle(qtbot, window)
    (place,) = window.card.record.places
    assert place.at.item == socket[0]


def test_what_a_text_comes_to_is_told_beside_its_own_field_alone(qtbot, window):
    """It goes with Esc, with Enter, and when another field is gone to."""
    show(qtbot, window, "Foot")
    wall = field(window, "wall")
    type_into(qtbot, wall, "2 * 1.5")
    qtbot.waitUntil(lambda: wall.told.isVisible() and wall.told.text() == "= 3 mm")
    qtbot.keyClick(wall, Qt.Key.Key_Escape)
    qtbot.waitUntil(lambda: not wall.told.isVisible())
    type_into(qtbot, wall, "3")
    qtbot.waitUntil(wall.told.isVisible)
    field(window, "foot_d").setFocus()
    settle(qtbot, window)
    assert not wall.told.isVisible()
