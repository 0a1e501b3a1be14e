"""Closed areas of a sketch, found exactly on lines, arcs, ellipses and splines.

Curves are cut at their crossings and touches, overlapping pieces are merged, and the faces of the arrangement are
walked on half-edges (de Berg et al., Computational Geometry, 3rd ed., section 2.2). A region is named by the cyclic
list of (curve, side) of its outer loop and its holes: two crossing circles a and b have the regions `+a-b`, `+b-a`
and `+a+b`, and keep these names while they cross.
"""

from __future__ import annotations

import itertools
import math
from collections import defaultdict
from dataclasses import dataclass, field, replace

import numpy as np

from architectonic.base.tolerance import MODELLING
from architectonic.sketch.curves import crossings
from architectonic.sketch.curves.meetings import _box, _met, _near
from architectonic.sketch.curves.piece import TAU, Piece, Point


@dataclass(frozen=True)
class Region:
    """One region: its name, outer loop (counter-clockwise) and holes (clockwise), exact area in mm2."""

    label: str
    loops: tuple[tuple[Piece, ...], ...]
    area: float
    inside: Point


@dataclass
class _Curve:
    """A curve being cut: parameters of cuts along it, in fractions of its own length."""

    piece: Piece
    closed: bool
    cuts: list[float] = field(default_factory=list)


def find(pieces: list[Piece], tolerance: float = MODELLING) -> list[Region]:
    """All regions bounded by whole curves, given as one piece each; helpers must be left out.

    Returns:
        Regions ordered by label. Open ends bound nothing; areas below tolerance squared are dropped.
    """
    curves = [
        _Curve(p, not p.straight and p.start == p.end)
        for p in pieces
        if not p.straight or math.dist(p.start, p.end) > tolerance
    ]
    boxes = [_box(c.piece) for c in curves]
    for i, j in _near(boxes, tolerance):
        a, b = curves[i], curves[j]
        for _, t, u in _met(a.piece, b.piece, boxes[i], boxes[j], tolerance):
            a.cuts.append(min(max(t, 0.0), 1.0))
            b.cuts.append(min(max(u, 0.0), 1.0))
    for c in curves:
        if c.piece.path is not None and c.piece.path.kind == "spline":
            c.cuts += crossings.own(c.piece, tolerance)
    vertices = _Vertices(tolerance)
    edges = _edges(curves, vertices)
    edges = _prune(edges)
    loops = _walk(edges)
    return _assemble(loops, tolerance)


class _Vertices:
    """Points snapped together within the tolerance, found through a grid of cells."""

    def __init__(self, tol: float) -> None:
        self.tol = tol
        self.points: list[Point] = []
        self.cells: dict[tuple[int, int], list[int]] = defaultdict(list)

    def index(self, p: Point) -> int:
        size, near = 64 * self.tol, 2 * self.tol
        x, y = p
        # nearly always one cell: only a point that lies close to a border looks across it
        columns = {math.floor((x - near) / size), math.floor((x + near) / size)}
        rows = {math.floor((y - near) / size), math.floor((y + near) / size)}
        for i in columns:
            for j in rows:
                for k in self.cells.get((i, j), ()):
                    if math.dist(self.points[k], p) <= near:
                        return k
        self.points.append(p)
        self.cells[math.floor(x / size), math.floor(y / size)].append(len(self.points) - 1)
        return len(self.points) - 1


@dataclass(frozen=True)
class _Edge:
    start: int
    end: int
    piece: Piece


def _edges(curves: list[_Curve], vertices: _Vertices) -> list[_Edge]:
    """Pieces between vertices; equal pieces of overlapping curves are kept once, under the smallest id."""
    found: dict[tuple[int, int], list[_Edge]] = defaultdict(list)
    for c in sorted(curves, key=lambda c: c.piece.curve):
        p = c.piece
        length = p.length()
        cuts = sorted({*c.cuts} if c.closed else {0.0, 1.0, *c.cuts})
        if c.closed and not cuts:
            cuts = [0.0]
        marks = [t for i, t in enumerate(cuts) if i == 0 or (t - cuts[i - 1]) * length > vertices.tol]
        if c.closed:
            if len(marks) > 1 and (marks[0] + 1 - marks[-1]) * length <= vertices.tol:
                marks.pop()
            marks.append(marks[0] + 1)
        places = [vertices.index(p.at(t)) for t in marks]
        for (t0, v0), (t1, v1) in itertools.pairwise(zip(marks, places, strict=True)):
            if v0 == v1 and p.straight:
                continue
            beside = found[min(v0, v1), max(v0, v1)]
            middle = p.at((t0 + t1) / 2) if beside else (0.0, 0.0)
            # pieces of two curves between the same ends are one when their middles are
            if all(math.dist(e.piece.at(0.5), middle) > 2 * vertices.tol for e in beside):
                beside.append(_Edge(v0, v1, p.part(t0, t1, vertices.points[v0], vertices.points[v1])))
    return [e for beside in found.values() for e in beside]


def _prune(edges: list[_Edge]) -> list[_Edge]:
    """Without edges that lead nowhere."""
    while True:
        degree: dict[int, int] = defaultdict(int)
        for e in edges:
            degree[e.start] += 1
            degree[e.end] += 1
        kept = [e for e in edges if degree[e.start] > 1 and degree[e.end] > 1]
        if len(kept) == len(edges):
            return edges
        edges = kept


def _walk(edges: list[_Edge]) -> list[tuple[Piece, ...]]:
    """All loops of half-edges, each with its area on the left."""
    halves = [h for e in edges for h in ((e.start, e.end, e.piece), (e.end, e.start, e.piece.reversed()))]
    around: dict[int, list[int]] = defaultdict(list)
    for i, (v, _, _) in enumerate(halves):
        around[v].append(i)
    following: dict[int, int] = {}
    for leaving in around.values():
        leaving.sort(key=lambda i: (*halves[i][2].departure(), i))
        for k, i in enumerate(leaving):
            # arriving along the twin of i, go on along the next one clockwise
            following[i ^ 1] = leaving[k - 1]
    loops, seen = [], set()
    for first in range(len(halves)):
        if first in seen:
            continue
        loop, i = [], first
        while i not in seen:
            seen.add(i)
            loop.append(halves[i][2])
            i = following[i]
        loops.append(tuple(loop))
    return loops


def area(loop: tuple[Piece, ...]) -> float:
    """Signed area of a loop in mm2, positive when counter-clockwise."""
    return sum(p.area() for p in loop)


def contains(loop: tuple[Piece, ...], q: Point) -> bool:
    """Whether a point lies inside a loop, by its winding number (exact on arcs)."""
    total = 0.0
    for p in loop:
        if p.straight:
            total += _turn(q, p.start, p.end)
            continue
        if p.path is not None:
            total += sum(_turn(q, a, b) for a, b in itertools.pairwise(p.points()))
            continue
        # the chord's angle, plus a full turn when the point lies between chord and arc
        steps = max(1, math.ceil(abs(p.turn) / (math.pi / 2)))
        for k in range(steps):
            a, b = p.at(k / steps), p.at((k + 1) / steps)
            total += _turn(q, a, b)
            if math.dist(q, p.centre) < p.radius and _left(a, b, q) * p.turn < 0:
                total += math.copysign(TAU, p.turn)
    return abs(total) > math.pi


def _left(a: Point, b: Point, q: Point) -> float:
    return (b[0] - a[0]) * (q[1] - a[1]) - (b[1] - a[1]) * (q[0] - a[0])


def _turn(q: Point, a: Point, b: Point) -> float:
    ax, ay, bx, by = a[0] - q[0], a[1] - q[1], b[0] - q[0], b[1] - q[1]
    return math.atan2(ax * by - ay * bx, ax * bx + ay * by)


def _assemble(loops: list[tuple[Piece, ...]], tol: float) -> list[Region]:
    """Give holes to the smallest region around them, and names to regions."""
    sized = [(area(p), p) for p in loops]
    outers = sorted(((a, p) for a, p in sized if a > tol * tol), key=lambda e: e[0])
    around = [p for a, p in sized if a < -tol * tol]
    holes: dict[int, list[tuple[Piece, ...]]] = defaultdict(list)
    if around:
        boxes = np.array([_loop_box(p) for _, p in outers])
        own = [{_edge_key(p) for p in outer} for _, outer in outers]
        for hole in around:
            curves, (x, y) = {_edge_key(p) for p in hole}, hole[0].at(0.5)
            held = (boxes[:, 0] <= x) & (boxes[:, 1] <= y) & (boxes[:, 2] >= x) & (boxes[:, 3] >= y)
            for k in np.flatnonzero(held).tolist():
                if own[k].isdisjoint(curves) and contains(outers[k][1], (x, y)):
                    holes[k].append(hole)
                    break
    found = []
    for k, (size, outer) in enumerate(outers):
        inner = sorted(holes[k], key=_loop_label)
        label = "/".join([_loop_label(outer), *(_loop_label(h) for h in inner)])
        total = size + sum(area(h) for h in inner)
        found.append(Region(label, (outer, *inner), total, _inside((outer, *inner))))
    return _tell_apart(found)


def _edge_key(p: Piece) -> tuple[str, Point, Point]:
    """An edge, whichever way it is run."""
    return (p.curve, p.start, p.end) if p.forward else (p.curve, p.end, p.start)


def _loop_box(loop: tuple[Piece, ...]) -> tuple[float, float, float, float]:
    """A box that holds a loop."""
    boxes = [_box(p) for p in loop]
    return min(b[0] for b in boxes), min(b[1] for b in boxes), max(b[2] for b in boxes), max(b[3] for b in boxes)


def _loop_label(loop: tuple[Piece, ...]) -> str:
    """The cyclic list of (curve, side), each run of one curve once, turned so that the smallest comes first."""
    entries = [("+" if p.forward else "-") + p.curve for p in loop]
    runs = [e for i, e in enumerate(entries) if e != entries[i - 1]] or entries[:1]
    turns = [runs[i:] + runs[:i] for i in range(len(runs))]
    return "".join(min(turns, key=lambda t: [(e[1:], e[0]) for e in t]))


def _tell_apart(found: list[Region]) -> list[Region]:
    """Regions with one list of curves are numbered from left to right, then upwards."""
    by_label: dict[str, list[Region]] = defaultdict(list)
    for region in found:
        by_label[region.label].append(region)
    out = []
    for label, same in by_label.items():
        if len(same) == 1:
            out += same
            continue
        same.sort(key=lambda r: (round(r.inside[0], 5), round(r.inside[1], 5)))
        out += [Region(f"{label}#{i + 1}", r.loops, r.area, r.inside) for i, r in enumerate(same)]
    return sorted(out, key=lambda r: r.label)


def _inside(loops: tuple[tuple[Piece, ...], ...]) -> Point:
    """A point well inside: of some chords across the region, the middle of the widest."""
    ys = [p.at(t)[1] for p in loops[0] for t in (0.0, 0.25, 0.5, 0.75)]
    low, high = min(ys), max(ys)
    best: tuple[float, Point] = (-1.0, loops[0][0].start)
    spans = [(p, box[1], box[3]) for loop in loops for p in loop for box in (_box(p),)]
    for share in (0.5, 0.31, 0.69, 0.13, 0.87):
        y = low + share * (high - low)
        xs = sorted(x for p, below, above in spans if below <= y <= above for x in _level(p, y))
        for a, b in zip(xs[::2], xs[1::2], strict=False):
            if b - a > best[0] * 1.000001:
                best = (b - a, ((a + b) / 2, y))
    return best[1]


def _level(p: Piece, y: float) -> list[float]:
    """Where a piece crosses a height."""
    if p.path is not None:
        return [
            a[0] + (y - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
            for a, b in itertools.pairwise(p.points())
            if (y >= a[1]) != (y >= b[1])
        ]
    if p.radius == 0:
        (x0, y0), (x1, y1) = p.start, p.end
        return [x0 + (y - y0) / (y1 - y0) * (x1 - x0)] if (y0 <= y) != (y1 <= y) else []
    dy = y - p.centre[1]
    if abs(dy) >= p.radius:
        return []
    half = math.sqrt(p.radius**2 - dy**2)
    begin = math.atan2(p.start[1] - p.centre[1], p.start[0] - p.centre[0])
    way, slack = math.copysign(1.0, p.turn), 1e-9 / p.radius
    return [
        p.centre[0] + dx
        for dx in (-half, half)
        if (way * (math.atan2(dy, dx) - begin) + slack) % TAU <= abs(p.turn) + 2 * slack
    ]


def outline(regions: list[Region]) -> list[tuple[tuple[Piece, ...], ...]]:
    """Loops of the union of regions of one sketch: edges between two of them vanish.

    Returns:
        One tuple of loops (outer first, then holes) for each connected area.
    """
    halves: dict[tuple[str, Point, Point, bool], Piece] = {}
    for region in regions:
        for loop in region.loops:
            for p in loop:
                twin = (p.curve, p.end, p.start, not p.forward)
                if twin in halves:
                    del halves[twin]
                else:
                    halves[p.curve, p.start, p.end, p.forward] = p
    vertices = _Vertices(MODELLING)
    left = list(halves.values())
    leaving: dict[int, list[int]] = defaultdict(list)
    for i, p in enumerate(left):
        leaving[vertices.index(p.start)].append(i)
    loops: list[tuple[Piece, ...]] = []
    used: set[int] = set()
    for first in range(len(left)):
        if first in used:
            continue
        run: list[Piece] = []
        i = first
        while i not in used:
            used.add(i)
            run.append(left[i])
            v = vertices.index(left[i].end)
            back = left[i].reversed().departure()
            # the next one clockwise from where we came keeps the area on the left
            i = max(
                leaving[v],
                key=lambda k: (((left[k].departure()[0] - back[0] - 1e-5) % TAU), left[k].departure()[1]),
            )
        loops.append(_merged(run))
    outers = [loop for loop in loops if area(loop) > 0]
    groups = [[outer] for outer in outers]
    for hole in (loop for loop in loops if area(loop) < 0):
        around = [g for g in groups if contains(g[0], hole[0].at(0.5))]
        min(around, key=lambda g: area(g[0])).append(hole) if around else None
    return [tuple(g) for g in groups]


def _spanned(p: Piece) -> float:
    return p.span[1] - p.span[0]


def _merged(loop: list[Piece]) -> tuple[Piece, ...]:
    """Neighbouring pieces of one curve joined, so that a touch in the middle does not part a side."""

    def go_on(a: Piece, b: Piece) -> bool:
        return a.curve == b.curve and a.forward == b.forward and math.dist(a.end, b.start) <= MODELLING

    first = next((i for i, p in enumerate(loop) if not go_on(loop[i - 1], p)), 0)
    out: list[Piece] = []
    for p in loop[first:] + loop[:first]:
        if out and go_on(out[-1], p):
            a = out[-1]
            out[-1] = replace(
                a, end=p.end, turn=a.turn + p.turn, span=(a.span[0], a.span[0] + _spanned(a) + _spanned(p))
            )
        else:
            out.append(p)
    return tuple(out)
