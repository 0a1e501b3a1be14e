"""Replace a face: a solid carried on, or cut back, to a surface."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, replaced
from architectonic.describe.operations.surface import plan_sheet
from architectonic.describe.recipes import Thing, Wanted
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, Value
from architectonic.describe.view import View
from architectonic.describe.words.marks import FlatFace
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.surfaces import Sheet
from architectonic.family.operations.solids.replace_face import ReplaceFace


class ReplaceFaceInput(Value, frozen=True, kw_only=True):
    """A face of the first shape, and what comes in its place."""

    operation: str
    body: str
    face: Wanted
    by: Thing


def plan(view: View, node: Node, record: ReplaceFace, given: ModelState) -> Plan:
    """Bodies with another face."""
    ((body, shape),) = acted(view, node, (record.face.item,), given)
    shapes = [shape]
    by: Thing = yield from plan_sheet(view, node, record.by, record.id, shapes)
    face = Wanted(record.face.label, record.face.witness)
    made = yield Recipe(
        "replace_face", ReplaceFaceInput(operation=record.id, body=body, face=face, by=by), tuple(shapes)
    )
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


KIND = OperationKind(
    ReplaceFace,
    (
        Sentence("replace_face", "Replace a face by a surface", "replace", "Replace face", (
            FlatFace("face", ""), Sheet("by", "by"),
        ), short="Replace face", also=("face to surface", "match", "up to surface")),
    ),
    plan,
    recipe="replace_face", given=ReplaceFaceInput, version=1,
    group="solids",
    rank=75,
)  # fmt: skip
