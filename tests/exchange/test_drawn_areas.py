"""Areas of regions of drawings that were brought in, beside polygons by two other packages.

Sources: ezdxf's own flattening of the entities (not the curves that were read), polygonized by shapely. A chord that
leaves its arc by at most d costs at most d times its length of area: that is the bound.
"""

import math

import ezdxf
import pytest
from shapely import polygonize, set_precision, unary_union
from shapely.geometry import LineString

from architectonic.describe.drawn.curves import as_pieces, drawn_result
from architectonic.exchange import dxf
from architectonic.sketch.curves.regions import find

FLAT = 1e-4
"""How far a chord may leave its curve, mm."""


def keyhole(space):
    """A plate with bulged corners and a hole."""
    points = [(0, 0, 0), (60, 0, math.tan(math.pi / 8)), (70, 10, 0), (70, 40, 0.3), (0, 40, -0.2)]
    space.add_lwpolyline(points, format="xyb", close=True)
    space.add_circle((50, 20), 8)


def oval_with_band(space):
    """An ellipse cut through by a line."""
    space.add_ellipse((100, 50), (30, 10, 0), 0.4)
    space.add_line((50, 40), (150, 62))


def wave(space):
    """A spline of degree 3, closed by two lines and an arc."""
    space.add_open_spline([(0, 0), (20, 40), (45, -25), (70, 30), (90, 0)], 3)
    space.add_line((90, 0), (90, -30))
    space.add_line((0, -30), (0, 0))
    space.add_arc((45, -30), 45, 180, 360)


def half_ovals(space):
    """Two arcs of ellipses over one chord, one turned in a block."""
    space.add_ellipse((0, 0), (25, 0, 0), 0.5, 0, math.pi)
    space.add_ellipse((0, 0), (25, 0, 0), 0.8, math.pi, math.tau)
    space.add_line((-25, 0), (25, 0))


def crossing_rings(space):
    """Three circles over each other: seven regions."""
    for k in range(3):
        space.add_circle((10 * math.cos(2.0944 * k), 10 * math.sin(2.0944 * k)), 14)


def chords(e):
    """An entity as a line of chords, by ezdxf's own methods."""
    if e.dxftype() == "LINE":
        return LineString([e.dxf.start.vec2, e.dxf.end.vec2])
    return LineString([p.vec2 for p in e.flattening(FLAT)])


@pytest.mark.parametrize("draw", [keyhole, oval_with_band, wave, half_ovals, crossing_rings])
@pytest.mark.parametrize(("units", "factor"), [(4, 1.0), (1, 25.4)])
def test_regions_of_a_drawing_are_those_that_shapely_finds(tmp_path, draw, units, factor):
    document = ezdxf.new("R2018")
    document.header["$INSUNITS"] = units
    space = document.modelspace()
    draw(space)
    file = tmp_path / "drawn.dxf"
    document.saveas(file)

    lines = [chords(part) for e in space for part in (e.virtual_entities() if e.dxftype() == "LWPOLYLINE" else [e])]
    noded = set_precision(unary_union([set_precision(line, 1e-8) for line in lines]), 1e-8)
    theirs = sorted(p.area for p in polygonize([noded]).geoms)
    pieces = [piece for k, c in enumerate(dxf.read(file).in_mm()) for piece in as_pieces(f"c{k}", drawn_result(c))]
    ours = sorted(r.area / factor**2 for r in find(pieces))
    bound = FLAT * sum(line.length for line in lines)
    assert len(ours) == len(theirs)
    assert ours == pytest.approx(theirs, abs=bound)
