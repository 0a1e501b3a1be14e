"""Stretches of a build list: neighbouring operations under one heading, which is a name that they all carry."""

from __future__ import annotations

from typing import NamedTuple

from msgspec.structs import replace

from architectonic.base.errors import UserFault
from architectonic.family.records import AnyOperation

Build = tuple[AnyOperation, ...]


class Stretch(NamedTuple):
    """A heading, and the places of its first and last operation in the list."""

    name: str
    first: int
    last: int


def stretches(build: Build) -> list[Stretch]:
    """The stretches of a list, in order."""
    found: list[Stretch] = []
    for k, operation in enumerate(build):
        if found and found[-1].last == k - 1 and operation.stretch == found[-1].name:
            found[-1] = found[-1]._replace(last=k)
        elif operation.stretch:
            found.append(Stretch(operation.stretch, k, k))
    return found


def settled(build: Build, moved: set[str]) -> Build:
    """The list after some operations were put in or moved: each is part of the stretch it came to lie in, or of none."""
    out = list(build)
    for k, operation in enumerate(out):
        if operation.id not in moved:
            continue
        before = next((o.stretch for o in reversed(out[:k]) if o.id not in moved), "")
        after = next((o.stretch for o in out[k + 1 :] if o.id not in moved), "")
        inside = before if before == after else operation.stretch if operation.stretch in (before, after) else ""
        out[k] = replace(operation, stretch=inside)
    return tuple(out)


def headed(build: Build, first: str, last: str, name: str) -> Build:
    """The list with operations from one to another under a heading; "" takes their heading away.

    Raises:
        UserFault: the last stands before the first, or another stretch has the name.
    """
    ids = [o.id for o in build]
    start, end = ids.index(first), ids.index(last)
    name = " ".join(name.split())
    if end < start:
        raise UserFault("a stretch goes from an earlier operation to a later one", build[start].name)
    others = {s.name for s in stretches(build) if s.last < start - 1 or s.first > end + 1}
    if name and name in others:
        raise UserFault(f"another stretch is called “{name}”", "", "choose a different name")
    return tuple(replace(o, stretch=name) if start <= k <= end else o for k, o in enumerate(build))
