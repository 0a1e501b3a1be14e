"""Planes in space, and the branch that is read off a drawing."""

import math

import pytest
from tests.support.frames import frame_of

from architectonic.base.errors import UserFault
from architectonic.describe.drawn.drawing import Drawing, drawn_branch
from architectonic.describe.references.planes import STANDARD, cross, dot, in_space, on_plane, sketch_frame, y_axis
from architectonic.describe.results import Node
from architectonic.family import edits, names
from architectonic.family.records import Datum, LinePlane, OffsetPlane, Reference, Sketch, SquarePlane
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.ports import NoExecutor
from architectonic.sketch.solving.entities import Curve


@pytest.mark.parametrize(
    ("plane", "x", "y"),
    [("front", (1, 0, 0), (0, 0, 1)), ("top", (1, 0, 0), (0, 1, 0)), ("right", (0, 1, 0), (0, 0, 1))],
)
def test_standard_planes(plane, x, y):
    """z is up and the front view looks along +y: what is right and up on the screen is right and up on the plane."""
    frame = STANDARD[plane]
    assert frame.x == x and y_axis(frame) == y
    assert sketch_frame(frame.origin, frame.normal, "y" if plane == "right" else "x") == frame


@pytest.mark.parametrize("normal", [(0, 0, 1), (0.6, 0, 0.8), (0, -0.6, 0.8), (1, 0, 0), (-1, 0, 0), (0.48, 0.6, 0.64)])
@pytest.mark.parametrize("axis", ["x", "y"])
def test_a_sketch_frame_is_right_handed_with_its_origin_nearest_the_documents(normal, axis):
    frame = sketch_frame((3.0, 4.0, 5.0), normal, axis)
    assert dot(frame.x, frame.x) == pytest.approx(1) and dot(frame.x, frame.normal) == pytest.approx(0, abs=1e-9)
    assert dot(cross(frame.x, y_axis(frame)), frame.normal) == pytest.approx(1)
    height = dot((3.0, 4.0, 5.0), normal)
    assert frame.origin == pytest.approx(tuple(height * c for c in normal), abs=1e-8)
    for p in ((0.0, 0.0), (7.5, -2.25)):
        assert on_plane(frame, in_space(frame, p)) == pytest.approx(p, abs=1e-9)


@pytest.fixture
def layout():
    family = edits.new_family("Trial")
    family, key = edits.add_document(family, "layout", "L")
    family = edits.add_parameter(family, key, "h", "30 mm")
    return family, key


def with_line(family, key, end):
    sketch = Sketch(id="s", name="S", plane=Reference(item="front"))
    family = edits.add_operation(family, key, sketch)
    d = Drawing(family, key, sketch)
    line = d.line((0, 0), end)
    d.constrain("fix", line)
    return edits.replace_operation(family, key, d.sketch), line


def test_offset_planes_follow_their_parameter_and_stack(layout):
    family, key = layout
    text = names.bind_quantity(family, family.documents[key], "h / 2", "length", "mm")
    family = edits.add_operation(
        family, key, Datum(id="d1", name="A", by=OffsetPlane(plane=Reference(item="top"), distance=text))
    )
    family = edits.add_operation(
        family, key, Datum(id="d2", name="B", by=OffsetPlane(plane=Reference(item="d1"), distance=text))
    )
    assert frame_of(family, key, "d2").value.origin == (0, 0, 30)
    family = edits.set_value(family, key, family.documents[key].parameters[0].id, "50 mm")
    assert frame_of(family, key, "d2").value.origin == (0, 0, 50)


@pytest.mark.parametrize("degrees", [0, 30, 90, 180, -45])
def test_a_plane_through_a_line_is_turned_about_it(layout, degrees):
    """The line runs along x in the front plane, whose normal is -y: turned by a, the normal is (0, -cos a, -sin a)."""
    family, line = with_line(*layout, (40, 0))
    key = layout[1]
    angle = names.bind_quantity(family, family.documents[key], f"{degrees} deg", "angle", "deg")
    plane = LinePlane(line=Reference(item="s", label=line), angle=angle)
    frame = frame_of(edits.add_operation(family, key, Datum(id="d", name="D", by=plane)), key, "d").value
    a = math.radians(degrees)
    assert frame.normal == pytest.approx((0, -math.cos(a), -math.sin(a)), abs=1e-9) and frame.x == (1, 0, 0)


def test_a_plane_square_to_a_line(layout):
    family, line = with_line(*layout, (30, 40))
    key = layout[1]
    plane = SquarePlane(line=Reference(item="s", label=line))
    frame = frame_of(edits.add_operation(family, key, Datum(id="d", name="D", by=plane)), key, "d").value
    assert frame.normal == pytest.approx((0.6, 0, 0.8)) and frame.origin == (0, 0, 0)


def test_a_plane_through_a_lost_line_says_so(layout):
    family, _ = with_line(*layout, (30, 40))
    key = layout[1]
    plane = SquarePlane(line=Reference(item="s", label="gone"))
    outcome = frame_of(edits.add_operation(family, key, Datum(id="d", name="D", by=plane)), key, "d")
    assert outcome.value is None and outcome.problem.severity == "missing" and outcome.problem.where == "L / D"


A, B = Curve("a", "line", (0, 0, 10, 0)), Curve("b", "line", (0, 5, 10, 5))
BACK = Curve("b", "line", (10, 5, 0, 5))
UP, DOWN = Curve("b", "line", (0, 0, 1, 9)), Curve("b", "line", (0, 0, 1, -9))
LEFT, RIGHT = Curve("c", "circle", (5, 3, 2)), Curve("c", "circle", (5, -3, 2))
BIG, INNER, OUTER = Curve("c", "circle", (0, 0, 10)), Curve("d", "circle", (6, 0, 3)), Curve("d", "circle", (15, 0, 3))


@pytest.mark.parametrize(
    ("curves", "kind", "of", "branch"),
    [
        ([A, B], "parallel", ("a", "b"), 1),
        ([A, BACK], "parallel", ("a", "b"), -1),
        ([A, UP], "perpendicular", ("a", "b"), 1),
        ([A, DOWN], "perpendicular", ("a", "b"), -1),
        ([A, UP], "angle", ("a", "b"), 1),
        ([A, DOWN], "angle", ("a", "b"), -1),
        ([A, LEFT], "tangent", ("a", "c"), 1),
        ([A, RIGHT], "tangent", ("a", "c"), -1),
        ([BIG, OUTER], "tangent", ("c", "d"), 1),
        ([BIG, INNER], "tangent", ("c", "d"), -1),
        ([BIG, INNER], "tangent", ("d", "c"), -2),
        ([A, LEFT], "distance", ("c.centre", "a"), 1),
        ([A, RIGHT], "distance", ("c.centre", "a"), -1),
        ([A, B], "vertical_distance", ("a.start", "b.start"), 1),
        ([A, B], "vertical_distance", ("b.start", "a.start"), -1),
        ([A, B], "horizontal_distance", ("a.end", "b.start"), -1),
        ([A, B], "equal", ("a", "b"), 1),
    ],
)
def test_the_drawn_branch_is_kept(curves, kind, of, branch):
    assert drawn_branch(curves, kind, of) == branch


@pytest.mark.parametrize(
    "draw",
    [
        lambda d: d.circle((0, 0), 0.0),
        lambda d: d.constrain("horizontal", "nothing"),
        lambda d: d.constrain("distance", d.line((0, 0), (1, 0))),
        lambda d: d.constrain("distance", d.line((0, 0), (1, 0)), value="-2"),
        lambda d: d.constrain("radius", d.circle((0, 0), 1), value="0"),
        lambda d: d.constrain("distance", d.line((0, 0), (1, 0)), value="30 deg"),
        lambda d: d.constrain("distance", d.line((0, 0), (1, 0)), value="nowhere"),
    ],
)
def test_what_cannot_be_drawn_is_refused(layout, draw):
    family, key = layout
    with pytest.raises(UserFault):
        draw(Drawing(family, key, Sketch(id="s", name="S", plane=Reference(item="top"))))


def test_dimensions_of_a_sketch_name_each_other(layout):
    family, key = layout
    sketch = Sketch(id="s", name="S", plane=Reference(item="top"))
    family = edits.add_operation(family, key, sketch)
    d = Drawing(family, key, sketch)
    first, second = d.line((0, 0), (10, 0)), d.line((0, 5), (10, 5))
    d.constrain("distance", first, value="h", name="long")
    d.constrain("distance", second, value="long / 3")
    family = edits.replace_operation(family, key, d.sketch)
    value = (
        Evaluator(NoExecutor())
        .evaluate(family, [Node("solve", Scope(key, "default"), "s")])
        .value(Node("solve", Scope(key, "default"), "s"))
    )
    x0, _, x1, _ = value.curves[second].values
    assert abs(x1 - x0) == pytest.approx(10)
