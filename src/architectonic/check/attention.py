"""The one list of everything that needs attention, grouped by root cause."""

from __future__ import annotations

from collections import defaultdict, deque
from collections.abc import Iterable
from functools import lru_cache
from typing import NamedTuple

from architectonic.base.problem import Problem
from architectonic.describe.operations.holes.mating import Mated
from architectonic.describe.references import rule as described
from architectonic.describe.results import Checked, Node
from architectonic.family import scopes
from architectonic.family.records import Expression, Family, Guard, Rule
from architectonic.family.scopes import Scope
from architectonic.family.walk import Same, index
from architectonic.propagate.evaluation import Evaluation

RANK = {"failing": 0, "conflict": 1, "missing": 2, "out of rule": 3, "updating": 4, "off": 9}


class Follower(NamedTuple):
    """Something that has no result only because something else has none: where (document / item), and its ids."""

    where: str
    document: str
    item: str


class Item(NamedTuple):
    """One thing to attend to.

    Attributes:
        where: document / item; what; mend: how to mend it; configurations: in which.
        following: what has no result only because of it.
        candidates: names that may have been meant.
        gone: ids of a document and of what was deleted there, when that is the cause; ("", "") else.
    """

    where: str
    what: str
    mend: str
    severity: str
    document: str
    item: str
    configurations: tuple[str, ...]
    following: tuple[Follower, ...]
    candidates: tuple[str, ...]
    gone: tuple[str, str] = ("", "")


class Cause(NamedTuple):
    """A root cause: one entry of its own, or all those who took what was deleted.

    Attributes:
        gone: ids of a document and of what was deleted there; ("", "") when its one entry is the cause.
    """

    items: tuple[Item, ...]
    gone: tuple[str, str]

    @property
    def severity(self) -> str:
        """The worst of its entries."""
        return min((i.severity for i in self.items), key=lambda s: RANK[s])


def scope_name(family: Family, at: Scope) -> str:
    """The names of a scope's configuration and alternate: `M`, `M, Folded`."""
    return ", ".join(n for n in (scopes.configuration_name(family, at), scopes.alternate_name(family, at)) if n)


def _names(family: Family, nodes: list[Node]) -> tuple[str, ...]:
    """The configurations of some nodes of a document, in the order that the document lists them; where it is not so in
    all alternates of one, each that it is."""
    document, named = family.documents[nodes[0].document], {n.at for n in nodes}
    found: list[str] = []
    for row, name in scopes.configurations(family, document):
        every = [at for at in scopes.scopes_of(family, document) if at.configuration == row]
        those = [at for at in every if at in named]
        found += [name] if those and len(those) == len(every) else [scope_name(family, at) for at in those]
    return tuple(found)


def failing_scopes(evaluation: Evaluation) -> frozenset[Scope]:
    """Those in which something fails, is missing or conflicts."""
    return frozenset(
        n.at
        for n in evaluation.troubled
        if (problem := evaluation.outcomes[n].problem) is not None
        and problem.severity in ("failing", "missing", "conflict")
        and problem.code != "body.no_density"
    )


def rules(evaluation: Evaluation) -> list[tuple[Node, Rule | Guard, Checked | None]]:
    """All evaluated rules and guards, guards first (None: they could not be evaluated), and those that come by themselves:
    that holes at the places of others go together with them.
    """
    family, outcomes = evaluation.family, evaluation.outcomes
    found: list[tuple[Node, Rule | Guard, Checked | None]] = []
    for node in in_order(family, evaluation.checks):
        value = outcomes[node].value
        if node.what == "mating":
            if isinstance(value, Mated):
                found.append((node, mating_rule(family, node, value), Checked(not value.differences)))
        else:
            record = index(family.documents[node.document]).get(node.item)
            if isinstance(record, (Rule, Guard)):
                found.append((node, record, value))
    return sorted(found, key=lambda entry: not isinstance(entry[1], Guard))


def mating_rule(family: Family, node: Node, found: Mated) -> Rule:
    """The rule that two hole sets at the same places go together, as far as its words go."""
    told = f"{found.own.name} and {found.fed.name} do not match: {' and '.join(found.differences)}"
    name = f"{found.own.name} match {found.fed.name}"
    return Rule(id=node.item, name=name, holds=Expression(text=""), message=told if found.differences else "")


def is_gone(family: Family, node: Node) -> bool:
    """Whether a node is about something that its document does not hold any more."""
    return bool(node.item) and node.item not in index(family.documents[node.document])


@lru_cache(maxsize=512)
def _positions(document: Same) -> dict[str, int]:
    return {key: k for k, key in enumerate(index(document.record))}


def in_order(family: Family, nodes: Iterable[Node]) -> list[Node]:
    """Nodes as the family lists what they are about, never by what was evaluated first."""
    documents = {key: k for k, key in enumerate(family.documents)}

    def place(node: Node) -> tuple[int, int, Node]:
        document = family.documents.get(node.document)
        known = _positions(Same(document)) if document is not None else {}
        return documents.get(node.document, -1), known.get(node.item, len(known)), node

    return sorted(nodes, key=place)


def _of_what_is_gone(evaluation: Evaluation, troubled: list[Node]) -> dict[Node, tuple[str, Node]]:
    """By every node that fails because something is gone: where that was lost, by whoever reads it first, and what is
    gone. That is in no list itself, so that its loss is told by those who took it.
    """
    outcomes = evaluation.outcomes
    bad = {n: [read for read, _ in evaluation.noted.get(n, ())] for n in troubled}
    found: dict[Node, tuple[str, Node]] = {}
    readers: dict[Node, list[Node]] = defaultdict(list)
    for node, reads in bad.items():
        for read in reads:
            if read in bad:
                readers[read].append(node)
    waiting: deque[Node] = deque()
    for node in bad:
        problem = outcomes[node].problem
        if problem is not None and problem.code.startswith("follows.") and not is_gone(evaluation.family, node):
            gone = next((n for n in bad[node] if n in bad and is_gone(evaluation.family, n)), None)
            if gone is not None:
                found[node] = (problem.where, gone)
                waiting.append(node)
    while waiting:
        node = waiting.popleft()
        for reader in readers[node]:
            if reader not in found:
                found[reader] = found[node]
                waiting.append(reader)
    return found


def attention(evaluation: Evaluation) -> list[Item]:
    """Problems and broken rules, worst first; what only follows from another is counted with its cause."""
    family = evaluation.family
    troubled = in_order(family, evaluation.troubled)
    lost = _of_what_is_gone(evaluation, troubled)
    grouped: dict[tuple[str, str], list[tuple[Node, Problem]]] = defaultdict(list)
    followers: dict[str, dict[str, Follower]] = defaultdict(dict)
    for node in troubled:
        problem = evaluation.outcomes[node].problem
        if problem is None or problem.severity == "off" or (node.what == "mass" and problem.code == "body.no_density"):
            continue
        if is_gone(family, node):
            continue  # asked for by those who lost it, and told there
        heir, _ = lost.get(node, (problem.where, None))
        follower = Follower(problem.where, node.document, node.item)
        if problem.code.startswith("follows.") and heir != problem.where:
            followers[heir].setdefault(problem.where, follower)
        elif problem.code.startswith("follows.") and node not in lost:
            followers[problem.root].setdefault(problem.where, follower)
        else:
            grouped[problem.where, problem.what].append((node, problem))
    found = []
    for (where, what), members in grouped.items():
        node, problem = members[0]
        names = _names(family, [n for n, _ in members])
        following = tuple(followers.get(where, {}).values())
        gone = lost[node][1] if node in lost else None
        taken = (gone.document, gone.item) if gone is not None else ("", "")
        at = (node.document, node.item)
        found.append(
            Item(where, what, problem.mend, problem.severity, *at, names, following, problem.candidates, taken)
        )
    broken: dict[str, list[Node]] = defaultdict(list)
    records: dict[str, tuple[Rule | Guard, Checked]] = {}
    for node, rule, checked in rules(evaluation):
        if checked is not None and not checked.holds:
            broken[node.item].append(node)
            records.setdefault(node.item, (rule, checked))
    for key, nodes in broken.items():
        rule, checked = records[key]
        where = f"{family.documents[nodes[0].document].name} / {rule.name}"
        names = _names(family, nodes)
        what = described.words(rule, checked)
        mend = "take it back, or record it anew" if isinstance(rule, Guard) else "change one of its values"
        mend = mend if isinstance(rule, Guard) or rule.holds.text else "change one of the two"
        found.append(Item(where, what, mend, "out of rule", nodes[0].document, key, names, (), ()))
    return sorted(found, key=lambda i: (RANK[i.severity], i.where, i.what))


def causes(items: list[Item]) -> list[Cause]:
    """Entries by root cause: all who took what was deleted stand together, where the first of them stood."""
    found: dict[object, list[Item]] = {}
    for number, item in enumerate(items):
        found.setdefault(item.gone if item.gone[1] else number, []).append(item)
    return [Cause(tuple(group), group[0].gone) for group in found.values()]
