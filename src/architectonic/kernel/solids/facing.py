"""A flat face of a solid carried on, or cut back, to a surface."""

from __future__ import annotations

from typing import Any

from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.gp import gp_Vec

from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.shapes.labelled import Labelled, named
from architectonic.kernel.shapes.topology import EDGE, FACE, is_planar, listed, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids.dividing import halves
from architectonic.kernel.solids.prisms import boolean


def replaced(body: Labelled, faces: list[Any], sheet: Labelled, operation: str) -> Labelled:
    """A solid whose flat face, in one piece or several, is where a sheet runs; the sides around it go on straight.

    Labels: `<operation>:face:<face of the sheet>`; sides that are no longer part of one that was there `<operation>:side:<it>`.

    Raises:
        KernelRefusal: the face is not flat, or the sheet does not go all over what lies before it.
    """
    grown = body
    far = f"{operation}:far"
    for face in faces:
        plane = is_planar(face)
        if plane is None:
            raise KernelRefusal("the face is not flat")
        made = boolean("add", grown, _column(body, face, plane[1], _reach(body, sheet), operation))
        assert made is not None, "something is left of what is added"
        grown = made
    known = Labelled(sheet.shape, tuple((f"{operation}:face:{n[0]}",) for n in sheet.faces), sheet.rims)
    sides = [p for p in halves(grown, known) if p is not None]
    ends = [any(n.partition("@")[0] == far for names in p.faces for n in names) for p in sides]
    if len(sides) != 2 or all(ends) or not any(ends):
        raise KernelRefusal("the surface does not go all over the face: it would have to be cut through whole")
    return sides[ends.index(False)]


def _reach(body: Labelled, sheet: Labelled) -> float:
    """A length that goes from any point of a body beyond a sheet, mm."""
    a, b = quick_box(body.shape), quick_box(sheet.shape)
    return 1.0 + sum(max(p, q) - min(r, s) for p, q, r, s in zip(a[3:], b[3:], a[:3], b[:3], strict=True))


def _column(body: Labelled, face: Any, way: Any, length: float, operation: str) -> Labelled:
    """What stands on a face, straight up."""
    sweep = BRepPrimAPI_MakePrism(face, gp_Vec(*(length * c for c in way)))
    names: dict[Any, list[str]] = {}
    labels = {e: n for n, e in body.edges.items()}
    for edge in subshapes(face, EDGE):
        for side in listed(sweep.Generated(edge)):
            names[side] = [f"{operation}:side:{labels.get(edge, '')}"]
    shape = sweep.Shape()
    for cap, role in ((sweep.FirstShape(), "foot"), (sweep.LastShape(), "far")):
        for one in subshapes(cap, FACE):
            names[one] = [f"{operation}:{role}"]
    return named(shape, {f: names[f] for f in subshapes(shape, FACE)})
