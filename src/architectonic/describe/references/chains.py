"""Curves that meet end to end."""

from __future__ import annotations

import math
from collections.abc import Mapping

from architectonic.base import tolerance
from architectonic.describe.drawn.curves import as_piece, piece_result
from architectonic.describe.references.places import ends_of
from architectonic.describe.results import Frame, PieceResult, PlacedCurve, Vector, fault

NEAR = 10 * tolerance.FEATURE
"""Ends that lie nearer to each other meet, mm."""


def met(curves: Mapping[str, PlacedCurve]) -> list[str]:
    """The first of some curves and all that hang together with it, by their ends.

    Raises:
        NodeFault: more than two ends meet at a point.
    """
    ends = {k: ends_of(c) for k, c in curves.items()}
    group, stack = [], [next(iter(curves))]
    while stack:
        key = stack.pop()
        if key in group:
            continue
        group.append(key)
        for p in ends[key]:
            there = [k for k, points in ends.items() for q in points if math.dist(p, q) < NEAR]
            if len(there) > 2:
                raise fault("lines.branch", "its lines branch", "take the third line out, or make it a helper")
            stack += there
    return group


def way(pieces: list[tuple[PlacedCurve, PieceResult]]) -> tuple[tuple[Frame, PieceResult, tuple[float, ...]], ...]:
    """Pieces as a recipe has them."""
    return tuple((c.frame, piece, c.heights) for c, piece in pieces)


def chained(curves: list[PlacedCurve], names: list[str]) -> list[tuple[PlacedCurve, PieceResult]]:
    """Curves as a path from end to end, in whatever order they were picked; each starts where the one before ends.

    Raises:
        NodeFault: they do not meet.
    """
    pieces = [as_piece(name, c.curve) for name, c in zip(names, curves, strict=True)]
    if len(curves) == 1:
        return [(curves[0], piece_result(pieces[0]))]
    ends = [ends_of(c) for c in curves]
    if any(len(e) != 2 for e in ends):
        raise fault("sweep.closed", "a closed curve cannot be one of several", "pick it alone")

    def degree(p: Vector) -> int:
        return sum(math.dist(p, q) < NEAR for e in ends for q in e)

    loose = [k for k, e in enumerate(ends) if any(degree(p) == 1 for p in e)]
    first = loose[0] if loose else 0
    flip = degree(ends[first][0]) != 1 if loose else False
    order = [(first, flip)]
    at = ends[first][0 if flip else 1]
    left = [k for k in range(len(curves)) if k != first]
    while left:
        step = next(((k, i) for k in left for i in (0, 1) if math.dist(ends[k][i], at) < NEAR), None)
        if step is None:
            raise fault("sweep.gap", "the curves of the path do not meet end to end", "pick curves that do")
        k, i = step
        order.append((k, i == 1))
        at = ends[k][1 - i]
        left.remove(k)
    return [(curves[k], piece_result(pieces[k].reversed() if back else pieces[k])) for k, back in order]
