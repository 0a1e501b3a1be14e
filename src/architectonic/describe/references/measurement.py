"""Measurements: figures of faces, edges, bodies and datums, and between two of them."""

from __future__ import annotations

import msgspec

from architectonic.base import rigid, tolerance
from architectonic.base.rigid import IDENTITY
from architectonic.describe.drawn.curves import as_piece, piece_result
from architectonic.describe.measured import Gauged
from architectonic.describe.recipes import BodyInput, GaugeInput, Thing, Wanted
from architectonic.describe.references.places import plan_place, plan_shape
from architectonic.describe.references.planes import plan_plane
from architectonic.describe.references.surveys import SURVEYS, plan_worst
from architectonic.describe.references.value import plan_source
from architectonic.describe.results import Axis, Frame, Node, NodeFault, PlacedCurve, Plan, Recipe, Spot, fault, needed
from architectonic.describe.view import View, is_standard, is_standard_plane
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import Body, Datum, Measurement, Reference, Socket
from architectonic.family.scopes import Scope

OF_BODIES = {"volume": "volume_mm3", "centre x": "centre_mm", "centre y": "centre_mm", "centre z": "centre_mm"}
"""Where the measurements of a whole body are found among what is always measured of it."""


def passing(what: str, of: tuple[Reference, ...]) -> str:
    """A measurement that is not stored, as the label of a node."""
    return msgspec.json.encode(Measurement(id="", name="", what=what, of=of)).decode()  # type: ignore[arg-type]


def plan_gauged(view: View, node: Node) -> Plan:
    """A stored measurement, or the one that the node's label spells out."""
    if node.label:
        record = msgspec.json.decode(node.label, type=Measurement)
    else:
        record = view.record(node)
    if record.what in SURVEYS:
        worst = yield from plan_worst(view, node, record)
        return Gauged(worst.value, (worst.at,))
    if record.what == "mass":
        return (yield from _mass(view, node, record))
    if record.what in OF_BODIES or (record.what == "area" and not record.of[0].label):
        return (yield from _of_body(view, node, record))
    shapes: list[str] = []
    things = []
    for reference in record.of:
        things.append((yield from _plan_thing(view, node, reference, shapes)))
    made = yield Recipe("gauge", GaugeInput(record.what, tuple(things)), tuple(shapes))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return made.value


def _mass(view: View, node: Node, record: Measurement) -> Plan:
    """The mass of finished bodies together, g."""
    total = 0.0
    for reference in record.of:
        at: Scope = yield from plan_source(view, node, reference)
        (outcome,) = yield [Node("mass", at, reference.item)]
        total += needed(outcome, "the mass of its body")
    return Gauged(tolerance.ratio(total))


def _of_body(view: View, node: Node, record: Measurement) -> Plan:
    """The volume or area of bodies together, or where the centre of one is."""
    total = 0.0
    for reference in record.of:
        at: Scope = yield from plan_source(view, node, reference)
        shape = yield from plan_shape(view, node, at, reference, "", _gone())
        made = yield Recipe("measure", BodyInput(), (shape,))
        if made.problem is not None:
            raise NodeFault(made.problem)
        found = made.value[OF_BODIES.get(record.what, "area_mm2")]
        if record.what.startswith("centre"):
            found = rigid.moved((yield from _plan_standing(node, reference)), found)
        total += found["xyz".index(record.what[-1])] if record.what.startswith("centre") else found
    return Gauged(tolerance.length(total))


def _plan_standing(node: Node, reference: Reference) -> Plan:
    """Sub-plan: where what is seen through instances of the measuring assembly stands in it."""
    context = reference.context
    if context is None or context.path[0] != node.document:
        return IDENTITY
    (outcome,) = yield [Node("stands", node.at, "/".join(context.path[1:]))]
    return needed(outcome, "the instance that it is seen in")


def _gone() -> NodeFault:
    return fault("body.missing", "the body that it measures does not exist here", "pick something else", "missing")


def _plan_thing(view: View, node: Node, reference: Reference, shapes: list[str]) -> Plan:
    """Sub-plan: what a reference means to the kernel; the key of the shape it is in is noted."""
    if is_standard_plane(reference):
        return Thing(frame=(yield from plan_plane(view, node, reference, "")))
    at: Scope = yield from plan_source(view, node, reference)
    own = at.document == node.document and not is_standard(reference)
    shaped = ":" in reference.label or not reference.label  # faces and edges are named by what made them
    record = view.record(Node("", at, reference.item)) if own else None
    if isinstance(record, (Body, BodyOperation)) or (at.document != node.document and shaped):
        if isinstance(record, BodyOperation):
            raise fault("measurement.of", "an operation cannot be measured", "pick a face, an edge or a body")
        shapes.append((yield from plan_shape(view, node, at, reference, "", _gone())))
        wanted = Wanted(reference.label, reference.witness) if reference.label else None
        return Thing(len(shapes) - 1, wanted, placement=(yield from _plan_standing(node, reference)))
    if (isinstance(record, Datum) and record.gives == "plane") or (
        isinstance(record, Socket) and record.takes in ("plane", "face")
    ):
        return Thing(frame=(yield from plan_plane(view, node, reference, "")))
    value = yield from plan_place(view, node, reference, "")
    if isinstance(value, Frame):
        return Thing(frame=value)
    if isinstance(value, Axis):
        return Thing(axis=value)
    if isinstance(value, Spot):
        return Thing(spot=value.at)
    if isinstance(value, PlacedCurve) and value.heights:
        raise fault("curve.in_space", "this curve lies in no plane", "measure the edge itself, in its own document")
    assert isinstance(value, PlacedCurve)
    return Thing(curve=(value.frame, piece_result(as_piece("", value.curve))))
