"""Swept, hollowed, divided and moved solids against closed forms; every face has a name that says what made it.

Values: solid of revolution by Pappus' theorems, frustum, pipe elbow and hollow box in closed form; formulas stand
beside each check.
"""

import math

import pytest

pytest.importorskip("OCP")

from tests.support.plates import TOP, circle, level, names, rectangle, volume
from tests.support.swept import FRONT, Z, box, polygon

from architectonic.kernel.measure.bodies import measure
from architectonic.kernel.shapes.outlines import KernelFrame, Side
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import blends, dividing, placing, shells, sweeps
from architectonic.kernel.solids.prisms import boolean, prism


@pytest.mark.parametrize("turn", [math.tau, math.pi / 3, 1.5 * math.pi])
def test_a_torus_and_parts_of_it(turn):
    """V = r^2 pi R angle, R = 30, r = 8 (Pappus)."""
    body = sweeps.revolve(FRONT, [(circle("c", (30, 0), 8),)], *Z, 0.0, turn, "o1")
    assert volume(body) == pytest.approx(math.pi * 64 * 30 * turn, rel=1e-9)
    caps = {"o1:start", "o1:end"} if turn < math.tau else set()
    assert names(body) == {"o1:side:c", *caps}


def test_a_whole_turn_names_rings_that_the_kernel_forgets():
    """A stepped bush, its bore on the axis side: edges square to the axis have no history of their own."""
    outline = polygon((5, 0), (20, 0), (20, 10), (12, 10), (12, 30), (5, 30))
    body = sweeps.revolve(FRONT, [(outline,)], *Z, 0.0, math.tau, "o1")
    assert volume(body) == pytest.approx(math.pi * (10 * (400 - 25) + 20 * (144 - 25)), rel=1e-9)
    assert names(body) == {f"o1:side:c{k}" for k in range(6)}
    planes = {n[0]: round(measure_height(f), 6) for f, n in zip(body.face_list, body.faces, strict=True) if n[0] in ("o1:side:c0", "o1:side:c2", "o1:side:c4")}  # fmt: skip
    assert planes == {"o1:side:c0": 0, "o1:side:c2": 10, "o1:side:c4": 30}


def measure_height(face):
    from architectonic.kernel.shapes.labelled import centre

    return centre(face)[2]


def test_a_frustum_with_its_edge_on_the_axis():
    """R20 r12 h50: V = pi h / 3 (R^2 + R r + r^2), centroid 20.9183673 from the large end."""
    body = sweeps.revolve(FRONT, [(polygon((0, 0), (20, 0), (12, 50), (0, 50)),)], *Z, 0.0, math.tau, "o1")
    m = measure(body)
    assert m["volume_mm3"] == pytest.approx(41050.1440069, rel=1e-10)
    assert m["centre_mm"][2] == pytest.approx(20.9183673, rel=1e-8)
    assert names(body) == {"o1:side:c0", "o1:side:c1", "o1:side:c2"}


def test_a_start_angle_turns_the_whole():
    body = sweeps.revolve(FRONT, [(rectangle(10, 10, x=20),)], *Z, math.pi / 2, math.pi / 2, "o1")
    assert volume(body) == pytest.approx(100 * 25 * math.pi / 2, rel=1e-9)
    x, y, _ = measure(body)["centre_mm"]
    assert x < 0 < y  # from +x by a right angle on to +y, then another one on


def test_a_region_across_the_axis_is_refused():
    with pytest.raises(KernelRefusal, match="across the axis"):
        sweeps.revolve(FRONT, [(rectangle(30, 10, x=-10),)], *Z, 0.0, math.tau, "o1")


def quarter(r, at=(0.0, 0.0)):
    """From straight up round to the right, in the front plane."""
    x, z = at
    middle = (x + r - r * math.cos(math.pi / 4), z + r * math.sin(math.pi / 4))
    return Side("bend", (x, z), (x + r, z + r), (x + r, z), r, middle, False)


def test_a_pipe_elbow():
    """R60, OD30, ID24: theta R pi (15^2 - 12^2) = 23983.1386946."""
    ring = (*circle("out", (0, 0), 15),), (*circle("in", (0, 0), 12, False),)
    body = sweeps.sweep(TOP, [ring], ((FRONT, quarter(60)),), "o1")
    assert volume(body) == pytest.approx(23983.1386946, rel=1e-8)
    assert names(body) == {"o1:side:out:bend", "o1:side:in:bend", "o1:start", "o1:end"}


def test_a_bend_sharper_than_what_is_swept_is_refused():
    with pytest.raises(KernelRefusal, match="bends more sharply"):
        sweeps.sweep(TOP, [(circle("c", (0, 0), 15),)], ((FRONT, quarter(10)),), "o1")


def test_a_path_with_corners_is_mitred():
    """A square bar 6 x 6 along a U of 50, 40 and 50 mm: its length along the middle times 36."""
    way = [((0, 0), (0, 50)), ((0, 50), (40, 50)), ((40, 50), (40, 0))]
    path = tuple((FRONT, Side(f"p{k}", a, b)) for k, (a, b) in enumerate(way))
    body = sweeps.sweep(TOP, [(rectangle(6, 6, x=-3, y=-3),)], path, "o1")
    assert volume(body) == pytest.approx(36 * 140, rel=1e-8)
    assert names(body) == {"o1:start", "o1:end", *(f"o1:side:c{k}:p{j}" for k in range(4) for j in range(3))}


def test_a_path_with_a_gap_is_refused():
    path = ((FRONT, Side("p", (0, 0), (0, 50))), (FRONT, Side("q", (1, 50), (40, 50))))
    with pytest.raises(KernelRefusal, match="do not meet"):
        sweeps.sweep(TOP, [(circle("c", (0, 0), 3),)], path, "o1")


def above(height):
    return KernelFrame((0, 0, height), (1, 0, 0), (0, 0, 1))


def test_a_loft_between_squares_is_a_frustum():
    """60 -> 36 over 45: h / 3 (A1 + A2 + sqrt(A1 A2)) = 105840."""
    sections = [(TOP, (rectangle(60, 60, "a", -30, -30),)), (above(45), (rectangle(36, 36, "b", -18, -18),))]
    body = sweeps.loft(sections, True, "o1")
    assert volume(body) == pytest.approx(105840, rel=1e-9)
    sides = [n for n in body.faces if n[0].startswith("o1:side")]
    assert len(sides) == 4 and all(len(n) == 2 for n in sides)


def test_what_no_loft_goes_through_is_refused():
    with pytest.raises(KernelRefusal, match="two sections"):
        sweeps.loft([(TOP, (rectangle(60, 60),))], True, "o1")
    ring = (circle("a", (0, 0), 10), circle("b", (0, 0), 5, False))
    with pytest.raises(KernelRefusal, match="hole"):
        sweeps.loft([(TOP, ring), (above(10), ring)], True, "o1")


def test_a_hollow_box():
    """100 x 60 x 40 with a wall of 3: closed 240000 - 94 * 54 * 34, without a lid 240000 - 94 * 54 * 37."""
    closed = shells.shell(box(), [], 3.0, [], "o2")
    assert volume(closed) == pytest.approx(67416, rel=1e-9)
    body = box()
    tray = shells.shell(body, body.find_faces("o1:end"), 3.0, [], "o2")
    assert volume(tray) == pytest.approx(240000 - 94 * 54 * 37, rel=1e-9)
    assert {"o2:inner:o1:start", "o2:inner:o1:side:c0", "o1:end", "o1:start"} <= names(tray)


def test_one_wall_of_its_own_thickness():
    """The bottom 5 instead of 3."""
    body = box()
    tray = shells.shell(body, body.find_faces("o1:end"), 3.0, [(body.find_faces("o1:start")[0], 5.0)], "o2")
    assert volume(tray) == pytest.approx(240000 - 94 * 54 * 35, rel=1e-9)


@pytest.mark.parametrize("wall", [25.0, 30.0, 200.0])
def test_too_thick_a_wall_is_refused_and_not_given_back_whole(wall):
    body = box(50, 50, 50)
    with pytest.raises(KernelRefusal, match="does not fit"):
        shells.shell(body, body.find_faces("o1:end"), wall, [], "o2")


def test_a_thickened_face():
    """A quarter of a tube's face, r 20, 2 mm outwards: pi / 4 (22^2 - 20^2) 30."""
    arc = Side("a", (20, 0), (0, 20), (0, 0), 20, (20 * math.sqrt(0.5),) * 2)
    wedge = (arc, Side("b", (0, 20), (0, 0)), Side("c", (0, 0), (20, 0)))
    body = prism(TOP, [(wedge,)], level(0), level(30), "o1")
    face = body.find_faces("o1:side:a")[0]
    plate = shells.thicken([(face, "o1:side:a")], 2.0, "o2")
    assert volume(plate) == pytest.approx(math.pi / 4 * (22**2 - 20**2) * 30, rel=1e-8)
    assert {"o2:start:o1:side:a", "o2:end:o1:side:a"} <= names(plate)


def test_tilted_walls_make_a_frustum():
    """A 60 x 60 x 45 block tilted inwards so that its top is 36 wide: atan(12 / 45); 105840 as of the loft."""
    body = box(60, 60, 45)
    walls = [f for n, f in ((n[0], f) for f, n in zip(body.face_list, body.faces, strict=True)) if "side" in n]
    tilted = shells.draft(body, walls, TOP, (0, 0, 1), math.atan2(12, 45))
    assert volume(tilted) == pytest.approx(105840, rel=1e-9)
    assert names(tilted) == names(body)


def test_a_body_grown_all_round():
    assert volume(shells.grown(box(10, 10, 10), 1.0, "o2")) == pytest.approx(12**3, rel=1e-9)
    assert volume(shells.grown(box(10, 10, 10), -1.0, "o2")) == pytest.approx(8**3, rel=1e-9)
    with pytest.raises(KernelRefusal, match="shrunk"):
        shells.grown(box(10, 10, 10), -6.0, "o2")


def test_halves_share_the_name_of_the_cut():
    before, behind = dividing.halves(box(), dividing.plane(KernelFrame((30, 0, 0), (0, 1, 0), (1, 0, 0)), box(), "o2"))
    assert volume(before) == pytest.approx(70 * 60 * 40, rel=1e-9)
    assert volume(behind) == pytest.approx(30 * 60 * 40, rel=1e-9)
    assert "o2:wall" in names(before) & names(behind) and "o1:start" in names(before) & names(behind)
    assert (
        dividing.halves(box(), dividing.plane(KernelFrame((300, 0, 0), (0, 1, 0), (1, 0, 0)), box(), "o2"))[0] is None
    )


@pytest.mark.parametrize(
    ("move", "centre", "factor"),
    [
        (placing.shifted((10, 0, 5)), (60, 30, 25), 1),
        (placing.turned(*Z, math.pi / 2), (-30, 50, 20), 1),
        (placing.scaled((0, 0, 0), 2.0), (100, 60, 40), 8),
        (placing.mirrored(KernelFrame((0, 0, 0), (0, 1, 0), (1, 0, 0))), (-50, 30, 20), 1),
        (placing.onto(TOP, KernelFrame((7, 0, 0), (0, 1, 0), (1, 0, 0))), (27, 50, 30), 1),
    ],
)
def test_bodies_put_elsewhere(move, centre, factor):
    moved = placing.placed(box(), move)
    m = measure(moved)
    assert m["volume_mm3"] == pytest.approx(240000 * factor, rel=1e-9)
    assert m["centre_mm"] == pytest.approx(centre, abs=1e-9)
    assert names(moved) == names(box())
    copy = placing.placed(box(), move, "o9")
    assert "o9:copy:(o1:end)" in names(copy)


@pytest.mark.parametrize(
    ("how", "lost"),
    [
        (blends.ChamferSize(3.0), 4.5),
        (blends.ChamferSize(3.0, second=5.0), 7.5),
        (blends.ChamferSize(3.0, angle=math.radians(30)), 9 * math.tan(math.radians(30)) / 2),
    ],
)
def test_chamfers(how, lost):
    """Triangular prisms cut off one edge of 40 mm."""
    body = box()
    edge = {n: e for n, e in body.edges.items() if n.count("side") == 2 and "c0" in n and "c1" in n}
    assert len(edge) == 1
    cut = blends.chamfer(body, edge, how, False, "o2")
    assert volume(cut) == pytest.approx(240000 - lost * 40, rel=1e-9)
    assert any(n.startswith("o2:blend:") for n in names(cut))
    with pytest.raises(KernelRefusal, match="no room"):
        blends.chamfer(body, edge, blends.ChamferSize(300.0), False, "o2")


def test_a_round_that_grows_along_its_edge():
    """r goes from 2 to 6 over 40 mm: the lost area (1 - pi / 4) r^2 summed over the length, h / 3 (a^2 + a b + b^2).

    The kernel's blend follows r only between its ends exactly; its surface bows by about 1 % of what is lost.
    """
    body = box()
    edge = {n: e for n, e in body.edges.items() if n.count("side") == 2 and "c0" in n and "c1" in n}
    cut = blends.fillet(body, edge, 2.0, "o2", 6.0)
    lost = (1 - math.pi / 4) * 40 / 3 * (4 + 12 + 36)
    assert 240000 - volume(cut) == pytest.approx(lost, rel=0.02)


def test_a_swept_groove_is_cut_from_a_block():
    """Half of a round bar of r 4, 100 long, taken out of the top."""
    path = ((KernelFrame((0, 30, 40), (1, 0, 0), (0, -1, 0)), Side("p", (0, 0), (100, 0))),)
    across = KernelFrame((0, 30, 40), (0, 1, 0), (1, 0, 0))
    tool = sweeps.sweep(across, [(circle("g", (0, 0), 4),)], path, "o2")
    cut = boolean("cut", box(), tool)
    assert volume(cut) == pytest.approx(240000 - math.pi * 16 / 2 * 100, rel=1e-9)
    assert "o2:side:g:p" in names(cut)
