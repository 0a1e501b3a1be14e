"""Holes put straight into a solid are what a boolean makes of them, and are left to it where something is in the way."""

import math

import pytest
from OCP.BRepCheck import BRepCheck_Analyzer

from architectonic.describe.operations.holes.hole import HoleInput
from architectonic.describe.results import Frame, HoleSet
from architectonic.kernel.shapes.outlines import KernelFrame, Side
from architectonic.kernel.shapes.verdict import volume
from architectonic.kernel.solids import prisms
from architectonic.make.operations.holes import hole

pytestmark = pytest.mark.kernel
GROUND = KernelFrame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
POINT = math.radians(118)


def plate(x=130.0, y=50.0, z=8.0):
    corners = [(0, 0), (x, 0), (x, y), (0, y)]
    loop = tuple(Side(f"l{k}", p, corners[(k + 1) % 4]) for k, p in enumerate(corners))
    return prisms.prism(GROUND, [(loop,)], (0.0, 0.0, 0.0), (z, 0.0, 0.0), "b")


def given(places, ends="through", **said):
    holes = HoleSet(**{"operation": "h", "purpose": "plain", "diameter": 5.0, "through": ends == "through", **said})
    bores = tuple((f"k{k}", Frame((x, y, 8.0), (1.0, 0.0, 0.0), (0.0, 0.0, -1.0))) for k, (x, y) in enumerate(places))
    return HoleInput(
        operation="h",
        bodies=("b",),
        bores=bores,
        holes=holes,
        begins="material",
        ends=ends,
        tip=POINT if ends == "depth" else None,
    )


GRID = [(10.0 + 10 * i, 10.0 + 10 * j) for i in range(12) for j in range(4)]
KINDS = {
    "plain": given(GRID),
    "counterbored": given(GRID, counterbore=(8.0, 3.0)),
    "countersunk": given(GRID, countersink=(9.0, math.pi / 2)),
    "blind": given(GRID, "depth", depth=4.0, diameter=3.0),
}


def both(asked, body, monkeypatch):
    put = hole.make(asked, [body])[1]["b"]
    monkeypatch.setattr(hole, "FEW", 10**9)
    return put, hole.make(asked, [body])[1]["b"]


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_put_in_is_what_the_boolean_cuts(kind, monkeypatch):
    put, cut = both(KINDS[kind], plate(), monkeypatch)
    assert sorted(n[0] for n in put.faces) == sorted(n[0] for n in cut.faces)
    assert set(put.edges) == set(cut.edges)
    assert volume(put.shape) == pytest.approx(volume(cut.shape), rel=1e-9)
    assert BRepCheck_Analyzer(put.shape).IsValid()
    by_name = {n[0]: f for f, n in zip(cut.face_list, cut.faces, strict=True)}
    assert len(by_name) == len(cut.faces)


def refused(monkeypatch):
    """What came of each try to put holes in."""
    calls, real = [], hole.inserting.insert
    monkeypatch.setattr(hole.inserting, "insert", lambda *a: calls.append(real(*a)) or calls[-1])
    return calls


def test_a_hole_that_runs_over_the_edge_leaves_all_to_the_boolean(monkeypatch):
    calls = refused(monkeypatch)
    put, cut = both(given([*GRID, (128.5, 25.0)]), plate(), monkeypatch)
    assert calls == [None] and volume(put.shape) == pytest.approx(volume(cut.shape), rel=1e-12)


def test_holes_that_run_into_each_other_leave_all_to_the_boolean(monkeypatch):
    calls = refused(monkeypatch)
    put, cut = both(given([*GRID, (14.0, 10.0)]), plate(), monkeypatch)
    assert calls == [None] and volume(put.shape) == pytest.approx(volume(cut.shape), rel=1e-12)


def test_a_groove_beside_the_holes_leaves_all_to_the_boolean(monkeypatch):
    """A slot below that only touches the rims of one row."""
    calls = refused(monkeypatch)
    corners = [(0, 22), (130, 22), (130, 24), (0, 24)]
    loop = tuple(Side(f"s{k}", p, corners[(k + 1) % 4]) for k, p in enumerate(corners))
    slot = prisms.prism(GROUND, [(loop,)], (-1.0, 0.0, 0.0), (5.0, 0.0, 0.0), "s")
    body = prisms.boolean("cut", plate(), slot)
    put, cut = both(given(GRID), body, monkeypatch)
    assert calls == [None] and volume(put.shape) == pytest.approx(volume(cut.shape), rel=1e-12)
    assert BRepCheck_Analyzer(put.shape).IsValid()
