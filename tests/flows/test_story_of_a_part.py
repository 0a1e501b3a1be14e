"""A part built from nothing by mouse and keyboard, with the wrong turns that people take: a hinge plate of two pieces.

Every figure is a closed form of what was typed: plates, bores, rounds (1 - pi / 4) r^2 h, and halves.
"""

import math

import pytest
from PyQt6.QtCore import Qt
from tests.support.canvases import edge_at, seen_edges, tap
from tests.support.faces import face_at
from tests.support.hands import click, held, lay_down, type_into
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.bodies.combine import Combine
from architectonic.family.operations.bodies.move import Move
from architectonic.family.operations.bodies.split import Split
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.operations.solids.extrude import Extrude

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def measured(window, name):
    document = window.desk.main.document
    body = next(k for k, b in document.bodies.items() if b.name == name)
    return window.desk.settled.value(Node("measure", window.desk.main.at, body))


def enter(qtbot, window):
    qtbot.keyClick(window.card.value, Qt.Key.Key_Return)
    settle(qtbot, window)
    return window.desk.main.build[-1]


def test_a_hinge_plate_in_two_pieces(qtbot, pad):
    desk, card, canvas = pad.desk, pad.card, pad.bodies
    # --- a plate: 40 x 20 as drawn, 3 * 2 mm thick
    pad.actions_.run("sketch.rectangle")
    click(qtbot, pad.sketches, 0, 0)
    click(qtbot, pad.sketches, 40, 20)
    settle(qtbot, pad)
    lay_down(qtbot, pad.sketches)
    click(qtbot, pad.sketches, 20, 10)
    (region,) = pad.sketches.solved.regions
    pad.actions_.run("operation.extrude")
    assert pad.tab == "Bodies"  # there is nothing left to pick: what it makes is worth seeing
    type_into(qtbot, card.value, "3 * 2")
    qtbot.waitUntil(lambda: bool(canvas.meshes), timeout=20_000)
    type_into(qtbot, card.value, "3 * (2 mm")  # a wrong turn: the bracket is open
    qtbot.keyClick(card.value, Qt.Key.Key_Return)
    assert card.isVisible() and "bracket" in card.hint.text() and len(desk.main.build) == 1
    type_into(qtbot, card.value, "3 * 2 mm")
    assert isinstance(enter(qtbot, pad), Extrude)
    plate = region.area * 6
    assert measured(pad, "Body")["volume_mm3"] == pytest.approx(plate, rel=1e-9)

    # --- all four upright edges rounded; 12 mm has no room, 3 has
    pad.bodies.grab()
    upright = [e for e in seen_edges(canvas) if e.count("side") == 2]
    tap(qtbot, canvas, edge_at(canvas, upright[0]))
    pad.actions_.run("pick.like")
    pad.actions_.run("operation.fillet")
    type_into(qtbot, card.value, "12 mm")
    qtbot.waitUntil(lambda: "too large" in card.hint.text(), timeout=20_000)
    assert len(desk.main.subject.at_fault(desk.main.standing or desk.main.operation)) >= 2
    type_into(qtbot, card.value, "3 mm")
    assert isinstance(enter(qtbot, pad), Fillet)
    rounded = plate - 4 * (1 - math.pi / 4) * 9 * 6
    assert measured(pad, "Body")["volume_mm3"] == pytest.approx(rounded, rel=1e-7)

    volumes_of_two_pieces(qtbot, pad, region, plate)


def volumes_of_two_pieces(qtbot, pad, region, plate):
    """The plate parted, one piece treated in the air and brought home, both united again."""
    desk, card, canvas = pad.desk, pad.card, pad.bodies
    rounded = plate - 4 * (1 - math.pi / 4) * 9 * 6
    # --- parted at x = 15 by a plane that is made on the way; the right half goes up and is treated by itself
    pad.actions_.run("datum.new")
    pad.card.name.setText("Part line")
    held(pad.card)[0].setCurrentText("right")
    held(pad.card)[1].setText("15 mm")
    qtbot.keyClick(pad.card.name, Qt.Key.Key_Return)
    settle(qtbot, pad)
    pad.actions_.run("operation.split")
    card.blanks["by"].list.setCurrentText("Part line")
    split = enter(qtbot, pad)
    assert isinstance(split, Split) and len(desk.main.document.bodies) == 2
    high = max(p.start[1] for p in region.loops[0])
    left = 15 * high * 6 - 2 * (1 - math.pi / 4) * 9 * 6
    assert measured(pad, "Body 2")["volume_mm3"] == pytest.approx(left, rel=1e-7)
    assert measured(pad, "Body")["volume_mm3"] == pytest.approx(rounded - left, rel=1e-7)
    pad.actions_.run("operation.move")
    for key, button in card.blanks["acts_on"].buttons.items():
        button.setChecked(key == split.acts_on[0])
    for axis, text in (("x", "0 mm"), ("y", "0 mm"), ("z", "30 mm")):
        type_into(qtbot, card.blanks[f"by.{axis}"].field, text)
    assert isinstance(enter(qtbot, pad), Move)
    assert measured(pad, "Body")["box_mm"][2] == pytest.approx(30, abs=1e-6)

    # --- the piece in the air is hollowed from below; then it comes home and both are one again
    canvas.frame_all()
    canvas.grab()
    pad.actions_.run("operation.shell")
    for key, button in card.blanks["acts_on"].buttons.items():
        button.setChecked(key == split.acts_on[0])
    type_into(qtbot, card.value, "1 mm")
    enter(qtbot, pad)
    hollow = measured(pad, "Body")["volume_mm3"]
    assert hollow < rounded - left
    pad.actions_.run("operation.back")
    settle(qtbot, pad)
    assert card.blanks["acts_on"].chosen() == (split.acts_on[0],)
    enter(qtbot, pad)
    assert measured(pad, "Body")["box_mm"][2] == pytest.approx(0, abs=1e-6)
    pad.actions_.run("operation.unite")
    card.blanks["acts_on"].list.setCurrentText("Body")
    for button in card.blanks["tools"].buttons.values():
        button.setChecked(button.text() == "Body 2")
    settle(qtbot, pad)
    united = enter(qtbot, pad)
    assert isinstance(united, Combine)
    assert measured(pad, "Body")["volume_mm3"] == pytest.approx(hollow + left, rel=1e-7)

    taken_back_and_switched(qtbot, pad, split.acts_on[0], rounded, hollow + left)


def taken_back_and_switched(qtbot, pad, body, rounded, whole):
    """Undo and redo to the same bits; a switch in one size."""
    desk = pad.desk
    # --- everything can be taken back and done again, to the same bits
    family, volume = desk.family, measured(pad, "Body")["volume_mm3"]
    for _ in range(4):
        desk.undo()
    settle(qtbot, pad)
    assert len(desk.main.build) == 5
    for _ in range(4):
        desk.redo()
    settle(qtbot, pad)
    assert desk.family is family and measured(pad, "Body")["volume_mm3"] == volume

    # --- switching the hollow off in one size leaves the other as it is
    shell = next(o for o in desk.main.build if o.name.startswith("Shell"))
    size = next(s.id for s in desk.family.head.sizes if s.name == "A")
    desk.apply("off", lambda f: edits.set_switch(f, desk.main.document_id, shell.id, False, size))
    settle(qtbot, pad)
    volumes = {}
    for s in desk.family.head.sizes:
        at = desk.main.at._replace(configuration=s.id)
        volumes[s.name] = desk.settled.value(Node("measure", at, body))["volume_mm3"]
    assert volumes["A"] == pytest.approx(rounded, rel=1e-7) and volumes["B"] == pytest.approx(whole, rel=1e-7)


def test_a_hole_is_sketched_on_a_face_and_the_face_is_deleted_under_it(qtbot, pad):
    """The sketch stands on the picked top; when what made the face is deleted it is told, and undo mends it."""
    desk, canvas = pad.desk, pad.bodies
    pad.actions_.run("sketch.rectangle")
    click(qtbot, pad.sketches, 0, 0)
    click(qtbot, pad.sketches, 40, 20)
    settle(qtbot, pad)
    lay_down(qtbot, pad.sketches)
    click(qtbot, pad.sketches, 20, 10)
    pad.actions_.run("operation.extrude")
    extrude = enter(qtbot, pad)
    plate = measured(pad, "Body")["volume_mm3"]
    canvas.grab()
    tap(qtbot, canvas, face_at(canvas, ":end"))
    pad.actions_.run("sketch.new")
    pad.prompt.fields[0].setText("Bore")
    assert pad.prompt.fields[1].currentText() == "the picked face"
    qtbot.keyClick(pad.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, pad)
    pad.show_tab("Sketch")
    pad.sketches.scale, pad.sketches.centre = 4.0, (20.0, 10.0)
    pad.actions_.run("sketch.circle")
    click(qtbot, pad.sketches, 20, 10)
    click(qtbot, pad.sketches, 28, 10)
    settle(qtbot, pad)
    lay_down(qtbot, pad.sketches)
    assert not desk.main.picks  # the face that it stands on is not meant any more
    click(qtbot, pad.sketches, 24, 12.5)
    (circle,) = [r for r in pad.sketches.solved.regions if r.area < 300]
    pad.actions_.run("operation.extrude")
    assert pad.card.blanks["flip"].button.isChecked()  # into the material
    pad.card.blanks["far"].choice.setCurrentText("through all")
    settle(qtbot, pad)
    cut = enter(qtbot, pad)
    assert cut.does == "cut" and measured(pad, "Body")["volume_mm3"] == pytest.approx(
        plate - circle.area * 10, rel=1e-8
    )
    desk.main.select(extrude.id)
    pad.actions_.run("operation.delete")
    assert pad.list_card.isVisible()  # what depends on it is listed first
    listed = [pad.list_card.rows.item(r, 0).text() for r in range(pad.list_card.rows.rowCount())]
    assert cut.name in listed or "Bore" in listed
    qtbot.keyClick(pad.list_card, Qt.Key.Key_Return)
    settle(qtbot, pad)
    assert desk.attention and pad.bodies.painter._first_failing() is not None
    desk.undo()
    settle(qtbot, pad)
    assert not desk.attention and measured(pad, "Body")["volume_mm3"] == pytest.approx(
        plate - circle.area * 10, rel=1e-8
    )
