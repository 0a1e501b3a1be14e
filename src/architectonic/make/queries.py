"""Questions to shapes: faces by label, measurements, triangles; and files."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from architectonic.base import tolerance
from architectonic.describe.recipes import BodyInput, ExportInput, FaceInput
from architectonic.describe.witness import disagreement, ranked
from architectonic.kernel import measure, mesh, solids, step
from architectonic.kernel.labelled import Labelled, centre
from architectonic.kernel.witness import face_facts
from architectonic.make.fault import MakeFault


def face(given: FaceInput, shapes: list[Labelled]) -> tuple[dict[str, Any], dict[str, Labelled]]:
    """The plane of a planar face; its pieces may be several but must lie in one plane.

    Raises:
        MakeFault: gone (with candidates), not planar, or its pieces parted.
    """
    label, witness = given.face.label, given.face.witness
    matched = [(shape, f) for shape in shapes for f in shape.find_faces(label)]
    told = "the face it takes is gone"
    found = []
    for shape, f in matched:
        facts = face_facts(shape, f) if witness else None
        differs = disagreement(witness, facts.kind, "", facts.neighbours) if facts else ""
        if differs:
            told = f"the face it takes is not the one that was picked: {differs}"
        else:
            found.append(f)
    if not found:
        near = {k: shape for shape in shapes for k in shape.candidates(label, [n[0] for n in shape.faces])}
        places = {k: centre(shape.find_faces(k)[0]) for k, shape in near.items()}
        raise MakeFault("face.missing", told, "pick a face again", "missing", tuple(ranked(witness, places)[:5]))
    planes = [solids.is_planar(f) for f in found]
    first = planes[0]
    if first is None or any(p is None for p in planes):
        raise MakeFault("face.not_planar", "the face it takes is not planar", "pick a planar face")
    origin, normal = first
    height = sum(a * b for a, b in zip(origin, normal, strict=True))
    for plane in planes[1:]:
        assert plane is not None
        if abs(sum(a * b for a, b in zip(plane[0], normal, strict=True)) - height) > tolerance.MODELLING:
            raise MakeFault("face.parted", "the pieces of the face lie at different heights", "pick one piece")
    n = tuple(tolerance.ratio(c) for c in normal)
    foot = tuple(tolerance.length(height * c) for c in normal)
    x = (1.0, 0.0, 0.0) if abs(n[0]) < 0.9 else (0.0, 1.0, 0.0)
    d = sum(a * b for a, b in zip(x, n, strict=True))
    flat = [a - d * b for a, b in zip(x, n, strict=True)]
    size = sum(c * c for c in flat) ** 0.5
    return {"origin": foot, "x": tuple(tolerance.ratio(c / size) for c in flat), "normal": n}, {}


def measurements(_: BodyInput, shapes: list[Labelled]) -> tuple[dict[str, Any], dict[str, Labelled]]:
    """Measurements of one body, rounded to 12 digits: beyond lies the noise of summing over faces."""
    found = measure.measure(shapes[0])
    return {k: _significant(v) if isinstance(v, (float, tuple)) else v for k, v in found.items()}, {}


def _significant(value: Any) -> Any:
    if isinstance(value, tuple):
        return tuple(tolerance.length(v) for v in value)
    return float(f"{value:.12g}")


def triangles(_: BodyInput, shapes: list[Labelled]) -> tuple[dict[str, Any], dict[str, Labelled]]:
    """Triangles and edge lines of one body."""
    return mesh.mesh(shapes[0]), {}


def step_file(given: ExportInput, shapes: list[Labelled]) -> tuple[None, dict[str, Labelled]]:
    """Write a STEP file.

    Raises:
        OSError: the file could not be written.
    """
    step.write(Path(given.path), given.name, list(zip(given.bodies, shapes, strict=True)))
    return None, {}
