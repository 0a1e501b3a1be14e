"""Everyday jobs of docs/jobs.md, done with mouse and keyboard alone, each with the number of actions that it took."""

import math

import pytest
from PyQt6.QtCore import Qt
from tests.support.person import Person
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.family import edits

pytestmark = [pytest.mark.window, pytest.mark.kernel]
ENTER, TAB, ESC = Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape


def test_a_table_and_two_parts_that_fit(person):
    """A lid of which everything follows from the box: side, gap and height are typed once."""
    p, desk = person, person.window.desk
    p.do("new table")
    p.type("Fit", ENTER)
    p.window.values.view.setFocus()
    p.window.values.view.choose("")
    p.key(ENTER)
    for row in ("side = 60 mm", "deep = 40 mm", "gap = 0.2 mm", "high = 25 mm"):
        p.type(row, ENTER)
    p.key(ESC)
    p.block("Box", "1 * Fit.side", "Fit.deep", "Fit.high")
    box = p.measured()
    assert box["volume_mm3"] == pytest.approx(60 * 40 * 25)
    p.block("Lid", "1 * Fit.side - 2 * Fit.gap", "Fit.deep - 2 * Fit.gap", "2 mm")
    assert p.measured()["volume_mm3"] == pytest.approx(59.6 * 39.6 * 2)
    # one value is changed, both follow
    field = next(f for f in p.window.drivers.fields if f.row.name == "side")
    p.qtbot.mouseClick(field, Qt.MouseButton.LeftButton)
    field.selectAll()
    p.type("80 mm", ENTER)
    assert p.measured()["volume_mm3"] == pytest.approx(79.6 * 39.6 * 2)
    family = desk.family
    at = desk.main.at
    box_part = edits.find_document(family, "Box")
    key = next(iter(box_part.bodies))
    found = desk.settled.value(Node("measure", at._replace(document=box_part.id), key))
    assert found["volume_mm3"] == pytest.approx(80 * 40 * 25) and desk.attention == []
    assert p.actions <= 70, p.actions


def test_a_plate_with_intent_that_disagrees_and_is_put_right(person):
    """Width drives a hole in the middle; a dimension too many is refused with what stands against it, and taken back."""
    p = person
    p.do("new part")
    p.type("Plate", ENTER)
    p.do("new sketch")
    p.enter()
    canvas = p.window.sketches
    p.sized("rectangle", (0, 0), (30, 20), "60 mm", "40 mm")
    p.click(30, 0)  # the lower side: its length is decided already
    p.do("length")
    assert "decided already" in "".join(
        label.text() for label in p.window.prompt.findChildren(type(p.window.strip.line))
    )
    p.press("Take back: line 1", p.window.prompt)
    p.type("wide = 80 mm", ENTER)
    assert [c.name for c in canvas.sketch.constraints if c.name] == ["wide"]
    p.lay_down()
    p.click(20, 20)  # the region of the plate
    p.do("extrude")
    p.type("4 mm", ENTER)
    assert p.measured()["volume_mm3"] == pytest.approx(80 * 40 * 4)
    assert p.actions <= 38, p.actions


def test_a_part_is_duplicated_and_goes_its_own_way(person):
    p, desk = person, person.window.desk
    p.block("Foot", "60 mm", "40 mm", "10 mm")
    first = desk.main.document_id
    p.do("duplicate")
    p.type("Foot, tall", ENTER)
    assert desk.main.document.name == "Foot, tall" and p.measured()["volume_mm3"] == pytest.approx(60 * 40 * 10)
    p.window.show_tab("Bodies")
    p.window.made_of.setFocus()
    p.key(Qt.Key.Key_Down)
    p.key(Qt.Key.Key_Down)
    p.key(ENTER)
    p.window.card.value.selectAll()
    p.type("30 mm", ENTER)
    assert p.measured()["volume_mm3"] == pytest.approx(60 * 40 * 30)
    desk.show(first)
    settle(p.qtbot, p.window)
    assert p.measured()["volume_mm3"] == pytest.approx(60 * 40 * 10)
    assert p.actions <= 38, p.actions


def test_a_change_in_all_sizes_is_seen_before_and_proven_after(qtbot, window):
    """In the demo: what the strip foretells of every size is what the report says after it."""
    p, desk = Person(qtbot, window), window.desk
    desk.show(edits.find_document(desk.family, "Foot").id)
    settle(qtbot, window)
    field = next(f for f in window.drivers.fields if f.row.name == "foot_d")
    qtbot.mouseClick(field, Qt.MouseButton.LeftButton)
    field.selectAll()
    with qtbot.waitSignal(desk.foresight.foreseen, timeout=240_000) as told:
        p.type("160 mm")
    foreseen = {(e["document"], e["configuration"], e["quantity"]): e["after"] for e in told.args[1]["changed"]}
    p.enter()
    made = {(e["document"], e["configuration"], e["quantity"]): e["after"] for e in window.strip._last["changed"]}
    assert made == foreseen and {d for d, _, _ in made} >= {"Sizes", "Foot", "Light"}
    p.press("What it changed")
    assert window.strip._table.isVisible() and p.actions <= 4


def test_all_upright_edges_are_rounded_from_the_row_of_verbs(person):
    """Closed form: a block less (4 - pi) r^2 h."""
    p = person
    p.block("Block", "50 mm", "30 mm", "12 mm")
    window, canvas = p.window, p.window.bodies
    window.show_tab("Bodies")
    settle(p.qtbot, window)
    mesh = canvas.meshes[0][1]
    upright = [e for e in mesh.edges if e.count("side") == 2]
    body = canvas.meshes[0][0]
    window.desk.main.pick([("edge", body, upright[0])])
    p.qtbot.wait(20)
    canvas.setFocus()
    p.key(Qt.Key.Key_Space)  # what fits: the first is to fillet
    assert window.verbs.list.actions_[0].word == "Fillet"
    p.key(ENTER)
    window.card.value.setFocus()
    window.card.value.selectAll()
    p.type("3 mm", ENTER)
    assert p.measured()["volume_mm3"] == pytest.approx(50 * 30 * 12 - (4 - math.pi) / 4 * 9 * 12, rel=1e-6)
