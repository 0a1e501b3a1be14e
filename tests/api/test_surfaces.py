"""Surfaces from Python: a master that drives parts, what is asked about when it changes, and what closes."""

import math

import pytest

import architectonic as a
from architectonic.base.errors import UserFault

pytestmark = pytest.mark.kernel
R = 50.0


@pytest.fixture
def family(store):
    with a.new("Styled", sizes=("S", "L"), store=store) as opened:
        table = opened.table("Sizes")
        table.parameter("height", "30 mm")
        yield opened


@pytest.fixture
def master(family):
    """A hemisphere, and a sheet through it at a height."""
    made = family.master("Form")
    profile = made.sketch("Profile", on="front")
    profile.arc((0, 0), (R, 0), (0, R))
    made.revolve_surface(curves=profile.curves[0], axis="z", name="Envelope")
    line = made.sketch("Line", on="front")
    line.line((-70, 30), (70, 30))
    made.datum_offset(plane="top", distance="Sizes.height", name="Level")
    across = made.sketch("Across", on="Level")
    across.line((-70, -70), (70, -70))
    made.extrude_surface(curves=across.curves[0], length="140 mm", along="y", name="Parting")
    return made


def capped(family, master, name="Cap", **more):
    part = family.part(name)
    bodies = part.bring_in(master, "Envelope", "Parting")
    part.trim(bodies=bodies, pieces=lambda p: p.inner, **more)
    return part


def cap(height):
    low = R - height
    return math.pi * low * low * (3 * R - low) / 3


def test_a_part_is_cut_and_closed_from_a_master_and_follows_it(family, master):
    """Spherical cap (check-values 11); a hollow one by the same formula twice."""
    part = capped(family, master)
    joined = part.join(bodies=["Envelope", "Parting"], close=True)
    assert joined.problem is None and [b.name for b in part.bodies] == ["Envelope"]
    assert part.body("Envelope").volume == pytest.approx(cap(30), rel=1e-9)
    family.set("Sizes.height", "40 mm")
    assert part.body("Envelope").volume == pytest.approx(cap(40), rel=1e-9)
    shelled = part.shell(bodies="Envelope", thickness="2 mm")
    assert shelled.problem is None
    inner = math.pi * (R - 2 - 42) ** 2 * (3 * (R - 2) - (R - 2 - 42)) / 3
    assert part.body("Envelope").volume == pytest.approx(cap(40) - inner, rel=1e-6)


def test_a_surface_is_thickened_whole_and_used_up(family, master):
    part = capped(family, master)
    part.thicken(make="Shell", faces=part.body("Envelope"), thickness="2 mm")
    left = {b.name: b for b in part.bodies}
    assert set(left) == {"Parting", "Shell"}
    assert left["Shell"].volume == pytest.approx(2 * math.pi / 3 * ((R + 2) ** 3 - R**3) * 20 / R, rel=1e-6)


def test_surfaces_weigh_nothing_and_are_told_as_such(family, master):
    entry = family.report("Form", size="S")["documents"]["Form"]
    bodies = {b["name"]: b for b in entry["configurations"]["S"]["bodies"]}
    assert entry["kind"] == "master" and {b["kind"] for b in bodies.values()} == {"surface"}
    assert bodies["Envelope"]["volume_mm3"] == 0 and bodies["Envelope"]["area_mm2"] == pytest.approx(
        2 * math.pi * R * R
    )


def test_solids_are_not_cut_by_what_is_meant_for_surfaces_nor_the_other_way(family, master):
    part = capped(family, master)
    hole = part.shell(bodies="Envelope", thickness="2 mm")
    assert hole.problem.code == "body.surface" and "thicken it" in hole.problem.mend
    block = part.sketch("Outline")
    block.rectangle("10 mm", "10 mm")
    part.extrude(make="Block", regions=block.region(), far="10 mm")
    wrong = part.join(bodies=["Parting", "Block"])
    assert wrong.problem.code == "body.solid"


def test_a_piece_that_comes_is_asked_about_and_one_that_goes_is_reported(family, master):
    """The sheet gets a second crossing: what it cuts off is new; nothing is kept or dropped in silence."""
    part = capped(family, master)
    trim = part.operation("Trim")
    assert trim.problem is None
    family.set("Sizes.height", "49 mm")
    assert trim.problem is None  # it still is the piece within
    family.set("Sizes.height", "55 mm")
    assert trim.problem.code == "trim.misses" and [b.name for b in part.bodies] == ["Envelope", "Parting"]
    family.set("Sizes.height", "30 mm")
    assert trim.problem is None


def test_a_wall_through_both_makes_new_pieces_that_wait_for_a_choice(family, master):
    part = family.part("Parted")
    second = master.sketch("Second", on="right")
    second.line((-30, 80), (-30, -10))
    master.extrude_surface(curves=second.curves[0], length="140 mm", symmetric=True, name="Wall")
    bodies = part.bring_in(master, "Envelope", "Parting", "Wall")
    part.trim(bodies=bodies[:2], pieces=lambda p: p.inner)
    trim = part.operation("Trim")
    assert trim.problem is None

    def with_wall(f):
        from architectonic.family import edits

        record = next(o for o in edits.model(f, part.id).build if o.name == "Trim")
        return edits.replace_operation(f, part.id, edits.replace(record, tools=(bodies[2].id,)))

    family.edit("cut by the wall too", with_wall)
    assert trim.problem.code == "trim.undecided" and trim.problem.severity == "missing"
    assert "8 pieces are new" in trim.problem.what or "pieces are new" in trim.problem.what
    assert family.check()["attention"]
    family.undo()
    assert trim.problem is None


def test_what_does_not_close_lights_its_edges(family, master):
    part = capped(family, master)
    joined = part.join(bodies=["Envelope"], close=True)
    assert "1 edge is free" in joined.problem.what and joined.problem.at


def test_a_piece_by_a_plane_and_a_surface_that_only_cuts(family, master):
    part = family.part("Half")
    envelope, parting = part.bring_in(master, "Envelope", "Parting")
    part.trim(bodies=[envelope], tools=[parting], by=["right"], pieces=lambda p: p.at[2] > 30 and p.before("right"))
    assert part.operation("Trim").problem is None
    assert part.body("Envelope").area == pytest.approx(math.pi * R * 20, rel=1e-9)
    assert part.body("Parting").area == pytest.approx(140 * 140)


def test_a_split_by_a_surface_and_an_offset_of_a_face(family, master):
    part = capped(family, master)
    part.join(bodies=["Envelope", "Parting"], close=True, name="Closed")
    made = part.offset(faces=part.operation("Closed").bodies[0].face(kind="sphere"), distance="3 mm", name="Outer")
    assert made.problem is None
    ratio = ((R + 3) / R) ** 2
    assert part.body("Outer").area == pytest.approx(2 * math.pi * R * 20 * ratio, rel=1e-6)


def test_a_solid_is_split_by_a_surface(family, master):
    """A ball of R 40 by the sheet at 30: a cap of height 10, and the rest (check-values 11)."""
    part = family.part("Ball")
    (sheet,) = part.bring_in(master, "Parting")
    half = part.sketch("Half", on="front")
    half.arc((0, 0), (0, -40), (0, 40))
    half.line((0, 40), (0, -40))
    part.revolve(make="Ball", regions=half.region(), axis="z")
    split = part.split(bodies=["Ball"], by=sheet)
    assert split.problem is None
    cap = math.pi * 100 * (3 * 40 - 10) / 3
    volumes = sorted(b.volume for b in part.bodies if b.volume)
    assert volumes == pytest.approx([cap, 4 / 3 * math.pi * 40**3 - cap], rel=1e-9)


def test_what_a_call_says_wrong_is_refused_there(family, master):
    with pytest.raises(UserFault, match="no blank"):
        master.revolve_surface(curve="x")
    with pytest.raises(UserFault, match="needs curves"):
        master.extrude_surface(length="3 mm")


def test_a_loft_goes_on_from_an_edge_and_says_what_it_cannot_do(family):
    """Smoothly from the edge of a wall to a curve above it, along it where both are alike; the edge is known by its name."""
    form = family.master("Wall form")
    low = form.sketch("Low", on="top")
    low.arc((0, 0), (30, 0), (0, 30))
    wall = form.extrude_surface(curves=low.curves[0], length="10 mm", name="Wall")
    form.datum_offset(plane="top", distance="Sizes.height", name="High level")
    high = form.sketch("High", on="High level")
    high.arc((0, 0), (30, 0), (0, 30))
    edge = next(e for e in form.body("Wall").edges() if f"{wall.id}:end" in e.label)
    led = form.loft_surface(curves=[edge, high.curves[0]], begins="smooth", ends="square", name="Led")
    assert led.problem is None
    assert form.body("Led").area == pytest.approx(math.pi / 2 * 30 * 20, rel=1e-3)
    family.set("Sizes.height", "40 mm")
    assert form.body("Led").area == pytest.approx(math.pi / 2 * 30 * 30, rel=1e-3)
    alone = form.loft_surface(curves=[low.curves[0], high.curves[0]], begins="smooth", name="Alone")
    assert alone.problem.code == "loft.no_face" and "square" in alone.problem.mend
    both = form.loft_surface(curves=[low.curves[0], high.curves[0]], straight=True, ends="square", name="Both")
    assert both.problem.code == "loft.both"


def test_a_surface_is_extended_up_to_a_plane_that_moves_and_to_a_face(family):
    form = family.master("Wall form")
    low = form.sketch("Low", on="top")
    low.arc((0, 0), (30, 0), (0, 30))
    wall = form.extrude_surface(curves=low.curves[0], length="10 mm", name="Wall")
    form.datum_offset(plane="top", distance="Sizes.height", name="High level")
    edge = next(e for e in form.body("Wall").edges() if f"{wall.id}:end" in e.label)
    longer = form.extend_to(edges=[edge], target="High level", name="Up")
    assert longer.problem is None
    assert form.body("Wall").area == pytest.approx(math.pi / 2 * 30 * 30, rel=1e-9)
    family.set("Sizes.height", "44 mm")
    assert form.body("Wall").area == pytest.approx(math.pi / 2 * 30 * 44, rel=1e-9)
    family.set("Sizes.height", "-5 mm")
    assert longer.problem.code == "extend.refused" and "does not meet" in longer.problem.what
    by = form.extend(edges=[edge], length="4 mm", name="By")
    family.set("Sizes.height", "20 mm")
    assert by.problem is not None  # the edge that it went on from is gone: it lies on the plane now


def test_a_trimmed_surface_is_made_whole_again(family, master):
    part = family.part("Whole")
    bodies = part.bring_in(master, "Envelope", "Parting")
    before = part.body("Parting").area
    part.trim(bodies=bodies[1], tools=bodies[0], pieces=lambda p: not p.inner)
    assert part.body("Parting").area < before
    whole = part.untrim(bodies="Parting")
    assert whole.problem is None and part.body("Parting").area == pytest.approx(before, rel=1e-9)


def test_a_face_takes_the_shape_of_a_surface_of_the_master(family, master):
    """A bar whose end is set into the sphere: its length by where the sphere is, to the volume of revolution under it."""
    part = family.part("Bar")
    part.bring_in(master, "Envelope")
    ring = part.sketch("Ring")
    ring.circle(radius="10 mm")
    part.extrude(make="Bar", regions=ring.region(), far="5 mm")
    top = next(f for f in part.body("Bar").faces() if f.label.endswith(":end"))
    made = part.replace_face(face=top, by=part.body("Envelope"))
    assert made.problem is None
    under = 2 * math.pi / 3 * (R**3 - (R * R - 100) ** 1.5)  # r from 0 to 10 under sqrt(R^2 - r^2)
    assert part.body("Bar").volume == pytest.approx(under, rel=1e-9)
    part.take_out(bodies=["Envelope"])
    side = next(f for f in part.body("Bar").faces() if ":side:" in f.label)
    wrong = part.replace_face(face=side, by="top")
    assert "not flat" in wrong.problem.what
