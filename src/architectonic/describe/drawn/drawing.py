"""Drawing a sketch by calls: curves, constraints with the branch that was drawn, dimensions with expressions.

Used by scripts, the demo and the canvas alike; each call returns nothing but the id it made, and `sketch` holds the
record so far.
"""

from __future__ import annotations

import difflib
import math
from collections.abc import Mapping, Sequence
from itertools import pairwise

from architectonic.base import ids as id_source
from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.base.places import FIXED, PlaceKey, curve_of, point_on
from architectonic.describe.drawn.curves import data_of, start_values
from architectonic.describe.results import CurveResult
from architectonic.family import edits, names
from architectonic.family.records import (
    DIMENSIONS,
    Arc,
    Circle,
    Constraint,
    Curve,
    Ellipse,
    EllipticArc,
    Family,
    Line,
    Point,
    Reference,
    Sketch,
    Spline,
    Text,
    Trace,
    quantity_of,
)
from architectonic.quantities.compiled import fixed_value
from architectonic.quantities.units import DEFAULT_UNIT
from architectonic.sketch.curves import kinds, paths
from architectonic.sketch.solving import entities, system

XY = tuple[float, float]
ALONG = ("horizontal_distance", "vertical_distance")
SIDES = {
    "tangent": (1, -1, -2),
    "smooth": (1, -1),
    "parallel": (1, -1),
    "perpendicular": (1, -1),
    "angle": (1, -1),
    "distance": (1, -1),
}
"""Branches of sided constraints, of which the drawn one is kept."""


def numbers(sketch: Sketch, traced: Mapping[str, CurveResult] | None = None) -> list[entities.Curve]:
    """The curves of a sketch as the solver reads them; traced ones where an evaluation put them, else left out."""
    found = []
    for key, curve in sketch.curves.items():
        if not isinstance(curve, Trace):
            kind, values = start_values(curve)
            found.append(entities.Curve(key, kind, values, data=data_of(curve)))
        elif traced and key in traced:
            c = traced[key]
            found.append(entities.Curve(key, c.kind, c.values, fixed=True, data=c.data))
    return found


def kinds_in(sketch: Sketch, known: Mapping[str, CurveResult] | None = None) -> dict[str, str]:
    """The kind of every curve of a sketch; "" of traced ones that are not among what is known."""
    found = {k: "" if isinstance(c, Trace) else start_values(c)[0] for k, c in sketch.curves.items()}
    return found | {k: c.kind for k, c in (known or {}).items()}


def drawn_branch(
    curves: list[entities.Curve],
    kind: str,
    of: tuple[PlaceKey, ...],
    joined: Sequence[entities.Constraint] = (),
    amount: float | None = None,
) -> int:
    """The branch of a sided constraint that agrees best with what is drawn; 1 for the others.

    Args:
        joined: constraints that say which ends meet.
        amount: of an angle whose value is known (rad): 205 degrees are turned to the side on which 205 are drawn.
    """
    if kind in ALONG:
        s = system.System(curves, [])
        x0, y0, x1, y1 = s.pair(of)
        a, b = (x0, x1) if kind[0] == "h" else (y0, y1)
        return -1 if s.x[b] < s.x[a] else 1
    best, found = math.inf, 1
    for branch in SIDES.get(kind, ()):
        c = entities.Constraint("", kind, of, 0.0, branch)
        s = system.System(curves, [*joined, c])
        if branch == -2 and not {s.kind(p) for p in of} <= {"circle", "arc"}:
            continue
        rows = s.rows(c, s.x)
        residual, score = rows[0][0], sum(abs(r) for r, _ in rows)
        if kind == "angle" and amount is not None:
            score = abs(math.remainder(residual - branch * amount, math.tau))
        elif kind == "angle":
            score = 0.0 if residual * branch >= 0 else 1.0
        elif kind == "distance":
            score = -residual * branch
        if score < best - 1e-12:
            best, found = score, branch
    return found


class Drawing:
    """A sketch being drawn in a document of a family.

    Args:
        traced: positions of traced curves from an evaluation, so that branches can be read off them.
    """

    def __init__(
        self,
        family: Family,
        document_id: str,
        sketch: Sketch,
        new_id: IdSource = id_source.new_id,
        traced: Mapping[str, CurveResult] | None = None,
    ) -> None:
        self.family = family
        self.document_id = document_id
        self.sketch = sketch
        self.new_id = new_id
        self.traced = traced

    def add(self, curve: Curve) -> str:
        """A curve as it is."""
        key = self.new_id()
        self.sketch = edits.replace(self.sketch, curves={**self.sketch.curves, key: curve})
        return key

    def line(self, start: XY, end: XY, helper: bool = False) -> str:
        """A line; mm in the sketch's plane."""
        return self.add(Line(start=_on_grid(start), end=_on_grid(end), helper=helper))

    def circle(self, centre: XY, radius: float, helper: bool = False) -> str:
        """A circle.

        Raises:
            UserFault: a radius of zero or less.
        """
        if radius < tolerance.FEATURE:
            raise UserFault("a circle needs a radius above zero", self.sketch.name)
        return self.add(Circle(centre=_on_grid(centre), radius=tolerance.length(radius), helper=helper))

    def arc(self, centre: XY, start: XY, end: XY, helper: bool = False) -> str:
        """An arc, counter-clockwise from start to end."""
        return self.add(Arc(centre=_on_grid(centre), start=_on_grid(start), end=_on_grid(end), helper=helper))

    def point(self, at: XY) -> str:
        """A point."""
        return self.add(Point(at=_on_grid(at)))

    def ellipse(self, centre: XY, along: XY, across: XY, helper: bool = False) -> str:
        """An ellipse by an end of each half axis; of the second one only its distance from the first axis counts.

        Raises:
            UserFault: a half axis of no length.
        """
        a, b = _half_axes(centre, along, across, self.sketch.name)
        return self.add(Ellipse(centre=_on_grid(centre), along=a, across=b, helper=helper))

    def elliptic_arc(self, centre: XY, along: XY, across: XY, start: XY, end: XY, helper: bool = False) -> str:
        """A part of an ellipse, counter-clockwise between the directions of two points.

        Raises:
            UserFault: a half axis of no length.
        """
        a, b = _half_axes(centre, along, across, self.sketch.name)
        path = paths.ellipse(centre, a, b)
        begin, stop = (paths.point(path, paths.nearest(path, p, 0.0, math.tau)) for p in (start, end))
        return self.add(
            EllipticArc(
                centre=_on_grid(centre), along=a, across=b, start=_on_grid(begin), end=_on_grid(stop), helper=helper
            )
        )

    def spline(self, points: Sequence[XY], through: bool = True, helper: bool = False) -> str:
        """A smooth curve through points, or by control points.

        Raises:
            UserFault: too few points, or two after each other in one place.
        """
        if len(points) < (2 if through else 3):
            raise UserFault("a curve by control points needs at least three", self.sketch.name, "set more points")
        if any(math.dist(a, b) < tolerance.FEATURE for a, b in pairwise(points)):
            raise UserFault("two points of the curve are in one place", self.sketch.name, "move one of them away")
        at = tuple(_on_grid(p) for p in points)
        if not through:
            return self.add(Spline(points=at, helper=helper))
        first, last = paths.first_handles(at)
        parameters = tuple(tolerance.ratio(u) for u in paths.parameters(at))
        return self.add(
            Spline(points=at, handles=(_on_grid(first), _on_grid(last)), parameters=parameters, helper=helper)
        )

    def text(self, text: str, at: XY, height: float, turn: float = 0.0) -> str:
        """A line of text by the start of its base line, the height of its capitals and the angle of the line (rad).

        Raises:
            UserFault: no height, nothing to see, or a character that the font lacks.
        """
        from architectonic.sketch.curves import lettering

        if height < tolerance.FEATURE:
            raise UserFault("a text needs a height above zero", self.sketch.name)
        width = height / lettering.ratio(text)
        c, s = math.cos(turn), math.sin(turn)
        along, over = (at[0] + width * c, at[1] + width * s), (at[0] - height * s, at[1] + height * c)
        return self.add(Text(text=text, at=_on_grid(at), along=_on_grid(along), over=_on_grid(over)))

    def trace(self, source: Reference, drawn: tuple[float, ...] = (), helper: bool = True) -> str:
        """A curve brought in from a feed; `drawn` is where it stands now, in the order of sketch.kinds.names_of."""
        return self.add(Trace(source=source, helper=helper, drawn=tuple(tolerance.length(v) for v in drawn)))

    def rectangle(self, corner: XY, opposite: XY) -> tuple[str, str, str, str]:
        """Four lines, joined, horizontal and vertical: bottom, right, top, left."""
        (x0, y0), (x1, y1) = corner, opposite
        p = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
        sides = tuple(self.line(p[i], p[(i + 1) % 4]) for i in range(4))
        for i in range(4):
            self.constrain("coincident", point_on(sides[i], "end"), point_on(sides[(i + 1) % 4], "start"))
        for i in (0, 2):
            self.constrain("horizontal", sides[i])
            self.constrain("vertical", sides[i + 1])
        return sides[0], sides[1], sides[2], sides[3]

    def constrain(
        self,
        kind: str,
        *of: str,
        value: str | None = None,
        name: str = "",
        branch: int | None = None,
        reads: bool = False,
    ) -> str:
        """A constraint or dimension between places; the drawn branch is kept unless one is given.

        Args:
            reads: the dimension has no value: it is a read-out.

        Raises:
            UserFault: a place that does not exist, a dimension without a value, an expression that cannot be used.
        """
        places = tuple(PlaceKey(p) for p in of)
        for place in places:
            curve = curve_of(place)
            if curve not in self.sketch.curves and curve not in FIXED:
                raise UserFault("this constraint names a curve that is not there", self.sketch.name)
        self._refuse_unfit(kind, places)
        bound = None
        if kind in DIMENSIONS and not reads:
            if value is None:
                raise UserFault(f"a {kind.replace('_', ' ')} needs a value", self.sketch.name)
            quantity = quantity_of(kind)
            document = edits.document(self.family, self.document_id)
            bound = names.bind_quantity(self.family, document, value, quantity, DEFAULT_UNIT[quantity], self.sketch)
            if kind in ("radius", "diameter", "distance", "arc_length", "offset"):
                edits.refuse_not_positive(bound, quantity, name or kind, zero=kind == "distance")
        if name:
            taken = [c.name for c in self.sketch.constraints if c.name]
            name = names.check_name(name, taken, "dimension")
        if branch is None:
            known = kind == "angle" and bound is not None and not bound.refs
            branch = self._branch(kind, places, fixed_value(bound.text, "angle") if known and bound else None)
        made = Constraint(id=self.new_id(), kind=kind, of=places, value=bound, name=name, branch=branch)  # type: ignore[arg-type]
        self.sketch = edits.replace(self.sketch, constraints=(*self.sketch.constraints, made))
        return made.id

    def _refuse_unfit(self, kind: str, places: tuple[PlaceKey, ...]) -> None:
        """Refuse a constraint that does not hold between such places; what traced curves are is seen when it is solved.

        Raises:
            UserFault: there is no such kind, or it takes others.
        """
        if kind not in kinds.ACCEPTS and kind not in kinds.IMAGES and kind != kinds.COUNT:
            near = difflib.get_close_matches(kind, list(kinds.ACCEPTS), 1, 0.5)
            raise UserFault(
                f"there is no constraint “{kind}”", self.sketch.name, f"did you mean {near[0]}?" if near else ""
            )
        kind_of = kinds_in(self.sketch, self.traced)
        if any(kind_of.get(curve_of(p)) == "" for p in places):
            return
        found = tuple(kinds.place_kind(kind_of, p) for p in places)
        if kinds.accepted(kind, found):
            return
        told = " and ".join(f"a {f}" if f else "a point that its curve does not have" for f in found).replace("_", " ")
        takes = kinds.ACCEPTS.get(kind, ())[:4]
        mend = "; or ".join(" and ".join(f"a {k}" for k in way) for way in takes).replace("_", " ")
        raise UserFault(
            f"{kind.replace('_', ' ')} is not said of {told or 'nothing'}",
            self.sketch.name,
            f"it takes {mend}" if mend else "",
        )

    def _branch(self, kind: str, of: tuple[PlaceKey, ...], amount: float | None = None) -> int:
        if kind not in ALONG and kind not in SIDES:
            return 1
        curves = numbers(self.sketch, self.traced)
        known = {c.id for c in curves} | set(FIXED)
        if not all(curve_of(p) in known for p in of):
            return 1
        joined = [
            entities.Constraint(c.id, c.kind, c.of)
            for c in (self.sketch.constraints if kind in ("tangent", "smooth") else ())
            if c.kind in ("coincident", "on_curve") and all(curve_of(p) in known for p in c.of)
        ]
        return drawn_branch(curves, kind, of, joined, amount)


def _half_axes(centre: XY, along: XY, across: XY, where: str) -> tuple[XY, XY]:
    """Ends of the half axes on the grid; the second one square to the first, on its left."""
    ux, uy = along[0] - centre[0], along[1] - centre[1]
    a = math.hypot(ux, uy)
    b = abs(ux * (across[1] - centre[1]) - uy * (across[0] - centre[0])) / a if a > tolerance.FEATURE else 0.0
    if b < tolerance.FEATURE:
        raise UserFault("an ellipse needs two half axes above zero", where, "pick points away from each other")
    return _on_grid(along), _on_grid((centre[0] - uy / a * b, centre[1] + ux / a * b))


def _on_grid(p: XY) -> XY:
    return tolerance.length(p[0]), tolerance.length(p[1])
