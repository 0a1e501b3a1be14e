"""The rows of a range: sizes first, children below their parents; what a new row starts from."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.describe.words.blanks import counted
from architectonic.family import edits, names, scopes
from architectonic.family.operations.base import Operation
from architectonic.family.records import AnyDocument, Bond, Constraint, Family, Parameter
from architectonic.family.scopes import Scope
from architectonic.family.walk import items
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.ranges.columns import columns
from architectonic.session.tables.columns import GridRow


def rows(family: Family, document: AnyDocument) -> list[GridRow]:
    """Every configuration: the sizes in their order, then the others, those that follow one below it."""
    every, index = scopes.configurations(family, document), scopes.row_index(document)
    known = dict(every)

    def is_child(row: str) -> bool:
        record = index.by_id.get(row)
        return record is not None and not record.size and index.for_size.get(record.parent, record.parent) in known

    tops = [k for k, _ in every if not is_child(k)]
    found: dict[str, GridRow] = {}
    stack = [(k, 0) for k in reversed(tops)]
    while stack:
        key, depth = stack.pop()
        if key not in found:
            found[key] = GridRow(key, known[key], depth)
            stack += [(k, depth + 1) for k in reversed(index.below.get(key, [])) if is_child(k)]
    return [*found.values(), *(GridRow(k, n, 0) for k, n in every if k not in found)]


def said_by(document: AnyDocument, keys: Iterable[str]) -> dict[str, int]:
    """How many values, dimensions and switches some rows say themselves, by the word for them."""
    wanted, found = set(keys), {"value": 0, "dimension": 0, "switch": 0}
    for _, record in items(document):
        if isinstance(record, (Parameter, Constraint)):
            found["value" if isinstance(record, Parameter) else "dimension"] += bool(wanted & record.own.keys())
        elif isinstance(record, (Operation, Bond)):
            found["switch"] += bool(wanted & record.switch.own.keys())
    return {word: n for word, n in found.items() if n}


def starts_from(family: Family, document: AnyDocument, key: str) -> str:
    """What a new row starts from, and what comes along, in one sentence."""
    row = next(r for r in document.configurations if r.id == key)
    at = Scope(document.id, key)
    if not row.parent:
        size = names.row_name(family, document.id, scopes.size_of(family, at))
        return f"{row.name} starts from what is common to all; of what drives it, it takes {size}."
    parent = names.row_name(family, document.id, row.parent)
    own = said_by(document, [key])
    if not own:
        return f"{row.name} starts equal to {parent}, and follows it wherever nothing of its own is typed."
    told = ", ".join(counted(n, word) for word, n in own.items())
    return f"{row.name} starts with {told} of its own, and follows {parent} in everything else."


def child(family: Family, document: str, key: str, make_id: IdSource = new_id) -> tuple[Family, str]:
    """A new child of a row, equal to it."""
    parent = names.row_name(family, document, key)
    taken = [n for _, n in scopes.configurations(family, edits.document(family, document))]
    return edits.add_configuration(family, document, names.free_name(f"{parent} b", taken), key, new_id=make_id)


def copied(family: Family, document: str, key: str, make_id: IdSource = new_id) -> tuple[Family, str]:
    """A copy of a row with what it says itself."""
    taken = [n for _, n in scopes.configurations(family, edits.document(family, document))]
    name = names.free_name(names.row_name(family, document, key), taken)
    return edits.duplicate_configuration(family, document, key, name, make_id)


def called(
    family: Family, evaluation: Evaluation | None, document: str, keys: Sequence[str], field: str, pattern: str
) -> Family:
    """Rows named or numbered by a pattern, in which the titles of columns stand for what their cells show.

    Raises:
        UserFault: a word that means nothing, or two rows that would be called alike.
    """
    words = words_of(family, evaluation, document)
    return edits.called_by(family, document, keys, field, pattern, lambda row, word: words(Scope(document, row), word))


def words_of(family: Family, evaluation: Evaluation | None, document: str) -> Callable[[Scope, str], str]:
    """What stands for a word of a pattern in a row: its name, size or document, or what a column shows; "" for no such word.

    What it gives raises UserFault where a column shows nothing in the row.
    """
    found = edits.document(family, document)
    known = {names.identifier(c.title).casefold(): c for c in reversed(columns(family, found))}
    title = dict(scopes.configurations(family, found))

    def shown(at: Scope, word: str) -> str:
        if word in ("name", "document"):
            return title[at.configuration] if word == "name" else found.name
        if word == "size":
            return names.row_name(family, document, scopes.size_of(family, at))
        column = known.get(names.identifier(word).casefold())
        text = "" if column is None else short(column.shown(family, evaluation, at).text)
        if column is not None and not text:
            told = f"{title[at.configuration]} has no {column.title.lower()}"
            raise UserFault(told, word, "give it one, or write {name} instead")
        return text

    return shown


def short(text: str) -> str:
    """A figure without the noughts behind its point; other words as they are."""
    try:
        return f"{float(text):.10g}"
    except ValueError:
        return text


def where_on(family: Family, document: str, operation: str, row: str, way: str) -> Family:
    """Say where a new operation is on.

    Args:
        way: "all", "row" (only the one given), or "children" (that one and all that follow it).
    """
    found = edits.document(family, document)
    if way == "all":
        return family
    record = edits.operation(family, document, operation)
    switch = record.switch.turned(False).turned(True, row)
    if way == "row":
        for r in found.configurations:
            if r.parent and Scope(document, row) == scopes.parent_of(family, Scope(document, r.id)):
                switch = switch.turned(False, r.id)
    return edits.replace_operation(family, document, edits.replace(record, switch=switch))


def beside(family: Family, document: AnyDocument, gone: Sequence[str]) -> str:
    """The row to show where some go: the one that the first of them follows, else the one before it, else the next."""
    order = [r.key for r in rows(family, document)]
    index = scopes.row_index(document)
    first = next((k for k in order if k in gone), "")
    if not first:
        return ""
    above = index.by_id[first].parent if first in index.by_id else ""
    place = order.index(first)
    near = [index.for_size.get(above, above), *reversed(order[:place]), *order[place:]]
    return next((k for k in near if k in order and k not in gone), "")
