"""From curves and constraints to variables, merged scalars and residual rows.

Numbers only: curves are kinds with flat tuples, constraints are kinds with places. Two representations of a
constraint stand side by side: *merges* (x_a - x_b = const, x_a = const), which elimination removes from the
system, and *rows*, whose Jacobian serves solving and diagnosis (docs/decisions/0004).
"""

from __future__ import annotations

import math
from collections.abc import Callable

from architectonic.base.places import PlaceKey, curve_of, point_of, point_on, taken_apart
from architectonic.sketch.curves.kinds import ENDED, OVALS, ROUNDS
from architectonic.sketch.solving import freeform_rows, images, kernels, space
from architectonic.sketch.solving.entities import GIVEN, Constraint, Curve, Places
from architectonic.sketch.solving.freeform import Freeform, on_ellipse
from architectonic.sketch.solving.kernels import Residual

ON_ELLIPSE = Freeform(on_ellipse, 4)
Rows = list[tuple[float, dict[int, float]]]
Merge = tuple[int, int, float]
"""x[a] = x[b] + offset; b is -1 for a constant."""


class System:
    """Variables and constraints of one sketch.

    Attributes:
        x: start values of all variables (mm), those of fixed curves included.
        constraints: as given.
        other: x and y of the point that a coordinate belongs to.
        added: variables that a constraint brings along: a point of contact, or how far along a spline (a length).
    """

    def __init__(self, curves: list[Curve], constraints: list[Constraint]) -> None:
        self.curves = {c.id: c for c in (*GIVEN, *curves)}
        self._points: dict[str, tuple[int, int]] = {}
        self._rows: dict[Constraint, list[Residual]] = {}
        self.first: dict[str, int] = {}
        self.x: list[float] = []
        self.fixed: set[int] = set()
        self.other: dict[int, tuple[int, int]] = {}
        for curve in self.curves.values():
            self.first[curve.id] = len(self.x)
            for i, name in enumerate(curve.names):
                if name.endswith(".x"):
                    pair = (len(self.x) + i, len(self.x) + i + 1)
                    self.other[pair[0]] = self.other[pair[1]] = pair
            if curve.fixed:
                self.fixed.update(range(len(self.x), len(self.x) + len(curve.values)))
            self.x.extend(curve.values)
        self.constraints = constraints
        self.touches: dict[tuple[str, str], PlaceKey] = {
            (curve_of(c.of[0]), c.of[1]): c.of[0] for c in constraints if c.kind == "on_curve" and point_of(c.of[0])
        }
        self.added: dict[str, tuple[int, ...]] = {}
        for c in constraints:
            added = freeform_rows.added(self, c)
            if added:
                self.added[c.id] = tuple(range(len(self.x), len(self.x) + len(added)))
                self.x.extend(added)
                if len(added) == 2:  # a point of contact
                    i, j = self.added[c.id]
                    self.other[i] = self.other[j] = (i, j)
        self.root, self.offset = self._merge()

    # --- places ---------------------------------------------------------------------------------------

    def kind(self, place: str) -> str:
        """What a place is: a point, or the kind of a curve."""
        return "point" if point_of(place) else self.curves[place].kind

    def point(self, place: str) -> tuple[int, int]:
        """Variables of a point place ("c1.start", "origin")."""
        known = self._points.get(place)
        if known is None:
            curve, part = taken_apart(place)
            i = self.first[curve] + self.curves[curve].names.index(f"{part or 'at'}.x")
            known = self._points[place] = (i, i + 1)
        return known

    def ends(self, line: str) -> tuple[int, int, int, int]:
        """Variables of a line: x and y of start, x and y of end."""
        i = self.first[line]
        return i, i + 1, i + 2, i + 3

    def radius(self, curve: str) -> int:
        """The radius variable of a circle or arc."""
        return self.first[curve] + len(self.curves[curve].values) - 1

    def points(self, curve: str) -> dict[str, tuple[int, int]]:
        """Variables of every point of a curve, by the point's name."""
        first, names = self.first[curve], self.curves[curve].names
        return {n.removesuffix(".x"): (first + i, first + i + 1) for i, n in enumerate(names) if n.endswith(".x")}

    def at(self, place: str) -> tuple[float, float]:
        """Where a point stands at the start."""
        i, j = self.point(place)
        return self.x[i], self.x[j]

    def pair(self, of: Places) -> tuple[int, int, int, int]:
        """x0, y0, x1, y1 of two points, or of a line's two ends."""
        return self.ends(of[0]) if len(of) == 1 else (*self.point(of[0]), *self.point(of[1]))

    # --- elimination ----------------------------------------------------------------------------------

    def merges(self, c: Constraint) -> list[Merge] | None:
        """The merges that state the constraint wholly, or None when it needs rows."""
        kind, of = c.kind, c.of
        value = c.value or 0.0
        if kind in space.KINDS:
            return space.merges(self, c)
        if kind == "coincident":
            (ax, ay), (bx, by) = self.point(of[0]), self.point(of[1])
            return [(ax, bx, 0.0), (ay, by, 0.0)]
        if kind == "concentric":
            (ax, ay), (bx, by) = (self.point(point_on(place, "centre")) for place in of)
            return [(ax, bx, 0.0), (ay, by, 0.0)]
        if kind in ("horizontal", "vertical"):
            x0, y0, x1, y1 = self.pair(of)
            return [(y1, y0, 0.0)] if kind == "horizontal" else [(x1, x0, 0.0)]
        if kind in ("horizontal_distance", "vertical_distance"):
            x0, y0, x1, y1 = self.pair(of)
            return [(x1, x0, c.branch * value)] if kind[0] == "h" else [(y1, y0, c.branch * value)]
        if kind == "radius":
            return [(self.radius(of[0]), -1, value)]
        if kind == "diameter":
            return [(self.radius(of[0]), -1, value / 2)]
        if kind == "equal" and self.kind(of[0]) != "line":
            return [(self.radius(of[1]), self.radius(of[0]), 0.0)]
        if kind == "fix":
            if self.kind(of[0]) == "point":
                variables: tuple[int, ...] = self.point(of[0])
            else:
                first = self.first[of[0]]
                variables = tuple(range(first, first + len(self.curves[of[0]].values)))
            return [(i, -1, self.x[i]) for i in variables]
        return None

    def _merge(self) -> tuple[list[int], list[float]]:
        """Union-find with offsets; variables that equal a constant have root -1."""
        n = len(self.x)
        parent, shift = [*range(n), n], [0.0] * (n + 1)  # the last one stands for the constant 0

        def find(i: int) -> tuple[int, float]:
            total = 0.0
            while parent[i] != i:
                total += shift[i]
                i = parent[i]
            return i, total

        def join(a: int, b: int, offset: float) -> None:
            (ra, oa), (rb, ob) = find(a), find(n if b < 0 else b)
            if ra == rb:
                return  # closes a ring: stated already, or in conflict; checked on the rows afterwards
            if ra == n:
                parent[rb], shift[rb] = ra, oa - offset - ob
            else:
                parent[ra], shift[ra] = rb, offset + ob - oa

        for i in self.fixed:
            join(i, -1, self.x[i])
        self.eliminated: set[str] = set()
        for c in sorted(self.constraints, key=lambda c: c.value is not None):
            merges = self.merges(c)
            if merges is not None:
                self.eliminated.add(c.id)
                for a, b, offset in merges:
                    join(a, b, offset)
        root, offsets = [], []
        for i in range(n):
            r, o = find(i)
            root.append(-1 if r == n else r)
            offsets.append(o)
        return root, offsets

    def same_point(self, p: tuple[int, int], q: tuple[int, int]) -> bool:
        """Whether two points were merged into one."""
        return all(
            self.root[a] == self.root[b] and abs(self.offset[a] - self.offset[b]) < 1e-12
            for a, b in zip(p, q, strict=True)
        )

    # --- rows -----------------------------------------------------------------------------------------

    def inner(self) -> list[Residual]:
        """What makes a curve what it is: both ends of an arc on its radius, half axes square to each other, ..."""
        found = []
        for curve in self.curves.values():
            i = self.first[curve.id]
            if curve.fixed:
                continue
            if curve.kind == "arc":
                found += [Residual(kernels.on_round, (i, i + 1, i + k, i + k + 1, i + 6)) for k in (2, 4)]
            elif curve.kind in OVALS:
                square = (i, i + 1, i + 2, i + 3, i, i + 1, i + 4, i + 5)
                found.append(Residual(kernels.turn, square, math.pi / 2, length=False, turn=True))
                for k in range(6, len(curve.values), 2):
                    found.append(Residual(ON_ELLIPSE, (*range(i, i + 6), i + k, i + k + 1)))
            elif curve.kind == "text":
                at = tuple(range(i, i + 6))
                ratio = curve.data[0] if curve.data else 1.0
                found += [Residual(k, at, ratio, length=False) for k in (kernels.upright_x, kernels.upright_y)]
        return found

    def equations(self, c: Constraint) -> list[Residual]:
        """The constraint as rows, also when elimination has taken it in."""
        known = self._rows.get(c)
        if known is None:
            merges = self.merges(c)
            if merges is None:
                known = _ROWS[c.kind](self, c)
            else:
                known = [
                    Residual(kernels.same, (a, b), offset) if b >= 0 else Residual(kernels.held, (a,), offset)
                    for a, b, offset in merges
                ]
            self._rows[c] = known
        return known

    def internal_rows(self, x: list[float]) -> Rows:
        """Residuals and derivatives of the inner rows."""
        return [_evaluated(row, x) for row in self.inner()]

    def rows(self, c: Constraint, x: list[float]) -> Rows:
        """Residuals (mm, or rad) with their derivatives by variable."""
        return [_evaluated(row, x) for row in self.equations(c)]


def _evaluated(row: Residual, x: list[float]) -> tuple[float, dict[int, float]]:
    residual, slopes = row.kernel([x[i] for i in row.at], row.value)
    gradient: dict[int, float] = {}
    for i, slope in zip(row.at, slopes, strict=True):
        gradient[i] = gradient.get(i, 0.0) + slope
    return residual, gradient


def _turning(s: System, c: Constraint, target: float) -> list[Residual]:
    return [Residual(kernels.turn, (*s.ends(c.of[0]), *s.ends(c.of[1])), target, length=False, turn=True)]


def _parallel(s: System, c: Constraint) -> list[Residual]:
    return _turning(s, c, 0.0 if c.branch > 0 else math.pi)


def _perpendicular(s: System, c: Constraint) -> list[Residual]:
    return _turning(s, c, c.branch * math.pi / 2)


def _angle(s: System, c: Constraint) -> list[Residual]:
    if len(c.of) == 3:  # at the second point, from the first to the third
        a, vertex, b = (s.point(place) for place in c.of)
        return [
            Residual(kernels.turn, (*vertex, *a, *vertex, *b), c.branch * (c.value or 0.0), length=False, turn=True)
        ]
    return _turning(s, c, c.branch * (c.value or 0.0))


def _equal(s: System, c: Constraint) -> list[Residual]:
    return [Residual(kernels.equal, (*s.ends(c.of[0]), *s.ends(c.of[1])))]


def _distance(s: System, c: Constraint) -> list[Residual]:
    value = c.value or 0.0
    kinds = tuple(s.kind(place) for place in c.of)
    if kinds == ("line", "line"):  # both ends at the same distance: parallel too
        base, (x0, y0, x1, y1) = s.ends(c.of[0]), s.ends(c.of[1])
        return [Residual(kernels.side, (*base, *p), c.branch * value) for p in ((x0, y0), (x1, y1))]
    if len(kinds) == 2 and not {"line", "point"} & set(kinds):
        a, b = (s.point(point_on(place, "centre")) for place in c.of)
        return [Residual(kernels.gap, (*a, *b, s.radius(c.of[0]), s.radius(c.of[1])), value)]
    if len(c.of) == 2 and "line" in (s.kind(c.of[0]), s.kind(c.of[1])):
        point, line = sorted(c.of, key=lambda place: s.kind(place) == "line")
        return [Residual(kernels.side, (*s.ends(line), *s.point(point)), c.branch * value)]
    return [Residual(kernels.distance, s.pair(c.of), value)]


def _on_curve(s: System, c: Constraint) -> list[Residual]:
    point, curve = c.of
    p = s.point(point)
    if s.kind(curve) == "line":
        return [Residual(kernels.side, (*s.ends(curve), *p))]
    if s.kind(curve) not in ROUNDS:
        return freeform_rows.on_curve(s, c, p, curve)
    return [Residual(kernels.on_round, (*s.point(point_on(curve, "centre")), *p, s.radius(curve)))]


def _tangent(s: System, c: Constraint) -> list[Residual]:
    first, second = c.of
    if s.kind(second) == "line":
        first, second = second, first
    joint = joint_of(s, first, second)
    if not {s.kind(first), s.kind(second)} <= {"line", *ROUNDS}:
        return freeform_rows.tangent(s, c, first, second, joint)
    b = s.point(point_on(second, "centre"))
    if s.kind(first) == "line":
        if joint is not None:
            return [Residual(kernels.square_at, (*s.ends(first), *joint, *b))]
        return [Residual(kernels.beside, (*s.ends(first), *b, s.radius(second)), float(c.branch), length=False)]
    a = s.point(point_on(first, "centre"))
    if joint is not None:  # centres and joint in one line
        return [Residual(kernels.side, (*a, *joint, *b))]
    kernel = {1: kernels.outside, -1: kernels.second_inside, -2: kernels.first_inside}[c.branch]
    return [Residual(kernel, (*a, *b, s.radius(first), s.radius(second)))]


def joint_of(s: System, a: str, b: str) -> tuple[int, int] | None:
    """The point where two tangent curves meet, if the sketch says so: a shared end, or an end of one on the other.

    There tangency is written on the joint, which is a simple root; the distance to the line would be a double one.
    """
    for line, curve in ((a, b), (b, a)):
        if (line, curve) in s.touches and point_of(s.touches[line, curve]) != "centre":
            return s.point(s.touches[line, curve])
    if s.kind(a) in ENDED and s.kind(b) in ENDED:
        for end in ("start", "end"):
            for other in ("start", "end"):
                p, q = s.point(point_on(a, end)), s.point(point_on(b, other))
                if s.same_point(p, q):
                    return q
    return None


def _collinear(s: System, c: Constraint) -> list[Residual]:
    line, (x0, y0, x1, y1) = s.ends(c.of[0]), s.ends(c.of[1])
    return [Residual(kernels.side, (*line, x0, y0)), Residual(kernels.side, (*line, x1, y1))]


def _midpoint(s: System, c: Constraint) -> list[Residual]:
    (px, py), (x0, y0, x1, y1) = s.point(c.of[0]), s.ends(c.of[1])
    return [Residual(kernels.middle, (x0, x1, px)), Residual(kernels.middle, (y0, y1, py))]


def _symmetric(s: System, c: Constraint) -> list[Residual]:
    (ax, ay), (bx, by) = s.point(c.of[0]), s.point(c.of[1])
    if s.kind(c.of[2]) == "line":
        at = (*s.ends(c.of[2]), ax, ay, bx, by)
        return [Residual(kernels.mirror_middle, at), Residual(kernels.mirror_square, at)]
    cx, cy = s.point(c.of[2])
    return [Residual(kernels.middle, (ax, bx, cx)), Residual(kernels.middle, (ay, by, cy))]


def _arc_length(s: System, c: Constraint) -> list[Residual]:
    first = s.first[c.of[0]]
    return [Residual(kernels.arc_length, tuple(range(first, first + 7)), c.value or 0.0)]


def _smooth(s: System, c: Constraint) -> list[Residual]:
    return freeform_rows.smooth(s, c, joint_of(s, *c.of))


def _image(s: System, c: Constraint) -> list[Residual]:
    return images.rows(s, c)


_ROWS: dict[str, Callable[[System, Constraint], list[Residual]]] = {
    "parallel": _parallel,
    "perpendicular": _perpendicular,
    "angle": _angle,
    "equal": _equal,
    "distance": _distance,
    "on_curve": _on_curve,
    "tangent": _tangent,
    "collinear": _collinear,
    "midpoint": _midpoint,
    "symmetric": _symmetric,
    "arc_length": _arc_length,
    "smooth": _smooth,
    "offset": _image,
    "mirrored": _image,
    "shifted": _image,
    "turned": _image,
    **dict.fromkeys(space.KINDS, space.rows),
}
