"""Curves in space that follow from surfaces and drawings."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np

from architectonic.base import tolerance
from architectonic.describe.drawn.curves import as_piece
from architectonic.describe.operations.curves.path import plan_path
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.surface import plan_chain, plan_sheet
from architectonic.describe.recipes import Thing, Way
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import (
    Found,
    ModelState,
    Node,
    NodeFault,
    PlacedCurve,
    Plan,
    Recipe,
    Value,
    fault,
)
from architectonic.describe.space.leads import Led
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Flag, Number
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.describe.words.surfaces import Sheet
from architectonic.describe.words.things import PathBlank
from architectonic.family.operations.curves.curve import Crossing, Isoline, LaidOn, SpaceCurve, TwoViews, WrappedOn
from architectonic.family.operations.curves.path import SpacePath
from architectonic.quantities.units import NUMBER
from architectonic.sketch.curves import paths


class CurveInput3D(Value, frozen=True, kw_only=True):
    """What a curve in space follows from.

    Attributes:
        things: surfaces, faces and planes; an empty label for all of a body.
        drawn: chains of curves.
        share, across: of an iso-line.
    """

    by: Literal["crossing", "two_views", "laid_on", "wrapped_on", "isoline"]
    things: tuple[Thing, ...] = ()
    drawn: tuple[Way, ...] = ()
    share: float = 0.0
    across: bool = False


def plan_led(view: View, node: Node) -> Plan:
    """The curves that an operation draws in space."""
    record = view.record(node)
    if isinstance(record, SpacePath) or not isinstance(record, SpaceCurve):
        led = yield from plan_path(view, node)
        return led
    shapes: list[str] = []
    by = record.by
    if isinstance(by, Crossing):
        things = []
        for reference in (by.first, by.second):
            things.append((yield from plan_sheet(view, node, reference, record.id, shapes)))
        payload = CurveInput3D(by="crossing", things=tuple(things))
    elif isinstance(by, TwoViews):
        first = yield from plan_chain(view, node, by.first, record.id, "curve of the first view")
        second = yield from plan_chain(view, node, by.second, record.id, "curve of the second view")
        payload = CurveInput3D(by="two_views", drawn=(first, second))
    elif isinstance(by, (LaidOn, WrappedOn)):
        drawn = yield from plan_chain(view, node, by.curves, record.id, "curve")
        onto = yield from plan_sheet(view, node, by.onto, record.id, shapes)
        payload = CurveInput3D(by="laid_on" if isinstance(by, LaidOn) else "wrapped_on", drawn=(drawn,), things=(onto,))
    else:
        share = yield from evaluate(view, node, by.share, NUMBER)
        if not 0.0 <= share <= 1.0:
            raise fault("curve.share", f"{share:g} is no share of the way over a face", "give a number from 0 to 1")
        face = yield from plan_sheet(view, node, by.face, record.id, shapes)
        payload = CurveInput3D(by="isoline", things=(face,), share=tolerance.ratio(share), across=by.across)
    made = yield Recipe("space_curve", payload, tuple(shapes))
    if made.problem is not None:
        raise NodeFault(made.problem)
    found: Found = made.value
    return Led(
        curves=found.curves,
        labels=found.labels,
        points={},
        order=(),
        closed=False,
        length=tolerance.length(sum(_length(c) for c in found.curves)),
    )


def _length(placed: PlacedCurve) -> float:
    """Along a curve, to about 1e-6 of it."""
    c = placed.curve
    if placed.heights:
        from scipy.interpolate import BSpline

        poles = np.column_stack([np.array(c.values).reshape(-1, 2), np.array(placed.heights)])
        knots = np.array(c.data)
        points = BSpline(knots, poles, len(knots) - len(poles) - 1)(np.linspace(knots[0], knots[-1], 2049))
    else:
        piece = as_piece("", c)
        if piece.path is None:
            return math.dist(piece.start, piece.end) if piece.straight else piece.radius * abs(piece.turn)
        points = paths.at(piece.path, np.linspace(*piece.span, 2049))
    return float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())


def plan(view: View, node: Node, record: SpaceCurve, given: ModelState) -> Plan:
    """Bodies as they were; the curve is there to be taken."""
    (outcome,) = yield [Node("path", node.at, record.id)]
    if outcome.problem is not None:
        raise NodeFault(outcome.problem)
    return given


KIND = OperationKind(
    SpaceCurve,
    (
        Sentence("crossing_curve", "Curve where surfaces cross", "curve", "Crossing", (
            Sheet("by.first", "where"), Sheet("by.second", "crosses"),
        ), short="Crossing", wants="a surface", by=Crossing, also=("intersection", "section curve")),
        Sentence("two_views_curve", "Curve from two views", "curve", "Curve", (
            PathBlank("by.first", "that looks like"), PathBlank("by.second", "and from the other side like"),
        ), short="From two views", needs=anywhere, by=TwoViews, also=("combine", "3D curve")),
        Sentence("laid_curve", "Curve laid on a surface", "curve", "Curve", (
            PathBlank("by.curves", "of"), Sheet("by.onto", "laid on"),
        ), short="Laid on", by=LaidOn, also=("project", "projected curve")),
        Sentence("wrapped_curve", "Curve wrapped around a cylinder", "curve", "Curve", (
            PathBlank("by.curves", "of"), Sheet("by.onto", "wrapped around"),
        ), short="Wrapped", by=WrappedOn, also=("wrap", "helix", "around", "develop")),
        Sentence("iso_curve", "Line over a face", "curve", "Line", (
            Sheet("by.face", "over"), Number("by.share", "at", "0.5"), Flag("by.across", "across"),
        ), short="Over a face", by=Isoline, also=("iso-line", "isoparametric", "parameter line")),
    ),
    plan,
    group="surfaces",
    rank=75,
)  # fmt: skip
