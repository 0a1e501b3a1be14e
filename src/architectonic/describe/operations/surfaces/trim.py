"""Trim: surfaces cut by each other, of which some pieces stay."""

from __future__ import annotations

import msgspec

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import SURFACES, acted, plan_face_or_plane, replaced
from architectonic.describe.operations.surfaces.pieces import PieceSeen
from architectonic.describe.recipes import Thing
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, Value, fault, needed
from architectonic.describe.view import View
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.surfaces import PiecesBlank, Surfaces
from architectonic.describe.words.things import Cutters
from architectonic.family.operations.surfaces.trim import PieceChoice, Trim


class TrimInput(Value, frozen=True, kw_only=True):
    """Surfaces in the order of the shapes, then those that only cut, then planes and faces that do.

    Attributes:
        bodies: ids of the surfaces; tools: of those that only cut.
        by: what each plane or face is called, and what it is.
        pieces: what was decided; None to ask only what there is.
    """

    operation: str
    bodies: tuple[str, ...]
    tools: tuple[str, ...] = ()
    by: tuple[tuple[str, Thing], ...] = ()
    pieces: tuple[PieceChoice, ...] | None = None


def plan(view: View, node: Node, record: Trim, given: ModelState) -> Plan:
    """Bodies after surfaces were trimmed."""
    payload, shapes = yield from _plan_given(view, node, record, given)
    made = yield Recipe("trim", msgspec.structs.replace(payload, pieces=record.pieces), shapes)
    if made.problem is not None:
        raise NodeFault(made.problem)
    state = replaced(given, made.key, made.value)
    gone = set(payload.bodies) - set(made.value)
    return ModelState(tuple(b for b in state.bodies if b.id not in gone))


def _plan_given(view: View, node: Node, record: Trim, given: ModelState) -> Plan:
    bodies = acted(view, node, record.acts_on, given, SURFACES)
    tools = acted(view, node, record.tools, given, SURFACES) if record.tools else []
    if len(bodies) + len(tools) + len(record.by) < 2:
        raise fault("trim.alone", "needs something that cuts the surface", "choose another surface, a plane or a face")
    shapes = [s for _, s in (*bodies, *tools)]
    by = []
    for reference in record.by:
        thing: Thing = yield from plan_face_or_plane(view, node, reference, record.id, shapes)
        by.append((reference.label or reference.item, thing))
    payload = TrimInput(
        operation=record.id, bodies=tuple(b for b, _ in bodies), tools=tuple(t for t, _ in tools), by=tuple(by)
    )
    return payload, tuple(shapes)


def plan_pieces(view: View, node: Node) -> Plan:
    """The pieces that a trim has to do with, each with the key of its shape."""
    record = view.record(node)
    if not isinstance(record, Trim):
        raise fault("trim.missing", "the trim is gone", "", "missing")
    previous = view.previous(node, record.id)
    given = ModelState()
    if previous is not None:
        (outcome,) = yield [previous._replace(label=node.label)]
        given = needed(outcome)
    payload, shapes = yield from _plan_given(view, node, record, given)
    made = yield Recipe("pieces", payload, shapes)
    if made.problem is not None:
        raise NodeFault(made.problem)
    found: tuple[PieceSeen, ...] = made.value
    return tuple(msgspec.structs.replace(p, shape=f"{made.key}.{p.shape}") for p in found)


KIND = OperationKind(
    Trim,
    (
        Sentence("trim", "Trim surfaces", "trim", "Trim", (
            Surfaces("acts_on"), PiecesBlank("pieces", "by each other, keep"),
            Surfaces("tools", "cut by", "", "+ a surface that stays whole"),
            Cutters("by", "and by", "", "+ planes or faces"),
        ), short="Trim", wants="a surface", also=("cut", "split surface", "keep pieces")),
    ),
    plan,
    recipe="trim", given=TrimInput,
    group="surfaces",
    rank=40,
)  # fmt: skip
