"""What all documents share, and those with a build list."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, Union

import msgspec

from architectonic.base import kinds
from architectonic.family.operations.base import Operation
from architectonic.family.references import Expression, Feed, Record
from architectonic.family.values import Guard, Link, Measurement, Parameter, Rule

if TYPE_CHECKING:
    AnyOperation = Operation
else:  # one of those that are declared: files are read into the record that their word names
    AnyOperation = Union[kinds.records("family.operations", Operation)]  # noqa: UP007

FORMAT = 2
"""Of the files that are written (family.migrate reads earlier ones)."""


class Configuration(Record, frozen=True, kw_only=True):
    """A row of a document, and what is said of it: what is blank is that of its parent, else of the document and its bodies.

    Attributes:
        parent: id of the size or row that it is the child of; "" for none.
        size: for which size it stands; "" for none.
        number: what it is ordered by; note: what is said of it.
        material: of all its bodies; colour: `#RRGGBB`, of all its bodies.
    """

    id: str
    name: str
    parent: str = ""
    size: str = ""
    number: str = ""
    note: str = ""
    material: str = ""
    colour: str = ""


class ColumnsShown(Record, frozen=True, kw_only=True):
    """Which columns of its range a document shows, here and in catalogues.

    Attributes:
        order: keys of columns in the order they were put in; those that are not named come after, as they come.
        shown: keys of columns that are shown because they were asked for; hidden: of those that are not shown.
        fixed: how many of the first stay while others are scrolled.
    """

    order: tuple[str, ...] = ()
    shown: tuple[str, ...] = ()
    hidden: tuple[str, ...] = ()
    fixed: int = 0


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


class Document(Record, frozen=True, kw_only=True):
    """Common to all documents.

    Attributes:
        number: what it is listed and ordered by; no two are alike, "" for none.
        rank: of its kind, in the order in which documents are listed.
        holds_bodies: whether its build list works on bodies; makes_bodies: whether it makes new ones.
        placeable: whether assemblies can use it.
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
    columns: ColumnsShown = ColumnsShown()
    links: dict[str, Link] = {}

    rank: ClassVar[int] = 9
    holds_bodies: ClassVar[bool] = False
    makes_bodies: ClassVar[bool] = False
    placeable: ClassVar[bool] = False

    @property
    def checked(self) -> tuple[Rule | Guard, ...]:
        """Its rules and guards."""
        return (*self.rules, *self.guards)

    @property
    def kind(self) -> str:
        """The word for what this is: table, layout, master, part, assembly."""
        return str(self.__struct_config__.tag)


class Model(Document, frozen=True, kw_only=True):
    """A document with a build list."""

    feeds: dict[str, Feed] = {}
    build: tuple[AnyOperation, ...] = ()
    bodies: dict[str, Body] = {}
    measurements: tuple[Measurement, ...] = ()
