"""Bodies cut open and coloured by draft, on meshes of the kernel; closed forms beside each check."""

import math

import numpy as np
import pytest

from architectonic.kernel.measure.mesh import mesh
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import KernelFrame, Side
from architectonic.kernel.solids.blends import fillet
from architectonic.kernel.solids.prisms import prism
from architectonic.render.camera import BodyMesh
from architectonic.render.section import CutPlane, cut_open
from architectonic.session.picking import picking

pytestmark = pytest.mark.kernel
TOP = KernelFrame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
FRONT = KernelFrame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0))


def outline(*points):
    return tuple(Side(f"c{k}", p, points[(k + 1) % len(points)]) for k, p in enumerate(points))


def ring(radius, name="r", inner=False):
    start = (radius, 0.0)
    return (Side(name, start, start, (0.0, 0.0), radius, (-radius, 0.0), ccw=not inner),)


def shown(body: Labelled) -> BodyMesh:
    return BodyMesh.from_result(mesh(body))


def block():
    return prism(TOP, [(outline((0, 0), (40, 0), (40, 30), (0, 30)),)], (0, 0, 0), (20, 0, 0), "o")


def flux(m: BodyMesh) -> float:
    """Volume below a surface by the divergence theorem; an open one lacks the share of its cap."""
    t = m.points[m.triangles].astype(float)
    return float(np.einsum("ij,ij->i", t[:, 0], np.cross(t[:, 1], t[:, 2])).sum() / 6)


def plane(height):
    return CutPlane(np.array([0.0, 0.0, height]), np.array([0.0, 0.0, 1.0]))


def test_a_tube_cut_across_keeps_its_volume_and_shows_its_ring():
    """A tube 10 to 14 of 20: below 8 there is pi (14^2 - 10^2) 8, and the cut is pi (14^2 - 10^2)."""
    tube = shown(prism(TOP, [(ring(14.0), ring(10.0, "i", True))], (0, 0, 0), (20, 0, 0), "o"))
    kept, cap = cut_open(tube, plane(8.0), 0.05, 0.6)
    area = math.pi * (14**2 - 10**2)
    assert np.linalg.norm(cap.hatching[:, 1] - cap.hatching[:, 0], axis=1).sum() * 0.05 == pytest.approx(area, rel=5e-3)
    assert flux(kept) + area * 8 / 3 == pytest.approx(area * 8, rel=5e-3)
    assert kept.points[kept.triangles][:, :, 2].max() <= 8 + 1e-5
    assert np.linalg.norm(cap.outline[:, 1] - cap.outline[:, 0], axis=1).sum() == pytest.approx(math.tau * 24, rel=2e-3)


def test_edges_end_at_the_cut_and_a_plane_that_misses_changes_nothing():
    body = shown(block())
    kept, cap = cut_open(body, plane(5.0), 1.0, 0.6)
    assert kept.lines[:, 2].max() == pytest.approx(5) and cap is not None and kept.edges == body.edges
    upright = [k for k, e in enumerate(body.edges) if e.count("side") == 2]
    lengths = [np.ptp(kept.lines[kept.line_starts[k] : kept.line_starts[k + 1], 2]) for k in upright]
    assert lengths == pytest.approx([5.0] * 4)
    same, none = cut_open(body, plane(25.0), 1.0, 0.6)
    assert same is body and none is None


def test_more_of_what_was_picked():
    body = block()
    upright = [e for e in body.edges if e.count("side") == 2]
    rounded = shown(fillet(body, {e: body.edges[e] for e in upright}, 4.0, "f"))
    blends = [f for f in rounded.faces if f.startswith("f:blend")]
    assert picking.like(rounded, "face", blends[0]) == [blends[0], *blends[1:]]
    assert sorted(picking.made_together(rounded, "face", blends[2])) == sorted(blends)
    around = picking.around(rounded, "o:end")
    assert len(around) == 8  # four straight edges and four arcs
    assert sorted(picking.chain(rounded, around[0])) == sorted(around)  # they all run on from each other
    sharp = shown(body)
    assert picking.chain(sharp, sharp.edges[0]) == [sharp.edges[0]]
    assert len(picking.like(sharp, "edge", upright[0])) == 4
    assert len(picking.made_together(sharp, "edge", upright[0])) == 12
