"""Regions against closed forms."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from architectonic.sketch.curves.piece import arc, circle, line
from architectonic.sketch.curves.regions import area, find, outline


def rectangle(key, x0, y0, x1, y1):
    p = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    return [line(f"{key}{i}", p[i], p[(i + 1) % 4]) for i in range(4)]


def by_label(pieces):
    return {r.label: r for r in find(pieces)}


def test_two_crossing_circles_have_three_regions_that_keep_their_names():
    """Source: lens of unit circles one apart, 2 pi / 3 - sqrt(3) / 2."""
    lens = 2 * math.pi / 3 - math.sqrt(3) / 2
    found = by_label([circle("a", (0, 0), 1), circle("b", (1, 0), 1)])
    assert found["+a+b"].area == pytest.approx(lens, rel=1e-12)
    assert found["+a-b"].area == pytest.approx(math.pi - lens, rel=1e-12)
    assert len(found) == 3
    moved = by_label([circle("b", (5, 9), 3), circle("a", (4, 7), 1.5)])
    assert set(moved) == set(found)


def test_annulus():
    found = by_label([circle("a", (0, 0), 10), circle("b", (1, 0), 4)])
    assert found["+a/-b"].area == pytest.approx(math.pi * 84, rel=1e-12)
    assert found["+b"].area == pytest.approx(math.pi * 16, rel=1e-12)


def test_slot():
    """Source: 2 r d + pi r^2 for centres d = 40 apart, width 20."""
    pieces = [
        line("l1", (0, 10), (40, 10)), line("l2", (40, -10), (0, -10)),
        arc("a1", (40, 0), (40, -10), (40, 10)), arc("a2", (0, 0), (0, 10), (0, -10)),
    ]  # fmt: skip
    (region,) = find(pieces)
    assert region.area == pytest.approx(40 * 20 + math.pi * 100, rel=1e-12)


def test_bow_tie_is_two_regions():
    p = [(0, 0), (10, 10), (10, 0), (0, 10)]
    found = find([line(f"l{i}", p[i], p[(i + 1) % 4]) for i in range(4)])
    assert [r.area for r in found] == pytest.approx([25, 25])


def test_open_ends_bound_nothing():
    assert find([line("a", (0, 0), (10, 0)), line("b", (10, 0), (10, 10))]) == []
    found = find([*rectangle("r", 0, 0, 10, 10), line("whisker", (10, 5), (20, 5)), line("tail", (2, 2), (4, 4))])
    assert [r.area for r in found] == [100]


def test_overlapping_lines_are_one_border():
    found = by_label(rectangle("r", 0, 0, 10, 10) + rectangle("s", 10, 2, 20, 8))
    assert sorted(r.area for r in found.values()) == pytest.approx([60, 100])


def test_touching_circles_stay_whole():
    """Inside and outside tangency: no slivers."""
    found = find([circle("a", (0, 0), 5), circle("b", (8, 0), 3), circle("c", (2, 0), 3)])
    assert sorted(r.area for r in found) == pytest.approx([math.pi * 9, math.pi * 9, math.pi * 16])


def test_uniting_regions_lets_inner_borders_vanish():
    found = find([circle("a", (0, 0), 1), circle("b", (1, 0), 1)])
    (loops,) = outline(found)
    lens = 2 * math.pi / 3 - math.sqrt(3) / 2
    assert sum(area(loop) for loop in loops) == pytest.approx(2 * math.pi - lens, rel=1e-12)
    assert len(loops[0]) == 2  # one arc of each circle, not three


def test_uniting_a_ring_of_regions_keeps_its_hole():
    found = find(rectangle("r", 0, 0, 30, 30) + rectangle("s", 10, 10, 20, 20) + [line("t", (0, 15), (30, 15))])
    ring = [r for r in found if r.area > 100]
    (loops,) = outline(ring)
    assert sum(area(loop) for loop in loops) == pytest.approx(800)
    assert len(loops) == 2


@given(st.floats(0, 2 * math.pi), st.floats(-500, 500), st.floats(-500, 500), st.permutations(range(7)))
def test_areas_do_not_depend_on_place_or_order(turn, dx, dy, order):
    """A rectangle, a circle across its side and a line through both, moved and shuffled."""

    def put(p):
        return (
            math.cos(turn) * p[0] - math.sin(turn) * p[1] + dx,
            math.sin(turn) * p[0] + math.cos(turn) * p[1] + dy,
        )

    corners = [put(p) for p in ((0, 0), (40, 0), (40, 20), (0, 20))]
    pieces = [line(f"r{i}", corners[i], corners[(i + 1) % 4]) for i in range(4)]
    pieces += [
        circle("c", put((40, 10)), 6),
        line("t", put((-5, 4)), put((60, 9))),
        circle("h", put((10, 13)), 3),
    ]
    found = {r.label: r.area for r in find([pieces[i] for i in order])}
    total = 40 * 20 + math.pi * 36 / 2
    assert sum(found.values()) == pytest.approx(total, rel=1e-9)
    assert len(found) == 7 or len(found) == 6
