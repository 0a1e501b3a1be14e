"""Evaluating whole documents: all that a report says of them."""

from __future__ import annotations

from architectonic.base.cancel import CancelToken
from architectonic.describe.results import ModelState, Node
from architectonic.family.records import Body, Family, Model
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluator import Evaluation, Evaluator, Progress
from architectonic.propagate.targets import bodies_of, of_scope


def evaluate_scopes(
    evaluator: Evaluator,
    family: Family,
    scopes: list[Scope],
    meshes: tuple[Scope, ...] = (),
    cancel: CancelToken | None = None,
    progress: Progress | None = None,
) -> Evaluation:
    """Evaluate everything in some scopes, bodies measured; `meshes` names scopes whose bodies are wanted as triangles."""
    targets = [n for at in scopes for n in of_scope(family, at)]
    first = evaluator.evaluate(family, targets, cancel, progress)
    more: list[Node] = []
    for at in scopes:
        state = first.value(Node("finished", *at, ""))
        if isinstance(state, ModelState):
            ids = tuple(b for b, _ in state.bodies)
            more += bodies_of(family, at, ids, ("mesh", "measure") if at in meshes else ("measure",))
            more += [Node("mass", *at, b) for b in ids if _has_density(family, at, b)]
        placed = first.value(Node("assembly", *at, ""))
        if at in meshes and placed:
            more += [Node("mesh", *body) for p in placed for body in p.bodies]
    second = evaluator.evaluate(family, [*targets, *more], cancel, progress)
    second.work.computed += first.work.computed
    second.work.kernel_seconds += first.work.kernel_seconds
    second.work.total_seconds += first.work.total_seconds
    second.work.looked_into += first.work.looked_into
    second.work.reasons[:0] = first.work.reasons
    second.work.reused = max(0, second.work.reused - first.work.computed)
    return second


def _has_density(family: Family, at: Scope, body: str) -> bool:
    document = family.documents[at.document]
    record = document.bodies.get(body) if isinstance(document, Model) else None
    return isinstance(record, Body) and record.density is not None
