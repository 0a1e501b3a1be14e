"""Holes put straight into a solid where nothing is in their way: their walls are sewn into the faces that they go through.

A boolean asks every tool about every face; here only the flat faces at both ends change. What is not plain to see is left to
the boolean. The kernel's own check asks every rim about every other one, which takes longer than all else together: that rims
stand clear is known before, that the shell is closed and encloses what must be left is looked at after.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.TopAbs import TopAbs_FORWARD, TopAbs_REVERSED, TopAbs_SHELL
from OCP.TopExp import TopExp, TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Iterator, TopoDS_Shell, TopoDS_Solid

from architectonic.base import tolerance
from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.shapes.labelled import Labelled, Names
from architectonic.kernel.shapes.outlines import KernelFrame
from architectonic.kernel.shapes.topology import EDGE, FACE, SOLID, WIRE, is_planar, subshapes
from architectonic.kernel.shapes.verdict import rough_volume

CLEAR = 1e-3
"""How far everything else must keep from a hole that is put in, mm."""
SAME = 1e-5
"""Share of the volume by which the result may miss what must be left."""


class Drill(NamedTuple):
    """A hole to be put in.

    Attributes:
        tool: from its mouth on, its first face the disc there; where it goes through, its last face the disc at its end.
        frame: at its mouth, the normal into the material; length: from mouth to end; radius: of the widest part, mm.
    """

    tool: Labelled
    frame: KernelFrame
    length: float
    radius: float
    through: bool


def insert(body: Labelled, drills: list[Drill]) -> Labelled | None:
    """A body with holes in it; None where it is not plain to see that they meet nothing but their ends."""
    solids = subshapes(body.shape, SOLID)
    if len(solids) != 1 or len(_explored(solids[0], TopAbs_SHELL)) != 1:
        return None
    ends = _ends(body, drills)
    if ends is None or not _are_clear(body, drills, ends):
        return None
    faces = body.face_list
    extra: dict[int, list[Any]] = {}
    sides: list[tuple[Any, Names]] = []
    for drill, (first, last) in zip(drills, ends, strict=True):
        own = _explored(drill.tool.shape, FACE)
        caps = {0: first} | ({len(own) - 1: last} if drill.through else {})
        for k, (face, names) in enumerate(zip(own, drill.tool.faces, strict=True)):
            if k in caps:
                extra.setdefault(caps[k], []).extend(_explored(face, WIRE))
            else:
                sides.append((face.Reversed(), names))
    shell, builder = TopoDS_Shell(), BRep_Builder()
    builder.MakeShell(shell)
    oriented = {f: f for f in _explored(solids[0], FACE)}
    names_of: dict[Any, Names] = {}
    for k, face in enumerate(faces):
        put = _pierced(oriented[face], extra[k]) if k in extra else oriented[face]
        builder.Add(shell, put)
        names_of[put] = body.faces[k]
    for face, names in sides:
        builder.Add(shell, face)
        names_of[face] = names
    shell.Closed(True)
    solid = TopoDS_Solid()
    builder.MakeSolid(solid)
    builder.Add(solid, shell)
    made = Labelled(solid, tuple(names_of[f] for f in subshapes(solid, FACE)))
    left = body.rough_volume - _taken(drills)
    if abs(made.rough_volume - left) > SAME * body.rough_volume or not BRep_Tool.IsClosed_s(shell):
        return None
    return made


def _taken(drills: list[Drill]) -> float:
    """What all tools take away, mm3: those of one kind are measured once."""
    known: dict[Any, float] = {}
    total = 0.0
    for drill in drills:
        kind = drill.tool.shape.TShape()
        if kind not in known:
            known[kind] = rough_volume(drill.tool.shape)
        total += known[kind]
    return total


def _explored(shape: Any, kind: Any) -> list[Any]:
    """Parts of a shape as they are turned in it."""
    found, explorer = [], TopExp_Explorer(shape, kind)
    cast = {FACE: TopoDS.Face, WIRE: TopoDS.Wire, EDGE: TopoDS.Edge, TopAbs_SHELL: TopoDS.Shell}[kind]
    while explorer.More():
        found.append(cast(explorer.Current()))
        explorer.Next()
    return found


def _pierced(face: Any, mouths: list[Any]) -> Any:
    """A flat face with further holes; their rims run the other way round than those of the discs that fill them."""
    made, builder = TopoDS.Face(face.EmptyCopied().Oriented(TopAbs_FORWARD)), BRep_Builder()
    inside = TopoDS_Iterator(face, False, True)
    while inside.More():
        builder.Add(made, inside.Value())
        inside.Next()
    back = face.Orientation() == TopAbs_REVERSED
    for wire in mouths:
        builder.Add(made, wire if back else wire.Reversed())
    return made.Oriented(face.Orientation())


class _Flat:
    """A flat face, asked about many points.

    Args:
        index: among the faces of its body.
    """

    def __init__(self, index: int, face: Any, origin: Any, normal: Any) -> None:
        self.index, self.origin, self.normal = index, np.array(origin), np.array(normal)
        across = np.eye(3)[int(np.argmin(np.abs(self.normal)))]
        u = np.cross(self.normal, across)
        self._axes = np.stack([u / np.linalg.norm(u), np.cross(self.normal, u / np.linalg.norm(u))])
        ends = [
            [BRep_Tool.Pnt_s(v).Coord() for v in (TopExp.FirstVertex_s(e), TopExp.LastVertex_s(e))]
            for e in _explored(face, EDGE)
        ]
        self._sides = (np.array(ends).reshape(-1, 2, 3) - self.origin) @ self._axes.T

    def holds(self, points: np.ndarray) -> np.ndarray:
        """Whether points of its plane lie within it, (n,): by how often a ray from each crosses the chords of its edges.

        A chord stands for its edge wherever the point is not in the box around that edge, as the curve can be drawn straight
        within the box without passing the point; `_are_clear` sees to it that none is.
        """
        p = (points - self.origin) @ self._axes.T
        a, b = self._sides[None, :, 0], self._sides[None, :, 1]
        x, y = p[:, None, 0], p[:, None, 1]
        spans = (a[..., 1] > y) != (b[..., 1] > y)
        with np.errstate(divide="ignore", invalid="ignore"):
            at = a[..., 0] + (y - a[..., 1]) / (b[..., 1] - a[..., 1]) * (b[..., 0] - a[..., 0])
        found: np.ndarray = (spans & (x < at)).sum(axis=1) % 2 == 1
        return found


def _ends(body: Labelled, drills: list[Drill]) -> list[tuple[int, int]] | None:
    """The flat faces that each hole begins and ends in; None when one has none."""
    planes = [(k, f, *p) for k, f in enumerate(body.face_list) if (p := is_planar(f)) is not None]
    if not planes:
        return None
    flat = [_Flat(*p) for p in planes]
    starts, ways = np.array([d.frame.origin for d in drills]), np.array([d.frame.normal for d in drills])
    stops = starts + np.array([d.length for d in drills])[:, None] * ways
    first, last = _lying(flat, starts, -ways), _lying(flat, stops, ways)
    last[[not d.through for d in drills]] = BLIND
    if (first == NONE).any() or (last == NONE).any():
        return None
    return [(int(a), -1 if b == BLIND else int(b)) for a, b in zip(first, last, strict=True)]


NONE, BLIND = -2, -1
"""No face, and a hole that ends within the material."""


def _lying(flat: list[_Flat], points: np.ndarray, outward: np.ndarray) -> np.ndarray:
    """The flat face with an outward normal in which each point lies, (n,)."""
    found = np.full(len(points), NONE)
    for face in flat:
        faces = (outward @ face.normal > 1 - 1e-12) & (
            np.abs((points - face.origin) @ face.normal) < tolerance.MODELLING
        )
        asked = np.flatnonzero(faces & (found == NONE))
        if len(asked):
            found[asked[face.holds(points[asked])]] = face.index
    return found


def _are_clear(body: Labelled, drills: list[Drill], ends: list[tuple[int, int]]) -> bool:
    """Whether nothing of the body, and no other hole, comes near: by boxes, which may say no too often, never yes."""
    low, high = _boxes(body.face_list)
    edges = {k: _boxes(subshapes(body.face_list[k], EDGE)) for k in {k for pair in ends for k in pair if k >= 0}}
    mouths = np.array([d.frame.origin for d in drills])
    ways = np.array([d.frame.normal for d in drills])
    bottoms = mouths + np.array([d.length for d in drills])[:, None] * ways
    wide = np.array([d.radius for d in drills])[:, None] * np.sqrt(np.maximum(1 - ways**2, 0.0)) + CLEAR
    lows, highs = np.minimum(mouths, bottoms) - wide, np.maximum(mouths, bottoms) + wide
    for start in range(0, len(drills), BLOCK):
        part = slice(start, start + BLOCK)
        near = _meet(lows[part], highs[part], low, high)
        for at, which in ((mouths[part], 0), (bottoms[part], 1)):
            own = np.array([pair[which] for pair in ends[part]])
            near[np.flatnonzero(own >= 0), own[own >= 0]] = False
            for face in set(own[own >= 0].tolist()):
                here = own == face
                if _meet(at[here] - wide[part][here], at[here] + wide[part][here], *edges[face]).any():
                    return False
        if near.any() or _meet(lows[part], highs[part], lows, highs).sum() > len(lows[part]):  # each meets itself
            return False
    return True


BLOCK = 256
"""Boxes that are held against all others at a time."""


def _meet(low: np.ndarray, high: np.ndarray, lows: np.ndarray, highs: np.ndarray) -> np.ndarray:
    """Which boxes (n) meet which others (m): (n, m)."""
    found: np.ndarray = np.all((lows[None] <= high[:, None]) & (highs[None] >= low[:, None]), axis=2)
    return found


def _boxes(shapes: list[Any]) -> tuple[np.ndarray, np.ndarray]:
    """Lowest and highest corners of boxes around shapes, (n, 3) each."""
    found = np.array([quick_box(s) for s in shapes]).reshape(-1, 6)
    return found[:, :3], found[:, 3:]
