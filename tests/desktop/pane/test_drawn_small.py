"""What is painted by hand: dimensions over a sketch and small pictures, against plain geometry."""

import math

import numpy as np
import pytest

pytest.importorskip("PyQt6")

from PyQt6.QtCore import QPointF
from scipy.spatial import ConvexHull

from architectonic.describe.results import CurveResult, SketchResult
from architectonic.desktop.pane import thumbnails
from architectonic.desktop.sketch import dimensions
from architectonic.family.records import Constraint
from architectonic.render.camera import BodyMesh, Camera, frame
from architectonic.render.raster import raster, traced

SOLVED = SketchResult(
    {
        "a": CurveResult("line", (0.0, 0.0, 40.0, 30.0)),
        "b": CurveResult("line", (0.0, 0.0, 50.0, 0.0)),
        "c": CurveResult("circle", (80.0, 0.0, 12.0)),
        "d": CurveResult("arc", (0.0, 60.0, 10.0, 60.0, 0.0, 70.0, 10.0)),
    },
    0,
    (),
    0.0,
    (),
)


def to_screen(p):
    return QPointF(100 + 4 * p[0], 500 - 4 * p[1])


def out(kind, *of, at=None, stacked=0, text="123 mm"):
    figure = dimensions.Figure(Constraint(id="k", kind=kind, of=of, at=at), text, "")
    return figure, dimensions.laid_out(figure, SOLVED, to_screen, 0, stacked)


def away(p, a, b):
    d = b - a
    return abs(d.x() * (p.y() - a.y()) - d.y() * (p.x() - a.x())) / math.hypot(d.x(), d.y())


@pytest.fixture(autouse=True)
def _application(qapp):
    """Fonts are measured."""


@pytest.mark.parametrize("line", ["a", "b"])
def test_a_length_stands_clear_of_its_line_with_tips_at_its_ends(line):
    figure, drawn = out("distance", line)
    v = SOLVED.curves[line].values
    a, b = to_screen(v[:2]), to_screen(v[2:])
    wide, high = figure.size
    reach = wide / 2 * abs((b - a).y()) / math.hypot((b - a).x(), (b - a).y())
    assert away(drawn.text, a, b) >= reach + high / 2 * 0.5
    (first, _), (second, _) = drawn.tips
    assert math.hypot((second - first).x(), (second - first).y()) == pytest.approx(4 * math.dist(v[:2], v[2:]))
    _, further = out("distance", line, stacked=1)
    assert away(further.text, a, b) > away(drawn.text, a, b) + 20


def test_distances_across_and_up_run_level_and_upright():
    for kind, length in (("horizontal_distance", 40), ("vertical_distance", 30)):
        _, drawn = out(kind, "a")
        (first, _), (second, _) = drawn.tips
        d = second - first
        level = kind == "horizontal_distance"
        assert abs(d.x() if level else d.y()) == pytest.approx(4 * length)
        assert abs(d.y() if level else d.x()) < 1e-9


def test_a_text_that_was_moved_stays_where_it_was_put():
    _, drawn = out("distance", "b", at=(20.0, -15.0))
    assert drawn.text == to_screen((20.0, -15.0))
    (first, _), (second, _) = drawn.tips
    assert first.y() == second.y() == pytest.approx(to_screen((0, -15)).y())


def test_a_radius_points_at_the_rim_and_an_angle_spans_its_lines():
    _, drawn = out("diameter", "c")
    (tip, _) = drawn.tips[0]
    o = to_screen((80, 0))
    assert math.hypot((tip - o).x(), (tip - o).y()) == pytest.approx(48)
    _, angle = out("angle", "b", "a")
    box, start, sweep = angle.arc
    assert box.center() == to_screen((0, 0)) and start == pytest.approx(0)
    assert sweep == pytest.approx(math.degrees(math.atan2(30, 40)))


def block():
    """A box of 40 x 30 x 20 as triangles with outward faces."""
    corners = np.array([(x, y, z) for x in (0, 40) for y in (0, 30) for z in (0, 20)], np.float32)
    hull = ConvexHull(corners)
    triangles = []
    for simplex, plane in zip(hull.simplices, hull.equations, strict=True):
        a, b, c = corners[simplex].astype(float)
        outward = np.cross(b - a, c - a) @ plane[:3] > 0
        triangles.append(simplex if outward else simplex[::-1])
    count = len(triangles)
    return BodyMesh(corners, np.array(triangles, np.int32), np.zeros(count, np.int32), ["f"], [None],
                    np.zeros((0, 3), np.float32), np.zeros(1, np.int32), [])  # fmt: skip


def test_a_small_picture_covers_the_outline_of_its_body():
    """Painted pixels against the area of the projected convex hull (scipy)."""
    mesh = block()
    image = thumbnails.bodies([(mesh, "#93A9BA")])
    w, h = image.width(), image.height()
    ground = image.pixelColor(0, 0).name()
    painted = sum(image.pixelColor(x, y).name() != ground for x in range(w) for y in range(h))
    camera = frame(Camera(), [mesh.points], w / h, 1.15)
    flat = camera.project(mesh.points, w, h)[:, :2]
    assert painted == pytest.approx(ConvexHull(flat).volume, rel=0.06)
    shades = {image.pixelColor(x, y).name() for x in range(w) for y in range(h)} - {ground}
    assert len(shades) == 3  # three sides face the eye, each in its own light


def test_a_small_picture_of_a_sketch_keeps_its_proportions():
    image = thumbnails.sketch(SketchResult({"b": CurveResult("line", (0.0, 0.0, 100.0, 0.0)), "c": CurveResult("circle", (50.0, 0.0, 10.0))}, 0, (), 0.0, ()))  # fmt: skip
    ground = image.pixelColor(0, 0).name()
    inked = [
        (x, y) for x in range(image.width()) for y in range(image.height()) if image.pixelColor(x, y).name() != ground
    ]
    wide = max(x for x, _ in inked) - min(x for x, _ in inked)
    high = max(y for _, y in inked) - min(y for _, y in inked)
    assert wide / high == pytest.approx(5, rel=0.15)


def test_the_nearest_triangle_is_seen_in_each_pixel():
    """Against a look along every pixel at every triangle; a line on what is nearest is seen, one behind is not."""
    random = np.random.default_rng(4)
    flat = random.uniform((-8, -8, 0), (48, 38, 9), (60, 3, 3))
    found, depth = raster(flat, 40, 30)
    expected = np.full((30, 40), -1)
    for row in range(30):
        for column in range(40):
            best = np.inf
            for k, (a, b, c) in enumerate(flat):
                turn = np.array([[b[0] - a[0], c[0] - a[0]], [b[1] - a[1], c[1] - a[1]]])
                u, v = np.linalg.solve(turn, (column + 0.5 - a[0], row + 0.5 - a[1]))
                z = a[2] + u * (b[2] - a[2]) + v * (c[2] - a[2])
                if min(u, v) >= 0 and u + v <= 1 and z < best:
                    best, expected[row, column] = z, k
    assert (found == expected).mean() > 0.995  # edges that run through the middle of a pixel may fall to either
    assert (expected >= 0).sum() > 600 and np.isinf(depth[found < 0]).all()
    plate = np.array([[[0, 0, 5], [40, 0, 5], [0, 60, 5]], [[40, 0, 5], [40, 60, 5], [0, 60, 5]]], float)
    _, depth = raster(plate, 40, 30)
    lines = np.array([[[2, 10, 4.9], [30, 10, 4.9]], [[2, 20, 5.5], [30, 20, 5.5]]])
    rows, columns = traced(lines, depth, 0.1)
    assert set(rows) == {10} and {3, 15, 29} <= set(columns)
