"""Solving a sketch as a pure function of its stored start positions.

The start positions are solved with every dimension at the value it measures there; then the dimensions march to
their targets together, in steps small enough that the solution is followed and not jumped from. So the branch
that was drawn is the branch that is kept, whatever value was asked for before (docs/decisions/0004).

Source: Levenberg-Marquardt with damping proportional to the residual (Fan & Yuan, Computing 74, 2005); natural
parameter continuation (Allgower & Georg, Numerical Continuation Methods, 1990, ch. 2).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from architectonic.base import tolerance
from architectonic.sketch.system import Constraint, Curve, System

Array = NDArray[np.float64]
_CONVERGED = 1e-13
_MAX_ITERATIONS = 40
_MAX_MOVE = 0.2
"""Largest move of any variable, in units of the sketch's size, that one march step may cause."""
_RANK = 1e-9
"""Singular values below this, relative to the largest, count as zero; solver-facts: a real gap lies 1e-6 higher."""


@dataclass(frozen=True)
class Solution:
    """Outcome of solving.

    Attributes:
        values: tuple of values (mm) per curve, in the order of `system.SHAPES`.
        freedoms: how many independent ways are left to move.
        free: curves that can still move.
        residual: largest residual over all constraints as given, before elimination (mm, or rad times mm).
        conflict: ids of constraints that cannot all be true, () when solved.
    """

    values: dict[str, tuple[float, ...]]
    freedoms: int
    free: frozenset[str]
    residual: float
    conflict: tuple[str, ...] = ()


class _Reduced:
    """The system in the variables left after elimination, lengths divided by the sketch's size."""

    def __init__(self, system: System) -> None:
        self.system = system
        roots = sorted({r for r in system.root if r >= 0})
        self.column = {r: i for i, r in enumerate(roots)}
        self.roots = roots
        extent = [abs(v) for v in system.x]
        self.scale = max([*extent, 1e-3])

    def full(self, u: Array) -> list[float]:
        """Values of all variables in mm."""
        s, scale = self.system, self.scale
        return [
            (float(u[self.column[r]]) * scale if r >= 0 else 0.0) + o for r, o in zip(s.root, s.offset, strict=True)
        ]

    def start(self) -> Array:
        """Merged variables start at the mean of their members."""
        total, count = np.zeros(len(self.roots)), np.zeros(len(self.roots))
        for value, r, o in zip(self.system.x, self.system.root, self.system.offset, strict=True):
            if r >= 0:
                total[self.column[r]] += value - o
                count[self.column[r]] += 1
        return np.asarray(total / np.maximum(count, 1) / self.scale)

    def rows(self, u: Array, constraints: list[Constraint]) -> tuple[Array, Array]:
        """Residuals and Jacobian in unit scale: length rows divided by the size, angle rows in rad."""
        s, x = self.system, self.full(u)
        found: list[tuple[float, dict[int, float], float]] = [(r / self.scale, g, 1.0) for r, g in s.internal_rows(x)]
        for c in constraints:
            if c.id in s.eliminated:
                continue
            turn = c.kind in ("parallel", "perpendicular", "angle")
            for r, g in s.rows(c, x):
                found.append((r, g, self.scale) if turn else (r / self.scale, g, 1.0))
        residual = np.zeros(len(found))
        jacobian = np.zeros((len(found), len(self.roots)))
        for k, (value, gradient, factor) in enumerate(found):
            residual[k] = value
            for i, slope in gradient.items():
                root = s.root[i]
                if root >= 0:
                    jacobian[k, self.column[root]] += slope * factor
        return residual, jacobian


def _newton(reduced: _Reduced, u: Array, constraints: list[Constraint]) -> tuple[Array, float, int]:
    """Damped least-norm steps to the nearest solution; returns point, residual norm and iterations."""
    residual, jacobian = reduced.rows(u, constraints)
    norm = float(np.linalg.norm(residual))
    for iteration in range(_MAX_ITERATIONS):
        if norm < _CONVERGED or not len(residual):
            return u, norm, iteration
        gram = jacobian @ jacobian.T
        damping = max(1e-15, 1e-3 * norm * norm) * max(1.0, float(np.trace(gram)) / len(gram))
        step = -jacobian.T @ np.linalg.solve(gram + damping * np.eye(len(gram)), residual)
        largest = float(np.max(np.abs(step))) if len(step) else 0.0
        factor = min(1.0, 0.7 / largest) if largest > 0 else 0.0
        for _ in range(12):
            trial = u + factor * step
            new_residual, new_jacobian = reduced.rows(trial, constraints)
            new_norm = float(np.linalg.norm(new_residual))
            if new_norm < norm:
                break
            factor /= 2
        else:
            return u, norm, iteration
        stalled = new_norm > norm * (1 - 1e-9)
        u, residual, jacobian, norm = trial, new_residual, new_jacobian, new_norm
        if stalled:
            return u, norm, iteration
    return u, norm, _MAX_ITERATIONS


def _march(curves: list[Curve], constraints: list[Constraint]) -> tuple[System, list[float], float]:
    """Follow the solution from the drawn positions to the asked values and to where fixed curves stand now."""
    drawn = [replace(c, values=c.drawn) if c.fixed and c.drawn else c for c in curves]
    measured = System(drawn, [c for c in constraints if c.value is None])
    base = _Reduced(measured)
    u, _, _ = _newton(base, base.start(), measured.constraints)
    x = base.full(u)
    begin = {c.id: measured.measure(c, x) for c in constraints if c.value is not None}
    for c in constraints:
        if c.kind == "angle" and c.value is not None:  # the shorter way round
            begin[c.id] += 2 * math.pi * round((c.value - begin[c.id]) / (2 * math.pi))
    done, stride, norm = 0.0, 1.0, 1.0
    system = measured
    moving = drawn != curves or any(
        abs(begin[c.id] - (c.value or 0.0)) > 1e-12 for c in constraints if c.value is not None
    )
    for _ in range(200):
        reach = min(1.0, done + stride)
        stage = [
            c if c.value is None else replace(c, value=begin[c.id] + reach * (c.value - begin[c.id]))
            for c in constraints
        ] if reach < 1.0 else constraints  # fmt: skip
        system = System([_staged(c, d, x, measured, reach) for c, d in zip(curves, drawn, strict=True)], stage)
        reduced = _Reduced(system)
        u, norm, iterations = _newton(reduced, reduced.start(), stage)
        new = reduced.full(u)
        move = max((abs(a - b) for a, b in zip(new, x, strict=True)), default=0.0) / reduced.scale
        good = norm < 1e-11 and not system.flipped(new) and (not moving or (move <= _MAX_MOVE and iterations <= 8))
        if not good and stride > 1 / 64:
            stride /= 2
            continue
        if norm > 1e-9 and reach < 1.0:  # cannot be followed: try the target itself before giving up
            done, stride = 1.0 - 1e-9, 1.0
            continue
        done, x = reach, new
        if done >= 1.0:
            break
    return system, x, norm


def _staged(c: Curve, drawn: Curve, x: list[float], system: System, reach: float) -> Curve:
    """A curve part of the way: free ones where the last step left them, fixed ones between drawn and present."""
    if c.fixed:
        if reach >= 1.0:
            return c
        return replace(c, values=tuple(a + reach * (b - a) for a, b in zip(drawn.values, c.values, strict=True)))
    first = system.first[c.id]
    return replace(c, values=tuple(x[first : first + len(c.values)]))


def raw_residual(system: System, x: list[float], constraints: list[Constraint]) -> dict[str, float]:
    """Largest residual of every constraint as given, on the full variables (mm; angles times the sketch's size)."""
    size = max([abs(v) for v in x] + [1e-3])
    found = {}
    for c in constraints:
        turn = c.kind in ("parallel", "perpendicular", "angle")
        found[c.id] = max(abs(r) for r, _ in system.rows(c, x)) * (size if turn else 1.0)
    inside = [abs(r) for r, _ in system.internal_rows(x)]
    found[""] = max(inside, default=0.0)
    return found


def solve(curves: list[Curve], constraints: list[Constraint]) -> Solution:
    """Solve a sketch.

    Args:
        curves: start positions, mm; fixed ones stay.
        constraints: places and target values, mm and rad.

    Returns:
        The solution nearest along the way from the start positions. When there is none, `conflict` names the
        constraints that disagree and `values` are the start positions.
    """
    system, x, _ = _march(curves, constraints)
    raw = raw_residual(system, x, constraints)
    worst = max(raw.values(), default=0.0)
    limit = max(tolerance.SOLVER, 16 * np.finfo(float).eps * max([abs(v) for v in x] + [1.0]))
    if not worst <= limit * 10:
        peak = max(v for v in raw.values())
        conflict = tuple(c for c, v in raw.items() if c and v > 0.02 * peak)
        return Solution({c.id: c.values for c in curves}, 0, frozenset(), worst, conflict)
    values = {c.id: tuple(x[system.first[c.id] + i] for i in range(len(c.values))) for c in curves}
    freedoms, free = freedoms_of(system, x)
    return Solution(values, freedoms, free, worst)


def freedoms_of(system: System, x: list[float]) -> tuple[int, frozenset[str]]:
    """Freedoms left at `x` and the curves that take part in any of them (rank by singular values)."""
    at = System([replace(c, values=tuple(x[system.first[c.id] + i] for i in range(len(c.values))))
                 for c in system.curves.values() if c.id not in ("origin", "x_axis", "y_axis")], system.constraints)  # fmt: skip
    reduced = _Reduced(at)
    n = len(reduced.roots)
    if n == 0:
        return 0, frozenset()
    _, jacobian = reduced.rows(reduced.start(), at.constraints)
    if len(jacobian) == 0:
        null = np.eye(n)
    else:
        _, s, vt = np.linalg.svd(jacobian, full_matrices=True)
        rank = int(np.sum(s > _RANK * max(float(s[0]), 1.0)))
        null = vt[rank:].T
    moves = np.linalg.norm(null, axis=1) > 1e-7 if null.shape[1] else np.zeros(n, bool)
    free = frozenset(
        c.id
        for c in at.curves.values()
        if any(
            at.root[at.first[c.id] + i] >= 0 and moves[reduced.column[at.root[at.first[c.id] + i]]]
            for i in range(len(c.values))
        )
    )
    return int(null.shape[1]), free


def depends_on(curves: list[Curve], constraints: list[Constraint], added: Constraint) -> tuple[str, ...]:
    """Which constraints already decide what `added` says; () when it says something new.

    Args:
        curves: solved positions.
        constraints: what holds so far, without redundancy.
        added: the constraint under consideration.

    Returns:
        The ids of the smallest set of `constraints` that determines a row of `added` to first order (the
        coefficients over independent rows are unique, so the set is).
    """
    system = System(curves, [*constraints, added])
    x = system.x
    rows: list[dict[int, float]] = [g for _, g in system.internal_rows(x)]
    owner = [""] * len(rows)
    for c in constraints:
        for _, gradient in system.rows(c, x):
            rows.append(gradient)
            owner.append(c.id)
    new = [g for _, g in system.rows(added, x)]
    columns = [i for i in range(len(x)) if i not in system.fixed]
    place = {i: k for k, i in enumerate(columns)}

    def dense(gradients: list[dict[int, float]]) -> Array:
        matrix = np.zeros((len(gradients), len(columns)))
        for k, gradient in enumerate(gradients):
            for i, g in gradient.items():
                if i in place:
                    matrix[k, place[i]] = g
            size = float(np.linalg.norm(matrix[k]))
            matrix[k] /= size if size > 0 else 1.0
        return matrix

    old, target = dense(rows), dense(new)
    found: dict[str, None] = {}
    for row in target:
        if not np.any(row):
            return ("",)  # both sides are fixed
        if len(old) == 0:
            continue
        coefficients, *_ = np.linalg.lstsq(old.T, row, rcond=None)
        if np.linalg.norm(old.T @ coefficients - row) < 1e-7:
            found.update({owner[k]: None for k in np.flatnonzero(np.abs(coefficients) > 1e-7)})
    return tuple(c for c in found if c)
