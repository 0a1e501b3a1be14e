"""Operations made by their sentences in the real window: blanks filled by clicks, clauses added, bodies chosen."""

import math

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from tests.support.canvases import edge_at, measured, seen_edges, tap
from tests.support.hands import click, draw, held, show, type_into, volume
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.describe.words.things import Edges
from architectonic.family import edits
from architectonic.family.operations.bodies.move import Move
from architectonic.family.operations.bodies.split import Split
from architectonic.family.operations.edges.chamfer import Chamfer
from architectonic.family.operations.solids.revolve import Revolve
from architectonic.family.operations.solids.shell import Shell

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def test_edges_are_chamfered_by_clicking_them(qtbot, block):
    canvas, card = block.bodies, block.card
    before = measured(block)["volume_mm3"]
    assert block.actions_.run("operation.chamfer")
    settle(qtbot, block)
    assert block.desk.main.gathering == Edges.accepts and "Click edges" in card.hint.text()
    first, second = [e for e in seen_edges(canvas) if e.count("side") == 1][:2]
    tap(qtbot, canvas, edge_at(canvas, first))
    tap(qtbot, canvas, edge_at(canvas, second))
    edges = card.blanks["edges"]
    assert edges.button.text() == "2 edges" and {r.label for r in edges.picked} == {first, second}
    edges.button.setFocus()
    qtbot.keyClick(edges.button, Qt.Key.Key_Delete)
    assert edges.button.text() == "1 edge"
    mesh = canvas.meshes[0][1]
    k = mesh.edges.index(edges.picked[0].label)
    points = mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]]
    length = float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())
    card._asked["second"].click()
    assert card.blanks["second"].field.isVisible()
    card._asked["angle"].click()  # the two exclude each other; 45° as it begins
    assert not card.blanks["second"].field.isVisible() and card.blanks["angle"].field.isVisible()
    type_into(qtbot, card.value, "2 mm")
    qtbot.keyClick(card.value, Qt.Key.Key_Return)
    settle(qtbot, block)
    made = block.desk.main.build[-1]
    assert isinstance(made, Chamfer) and made.second is None and made.edges[0].witness.convex == "convex"
    lost = before - measured(block)["volume_mm3"]
    assert lost == pytest.approx(2 * 2 / 2 * length, rel=1e-5)  # a triangular prism off the edge that is left
    assert not block.desk.main.gathering and block.made_of.entries[-1].text.startswith(
        "Chamfer: chamfer 1 edge by 2 mm"
    )


def test_esc_leaves_a_sentence_and_lets_clicks_pick_again(qtbot, block):
    canvas, family = block.bodies, block.desk.family
    block.actions_.run("operation.fillet")
    tap(qtbot, canvas, edge_at(canvas, seen_edges(canvas)[0]))
    qtbot.keyClick(block.card.value, Qt.Key.Key_Escape)
    settle(qtbot, block)
    assert block.desk.family is family and not block.desk.main.gathering
    canvas.grab()
    tap(qtbot, canvas, edge_at(canvas, seen_edges(canvas)[0]))
    assert len(block.desk.main.picks) == 1


def test_an_edge_with_nothing_to_round_is_refused_in_words(qtbot, window):
    """The inner edge of a rounded rim is smooth: the kernel would pass over it without a word."""
    show(qtbot, window, "Foot")
    mesh = window.bodies.meshes[0][1]
    smooth = next(e for e, c in zip(mesh.edges, mesh.convex, strict=True) if c == "smooth")
    window.desk.main.pick([("edge", window.bodies.meshes[0][0], smooth)])
    window.actions_.run("operation.chamfer")
    qtbot.waitUntil(lambda: "meet smoothly" in window.card.hint.text(), timeout=20_000)


def test_a_region_is_clicked_in_space_and_turned(qtbot, pad):
    """A rectangle beside the y axis, clicked in 3D, turned about y by a quarter: area * radius of its centre * angle."""
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.rectangle", (10, 0), (20, 10))
    region = canvas.solved.regions[0]
    pad.show_tab("Bodies")
    pad.bodies.frame_all()
    pad.bodies.grab()
    assert pad.actions_.run("operation.revolve")
    space = pad.bodies.space
    (x, y) = space.to_screen(np.array([[region.inside[0], region.inside[1], 0.0]]))[0]
    tap(qtbot, pad.bodies, QPoint(round(x), round(y)))
    card = pad.card
    assert card.blanks["regions"].button.text() == "1 region"
    card.blanks["axis"].list.setCurrentText("the y axis")
    card._asked["angle"].click()
    qtbot.keyClick(card.blanks["angle"].field, Qt.Key.Key_Return)
    settle(qtbot, pad)
    made = pad.desk.main.build[-1]
    assert isinstance(made, Revolve) and made.axis.item == "y"
    xs = [p.start[0] for p in region.loops[0]]
    centre = (min(xs) + max(xs)) / 2
    assert measured(pad)["volume_mm3"] == pytest.approx(region.area * centre * math.pi / 2, rel=1e-8)


def test_a_body_is_hollowed_at_a_picked_face_and_the_wall_that_does_not_fit_is_told(qtbot, block):
    canvas = block.bodies
    before = measured(block)
    top = next(f for f in canvas.meshes[0][1].faces if f.endswith(":end"))
    block.desk.main.pick([("face", canvas.meshes[0][0], top)])
    assert "operation.shell" in block.verbs.verbs()
    block.actions_.run("operation.shell")
    assert block.card.blanks["faces"].button.text() == "1 face"
    type_into(qtbot, block.card.value, "20 mm")
    qtbot.waitUntil(lambda: "does not fit" in block.card.hint.text(), timeout=20_000)
    type_into(qtbot, block.card.value, "1 mm")
    qtbot.keyClick(block.card.value, Qt.Key.Key_Return)
    settle(qtbot, block)
    assert isinstance(block.desk.main.build[-1], Shell)
    x0, y0, _, x1, y1, z = before["box_mm"]
    hollow = (x1 - x0 - 2) * (y1 - y0 - 2) * (z - 1)
    assert measured(block)["volume_mm3"] == pytest.approx(before["volume_mm3"] - hollow, rel=1e-8)


def test_a_body_split_then_its_half_moved_as_a_copy_shows_columns_for_each(qtbot, block):
    before = measured(block)["volume_mm3"]
    block.actions_.run("datum.new")
    block.card.name.setText("Middle")
    held(block.card)[0].setCurrentText("right")
    held(block.card)[1].setText("5 mm")
    qtbot.keyClick(block.card.name, Qt.Key.Key_Return)
    settle(qtbot, block)
    block.actions_.run("operation.split")
    block.card.blanks["by"].list.setCurrentText("Middle")
    qtbot.keyClick(block.card.blanks["by"].list, Qt.Key.Key_Return)
    settle(qtbot, block)
    assert isinstance(block.desk.main.build[-1], Split)
    assert [c.name for c in block.made_of.columns] == ["Body", "Body 2"]
    assert measured(block)["volume_mm3"] + measured(block, 1)["volume_mm3"] == pytest.approx(before, rel=1e-9)
    block.actions_.run("operation.move")
    block.card.blanks["copies"].button.click()
    qtbot.keyClick(block.card.value, Qt.Key.Key_Return)
    settle(qtbot, block)
    made = block.desk.main.build[-1]
    assert isinstance(made, Move) and [c.name for c in block.made_of.columns] == ["Body", "Body 2", "Body 3"]
    assert list(block.made_of.entries[-1].dots) == ["", "", "makes"]
    block.actions_.run("operation.again")
    assert block.card.isVisible() and isinstance(block.card.record, Move)
    block.card.leave()
    for _ in range(2):
        block.actions_.run("edit.undo")
    settle(qtbot, block)
    assert [c.name for c in block.made_of.columns] == ["Body"]
    assert volume(block, block.desk.main.document.name, "B") == pytest.approx(before, rel=1e-9)


def test_a_lost_edge_is_mended_from_its_row_and_why_lists_the_chain(qtbot, block):
    canvas, desk = block.bodies, block.desk
    label = seen_edges(canvas)[0]
    desk.main.pick([("edge", canvas.meshes[0][0], label)])
    block.actions_.run("operation.fillet")
    qtbot.keyClick(block.card.value, Qt.Key.Key_Return)
    settle(qtbot, block)
    fillet = desk.main.build[-1]
    whole = measured(block)["volume_mm3"]
    stray = fillet.edges[0].label.replace(":side:", ":side:gone", 1)
    edge = edits.replace(fillet.edges[0], label=stray)
    desk.apply(
        "spoil", lambda f: edits.replace_operation(f, desk.main.document_id, edits.replace(fillet, edges=(edge,)))
    )
    settle(qtbot, block)
    assert desk.attention and measured(block)["volume_mm3"] > whole
    desk.main.operation = ""
    desk.main.select(fillet.id)
    assert "operation.mend" in block.verbs.verbs()
    block.actions_.run("operation.mend")
    assert "has lost 1 reference" in block.list_card.title.text() and desk.main.picks
    qtbot.keyClick(block.list_card, Qt.Key.Key_Return)
    settle(qtbot, block)
    assert not desk.attention and desk.main.build[-1].edges[0].witness is not None
    face = next(f for f in canvas.meshes[0][1].faces if ":blend:" in f)
    desk.main.pick([("face", canvas.meshes[0][0], face)])
    block.actions_.run("pick.why")
    told = [block.list_card.rows.item(r, 1).text() for r in range(block.list_card.rows.rowCount())]
    assert any(t.startswith("Fillet: fillet 1 edge") for t in told) and any(t.startswith("Block: make") for t in told)


def test_several_regions_become_one_body_together_or_one_each(qtbot, pad):
    """Two rectangles of 10 x 8 and 12 x 6, 5 high."""
    canvas, card = pad.sketches, pad.card
    draw(qtbot, pad, "sketch.rectangle", (0, 0), (10, 8))
    draw(qtbot, pad, "sketch.rectangle", (20, 0), (32, 6))
    areas = [r.area for r in canvas.solved.regions]
    click(qtbot, canvas, 5, 4)
    click(qtbot, canvas, 26, 3, Qt.KeyboardModifier.ShiftModifier)
    pad.actions_.run("operation.extrude")
    settle(qtbot, pad)
    assert card.apart.isVisible() and not card.apart.isChecked()
    card.apart.click()
    type_into(qtbot, card.value, "5 mm")
    settle(qtbot, pad)
    qtbot.keyClick(card.value, Qt.Key.Key_Return)
    settle(qtbot, pad)
    document = pad.desk.main.document
    assert [o.name for o in document.build[-2:]] == ["Block", "Block 2"] and len(document.bodies) == 2
    found = [pad.desk.settled.value(Node("measure", pad.desk.main.at, b))["volume_mm3"] for b in document.bodies]
    assert sorted(found) == pytest.approx(sorted(5 * a for a in areas), rel=1e-6)
    pad.desk.undo()  # one step
    settle(qtbot, pad)
    assert not pad.desk.main.document.bodies
