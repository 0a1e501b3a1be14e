"""Work in place, part items, what is free, repeats, variations and contact sheets in the real window."""

import pytest
from PyQt6.QtCore import QPoint, Qt
from tests.support.hands import answer, field, rows, run, show, type_into
from tests.support.windows import settle

from architectonic.base.rigid import IDENTITY
from architectonic.describe.results import Node
from architectonic.desktop.body.freesigns import FreeSigns
from architectonic.desktop.commands.placed.results import ResultCommands
from architectonic.family import edits
from architectonic.session.picking.subject import Pick

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def pick(window, *names):
    """A face of the first body of each instance or body of these names."""
    found = []
    for body, mesh, _ in window.bodies.meshes:
        if window.bodies.body_name(body).split(" / ")[0] in names:
            found.append(Pick("face", body, mesh.faces[0]))
    window.desk.main.pick(found)


def test_bodies_are_brought_in_cut_in_place_and_the_cut_goes_to_the_part_and_back(qtbot, window):
    desk = window.desk
    show(qtbot, window, "Stand")
    window.show_tab("Bodies")
    assert [o.name for o in desk.main.build][:2] == ["Bring in", "Screw depth"]
    assert not window.actions_.actions["body.bring_in"].enabled()  # what stands here is worked on already
    desk.main.select(next(o.id for o in desk.main.build if o.name == "Drill the stack"))
    collar = edits.find_document(desk.family, "Collar")
    run(qtbot, window, "body.send")
    undo = window.head.undo_button.text()
    assert "Drill the stack into" in undo
    assert [o.name for o in edits.find_document(desk.family, "Collar").build][-1] == "Drill the stack"
    assert not edits.find_document(desk.family, "Stand").bodies
    show(qtbot, window, "Collar")
    desk.main.select(next(o.id for o in desk.main.build if o.name == "Drill the stack"))
    run(qtbot, window, "body.fetch")
    assert desk.main.document.name == "Stand" and len(desk.main.document.bodies) == 1
    assert edits.find_document(desk.family, "Collar").build == collar.build


def test_a_part_is_brought_into_work_by_picks_and_the_sentence_knows_it(qtbot, window):
    desk = window.desk
    show(qtbot, window, "Light")
    window.show_tab("Bodies")
    assert not window.actions_.actions["operation.fillet"].enabled()  # the assembly has no body to work on yet
    pick(window, "Cheek L", "Arm tube")
    run(qtbot, window, "body.bring_in")
    assert [b.name for b in desk.main.document.bodies.values()] == ["Cheek L", "Arm tube"]
    assert window.actions_.actions["operation.fillet"].enabled()
    (own, *_) = desk.main.document.bodies
    body = desk.main.subject.own(own)
    mesh = next(m for b, m, _ in window.bodies.meshes if b == body)
    straight = next(e for e, kind, convex in zip(mesh.edges, mesh.edge_kinds, mesh.convex, strict=True) if kind == "circle" and convex == "convex")  # fmt: skip
    desk.main.pick([Pick("edge", body, straight)])
    assert [r.item for r in desk.main.subject.picked("edge")] == [own]
    mass = desk.settled.value(Node("extents", desk.main.at, "")).whole.mass
    run(qtbot, window, "operation.fillet")
    window.card.blanks["radius"].field.setText("0.2 mm")
    window.card.keep()
    settle(qtbot, window)
    assert desk.main.build[-1].kind == "fillet"
    assert desk.settled.value(Node("extents", desk.main.at, "")).whole.mass < mass


def test_part_items_are_listed_edited_and_offered(qtbot, window):
    show(qtbot, window, "Elbow")
    window.show_tab("Bodies")
    run(qtbot, window, "item.list")
    assert [r[:3] for r in rows(window)] == [
        ["", "Bars", ""], ["BRL-71", "    Fork", "1"], ["BRL-72", "    Tongue", "1"], ["BRL-73", "Pin", "1"],
    ]  # fmt: skip
    pick(window, "Pin")
    run(qtbot, window, "item.edit")
    answer(qtbot, window, "BRL-71", "Pin", None, None, None, "2")
    assert "Fork has the number BRL-71" in window.strip.line.text()
    answer(qtbot, window, "BRL-79", "Pin", None, None, None, "2")
    assert rows(window)[-1][:3] == ["BRL-79", "Pin", "2"]
    run(qtbot, window, "item.drop")
    assert "Elbow joint / Pin shows it by itself" in window.strip.line.text()
    show(qtbot, window, "Foot")
    pick(window, "Shell")
    run(qtbot, window, "item.drop")
    assert window.actions_.actions["item.offer"].enabled()
    run(qtbot, window, "item.offer")
    assert [r[1:3] for r in rows(window)] == [["Foot base", "1"], ["Shell", "1"]]


def test_what_is_free_is_dragged_by_its_arrow_and_what_is_fixed_has_none(qtbot, window):
    desk = window.desk
    show(qtbot, window, "Stand")
    window.show_tab("Bodies")
    signs = next(h for h in window.bodies.handles if isinstance(h, FreeSigns))
    pick(window, "Collar")
    free = signs.signs()
    assert [s.move.kind for s in free] == ["slide"] * 3 + ["turn"] * 3
    up = next(s for s in free if s.move.kind == "slide" and s.move.axis == (0.0, 0.0, 1.0))
    at = signs.ways.spot(up.tip(0.0, signs.ways.reach())).toPoint()
    canvas = window.bodies
    qtbot.mouseMove(canvas, at)
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=at)
    qtbot.mouseMove(canvas, at + QPoint(0, -40))
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=at + QPoint(0, -40))
    settle(qtbot, window)
    key = next(i.id for i in desk.main.document.instances if i.name == "Collar")
    moved = desk.settled.value(Node("placed", desk.main.at, key)).placement
    assert moved[11] > 1 and moved[3] == moved[7] == 0 and moved[11] % 0.5 == pytest.approx(0, abs=1e-9)
    assert window.head.undo_button.text().startswith("↶ Undo: move Collar +")
    assert any(e.text == "Collar, placed" for e in window.made_of.entries)
    desk.session.undo()
    desk.family_changed.emit()
    settle(qtbot, window)
    pick(window, "Collar")
    run(qtbot, window, "instance.fix")
    assert signs.signs() == []
    assert desk.settled.value(Node("placed", desk.main.at, key)).placement == IDENTITY


def test_an_instance_is_repeated_and_stands_once_again(qtbot, window):
    desk = window.desk
    show(qtbot, window, "Stand")
    window.show_tab("Bodies")
    pick(window, "Collar")
    run(qtbot, window, "instance.repeat")
    answer(qtbot, window, None, "the z axis", "3", "12 mm")
    assert len(desk.settled.value(Node("assembly", desk.main.at, ""))) == 4
    assert any("× 3 along the z axis by 12 mm" in e.text for e in window.made_of.entries)
    pick(window, "Collar 3")
    run(qtbot, window, "instance.once")
    assert len(desk.settled.value(Node("assembly", desk.main.at, ""))) == 2


def test_variations_begin_are_compared_and_one_is_the_way_forward(qtbot, window):
    desk = window.desk
    show(qtbot, window, "Collar")
    window.show_tab("Bodies")
    run(qtbot, window, "variation.new")
    answer(qtbot, window, "1")
    assert "give a number from 2" in window.strip.line.text()
    answer(qtbot, window, "2")
    assert desk.main.document.name == "Collar variations" and len(window.bodies.meshes) == 2
    other = edits.find_document(desk.family, "Collar B")
    high = next(p.id for p in other.parameters if p.name == "high")
    desk.apply("higher", lambda f: edits.set_value(f, other.id, high, "12 mm"))
    settle(qtbot, window)
    pick(window, "Collar B")
    run(qtbot, window, "variation.compare")
    assert ["high", "8 mm", "12 mm"] in rows(window)
    run(qtbot, window, "variation.choose")
    first = edits.find_document(desk.family, "Collar")
    assert next(p for p in first.parameters if p.id == high).common.text == "12 mm" and first.number == "BRL-11"


def test_the_contact_sheet_pictures_every_result_and_a_click_shows_it(qtbot, window):
    desk = window.desk
    show(qtbot, window, "Stand")
    window.show_tab("Alternates")
    sheet = next(c.sheet for c in window.commands.more if isinstance(c, ResultCommands))
    run(qtbot, window, "alternate.sheet")
    qtbot.waitUntil(sheet.isVisible)
    assert len(sheet.cells) == 9 and all(not b.icon().isNull() for b in sheet.cells.values())
    wanted = next(at for at, b in sheet.cells.items() if b.text().startswith("Wall plate, L"))
    sheet.cells[wanted].click()
    settle(qtbot, window)
    assert desk.main.at == wanted and not sheet.isVisible()


def test_clearances_are_listed_nearest_first(qtbot, window):
    show(qtbot, window, "Stand")
    window.show_tab("Bodies")
    run(qtbot, window, "assembly.near")
    answer(qtbot, window, "1 mm")
    qtbot.waitUntil(lambda: window.list_card.isVisible() and not window.desk.work.busy)
    assert rows(window) == [["Base / Shell", "Collar", "touching"]]


def test_a_refusal_is_left_behind_with_its_document(qtbot, window):
    show(qtbot, window, "Foot")
    type_into(qtbot, field(window, "wall"), "2 mm mm")
    qtbot.keyClick(field(window, "wall"), Qt.Key.Key_Return)
    assert "is not expected here" in window.strip.line.text()
    show(qtbot, window, "Light")
    assert "is not expected here" not in window.strip.line.text()
