"""Parts: bodies made from what drives them."""

from __future__ import annotations

from architectonic.describe.documents.kind import DocumentKind
from architectonic.family.documents.part import Part

KIND = DocumentKind(
    Part,
    views=("Bodies", "Sketch", "Range"),
    sign=(
        ((8.0, 1.8), (14.0, 4.8), (8.0, 7.8), (2.0, 4.8), (8.0, 1.8)),
        ((2.0, 4.8), (2.0, 11.0), (8.0, 14.2), (14.0, 11.0), (14.0, 4.8)),
        ((8.0, 7.8), (8.0, 14.2)),
    ),
)
