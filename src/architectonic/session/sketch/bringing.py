"""Curves of a drawing brought into a sketch, their near ends joined."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.base.places import PlaceKey, point_on
from architectonic.describe.drawn.curves import ends_of
from architectonic.describe.drawn.readings import XY
from architectonic.describe.results import Node
from architectonic.exchange.dxf import Plot
from architectonic.family import edits
from architectonic.family.records import Family, Reference, Sketch
from architectonic.family.scopes import Scope
from architectonic.session.open.queries import ask
from architectonic.session.sketch.sketching import Sketching, begin

MOST = 3000
"""Curves of one sketch: beyond, a change of one would keep a person waiting."""


class Brought(NamedTuple):
    """Ids of the new curves, and how many ends were joined."""

    curves: list[str]
    joined: int


def bring_in(
    editing: Sketching,
    plot: Plot,
    unit: str = "",
    layers: frozenset[str] | None = None,
    near: float = tolerance.FEATURE,
) -> Brought:
    """Put the curves of a drawing into a sketch; ends that lie within `near` (mm) of each other are joined.

    Raises:
        UserFault: its unit is not known, or there is nothing to take.
    """
    curves = plot.in_mm(unit, layers)
    where = editing.drawing.sketch.name
    if not curves:
        raise UserFault("there is no curve to take", where, plot.told() or "choose other layers")
    if len(curves) + len(editing.drawing.sketch.curves) > MOST:
        told = f"{len(curves):,} curves are more than a sketch can work with ({MOST:,})"
        raise UserFault(told, where, "choose some of its layers, or bring them into several sketches")
    keys = [editing.drawing.add(c) for c in curves]
    joined = 0
    for first, others in _meeting([(k, e, p) for k, c in zip(keys, curves, strict=True) for e, p in ends_of(c)], near):
        for other in others:
            editing.drawing.constrain("coincident", first, other)
            joined += 1
    return Brought(keys, joined)


class Bringing(NamedTuple):
    """What of a drawing is brought in, and where to.

    Attributes:
        unit: what one of its units is, "" as the file says; layers: parted by commas, "" for all.
        near: within which distance ends are joined, as typed.
        plane: a new sketch on this plane takes it, called `name`; None: an existing one.
    """

    unit: str = ""
    layers: str = ""
    near: str = "0.01 mm"
    name: str = ""
    plane: Reference | None = None
    along: Literal["x", "y"] = "x"


def layers_of(plot: Plot, text: str) -> frozenset[str] | None:
    """Layers by name, whatever the case; None for all.

    Raises:
        UserFault: there is none of the name; lists what there is.
    """
    wanted = [n.strip() for n in text.split(",") if n.strip()]
    known = {name.casefold(): name for name in plot.layers()}
    for name in wanted:
        if name.casefold() not in known:
            raise UserFault(f"there is no layer “{name}”", "DXF", "layers are " + ", ".join(sorted(plot.layers())))
    return frozenset(known[n.casefold()] for n in wanted) if wanted else None


def bring(
    family: Family, at: Scope, sketch: str, plot: Plot, wanted: Bringing, make_id: IdSource = new_id
) -> tuple[Family, str, Brought]:
    """Bring a drawing into a sketch, or into a new one on a plane.

    Returns:
        The family, the sketch and what was brought.

    Raises:
        UserFault: unit or layers are not known, nothing is there to take, the name is taken.
    """
    layers = layers_of(plot, wanted.layers)
    if wanted.plane is not None:
        made = Sketch(id=make_id(), name=wanted.name, plane=wanted.plane, along=wanted.along)
        family, sketch = edits.add_operation(family, at.document, made), made.id
    editing = begin(family, at, sketch, ask(family, [Node("solve", at, sketch)]))
    found = bring_in(editing, plot, wanted.unit, layers, editing.measure(wanted.near))
    return editing.stored(), sketch, found


def _meeting(ends: list[tuple[str, str, XY]], near: float) -> list[tuple[PlaceKey, list[PlaceKey]]]:
    """Groups of ends that lie within a distance of the first of them; never both ends of one curve."""
    cells: dict[tuple[int, int], list[int]] = {}
    size = max(near, tolerance.MODELLING)
    for number, (_, _, (x, y)) in enumerate(ends):
        cells.setdefault((math.floor(x / size), math.floor(y / size)), []).append(number)
    done: set[int] = set()
    found = []
    for number, (key, end, p) in enumerate(ends):
        if number in done:
            continue
        i, j = math.floor(p[0] / size), math.floor(p[1] / size)
        around = [k for a in (i - 1, i, i + 1) for b in (j - 1, j, j + 1) for k in cells.get((a, b), ())]
        close = sorted(k for k in around if k > number and k not in done and math.dist(ends[k][2], p) <= near)
        others, used = [], {key}
        for k in close:
            if ends[k][0] not in used:
                used.add(ends[k][0])
                others.append(point_on(ends[k][0], ends[k][1]))
                done.add(k)
        if others:
            found.append((point_on(key, end), others))
    return found
