"""Trim: surfaces cut by each other, of which some pieces stay."""

from __future__ import annotations

import msgspec

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import SURFACES, acted, plan_face_or_plane, replaced
from architectonic.describe.operations.surfaces.pieces import PieceSeen, decided
from architectonic.describe.recipes import MeshInput, Thing
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, Value, fault, needed
from architectonic.describe.view import View
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.surfaces import PiecesBlank, Surfaces, Trimmed
from architectonic.describe.words.things import Cutters
from architectonic.family.operations.surfaces.trim import Trim


class PiecesInput(Value, frozen=True, kw_only=True):
    """Surfaces in the order of the shapes, then those that only cut, then what faces that cut are on.

    Attributes:
        bodies: ids of the surfaces; tools: of those that only cut.
        by: what each plane or face is called, and what it is.
    """

    operation: str
    bodies: tuple[str, ...]
    tools: tuple[str, ...] = ()
    by: tuple[tuple[str, Thing], ...] = ()


class TrimInput(Value, frozen=True, kw_only=True):
    """Pieces that stay, in the order of the shapes.

    Attributes:
        of: of each the surface that it is a piece of.
        bodies: the surfaces as they were, whose shapes come after those of the pieces.
    """

    operation: str
    of: tuple[str, ...]
    bodies: tuple[str, ...]


def plan(view: View, node: Node, record: Trim, given: ModelState) -> Plan:
    """Bodies after surfaces were trimmed."""
    bodies = acted(view, node, record.acts_on, given, SURFACES)
    (outcome,) = yield [Node("pieces", node.at, record.id, node.label)]
    if outcome.problem is not None:
        raise NodeFault(outcome.problem)
    stay = _staying(outcome.value, record)
    payload = TrimInput(operation=record.id, of=tuple(p.of for p in stay), bodies=tuple(b for b, _ in bodies))
    made = yield Recipe("trim", payload, (*(p.shape for p in stay), *(s for _, s in bodies)))
    if made.problem is not None:
        raise NodeFault(made.problem)
    state = replaced(given, made.key, made.value)
    gone = set(payload.bodies) - set(made.value)
    return ModelState(tuple(b for b in state.bodies if b.id not in gone))


def _staying(found: tuple[PieceSeen, ...], record: Trim) -> list[PieceSeen]:
    """The pieces that stay.

    Raises:
        NodeFault: one is new and not decided on, one that was kept is gone, or none stays.
    """
    taken, lost = decided(found, record.pieces)
    new = sum(1 for t in taken if t is None)
    if new:
        told = "1 piece is new: keep it or drop it" if new == 1 else f"{new} pieces are new: keep them or drop them"
        told = told if record.pieces else f"none of its {new} pieces is chosen yet"
        raise fault("trim.undecided", told, "click the pieces that stay", "missing")
    gone = sum(1 for c in lost if c.keep)
    if gone:
        told = "a piece that was kept is" if gone == 1 else f"{gone} pieces that were kept are"
        raise fault("trim.lost", f"{told} no longer there", "look at the pieces and choose again", "missing")
    stay = [p for p, t in zip(found, taken, strict=True) if t is not None and t.keep]
    if not stay:
        raise fault("trim.nothing_left", "no piece stays", "keep one piece at least")
    return stay


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
    bodies = acted(view, node, record.acts_on, given, SURFACES)
    tools = acted(view, node, record.tools, given, SURFACES) if record.tools else []
    if len(bodies) + len(tools) + len(record.by) < 2:
        raise fault("trim.alone", "needs something that cuts the surface", "choose another surface, a plane or a face")
    shapes = [s for _, s in (*bodies, *tools)]
    by = []
    for reference in record.by:
        thing: Thing = yield from plan_face_or_plane(view, node, reference, record.id, shapes)
        by.append((reference.label or reference.item, thing))
    payload = PiecesInput(
        operation=record.id, bodies=tuple(b for b, _ in bodies), tools=tuple(t for t, _ in tools), by=tuple(by)
    )
    made = yield Recipe("pieces", payload, tuple(shapes))
    if made.problem is not None:
        raise NodeFault(made.problem)
    found: tuple[PieceSeen, ...] = made.value
    return tuple(msgspec.structs.replace(p, shape=f"{made.key}.{p.shape}") for p in found)


def plan_piece(view: View, node: Node) -> Plan:
    """The picture of one piece, by its number in the label."""
    (outcome,) = yield [Node("pieces", node.at, node.item)]
    found: tuple[PieceSeen, ...] = needed(outcome)
    made = yield Recipe("mesh", MeshInput(), (found[int(node.label)].shape,))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return made.value


KIND = OperationKind(
    Trim,
    (
        Sentence("trim", "Trim surfaces", "trim", "Trim", (
            Trimmed("acts_on"), PiecesBlank("pieces", "keeping"),
            Surfaces("tools", "cut by", "", "+ a surface that stays whole"),
            Cutters("by", "and by", "", "+ planes or faces"),
        ), short="Trim", wants="a surface", also=("cut", "split surface", "keep pieces")),
    ),
    plan,
    recipe="trim", given=TrimInput, version=1,
    group="surfaces",
    rank=40,
)  # fmt: skip
