"""Tables from and to spreadsheets: what a file would change, taking it, and files that drive values.

A file is never taken without being compared first. What a linked file says is compared with what is stored, which is
what was accepted from it last; so a file that is gone, locked or half-written changes nothing.
"""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

from msgspec.structs import replace

from architectonic.base import tolerance
from architectonic.base.cancel import Watch
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.check.attention import Item
from architectonic.describe.words.blanks import counted
from architectonic.exchange import allowed, apart
from architectonic.exchange.spreadsheet import Grid
from architectonic.family import edits, names, scopes, tables
from architectonic.family.records import AnyDocument, Expression, Family, Link, Parameter
from architectonic.family.tables import Typed
from architectonic.quantities import units
from architectonic.quantities.compiled import complete, fixed_value

ALL_SIZES = "all sizes"
HEADINGS = {
    "name": ("name", "parameter", "names"),
    "group": ("group",),
    "unit": ("unit", "units"),
    "note": ("note", "notes", "remark", "remarks"),
    "": (ALL_SIZES, "value", "values", "common"),
}
"""Headings that are understood, by what a column holds; columns headed by a size or row hold its values."""


class CellChange(NamedTuple):
    """One cell that a file says otherwise: the row's id and name, the column, and both texts."""

    row: str
    name: str
    column: str
    before: str
    after: str


class Difference(NamedTuple):
    """What a file would change.

    Attributes:
        changes: cells, those of rows that are new included.
        faults: cells that cannot be used: where in the file, and why.
        only_here: names of rows that the file does not have; they stay.
        only_there: names in the file that mean no row here.
    """

    changes: tuple[CellChange, ...]
    faults: tuple[tuple[str, str], ...]
    only_here: tuple[str, ...] = ()
    only_there: tuple[str, ...] = ()

    @property
    def cells(self) -> list[Typed]:
        """The changes as they would be typed."""
        return [Typed(c.row, c.column, c.after) for c in self.changes]


def mapping(family: Family, document: AnyDocument, grid: Grid) -> dict[str, str]:
    """The heading behind each column of a table, as far as headings say; the first column holds names if none does."""
    found: dict[str, str] = {}
    rows = {name.casefold(): row for row, name in scopes.configurations(family, document)}
    for heading in grid.headings:
        folded = heading.casefold().strip()
        word = next((w for w, known in HEADINGS.items() if folded in known), None)
        column = rows.get(folded) if word is None else word
        if column is not None:
            found.setdefault(column, heading)
    if "name" not in found and grid.headings:
        found["name"] = grid.headings[0]
    return found


def compare(family: Family, document_id: str, grid: Grid, make_id: IdSource = new_id) -> Difference:
    """What taking a whole sheet into a document's values would change; rows with names not known here are new.

    Raises:
        UserFault: the sheet has no column of values.
    """
    document = edits.document(family, document_id)
    columns = mapping(family, document, grid)
    if not set(columns) - set(tables.WORDS):
        sizes = ", ".join(name for _, name in scopes.configurations(family, document))
        raise UserFault("no column holds values", grid.name, f"head one “{ALL_SIZES}”, or by a size: {sizes}")
    known = {names.identifier(p.name).casefold(): p for p in document.parameters}
    changes: list[CellChange] = []
    faults: list[tuple[str, str]] = []
    seen: dict[str, str] = {}
    for number, cells in enumerate(grid.rows):
        name = cells[grid.column(columns["name"])].text
        if not name:
            if any(c.text for c in cells):
                faults.append((grid.where(number, grid.column(columns["name"])), "this row has no name"))
            continue
        folded = names.identifier(name).casefold()
        where = grid.where(number, grid.column(columns["name"]))
        if folded in seen:
            faults.append((where, f"“{name}” stands in {seen[folded]} too"))
            continue
        seen[folded] = where
        row = known.get(folded)
        given = _given(grid, number, columns, faults)
        if row is not None:
            changes += _changed(family, document, row, given)
        elif any(t for c, t in given.items() if c not in tables.WORDS):
            fresh = make_id()
            changes += [CellChange(fresh, name, c, "", t) for c, t in {"name": name, **given}.items() if t]
        elif any(given.values()):
            faults.append((where, f"“{name}” is new and has no value"))
    absent = tuple(p.name for k, p in known.items() if k not in seen)
    return Difference(tuple(changes), tuple(faults), absent)


def _given(grid: Grid, number: int, columns: dict[str, str], faults: list[tuple[str, str]]) -> dict[str, str]:
    """The usable cells of a row, by column; numbers carry the unit that the row names."""
    found = {}
    unit = ""
    if "unit" in columns:
        unit = grid.rows[number][grid.column(columns["unit"])].text.replace("²", "2").replace("³", "3")
    for column, heading in columns.items():
        place = grid.column(heading)
        cell = grid.rows[number][place]
        if cell.fault:
            faults.append((grid.where(number, place), cell.fault))
        elif column in tables.WORDS:
            found[column] = cell.text
        else:
            found[column] = _with_unit(cell.text, unit)
    return {c: t for c, t in found.items() if c != "name"}


def _with_unit(text: str, unit: str) -> str:
    return f"{text} {unit}" if unit in units.UNITS and _is_number(text) else text


def _is_number(text: str) -> bool:
    try:
        float(text.replace("−", "-"))
    except ValueError:
        return False
    return True


def _changed(family: Family, document: AnyDocument, row: Parameter, given: dict[str, str]) -> list[CellChange]:
    found = []
    for column, text in given.items():
        before = tables.cell_text(family, document, row, column)
        if column in tables.WORDS:
            same = text == before or (column == "unit" and not text)
        elif not column:
            same = not text or _same_value(row, row.common, text, before)
        else:
            own = row.own.get(column)
            same = not text if own is None else _same_value(row, own, text, before)
            if own is None and text and "" not in given:  # the file knows no common value: this one may stand for it
                same = _same_value(row, row.common, text, tables.cell_text(family, document, row, ""))
        if not same:
            seen = before if before or column in tables.WORDS else tables.cell_text(family, document, row, "")
            found.append(CellChange(row.id, row.name, column, seen, text))
    return found


def _same_value(row: Parameter, stored: Expression, text: str, shown: str) -> bool:
    """Whether a text says what is stored: the same words, or the same plain value."""
    if " ".join(text.split()) == " ".join(shown.split()):
        return True
    if stored.refs or not text:
        return False
    try:
        value = fixed_value(complete(text, row.quantity, row.unit), row.quantity)
    except UserFault:
        return False
    return tolerance.ratio(value) == tolerance.ratio(fixed_value(stored.text, row.quantity))


def take(family: Family, document_id: str, difference: Difference) -> Family:
    """The family with a difference taken, all of it.

    Raises:
        UserFault: a value of it cannot be used.
    """
    return tables.type_cells(family, document_id, difference.cells)


def sheet_of(family: Family, document_id: str) -> list[list[str | float]]:
    """A document's values as rows of a spreadsheet that `compare` finds no difference with.

    Plain values in the unit of their row are numbers; all else stands as it is typed.
    """
    document = edits.document(family, document_id)
    cells = [("", ALL_SIZES.capitalize()), *scopes.configurations(family, document)]
    rows: list[list[str | float]] = [["Name", "Group", "Unit", *(name for _, name in cells), "Note"]]
    for p in document.parameters:
        values = [_written(family, document, p, key) for key, _ in cells]
        rows.append([p.name, p.group, p.unit, *values, p.note])
    return rows


def _written(family: Family, document: AnyDocument, p: Parameter, key: str) -> str | float:
    text = tables.cell_text(family, document, p, key)
    number, _, unit = text.partition(" ")
    if p.unit != "g/cm3" and unit == p.unit and _is_number(number):
        return float(number)
    return text


# --- links ----------------------------------------------------------------------------------------------


def driven_by(document: AnyDocument, row: str, cell: str | None = None) -> Link | None:
    """The link that decides a row (in one of its cells), if any."""
    for link in document.links.values():
        if row in link.rows and (cell is None or cell in link.columns):
            return link
    return None


def type_cells(family: Family, document: str, cells: list[Typed], before: str = "") -> Family:
    """What is typed into cells, by hand: those that a file drives are refused; see `family.tables.type_cells`.

    Raises:
        UserFault: a file drives one of them, or one cannot be used.
    """
    refuse_driven(family.documents[document], cells)
    return tables.type_cells(family, document, cells, before)


def refuse_driven(document: AnyDocument, cells: list[Typed]) -> None:
    """Refuse to type into cells that a file decides.

    Raises:
        UserFault: says which file.
    """
    for typed in cells:
        link = driven_by(document, typed.row, typed.column) if typed.column not in ("name", "group", "note") else None
        if link is not None:
            raise UserFault(
                f"{link.rows[typed.row]} comes from {Path(link.file).name}",
                document.name,
                "change it there, or sever the link",
            )


def relative(folder: Path, file: Path) -> str:
    """How a link writes a file: relative to the family's folder when it lies in it."""
    file = file.resolve()
    inside = file.is_relative_to(folder.resolve())
    return file.relative_to(folder.resolve()).as_posix() if inside else file.as_posix()


def link(
    family: Family,
    document_id: str,
    folder: Path,
    file: Path,
    sheet: str = "",
    at_once: bool = False,
    make_id: IdSource = new_id,
) -> Family:
    """Let a spreadsheet drive the rows whose names it has. What it says now is not taken by this.

    Raises:
        UserFault: it has no names or values that fit, or its rows are driven by another file.
        EnvironmentFault: it cannot be read.
    """
    document = edits.document(family, document_id)
    grid = apart.spreadsheet(file, sheet)
    allowed.allow(family, file)
    columns = mapping(family, document, grid)
    values = {c: h for c, h in columns.items() if c not in tables.WORDS}
    there = {names.identifier(row[grid.column(columns["name"])].text).casefold() for row in grid.rows}
    there.discard("")
    rows = {p.id: p.name for p in document.parameters if names.identifier(p.name).casefold() in there}
    if not values or not rows:
        what = "no column of it is headed by a size" if not values else "no row of it has a name that is known here"
        raise UserFault(what, file.name, f"head a column “{ALL_SIZES}” or by a size, and name rows as here")
    for other in document.links.values():
        both = [n for k, n in rows.items() if k in other.rows]
        if both and set(other.columns) & set(values):
            raise UserFault(f"{both[0]} is driven by {other.file} already", document.name, "sever that link first")
    made = Link(
        name=names.free_name(file.stem, [k.name for k in document.links.values()]),
        file=relative(folder, file),
        sheet=sheet,
        name_column=columns["name"],
        unit_column=columns.get("unit", ""),
        columns=values,
        rows=rows,
        at_once=at_once,
    )
    return edits.put(family, replace(document, links={**document.links, make_id(): made}))


def change_link(family: Family, document_id: str, link_id: str, **changes: object) -> Family:
    """Point a link at another file or sheet, or let it take values at once.

    Raises:
        UserFault: the link is gone.
    """
    document = edits.document(family, document_id)
    if link_id not in document.links:
        raise UserFault("this link is not there any more", document.name)
    if Path(str(changes.get("file", ""))).is_absolute():
        allowed.allow(family, Path(str(changes["file"])))
    changed = replace(document.links[link_id], **changes)
    return edits.put(family, replace(document, links={**document.links, link_id: changed}))


def sever(family: Family, document_id: str, link_id: str) -> Family:
    """Cut a link; the values that were accepted last stay as the table's own."""
    document = edits.document(family, document_id)
    return edits.put(family, replace(document, links={k: v for k, v in document.links.items() if k != link_id}))


def incoming(family: Family, document_id: str, found: Link, grid: Grid) -> Difference:
    """What a linked file says otherwise than what was accepted last; every driven cell must hold a number."""
    document = edits.document(family, document_id)
    changes: list[CellChange] = []
    faults: list[tuple[str, str]] = []
    heads = {**found.columns, "name": found.name_column}
    if found.unit_column:
        heads["unit"] = found.unit_column
    gone = [h for h in heads.values() if grid.column(h) < 0]
    if gone:
        return Difference((), tuple((grid.name, f"the column “{h}” is gone") for h in gone))
    place = grid.column(found.name_column)
    lines = {names.identifier(row[place].text).casefold(): k for k, row in reversed(list(enumerate(grid.rows)))}
    for p in document.parameters:
        if p.id not in found.rows:
            continue
        number = lines.get(names.identifier(found.rows[p.id]).casefold())
        if number is None:
            faults.append((grid.name, f"the row “{found.rows[p.id]}” is gone"))
            continue
        given = _numbers(grid, number, heads, p, faults)
        changes += [c for c in _changed(family, document, p, given) if c.column not in tables.WORDS]
    return Difference(tuple(changes), tuple(faults))


def _numbers(
    grid: Grid, number: int, heads: dict[str, str], p: Parameter, faults: list[tuple[str, str]]
) -> dict[str, str]:
    found = {}
    own: list[tuple[str, str]] = []
    for column, text in _given(grid, number, heads, own).items():
        if column in tables.WORDS:
            continue
        where = grid.where(number, grid.column(heads[column]))
        if not text and column and "" in heads:
            found[column] = ""  # it follows the value of all sizes
            continue
        try:
            fixed_value(complete(text, p.quantity, p.unit), p.quantity)
            found[column] = text
        except UserFault as fault:
            what = (
                f"{p.name} is missing here" if not text else f"“{text}” is no {p.quantity} for {p.name}: {fault.what}"
            )
            faults.append((where, what))
    faults += own
    return found


class Seen(NamedTuple):
    """What looking at a linked file gave: a difference, or why there is none."""

    document: str
    link: str
    difference: Difference | None
    fault: str


def look(family: Family, folder: Path, watch: Watch | None = None) -> list[Seen]:
    """Read every linked file of a family."""
    found = []
    for document in family.documents.values():
        for key, one in document.links.items():
            try:
                allowed.refuse_strange(family, folder, folder / one.file)
                grid = apart.spreadsheet(folder / one.file, one.sheet, watch)
                found.append(Seen(document.id, key, incoming(family, document.id, one, grid), ""))
            except (UserFault, EnvironmentFault) as fault:
                what = fault.sentence if isinstance(fault, UserFault) else str(fault)
                found.append(Seen(document.id, key, None, what))
    return found


def entries(family: Family, seen: list[Seen]) -> list[Item]:
    """The attention that linked files need: one entry for each, whatever is wrong in it."""
    found = []
    for one in seen:
        document = family.documents.get(one.document)
        link_ = document.links.get(one.link) if document else None
        if document is None or link_ is None:
            continue
        file, where = Path(link_.file).name, f"{document.name} / {link_.name}"

        def entry(what: str, mend: str, severity: str, where: str = where, key: str = document.id) -> Item:
            return Item(where, what, mend, severity, key, "", (ALL_SIZES,), (), ())

        if one.difference is None:
            mend = "bring it back, point the link elsewhere, or sever it"
            found.append(entry(f"{one.fault}; the values accepted last are used", mend, "missing"))
            continue
        if one.difference.faults:
            (at, what), more = one.difference.faults[0], len(one.difference.faults) - 1
            told = f"{at} of {file}: {what}" + (f", and {more} more" if more else "")
            found.append(entry(f"{told}; the values accepted last are used", "put it right in the file", "missing"))
        if one.difference.changes:
            count = len(one.difference.changes)
            what = f"{file} has {counted(count, 'new value')}"
            found.append(entry(what, "look at the difference and take it", "updating"))
    return found
