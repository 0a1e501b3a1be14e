"""Edits of rows of values: many cells at once, order, groups, units; and questions about them.

All or nothing: the first cell that cannot be used is told with its place, and the family stays as it was.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from architectonic.base import ids as id_source
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.family import edits, names, scopes
from architectonic.family.records import SELF, AnyDocument, Expression, Family, Parameter, ValueRef
from architectonic.family.walk import pointers_in
from architectonic.quantities import units
from architectonic.quantities.compiled import compile_expression, fixed_value
from architectonic.quantities.preferred import nearest, term
from architectonic.quantities.units import NUMBER

WORDS = ("name", "group", "unit", "note")
"""Columns of a table that hold words; every other column is a cell: "" for the common value, else a size or row."""


class Typed(NamedTuple):
    """What is put into one cell of a table.

    Attributes:
        row: id of the parameter; one that is not there yet is added (it needs a name and a value).
        column: one of WORDS, or a cell.
    """

    row: str
    column: str
    text: str


def _stored(family: Family, document_id: str, rows: Sequence[Parameter]) -> Family:
    found = edits.document(family, document_id)
    return edits.put(family, replace(found, parameters=tuple(rows)))


def _together(rows: Sequence[Parameter]) -> list[Parameter]:
    """Rows with those of a group brought together, where its first one stands."""
    found: dict[str, list[Parameter]] = {}
    for row in rows:
        found.setdefault(row.group, []).append(row)
    return [row for group in found.values() for row in group]


def type_cells(
    family: Family, document_id: str, cells: Iterable[Typed], before: str = "", new_id: IdSource = id_source.new_id
) -> Family:
    """Put texts into cells, as typing them one after the other would, but in one go.

    An emptied cell of a size follows the others again. New rows may be named by others that come with them.

    Args:
        before: new rows stand before this one; "" for the end.

    Raises:
        UserFault: a name is taken or unusable, a value cannot be used; says in which row and column.
    """
    found = edits.document(family, document_id)
    rows = {p.id: p for p in found.parameters}
    words: dict[str, dict[str, str]] = {}
    values: dict[str, dict[str, str]] = {}
    for cell in cells:
        (words if cell.column in WORDS else values).setdefault(cell.row, {})[cell.column] = cell.text.strip()
    fresh = [k for k in dict.fromkeys([*words, *values]) if k not in rows]
    taken = {names.identifier(p.name).casefold(): p.id for p in rows.values()}
    for key in dict.fromkeys([*words, *values]):
        given = words.get(key, {})
        if key not in rows:
            text = next((t for t in values.get(key, {}).values() if t), "")
            if not given.get("name") or not text:
                raise UserFault("a new row needs a name and a value", given.get("name", ""), "fill both columns")
            rows[key] = _new_row(key, given, text)
        elif "unit" in given:
            rows[key] = _in_unit(family, found, rows[key], given["unit"], values.get(key))
        if given.get("name"):
            rows[key] = replace(rows[key], name=_name(given["name"], key, taken))
        rows[key] = replace(rows[key], **{w: given[w] for w in ("group", "note") if w in given})
    order = [k for k in rows if k not in fresh]
    at = order.index(before) if before in order else len(order)
    order[at:at] = fresh
    named = _stored(family, document_id, [rows[k] for k in order])  # names and units first: values may use them
    for key, given in values.items():
        rows[key] = _with_values(named, document_id, rows[key], given)
    return _stored(family, document_id, _together([rows[k] for k in order]))


def _new_row(key: str, given: Mapping[str, str], text: str) -> Parameter:
    """A row whose quantity is that of its unit, or of the units in its value."""
    unit = given.get("unit", "")
    quantity = quantity_of_unit(unit) if unit else quantity_of_text(text)
    start = "0" if quantity == "number" else f"0 {units.DEFAULT_UNIT[quantity]}"
    common = Expression(text="0 g / 1 cm3" if quantity == "density" else start)
    return Parameter(id=key, name=key, quantity=quantity, unit=unit or units.DEFAULT_UNIT[quantity], common=common)


def _name(name: str, key: str, taken: dict[str, str]) -> str:
    name = names.check_name(name, [], "parameter")
    folded = names.identifier(name).casefold()
    if taken.get(folded, key) != key:
        raise UserFault("another row has this name, or one that differs only in case", name, "choose a different one")
    for old in [k for k, v in taken.items() if v == key]:
        del taken[old]
    taken[folded] = key
    return name


def _with_values(family: Family, document_id: str, row: Parameter, given: Mapping[str, str]) -> Parameter:
    document = edits.document(family, document_id)
    common, own = row.common, dict(row.own)
    for cell, text in given.items():
        if not text:
            if cell:
                own.pop(cell, None)
            continue
        try:
            bound = names.bind_quantity(family, document, text, row.quantity, row.unit)
        except UserFault as fault:
            where = names.row_name(family, document_id, cell) if cell else "all sizes"
            raise UserFault(fault.what, f"{row.name}, {where}: {text}", fault.mend) from None
        if cell:
            own[cell] = bound
        else:
            common = bound
    return replace(row, common=common, own=own)


# --- units ----------------------------------------------------------------------------------------------


def quantity_of_unit(unit: str) -> str:
    """The quantity that a unit measures.

    Raises:
        UserFault: there is no such unit.
    """
    if unit in ("g/cm3", "g/cm³"):
        return "density"
    found = units.UNITS.get(unit.replace("²", "2").replace("³", "3"))
    if found is None and unit not in ("", "–", "-"):
        raise UserFault(f"there is no unit “{unit}”", "", "units are " + " ".join(units.UNITS))
    dimension = found.dimension if found else NUMBER
    return next(q for q, d in units.QUANTITIES.items() if d == dimension)


def quantity_of_text(text: str) -> str:
    """The quantity that a typed value has by its units; a length when it says nothing."""
    try:
        kind = compile_expression(text, {}).kind
    except UserFault:
        return "length"
    return next((q for q, d in units.QUANTITIES.items() if d == kind and d != NUMBER), "length")


def _in_unit(
    family: Family, document: AnyDocument, row: Parameter, unit: str, given: Mapping[str, str] | None
) -> Parameter:
    """A row shown in another unit; another quantity only while nothing counts on the old one.

    Raises:
        UserFault: no such unit; something reads the value as what it is now.
    """
    quantity = quantity_of_unit(unit)
    unit = units.DEFAULT_UNIT["density"] if quantity == "density" else unit.replace("²", "2").replace("³", "3")
    if quantity == row.quantity:
        return replace(row, unit=unit)
    readers = edits.users(family, document.id, row.id)
    if readers:
        raise UserFault(
            f"{readers[0][0].name} / {getattr(readers[0][2], 'name', '')} reads {row.name} as a {row.quantity}",
            row.name,
            "make a new row for the other quantity",
        )
    if any(e.refs for e in (row.common, *row.own.values())) and not given:
        raise UserFault(f"its expression gives a {row.quantity}", row.name, "type a plain value first, then the unit")
    number = {k: _figure(e, row) for k, e in (("", row.common), *row.own.items())}
    changed = replace(row, quantity=quantity, unit=unit)
    own = {k: _literal(n, changed) for k, n in number.items() if k}
    return replace(changed, common=_literal(number[""], changed), own=own)


def _figure(expression: Expression, row: Parameter) -> float:
    return 0.0 if expression.refs else fixed_value(expression.text, row.quantity) / units.factor(row.unit)


def _literal(number: float, row: Parameter) -> Expression:
    text = f"{number:.10g} g / 1 cm3" if row.quantity == "density" else f"{number:.10g} {row.unit}".strip()
    return Expression(text=text)


# --- order and filling ----------------------------------------------------------------------------------


def move_rows(family: Family, document_id: str, rows: Sequence[str], before: str = "") -> Family:
    """Put rows before another one, in its group; "" for the end."""
    found = edits.document(family, document_id)
    moved = [p for p in found.parameters if p.id in rows]
    rest = [p for p in found.parameters if p.id not in rows]
    at = next((i for i, p in enumerate(rest) if p.id == before), len(rest))
    if moved and rest:
        group = rest[min(at, len(rest) - 1)].group
        moved = [replace(p, group=group) for p in moved]
    return _stored(family, document_id, _together([*rest[:at], *moved, *rest[at:]]))


def delete_rows(family: Family, document_id: str, rows: Sequence[str]) -> Family:
    """Take rows out; who reads them reports a missing source."""
    found = edits.document(family, document_id)
    return _stored(family, document_id, [p for p in found.parameters if p.id not in rows])


def cell_text(family: Family, document: AnyDocument, row: Parameter, column: str) -> str:
    """What typing into a cell would have to be for it to be as it is; "" where it follows others."""
    if column in WORDS:
        return str(getattr(row, column))
    expression = row.common if not column else row.own.get(column)
    return "" if expression is None else names.shown_text(family, document, expression)


def fill_down(family: Family, document_id: str, rows: Sequence[str], columns: Sequence[str]) -> Family:
    """What the first row has in some columns, in the rows below it too; names and emptied cells are left alone."""
    found = edits.document(family, document_id)
    first = next(p for p in found.parameters if p.id == rows[0])
    cells = [
        Typed(row, column, text)
        for column in columns
        if column != "name" and (text := cell_text(family, found, first, column))
        for row in rows[1:]
    ]
    return type_cells(family, document_id, cells)


def series(start: float, second: float | None, kind: str, count: int) -> list[float]:
    """Values that go on from a first one.

    Args:
        second: the next value, which says the step or ratio; preferred numbers need none.
        kind: "steps", "times", or a series of ISO 3 ("R5", "R10", "R20", "R40").

    Raises:
        UserFault: no such series; a ratio from zero.
    """
    if kind == "steps":
        step = start if second is None else second - start
        return [start + k * step for k in range(count)]
    if kind == "times":
        if start == 0:
            raise UserFault("nothing can be times zero", "", "start from another value")
        ratio = 2.0 if second is None else second / start
        return [start * ratio**k for k in range(count)]
    first = nearest(kind, start)
    return [term(kind, first + k) for k in range(count)]


# --- questions ------------------------------------------------------------------------------------------


def unused(family: Family, document_id: str) -> list[Parameter]:
    """Rows that nothing in the family reads, in order."""
    read: set[tuple[str, str]] = set()
    for other in family.documents.values():
        for p in pointers_in(other):
            if isinstance(p, ValueRef):
                read.add((other.id if p.document == SELF else p.document, p.item))
    return [p for p in edits.document(family, document_id).parameters if (document_id, p.id) not in read]


def doubled(family: Family) -> list[list[tuple[AnyDocument, Parameter]]]:
    """Rows of the whole family that hold the same plain values of the same quantity in all sizes: perhaps one value."""
    found: dict[tuple[str, tuple[float, ...]], list[tuple[AnyDocument, Parameter]]] = {}
    sizes = scopes.sizes(family)
    for document in family.documents.values():
        for row in document.parameters:
            cells = [scopes.cell(family, scopes.scope(family, document.id, s.id), row)[1] for s in sizes]
            if not any(c.refs or c.choices for c in cells):
                key = (row.quantity, tuple(round(fixed_value(c.text, row.quantity), 9) for c in cells))
                found.setdefault(key, []).append((document, row))
    return [same for same in found.values() if len(same) > 1]
