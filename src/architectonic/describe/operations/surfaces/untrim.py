"""Untrim: surfaces without what was cut into them."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import SURFACES, acted, replaced
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, Value
from architectonic.describe.view import View
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.surfaces import Surfaces
from architectonic.family.operations.surfaces.untrim import Untrim


class UntrimInput(Value, frozen=True, kw_only=True):
    """Surfaces in the order of the shapes."""

    operation: str
    bodies: tuple[str, ...]


def plan(view: View, node: Node, record: Untrim, given: ModelState) -> Plan:
    """Bodies after surfaces were made whole."""
    bodies = acted(view, node, record.acts_on, given, SURFACES)
    payload = UntrimInput(operation=record.id, bodies=tuple(b for b, _ in bodies))
    made = yield Recipe("untrim", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


KIND = OperationKind(
    Untrim,
    (
        Sentence("untrim", "Untrim surfaces", "untrim", "Untrim", (Surfaces("acts_on"),),
        short="Untrim", wants="a surface", also=("whole again", "restore", "remove holes", "natural bounds")),
    ),
    plan,
    recipe="untrim", given=UntrimInput, version=1,
    group="surfaces",
    rank=45,
)  # fmt: skip
