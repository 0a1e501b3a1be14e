"""What would be: edits that are only looked at, and values given from outside: `Sizes.wall=2.6 mm` everywhere,
`Sizes.wall@M=2.6 mm` in one size."""

from __future__ import annotations

import difflib
from collections.abc import Callable

from architectonic.base.errors import UserFault
from architectonic.family import edits, names, scopes
from architectonic.family.graph.static import Graph
from architectonic.family.records import Family
from architectonic.session.open.policy import allowed
from architectonic.session.open.session import Session


def looked_at(session: Session, edit: Callable[[Family], Family]) -> Family:
    """The family after an edit that is only looked at.

    Raises:
        UserFault: it could not be carried out, or might not be stored.
    """
    new = edit(session.family)
    return allowed(session.family, new, Graph(new, session.graph_now()))


def find_value(family: Family, name: str) -> tuple[str, str]:
    """Document and item of a dotted identifier.

    Raises:
        UserFault: unknown; says the nearest.
    """
    known = {}
    for document in family.documents.values():
        for key, item in names.values_of(document):
            known[f"{names.identifier(document.name)}.{key}"] = (document.id, item.id)
    if name in known:
        return known[name]
    near = difflib.get_close_matches(name, list(known), 1, 0.5)
    raise UserFault(f"there is no value “{name}”", "", f"did you mean {near[0]}?" if near else "")


def find_configuration(family: Family, document_id: str, name: str) -> str:
    """Id of a size or row by name.

    Raises:
        UserFault: unknown; lists what there is.
    """
    rows = scopes.configurations(family, family.documents[document_id])
    for key, row in rows:
        if name == row:
            return key
    known = ", ".join(row for _, row in rows)
    raise UserFault(
        f"there is no configuration “{name}” of {family.documents[document_id].name}",
        "",
        f"there are {known}",
    )


def with_values(family: Family, settings: list[str]) -> Family:
    """The family with values set; each setting reads NAME=EXPR, NAME@SIZE=EXPR or NAME@ALTERNATE=EXPR.

    Raises:
        UserFault: a malformed setting, an unknown name, an expression that cannot be used.
    """
    before = family
    for setting in settings:
        name, equals, text = setting.partition("=")
        if not equals or not name.strip() or not text.strip():
            raise UserFault(f"“{setting}” is not a setting", "", "write NAME=EXPRESSION, such as Sizes.wall=2.6 mm")
        name, _, size = name.strip().partition("@")
        document, item = find_value(family, name)
        cell = ""
        if size:
            others = {a.name: a.id for a in scopes.alternates(family.documents[document])}
            cell = others.get(size) or find_configuration(family, document, size)
        family = edits.set_value(family, document, item, text.strip(), cell)
    return allowed(before, family)
