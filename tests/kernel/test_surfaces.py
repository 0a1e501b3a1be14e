"""Surfaces beside closed forms: areas by Pappus and integrals, volumes of what they close and of walls on them."""

import math

import pytest

pytest.importorskip("OCP")

from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox
from OCP.gp import gp_Pnt
from scipy.integrate import quad

from architectonic.kernel.measure.curvature import curvatures, smallest_radius
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import KernelFrame, Side
from architectonic.kernel.shapes.verdict import KernelRefusal, volume
from architectonic.kernel.shapes.witness import normal_at
from architectonic.kernel.solids import dividing
from architectonic.kernel.surfaces import extending, filling, joining, lofting, making, sweeping, trimming, walls
from architectonic.kernel.surfaces.sheets import area

FRONT = KernelFrame((0, 0, 0), (1, 0, 0), (0, -1, 0))
RIGHT = KernelFrame((0, 0, 0), (0, 1, 0), (1, 0, 0))
TOP = KernelFrame((0, 0, 0), (1, 0, 0), (0, 0, 1))
Z = ((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))
R = 50.0


def above(height):
    return KernelFrame((0, 0, height), (1, 0, 0), (0, 0, 1))


def quarter(radius=R, centre=(0.0, 0.0), name="a"):
    """From the axis's height at the right up to the axis."""
    (x, y), s = centre, math.sqrt(0.5) * radius
    return Side(name, (x + radius, y), (x, y + radius), centre, radius, (x + s, y + s), True)


def circle(radius, centre=(0.0, 0.0), name="c"):
    start = (centre[0] + radius, centre[1])
    return Side(name, start, start, centre, radius, (centre[0] - radius, centre[1]))


def dome():
    return making.revolved(((FRONT, quarter()),), *Z, 0.0, math.tau, "o1")


def sheet(height=30.0, half=70.0, name="o2"):
    line = Side("c9", (-half, height), (half, height))
    return making.extruded(((FRONT, line),), (0.0, 1.0, 0.0), -half, half, name)


# --- areas --------------------------------------------------------------------------------------------


def test_revolved_surfaces_have_the_areas_of_pappus():
    """A = length times the way of its centroid: hemisphere 2 pi R^2, cone pi r s, torus 4 pi^2 R r (check-values 11)."""
    assert area(dome().shape) == pytest.approx(2 * math.pi * R * R, rel=1e-9)
    cone = making.revolved(((FRONT, Side("c", (0, 30), (10, 0))),), *Z, 0.0, math.tau, "o1")
    assert area(cone.shape) == pytest.approx(math.pi * 10 * math.hypot(10, 30), rel=1e-9)
    torus = making.revolved(((FRONT, circle(8.0, (30.0, 0.0))),), *Z, 0.0, math.tau, "o1")
    assert area(torus.shape) == pytest.approx(9474.8202250, rel=1e-9) and not torus.free_edges
    part = making.revolved(((FRONT, quarter()),), *Z, 0.3, 1.1, "o1")
    assert area(part.shape) == pytest.approx(1.1 * R * R, rel=1e-9)


def test_a_curve_across_the_axis_is_refused():
    with pytest.raises(KernelRefusal, match="cross the axis"):
        making.revolved(((FRONT, Side("c", (-10, 0), (20, 30))),), *Z, 0.0, math.tau, "o1")


def test_a_twisted_line_is_a_helicoid():
    """Area by quadrature of 2 pi sqrt(r^2 + (p / 2 pi)^2) (do Carmo, Differential Geometry, section 2-5)."""
    line, path = ((FRONT, Side("c", (0, 0), (10, 0))),), ((RIGHT, Side("p", (0, 0), (40, 0))),)
    made = sweeping.swept(line, path, (), "o3", twist=math.tau)
    wanted = quad(lambda r: math.tau * math.hypot(r, 40 / math.tau), 0, 10)[0]
    assert area(made.shape) == pytest.approx(wanted, rel=1e-7)


def test_a_rail_widens_what_it_leads():
    """A line from the path to a rail that goes away evenly: a trapezium."""
    line, path = ((FRONT, Side("c", (0, 0), (10, 0))),), ((RIGHT, Side("p", (0, 0), (40, 0))),)
    made = sweeping.swept(line, path, ((TOP, Side("r", (10, 0), (20, 40))),), "o3")
    assert area(made.shape) == pytest.approx(40 * 15, rel=1e-9)
    with pytest.raises(KernelRefusal, match="rail ends before"):
        sweeping.swept(line, path, ((TOP, Side("r", (10, 0), (15, 20))),), "o3")
    with pytest.raises(KernelRefusal, match="does not lie on the rail"):
        sweeping.swept(line, path, ((TOP, Side("r", (12, 0), (20, 40))),), "o3")


def test_a_section_that_shrinks_along_a_straight_path_is_a_cone():
    """Lateral area of a frustum (check-values 11): pi (R + r) s."""
    path = ((FRONT, Side("p", (0, 0), (0, 50))),)
    made = sweeping.swept(((TOP, circle(20.0)),), path, (), "o3", scale=0.6)
    assert area(made.shape) == pytest.approx(5090.4814763, rel=1e-6)


def test_a_bent_path_gives_the_area_of_pappus_and_a_corner_is_mitred():
    bend = Side("q", (40, 0), (60, 20), (40, 20), 20.0, (40 + 20 * math.sqrt(0.5), 20 - 20 * math.sqrt(0.5)), True)
    line, straight = ((FRONT, Side("c", (0, 0), (5, 0))),), Side("p", (0, 0), (40, 0))
    made = sweeping.swept(line, ((RIGHT, straight), (RIGHT, bend)), (), "o3")
    assert area(made.shape) == pytest.approx(5 * (40 + 10 * math.pi), rel=1e-9)
    mitred = sweeping.swept(line, ((RIGHT, straight), (RIGHT, Side("q", (40, 0), (60, 20)))), (), "o3")
    assert area(mitred.shape) == pytest.approx(5 * (40 + math.hypot(20, 20)), rel=1e-9)
    assert {n[0] for n in mitred.faces} == {"o3:side:c:p", "o3:side:c:q"}


def test_lofts_and_patches():
    ruled = making.lofted([((TOP, circle(20.0)),), ((above(50.0), circle(12.0, name="d")),)], True, "o4")
    assert area(ruled.shape) == pytest.approx(5090.4814763, rel=1e-6)
    flat = making.patch(((TOP, circle(10.0)),), "o5")
    assert area(flat.shape) == pytest.approx(100 * math.pi, rel=1e-12)
    with pytest.raises(KernelRefusal, match="one section is closed"):
        making.lofted([((TOP, circle(20.0)),), ((above(5.0), Side("d", (0, 0), (9, 0))),)], True, "o4")


def arc(radius, name):
    return quarter(radius, name=name)


def test_a_guided_loft_follows_its_guides_and_stands_square_where_it_is_asked():
    """Arcs of 30 and 20 mm, 40 mm apart: along straight guides a quarter of a cone, pi (r + R) s / 4 (check-values 11)."""
    sections = [((TOP, arc(30.0, "a")),), ((above(40.0), arc(20.0, "b")),)]
    rays = [((KernelFrame((0, 0, 0), (math.cos(t), math.sin(t), 0), (math.sin(t), -math.cos(t), 0)), Side(f"g{t}", (30, 0), (20, 40))),) for t in (0.0, 0.4, math.pi / 4, 1.2, math.pi / 2)]  # fmt: skip
    free = (lofting.Leaving(), lofting.Leaving())
    cone = lofting.led(sections, rays, free, "o")
    assert area(cone.shape) == pytest.approx(math.pi * 50 * math.hypot(10, 40) / 4, rel=2e-3)
    beyond = [((KernelFrame((0, 0, 0), (math.cos(t), math.sin(t), 0), (math.sin(t), -math.cos(t), 0)), Side(f"g{t}", (35, -20), (15, 60))),) for t in (0.0, math.pi / 4, math.pi / 2)]  # fmt: skip
    assert area(lofting.led(sections, beyond, free, "o").shape) == pytest.approx(area(cone.shape), rel=2e-3)
    assert set(cone.free_edges) == {"(o:side:a|o:start)", "(o:first|o:side:a)", "(o:end|o:side:a)", "(o:last|o:side:a)"}
    square = lofting.led(sections, [], (lofting.Leaving("square"), lofting.Leaving("square")), "o")
    found = [normal_at(square.face_list[0], gp_Pnt(r * math.cos(t), r * math.sin(t), z)).Z() for r, z in ((30, 0), (20, 40)) for t in (0.2, 0.8, 1.3)]  # fmt: skip
    assert found == pytest.approx([0.0] * 6, abs=6e-3)
    with pytest.raises(KernelRefusal, match=r"guide 1 passes section 2 by 5\b"):
        lofting.led(sections, [((FRONT, Side("g", (30, 0), (25, 40))),)], free, "o")
    with pytest.raises(KernelRefusal, match="section 1 is closed"):
        lofting.led([((TOP, circle(30.0)),), sections[1]], [], (lofting.Leaving("square"), lofting.Leaving()), "o")
    line = [((TOP, Side("a", (0, 0), (9, 0))),), ((above(9.0), Side("b", (0, 0), (9, 0))),)]
    with pytest.raises(KernelRefusal, match="nothing to stand square to"):
        lofting.led(line, [], (lofting.Leaving("square"), lofting.Leaving()), "o")


def test_a_loft_that_goes_on_smoothly_from_a_cylinder_to_its_like_is_the_cylinder():
    wall = making.extruded(((TOP, arc(30.0, "w")),), (0.0, 0.0, 1.0), 0.0, 10.0, "w")
    beside = (wall.face_list[0],)
    sections = [((above(10.0), arc(30.0, "a")),), ((above(25.0), arc(30.0, "b")),)]
    smooth = lofting.led(sections, [], (lofting.Leaving("smooth", beside), lofting.Leaving("square")), "o")
    assert area(smooth.shape) == pytest.approx(math.pi / 2 * 30 * 15, rel=1e-3)
    assert joining.joined([wall, smooth], 0.01)
    apart = [((above(12.0), arc(30.0, "a")),), sections[1]]
    with pytest.raises(KernelRefusal, match="no face lies beside"):
        lofting.led(apart, [], (lofting.Leaving("smooth", beside), lofting.Leaving()), "o")


# --- names --------------------------------------------------------------------------------------------


def test_free_edges_are_named_as_the_caps_of_a_solid_would_be():
    bent = (FRONT, Side("c1", (-50, 30), (0, 30))), (FRONT, Side("c2", (0, 30), (50, 20)))
    made = making.extruded(bent, (0.0, 1.0, 0.0), -50.0, 50.0, "o2")
    assert set(made.free_edges) == {
        "(o2:first|o2:side:c1)", "(o2:side:c1|o2:start)", "(o2:end|o2:side:c1)",
        "(o2:last|o2:side:c2)", "(o2:side:c2|o2:start)", "(o2:end|o2:side:c2)",
    }  # fmt: skip
    assert set(made.edges) - set(made.free_edges) == {"(o2:side:c1|o2:side:c2)"}
    again = type(made).from_bytes(made.to_bytes())
    assert set(again.edges) == set(made.edges) and set(again.free_edges) == set(made.free_edges)


@pytest.mark.parametrize("height", [10.0, 30.0, 45.0])
def test_pieces_are_known_by_what_bounds_them_wherever_it_lies(height):
    found = trimming.pieces([dome(), sheet(height)], [])
    assert [(p.of, p.bounds, p.rims) for p in found] == [
        (0, ("o2:side:c9:before",), ("o1:first",)),
        (0, ("o2:side:c9:behind",), ()),
        (1, ("o1:side:a:before",), ("o2:end", "o2:first", "o2:last", "o2:start")),
        (1, ("o1:side:a:behind",), ()),
    ]
    cap = 2 * math.pi * R * (R - height)
    assert [p.area for p in found[:2]] == pytest.approx([2 * math.pi * R * R - cap, cap], rel=1e-9)


def test_pieces_of_one_face_that_both_stay_are_told_apart_by_what_they_border_on():
    """Between two sheets: the pieces above and below have one face label, and no neighbour is left to tell them by."""
    found = trimming.pieces([dome()], [sheet(20.0), sheet(40.0, name="o3")])
    outer = [p for p in found if len(p.bounds) == 1]
    (made,) = trimming.kept([(0, p.shape) for p in outer], [dome()]).values()
    assert len({n[0] for n in made.faces}) == 2
    assert not any(n[0][-1].isdigit() for n in made.faces)


# --- joined and closed --------------------------------------------------------------------------------


def trimmed_cap(height=30.0):
    found = trimming.pieces([dome(), sheet(height)], [])
    return list(trimming.kept([(p.of, p.shape) for p in found if not p.rims], [dome(), sheet(height)]).values())


def test_what_closes_is_a_solid_of_the_right_volume():
    """Spherical cap: pi h^2 (3 R - h) / 3 (check-values 11)."""
    joined = joining.joined(trimmed_cap(), 0.01)
    assert not joined.free_edges
    solid = joining.closed(joined, 0.01)
    assert volume(solid.shape) == pytest.approx(math.pi * 400 * (3 * R - 20) / 3, rel=1e-9)
    assert set(solid.edges) == {"(o1:side:a|o2:side:c9)"}


def test_what_does_not_close_says_which_edges_are_free_and_how_wide_the_gap_is():
    with pytest.raises(KernelRefusal, match="1 edge is free") as told:
        joining.closed(dome(), 0.01)
    assert told.value.at == ("(o1:first|o1:side:a)",)
    low = making.patch(((above(-0.3), circle(R)),), "o5")
    with pytest.raises(KernelRefusal, match=r"0\.3 mm apart"):
        joining.joined([dome(), low], 0.01)
    joined = joining.joined([dome(), low], 0.5)  # a larger limit joins them
    assert not joined.free_edges and not joining.gaps(joined)


def test_surfaces_that_lie_over_each_other_are_not_joined_in_silence():
    with pytest.raises(KernelRefusal):
        joining.joined([sheet(), sheet(name="o3")], 0.01)


# --- moved and thickened ------------------------------------------------------------------------------


@pytest.mark.parametrize("by", [2.0, -2.0, 20.0, -49.0])
def test_a_thickened_hemisphere(by):
    """2/3 pi |(R + t)^3 - R^3|."""
    made = walls.thickened(dome(), by, "o3")
    assert volume(made.shape) == pytest.approx(2 / 3 * math.pi * abs((R + by) ** 3 - R**3), rel=1e-9)
    assert {n[0] for n in made.faces} == {
        "o3:start:(o1:side:a)", "o3:end:(o1:side:a)", "o3:side:(o1:first|o1:side:a)",
    }  # fmt: skip


def test_half_on_either_side():
    made = walls.thickened(dome(), 4.0, "o3", both=True)
    assert volume(made.shape) == pytest.approx(2 / 3 * math.pi * ((R + 2) ** 3 - (R - 2) ** 3), rel=1e-9)


def test_an_offset_of_a_sphere_is_a_sphere_and_one_that_folds_is_refused():
    """Offset of a sphere R by t is R + t (check-values 17)."""
    assert area(walls.moved(dome(), 5.0, "o4").shape) == pytest.approx(2 * math.pi * 55**2, rel=1e-9)
    for make in (walls.moved, walls.thickened):
        with pytest.raises(KernelRefusal, match="fold, its smallest radius on that side is 50 mm") as told:
            make(dome(), -50.5, "o4")
        assert told.value.at == ("o1:side:a",)


def test_the_tip_of_a_cone_cannot_be_thickened_and_that_is_said():
    """The kernel gives a solid of 3e19 mm3 here, and calls it valid."""
    cone = making.revolved(((FRONT, Side("c", (0, 30), (10, 0))),), *Z, 0.0, math.tau, "o1")
    with pytest.raises(KernelRefusal):
        walls.thickened(cone, 2.0, "o3")


# --- extended, filled ---------------------------------------------------------------------------------


def test_extended_surfaces_go_on_as_they_run():
    flat = sheet(half=50.0)
    longer = extending.extended(flat, {"(o2:end|o2:side:c9)": flat.edges["(o2:end|o2:side:c9)"]}, 10.0)
    assert area(longer.shape) == pytest.approx(100 * 110, rel=1e-12) and set(longer.edges) == set(flat.edges)
    loft = making.lofted(
        [((TOP, Side("c", (0, 0), (10, 0))),), ((above(40.0), Side("d", (0, 0), (20, 0))),)], False, "o4"
    )
    (edge,) = [n for n in loft.free_edges if "end" in n]
    longer = extending.extended(loft, {edge: loft.edges[edge]}, 10.0)
    middle = math.hypot(40, 5)  # it goes on along its middle, which leans
    high = 40 * (1 + 10 / middle)
    assert area(longer.shape) == pytest.approx(high * (10 + 10 + 10 * high / 40) / 2, rel=1e-5)


def test_only_edges_that_bound_a_surface_are_extended():
    bent = (FRONT, Side("c1", (-50, 30), (0, 30))), (FRONT, Side("c2", (0, 30), (50, 20)))
    made = making.extruded(bent, (0.0, 1.0, 0.0), -50.0, 50.0, "o2")
    inner = "(o2:side:c1|o2:side:c2)"
    with pytest.raises(KernelRefusal, match="between two faces"):
        extending.extended(made, {inner: made.edges[inner]}, 5.0)
    cut = trimmed_cap()[1]
    with pytest.raises(KernelRefusal, match="before it is trimmed"):
        extending.extended(cut, dict(cut.free_edges), 5.0)


def test_a_wall_is_extended_up_to_a_slant_plane_and_to_another_surface():
    """A quarter of a cylinder below z = 25 + x / 5: r (25 pi / 2 + r / 5), by integrating its height."""
    wall = making.extruded(((TOP, arc(30.0, "w")),), (0.0, 0.0, 1.0), 0.0, 10.0, "w")
    edges = {"(w:end|w:side:w)": wall.edges["(w:end|w:side:w)"]}
    slope = math.hypot(1.0, 0.2)
    slant = KernelFrame((0, 0, 25), (1 / slope, 0, 0.2 / slope), (-0.2 / slope, 0, 1 / slope))
    made = extending.extended_to(wall, edges, lambda s: dividing.plane(slant, s, "e"))
    assert area(made.shape) == pytest.approx(30 * (25 * math.pi / 2 + 6), rel=1e-6)
    assert [n for n in made.free_edges if "e:wall" in n] and not [n for n in made.free_edges if "w:end" in n]
    ball = making.revolved(((FRONT, quarter(50.0)),), *Z, 0.0, math.tau, "b")  # met at z = 40 all along: 3, 4, 5
    made = extending.extended_to(wall, edges, lambda s: ball)
    assert area(made.shape) == pytest.approx(math.pi / 2 * 30 * 40, rel=1e-6)
    with pytest.raises(KernelRefusal, match="does not meet all"):
        extending.extended_to(wall, edges, lambda s: sheet(25.0, half=20.0))


def test_a_surface_is_whole_again_as_far_as_it_runs():
    """A sheet with a round hole has its own outline again; a disc of a plane without ends becomes the square around it."""
    flat = sheet(30.0, half=60.0)
    pipe = making.extruded(((TOP, circle(20.0)),), (0.0, 0.0, 1.0), 0.0, 50.0, "p")
    outer = max((p for p in trimming.pieces([flat], [pipe])), key=lambda p: p.area)
    holed = trimming.kept([(0, outer.shape)], [flat])[0]
    assert area(holed.shape) == pytest.approx(120 * 120 - math.pi * 400, rel=1e-9)
    whole = extending.untrimmed(holed, "x")
    assert area(whole.shape) == pytest.approx(120 * 120, rel=1e-12) and whole.faces == holed.faces
    assert {n for n in whole.free_edges if "x:" in n} == set()  # its outer edges are the ones that it had
    disc = trimmed_cap()[1]  # 40 mm round (3, 4, 5), of a plane without ends: the square around it
    square = extending.untrimmed(disc, "x")
    assert area(square.shape) == pytest.approx(80 * 80, rel=1e-6)
    assert {n.partition("|")[0] for n in square.free_edges if "x:" in n} and len(square.free_edges) == 4
    bent = (FRONT, Side("c1", (-50, 30), (0, 30))), (FRONT, Side("c2", (0, 30), (50, 20)))
    with pytest.raises(KernelRefusal, match="has 2 faces"):
        extending.untrimmed(making.extruded(bent, (0.0, 1.0, 0.0), -50.0, 50.0, "o2"), "x")


def test_faces_that_do_not_meet_are_one_surface_of_several_parts():
    body = Labelled(BRepPrimAPI_MakeBox(10.0, 20.0, 30.0).Shape(), tuple((f"f{k}",) for k in range(6)))
    faces = list(body.name_of.items())
    opposite = walls.copied(faces[:2], "c")
    assert area(opposite.shape) == pytest.approx(2 * 20 * 30) and len(opposite.free_edges) == 8
    whole = walls.copied(faces, "c")
    assert area(whole.shape) == pytest.approx(2 * (200 + 300 + 600)) and not whole.free_edges
    assert volume(joining.closed(whole, 0.01).shape) == pytest.approx(6000)


def test_a_flat_boundary_is_filled_flat_and_a_smooth_one_goes_on_from_its_neighbour():
    half = dome()
    flat = filling.filled(filling.bounds_of(half, half.free_edges), [], "meets", "o5")
    assert area(flat.shape) == pytest.approx(math.pi * R * R, rel=1e-12)
    assert volume(joining.closed(joining.joined([half, flat], 0.01), 0.01).shape) == pytest.approx(
        2 / 3 * math.pi * R**3, rel=1e-9
    )
    found = [p for p in trimming.pieces([dome(), sheet(45.0)], []) if p.of == 0 and p.rims]
    (open_,) = trimming.kept([(0, p.shape) for p in found], [dome()]).values()
    rim = {n: e for n, e in open_.free_edges.items() if "o2" in n}
    smooth = filling.filled(filling.bounds_of(open_, rim), [], "smooth", "o5")
    joined = joining.joined([open_, smooth], 0.01)
    assert len(joined.free_edges) == 1 and area(smooth.shape) == pytest.approx(2 * math.pi * R * 5, rel=0.02)
    with pytest.raises(KernelRefusal, match=r"off by 1\.57 rad"):  # it would have to stand on its edge
        filling.filled(filling.bounds_of(half, half.free_edges), [], "smooth", "o5")


# --- how round it is ----------------------------------------------------------------------------------


def test_curvatures_of_known_surfaces():
    """Sphere 1/R^2; torus cos v / (r (R + r cos v)), from -1 / (r (R - r)) to 1 / (r (R + r)) (do Carmo, section 3-3)."""
    assert [c.gaussian for c in curvatures(dome().face_list[0])] == pytest.approx([1 / R**2] * 225, rel=1e-9)
    torus = making.revolved(((FRONT, circle(8.0, (30.0, 0.0))),), *Z, 0.0, math.tau, "o1").face_list[0]
    for c in curvatures(torus):
        away = math.hypot(c.at[0], c.at[1])
        assert c.gaussian == pytest.approx((away - 30) / 8 / (8 * away), abs=1e-12)
    inwards = min(smallest_radius(torus, True), smallest_radius(torus, False))
    assert inwards == pytest.approx(8.0, rel=1e-9)
    line, path = ((FRONT, Side("c", (0, 0), (10, 0))),), ((RIGHT, Side("p", (0, 0), (40, 0))),)
    helicoid = sweeping.swept(line, path, (), "o3", twist=math.tau).face_list[0]
    pitch = 40 / math.tau
    for c in curvatures(helicoid):
        r = math.hypot(c.at[0], c.at[2])
        assert c.gaussian == pytest.approx(-(pitch**2) / (r * r + pitch * pitch) ** 2, rel=1e-2)
        assert c.mean == pytest.approx(0.0, abs=1e-3)  # it is a minimal surface
