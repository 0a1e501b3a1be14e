"""Operations on bodies put into a build list, with the bodies that come from them."""

from __future__ import annotations

import re
from typing import Any

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.describe.models.operations import SENTENCES, sentence_of
from architectonic.describe.results import Node
from architectonic.describe.words.spoken import Sentence
from architectonic.family import edits, names
from architectonic.family.operations.base import BodyOperation, Solid
from architectonic.family.operations.bodies.move import Back, Move
from architectonic.family.operations.patterns.pattern import PatternBodies
from architectonic.family.records import Body, Family, Model
from architectonic.family.scopes import scopes_of
from architectonic.quantities.materials import density_text
from architectonic.session.open.queries import ask


def new(kind: str, document: Model, chosen: dict[str, Any], make_id: IdSource = new_id) -> BodyOperation:
    """An operation as its sentence begins.

    Args:
        kind: one of describe.models.operations.SENTENCES.
        chosen: what fills its blanks already, by field.

    Raises:
        UserFault: there is no such kind, or nothing for it to begin with.
    """
    if kind not in SENTENCES:
        raise UserFault(f"there is no operation “{kind}”", document.name, "operations are " + ", ".join(SENTENCES))
    declared, sentence = SENTENCES[kind]
    fields: dict[str, Any] = {"id": make_id()}
    for blank in sentence.blanks:
        begun = {} if blank.clause else blank.begin(document, make_id)
        fields |= {**begun, **({blank.field: chosen[blank.field]} if blank.field in chosen else {})}
    if "does" in chosen:
        fields["does"] = chosen["does"]
    if sentence.by is Back and "acts_on" not in chosen:
        last = next(o for o in reversed(document.build) if isinstance(o, Move))
        fields["acts_on"] = last.makes or last.acts_on
    fields["name"] = chosen.get("name", "")
    made = assembled(declared.record, sentence, fields)
    return (
        made if made.name else edits.replace(made, name=names.free_name(called(made), [o.name for o in document.build]))
    )


def called(operation: BodyOperation) -> str:
    """What an operation is called by what it does, until a person gives it a name."""
    said = sentence_of(operation)
    return "Cut" if said.key == "extrude" and operation.does == "cut" else said.called  # type: ignore[attr-defined]


def _renamed(document: Model, old: BodyOperation, new: BodyOperation) -> BodyOperation:
    """A name that nobody has given follows what the sentence says now."""
    before, after = called(old), called(new)
    if before == after or new.name != old.name or not re.fullmatch(rf"{re.escape(before)}( \d+)?", old.name):
        return new
    return edits.replace(new, name=names.free_name(after, [o.name for o in document.build if o.id != new.id]))


def assembled(record: type[BodyOperation], sentence: Sentence, fields: dict[str, Any]) -> BodyOperation:
    """A record from its fields, those of its field `by` together."""
    outer = {k: v for k, v in fields.items() if not k.startswith("by.")}
    if sentence.by is not None:
        outer["by"] = placed(sentence, fields)
    return record(**outer)


def placed(sentence: Sentence, fields: dict[str, Any]) -> Any:
    """The field `by` of a record, from fields such as `by.plane` and `by.points.0`."""
    assert sentence.by is not None
    inner: dict[str, Any] = {}
    for key, value in fields.items():
        _, name, number = (*key.split("."), "", "")[:3]
        if key.startswith("by."):
            inner[name] = (*inner.get(name, ()), value) if number else value
    return sentence.by(**inner)


def can_be_apart(operation: BodyOperation) -> bool:
    """Whether it makes one body of several regions, of which each could become a body of its own."""
    regions, does = getattr(operation, "regions", ()), getattr(operation, "does", "")
    return does == "make" and len(regions) > 1 and not hasattr(operation, "straight")  # a loft goes through them all


def store_apart(
    family: Family, document_id: str, operation: BodyOperation, before: str, body_name: str, make_id: IdSource
) -> Family:
    """Put an operation for each region into the build list, each making a body of its own; else like `store`."""
    for number, region in enumerate(operation.regions):  # type: ignore[attr-defined]
        one = edits.replace(operation, regions=(region,))
        called = body_name if not number else ""
        if number:
            taken = [o.name for o in edits.model(family, document_id).build]
            name = names.free_name(operation.name, taken)
            one = edits.replace(one, id=make_id(), name=name, acts_on=(make_id(),))
            called = names.free_name(body_name, [b.name for b in edits.model(family, document_id).bodies.values()]) if body_name else ""  # fmt: skip
        family = store(family, document_id, one, before, called, make_id)
    return family


def store(
    family: Family,
    document_id: str,
    operation: BodyOperation,
    before: str = "",
    body_name: str = "",
    make_id: IdSource = new_id,
) -> Family:
    """Put an operation into the build list, or in the place of the one with its id, with the bodies it makes.

    Args:
        before: the operation that a new one goes in before.
        body_name: of the body that it makes; "" for one that is free.

    Raises:
        UserFault: a name is taken, or it acts on nothing.
    """
    document = edits.model(family, document_id)
    operation = operation.with_bodies(make_id)
    if isinstance(operation, PatternBodies):
        operation = _with_members(family, document_id, operation, before, make_id)
    if not isinstance(operation, Solid) and hasattr(operation, "acts_on") and not operation.acts_on:
        raise UserFault("it acts on no body", operation.name, "choose at least one")
    for body in operation.makes:
        if body not in document.bodies:
            source = operation.origins.get(body, "")
            new = operation.name if operation.gives == "surface" else "Body"
            base = body_name or (document.bodies[source].name if source in document.bodies else new)
            taken = [b.name for b in edits.model(family, document_id).bodies.values()]
            name = body_name if body_name and not source else names.free_name(base, taken)
            like = document.bodies.get(source)
            made = edits.replace(like, name=name) if like is not None else Body(name=name)
            family = edits.add_body(family, document_id, body, made)
    old = next((o for o in document.build if o.id == operation.id), None)
    if isinstance(old, BodyOperation):
        family = edits.replace_operation(family, document_id, _renamed(document, old, operation))
        return _without_lost(family, document_id, old)
    return edits.add_operation(family, document_id, operation, before)


def _with_members(
    family: Family, document_id: str, operation: PatternBodies, before: str, make_id: IdSource
) -> PatternBodies:
    """A pattern with a body for every member that it has in any size, row or alternate."""
    bare = edits.replace(operation, copies={}, apart=False)
    known = any(o.id == operation.id for o in edits.model(family, document_id).build)
    seen = (
        edits.replace_operation(family, document_id, bare)
        if known
        else edits.add_operation(family, document_id, bare, before)
    )
    nodes = [Node("members", at, operation.id) for at in scopes_of(seen, seen.documents[document_id])]
    found = ask(seen, nodes)
    keys = tuple(dict.fromkeys(m.key for n in nodes for m in found.value(n) or () if not m.out))
    wanted = [f"{k}/{b}" for k in keys for b in operation.acts_on]
    return operation.with_members(keys, {w: make_id() for w in wanted if w not in operation.copies})


def _without_lost(family: Family, document_id: str, old: Any) -> Family:
    """Bodies that came from an operation as it was and come from nothing now are taken out."""
    document = edits.model(family, document_id)
    made = {b for o in document.build if isinstance(o, BodyOperation) for b in o.makes}
    lost = {b for b in old.makes if b not in made} if isinstance(old, BodyOperation) else set()
    if not lost:
        return family
    kept = {k: b for k, b in document.bodies.items() if k not in lost}
    return edits.put(family, edits.replace(document, bodies=kept))


def change_body(family: Family, document_id: str, body_id: str, said: Body, density: str) -> Family:
    """Store what is said of a body.

    Args:
        density: as typed; left as it was while another material is chosen, that of the material is taken.

    Raises:
        UserFault: the name is taken, or the density cannot be used.
    """
    document = edits.model(family, document_id)
    old = document.bodies[body_id]
    material, density = said.material.strip(), density.strip()
    was = names.shown_text(family, document, old.density) if old.density is not None else ""
    if material != old.material and density == was:
        density = density_text(material) or density
    bound = names.bind_quantity(family, document, density, "density", "g/cm3") if density else None
    if bound is not None:
        edits.refuse_not_positive(bound, "density", said.name)
    made = edits.replace(said, name=said.name.strip(), material=material, density=bound)
    return edits.add_body(family, document_id, body_id, made)
