"""Which joints follow each other: a joint whose expression names one that nothing drives is moved together with it."""

from __future__ import annotations

from architectonic.family import scopes
from architectonic.family.records import SELF, Bond, Family
from architectonic.family.scopes import Scope


def followed(family: Family, at: Scope, bond: Bond, field: str, seen: frozenset[str] = frozenset()) -> tuple[Bond, ...]:
    """The joints of the same assembly that the expression of a joint's value names while nothing drives those either; () where
    the expression has a value by itself, or there is none."""
    _, expression = scopes.driven(family, at, bond, field)
    if expression is None or field not in ("slide", "turn"):
        return ()
    known = {b.id: b for b in getattr(family.documents[at.document], "bonds", ())}
    named = {r.item: r for r in expression.refs.values() if r.document == SELF and not r.alternate and r.item in known}
    return tuple(known[key] for key in named if key not in seen and is_free(family, at, known[key], seen | {bond.id}))


def is_free(family: Family, at: Scope, bond: Bond, seen: frozenset[str] = frozenset()) -> bool:
    """Whether nothing drives a joint: no expression, or one that only follows others that are free."""
    if not bond.moves or not scopes.may_be_on(family, at, bond.switch):
        return False
    _, drives = scopes.driven(family, at, bond, bond.moves)
    return drives is None or bool(followed(family, at, bond, bond.moves, seen))
