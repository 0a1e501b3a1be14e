"""The kinds of documents, read from their declarations."""

from __future__ import annotations

from architectonic.base.kinds import declared
from architectonic.describe.documents.kind import DocumentKind
from architectonic.family.documents.base import Document

DOCUMENTS: dict[type[Document], DocumentKind] = {
    k.record: k for k in sorted(declared("describe.documents", DocumentKind), key=lambda k: (k.record.rank, k.word))
}
BY_WORD: dict[str, DocumentKind] = {k.word: k for k in DOCUMENTS.values()}


def kind_of(document: Document) -> DocumentKind:
    """What the program knows about the kind of a document."""
    return DOCUMENTS[type(document)]
