"""Extend: surfaces carried on beyond edges that bound them."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import SURFACES, plan_along, plan_length
from architectonic.describe.recipes import EdgesInput
from architectonic.describe.results import ModelState, Node, Plan
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Length
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Edges
from architectonic.family.operations.surfaces.extend import Extend


class ExtendInput(EdgesInput, frozen=True, kw_only=True):
    """Edges, and how far the surface goes on beyond them, mm."""

    length: float


def plan(view: View, node: Node, record: Extend, given: ModelState) -> Plan:
    """Bodies after surfaces were extended."""
    length = yield from plan_length(view, node, record.length, "length")
    state = yield from plan_along(
        view,
        node,
        record,
        given,
        "extend",
        lambda edges: ExtendInput(operation=record.id, edges=edges, length=length),
        SURFACES,
    )
    return state


KIND = OperationKind(
    Extend,
    (
        Sentence("extend", "Extend a surface", "extend beyond", "Extend", (
            Edges("edges", ""), Length("length", "by", "10 mm"),
        ), short="Extend", wants="a surface", also=("carry on", "lengthen", "grow")),
    ),
    plan,
    recipe="extend", given=ExtendInput, version=1,
    group="surfaces",
    rank=35,
)  # fmt: skip
