"""A flat face that takes the shape of a surface, beside closed forms."""

import math

import pytest

pytest.importorskip("OCP")

from architectonic.kernel.shapes.outlines import KernelFrame, Side
from architectonic.kernel.shapes.verdict import KernelRefusal, volume
from architectonic.kernel.solids import dividing, facing, prisms
from architectonic.kernel.surfaces import making

pytestmark = pytest.mark.kernel
TOP = KernelFrame((0, 0, 0), (1, 0, 0), (0, 0, 1))
FRONT = KernelFrame((0, 0, 0), (1, 0, 0), (0, -1, 0))


def block(high=10.0):
    corners = [(-20.0, -15.0), (20.0, -15.0), (20.0, 15.0), (-20.0, 15.0)]
    loop = tuple(Side(f"l{k}", p, corners[(k + 1) % 4]) for k, p in enumerate(corners))
    return prisms.prism(TOP, [(loop,)], (0.0, 0.0, 0.0), (high, 0.0, 0.0), "b")


def top(body):
    return [f for f, n in zip(body.face_list, body.faces, strict=True) if n[0] == "b:end"]


def vault(low, rise):
    """Half a cylinder's arch over x, from -20 to 20, `low` at both ends and `rise` more in the middle, along y."""
    radius = (400 + rise * rise) / (2 * rise)
    arch = Side("a", (20.0, low), (-20.0, low), (0.0, low + rise - radius), radius, (0.0, low + rise), True)
    return making.extruded(((FRONT, arch),), (0.0, 1.0, 0.0), -40.0, 40.0, "v"), radius


@pytest.mark.parametrize("low", (14.0, 5.0))
def test_a_block_takes_the_shape_of_a_vault_above_or_below_its_face(low):
    """30 mm of a segment of a circle, R^2 (a - sin a) / 2, on a cuboid (Bronstein, plane figures)."""
    body = block()
    sheet, radius = vault(low, 4.0)
    made = facing.replaced(body, top(body), sheet, "r")
    angle = 2 * math.asin(20 / radius)
    exact = 30 * (40 * low + radius * radius * (angle - math.sin(angle)) / 2)
    assert volume(made.shape) == pytest.approx(exact, rel=1e-9)
    labels = {n[0] for n in made.faces}
    assert "r:face:v:side:a" in labels and "b:end" not in labels and len(made.faces) == 6
    assert {f"b:side:l{k}" for k in range(4)} <= {
        n for names in made.faces for n in names
    }  # the sides are those they were


def test_a_slant_plane_and_what_is_refused():
    body = block()
    slope = math.hypot(1.0, 0.1)
    plane = KernelFrame((0, 0, 12), (1 / slope, 0, 0.1 / slope), (-0.1 / slope, 0, 1 / slope))
    made = facing.replaced(body, top(body), dividing.plane(plane, body, "p"), "r")
    assert volume(made.shape) == pytest.approx(40 * 30 * 12, rel=1e-9)
    short = making.extruded(((FRONT, Side("s", (-5.0, 14.0), (5.0, 14.0))),), (0.0, 1.0, 0.0), -40.0, 40.0, "v")
    with pytest.raises(KernelRefusal, match="does not go all over"):
        facing.replaced(body, top(body), short, "r")
