"""Sockets: what a feed takes from its source, with labels qualified by the socket."""

from __future__ import annotations

from typing import Any

import msgspec

from architectonic.base import rigid
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.references.places import plan_found, plan_place, plan_shape, plan_stood
from architectonic.describe.references.planes import plan_plane
from architectonic.describe.references.value import plan_source
from architectonic.describe.results import (
    Axis,
    BodyState,
    Frame,
    HolePlaced,
    HolesResult,
    ModelState,
    Node,
    PlacedCurve,
    PlacedRegion,
    Plan,
    RegionResult,
    Spot,
    fault,
    needed,
)
from architectonic.describe.space.leads import Led
from architectonic.describe.view import View
from architectonic.family.records import Reference, Socket
from architectonic.family.scopes import Scope


def region_of(regions: tuple[RegionResult, ...], label: str, where: str) -> RegionResult:
    """The region of a label.

    Raises:
        NodeFault: lost; candidates are the regions that share most curves with it.
    """
    for region in regions:
        if region.label == label:
            return region
    wanted = set(label.replace("-", "+").split("+"))
    near = sorted(regions, key=lambda r: (-len(wanted & set(r.label.replace("-", "+").split("+"))), r.label))
    raise fault(
        "region.missing",
        f"the region it uses in {where} is gone",
        "pick a region again",
        "missing",
        tuple(r.label for r in near[:5]),
    )


def plan_region(view: View, node: Node, reference: Reference) -> Plan:
    """Sub-plan: a region of a sketch or of a socket, with its plane."""
    at: Scope = yield from plan_source(view, node, reference)
    record = view.record(Node("", at, reference.item)) if at.document == node.document else None
    if isinstance(record, Socket):
        (outcome,) = yield [Node("socket", at, reference.item)]
        value = needed(outcome, "the fed region")
        if not isinstance(value, PlacedRegion):
            raise fault("region.missing", "what is fed here is not a region", "feed a region", "missing")
        return value
    solved, frame = yield [Node("solve", at, reference.item), Node("frame", at, reference.item)]
    sketch = needed(solved, "its sketch")
    return PlacedRegion(needed(frame), region_of(sketch.regions, reference.label, "its sketch"))


def plan_socket(view: View, node: Node) -> Plan:
    """What a socket holds, where it stands for the document that takes it: see records.Takes."""
    socket = view.record(node)
    assert isinstance(socket, Socket)
    value = yield from _plan_held(view, node, socket)
    stands = yield from _plan_seen(view, node, socket)
    if stands == IDENTITY:
        return value
    if isinstance(value, BodyState):
        return msgspec.structs.replace(value, shape=(yield from plan_stood(value.shape, stands)))
    if socket.takes == "section":
        return (yield from plan_stood(value, stands))
    return taken_along(stands, value)


def _plan_seen(view: View, node: Node, socket: Socket) -> Plan:
    """Sub-plan: where the source stands for the document that takes it: on the shared origin, or as both are placed in the
    assembly that it was seen through."""
    context = socket.source.context
    if context is None or socket.takes == "layout":
        return IDENTITY
    at = view.source(node, context.path[0], socket.source.configuration, context.alternate)
    there, here = "/".join(context.path[1:]), "/".join(context.home)
    outcomes = yield [Node("stands", at, way) for way in (there, here)]
    source, own = (needed(o, "its place in the assembly") for o in outcomes)
    return IDENTITY if source == own else rigid.times(rigid.inverse(own), source)


def taken_along(by: Rigid, value: Any) -> Any:
    """What a socket holds, moved: its plane, or its points and directions."""
    if isinstance(value, Frame):
        return Frame(rigid.moved(by, value.origin), rigid.turned(by, value.x), rigid.turned(by, value.normal))
    if isinstance(value, Axis):
        return Axis(rigid.moved(by, value.origin), rigid.turned(by, value.direction))
    if isinstance(value, Spot):
        return Spot(rigid.moved(by, value.at))
    if isinstance(value, HolesResult):
        places = tuple(HolePlaced(p.key, taken_along(by, p.frame)) for p in value.places)
        return msgspec.structs.replace(value, places=places)
    if isinstance(value, Led):
        curves = tuple(taken_along(by, c) for c in value.curves)
        points = {k: rigid.moved(by, p) for k, p in value.points.items()}
        return msgspec.structs.replace(value, curves=curves, points=points)
    assert isinstance(value, (PlacedCurve, PlacedRegion))
    return msgspec.structs.replace(value, frame=taken_along(by, value.frame))


def _plan_held(view: View, node: Node, socket: Socket) -> Plan:
    """Sub-plan: what a socket holds, in the source's place."""
    if socket.takes == "curve":
        value = yield from plan_place(view, node, socket.source)  # or a corner or centre of one
        if not isinstance(value, (PlacedCurve, Spot)):
            raise fault("curve.missing", "what it takes is not a curve", "pick a curve", "missing")
        return value
    if socket.takes in ("edge", "vertex", "axis"):
        at: Scope = yield from plan_source(view, node, socket.source)
        if not socket.source.label:  # a datum
            (outcome,) = yield [Node("frame", at, socket.source.item)]
            return needed(outcome, "the fed datum")
        value = yield from plan_found(view, node, at, socket.source, "")
        return value
    if socket.takes == "body":
        at = yield from plan_source(view, node, socket.source)
        state = view.state_of(node, at, socket.source, "")
        assert state is not None
        (outcome,) = yield [state._replace(label=node.label)]
        held: ModelState = needed(outcome, "its source")
        body = next((b for b in held.bodies if b.id == socket.source.item), None)
        if body is None:
            raise fault("body.missing", "the body it takes does not exist here", "pick another body", "missing")
        return body
    if socket.takes == "path":
        at = yield from plan_source(view, node, socket.source)
        (outcome,) = yield [Node("path", at, socket.source.item)]
        return needed(outcome, "its source")
    if socket.takes == "holes":
        at = yield from plan_source(view, node, socket.source)
        (outcome,) = yield [Node("holes", at, socket.source.item)]
        return needed(outcome, "its source")
    if socket.takes == "section":
        at = yield from plan_source(view, node, socket.source)
        gone = fault("body.missing", "the body it takes does not exist here", "pick another body", "missing")
        shape = yield from plan_shape(view, node, at, socket.source, "", gone)
        return shape
    if socket.takes == "layout":
        at = yield from plan_source(view, node, socket.source)
        return tuple(at)
    if socket.takes == "region":
        placed = yield from plan_region(view, node, socket.source)
        loops = tuple(
            tuple(msgspec.structs.replace(p, curve=f"{node.item}:{socket.map.get(p.curve, p.curve)}") for p in loop)
            for loop in placed.region.loops
        )
        return PlacedRegion(placed.frame, msgspec.structs.replace(placed.region, loops=loops))
    value = yield from plan_plane(view, node, socket.source, "")
    return value
