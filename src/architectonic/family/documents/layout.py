"""Layouts."""

from __future__ import annotations

from typing import ClassVar

from architectonic.family.documents.base import Model


class Layout(Model, tag="layout", tag_field="kind", frozen=True, kw_only=True):
    """Sketches and datums, no solids."""

    rank: ClassVar[int] = 1
