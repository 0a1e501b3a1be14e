"""Taking things of one document into another: feeds, traces, and pointing a socket at another source.

What is taken is a list of *offers*, as a person picks them in a picture of the source. Positions are read from an
evaluation, to write witnesses and the places where traced curves were drawn; nothing else depends on it.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.base.places import curve_of, point_of
from architectonic.describe.drawn.readings import extent, middle
from architectonic.describe.references.places import of_sketch, part_of, place_of
from architectonic.describe.references.planes import in_space
from architectonic.describe.results import (
    Frame,
    Node,
    NodeFault,
    RegionResult,
    SketchResult,
    Vector,
)
from architectonic.describe.sketch.trace import brought
from architectonic.describe.words.taking import noun
from architectonic.family import edits
from architectonic.family.names import check_name
from architectonic.family.records import SELF, Context, Family, Feed, Reference, Sketch, Socket, Takes, Trace, Witness
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation


class Offer(NamedTuple):
    """Something of a source that can be taken: what kind, which item, which label, and its witness if picked in 3D."""

    takes: Takes
    item: str
    label: str = ""
    witness: Witness | None = None


def _rounded(p: Vector) -> tuple[float, ...]:
    return tuple(tolerance.length(c) for c in p)


def seen_of(evaluation: Evaluation, at: Scope, offer: Offer) -> Witness | None:
    """The witness of an offer, from where it stands now."""
    frame = evaluation.value(Node("frame", at, offer.item))
    if offer.witness is not None or not isinstance(frame, Frame):
        return offer.witness
    if offer.takes == "plane":
        return Witness(kind="plane", at=_rounded(frame.origin), normal=_rounded(frame.normal))
    solved = evaluation.value(Node("solve", at, offer.item))
    if not isinstance(solved, SketchResult):
        return None
    curve = solved.curves.get(offer.label)
    if offer.takes == "curve" and curve is not None:
        size = extent(curve)
        place = _rounded(in_space(frame, middle(curve)))
        return Witness(kind=curve.kind, at=place, size=None if size is None else tolerance.length(size))
    drawn = solved.curves.get(curve_of(offer.label)) if offer.takes == "curve" else None
    spot = place_of(drawn, point_of(offer.label)) if drawn is not None and point_of(offer.label) else None
    if spot is not None:
        return Witness(kind="vertex", at=_rounded(in_space(frame, spot)))
    region = next((r for r in solved.regions if r.label == offer.label), None)
    if region is None:
        return None
    return Witness(kind="region", at=_rounded(in_space(frame, region.inside)), size=tolerance.length(region.area))


def _reference(evaluation: Evaluation, at: Scope, offer: Offer, of: str, context: Context | None = None) -> Reference:
    witness = seen_of(evaluation, at, offer)
    return Reference(of=of, item=offer.item, label=offer.label, witness=witness, context=context)


def take(
    family: Family,
    evaluation: Evaluation,
    target: Scope,
    source: Scope,
    offers: list[Offer],
    name: str,
    sketch: str = "",
    context: Context | None = None,
    make_id: IdSource = new_id,
) -> Family:
    """A new feed of what is offered; curves are traced into a sketch when one is given.

    From the document itself nothing is fed: its own curves are traced directly.

    Args:
        context: through which assembly the source is seen, if it is.

    Raises:
        UserFault: nothing is offered, the name is taken, or an own thing that needs no feed.
    """
    if not offers:
        raise UserFault("nothing is chosen to take", name, "pick curves, regions or faces of the source first")
    if source.document == target.document:
        if not sketch or any(o.takes != "curve" for o in offers):
            raise UserFault("a document needs no feed from itself", name, "open a sketch to trace its own curves into")
        traced = [(_reference(evaluation, source, o, SELF), o) for o in offers]
        return _trace(family, evaluation, target, source, traced, sketch, make_id)
    sockets: dict[str, Socket] = {}
    traced = []
    for offer in offers:
        key = make_id()
        sockets[key] = Socket(takes=offer.takes, source=_reference(evaluation, source, offer, source.document, context))
        if offer.takes == "curve":
            traced.append((Reference(item=key), offer))
    taken = [f.name for f in edits.model(family, target.document).feeds.values()]
    feed = Feed(name=check_name(name, taken, "feed"), sockets=sockets)
    family = edits.add_feed(family, target.document, make_id(), feed)
    return _trace(family, evaluation, target, source, traced, sketch, make_id) if sketch and traced else family


def _trace(
    family: Family,
    evaluation: Evaluation,
    target: Scope,
    source: Scope,
    traced: list[tuple[Reference, Offer]],
    sketch: str,
    make_id: IdSource,
) -> Family:
    record = edits.operation(family, target.document, sketch)
    assert isinstance(record, Sketch)
    plane = evaluation.value(Node("frame", target, sketch))
    curves = dict(record.curves)
    for reference, offer in traced:
        solved = evaluation.value(Node("solve", source, offer.item))
        frame = evaluation.value(Node("frame", source, offer.item))
        drawn: tuple[float, ...] = ()
        if isinstance(solved, SketchResult) and isinstance(frame, Frame) and isinstance(plane, Frame):
            try:
                placed = of_sketch(solved, frame, curve_of(offer.label))
                drawn = brought(part_of(placed, point_of(offer.label)), plane).values
            except NodeFault as fault:
                raise UserFault(fault.problem.what, record.name, fault.problem.mend) from None
        curves[make_id()] = Trace(source=reference, drawn=tuple(tolerance.length(v) for v in drawn), helper=True)
    return edits.replace_operation(family, target.document, edits.replace(record, curves=curves))


def point_at(family: Family, evaluation: Evaluation, document: str, socket: str, source: Scope, offer: Offer) -> Family:
    """Point a socket at another source of the same kind.

    Of a region, the names that downstream work knows its sides by go to the new sides that lie nearest.

    Raises:
        UserFault: another kind than the socket holds.
    """
    _, feed = edits.feed_of(family, document, socket)
    holds = feed.sockets[socket]
    alike = {"plane", "face"}
    if holds.takes != offer.takes and not {holds.takes, offer.takes} <= alike:
        held, offered = noun(holds.takes, holds.source.label), noun(offer.takes, offer.label)
        raise UserFault(f"this place holds a {held}, not a {offered}", feed.name, f"pick a {held}")
    if offer.takes == "curve":
        was = Offer("curve", holds.source.item, holds.source.label)
        old = holds.source.witness or seen_of(evaluation, Scope(holds.source.of, source.configuration), was)
        now = seen_of(evaluation, source, offer)
        if old is not None and now is not None and old.kind != now.kind:
            raise UserFault(f"this place holds a {old.kind}, not a {now.kind}", feed.name, f"pick a {old.kind}")
    renamed = _renamed(evaluation, holds, source, offer) if offer.takes == "region" else {}
    if {holds.takes, offer.takes} <= alike and holds.takes != offer.takes:
        sockets = {**feed.sockets, socket: edits.replace(holds, takes=offer.takes)}
        key, _ = edits.feed_of(family, document, socket)
        family = edits.add_feed(family, document, key, edits.replace(feed, sockets=sockets))
    return edits.repoint(family, document, socket, _reference(evaluation, source, offer, source.document), renamed)


def _renamed(evaluation: Evaluation, holds: Socket, source: Scope, offer: Offer) -> dict[str, str]:
    """New curve labels to the names that the socket's users know: each new side takes the nearest old name."""
    old = _sides(evaluation, Scope(holds.source.of, source.configuration), holds.source.item, holds.source.label)
    new = _sides(evaluation, source, offer.item, offer.label)
    free = {holds.map.get(k, k): at for k, at in old.items()}
    renamed: dict[str, str] = {}
    pairs = sorted((math.dist(a, b), label, known) for label, a in new.items() for known, b in free.items())
    for _, label, known in pairs:
        if label not in renamed and known not in renamed.values():
            renamed[label] = known
    return {k: v for k, v in renamed.items() if k != v}


def _sides(evaluation: Evaluation, at: Scope, sketch: str, label: str) -> dict[str, Vector]:
    """Middles in space of the sides of a region, by curve."""
    solved, frame = evaluation.value(Node("solve", at, sketch)), evaluation.value(Node("frame", at, sketch))
    if not isinstance(solved, SketchResult) or not isinstance(frame, Frame):
        return {}
    region: RegionResult | None = next((r for r in solved.regions if r.label == label), None)
    if region is None:
        return {}
    found: dict[str, Vector] = {}
    for piece in (p for loop in region.loops for p in loop):
        flat = ((piece.start[0] + piece.end[0]) / 2, (piece.start[1] + piece.end[1]) / 2)
        found.setdefault(piece.curve, in_space(frame, flat))
    return found
