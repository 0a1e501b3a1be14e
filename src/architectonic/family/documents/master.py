"""Masters."""

from __future__ import annotations

from typing import ClassVar

from architectonic.family.documents.base import Model


class Master(Model, tag="master", tag_field="kind", frozen=True, kw_only=True):
    """Surfaces that several parts are cut and closed from, with the layouts they come from and solids to go by."""

    rank: ClassVar[int] = 2
    holds_bodies: ClassVar[bool] = True
    makes_bodies: ClassVar[bool] = True
