"""Pulling a point: where a sketch goes when one of its points is asked to be elsewhere.

The wanted motion is projected on what the constraints leave free (the null space of the Jacobian); from there the
sketch is solved as from any drawn state. So every state on the way satisfies all constraints, and a held point stays.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from scipy.sparse import csr_matrix, identity
from scipy.sparse.linalg import splu

from architectonic.sketch.blocks import Block, connected
from architectonic.sketch.problem import Array, Problem
from architectonic.sketch.solve import Solution, freedoms_of, solve
from architectonic.sketch.system import GIVEN, Constraint, Curve, System

_FAR = 0.3
"""Longest predicted move in units of the sketch: beyond, the tangent says little."""
_NEAR = 1e-4
"""Shorter moves, in units of the sketch, are not worth a step: well below a pixel."""
_DENSE = 60
"""Equations up to which a dense factorisation is quicker."""


def pull(
    curves: list[Curve], constraints: list[Constraint], place: str, to: tuple[float, float], steps: int = 10
) -> Solution | None:
    """The solved sketch with a point as near to a position as it gets.

    A move of the pointer by a little takes one step or two; a jump follows the constraints round in several.

    Args:
        curves: a solved state, mm.
        place: "c1.end", or the id of a point.
        steps: at most so many; while the pointer moves on, few keep the picture with it.

    Returns:
        Without freedoms, which stay as they are; None when the point cannot get nearer.
    """
    best: Solution | None = None
    system = System(curves, constraints)
    for _ in range(steps):
        found = _step(system, place, to)
        if found is None:
            break
        best = found
        moved = [c if c.fixed else replace(c, values=found.values[c.id]) for c in curves]
        system = System(moved, constraints)
    return best


def freedoms(curves: list[Curve], constraints: list[Constraint]) -> tuple[int, frozenset[str]]:
    """Freedoms of a solved sketch and the curves that can move; pulling changes neither, away from singular places."""
    system = System(curves, constraints)
    return freedoms_of(system, system.x)


def _step(system: System, place: str, to: tuple[float, float]) -> Solution | None:
    """One predicted and corrected step; None when it leads no nearer."""
    problem = Problem(system)
    ix, iy = system.point(place)
    columns = [c for c in (problem.column[ix], problem.column[iy]) if c >= 0]
    if not columns:
        return None
    u = problem.start()
    wanted = np.zeros(len(problem.members))
    asked = np.array([to[0] - system.x[ix], to[1] - system.x[iy]]) / problem.scale
    for i, target in ((ix, asked[0]), (iy, asked[1])):
        if problem.column[i] >= 0:
            wanted[problem.column[i]] += target
    step = _projected(problem, u, wanted, columns)
    moved = np.array([step[problem.column[i]] if problem.column[i] >= 0 else 0.0 for i in (ix, iy)])
    length = float(moved @ moved)
    if length < 1e-20:
        return None
    factor = float(asked @ moved) / length
    if abs(factor) * math.sqrt(length) < _NEAR:
        return None
    largest = float(np.abs(step).max()) * abs(factor)
    factor *= min(1.0, _FAR / largest) if largest > 0 else 0.0
    x = problem.full([a + factor * float(b) for a, b in zip(u, step, strict=True)])
    given = {c.id for c in GIVEN}
    drawn = [
        c if c.fixed else replace(c, values=tuple(x[system.first[c.id] + i] for i in range(len(c.values))))
        for c in system.curves.values()
        if c.id not in given
    ]
    found = solve(drawn, system.constraints, diagnose=False)
    if found.conflict:
        return None
    i = ix - system.first[place.split(".")[0]]
    landed = found.values[place.split(".")[0]][i : i + 2]
    before = math.dist((system.x[ix], system.x[iy]), to)
    return found if math.dist(landed, to) < before - _NEAR * problem.scale * 0.1 else None


def _projected(problem: Problem, u: list[float], wanted: Array, columns: list[int]) -> Array:
    """A motion less what the constraints forbid of it, within the part that the columns belong to."""
    part = connected(problem, Block((), tuple(columns)))
    step = np.zeros(len(wanted))
    inside = list(part.columns)
    d = wanted[inside]
    step[inside] = d
    if not part.equations:
        return step
    equations = [problem.equations[k] for k in part.equations]
    if len(equations) <= _DENSE:
        _, slopes = problem.jacobian(u, equations, inside)
        gram = slopes @ slopes.T + 1e-12 * np.eye(len(equations))
        step[inside] = d - slopes.T @ np.linalg.solve(gram, slopes @ d)
        return step
    place = {c: k for k, c in enumerate(inside)}
    rows, cols, data = [], [], []
    for k, e in enumerate(equations):
        _, gradient = e.kernel(problem.values(e, u), e.value)
        for c, g in zip(e.columns, gradient, strict=True):
            if c >= 0:
                rows.append(k)
                cols.append(place[c])
                data.append(g)
    matrix = csr_matrix((data, (rows, cols)), (len(equations), len(inside)))
    gram = (matrix @ matrix.T + 1e-12 * identity(len(equations))).tocsc()
    step[inside] = d - matrix.T @ splu(gram).solve(matrix @ d)
    return step
