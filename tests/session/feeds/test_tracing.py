"""Geometry of one part traced into a sketch of another, through the real kernel: it follows, and says when it cannot."""

import math

import numpy as np
import pytest
from tests.support.models import TOP, Model

from architectonic.describe.results import Node, SketchResult
from architectonic.family import edits
from architectonic.family.operations.solids.extrude import Distance, Extrude
from architectonic.family.records import Body, Datum, OffsetPlane, Reference, Sketch
from architectonic.family.scopes import Scope
from architectonic.propagate.targets import Look, all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.session.feeds import traceable, tracing
from architectonic.session.feeds.tracing import Wish

pytestmark = pytest.mark.kernel


@pytest.fixture
def bench(engine):
    """A block 80 x 50 x 10 in one part, and an empty sketch on the top plane of another."""
    return Bench(engine)


class Bench:
    def __init__(self, engine):
        self.engine = engine
        self.model = Model()
        self.a, self.b = self.model.part("A"), self.model.part("B")
        self.block, self.sides = self.model.block(self.a)
        self.model.add(self.b, Sketch(id="s", name="Traced", plane=TOP))
        self.at, self.source = Scope(self.b, "default"), Scope(self.a, "default")

    @property
    def family(self):
        return self.model.family

    def evaluate(self):
        scopes = all_scopes(self.family)
        looks = tuple(Look(s) for s in scopes)
        return evaluate_scopes(self.engine.evaluator, self.family, scopes, looks)

    def offered(self, sketch="s"):
        return traceable.offered(self.family, self.evaluate(), self.at, sketch, [Look(self.source)])

    def trace(self, pick, sketch="s", **wish):
        things = [t for t in self.offered(sketch) if pick(t)]
        self.model.family = tracing.trace(self.family, self.at, sketch, things, Wish(**wish))
        return things

    def solved(self, sketch="s"):
        return self.evaluate().value(Node("solve", self.at, sketch))

    def problem(self, sketch="s"):
        return self.evaluate().outcomes[Node("solve", self.at, sketch)].problem

    def set(self, name, text):
        document = self.family.documents[self.a]
        sketch = next(o for o in document.build if isinstance(o, Sketch))
        item = next(c for c in sketch.constraints if c.name == name)
        self.model.family = edits.set_value(self.family, self.a, item.id, text)

    def drawn(self):
        """Make helper traces bound regions."""
        record = edits.operation(self.family, self.b, "s")
        curves = {k: edits.replace(c, helper=False) for k, c in record.curves.items()}
        self.model.family = edits.replace_operation(self.family, self.b, edits.replace(record, curves=curves))


def top_edges(bench):
    end = f"{bench.block}:end"
    return lambda t: t.takes == "edge" and end in t.label


def test_an_outline_of_another_part_is_traced_and_follows_it(bench):
    things = bench.trace(top_edges(bench))
    assert len(things) == 4 and all("edge of Block body" in t.words for t in things)
    (feed,) = bench.family.documents[bench.b].feeds.values()
    assert feed.state == "live" and {s.takes for s in feed.sockets.values()} == {"edge"}
    bench.drawn()
    (region,) = bench.solved().regions
    assert region.area == pytest.approx(80 * 50, abs=1e-9)
    bench.set("w", "90 mm")
    (region,) = bench.solved().regions
    assert region.area == pytest.approx(90 * 50, abs=1e-9)


def test_tracing_the_same_edge_again_needs_no_second_feed(bench):
    bench.trace(top_edges(bench))
    bench.trace(top_edges(bench))
    assert len(bench.family.documents[bench.b].feeds) == 1


@pytest.mark.parametrize(("side", "sign"), [("inside", -1), ("outside", 1)])
def test_an_outline_with_its_offset_in_one_gesture(bench, side, sign):
    """2 mm all round, to the inside and to the outside; corners stay corners."""
    bench.model.parameter(bench.b, "wall", "1.5 mm")
    bench.trace(top_edges(bench), offset="wall + 0.5 mm", side=side)
    (region,) = bench.solved().regions
    assert region.area == pytest.approx((80 + sign * 4) * (50 + sign * 4), abs=1e-6)
    bench.set("h", "60 mm")
    (region,) = bench.solved().regions
    assert region.area == pytest.approx((80 + sign * 4) * (60 + sign * 4), abs=1e-6)


def test_a_section_by_the_sketchs_plane(bench):
    """The front plane moved into the block cuts a rectangle of 80 x 10 out of it."""
    away = bench.model.text(bench.b, "-20 mm")
    bench.model.add(bench.b, Datum(id="d", name="D", by=OffsetPlane(plane=Reference(item="front"), distance=away)))
    bench.model.add(bench.b, Sketch(id="cut", name="Cut", plane=Reference(item="d")))
    edge = next(t for t in bench.offered("cut") if t.takes == "edge")
    bench.model.family = tracing.trace(bench.family, bench.at, "cut", [edge], Wish(how="section"))
    solved = bench.solved("cut")
    assert len(solved.curves) == 4 and solved.regions[0].area == pytest.approx(800, abs=1e-6)
    bench.set("h", "15 mm")  # the plane, at y = 20, leaves the block
    problem = bench.problem("cut")
    assert problem is not None and "does not cut" in problem.what and problem.mend


def test_own_curves_follow_nothing_and_need_no_feed(bench):
    bench.trace(top_edges(bench), own=True)
    assert not bench.family.documents[bench.b].feeds
    bench.drawn()
    bench.set("w", "90 mm")
    assert bench.solved().regions[0].area == pytest.approx(80 * 50, abs=1e-6)


def test_a_vertex_and_the_centre_of_a_hole(bench):
    """A round hole's axis is seen as a point; a vertex of the block as another."""
    m = bench.model
    m.add(bench.a, Sketch(id="hole", name="Hole outline", plane=TOP))
    from architectonic.describe.drawn.drawing import Drawing

    d = Drawing(m.family, bench.a, edits.operation(m.family, bench.a, "hole"))
    circle = d.circle((20.0, 30.0), 4.0)
    d.constrain("fix", f"{circle}.centre")
    m.family = edits.replace_operation(m.family, bench.a, d.sketch)
    label = m.only_region(bench.a, "hole")
    m.add(bench.a, Extrude(id="drill", name="Drill", does="cut", acts_on=("b1",), far=Distance(value=m.text(bench.a, "10 mm")),
                           regions=(Reference(item="hole", label=label),)))  # fmt: skip
    bench.trace(lambda t: t.takes == "axis")
    (point,) = bench.solved().curves.values()
    assert point.kind == "point" and point.values == pytest.approx((20, 30))
    bench.trace(lambda t: t.takes == "edge" and "drill" in t.label and ":end" in t.label)
    assert any(c.kind == "circle" and c.values == pytest.approx((20, 30, 4)) for c in bench.solved().curves.values())


def test_a_lost_edge_says_so_and_comes_back(bench):
    bench.trace(top_edges(bench))
    before = bench.family
    bench.model.family = edits.delete_item(bench.family, bench.a, bench.block)
    problem = bench.problem()
    assert problem is not None and "gone" in problem.what
    bench.model.family = before
    assert isinstance(bench.solved(), SketchResult)


def test_a_curve_that_crosses_the_plane_gives_a_point_and_keeps_to_its_side(bench):
    """A circle of radius 5 about (0, 10) in the front plane crosses z = 13 at x = -4 and 4."""
    m = bench.model
    m.add(bench.b, Sketch(id="side", name="Side", plane=Reference(item="front")), "s")
    from architectonic.describe.drawn.drawing import Drawing

    d = Drawing(m.family, bench.b, edits.operation(m.family, bench.b, "side"))
    circle = d.circle((0.0, 10.0), 5.0)
    radius = d.constrain("radius", circle, value="5 mm", name="r")
    d.constrain("fix", f"{circle}.centre")
    m.family = edits.replace_operation(m.family, bench.b, d.sketch)
    height = m.text(bench.b, "13 mm")
    m.add(bench.b, Datum(id="up", name="Up", by=OffsetPlane(plane=TOP, distance=height)), "s")
    changed = edits.operation(m.family, bench.b, "s")
    m.family = edits.replace_operation(m.family, bench.b, edits.replace(changed, plane=Reference(item="up")))
    thing = next(t for t in bench.offered() if t.item == "side" and t.label == circle)
    left = thing._replace(points=thing.points[thing.points[:, 0].argmin()].reshape(1, 2))
    m.family = tracing.trace(m.family, bench.at, "s", [left], Wish(how="crossing"))
    (point,) = bench.solved().curves.values()
    assert point.kind == "point" and point.values == pytest.approx((-4, 0), abs=1e-9)
    m.family = edits.set_value(m.family, bench.b, radius, "6 mm")
    (point,) = bench.solved().curves.values()
    assert point.values == pytest.approx((-math.sqrt(27), 0), abs=1e-9)


def test_a_spline_edge_is_exact_where_the_kernel_made_it_from_a_spline(bench):
    """An extruded spline's edge has the poles of the drawn curve: points along both agree."""
    m = bench.model
    from architectonic.describe.drawn.drawing import Drawing
    from architectonic.describe.drawn.readings import samples
    from architectonic.family.records import Line, Spline

    m.add(bench.a, Sketch(id="free", name="Free", plane=TOP))
    d = Drawing(m.family, bench.a, edits.operation(m.family, bench.a, "free"))
    curve = d.add(Spline(points=((100.0, 0.0), (110.0, 20.0), (130.0, 15.0), (140.0, 0.0))))
    line = d.add(Line(start=(140.0, 0.0), end=(100.0, 0.0)))
    d.constrain("coincident", f"{curve}.end", f"{line}.start")
    d.constrain("coincident", f"{line}.end", f"{curve}.start")
    m.family = edits.replace_operation(m.family, bench.a, d.sketch)
    regions = bench.evaluate().value(Node("solve", bench.source, "free")).regions
    m.add(bench.a, Extrude(id="wave", name="Wave", does="make", acts_on=("b2",), far=Distance(value=m.text(bench.a, "5 mm")),
                           regions=tuple(Reference(item="free", label=r.label) for r in regions)))  # fmt: skip
    m.family = edits.add_body(m.family, bench.a, "b2", Body(name="Wave body"))
    bench.trace(
        lambda t: t.item == "b2" and f"wave:side:{curve}" in t.label and "wave:start" in t.label and "@" not in t.label
    )
    traced = [c for c in bench.solved().curves.values() if c.kind == "controlled"]
    assert traced
    drawn = samples(bench.evaluate().value(Node("solve", bench.source, "free")).curves[curve])
    from architectonic.describe.drawn.readings import foot

    for p in drawn[::7]:
        assert min(math.dist(p, foot(c, p)) for c in traced) < 1e-6


def test_a_traced_outline_bounds_the_area_that_shapely_sums_over_its_facets(bench):
    """Oracle: shapely on the triangles of the picture, which the kernel facets on its own.

    A chord of the picture leaves its arc by at most a share of the body's size (kernel.mesh); area differs by at most
    that times the length of the outline.
    """
    from shapely import unary_union
    from shapely.geometry import Polygon

    from architectonic.describe.drawn.drawing import Drawing
    from architectonic.render.pictures import meshes_of

    m = bench.model
    m.add(bench.a, Sketch(id="free", name="Free", plane=TOP))
    d = Drawing(m.family, bench.a, edits.operation(m.family, bench.a, "free"))
    d.circle((130.0, 30.0), 25.0)
    d.ellipse((160.0, 30.0), (185.0, 40.0), (155.0, 45.0))
    m.family = edits.replace_operation(m.family, bench.a, d.sketch)
    regions = bench.evaluate().value(Node("solve", bench.source, "free")).regions
    assert len(regions) == 3
    m.add(bench.a, Extrude(id="blob", name="Blob", does="make", acts_on=("b2",), far=Distance(value=m.text(bench.a, "5 mm")),
                           regions=tuple(Reference(item="free", label=r.label) for r in regions[:1])))  # fmt: skip
    m.family = edits.add_body(m.family, bench.a, "b2", Body(name="Blob body"))
    bench.trace(lambda t: t.takes == "edge" and t.item == "b2" and "blob:start" in t.label)
    bench.drawn()
    (region,) = bench.solved().regions
    mesh = next(mesh for body, mesh, _ in meshes_of(bench.evaluate(), Look(bench.source)) if body[2] == "b2")
    flat = mesh.triangles[mesh.face == mesh.faces.index("blob:start")]
    outline = unary_union([Polygon(mesh.points[t][:, :2]) for t in flat])
    off = max(0.01, 0.0006 * float(np.linalg.norm(np.ptp(mesh.points, axis=0))))
    assert region.area == pytest.approx(outline.area, abs=off * outline.length)
    assert region.area == pytest.approx(regions[0].area, rel=1e-9)
