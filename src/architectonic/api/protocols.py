"""What the parts of the Python interface know of each other."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, Protocol

from architectonic.base.ids import IdSource
from architectonic.describe.results import Node
from architectonic.family import records as r
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.open.engine import Engine
from architectonic.session.open.session import Session


class Opened(Protocol):
    """The open family, as its documents see it."""

    session: Session
    new_id: IdSource

    @property
    def family(self) -> r.Family:
        """The family as immutable data."""

    @property
    def engine(self) -> Engine:
        """The engine."""

    @property
    def folder(self) -> Path | None:
        """Where it is stored; None while it is in no folder."""

    def evaluate(self, documents: tuple[str, ...] = (), size: str = "", pictured: bool = False) -> Evaluation:
        """What is known of some documents."""

    def known(self, *nodes: Node) -> Evaluation:
        """What a few nodes come to, without starting an engine for what needs no geometry."""

    def name_of(self, at: Scope) -> str:
        """The name of a configuration."""


class Modelled(Protocol):
    """A document with a build list, as its bodies and sketches see it."""

    opened: Opened
    id: str

    @property
    def name(self) -> str:
        """What it is called."""

    @property
    def at(self) -> Scope:
        """It in its size."""

    def cell(self, where: str) -> str:
        """The cell of a size, row or alternate."""

    @property
    def model(self) -> r.Model:
        """It as immutable data."""

    def evaluation(self, pictured: bool = False) -> Evaluation:
        """What is known of it in its size."""

    def apply(self, label: str, change: Callable[[r.Family], r.Family]) -> None:
        """One step that can be undone."""

    def measure(self, what: str, *of: Any) -> float:
        """A figure of one thing or between two."""


class Made(Protocol):
    """An operation, as what it made is asked for."""

    id: str
