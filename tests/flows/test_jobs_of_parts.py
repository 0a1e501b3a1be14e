"""Everyday jobs of docs/jobs.md about parts that fit each other, done with mouse and keyboard alone on an empty family.

Volumes are of prisms, in closed form.
"""

import math

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog
from tests.support.drawings import drawing, entity
from tests.support.windows import worked

from architectonic.describe.results import Node

pytestmark = [pytest.mark.window, pytest.mark.kernel]
ENTER, TAB, SHIFT = Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.KeyboardModifier.ShiftModifier


def test_a_layout_with_a_rule_drives_two_parts(qtbot, person):
    """A plate and a plug share a hole; a rule keeps material around it: what would break it is said while it is typed."""
    p, w = person, person.window
    p.new("layout", "Plan")
    p.sketch()
    p.sized("rectangle", (0, 0), (30, 20), "wide = 60 mm", "40 mm")
    p.sized("circle", (25, 20), (30, 20), "hole = 24 mm")
    p.do("new rule")
    p.type("Wall", TAB)
    p.type("Outline.wide - Outline.hole > 20 mm", ENTER)
    for part, high, at in (("Base", "8 mm", (5, 5)), ("Plug", "high = 12 mm", (31, 20))):
        p.new("part", part)
        p.do("take from")  # the layout comes up beside
        p.click(*at, canvas=w.beside.sketches)
        p.enter()
        p.operation("extrude", high)  # of what was taken
    hole = math.pi * 12**2
    assert p.measured()["volume_mm3"] == pytest.approx(hole * 12)
    p.do("plan")
    with qtbot.waitSignal(w.desk.foresight.foreseen, timeout=240_000):
        p.drive("Outline.wide", "30 mm")
    assert "would break Plan / Wall" in w.strip.line.text()
    p.drive("Outline.wide", "50 mm")
    p.enter()
    assert w.desk.attention == []
    p.do("base")
    assert p.measured()["volume_mm3"] == pytest.approx((50 * 40 - hole) * 8)
    assert p.actions <= 78, p.actions


def test_a_lid_and_its_seal_follow_the_box(person):
    """The lid is the outline of the rim, 0.5 mm smaller; the seal is the rim itself."""
    p, w = person, person.window
    p.block("Box", "long = 60 mm", "40 mm", "25 mm")
    p.face(":end")
    p.operation("shell", "2 mm")
    assert p.measured()["volume_mm3"] == pytest.approx(60 * 40 * 25 - 56 * 36 * 23)
    p.new("part", "Lid")
    p.sketch()
    p.do("trace")  # the box comes up beside, its edges are offered
    p.choose(w.trace_card.blanks["reach"].list, "what closes around its face")
    w.trace_card.blanks["offset"].field.setFocus()
    p.type("play = 0.5 mm")
    p.click(30, 0)
    p.enter()
    p.operation("extrude", "3 mm")
    assert p.measured()["volume_mm3"] == pytest.approx(59 * 39 * 3)
    p.new("part", "Seal")
    p.sketch()
    p.do("trace")
    p.choose(w.trace_card.blanks["reach"].list, "the whole outline of its face")
    p.click(30, 0)
    p.enter()
    p.do("extrude")
    p.spot((30, 1, 0))
    w.card.value.setFocus()
    w.card.value.selectAll()
    p.type("1.5 mm", ENTER)
    assert p.measured()["volume_mm3"] == pytest.approx((60 * 40 - 56 * 36) * 1.5)
    # the box grows, both follow
    p.do("box")
    p.drive("Outline.long", "80 mm")
    p.enter()
    p.do("seal")
    assert p.measured()["volume_mm3"] == pytest.approx((80 * 40 - 76 * 36) * 1.5)
    assert p.actions <= 86, p.actions


def test_a_case_is_made_around_a_board(person):
    """Gap, height and wall are named where they are typed; the case keeps its gap when the board changes."""
    p, w = person, person.window
    p.block("Board", "side = 70 mm", "50 mm", "1.6 mm")
    p.new("part", "Case")
    p.sketch()
    p.do("trace")
    card = w.trace_card
    p.choose(card.blanks["reach"].list, "what closes around its face")
    card.blanks["offset"].field.setFocus()
    p.type("gap = 0.5 mm")
    p.choose(card.blanks["side"].list, "outside")
    p.click(30, 0)
    p.enter()
    p.operation("extrude", "high = 20 mm")
    p.face(":end")
    p.operation("shell", "wall = 2 mm", near=["Wall outside"])
    assert p.measured()["volume_mm3"] == pytest.approx(75 * 55 * 22 - 71 * 51 * 20)
    assert {f.row.name for f in w.drivers.fields} >= {"high", "wall", "Outline.gap"}
    p.drive("Outline.gap", "1 mm")
    p.enter()
    assert p.measured()["volume_mm3"] == pytest.approx(76 * 56 * 22 - 72 * 52 * 20)
    p.do("board")
    p.drive("Outline.side", "90 mm")
    p.enter()
    p.do("case")
    assert p.measured()["volume_mm3"] == pytest.approx(96 * 56 * 22 - 92 * 52 * 20)
    assert p.actions <= 72, p.actions


def test_a_cut_goes_through_three_of_four_bodies(person):
    p, w = person, person.window
    p.new("part", "Rack")
    p.sketch()
    for k in range(4):
        p.sized("rectangle", (20 * k, 0), (20 * k + 10, 10), "12 mm", "30 mm")
    for k in range(4):
        p.click(20 * k + 6, 10, SHIFT if k else Qt.KeyboardModifier.NoModifier)
    p.operation("extrude", "10 mm", near=["one body each"])
    p.sketch("front")
    p.sized("rectangle", (-5, 4), (20, 8), "90 mm", "3 mm")
    p.do("cut")
    p.press("Body 4", w.card)  # not from this one
    w.card.value.setFocus()
    w.card.value.selectAll()
    p.type("deep = 5 mm")  # and then it goes through all: the value is not made
    p.choose(w.card.blanks["far"].choice, "through all")
    p.enter()
    assert [p.measured(k)["volume_mm3"] for k in range(4)] == pytest.approx([12 * 30 * 7] * 3 + [12 * 30 * 10])
    assert w.desk.main.document.parameters == ()
    assert p.actions <= 84, p.actions


def test_a_block_is_split_hollowed_and_united(person):
    p, w = person, person.window
    p.new("part", "Handle")
    p.sketch()
    p.sized("rectangle", (-30, -20), (0, 0), "60 mm", "40 mm")
    p.operation("extrude", "20 mm")
    p.do("split")
    p.choose(w.card.blanks["by"].list, "right")
    p.enter()
    first, second = (p.measured(k)["volume_mm3"] for k in range(2))
    assert first + second == pytest.approx(60 * 40 * 20) and first == pytest.approx(24000, rel=0.01)
    p.face(":end")
    p.operation("hollow", "2 mm")
    hollow = p.measured()
    x0, _, _, x1, _, _ = hollow["box_mm"]
    assert hollow["volume_mm3"] == pytest.approx(first - (x1 - x0 - 4) * 36 * 18)
    p.do("unite")
    p.enter()
    assert len(w.desk.settled.value(Node("finished", w.desk.main.at, "")).bodies) == 1
    assert p.measured()["volume_mm3"] == pytest.approx(hollow["volume_mm3"] + second)
    assert p.actions <= 44, p.actions


def test_a_drawing_is_brought_in_and_built_on(person, tmp_path, monkeypatch):
    """An outline of 80 x 50 with two holes of 6 comes in, holds together, and a plate is made of it."""
    p, w = person, person.window
    corners = [(0.0, 0.0), (80.0, 0.0), (80.0, 50.0), (0.0, 50.0)]
    sides = [
        entity("LINE", 10, a[0], 20, a[1], 11, b[0], 21, b[1], layer="outline")
        for a, b in zip(corners, corners[1:] + corners[:1], strict=True)
    ]
    holes = [entity("CIRCLE", 10, x, 20, 25.0, 40, 3.0, layer="holes") for x in (20.0, 60.0)]
    source = drawing(tmp_path, *sides, *holes, units=4)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, **__: (str(source), ""))
    p.new("part", "Plate")
    p.sketch()
    p.do("bring a drawing")
    p.actions += 2  # its name, Enter
    worked(p.qtbot, w)
    p.enter()
    p.lay_down()
    p.click(40, 25)
    p.operation("extrude", "5 mm")
    assert p.measured()["volume_mm3"] == pytest.approx((80 * 50 - 2 * 28.27433388) * 5)
    assert p.actions <= 27, p.actions
