"""Curves in space beside closed forms, and what is built along them."""

import math

import pytest
from scipy.special import ellipe

import architectonic as a
from architectonic.describe.results import Node
from architectonic.family import edits

pytestmark = pytest.mark.kernel
R = 20.0


@pytest.fixture
def part(store):
    with a.new("Curves", sizes=("S", "L"), store=store) as family:
        yield family.part("Curves")


def led(part, operation):
    return part.evaluation().value(Node("path", part.at, operation.id))


def sphere(part):
    profile = part.sketch("Profile", on="front")
    profile.arc((0, 0), (0, -R), (0, R))
    return part.revolve_surface(curves=profile.curves[0], axis="z", name="Sphere")


def test_a_sphere_and_a_cylinder_through_its_centre_cross_in_vivianis_curve(part):
    """Length 4 sqrt(2) R E(1/2) for a cylinder of diameter R that touches the centre (Viviani 1692)."""
    sphere(part)
    ring = part.sketch("Ring")
    ring.circle((R / 2, 0.0), radius=f"{R / 2} mm")
    part.extrude_surface(curves=ring.curves[-1], length="60 mm", symmetric=True, name="Pipe")
    made = part.crossing_curve(first=part.body("Sphere"), second=part.body("Pipe"))
    assert made.problem is None
    assert led(part, made).length == pytest.approx(4 * math.sqrt(2) * R * ellipe(0.5), rel=1e-5)


def test_two_views_of_a_curve(part):
    """A circle from above and a slope from before: an ellipse with half axes r and r sqrt(2)."""
    above, before = part.sketch("Above"), part.sketch("Before", on="front")
    above.circle(radius="10 mm")
    before.line((-15, -15), (15, 15))
    made = part.two_views_curve(first=above.curves[-1], second=before.curves[-1])
    assert made.problem is None
    assert led(part, made).length == pytest.approx(4 * 10 * math.sqrt(2) * ellipe(0.5), rel=1e-5)
    wire = part.wire(make="Ring", path=made, diameter="2 mm")
    assert wire.problem is None and part.body("Ring").volume == pytest.approx(
        led(part, made).length * math.pi, rel=1e-4
    )
    same = part.two_views_curve(first=above.curves[-1], second=above.curves[-1])
    assert "same side" in same.problem.what


def test_a_drawing_laid_on_a_sphere_is_a_circle_of_it(part):
    """A circle of radius r under the pole: itself at height sqrt(R^2 - r^2), on the near side only."""
    sphere(part)
    part.datum_offset(plane="top", distance="40 mm", name="Above")
    ring = part.sketch("Ring", on="Above")
    ring.circle(radius="8 mm")
    made = part.laid_curve(curves=ring.curves[-1], onto=part.body("Sphere"))
    assert made.problem is None
    found = led(part, made)
    assert found.length == pytest.approx(math.tau * 8, rel=1e-5)
    assert {round(c.frame.origin[2], 4) for c in found.curves} <= {round(math.sqrt(R * R - 64), 4)} or found.curves[
        0
    ].heights
    part.datum_offset(plane="top", distance="90 mm", name="Beside")
    far = part.sketch("Far", on="Beside")
    far.circle((60.0, 0.0), radius="8 mm")
    assert "does not lie under" in part.laid_curve(curves=far.curves[-1], onto=part.body("Sphere")).problem.what


def test_a_line_over_a_face(part):
    """Half way over a sphere's latitude: its equator; half way round: a meridian."""
    made = sphere(part)
    face = made.body.face(kind="sphere")
    equator = part.iso_curve(face=face, share="0.5", across=True)
    assert led(part, equator).length == pytest.approx(math.tau * R, rel=1e-5)
    meridian = part.iso_curve(face=face, share="0.25")
    assert led(part, meridian).length == pytest.approx(math.pi * R, rel=1e-5)
    assert "share" in part.iso_curve(face=face, share="1.5").problem.what


def test_a_surface_and_a_plane_cross_and_it_follows(part):
    part.parameter("high", "12 mm", L="16 mm")
    sphere(part)
    part.datum_offset(plane="top", distance="high", name="Level")
    made = part.crossing_curve(first=part.body("Sphere"), second="Level")
    assert led(part, made).length == pytest.approx(math.tau * 16, rel=1e-5)
    assert led(part.in_size("L"), made).length == pytest.approx(math.tau * 12, rel=1e-5)
    part.opened.set("Curves.high", "25 mm")
    assert "do not cross" in made.problem.what


def test_a_line_that_is_wrapped_around_a_cylinder_is_a_helix_as_long_as_itself(part):
    """A cylinder is developable: lengths and angles stay (do Carmo, section 4-2); rise and turn of the helix by its figures."""
    ring = part.sketch("Ring")
    ring.circle(radius=f"{R} mm")
    part.extrude_surface(curves=ring.curves[-1], length="60 mm", name="Pipe")
    slope = part.sketch("Slope", on="front")
    slope.line((0, 5), (50, 35))
    made = part.wrapped_curve(curves=slope.curves[-1], onto=part.body("Pipe").faces()[0])
    assert made.problem is None
    assert led(part, made).length == pytest.approx(math.hypot(50, 30), rel=1e-6)
    wire = part.wire(make="Coil", path=made, diameter="2 mm")
    assert wire.problem is None and part.body("Coil").volume == pytest.approx(math.pi * math.hypot(50, 30), rel=1e-3)
    across = part.sketch("Across", on="top")
    across.line((0, 5), (50, 35))
    wrong = part.wrapped_curve(curves=across.curves[-1], onto=part.body("Pipe").faces()[0])
    assert "along the axis" in wrong.problem.what
    sphere(part)
    wrong = part.wrapped_curve(curves=slope.curves[-1], onto=part.body("Sphere").faces()[0])
    assert "no cylinder" in wrong.problem.what


def test_a_path_is_fed_to_another_part_and_follows_there(store):
    """A wire bent in one part and a hose over it in another: as long as each other, whatever the path does."""
    with a.new("Routes", sizes=("S", "L"), store=store) as family:
        first, second = family.part("Wire"), family.part("Hose")
        first.parameter("reach", "40 mm")
        way = first.lead([(0, 0, 0), (40, 0, 0), (40, 30, 10)], "Way", bend="5 mm")
        way.hold("coordinate_x", 0, value="0 mm")
        way.hold("step_x", 0, 1, value="reach")
        (fed,) = second.take("Way of the wire", first, way=way).values()
        hose = second.wire(make="Hose", path=fed, diameter="6 mm", wall="1 mm")
        assert hose.problem is None
        assert second.body("Hose").volume == pytest.approx(way.length * math.pi * (9 - 4), rel=1e-6)
        before = way.length
        family.set("Wire.reach", "55 mm")
        assert way.length != pytest.approx(before)
        assert second.body("Hose").volume == pytest.approx(way.length * math.pi * (9 - 4), rel=1e-6)
        family.edit("gone", lambda f: edits.delete_item(f, first.id, way.id))
        assert hose.problem is not None
