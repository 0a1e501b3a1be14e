"""The foot of the demo around its weight: over random sizes, walls, clearances and rims it is right, or refused by name."""

import pytest
from bench.details import FootTrial

pytestmark = pytest.mark.kernel


def test_the_foot_over_random_combinations(engine):
    trial, told = FootTrial(seed=7), []
    for _ in range(4):  # bench.details looks at many more
        family, said = trial.combination()
        told.append((trial.verdict(engine.evaluator, family, said), said))
    assert not [t for t in told if t[0].startswith("wrong")]
    assert sum(t[0] == "right" for t in told) >= 3, told
