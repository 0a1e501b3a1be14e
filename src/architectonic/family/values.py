"""What is said of a document in values: parameters, files that drive them, rules, guards and measurements."""

from __future__ import annotations

from typing import Literal

from architectonic.family.references import Expression, Record, Reference


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
    "distance",
    "apart",
    "angle",
    "radius",
    "length",
    "area",
    "volume",
    "mass",
    "centre x",
    "centre y",
    "centre z",
    "wall",
    "wall by ball",
    "draft",
    "inside radius",
    "curvature",
    "deviation",
    "hole to edge",
    "hole to hole",
]


class Measurement(Record, frozen=True, kw_only=True):
    """A named figure of what is made; expressions, rules and guards may use it like any other value.

    Attributes:
        what: distance is the shortest way between two things as they are; apart is that between planes, lines and
            points without ends.
        of: one thing, or two for what lies between them; whole bodies have no label. Of the least wall and the like: bodies,
            then the direction, or the body that they are held against, where one is needed.
    """

    id: str
    name: str
    what: Measures
    of: tuple[Reference, ...]
