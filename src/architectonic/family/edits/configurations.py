"""Edits of configurations: rows made, copied, renamed, taken out, and what is said of them."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import Any

import msgspec

from architectonic.base import ids as id_source
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.family import names, scopes
from architectonic.family.edits import cells
from architectonic.family.edits.documents import document, put, replace
from architectonic.family.records import AnyDocument, Configuration, Expression, Family
from architectonic.family.walk import items, leads_to, pointers_in

SAID = ("number", "note", "material", "colour")
"""What is said of a configuration, beside its name."""


def configuration(family: Family, document_id: str, key: str) -> Configuration | None:
    """A row by id; None where a size has none of its own in the document.

    Raises:
        UserFault: it is neither.
    """
    found = document(family, document_id)
    row = next((r for r in found.configurations if r.id == key or r.size == key), None)
    if row is None and all(s.id != key for s in scopes.sizes(family)):
        raise UserFault("this configuration is not there any more", found.name)
    return row


def add_configuration(
    family: Family,
    document_id: str,
    name: str,
    parent: str = "",
    size: str = "",
    new_id: IdSource = id_source.new_id,
) -> tuple[Family, str]:
    """A row of a document, the same as its parent until something of its own is said; after that one's children.

    Returns:
        The family, and the row's id.

    Raises:
        UserFault: the name is taken or unusable.
    """
    found = document(family, document_id)
    own = next((s.name for s in scopes.sizes(family) if s.id == size), "")
    taken = [row for _, row in scopes.configurations(family, found) if row != own]
    name = names.check_name(name, taken, "configuration")
    row = Configuration(id=new_id(), name=name, parent=parent, size=size)
    kin = {parent, *scopes.rows_below(found, parent)} if parent else set()
    rows = found.configurations
    at = max((k + 1 for k, r in enumerate(rows) if r.id in kin), default=len(rows))
    return put(family, replace(found, configurations=(*rows[:at], row, *rows[at:]))), row.id


def _changed(found: AnyDocument, key: str, **fields: Any) -> AnyDocument:
    rows = tuple(replace(r, **fields) if r.id == key else r for r in found.configurations)
    return replace(found, configurations=rows)


def rename_configuration(family: Family, document_id: str, key: str, name: str) -> Family:
    """Call a row otherwise; expressions and references follow. A size is called the same in the whole family.

    Raises:
        UserFault: the name is taken or unusable.
    """
    row = configuration(family, document_id, key)
    size = row.size if row is not None else key
    if size:
        taken = [s.name for s in scopes.sizes(family) if s.id != size]
        taken += [r.name for d in family.documents.values() for r in d.configurations if r.size != size]
        called = names.check_name(name, taken, "configuration")
        sizes = tuple(replace(s, name=called) if s.id == size else s for s in scopes.sizes(family))
        family = msgspec.structs.replace(family, head=replace(family.head, sizes=sizes))
        for d in family.documents.values():
            for r in d.configurations:
                if r.size == size:
                    family = put(family, _changed(document(family, d.id), r.id, name=called))
        return family
    assert row is not None
    found = document(family, document_id)
    taken = [n for k, n in scopes.configurations(family, found) if k != row.id]
    return put(family, _changed(found, row.id, name=names.check_name(name, taken, "configuration")))


def set_said(family: Family, document_id: str, key: str, field: str, text: str) -> Family:
    """Say something of a configuration: its number, note, material or colour; "" is blank again.

    Raises:
        UserFault: another configuration of the document has the number; it is no colour.
    """
    text = " ".join(text.split())
    found = document(family, document_id)
    row = configuration(family, document_id, key)
    if field == "colour" and text and not re.fullmatch(r"#[0-9A-Fa-f]{6}", text):
        raise UserFault(f"“{text}” is no colour", found.name, "write #RRGGBB, such as #93A9BA")
    if field == "number" and text:
        twin = next((r for r in found.configurations if r.number == text and r is not row), None)
        if twin is not None:
            raise UserFault(f"{twin.name} has the number {text} already", found.name, "give it another one")
    if row is None:
        if not text:
            return family
        name = next(s.name for s in scopes.sizes(family) if s.id == key)
        family, made = add_configuration(family, document_id, name, size=key)
        return put(family, _changed(document(family, document_id), made, **{field: text}))
    return put(family, _changed(found, row.id, **{field: text}))


def set_parent(family: Family, document_id: str, key: str, parent: str) -> Family:
    """Make a row the child of another one, or of none.

    Raises:
        UserFault: it would follow itself; a size follows none.
    """
    found = document(family, document_id)
    row = configuration(family, document_id, key)
    if row is None or row.size:
        raise UserFault("a size follows no other configuration", found.name, "make a child of it instead")
    if parent and (parent == row.id or parent in scopes.rows_below(found, row.id)):
        raise UserFault(f"“{row.name}” would follow itself", found.name, "choose one that does not follow it")
    if parent:
        configuration(family, document_id, parent)
    return put(family, _changed(found, row.id, parent=parent))


def move_configuration(family: Family, document_id: str, key: str, before: str = "") -> Family:
    """Put a row before another one, or at the end; sizes stand in the order of the family."""
    found = document(family, document_id)
    moved = next((r for r in found.configurations if r.id == key), None)
    if moved is None:
        return family
    rest = [r for r in found.configurations if r.id != key]
    at = next((k for k, r in enumerate(rest) if r.id == before), len(rest))
    return put(family, replace(found, configurations=(*rest[:at], moved, *rest[at:])))


def duplicate_configuration(
    family: Family, document_id: str, key: str, name: str, new_id: IdSource = id_source.new_id
) -> tuple[Family, str]:
    """A copy of a row with all its own cells, that follows the same one; only its number stays with the first.

    Returns:
        The family, and the copy's id. A copy of a size stands for none: what the size takes from others, it takes as its child.
    """
    row = configuration(family, document_id, key)
    parent = row.parent if row is not None and not row.size else (row.size if row is not None else key)
    family, made = add_configuration(family, document_id, name, parent, new_id=new_id)
    found = document(family, document_id)
    for source in (row.size, row.id) if row is not None else (key,):  # what the row says goes before what its size says
        if source:
            found = cells.with_cells(found, cells.copied(source, made))
    if row is not None:
        found = _changed(found, made, note=row.note, material=row.material, colour=row.colour)
        if not row.size:
            family = move_configuration(put(family, found), document_id, made, _after(found, key, made))
            return family, made
    return put(family, found), made


def _after(found: AnyDocument, key: str, but: str) -> str:
    rows = [r.id for r in found.configurations if r.id != but]
    kin = {key, *scopes.rows_below(found, key)}
    last = max(k for k, r in enumerate(rows) if r in kin)
    return rows[last + 1] if last + 1 < len(rows) else ""


def delete_configuration(family: Family, document_id: str, key: str) -> Family:
    """Take a row out. Those that followed it keep what they had of it; who takes it elsewhere reports that it is gone.

    Raises:
        UserFault: it is a size, which belongs to the whole family.
    """
    found = document(family, document_id)
    gone = configuration(family, document_id, key)
    if gone is None or gone.size:
        raise UserFault("a size belongs to the whole family", found.name, "take it out of the family's sizes")
    heirs = [r.id for r in found.configurations if r.parent == key]
    kept = cells.with_cells(found, cells.handed(key, heirs))

    def heir(r: Configuration) -> Configuration:
        return replace(r, parent=gone.parent, **{f: getattr(r, f) or getattr(gone, f) for f in SAID if f != "number"})

    rows = tuple(heir(r) if r.parent == key else r for r in found.configurations if r.id != key)
    return put(family, replace(kept, configurations=rows))


def users_of_configuration(family: Family, document_id: str, key: str) -> list[tuple[AnyDocument, str]]:
    """Who takes a row by itself: instances, feeds, expressions and choices, with the names of what does."""
    found = []
    for d in family.documents.values():
        for _, record in items(d):
            fixed = any(
                p.configuration == key and document_id in (leads_to(p), d.id if leads_to(p) == "self" else "")
                for p in pointers_in(record)
            )
            if fixed or key in _choices(record):
                found.append((d, str(getattr(record, "name", "") or record.__class__.__name__.lower())))
    return found


def _choices(record: Any) -> set[str]:
    """Ids of rows that expressions in a record may yield."""
    if isinstance(record, Expression):
        return set(record.choices.values())
    inner: Sequence[Any] = ()
    if isinstance(record, msgspec.Struct):
        inner = [getattr(record, f) for f in record.__struct_fields__]
    elif isinstance(record, Mapping):
        inner = list(record.values())
    elif isinstance(record, tuple):
        inner = record
    return {c for value in inner if not isinstance(value, (str, int, float)) for c in _choices(value)}


def called_by(
    family: Family, document_id: str, rows: Sequence[str], field: str, pattern: str, shown: Callable[[str, str], str]
) -> Family:
    """Rows named or numbered by a pattern: `AT-{size}-{n:03}`; n counts from 1 in the order given.

    Args:
        field: "name" or "number"; shown: of a row and a word in braces what stands for it, "" for an unknown word.

    Raises:
        UserFault: a word in braces that means nothing, or two rows that would be called alike.
    """
    title = dict(scopes.configurations(family, document(family, document_id)))
    made = filled_patterns({row: title[row] for row in rows}, pattern, shown)
    if field == "number":
        for row in rows:  # first none of them has any, so that they may swap
            family = set_said(family, document_id, row, field, "")
        for row, text in made.items():
            family = set_said(family, document_id, row, field, text)
        return family
    for n, row in enumerate(made):
        family = rename_configuration(family, document_id, row, f"renamed {n} {id_source.new_id()}")
    for row, text in made.items():
        family = rename_configuration(family, document_id, row, text)
    return family


def filled_patterns(rows: Mapping[str, str], pattern: str, shown: Callable[[str, str], str]) -> dict[str, str]:
    """A pattern filled in for each row, no two alike; n counts from 1.

    Args:
        rows: names of rows, by id; shown: as of `called_by`.

    Raises:
        UserFault: a word in braces that means nothing, or two rows that would be called alike.
    """
    made, alike = dict[str, str](), dict[str, str]()
    for n, (row, name) in enumerate(rows.items(), 1):
        made[row] = text = _filled(pattern, n, partial(shown, row))
        twin = alike.setdefault(text.casefold(), name)
        if twin != name:
            told = f"{twin} and {name} would both be called “{text}”"
            raise UserFault(told, pattern, "put {n}, {name} or a value in which they differ into the pattern")
    return made


def _filled(pattern: str, n: int, shown: Callable[[str], str]) -> str:
    """A pattern with its words in braces filled in; `{n}`, `{n:03}` count.

    Raises:
        UserFault: a word that means nothing, or braces that do not match.
    """

    def word(match: re.Match[str]) -> str:
        name, _, width = match.group(1).partition(":")
        if name.strip() == "n":
            if width and not re.fullmatch(r"0?\d{1,2}", width):
                raise UserFault(f"“{width}” is no width of a count", pattern, "write {n} or {n:03}")
            return f"{n:{width}}" if width else str(n)
        text = shown(name.strip())
        if not text:
            raise UserFault(
                f"“{name}” names nothing here", pattern, "write {n}, {size}, {name}, {number} or a value's name"
            )
        return text

    made = re.sub(r"\{([^{}]*)\}", word, pattern)
    if "{" in made or "}" in made:
        raise UserFault("its braces do not match", pattern, "write {n}, {size} or the name of a value in braces")
    return made.strip()
