"""The records of a family at one address (docs/format.md); each is written in a module of its own.

Nothing here computes; every edit makes new records (family.edits). Coordinates are mm, angles rad, in the frame
that the field names. Order matters in tuples; everything else is keyed by id. Operations on bodies stand in modules of
their own, below family.operations.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Union

import msgspec

from architectonic.base import kinds
from architectonic.family.documents.assembly import *
from architectonic.family.documents.base import *
from architectonic.family.documents.layout import *
from architectonic.family.documents.master import *
from architectonic.family.documents.part import *
from architectonic.family.documents.table import *
from architectonic.family.drawn import *
from architectonic.family.operations.base import *
from architectonic.family.operations.drawing.datum import *
from architectonic.family.operations.drawing.sketch import *
from architectonic.family.operations.drawing.underlay import *
from architectonic.family.placements import *
from architectonic.family.references import *
from architectonic.family.values import *

if TYPE_CHECKING:
    AnyDocument = Document
else:
    AnyDocument = Union[kinds.records("family.documents", Document)]  # noqa: UP007

DEFAULT_SIZE = "default"
STANDARD_PLANES = ("front", "top", "right")
STANDARD_AXES = ("x", "y", "z")
ORIGIN = "origin"
STANDARD = (*STANDARD_PLANES, *STANDARD_AXES, ORIGIN)
"""What every document has by itself: three planes, the axes along which they cross, and the point where they meet."""

Valued = Parameter | Constraint | Measurement | Bond
"""What has a value that expressions can name."""


class Size(Record, frozen=True, kw_only=True):
    """One size of the family; the first is the default."""

    id: str
    name: str


class Head(Record, frozen=True, kw_only=True):
    """The file family.json; it lists no documents."""

    format: int = msgspec.field(default_factory=lambda: FORMAT)
    id: str
    name: str
    units: str = "mm"
    sizes: tuple[Size, ...] = ()


class Family(msgspec.Struct, frozen=True, kw_only=True):
    """A whole family in memory; documents are keyed by id and never changed in place."""

    head: Head
    documents: dict[str, AnyDocument] = {}
