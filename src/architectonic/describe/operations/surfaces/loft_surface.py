"""Loft to a surface: through chains of curves, one after the other."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.surface import SurfaceInput, path_of, plan_surface
from architectonic.describe.recipes import Way
from architectonic.describe.references.places import plan_pieces
from architectonic.describe.results import ModelState, Node, PlacedCurve, Plan, fault
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Flag
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.things import PathBlank
from architectonic.family.operations.surfaces.loft_surface import LoftSurface


class LoftSurfaceInput(SurfaceInput, frozen=True, kw_only=True):
    """Sections in order, each a chain of curves."""

    sections: tuple[Way, ...]
    straight: bool


def plan(view: View, node: Node, record: LoftSurface, given: ModelState) -> Plan:
    """Bodies with the surface."""
    bodies = view.model(node).bodies
    groups: dict[str, list[tuple[str, PlacedCurve]]] = {}
    for number, reference in enumerate(record.curves):
        curves = yield from plan_pieces(view, node, (reference,), record.id)
        alone = (
            reference.item in bodies or not reference.label
        )  # an edge of a body and a whole path are sections by themselves
        groups.setdefault(f"{reference.item}/{number}" if alone else reference.item, []).extend(curves)
    if len(groups) < 2:
        raise fault("loft.sections", "needs curves of two sketches at least", "pick the curves of the next section")
    sections = tuple(path_of(named) for named in groups.values())
    payload = LoftSurfaceInput(operation=record.id, body=record.body, sections=sections, straight=record.straight)
    state = yield from plan_surface(record, given, "loft_surface", payload)
    return state


KIND = OperationKind(
    LoftSurface,
    (
        Sentence("loft_surface", "Loft a surface", "loft", "Surface", (
            PathBlank("curves", "through"), Flag("straight", "straight between them"),
        ), short="Lofted", needs=anywhere, also=("ruled", "through curves", "skin", "lofted surface")),
    ),
    plan,
    recipe="loft_surface", given=LoftSurfaceInput, version=1,
    group="surfaces",
    rank=16,
)  # fmt: skip
