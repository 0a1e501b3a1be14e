"""Copies of curves that stay what they are of their originals: mirrored, in a row, in a ring."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, taken_apart
from architectonic.describe.drawn.curves import Move, mapped
from architectonic.describe.drawn.readings import XY
from architectonic.family.names import free_name, identifier
from architectonic.family.records import Curve, Line, Sketch, Text, Trace
from architectonic.session.sketch.moving import Similarity
from architectonic.session.sketch.sketching import Sketching

MOST = 200
"""Copies of one pattern."""


def _own(editing: Sketching, curves: list[str], what: str) -> dict[str, Curve]:
    """Curves that are drawn here, in the order chosen.

    Raises:
        UserFault: there are none.
    """
    sketch = editing.drawing.sketch
    found: dict[str, Curve] = {
        k: c for k in curves if (c := sketch.curves.get(k)) is not None and not isinstance(c, Trace)
    }
    if not found:
        raise UserFault(f"there is nothing to {what}", sketch.name, "choose curves that are drawn here")
    return found


def _line_at(sketch: Sketch, line: str, what: str) -> tuple[XY, XY]:
    """Two points of a line or axis.

    Raises:
        UserFault: it is neither.
    """
    axes: dict[str, tuple[XY, XY]] = {X_AXIS: ((0.0, 0.0), (1.0, 0.0)), Y_AXIS: ((0.0, 0.0), (0.0, 1.0))}
    record = sketch.curves.get(line)
    if isinstance(record, Line):
        return record.start, record.end
    if line not in axes:
        raise UserFault(what, sketch.name, "choose a line last")
    return axes[line]


def mirror(editing: Sketching, curves: list[str], line: str) -> list[str]:
    """Copies of curves on the other side of a line, which stay so.

    Raises:
        UserFault: the mirror is no line, or there is nothing to mirror.
    """
    sketch = editing.drawing.sketch
    a, b = _line_at(sketch, line, "curves are mirrored at a line")
    own = _own(editing, [k for k in curves if k != line], "mirror")
    turn = 2 * math.atan2(b[1] - a[1], b[0] - a[0])
    c, s = math.cos(turn), math.sin(turn)

    def over(p: XY) -> XY:
        x, y = p[0] - a[0], p[1] - a[1]
        return a[0] + c * x + s * y, a[1] + s * x - c * y

    if any(isinstance(k, Text) for k in own.values()):
        raise UserFault("a text cannot be mirrored", sketch.name, "write it again, or leave it out")
    made = [editing.drawing.add(mapped(curve, over, mirrored=True)) for curve in own.values()]
    editing.constrain("mirrored", line, *paired(list(own), made))
    return made


def paired(originals: list[str], made: list[str]) -> list[str]:
    return [k for pair in zip(originals, made, strict=True) for k in pair]


class Pattern(NamedTuple):
    """A pattern as it is asked for: how many with the original, the step between two, what the step is called."""

    pieces: int
    step: str
    name: str = ""


def _repeat(
    editing: Sketching, kind: str, guide: str, own: dict[str, Curve], asked: Pattern, move: Callable[[int], Move]
) -> list[str]:
    """Copies at one, two, ... steps; the first step drives all others."""
    sketch = editing.drawing.sketch
    if not 2 <= asked.pieces <= MOST:
        raise UserFault(f"a pattern has 2 to {MOST} pieces, not {asked.pieces}", sketch.name)
    name = asked.name or free_name("step", [c.name for c in sketch.constraints if c.name], "")
    made: list[str] = []
    for k in range(1, asked.pieces):
        copies = [editing.drawing.add(mapped(c, move(k))) for c in own.values()]
        text = asked.step if k == 1 else f"{k} * {identifier(name)}"
        editing.constrain(kind, guide, *paired(list(own), copies), value=text, name=name if k == 1 else "", branch=1)
        made += copies
    return made


def in_row(editing: Sketching, curves: list[str], line: str, asked: Pattern) -> list[str]:
    """Copies along the direction of a line or axis, all at one spacing that drives.

    Raises:
        UserFault: nothing to copy, no line, no or too many pieces, or no step.
    """
    sketch = editing.drawing.sketch
    a, b = _line_at(sketch, line, "a row needs a direction")
    own = _own(editing, [k for k in curves if k != line], "repeat")
    step = editing.measure(asked.step)
    if abs(step) < tolerance.FEATURE:
        raise UserFault("a row needs a step above zero", sketch.name)
    size = math.dist(a, b)
    ux, uy = (b[0] - a[0]) / size, (b[1] - a[1]) / size

    return _repeat(editing, "shifted", line, own, asked, lambda k: Similarity(by=(k * step * ux, k * step * uy)).at)


def in_ring(editing: Sketching, curves: list[str], centre: str, asked: Pattern) -> list[str]:
    """Copies turned about a point, all at one angle that drives.

    Raises:
        UserFault: nothing to copy, no centre, no or too many pieces, or no angle.
    """
    sketch = editing.drawing.sketch
    key, part = taken_apart(centre)
    own = _own(editing, [k for k in curves if k != centre], "repeat")
    at: XY = (0.0, 0.0)
    if centre != ORIGIN:
        record = sketch.curves.get(key)
        found = getattr(record, part or "at", None)
        if found is None:
            raise UserFault("a ring needs a point to turn about", sketch.name, "choose its centre last")
        at = found
    step = editing.measure(asked.step, "angle")
    if abs(step) < tolerance.FEATURE:
        raise UserFault("a ring needs an angle above zero", sketch.name)

    return _repeat(editing, "turned", centre, own, asked, lambda k: Similarity(about=at, turn=k * step).at)
