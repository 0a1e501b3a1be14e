"""Ribs, faces rounded over, bridges, turns up to a face, guided lofts, paths in space, walls of their own.

Closed forms stand beside each check; Pappus' theorem for what is turned.
"""

import math

import pytest
from tests.support.models import TOP
from tests.support.solids import FRONT, Bench, close

from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.bodies.bridge import Bridge
from architectonic.family.operations.bodies.move import Move, Shift
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.operations.edges.round_over import RoundOver
from architectonic.family.operations.solids.extrude import Distance, Extrude
from architectonic.family.operations.solids.loft import Loft
from architectonic.family.operations.solids.revolve import Revolve
from architectonic.family.operations.solids.rib import Rib
from architectonic.family.operations.solids.shell import OwnWall, Shell
from architectonic.family.operations.solids.sweep import Sweep
from architectonic.family.records import Reference, Sketch
from architectonic.family.scopes import Scope

pytestmark = pytest.mark.kernel


@pytest.fixture
def bench(engine):
    return Bench(engine)


def drawn(bench, name, plane=TOP):
    sketch = Sketch(id=name, name=name, plane=plane)
    bench.add(bench.key, sketch)
    return Drawing(bench.family, bench.key, sketch)


def kept(bench, d):
    bench.family = edits.replace_operation(bench.family, bench.key, d.sketch)


def wall(bench, name="Wall", x=0.0, w="6 mm", h="50 mm", height="40 mm"):
    """An upright wall at the left end of the block, 6 thick and 40 high, added to it."""
    region = bench.box(f"{name} outline", w, h, at=(x, 0) if x else (0, 0))
    bench.store(
        Extrude(id=name, name=name, does="add", acts_on=("b1",), regions=(region,), far=Distance(value=bench.e(height)))
    )


def middle(bench):
    return bench.plane("Middle", "-25 mm", "front")


# --- ribs -----------------------------------------------------------------------------------------------


def corner_rib(bench, start, end, flip=False, thickness="4 mm"):
    """A line from the wall down to the block, in the middle of its width."""
    d = drawn(bench, "line", middle(bench))
    line = d.line(start, end)
    kept(bench, d)
    bench.store(
        Rib(
            id="rib",
            name="Rib",
            acts_on=("b1",),
            curves=(Reference(item="line", label=line),),
            thickness=bench.e(thickness),
            flip=flip,
        )
    )
    return line


def test_a_rib_fills_the_corner_under_its_line(bench):
    """The triangle between the wall at x = 6, the block's top at z = 10 and the line: 24 x 20 / 2, 4 thick."""
    wall(bench)
    before = 80 * 50 * 10 + 6 * 50 * 30
    assert bench.volumes()["Block body"] == close(before)
    line = corner_rib(bench, (6.0, 30.0), (30.0, 10.0))
    found = bench.volumes()["Block body"]
    if found != close(before + 24 * 20 / 2 * 4):  # the side is stored as it was drawn: the other one runs out
        rib = edits.operation(bench.family, bench.key, "rib")
        bench.store(edits.replace(rib, flip=True))
        found = bench.volumes()["Block body"]
    assert found == close(before + 24 * 20 / 2 * 4)
    faces = _faces(bench)
    assert f"rib:side:{line}" in faces and {"rib:start", "rib:end"} <= faces


def _faces(bench, body="b1"):
    node = Node("mesh", Scope(bench.key, "default"), body)
    return set(bench.engine.evaluator.evaluate(bench.family, [node]).value(node)["faces"])


def test_a_rib_is_carried_on_to_where_it_closes_and_told_when_it_does_not(bench):
    """The line is drawn short: carried on straight it meets wall and block as before. The other side is open."""
    wall(bench)
    before = 80 * 50 * 10 + 6 * 50 * 30
    corner_rib(bench, (12.0, 25.0), (24.0, 15.0))
    volumes = []
    for flip in (False, True):
        rib = edits.operation(bench.family, bench.key, "rib")
        bench.store(edits.replace(rib, flip=flip))
        told = bench.told("rib")
        volumes.append(bench.volumes()["Block body"])
        assert (told is not None and "runs out into the open" in told.what) == (volumes[-1] == close(before))
    assert sorted(volumes) == [close(before), close(before + 24 * 20 / 2 * 4)]


def test_curves_of_a_rib_that_cannot_be_one_are_told(bench):
    d = drawn(bench, "ring")
    circle = d.circle((20.0, 20.0), 5.0)
    kept(bench, d)
    bench.store(
        Rib(
            id="rib",
            name="Rib",
            acts_on=("b1",),
            curves=(Reference(item="ring", label=circle),),
            thickness=bench.e("4 mm"),
        )
    )
    assert "closed" in bench.told("rib").what


# --- rounded over ---------------------------------------------------------------------------------------


def test_a_narrow_face_becomes_a_half_round(bench):
    """The block's long side 80 x 10, rounded over: radius 5, so (10 x 5 - pi 25 / 2) x 80 goes."""
    side = bench.face(f"side:{bench.sides[0]}")
    bench.store(RoundOver(id="over", name="Over", faces=(side,)))
    assert bench.volumes()["Block body"] == close(40000 - (10 * 5 - math.pi * 25 / 2) * 80)
    assert any(f.startswith("over:blend:") for f in _faces(bench))


def test_between_sides_that_lean_the_round_touches_all_three(bench):
    """A ridge of trapezoid section, 20 wide below, 12 above, 10 high: r = w/2 . tan((90 deg + a)/2), a = atan(0.4).

    Of each corner between two tangents goes r^2 (tan(t/2) - t/2), t = 90 deg - a the angle that the round turns.
    """
    d = drawn(bench, "ridge", FRONT)
    corners = [(100.0, 0.0), (120.0, 0.0), (116.0, 10.0), (104.0, 10.0)]
    lines = [d.line(p, corners[(k + 1) % 4]) for k, p in enumerate(corners)]
    kept(bench, d)
    region = Reference(item="ridge", label=bench.only_region(bench.key, "ridge"))
    bench.store(
        Extrude(
            id="r",
            name="Ridge bar",
            does="make",
            acts_on=("b2",),
            regions=(region,),
            far=Distance(value=bench.e("30 mm")),
        ),
        "Ridge",
    )
    bench.store(
        RoundOver(id="over", name="Over", faces=(Reference(item="b2", stage="here", label=f"r:side:{lines[2]}"),))
    )
    turn = math.pi / 2 - math.atan(0.4)
    radius = 6 / math.tan(turn / 2)
    gone = 2 * radius**2 * (math.tan(turn / 2) - turn / 2)
    if radius * (1 + math.sin(math.atan(0.4))) < 0 or radius - radius * math.sin(math.atan(0.4)) > 10:
        pytest.fail("the example must leave its sides standing")
    assert bench.volumes()["Ridge"] == close((20 + 12) / 2 * 10 * 30 - gone * 30)


def test_where_no_round_fits_it_is_told(bench):
    bench.store(RoundOver(id="over", name="Over", faces=(bench.face("end"),)))  # 80 x 50, only 10 high: radius 25
    assert "not as high" in bench.told("over").what or "not square" in bench.told("over").what
    assert bench.volumes()["Block body"] == close(40000)


# --- bridges --------------------------------------------------------------------------------------------


def test_two_blocks_are_bridged_from_face_to_face(bench):
    """Two blocks 80 x 50 x 10 with a gap of 30: a bar of 50 x 10 x 30 between them, and one body is left."""
    bench.store(
        Move(
            id="far",
            name="Far",
            acts_on=("b1",),
            by=Shift(x=bench.e("110 mm"), y=bench.e("0 mm"), z=bench.e("0 mm")),
            copies={"b1": "b2"},
        )
    )
    right = bench.face(f"side:{bench.sides[1]}")
    left = Reference(item="b2", stage="here", label=f"far:copy:({bench.made}:side:{bench.sides[3]})")
    bench.store(Bridge(id="bridge", name="Bridge", faces=(right, left)))
    assert bench.volumes() == {"Block body": close(2 * 40000 + 50 * 10 * 30)}
    bench.store(Bridge(id="bridge", name="Bridge", faces=(right, right)))
    assert "one flat face of each" in bench.told("bridge").what


# --- up to a face, guides, space, walls -----------------------------------------------------------------


def test_a_turn_ends_on_a_plane_through_its_axis_and_on_one_beside_it(bench):
    """A square 4 x 4 at radius 20 from the front plane to the right plane: a quarter, 16 x 22 x pi / 2 (Pappus)."""
    region = bench.box("Profile", "4 mm", "4 mm", FRONT, (20, 30))
    turned = Revolve(
        id="r",
        name="Elbow",
        does="make",
        acts_on=("b2",),
        regions=(region,),
        axis=Reference(item="z"),
        target=Reference(item="right"),
    )
    bench.store(turned, "Elbow")
    quarter = close(16 * 22 * math.pi / 2)
    assert bench.volumes()["Elbow"] == quarter
    bench.store(edits.replace(turned, flip=True))
    assert bench.volumes()["Elbow"] == quarter  # the other way round to the same plane
    assert {"r:start", "r:end"} <= _faces(bench, "b2")
    plane = bench.plane("Beside", "10 mm", "right")
    bench.store(edits.replace(turned, target=plane))

    def upto(r):  # the angle at which a point at radius r reaches x = 10
        return math.acos(10 / r)

    strips = 4000
    exact = sum(
        4 * (20 + 4 * (k + 0.5) / strips) * upto(20 + 4 * (k + 0.5) / strips) * 4 / strips for k in range(strips)
    )
    assert bench.volumes()["Elbow"] == pytest.approx(exact, rel=1e-6)
    bench.store(edits.replace(turned, target=bench.plane("Away", "100 mm", "right")))
    assert "does not lie in its way" in bench.told("r").what


def test_a_loft_follows_its_guides(bench):
    """Squares 20 x 20 at 0 and 40 with four arcs as corner guides; a section at 20 has the width that the guides give."""
    low, high = bench.box("Low", "20 mm", "20 mm", at=(200, 0)), None
    top = bench.plane("Top end", "40 mm")
    high = bench.box("High", "20 mm", "20 mm", top, (200, 0))
    bench.store(Loft(id="l", name="Straight", does="make", acts_on=("b2",), regions=(low, high)), "Straight")
    assert bench.volumes()["Straight"] == close(20 * 20 * 40)
    guides = []
    for k, y in enumerate((0.0, 20.0)):
        d = drawn(bench, f"side {k}", bench.plane(f"Edge {k}", f"{-y:g} mm", "front"))
        for x, out in ((200.0, -6.0), (220.0, 6.0)):
            middle_x = x + out
            arc = (
                d.arc_through((x, 0.0), (middle_x, 20.0), (x, 40.0))
                if hasattr(d, "arc_through")
                else d.arc(*_arc(x, middle_x))
            )
            guides.append(Reference(item=f"side {k}", label=arc))
        kept(bench, d)
    bench.store(
        Loft(id="g", name="Bulged", does="make", acts_on=("b3",), regions=(low, high), guides=tuple(guides)), "Bulged"
    )
    radius = (20**2 + 6**2) / 12  # an arc of chord 40 and rise 6
    half = math.asin(20 / radius)
    segment = radius**2 * (half - math.sin(half) * math.cos(half))
    assert bench.told("g") is None, bench.told("g").what
    assert bench.volumes()["Bulged"] == pytest.approx(20 * 20 * 40 + 2 * segment * 20, rel=1e-5)
    bench.store(
        Loft(id="g", name="Bulged", does="make", acts_on=("b3",), regions=(low, high), guides=(Reference(item="x"),)),
        "Bulged",
    )
    assert bench.told("g") is not None


def _arc(x, middle):
    """Centre, start and end of the arc from (x, 0) over (middle, 20) to (x, 40), counter-clockwise."""
    rise = abs(middle - x)
    radius = (20**2 + rise**2) / (2 * rise)
    sign = 1 if middle > x else -1
    centre = (middle - sign * radius, 20.0)
    ends = ((x, 0.0), (x, 40.0)) if sign > 0 else ((x, 40.0), (x, 0.0))
    return centre, *ends


def test_a_bar_runs_along_an_edge_that_lies_in_no_plane(bench):
    """Where two cylinders cross there is such an edge; a swept circle has the volume pi r^2 times its length (Pappus)."""
    d = drawn(bench, "disc")
    d.circle((300.0, 0.0), 10.0)
    kept(bench, d)
    disc = Reference(item="disc", label=bench.only_region(bench.key, "disc"))
    bench.store(
        Extrude(
            id="c", name="Post", does="make", acts_on=("b2",), regions=(disc,), far=Distance(value=bench.e("40 mm"))
        ),
        "Post",
    )
    e = drawn(bench, "bore", FRONT)
    e.circle((300.0, 20.0), 6.0)
    kept(bench, e)
    bore = Reference(item="bore", label=bench.only_region(bench.key, "bore"))
    bench.store(
        Extrude(
            id="h",
            name="Bored",
            does="cut",
            acts_on=("b2",),
            regions=(bore,),
            far=Distance(value=bench.e("20 mm")),
            near=None,
        )
    )
    node = Node("mesh", Scope(bench.key, "default"), "b2")
    edges = bench.engine.evaluator.evaluate(bench.family, [node]).value(node)["edges"]
    rim = next(e for e in edges if "c:side" in e and "h:side" in e)
    at = Reference(item="b2", stage="here", label=rim)
    from architectonic.describe.references.measurement import passing

    length = Node("gauged", Scope(bench.key, "default"), "", passing("length", (edits.replace(at, stage="finished"),)))
    long = bench.engine.evaluator.evaluate(bench.family, [length]).value(length).value
    f = drawn(bench, "bead", bench.plane("Level", "20 mm"))
    f.circle(_start_of(bench, rim), 0.5)
    kept(bench, f)
    bead = Reference(item="bead", label=bench.only_region(bench.key, "bead"))
    bench.store(Sweep(id="s", name="Seal", does="make", acts_on=("b4",), regions=(bead,), path=(at,)), "Seal")
    told = bench.told("s")
    if told is None:
        assert bench.volumes()["Seal"] == pytest.approx(math.pi * 0.25 * long, rel=2e-3)
    else:
        pytest.fail(told.what)


def _start_of(bench, label):
    node = Node("mesh", Scope(bench.key, "default"), "b2")
    mesh = bench.engine.evaluator.evaluate(bench.family, [node]).value(node)
    import numpy as np

    lines = np.frombuffer(mesh["lines"], np.float32).reshape(-1, 3)
    starts = np.frombuffer(mesh["line_starts"], np.int32)
    k = mesh["edges"].index(label)
    run = lines[starts[k] : starts[k + 1]]
    p = run[0]  # where the closed edge begins; it stands upright there
    return float(p[0]), float(p[1])


def test_one_wall_of_a_hollow_body_is_thicker(bench):
    """80 x 50 x 10 open above, walls 2, one long side 5: (80 - 4)(50 - 7)(10 - 2) is empty."""
    thick = OwnWall(face=bench.face(f"side:{bench.sides[0]}"), thickness=bench.e("5 mm"))
    bench.store(
        Shell(
            id="s", name="Hollow", acts_on=("b1",), faces=(bench.face("end"),), thickness=bench.e("2 mm"), own=(thick,)
        )
    )
    assert bench.volumes()["Block body"] == close(40000 - 76 * 43 * 8)
    bench.store(Fillet(id="f", name="Round", edges=(bench.upright(0),), radius=bench.e("1 mm")))
    assert bench.told("f") is None
