"""What an open sentence makes is seen coarse first: the facets that stay are those that would have come without it."""

import pytest
from tests.support.solids import Bench

from architectonic.describe.results import Node
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.propagate.targets import Look, all_scopes
from architectonic.propagate.whole import evaluate_scopes

pytestmark = pytest.mark.kernel


@pytest.fixture
def bench(engine):
    made = Bench(engine)
    made.store(Fillet(id="f", name="Round", edges=(made.upright(0), made.upright(1)), radius=made.e("8 mm")))
    return made


def facets(bench, **how):
    (at,) = all_scopes(bench.family)
    seen = evaluate_scopes(bench.engine.evaluator, bench.family, [at], (Look(at),), measured=False, **how)
    found = seen.value(Node("mesh", at, "b1"))
    assert found is not None
    return found


def test_a_coarse_picture_leaves_no_trace_in_the_exact_one(bench):
    bench.store(Fillet(id="g", name="More", edges=(bench.upright(2),), radius=bench.e("6.5 mm")))
    (at,) = all_scopes(bench.family)
    node = Node("mesh", at, "b1")

    def seen(quick):
        found = evaluate_scopes(bench.engine.evaluator, bench.family, [at], (Look(at),), measured=False, quick=quick)
        return found.value(node)

    coarse, exact = seen(True), seen(False)
    assert len(coarse["triangles"]) < len(exact["triangles"]) and coarse["faces"] == exact["faces"]
    assert coarse["edges"] == exact["edges"]
    again = seen(True)
    assert again is exact  # what is at hand is shown as it is


def test_facets_do_not_depend_on_what_was_drawn_before(bench, tmp_path):
    """The same body in a fresh process, without the coarse picture before: the same bytes."""
    from architectonic.session.open.engine import Engine

    facets(bench, quick=True)
    after = facets(bench)
    fresh = Engine.start(tmp_path, 1)
    try:
        bench.engine = fresh
        assert facets(bench) == after
    finally:
        fresh.close()
