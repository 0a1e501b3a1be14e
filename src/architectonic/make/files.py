"""What is made for files: STEP, facets, outlines to cut."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from architectonic.describe.drawn.curves import as_piece, as_piece_of, piece_result
from architectonic.describe.recipes import ExportInput, FaceInput, FacetInput, FlatInput, OutlineInput
from architectonic.describe.references.planes import on_plane
from architectonic.describe.results import Frame, PlacedRegion, RegionResult
from architectonic.describe.sketch.trace import brought
from architectonic.kernel import step
from architectonic.kernel.measure.facetting import fine
from architectonic.kernel.shapes import curves
from architectonic.kernel.shapes.labelled import Labelled, centre
from architectonic.kernel.solids.flat import beside
from architectonic.make.fault import MakeFault
from architectonic.make.queries import chained, face, faces_of, outline, placed_curve


def step_file(given: ExportInput, shapes: list[Labelled]) -> tuple[None, dict[str, Labelled]]:
    """Write a STEP file.

    Raises:
        OSError: the file could not be written.
    """
    products = [
        step.Product(
            p.name,
            tuple(
                step.WrittenSolid(s.name, shapes[s.shape], s.colour, s.material, s.density, s.properties)
                for s in p.solids
            ),
            tuple(step.WrittenUse(*u) for u in p.uses),
        )
        for p in given.products
    ]
    step.write(Path(given.path), products)
    return None, {}


def facets(given: FacetInput, shapes: list[Labelled]) -> tuple[dict[str, Any], dict[str, Labelled]]:
    """Facets of a body.

    Returns:
        points (n, 3) float64 mm and triangles (m, 3) int32 as bytes, and how far they miss its faces, mm.
    """
    made = fine(shapes[0], given.chord, given.angle)
    return {
        "points": made.points.astype(float).tobytes(),
        "triangles": made.triangles.astype("int32").tobytes(),
        "misses": made.misses,
    }, {}


def flat(given: FlatInput, shapes: list[Labelled]) -> tuple[PlacedRegion, dict[str, Labelled]]:
    """The outline of a flat face, or the way of a cut beside it that leaves the face whole.

    Raises:
        MakeFault: gone, not flat, in pieces, or too narrow for the cut.
    """
    region, _ = outline(OutlineInput(given.face), shapes)
    if not given.beside:
        return region, {}
    plane, _ = face(FaceInput(given.face), shapes)
    frame = Frame(plane["origin"], plane["x"], plane["normal"])
    (found,) = faces_of(shapes[0], given.face, "the face")
    wires = beside(found, given.beside)
    if len(wires) != len(region.region.loops):
        raise MakeFault("flat.closed", "a hole of it is narrower than the cut", "cut with a narrower tool")
    loops = []
    for edges in wires:
        pieces = chained(
            [as_piece(str(k), brought(placed_curve(curves.curve_of(e)), frame)) for k, e in enumerate(edges)]
        )
        loops.append(tuple(piece_result(p) for p in pieces))
    sizes = [abs(sum(as_piece_of(p).area() for p in loop)) for loop in loops]
    order = sorted(range(len(loops)), key=lambda k: -sizes[k])
    area = sizes[order[0]] - sum(sizes[k] for k in order[1:])
    inside = on_plane(frame, centre(found))
    return PlacedRegion(frame, RegionResult(given.face.label, tuple(loops[k] for k in order), area, inside)), {}
