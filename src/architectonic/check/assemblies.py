"""What an assembly comes to in one configuration and alternate, as plain data."""

from __future__ import annotations

from typing import Any

from architectonic.check.attention import configuration_name, failing
from architectonic.describe.assembly.joints import JointState
from architectonic.describe.assembly.plans import Placed, weighed
from architectonic.describe.results import Node
from architectonic.family.edits import JOINTS
from architectonic.family.records import Assembly
from architectonic.family.scopes import Scope, alternate_name
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units


def alternate_entry(evaluation: Evaluation, document: Assembly, at: Scope) -> dict[str, Any]:
    """Its instances, joints, mass and box (the contract of `build --json`)."""
    family = evaluation.family
    instances, shown, boxes, bad = [], [], [], False
    for instance in document.instances:
        outcome = evaluation.outcomes.get(Node("placed", at, instance.id))
        placed = outcome.value if outcome else None
        if not isinstance(placed, Placed):
            bad = bad or outcome is None or outcome.problem is None or outcome.problem.severity != "off"
            continue
        there = placed.at
        bad = bad or failing(evaluation, there)
        instances.append(
            {
                "name": instance.name,
                "document": family.documents[there.document].name,
                "configuration": configuration_name(family, there),
                "alternate": alternate_name(family, there) or None,
                "placement": list(placed.placement),
            }
        )
        shown.append(placed)
        if placed.box:
            boxes.append(placed.box)
    box = (
        [min(b[i] for b in boxes) for i in range(3)] + [max(b[i] for b in boxes) for i in range(3, 6)] if boxes else []
    )
    return {
        "status": "failing" if bad or failing(evaluation, at) else "ok",
        "instances": instances,
        "joints": _joints(evaluation, document, at),
        "mass_g": weighed(shown),
        "box_mm": box,
        "interference_mm3": None,
    }


def _joints(evaluation: Evaluation, document: Assembly, at: Scope) -> list[dict[str, Any]]:
    """Where joints are, by each value that they have."""
    found = []
    for bond in document.bonds:
        state = evaluation.value(Node("joint", at, bond.id))
        if isinstance(state, JointState):
            for field in JOINTS.get(bond.kind, ()):
                unit = units.DEFAULT_UNIT["angle" if field == "turn" else "length"]
                value = getattr(state, field) / units.factor(unit)
                found.append({"name": bond.name, "kind": bond.kind, "value": round(value, 9), "unit": unit})
    return found
