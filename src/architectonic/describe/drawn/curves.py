"""Curves of a sketch between records, numbers and pieces: the one place that knows how each kind is stored."""

from __future__ import annotations

import math
from collections.abc import Callable

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.describe.results import CurveResult, PieceResult, RegionResult, fault
from architectonic.family import edits
from architectonic.family.records import Arc, Circle, Curve, Ellipse, EllipticArc, Line, Point, Spline, Text, Trace
from architectonic.sketch.curves import paths, piece, regions

XY = tuple[float, float]
Move = Callable[[XY], XY]


def start_values(curve: Curve) -> tuple[str, tuple[float, ...]]:
    """Kind and stored start values of a drawn curve, in the order of sketch.kinds.names_of."""
    if isinstance(curve, Line):
        return "line", (*curve.start, *curve.end)
    if isinstance(curve, Circle):
        return "circle", (*curve.centre, curve.radius)
    if isinstance(curve, Arc):
        return "arc", (*curve.centre, *curve.start, *curve.end, math.dist(curve.centre, curve.start))
    if isinstance(curve, Ellipse):
        return "ellipse", (*curve.centre, *curve.along, *curve.across)
    if isinstance(curve, EllipticArc):
        return "elliptic_arc", (*curve.centre, *curve.along, *curve.across, *curve.start, *curve.end)
    if isinstance(curve, Spline):
        kind = "spline" if curve.handles else "controlled"
        return kind, tuple(c for p in (*curve.points, *curve.handles) for c in p)
    if isinstance(curve, Text):
        return "text", (*curve.at, *curve.along, *curve.over)
    assert isinstance(curve, Point)
    return "point", curve.at


def data_of(curve: Curve) -> tuple[float, ...]:
    """What of a curve never changes by solving (sketch.system.Curve.data).

    Raises:
        NodeFault: a text that cannot be written.
    """
    if isinstance(curve, Spline):
        return curve.parameters
    if isinstance(curve, Text):
        from architectonic.sketch.curves import lettering

        try:
            return (tolerance.ratio(lettering.ratio(curve.text)),)
        except UserFault as wrong:
            raise fault("sketch.text", str(wrong), wrong.mend or "change the text") from None
    return ()


def drawn_result(curve: Curve) -> CurveResult:
    """A drawn curve where it starts."""
    kind, values = start_values(curve)
    text = curve.text if isinstance(curve, Text) else ""
    return CurveResult(kind, values, curve.helper, False, data_of(curve), text)


def put_at(curve: Curve, v: tuple[float, ...]) -> Curve:
    """The record with other values."""
    p = points_in(v)
    if isinstance(curve, Trace):
        return edits.replace(curve, drawn=v)
    if isinstance(curve, Line):
        return edits.replace(curve, start=p[0], end=p[1])
    if isinstance(curve, Circle):
        return edits.replace(curve, centre=p[0], radius=v[2])
    if isinstance(curve, Arc):
        return edits.replace(curve, centre=p[0], start=p[1], end=p[2])
    if isinstance(curve, Ellipse):
        return edits.replace(curve, centre=p[0], along=p[1], across=p[2])
    if isinstance(curve, EllipticArc):
        return edits.replace(curve, centre=p[0], along=p[1], across=p[2], start=p[3], end=p[4])
    if isinstance(curve, Spline):
        n = len(curve.points)
        return edits.replace(curve, points=tuple(p[:n]), handles=tuple(p[n:]))
    if isinstance(curve, Text):
        return edits.replace(curve, at=p[0], along=p[1], over=p[2])
    assert isinstance(curve, Point)
    return edits.replace(curve, at=p[0])


def mapped(curve: Curve, move: Move, factor: float = 1.0, mirrored: bool = False) -> Curve:
    """A curve with all its points moved; `factor` is what lengths are multiplied by."""
    kind, v = start_values(curve)
    points = [move(p) for p in points_in(v)]
    if mirrored and kind in ("arc", "elliptic_arc"):  # counter-clockwise again
        points[-1], points[-2] = points[-2], points[-1]
    if mirrored and kind in ("ellipse", "elliptic_arc"):  # the second half axis on the left again
        (x, y), (a, b) = points[0], points[2]
        points[2] = (2 * x - a, 2 * y - b)
    flat = [tolerance.length(c) for p in points for c in p]
    return put_at(curve, (*flat, *(r * factor for r in v[len(flat) :])))


def points_in(values: tuple[float, ...]) -> list[XY]:
    """Points among the values of a curve; a radius stands last and is none."""
    return [(values[i], values[i + 1]) for i in range(0, len(values) - 1, 2)]


def ends_of(curve: Curve | None) -> list[tuple[str, XY]]:
    """Name and place of both ends of a drawn curve that has any."""
    if isinstance(curve, (Line, Arc, EllipticArc)):
        return [("start", curve.start), ("end", curve.end)]
    return [("start", curve.points[0]), ("end", curve.points[-1])] if isinstance(curve, Spline) else []


def path_of(c: CurveResult) -> paths.Path:
    """The path of an ellipse or spline."""
    v = c.values
    if c.kind in ("ellipse", "elliptic_arc"):
        return paths.ellipse((v[0], v[1]), (v[2], v[3]), (v[4], v[5]))
    return paths.spline(c.kind, v, c.data)


def as_piece(key: str, c: CurveResult) -> piece.Piece:
    """A solved curve as the search for regions reads it; texts are several (`as_pieces`)."""
    v = c.values
    if c.kind == "line":
        return piece.line(key, (v[0], v[1]), (v[2], v[3]))
    if c.kind == "circle":
        return piece.circle(key, (v[0], v[1]), v[2])
    if c.kind == "arc":
        return piece.arc(key, (v[0], v[1]), (v[2], v[3]), (v[4], v[5]))
    if c.kind == "elliptic_arc":
        return piece.elliptic_arc(key, path_of(c), (v[6], v[7]), (v[8], v[9]))
    return piece.along(key, path_of(c))


def as_pieces(key: str, c: CurveResult) -> list[piece.Piece]:
    """All pieces of a solved curve; none of a point."""
    if c.kind == "point":
        return []
    if c.kind == "text":
        from architectonic.sketch.curves import lettering

        return lettering.pieces(key, c.text, c.values)
    return [as_piece(key, c)]


def piece_result(p: piece.Piece) -> PieceResult:
    """A piece as a stored result."""
    return PieceResult(p.curve, p.start, p.end, p.centre, p.radius, p.turn, p.forward, p.path, p.span)


def as_piece_of(p: PieceResult) -> piece.Piece:
    """A stored result as a piece, the inverse of `piece_result`."""
    return piece.Piece(p.curve, p.forward, p.start, p.end, p.centre, p.radius, p.turn, p.path, p.span)


def as_region(r: RegionResult) -> regions.Region:
    """Inverse of the above, for uniting regions."""
    loops = tuple(tuple(as_piece_of(p) for p in loop) for loop in r.loops)
    return regions.Region(r.label, loops, r.area, r.inside)
