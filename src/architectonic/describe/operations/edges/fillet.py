"""Fillet: edges rounded."""

from __future__ import annotations

from typing import Any

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import plan_along, plan_length
from architectonic.describe.recipes import EdgesInput
from architectonic.describe.results import ModelState, Node, Plan
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Length
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Edges
from architectonic.family.operations.edges.fillet import Fillet


class FilletInput(EdgesInput, frozen=True, kw_only=True):
    """A radius, and the one at the end of each edge when it changes along it, mm."""

    radius: float
    last: float | None = None


def plan(view: View, node: Node, record: Fillet, given: ModelState) -> Plan:
    """Bodies after a fillet."""
    radius = yield from plan_length(view, node, record.radius, "radius")
    last = None
    if record.last is not None:
        last = yield from plan_length(view, node, record.last, "radius at the end")

    def payload(edges: Any) -> FilletInput:
        return FilletInput(operation=record.id, edges=edges, radius=radius, last=last)

    state = yield from plan_along(view, node, record, given, "fillet", payload)
    return state


KIND = OperationKind(
    Fillet,
    (
        Sentence("fillet", "Fillet edges", "fillet", "Fillet", (
            Edges("edges"), Length("radius", "with radius", "1 mm"),
            Length("last", "growing to", "2 mm", "+ another at the end"),
        ), short="Fillet", also=("round", "radius", "blend")),
    ),
    plan,
    recipe="fillet", given=FilletInput, version=4,
    group="edge treatments",
    rank=10,
)  # fmt: skip
