"""Rounded edges with labels."""

from __future__ import annotations

from typing import Any

from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepFilletAPI import BRepFilletAPI_MakeFillet

from architectonic.base.labels import plain
from architectonic.kernel.labelled import Labelled, carry
from architectonic.kernel.solids import KernelRefusal
from architectonic.kernel.topology import listed, unwrapped


def _try(body: Labelled, edges: list[Any], radius: float) -> tuple[Any, Any] | None:
    algorithm = BRepFilletAPI_MakeFillet(body.shape)
    try:
        for edge in edges:
            algorithm.Add(radius, edge)
        algorithm.Build()
        if not algorithm.IsDone():
            return None
        shape = unwrapped(algorithm.Shape())
    except Exception:  # the kernel's faults share no base class but Exception
        return None
    if shape is None or not BRepCheck_Analyzer(shape).IsValid():
        return None
    return shape, algorithm


def fillet(body: Labelled, edges: dict[str, Any], radius: float, operation: str) -> Labelled:
    """Round edges with one radius.

    Labels: `<operation>:blend:<edge>` for each edge of a tangent chain, `<operation>:corner:<vertex>` for patches.

    Raises:
        KernelRefusal: too large, with the edge and about the largest radius that works.
    """
    done = _try(body, list(edges.values()), radius)
    if done is None:
        raise KernelRefusal(_reason(body, edges, radius))
    shape, algorithm = done
    made: dict[Any, str] = {}
    for prefix, named in (("blend", body.edges), ("corner", body.vertices)):
        for label, subshape in named.items():
            for face in listed(algorithm.Generated(subshape)):
                made.setdefault(face, f"{operation}:{prefix}:{plain(label)}")
    return carry(shape, [body], algorithm, made)


def _reason(body: Labelled, edges: dict[str, Any], radius: float) -> str:
    """Which edge refuses alone, and what radius all of them would take (found by halving, to 5 %)."""
    alone = [label for label, edge in edges.items() if _try(body, [edge], radius) is None]
    low, high = 0.0, radius
    for _ in range(7):
        middle = (low + high) / 2
        if _try(body, list(edges.values()), middle):
            low = middle
        else:
            high = middle
        if low and high / low < 1.05:
            break
    size = f"about {low:.3g} mm still works" if low else "no radius works there"
    if alone and len(alone) < len(edges):
        return f"the radius {radius:g} mm is too large at {len(alone)} of {len(edges)} edges; {size}"
    return f"the radius {radius:g} mm is too large for the faces around; {size}"
