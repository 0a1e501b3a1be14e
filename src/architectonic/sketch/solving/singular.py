"""Singular positions of a solved sketch: dead centres, and lines of no length.

There the equations say less than they do a little to the side. A rank that is missing where a sketch stands and is
there again after one of its dimensions has changed by one in a hundred belongs to the position; one that stays away is
a dependency, as theorems make them (docs/decisions/0004).
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from architectonic.sketch.solving.blocks import plan
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.problem import Equations
from architectonic.sketch.solving.sides import side_of
from architectonic.sketch.solving.solve import Solution, solve
from architectonic.sketch.solving.system import System

NO_LENGTH = 1e-7
"""Below this a line has no length, mm."""
_RANK = 1e-9
_ASIDE = (1.01, 0.99)
_MOST = 6
"""Dimensions that are tried."""
_SIZES = ("distance", "angle", "radius", "diameter", "horizontal_distance", "vertical_distance")


def without_length(values: dict[str, tuple[float, ...]], curves: list[Curve]) -> tuple[str, ...]:
    """Drawn lines that have shrunk to a point."""
    return tuple(
        c.id
        for c in curves
        if c.kind == "line" and not c.fixed and math.dist(values[c.id][:2], values[c.id][2:]) < NO_LENGTH
    )


def dead(curves: list[Curve], constraints: list[Constraint], solution: Solution) -> tuple[str, ...]:
    """Curves that stand at a dead centre: they can move there only because of where they stand.

    Args:
        curves: as they were drawn; solution: of them, without conflict.
    """
    if not solution.freedoms or solution.conflict:
        return ()
    here = [c if c.fixed else replace(c, values=solution.values[c.id], drawn=()) for c in curves]
    problem = Equations(System(here, constraints))
    u, found = problem.start(), dict[str, None]()
    for block in plan(problem).blocks:
        _, slopes = problem.jacobian(u, [problem.equations[k] for k in block.equations], list(block.columns))
        if block.square and side_of([list(map(float, line)) for line in slopes]) != 0:
            continue
        if np.linalg.matrix_rank(slopes, tol=_RANK * max(1.0, float(np.abs(slopes).max(initial=0.0)))) == min(
            slopes.shape
        ):
            continue
        own = {k for k in problem.system.first if set(block.columns) & set(problem.columns_of(k))}
        owners = {problem.equations[k].owner for k in block.equations}
        if _passes(here, constraints, owners, solution.freedoms):
            found.update(dict.fromkeys(sorted(own)))
    return tuple(found)


def _passes(here: list[Curve], constraints: list[Constraint], owners: set[str], freedoms: int) -> bool:
    """Whether fewer freedoms are left when one of the dimensions concerned changes by a little."""
    size = max([abs(v) for c in here for v in c.values] + [1.0])
    # a straight start would not find the way to the side
    aside = [
        c
        if c.fixed
        else replace(c, values=tuple(v + 1e-3 * size * math.sin(7.0 * k + i) for i, v in enumerate(c.values)))
        for k, c in enumerate(here)
    ]
    sizes = [c for c in constraints if c.id in owners and c.kind in _SIZES and c.value]
    for c in sizes[:_MOST]:
        for share in _ASIDE:
            other = replace(c, value=(c.value or 0.0) * share)
            found = solve(aside, [other if k.id == c.id else k for k in constraints])
            if not found.conflict and found.freedoms < freedoms:
                return True
    return False
