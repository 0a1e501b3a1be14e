"""Loft: a solid through regions, one after the other."""

from __future__ import annotations

from architectonic.base.labels import plain
from architectonic.describe.drawn.curves import as_piece, piece_result
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import (
    named_bodies,
    plan_areas,
    plan_made,
    targets,
)
from architectonic.describe.recipes import Area, SolidInput, Way
from architectonic.describe.references.chains import way
from architectonic.describe.references.places import plan_curve
from architectonic.describe.results import (
    Frame,
    ModelState,
    Node,
    PieceResult,
    Plan,
    fault,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Does
from architectonic.describe.words.blanks import Flag
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import PathBlank, Regions
from architectonic.family.operations.solids.loft import Loft


class LoftInput(SolidInput, frozen=True, kw_only=True):
    """Areas one after the other."""

    sections: tuple[Area, ...]
    straight: bool
    guides: Way = ()


def plan(view: View, node: Node, record: Loft, given: ModelState) -> Plan:
    """Bodies after a loft."""
    areas = yield from plan_areas(view, node, record.regions, record.id)
    if len(areas) < 2:
        raise fault("loft.sections", "needs regions on two planes at least", "pick the next region")
    if any(len(a.areas) != 1 for a in areas):
        raise fault("loft.parted", "a section is in several pieces", "pick one region of each sketch")
    if record.guides and record.straight:
        raise fault("loft.both", "its sides cannot be straight and follow guides", "take one of them out")
    guides: list[tuple[Frame, PieceResult, tuple[float, ...]]] = []
    for reference in record.guides:
        curve = yield from plan_curve(view, node, reference, record.id)
        guides += way([(curve, piece_result(as_piece(plain(reference.label) or reference.item, curve.curve)))])
    bodies = targets(view, node, record, given)
    payload = LoftInput(
        operation=record.id,
        does=record.does,
        bodies=named_bodies(record, bodies),
        sections=tuple(areas),
        straight=record.straight,
        guides=tuple(guides),
    )
    state = yield from plan_made(record, given, "loft", payload, [s for _, s in bodies])
    return state


KIND = OperationKind(
    Loft,
    (
        Sentence("loft", "Loft", "", "Transition", (
            Does("acts_on"), Regions("regions", "through"), Flag("straight", "straight between them", quiet=True),
            PathBlank("guides", "guided by", "", "+ guides"),
        ), needs=anywhere, also=("blend sections", "transition", "multi-section")),
    ),
    plan,
    recipe="loft", given=LoftInput, version=3,
    group="solids",
    rank=40,
)  # fmt: skip
