"""Walls, draft, corners and holes against closed forms."""

import math

import numpy as np
import pytest
from OCP.BRepPrimAPI import BRepPrimAPI_MakeSphere
from OCP.gp import gp_Pnt

from architectonic.base.labels import plain
from architectonic.kernel.measure import fairness
from architectonic.kernel.measure.surveys import corners, deviating, leaning, margins, walls
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import KernelFrame, Side
from architectonic.kernel.solids import blends, prisms, shells

pytestmark = pytest.mark.kernel
GROUND = KernelFrame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))


def polygon(*corners):
    return tuple(Side(f"l{k}", p, corners[(k + 1) % len(corners)]) for k, p in enumerate(corners))


def block(x=120.0, y=80.0, z=25.0):
    half = [(-x / 2, -y / 2), (x / 2, -y / 2), (x / 2, y / 2), (-x / 2, y / 2)]
    return prisms.prism(GROUND, [(polygon(*half),)], (0.0, 0.0, 0.0), (z, 0.0, 0.0), "b")


def hollow(body, wall):
    top = [f for f, n in zip(body.face_list, body.faces, strict=True) if n[0] == "b:end"]
    return shells.shell(body, top, wall, [], "s")


def uprights(body, convex=True):
    edges = {k: e for k, e in body.edges.items() if plain(k).count("side") == 2 and ("inner" in k) != convex}
    return {k: e for k, e in edges.items() if "@" not in k}


@pytest.mark.parametrize("survey", (walls.by_rays, walls.by_ball))
def test_an_offset_shell_is_as_thick_as_it_was_made(survey):
    body = block()
    body = blends.fillet(body, uprights(body), 12.0, "f")
    found = survey(hollow(body, 2.4))
    assert found.places[0].value == pytest.approx(2.4, abs=2e-3)
    assert np.nanmedian(found.values) == pytest.approx(2.4, abs=1e-3)


def test_a_wedge_by_rays_and_by_balls():
    """At a way d from the edge of a wedge of angle a a ray square to one side is d tan a long; a ball that touches both sides
    and this one at d has the diameter 2 d tan(a / 2) (plane trigonometry)."""
    a = math.radians(20)
    body = prisms.prism(
        GROUND, [(polygon((0, 0), (100, 0), (100, 100 * math.tan(a))),)], (0.0, 0.0, 0.0), (30.0, 0.0, 0.0), "w"
    )
    for survey, share in ((walls.by_rays, math.tan(a)), (walls.by_ball, 2 * math.tan(a / 2))):
        found = survey(body)
        middles = found.points[found.triangles].mean(axis=1)
        below = np.abs(middles[:, 1]) < 1e-6
        inner = below & (middles[:, 0] > 20) & (middles[:, 0] < 60) & (np.abs(middles[:, 2] - 15) < 6)
        assert inner.sum() > 20
        assert found.values[inner] == pytest.approx(share * middles[inner, 0], rel=2e-3)


def test_a_corner_that_is_rounded_on_the_outside_only():
    """Across the corner: t sqrt 2 - R (sqrt 2 - 1), of a wall t rounded with R (Pythagoras)."""
    body = hollow(block(), 4.0)
    body = blends.fillet(body, uprights(body), 9.0, "f")
    wanted = 4 * math.sqrt(2) - 9 * (math.sqrt(2) - 1)
    found = walls.by_rays(body).places[0]
    assert found.value == pytest.approx(wanted, abs=0.02) and found.label.startswith("f:")


def test_draft_is_that_of_the_cone():
    body = block()
    sides = [f for f, n in zip(body.face_list, body.faces, strict=True) if "side" in n[0]]
    leaned = shells.draft(body, sides, GROUND, (0.0, 0.0, 1.0), math.radians(3))
    found = leaning.by_draft(leaned, (0.0, 0.0, 1.0))
    assert math.degrees(found.places[0].value) == pytest.approx(3.0, abs=1e-6)
    assert leaning.by_draft(body, (0.0, 0.0, 1.0)).places[0].value == pytest.approx(0.0, abs=1e-9)


def test_inside_corners_are_sharp_until_they_are_rounded():
    body = hollow(block(), 4.0)
    sharp = corners.inside(body, (0.0, 0.0, 1.0), frozenset())
    assert len(sharp.places) == 4 and sharp.places[0].value == 0.0
    assert corners.inside(block(), (0.0, 0.0, 1.0), frozenset()).places == []
    inner = {p.label: body.edges[p.label] for p in sharp.places}
    rounded = corners.inside(blends.fillet(body, inner, 5.0, "f"), (0.0, 0.0, 1.0), frozenset())
    assert rounded.places[0].value == pytest.approx(5.0)
    assert (
        corners.inside(body, (1.0, 0.0, 0.0), frozenset()).places != []
    )  # the floor's edges, for a tool from the side


def test_what_is_left_around_holes():
    """Two holes of 10 with their centres 16 apart leave 6; the first has its centre 12 from an edge, which leaves 7."""
    body = block(100.0, 60.0, 8.0)
    loop = lambda x, y: (Side("c", (x + 5, y), (x + 5, y), (x, y), 5.0, (x - 5, y), True),)  # noqa: E731
    for key, x in (("h1", -38.0), ("h2", -22.0)):
        drill = prisms.prism(GROUND, [(loop(x, 0.0),)], (-1.0, 0.0, 0.0), (9.0, 0.0, 0.0), "d")
        renamed = type(drill)(drill.shape, tuple((f"h:wall:{key}",) if "side" in n[0] else n for n in drill.faces))
        body = prisms.boolean("cut", body, renamed)
    drilled = frozenset(("h",))
    assert margins.around_holes(body, drilled, True).places[0].value == pytest.approx(6.0, abs=1e-9)
    assert margins.around_holes(body, drilled, False).places[0].value == pytest.approx(7.0, abs=1e-9)
    assert margins.around_holes(block(), drilled, False).places == []


def ball(radius, middle=(0.0, 0.0, 0.0)):
    return Labelled(BRepPrimAPI_MakeSphere(gp_Pnt(*middle), radius).Shape(), (("s",),))


def test_spheres_that_do_not_share_their_middle_deviate_by_radius_and_shift():
    """A point of the inner one lies R - |p - c| from the outer: from R - r - e to R - r + e (the triangle inequality)."""
    inner, outer, e = ball(20.0), ball(20.6, (0.2, 0.0, 0.0)), 0.2
    found = deviating.from_body(inner, outer)
    assert found.places[0].value == pytest.approx(0.6 + e, abs=2e-3) and found.places[0].at[0] > 19
    assert np.nanmin(found.values) == pytest.approx(0.6 - e, abs=2e-3)
    middles = found.points[found.triangles].mean(axis=1)
    exact = 20.6 - np.linalg.norm(20 * middles / np.linalg.norm(middles, axis=1)[:, None] - (0.2, 0, 0), axis=1)
    assert found.values == pytest.approx(exact, abs=1e-6)


def test_normals_for_stripes_and_combs_are_those_of_a_sphere_and_of_its_circles():
    found = fairness.fairness(ball(20.0, (3.0, 0.0, 0.0)))
    away = found.points - (3.0, 0.0, 0.0)
    assert found.normals == pytest.approx(away / np.linalg.norm(away, axis=1)[:, None], abs=1e-6)
    body = block()
    rounded = blends.fillet(body, uprights(body), 12.0, "f")
    combs = fairness.fairness(rounded).combs
    assert len(combs) == 8 and all("f:blend" in c.label for c in combs)  # four arcs above, four below
    for comb in combs:
        assert np.linalg.norm(comb.bends, axis=1) == pytest.approx(1 / 12, rel=1e-9)
        inwards = comb.at + comb.bends * 144  # to the middle of the arc
        assert np.ptp(inwards, axis=0) == pytest.approx((0, 0, 0), abs=1e-9)
