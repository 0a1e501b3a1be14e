"""Sweep: regions moved along a path."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import (
    named_bodies,
    plan_areas,
    plan_made,
    targets,
)
from architectonic.describe.recipes import Area, SolidInput, Way
from architectonic.describe.references.chains import chained, way
from architectonic.describe.references.places import plan_pieces
from architectonic.describe.results import (
    ModelState,
    Node,
    PlacedCurve,
    Plan,
    fault,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Does
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import PathBlank, Regions
from architectonic.family.operations.solids.sweep import Sweep


class SweepInput(SolidInput, frozen=True, kw_only=True):
    """Areas along a path: pieces end to end, each with its plane."""

    area: Area
    path: Way


def plan(view: View, node: Node, record: Sweep, given: ModelState) -> Plan:
    """Bodies after a sweep."""
    areas = yield from plan_areas(view, node, record.regions, record.id)
    if len(areas) != 1:
        raise fault("sweep.planes", "its regions lie in different sketches", "use one operation for each")
    if not record.path:
        raise fault("sweep.no_path", "has no path", "pick curves or edges that meet end to end")
    named: list[tuple[str, PlacedCurve]] = yield from plan_pieces(view, node, record.path, record.id)
    bodies = targets(view, node, record, given)
    payload = SweepInput(
        operation=record.id,
        does=record.does,
        bodies=named_bodies(record, bodies),
        area=areas[0],
        path=way(chained([c for _, c in named], [n for n, _ in named])),  # sides are told apart by what they lie along
    )
    state = yield from plan_made(record, given, "sweep", payload, [s for _, s in bodies])
    return state


KIND = OperationKind(
    Sweep,
    (
        Sentence("sweep", "Sweep", "", "Run", (Does("acts_on"), Regions("regions", "of"), PathBlank("path", "along")),
                 needs=anywhere, also=("pipe", "run", "follow")),
    ),
    plan,
    recipe="sweep", given=SweepInput, version=4,
    group="solids",
    rank=30,
)  # fmt: skip
