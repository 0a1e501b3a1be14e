"""Rib: a wall on one side of an open line, as far as the bodies that it is added to."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.base.labels import plain
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import (
    acted,
    plan_length,
    replaced,
)
from architectonic.describe.recipes import SolidInput
from architectonic.describe.references.chains import chained
from architectonic.describe.references.places import plan_curve
from architectonic.describe.results import (
    Frame,
    ModelState,
    Node,
    NodeFault,
    PieceResult,
    PlacedCurve,
    Plan,
    Recipe,
    fault,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Flag, Length
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import PathBlank
from architectonic.family.operations.solids.rib import Rib


class RibInput(SolidInput, frozen=True, kw_only=True):
    """A wall under curves of one plane, end to end, mm."""

    frame: Frame
    curves: tuple[PieceResult, ...]
    thickness: float
    flip: bool


def plan(view: View, node: Node, record: Rib, given: ModelState) -> Plan:
    """Bodies after a rib was added."""
    if not record.curves:
        raise fault("rib.no_curve", "has no curve", "pick curves of one sketch that meet end to end")
    thickness = yield from plan_length(view, node, record.thickness, "thickness")
    curves: list[PlacedCurve] = []
    for reference in record.curves:
        curve = yield from plan_curve(view, node, reference, record.id)
        if curve.heights or (curves and curve.frame != curves[0].frame):
            raise fault("rib.planes", "its curves do not lie in one plane", "pick curves of one sketch")
        curves.append(curve)
    pieces = chained(curves, [plain(r.label) or r.item for r in record.curves])
    first, last = pieces[0][1].start, pieces[-1][1].end
    if math.dist(first, last) < tolerance.FEATURE:
        raise fault("rib.closed", "its curves are closed", "use an extrude for a closed outline")
    bodies = acted(view, node, record.acts_on, given)
    payload = RibInput(
        operation=record.id,
        does="add",
        bodies=tuple(b for b, _ in bodies),
        frame=curves[0].frame,
        curves=tuple(piece for _, piece in pieces),
        thickness=thickness,
        flip=record.flip,
    )
    made = yield Recipe("rib", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


KIND = OperationKind(
    Rib,
    (
        Sentence("rib", "Rib", "add a rib to", "Rib", (
            Bodies("acts_on"), PathBlank("curves", "along"), Length("thickness", "thick", "2 mm"),
            Flag("flip", "on the other side", quiet=True),
        ), also=("web", "gusset", "stiffener")),
    ),
    plan,
    recipe="rib", given=RibInput, version=2,
    group="solids",
    rank=50,
)  # fmt: skip
