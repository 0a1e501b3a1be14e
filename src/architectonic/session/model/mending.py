"""Lost references put right: what an operation has lost, what it might have meant, and taking one of these."""

from __future__ import annotations

from typing import Any

import msgspec

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.records import AnyOperation, Family, Reference
from architectonic.family.scopes import Scope
from architectonic.family.walk import pointers_in
from architectonic.propagate.evaluation import Evaluation
from architectonic.render.camera import BodyMesh
from architectonic.session.picking.picked import witness


def lost_in(evaluation: Evaluation, at: Scope, operation: str) -> dict[str, tuple[str, ...]]:
    """Labels that an operation, sketch or datum has lost, each with what it might have meant, the likeliest first."""
    for what in ("state", "solve", "frame"):
        outcome = evaluation.outcomes.get(Node(what, at, operation))
        if outcome is not None and outcome.problem is not None and outcome.problem.lost:
            return outcome.problem.lost
    return {}


def mend(family: Family, evaluation: Evaluation, document_id: str, operation_id: str, chosen: dict[str, str]) -> Family:
    """Let references of an operation mean other labels; their witnesses are written anew, from where they are now.

    Args:
        chosen: the new label for each lost one.

    Raises:
        UserFault: the operation is gone, or refers to none of these.
    """
    operation = edits.operation(family, document_id, operation_id)
    held = {p.label: p.item for p in pointers_in(operation) if isinstance(p, Reference) and p.label in chosen}
    if not held:
        raise UserFault("it does not refer to this any more", operation.name, "look at the list again")
    data = msgspec.to_builtins(operation)
    _replace(data, {old: (new, _seen(evaluation, document_id, held.get(old, ""), new)) for old, new in chosen.items()})
    changed: Any = msgspec.convert(data, AnyOperation)
    return edits.replace_operation(family, document_id, changed)


def _replace(data: Any, chosen: dict[str, tuple[str, Any]]) -> None:
    """Put new labels into every reference among plain data."""
    if isinstance(data, dict):
        if "item" in data and data.get("label") in chosen:
            data["label"], seen = chosen[data["label"]]
            data.pop("witness", None)
            if seen is not None:
                data["witness"] = seen
        for value in data.values():
            _replace(value, chosen)
    elif isinstance(data, (list, tuple)):
        for value in data:
            _replace(value, chosen)


def _seen(evaluation: Evaluation, document_id: str, body: str, label: str) -> Any:
    """The witness of a face or edge as a picture of the body shows it; None when none does."""
    kind = "edge" if label.startswith("(") else "face"
    for node, outcome in evaluation.outcomes.items():
        if node.what == "mesh" and node.document == document_id and node.item == body and outcome.value:
            found = witness(BodyMesh.from_result(outcome.value), kind, label)
            if found is not None:
                return msgspec.to_builtins(found)
    return None
