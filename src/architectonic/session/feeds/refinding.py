"""What feeds have lost: what each place held, and what of its source may be meant now, the likeliest first."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from architectonic.base.errors import UserFault
from architectonic.base.places import point_of, point_on
from architectonic.describe.references.places import parts_of
from architectonic.describe.results import Frame, Node, SketchResult
from architectonic.describe.words.sentences import face_words, place_words
from architectonic.describe.words.taking import noun
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.records import Datum, Family, Model, Sketch, Socket, Witness
from architectonic.family.scopes import Scope, source_scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.render.camera import BodyMesh
from architectonic.session.feeds.feeding import Offer, point_at, seen_of
from architectonic.session.picking import picked

FLAT = ("plane", "face")
ELSEWHERE = 1e6
"""Added to the distance of what is of another kind or looks another way, mm: it comes after all the others."""


class Refound(NamedTuple):
    """Something of the source that may be meant now: in words, its size and middle as they are known."""

    offer: Offer
    words: str
    witness: Witness


class Lost(NamedTuple):
    """A place of a feed that holds nothing any more.

    Attributes:
        takes: its kind; was: what it held when it was taken, None if that is not known.
        source: the scope it takes from; likely: what may be meant now, the likeliest first.
    """

    socket: str
    takes: str
    was: Witness | None
    source: Scope
    likely: tuple[Refound, ...]


def lost_by(evaluation: Evaluation, at: Scope, feed_id: str) -> list[Lost]:
    """The places of a feed that are lost, in their order; [] of anything that is no feed."""
    document = evaluation.family.documents.get(at.document)
    feed = document.feeds.get(feed_id) if isinstance(document, Model) else None
    found = []
    for key, socket in feed.sockets.items() if feed is not None else ():
        outcome = evaluation.outcomes.get(Node("socket", at, key))
        if outcome is None or outcome.value is not None or socket.source.of not in evaluation.family.documents:
            continue
        source = source_scope(evaluation.family, at, socket.source.of, socket.source.configuration)
        was = socket.source.witness
        likely = sorted(_candidates(evaluation, source, socket), key=lambda c: _away(was, c.witness))
        found.append(Lost(key, socket.takes, was, source, tuple(likely)))
    return found


def feeds_with_losses(evaluation: Evaluation, at: Scope) -> list[str]:
    """Ids of the feeds of a document that have lost something."""
    document = evaluation.family.documents.get(at.document)
    return [k for k in document.feeds if lost_by(evaluation, at, k)] if isinstance(document, Model) else []


def mend(family: Family, evaluation: Evaluation, document: str, chosen: dict[str, tuple[Scope, Offer]]) -> Family:
    """Let places of feeds hold other things, all in one step.

    Args:
        chosen: the new source of each place and what of it is taken.

    Raises:
        UserFault: one of them cannot hold it; nothing is changed.
    """
    if not chosen:
        raise UserFault("nothing is chosen", family.documents[document].name, "choose what each may mean")
    for socket, (source, offer) in chosen.items():
        family = point_at(family, evaluation, document, socket, source, offer)
    return family


def words(witness: Witness | None, takes: str) -> str:
    """What a place held, as it was seen when it was taken."""
    if witness is None:
        return f"a {noun(takes)}"
    kind = noun(witness.kind) if takes == "curve" else noun(takes)
    size = ""
    if witness.size is not None:
        figure = f"{witness.size:,.1f}".replace(",", "\u2009")
        size = f", {figure} {'mm²' if takes in ('region', 'face') else 'mm'}"
    return f"a {kind.replace('_', ' ')}{size}"


def _away(was: Witness | None, now: Witness) -> float:
    """How far something is from what was taken, in place and in size, mm."""
    if was is None:
        return 0.0
    away = 0.0 if was.kind == now.kind else ELSEWHERE
    if was.normal and now.normal:
        away += ELSEWHERE * (1 - min(1.0, abs(sum(a * b for a, b in zip(was.normal, now.normal, strict=True)))))
    if was.at and now.at:
        away += math.dist(was.at, now.at)
    if was.size and now.size:
        scale = 0.5 if was.kind in ("region", "plane") else 1.0
        away += abs(was.size**scale - now.size**scale)
    return away


def _candidates(evaluation: Evaluation, source: Scope, socket: Socket) -> Iterator[Refound]:
    """Everything of the source that the place can hold."""
    document = evaluation.family.documents[source.document]
    for record in document.build if isinstance(document, Model) else ():
        if isinstance(record, Sketch):
            yield from _of_sketch(evaluation, source, socket, record)
        elif isinstance(record, Hole) and socket.takes == "holes":
            yield Refound(Offer("holes", record.id), f"the holes of {record.name}", Witness(kind="holes"))
        elif isinstance(record, BodyOperation) and record.draws and socket.takes == "path":
            yield Refound(Offer("path", record.id), record.name, Witness(kind="path"))
        elif isinstance(record, Datum) and socket.takes in FLAT:
            yield from _flat(evaluation, source, Offer("plane", record.id), f"datum {record.name}")
    if socket.takes in FLAT and isinstance(document, Model):
        yield from _faces(evaluation, source, document)


def _of_sketch(evaluation: Evaluation, source: Scope, socket: Socket, sketch: Sketch) -> Iterator[Refound]:
    solved = evaluation.value(Node("solve", source, sketch.id))
    if socket.takes in FLAT:
        yield from _flat(evaluation, source, Offer("plane", sketch.id), f"the plane of {sketch.name}")
    if not isinstance(solved, SketchResult):
        return
    was = socket.source.witness
    if socket.takes == "curve" and point_of(socket.source.label):
        for place in (point_on(key, part) for key, curve in solved.curves.items() for part in parts_of(curve)):
            offer = Offer("curve", sketch.id, place)
            seen = seen_of(evaluation, source, offer)
            if seen is not None:
                yield Refound(offer, f"{place_words(sketch, place)} of {sketch.name}", seen)
    elif socket.takes == "curve":
        for key, curve in solved.curves.items():
            offer = Offer("curve", sketch.id, key)
            seen = seen_of(evaluation, source, offer)
            if seen is not None and not curve.fixed and (was is None or was.kind == seen.kind):
                yield Refound(offer, f"{place_words(sketch, key)} of {sketch.name}", seen)
    if socket.takes == "region":
        for number, region in enumerate(solved.regions, 1):
            offer = Offer("region", sketch.id, region.label)
            seen = seen_of(evaluation, source, offer)
            if seen is not None:
                yield Refound(offer, f"region {number} of {sketch.name}", seen)


def _flat(evaluation: Evaluation, source: Scope, offer: Offer, told: str) -> Iterator[Refound]:
    frame = evaluation.value(Node("frame", source, offer.item))
    seen = seen_of(evaluation, source, offer)
    if isinstance(frame, Frame) and seen is not None:
        yield Refound(offer, told, seen)


def _faces(evaluation: Evaluation, source: Scope, document: Model) -> Iterator[Refound]:
    for body in document.bodies:
        result = evaluation.value(Node("mesh", source, body))
        mesh = BodyMesh.from_result(result) if result else None
        for label in dict.fromkeys(mesh.faces) if mesh is not None else ():
            seen = picked.witness(mesh, "face", label) if mesh is not None else None
            if seen is not None and seen.kind == "plane":
                yield Refound(Offer("face", body, label, seen), face_words(document, label), seen)
