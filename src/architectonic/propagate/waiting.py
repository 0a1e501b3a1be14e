"""Plans under way, what each waits for, and the circles they close among themselves."""

from __future__ import annotations

from collections.abc import Mapping

from architectonic.describe.results import Node, Plan


class Task:
    """A node whose plan is running.

    Attributes:
        asked: what the plan asked for last; open: those of them that are not known yet.
        waiters: the tasks that wait for this one.
    """

    def __init__(self, node: Node, plan: Plan) -> None:
        self.node = node
        self.plan = plan
        self.asked: list[Node] = []
        self.open: set[Node] = set()
        self.waiters: list[Task] = []


def _waits(task: Task, node: Node) -> bool:
    """Whether a node waits for a task, itself or through others."""
    seen, stack = {task}, [task]
    while stack:
        for waiter in stack.pop().waiters:
            if waiter.node == node:
                return True
            if waiter not in seen:
                seen.add(waiter)
                stack.append(waiter)
    return False


def circle_through(tasks: Mapping[Node, Task], start: Node, begin: Node) -> list[Node]:
    """The path from `begin` through what waits back to `start`, or []; neighbours in order, so it is the same each time."""
    if begin != start and not _waits(tasks[start], begin):
        return []  # what waits for a node is much less than what it waits for
    path, seen = [begin], {begin}
    stack = [iter(sorted(tasks[begin].open))] if begin in tasks else []
    if begin == start:
        return [start]
    while stack:
        for node in stack[-1]:
            if node == start:
                return [start, *path]
            if node in tasks and node not in seen:
                seen.add(node)
                path.append(node)
                stack.append(iter(sorted(tasks[node].open)))
                break
        else:
            stack.pop()
            path.pop()
    return []
