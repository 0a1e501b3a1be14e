"""What the records tell of bodies: which are solids and which surfaces."""

from __future__ import annotations

from functools import lru_cache

from architectonic.family.operations.base import BodyKind, BodyOperation
from architectonic.family.records import Model
from architectonic.family.walk import Same


def kinds_of(document: Model) -> dict[str, BodyKind]:
    """What every body is at the end of a build list, its switches left aside; kept per document object."""
    return _kinds(Same(document))


@lru_cache(maxsize=256)
def _kinds(key: Same) -> dict[str, BodyKind]:
    found: dict[str, BodyKind] = {}
    for operation in key.record.build:
        if isinstance(operation, BodyOperation):
            found.update(operation.kinds)
            found.update({new: found[old] for new, old in operation.origins.items() if old in found})
    return found


def surfaces_of(document: Model) -> tuple[str, ...]:
    """Ids of its surfaces."""
    known = kinds_of(document)
    return tuple(b for b in document.bodies if known.get(b) == "surface")
