"""How a solved sketch can still move."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from architectonic.base.places import FIXED, point_on
from architectonic.sketch.solving.blocks import Block, Plan, connected, plan
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.problem import Array, Equations
from architectonic.sketch.solving.sides import _PROBES, _RANK, side_of
from architectonic.sketch.solving.system import System


def freedoms_of(system: System, x: list[float]) -> tuple[int, frozenset[str]]:
    """Freedoms left at `x` (mm, full variables) and the curves that take part in any of them."""
    at = System(
        [
            replace(c, values=tuple(x[system.first[c.id] + i] for i in range(len(c.values))), drawn=())
            for c in system.curves.values()
            if c.id not in FIXED
        ],
        system.constraints,
    )
    problem = Equations(at)
    return _freedoms(problem, plan(problem), problem.start())


def _freedoms(problem: Equations, order: Plan, u: list[float]) -> tuple[int, frozenset[str]]:
    """Freedoms by the ranks of the blocks; what moves, by sending motions of what is free through them.

    A block that is singular here says nothing of ranks further on: then its whole part is taken by singular values.
    """
    n = len(problem.members)
    moves = np.zeros((n, _PROBES))
    random = np.random.default_rng(1)
    moves[list(order.alone)] = random.uniform(0.5, 1.0, (len(order.alone), _PROBES))
    count, done = len(order.alone), set(order.alone)
    for block in order.blocks:
        if done.issuperset(block.columns):
            continue
        equations = [problem.equations[k] for k in block.equations]
        inputs = sorted({c for e in equations for c in e.columns if c >= 0} - set(block.columns))
        _, slopes = problem.jacobian(u, equations, [*block.columns, *inputs])
        own, given = slopes[:, : len(block.columns)], slopes[:, len(block.columns) :]
        pushed = given @ moves[inputs] if inputs else np.zeros((len(equations), _PROBES))
        if block.square:
            if side_of([list(map(float, line)) for line in own]) != 0:
                if pushed.any():
                    moves[list(block.columns)] = -np.linalg.solve(own, pushed)
                done.update(block.columns)
                continue
        elif len(equations) < len(block.columns) and np.linalg.matrix_rank(own, tol=_RANK) == len(equations):
            null = np.linalg.svd(own)[2][len(equations) :]
            count += len(null)
            moves[list(block.columns)] = (
                null.T @ random.uniform(0.5, 1.0, (len(null), _PROBES)) - np.linalg.pinv(own) @ pushed
            )
            done.update(block.columns)
            continue
        whole = connected(problem, block)
        count += _by_singular_values(problem, whole, u, moves) - len(set(order.alone) & set(whole.columns))
        done.update(whole.columns)
    moving = np.abs(moves).max(axis=1) > 1e-7 if n else np.zeros(0, bool)
    free = {
        curve
        for curve, first in problem.system.first.items()
        if any(
            (c := problem.column[first + i]) >= 0 and moving[c] for i in range(len(problem.system.curves[curve].values))
        )
    }
    return count, frozenset(free)


def _by_singular_values(problem: Equations, part: Block, u: list[float], moves: Array) -> int:
    """Freedoms of a connected part, and its motions into `moves`."""
    _, slopes = problem.jacobian(u, [problem.equations[k] for k in part.equations], list(part.columns))
    _, s, vt = np.linalg.svd(slopes, full_matrices=True)
    rank = int(np.sum(s > _RANK * max(float(s[0]), 1.0)))
    weights = np.random.default_rng(2).uniform(0.5, 1.0, (len(vt) - rank, _PROBES))
    moves[list(part.columns)] = vt[rank:].T @ weights
    return len(vt) - rank


def motions(curves: list[Curve], constraints: list[Constraint]) -> dict[str, list[tuple[float, float]]]:
    """How every free point of a solved sketch can still move, by place.

    Returns:
        Unit directions in the sketch's plane: one where a point slides, two where it is wholly free; held points are
        left out.
    """
    system = System(curves, constraints)
    problem = Equations(system)
    n = len(problem.members)
    if n == 0:
        return {}
    _, slopes = problem.jacobian(problem.start(), problem.equations, list(range(n)))
    if len(slopes):
        _, s, vt = np.linalg.svd(slopes, full_matrices=True)
        null = vt[int(np.sum(s > _RANK * max(float(s[0]), 1.0))) :].T
    else:
        null = np.eye(n)
    found: dict[str, list[tuple[float, float]]] = {}
    for curve in system.curves.values():
        for i, name in enumerate(curve.names):
            if curve.fixed or not name.endswith(".x"):
                continue
            first = system.first[curve.id] + i
            moves = np.array(
                [null[c] if (c := problem.column[k]) >= 0 else np.zeros(null.shape[1]) for k in (first, first + 1)]
            )
            directions, sizes, _ = np.linalg.svd(moves) if moves.size else (np.eye(2), np.zeros(2), None)
            free = [k for k, size in enumerate(sizes) if size > 1e-6]
            if free:
                place = curve.id if curve.kind == "point" else point_on(curve.id, name.removesuffix(".x"))
                found[place] = [(float(directions[0, k]), float(directions[1, k])) for k in free]
    return found
