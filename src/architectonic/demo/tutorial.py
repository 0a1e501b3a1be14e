"""The tutorial family: one table, one layout, a plate and the cover that fits it. Small enough to read whole."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from architectonic.base.ids import seeded
from architectonic.base.places import ORIGIN, point_on
from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.results import Node
from architectonic.family import edits, names, scopes
from architectonic.family.operations.solids.extrude import Distance, Extrude
from architectonic.family.records import Body, Family, Reference, Sketch
from architectonic.propagate.evaluator import Evaluator
from architectonic.session.assembly import surroundings
from architectonic.session.feeds import tracing
from architectonic.session.feeds.traceable import Traceable
from architectonic.session.feeds.tracing import Wish
from architectonic.session.open.queries import ask
from architectonic.session.open.session import Session
from architectonic.session.product import planning


def tutorial() -> Family:
    """The whole family; the same ids every time."""
    new_id = seeded(20260302)
    family = edits.new_family("Tutorial", ("Small", "Large"), new_id)
    small, large = (size.id for size in family.head.sizes)
    family, table = edits.add_document(family, "table", "Numbers", new_id)
    for called, value, bigger, note in (
        ("length", "80 mm", "120 mm", "of the plate"),
        ("width", "50 mm", "", "of the plate"),
        ("wall", "2 mm", "", "of the cover"),
        ("clearance", "0.3 mm", "", "between plate and cover"),
        ("bolt_d", "5 mm", "6 mm", "through both"),
    ):
        sized = {large: bigger} if bigger else {}
        family = edits.add_parameter(family, table, called, value, own=sized, note=note, new_id=new_id)
    family = edits.add_rule(
        family, table, "bolt leaves a rim", "4 * bolt_d <= width", "The bolt is too thick for the plate.", new_id
    )
    family, layout = edits.add_document(family, "layout", "Plan", new_id)
    sketch = Sketch(id=new_id(), name="Outline", plane=Reference(item="top"))
    family = edits.add_operation(family, layout, sketch)
    d = Drawing(family, layout, sketch, new_id)
    sides = d.rectangle((-40, -25), (40, 25))
    hole = d.circle((0, 0), 2.5)
    d.constrain("distance", sides[0], value="Numbers.length", name="length")
    d.constrain("distance", sides[1], value="Numbers.width", name="width")
    d.constrain("distance", ORIGIN, sides[0], value="width / 2")
    d.constrain("distance", ORIGIN, sides[1], value="length / 2")
    d.constrain("coincident", point_on(hole, "centre"), ORIGIN)
    d.constrain("diameter", hole, value="Numbers.bolt_d")
    family = edits.replace_operation(family, layout, d.sketch)
    family, pair = edits.add_document(family, "assembly", "Pair", new_id)
    family = surroundings.take_whole(family, pair, layout, new_id)
    at = scopes.Scope(layout, small)
    outline = [Traceable(at, "curve", sketch.id, k, np.zeros((1, 2)), "") for k in sides]
    for part, offset, outside, thick in (
        ("Plate", "", False, "6 mm"),
        ("Cover", "Numbers.clearance + Numbers.wall", True, "3 mm"),
    ):
        family, key = planning.add(family, pair, "part", part, "", make_id=new_id)
        own = Sketch(id=new_id(), name="Outline", plane=Reference(item="top"))
        family = edits.add_operation(family, key, own)
        there = scopes.Scope(key, small)
        wish = Wish(offset=offset, side="outside" if outside else "inside", name="Outline")
        family = tracing.trace(family, there, own.id, outline, wish, new_id)
        if not offset:
            family = _drawn(family, key, own.id)
        node = Node("solve", there, own.id)
        label = max(ask(family, [node]).value(node).regions, key=lambda r: r.area).label
        body = new_id()
        family = edits.add_body(family, key, body, Body(name=part))
        text = names.bind_quantity(family, family.documents[key], thick, "length", "mm")
        push = Extrude(
            id=new_id(), name=f"Push the {part.lower()}", does="make", acts_on=(body,),
            regions=(Reference(item=own.id, label=label),), far=Distance(value=text),
        )  # fmt: skip
        family = edits.add_operation(family, key, push)
    return family


def _drawn(family: Family, document: str, sketch: str) -> Family:
    """Let traced curves bound regions themselves."""
    record = edits.operation(family, document, sketch)
    assert isinstance(record, Sketch)
    curves = {k: edits.replace(c, helper=False) for k, c in record.curves.items()}
    return edits.replace_operation(family, document, edits.replace(record, curves=curves))


def write(folder: Path, evaluator: Evaluator | None = None, state_folder: Path | None = None) -> Session:
    """Write the tutorial family into a new folder.

    Raises:
        UserFault: the folder already holds something.
    """
    return Session.create(folder, tutorial(), evaluator, state_folder)
