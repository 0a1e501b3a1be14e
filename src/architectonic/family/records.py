"""The documents of a family as frozen data (docs/format.md).

Nothing here computes; every edit makes new records (family.edits). Coordinates are mm, angles rad, in the frame
that the field names. Order matters in tuples; everything else is keyed by id.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, Union

import msgspec

from architectonic.base import kinds

# what documents are made of has one address, whichever module it is written in
from architectonic.family.drawn import *
from architectonic.family.operations.base import *
from architectonic.family.operations.drawing.datum import *
from architectonic.family.operations.drawing.sketch import *
from architectonic.family.operations.drawing.underlay import *
from architectonic.family.placements import *
from architectonic.family.references import *

if TYPE_CHECKING:
    AnyOperation = Operation
else:  # one of those that are declared: files are read into the record that their word names
    AnyOperation = Union[kinds.records("family.operations", Operation)]  # noqa: UP007

FORMAT = 2
DEFAULT_SIZE = "default"
STANDARD_PLANES = ("front", "top", "right")
STANDARD_AXES = ("x", "y", "z")
ORIGIN = "origin"
STANDARD = (*STANDARD_PLANES, *STANDARD_AXES, ORIGIN)
"""What every document has by itself: three planes, the axes along which they cross, and the point where they meet."""


class Parameter(Record, frozen=True, kw_only=True):
    """A named value: one common expression, and own ones per size or row (blank = parent's, else common).

    Attributes:
        group: the heading it stands under; the rows of a group stand together.
    """

    id: str
    name: str
    quantity: str = "length"
    unit: str = "mm"
    common: Expression
    own: dict[str, Expression] = {}
    group: str = ""
    note: str = ""


class Link(Record, frozen=True, kw_only=True):
    """A spreadsheet that drives values: their stored expressions are what was accepted from it last.

    Attributes:
        file: relative to the family's folder, with forward slashes; or absolute.
        sheet: of a workbook, "" for its first.
        name_column, unit_column: headings of the columns of names and of units ("" for none: the rows' own units).
        columns: the heading of the column behind each cell: "" for the common value, else a size or row.
        rows: the name in the file behind each parameter, by its id.
        at_once: new values are taken without being asked about.
    """

    name: str
    file: str
    sheet: str = ""
    name_column: str
    unit_column: str = ""
    columns: dict[str, str] = {}
    rows: dict[str, str] = {}
    at_once: bool = False


class Rule(Record, frozen=True, kw_only=True):
    """A comparison that must hold, and the sentence that is shown when it does not."""

    id: str
    name: str
    holds: Expression
    message: str = ""


Figure = Literal["volume", "area", "box", "centre"]


class Guard(Record, frozen=True, kw_only=True):
    """A value or a body that must stay as it was recorded; it stands first in every impact.

    Attributes:
        value: what is watched, or
        body: the body that is, with
        figures: which measurements of it.
        recorded: what they were, by size or row, in internal units.
        within: how far they may move; nothing at all when absent.
    """

    id: str
    name: str
    value: Expression | None = None
    body: Reference | None = None
    figures: tuple[Figure, ...] = ()
    recorded: dict[str, tuple[float, ...]] = {}
    within: Expression | None = None
    message: str = ""


Measures = Literal[
    "distance", "apart", "angle", "radius", "length", "area", "volume", "mass", "centre x", "centre y", "centre z"
]


class Measurement(Record, frozen=True, kw_only=True):
    """A named figure of what is made; expressions, rules and guards may use it like any other value.

    Attributes:
        what: distance is the shortest way between two things as they are; apart is that between planes, lines and
            points without ends.
        of: one thing, or two for what lies between them; whole bodies have no label.
    """

    id: str
    name: str
    what: Measures
    of: tuple[Reference, ...]


class Configuration(Record, frozen=True, kw_only=True):
    """A row of a document; `size` says for which size it stands ("" for none)."""

    id: str
    name: str
    parent: str = ""
    size: str = ""


class Body(Record, frozen=True, kw_only=True):
    """What is said of a body: its name and properties. Its shape comes from operations.

    Attributes:
        group: the heading that it is listed under with others; "" for none.
        colour: `#RRGGBB`; "" for the next of the palette.
    """

    name: str
    density: Expression | None = None
    material: str = ""
    backdrop_only: bool = False
    group: str = ""
    colour: str = ""


# --- documents ------------------------------------------------------------------------------------------


class Document(Record, frozen=True, kw_only=True):
    """Common to all documents.

    Attributes:
        number: what it is listed and ordered by; no two are alike, "" for none.
    """

    format: int = msgspec.field(default_factory=lambda: FORMAT)
    id: str
    name: str
    number: str = ""
    note: str = ""
    parameters: tuple[Parameter, ...] = ()
    rules: tuple[Rule, ...] = ()
    guards: tuple[Guard, ...] = ()
    configurations: tuple[Configuration, ...] = ()
    links: dict[str, Link] = {}

    @property
    def checked(self) -> tuple[Rule | Guard, ...]:
        """Its rules and guards."""
        return (*self.rules, *self.guards)

    @property
    def kind(self) -> str:
        """The word for what this is: table, layout, part, assembly."""
        return str(self.__struct_config__.tag)


class Table(Document, tag="table", tag_field="kind", frozen=True, kw_only=True):
    """Named values that drive other documents."""


class Model(Document, frozen=True, kw_only=True):
    """A document with a build list."""

    feeds: dict[str, Feed] = {}
    build: tuple[AnyOperation, ...] = ()
    bodies: dict[str, Body] = {}
    measurements: tuple[Measurement, ...] = ()


class Layout(Model, tag="layout", tag_field="kind", frozen=True, kw_only=True):
    """Sketches and datums, no solids."""


class Part(Model, tag="part", tag_field="kind", frozen=True, kw_only=True):
    """Bodies made from what drives them."""


class Instance(Record, frozen=True, kw_only=True):
    """One placed use of a part or assembly.

    Attributes:
        placement: where it stands (base.rigid); () on the shared origin.
    """

    id: str
    name: str
    document: str
    configuration: str = MATCH
    placement: tuple[float, ...] = ()


class Assembly(Model, tag="assembly", tag_field="kind", frozen=True, kw_only=True):
    """Parts in place, with sketches and datums of its own."""

    instances: tuple[Instance, ...] = ()


Valued = Parameter | Constraint | Measurement
"""What has a value that expressions can name."""
AnyDocument = Table | Layout | Part | Assembly


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
