"""Solids over ellipses, splines and letters, by volume against closed forms and an independent library's areas.

The kernel integrates faces trimmed by an ellipse to some 1e-7 only, whatever accuracy it is asked for.
"""

import math

import msgspec
import pytest

pytest.importorskip("OCP")

from tests.support.makers import FRONT, areas, extrude, make, measured

from architectonic.describe import recipes
from architectonic.describe.operations.solids.extrude import ExtrudeInput
from architectonic.describe.results import Recipe
from architectonic.describe.sketch.solve import piece_result
from architectonic.propagate.keys import encode
from architectonic.sketch.curves import lettering, paths, piece, regions


def volume(pieces, **more):
    _, shapes = make("extrude", extrude(pieces, **more))
    (shape,) = shapes.values()
    return measured(shape)["volume_mm3"], shape


@pytest.mark.parametrize(("a", "b"), [(9.0, 4.0), (4.0, 9.0), (6.0, 6.0)])
def test_an_elliptic_column(a, b):
    """Area pi a b (closed form), whichever half axis is the longer one and however it is turned."""
    turn = 0.6
    c, s = math.cos(turn), math.sin(turn)
    path = paths.ellipse((3.0, -2.0), (3 + a * c, -2 + a * s), (3 - b * s, -2 + b * c))
    found, _ = volume([piece.along("e", path)], frame=FRONT)
    assert found == pytest.approx(math.pi * a * b * 10, rel=1e-6)


@pytest.mark.parametrize("swap", [False, True])
def test_half_an_ellipse_closed_by_a_line(swap):
    a, b = (4.0, 9.0) if swap else (9.0, 4.0)
    path = paths.ellipse((0.0, 0.0), (a, 0.0), (0.0, b))
    half = piece.elliptic_arc("e", path, (a, 0.0), (-a, 0.0))
    found, _ = volume([half, piece.line("l", (-a, 0.0), (a, 0.0))])
    assert found == pytest.approx(math.pi * a * b / 2 * 10, rel=1e-6)
    other = piece.elliptic_arc("e", path, (-a, 0.0), (a, 0.0))
    found, _ = volume([other, piece.line("l", (a, 0.0), (-a, 0.0))])
    assert found == pytest.approx(math.pi * a * b / 2 * 10, rel=1e-6)


def test_a_spline_crossed_by_a_circle_makes_faces_named_after_both():
    points = ((0.0, 0.0), (20.0, 14.0), (40.0, 2.0))
    handles = paths.first_handles(points)
    path = paths.spline("spline", tuple(c for p in (*points, *handles) for c in p), paths.parameters(points))
    pieces = [piece.along("s", path), piece.line("l", *points[::2]), piece.circle("c", (20.0, 14.0), 5.0)]
    found = {r.label: r.area for r in regions.find(pieces)}
    assert len(found) == 3
    total, shape = volume(pieces)
    assert total == pytest.approx(10 * sum(found.values()), rel=1e-6)
    assert {face for labels in shape.faces for face in labels} == {
        "o1:start",
        "o1:end",
        "o1:side:s#1",
        "o1:side:s#2",
        "o1:side:l",
        "o1:side:c",
    }


def test_letters_become_a_solid_with_holes():
    """Oracle: areas of the outlines by shapely on fine polygons; the O and the 8 have holes."""
    from shapely.geometry import Polygon

    text = "R8 O"
    outlines, width = lettering.set_out(text)
    pieces = lettering.pieces("t", text, (0.0, 0.0, 7.0 * width, 0.0, 0.0, 7.0))
    inked = [p for r in regions.find(pieces) if r.label.startswith("+") for loop in r.loops for p in loop]
    assert {p.curve for p in inked} == {p.curve for p in pieces}
    loops = tuple(
        tuple(tuple(piece_result(p) for p in loop) for loop in r.loops)
        for r in regions.find(pieces)
        if r.label.startswith("+")
    )
    base = extrude(pieces, end=2.0)
    area = recipes.Area(base.prisms[0].area.frame, loops)
    given = msgspec.structs.replace(base, prisms=(msgspec.structs.replace(base.prisms[0], area=area),))
    (shape,) = make("extrude", given)[1].values()
    found = measured(shape)["volume_mm3"]
    total = 0.0
    for outline in outlines:
        ring = []
        for span in outline:
            path = paths.bezier(span)
            steps = [k / 400 for k in range(400)] if len(span) > 2 else [0.0]
            ring += [paths.point(path, t) for t in steps]
        polygon = Polygon(ring)
        total += polygon.area * (1 if polygon.exterior.is_ccw else -1)
    assert found == pytest.approx(2.0 * 49.0 * abs(total), rel=1e-4)
    holes = [r for r in regions.find(pieces) if len(r.loops) > 1]
    assert len(holes) >= 3  # of the R, of the O, and two of the 8
    assert sum(len(r.loops) - 1 for r in holes) == 4


def test_what_travels_to_a_worker_keeps_its_paths():
    path = paths.ellipse((0.0, 0.0), (9.0, 0.0), (0.0, 4.0))
    given = extrude([piece.along("e", path)])
    back = msgspec.msgpack.decode(encode(given), type=ExtrudeInput)
    assert back == given and back.prisms[0].area.areas == areas(piece.along("e", path))
    assert Recipe("extrude", given).payload == back
