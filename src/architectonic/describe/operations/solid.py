"""What all operations on bodies share: which bodies they are given, what comes of them, and areas to start from."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

import msgspec

from architectonic.base import tolerance
from architectonic.describe.drawn.curves import as_region, piece_result
from architectonic.describe.recipes import Area, OutlineInput, Thing, Wanted
from architectonic.describe.references.feed import plan_region
from architectonic.describe.references.places import plan_shape
from architectonic.describe.references.planes import plan_plane
from architectonic.describe.references.value import evaluate, plan_source
from architectonic.describe.results import (
    BodyState,
    HoleSet,
    ModelState,
    Node,
    NodeFault,
    PlacedRegion,
    Plan,
    Recipe,
    fault,
)
from architectonic.describe.view import View, is_standard
from architectonic.family.operations.base import BodyKind, OnEdges, Solid
from architectonic.family.records import Body, Expression, Reference
from architectonic.family.scopes import Scope
from architectonic.quantities.units import LENGTH
from architectonic.sketch.curves.regions import outline


def replaced(given: ModelState, key: str, changed: Iterable[str], gone: Iterable[str] = ()) -> ModelState:
    """A state in which some bodies have the shapes that a recipe made, and some are there no more."""
    new, lost = {body: f"{key}.{body}" for body in changed}, set(gone)
    kept = [msgspec.structs.replace(b, shape=new.pop(b.id, b.shape)) for b in given.bodies if b.id not in lost]
    return ModelState((*kept, *(BodyState(body, shape) for body, shape in new.items())))


def with_data(state: ModelState, bodies: list[str], sets: dict[str, HoleSet]) -> ModelState:
    """A state in which some bodies carry hole sets."""
    return ModelState(
        tuple(
            msgspec.structs.replace(b, attributes={**b.attributes, **sets}) if b.id in bodies else b
            for b in state.bodies
        )
    )


def data_of(given: ModelState, bodies: Iterable[str]) -> dict[str, HoleSet]:
    """The hole sets that some bodies carry."""
    wanted = set(bodies)
    return {k: v for b in given.bodies if b.id in wanted for k, v in b.attributes.items()}


SOLIDS: tuple[BodyKind, ...] = ("solid", "mesh")
SURFACES: tuple[BodyKind, ...] = ("surface",)
ANY: tuple[BodyKind, ...] = (*SOLIDS, *SURFACES)


def acted(
    view: View, node: Node, ids: tuple[str, ...], given: ModelState, kinds: tuple[BodyKind, ...] = SOLIDS
) -> list[tuple[str, str]]:
    """Those of some bodies that are there, with the keys of their shapes.

    Args:
        kinds: what they may be.

    Raises:
        NodeFault: none is there; one is a backdrop, which is never acted on; one is a surface where a solid is needed, or
            the other way round.
    """
    known = view.model(node).bodies
    backdrop = next((known[b].name for b in ids if b in known and known[b].backdrop_only), None)
    if backdrop is not None:
        raise fault("body.backdrop", f"{backdrop} is a backdrop and is never acted on", "take it off this operation")
    for body in given.bodies:
        if body.id in ids and body.kind not in kinds:
            called = known[body.id].name if body.id in known else "a body"
            if body.kind == "surface":
                raise fault("body.surface", f"{called} is a surface, and this works on solids", "thicken it, or join it with others to a solid")  # fmt: skip
            raise fault("body.solid", f"{called} is a solid, and this works on surfaces", "offset its faces to a surface first")  # fmt: skip
    order = {b: k for k, b in enumerate(ids)}
    found = sorted(((b.id, b.shape) for b in given.bodies if b.id in order), key=lambda f: order[f[0]])
    if not found and ids and not view.model(node).makes_bodies and all(b in known for b in ids):
        raise fault("operation.nothing_here", "what it acts on does not stand here", "", "off")
    if not found:
        names = ", ".join(known[b].name if b in known else "a body that is gone" for b in ids)
        what = f"what it acts on does not exist here: {names}" if ids else "it acts on no body"
        raise fault("operation.no_body", what, "choose the bodies it acts on", "missing")
    return found


def named_bodies(record: Solid, bodies: list[tuple[str, str]]) -> tuple[str, ...]:
    """Ids as a recipe has them: of the bodies it acts on, or of the one it makes."""
    return tuple(b for b, _ in bodies) or record.acts_on


def plan_made(record: Solid, given: ModelState, kind: str, payload: Any, shapes: Iterable[str]) -> Plan:
    """Sub-plan: the bodies after a recipe whose value lists those that changed."""
    made = yield Recipe(kind, payload, tuple(shapes))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


def targets(view: View, node: Node, record: Solid, given: ModelState) -> list[tuple[str, str]]:
    """The bodies that something solid acts on; none when it makes its own."""
    return [] if record.does == "make" else acted(view, node, record.acts_on, given)


def plan_length(view: View, node: Node, expression: Expression, what: str, zero: bool = False) -> Plan:
    """Sub-plan: a length that must be positive.

    Raises:
        NodeFault: it is not.
    """
    value = yield from evaluate(view, node, expression, LENGTH)
    if value < (0.0 if zero else tolerance.FEATURE):
        raise fault("operation.length", f"the {what} is {value:g} mm", f"give a positive {what}")
    return value


def plan_areas(view: View, node: Node, references: tuple[Reference, ...], standing: str) -> Plan:
    """Sub-plan: regions and planar faces as areas in the order they are named, those of one sketch together.

    Regions that are off here are left out, unless all are.
    """
    if not references:
        raise fault("operation.no_region", "has no region", "pick a region of a sketch, or a flat face")
    groups: dict[str, list[PlacedRegion]] = {}
    off = None
    for reference in references:
        try:
            found = yield from plan_profile(view, node, reference, standing)
            groups.setdefault(f"{reference.of}/{reference.item}", []).append(found)
        except NodeFault as problem:
            if problem.problem.severity != "off":
                raise
            off = problem
    if not groups:
        assert off is not None
        raise off
    return [area for group in groups.values() for area in _areas(group)]


def _areas(group: list[PlacedRegion]) -> list[Area]:
    """Regions of one sketch, neighbours united; faces of one body, each with its own plane."""
    if any(p.frame != group[0].frame for p in group):
        return [area for p in group for area in _areas([p])]
    loops = outline([as_region(p.region) for p in group])
    return [Area(group[0].frame, tuple(tuple(tuple(piece_result(p) for p in loop) for loop in area) for area in loops))]


def plan_profile(view: View, node: Node, reference: Reference, standing: str) -> Plan:
    """Sub-plan: a region of a sketch or socket, or the outline of a planar face."""
    at: Scope = yield from plan_source(view, node, reference)
    record = view.record(Node("", at, reference.item)) if at.document == node.document else None
    if not isinstance(record, Body):
        region = yield from plan_region(view, node, reference)
        return region
    gone = fault("body.missing", "the body of its face does not exist here", "pick another face", "missing")
    shape = yield from plan_shape(view, node, at, reference, standing, gone)
    made = yield Recipe("outline", OutlineInput(Wanted(reference.label, reference.witness)), (shape,))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return made.value


def plan_face_or_plane(view: View, node: Node, reference: Reference, standing: str, shapes: list[str]) -> Plan:
    """Sub-plan: a plane, or a face of any kind, whose body is put among the shapes that come along."""
    at: Scope = yield from plan_source(view, node, reference)
    record = (
        None if is_standard(reference) or at.document != node.document else view.record(Node("", at, reference.item))
    )
    if isinstance(record, Body) and reference.label:
        gone = fault("body.missing", "the body of its face does not exist here", "pick another face", "missing")
        shapes.append((yield from plan_shape(view, node, at, reference, standing, gone)))
        return Thing(len(shapes) - 1, Wanted(reference.label, reference.witness))
    return Thing(frame=(yield from plan_plane(view, node, reference, standing)))


def wanted_by_body(references: Iterable[Reference]) -> dict[str, list[Wanted]]:
    """Faces or edges to find, by the body they are on."""
    found: dict[str, list[Wanted]] = {}
    for reference in references:
        found.setdefault(reference.item, []).append(Wanted(reference.label, reference.witness))
    return found


def plan_faces(references: Iterable[Reference], given: ModelState, shapes: list[str]) -> tuple[tuple[int, Wanted], ...]:
    """Faces of bodies as they are given, with the shape each is on, which is put among those that come along; an empty label
    stands for all of a body.

    Raises:
        NodeFault: a body is not there.
    """
    faces: list[tuple[int, Wanted]] = []
    for body, wanted in wanted_by_body(references).items():
        shape = given.shape(body)
        if shape is None:
            raise fault("face.missing", "the body of its face does not exist here", "pick another face", "missing")
        shapes.append(shape)
        faces += [(len(shapes) - 1, w) for w in wanted]
    return tuple(faces)


def plan_along(
    view: View,
    node: Node,
    record: OnEdges,
    given: ModelState,
    kind: str,
    payload: Callable[[Any], Any],
    kinds: tuple[BodyKind, ...] = SOLIDS,
    more: tuple[str, ...] = (),
) -> Plan:
    """Something along edges, which are found by label in the state that the operation is given.

    Args:
        more: shapes that come after those with the edges.
    """
    if not record.edges:
        raise fault("operation.no_edge", "has no edge", "pick edges")
    by_body = wanted_by_body(record.edges)
    present = acted(view, node, tuple(by_body), given, kinds)
    edges = tuple((body, tuple(by_body[body])) for body, _ in present)
    made = yield Recipe(kind, payload(edges), (*(shape for _, shape in present), *more))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)
