"""Whether holes at the places of a fed hole set go together with it: a rule that comes by itself."""

from __future__ import annotations

from architectonic.describe.operations.holes.sets import differences
from architectonic.describe.results import HoleSet, HolesResult, Node, Plan, Value, needed
from architectonic.describe.view import View
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.records import Model


class Mated(Value, frozen=True):
    """Two hole sets at the same places, and in what they do not go together; () when they match."""

    own: HoleSet
    fed: HoleSet
    differences: tuple[str, ...]


def plan_mating(view: View, node: Node) -> Plan:
    """The set of an operation against the fed one at whose places it stands; None without one, or where it is off."""
    (outcome,) = yield [Node("holes", node.at, node.item)]
    if outcome.value is None and outcome.problem is not None and outcome.problem.severity == "off":
        return None
    found: HolesResult = needed(outcome, "")
    if found.fed is None:
        return None
    return Mated(found.set, found.fed, differences(found.set, found.fed))


def mates(document: Model, operation: Hole) -> bool:
    """Whether an operation stands at the places of a hole set that a feed brings."""
    fed = {k for f in document.feeds.values() for k, s in f.sockets.items() if s.takes == "holes"}
    return any(p.at.item in fed for p in operation.places)
