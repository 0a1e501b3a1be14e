"""The order of solving: every equation and column once, each block after what it reads, freedoms by counting."""

import pytest
from tests.support.trusses import hinged, parts, truss

from architectonic.sketch.solving.blocks import LEAST_NORM, connected, plan
from architectonic.sketch.solving.entities import Constraint, Curve
from architectonic.sketch.solving.problem import Equations
from architectonic.sketch.solving.system import System

MAKERS = [parts, truss, hinged]


def made(make, size, seed=0):
    problem = Equations(System(*make(size, seed)))
    return problem, plan(problem)


@pytest.mark.parametrize("make", MAKERS)
@pytest.mark.parametrize("size", [20, 101, 301])
def test_every_equation_and_column_stands_in_one_place(make, size):
    problem, order = made(make, size)
    rows = [k for b in order.blocks for k in b.equations]
    columns = [c for b in order.blocks for c in b.columns] + list(order.alone)
    assert sorted(rows) == list(range(len(problem.equations)))
    assert sorted(columns) == list(range(len(problem.members)))


@pytest.mark.parametrize("make", MAKERS)
@pytest.mark.parametrize("size", [20, 101, 301])
def test_a_block_reads_only_what_is_solved_before(make, size):
    problem, order = made(make, size)
    known = set(order.alone)
    for block in order.blocks:
        known |= set(block.columns)
        read = {c for k in block.equations for c in problem.equations[k].columns if c >= 0}
        assert read <= known


def test_held_sketches_fall_into_small_square_blocks():
    """solver-facts 2.3: plates and trusses come apart into blocks of a few columns."""
    for make, largest in ((parts, 6), (truss, 2)):
        _, order = made(make, 1001)
        assert all(b.square for b in order.blocks) and not order.alone
        assert max(len(b.columns) for b in order.blocks) <= largest


def test_what_can_move_counts_its_freedoms():
    """Columns less equations: a truss with one foot fixed turns about it; a mechanism has one freedom a missing bar."""
    problem, order = made(lambda size, seed: truss(size, seed, grounded=False), 31)
    (loose,) = order.blocks
    assert len(loose.columns) - len(loose.equations) == 1 and len(loose.equations) <= LEAST_NORM
    curves, constraints = hinged(301)
    problem = Equations(System(curves, constraints))
    order = plan(problem)
    missing = len(truss(301)[1]) - len(constraints)
    assert len(order.alone) == missing and all(b.square for b in order.blocks)


def test_a_whole_part_is_found_from_any_of_its_blocks():
    problem, order = made(parts, 60)
    for block in order.blocks[:5]:
        whole = connected(problem, block)
        assert set(block.columns) <= set(whole.columns) and set(block.equations) <= set(whole.equations)
        read = {c for k in whole.equations for c in problem.equations[k].columns if c >= 0}
        assert read == set(whole.columns)


def test_equations_that_say_too_much_stay_in_one_block():
    """Two lengths of one line: more equations than columns can answer."""
    curves = [Curve("a", "line", (0.0, 0.0, 30.0, 0.0))]
    constraints = [
        Constraint("f", "fix", ("a.start",)),
        Constraint("h", "horizontal", ("a",)),
        Constraint("d", "distance", ("a",), 30.0),
        Constraint("e", "distance", ("a",), 35.0),
    ]
    (block,) = plan(Equations(System(curves, constraints))).blocks
    assert len(block.equations) == 2 and len(block.columns) == 1 and not block.square
