"""Rounded and chamfered edges with labels."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet

from architectonic.base.labels import pair, plain
from architectonic.kernel.shapes.labelled import Labelled, carry
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors, listed, subshapes, unwrapped
from architectonic.kernel.shapes.verdict import KernelRefusal, right_way_out
from architectonic.kernel.shapes.witness import convexity
from architectonic.kernel.solids.folding import is_wrong

TRIES = 20
"""Sets of edges that are tried to find those at fault."""


def _try(body: Labelled, edges: list[Any], radius: float, last: float | None = None) -> tuple[Any, Any] | None:
    algorithm = BRepFilletAPI_MakeFillet(body.shape)
    try:
        for edge in edges:
            if last is None:
                algorithm.Add(radius, edge)
            else:
                algorithm.Add(radius, last, edge)
        return _built(body, algorithm)
    except Exception:  # the kernel's faults share no base class but Exception
        return None


def _built(body: Labelled, algorithm: Any) -> tuple[Any, Any] | None:
    """What an algorithm makes of a body, with it; None when it is nothing right."""
    try:
        algorithm.Build()
        if not algorithm.IsDone():
            return None
        shape = unwrapped(algorithm.Shape())
    except Exception:  # the kernel's faults share no base class but Exception
        return None
    if shape is None or not BRepCheck_Analyzer(shape).IsValid() or not right_way_out(shape):
        return None
    old = {image for f in body.face_list for image in (listed(algorithm.Modified(f)) or [f])}
    if is_wrong(shape, [f for f in subshapes(shape, FACE) if f not in old]):
        return None
    return shape, algorithm


class ChamferSize(NamedTuple):
    """How edges are chamfered: at a distance on the first face; on the other at the same, at another, or by an angle.

    Attributes:
        angle: rad, between the chamfer and the first face.
    """

    distance: float
    second: float | None = None
    angle: float | None = None


def chamfer(body: Labelled, edges: dict[str, Any], how: ChamferSize, other: bool, operation: str) -> Labelled:
    """Chamfer edges.

    Labels: as those of `fillet`.

    Args:
        other: the first face is the one whose label comes later.

    Raises:
        KernelRefusal: there is no room for it.
    """

    _refuse_smooth(body, edges, "chamfer")

    def attempt(share: float, chosen: dict[str, Any]) -> tuple[Any, Any] | None:
        algorithm = BRepFilletAPI_MakeChamfer(body.shape)
        try:
            for label, edge in chosen.items():
                face = body.find_faces(sorted(pair(label))[-1 if other else 0])[0]
                if how.angle is not None:
                    algorithm.AddDA(how.distance * share, how.angle, edge, face)
                elif how.second is not None:
                    algorithm.Add(how.distance * share, how.second * share, edge, face)
                else:
                    algorithm.Add(how.distance * share, edge)
        except Exception:  # the kernel's faults share no base class but Exception
            return None
        return _built(body, algorithm)

    done = attempt(1.0, edges)
    if done is None:
        bad = at_fault(edges, lambda chosen: attempt(1.0, chosen) is not None)
        raise KernelRefusal(f"there is no room for a chamfer of {how.distance:g} mm{_where(bad, edges)}", bad)
    return _named(body, *done, operation)


def fillet(body: Labelled, edges: dict[str, Any], radius: float, operation: str, last: float | None = None) -> Labelled:
    """Round edges with one radius, or with one that goes evenly over into another along each edge.

    Labels: `<operation>:blend:<edge>` for each edge of a tangent chain, `<operation>:corner:<vertex>` for patches.

    Raises:
        KernelRefusal: too large, with the edge and about the largest radius that works.
    """
    _refuse_smooth(body, edges, "round")
    done = _try(body, list(edges.values()), radius, last)
    if done is None:
        bad = at_fault(edges, lambda chosen: _try(body, list(chosen.values()), radius, last) is not None)
        raise KernelRefusal(_reason(body, edges, radius, last, bad), bad)
    return _named(body, *done, operation)


def _refuse_smooth(body: Labelled, edges: dict[str, Any], verb: str) -> None:
    """The kernel passes over edges where faces meet smoothly, and says nothing.

    Raises:
        KernelRefusal: there is nothing to do at some edges.
    """
    around = dict(ancestors(body.shape, EDGE, FACE))
    left = [label for label, edge in edges.items() if convexity(edge, around[edge]) == "smooth"]
    if left:
        told = f"{len(left)} of {len(edges)} edges" if len(edges) > 1 else "the edge"
        raise KernelRefusal(f"there is nothing to {verb} at {told}: the faces meet smoothly there", left)


def _named(body: Labelled, shape: Any, algorithm: Any, operation: str) -> Labelled:
    made: dict[Any, str] = {}
    for prefix, named in (("blend", body.edges), ("corner", body.vertices)):
        for label, subshape in named.items():
            for face in listed(algorithm.Generated(subshape)):
                made.setdefault(face, f"{operation}:{prefix}:{plain(label)}")
    return carry(shape, [body], algorithm, made)


def at_fault(edges: dict[str, Any], works: Callable[[dict[str, Any]], bool]) -> list[str]:
    """The edges that make a treatment fail: those that fail alone, else a smallest set that fails together.

    Of a set that fails shares are left out as long as the rest still fails (Zeller & Hildebrandt, Simplifying and
    isolating failure-inducing input, IEEE Trans. Software Eng. 28(2), 2002).
    """
    alone = [label for label, edge in edges.items() if not works({label: edge})]
    if alone:
        return alone
    failing, parts, tried = list(edges), 2, 0
    while parts <= len(failing) and tried < TRIES:
        size = -(-len(failing) // parts)
        for k in range(0, len(failing), size):
            rest = failing[:k] + failing[k + size :]
            tried += 1
            if rest and not works({label: edges[label] for label in rest}):
                failing, parts = rest, max(2, parts - 1)
                break
        else:
            if size == 1:
                break
            parts = min(len(failing), 2 * parts)
    return failing


def _where(bad: list[str], edges: dict[str, Any]) -> str:
    """How many edges are at fault, when it is not all of them."""
    return f" at {len(bad)} of {len(edges)} edges" if len(bad) < len(edges) else ""


def _reason(body: Labelled, edges: dict[str, Any], radius: float, last: float | None, bad: list[str]) -> str:
    """Where it fails, and what radius all of the edges would take (found by halving, to 5 %)."""
    largest = max(radius, last or 0.0)
    low, high = 0.0, largest
    for _ in range(7):
        middle = (low + high) / 2
        if _try(body, list(edges.values()), middle):
            low = middle
        else:
            high = middle
        if low and high / low < 1.05:
            break
    size = f"about {low:.3g} mm still works" if low else "no radius works there"
    where = _where(bad, edges) or " for the faces around"
    return f"the radius {largest:g} mm is too large{where}; {size}"
