"""Pulling a point: where a sketch goes when one of its points is asked to be elsewhere.

The wanted motion is projected on what the constraints leave free (the null space of the Jacobian), and what that step
leaves over is taken back square to it by the same factors (the chord method; Rheinboldt, Numerical Analysis of
Parametrized Nonlinear Equations, 1986, ch. 4). A step counts only when what was taken back is small beside it, so every
state on the way satisfies all constraints and none jumps to another branch; a held point stays.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from operator import itemgetter
from typing import NamedTuple

import numpy as np
from scipy.sparse import csr_matrix, identity
from scipy.sparse.linalg import SuperLU, splu

from architectonic.sketch.solving.blocks import Block, connected
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.freedoms import freedoms_of
from architectonic.sketch.solving.problem import Array, Equations
from architectonic.sketch.solving.system import System

_FAR = 0.15
"""Longest predicted move of a column in units of the sketch: beyond, the tangent says little."""
_NEAR = 1e-4
"""Shorter moves, in units of the sketch, are not worth a step: well below a pixel."""
_SOLVED = 1e-13
_BACK = 0.5
"""What may be taken back, as a share of the step."""
_SHORTEST = 1 / 64


def _taker(at: tuple[int, ...]) -> Callable[[list[float]], Sequence[float]]:
    """What takes the variables of a row out of all of them."""
    return itemgetter(*at) if len(at) > 1 else lambda x: (x[at[0]],)


class _Linear(NamedTuple):
    """Derivatives of the rows at a state, the same turned over, and the factors of their product."""

    matrix: csr_matrix
    turned: csr_matrix
    factors: SuperLU

    def across(self, residual: Array) -> Array:
        """The shortest motion that changes the rows by so much."""
        found: Array = self.turned @ self.factors.solve(residual)
        return found


class Drag:
    """A sketch whose point is being pulled; only the part that hangs together with the point moves.

    Args:
        curves: a solved state, mm.
        place: "c1.end", or the id of a point.
    """

    def __init__(self, curves: list[Curve], constraints: list[Constraint], place: str) -> None:
        self.system = System(curves, constraints)
        self.problem = Equations(self.system)
        self.place = place
        self.ix, self.iy = self.system.point(place)
        self.u = np.array(self.problem.start())
        self.own = [c for c in (self.problem.column[self.ix], self.problem.column[self.iy]) if c >= 0]
        part = connected(self.problem, Block((), tuple(self.own))) if self.own else Block((), ())
        self.inside = np.array(part.columns, int)
        self._rows = [self.problem.equations[k] for k in part.equations]
        self._kernels = [(e.kernel, e.value, _taker(e.at)) for e in self._rows]
        place_of = {c: k for k, c in enumerate(part.columns)}
        self._row, self._column, self._use = [], [], []
        for k, e in enumerate(self._rows):
            for c in e.columns:
                self._use.append(c >= 0)
                if c >= 0:
                    self._row.append(k)
                    self._column.append(place_of[c])
        self._shift = 1e-12 * identity(len(self._rows), format="csr")
        self._take = np.array(self._use, bool)
        columns = np.array(self.problem.column)
        self._moving, self._from = columns >= 0, np.maximum(columns, 0)
        self._offset = np.array(self.problem.offset)

    def freedoms(self) -> tuple[int, frozenset[str]]:
        """Freedoms and the curves that can move; pulling changes neither, away from singular places."""
        return freedoms_of(self.system, self.system.x)

    def at(self) -> tuple[float, float]:
        """Where the point is, mm."""
        x = self._full(self.u)
        k = self.problem.scale
        return x[self.ix] * k, x[self.iy] * k

    def values(self) -> dict[str, tuple[float, ...]]:
        """Values of all curves where they are now, mm."""
        x, first = self.problem.full([float(v) for v in self.u]), self.system.first
        return {
            c.id: tuple(x[first[c.id] + i] for i in range(len(c.values))) for c in list(self.system.curves.values())[3:]
        }

    def residual(self) -> float:
        """Largest residual, in units of the sketch."""
        return float(np.abs(self._evaluated(self.u)[0]).max(initial=0.0))

    def pull(self, to: tuple[float, float], steps: int = 10) -> bool:
        """Bring the point as near to a position as it gets; False when it is no nearer.

        A move of the pointer by a little takes one step or two; a jump follows the constraints round in several.

        Args:
            steps: at most so many; while the pointer moves on, few keep the picture with it.
        """
        moved = False
        for _ in range(steps):
            if not self._step(to):
                break
            moved = True
        return moved

    def _full(self, u: Array) -> list[float]:
        found: list[float] = (np.where(self._moving, u[self._from], 0.0) + self._offset).tolist() if len(u) else []
        return found

    def _evaluated(self, u: Array) -> tuple[Array, list[float]]:
        """Residuals of the part's rows, and all their derivatives in a row."""
        x = self._full(u)
        residual: list[float] = []
        slopes: list[float] = []
        for kernel, value, taken in self._kernels:
            r, gradient = kernel(taken(x), value)
            residual.append(r)
            slopes += gradient
        return np.array(residual), slopes

    def _step(self, to: tuple[float, float]) -> bool:
        """One predicted and corrected step; False when it leads no nearer."""
        if not self.own:
            return False
        k, column = self.problem.scale, self.problem.column
        here = self.at()
        asked = np.array([to[0] - here[0], to[1] - here[1]]) / k
        wanted = np.zeros(len(self.u))
        for i, target in ((self.ix, asked[0]), (self.iy, asked[1])):
            if column[i] >= 0:
                wanted[column[i]] += target
        _, slopes = self._evaluated(self.u)
        linear = self._linear(slopes)
        step = wanted[self.inside]
        if linear is not None:
            step = step - linear.across(linear.matrix @ step)
        full = np.zeros(len(self.u))
        full[self.inside] = step
        moved = np.array([full[column[i]] if column[i] >= 0 else 0.0 for i in (self.ix, self.iy)])
        length = float(moved @ moved)
        if length < 1e-20:
            return False
        factor = float(asked @ moved) / length
        if abs(factor) * math.sqrt(length) < _NEAR:
            return False
        factor *= min(1.0, _FAR / (float(np.abs(full).max()) * abs(factor)))
        share = 1.0
        while share >= _SHORTEST:
            found = self._corrected(self.u + share * factor * full, linear, share * factor * full)
            if found is not None:
                before, old = math.dist(here, to), self.u
                self.u = found
                if math.dist(self.at(), to) < before - _NEAR * k * 0.1:
                    return True
                self.u = old
                return False
            share /= 2
        return False

    def _linear(self, slopes: list[float]) -> _Linear | None:
        """The rows at a state with their factors; None without rows."""
        if not self._rows:
            return None
        data = np.array(slopes)[self._take]
        matrix = csr_matrix((data, (self._row, self._column)), (len(self._rows), len(self.inside)))
        turned = matrix.T.tocsr()
        # rows that say the same as others are let pass by the small shift
        return _Linear(matrix, turned, splu((matrix @ turned + self._shift).tocsc()))

    def _corrected(self, u: Array, linear: _Linear | None, step: Array) -> Array | None:
        """Back on the constraints, square to the step; None when that takes too much of it."""
        if linear is None:
            return u
        size = float(np.linalg.norm(step))
        taken, last = np.zeros(len(self.inside)), math.inf
        for iteration in range(14):
            residual, slopes = self._evaluated(u)
            norm = float(np.abs(residual).max(initial=0.0))
            if norm < _SOLVED:
                return u
            if norm > 0.3 * last:  # too far for the old factors
                if iteration > 8:
                    return u if norm < 1e-12 else None
                linear = self._linear(slopes)
                assert linear is not None
            last = norm
            back = linear.across(residual)
            taken -= back
            if float(np.linalg.norm(taken)) > _BACK * size + 1e-9:
                return None
            u = u.copy()
            u[self.inside] -= back
        return None
