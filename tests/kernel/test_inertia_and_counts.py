"""Moments of inertia in closed form, and the counts of Euler and Poincaré on every kind of solid.

Formulas (mechanics textbooks; m is the volume at density 1): torus Iz = m (R^2 + 3/4 r^2), Ix = m (R^2 / 2 + 5/8 r^2);
box Ix = m (b^2 + c^2) / 12; cylinder Iz = m r^2 / 2, Ix = m (3 r^2 + h^2) / 12. Counts: V - E + F - (L - F) - 2 (S - G) = 0
with L loops of edges, S shells and G holes through (Braid, Hillyard, Stroud, 1980).
"""

import math

import pytest

pytest.importorskip("OCP")

from OCP.BRep import BRep_Tool
from OCP.collections import IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap
from OCP.TopAbs import TopAbs_SHELL
from OCP.TopExp import TopExp
from tests.support.bodies import crossed, frame_with_two_holes, rounded, torus, tray
from tests.support.plates import TOP, circle, level, plate, rectangle
from tests.support.swept import FRONT, Z, box, polygon

from architectonic.kernel.measure.bodies import measure
from architectonic.kernel.shapes.outlines import KernelFrame
from architectonic.kernel.shapes.topology import EDGE, FACE, VERTEX, WIRE, subshapes
from architectonic.kernel.solids import placing, shells, sweeps
from architectonic.kernel.solids.prisms import prism


def test_inertia_of_a_torus():
    """The kernel integrates moments of round faces to about 1e-7; volumes to 1e-9."""
    m = measure(torus())
    v = 2 * math.pi**2 * 30 * 64
    across = v * (900 / 2 + 5 * 64 / 8)
    assert m["inertia_mm5"] == pytest.approx((across, across, v * (900 + 3 * 64 / 4), 0, 0, 0), rel=1e-6, abs=1)


def test_inertia_of_a_box_and_of_a_cylinder_anywhere():
    """About the centre: where the body stands does not matter."""
    v = 100 * 60 * 40
    wanted = (v * (60**2 + 40**2) / 12, v * (100**2 + 40**2) / 12, v * (100**2 + 60**2) / 12, 0, 0, 0)
    assert measure(box())["inertia_mm5"] == pytest.approx(wanted, rel=1e-6, abs=1)
    moved = placing.placed(box(), placing.shifted((500, -300, 70)))
    assert measure(moved)["inertia_mm5"] == pytest.approx(wanted, rel=1e-6, abs=1e-1)
    rod = prism(TOP, [(circle("c", (7, 9), 5),)], level(0), level(30), "o1")
    v = math.pi * 25 * 30
    across = v * (3 * 25 + 900) / 12
    assert measure(rod)["inertia_mm5"] == pytest.approx((across, across, v * 25 / 2, 0, 0, 0), rel=1e-6, abs=1)


def test_products_of_inertia_of_a_turned_box():
    """A box turned by 30 deg about z: Ixy = -(Ia - Ib) / 2 sin 60 as it stands in the matrix (Mohr's circle)."""
    turned = placing.placed(box(), placing.turned(*Z, math.pi / 6))
    a, b, c, *_ = measure(box())["inertia_mm5"]
    ixx, iyy, izz, ixy, ixz, iyz = measure(turned)["inertia_mm5"]
    mean, half = (a + b) / 2, (a - b) / 2
    assert (ixx, iyy, izz) == pytest.approx((mean + half * 0.5, mean - half * 0.5, c), rel=1e-6)
    assert abs(ixy) == pytest.approx(abs(half) * math.sin(math.pi / 3), rel=1e-6)
    assert (ixz, iyz) == pytest.approx((0, 0), abs=1)


def shells_of(shape):
    found = ShapeMap()
    TopExp.MapShapes_s(shape, TopAbs_SHELL, found)
    return found.Extent()


def poincare(body):
    """Twice the holes through, as the counts have it; edges without length do not count."""
    shape = body.shape
    edges = [e for e in subshapes(shape, EDGE) if not BRep_Tool.Degenerated_s(e)]
    vertices, faces, loops = (len(subshapes(shape, kind)) for kind in (VERTEX, FACE, WIRE))
    return 2 * shells_of(shape) - (vertices - len(edges) + faces - (loops - faces))


@pytest.mark.parametrize(
    ("make", "through"),
    [
        (box, 0), (plate, 1), (frame_with_two_holes, 2), (torus, 1), (rounded, 0), (tray, 0), (crossed, 0),
        (lambda: shells.shell(box(), [], 3.0, [], "o2"), 0),
        (lambda: sweeps.revolve(FRONT, [(polygon((5, 0), (20, 0), (20, 10), (5, 10)),)], *Z, 0.0, math.tau, "o1"), 1),
        (lambda: sweeps.loft([(TOP, (rectangle(60, 60, "a"),)), (KernelFrame((0, 0, 40), (1, 0, 0), (0, 0, 1)), (rectangle(30, 30, "b"),))], True, "o1"), 0),
    ],
)  # fmt: skip
def test_the_counts_of_euler_and_poincare(make, through):
    assert poincare(make()) == 2 * through
