"""The static graph of an edited family, carried on from the one before, is that of the family from scratch."""

import random

import pytest
from tests.support.random_edits import random_edit

from architectonic.base.errors import UserFault
from architectonic.family import edits
from architectonic.family.graph.static import Graph

pytestmark = pytest.mark.no_cover  # many runs of what other tests cover


@pytest.mark.parametrize("seed", range(4))
def test_a_graph_that_is_carried_on_is_the_same_as_one_from_scratch(demo, seed):
    """Random edits, undone now and then; documents are copied, and things that others name are deleted and brought back."""
    draw = random.Random(seed)
    family, graph, past = demo, Graph(demo), [demo]
    carried = 0
    for _ in range(24):
        try:
            if draw.random() < 0.2:
                family = past[-draw.randrange(1, min(4, len(past)) + 1)]
            elif draw.random() < 0.2:
                document = draw.choice([d for d in family.documents.values() if getattr(d, "build", ())])
                family = edits.delete_item(family, document.id, draw.choice(document.build).id)
            else:
                family = random_edit(family, draw)
        except UserFault:
            continue
        past.append(family)
        before, graph = graph, Graph(family, graph)
        carried += graph.before is not None
        fresh = Graph(family)
        assert {k: set(v) for k, v in graph.reads.items()} == {k: set(v) for k, v in fresh.reads.items()}
        graph.forget_before()
        assert before is not graph
    assert carried > 4  # otherwise nothing was tried
