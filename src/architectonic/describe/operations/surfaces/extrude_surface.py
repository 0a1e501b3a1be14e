"""Extrude to a surface: curves pushed along a direction."""

from __future__ import annotations

from architectonic.base import tolerance
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import plan_length
from architectonic.describe.operations.surface import SurfaceInput, plan_chain, plan_surface
from architectonic.describe.recipes import Way
from architectonic.describe.references.places import plan_line
from architectonic.describe.references.planes import unit
from architectonic.describe.results import ModelState, Node, Plan, Vector
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Flag, Length
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import LineBlank, PathBlank
from architectonic.family.operations.surfaces.extrude_surface import ExtrudeSurface


class ExtrudeSurfaceInput(SurfaceInput, frozen=True, kw_only=True):
    """Curves, the direction they are pushed along, and from where to where on it, mm."""

    path: Way
    direction: Vector
    start: float
    end: float


def plan(view: View, node: Node, record: ExtrudeSurface, given: ModelState) -> Plan:
    """Bodies with the surface."""
    path: Way = yield from plan_chain(view, node, record.curves, record.id, "curve")
    length = yield from plan_length(view, node, record.length, "length")
    before = 0.0
    if record.before is not None:
        before = yield from plan_length(view, node, record.before, "distance before its plane", zero=True)
    direction = path[0][0].normal
    if record.along is not None:
        line = yield from plan_line(view, node, record.along, record.id)
        direction = unit(line.direction)
    if record.flip:
        direction = (-direction[0], -direction[1], -direction[2])
    start, end = (-length / 2, length / 2) if record.symmetric else (-before, length)
    payload = ExtrudeSurfaceInput(
        operation=record.id,
        body=record.body,
        path=path,
        direction=direction,
        start=tolerance.length(start),
        end=tolerance.length(end),
    )
    state = yield from plan_surface(record, given, "extrude_surface", payload)
    return state


KIND = OperationKind(
    ExtrudeSurface,
    (
        Sentence("extrude_surface", "Extrude a surface", "extrude", "Surface", (
            PathBlank("curves", ""), Length("length", "by", "40 mm"), Flag("symmetric", "both ways"),
            Length("before", "from before it by", "10 mm", "+ from before", unless="symmetric"),
            LineBlank("along", "along", "", "+ along a line", optional=True), Flag("flip", "the other way", quiet=True),
        ), short="Extruded", needs=anywhere, also=("push", "sheet", "extruded surface")),
    ),
    plan,
    recipe="extrude_surface", given=ExtrudeSurfaceInput, version=1,
    group="surfaces",
    rank=10,
)  # fmt: skip
