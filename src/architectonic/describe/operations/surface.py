"""What operations on surfaces share: chains of curves, and the state after a recipe that makes one."""

from __future__ import annotations

from typing import Any

from architectonic.describe.operations.solid import plan_face_or_plane, replaced
from architectonic.describe.recipes import Thing, Way
from architectonic.describe.references.chains import chained, way
from architectonic.describe.references.places import plan_pieces
from architectonic.describe.results import ModelState, Node, NodeFault, PlacedCurve, Plan, Recipe, Value, fault, needed
from architectonic.describe.view import View
from architectonic.family.operations.base import MakesSurface
from architectonic.family.records import Reference


class SurfaceInput(Value, frozen=True, kw_only=True):
    """A surface that is made: by which operation, and its id."""

    operation: str
    body: str


def plan_chain(view: View, node: Node, references: tuple[Reference, ...], standing: str, what: str) -> Plan:
    """Sub-plan: curves and edges that meet end to end, as a path.

    Args:
        what: they are, in words.

    Raises:
        NodeFault: there are none, or they do not meet.
    """
    if not references:
        raise fault("surface.no_curve", f"has no {what}", "pick curves or edges that meet end to end")
    named: list[tuple[str, PlacedCurve]] = yield from plan_pieces(view, node, references, standing)
    return path_of(named)


def path_of(named: list[tuple[str, PlacedCurve]]) -> Way:
    """Curves as a path, with what each is called."""
    return way(chained([c for _, c in named], [n for n, _ in named]))


def plan_surface(
    record: MakesSurface, given: ModelState, kind: str, payload: Any, shapes: tuple[str, ...] = ()
) -> Plan:
    """Sub-plan: the bodies with the surface that a recipe makes."""
    made = yield Recipe(kind, payload, shapes)
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, (record.body,))


def plan_sheet(view: View, node: Node, reference: Reference, standing: str, shapes: list[str]) -> Plan:
    """Sub-plan: all of a body, one of its faces, or a plane."""
    bodies = view.model(node).bodies
    if reference.item in bodies and not reference.label:
        (outcome,) = yield [view.state_of(node, node.at, reference, standing) or Node("finished", node.at, "")]
        shape = needed(outcome).shape(reference.item)
        if shape is None:
            raise fault("body.missing", "the body it takes does not exist here", "pick another one", "missing")
        shapes.append(shape)
        return Thing(len(shapes) - 1)
    thing = yield from plan_face_or_plane(view, node, reference, standing, shapes)
    return thing
