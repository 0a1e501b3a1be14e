"""Circles among plans that wait for each other, beside the strong components of SciPy on graphs at random."""

import random

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from architectonic.describe.results import Node, Scope
from architectonic.propagate.waiting import Task, circle_through


def waiting(arrows, n):
    """Tasks 0 to n - 1; an arrow a, b says that a waits for b."""
    nodes = [Node("value", Scope("d", "c"), f"{k:03d}") for k in range(n)]
    tasks = {node: Task(node, iter(())) for node in nodes}
    for a, b in arrows:
        tasks[nodes[a]].open.add(nodes[b])
        tasks[nodes[b]].waiters.append(tasks[nodes[a]])
    return nodes, tasks


def test_the_path_of_a_circle_is_told_in_the_order_of_its_reads():
    nodes, tasks = waiting([(0, 1), (1, 2), (2, 0), (1, 3)], 4)
    assert circle_through(tasks, nodes[0], nodes[1]) == [nodes[0], nodes[1], nodes[2]]
    assert circle_through(tasks, nodes[0], nodes[0]) == [nodes[0]]
    assert circle_through(tasks, nodes[0], nodes[3]) == []


def test_what_does_not_run_waits_for_nothing():
    nodes, tasks = waiting([(0, 1), (1, 0)], 2)
    del tasks[nodes[1]]
    assert circle_through(tasks, nodes[0], nodes[1]) == []


def test_there_is_a_circle_where_both_lie_in_one_strong_component():
    """An arrow closes a circle exactly when its ends are strongly connected."""
    draw = random.Random(7)
    seen = set()
    for _ in range(60):
        n = draw.randrange(3, 12)
        arrows = {(draw.randrange(n), draw.randrange(n)) for _ in range(draw.randrange(n, 2 * n))}
        arrows = sorted((a, b) for a, b in arrows if a != b)
        nodes, tasks = waiting(arrows, n)
        rows, columns = zip(*arrows, strict=True)
        _, part = connected_components(
            csr_matrix((np.ones(len(arrows)), (rows, columns)), (n, n)), directed=True, connection="strong"
        )
        for a, b in arrows:
            circle = circle_through(tasks, nodes[a], nodes[b])
            assert bool(circle) == (part[a] == part[b])
            seen.add(bool(circle))
            for node, following in zip(circle, [*circle[1:], *circle[:1]], strict=True):
                assert following in tasks[node].open
    assert seen == {True, False}
