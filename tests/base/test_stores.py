"""Stores keep to their limits: what was used longest ago goes first, in memory and on disk."""

import os

import pytest

from architectonic.base import stores
from architectonic.describe.results import Made
from architectonic.propagate import cache as results
from architectonic.propagate.cache import ResultCache


def fill(folder, part, names, size=1000):
    for k, name in enumerate(names):
        path = folder / part / name[:2] / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(b"x" * size)
        os.utime(path, (1000 + k, 1000 + k))


def test_the_least_recently_used_files_go_until_there_is_room(tmp_path):
    fill(tmp_path, "results", ["aa1", "ab2", "ac3", "ad4", "ae5"])
    fill(tmp_path, "shapes", ["ba1", "bb2", "bc3", "bd4", "be5"])
    stores.used(tmp_path / "results" / "aa" / "aa1")
    assert stores.held(tmp_path) == (10, 10_000)
    assert stores.prune(tmp_path, 10_000) == (0, 0)
    assert stores.prune(tmp_path, 5000) == (6, 6000)  # down to four fifths of the limit
    left = {p.name for p in tmp_path.rglob("*") if p.is_file()}
    assert left == {"aa1", "ae5", "bd4", "be5"}
    assert stores.prune(tmp_path, 0) == (4, 4000) and stores.held(tmp_path) == (0, 0)


def test_a_store_that_is_not_there_holds_nothing(tmp_path):
    assert stores.held(tmp_path / "none") == (0, 0) and stores.prune(tmp_path / "none") == (0, 0)


@pytest.mark.parametrize(("said", "meant"), [("", 2_048_000_000), ("10", 10_000_000), ("much", 2_048_000_000)])
def test_the_limit_is_that_of_the_environment(monkeypatch, said, meant):
    monkeypatch.setenv("ARCHITECTONIC_CACHE_LIMIT", said)
    assert stores.limit() == meant


def test_results_in_memory_keep_to_their_limit_and_come_back_from_disk(tmp_path, monkeypatch):
    monkeypatch.setattr(results, "MEMORY", 51_000)
    kept = ResultCache(tmp_path)
    for k in range(20):
        kept.put(Made(f"key{k:02}", {"points": b"x" * 9000, "faces": []}, None), "mesh")
    assert kept._memory.currsize <= 51_000 and len(kept._memory) == 5
    assert kept.get("key00", "mesh").value["points"] == b"x" * 9000  # from its file
    assert kept.get("key19", "mesh").value["points"] == b"x" * 9000
    large = Made("large", {"points": b"x" * 90_000}, None)
    kept.put(large, "mesh")
    assert kept.get("large", "mesh").value == large.value and kept._memory.currsize <= 51_000


def test_traces_of_what_is_gone_are_dropped(monkeypatch):
    from architectonic.family import edits
    from architectonic.propagate import traces as module
    from architectonic.propagate.evaluator import Evaluator
    from architectonic.propagate.ports import NoExecutor
    from architectonic.propagate.targets import all_scopes
    from architectonic.propagate.whole import evaluate_scopes

    monkeypatch.setattr(module, "SURPLUS", 10)
    family = edits.new_family("F")
    family, key = edits.add_document(family, "table", "T")
    family = edits.add_parameter(family, key, "a", "1 mm")
    evaluator = Evaluator(NoExecutor())
    for k in range(60):
        grown = edits.add_parameter(family, key, f"p{k}", "2 * a")  # another item each time, as a preview would make
        evaluate_scopes(evaluator, grown, all_scopes(grown))
    found = evaluate_scopes(evaluator, family, all_scopes(family))
    assert len(evaluator.traces.by_node) <= 10 + 4 * 3
    again = evaluate_scopes(Evaluator(NoExecutor()), family, all_scopes(family))
    assert found.outcomes == again.outcomes
