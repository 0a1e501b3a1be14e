"""Solids from planar regions, and booleans, with labels."""

from __future__ import annotations

from math import sin, tau
from typing import Any

from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse, BRepAlgoAPI_Splitter
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.GeomAbs import GeomAbs_Cone, GeomAbs_Cylinder, GeomAbs_Plane, GeomAbs_Sphere
from OCP.gp import gp_Vec

from architectonic.base.labels import base
from architectonic.kernel.measure.bodies import quick_box, shared_volume
from architectonic.kernel.shapes.labelled import Labelled, carry, history, named
from architectonic.kernel.shapes.outlines import KernelFrame, Loop, planar_face
from architectonic.kernel.shapes.topology import FACE, SOLID, compound, listed, shape_list, subshapes, unwrapped
from architectonic.kernel.shapes.verdict import KernelRefusal

Height = tuple[float, float, float]
"""(c, a, b): c + a u + b v over the point (u, v) of a plane."""


def prism(frame: KernelFrame, areas: list[tuple[Loop, ...]], near: Height, far: Height, operation: str) -> Labelled:
    """Areas pushed from one height to another along the normal; a sloping end is cut off a longer prism.

    Labels: `<operation>:side:<curve>`, `<operation>:start` at near, `<operation>:end` at far.

    Raises:
        KernelRefusal: an outline crosses itself.
    """
    sloping = [(h, role) for h, role in ((near, "start"), (far, "end")) if h[1:] != (0.0, 0.0)]
    if not sloping:
        return _straight(frame, areas, near[0], far[0], operation)
    corners = _box(areas)
    up = 1.0 if all(_at(far, c) > _at(near, c) for c in _points(areas)) else -1.0
    beyond = 1.0 + max(abs(_at(h, c)) for h in (near, far) for c in corners)
    body = _straight(
        frame,
        areas,
        near[0] if near[1:] == (0.0, 0.0) else -up * beyond,
        far[0] if far[1:] == (0.0, 0.0) else up * beyond,
        operation,
    )
    for height, role in sloping:
        tool = _slab(frame, corners, height, up * beyond * (3.0 if role == "end" else -3.0), f"{operation}:{role}")
        rest = boolean("cut", body, tool)
        if rest is None:
            raise KernelRefusal("nothing is left between its two ends")
        body = rest
    return body


def _at(height: Height, p: tuple[float, float]) -> float:
    return height[0] + height[1] * p[0] + height[2] * p[1]


def _points(areas: list[tuple[Loop, ...]]) -> list[tuple[float, float]]:
    return [side.start for loops in areas for side in loops[0]]


def _box(areas: list[tuple[Loop, ...]]) -> list[tuple[float, float]]:
    """Corners of a rectangle around areas, with some room."""
    us, vs = [], []
    for side in (s for loops in areas for s in loops[0]):
        reach = [side.start, side.end]
        if side.radius:
            (u, v), r = side.centre, side.radius
            reach += [(u - r, v - r), (u + r, v + r)]
        if side.path is not None:
            (cx, cy), (ax, ay), (bx, by) = (*side.path.poles, *side.path.poles)[:3]
            oval = [(cx + s * ax + t * bx, cy + s * ay + t * by) for s in (-1, 1) for t in (-1, 1)]
            reach += oval if side.path.kind == "ellipse" else side.path.poles
        us += [p[0] for p in reach]
        vs += [p[1] for p in reach]
    room = 1.0 + 0.1 * max(max(us) - min(us), max(vs) - min(vs))
    lo, hi = (min(us) - room, min(vs) - room), (max(us) + room, max(vs) + room)
    return [lo, (hi[0], lo[1]), hi, (lo[0], hi[1])]


def _slab(
    frame: KernelFrame, corners: list[tuple[float, float]], height: Height, thickness: float, label: str
) -> Labelled:
    """Everything on one side of a sloping plane over a rectangle; only the face on that plane has the label."""
    wire = BRepBuilderAPI_MakeWire()
    raised = [frame.point(*c, _at(height, c)) for c in corners]
    for k in range(4):
        wire.Add(BRepBuilderAPI_MakeEdge(raised[k], raised[(k + 1) % 4]).Edge())
    face = BRepBuilderAPI_MakeFace(wire.Wire(), True).Face()
    sweep = BRepPrimAPI_MakePrism(face, gp_Vec(*(c * thickness for c in frame.normal)))
    faces = subshapes(sweep.Shape(), FACE)
    return Labelled(
        sweep.Shape(),
        tuple((label if f.IsSame(sweep.FirstShape()) else f"{label}:away{i}",) for i, f in enumerate(faces)),
    )


def _straight(frame: KernelFrame, areas: list[tuple[Loop, ...]], near: float, far: float, operation: str) -> Labelled:
    solids, names = [], {}
    for loops in areas:
        face, edges = planar_face(frame, loops, near)
        vector = gp_Vec(*(c * (far - near) for c in frame.normal))
        sweep = BRepPrimAPI_MakePrism(face, vector)
        for edge, curve in edges:
            for side in listed(sweep.Generated(edge)):
                names[side] = f"{operation}:side:{curve}"
        names[sweep.FirstShape()] = f"{operation}:start"
        names[sweep.LastShape()] = f"{operation}:end"
        solids.append(sweep.Shape())
    shape = solids[0] if len(solids) == 1 else compound(solids)
    return named(shape, {f: [n] for f, n in names.items()})


def reach(frame: KernelFrame, shapes: list[Labelled]) -> tuple[float, float]:
    """Heights below and above a plane beyond which nothing of some shapes lies, with some room."""
    heights = [0.0, *(h for shape in shapes for h in _heights(frame, shape.shape))]
    room = 1.0 + 0.1 * (max(heights) - min(heights))
    return min(heights) - room, max(heights) + room


def _heights(frame: KernelFrame, shape: Any) -> list[float]:
    """Heights over a plane of the corners of a shape's box."""
    x0, y0, z0, x1, y1, z1 = quick_box(shape)
    return [
        sum(n * (c - o) for n, c, o in zip(frame.normal, corner, frame.origin, strict=True))
        for corner in ((x, y, z) for x in (x0, x1) for y in (y0, y1) for z in (z0, z1))
    ]


def until(tool: Labelled, faces: list[Any], label: str, kept: str) -> Labelled:
    """A long prism cut off at a curved face, which counts as extended where its surface has a natural extension.

    Args:
        label: of the faces of the cut; kept: label of the end that stays.

    Raises:
        KernelRefusal: the face does not part the prism.
    """
    sheets = [extended(f, tool.shape) for f in faces]
    algorithm = BRepAlgoAPI_Splitter()
    algorithm.SetArguments(shape_list([tool.shape]))
    algorithm.SetTools(shape_list(sheets))
    algorithm.Build()
    found = subshapes(algorithm.Shape(), SOLID) if algorithm.IsDone() else []
    if len(found) < 2:
        raise KernelRefusal("the face it ends on does not lie in its way, even when extended")
    whole = compound(found)
    cut = [Labelled(s, tuple((label,) for _ in subshapes(s, FACE))) for s in sheets]
    names = history(whole, [tool, *cut], algorithm, {})
    first = [s for s in found if any(kept in names[f] for f in subshapes(s, FACE))]
    if not first:
        raise KernelRefusal("the face it ends on does not lie in its way")
    return named(first[0] if len(first) == 1 else compound(first), names)


def extended(face: Any, around: Any) -> Any:
    """A plane, cylinder, cone or sphere as a whole, long enough for a shape; any other face as it is."""
    s = BRepAdaptor_Surface(face)
    size = 2.0 * max(abs(c) for c in quick_box(around)) + 2.0 * max(abs(c) for c in quick_box(face))
    kind = s.GetType()
    if kind == GeomAbs_Plane:
        return BRepBuilderAPI_MakeFace(s.Plane(), -size, size, -size, size).Face()
    if kind == GeomAbs_Cylinder:
        return BRepBuilderAPI_MakeFace(s.Cylinder(), 0.0, tau, -size, size).Face()
    if kind == GeomAbs_Sphere:
        return BRepBuilderAPI_MakeFace(s.Sphere()).Face()
    if kind == GeomAbs_Cone:
        cone = s.Cone()
        tip = -cone.RefRadius() / sin(cone.SemiAngle())
        low, high = (tip, size) if cone.SemiAngle() > 0 else (-size, tip)
        return BRepBuilderAPI_MakeFace(cone, 0.0, tau, low, high).Face()
    return face


def to_next(tool: Labelled, targets: list[Labelled], frame: KernelFrame, up: bool, cut: bool) -> Labelled:
    """A long prism up to where the first material begins, or what it goes through of the first material.

    Raises:
        KernelRefusal: there is no material in its way.
    """
    nothing = "there is nothing in its way to end on"
    if cut:
        parts = [p for p in (boolean("overlap", tool, t) for t in targets) if p is not None]
        made = parts[0] if parts else None
        for other in parts[1:]:
            assert made is not None
            made = boolean("add", made, other)
    else:
        made = tool
        for target in targets:
            made = boolean("cut", made, target) if made is not None else None
        if made is not None and len(made.faces) == len(tool.faces):
            raise KernelRefusal(nothing)
    if made is None:
        raise KernelRefusal(nothing)
    solids = subshapes(made.shape, SOLID)

    def begins(solid: Any) -> float:
        heights = _heights(frame, solid)
        return min(heights) if up else -max(heights)

    first = min(solids, key=begins)
    return named(first, {f: [base(n) for n in labels] for f, labels in zip(made.face_list, made.faces, strict=True)})


_BOOLEANS = {"add": BRepAlgoAPI_Fuse, "cut": BRepAlgoAPI_Cut, "overlap": BRepAlgoAPI_Common}


def boolean(does: str, body: Labelled, tool: Labelled) -> Labelled | None:
    """Add a tool to a body, cut it away, or keep the overlap; None when nothing is left.

    The solids of a tool may run into each other. Faces that become one by uniting keep the smallest label, the others as aliases.

    Raises:
        KernelRefusal: the kernel gave up or made an invalid solid.
    """
    algorithm = _BOOLEANS[does]()
    algorithm.SetArguments(shape_list([body.shape]))
    algorithm.SetTools(shape_list(subshapes(tool.shape, SOLID)))
    algorithm.Build()
    if not algorithm.IsDone():
        raise KernelRefusal("the two solids could not be combined")
    if does == "add":
        algorithm.SimplifyResult(True, True, 1e-6)
    shape = unwrapped(algorithm.Shape())
    if shape is None:
        return None
    if not BRepCheck_Analyzer(shape).IsValid():
        raise KernelRefusal("combining the two solids gives an invalid one")
    result = carry(shape, [body, tool], algorithm, {})
    _refuse_implausible(does, body, tool, result)
    return result


SLACK = 1e-3
"""Share by which rough volumes may miss what they must lie between."""


def _refuse_implausible(does: str, body: Labelled, tool: Labelled, result: Labelled) -> None:
    """The kernel calls some results valid that leave material where it was cut, or lose it where it was added.

    Raises:
        KernelRefusal: the volume cannot be right, or faces were cut and no material went.
    """
    a, b, c = body.rough_volume, tool.rough_volume, result.rough_volume
    low, high = {"add": (max(a, b), a + b), "cut": (a - b, a), "overlap": (0.0, min(a, b))}[does]
    room = SLACK * (a + b)
    if not low - room <= c <= high + room:
        raise KernelRefusal("the two solids could not be combined soundly here; move or turn one of them a little")
    if (
        does == "cut"
        and result.faces != body.faces
        and abs(a - c) <= SLACK * SLACK * a
        and shared_volume(body.shape, tool.shape) > room
    ):
        raise KernelRefusal("the one solid could not be cut out of the other here; move or turn one of them a little")
