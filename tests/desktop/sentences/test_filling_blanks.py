"""Blanks for planes, lines, points and ends are filled by clicks in the picture, as those for edges and regions are."""

import pytest
from PyQt6.QtCore import QPoint, Qt
from tests.support.canvases import block, edge_at, measured, seen_edges, tap  # noqa: F401
from tests.support.faces import face_at
from tests.support.hands import click, lay_down, type_into
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.describe.words.acting import FarEnd
from architectonic.describe.words.things import Divider, PlaceBlank, PlaneBlank
from architectonic.family import edits
from architectonic.family.operations.bodies.move import Align, Back, Mirror, Move
from architectonic.family.operations.bodies.split import Split
from architectonic.family.operations.solids.extrude import Extrude, ToFace
from architectonic.family.records import Datum, OffsetPlane, Reference

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def corner_at(canvas, corner):
    x, y, _ = canvas.camera.project(canvas.meshes[0][1].corners[corner], canvas.width(), canvas.height())[0]
    return QPoint(round(x), round(y))


def seen_corner(canvas, *among):
    """A corner that the pointer hits first, between faces of these roles."""
    for label in canvas.meshes[0][1].corners:
        at = corner_at(canvas, label)
        if not 10 < at.y() < canvas.height() - 10:
            continue
        hits = canvas.picker.at(canvas.camera, at.x(), at.y(), canvas.width(), canvas.height())
        if hits[0].kind == "vertex" and hits[0].label == label and all(r in label for r in among):
            return label
    raise AssertionError("no corner is seen")


def keep(qtbot, window):
    qtbot.keyClick(window.card.blanks["acts_on"].widgets[-1], Qt.Key.Key_Return)
    settle(qtbot, window)
    return window.desk.main.build[-1]


def test_a_body_is_mirrored_in_a_face_that_is_clicked(qtbot, block):  # noqa: F811
    canvas = block.bodies
    assert block.actions_.run("operation.mirror")
    settle(qtbot, block)
    assert block.desk.main.gathering == PlaneBlank.accepts and "a flat face or a plane" in block.card.hint.text()
    canvas.frame_all()
    canvas.grab()
    before = measured(block)["box_mm"]
    tap(qtbot, canvas, face_at(canvas, ":side:"))
    settle(qtbot, block)
    assert "face" in block.card.blanks["by.plane"].list.currentText()
    assert block.desk.main.build[-1].id != block.card.record.id
    made = keep(qtbot, block)
    assert isinstance(made, Move) and isinstance(made.by, Mirror)
    seen = made.by.plane.witness
    axis = max(range(3), key=lambda i: abs(seen.normal[i]))
    face, low, high = seen.at[axis], before[axis], before[axis + 3]
    after = measured(block)["box_mm"]
    assert ":side:" in made.by.plane.label and seen.kind == "plane"
    assert (after[axis], after[axis + 3]) == pytest.approx((2 * face - high, 2 * face - low), abs=1e-3)


def test_a_corner_goes_to_another_by_two_clicks_and_back_again(qtbot, block):  # noqa: F811
    canvas = block.bodies
    block.actions_.run("operation.align")
    card = block.card
    assert block.desk.main.gathering == PlaceBlank.accepts
    canvas.frame_all()
    canvas.grab()
    low, high = seen_corner(canvas, ":start"), seen_corner(canvas, ":end")
    places = canvas.meshes[0][1].corners
    step = [float(b - a) for a, b in zip(places[low], places[high], strict=True)]
    before = measured(block)["centre_mm"]
    tap(qtbot, canvas, corner_at(canvas, low))
    assert card.blanks["by.start"].list.currentData().label == low
    card.blanks["by.target"].list.setFocus()
    settle(qtbot, block)
    canvas.grab()
    assert block.desk.main.gathering == PlaceBlank.accepts and card._at == "by.target"
    block.desk.preview(None)  # the corner is clicked where it was, not where the preview has put it
    settle(qtbot, block)
    tap(qtbot, canvas, corner_at(canvas, high))
    made = keep(qtbot, block)
    assert isinstance(made.by, Align) and made.by.start.witness.kind == "vertex"
    after = measured(block)["centre_mm"]
    assert [b - a for a, b in zip(before, after, strict=True)] == pytest.approx(step, abs=1e-3)
    assert block.actions_.run("operation.back")
    assert block.card.record.name == "Put back", block.card.hint.text()
    home = keep(qtbot, block)
    assert not block.card.isVisible(), block.desk.refusal
    assert isinstance(home.by, Back) and home.by.move.item == made.id and home.acts_on == made.acts_on
    assert measured(block)["centre_mm"] == pytest.approx(before, abs=1e-6)
    assert block.made_of.entries[-1].text.startswith("Put back: put back Body as before Align")


def test_a_cut_ends_on_the_face_that_is_clicked(qtbot, block):  # noqa: F811
    """From the top face down to a plane at 4 mm."""
    canvas, desk = block.bodies, block.desk
    plane = Datum(id="half", name="Half", by=OffsetPlane(plane=Reference(item="top"), distance=_length(desk, "4 mm")))
    desk.apply("plane", lambda f: edits.add_operation(f, desk.main.document_id, plane))
    settle(qtbot, block)
    tap(qtbot, canvas, face_at(canvas, ":end"))
    block.actions_.run("operation.extrude")
    settle(qtbot, block)
    far = block.card.blanks["far"]
    far.choice.setFocus()
    assert desk.main.gathering == FarEnd.accepts and "that it ends on" in block.card.hint.text()
    canvas.handles = []  # its arrow shall not lie over the name of the plane
    canvas.frame_all()
    canvas.grab()
    box = next(b for b, t in canvas.space.plates if t.operation.id == "half")
    tap(qtbot, canvas, box.center().toPoint())
    assert far.choice.currentText() == "up to Half"
    qtbot.keyClick(far.field, Qt.Key.Key_Return)
    settle(qtbot, block)
    made = desk.main.build[-1]
    assert isinstance(made, Extrude) and isinstance(made.far, ToFace) and made.far.target.item == "half"
    assert made.flip and made.far.offset is None  # into the material, up to the plane and not 1 mm beyond
    assert measured(block)["box_mm"][5] == pytest.approx(4, abs=1e-6)  # the whole top was cut off


def test_a_body_is_split_by_the_sketch_that_is_clicked(qtbot, block):  # noqa: F811
    canvas, desk = block.bodies, block.desk
    before = measured(block)["volume_mm3"]
    block.actions_.run("sketch.new")
    block.prompt.fields[0].setText("Cutting line")
    qtbot.keyClick(block.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, block)
    sketch = desk.main.operation
    assert block.tab == "Sketch" and block.sketches.tools.tool == "line"  # a new sketch is open, with a line in hand
    click(qtbot, block.sketches, 8, 2)
    click(qtbot, block.sketches, 8, 7)
    lay_down(qtbot, block.sketches)
    settle(qtbot, block)
    block.actions_.run("operation.split")
    assert desk.main.gathering == Divider.accepts
    click(qtbot, block.sketches, 8, 5)
    assert block.card.blanks["by"].list.currentData() == Reference(item=sketch)
    assert block.card.blanks["by"].list.currentText() == "the lines of Cutting line"
    block.show_tab("Bodies")
    qtbot.waitUntil(lambda: len(canvas.meshes) == 2, timeout=20_000)
    made = keep(qtbot, block)
    assert isinstance(made, Split) and measured(block)["volume_mm3"] == pytest.approx(before * 8 / 20, rel=0.02)
    assert list(desk.main.document.bodies) == [*made.acts_on, *made.pieces.values()]


def test_a_curved_face_is_refused_where_a_plane_is_asked_for(qtbot, block):  # noqa: F811
    canvas = block.bodies
    upright = [e for e in seen_edges(canvas) if e.count("side") == 2]
    tap(qtbot, canvas, edge_at(canvas, min(upright, key=lambda e: abs(edge_at(canvas, e).x() - canvas.width() / 2))))
    block.actions_.run("operation.fillet")
    type_into(qtbot, block.card.value, "3 mm")
    qtbot.keyClick(block.card.value, Qt.Key.Key_Return)
    settle(qtbot, block)
    block.actions_.run("operation.mirror")
    before = block.card.blanks["by.plane"].list.currentText()
    settle(qtbot, block)
    canvas.frame_all()
    canvas.grab()
    tap(qtbot, canvas, face_at(canvas, ":blend:", ("face", "edge")))
    assert "This face is a cylinder" in block.strip.line.text()
    assert block.card.blanks["by.plane"].list.currentText() == before
    qtbot.keyClick(block.card.blanks["by.plane"].list, Qt.Key.Key_Escape)


def test_edges_at_fault_are_marked(qtbot, block):  # noqa: F811
    canvas, desk = block.bodies, block.desk
    upright = [e for e in canvas.meshes[0][1].edges if e.count("side") == 2]
    key = canvas.meshes[0][0]
    desk.main.pick([("edge", key, e) for e in upright])
    block.actions_.run("operation.fillet")
    type_into(qtbot, block.card.value, "7 mm")  # two of them have room for 10 together
    settle(qtbot, block)
    qtbot.waitUntil(lambda: "too large" in block.card.hint.text(), timeout=20_000)
    fault = desk.main.subject.at_fault(desk.main.standing or desk.main.operation)
    assert 2 <= len(fault) <= 4 and set(fault) <= set(upright)
    image = canvas.grab().toImage()
    reds = sum(
        image.pixelColor(x, y).red() > 150 and image.pixelColor(x, y).green() < 90 and image.pixelColor(x, y).blue() < 80
        for x in range(0, image.width(), 2) for y in range(0, image.height(), 2)
    )  # fmt: skip
    assert reds > 20
    qtbot.keyClick(block.card.value, Qt.Key.Key_Escape)
    settle(qtbot, block)
    assert desk.main.subject.at_fault(desk.main.standing or desk.main.operation) == ()


def test_two_corners_are_measured_apart(qtbot, block):  # noqa: F811
    canvas = block.bodies
    corners = list(canvas.meshes[0][1].corners)[:2]
    key = canvas.meshes[0][0]
    block.desk.main.pick([("vertex", key, c) for c in corners])
    a, b = (canvas.meshes[0][1].corners[c] for c in corners)
    qtbot.waitUntil(lambda: "Shortest" in dict(block.right.facts()), timeout=20_000)
    told = float(dict(block.right.facts())["Shortest"].split()[0])
    assert told == pytest.approx(float(((a - b) ** 2).sum() ** 0.5), rel=1e-3)


def _length(desk, text):
    from architectonic.family import names

    return names.bind_quantity(desk.family, desk.main.document, text, "length", "mm")


def test_what_cannot_be_built_says_so_where_its_bodies_would_be(qtbot, block):  # noqa: F811
    desk = block.desk
    extrude = next(o for o in desk.main.build if isinstance(o, Extrude))
    gone = edits.replace(extrude, regions=(Reference(item=extrude.regions[0].item, label="+gone"),))
    desk.apply("lost", lambda f: edits.replace_operation(f, desk.main.document_id, gone))
    settle(qtbot, block)
    outcome = desk.evaluation.outcomes[Node("state", desk.main.at, extrude.id)]
    name, why = block.bodies.painter._first_failing()
    assert name == extrude.name and outcome.problem.what in why


def plum(label):
    """How many pixels of a picture on a card are plum."""
    image = label.pixmap().toImage()
    found = 0
    for x in range(image.width()):
        for y in range(image.height()):
            c = image.pixelColor(x, y)
            found += c.red() > 110 and c.blue() > 75 and c.green() < 80
    return found


def test_a_lost_edge_stands_beside_what_it_may_be_and_is_mended_by_enter(qtbot, block):  # noqa: F811
    canvas, desk = block.bodies, block.desk
    upright = [e for e in seen_edges(canvas) if e.count("side") == 2]
    tap(qtbot, canvas, edge_at(canvas, upright[0]))
    block.actions_.run("operation.fillet")
    qtbot.keyClick(block.card.value, Qt.Key.Key_Return)
    settle(qtbot, block)
    fillet = desk.main.build[-1]
    (edge,) = fillet.edges
    one, other = edge.label.strip("()").split("|")
    lost = edits.replace(edge, label=f"({one}|{other.rsplit(':', 1)[0]}:anotherline)")
    desk.apply(
        "lost", lambda f: edits.replace_operation(f, desk.main.document_id, edits.replace(fillet, edges=(lost,)))
    )
    settle(qtbot, block)
    desk.main.select("")
    desk.main.select(fillet.id)
    assert block.actions_.run("operation.mend")
    card = block.list_card
    qtbot.waitUntil(lambda: card.pictures.count() >= 4, timeout=20_000)  # two pictures and their captions
    labels = [card.pictures.itemAt(k).widget() for k in range(4)]
    assert [w.text() for w in labels[1::2]] == ["when it last worked", "now, the likeliest lit"]
    assert plum(labels[0]) > 40 and plum(labels[2]) > 40
    qtbot.keyClick(card, Qt.Key.Key_Return)
    settle(qtbot, block)
    (mended,) = desk.main.build[-1].edges
    assert mended.label in (edge.label, f"({other}|{one})") or mended.witness.kind == "line"
    assert desk.evaluation.outcomes[Node("state", desk.main.at, fillet.id)].problem is None
    assert not card.isVisible() and block.stack.currentWidget().hasFocus()  # the keyboard is back in the canvas


def test_the_chosen_row_is_scrolled_into_sight(qtbot, block):  # noqa: F811
    desk = block.desk
    for k in range(30):
        plane = Datum(id=f"d{k}", name=f"Level {k}", by=OffsetPlane(plane=Reference(item="top"), distance=_length(desk, f"{k} mm")))  # fmt: skip
        desk.apply("plane", lambda f, p=plane: edits.add_operation(f, desk.main.document_id, p))
    settle(qtbot, block)
    rows, area = block.made_of, block.made_of._area
    desk.main.select("d29")

    def in_sight():
        y = next(y for y, e in rows.plan.tops() if e.id == desk.main.operation)
        top = rows.mapTo(area.viewport(), QPoint(0, round(y))).y()
        return 0 <= top <= area.viewport().height() - 10

    qtbot.waitUntil(in_sight, timeout=5_000)
    desk.main.select("d0")
    qtbot.waitUntil(in_sight, timeout=5_000)


def test_a_cut_goes_into_the_material_until_the_arrow_is_clicked(qtbot, block):  # noqa: F811
    canvas, card = block.bodies, block.card
    tap(qtbot, canvas, face_at(canvas, ":end"))
    block.actions_.run("operation.extrude")
    flip = card.blanks["flip"].button
    assert card.blanks["acts_on"].verb.currentData() == "cut" and flip.isChecked()
    card.blanks["acts_on"].verb.setCurrentIndex(1)  # add to
    assert not flip.isChecked()
    flip.click()  # a person says so
    card.blanks["acts_on"].verb.setCurrentIndex(2)
    assert flip.isChecked()
    flip.click()
    card.blanks["acts_on"].verb.setCurrentIndex(1)
    card.blanks["acts_on"].verb.setCurrentIndex(2)
    assert not flip.isChecked()  # and stays said
    qtbot.keyClick(card.value, Qt.Key.Key_Escape)
