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
from architectonic.describe.results import Node
from architectonic.family.names import free_name, identifier
from architectonic.family.records import COUNT, Constraint, Curve, Family, Line, Sketch, Text, Trace
from architectonic.family.scopes import Scope
from architectonic.session.open.queries import ask
from architectonic.session.sketch.moving import Similarity
from architectonic.session.sketch.sketching import Sketching, sketch_of
from architectonic.session.sketch.values import come_to, everywhere, measured
from architectonic.sketch.solving import images

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
    """A pattern as it is asked for: how many with the original, the step between two, what both are called.

    Attributes:
        pieces: an expression; what is no plain number drives, and as many are drawn as any size asks for.
    """

    pieces: str
    step: str
    name: str = ""
    called: str = ""


def _repeat(
    editing: Sketching, kind: str, guide: str, own: dict[str, Curve], asked: Pattern, move: Callable[[int], Move]
) -> list[str]:
    """Copies at one, two, ... steps; the first step drives all others."""
    sketch = editing.drawing.sketch
    drives = bool(asked.called) or not asked.pieces.strip().isdigit()
    pieces = max(counts_of(editing, asked.pieces), 2) if drives else int(asked.pieces)
    if not 2 <= pieces <= MOST:
        raise UserFault(f"a pattern has 2 to {MOST} pieces, not {pieces}", sketch.name)
    if drives:  # before the steps, which may go by it: all round is 360 deg / count
        editing.constrain(COUNT, guide, *own, value=asked.pieces, name=asked.called)
    name = asked.name or free_name("step", [c.name for c in sketch.constraints if c.name], "")
    return _more(editing, kind, guide, own, range(1, pieces), asked.step, name, move)


def _more(
    editing: Sketching,
    kind: str,
    guide: str,
    own: dict[str, Curve],
    numbers: range,
    step: str,
    name: str,
    move: Callable[[int], Move],
) -> list[str]:
    """Copies at so many steps."""
    made: list[str] = []
    for k in numbers:
        copies = [editing.drawing.add(mapped(c, move(k))) for c in own.values()]
        text = step if k == 1 else f"{k} * {identifier(name)}"
        editing.constrain(kind, guide, *paired(list(own), copies), value=text, name=name if k == 1 else "", branch=1)
        made += copies
    return made


def counts_of(editing: Sketching, text: str) -> int:
    """The most that an expression for a count asks for, over all sizes.

    Raises:
        UserFault: it cannot be read, or is no whole number somewhere.
    """
    scopes = everywhere(editing.family, editing.at.document)
    values = measured(editing.stored(), editing.drawing.sketch, text, "number", scopes)
    odd = next((v for v in values if abs(v - round(v)) > tolerance.FEATURE or v < 0), None)
    if odd is not None:
        raise UserFault(f"a count of {odd:g} is no whole number", editing.drawing.sketch.name, "give one of 0 or more")
    return round(max(values))


def outgrown(editing: Sketching) -> list[Constraint]:
    """Counts that ask for more members somewhere than are drawn."""
    return [
        c
        for c in editing.drawing.sketch.constraints
        if c.kind == COUNT and _wanted(editing, c) > len(_members(editing, c)) + 1
    ]


def _wanted(editing: Sketching, c: Constraint) -> int:
    """The most that a count asks for, over all sizes."""
    values = come_to(editing.stored(), c.id, everywhere(editing.family, editing.at.document))
    return max((round(v) for v in values), default=0)


def _members(editing: Sketching, c: Constraint) -> list[dict[str, str]]:
    return images.members(tuple(c.of), [(k.kind, tuple(k.of)) for k in editing.drawing.sketch.constraints])


def draw_missing(editing: Sketching) -> list[str]:
    """Draw the members that counts ask for and that are not drawn yet.

    Raises:
        UserFault: none is missing; the first of a row is gone.
    """
    found = outgrown(editing)
    if not found:
        raise UserFault("no member is missing", editing.drawing.sketch.name, "a count has to ask for more first")
    made: list[str] = []
    for c in found:
        sketch, copies, wanted = editing.drawing.sketch, _members(editing, c), _wanted(editing, c)
        if wanted > MOST:
            raise UserFault(f"a pattern has 2 to {MOST} pieces, not {wanted}", sketch.name)
        steps = [
            k
            for k in sketch.constraints
            if k.kind in ("shifted", "turned") and k.of[0] == c.of[0] and set(k.of[1::2]) <= set(c.of[1:])
        ]
        if not steps or not steps[0].name:
            raise UserFault("the first copy of the row is gone", sketch.name, "draw the row anew")
        first = steps[0]
        own = {str(k): sketch.curves[k] for k in first.of[1::2]}
        move = (_along if first.kind == "shifted" else _about)(editing, c.of[0], editing.values[first.id])
        made += _more(editing, first.kind, c.of[0], own, range(len(copies) + 1, wanted), "", first.name, move)
    return made


def grown(family: Family, at: Scope, sketch_id: str) -> Family:
    """A family in which a sketch has all members that its counts ask for."""
    sketch = sketch_of(family, at, sketch_id)
    nodes = {c.id: Node("value", at, c.id) for c in sketch.constraints if c.value is not None}
    found = ask(family, list(nodes.values()))
    values = {key: float(v) for key, node in nodes.items() if (v := found.value(node)) is not None}
    editing = Sketching(family, at, sketch_id, None, values)
    if not outgrown(editing):
        return family
    draw_missing(editing)
    return editing.stored()


def in_row(editing: Sketching, curves: list[str], line: str, asked: Pattern) -> list[str]:
    """Copies along the direction of a line or axis, all at one spacing that drives.

    Raises:
        UserFault: nothing to copy, no line, no or too many pieces, or no step.
    """
    own = _own(editing, [k for k in curves if k != line], "repeat")
    step = editing.measure(asked.step)
    if abs(step) < tolerance.FEATURE:
        raise UserFault("a row needs a step above zero", editing.drawing.sketch.name)
    return _repeat(editing, "shifted", line, own, asked, _along(editing, line, step))


def _along(editing: Sketching, line: str, step: float) -> Callable[[int], Move]:
    """Where the copy of a number stands in a row."""
    a, b = _line_at(editing.drawing.sketch, line, "a row needs a direction")
    size = math.dist(a, b)
    ux, uy = (b[0] - a[0]) / size, (b[1] - a[1]) / size
    return lambda k: Similarity(by=(k * step * ux, k * step * uy)).at


def in_ring(editing: Sketching, curves: list[str], centre: str, asked: Pattern) -> list[str]:
    """Copies turned about a point, all at one angle that drives.

    Raises:
        UserFault: nothing to copy, no centre, no or too many pieces, or no angle.
    """
    own = _own(editing, [k for k in curves if k != centre], "repeat")
    if not asked.step:  # all round
        called = asked.called or free_name("count", [c.name for c in editing.drawing.sketch.constraints if c.name], "")
        plain = asked.pieces.strip().isdigit() and not asked.called
        asked = asked._replace(
            step=f"360 deg / {asked.pieces if plain else identifier(called)}", called="" if plain else called
        )
        step = math.tau / max(counts_of(editing, asked.pieces), 1)
    else:
        step = editing.measure(asked.step, "angle")
    if abs(step) < tolerance.FEATURE:
        raise UserFault("a ring needs an angle above zero", editing.drawing.sketch.name)
    return _repeat(editing, "turned", centre, own, asked, _about(editing, centre, step))


def _about(editing: Sketching, centre: str, step: float) -> Callable[[int], Move]:
    """Where the copy of a number stands in a ring."""
    key, part = taken_apart(centre)
    at: XY = (0.0, 0.0)
    if centre != ORIGIN:
        found = getattr(editing.drawing.sketch.curves.get(key), part or "at", None)
        if found is None:
            raise UserFault("a ring needs a point to turn about", editing.drawing.sketch.name, "choose its centre last")
        at = found
    return lambda k: Similarity(about=at, turn=k * step).at
