"""Edits of values: whatever an expression can name is typed into in one way."""

from __future__ import annotations

from architectonic.base.errors import UserFault
from architectonic.family import names
from architectonic.family.edits.alternates import set_bond_value
from architectonic.family.edits.documents import put, refuse_not_positive, replace, replace_operation, value_item
from architectonic.family.records import Bond, Constraint, Family, Measurement, Parameter, quantity_of
from architectonic.quantities import units


def set_value(family: Family, document_id: str, item_id: str, text: str, cell: str | None = None) -> Family:
    """Type a value into a parameter or a sketch dimension.

    Args:
        cell: size or row id; "" for the common expression, which then holds everywhere; None keeps to the common
            one and leaves own values of sizes alone.

    Raises:
        UserFault: syntax, names, dimensions, a length of zero or less where none can be.
    """
    found, sketch, item = value_item(family, document_id, item_id)
    if isinstance(item, Constraint):
        assert sketch is not None
        quantity = quantity_of(item.kind)
        bound = names.bind_quantity(family, found, text, quantity, units.DEFAULT_UNIT[quantity], sketch)
        if item.kind in ("radius", "diameter", "distance", "arc_length"):
            refuse_not_positive(bound, quantity, item.name or item.kind, zero=item.kind == "distance")
        if cell:
            dimension = replace(item, own={**item.own, cell: bound})
        else:
            dimension = replace(item, value=bound, own={} if cell == "" else item.own)
        changed = tuple(dimension if c.id == item_id else c for c in sketch.constraints)
        return replace_operation(family, document_id, replace(sketch, constraints=changed))
    if isinstance(item, Measurement):
        raise UserFault("a measurement is read off the model", item.name, "change what decides it")
    if isinstance(item, Bond):
        if cell == "":  # it then holds everywhere
            for own in item.own:
                family = set_bond_value(family, document_id, item_id, item.moves, "", own)
        return set_bond_value(family, document_id, item_id, item.moves, text, cell or "")
    bound = names.bind_quantity(family, found, text, item.quantity, item.unit)
    if cell:
        new = replace(item, own={**item.own, cell: bound})
    else:
        new = replace(item, common=bound, own={} if cell == "" else item.own)
    return put(family, replace(found, parameters=tuple(new if p.id == item_id else p for p in found.parameters)))


def clear_cell(family: Family, document_id: str, item_id: str, cell: str) -> Family:
    """Blank an own value: the parent's or the common one shows through again."""
    found, sketch, item = value_item(family, document_id, item_id)
    if isinstance(item, Constraint):
        assert sketch is not None
        blank = replace(item, own={k: v for k, v in item.own.items() if k != cell})
        changed = tuple(blank if c.id == item_id else c for c in sketch.constraints)
        return replace_operation(family, document_id, replace(sketch, constraints=changed))
    assert isinstance(item, Parameter)
    new = replace(item, own={k: v for k, v in item.own.items() if k != cell})
    return put(family, replace(found, parameters=tuple(new if p.id == item_id else p for p in found.parameters)))
