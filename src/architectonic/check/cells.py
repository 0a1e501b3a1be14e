"""What is asked of a document in each configuration and alternate, and what comes of it: one cell for each."""

from __future__ import annotations

import re
from typing import Any, Literal, NamedTuple

from architectonic.check.attention import failing_scopes, mating_rule
from architectonic.describe.assembly.clashes import Clashes
from architectonic.describe.operations.holes.mating import Mated, mates
from architectonic.describe.references.rule import unit_of, words
from architectonic.describe.results import Checked, Node
from architectonic.family import scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.records import MATCH, SELF, AnyDocument, Assembly, Family, Fill, Model, Rule
from architectonic.family.scopes import Scope, configuration_name
from architectonic.family.walk import items, leads_to, pointers_in
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units

State = Literal["holds", "near", "out of rule", "failing", "updating", "off"]
"""Near: it holds, and lies within `NEAR` of its limit. Failing: it cannot be worked out. Off: not asked here."""
NEAR = 0.05
WORST: tuple[State, ...] = ("failing", "out of rule", "updating", "near", "holds", "off")
"""From the worst on."""


class Ask(NamedTuple):
    """Something that is asked.

    Attributes:
        group: rules, guards or checks.
        document, item: where it stands; item is "" for what is asked of a document by itself.
        what: the node that answers it; limit: what it is held against, as it is typed, "" for none.
    """

    group: str
    name: str
    document: str
    item: str
    what: str
    limit: str = ""


class CheckCell(NamedTuple):
    """What comes of it in one place.

    Attributes:
        told: what is wrong, in a sentence; figure, limit: both sides, in the unit, None where there are none.
    """

    ask: Ask
    at: Scope
    state: State
    told: str = ""
    figure: float | None = None
    limit: float | None = None
    unit: str = ""


def asks(document: AnyDocument) -> list[Ask]:
    """What is asked of a document: its rules, its guards, and what is asked by itself."""
    key = document.id
    found = [Ask("Rules", r.name, key, r.id, "rule", _limit(r.holds.text)) for r in document.rules]
    found += [Ask("Guards", g.name, key, g.id, "rule", "as recorded") for g in document.guards]
    found.append(Ask("Checks", "Builds", key, "", "builds"))
    if isinstance(document, Assembly):
        found.append(Ask("Checks", "No interference", key, "", "clashes"))
    if isinstance(document, Model):
        found += [
            Ask("Checks", f"{o.name} match", key, o.id, "mating")
            for o in document.build
            if isinstance(o, Hole) and mates(document, o)
        ]
    return found


def _limit(text: str) -> str:
    """The right side of a comparison with its sign: `≤ 2.2 * foot_d`."""
    match = re.fullmatch(r".*?(<=|>=|==|!=|<|>)(.*)", text)
    signs = {"<=": "≤", ">=": "≥", "==": "=", "!=": "≠"}
    return f"{signs.get(match[1], match[1])} {match[2].strip()}" if match else ""


class CheckReader:
    """Reads cells off an evaluation, all of which is looked through once.

    Attributes:
        seen: scopes of which anything is known; failing: the first thing that fails, by scope.
    """

    def __init__(self, evaluation: Evaluation) -> None:
        self.evaluation = evaluation
        self.seen = {n.at for n in evaluation.outcomes}
        bad = failing_scopes(evaluation)
        self.failing: dict[Scope, str] = dict.fromkeys(bad, "")
        for node, outcome in evaluation.outcomes.items() if bad else ():
            if outcome.problem is not None and outcome.problem.severity in ("failing", "missing", "conflict"):
                self.failing[node.at] = self.failing.get(node.at) or outcome.problem.what

    def cell(self, ask: Ask, at: Scope) -> CheckCell:
        """What comes of an ask in a scope of its document."""
        if ask.what == "builds":
            return self._builds(ask, at)
        outcome = self.evaluation.outcomes.get(Node(ask.what, at, ask.item))
        if outcome is None:
            return CheckCell(ask, at, "off" if ask.what == "mating" else "updating")
        if outcome.problem is not None and outcome.problem.severity == "off":
            return CheckCell(ask, at, "off")
        if outcome.value is None:
            bad: State = "out of rule" if outcome.problem and outcome.problem.severity == "out of rule" else "failing"
            return CheckCell(ask, at, bad, outcome.problem.what if outcome.problem else "")
        if isinstance(outcome.value, Clashes):
            return _clashing(ask, at, outcome.value)
        if isinstance(outcome.value, Mated):
            rule = mating_rule(self.evaluation.family, Node("mating", at, ask.item), outcome.value)
            return CheckCell(ask, at, "out of rule" if outcome.value.differences else "holds", rule.message)
        return _checked(self.evaluation.family, ask, at, outcome.value)

    def _builds(self, ask: Ask, at: Scope) -> CheckCell:
        if at in self.failing:
            return CheckCell(ask, at, "failing", self.failing[at])
        last = built(self.evaluation.family, at.document)
        known = at in self.seen and (not last or Node(last, at, "") in self.evaluation.outcomes)
        return CheckCell(ask, at, "holds" if known else "updating")


def built(family: Family, document: str) -> str:
    """The node that says that a document is worked out in a scope; "" where none does."""
    found = family.documents[document]
    if isinstance(found, Assembly):
        return "extents"
    return "finished" if any(isinstance(o, BodyOperation) for o in getattr(found, "build", ())) else ""


def _clashing(ask: Ask, at: Scope, found: Clashes) -> CheckCell:
    if found.unknown:
        return CheckCell(ask, at, "failing", f"{len(found.unknown)} pairs could not be compared")
    if not found.pairs:
        return CheckCell(ask, at, "holds", "", found.volume, 0.0, "mm3")
    told = f"{len(found.pairs)} pairs of bodies run into each other, {found.volume:.4g} mm³"
    return CheckCell(ask, at, "out of rule", told, found.volume, 0.0, "mm3")


def _checked(family: Family, ask: Ask, at: Scope, found: Checked) -> CheckCell:
    record = next(r for r in family.documents[ask.document].checked if r.id == ask.item)
    unit = unit_of(found.dimension)
    sides = [v[0] if len(v) == 1 else None for v in (found.left, found.right)]
    figure, limit = (None if v is None else round(v / units.factor(unit), 9) for v in sides)
    if not found.holds:
        return CheckCell(ask, at, "out of rule", words(record, found), figure, limit, unit)
    near = (
        isinstance(record, Rule)
        and figure is not None
        and limit is not None
        and not _equal(record.holds.text)
        and abs(figure - limit) <= NEAR * max(abs(figure), abs(limit))
    )
    return CheckCell(ask, at, "near" if near else "holds", "", figure, limit, unit)


def _equal(text: str) -> bool:
    """Whether a comparison asks for the very value, so that nothing lies near it."""
    return "==" in text or "!=" in text


def drivers(family: Family, document: AnyDocument) -> list[AnyDocument]:
    """A document and all that it takes from, directly or not, the nearest first."""
    found: dict[str, AnyDocument] = {document.id: document}
    waiting = [document]
    while waiting:
        one = waiting.pop(0)
        for _, record in items(one):
            for p in pointers_in(record):
                key = p.document if isinstance(p, Fill) else leads_to(p)
                other = family.documents.get(key) if key != SELF else None
                if other is not None and other.id not in found:
                    found[other.id] = other
                    waiting.append(other)
    return list(found.values())


def seen_from(family: Family, at: Scope, document: str) -> Scope:
    """The scope of another document that one in a scope takes from, by size."""
    return at if document == at.document else scopes.source_scope(family, at, document, MATCH)


def entries(evaluation: Evaluation) -> list[dict[str, Any]]:
    """Every ask of every document in every scope that is evaluated, as `check --json` prints them."""
    family, reader = evaluation.family, CheckReader(evaluation)
    found = []
    for document in family.documents.values():
        for ask in asks(document):
            for at in scopes.scopes_of(family, document):
                if at not in reader.seen:
                    continue
                one = reader.cell(ask, at)
                if one.state != "off":
                    found.append(entry(family, one))
    return found


def entry(family: Family, one: CheckCell) -> dict[str, Any]:
    """A cell as plain data."""
    document = family.documents[one.at.document]
    place = next((str(getattr(r, "name", "")) for k, r in items(document) if k == one.ask.item), "")
    return {
        "name": one.ask.name,
        "document": document.name,
        "configuration": configuration_name(family, one.at),
        "alternate": scopes.alternate_name(family, one.at) or None,
        "group": one.ask.group.lower(),
        "state": one.state,
        "value": one.figure,
        "limit": one.limit,
        "unit": one.unit,
        "place": f"{document.name} / {place}" if place else document.name,
        "message": one.told,
    }
