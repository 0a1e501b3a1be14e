"""Bodies understood and put in order in the real window: measured, cut open, coloured, grouped, deleted with care."""

from dataclasses import replace

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from tests.support.canvases import block, edge_at, seen_edges, tap
from tests.support.hands import answer, drag, row, run, show
from tests.support.windows import settle

from architectonic.desktop.body import canvas as body_canvas
from architectonic.family import edits, names
from architectonic.family.operations.solids.extrude import Distance

pytestmark = [pytest.mark.window, pytest.mark.kernel]
assert block  # a fixture of theirs


def part(window):
    return window.desk.main.document


def pick_faces(window, *roles):
    canvas = window.bodies
    body, mesh, _ = canvas.meshes[0]
    window.desk.main.pick([("face", body, next(f for f in mesh.faces if r in f)) for r in roles])


def asked(qtbot, window):
    """Wait for the figures of what is picked."""
    qtbot.waitUntil(lambda: any(k in dict(window.right.facts()) for k in ("Area", "Length", "Apart")), timeout=20_000)


def test_a_picture_at_rest_is_smoothed(qtbot, block, monkeypatch):
    monkeypatch.setattr(body_canvas, "SMOOTH", 4)
    block.bodies.look("front")
    block.bodies.grab()
    assert block.bodies.scene.window.GetMultiSamples() == 0  # while it moves
    qtbot.waitUntil(lambda: block.bodies.scene.window.GetMultiSamples() == 4)


def test_a_copy_whose_figures_are_not_there_yet_has_facts(qtbot, block):
    """Its bodies are known before they are measured; nothing of before knows the document."""
    desk = block.desk
    found = []
    desk.evaluated.connect(lambda: found.append(block.right.facts()))
    key = ""

    def copied(family):
        nonlocal key
        family, key = edits.duplicate_document(family, desk.main.document_id, "Other")
        return family

    assert desk.apply("duplicate", copied)
    desk.show(key)
    settle(qtbot, block)
    assert found[0][0] == found[-1][0] == ("Body", "") and "Volume" in dict(found[-1])


def test_everything_is_picked_by_one_key_and_a_chosen_row_deleted(qtbot, block):
    canvas, main = block.bodies, block.desk.main
    qtbot.keyClick(canvas, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    assert {kind for kind, *_ in main.picks} == {"face"} and len(main.picks) == 6
    qtbot.keyClick(canvas, Qt.Key.Key_Delete)
    assert "choose its row" in block.strip.line.text() and len(main.build) == 2
    main.pick([])
    block.actions_.run("operation.fillet")
    qtbot.keyClick(canvas, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    assert len(block.card.blanks["edges"].picked) == 12
    qtbot.keyClick(block.card, Qt.Key.Key_Return)
    settle(qtbot, block)
    assert len(main.build) == 3 and main.operation == main.build[-1].id
    qtbot.keyClick(canvas, Qt.Key.Key_Delete)
    settle(qtbot, block)
    assert len(main.build) == 2
    block.show_tab("Sketch")
    qtbot.keyClick(block.sketches, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    assert len(main.curves) == 4


def test_a_distance_is_measured_kept_and_used(qtbot, block):
    pick_faces(block, ":start", ":end")
    asked(qtbot, block)
    facts = dict(block.right.facts())
    assert (facts["Shortest"], facts["Apart"], facts["Angle"]) == ("10 mm", "10 mm", "180 deg")
    block.bodies.grab()
    block.actions_.run("measure.keep")
    assert block.prompt.fields[1].text() == "gap"
    block.prompt.fields[1].setText("tall")
    qtbot.keyClick(block.prompt.fields[1], Qt.Key.Key_Return)
    settle(qtbot, block)
    assert [(n, v) for _, n, v, _ in block.right.measured()] == [("tall", "10 mm")]
    assert "tall" in dict(names.values_of(part(block)))
    key = part(block).build[-1].id

    def higher(family):
        extrude = edits.operation(family, part(block).id, key)
        text = names.bind_quantity(family, part(block), "12 mm", "length", "mm")
        return edits.replace_operation(family, part(block).id, edits.replace(extrude, far=Distance(value=text)))

    block.desk.apply("higher", higher)
    settle(qtbot, block)
    assert [v for *_, v, _ in block.right.measured()] == ["12 mm"]
    block.measures.choose(part(block).measurements[0].id)
    assert len(block.desk.main.picks) == 2
    block.actions_.run("operation.delete")
    settle(qtbot, block)
    assert not part(block).measurements and not block.right.measured()


def test_a_body_is_cut_open_dragged_and_closed(qtbot, block):
    canvas = block.bodies
    low = min(canvas.meshes[0][1].points[:, 2])
    canvas.look("isometric")
    pick_faces(block, ":end")
    block.actions_.run("view.open")
    opening = canvas.opening
    assert opening.frame.normal == (0.0, 0.0, 1.0) and not opening.cuts  # on the top face nothing lies before it
    a, b = opening._ends()
    canvas.grab()
    down = QPointF(a - (b - a)).toPoint()
    drag(qtbot, canvas, a.toPoint(), down)
    assert opening.moved < -0.5 and len(opening.cuts) == 1
    kept = canvas.mesh(canvas.meshes[0][0])
    assert kept.points[kept.triangles][:, :, 2].max() == pytest.approx(10 + opening.moved, abs=1e-4)
    canvas.grab()
    a, _ = opening._ends()
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=a.toPoint())  # the other half
    kept = canvas.mesh(canvas.meshes[0][0])
    assert kept.points[kept.triangles][:, :, 2].min() > low + 1
    block.actions_.run("view.open")
    assert opening.frame is None and not opening.cuts


def test_stripes_and_combs_are_shown_and_go_with_what_they_were_of(qtbot, block):
    """The picture changes with the stripes, pixel by pixel; a body that was changed shows none that are of it as it was."""
    canvas, fair = block.bodies, block.bodies.opening.fairness
    plain = canvas.grab().toImage()
    run(qtbot, block, "view.stripes")
    qtbot.waitUntil(lambda: bool(fair.stripes(canvas.meshes)))
    (striped,) = fair.stripes(canvas.meshes).values()
    assert np.linalg.norm(striped.normals, axis=1) == pytest.approx(1.0, abs=1e-5)
    assert canvas.grab().toImage() != plain
    body, mesh, colour = canvas.meshes[0]
    assert not fair.stripes([(body, replace(mesh, points=mesh.points + 1), colour)])
    run(qtbot, block, "view.comb")
    assert not fair.combs()  # a block has straight edges only
    run(qtbot, block, "view.comb")
    run(qtbot, block, "view.stripes")
    assert canvas.grab().toImage() == plain


def test_stripes_come_back_on_a_body_that_has_changed(qtbot, block):
    canvas, fair = block.bodies, block.bodies.opening.fairness
    run(qtbot, block, "view.stripes")
    qtbot.waitUntil(lambda: bool(fair.stripes(canvas.meshes)))
    before = canvas.meshes[0][1]
    document, operation = block.desk.main.document, block.desk.main.build[-1]
    higher = edits.replace(operation, far=edits.replace(operation.far, value=names.bind_quantity(block.desk.family, document, "14 mm", "length", "mm")))  # fmt: skip
    block.desk.apply("higher", lambda f: edits.replace_operation(f, document.id, higher))
    settle(qtbot, block)
    qtbot.waitUntil(lambda: canvas.meshes[0][1] is not before and bool(fair.stripes(canvas.meshes)))
    (striped,) = fair.stripes(canvas.meshes).values()
    assert striped.points[:, 2].max() == pytest.approx(14)


def _given_at(canvas, key, label):
    """A pixel on an edge as the open sentence is given it."""
    mesh = canvas.shown.given(key)
    k = mesh.edges.index(label)
    points = mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]].mean(axis=0)
    x, y, _ = canvas.camera.project(points, canvas.width(), canvas.height())[0]
    return QPoint(round(x), round(y))


def test_more_edges_like_the_picked_one_go_to_an_open_sentence(qtbot, block):
    canvas = block.bodies
    upright = [e for e in seen_edges(canvas) if e.count("side") == 2]
    tap(qtbot, canvas, edge_at(canvas, upright[0]))
    block.actions_.run("pick.like")
    assert len(block.desk.main.picks) == 4
    block.desk.main.pick(block.desk.main.picks[:1])
    block.actions_.run("operation.fillet")
    settle(qtbot, block)
    block.card.blanks["edges"].button.setChecked(True)  # the blank takes clicks
    key = canvas.meshes[0][0]
    qtbot.waitUntil(lambda: block.desk.main.given(key) is not None, timeout=20_000)
    assert upright[0] not in canvas.meshes[0][1].edges  # rounded away in the picture, and still lit
    canvas.grab()
    block.actions_.run("pick.like")
    settle(qtbot, block)
    tap(qtbot, canvas, _given_at(canvas, key, upright[-1]))  # one of them is taken out again by a click where it was
    settle(qtbot, block)
    assert len(block.desk.main.picks) == 3
    tap(qtbot, canvas, _given_at(canvas, key, upright[-1]))
    settle(qtbot, block)
    qtbot.keyClick(block.card.value, Qt.Key.Key_Return)
    settle(qtbot, block)
    assert len(part(block).build[-1].edges) == 4


def test_what_holds_on_to_an_operation_is_listed_and_mended_after_it_is_deleted(qtbot, block):
    canvas = block.bodies
    upright = [e for e in seen_edges(canvas) if e.count("side") == 2]
    tap(qtbot, canvas, edge_at(canvas, upright[0]))
    block.actions_.run("operation.fillet")
    settle(qtbot, block)
    qtbot.keyClick(block.card.value, Qt.Key.Key_Return)
    settle(qtbot, block)
    sketch, extrude, fillet = part(block).build
    block.desk.main.select(extrude.id)
    qtbot.keyClick(block.made_of, Qt.Key.Key_Delete)
    assert block.list_card.isVisible() and block.list_card.rows.item(0, 0).text() == fillet.name
    assert block.list_card.rows.item(0, 1).text() == "takes an edge of its faces"
    qtbot.keyClick(block.list_card, Qt.Key.Key_Escape)
    assert len(part(block).build) == 3
    block.actions_.run("operation.delete")
    qtbot.keyClick(block.list_card, Qt.Key.Key_Return)
    settle(qtbot, block)
    assert [o.id for o in part(block).build] == [sketch.id, fillet.id]
    assert block.list_card.isVisible() and block.list_card.title.text().startswith("One thing needs attention")
    assert fillet.name in block.list_card.rows.item(0, 1).text()  # what was lost is listed by itself, with its mend
    qtbot.keyClick(block.list_card, Qt.Key.Key_Return)
    settle(qtbot, block)
    assert block.desk.main.operation == fillet.id
    block.list_card.leave()
    block.desk.undo()
    settle(qtbot, block)
    block.desk.main.select(extrude.id)
    block.actions_.run("operation.delete")
    next(b for b in block.list_card.findChildren(type(block.tabs.split)) if "Switch it off" in b.text()).click()
    settle(qtbot, block)
    assert len(part(block).build) == 3 and not row(block, "Block").on


def test_a_stretch_is_named_folded_switched_and_moved(qtbot, window):
    show(qtbot, window, "Louvre")
    build = part(window).build
    window.desk.main.select(build[4].id)
    window.actions_.run("stretch.name")
    window.prompt.fields[1].setCurrentText(build[5].name)
    window.prompt.fields[2].setText("Slots")
    qtbot.keyClick(window.prompt.fields[2], Qt.Key.Key_Return)
    settle(qtbot, window)
    count = len(build)
    heading = row(window, "Slots")
    assert len(window.made_of.entries) == count + 1 and heading.inside == (build[4].id, build[5].id)
    window.made_of.grab()
    plan = window.made_of.plan
    top = next(y for y, e in plan.tops() if e.id == heading.id)
    qtbot.mouseClick(window.made_of, Qt.MouseButton.LeftButton, pos=QPoint(120, int(top + 8)))
    assert len(window.made_of.entries) == count - 1 and row(window, "Slots").note == "2 folded"
    window.made_of.grab()
    window.made_of.toggle(heading.id)
    settle(qtbot, window)
    assert not row(window, "Slots").on
    window.desk.undo()
    settle(qtbot, window)
    folded = row(window, "Slots")
    window.made_of.land(folded.id, len(window.made_of.entries))
    settle(qtbot, window)
    assert [o.id for o in part(window).build[-2:]] == [build[4].id, build[5].id]
    window.made_of.land(row(window, "Slots").id, 0)
    settle(qtbot, window)
    assert "must stay after" in window.desk.refusal


def test_bodies_have_groups_and_colours_and_say_what_they_run_into(qtbot, window):
    show(qtbot, window, "Louvre")
    assert [c.overlaps for c in window.made_of.columns] == [False, False]
    window.actions_.run("body.edit")
    answer(qtbot, window)  # the first body
    name, material, density, use, colour, group = window.prompt.fields
    colour.setCurrentText("brass")
    group.setText("Fins")
    qtbot.keyClick(group, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.made_of.columns[0].colour == "#C2A25A" == window.bodies.meshes[0][2]
    assert ("Group Fins", "") in window.right.facts() and name and material and density and use
    window.actions_.run("body.group")
    qtbot.keyClick(window.prompt.fields[0], Qt.Key.Key_Return)
    assert len(window.bodies.hidden) == 1
    window.bodies.hide_bodies(set())
    cut = next(o for o in part(window).build if o.name == "Slot from above, cut")
    window.made_of.toggle(cut.id)
    settle(qtbot, window)
    assert [c.overlaps for c in window.made_of.columns] == [True, True]
    assert any(k.startswith("Overlaps Fin") for k, _ in window.right.facts())
    window.made_of.grab()
    assert np.isfinite(window.bodies.camera.scale)
