"""Assemblies, and what they place."""

from __future__ import annotations

from typing import ClassVar

from architectonic.family.documents.base import Model
from architectonic.family.references import MATCH, Record


class Instance(Record, frozen=True, kw_only=True):
    """One placed use of a part or assembly.

    Attributes:
        placement: where it stands (base.rigid); () on the shared origin.
    """

    id: str
    name: str
    document: str
    configuration: str = MATCH
    placement: tuple[float, ...] = ()


class Assembly(Model, tag="assembly", tag_field="kind", frozen=True, kw_only=True):
    """Parts in place, with sketches and datums of its own."""

    rank: ClassVar[int] = 3
    placeable: ClassVar[bool] = True

    instances: tuple[Instance, ...] = ()
