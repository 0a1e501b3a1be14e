"""Curves from and to DXF: lines, arcs, circles, ellipses, polylines with bulges, splines, one-line texts.

What cannot be taken as it is, is not taken, and is listed with the reason. Lengths are those of the file until its
unit is known. Written files are of the 2018 version (AC1032), in millimetres, with true arcs and one layer for each use.
"""

from __future__ import annotations

import logging
import math
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import pairwise
from pathlib import Path
from typing import Any, TextIO

import numpy as np

from architectonic.base import files, tolerance
from architectonic.base.cancel import Cancelled, Watch
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.describe.drawn.curves import as_piece_of, as_pieces, mapped
from architectonic.describe.results import RegionResult, SketchResult
from architectonic.family.records import Arc, Circle, Curve, Ellipse, EllipticArc, Line, Point, Spline, Text
from architectonic.quantities.units import UNITS
from architectonic.sketch.curves import lettering, paths
from architectonic.sketch.curves.piece import Piece

XY = tuple[float, float]
INSUNITS = {1: "in", 2: "ft", 4: "mm", 5: "cm", 6: "m", 9: "mil", 13: "um"}
"""Values of $INSUNITS (DXF reference, header variables) that have a unit of ours."""
SAME, FLAT = 1e-9, 1e-6
"""Shares within which two figures of a file are one, and an entity lies in the drawing plane."""
_DEEP = 8
"""Blocks within blocks."""
_OFTEN, _LINES = 2000, 0.7
"""How many lines or entities lie between two reports of progress; the share of the work that reading lines is."""


@dataclass(frozen=True)
class Taken:
    """A curve of a drawing and its layer."""

    layer: str
    curve: Curve


@dataclass
class Plot:
    """What a drawing holds.

    Attributes:
        unit: of its lengths, "" when the file does not say.
        left_out: how many things were not taken, by reason.
    """

    unit: str
    curves: list[Taken] = field(default_factory=list)
    left_out: Counter[str] = field(default_factory=Counter)

    def layers(self) -> dict[str, int]:
        """How many curves each layer has."""
        return dict(Counter(t.layer for t in self.curves))

    def told(self) -> str:
        """What was left out most, in words; "" for nothing."""
        return ", ".join(f"{n} × {why}" for why, n in self.left_out.most_common(4))

    def in_mm(self, unit: str = "", layers: frozenset[str] | None = None) -> list[Curve]:
        """Curves of some layers (None: all), in millimetres.

        Args:
            unit: what one unit of the file is, where the file does not say.

        Raises:
            UserFault: neither says it.
        """
        known = unit or self.unit
        if known not in UNITS:
            raise UserFault(
                "the drawing does not say its unit", "DXF", "say what one of its units is, such as mm or in"
            )
        factor = UNITS[known].factor

        def scaled(p: XY) -> XY:
            return p[0] * factor, p[1] * factor

        return [mapped(t.curve, scaled, factor) for t in self.curves if layers is None or t.layer in layers]


class _Lines:
    """The lines of a drawing; tells how far they are read and stops when asked to."""

    def __init__(self, file: TextIO, size: int, watch: Watch) -> None:
        self._file, self._size, self._watch, self._count = file, max(size, 1), watch, 0

    def readline(self) -> str:
        """The next one, "" at the end."""
        self._count += 1
        if self._count % _OFTEN == 0:
            self._watch.at(_LINES * self._file.buffer.tell() / self._size)
        return self._file.readline()


def read(file: Path, watch: Watch | None = None) -> Plot:
    """The curves of a drawing's model space.

    Raises:
        UserFault: no such file, or it is no drawing.
        Cancelled: it was asked to stop.
    """
    watch = watch or Watch()
    document = _loaded(file, watch)
    plot = Plot(INSUNITS.get(int(document.header.get("$INSUNITS", 0)), ""))
    entities = document.modelspace()
    for number, entity in enumerate(entities):
        if number % _OFTEN == 0:
            watch.at(_LINES + (1 - _LINES) * number / len(entities))
        _take(plot, entity, 0)
    return plot


def _loaded(file: Path, watch: Watch) -> Any:
    """A drawing, mended where it is broken."""
    import ezdxf  # loads with the first drawing
    from ezdxf import filemanagement, recover
    from ezdxf.lldxf.validator import is_binary_dxf_file, is_dxf_file

    try:
        files.refuse_irregular(file)
    except EnvironmentFault as fault:
        raise UserFault(str(fault), "DXF") from None
    logging.getLogger("ezdxf").setLevel(logging.CRITICAL)  # it remarks on every doubtful tag of a file
    try:
        if is_binary_dxf_file(str(file)):
            return ezdxf.readfile(file)
        if is_dxf_file(str(file)):
            encoding = filemanagement.dxf_file_info(file).encoding
            with file.open(encoding=encoding, errors="surrogateescape") as lines:
                return ezdxf.read(_Lines(lines, file.stat().st_size, watch))
    except Cancelled:
        raise
    except OSError as fault:
        raise UserFault(f"{file.name} cannot be opened: {fault.strerror or fault}", "DXF") from None
    except Exception:
        watch.at(0.0)  # it is broken: read again, mending it
    try:
        document, _ = recover.readfile(file)
    except Exception as fault:
        raise UserFault(f"{file.name} is not a DXF drawing: {fault}", "DXF", "write it again as DXF") from None
    return document


def _take(plot: Plot, entity: Any, depth: int, layer: str = "") -> None:
    kind = entity.dxftype()
    own = str(entity.dxf.get("layer", "0"))
    own = layer if layer and own == "0" else own  # within a block, layer 0 is that of the block
    try:
        if kind in ("INSERT", "LWPOLYLINE", "POLYLINE"):
            if depth > _DEEP or (kind == "POLYLINE" and not (entity.is_2d_polyline or entity.is_3d_polyline)):
                plot.left_out[f"{kind}: a mesh, or too many blocks within each other"] += 1
                return
            for part in entity.virtual_entities():
                _take(plot, part, depth + 1, own)
            return
        for curve in _curves(entity, kind):
            plot.curves.append(Taken(own, curve))
    except UserFault as wrong:
        plot.left_out[f"{kind}: {wrong.what}"] += 1
    except (ArithmeticError, AttributeError, LookupError, TypeError, ValueError) as wrong:
        plot.left_out[f"{kind}: it is broken ({type(wrong).__name__})"] += 1


def _curves(entity: Any, kind: str) -> Iterator[Curve]:
    """Curves of one entity.

    Raises:
        UserFault: it cannot be taken; says why.
    """
    d = entity.dxf
    if kind == "LINE":
        a, b = _flat(d.start), _flat(d.end)
        if math.dist(a, b) < tolerance.MODELLING:
            raise UserFault("no length")
        yield Line(start=a, end=b)
    elif kind == "POINT":
        yield Point(at=_flat(d.location))
    elif kind in ("CIRCLE", "ARC"):
        yield _round(entity, kind)
    elif kind == "ELLIPSE":
        yield _oval(entity)
    elif kind == "SPLINE":
        yield from _splines(entity)
    elif kind in ("TEXT", "MTEXT"):
        yield _text(entity, kind)
    else:
        raise UserFault("no curve")


def _flat(p: Any) -> XY:
    """A place of the drawing plane; heights are dropped."""
    x, y = float(p[0]), float(p[1])
    if not (math.isfinite(x) and math.isfinite(y)):
        raise UserFault("no number")
    return tolerance.length(x), tolerance.length(y)


def _facing(entity: Any) -> float:
    """+1 when it is seen from above, -1 from below.

    Raises:
        UserFault: it stands across the drawing plane.
    """
    z = float(entity.dxf.get("extrusion", (0.0, 0.0, 1.0))[2])
    if abs(abs(z) - 1.0) > FLAT:
        raise UserFault("not in the drawing plane")
    return math.copysign(1.0, z)


def _round(entity: Any, kind: str) -> Curve:
    d, up, ocs = entity.dxf, _facing(entity), entity.ocs()
    centre, r = _flat(ocs.to_wcs(d.center)), float(d.radius)
    if not r > tolerance.MODELLING:
        raise UserFault("no radius")
    if kind == "CIRCLE":
        return Circle(centre=centre, radius=tolerance.length(r))
    ends = []
    for angle in (math.radians(d.start_angle), math.radians(d.end_angle)):
        x, y = d.center[0] + r * math.cos(angle), d.center[1] + r * math.sin(angle)
        ends.append(_flat(ocs.to_wcs((x, y, d.center[2]))))
    a, b = ends if up > 0 else ends[::-1]
    if math.dist(a, b) < tolerance.MODELLING:
        return Circle(centre=centre, radius=tolerance.length(r))
    return Arc(centre=centre, start=a, end=b)


def _oval(entity: Any) -> Curve:
    """Half axes are in the coordinates of the world; its parameters run about its extrusion."""
    d, up = entity.dxf, _facing(entity)
    (cx, cy), (ax, ay) = _flat(d.center), (float(d.major_axis[0]), float(d.major_axis[1]))
    bx, by = -ay * float(d.ratio), ax * float(d.ratio)
    if math.hypot(bx, by) < tolerance.MODELLING:
        raise UserFault("no width")
    t0, t1 = float(d.start_param), float(d.end_param)
    along, across = _flat((cx + ax, cy + ay)), _flat((cx + bx, cy + by))
    if abs((t1 - t0) % math.tau) < SAME or abs((t1 - t0) % math.tau - math.tau) < SAME:
        return Ellipse(centre=(cx, cy), along=along, across=across)
    ends = [
        _flat((cx + ax * math.cos(t) + up * bx * math.sin(t), cy + ay * math.cos(t) + up * by * math.sin(t)))
        for t in (t0, t1)
    ]
    a, b = ends if up > 0 else ends[::-1]
    return EllipticArc(centre=(cx, cy), along=along, across=across, start=a, end=b)


def _splines(entity: Any) -> Iterator[Spline]:
    """A spline in pieces that bend on evenly inside: each is exactly the spline through its knots."""
    poles = [_flat(p) for p in entity.control_points]
    if not poles:
        fit = [_flat(p) for p in entity.fit_points]
        if len(fit) < 2:
            raise UserFault("no points")
        yield Spline(points=tuple(fit), handles=paths.first_handles(fit), parameters=paths.parameters(fit))
        return
    degree, knots = int(entity.dxf.degree), [float(k) for k in entity.knots]
    weights = [float(w) for w in entity.weights]
    if weights and max(weights) - min(weights) > SAME * max(weights):
        raise UserFault("a rational spline")
    if degree not in (2, 3) or len(knots) != len(poles) + degree + 1:
        raise UserFault("a spline of another degree than 2 or 3")
    low, high = knots[degree], knots[-degree - 1]
    if abs(knots[0] - low) > SAME * (high - low) or abs(knots[-1] - high) > SAME * (high - low):
        raise UserFault("a spline that does not begin and end at its control points")
    u = tuple(min(max((k - low) / (high - low), 0.0), 1.0) for k in knots)
    count = Counter(round(k, 12) for k in u)
    marks = sorted(set(count))
    breaks = [m for m in marks if m in (0.0, 1.0) or count[m] >= degree - 1]
    forward = paths.Path("spline", tuple(poles), u)
    backward = paths.Path("spline", tuple(reversed(poles)), tuple(1.0 - k for k in reversed(u)))
    for a, b in pairwise(breaks):
        inner = [m for m in marks if a <= m <= b]
        points = tuple(_flat(paths.point(forward, m)) for m in inner)
        (dx, dy), (ex, ey) = paths.point(forward, a, 1), paths.point(backward, 1.0 - b, 1)  # from within the piece
        first, last = (inner[1] - inner[0]) / 3, (inner[-1] - inner[-2]) / 3
        handles = (
            _flat((points[0][0] + dx * first, points[0][1] + dy * first)),
            _flat((points[-1][0] + ex * last, points[-1][1] + ey * last)),
        )
        yield Spline(
            points=points, handles=handles, parameters=tuple(tolerance.ratio((m - a) / (b - a)) for m in inner)
        )


def _text(entity: Any, kind: str) -> Text:
    d = entity.dxf
    words = str(d.text if kind == "TEXT" else entity.plain_text()).strip()
    aligned = int(d.get("halign", 0)) or int(d.get("valign", 0)) if kind == "TEXT" else int(d.attachment_point) != 7
    if "\n" in words or aligned or _facing(entity) < 0:
        raise UserFault("a text of several lines, or not set from its lower left")
    height = float(d.height if kind == "TEXT" else d.char_height)
    if not height > 0:
        raise UserFault("no height")
    turn, (x, y) = math.radians(float(d.get("rotation", 0.0))), _flat(d.insert)
    width = height / lettering.ratio(words)
    c, s = math.cos(turn), math.sin(turn)
    return Text(
        text=words,
        at=(x, y),
        along=_flat((x + width * c, y + width * s)),
        over=_flat((x - height * s, y + height * c)),
    )


def write(file: Path, solved: SketchResult) -> None:
    """The curves of a solved sketch on the layers `curves`, `helper` and `traced`; letters as their outlines.

    Raises:
        EnvironmentFault: it cannot be written.
    """
    document = _drawing("curves", "helper", "traced")
    space = document.modelspace()
    for key, c in solved.curves.items():
        layer = {"layer": "traced" if c.fixed else "helper" if c.helper else "curves"}
        if c.kind == "point":
            space.add_point(c.values, dxfattribs=layer)
        elif c.kind in ("ellipse", "elliptic_arc"):
            _write_oval(space, c.values, layer)
        else:
            for piece in as_pieces(key, c):
                _write_piece(space, piece, layer)
    _save(document, file)


def write_region(file: Path, region: RegionResult, around: str = "outside", within: str = "inside") -> None:
    """A region for cutting: its outer loop on one layer, its holes on another, as true lines, arcs and splines, mm.

    Raises:
        EnvironmentFault: it cannot be written.
    """
    document = _drawing(around, within)
    space = document.modelspace()
    for number, loop in enumerate(region.loops):
        for piece in loop:
            _write_piece(space, as_piece_of(piece), {"layer": within if number else around})
    _save(document, file)


def _save(document: Any, file: Path) -> None:
    try:
        document.saveas(file)
    except OSError as fault:
        raise EnvironmentFault(f"{file.name} cannot be written: {fault.strerror or fault}") from None


def _drawing(*layers: str) -> Any:
    import ezdxf

    document = ezdxf.new("R2018", setup=False)
    document.header["$INSUNITS"], document.header["$MEASUREMENT"] = 4, 1
    for name in layers:
        document.layers.add(name)
    return document


def _write_piece(space: Any, piece: Piece, layer: dict[str, str]) -> None:
    """A line, an arc, a circle or a spline."""
    if piece.path is not None and piece.path.kind == "ellipse":
        (x, y), along, across = piece.path.poles
        tips = [(x + along[0], y + along[1]), (x + across[0], y + across[1])]
        low, high = sorted(piece.span)
        spots = [paths.point(piece.path, t) for t in ((low, high) if high - low < math.tau - 1e-9 else ())]
        _write_oval(space, tuple(c for q in ((x, y), *tips, *spots) for c in q), layer)
    elif piece.path is not None:
        poles, knots = _part(piece.path, *sorted(piece.span))
        curve = space.add_spline(degree=piece.path.degree, dxfattribs=layer)
        curve.control_points, curve.knots = [(x, y, 0) for x, y in poles], knots
    elif piece.radius and math.dist(piece.start, piece.end) < tolerance.MODELLING:
        space.add_circle(piece.centre, piece.radius, dxfattribs=layer)
    elif piece.radius:
        ends = [
            math.degrees(math.atan2(q[1] - piece.centre[1], q[0] - piece.centre[0])) for q in (piece.start, piece.end)
        ]
        ends = ends if piece.turn > 0 else ends[::-1]  # arcs of the file run to the left
        space.add_arc(piece.centre, piece.radius, *ends, dxfattribs=layer)
    else:
        space.add_line(piece.start, piece.end, dxfattribs=layer)


def _part(path: paths.Path, low: float, high: float) -> tuple[list[XY], list[float]]:
    """Poles and knots of a part of a spline: knots put in until it can be cut there (The NURBS Book, section 5.2)."""
    if (low, high) == paths.span(path):
        return list(path.poles), list(path.knots)
    from scipy.interpolate import BSpline

    found, degree = BSpline(np.array(path.knots), np.array(path.poles), path.degree), path.degree
    for at in (low, high):
        there = int(np.sum(found.t == at))
        if there < degree:
            found = found.insert_knot(at, degree - there)
    first = int(np.searchsorted(found.t, low, "right")) - degree
    last = int(np.searchsorted(found.t, high, "left"))
    inner = [float(k) for k in found.t[first:last] if low < k < high]
    poles = [(float(x), float(y)) for x, y in found.c[first - 1 : last]]
    return poles, [low] * (degree + 1) + inner + [high] * (degree + 1)


def _write_oval(space: Any, v: tuple[float, ...], layer: dict[str, str]) -> None:
    """The longer half axis comes first in the file; parameters count from it."""
    a, b = (v[2] - v[0], v[3] - v[1]), (v[4] - v[0], v[5] - v[1])
    swap = math.hypot(*b) > math.hypot(*a)
    major, minor = (b, a) if swap else (a, b)
    ratio = math.hypot(*minor) / math.hypot(*major)
    t0, t1 = 0.0, math.tau
    if len(v) == 10:
        path = paths.ellipse((v[0], v[1]), (v[2], v[3]), (v[4], v[5]))
        turn = math.pi / 2 if swap else 0.0
        t0, t1 = ((paths.nearest(path, p, 0.0, math.tau) - turn) % math.tau for p in ((v[6], v[7]), (v[8], v[9])))
    space.add_ellipse((v[0], v[1]), (*major, 0.0), ratio, t0, t1, dxfattribs=layer)
