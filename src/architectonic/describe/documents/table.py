"""Tables: named values that drive other documents."""

from __future__ import annotations

from architectonic.describe.documents.kind import DocumentKind
from architectonic.family.documents.table import Table

KIND = DocumentKind(
    Table,
    views=("Values", "Checks"),
    sign=tuple(line for y in (4.0, 8.0, 12.0) for line in (((5.5, y), (14.0, y)), ((2.5, y), (2.5, y)))),
    note="rules that must hold",
    empty="No rules yet. A rule compares values, and must hold in every size.",
    pictured=False,
)
