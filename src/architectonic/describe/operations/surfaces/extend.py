"""Extend: surfaces carried on beyond edges that bound them."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import SURFACES, plan_along, plan_face_or_plane, plan_length
from architectonic.describe.recipes import EdgesInput, Thing
from architectonic.describe.results import ModelState, Node, Plan
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Length
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Cutter, Edges
from architectonic.family.operations.surfaces.extend import Extend, ExtendBy, ExtendTo


class ExtendInput(EdgesInput, frozen=True, kw_only=True):
    """Edges, and how far the surface goes on beyond them, mm, or up to what; the shape of that comes last."""

    length: float = 0.0
    upto: Thing | None = None


def plan(view: View, node: Node, record: Extend, given: ModelState) -> Plan:
    """Bodies after surfaces were extended."""
    length, upto = 0.0, None
    more: list[str] = []
    if isinstance(record.by, ExtendBy):
        length = yield from plan_length(view, node, record.by.length, "length")
    else:
        upto = yield from plan_face_or_plane(view, node, record.by.target, record.id, more)
    state = yield from plan_along(
        view,
        node,
        record,
        given,
        "extend",
        lambda edges: ExtendInput(operation=record.id, edges=edges, length=length, upto=upto),
        SURFACES,
        tuple(more),
    )
    return state


KIND = OperationKind(
    Extend,
    (
        Sentence("extend", "Extend a surface", "extend beyond", "Extend", (
            Edges("edges", ""), Length("by.length", "by", "10 mm"),
        ), short="Extend", by=ExtendBy, wants="a surface", also=("carry on", "lengthen", "grow")),
        Sentence("extend_to", "Extend a surface up to a face", "extend beyond", "Extend", (
            Edges("edges", ""), Cutter("by.target", "up to"),
        ), short="Extend to", by=ExtendTo, wants="a surface", also=("carry on", "up to", "until", "reach")),
    ),
    plan,
    recipe="extend", given=ExtendInput, version=2,
    group="surfaces",
    rank=35,
)  # fmt: skip
