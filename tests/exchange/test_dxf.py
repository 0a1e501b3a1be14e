"""DXF: hand-written group codes read against closed forms; written files parsed by group codes alone."""

import math

import pytest
from tests.support.drawings import SLOT, codes_of, drawing, entities_of, entity
from tests.support.pads import Pad

from architectonic.base.errors import UserFault
from architectonic.describe.drawn.curves import as_piece, drawn_result, path_of
from architectonic.exchange import dxf
from architectonic.session.sketch import shapes
from architectonic.session.sketch.bringing import bring_in
from architectonic.session.sketch.snapping import Snapped
from architectonic.sketch.curves import paths
from architectonic.sketch.curves.regions import find


def arc(*codes, layer="0"):
    x, y, r, a, b = codes
    return (
        0,
        "ARC",
        5,
        "A1",
        100,
        "AcDbEntity",
        8,
        layer,
        100,
        "AcDbCircle",
        10,
        x,
        20,
        y,
        30,
        0.0,
        40,
        r,
        100,
        "AcDbArc",
        50,
        a,
        51,
        b,
    )


def regions(curves):
    return find([as_piece(f"c{k}", drawn_result(c)) for k, c in enumerate(curves)])


def test_a_polyline_with_bulges_is_a_slot_with_true_arcs(tmp_path):
    """Slot of length 40 and width 20: 40 * 20 + 100 pi = 1114.1592654; a bulge of 1 is a half circle (check-values 20)."""
    plot = dxf.read(drawing(tmp_path, entity("LWPOLYLINE", *SLOT)))
    curves = plot.in_mm()
    assert sorted(type(c).__name__ for c in curves) == ["Arc", "Arc", "Line", "Line"]
    assert [r.area for r in regions(curves)] == pytest.approx([800 + 100 * math.pi], rel=1e-9)


@pytest.mark.parametrize(("units", "factor"), [(1, 25.4), (2, 304.8), (4, 1.0), (5, 10.0), (6, 1000.0)])
def test_units_are_those_of_the_file(tmp_path, units, factor):
    """Inch and foot: NIST SP 811, appendix B."""
    plot = dxf.read(drawing(tmp_path, entity("CIRCLE", 10, 1.0, 20, 2.0, 40, 3.0), units=units))
    (c,) = plot.in_mm()
    assert (*c.centre, c.radius) == pytest.approx((factor, 2 * factor, 3 * factor))


def test_a_file_without_unit_asks_for_it(tmp_path):
    plot = dxf.read(drawing(tmp_path, entity("CIRCLE", 10, 1.0, 20, 2.0, 40, 3.0), units=0))
    assert plot.unit == ""
    with pytest.raises(UserFault, match="does not say its unit"):
        plot.in_mm()
    assert plot.in_mm("cm")[0].radius == pytest.approx(30)


def test_arcs_run_counter_clockwise_also_seen_from_below(tmp_path):
    above = arc(5.0, 0.0, 5.0, 0.0, 90.0)
    below = (*above, 210, 0.0, 220, 0.0, 230, -1.0)
    a, b = dxf.read(drawing(tmp_path, above, below)).in_mm()
    assert (a.start, a.end) == (pytest.approx((10, 0)), pytest.approx((5, 5)))
    assert b.centre == pytest.approx((-5, 0))
    assert (b.start, b.end) == (pytest.approx((-5, 5)), pytest.approx((-10, 0)))


def test_ellipses_and_parts_of_them(tmp_path):
    whole = entity("ELLIPSE", 10, 1.0, 20, 2.0, 30, 0.0, 11, 0.0, 21, 20.0, 31, 0.0, 40, 0.5, 41, 0.0, 42, math.tau)
    part = entity("ELLIPSE", 10, 0.0, 20, 0.0, 30, 0.0, 11, 20.0, 21, 0.0, 31, 0.0, 40, 0.25, 41, 0.0, 42, math.pi)
    full, half = dxf.read(drawing(tmp_path, whole, part)).in_mm()
    assert [r.area for r in regions([full])] == pytest.approx([math.pi * 20 * 10])
    assert half.start == pytest.approx((20, 0)) and half.end == pytest.approx((-20, 0), abs=1e-6)
    assert as_piece("h", drawn_result(half)).area() == pytest.approx(math.pi * 20 * 5 / 2)


def de_boor(poles, knots, degree, t):
    """A point of a B-spline by the definition of its basis (Cox - de Boor), written here."""

    def basis(i, p):
        if p == 0:
            return 1.0 if knots[i] <= t < knots[i + 1] else 0.0
        left = (t - knots[i]) / (knots[i + p] - knots[i]) * basis(i, p - 1) if knots[i + p] > knots[i] else 0.0
        right = (knots[i + p + 1] - t) / (knots[i + p + 1] - knots[i + 1]) * basis(i + 1, p - 1) if knots[i + p + 1] > knots[i + 1] else 0.0  # fmt: skip
        return left + right

    weights = [basis(i, degree) for i in range(len(poles))]
    return tuple(sum(w * p[k] for w, p in zip(weights, poles, strict=True)) for k in (0, 1))


@pytest.mark.parametrize(
    ("degree", "knots", "pieces"),
    [
        (3, (0, 0, 0, 0, 1, 2.5, 4, 4, 4, 4), 1),
        (3, (0, 0, 0, 0, 2, 2, 4, 4, 4, 4), 2),
        (2, (0, 0, 0, 1, 2, 3, 4, 4, 4), 4),
    ],
)
def test_splines_are_taken_exactly(tmp_path, degree, knots, pieces):
    poles = [(0.0, 0.0), (10.0, 12.0), (22.0, -7.0), (35.0, 3.0), (41.0, 15.0), (52.0, 2.0)]
    codes = [70, 8, 71, degree, 72, len(knots), 73, len(poles), 74, 0, *(v for k in knots for v in (40, k))]
    codes += [v for x, y in poles for v in (10, x, 20, y, 30, 0.0)]
    found = dxf.read(drawing(tmp_path, entity("SPLINE", *codes))).in_mm()
    assert len(found) == pieces
    own = [path_of(drawn_result(c)) for c in found]
    for k in range(40):
        q = de_boor(poles, knots, degree, 0.05 + 3.9 * k / 40)
        assert min(math.dist(paths.point(p, paths.nearest(p, q, 0, 1)), q) for p in own) < 1e-6


def test_what_cannot_be_taken_is_listed(tmp_path):
    solid = (0, "3DFACE", 5, "F1", 100, "AcDbEntity", 8, "0", 100, "AcDbFace", 10, 0, 20, 0, 30, 0, 11, 1, 21, 0, 31, 0, 12, 1, 22, 1, 32, 0, 13, 0, 23, 1, 33, 0)  # fmt: skip
    across = entity("CIRCLE", 10, 1.0, 20, 2.0, 40, 3.0, 210, 1.0, 220, 0.0, 230, 0.0)
    nothing = entity("LINE", 10, 1.0, 20, 2.0, 30, 0.0, 11, 1.0, 21, 2.0, 31, 0.0)
    plot = dxf.read(drawing(tmp_path, solid, across, nothing))
    assert plot.curves == []
    told = " ".join(plot.left_out)
    assert "3DFACE: no curve" in told and "not in the drawing plane" in told and "LINE: no length" in told
    pad = Pad()
    with pytest.raises(UserFault, match="no curve to take"):
        pad(lambda s: bring_in(s, plot))


@pytest.mark.parametrize("content", ["", "nothing of ours\n", "0\nSECTION\n2\nENTITIES\n0\nLINE\n10\nabc\n"])
def test_what_is_no_drawing_is_refused_or_empty(tmp_path, content):
    file = tmp_path / "x.dxf"
    file.write_text(content)
    try:
        assert dxf.read(file).curves == []
    except UserFault as fault:
        assert "x.dxf" in fault.what
    with pytest.raises(UserFault, match=r"gone\.dxf"):
        dxf.read(tmp_path / "gone.dxf")


def test_near_ends_are_joined_when_curves_come_in(tmp_path):
    p = [(0.0, 0.0), (30.0, 0.004), (30.003, 20.0), (0.002, 20.001)]
    lines = [entity("LINE", 10, p[k][0], 20, p[k][1], 30, 0, 11, p[(k + 1) % 4][0] + 0.003, 21, p[(k + 1) % 4][1], 31, 0, layer="cut") for k in range(4)]  # fmt: skip
    other = entity("CIRCLE", 10, 10.0, 20, 10.0, 40, 3.0, layer="notes")
    plot = dxf.read(drawing(tmp_path, *lines, other))
    assert plot.layers() == {"cut": 4, "notes": 1}
    pad = Pad()
    brought = pad(lambda s: bring_in(s, plot, layers=frozenset({"cut"}), near=0.05))
    assert (len(brought.curves), brought.joined) == (4, 4)
    assert [r.area for r in pad.solved.regions] == pytest.approx([600], rel=1e-3)
    assert pad.solved.freedoms == 8


def test_a_written_sketch_has_true_arcs_layers_and_its_version(tmp_path):
    pad = Pad()
    pad(lambda s: shapes.slot(s, Snapped((0, 0), "origin"), Snapped((40, 0)), (10, 10)))
    pad(lambda s: s.circle(Snapped((20, 0)), 4.0))
    pad(lambda s: shapes.ellipse(s, Snapped((80, 0)), Snapped((85, 0)), Snapped((80, 12))))
    pad(lambda s: shapes.spline(s, [Snapped((0, 40)), Snapped((20, 50)), Snapped((40, 35))], True))
    axis = pad(lambda s: s.line(Snapped((0, 0)), Snapped((40, 0)), infer=False))
    pad(lambda s: s.toggle_helper([axis]))
    file = tmp_path / "out.dxf"
    dxf.write(file, pad.solved)
    pairs = codes_of(file)
    version = pairs[pairs.index((9, "$ACADVER")) + 1]
    assert version == (1, "AC1032") and pairs[pairs.index((9, "$INSUNITS")) + 1] == (70, "4")
    found = entities_of(pairs)
    assert sorted(k for k, _ in found) == ["ARC", "ARC", "CIRCLE", "ELLIPSE", "LINE", "LINE", "LINE", "SPLINE"]
    assert {float(e[40][0]) for k, e in found if k == "ARC"} == {10.0}
    for e in (e for k, e in found if k == "ARC"):
        assert (float(e[51][0]) - float(e[50][0])) % 360 == pytest.approx(180)
    assert [e[8] for k, e in found if k == "LINE"].count(["helper"]) == 1
    (oval,) = [e for k, e in found if k == "ELLIPSE"]
    assert float(oval[40][0]) == pytest.approx(5 / 12) and math.hypot(
        float(oval[11][0]), float(oval[21][0])
    ) == pytest.approx(12)
    (curve,) = [e for k, e in found if k == "SPLINE"]
    assert len(curve[40]) == len(curve[10]) + int(curve[71][0]) + 1  # knots = control points + degree + 1


def test_what_is_written_is_read_back_as_the_same_curves(tmp_path):
    pad = Pad()
    pad(lambda s: s.drawing.elliptic_arc((0, 0), (20, 5), (-3, 12), (20, 5), (-20, -5)))
    pad(lambda s: s.drawing.elliptic_arc((60, 0), (66, 2), (55, 15), (60, 15), (66, 2)))
    pad(lambda s: s.arc(Snapped((0, 50)), Snapped((10, 50)), Snapped((0, 60))))
    pad(lambda s: s.drawing.text("R8", (0, 80), 7.0))
    file = tmp_path / "out.dxf"
    dxf.write(file, pad.solved)
    back = dxf.read(file).in_mm()
    own = [drawn_result(c) for c in back]
    assert [c.kind for c in own[:3]] == ["elliptic_arc", "elliptic_arc", "arc"]
    for (key, was), now in zip(list(pad.solved.curves.items())[:3], own, strict=False):
        a, b = as_piece(key, was), as_piece(key, now)
        assert b.start == pytest.approx(a.start, abs=1e-6) and b.end == pytest.approx(a.end, abs=1e-6)
        assert b.area() == pytest.approx(a.area(), rel=1e-7)
    letters = [as_piece(f"t{k}", c) for k, c in enumerate(own[3:])]
    inked = sum(r.area for r in pad.solved.regions if r.label.startswith("+"))
    assert sum(p.area() for p in letters) == pytest.approx(inked, rel=1e-6)
