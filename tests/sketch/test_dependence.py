"""What a new constraint depends on, beside ranks and least squares of NumPy, on dense matrices of the same rows."""

import random

import numpy as np
import pytest
from tests.support.trusses import hinged, parts

from architectonic.sketch.solving import conflict, solve
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.system import System


def placed(make, n):
    curves, constraints = make(n)
    solved = solve.solve(curves, constraints)
    return [Curve(c.id, c.kind, solved.values[c.id]) for c in curves], constraints


def dense(system, gradients):
    free = [i for i in range(len(system.x)) if i not in system.fixed]
    matrix = np.zeros((len(gradients), len(free)))
    for k, gradient in enumerate(gradients):
        for i, g in gradient.items():
            if i in free:
                matrix[k, free.index(i)] = g
    sizes = np.linalg.norm(matrix, axis=1, keepdims=True)
    return matrix / np.where(sizes > 0, sizes, 1.0)


def by_numpy(curves, constraints, added):
    """The same by np.linalg.lstsq: owners of the rows with a share, or () when the row is none of the others."""
    system = System(curves, [*constraints, added])
    rows, owner = [g for _, g in system.internal_rows(system.x)], []
    owner += [""] * len(rows)
    for c in constraints:
        for _, gradient in system.rows(c, system.x):
            rows.append(gradient)
            owner.append(c.id)
    old = dense(system, rows)
    found = []
    for row in dense(system, [g for _, g in system.rows(added, system.x)]):
        shares = np.linalg.lstsq(old.T, row, rcond=None)[0]
        if np.linalg.norm(old.T @ shares - row) < 1e-7:
            found += [owner[k] for k in np.flatnonzero(np.abs(shares) > 1e-7) if owner[k]]
    return tuple(dict.fromkeys(found))


@pytest.mark.parametrize("make", [parts, hinged])
@pytest.mark.parametrize("n", [20, 60, 120])
def test_the_same_as_numpy_says(make, n):
    """Constraints said twice, distances between points anywhere, and between neighbours."""
    curves, constraints = placed(make, n)
    draw = random.Random(n)
    again = [Constraint("new", c.kind, c.of, c.value, c.branch) for c in draw.sample(constraints, 5)]
    points = [c.id if c.kind == "point" else f"{c.id}.start" for c in curves]
    apart = [Constraint("new", "distance", tuple(draw.sample(points, 2)), 30.0) for _ in range(5)]
    level = [Constraint("new", "horizontal_distance", tuple(draw.sample(points, 2)), 30.0) for _ in range(5)]
    decided = 0
    for added in (*again, *apart, *level):
        ours = conflict.depends_on(curves, constraints, added)
        assert set(ours) - {""} == set(by_numpy(curves, constraints, added)), added
        decided += bool(ours)
    assert decided >= 5  # at least what was said twice


def test_one_that_is_said_twice_depends_on_itself_alone():
    curves, constraints = placed(parts, 60)
    for c in constraints[3:40:9]:
        told = conflict.depends_on(curves, constraints, Constraint("new", c.kind, c.of, c.value, c.branch))
        assert told == (c.id,)


def test_what_frees_a_row_makes_it_new():
    """Without the constraint itself, in a sketch without redundancy, the same one says something new (linear algebra)."""
    curves, constraints = placed(parts, 60)
    for k in range(3, 40, 9):
        c = constraints[k]
        rest = [*constraints[:k], *constraints[k + 1 :]]
        assert conflict.depends_on(curves, rest, Constraint("new", c.kind, c.of, c.value, c.branch)) == ()
