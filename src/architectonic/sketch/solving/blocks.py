"""In which order the equations of a sketch are solved: small blocks, each after those whose unknowns it reads.

A maximum matching of equations with columns and the strongly connected components of what then depends on what give
square blocks in order (Duff, Erisman & Reid, Direct Methods for Sparse Matrices, 1986, ch. 6); what can still move is
told apart first (Dulmage & Mendelsohn, Canadian J. Math. 10, 1958). Columns that cannot be reached numerically at the
drawn state are not matched, but they are dependencies all the same.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components, maximum_bipartite_matching

from architectonic.sketch.solving.problem import Equations

Columns = tuple[int, ...]
LEAST_NORM = 80
"""A part that can still move is solved whole, with the least change, up to so many equations; larger ones hold some
columns where they were drawn, near what is grounded, and are solved in blocks like the rest."""


@dataclass(frozen=True)
class Block:
    """Equations and columns that are solved together, by number; more columns than equations when it can still move,
    more equations when some of them say the same or disagree."""

    equations: tuple[int, ...]
    columns: tuple[int, ...]

    @property
    def square(self) -> bool:
        """As many equations as columns."""
        return len(self.equations) == len(self.columns)


@dataclass(frozen=True)
class Plan:
    """Blocks in order, and columns that nothing is said of."""

    blocks: tuple[Block, ...]
    alone: tuple[int, ...]


def plan(problem: Equations) -> Plan:
    """The order for a problem, from which columns occur where; numbers only decide what cannot be reached."""
    n, equations = len(problem.members), problem.equations
    u = problem.start()
    reads: list[Columns] = []
    reached: list[Columns] = []
    for e in equations:
        _, slopes = e.kernel(problem.values(e, u), e.value)
        total: dict[int, float] = {}
        for c, g in zip(e.columns, slopes, strict=True):
            if c >= 0:
                total[c] = total.get(c, 0.0) + g
        reads.append(tuple(total))
        reached.append(tuple(c for c, g in total.items() if abs(g) > 1e-9) or tuple(total))
    return _planned(n, tuple(e.columns for e in equations), tuple(reads), tuple(reached))


@lru_cache(maxsize=64)
def _planned(
    n: int, columns_of: tuple[tuple[int, ...], ...], reads: tuple[Columns, ...], reached: tuple[Columns, ...]
) -> Plan:
    """The same, from which columns occur where alone."""
    rows_of: list[list[int]] = [[] for _ in range(n)]
    for k, columns in enumerate(reads):
        for c in columns:
            rows_of[c].append(k)
    alone = tuple(c for c in range(n) if not rows_of[c])
    if not reads:
        return Plan((), alone)
    matched = _matching(reached, n)
    row_of = {c: k for k, c in enumerate(matched) if c >= 0}
    part = _part_of(reads, rows_of, n)
    over = {part[reads[k][0]] for k, c in enumerate(matched) if c < 0}
    moving = _moving(reads, rows_of, row_of, [c for c in range(n) if c not in row_of and rows_of[c]])
    blocks: list[Block] = []
    for number in sorted(over):
        whole = [c for c in range(n) if rows_of[c] and part[c] == number]
        blocks.append(Block(tuple(k for k in range(len(reads)) if part[reads[k][0]] == number), tuple(whole)))
    loose: list[Block] = []
    held: set[int] = set()
    for group in _grouped(moving, part, over):
        rows = sorted({row_of[c] for c in group if c in row_of})
        if len(rows) <= LEAST_NORM:
            loose.append(Block(tuple(rows), tuple(group)))
        else:
            taken = _matched_far(group, rows, reached, _nearness(group, rows, reads, columns_of))
            for c in group:
                row_of.pop(c, None)
            row_of.update({c: k for k, c in taken.items()})
            held |= set(group) - set(taken.values())
    done = {c for b in (*blocks, *loose) for c in b.columns} | held
    rest = {c: k for c, k in row_of.items() if c not in done}
    return Plan((*blocks, *_ordered(rest, reads), *loose), (*alone, *sorted(held)))


def connected(problem: Equations, block: Block) -> Block:
    """The whole connected part that a block belongs to."""
    rows_of: dict[int, list[int]] = {}
    for k, e in enumerate(problem.equations):
        for c in e.columns:
            if c >= 0:
                rows_of.setdefault(c, []).append(k)
    columns, rows, stack = set(block.columns), set(block.equations), list(block.columns)
    while stack:
        for k in rows_of.get(stack.pop(), ()):
            rows.add(k)
            for c in problem.equations[k].columns:
                if c >= 0 and c not in columns:
                    columns.add(c)
                    stack.append(c)
    return Block(tuple(sorted(rows)), tuple(sorted(columns)))


def _matching(rows: Sequence[Columns], n: int) -> list[int]:
    """For each row a column of its own, -1 for none; as many as possible (Hopcroft & Karp, 1973)."""
    indptr = np.cumsum([0, *(len(r) for r in rows)])
    indices = np.asarray([c for r in rows for c in r], np.int32)
    graph = csr_matrix((np.ones(len(indices)), indices, indptr), (len(rows), n))
    return [int(c) for c in maximum_bipartite_matching(graph, perm_type="column")]


def _part_of(reads: Sequence[Columns], rows_of: list[list[int]], n: int) -> list[int]:
    """Number of the connected part of each column."""
    part = [-1] * n
    for start in range(n):
        if part[start] >= 0:
            continue
        part[start], stack = start, [start]
        while stack:
            for k in rows_of[stack.pop()]:
                for c in reads[k]:
                    if part[c] < 0:
                        part[c] = start
                        stack.append(c)
    return part


def _moving(reads: Sequence[Columns], rows_of: list[list[int]], row_of: dict[int, int], free: list[int]) -> set[int]:
    """Columns that an unmatched one can be exchanged for: those that are not decided."""
    column_of = {k: c for c, k in row_of.items()}
    found, stack = set(free), list(free)
    while stack:
        for k in rows_of[stack.pop()]:
            c = column_of.get(k, -1)
            if c >= 0 and c not in found:
                found.add(c)
                stack.append(c)
    return found


def _grouped(columns: set[int], part: list[int], without: set[int]) -> list[list[int]]:
    """Columns by connected part."""
    groups: dict[int, list[int]] = {}
    for c in sorted(columns):
        if part[c] not in without:
            groups.setdefault(part[c], []).append(c)
    return list(groups.values())


def _nearness(
    columns: list[int], rows: list[int], reads: Sequence[Columns], columns_of: tuple[Columns, ...]
) -> dict[int, int]:
    """Steps from what is grounded (read together with a constant), else from the first column."""
    inside = set(columns)
    near = {c: 0 for k in rows if any(c not in inside for c in columns_of[k]) for c in reads[k] if c in inside} or {
        columns[0]: 0
    }
    at: dict[int, list[int]] = {c: [] for c in columns}
    for k in rows:
        for c in reads[k]:
            if c in inside:
                at[c].append(k)
    queue = deque(near)
    while queue:
        c = queue.popleft()
        for d in (d for k in at[c] for d in reads[k] if d in inside and d not in near):
            near[d] = near[c] + 1
            queue.append(d)
    return near


def _matched_far(
    columns: list[int], rows: list[int], reached: Sequence[Columns], near: dict[int, int]
) -> dict[int, int]:
    """A column for each row, the farthest ones first, by augmenting paths: what stays unmatched lies near.

    Rows that a search in vain has seen lead nowhere later either (Hungarian trees: Papadimitriou & Steiglitz,
    Combinatorial Optimization, 1982, sec. 10.2).
    """
    at: dict[int, list[int]] = {c: [] for c in columns}
    for k in rows:
        for c in reached[k]:
            if c in at:
                at[c].append(k)
    taken: dict[int, int] = {}
    in_vain: set[int] = set()
    for start in sorted(columns, key=lambda c: (-near.get(c, 0), c)):
        if len(taken) == len(rows):
            break
        seen: set[int] = set()
        stack = [(start, iter(at[start]))]
        path: list[tuple[int, int]] = []
        while stack:
            column, options = stack[-1]
            k = next((k for k in options if k not in seen and k not in in_vain), -1)
            if k < 0:
                stack.pop()
                del path[len(stack) - 1 :]
                continue
            seen.add(k)
            path.append((column, k))
            if k not in taken:
                taken.update({row: c for c, row in path})
                break
            stack.append((taken[k], iter(at[taken[k]])))
        else:
            in_vain |= seen
    return taken


def _ordered(row_of: dict[int, int], reads: Sequence[Columns]) -> list[Block]:
    """Square blocks, each after those it reads."""
    if not row_of:
        return []
    columns = sorted(row_of)
    number = {c: i for i, c in enumerate(columns)}
    sources, targets = [], []
    for c in columns:
        for d in reads[row_of[c]]:
            if d in number and d != c:
                sources.append(number[c])
                targets.append(number[d])
    graph = csr_matrix((np.ones(len(sources)), (sources, targets)), (len(columns), len(columns)))
    count, label = connected_components(graph, directed=True, connection="strong")
    members: list[list[int]] = [[] for _ in range(count)]
    for i, b in enumerate(label):
        members[b].append(columns[i])
    needs: list[set[int]] = [set() for _ in range(count)]
    users: list[set[int]] = [set() for _ in range(count)]
    for a, b in zip(sources, targets, strict=True):
        x, y = int(label[a]), int(label[b])
        if x != y:
            needs[x].add(y)
            users[y].add(x)
    ready = deque(sorted((b for b in range(count) if not needs[b]), key=lambda b: members[b][0]))
    waiting = [len(s) for s in needs]
    found = []
    while ready:
        b = ready.popleft()
        found.append(Block(tuple(sorted(row_of[c] for c in members[b])), tuple(members[b])))
        for user in sorted(users[b]):
            waiting[user] -= 1
            if not waiting[user]:
                ready.append(user)
    return found
