"""Bring in: bodies made elsewhere, to go on with where they stand."""

from __future__ import annotations

from typing import Any

import msgspec

from architectonic.base.ids import IdSource
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.assembly.plans import Placed
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.references.places import plan_stood
from architectonic.describe.results import (
    BodyState,
    ModelState,
    Node,
    Plan,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Telling
from architectonic.describe.words.sentences import bodies as named
from architectonic.describe.words.spoken import Sentence
from architectonic.family.operations.bodies.bring_in import BringIn, BroughtBody
from architectonic.family.records import Model, Socket

Found = tuple[BodyState, Rigid]
"""A body as it is where it comes from, and where it stands here."""


def plan(view: View, node: Node, record: BringIn, given: ModelState) -> Plan:
    """Bodies with those that come in, each as it stands; those of instances that show something else stay away."""
    found: dict[str, Found] = {}
    for key, brought in record.bodies.items():
        taken = yield from (_plan_placed if brought.within else _plan_fed)(view, node, brought)
        if taken is not None:
            found[key] = taken
    if not found:
        raise fault("bring_in.nothing", "nothing that it brings in stands here", "", "off")
    made: list[BodyState] = []
    for key, (body, stands) in found.items():
        moved = yield from plan_stood(body.shape, stands)
        made.append(msgspec.structs.replace(body, id=key, shape=moved))
    return ModelState((*given.bodies, *made))


def _plan_fed(view: View, node: Node, brought: BroughtBody) -> Plan:
    """What a socket holds."""
    socket = view.record(Node("", node.at, brought.source.item))
    if not isinstance(socket, Socket) or socket.takes != "body":
        raise fault("bring_in.socket", "what it brings in is no fed body", "feed a body", "missing")
    (outcome,) = yield [Node("socket", node.at, brought.source.item, node.label)]
    return needed(outcome, "the fed body"), IDENTITY


def _plan_placed(view: View, node: Node, brought: BroughtBody) -> Plan:
    """A body of an instance where it stands; None where something else fills the instance, or nothing does, or where its part
    does not make it."""
    (outcome,) = yield [Node("placed", node.at, brought.within[0])]
    if outcome.value is None:
        if outcome.problem is not None and outcome.problem.severity == "off":
            return None
        needed(outcome, "what it brings in")
    placed: Placed = outcome.value
    there = [b for b in placed.bodies if b.body.path == brought.within and b.body.document == brought.source.of]
    mine = next((b for b in there if b.body.body == brought.source.item), None)
    if mine is None:
        at = there[0].body.at if there else placed.at if len(brought.within) == 1 else None
        if at is not None and at.document == brought.source.of:
            (known,) = yield [Node("backdrop", at, brought.source.item)]
            if known.value is None:  # not only absent here
                raise fault("bring_in.body", "a body that it brings in is gone", "bring another one in", "missing")
        return None
    (finished,) = yield [mine.node("finished")._replace(label=node.label)]
    state: ModelState = needed(finished)
    return next(b for b in state.bodies if b.id == mine.item), mine.stands


class Come(Bodies):
    """Bodies that come in, which clicks do not change."""

    shape = "told"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """None yet."""
        return {self.field: {}}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Their names."""
        return named(to.document, tuple(value))


KIND = OperationKind(
    BringIn,
    (Sentence("bring_in", "Bring bodies in", "bring in", "Bring in", (Come("bodies"),), short="Bring in", opens=False),),
    plan,
    group="bodies",
    rank=60,
)  # fmt: skip
