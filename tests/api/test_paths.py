"""Paths in space and bent wire: developed lengths by closed forms, bend tables by bending again, what holds and what is refused."""

import csv
import io
import math

import numpy as np
import pytest

import architectonic as a
from architectonic.base.errors import UserFault

pytestmark = pytest.mark.kernel
STAIR = [(0, 0, 0), (60, 0, 0), (60, 40, 0), (60, 40, 30), (0, 40, 30)]


@pytest.fixture
def part(store):
    with a.new("Wires", sizes=("S", "L"), store=store) as family:
        yield family.part("Guard")


def bent_again(bends, start, way, up):
    """The points that a bending machine passes: fed, turned, bent, by the table alone (forward kinematics, Craig ch. 3).

    Args:
        way: direction at the start; up: axis of the first bend.
    """
    at, x, axis = np.array(start, float), np.array(way, float), np.array(up, float)
    corners = []
    for b in bends:
        at = at + b.feed * x
        if not b.point:
            break
        turn = rotation(x, b.turn)
        axis = turn @ axis
        centre = at + b.radius * np.cross(axis, x)
        corners.append(at + b.radius * math.tan(b.bend / 2) * x)
        bend = rotation(axis, b.bend)
        at, x = centre + bend @ (at - centre), bend @ x
    return corners, at


def rotation(axis, angle):
    k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    return np.eye(3) + math.sin(angle) * k + (1 - math.cos(angle)) * k @ k


# --- lengths and tables -------------------------------------------------------------------------------


def test_developed_length_and_volume_of_a_bent_wire(part):
    """Straights and r times the angle of each bend (check-values 9); the volume by Pappus."""
    path = part.lead(STAIR, "Way", bend="8 mm")
    wanted = 60 + 40 + 30 + 60 - 6 * 8 + 3 * 8 * math.pi / 2
    assert path.length == pytest.approx(wanted, rel=1e-12)
    wire = part.wire(make="Wire", path=path, diameter="3 mm")
    tube = part.wire(make="Tube", path=path, diameter="3 mm", wall="0.5 mm")
    assert wire.problem is None and tube.problem is None
    assert part.body("Wire").volume == pytest.approx(wanted * math.pi * 1.5**2, rel=1e-9)
    assert part.body("Tube").volume == pytest.approx(wanted * math.pi * (1.5**2 - 1), rel=1e-9)


@pytest.mark.parametrize("seed", range(6))
def test_bending_by_the_table_gives_the_path(part, seed):
    draw = np.random.default_rng(seed)
    points = [
        tuple(float(c) for c in p)
        for p in np.cumsum(draw.uniform(-60, 60, (7, 3)) + 25 * draw.choice([-1, 1], (7, 3)), axis=0)
    ]
    try:
        path = part.lead(points, "Way", bend="4 mm")
        bends = path.bends
    except UserFault as fault:
        assert "too short" in fault.what
        pytest.skip("this one cannot be bent")
    first = np.subtract(points[1], points[0])
    up = np.cross(first, np.subtract(points[2], points[1]))
    corners, end = bent_again(bends, points[0], first / np.linalg.norm(first), up / np.linalg.norm(up))
    assert np.array(corners) == pytest.approx(np.array(points[1:-1]), abs=1e-6)
    assert end == pytest.approx(np.array(points[-1]), abs=1e-6)
    assert path.length == pytest.approx(sum(b.feed + b.radius * b.bend for b in bends), rel=1e-9)


def test_a_closed_path_comes_back(part):
    path = part.lead(STAIR, "Way", bend="8 mm", closed=True)
    assert len(path.bends) == 5
    wire = part.wire(make="Ring", path=path, diameter="3 mm")
    assert wire.problem is None
    assert part.body("Ring").volume == pytest.approx(path.length * math.pi * 2.25, rel=1e-9)


def test_a_smooth_path_through_points_of_a_helix_has_about_its_length(part):
    """n sqrt((pi D)^2 + p^2): D20 p5 n10 is 630.304828 (check-values 9); through 24 points a turn within 2e-5."""
    marks = np.linspace(0, 10, 241)
    points = [(10 * math.cos(math.tau * t), 10 * math.sin(math.tau * t), 5 * t) for t in marks]
    path = part.lead(points, "Spring", smooth=True)
    assert path.length == pytest.approx(630.304828, rel=2e-5)
    wire = part.wire(make="Spring", path=path, diameter="2 mm")
    assert wire.problem is None and part.body("Spring").volume == pytest.approx(path.length * math.pi, rel=1e-5)


def test_spring_back_is_bent_too_and_written_down(part):
    path = part.lead(STAIR, "Way", bend="8 mm", spring="1.02 * bend + 0.5")
    assert [b.bent for b in path.bends[:3]] == pytest.approx([math.radians(1.02 * 90 + 0.5)] * 3, abs=1e-12)
    rows = list(csv.DictReader(io.StringIO(path.table())))
    assert rows[1]["turn deg"] == "90.00" and rows[1]["bent deg"] == "92.30" and rows[1]["radius mm"] == "8.00"
    assert rows[-1]["step"] == "developed length mm" and float(rows[-1]["feed mm"]) == pytest.approx(
        path.length, abs=0.005
    )


# --- what holds it ------------------------------------------------------------------------------------


def test_points_are_held_tied_and_follow(part):
    part.parameter("reach", "50 mm", L="80 mm")
    part.datum_offset(plane="right", distance="reach", name="Wall")
    path = part.lead([(0, 0, 0), (40, 2, 1), (45, 30, 5)], "Way", bend="5 mm")
    assert path.led.freedoms == 9
    path.hold("meets", 0, to="origin")
    path.hold("along_x", 0, 1)
    path.hold("in_plane", 1, to="Wall")
    path.hold("apart", 1, 2, value="30 mm")
    path.hold("corner", 0, 1, 2, value="120 deg")
    path.hold("level_z", 1, 2)
    assert path.led.freedoms == 0
    assert path.point(1) == pytest.approx((50, 0, 0))
    x, y, z = path.point(2)
    assert (x, y, z) == pytest.approx(
        (50 + 30 * math.cos(math.radians(60)), 30 * math.sin(math.radians(60)), 0), abs=1e-8
    )
    part.set("reach", "70 mm") if hasattr(part, "set") else part.opened.set("Guard.reach", "70 mm")
    assert path.point(1) == pytest.approx((70, 0, 0))


def test_rules_that_disagree_are_named_and_not_stored(part):
    path = part.lead([(0, 0, 0), (40, 0, 0), (40, 30, 0)], "Way")
    path.hold("apart", 0, 1, value="40 mm")
    path.hold("apart", 1, 2, value="10 mm")
    with pytest.raises(UserFault, match="cannot all be true") as told:
        path.hold("apart", 0, 2, value="60 mm")
    assert told.value.what.count("a length") == 3 and len(path._own.rules) == 2


def test_a_half_is_mirrored_and_joined(part):
    path = part.lead([(0, -40, 0), (30, -40, 0), (30, 40, 0), (0, 40, 0)], "Half", bend="10 mm", mirror="right")
    assert path.led.closed and sum(1 for b in path.bends if b.point) == 4
    assert path.length == pytest.approx(2 * (60 + 80) - 8 * 10 + 20 * math.pi)
    ring = part.wire(make="Ring", path=path, diameter="4 mm")
    assert ring.problem is None and part.body("Ring").centre == pytest.approx((0, 0, 0), abs=1e-6)


# --- what cannot be -----------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("points", "said", "told"),
    [
        (STAIR, {"bend": "20 mm"}, "too short for its bends"),
        (STAIR, {"bend": "4 mm", "tool": "5 mm"}, "the tool needs 5 mm"),
        ([(0, 0, 0), (10, 0, 0), (2, 0, 0)], {"bend": "1 mm"}, "turns back on itself"),
        ([(0, 0, 0), (0, 0, 0)], {}, "at one place"),
        ([(0, 0, 0), (10, 0, 0)], {"mirror": "front", "closed": True}, "does not end on the plane"),
        ([(0, 0, 0)], {}, "no two points"),
        (STAIR[:2], {"smooth": True}, "three points"),
    ],
)
def test_what_cannot_be_bent_is_named_and_what_was_there_stays(part, points, said, told):
    outline = part.sketch("Outline")
    outline.rectangle("10 mm", "10 mm")
    part.extrude(make="Block", regions=outline.region(), far="5 mm")
    path = part.lead(points, "Way", **said)
    assert told in path.problem.what and [b.name for b in part.bodies] == ["Block"]


def test_a_wire_thicker_than_its_bends_and_a_tube_without_room_are_refused(part):
    path = part.lead(STAIR, "Way", bend="2 mm")
    assert "more sharply" in part.wire(make="Thick", path=path, diameter="6 mm").problem.what
    assert "leaves no room" in part.wire(make="Tube", path=path, diameter="3 mm", wall="2 mm").problem.what


def test_rules_that_are_said_wrong_are_refused(part):
    path = part.lead(STAIR, "Way", bend="2 mm")
    with pytest.raises(UserFault, match="said of 3 points"):
        path.hold("corner", 0, 1, value="30 deg")
    with pytest.raises(UserFault, match="needs a value"):
        path.hold("apart", 0, 1)
    with pytest.raises(UserFault, match="ties to a plane"):
        path.hold("in_plane", 0)
