"""What the blanks of a model can be filled with: planes, picked faces and edges, regions."""

from __future__ import annotations

from architectonic.describe.sentences import target
from architectonic.desktop.shown import Shown
from architectonic.family.records import STANDARD_PLANES, Datum, Model, Reference
from architectonic.session import picked


def planes(shown: Shown) -> list[tuple[str, Reference]]:
    """Everything flat that an operation at the marker can stand or end on: name and reference.

    Standard planes, datums before the marker, fed planes and faces, and the picked faces.
    """
    family, document = shown.bench.family, shown.document
    if not isinstance(document, Model):
        return []
    found = [(name, Reference(item=name)) for name in STANDARD_PLANES]
    for operation in document.build:
        if operation.id == shown.after_marker:
            break
        if isinstance(operation, Datum) and operation.gives == "plane":
            found.append((operation.name, Reference(item=operation.id)))
    for feed in document.feeds.values():
        for key, socket in feed.sockets.items():
            if socket.takes in ("plane", "face"):
                reference = Reference(item=key)
                found.append((f"{target(family, document, reference)} of {feed.name}", reference))
    found += [("the picked face", r) for r in picks(shown, "face") if r.witness is None or r.witness.kind == "plane"]
    return found


def picks(shown: Shown, kind: str) -> list[Reference]:
    """References to the picked faces or edges of the document's own bodies, as the next operation finds them."""
    found = []
    for what, body, label in shown.picks:
        document, _, key = body.partition(".")
        if what == kind and document == shown.document_id:
            found.append(picked.reference(shown.mesh(body), key, kind, label))
    return found
