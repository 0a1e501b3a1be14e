"""Every kind of operation on bodies, from record to measured solid, against closed forms.

Formulas stand beside each check; Pappus' theorems for what is turned or swept.
"""

import math

import pytest
from tests.support.models import TOP
from tests.support.solids import FRONT, Bench, close

from architectonic.base.errors import UserFault
from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.models.operations import SENTENCES, sentence, sentence_of
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.bodies.combine import Combine
from architectonic.family.operations.bodies.move import Align, Mirror, Move, Scale, Shift, Turn
from architectonic.family.operations.bodies.split import Split
from architectonic.family.operations.bodies.take_out import TakeOut
from architectonic.family.operations.edges.chamfer import Chamfer
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.operations.solids.draft import Draft
from architectonic.family.operations.solids.extrude import Distance, Extrude, Symmetric, Through, ToFace, ToNext
from architectonic.family.operations.solids.loft import Loft
from architectonic.family.operations.solids.revolve import Revolve
from architectonic.family.operations.solids.shell import OwnWall, Shell
from architectonic.family.operations.solids.sweep import Sweep
from architectonic.family.operations.solids.thicken import Thicken
from architectonic.family.records import Body, Datum, Reference, Sketch, Witness
from architectonic.family.scopes import Scope
from architectonic.session.model import building

pytestmark = pytest.mark.kernel


@pytest.fixture
def bench(engine):
    return Bench(engine)


def test_a_groove_turned_about_an_axis(bench):
    """A square 4 x 4 at radius 20 turned all round and cut from the block's top: 16 * 2 pi * 22 (Pappus)."""
    region = bench.box("Groove", "4 mm", "4 mm", FRONT, (20, 8))
    centre = bench.plane("Middle", "25 mm", "front")
    bench.store(Revolve(id="r", name="Bush", does="make", acts_on=("b2",), regions=(region,), axis=Reference(item="z")), "Bush")  # fmt: skip
    assert centre and bench.volumes()["Bush"] == close(16 * math.tau * 22)
    half = Revolve(id="h", name="Half", does="make", acts_on=("b3",), regions=(region,), axis=Reference(item="z"),
                   angle=bench.e("90 deg", "angle"), symmetric=True)  # fmt: skip
    bench.store(half, "Half")
    evaluation = bench.settle()
    measured = evaluation.value(Node("measure", Scope(bench.key, "default"), "b3"))
    assert measured["volume_mm3"] == close(16 * math.pi / 2 * 22)
    assert measured["centre_mm"][1] == pytest.approx(0, abs=1e-6)  # symmetric about the front plane


def test_a_region_across_its_axis_is_told(bench):
    region = bench.box("Across", "40 mm", "4 mm", FRONT, (-10, 20))
    bench.store(Revolve(id="r", name="Bad", does="make", acts_on=("b2",), regions=(region,), axis=Reference(item="z")), "Bad")  # fmt: skip
    assert "across the axis" in bench.told("r").what and bench.volumes() == {"Block body": close(40000)}


def test_a_round_bar_swept_along_sketch_lines_in_any_order(bench):
    """r 3 along an L of 30 and 40 with a mitred corner: pi 9 * 70."""
    region = bench.circle("Bar", (100.0, 0.0), 3.0)
    sketch = Sketch(id="way", name="Way", plane=FRONT)
    bench.add(bench.key, sketch)
    d = Drawing(bench.family, bench.key, sketch)
    second = d.line((100.0, 30.0), (140.0, 30.0))
    first = d.line((100.0, 0.0), (100.0, 30.0))
    bench.family = edits.replace_operation(bench.family, bench.key, d.sketch)
    path = tuple(Reference(item="way", label=k) for k in (second, first))
    bench.store(Sweep(id="s", name="Rod", does="make", acts_on=("b2",), regions=(region,), path=path), "Rod")
    assert bench.volumes()["Rod"] == close(math.pi * 9 * 70)


def test_a_loft_between_two_planes(bench):
    """20 x 20 to 10 x 10 over 30: h / 3 (A1 + A2 + sqrt(A1 A2)) = 7000."""
    low = bench.box("Low", "20 mm", "20 mm", at=(100, 0))
    high = bench.box("High", "10 mm", "10 mm", bench.plane("Lid", "30 mm"), (105, 5))
    bench.store(Loft(id="l", name="Cone", does="make", acts_on=("b2",), regions=(low, high), straight=True), "Cone")
    assert bench.volumes()["Cone"] == close(7000)


def test_edges_chamfered_three_ways_and_rounded_with_two_radii(bench):
    """Triangular prisms off an edge of 10 mm."""
    bench.store(Chamfer(id="a", name="A", edges=(bench.upright(0),), distance=bench.e("3 mm")))
    bench.store(Chamfer(id="b", name="B", edges=(bench.upright(1),), distance=bench.e("3 mm"), second=bench.e("5 mm")))
    bench.store(Chamfer(id="c", name="C", edges=(bench.upright(2),), distance=bench.e("3 mm"), angle=bench.e("30 deg", "angle")))  # fmt: skip
    lost = 10 * (4.5 + 7.5 + 4.5 * math.tan(math.pi / 6))
    assert bench.volumes()["Block body"] == close(40000 - lost)
    bench.store(Fillet(id="d", name="D", edges=(bench.upright(3),), radius=bench.e("2 mm"), last=bench.e("4 mm")))
    rounded = (1 - math.pi / 4) * 10 / 3 * (4 + 8 + 16)
    assert 40000 - lost - bench.volumes()["Block body"] == pytest.approx(rounded, rel=0.03)


def test_a_tray_with_a_thick_bottom_and_a_wall_that_does_not_fit(bench):
    """Wall 2, bottom 4, open on top: 80 * 50 * 10 - 76 * 46 * 6."""
    shell = Shell(id="s", name="Tray", acts_on=("b1",), faces=(bench.face("end"),), thickness=bench.e("2 mm"),
                  own=(OwnWall(face=bench.face("start"), thickness=bench.e("4 mm")),))  # fmt: skip
    bench.store(shell)
    assert bench.volumes()["Block body"] == close(40000 - 76 * 46 * 6)
    bench.store(edits.replace(shell, own=(), thickness=bench.e("30 mm")))
    assert "does not fit" in bench.told("s").what and bench.volumes()["Block body"] == close(40000)


def test_walls_tilted_and_a_face_thickened(bench):
    """Both long sides lean in by 10 deg over 10 mm: two wedges of 80 * 10 * 10 tan(10) / 2; then a lid of 2 mm."""
    long = tuple(bench.face(f"side:{bench.sides[k]}") for k in (0, 2))
    bench.store(Draft(id="d", name="Lean", faces=long, plane=TOP, angle=bench.e("10 deg", "angle")))
    lean = 10 * math.tan(math.radians(10))
    assert bench.volumes()["Block body"] == close(40000 - 80 * 10 * lean)
    bench.store(Thicken(id="t", name="Lid", does="make", acts_on=("b2",), faces=(bench.face("end"),), thickness=bench.e("2 mm")), "Lid")  # fmt: skip
    assert bench.volumes()["Lid"] == close(80 * (50 - 2 * lean) * 2)


def test_a_body_split_moved_copied_scaled_united_and_taken_out(bench):
    bench.store(Split(id="s", name="Halve", acts_on=("b1",), by=bench.plane("Cut", "30 mm", "right")))
    assert bench.volumes() == {"Block body": close(50 * 50 * 10), "Block body 2": close(30 * 50 * 10)}
    document = bench.family.documents[bench.key]
    other = next(k for k, b in document.bodies.items() if b.name == "Block body 2")
    shift = Shift(x=bench.e("0 mm"), y=bench.e("0 mm"), z=bench.e("20 mm"))
    bench.store(Move(id="m", name="Lift", acts_on=(other,), by=shift))
    evaluation = bench.settle()
    assert evaluation.value(Node("measure", Scope(bench.key, "default"), other))["box_mm"][2] == pytest.approx(20)
    bench.store(Move(id="c", name="Double", acts_on=(other,), by=Scale(point=Reference(item="origin"), factor=bench.e("2", "number")), copies={"": ""}))  # fmt: skip
    assert bench.volumes()["Block body 3"] == close(8 * 30 * 50 * 10)
    bench.store(TakeOut(id="t", name="Without", acts_on=(other,)))
    assert "Block body 2" not in bench.volumes()
    bench.family = edits.set_switch(bench.family, bench.key, "t", False)
    assert "Block body 2" in bench.volumes()


@pytest.mark.parametrize(
    ("by", "centre"),
    [
        (lambda b: Turn(axis=Reference(item="z"), angle=b.e("90 deg", "angle")), (-25, 40, 5)),
        (lambda b: Mirror(plane=Reference(item="right")), (-40, 25, 5)),
        (lambda b: Align(start=Reference(item="top"), target=b.plane("Shelf", "12 mm")), (40, 25, 17)),
        (lambda b: Align(start=Reference(item="origin"), target=b.point_at("5 mm", "6 mm", "7 mm")), (45, 31, 12)),
    ],
)
def test_ways_to_move(bench, by, centre):
    bench.store(Move(id="m", name="M", acts_on=("b1",), by=by(bench)))
    measured = bench.settle().value(Node("measure", Scope(bench.key, "default"), "b1"))
    assert measured["centre_mm"] == pytest.approx(centre, abs=1e-6) and measured["volume_mm3"] == close(40000)


def _point_at(self, x, y, z):
    from architectonic.family.records import PointAt

    self.add(self.key, Datum(id="p", name="P", by=PointAt(x=self.e(x), y=self.e(y), z=self.e(z))))
    return Reference(item="p")


Bench.point_at = _point_at


@pytest.mark.parametrize(("keep", "left"), [(False, 1), (True, 2)])
def test_a_pin_cut_from_a_block_with_clearance(bench, keep, left):
    """A pin of r 4 through 10 mm, grown by 0.5: the block loses pi 4.5^2 10."""
    region = bench.circle("Pin outline", (40.0, 25.0), 4.0)
    bench.store(Extrude(id="p", name="Pin", does="make", acts_on=("b2",), regions=(region,), far=Distance(value=bench.e("10 mm"))), "Pin")  # fmt: skip
    bench.store(Combine(id="c", name="Fit", does="subtract", acts_on=("b1",), tools=("b2",), keep=keep, clearance=bench.e("0.5 mm")))  # fmt: skip
    found = bench.volumes()
    assert found["Block body"] == close(40000 - math.pi * 4.5**2 * 10) and len(found) == left


def test_a_backdrop_is_never_acted_on(bench):
    document = bench.family.documents[bench.key]
    body = edits.replace(document.bodies["b1"], backdrop_only=True)
    bench.family = edits.put(bench.family, edits.replace(document, bodies={"b1": body}))
    bench.store(Shell(id="s", name="Tray", acts_on=("b1",), faces=(), thickness=bench.e("2 mm")))
    assert "backdrop" in bench.told("s").what


def test_ends_through_all_to_the_next_to_a_point_and_to_a_curved_face(bench):
    """A hole of r 3 through a block; a rib up to the underside of a shelf; a peg up to a cylinder."""
    hole = bench.circle("Hole", (10.0, 10.0), 3.0, bench.plane("Above", "25 mm"))
    bench.store(Extrude(id="h", name="Hole through", does="cut", acts_on=("b1",), regions=(hole,), far=Through(), flip=True))  # fmt: skip
    drilled = 40000 - math.pi * 9 * 10
    assert bench.volumes()["Block body"] == close(drilled)
    # to the next: from above down onto the block's top, 15 mm away
    peg = bench.box("Peg outline", "4 mm", "4 mm", Reference(item="Above"), (40, 20))
    bench.store(Extrude(id="n", name="Peg", does="add", acts_on=("b1",), regions=(peg,), far=ToNext(), flip=True))
    assert bench.volumes()["Block body"] == close(drilled + 16 * 15)
    point = bench.point_at("0 mm", "0 mm", "31 mm")
    bench.store(Extrude(id="t", name="Tall", does="make", acts_on=("b2",), regions=(peg,), far=ToFace(target=point)), "Tall")  # fmt: skip
    assert bench.volumes()["Tall"] == close(16 * 6)


def test_an_end_on_a_cylinder(bench):
    """A square bar 4 x 4 that starts on the axis of a rod of r 10 and ends on its side.

    The bar's length over y is sqrt(100 - y^2): its volume is 4 times the integral of that from -2 to 2.
    """
    rod = bench.circle("Rod outline", (0.0, 0.0), 10.0)
    bench.store(Extrude(id="rod", name="Rod", does="make", acts_on=("b2",), regions=(rod,), far=Distance(value=bench.e("60 mm"))), "Rod")  # fmt: skip
    (curve,) = edits.operation(bench.family, bench.key, "Rod outline").curves
    bar = bench.box("Bar outline", "4 mm", "4 mm", Reference(item="right"), (-2, 20))
    side = Reference(item="b2", stage="here", label=f"rod:side:{curve}", witness=Witness(kind="cylinder"))
    bench.store(Extrude(id="bar", name="Bar", does="make", acts_on=("b3",), regions=(bar,), far=ToFace(target=side)), "Bar")  # fmt: skip
    area = 2 * (math.sqrt(96) + 50 * math.asin(0.2))  # integral of sqrt(100 - y^2) from -2 to 2
    assert bench.told("bar") is None
    assert bench.volumes()["Bar"] == close(4 * area)


def test_a_planar_face_is_pushed_and_its_sides_are_named_by_its_edges(bench):
    bench.store(Extrude(id="f", name="Step", does="add", acts_on=("b1",), regions=(bench.face("end", kind="plane"),), far=Distance(value=bench.e("5 mm"))))  # fmt: skip
    assert bench.volumes()["Block body"] == close(80 * 50 * 15)
    side = Extrude(id="g", name="Arm", does="make", acts_on=("b2",), regions=(bench.face(f"side:{bench.sides[1]}"),),
                   far=Distance(value=bench.e("5 mm")), near=Symmetric())  # fmt: skip
    bench.store(side, "Arm")
    assert bench.volumes()["Arm"] == close(50 * 15 * 5)


def test_regions_of_two_sketches_and_sides_that_lean_in(bench):
    """Two bosses of one operation from two planes; a tapered one loses what a frustum loses."""
    low = bench.box("Low", "10 mm", "10 mm", at=(100, 0))
    high = bench.box("High", "10 mm", "10 mm", bench.plane("Up", "30 mm"), (200, 0))
    bench.store(Extrude(id="two", name="Two", does="make", acts_on=("b2",), regions=(low, high), far=Distance(value=bench.e("5 mm"))), "Two")  # fmt: skip
    assert bench.volumes()["Two"] == close(2 * 500)
    leaning = Extrude(id="lean", name="Lean", does="make", acts_on=("b3",), regions=(low,), far=Distance(value=bench.e("20 mm")),
                      draft=bench.e("5 deg", "angle"))  # fmt: skip
    bench.store(leaning, "Lean")
    top = 10 - 2 * 20 * math.tan(math.radians(5))
    assert bench.volumes()["Lean"] == close(20 / 3 * (100 + top**2 + 10 * top))


def test_every_kind_has_a_sentence_and_begins_with_one(bench):
    document = bench.family.documents[bench.key]
    with pytest.raises(UserFault, match="no move to take back"):
        building.new("back", document, {})
    bench.store(
        Move(id="m", name="Aside", acts_on=("b1",), by=Shift(x=bench.e("5 mm"), y=bench.e("0 mm"), z=bench.e("0 mm")))
    )
    document = bench.family.documents[bench.key]
    bench.family = edits.add_body(bench.family, bench.key, "b9", Body(name="Other"))
    for kind in ("pattern_points", "bodies_points"):
        with pytest.raises(UserFault, match="no sketch with points"):
            building.new(kind, document, {})
    for kind, (declared, spoken) in SENTENCES.items():
        if kind in ("pattern_points", "bodies_points"):
            continue
        made = building.new(kind, bench.family.documents[bench.key], {})
        assert isinstance(made, declared.record) and sentence_of(made) is spoken
        assert sentence(bench.family, document, made).startswith(f"{made.name}: ")
