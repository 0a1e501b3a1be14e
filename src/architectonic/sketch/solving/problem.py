"""A sketch as equations in the variables that elimination leaves, in units of its size.

Every variable of a curve is a column plus an offset, or a constant. Rows keep the full variables, so that the drawn
state (which need not satisfy the merges) and the solved one can both be put in.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from architectonic.sketch.solving.kernels import Kernel
from architectonic.sketch.solving.system import System

Array = NDArray[np.float64]


class Equation(NamedTuple):
    """A row: its kernel and constant, its full variables, their columns (-1: constant), and whose it is."""

    kernel: Kernel
    value: float
    at: tuple[int, ...]
    columns: tuple[int, ...]
    owner: str


class Equations:
    """Equations of a system.

    Attributes:
        scale: size of the sketch, mm; all lengths below are divided by it.
        drawn: start values of the full variables.
        column, offset: where each full variable stands among the columns, and how far from it.
        members: full variables of each column.
        equations: in the order of the constraints, inner rows of arcs first.
    """

    def __init__(self, system: System) -> None:
        self.system = system
        self.scale = max([*(abs(v) for v in system.x), 1e-3])
        k = 1.0 / self.scale
        roots = sorted({r for r in system.root if r >= 0})
        number = {r: i for i, r in enumerate(roots)}
        drawn = [v for c in system.curves.values() for v in (c.drawn if c.fixed and c.drawn else c.values)]
        self.drawn = [v * k for v in (*drawn, *system.x[len(drawn) :])]
        self.column = [number[r] if r >= 0 else -1 for r in system.root]
        self.offset = [o * k for o in system.offset]
        self.members: list[list[int]] = [[] for _ in roots]
        for i, c in enumerate(self.column):
            if c >= 0:
                self.members[c].append(i)
        self.equations: list[Equation] = []
        column = self.column
        rows = [("", row) for row in system.inner()]
        rows += [
            (c.id, row) for c in system.constraints if c.id not in system.eliminated for row in system.equations(c)
        ]
        for owner, row in rows:
            columns = tuple([column[i] for i in row.at])
            if any(c >= 0 for c in columns):
                value = row.value * k if row.length else row.value
                self.equations.append(Equation(row.kernel, value, row.at, columns, owner))

    def columns_of(self, curve: str) -> list[int]:
        """Columns that a curve's variables stand in; -1 for constants."""
        first = self.system.first[curve]
        return [self.column[first + i] for i in range(len(self.system.curves[curve].values))]

    def start(self) -> list[float]:
        """Columns at the mean of what their members were drawn at."""
        drawn, offset = self.drawn, self.offset
        return [sum(drawn[i] - offset[i] for i in m) / len(m) for m in self.members]

    def values(self, e: Equation, u: list[float]) -> list[float]:
        """Values of an equation's variables at a state."""
        offset = self.offset
        return [u[c] + offset[i] if c >= 0 else offset[i] for i, c in zip(e.at, e.columns, strict=True)]

    def full(self, u: list[float]) -> list[float]:
        """All variables in mm."""
        k = self.scale
        return [(u[c] * k if c >= 0 else 0.0) + o for c, o in zip(self.column, self.system.offset, strict=True)]

    def jacobian(self, u: list[float], equations: list[Equation], columns: list[int]) -> tuple[Array, Array]:
        """Residuals and derivatives of some equations by some columns, dense."""
        place = {c: k for k, c in enumerate(columns)}
        residual, slopes = np.zeros(len(equations)), np.zeros((len(equations), len(columns)))
        for k, e in enumerate(equations):
            residual[k], gradient = e.kernel(self.values(e, u), e.value)
            for c, g in zip(e.columns, gradient, strict=True):
                if c in place:
                    slopes[k, place[c]] += g
        return residual, slopes
