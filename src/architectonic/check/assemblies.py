"""What an assembly comes to in one configuration and alternate, as plain data."""

from __future__ import annotations

from typing import Any

from architectonic.check import holes
from architectonic.check.parts import PartLine, flat, way
from architectonic.describe.assembly.balance import Balance
from architectonic.describe.assembly.clashes import Clash, Clashes
from architectonic.describe.assembly.extents import Extents
from architectonic.describe.assembly.joints import JointState, unit_of
from architectonic.describe.assembly.plans import Placed
from architectonic.describe.results import Node
from architectonic.family.documents.assembly import JOINTS
from architectonic.family.records import Assembly, use_of
from architectonic.family.scopes import Scope, alternate_name, configuration_name
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units


def alternate_entry(evaluation: Evaluation, document: Assembly, at: Scope, failing: frozenset[Scope]) -> dict[str, Any]:
    """Its instances, joints, mass and box (the contract of `build --json`).

    Args:
        failing: scopes in which something fails.
    """
    family = evaluation.family
    instances, bad = [], False
    uses = [(i.id, i.name) for i in document.instances]
    for p in evaluation.value(Node("assembly", at, "")) or ():
        key, number = use_of(p.instance)
        uses += [
            (p.instance, f"{name} {number + 1}") for k, name in uses[: len(document.instances)] if number and k == key
        ]
    for use, called in uses:
        outcome = evaluation.outcomes.get(Node("placed", at, use))
        placed = outcome.value if outcome else None
        if not isinstance(placed, Placed):
            bad = bad or outcome is None or outcome.problem is None or outcome.problem.severity != "off"
            continue
        there = placed.at
        bad = bad or there in failing
        instances.append(
            {
                "name": called,
                "document": family.documents[there.document].name,
                "configuration": configuration_name(family, there),
                "alternate": alternate_name(family, there) or None,
                "placement": list(placed.placement),
            }
        )
    names = {i.id: i.name for i in document.instances}
    extents = evaluation.value(Node("extents", at, ""))
    balance = evaluation.value(Node("balance", at, ""))
    clashes = evaluation.value(Node("clashes", at, ""))
    return {
        "status": "failing" if bad or at in failing else "ok",
        "instances": instances,
        "joints": _joints(evaluation, document, at),
        "parts": [_part(evaluation, line) for line in flat(evaluation, at)],
        "holes": [holes.entry(row) for row in holes.of_assembly(evaluation, at)],
        "mass_g": extents.whole.mass if isinstance(extents, Extents) else None,
        "centre_mm": list(balance.centre) if isinstance(balance, Balance) else [],
        "inertia_gmm2": list(balance.inertia) if isinstance(balance, Balance) else [],
        "box_mm": list(extents.whole.box or ()) if isinstance(extents, Extents) else [],
        "play_mm": {names[k]: v for k, v in (evaluation.value(Node("slack", at, "")) or {}).items()},
        "interference_mm3": clashes.volume if isinstance(clashes, Clashes) and not clashes.unknown else None,
        "interferences": [_clash(evaluation, at, c) for c in clashes.pairs] if isinstance(clashes, Clashes) else [],
    }


def _clash(evaluation: Evaluation, at: Scope, found: Clash) -> dict[str, Any]:
    """Two bodies by the instances that lead to them, and the volume."""
    return {"a": way(evaluation, at, found.a), "b": way(evaluation, at, found.b), "volume_mm3": found.volume}


def _part(evaluation: Evaluation, line: PartLine) -> dict[str, Any]:
    return {
        "number": line.number,
        "name": line.name,
        "document": evaluation.family.documents[line.at.document].name,
        "configuration": line.configuration,
        "quantity": line.quantity,
        "mass_g": line.mass,
    }


def _joints(evaluation: Evaluation, document: Assembly, at: Scope) -> list[dict[str, Any]]:
    """Where joints are, by each value that they have."""
    found = []
    for bond in document.bonds:
        state = evaluation.value(Node("joint", at, bond.id))
        if isinstance(state, JointState):
            for field in JOINTS.get(bond.kind, ()):
                unit = unit_of(field)
                value = getattr(state, field) / units.factor(unit)
                found.append({"name": bond.name, "kind": bond.kind, "value": round(value, 9), "unit": unit})
    return found
