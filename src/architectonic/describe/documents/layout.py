"""Layouts: sketches and datums that drive parts."""

from __future__ import annotations

from architectonic.describe.documents.kind import DocumentKind
from architectonic.family.documents.layout import Layout

KIND = DocumentKind(
    Layout,
    views=("Sketch", "3D", "Range", "Checks"),
    sign=(((2.0, 13.0), (13.0, 3.0)), ((4.0, 3.0), (11.0, 14.0))),
    begin="Make a plane or a sketch: both verbs stand above.",
    drawn=True,
)
