"""Layouts in space: faint sheets of planes, sketches in the colours of their state, axes, points, pictures and tags.

Painted over the picture of the bodies; what is hit is found in the same pixels.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

import msgspec
import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from scipy.interpolate import BSpline

from architectonic.describe.drawn.curves import as_piece, as_region
from architectonic.describe.drawn.readings import samples
from architectonic.describe.references.planes import in_space, y_axis
from architectonic.describe.results import (
    CurveResult,
    Frame,
    Node,
    Picture,
    PlacedCurve,
    PlacedRegion,
    RegionResult,
    SketchResult,
    Spot,
)
from architectonic.describe.space.leads import Led
from architectonic.desktop.body.view import BodyView
from architectonic.desktop.sketch.underlayimages import corners
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import AnyOperation, Constraint, Datum, Layout, Model, Sketch, Underlay
from architectonic.family.scopes import Scope
from architectonic.family.walk import used_in_build
from architectonic.session.feeds.held import FedThing, held, outlines
from architectonic.sketch.curves.regions import contains

NEAR = 6.0
MANY = 64
"""Of so many sketches the points in space are kept."""
Lines = list[tuple[str, np.ndarray]]


class SpaceFigure(NamedTuple):
    """An operation of a layout, or what a feed holds, with its value.

    Attributes:
        faint: it only stands behind; quiet: a sketch that was used already, offered to an open sentence.
    """

    at: Scope
    operation: AnyOperation | FedThing
    value: Any
    faint: bool
    quiet: bool = False


class Hit(NamedTuple):
    """What lies under the pointer: an operation, and a curve of it or ""."""

    at: Scope
    operation: str
    curve: str = ""


class Space:
    """What of layouts a 3D canvas shows, where it lies on the screen, and what the pointer hits of it.

    Attributes:
        over: what lies under the pointer; over_region: the region there, while one is asked for.
        tags, plates: figures and names as they were painted last, and where.
    """

    def __init__(self, canvas: BodyView) -> None:
        self.canvas = canvas
        self.over: Hit | None = None
        self.over_region: tuple[str, str] | None = None
        self.tags: list[tuple[QRectF, Scope, Sketch, Constraint]] = []
        self.plates: list[tuple[QRectF, SpaceFigure]] = []
        self._lines: dict[Node, tuple[SketchResult, Frame, Lines]] = {}

    # --- content --------------------------------------------------------------------------------------

    def things(self) -> list[SpaceFigure]:
        """Operations that are shown: all of a layout or assembly, what a part has not used yet, and what is behind."""
        shown, evaluation = self.canvas.shown, self.canvas.shown.evaluation
        at = shown.at
        if evaluation is None or at is None:
            return []
        found: list[SpaceFigure] = []
        scopes = [(look.at, True) for look in shown.behind()] + [(at, False)]
        for scope, faint in scopes:
            source = evaluation.family.documents.get(scope.document)  # a preview shows what is not stored yet
            if not isinstance(source, Model) or (faint and not isinstance(source, Layout)):
                continue
            used = used_in_build(source) if source.makes_bodies else frozenset()
            for operation in _up_to(source.build, "" if faint else shown.until):
                hidden = operation.id in used and operation.id != shown.operation and not isinstance(operation, Datum)
                drawn = isinstance(operation, Sketch) or "path" in shown.gathering.drawn
                if hidden and not (drawn and shown.gathering.drawn):
                    continue
                if source.makes_bodies and isinstance(operation, Underlay) and self.canvas.meshes:
                    continue
                what = {Sketch: "solve", Datum: "frame", Underlay: "underlay"}.get(type(operation), "")
                what = "path" if isinstance(operation, BodyOperation) and operation.draws else what
                value = evaluation.value(Node(what, scope, operation.id)) if what else None
                if value is not None:
                    quiet = hidden and shown.gathering.drawn not in ({"region"}, {"curve"})
                    found.append(SpaceFigure(scope, operation, value, faint, quiet))
            found += self._fed(scope) if not faint else []
        return found

    def _fed(self, at: Scope) -> list[SpaceFigure]:
        """What feeds hold: while nothing of a feed is used yet, while it is chosen, and while a sentence can take it."""
        shown, evaluation = self.canvas.shown, self.canvas.shown.evaluation
        document = evaluation.family.documents.get(at.document) if evaluation else None
        if evaluation is None or not isinstance(document, Model):
            return []
        used, wanted = used_in_build(document), shown.gathering.drawn
        known = {key for key, feed in document.feeds.items() if used & feed.sockets.keys()}
        return [
            SpaceFigure(at, one, one.value, False, one.id in used and one.gives not in wanted)
            for one in held(evaluation, at)
            if one.feed not in known or shown.operation == one.feed or one.gives in wanted
        ]

    def frame_of(self, thing: SpaceFigure) -> Frame | None:
        """The plane that a thing lies in."""
        if isinstance(thing.value, Frame):
            return thing.value
        if isinstance(thing.value, (Picture, PlacedCurve, PlacedRegion)):
            return thing.value.frame
        evaluation = self.canvas.shown.evaluation
        found = evaluation.value(Node("frame", thing.at, thing.operation.id)) if evaluation else None
        return found if isinstance(found, Frame) else None

    def lines(self, thing: SpaceFigure) -> Lines:
        """Curves of a sketch as points in space, (n, 3), by id; of something that is fed without one."""
        if isinstance(thing.value, Led):
            return [("", run) for run in led_lines(thing.value)]
        frame = self.frame_of(thing)
        if frame is not None and isinstance(thing.value, (PlacedCurve, PlacedRegion)):
            return [("", np.array([in_space(frame, p) for p in points])) for points in outlines(thing.value)]
        if frame is None or not isinstance(thing.value, SketchResult):
            return []
        node = Node("solve", thing.at, thing.operation.id)
        known = self._lines.get(node)
        if known is None or known[0] is not thing.value or known[1] != frame:
            found = [(k, np.array([in_space(frame, p) for p in _fine(c)])) for k, c in thing.value.curves.items()]
            known = self._lines[node] = (thing.value, frame, found)
            while len(self._lines) > MANY:
                self._lines.pop(next(iter(self._lines)))
        return known[2]

    def cloud(self) -> np.ndarray:
        """Points that a view of everything must show, (n, 3)."""
        found = [np.zeros((0, 3))]
        for thing in self.things():
            if isinstance(thing.value, (SketchResult, PlacedCurve, PlacedRegion, Led)):
                found += [points for _, points in self.lines(thing)]
            elif isinstance(thing.value, Picture):
                found.append(np.array(corners(thing.value)))
            elif isinstance(thing.value, Spot):
                found.append(np.array([thing.value.at]))
        return np.concatenate(found)

    # --- on the screen --------------------------------------------------------------------------------

    def to_screen(self, points: np.ndarray) -> np.ndarray:
        """Pixels of points in space."""
        return self.canvas.to_screen(points)

    def on_screen(self, frame: Frame) -> Callable[[tuple[float, float]], QPointF]:
        """How points of a plane come to lie on the screen: a parallel projection, so one matrix does."""
        axes = np.array([frame.origin, frame.x, y_axis(frame)], float)
        base = self.to_screen(np.array([axes[0], axes[0] + axes[1], axes[0] + axes[2]]))
        (ox, oy), (ax, ay), (bx, by) = base[0], base[1] - base[0], base[2] - base[0]
        return lambda p: QPointF(ox + ax * p[0] + bx * p[1], oy + ay * p[0] + by * p[1])

    def on_plane(self, frame: Frame, q: QPointF) -> tuple[float, float] | None:
        """Where the line of sight through a pixel meets a plane; None when it is seen edge on."""
        origin, direction = self.canvas.camera.ray(q.x(), q.y(), self.canvas.width(), self.canvas.height())
        rise = float(np.dot(direction, frame.normal))
        if abs(rise) < 1e-3:
            return None
        p = origin + direction * (np.dot(np.array(frame.origin) - origin, frame.normal) / rise)
        d = p - np.array(frame.origin)
        return float(np.dot(d, frame.x)), float(np.dot(d, y_axis(frame)))

    # --- pointer --------------------------------------------------------------------------------------

    def hover(self, q: QPointF) -> bool:
        """Light what lies under the pointer; True when something else does now."""
        found, region = self.hit(q), None
        if "region" in self.canvas.shown.gathering.drawn:
            region = self.region_at(q)
        changed = (found, region) != (self.over, self.over_region)
        self.over, self.over_region = found, region
        return changed

    def hit(self, q: QPointF) -> Hit | None:
        """The name, figure, curve, axis or point under a pixel."""
        for box, thing in self.plates:
            if box.contains(q):
                return Hit(thing.at, thing.operation.id)
        for box, at, sketch, _ in self.tags:
            if box.contains(q):
                return Hit(at, sketch.id)
        best: tuple[float, Hit] | None = None
        for thing in self.things():
            for key, points in self.lines(thing):
                gap = away(self.to_screen(points), q)
                if gap < NEAR and (best is None or gap < best[0]):
                    best = (gap, Hit(thing.at, thing.operation.id, key))
        return best[1] if best is not None else None

    def row(self, hit: Hit) -> str:
        """The row that what is hit belongs to: an operation is one itself, what is fed belongs to its feed."""
        fed = self._fed_at(hit)
        return fed.feed if fed is not None else hit.operation

    def home(self, hit: Hit) -> tuple[str, str]:
        """Document and operation that a double click opens: of what is fed its source."""
        fed = self._fed_at(hit)
        return (fed.socket.source.of, fed.socket.source.item) if fed is not None else (hit.at.document, hit.operation)

    def _fed_at(self, hit: Hit) -> FedThing | None:
        fed = (t.operation for t in self.things() if isinstance(t.operation, FedThing))
        return next((one for one in fed if one.id == hit.operation), None)

    def region_at(self, q: QPointF) -> tuple[str, str] | None:
        """The smallest region of an own sketch under a pixel: the sketch and the label."""
        best: tuple[float, str, str] | None = None
        for thing in self.things():
            frame = self.frame_of(thing)
            at = self.on_plane(frame, q) if frame is not None and not thing.faint else None
            if at is None:
                continue
            for r in map(as_region, regions_of(thing)):
                inside = contains(r.loops[0], at) and not any(contains(hole, at) for hole in r.loops[1:])
                if inside and (best is None or r.area < best[0]):
                    best = (r.area, thing.operation.id, r.label)
        return best[1:] if best is not None else None

    def tag_at(self, q: QPointF) -> tuple[QRectF, Scope, Sketch, Constraint] | None:
        """The figure under a pixel."""
        return next((t for t in reversed(self.tags) if t[0].contains(q)), None)


def regions_of(thing: SpaceFigure) -> tuple[RegionResult, ...]:
    """Regions of a sketch; the one that is fed, which a reference names by its socket alone."""
    if isinstance(thing.value, PlacedRegion):
        return (msgspec.structs.replace(thing.value.region, label=""),)
    return thing.value.regions if isinstance(thing.value, SketchResult) else ()


def _up_to(build: tuple[AnyOperation, ...], last: str) -> tuple[AnyOperation, ...]:
    """Operations up to one of them, all of them when it is not there."""
    ids = [o.id for o in build]
    return build[: ids.index(last) + 1] if last in ids else build


def _fine(c: CurveResult) -> list[tuple[float, float]]:
    """Points along a curve, close enough for a large picture."""
    return as_piece("", c).points(2.5) if c.kind in ("circle", "arc") else samples(c)


def led_lines(led: Led) -> list[np.ndarray]:
    """The pieces of a path as points in space, close enough for a large picture."""
    found = []
    for placed in led.curves:
        if placed.heights:
            poles = np.array(placed.curve.values).reshape(-1, 2)
            y, n = np.array(y_axis(placed.frame)), np.array(placed.frame.normal)
            stand = np.array(placed.frame.origin) + poles[:, :1] * np.array(placed.frame.x) + poles[:, 1:] * y
            stand = stand + np.array(placed.heights)[:, None] * n
            knots = np.array(placed.curve.data)
            spline = BSpline(knots, stand, len(knots) - len(stand) - 1)
            found.append(spline(np.linspace(knots[0], knots[-1], 16 * len(stand))))
        else:
            found.append(np.array([in_space(placed.frame, p) for p in _fine(placed.curve)]))
    return found


def away(points: np.ndarray, q: QPointF) -> float:
    """How far a pixel lies from a line of points."""
    at = np.array([q.x(), q.y()])
    if len(points) == 1:
        return float(np.hypot(*(points[0] - at)))
    a, d = points[:-1], np.diff(points, axis=0)
    share = np.clip(((at - a) * d).sum(axis=1) / np.maximum((d * d).sum(axis=1), 1e-12), 0, 1)
    return float(np.hypot(*(a + share[:, None] * d - at).T).min())
