"""Operations carried from one build list to another: what they bring along, and which of their inputs are to be filled."""

from __future__ import annotations

import re
from typing import Any

import msgspec

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.describe.results import SketchResult
from architectonic.family import edits
from architectonic.family.names import free_name
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import (
    ORIGIN,
    SELF,
    STANDARD,
    AnyOperation,
    Body,
    Datum,
    Expression,
    Family,
    Model,
    Reference,
    Sketch,
    Trace,
)
from architectonic.family.walk import index, pointers_in
from architectonic.session.feeds.tracing import drawn_like
from architectonic.session.sketch.moving import carried


class Carried(msgspec.Struct, frozen=True, kw_only=True):
    """Operations as they travel through the clipboard, with the bodies that they make.

    Attributes:
        acted: names of bodies of the source that they act on.
        stand_ins: what each item that does not come along is: plane, axis or point.
    """

    architectonic: str = "operations"
    document: str
    operations: tuple[AnyOperation, ...]
    bodies: dict[str, Body] = {}
    acted: dict[str, str] = {}
    stand_ins: dict[str, str] = {}


def cut_out(family: Family, document_id: str, operation_id: str, solved: dict[str, SketchResult]) -> str:
    """An operation with the sketches and datums that it takes from, as text.

    Args:
        solved: its document's sketches as they stand: curves traced from what stays behind are drawn so.
    """
    document = edits.model(family, document_id)
    wanted, stack = set(), [operation_id]
    known = {o.id: o for o in document.build}
    while stack:
        key = stack.pop()
        if key in wanted or key not in known or (isinstance(known[key], BodyOperation) and key != operation_id):
            continue
        wanted.add(key)
        stack += [p.item for p in pointers_in(known[key]) if isinstance(p, Reference) and p.of == SELF]
    taken = tuple(_drawn(o, wanted, solved.get(o.id)) for o in document.build if o.id in wanted)
    acts = {b for o in taken if isinstance(o, BodyOperation) and hasattr(o, "acts_on") for b in o.changes}
    makes = {b for o in taken if isinstance(o, BodyOperation) for b in o.makes}
    outside = {
        p.item
        for o in taken
        for p in pointers_in(o)
        if isinstance(p, Reference) and p.of == SELF and p.item not in wanted
    }
    records = index(document)
    clip = Carried(
        document=document_id,
        operations=taken,
        bodies={b: document.bodies[b] for b in sorted(makes) if b in document.bodies},
        acted={b: document.bodies[b].name for b in sorted(acts) if b in document.bodies},
        stand_ins={k: _gives(records.get(k)) for k in sorted(outside) if k not in STANDARD},
    )
    return msgspec.json.encode(clip).decode("utf-8")


def _drawn(operation: AnyOperation, wanted: set[str], solved: SketchResult | None) -> AnyOperation:
    """A sketch whose traced curves are its own, where their source does not come along."""
    if not isinstance(operation, Sketch) or solved is None:
        return operation
    curves = dict(operation.curves)
    for key, curve in operation.curves.items():
        if isinstance(curve, Trace) and curve.source.of == SELF and curve.source.item not in wanted:
            if key in solved.curves:
                curves[key] = edits.replace(drawn_like(solved.curves[key]), helper=True)
    return edits.replace(operation, curves=curves)


def _gives(record: Any) -> str:
    if isinstance(record, Datum):
        return record.gives
    return {"axis": "axis", "vertex": "point"}.get(getattr(record, "takes", ""), "plane")


def is_carried(text: str) -> bool:
    """Whether a clipboard holds operations."""
    return text.startswith("{") and '"operations"' in text[:80]


def paste(
    family: Family, document_id: str, text: str, before: str = "", make_id: IdSource = new_id
) -> tuple[Family, list[str], list[str]]:
    """Operations put into a build list: the family, their ids, and the inputs that are to be filled, in words.

    Names that are taken get a number. What they name or take at home is named from here; faces and edges of bodies that
    did not come along are left out, and planes, axes and points that did not are the document's own.

    Args:
        before: the operation that they go in before; "" for the end.

    Raises:
        UserFault: the clipboard holds no operations; they are of another family; solids do not go into this document.
    """
    try:
        clip = msgspec.json.decode(text, type=Carried)
    except (msgspec.DecodeError, UnicodeError):
        raise UserFault("the clipboard holds no operations", "", "copy a row of Made of first") from None
    target = edits.model(family, document_id)
    if clip.document not in family.documents:
        raise UserFault("these operations are of another family", target.name, "paste them within their family")
    ids = {o.id: make_id() for o in clip.operations} | {b: make_id() for b in clip.bodies}
    ids |= {c.id: make_id() for o in clip.operations if isinstance(o, Sketch) for c in o.constraints}
    bodies, told = _bodies(clip, target)
    open_ones: list[str] = list(told)
    made = []
    taken = [o.name for o in target.build]
    for operation in clip.operations:
        name = free_name(operation.name, taken)
        taken.append(name)
        data = msgspec.to_builtins(operation)
        filled = _Filling(clip, family, document_id, ids, bodies, f"{name}: ")
        data = filled.value(data, "")
        open_ones += filled.open
        data |= {"id": ids[operation.id], "name": name}
        data.pop("stretch", None)
        made.append(msgspec.convert(data, AnyOperation))
    if any(isinstance(o, BodyOperation) for o in made) and not target.holds_bodies:
        raise UserFault(f"a {target.kind} holds sketches and datums, no solids", target.name, "paste them into a part")
    names = [b.name for b in target.bodies.values()]
    for old, body in clip.bodies.items():
        called = free_name(body.name, names)
        names.append(called)
        own = edits.replace(body, name=called, density=_density(body, clip, family, document_id))
        family = edits.add_body(family, document_id, ids[old], own)
    for operation in made:
        family = edits.add_operation(family, document_id, operation, before)
    return family, [o.id for o in made], open_ones


def _density(body: Body, clip: Carried, family: Family, target: str) -> Expression | None:
    return None if body.density is None else carried(body.density, {}, clip.document, target, family)


def _bodies(clip: Carried, target: Model) -> tuple[dict[str, str], list[str]]:
    """The bodies of the target that stand for those acted on: of the same name, else its first."""
    own = {b.name: k for k, b in target.bodies.items() if not b.backdrop_only}
    found, told = {}, []
    for key, name in clip.acted.items():
        if key in clip.bodies:
            continue
        if name in own or own:
            found[key] = own.get(name, next(iter(own.values()), ""))
        if name not in own:
            other = next(iter(own), "")
            told.append(f"{name} is not here: it acts on {other}" if other else f"{name} is not here, nor any body")
    return found, told


class _Filling:
    """Plain data of an operation for its new place; notes what it had to leave out."""

    def __init__(
        self, clip: Carried, family: Family, target: str, ids: dict[str, str], bodies: dict[str, str], head: str
    ) -> None:
        self.clip, self.family, self.target, self.ids, self.bodies = clip, family, target, ids, bodies
        self.head = head
        self.open: list[str] = []
        names = "|".join(re.escape(k) for k in sorted(ids, key=len, reverse=True))
        self._inside = re.compile(rf"(?<![A-Za-z0-9_])({names})(?![A-Za-z0-9_])")

    def value(self, data: Any, field: str) -> Any:
        """A value in its new place; None for a reference that leads nowhere."""
        if isinstance(data, dict):
            if "item" in data and field != "refs":
                return self._reference(data, field)
            if "text" in data and "refs" in data:
                bound = msgspec.convert(data, Expression)
                return msgspec.to_builtins(carried(bound, self.ids, self.clip.document, self.target, self.family))
            made = {self._renamed(k): self.value(v, k) for k, v in data.items()}
            return None if "face" in made and made["face"] is None else made
        if isinstance(data, (list, tuple)):
            kept = [self.value(v, field) for v in data]
            return [v for v in kept if v is not None]
        return self._renamed(data) if isinstance(data, str) else data

    def _renamed(self, text: str) -> str:
        if text in self.bodies:
            return self.bodies[text]
        return self._inside.sub(lambda m: self.ids[m[1]], text)

    def _reference(self, data: dict[str, Any], field: str) -> Any:
        item, of = data["item"], data.get("of", SELF)
        if of != SELF or item in STANDARD or item in self.ids:
            return {k: self.value(v, k) if k != "witness" else v for k, v in data.items()}
        several = field in ("regions", "faces", "edges", "path", "curves", "guides", "face")
        what = {"regions": "a region", "faces": "a face", "edges": "an edge"}.get(field, f"its {field}")
        self.open.append(f"{self.head}{what} is to be picked")
        if several:
            return None
        gives = self.clip.stand_ins.get(item, "plane")
        return {"item": {"axis": "z", "point": ORIGIN}.get(gives, "top")}
