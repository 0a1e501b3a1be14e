"""Fill: a surface within edges and curves that close."""

from __future__ import annotations

from typing import Literal

from architectonic.describe.drawn.curves import as_piece, piece_result
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, wanted_by_body
from architectonic.describe.operations.surface import SurfaceInput, plan_surface
from architectonic.describe.recipes import Wanted, Way
from architectonic.describe.references.chains import way
from architectonic.describe.references.places import plan_pieces, plan_point
from architectonic.describe.results import ModelState, Node, PlacedCurve, Plan, Vector, fault
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Choice
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import PathBlank, Points
from architectonic.family.operations.surfaces.fill import FillSurface


class FillInput(SurfaceInput, frozen=True, kw_only=True):
    """A boundary: edges by the shape they are on, and curves; points that the surface goes through, mm."""

    edges: tuple[tuple[int, tuple[Wanted, ...]], ...]
    curves: Way
    continuity: Literal["meets", "smooth"]
    points: tuple[Vector, ...]


def plan(view: View, node: Node, record: FillSurface, given: ModelState) -> Plan:
    """Bodies with the surface."""
    if not record.edges:
        raise fault("fill.no_edge", "has no boundary", "pick edges and curves that close")
    bodies = view.model(node).bodies
    by_body = wanted_by_body(r for r in record.edges if r.item in bodies)
    present = acted(view, node, tuple(by_body), given, ("solid", "surface")) if by_body else []
    drawn = tuple(r for r in record.edges if r.item not in bodies)
    curves: list[tuple[str, PlacedCurve]] = yield from plan_pieces(view, node, drawn, record.id)
    points: list[Vector] = []
    for reference in record.points:
        point = yield from plan_point(view, node, reference, record.id)
        points.append(point)
    payload = FillInput(
        operation=record.id,
        body=record.body,
        edges=tuple((k, tuple(by_body[body])) for k, (body, _) in enumerate(present)),
        curves=way([(c, piece_result(as_piece(name, c.curve))) for name, c in curves]),
        continuity=record.continuity,
        points=tuple(points),
    )
    state = yield from plan_surface(record, given, "fill", payload, tuple(s for _, s in present))
    return state


KIND = OperationKind(
    FillSurface,
    (
        Sentence("fill", "Fill a boundary", "fill", "Fill", (
            PathBlank("edges", ""), Choice("continuity", first="meets", choices=(("meets", "flat or as it comes"), ("smooth", "smooth to its neighbours"))),
            Points("points", "through", "", "+ through points"),
        ), short="Fill", needs=anywhere, also=("patch", "cap", "close flat", "n-sided")),
    ),
    plan,
    recipe="fill", given=FillInput, version=1,
    group="surfaces",
    rank=20,
)  # fmt: skip
