"""The order of the bodies of a document: that in which its build list makes them, whatever was stored or made first.

Files hold bodies by id; their columns, names in lists and colours must be the same before and after a family is opened.
"""

from __future__ import annotations

from typing import TypeVar

import msgspec

from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import Model

D = TypeVar("D")


def in_order(document: D) -> D:
    """The document with its bodies in order; those that nothing makes stand last, by name."""
    if not isinstance(document, Model) or len(document.bodies) < 2:
        return document
    made = dict.fromkeys(b for o in document.build if isinstance(o, BodyOperation) for b in o.makes)
    known = [b for b in made if b in document.bodies]
    rest = sorted((b for b in document.bodies if b not in made), key=lambda b: (document.bodies[b].name, b))
    keys = [*known, *rest]
    if keys == list(document.bodies):
        return document
    return msgspec.structs.replace(document, bodies={k: document.bodies[k] for k in keys})
