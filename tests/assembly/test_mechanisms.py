"""Bodies in space beside textbook mechanisms: mobility, positions over a full turn, branches, conflicts, redundancy."""

import math
from typing import get_args

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from architectonic.assembly.entities import GROUND, KINDS, Bond, Coupled, Kind, Mount, RigidBody
from architectonic.assembly.freedoms import freedoms, grips, mobility
from architectonic.assembly.reached import reach
from architectonic.assembly.slack import slack
from architectonic.assembly.solve import solve
from architectonic.base import rigid
from architectonic.base.rigid import IDENTITY
from architectonic.family.documents.assembly import TAKES, BondKind

Z = (0.0, 0.0, 1.0)


def at(x, y=0.0, z=0.0, angle=0.0):
    return rigid.times(rigid.shift(x, y, z), rigid.about_z(angle))


def pin(name, a, pa, b, pb, **more):
    """A revolute joint about z."""
    return Bond(name, "revolute", Mount(a, (*pa, 0.0)), Mount(b, (*pb, 0.0)), **more)


@pytest.mark.parametrize(
    ("kind", "left"),
    [
        ("fixed", 0),
        ("revolute", 1),
        ("prismatic", 1),
        ("screw", 1),
        ("cylindrical", 2),
        ("planar", 3),
        ("spherical", 3),
    ],
)
def test_freedoms_of_joints(kind, left):
    """The table of ISO 3952-1; the rank of the equations agrees with what is declared."""
    bond = Bond("j", kind, Mount(GROUND, (1.0, 2.0, 3.0)), Mount("b", (0.0, 0.0, 0.0)), lead=2.0)
    assert KINDS[kind].freedoms == left
    assert freedoms([RigidBody("b", at(1, 2, 3))], [bond]).left == left


def test_kinds_are_the_same_in_documents_edits_and_solver():
    assert set(KINDS) == set(TAKES) == set(get_args(BondKind)) == set(get_args(Kind))


def crank_rocker(crank, a=40.0, b=90.0, c=70.0, d=100.0, drawn=60.0):
    """A four-bar: ground d, crank a, coupler b, rocker c (mm); it starts at the drawn crank angle, deg."""
    t = math.radians(drawn)
    ax, ay = a * math.cos(t), a * math.sin(t)
    # where two circles meet: the rocker's end, above the line of centres
    f = math.hypot(d - ax, -ay)
    along = (b * b - c * c + f * f) / (2 * f)
    up = math.sqrt(b * b - along * along)
    ux, uy = (d - ax) / f, -ay / f
    bx, by = ax + along * ux - up * uy, ay + along * uy + up * ux
    bodies = [
        RigidBody("crank", at(0, 0, 0, t)),
        RigidBody("coupler", at(ax, ay, 0, math.atan2(by - ay, bx - ax))),
        RigidBody("rocker", at(d, 0, 0, math.atan2(by, bx - d))),
    ]
    turn = None if crank is None else math.radians(crank)
    bonds = [
        pin("o", GROUND, (0, 0), "crank", (0, 0), turn=turn),
        pin("a", "crank", (a, 0), "coupler", (0, 0)),
        pin("b", "coupler", (b, 0), "rocker", (c, 0)),
        pin("c", GROUND, (d, 0), "rocker", (0, 0)),
    ]
    return bodies, bonds


def test_a_four_bar_over_a_full_turn_is_where_two_circles_meet():
    """Closed form (intersection of two circles, on the side where it was drawn); the mechanism turns, in both senses."""
    for crank in [*range(0, 360, 15), -75, -170]:
        bodies, bonds = crank_rocker(float(crank))
        found = solve(bodies, bonds)
        assert found.conflict == ()
        t = math.radians(crank)
        a = np.array([40 * math.cos(t), 40 * math.sin(t)])
        b = rigid.moved(found.stands["coupler"], (90, 0, 0))
        away = np.array([100.0, 0.0]) - a
        f = float(np.hypot(*away))
        along = (90**2 - 70**2 + f * f) / (2 * f)
        up = math.sqrt(90**2 - along**2)
        ux, uy = away / f
        wanted = (a[0] + along * ux - up * uy, a[1] + along * uy + up * ux)
        assert b[:2] == pytest.approx(wanted, abs=1e-7) and b[2] == pytest.approx(0, abs=1e-9)


def test_nortons_four_bar():
    """Norton, Design of Machinery, table P4-1, row a: d 6, a 2, b 7, c 9, crank at 30 deg; open: 88.837241, 117.286068."""
    bodies, bonds = crank_rocker(30.0, 2.0, 7.0, 9.0, 6.0, drawn=50.0)
    found = solve(bodies, bonds)
    angles = {k: math.degrees(math.atan2(m[4], m[0])) for k, m in found.stands.items()}
    assert angles["coupler"] == pytest.approx(88.837241, abs=1e-5)
    assert angles["rocker"] == pytest.approx(117.286068, abs=1e-5)


def test_a_planar_loop_in_space_has_one_freedom_though_the_formula_says_none():
    """Kutzbach gives 6*3 - 4*5 = -2 for a four-bar of revolute joints in space; it moves, as all axes are parallel."""
    bodies, bonds = crank_rocker(None)
    told = freedoms(bodies, bonds)
    assert told.formula == mobility(bodies, bonds) == -2
    assert told.left == 1
    (motion,) = told.motions
    assert set(motion.moves) == {"crank", "coupler", "rocker"}
    assert told.redundant == ()  # the last joint closes the loop: two of its five equations say something new


@pytest.mark.parametrize("turn", [0.0, 30.0, 90.0, 145.0, 200.0, 330.0])
def test_a_slider_crank_is_where_the_textbook_has_it(turn):
    """x = r cos t + sqrt(l^2 - r^2 sin^2 t), with r = 30 and l = 80."""
    r, l, t0 = 30.0, 80.0, math.radians(40)
    ex, ey = r * math.cos(t0), r * math.sin(t0)
    x0 = ex + math.sqrt(l * l - ey * ey)
    bodies = [
        RigidBody("crank", at(0, 0, 0, t0)), RigidBody("rod", at(ex, ey, 0, math.atan2(-ey, x0 - ex))), RigidBody("slider", at(x0))
    ]  # fmt: skip
    along_x = {"axis": (1.0, 0.0, 0.0), "side": (0.0, 1.0, 0.0)}
    bonds = [
        pin("main", GROUND, (0, 0), "crank", (0, 0), turn=math.radians(turn)),
        pin("crankpin", "crank", (r, 0), "rod", (0, 0)),
        pin("gudgeon", "rod", (l, 0), "slider", (0, 0)),
        Bond("guide", "prismatic", Mount(GROUND, (0, 0, 0), **along_x), Mount("slider", (0, 0, 0), **along_x)),
    ]
    found = solve(bodies, bonds)
    t = math.radians(turn)
    assert found.conflict == ()
    assert found.stands["slider"][3] == pytest.approx(
        r * math.cos(t) + math.sqrt(l * l - (r * math.sin(t)) ** 2), abs=1e-7
    )


def test_a_scissor_lift_rises_as_its_arms_turn():
    """One stage of arms of length 100, pinned in the middle: height 100 sin t, base 100 cos t; mobility 1."""
    t0 = math.radians(30)
    w, h = 100 * math.cos(t0), 100 * math.sin(t0)
    bodies = [
        RigidBody("one", at(0, 0, 0, t0)),
        RigidBody("two", at(w, 0, 0, math.pi - t0)),
        RigidBody("top", at(0, h)),
    ]
    along_x = {"axis": (1.0, 0.0, 0.0), "side": (0.0, 0.0, 1.0)}
    bonds = [
        pin("foot", GROUND, (0, 0), "one", (0, 0)),
        Bond("slides", "offset", Mount(GROUND, (0, 0, 0), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0)), Mount("two", (0, 0, 0))),
        pin("middle", "one", (50, 0), "two", (50, 0)),
        pin("head", "top", (0, 0), "two", (100, 0)),
        Bond("runs", "offset", Mount("top", (0, 0, 0), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0)), Mount("one", (100.0, 0, 0))),
    ]
    assert freedoms(bodies, bonds).left == 1
    for degrees in (12, 45, 75):
        turn = math.radians(degrees)
        found = solve(bodies, [bonds[0]._replace(turn=turn), *bonds[1:]])
        assert found.conflict == () and found.stands["top"][7] == pytest.approx(100 * math.sin(turn), abs=1e-7)
        assert found.stands["two"][3] == pytest.approx(100 * math.cos(turn), abs=1e-7)
    assert along_x


def test_spatial_mobility_of_rssr_and_of_a_platform_on_six_struts():
    """Kutzbach: RSSR 6*3 - (5+3+3+5) = 2, one of them the idle spin of the coupler; 6-SPS platform 12, six of them idle."""
    rssr = [RigidBody("crank", at(0, 0)), RigidBody("coupler", at(20, 0, 5)), RigidBody("rocker", at(80, 10, 0))]
    x = {"axis": (1.0, 0.0, 0.0), "side": (0.0, 1.0, 0.0)}
    bonds = [
        pin("r1", GROUND, (0, 0), "crank", (0, 0)),
        Bond("s1", "spherical", Mount("crank", (20.0, 0, 5.0)), Mount("coupler", (0, 0, 0))),
        Bond("s2", "spherical", Mount("coupler", (70.0, 30.0, 10.0)), Mount("rocker", (10.0, 20.0, 15.0))),
        Bond("r2", "revolute", Mount(GROUND, (80.0, 10.0, 0), **x), Mount("rocker", (0, 0, 0), **x)),
    ]
    told = freedoms(rssr, bonds)
    assert told.formula == told.left == 2
    bodies, bonds = [RigidBody("plate", at(0, 0, 100))], []
    for k in range(6):
        low, high = 2 * math.pi * (k // 2) / 3 + 0.3 * (k % 2), 2 * math.pi * ((k + 1) // 2) / 3 - 0.2 * (k % 2)
        foot = np.array([80 * math.cos(low), 80 * math.sin(low), 0.0])
        head = np.array([50 * math.cos(high), 50 * math.sin(high), 100.0])
        along = (head - foot) / np.linalg.norm(head - foot)
        side = np.cross(along, [0.0, 0.0, 1.0])
        frame = {"axis": tuple(along), "side": tuple(side / np.linalg.norm(side))}
        bodies += [RigidBody(f"low{k}", at(*foot)), RigidBody(f"high{k}", at(*head))]
        bonds += [
            Bond(f"foot{k}", "spherical", Mount(GROUND, tuple(foot)), Mount(f"low{k}", (0, 0, 0))),
            Bond(f"strut{k}", "prismatic", Mount(f"low{k}", (0, 0, 0), **frame), Mount(f"high{k}", (0, 0, 0), **frame)),
            Bond(f"head{k}", "spherical", Mount(f"high{k}", (0, 0, 0)), Mount("plate", (head[0], head[1], 0.0))),
        ]
    told = freedoms(bodies, bonds)
    assert told.formula == told.left == 12


def test_a_screw_advances_by_its_lead():
    bolt = RigidBody("bolt", at(0, 0, 7))
    bond = Bond("thread", "screw", Mount(GROUND, (0, 0, 0)), Mount("bolt", (0, 0, 0)), offset=7.0, lead=1.25)
    assert freedoms([bolt], [bond]).left == 1
    for turns in (0.25, -0.4):
        found = solve([bolt], [bond._replace(turn=turns * math.tau)])
        m = found.stands["bolt"]
        assert m[11] == pytest.approx(7 + 1.25 * turns) and math.atan2(m[4], m[0]) == pytest.approx(turns * math.tau)


def test_rules_of_the_trade_place_a_block_and_name_the_smallest_set_that_disagrees():
    """On a table, against a wall, at an offset from another: held. A second offset disagrees with the first two alone."""
    up, wall, end = (
        Mount(GROUND, (0, 0, 0)),
        Mount(GROUND, (0, 0, 0), (1.0, 0, 0), (0, 1.0, 0)),
        Mount(GROUND, (0, 0, 0), (0, 1.0, 0), (0, 0, 1.0)),
    )
    block = RigidBody("block", at(30, 40, 50, 0.4))
    down = Mount("block", (0, 0, 0), (0.0, 0.0, -1.0))
    back, side = (
        Mount("block", (0, 0, 0), (-1.0, 0, 0), (0, 1.0, 0)),
        Mount("block", (0, 0, 0), (0, -1.0, 0), (0, 0, 1.0)),
    )
    rules = [
        Bond("lies on the table", "against", up, down, -1),
        Bond("against the wall", "against", wall, back, -1, offset=2.0),
        Bond("12 mm from the end", "offset", end, side, offset=12.0),
    ]
    found = solve([block], rules)
    assert found.conflict == () and found.stands["block"] == pytest.approx(at(2, 12, 0))
    held = RigidBody("block", found.stands["block"])
    assert freedoms([held], rules).left == 0
    again = Bond("parallel to the wall", "parallel", wall, back, -1)
    assert freedoms([held], [*rules, again]).redundant == ("parallel to the wall",)
    wrong = solve([block], [*rules, Bond("15 mm from the end", "offset", end, side, offset=15.0)])
    assert wrong.conflict == ("12 mm from the end", "15 mm from the end") and wrong.stands["block"] == block.stands


def test_what_faces_the_wrong_way_is_turned_over():
    """A pin that was dropped upside down still goes coaxial with its head up."""
    upside_down = rigid.times(at(5, 0, 9), (1.0, 0, 0, 0, 0, -1.0, 0, 0, 0, 0, -1.0, 0, 0, 0, 0, 1.0))
    found = solve(
        [RigidBody("pin", upside_down)],
        [Bond("in the hole", "coaxial", Mount(GROUND, (20.0, 10.0, 0)), Mount("pin", (0, 0, 0)))],
    )
    m = found.stands["pin"]
    assert (
        found.flipped == ("pin",)
        and rigid.turned(m, Z) == pytest.approx(Z, abs=1e-9)
        and (m[3], m[7]) == pytest.approx((20, 10))
    )


@settings(max_examples=40, deadline=None, derandomize=True)
@given(st.permutations(range(4)), st.floats(-170, 170))
def test_the_order_of_bonds_and_bodies_changes_nothing(order, crank):
    bodies, bonds = crank_rocker(crank)
    one = solve(bodies, bonds).stands
    other = solve(bodies[::-1], [bonds[k] for k in order]).stands
    assert all(other[k] == pytest.approx(one[k], abs=1e-8) for k in one)


@pytest.mark.no_cover  # many runs of what the others cover: tracing would make them three times as long
def test_small_changes_in_a_row_flip_nothing_and_come_back():
    """The rocker stays on its side while lengths and angle wander; the first values give the first positions again."""
    rng = np.random.default_rng(7)
    bodies, bonds = crank_rocker(60.0)
    first = solve(bodies, bonds).stands
    for _ in range(250):
        crank = float(rng.uniform(-180, 180))
        lengths = 1 + rng.uniform(-0.02, 0.02, 3)
        _, changed = crank_rocker(crank, 40 * lengths[0], 90 * lengths[1], 70 * lengths[2])
        found = solve(bodies, changed)
        assert found.conflict == ()
        a, b = (np.array(rigid.moved(found.stands["coupler"], p)) for p in ((0, 0, 0), (90 * lengths[1], 0, 0)))
        side = np.cross(np.array([100.0, 0, 0]) - a, b - a)[2]
        assert side > 0
    assert solve(bodies, bonds).stands == first
    assert all(first[b.id] == pytest.approx(b.stands, abs=1e-9) for b in bodies)


def test_bodies_without_bonds_stay_where_they_are():
    loose = RigidBody("loose", at(1, 2, 3, 0.3))
    assert solve([loose], []).stands == {"loose": loose.stands} and freedoms([loose], []).left == 6
    assert freedoms([RigidBody("set", IDENTITY, fixed=True)], []).left == 0


@pytest.mark.parametrize("ratio", [-20 / 30, 2.0, -1.0])
def test_coupled_joints_turn_in_their_ratio_and_leave_one_freedom(ratio):
    """A pair of gears: angles in the ratio of the teeth, against each other (Norton, Design of Machinery, gear trains)."""
    follows = (Coupled("turn", "A", "turn", ratio),)
    bodies = [RigidBody("first", at(0)), RigidBody("second", at(50))]
    free = [pin("A", GROUND, (0, 0), "first", (0, 0)), pin("B", GROUND, (50, 0), "second", (0, 0), coupled=follows)]
    assert freedoms(bodies, free).left == mobility(bodies, free) == 1
    for angle in np.linspace(-1.4, 1.4, 15):
        held = [free[0]._replace(turn=float(angle)), free[1]]
        found = solve(bodies, held)
        assert not found.conflict and reach(held[1], found.stands)[1] == pytest.approx(ratio * angle, abs=1e-9)


def test_a_rack_moves_as_far_as_its_pinion_rolls():
    """s = r t (Norton, rack and pinion); driven from the rack, the pinion turns by s / r."""
    radius = 12.0
    rack = Bond(
        "R",
        "prismatic",
        Mount(GROUND, (0, -radius, 0), (1, 0, 0), (0, 0, 1)),
        Mount("rack", (0, 0, 0), (1, 0, 0), (0, 0, 1)),
        coupled=(Coupled("slide", "P", "turn", radius),),
    )
    bodies = [RigidBody("pinion", at(0)), RigidBody("rack", at(0, -radius))]
    for drives in ("turn", "slide"):
        pinion = pin("P", GROUND, (0, 0), "pinion", (0, 0), **({"turn": 0.8} if drives == "turn" else {}))
        held = [pinion, rack._replace(slide=radius * 0.8) if drives == "slide" else rack]
        found = solve(bodies, held)
        assert reach(held[1], found.stands)[0] == pytest.approx(radius * 0.8, abs=1e-9)
        assert reach(held[0], found.stands)[1] == pytest.approx(0.8, abs=1e-9)


def test_coupled_joints_that_close_on_themselves_with_another_ratio_are_a_conflict():
    bodies = [RigidBody("first", at(0)), RigidBody("second", at(50))]
    held = [
        pin("A", GROUND, (0, 0), "first", (0, 0), turn=0.5),
        pin("B", GROUND, (50, 0), "second", (0, 0), turn=0.5, coupled=(Coupled("turn", "A", "turn", 2.0),)),
    ]
    assert set(solve(bodies, held).conflict) == {"A", "B"}


@pytest.mark.parametrize(("angle", "dead"), [(0.0, True), (math.pi, True), (1.0, False), (-2.0, False)])
def test_a_slider_cannot_start_its_crank_where_both_rods_are_in_line(angle, dead):
    """Dead centres of a slider-crank: crank and rod in line (Norton, toggle positions); the crank itself has none."""
    r, rod = 30.0, 80.0
    x = r * math.cos(angle) + math.sqrt(rod**2 - (r * math.sin(angle)) ** 2)
    lean = math.atan2(-r * math.sin(angle), x - r * math.cos(angle))
    bodies = [
        RigidBody("crank", at(0, angle=angle)),
        RigidBody("rod", at(r * math.cos(angle), r * math.sin(angle), angle=lean)),
        RigidBody("slider", at(x)),
    ]
    line = [Mount(k, (0, 0, 0), (1, 0, 0), (0, 0, 1)) for k in (GROUND, "slider")]
    bonds = [
        pin("A", GROUND, (0, 0), "crank", (0, 0)),
        pin("B", "crank", (r, 0), "rod", (0, 0)),
        pin("C", "rod", (rod, 0), "slider", (0, 0)),
        Bond("S", "prismatic", *line),
    ]
    found = grips(bodies, bonds)
    assert (found["S"] < 1e-6) == dead and found["A"] > 0.5


def test_play_of_driven_joints_in_a_row_adds_up_and_a_lever_makes_it_larger():
    """Two driven pins in a row: half the play of each (worst case). A lever on a pin with play that is held at another point:
    its end moves by the ratio of the arms (law of the lever)."""
    bodies = [RigidBody("first", at(0)), RigidBody("second", at(50))]
    row = [
        pin("A", GROUND, (0, 0), "first", (0, 0), turn=0.0),
        pin("B", "first", (50, 0), "second", (0, 0), turn=0.0),
    ]
    points = {"first": (20.0, 0.0, 0.0), "second": (90.0, 5.0, 0.0)}
    found = slack(bodies, row, {"A": 0.2, "B": 0.1}, points)
    assert found["first"] == pytest.approx(0.1) and found["second"] == pytest.approx(0.15)
    lever = [
        Bond("S", "spherical", Mount(GROUND, (30, 0, 0)), Mount("first", (30, 0, 0))),
        pin("A", GROUND, (0, 0), "first", (0, 0)),
    ]
    assert slack([bodies[0]], lever, {"A": 0.2}, {"first": (90.0, 0.0, 0.0)})["first"] == pytest.approx(
        0.1 * (90 - 30) / 30
    )
    assert slack([bodies[0]], lever, {}, {"first": (90.0, 0.0, 0.0)}) == {"first": 0.0}


def test_play_of_a_guide_is_across_it_and_of_a_face_square_to_it():
    body = RigidBody("b", at(0))
    guide = Bond("G", "prismatic", Mount(GROUND, (0, 0, 0), (1, 0, 0), (0, 0, 1)), Mount("b", (0, 0, 0), (1, 0, 0), (0, 0, 1)), slide=0.0)  # fmt: skip
    face = Bond("F", "planar", Mount(GROUND, (0, 0, 0)), Mount("b", (0, 0, 0)), turn=0.0)
    for bond in (guide, face):
        assert slack([body], [bond], {bond.id: 0.3}, {"b": (0.0, 0.0, 0.0)})["b"] == pytest.approx(0.15)
