"""What a script points at in another document, as feeds and traces take it."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.records import Datum, Model, Reference, Sketch
from architectonic.family.scopes import Scope
from architectonic.session.feeds.feeding import Offer
from architectonic.session.feeds.traceable import Traceable


def offered(source: Any, thing: Any, blank: str) -> Offer:
    """A curve, a region or a face of a document, or one of its datums by name.

    Raises:
        UserFault: it is nothing of the document that can be taken.
    """
    record = source.record
    if isinstance(thing, str) and isinstance(record, Model):
        datum = next((o for o in record.build if o.name == thing and isinstance(o, Datum)), None)
        if datum is not None and datum.gives != "point":
            return Offer(datum.gives, datum.id)
    operation = getattr(thing, "record", None)
    if isinstance(operation, Hole) and isinstance(record, Model) and operation in record.build:
        return Offer("holes", operation.id)
    if isinstance(operation, BodyOperation) and operation.draws:
        return Offer("path", operation.id)
    found = getattr(thing, "reference", None)
    if isinstance(found, Reference) and isinstance(record, Model):
        known = {o.id: o for o in record.build}
        item = known.get(found.item)
        if isinstance(item, Datum) and item.gives != "point":
            return Offer(item.gives, item.id)
        if isinstance(item, Sketch) and found.label:
            return Offer("curve" if found.label in item.curves else "region", item.id, found.label)
        if found.item in record.bodies and found.label:
            return Offer("face", found.item, found.label, found.witness)
    told = f"“{thing}”" if isinstance(thing, str) else repr(thing)
    raise UserFault(
        f"{told} is nothing of {source.name} that can be taken",
        blank,
        "give a curve, a path, a region, a face, holes or a datum",
    )


def witnesses(at: Scope, offers: Iterable[Offer]) -> list[Node]:
    """What has to be known to write down where things were when they were taken."""
    found = [Node("frame", at, o.item) for o in offers if o.takes not in ("face", "holes", "path")]
    return found + [Node("solve", at, o.item) for o in offers if o.takes in ("curve", "region")]


def traced(at: Scope, thing: Any) -> Traceable:
    """A curve of a document, or what stands for one in a feed.

    Raises:
        UserFault: it is nothing that can be traced.
    """
    found = getattr(thing, "reference", None)
    if not isinstance(found, Reference):
        raise UserFault(f"{thing!r} cannot be traced", "", "give a curve, or what take() returned")
    return Traceable(at, "curve", found.item, found.label, np.zeros((1, 2)), "")
