"""Tables."""

from __future__ import annotations

from typing import ClassVar

from architectonic.family.documents.base import Document


class Table(Document, tag="table", tag_field="kind", frozen=True, kw_only=True):
    """Named values that drive other documents."""

    rank: ClassVar[int] = 0
