"""Operations on bodies put into a build list, with the bodies that come from them."""

from __future__ import annotations

from typing import Any

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.describe.words.clauses import SENTENCES
from architectonic.family import edits, names
from architectonic.family.records import (
    ORIGIN,
    Back,
    Body,
    BodyOperation,
    Distance,
    Expression,
    Family,
    Model,
    Move,
    Reference,
    Solid,
    Split,
)
from architectonic.quantities.materials import density_text

FIRST = {"plane": Reference(item="top"), "divider": Reference(item="front"), "line": Reference(item="z"), "point": Reference(item=ORIGIN), "place": Reference(item=ORIGIN)}  # fmt: skip


def moves(document: Model) -> list[Move]:
    """The moves of a build list, of which the last is the one that is likely to be taken back."""
    return [o for o in document.build if isinstance(o, Move)]


def _last_move(document: Model) -> Move:
    found = moves(document)
    if not found:
        raise UserFault("there is no move to take back", document.name, "move a body first")
    return found[-1]


def new(kind: str, document: Model, chosen: dict[str, Any], make_id: IdSource = new_id) -> BodyOperation:
    """An operation as its sentence begins.

    Args:
        kind: one of describe.clauses.SENTENCES.
        chosen: what fills its blanks already, by field.

    Raises:
        UserFault: it takes a move back and there is none.
    """
    record, sentence = SENTENCES[kind]
    fields: dict[str, Any] = {"id": make_id()}
    inner: dict[str, Any] = {}
    for blank in sentence.blanks:
        value: Any
        if blank.takes == "does":
            does = "cut" if document.bodies else "make"
            fields["does"], value = does, tuple(document.bodies) if does == "cut" else (make_id(),)
        elif blank.clause or blank.takes in ("flag", "near"):
            continue
        elif blank.takes in ("regions", "faces", "edges", "path"):
            value = ()
        elif blank.takes in ("bodies", "body"):
            known = tuple(k for k, b in document.bodies.items() if not b.backdrop_only)
            value = known[:1] if blank.field == "acts_on" else known[1:]
        elif blank.takes in FIRST:
            value = FIRST[blank.takes]
        elif blank.takes == "move":
            value = Reference(item=_last_move(document).id, stage="here")
        elif blank.takes == "far":
            value = Distance(value=Expression(text=blank.first))
        else:
            value = blank.first if blank.takes == "choice" else Expression(text=blank.first)
        value = chosen.get(blank.field, value)
        (inner if "." in blank.field else fields)[blank.field.removeprefix("by.")] = value
    if sentence.by is not None:
        fields["by"] = sentence.by(**inner)
    if sentence.by is Back and "acts_on" not in chosen:
        last = _last_move(document)
        fields["acts_on"] = last.makes or last.acts_on
    called = "Cut" if fields.get("does") == "cut" and kind == "extrude" else sentence.called
    fields["name"] = names.free_name(called, [o.name for o in document.build])
    return record(**fields)


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
    if isinstance(operation, (Split, Move)):
        operation = _with_pieces(operation, make_id)
    if not isinstance(operation, Solid) and hasattr(operation, "acts_on") and not operation.acts_on:
        raise UserFault("it acts on no body", operation.name, "choose at least one")
    for body in operation.makes:
        if body not in document.bodies:
            source = _source(operation, body)
            base = body_name or (document.bodies[source].name if source in document.bodies else "Body")
            taken = [b.name for b in edits.model(family, document_id).bodies.values()]
            name = body_name if body_name and not source else names.free_name(base, taken)
            like = document.bodies.get(source)
            made = edits.replace(like, name=name) if like is not None else Body(name=name)
            family = edits.add_body(family, document_id, body, made)
    if any(o.id == operation.id for o in document.build):
        family = edits.replace_operation(family, document_id, operation)  # type: ignore[arg-type]
        return _without_lost(family, document_id, next(o for o in document.build if o.id == operation.id))
    return edits.add_operation(family, document_id, operation, before)  # type: ignore[arg-type]


def _with_pieces(operation: Split | Move, make_id: IdSource) -> Split | Move:
    """A new body for each that is acted on and has none yet."""
    if isinstance(operation, Split):
        return edits.replace(operation, pieces={b: operation.pieces.get(b) or make_id() for b in operation.acts_on})
    if not operation.copies:
        return operation
    return edits.replace(operation, copies={b: operation.copies.get(b) or make_id() for b in operation.acts_on})


def _source(operation: BodyOperation, body: str) -> str:
    """The body that another one comes from; "" when it is made anew."""
    pairs = operation.pieces if isinstance(operation, Split) else getattr(operation, "copies", {})
    return next((old for old, new in pairs.items() if new == body), "")


def _without_lost(family: Family, document_id: str, old: Any) -> Family:
    """Bodies that came from an operation as it was and come from nothing now are taken out."""
    document = edits.model(family, document_id)
    made = {b for o in document.build if isinstance(o, BodyOperation) for b in o.makes}
    lost = {b for b in old.makes if b not in made} if isinstance(old, BodyOperation) else set()
    if not lost:
        return family
    kept = {k: b for k, b in document.bodies.items() if k not in lost}
    return edits.put(family, edits.replace(document, bodies=kept))  # type: ignore[arg-type]


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
