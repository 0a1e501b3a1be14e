"""Bills: what some documents weigh together."""

from __future__ import annotations

from typing import ClassVar

from architectonic.family.documents.base import Document


class Bill(Document, tag="bill", tag_field="kind", frozen=True, kw_only=True):
    """A list of parts by id."""

    rank: ClassVar[int] = 4
    of: tuple[str, ...] = ()
