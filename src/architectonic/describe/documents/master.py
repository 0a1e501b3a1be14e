"""Masters: surfaces that drive several parts."""

from __future__ import annotations

from architectonic.describe.documents.kind import DocumentKind
from architectonic.family.documents.master import Master

KIND = DocumentKind(
    Master,
    views=("Bodies", "Sketch", "Range", "Checks"),
    begin="Sketch a curve, then make a surface of it.",
    sign=(
        ((1.5, 6.0), (4.0, 3.6), (7.0, 5.0), (9.5, 6.6), (12.5, 5.8), (14.5, 4.0)),
        ((1.5, 11.5), (4.0, 9.1), (7.0, 10.5), (9.5, 12.1), (12.5, 11.3), (14.5, 9.5)),
    ),
)
