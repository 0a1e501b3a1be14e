"""What is promised when things go wrong, attacked a fixed number of times: `python -m bench faults` does it as often as it is
promised.
"""

import pytest
from bench import faults


def none(figures, *names):
    wrong = ("lost", "torn", "mixed", "hung", "tracebacks", "false refusals", "believed", "wrong", "not one sentence")
    assert not any(figures.get(n) for n in wrong), figures
    assert all(figures[n] for n in names), figures  # it has been tried


def test_saves_that_are_killed():
    none(faults.kills(70), "in mid save")


def test_two_writers_and_a_reader():
    none(faults.writers(40), "reads")


def test_two_writers_and_a_reader_where_there_are_no_locks():
    none(faults.writers(25, locks=False), "reads")


def test_disks_that_are_full_or_cannot_be_written():
    none(faults.full_disks(14), "tried", "refused")


def test_stores_that_are_damaged():
    none(faults.damaged_stores(100))


def test_expressions_that_mean_harm():
    none(faults.expressions(500), "refused")


def test_families_that_mean_harm():
    none(faults.families(45), "opened", "refused")


@pytest.mark.kernel
def test_workers_that_die():
    none(faults.worker_deaths(2), "built")
