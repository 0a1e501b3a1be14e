"""Parts."""

from __future__ import annotations

from typing import ClassVar

from architectonic.family.documents.base import Model


class Part(Model, tag="part", tag_field="kind", frozen=True, kw_only=True):
    """Bodies made from what drives them."""

    rank: ClassVar[int] = 2
    holds_bodies: ClassVar[bool] = True
    placeable: ClassVar[bool] = True
