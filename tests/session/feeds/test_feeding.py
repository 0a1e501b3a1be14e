"""Taking curves, regions and planes of one document into another, and pointing them elsewhere."""

import math

import pytest
from tests.support.fakes import FakeExecutor

from architectonic.base.errors import UserFault
from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.results import CurveResult, Frame, Node, PlacedCurve
from architectonic.describe.sketch.trace import project
from architectonic.family import edits
from architectonic.family.graph.static import refuse_circle
from architectonic.family.records import SELF, Circle, Reference, Sketch
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.targets import all_scopes, of_scope
from architectonic.session.feeds import refinding, traceable, tracing
from architectonic.session.feeds.feeding import Offer, point_at, take
from architectonic.session.feeds.held import held


class Pair:
    """A layout with two squares beside each other, and an empty part."""

    def __init__(self):
        family = edits.new_family("F")
        family, lay = edits.add_document(family, "layout", "Lay")
        family = edits.add_operation(family, lay, Sketch(id="sk", name="Plan", plane=Reference(item="top")))
        drawing = Drawing(family, lay, edits.operation(family, lay, "sk"))
        self.left = drawing.rectangle((0, 0), (10, 10))
        self.right = drawing.rectangle((20, 0), (30, 12))
        family = edits.replace_operation(family, lay, drawing.sketch)
        family, part = edits.add_document(family, "part", "Part")
        self.family = edits.add_operation(family, part, Sketch(id="own", name="Own", plane=Reference(item="top")))
        self.lay, self.part = Scope(lay, "default"), Scope(part, "default")

    def evaluate(self, family=None):
        family = family or self.family
        nodes = [n for at in all_scopes(family) for n in of_scope(family, at)]
        return Evaluator(FakeExecutor()).evaluate(family, nodes)

    def region(self, sides):
        solved = self.evaluate().value(Node("solve", self.lay, "sk"))
        return next(r.label for r in solved.regions if sides[0] in r.label)

    def take(self, offers, **more):
        return take(self.family, self.evaluate(), self.part, self.lay, offers, "Taken", **more)


@pytest.fixture
def pair():
    return Pair()


def test_curves_and_a_region_are_taken_and_follow_their_source(pair):
    family = pair.take([Offer("curve", "sk", pair.left[0]), Offer("region", "sk", pair.region(pair.left))])
    (feed,) = family.documents[pair.part.document].feeds.values()
    assert feed.name == "Taken" and [s.takes for s in feed.sockets.values()] == ["curve", "region"]
    curve, region = feed.sockets.values()
    # witnesses: the middle of the lower side and its length; the area of the square
    assert curve.source.witness.at == (5, 0, 0) and curve.source.witness.size == 10
    assert region.source.witness.size == pytest.approx(100)
    found = pair.evaluate(family)
    values = [found.value(Node("socket", pair.part, k)) for k in feed.sockets]
    assert values[0].curve.values == (0, 0, 10, 0)
    assert values[1].region.area == pytest.approx(100)


def test_a_curve_is_traced_into_a_sketch_where_it_stands(pair):
    family = pair.take([Offer("curve", "sk", pair.left[2])], sketch="own")
    sketch = edits.operation(family, pair.part.document, "own")
    (trace,) = sketch.curves.values()
    assert trace.drawn == (10, 10, 0, 10) and trace.helper
    solved = pair.evaluate(family).value(Node("solve", pair.part, "own"))
    (curve,) = solved.curves.values()
    assert curve.fixed and curve.values == (10, 10, 0, 10)


def test_a_document_traces_its_own_curves_without_a_feed(pair):
    family = edits.add_operation(
        pair.family, pair.lay.document, Sketch(id="s2", name="Two", plane=Reference(item="top"))
    )
    evaluation = pair.evaluate(family)
    family = take(family, evaluation, pair.lay, pair.lay, [Offer("curve", "sk", pair.left[0])], "x", sketch="s2")
    (trace,) = edits.operation(family, pair.lay.document, "s2").curves.values()
    assert trace.source.of == SELF and not family.documents[pair.lay.document].feeds
    refuse_circle(family)
    back = take(family, pair.evaluate(family), pair.lay, pair.lay, [Offer("curve", "s2", next(iter(edits.operation(family, pair.lay.document, "s2").curves)))], "y", sketch="sk")  # fmt: skip
    with pytest.raises(UserFault, match="circle"):
        refuse_circle(back)


@pytest.mark.parametrize(
    ("offers", "more", "told"),
    [
        ([], {}, "nothing is chosen"),
        ([Offer("curve", "sk", "c")], {"sketch": "gone"}, "not there any more"),
    ],
)
def test_refusals(pair, offers, more, told):
    with pytest.raises(UserFault, match=told):
        pair.take(offers, **more)


def test_a_taken_name_is_refused(pair):
    pair.family = pair.take([Offer("curve", "sk", pair.left[0])])
    with pytest.raises(UserFault, match="Taken"):
        pair.take([Offer("curve", "sk", pair.left[0])])


def test_a_circle_seen_edge_on_is_refused(pair):
    sketch = edits.operation(pair.family, pair.lay.document, "sk")
    ring = edits.replace(sketch, curves={**sketch.curves, "ring": Circle(centre=(50, 0), radius=4)})
    pair.family = edits.replace_operation(pair.family, pair.lay.document, ring)
    side = Sketch(id="front", name="Front", plane=Reference(item="front"))
    pair.family = edits.add_operation(pair.family, pair.part.document, side)
    with pytest.raises(UserFault, match="edge on"):
        pair.take([Offer("curve", "sk", "ring")], sketch="front")


def test_a_region_pointed_elsewhere_keeps_the_names_that_users_know(pair):
    """The right square takes the place of the left one: each side keeps the name of the old side at the same place."""
    family = pair.take([Offer("region", "sk", pair.region(pair.left))])
    (socket,) = next(iter(family.documents[pair.part.document].feeds.values())).sockets
    before = pair.evaluate(family).value(Node("socket", pair.part, socket))
    known = {p.curve for loop in before.region.loops for p in loop}
    family = point_at(
        family,
        pair.evaluate(family),
        pair.part.document,
        socket,
        pair.lay,
        Offer("region", "sk", pair.region(pair.right)),
    )
    after = pair.evaluate(family).value(Node("socket", pair.part, socket))
    assert after.region.area == pytest.approx(120)
    assert {p.curve for loop in after.region.loops for p in loop} == known
    bottom = next(p for p in after.region.loops[0] if p.curve == f"{socket}:{pair.left[0]}")
    assert math.isclose(bottom.start[1], 0) and math.isclose(bottom.end[1], 0)


def test_a_socket_takes_only_its_own_kind(pair):
    family = pair.take([Offer("curve", "sk", pair.left[0])])
    (socket,) = next(iter(family.documents[pair.part.document].feeds.values())).sockets
    with pytest.raises(UserFault, match="holds a curve"):
        point_at(family, pair.evaluate(family), pair.part.document, socket, pair.lay, Offer("plane", "sk"))
    moved = point_at(
        family, pair.evaluate(family), pair.part.document, socket, pair.lay, Offer("curve", "sk", pair.right[1])
    )
    value = pair.evaluate(moved).value(Node("socket", pair.part, socket))
    assert value.curve.values == (30, 0, 30, 12)


def test_a_circle_seen_at_an_angle_is_traced_as_an_ellipse():
    """Seen at an angle t a circle of radius r has half axes r and r cos t (descriptive geometry, common practice)."""
    turn = math.radians(35)
    tilted = Frame((3.0, 0.0, 0.0), (math.cos(turn), 0.0, math.sin(turn)), (-math.sin(turn), 0.0, math.cos(turn)))
    top = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    kind, v = project(PlacedCurve(tilted, CurveResult("circle", (10.0, 4.0, 5.0))), top)
    assert kind == "ellipse" and v[:2] == pytest.approx((3 + 10 * math.cos(turn), 4.0))
    halves = sorted([math.dist(v[:2], v[2:4]), math.dist(v[:2], v[4:6])])
    assert halves == pytest.approx([5 * math.cos(turn), 5.0], abs=1e-9)
    assert (v[2] - v[0]) * (v[5] - v[1]) - (v[3] - v[1]) * (v[4] - v[0]) > 0  # across lies to the left of along
    arc = CurveResult("arc", (0.0, 0.0, 5.0, 0.0, 0.0, 5.0, 5.0))
    kind, v = project(PlacedCurve(tilted, arc), top)
    assert kind == "elliptic_arc"
    assert v[6:] == pytest.approx((3 + 5 * math.cos(turn), 0.0, 3.0, 5.0), abs=1e-9)


def test_a_corner_is_taken_as_a_point_and_found_again_when_it_is_lost(pair):
    """What stands in the part is the place of the corner; it can be traced there."""
    pair.family = pair.take([Offer("curve", "sk", f"{pair.left[0]}.end")])
    (fed,) = held(pair.evaluate(), pair.part)
    assert fed.gives == "point" and fed.value.at == (10, 0, 0) and fed.name == "the end of line 1 of Plan, Taken"
    (offered,) = [t for t in traceable.offered(pair.family, pair.evaluate(), pair.part, "own", []) if t.item == fed.id]
    pair.family = tracing.trace(pair.family, pair.part, "own", [offered])
    (curve,) = pair.evaluate().value(Node("solve", pair.part, "own")).curves.values()
    assert curve.kind == "point" and curve.values == (10, 0)
    plan = edits.operation(pair.family, pair.lay.document, "sk")
    without = edits.replace(plan, curves={k: c for k, c in plan.curves.items() if k != pair.left[0]}, constraints=())
    pair.family = edits.replace_operation(pair.family, pair.lay.document, without)
    (lost,) = refinding.lost_by(pair.evaluate(), pair.part, fed.feed)
    assert lost.likely[0].words == "the start of line 1 of Plan"  # the next side begins where it stood
    assert refinding.words(lost.was, lost.takes) == "a point"
