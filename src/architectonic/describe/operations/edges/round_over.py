"""Round over: narrow flat faces replaced by a round."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, replaced, wanted_by_body
from architectonic.describe.recipes import Wanted
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, Value, fault
from architectonic.describe.view import View
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Faces
from architectonic.family.operations.edges.round_over import RoundOver


class RoundOverInput(Value, frozen=True, kw_only=True):
    """Faces on each body, in the order of the shapes that come along."""

    operation: str
    faces: tuple[tuple[str, tuple[Wanted, ...]], ...]


def plan(view: View, node: Node, record: RoundOver, given: ModelState) -> Plan:
    """Bodies after narrow faces were rounded over."""
    if not record.faces:
        raise fault("operation.no_face", "has no face", "pick the narrow face that the round takes the place of")
    by_body = wanted_by_body(record.faces)
    present = acted(view, node, tuple(by_body), given)
    payload = RoundOverInput(operation=record.id, faces=tuple((b, tuple(by_body[b])) for b, _ in present))
    made = yield Recipe("round_over", payload, tuple(shape for _, shape in present))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


KIND = OperationKind(
    RoundOver,
    (
        Sentence("round_over", "Round faces over", "round over", "Round over", (Faces("faces"),),
                 also=("full round", "full fillet")),
    ),
    plan,
    recipe="round_over", given=RoundOverInput, version=2,
    group="edge treatments",
    rank=30,
)  # fmt: skip
