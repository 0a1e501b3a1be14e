"""Combine: a body united with others, less others, or what it shares with them."""

from __future__ import annotations

from typing import Literal

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, data_of, replaced, with_data
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import (
    ModelState,
    Node,
    NodeFault,
    Plan,
    Recipe,
    Value,
    fault,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies, OneBody
from architectonic.describe.words.blanks import Choice, Flag, Length
from architectonic.describe.words.spoken import Sentence
from architectonic.family.operations.bodies.combine import Combine
from architectonic.quantities.units import LENGTH


class CombineInput(Value, frozen=True, kw_only=True):
    """The body that changes comes first among the shapes, then the others."""

    operation: str
    does: Literal["unite", "subtract", "overlap"]
    body: str
    clearance: float


def plan(view: View, node: Node, record: Combine, given: ModelState) -> Plan:
    """Bodies after one was united with others, or they were taken from it."""
    if len(record.acts_on) != 1 or not record.tools:
        raise fault("combine.bodies", "needs one body that changes and others beside it", "choose the bodies")
    if record.acts_on[0] in record.tools:
        raise fault("combine.itself", "a body cannot be combined with itself", "choose other bodies")
    clearance = 0.0
    if record.clearance is not None:
        clearance = yield from evaluate(view, node, record.clearance, LENGTH)
    ((body, shape),) = acted(view, node, record.acts_on, given)
    tools = acted(view, node, record.tools, given)
    payload = CombineInput(operation=record.id, does=record.does, body=body, clearance=clearance)
    made = yield Recipe("combine", payload, (shape, *(s for _, s in tools)))
    if made.problem is not None:
        raise NodeFault(made.problem)
    state = replaced(given, made.key, made.value, () if record.keep else [b for b, _ in tools])
    if record.does == "subtract":  # a hole in what is taken away is a pin that stays
        return state
    return with_data(state, [body], data_of(given, (b for b, _ in tools)))


def _said(does: str, called: str, also: tuple[str, ...]) -> Sentence:
    """One sentence for each way, so that each is a verb of its own; any of them can be turned into another."""
    return Sentence(does, f"{called} bodies", "", called, (
        Choice("does", first=does, choices=(("unite", "unite"), ("subtract", "cut from"), ("overlap", "keep the overlap of"))),
        OneBody("acts_on"), Bodies("tools", "with"), Flag("keep", "keeping those"),
        Length("clearance", "grown by", "0.2 mm", "+ clearance", signed=True),
    ), short=called, also=also)  # fmt: skip


KIND = OperationKind(
    Combine,
    (
        _said("unite", "Unite", ("join", "union", "merge", "fuse", "combine", "boolean")),
        _said("subtract", "Subtract", ("cut from", "difference", "minus", "combine", "boolean")),
        _said("overlap", "Overlap", ("intersect", "common", "combine", "boolean")),
    ),
    plan,
    recipe="combine", given=CombineInput, version=2,
    group="bodies",
    rank=20,
)  # fmt: skip
