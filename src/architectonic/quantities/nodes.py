"""The nodes of a syntax tree: small and frozen, each remembers where in the text it stands."""

from __future__ import annotations

import math
from dataclasses import dataclass

from architectonic.base.errors import UserFault
from architectonic.quantities.units import Dimension

MAX_DEPTH = 60
CONSTANTS = {"pi": math.pi}
"""Names that mean the same everywhere."""


class ExpressionFault(UserFault):
    """An expression that cannot be used; `at` is the position in the text, counted from 0."""

    def __init__(self, what: str, at: int = 0, mend: str = "") -> None:
        super().__init__(what, "", mend)
        self.at = at


@dataclass(frozen=True, slots=True)
class SyntaxNode:
    """Common to all nodes: where it starts and ends in the text, and how deep the tree below it is."""

    at: int
    end: int
    depth: int


@dataclass(frozen=True, slots=True)
class Literal(SyntaxNode):
    """A number with its unit; `value` is in internal units, `bare` when no unit was written."""

    value: float
    dimension: Dimension
    bare: bool


@dataclass(frozen=True, slots=True)
class Name(SyntaxNode):
    """A dotted name, perhaps fixed to one size: `Sizes.wall at M` has the key "Sizes.wall at M"."""

    key: str


@dataclass(frozen=True, slots=True)
class Call(SyntaxNode):
    """A function of the closed list, or an operator written with a sign ("+", "-", "*", "/", "^", "<", "and", "neg")."""

    function: str
    arguments: tuple[SyntaxNode, ...]


def join(function: str, at: int, end: int, arguments: tuple[SyntaxNode, ...]) -> Call:
    depth = 1 + max(a.depth for a in arguments)
    if depth > MAX_DEPTH:
        raise ExpressionFault("this is nested too deeply", at, "split it into several parameters")
    return Call(at, end, depth, function, arguments)


def finite(value: float, at: int) -> float:
    if not math.isfinite(value):
        raise ExpressionFault("this number is too large", at)
    return value
