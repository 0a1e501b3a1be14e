"""What of a sketch can still move, what would hold it, and which dimensions drive."""

from __future__ import annotations

import math
from collections.abc import Collection

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.places import FIXED, ORIGIN, X_AXIS, PlaceKey, point_of, point_on
from architectonic.describe.drawn.curves import drawn_result, put_at
from architectonic.describe.drawn.drawing import numbers
from architectonic.describe.drawn.readings import XY, measured
from architectonic.describe.references.places import parts_of, place_of
from architectonic.family import edits
from architectonic.family.records import (
    ANGLES,
    COUNT,
    DIMENSIONS,
    Arc,
    Circle,
    Constraint,
    Expression,
    Line,
    Point,
    Trace,
)
from architectonic.session.sketch.sketching import Sketching, drawn


def motions(editing: Sketching) -> dict[str, list[XY]]:
    """How each free point can still move: unit directions by place."""
    from architectonic.sketch.solving import freedoms

    return freedoms.motions(numbers(editing.drawing.sketch, editing.drawing.traced), editing.constraints())


def next_hold(editing: Sketching) -> tuple[str, tuple[str, ...], float] | None:
    """A dimension or constraint that would take one of the freedoms that are left, and what it would read.

    Ties to the origin come first, then lengths and radii, then angles: what a person would say next.
    """
    sketch = editing.drawing.sketch
    free = motions(editing)
    lines = [k for k, c in sketch.curves.items() if isinstance(c, Line)]
    rounds = [k for k, c in sketch.curves.items() if isinstance(c, (Circle, Arc))]
    points = [p for p in free if point_of(p) or isinstance(sketch.curves.get(p), Point)]
    options: list[tuple[str, tuple[str, ...]]] = []
    tied = any(p in FIXED for c in sketch.constraints for p in c.of) or editing.drawing.traced
    if not tied and points:
        options.append(("fix", (points[0],)))
    options += [("distance", (k,)) for k in lines]
    options += [("diameter" if isinstance(sketch.curves[k], Circle) else "radius", (k,)) for k in rounds]
    options += [(f"{way}_distance", (ORIGIN, p)) for p in points for way in ("horizontal", "vertical")]
    options += [("angle", (X_AXIS, k)) for k in lines]
    solved = drawn(sketch)
    for kind, of in options:
        if not editing.decided(kind, *of):
            return kind, of, 0.0 if kind == "fix" else measured(solved, kind, of)
    return None


def _value(editing: Sketching, key: str, value: Expression | None) -> None:
    sketch = editing.drawing.sketch
    changed = tuple(edits.replace(c, value=value) if c.id == key else c for c in sketch.constraints)
    editing.drawing.sketch = edits.replace(sketch, constraints=changed)


def turn_over(editing: Sketching, key: str) -> None:
    """A dimension that drives becomes a read-out; a read-out drives with what it shows.

    Raises:
        UserFault: what it shows is decided by others.
    """
    sketch = editing.drawing.sketch
    c = next((c for c in sketch.constraints if c.id == key and c.kind in DIMENSIONS), None)
    if c is None:
        raise UserFault("this dimension is not there any more", sketch.name)
    if c.kind == COUNT:
        raise UserFault("a count always drives", sketch.name, "give it another value, or delete it")
    if not c.reads:
        _value(editing, key, None)
        return
    decided = editing.told_by(editing.deciders(c))
    if decided:
        raise UserFault(f"this is decided already by: {decided}", sketch.name, "take one of them away first")
    shown = editing.values[key]
    text = f"{math.degrees(shown):.9g} deg" if c.kind in ANGLES else f"{shown:.9g} mm"
    _value(editing, key, Expression(text=text))


def grown_from(editing: Sketching, made: Collection[str], at: XY) -> None:
    """Let curves that were just drawn take on their typed sizes from the point where they were begun.

    The solver goes the shortest way, which would let them grow about their middle. Where the point cannot stay, or is none
    of theirs, nothing is done.
    """
    from architectonic.sketch.solving.solve import solve

    sketch = editing.drawing.sketch
    now = {k: drawn_result(c) for k, c in sketch.curves.items() if k in made and not isinstance(c, Trace)}
    ends = ((point_on(k, part), place_of(c, part)) for k, c in now.items() for part in parts_of(c))
    begun: PlaceKey | None = next((p for p, q in ends if q is not None and math.dist(q, at) < tolerance.FEATURE), None)
    if begun is None:
        return
    stays = editing.number(Constraint(id="", kind="fix", of=(begun,)))
    found = solve(numbers(sketch, editing.drawing.traced), [*editing.constraints(), stays], diagnose=False)
    if not found.conflict:
        curves = {k: put_at(c, found.values[k]) if k in found.values else c for k, c in sketch.curves.items()}
        editing.drawing.sketch = edits.replace(sketch, curves=curves)
