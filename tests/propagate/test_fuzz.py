"""Twenty random build lists (two thousand in bench/fuzz.py): no wrong solid passes unreported, none hangs."""

import pytest
from bench.fuzz import SurfaceFuzz, trials

pytestmark = [
    pytest.mark.kernel,
    pytest.mark.no_cover,  # many runs of what other tests cover: tracing would make them three times as long
]


def test_random_build_lists_give_right_solids_or_say_why_not(tmp_path):
    told, bad = trials(range(5000, 5020), tmp_path)
    assert bad == []
    assert told["lists"] == 20 and told["operations"] > 60
    assert 0 < told["reported"] < told["operations"]  # some cannot be made, and most can


def test_surfaces_worked_into_random_solids_are_sound_or_refused(tmp_path):
    """Ten lists here, a thousand in `python -m bench surfaces`."""
    told, bad = trials(range(7000, 7010), tmp_path, SurfaceFuzz)
    assert bad == []
    assert told["lists"] == 10 and 0 < told["reported"] < told["operations"] * 2
