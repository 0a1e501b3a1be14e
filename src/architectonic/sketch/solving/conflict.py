"""Which constraints disagree, and which already say what another one says.

From where it shows, neighbours are added until the set cannot be true by itself; then what is not needed for that is
taken away, in halves and one by one (Chinneck, Feasibility and Infeasibility in Optimization, 2008, ch. 6: additive
and deletion filter).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable

import numpy as np
from scipy.sparse import csr_matrix, identity
from scipy.sparse.linalg import splu

from architectonic.base.places import curve_of
from architectonic.sketch.solving.entities import GIVEN, Constraint, Curve
from architectonic.sketch.solving.problem import Array
from architectonic.sketch.solving.system import System

MOST = 120
"""Constraints among which a smallest set is looked for."""
Feasible = Callable[[list[Curve], list[Constraint]], bool]


def disagreeing(system: System, first: Iterable[str], feasible: Feasible) -> tuple[str, ...]:
    """Ids of a smallest set of constraints that cannot all be true, joins of points aside.

    Joins are how a drawing hangs together: they are part of the reason, but never what one would take away.

    Args:
        first: constraints at which it shows.
        feasible: whether some constraints can all be true.
    """
    given = {c.id for c in GIVEN}
    curves = {c.id: c for c in system.curves.values() if c.id not in given}
    shown = set(first)
    chosen = [c for c in system.constraints if c.id in shown]
    touched = _curves_of(chosen) - given

    def possible(constraints: list[Constraint]) -> bool:
        used = _curves_of(constraints)
        return feasible([c for k, c in curves.items() if k in used], constraints)

    while possible(chosen):
        wider = [c for c in system.constraints if any(curve_of(p) in touched for p in c.of)]
        if len(wider) == len(chosen) or len(wider) > MOST:
            return tuple(c.id for c in system.constraints if c.id in shown)
        chosen, touched = wider, _curves_of(wider) - given
    removable = [c for c in chosen if c.kind != "coincident"]
    size = max(1, len(removable) // 2)
    while True:
        taken = False
        for i in range(0, len(removable), size):
            without = {c.id for c in removable[i : i + size]}
            rest = [c for c in chosen if c.id not in without]
            if not possible(rest):
                chosen, taken = rest, True
                removable = [c for c in removable if c.id not in without]
                break
        if not taken:
            if size == 1:
                break
            size //= 2
    return tuple(c.id for c in removable) or tuple(c.id for c in chosen)


def _curves_of(constraints: list[Constraint]) -> set[str]:
    return {curve_of(p) for c in constraints for p in c.of}


def _partners(
    system: System, x: list[float], constraints: list[Constraint], added: Constraint, tolerance: float
) -> list[str] | None:
    """Owners of the rows that the rows of a constraint are combinations of; None when a row is none of them.

    A row without derivative (both sides are fixed) has no partners and counts as decided.
    """
    rows: list[dict[int, float]] = [g for _, g in system.internal_rows(x)]
    owner = [""] * len(rows)
    for c in constraints:
        for _, gradient in system.rows(c, x):
            rows.append(gradient)
            owner.append(c.id)
    columns = {i: k for k, i in enumerate(i for i in range(len(x)) if i not in system.fixed)}
    old, target = _unit_rows(rows, columns), _unit_rows([g for _, g in system.rows(added, x)], columns).toarray()
    combination = _combinations(old)
    found: dict[str, None] = {}
    decided = False
    for row in target:
        if not np.any(row):
            decided = True
        elif rows:
            coefficients = combination(row)
            if np.linalg.norm(old.T @ coefficients - row) < tolerance:
                decided = True
                found.update({owner[k]: None for k in np.flatnonzero(np.abs(coefficients) > 1e-7)})
    return [c for c in found if c] if decided else None


def _unit_rows(gradients: list[dict[int, float]], columns: dict[int, int]) -> csr_matrix:
    """Rows of length 1, or 0 where nothing can move, over the columns of what can."""
    data: list[float] = []
    at: list[int] = []
    ends = [0]
    for gradient in gradients:
        free = [(columns[i], g) for i, g in gradient.items() if i in columns]
        size = math.sqrt(sum(g * g for _, g in free)) or 1.0
        data += [g / size for _, g in free]
        at += [k for k, _ in free]
        ends.append(len(data))
    return csr_matrix((data, at, ends), shape=(len(gradients), len(columns)))


def _combinations(rows: csr_matrix) -> Callable[[Array], Array]:
    """Least squares over the rows of a sparse matrix, by normal equations that are factored once.

    A trace of regularization lets dependent rows pass; steps of refinement on the true residual take it, and what the
    squared condition costs, out again (Björck, Numerical Methods for Least Squares Problems, 1996, sec. 2.9).
    """
    if not rows.shape[0]:
        return lambda row: np.zeros(0)
    factors = splu((rows @ rows.T + 1e-12 * identity(rows.shape[0])).tocsc())

    def combination(row: Array) -> Array:
        found = np.zeros(rows.shape[0])
        for _ in range(4):
            found += factors.solve(rows @ (row - rows.T @ found))
        return found

    return combination


def depends_on(curves: list[Curve], constraints: list[Constraint], added: Constraint) -> tuple[str, ...]:
    """Which constraints already decide what `added` says; () when it says something new.

    Args:
        curves: solved positions.
        constraints: what holds so far, without redundancy.
        added: the constraint under consideration.

    Returns:
        The ids of the smallest set of `constraints` that determines a row of `added` to first order (the
        coefficients over independent rows are unique, so the set is); ("",) when both sides are fixed.
    """
    system = System(curves, [*constraints, added])
    found = _partners(system, system.x, constraints, added, 1e-7)
    return () if found is None else tuple(found) or ("",)
