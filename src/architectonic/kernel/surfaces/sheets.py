"""What all surfaces share: whether one is right, names of its faces and of the edges that bound it."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_FACE, TopAbs_SHELL
from OCP.TopExp import TopExp_Explorer

from architectonic.base import tolerance
from architectonic.base.labels import plain
from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.shapes.labelled import Labelled, name_pieces
from architectonic.kernel.shapes.topology import EDGE, FACE, compound, listed, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal

FAR = 1e5
"""Beyond which no surface is what was asked for, mm: the kernel gives some that reach to the stars, and calls them valid."""


def area(shape: Any) -> float:
    """Area in mm2."""
    props = GProp_GProps()
    BRepGProp.SurfaceProperties_s(shape, props, tolerance.MEASURE)
    return float(props.Mass())


def sheet(shape: Any, refused: str) -> Any:
    """A surface that is valid and lies where something can lie: a shell, a face, or a compound of such.

    Raises:
        KernelRefusal: it is not.
    """
    if shape is None or shape.IsNull() or not subshapes(shape, FACE) or not BRepCheck_Analyzer(shape).IsValid():
        raise KernelRefusal(refused)
    size = area(shape)
    if not (tolerance.FEATURE**2 < size < math.inf) or max(abs(c) for c in quick_box(shape)) > FAR:
        raise KernelRefusal(refused)
    return shape


def attempt(make: Callable[[], Any], refused: str, faulty: str = "") -> Any:
    """A sound surface, or a refusal where the kernel faults; its faults share no base class but Exception.

    Args:
        faulty: what is said of a fault, where that is something else.
    """
    try:
        return sheet(make(), refused)
    except KernelRefusal:
        raise
    except Exception:
        raise KernelRefusal(faulty or refused) from None


def surface(shape: Any, names: Mapping[Any, list[str]], rims: Mapping[Any, str]) -> Labelled:
    """A surface with a name for every face, and for what bounds it as far as that is known."""
    faces = subshapes(shape, FACE)
    labels = name_pieces(shape, faces, [list(names[f]) for f in faces], rims)
    return Labelled(shape, labels, tuple(plain(rims.get(e, "")) for e in subshapes(shape, EDGE)))


def rims_after(sources: list[Labelled], algorithm: Any) -> dict[Any, str]:
    """What edges of a result lie along, as far as they come from edges of which that was known."""
    found: dict[Any, str] = {}
    for source in sources:
        for edge, rim in source.rim_of.items():
            for after in listed(algorithm.Modified(edge)) or [edge]:
                found.setdefault(after, rim)
    return found


def parts_of(shape: Any) -> list[Any]:
    """The shells of a shape, and its faces that are in none."""
    found = []

    for kind, avoid in ((TopAbs_SHELL, None), (TopAbs_FACE, TopAbs_SHELL)):
        explorer = TopExp_Explorer(shape, kind) if avoid is None else TopExp_Explorer(shape, kind, avoid)
        while explorer.More():
            found.append(explorer.Current())
            explorer.Next()
    return found


def alone(shape: Any) -> Any:
    """The one shell or face that a shape holds; a shape of several as it is."""
    parts = parts_of(shape)
    return parts[0] if len(parts) == 1 else shape


def together(shapes: list[Any]) -> Any:
    """Surfaces as one shape."""
    return shapes[0] if len(shapes) == 1 else compound(shapes)
