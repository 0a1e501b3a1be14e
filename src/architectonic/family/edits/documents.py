"""Edits: functions from a family to a new family. Bad input raises a UserFault and changes nothing.

Every edit shares all records that it does not touch, so that history costs little and unchanged documents are
recognised by identity.
"""

from __future__ import annotations

from typing import Any, TypeVar

import msgspec

from architectonic.base import ids as id_source
from architectonic.base import kinds, tolerance
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.family import names
from architectonic.family.documents.base import AnyOperation
from architectonic.family.operations.base import BodyOperation
from architectonic.family.order import in_order
from architectonic.family.records import (
    SELF,
    AnyDocument,
    Assembly,
    Constraint,
    Document,
    Expression,
    Family,
    Fill,
    Guard,
    Head,
    Measurement,
    Model,
    Parameter,
    Reference,
    Rule,
    Size,
    Sketch,
    Valued,
)
from architectonic.family.references import After, operation_of
from architectonic.family.walk import items, leads_to, pointers_in, rewritten
from architectonic.quantities import units
from architectonic.quantities.compiled import TRUTH

KINDS: dict[str, type[Document]] = {
    str(k.__struct_config__.tag): k
    for k in sorted(kinds.records("family.documents", Document), key=lambda k: (k.rank, k.__name__))
}
"""By the word for it."""


NAMED_ROWS: tuple[str, ...] = (
    "parameters",
    "rules",
    "guards",
    "configurations",
    "build",
    "instances",
    "bonds",
    "measurements",
    "part_items",
)
"""Fields of documents that hold records with names, in order."""


D = TypeVar("D", bound=Document)


replace = msgspec.structs.replace


def new_family(name: str, size_names: tuple[str, ...] = (), new_id: IdSource = id_source.new_id) -> Family:
    """An empty family with the named sizes; the first is the default."""
    taken: list[str] = []
    for size in size_names:
        taken.append(names.check_name(size, taken, "size"))
    sizes = tuple(Size(id=new_id(), name=n) for n in taken)
    return Family(head=Head(id=new_id(), name=names.check_name(name, [], "family"), sizes=sizes))


def duplicate_document(
    family: Family, document_id: str, name: str, new_id: IdSource = id_source.new_id
) -> tuple[Family, str]:
    """A copy of a document with everything in it, that takes from the same sources; what took from the other one stays.

    Returns:
        The family and the id of the copy. What it holds keeps its ids: they are told apart by their document.
    """
    old, key = document(family, document_id), new_id()
    taken = [d.name for d in family.documents.values()]
    data = _repointed(msgspec.to_builtins(old), document_id, key)
    data |= {"id": key, "name": names.check_name(name, taken, "document")}
    made = msgspec.convert(data, type(old))
    return put(family, made), key


def take_content(family: Family, document_id: str, source_id: str) -> Family:
    """A document with all that a copy of it holds now; its id, name, number and note stay."""
    old, source = document(family, document_id), document(family, source_id)
    data = _repointed(msgspec.to_builtins(source), source_id, document_id)
    data |= {"id": old.id, "name": old.name, "number": old.number, "note": old.note}
    return put(family, msgspec.convert(data, type(old)))


def _repointed(data: Any, old: str, new: str) -> Any:
    """Plain data in which pointers to one document point to another one."""
    if isinstance(data, dict):
        return {k: new if k in ("document", "of") and v == old else _repointed(v, old, new) for k, v in data.items()}
    return [_repointed(v, old, new) for v in data] if isinstance(data, (list, tuple)) else data


def document(family: Family, document_id: str) -> AnyDocument:
    """A document by id."""
    try:
        return family.documents[document_id]
    except KeyError:
        raise UserFault("this document is not in the family", document_id) from None


def find_document(family: Family, name: str) -> AnyDocument:
    """A document by name or identifier.

    Raises:
        UserFault: none of this name; says the nearest.
    """
    for found in family.documents.values():
        if name in (found.name, names.identifier(found.name)):
            return found
    import difflib

    known = [d.name for d in family.documents.values()]
    near = difflib.get_close_matches(name, known, 1, 0.5)
    mend = f"did you mean “{near[0]}”?" if near else f"documents are {', '.join(known) or 'none yet'}"
    raise UserFault(f"there is no document “{name}”", "", mend)


def put(family: Family, changed: AnyDocument) -> Family:
    """The family with a document added or replaced, its bodies in the order in which they are made."""
    return replace(family, documents={**family.documents, changed.id: in_order(changed)})


def add_document(family: Family, kind: str, name: str, new_id: IdSource = id_source.new_id) -> tuple[Family, str]:
    """A new empty document; returns the family and the document's id."""
    name = names.check_name(name, [d.name for d in family.documents.values()], "document")
    if kind not in KINDS:
        raise UserFault(f"there is no kind of document “{kind}”", name, "kinds are " + ", ".join(KINDS))
    made = KINDS[kind](id=new_id(), name=name)
    return put(family, made), made.id


def rename_document(family: Family, document_id: str, name: str) -> Family:
    """Rename a document; references follow, since ids decide."""
    old = document(family, document_id)
    others = [d.name for d in family.documents.values() if d.id != document_id]
    return put(family, replace(old, name=names.check_name(name, others, "document")))


def delete_document(family: Family, document_id: str) -> Family:
    """Take a document out; what used it reports a missing source."""
    document(family, document_id)
    return replace(family, documents={k: d for k, d in family.documents.items() if k != document_id})


def users(family: Family, document_id: str, item_id: str = "") -> list[tuple[AnyDocument, str, Any]]:
    """Who points at a document, or at one of its items: document, item id and record."""
    found = []
    for other in family.documents.values():
        for key, record in items(other):
            for p in pointers_in(record):
                of = leads_to(p)
                target = other.id if of == SELF else of
                pointed = "" if isinstance(p, Fill) else p.item
                stage = operation_of(p.stage) if isinstance(p, Reference) else ""
                if target == document_id and (
                    pointed == item_id or stage == item_id if item_id else other.id != document_id
                ):
                    if key != item_id:
                        found.append((other, key, record))
                        break
    return found


def add_parameter(
    family: Family,
    document_id: str,
    name: str,
    text: str,
    quantity: str = "length",
    unit: str = "",
    own: dict[str, str] | None = None,
    note: str = "",
    new_id: IdSource = id_source.new_id,
) -> Family:
    """A new parameter; `own` gives texts by size or row id."""
    old = document(family, document_id)
    if quantity not in units.QUANTITIES:
        raise UserFault(f"there is no quantity “{quantity}”", name, "it is one of " + ", ".join(units.QUANTITIES))
    name = names.check_name(name, [p.name for p in old.parameters], "parameter")
    unit = unit or units.DEFAULT_UNIT[quantity]
    made = Parameter(
        id=new_id(),
        name=name,
        quantity=quantity,
        unit=unit,
        common=names.bind_quantity(family, old, text, quantity, unit),
        own={k: names.bind_quantity(family, old, t, quantity, unit) for k, t in (own or {}).items()},
        note=note,
    )
    return put(family, replace(old, parameters=(*old.parameters, made)))


def value_item(family: Family, document_id: str, item_id: str) -> tuple[AnyDocument, Sketch | None, Valued]:
    """A parameter, sketch dimension, measurement or joint by id, with the sketch it stands in."""
    found = document(family, document_id)
    for parameter in found.parameters:
        if parameter.id == item_id:
            return found, None, parameter
    for bond in getattr(found, "bonds", ()):
        if bond.id == item_id and bond.moves:
            return found, None, bond
    if isinstance(found, Model):
        for measurement in found.measurements:
            if measurement.id == item_id:
                return found, None, measurement
        for operation in found.build:
            if isinstance(operation, Sketch):
                for constraint in operation.constraints:
                    if constraint.id == item_id:
                        return found, operation, constraint
    raise UserFault("this value is not there any more", found.name)


def place_dimension(family: Family, document_id: str, item_id: str, at: tuple[float, float]) -> Family:
    """Put a dimension's text at a place of its sketch's plane."""
    _, sketch, item = value_item(family, document_id, item_id)
    assert sketch is not None and isinstance(item, Constraint)
    place = (tolerance.length(at[0]), tolerance.length(at[1]))
    changed = tuple(replace(c, at=place) if c.id == item_id else c for c in sketch.constraints)
    return replace_operation(family, document_id, replace(sketch, constraints=changed))


def refuse_not_positive(expression: Expression, quantity: str, where: str, zero: bool = False) -> None:
    """Refuse a plain number that is not positive; expressions with names are judged when they are evaluated.

    Raises:
        UserFault: zero (unless allowed) or negative.
    """
    from architectonic.quantities.compiled import fixed_value

    if not expression.refs:
        value = fixed_value(expression.text, quantity)
        if value < 0 or (value == 0 and not zero):
            raise UserFault(f"{expression.text} is not a positive {quantity}", where, "give a value above zero")


def rename_item(family: Family, document_id: str, item_id: str, name: str) -> Family:
    """Rename a parameter, rule, operation, body, feed, instance, row, measurement or named sketch dimension."""
    found = document(family, document_id)
    for field in NAMED_ROWS:
        entries = getattr(found, field, ())
        if any(e.id == item_id for e in entries):
            word = {"build": "operation", "part_items": "item"}.get(field, field[:-1])
            name = names.check_name(name, [e.name for e in entries if e.id != item_id], word)
            return put(
                family,
                replace(found, **{field: tuple(replace(e, name=name) if e.id == item_id else e for e in entries)}),
            )
    for field in ("bodies", "feeds"):
        keyed = getattr(found, field, {})
        if item_id in keyed:
            name = names.check_name(name, [e.name for k, e in keyed.items() if k != item_id], field[:-1])
            return put(family, replace(found, **{field: {**keyed, item_id: replace(keyed[item_id], name=name)}}))
    found, sketch, item = value_item(family, document_id, item_id)
    assert sketch is not None and isinstance(item, Constraint)
    name = names.check_name(name, [c.name for c in sketch.constraints if c.name and c.id != item_id], "dimension")
    changed = tuple(replace(c, name=name) if c.id == item_id else c for c in sketch.constraints)
    return replace_operation(family, document_id, replace(sketch, constraints=changed))


def delete_item(family: Family, document_id: str, item_id: str) -> Family:
    """Take out a parameter, rule, operation, body, feed, instance or row; users of it report a missing source.

    A body goes with the operation that made it. What takes the bodies as after an operation that makes none takes them as after the one
    before it, which is what they are then.
    """
    found = document(family, document_id)
    for field in NAMED_ROWS:
        entries = getattr(found, field, ())
        kept = tuple(e for e in entries if e.id != item_id)
        if len(kept) != len(entries):
            changes: dict[str, Any] = {field: kept}
            if isinstance(found, Model) and field == "build":
                made = {b for o in kept if isinstance(o, BodyOperation) for b in o.makes}
                gone = [b for o in entries if o.id == item_id and isinstance(o, BodyOperation) for b in o.makes]
                changes["bodies"] = {k: b for k, b in found.bodies.items() if k not in gone or k in made}
                earlier = [
                    o.id for o in entries[: [o.id for o in entries].index(item_id)] if isinstance(o, BodyOperation)
                ]
                if earlier and not gone:
                    family = _with_stage(family, document_id, item_id, earlier[-1])
                    changes["build"] = tuple(o for o in model(family, document_id).build if o.id != item_id)
            return put(family, replace(document(family, document_id), **changes))
    for field in ("bodies", "feeds"):
        keyed = getattr(found, field, {})
        if item_id in keyed:
            return put(family, replace(found, **{field: {k: v for k, v in keyed.items() if k != item_id}}))
    raise UserFault("this item is not there any more", found.name)


def _with_stage(family: Family, document_id: str, before: str, now: str) -> Family:
    """Everything that takes a document as after one operation takes it as after another one."""

    def takes(of: str, own: str, p: Any) -> bool:
        there = (own if of == SELF else of) == document_id
        return there and isinstance(p, Reference) and operation_of(p.stage) == before

    for whole in family.documents.values():
        if any(takes(leads_to(p), whole.id, p) for p in pointers_in(whole)):

            def change(value: Any, own: str = whole.id) -> Any:
                moved = isinstance(value, Reference) and takes(value.of, own, value)
                return replace(value, stage=After(after=now)) if moved else value

            family = put(family, rewritten(whole, change))
    return family


def add_rule(
    family: Family,
    document_id: str,
    name: str,
    text: str,
    message: str = "",
    new_id: IdSource = id_source.new_id,
) -> Family:
    """A comparison that must hold."""
    return put_rule(
        family, document_id, Rule(id=new_id(), name=name, holds=Expression(text=text), message=message), text
    )


def put_rule(family: Family, document_id: str, rule: Rule, text: str) -> Family:
    """Add or change a rule.

    Raises:
        UserFault: the name is taken; the text is no comparison that can be used.
    """
    found = document(family, document_id)
    others = [r for r in found.rules if r.id != rule.id]
    name = names.check_name(rule.name, [r.name for r in found.checked if r.id != rule.id], "rule")
    made = replace(rule, name=name, holds=names.bind(family, found, text, TRUTH))
    rules = tuple(made if r.id == rule.id else r for r in found.rules)
    return put(family, replace(found, rules=rules if len(others) < len(found.rules) else (*found.rules, made)))


def put_guard(family: Family, document_id: str, guard: Guard) -> Family:
    """Add or change a guard.

    Raises:
        UserFault: the name is taken; it watches nothing.
    """
    found = document(family, document_id)
    others = [g for g in found.guards if g.id != guard.id]
    if (guard.value is None) == (guard.body is None) or (guard.body is not None and not guard.figures):
        raise UserFault("a guard watches a value, or figures of a body", guard.name, "choose one")
    made = replace(
        guard, name=names.check_name(guard.name, [r.name for r in found.checked if r.id != guard.id], "guard")
    )
    guards = tuple(made if g.id == guard.id else g for g in found.guards)
    return put(family, replace(found, guards=guards if len(others) < len(found.guards) else (*found.guards, made)))


def put_measurement(family: Family, document_id: str, measurement: Measurement) -> Family:
    """Add or change a measurement.

    Raises:
        UserFault: the name is taken; it measures nothing.
    """
    found = model(family, document_id)
    if not measurement.of:
        raise UserFault("it measures nothing", measurement.name, "pick a face, an edge, a body or a plane")
    taken = [p.name for p in found.parameters] + [m.name for m in found.measurements if m.id != measurement.id]
    made = replace(measurement, name=names.check_name(measurement.name, taken, "measurement"))
    others = [m for m in found.measurements if m.id != made.id]
    changed = tuple(made if m.id == made.id else m for m in found.measurements)
    changed = changed if len(others) < len(found.measurements) else (*found.measurements, made)
    return put(family, replace(found, measurements=changed))


def model(family: Family, document_id: str) -> Model:
    """A document that has a build list."""
    found = document(family, document_id)
    if not isinstance(found, Model):
        raise UserFault(f"a {found.kind} has no build list", found.name)
    return found


def assembly(family: Family, document_id: str) -> Assembly:
    """A document that holds instances."""
    found = document(family, document_id)
    if not isinstance(found, Assembly):
        raise UserFault("only an assembly holds instances", found.name)
    return found


def replace_operation(family: Family, document_id: str, operation: AnyOperation) -> Family:
    """Store a changed operation."""
    found = model(family, document_id)
    build = tuple(operation if o.id == operation.id else o for o in found.build)
    return put(family, replace(found, build=build))
