"""Bodies that overlap, and bodies of one shape: found without being asked for, beside closed forms and symmetry."""

import math

import pytest
from tests.support.solids import Bench, close

from architectonic.check.impact import impact
from architectonic.check.report import report
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.bodies.move import Mirror, Move, Shift, Turn
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.operations.solids.draft import Draft
from architectonic.family.operations.solids.extrude import Distance, Extrude
from architectonic.family.records import Reference
from architectonic.family.scopes import Scope

pytestmark = pytest.mark.kernel


@pytest.fixture
def bench(engine):
    return Bench(engine)


def copied(bench, key, by):
    bench.store(Move(id=key, name=key, acts_on=("b1",), by=by, copies={"b1": f"b{key}"}))
    return f"b{key}"


def relations(bench):
    return bench.settle().value(Node("relations", Scope(bench.key, "default"), ""))


def shift(bench, x, y="0 mm"):
    return Shift(x=bench.e(x), y=bench.e(y), z=bench.e("0 mm"))


def test_overlap_is_what_both_fill_and_touching_is_none(bench):
    """Blocks 80 x 50 x 10, one moved by 70 and 30: 10 x 20 x 10 is filled twice; by 80 they only touch."""
    far = copied(bench, "far", shift(bench, "70 mm", "30 mm"))
    assert relations(bench).overlaps == (("b1", far, close(10 * 20 * 10)),)
    moved = edits.operation(bench.family, bench.key, "far")
    bench.family = edits.replace_operation(bench.family, bench.key, edits.replace(moved, by=shift(bench, "80 mm")))
    assert relations(bench).overlaps == ()


def test_a_backdrop_may_stand_anywhere(bench):
    far = copied(bench, "far", shift(bench, "70 mm"))
    body = bench.family.documents[bench.key].bodies[far]
    bench.family = edits.add_body(bench.family, bench.key, far, edits.replace(body, backdrop_only=True))
    assert relations(bench).overlaps == ()


def test_copies_are_known_wherever_they_stand_and_mirrored_ones_for_what_they_are(bench):
    """A block is its own mirror image; with two unequal rounds on one side it is chiral."""
    edges = tuple(bench.upright(k) for k in (0, 1))
    bench.store(Fillet(id="r0", name="Round", edges=edges[:1], radius=bench.e("4 mm")))
    bench.store(Fillet(id="r1", name="Larger round", edges=edges[1:], radius=bench.e("8 mm")))
    tilted = Draft(id="d", name="Tilt", faces=(bench.face(f"side:{bench.sides[3]}"),), plane=Reference(item="top"), angle=bench.e("5 deg", "angle"))  # fmt: skip
    bench.store(tilted)
    turned = copied(bench, "turned", Turn(axis=Reference(item="z"), angle=bench.e("33 deg", "angle")))
    over = copied(bench, "over", Mirror(plane=Reference(item="right")))
    assert set(relations(bench).alike) == {(turned, "b1", False), (over, "b1", True)}
    entry = {b["name"]: b for b in report(bench.settle())["documents"]["Part"]["configurations"]["default"]["bodies"]}
    names = {k: b.name for k, b in bench.family.documents[bench.key].bodies.items()}
    assert entry[names[turned]]["same_shape_as"] == names["b1"] and not entry[names[turned]]["mirrored"]
    assert entry[names[over]]["mirrored"] and entry[names["b1"]]["same_shape_as"] is None


def test_a_shape_that_is_its_own_mirror_image_is_the_same(bench):
    over = copied(bench, "over", Mirror(plane=Reference(item="right")))
    assert relations(bench).alike == ((over, "b1", False),)


def test_turned_bodies_with_all_marks_on_one_line(bench):
    """Cylinders: every centroid lies on the axis."""
    for k, (radius, height) in enumerate(((5.0, "20 mm"), (5.0, "20 mm"), (5.0, "21 mm"))):
        region = bench.circle(f"Disc {k}", (200.0 + 20 * k, 0.0), radius)
        bench.store(Extrude(id=f"x{k}", name=f"Pin {k}", does="make", acts_on=(f"p{k}",), regions=(region,), far=Distance(value=bench.e(height))), f"Pin {k}")  # fmt: skip
    assert relations(bench).alike == (("p1", "p0", False),)


def test_when_two_of_a_shape_part_ways_the_impact_says_so(bench):
    """A hole in one of two like blocks: no shape in common any more, and 4 x pi x 9 less in the other figures."""
    far = copied(bench, "far", shift(bench, "100 mm"))
    before = bench.settle()
    region = bench.circle("Bore", (40.0, 25.0), 3.0)
    bench.store(
        Extrude(
            id="h", name="Hole", does="cut", acts_on=("b1",), regions=(region,), far=Distance(value=bench.e("4 mm"))
        )
    )
    after = bench.settle()
    names = {k: b.name for k, b in bench.family.documents[bench.key].bodies.items()}
    told = {e["quantity"]: (e["before"], e["after"]) for e in impact(before, after)["changed"]}
    assert told[f"{names['b1']} and {names[far]}"] == ("the same shape", None)
    assert told[f"{names['b1']}: volume_mm3"][1] == close(40000 - 36 * math.pi)
