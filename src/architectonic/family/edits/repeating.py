"""Edits of repeated instances: rows along an axis and rings about one."""

from __future__ import annotations

from architectonic.base.errors import UserFault
from architectonic.family import names
from architectonic.family.documents.assembly import Repeat
from architectonic.family.edits.bonds import instance_of, put_instance
from architectonic.family.edits.documents import assembly, replace
from architectonic.family.records import Family, Reference
from architectonic.quantities.compiled import fixed_value


def repeat_instance(
    family: Family, assembly_id: str, instance: str, axis: Reference, about: bool, count: str, step: str, at: int = 0
) -> Family:
    """Let an instance stand several times; what it repeats already in that place is replaced.

    Args:
        axis: a line or axis of the assembly; about: about it, else along it.
        count, step: as typed; the step is a length or an angle.
        at: which of its rows and rings, 0 for the first; one more than there are adds one.

    Raises:
        UserFault: count or step cannot be used.
    """
    found = assembly(family, assembly_id)
    placed = instance_of(found, instance)
    number = names.bind_quantity(family, found, count, "number", "")
    if not number.refs:
        value = fixed_value(number.text, "number")
        if value < 1 or value != round(value):
            raise UserFault(f"{count} is no number of uses", placed.name, "give a whole number, one or more")
    quantity, unit = ("angle", "deg") if about else ("length", "mm")
    bound = names.bind_quantity(family, found, step, quantity, unit)
    made = Repeat(axis=axis, about=about, count=number, step=bound)
    rows = list(placed.repeats)
    rows[at : at + 1] = [made]
    return put_instance(family, found, replace(placed, repeats=tuple(rows)))


def repeat_no_more(family: Family, assembly_id: str, instance: str) -> Family:
    """Let an instance stand once again."""
    found = assembly(family, assembly_id)
    return put_instance(family, found, replace(instance_of(found, instance), repeats=()))
