"""How a kind of document is declared: once, in its own module, as KIND."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any, NamedTuple

from architectonic.describe.results import Node, Plan
from architectonic.family.documents.base import Document
from architectonic.family.records import Family
from architectonic.family.scopes import Scope

Stroke = tuple[tuple[float, float], ...]
"""Points of a line in a box of 16 by 16; closed when the last is the first."""
Told = Callable[[Node], Any]
"""The value of a node, None when it has none."""


def _nothing(family: Family, document: Any, at: Scope) -> Iterable[Node]:
    return ()


def _untold(family: Family, document: Any, at: Scope, value: Told) -> dict[str, Any]:
    return {}


class DocumentKind(NamedTuple):
    """Everything that the program knows about a kind of document.

    Attributes:
        record: how it is stored (family.documents); its word, its rank and what it holds stand there.
        views: the canvases that show it, the first one first: Values, Sketch, 3D, Bodies, Range, Plan; or those that
            another package brings.
        sign: its sign, as strokes.
        note: what its list Made of holds, in words.
        empty: what that list says while it is empty; begin: what its picture says then.
        drawn: beside another document it is shown as a sketch; pictured: it can be shown there at all.
        nodes: what of it is evaluated beside values, rules and its build list; later: what of it can wait for that.
        plans: how those nodes are evaluated, by their words.
        told: further entries of a report on one configuration.
    """

    record: type[Document]
    views: tuple[str, ...]
    sign: tuple[Stroke, ...]
    note: str = "operations, acting on"
    empty: str = "Nothing yet: start with New sketch above the canvas."
    begin: str = "Sketch an outline, then extrude it."
    drawn: bool = False
    pictured: bool = True
    nodes: Callable[[Family, Any, Scope], Iterable[Node]] = _nothing
    later: Callable[[Family, Any, Scope], Iterable[Node]] = _nothing
    plans: dict[str, Callable[..., Plan]] = {}
    told: Callable[[Family, Any, Scope, Told], dict[str, Any]] = _untold

    @property
    def word(self) -> str:
        """The word for it in files, reports and commands."""
        return str(self.record.__struct_config__.tag)
