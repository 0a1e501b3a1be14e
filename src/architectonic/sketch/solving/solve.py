"""Solving a sketch as a pure function of its stored start positions.

Small blocks of equations are solved in order (sketch.blocks), each from where it was drawn, moved rigidly with the
points that it stands on. A straight way counts only on the side of every singular position on which the block was
drawn (the sign of its determinant); where none leads there, the drawn state is deformed into the asked one little by
little, and only where even the shortest step leads across is the other side taken. So the branch that was drawn is the
branch that is kept (docs/decisions/0004).

Source: Newton's method with backtracking; natural parameter continuation of the residual (Allgower & Georg, Numerical
Continuation Methods, 1990, ch. 2); least-norm steps damped in proportion to the residual (Fan & Yuan, Computing 74,
2005) where equations and columns are not equally many.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from architectonic.base import tolerance
from architectonic.base.places import curves_of
from architectonic.sketch.solving.blocks import Block, Plan, connected, plan
from architectonic.sketch.solving.conflict import disagreeing
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.freedoms import _freedoms
from architectonic.sketch.solving.kernels import Kernel
from architectonic.sketch.solving.problem import Equations
from architectonic.sketch.solving.sides import side_of
from architectonic.sketch.solving.system import System

_CONVERGED = 1e-13


_EXACT = 1e-15


_MAX_ITERATIONS = 40


_STEP = 0.7
"""Largest move of a column in one Newton step, in units of the sketch."""


_MAX_MOVE = 0.2
"""Largest move of a column, in units of the sketch, that one step of a deformation may cause."""


_WHOLE = 400
"""Most columns of a part that is solved at once when its blocks say nothing."""


_SIZING = ("offset", "distance", "tangent", "equal", "radius", "diameter")
"""What can ask a radius to be less than nothing."""


_SMALLEST = 1 / 128
"""Shortest step of a deformation."""


@dataclass(frozen=True)
class Solution:
    """Outcome of solving.

    Attributes:
        values: tuple of values (mm) per curve, in the order of `kinds.names_of`.
        freedoms: how many independent ways are left to move.
        free: curves that can still move.
        residual: largest residual over all constraints as given, before elimination (mm, or rad times mm).
        conflict: ids of constraints that cannot all be true, () when solved.
        crossed: curves that stand on the other side of a singular position than they were drawn.
    """

    values: dict[str, tuple[float, ...]]
    freedoms: int
    free: frozenset[str]
    residual: float
    conflict: tuple[str, ...] = ()
    crossed: frozenset[str] = frozenset()


class _Given(NamedTuple):
    """A block as plain numbers: all that its solution depends on.

    Attributes:
        kernels: kernel and constant of each equation; places: its variables' columns within the block, -1 for inputs.
        first: where the columns were drawn; drawn, asked: where each variable stands, less its column.
    """

    kernels: tuple[tuple[Kernel, float], ...]
    places: tuple[tuple[int, ...], ...]
    first: tuple[float, ...]
    drawn: tuple[tuple[float, ...], ...]
    asked: tuple[tuple[float, ...], ...]

    @staticmethod
    def of(problem: Equations, block: Block, u: list[float]) -> _Given:
        """A block of a problem whose inputs are solved."""
        equations = [problem.equations[k] for k in block.equations]
        number = {c: k for k, c in enumerate(block.columns)}
        before, offset = problem.drawn, problem.offset
        first = tuple([u[c] for c in block.columns])
        places = tuple([tuple([number.get(c, -1) for c in e.columns]) for e in equations])
        drawn, asked = [], []
        for e, inside in zip(equations, places, strict=True):
            drawn.append(
                tuple([before[i] - first[k] if k >= 0 else before[i] for i, k in zip(e.at, inside, strict=True)])
            )
            asked.append(
                tuple(
                    [
                        offset[i] if k >= 0 or c < 0 else u[c] + offset[i]
                        for i, k, c in zip(e.at, inside, e.columns, strict=True)
                    ]
                )
            )
        return _Given(tuple([(e.kernel, e.value) for e in equations]), places, first, tuple(drawn), tuple(asked))


class _Stage:
    """A block somewhere between its drawn state (t = 0) and what is asked (t = 1).

    At t its variables stand off their columns, its inputs stand, and its residuals count less what they were when
    drawn, in proportion; so the drawn state solves it at t = 0 exactly.
    """

    def __init__(self, given: _Given) -> None:
        self.given = given
        self.columns = range(len(given.first))
        self.before, self.slopes = self._evaluated(list(given.first), given.drawn)

    def _evaluated(self, x: list[float], base: Sequence[Sequence[float]]) -> tuple[list[float], list[list[float]]]:
        """Residuals and derivatives with the columns at x and all else at `base`."""
        residual, slopes, columns = [], [], self.columns
        for (kernel, value), places, given in zip(self.given.kernels, self.given.places, base, strict=True):
            r, gradient = kernel([v + x[k] if k >= 0 else v for v, k in zip(given, places, strict=True)], value)
            residual.append(r)
            line = [0.0 for _ in columns]
            for k, slope in zip(places, gradient, strict=True):
                if k >= 0:
                    line[k] += slope
            slopes.append(line)
        return residual, slopes

    def rows(self, x: list[float], t: float) -> tuple[list[float], list[list[float]]]:
        """Residuals and derivatives of the block with its columns at x."""
        s, g = 1.0 - t, self.given
        if not s:
            return self._evaluated(x, g.asked)
        base = [[s * p + t * q for p, q in zip(a, b, strict=True)] for a, b in zip(g.drawn, g.asked, strict=True)]
        residual, slopes = self._evaluated(x, base)
        return [r - s * r0 for r, r0 in zip(residual, self.before, strict=True)], slopes

    def newton(self, x: list[float], t: float, limit: int) -> tuple[list[float], float, list[list[float]], int]:
        """Steps towards a solution: point, residual norm, derivatives there, iterations."""
        residual, slopes = self.rows(x, t)
        norm = _norm(residual)
        for iteration in range(limit):
            if norm < _CONVERGED:
                return self._polished(x, norm, residual, slopes, t), min(norm, _CONVERGED), slopes, iteration
            step = _step(residual, slopes, norm)
            largest = max((abs(s) for s in step), default=0.0)
            factor = min(1.0, _STEP / largest) if largest > 0 else 0.0
            for _ in range(12):
                trial = [a + factor * b for a, b in zip(x, step, strict=True)]
                new_residual, new_slopes = self.rows(trial, t)
                new_norm = _norm(new_residual)
                if new_norm < norm:
                    break
                factor /= 2
            else:
                return x, norm, slopes, iteration
            stalled = new_norm > norm * (1 - 1e-9)
            x, residual, slopes, norm = trial, new_residual, new_slopes, new_norm
            if stalled:
                return x, norm, slopes, iteration
        return x, norm, slopes, limit

    def _polished(
        self, x: list[float], norm: float, residual: list[float], slopes: list[list[float]], t: float
    ) -> list[float]:
        """One step more, if it helps: long sketches are asked to be as exact as short ones."""
        if norm < _EXACT:
            return x
        trial = [a + b for a, b in zip(x, _step(residual, slopes, norm), strict=True)]
        return trial if _norm(self.rows(trial, t)[0]) < norm else x


def _norm(residual: list[float]) -> float:
    return math.sqrt(sum(r * r for r in residual))


def _step(residual: list[float], slopes: list[list[float]], norm: float) -> list[float]:
    """The Newton step of a block: exact for square ones, least-norm and damped for others and near singular ones."""
    if len(slopes) == 1 and len(slopes[0]) == 1 and abs(slopes[0][0]) > 1e-9:
        return [-residual[0] / slopes[0][0]]
    if len(slopes) == 2 and len(slopes[0]) == 2:
        (a, b), (c, d) = slopes
        det = a * d - b * c
        if abs(det) > 1e-9 * (abs(a) + abs(b)) * (abs(c) + abs(d)):
            p, q = residual
            return [(b * q - d * p) / det, (c * p - a * q) / det]
    matrix, right = np.array(slopes), np.array(residual)
    if len(slopes) == len(slopes[0]):
        try:
            step = np.linalg.solve(matrix, -right)
            if np.isfinite(step).all() and np.abs(step).max() < 1e6:
                return [float(v) for v in step]
        except np.linalg.LinAlgError:
            pass
    rows, columns = matrix.shape
    damping = max(1e-15, 1e-3 * norm * norm)
    if rows <= columns:
        gram = matrix @ matrix.T
        weight = damping * max(1.0, float(np.trace(gram)) / rows)
        found = -matrix.T @ np.linalg.solve(gram + weight * np.eye(rows), right)
    else:
        gram = matrix.T @ matrix
        weight = damping * max(1.0, float(np.trace(gram)) / columns)
        found = -np.linalg.solve(gram + weight * np.eye(columns), matrix.T @ right)
    return [float(v) for v in found]


def _follow(problem: Equations, block: Block, u: list[float], patient: bool = True) -> tuple[float, bool, bool, bool]:
    """Solve a block in place; returns the norm of what is left over, whether it is singular where it was drawn and
    where it is solved, and whether it came to the other side."""
    given = _Given.of(problem, block, u)
    x, norm, begins, ends, over = _followed(given, tuple(_carried(problem, block, u, list(given.first))), patient)
    for c, value in zip(block.columns, x, strict=True):
        u[c] = value
    return norm, begins, ends, over


@lru_cache(maxsize=8192)
def _followed(given: _Given, carried: tuple[float, ...], patient: bool) -> tuple[list[float], float, bool, bool, bool]:
    """A block solved from its drawn state, by what it is given alone; a dimension that changes leaves most blocks so.

    Args:
        carried: the drawn state moved along with the inputs.
        patient: deform the drawn state when a straight way fails.
    """
    stage = _Stage(given)
    drawn = list(given.first)
    square = len(given.kernels) == len(drawn)
    side = side_of(stage.slopes)
    x, norm, slopes, iterations = stage.newton(list(carried), 1.0, 12 if patient else _MAX_ITERATIONS)
    begin = carried if square else drawn
    move = max((abs(a - b) for a, b in zip(x, begin, strict=True)), default=0.0)
    near = iterations <= 8 and (move <= _MAX_MOVE or (square and len(x) <= 2))
    if patient and not (norm < 1e-11 and near and side * side_of(slopes) >= 0):
        x, norm, slopes = _deformed(stage, drawn, side)
    now = side_of(slopes)
    return x, norm, side == 0, now == 0, side * now < 0


def _deformed(stage: _Stage, x: list[float], side: float) -> tuple[list[float], float, list[list[float]]]:
    """From the drawn state to the asked one by steps that are short enough to stay on the drawn side."""
    done, stride = 0.0, 1.0
    while True:
        t = min(1.0, done + stride)
        new, norm, slopes, iterations = stage.newton(x, t, _MAX_ITERATIONS if stride <= _SMALLEST else 14)
        move = max((abs(a - b) for a, b in zip(new, x, strict=True)), default=0.0)
        good = norm < 1e-11 and move <= _MAX_MOVE and iterations <= 10 and side * side_of(slopes) >= 0
        if not good and stride > _SMALLEST:
            stride /= 2
            continue
        if norm > 1e-9 and t < 1.0:  # cannot be followed: the asked state itself is the last try
            return stage.newton(x, 1.0, _MAX_ITERATIONS)[:3]
        if t >= 1.0:
            return new, norm, slopes
        done, x, stride = t, new, min(1.0, stride * 2)


def _carried(problem: Equations, block: Block, u: list[float], drawn: list[float]) -> list[float]:
    """Where a block's columns start: where they were drawn, moved rigidly with the points that it stands on."""
    system, column, offset, before = problem.system, problem.column, problem.offset, problem.drawn
    inside = set(block.columns)
    fixed: dict[int, int] = {}
    moving: dict[int, int] = {}
    for k in block.equations:
        for i in problem.equations[k].at:
            pair = system.other.get(i)
            if pair is None:
                continue
            if column[i] in inside or column[pair[1]] in inside or column[pair[0]] in inside:
                moving[pair[0]] = pair[1]
            else:
                fixed[pair[0]] = pair[1]

    def now(i: int) -> float:
        return u[column[i]] + offset[i] if column[i] >= 0 else offset[i]

    if not fixed:
        return drawn
    n = len(fixed)
    old = [(before[i], before[j]) for i, j in fixed.items()]
    new = [(now(i), now(j)) for i, j in fixed.items()]
    ox, oy = sum(p[0] for p in old) / n, sum(p[1] for p in old) / n
    nx, ny = sum(p[0] for p in new) / n, sum(p[1] for p in new) / n
    dot = sum((p[0] - ox) * (q[0] - nx) + (p[1] - oy) * (q[1] - ny) for p, q in zip(old, new, strict=True))
    cross = sum((p[0] - ox) * (q[1] - ny) - (p[1] - oy) * (q[0] - nx) for p, q in zip(old, new, strict=True))
    size = math.hypot(dot, cross)
    c, s = (dot / size, cross / size) if size > 1e-12 else (1.0, 0.0)
    total = dict.fromkeys(block.columns, 0.0)
    count = dict.fromkeys(block.columns, 0)
    for i, j in moving.items():
        dx, dy = before[i] - ox, before[j] - oy
        for k, value in ((i, nx + c * dx - s * dy), (j, ny + s * dx + c * dy)):
            if column[k] in inside:
                total[column[k]] += value - offset[k]
                count[column[k]] += 1
    return [total[k] / count[k] if count[k] else d for k, d in zip(block.columns, drawn, strict=True)]


class _Solved(NamedTuple):
    """What solving came to: the columns, the first block that did not come out, whether all are square and regular
    (then nothing can move), and columns that came to the other side of a singular position."""

    problem: Equations
    order: Plan
    u: list[float]
    failed: Block | None
    regular: bool
    crossed: frozenset[int]


def _solved(system: System, patient: bool = True) -> _Solved:
    """All blocks in order.

    When it, or one that it stands on, is singular where it was drawn, the block says nothing: another way may be open
    to its whole part, which is then solved at once.
    """
    problem = Equations(system)
    order, u = plan(problem), problem.start()
    first = list(u)
    doubtful: set[int] = set()
    given_up: set[int] = set()
    crossed: set[int] = set()
    failed: Block | None = None
    regular = not order.alone
    for block in order.blocks:
        if given_up.issuperset(block.columns):
            continue
        left, singular, ends_singular, over = _follow(problem, block, u, patient)
        if over:
            crossed.update(block.columns)
        regular = regular and not ends_singular
        inputs = {c for k in block.equations for c in problem.equations[k].columns}
        if singular or not doubtful.isdisjoint(inputs):
            doubtful.update(block.columns)
        if left <= 1e-10:
            continue
        whole = connected(problem, block)
        given_up.update(whole.columns)
        if whole != block and not doubtful.isdisjoint(block.columns) and len(whole.columns) <= _WHOLE:
            for c in whole.columns:
                u[c] = first[c]
            left, _, _, _ = _follow(problem, whole, u, patient)
        if left > 1e-10:
            failed = failed or block
    return _Solved(problem, order, u, failed, regular, frozenset(crossed))


def raw_residual(system: System, x: list[float], constraints: list[Constraint]) -> dict[str, float]:
    """Largest residual of every constraint as given, on the full variables (mm; angles times the sketch's size)."""
    size = max([abs(v) for v in x] + [1e-3])
    found = {}
    for c in constraints:
        worst = 0.0
        for kernel, at, value, _, turn in system.equations(c):
            worst = max(worst, abs(kernel([x[i] for i in at], value)[0]) * (size if turn else 1.0))
        found[c.id] = worst
    inside = [abs(row.kernel([x[i] for i in row.at], row.value)[0]) for row in system.inner()]
    found[""] = max(inside, default=0.0)
    return found


def _feasible(curves: list[Curve], constraints: list[Constraint]) -> bool:
    """Whether some constraints can all be true, as far as going straight to a solution shows."""
    system = System(curves, constraints)
    found = _solved(system, patient=False)
    if found.failed is not None:
        return False
    x = found.problem.full(found.u)
    return max(raw_residual(system, x, constraints).values(), default=0.0) <= 1e-7 * max(found.problem.scale, 1.0)


def _conflict(problem: Equations, failed: Block | None, raw: dict[str, float]) -> tuple[str, ...]:
    """The smallest set that disagrees, looked for from the block that did not come out."""
    peak = max(raw.values())
    first = [c for c, v in raw.items() if c and v > 0.02 * peak]
    if failed is not None:
        first = [o for k in failed.equations if (o := problem.equations[k].owner)] or first
    return disagreeing(problem.system, dict.fromkeys(first), _feasible)


def solve(curves: list[Curve], constraints: list[Constraint], diagnose: bool = True) -> Solution:
    """Solve a sketch.

    Args:
        curves: start positions, mm; fixed ones stay.
        constraints: places and target values, mm and rad.
        diagnose: also count freedoms, and name what disagrees.

    Returns:
        The solution nearest along the way from the start positions. When there is none, `conflict` names the
        constraints that disagree and `values` are the start positions.
    """
    system = System(curves, constraints)
    problem, order, u, failed, regular, crossed = _solved(system)
    x = problem.full(u)
    raw = raw_residual(system, x, constraints)
    worst = max(raw.values(), default=0.0)
    limit = max(tolerance.SOLVER, 16 * np.finfo(float).eps * max([abs(v) for v in x] + [1.0]))
    if not worst <= limit * 10:
        return Solution(
            {c.id: c.values for c in curves},
            0,
            frozenset(),
            worst,
            _conflict(problem, failed, raw) if diagnose else ("",),
        )
    values = {c.id: tuple(x[system.first[c.id] + i] for i in range(len(c.values))) for c in curves}
    vanished = {c.id for c in curves if c.kind in ("circle", "arc") and not c.fixed and values[c.id][-1] <= 0}
    if vanished:
        told = tuple(c.id for c in constraints if c.kind in _SIZING and vanished & curves_of(c.of))
        return Solution({c.id: c.values for c in curves}, 0, frozenset(), worst, told or ("",))
    freedoms, free = (0, frozenset[str]()) if regular or not diagnose else _freedoms(problem, order, u)
    over = frozenset(c.id for c in curves if crossed & set(problem.columns_of(c.id))) if crossed else frozenset[str]()
    return Solution(values, freedoms, free, worst, (), over)
