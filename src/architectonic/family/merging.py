"""Two changed states of one record brought together: what only one side changed is taken from it.

Records with ids are told apart by them, so that two people who each change a parameter, or each add an operation, do not
meet. What both changed differently cannot be brought together, and is named (three-way merging: Mens, A state-of-the-art
survey on software merging, IEEE TSE 2002).
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import msgspec


class MergeClash(Exception):
    """Both sides changed the same thing, each in its own way.

    Attributes:
        where: names that lead to it.
    """

    def __init__(self, where: tuple[str, ...]) -> None:
        super().__init__(" / ".join(where))
        self.where = where


_NONE = object()


def merged(base: Any, mine: Any, theirs: Any, where: tuple[str, ...] = ()) -> Any:
    """What both made of `base`.

    Raises:
        MergeClash: they made different things of the same.
    """
    if mine == base:
        return theirs
    if theirs in (base, mine):
        return mine
    if isinstance(mine, msgspec.Struct) and type(base) is type(mine) is type(theirs):
        name = str(getattr(mine, "name", ""))
        here = (*where, name) if name else where
        return msgspec.structs.replace(
            mine,
            **{f: merged(getattr(base, f), getattr(mine, f), getattr(theirs, f), here) for f in mine.__struct_fields__},
        )
    if isinstance(mine, dict) and isinstance(base, dict) and isinstance(theirs, dict):
        return _by_key(base, mine, theirs, where)
    if all(_is_listed(side) for side in (base, mine, theirs)):
        return _in_order(base, mine, theirs, where)
    raise MergeClash(where)


def _is_listed(value: Any) -> bool:
    """Whether it is a list of records with ids of their own."""
    return (
        isinstance(value, tuple)
        and all(getattr(v, "id", "") for v in value)
        and len({v.id for v in value}) == len(value)
    )


def _by_key(
    base: dict[str, Any],
    mine: dict[str, Any],
    theirs: dict[str, Any],
    where: tuple[str, ...],
    named: dict[str, str] | None = None,
) -> dict[str, Any]:
    found = {}
    told = named or {}
    for key in dict.fromkeys([*theirs, *mine]):
        sides = [side.get(key, _NONE) for side in (base, mine, theirs)]
        if _NONE in sides[1:] and sides[0] not in sides[1:]:
            if sides[0] is not _NONE:
                raise MergeClash((*where, told.get(key, key)))  # one took away what the other changed
            value = sides[1] if sides[2] is _NONE else sides[2]
        else:
            value = merged(sides[0], sides[1], sides[2], where if named else (*where, key))  # a record says its name
        if value is not _NONE:
            found[key] = value
    return found


def _in_order(
    base: Sequence[Any], mine: Sequence[Any], theirs: Sequence[Any], where: tuple[str, ...]
) -> tuple[Any, ...]:
    """By ids, in the order of whoever changed it."""
    known = [{r.id: r for r in side} for side in (base, mine, theirs)]
    named = {r.id: str(getattr(r, "name", "") or r.id) for side in known for r in side.values()}
    kept = _by_key(known[0], known[1], known[2], where, named)
    common = [key for key in known[0] if all(key in side for side in known)]

    def order(side: dict[str, Any]) -> list[str]:
        return [key for key in side if key in set(common)]

    if order(known[2]) == common:
        first, second = known[1], known[2]
    elif order(known[1]) in (common, order(known[2])):
        first, second = known[2], known[1]
    else:
        raise MergeClash((*where, "the order of " + ", ".join(named[k] for k in common[:3])))
    keys = [key for key in first if key in kept]
    before = ""
    for key in second:  # what only the other side has stands after what it stood after there
        if key in kept and key not in keys:
            keys.insert(keys.index(before) + 1 if before in keys else 0, key)
        before = key if key in kept else before
    return tuple(kept[key] for key in keys)
