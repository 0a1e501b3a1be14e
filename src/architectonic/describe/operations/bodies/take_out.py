"""Take out: bodies left out of the result."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import ANY, acted, replaced
from architectonic.describe.results import (
    ModelState,
    Node,
    Plan,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.spoken import Sentence
from architectonic.family.operations.bodies.take_out import TakeOut


def plan(view: View, node: Node, record: TakeOut, given: ModelState) -> Plan:
    """Bodies without some of them."""
    yield []  # it needs nothing but the state that it is given
    return replaced(given, "", (), [b for b, _ in acted(view, node, record.acts_on, given, ANY)])


KIND = OperationKind(
    TakeOut,
    (
        Sentence("take_out", "Take bodies out", "take out", "Take out", (Bodies("acts_on"),), short="Take out", also=("remove", "delete body", "suppress")),
    ),
    plan,

    group="bodies",
    rank=50,
)  # fmt: skip
