"""Edits of how instances hold together: joints and placement rules of an assembly."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from architectonic.base import ids as id_source
from architectonic.base import rigid
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.family import names
from architectonic.family.documents.assembly import (
    JOINTS,
    QUANTITY,
    TAKES,
    Assembly,
    Bond,
    BondKind,
    Instance,
    Limits,
    Mounting,
)
from architectonic.family.edits.documents import assembly, put, replace
from architectonic.family.records import Expression, Family
from architectonic.quantities import units


def add_bond(
    family: Family,
    assembly_id: str,
    kind: BondKind,
    a: Mounting,
    b: Mounting,
    name: str = "",
    facing: bool = False,
    values: Mapping[str, str] | None = None,
    apart: rigid.Rigid = (),
    instead: str = "",
    new_id: IdSource = id_source.new_id,
) -> Family:
    """A joint or placement rule between two places; `b` comes to `a` as far as nothing else holds it.

    Args:
        values: offset, angle, slide, turn and lead as typed.
        apart: how b's place is moved before it is held, so that nothing moves.
        instead: the id of one that this takes the place of; what it says in alternates of its own stays.

    Raises:
        UserFault: both places are on one instance, an instance is not there, or a value cannot be used.
    """
    found = assembly(family, assembly_id)
    if kind not in TAKES:
        raise UserFault(f"there is no joint or rule “{kind}”", found.name, "it is one of " + ", ".join(TAKES))
    placed = {i.id for i in found.instances}
    for end in (a, b):
        if end.instance and end.instance not in placed:
            raise UserFault("what it would hold is not placed here", found.name, "place it first")
    if a.instance == b.instance:
        raise UserFault("both places are on one instance", found.name, "pick a place on another one")
    taken = [o.name for o in found.bonds if o.id != instead]
    called = names.check_name(name, taken, "joint or rule") if name else names.free_name(kind.capitalize(), taken)
    given = {k: _value(family, found, kind, k, text) for k, text in (values or {}).items() if text}
    if kind == "screw" and "lead" not in given:
        raise UserFault("a screw needs its lead", called, "give how far it goes in one turn")
    old = next((o for o in found.bonds if o.id == instead), None)
    made = Bond(id=instead or new_id(), name=called, kind=kind, a=a, b=b, facing=facing, apart=apart)
    made = replace(made, **given)
    if old is None:
        return put(family, replace(found, bonds=(*found.bonds, made)))
    if old.kind == kind:
        made = replace(made, own=old.own, limits=old.limits)
    made = replace(made, switch=old.switch)
    return put_bond(family, found, made)


def _value(family: Family, found: Assembly, kind: str, field: str, text: str) -> Expression:
    if field not in TAKES[kind]:
        told = ", ".join(TAKES[kind]) or "no value"
        raise UserFault(f"{kind} takes no {field}", found.name, f"it takes {told}")
    quantity = QUANTITY[field]
    return names.bind_quantity(family, found, text, quantity, units.DEFAULT_UNIT[quantity])


def instance_of(found: Assembly, key: str) -> Instance:
    """An instance by id.

    Raises:
        UserFault: it is not there any more.
    """
    for placed in found.instances:
        if placed.id == key:
            return placed
    raise UserFault("this instance is not placed here any more", found.name)


def bond_of(found: Assembly, key: str) -> Bond:
    """A joint or rule by id.

    Raises:
        UserFault: it is not there any more.
    """
    for bond in found.bonds:
        if bond.id == key:
            return bond
    raise UserFault("this joint or rule is not there any more", found.name)


def put_instance(family: Family, found: Assembly, changed: Instance) -> Family:
    """The family with a changed instance."""
    rows = tuple(changed if i.id == changed.id else i for i in found.instances)
    return put(family, replace(found, instances=rows))


def put_bond(family: Family, found: Assembly, changed: Bond) -> Family:
    """The family with a changed joint or rule."""
    return put(family, replace(found, bonds=tuple(changed if b.id == changed.id else b for b in found.bonds)))


def set_limits(
    family: Family, assembly_id: str, key: str, field: Literal["slide", "turn"], least: str = "", most: str = ""
) -> Family:
    """Say how far a joint goes; an end without text is open.

    Raises:
        UserFault: it has no such value, or a limit cannot be used.
    """
    found = assembly(family, assembly_id)
    bond = bond_of(found, key)
    if field not in JOINTS.get(bond.kind, ()):
        raise UserFault(f"{bond.kind} has no {field} to limit", bond.name)
    ends = [_value(family, found, bond.kind, field, text) if text.strip() else None for text in (least, most)]
    kept = {k: v for k, v in bond.limits.items() if k != field}
    limits = {**kept, field: Limits(least=ends[0], most=ends[1])} if any(ends) else kept
    return put_bond(family, found, replace(bond, limits=limits))


def fix(family: Family, assembly_id: str, instance: str, fixed: bool = True) -> Family:
    """Let an instance stay where it is, whatever comes to it; or let it go.

    Raises:
        UserFault: it is not there.
    """
    found = assembly(family, assembly_id)
    return put_instance(family, found, replace(instance_of(found, instance), fixed=fixed))
