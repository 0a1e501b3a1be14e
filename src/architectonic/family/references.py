"""What records point with: expressions, references with their witnesses, sockets and feeds."""

from __future__ import annotations

from typing import Literal

import msgspec

MATCH = "match"
"""Configuration rule: take the source's configuration for the same size (docs/decisions/0003)."""
PARENT = "parent"
"""Configuration rule of values of one's own document: take that of the row that this one is the child of."""
SELF = "self"
"""A reference to the document it stands in, so that a copy of the file is a fork."""


class Record(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    omit_defaults=True,
    forbid_unknown_fields=True,
    cache_hash=False,
):
    """Common settings of all stored records."""


class ValueRef(Record, frozen=True, kw_only=True):
    """What a name in an expression means: the feed of one parameter or sketch dimension.

    Attributes:
        alternate: of an assembly, the id of the one that is meant; "" for its first.
    """

    document: str = SELF
    item: str
    configuration: str = MATCH
    alternate: str = ""


class Expression(Record, frozen=True, kw_only=True):
    """Text as typed and what its names mean; ids decide, the text is redrawn from current names.

    Attributes:
        choices: of an expression that yields a size or row: the id behind each name that it may yield.
    """

    text: str
    refs: dict[str, ValueRef] = {}
    choices: dict[str, str] = {}


class Witness(Record, frozen=True, kw_only=True):
    """What was picked, at the time: for honest repair and to catch a wrong match; never written by evaluation.

    Attributes:
        kind: plane, cylinder, ... of a face; line, circle, ... of an edge or curve.
        convex: of an edge: convex, concave or smooth.
        neighbours: labels of the faces around.
        at, normal, size: where it was and how large; they only rank candidates.
    """

    kind: str
    convex: str = ""
    neighbours: tuple[str, ...] = ()
    at: tuple[float, ...] = ()
    normal: tuple[float, ...] = ()
    size: float | None = None


class Context(Record, frozen=True, kw_only=True):
    """Through which assembly a neighbour is seen, so that what is taken of it stands where it stands there.

    Attributes:
        path: id of the assembly, then of the instances that lead to the neighbour.
        home: ids of the instances that lead to the document that looks; () where it looks from the assembly itself.
        alternate: of the assembly; "" for its first.
    """

    path: tuple[str, ...]
    home: tuple[str, ...] = ()
    alternate: str = ""


class After(Record, frozen=True, kw_only=True):
    """The stage as after an operation."""

    after: str


Stage = Literal["here", "finished"] | After
"""Which state of a model a reference means: the one that the operation it stands in is given, the finished one, or as
after an operation."""


def operation_of(stage: Stage) -> str:
    """The operation after which a stage is; "" for the others."""
    return stage.after if isinstance(stage, After) else ""


class Reference(Record, frozen=True, kw_only=True):
    """A pointer at something that is made.

    Attributes:
        of: id of the document, or "self".
        item: operation, body, socket, or one of STANDARD.
        label: which face, edge, vertex, curve, point of a curve or region of the item ("" for the whole).
        configuration: "match", or the id of a size or row that is always taken.
        alternate: of an assembly, the id of the one that is taken; "" for its first.
        chosen: an expression that yields the name of the configuration instead.
    """

    of: str = SELF
    item: str
    stage: Stage = "finished"
    label: str = ""
    configuration: str = MATCH
    alternate: str = ""
    chosen: Expression | None = None
    witness: Witness | None = None
    context: Context | None = None


Takes = Literal[
    "curve", "region", "plane", "face", "edge", "vertex", "axis", "section", "body", "layout", "holes", "path"
]
"""What a socket holds. An axis is that of a round face or edge; a section is a body, cut where it is traced; a layout
is taken whole, as the common frame; holes are those of an operation, with their data; a path is a curve in space, all of it."""


class Socket(Record, frozen=True, kw_only=True):
    """One place of a feed that downstream work holds on to; re-pointing changes only this.

    Attributes:
        map: old source labels to new ones, written once when the socket was re-pointed.
    """

    takes: Takes
    source: Reference
    map: dict[str, str] = {}


class Feed(Record, frozen=True, kw_only=True):
    """One recorded dependency: things of one driver that are taken into this document."""

    name: str
    state: Literal["live", "pinned", "severed"] = "live"
    sockets: dict[str, Socket] = {}
