"""Rounds on thin walls, cuts that leave material, facets of freeform faces: what the kernel calls valid and is not.

Found by random build lists (bench/fuzz.py); each is told apart here by a closed form or by another package.
"""

import math

import pytest

pytest.importorskip("OCP")

from tests.support.plates import TOP, circle, level, rectangle
from tests.support.swept import box

from architectonic.kernel import step
from architectonic.kernel.measure.mesh import can_be_facetted, may_enclose, mesh
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import KernelFrame
from architectonic.kernel.shapes.verdict import KernelRefusal, rough_volume, volume
from architectonic.kernel.solids import blends, placing, shells
from architectonic.kernel.solids import prisms as solids
from architectonic.kernel.solids.folding import is_wrong
from architectonic.kernel.solids.prisms import boolean, prism
from architectonic.render.camera import BodyMesh

WALL = 0.86


def tray():
    body = box(60, 40, 30)
    return shells.shell(body, body.find_faces("o1:end"), WALL, [], "o2")


def upright(body):
    """Outer upright edges: between two sides of the first operation."""
    return {k: e for k, e in body.edges.items() if k.count("o1:side") == 2 and "o2" not in k}


def test_a_round_that_would_come_out_inside_of_a_thin_wall_is_refused():
    """A corner of wall t, sharp inside: the round's arc reaches the inner corner at r = t (2 + sqrt 2)."""
    body = tray()
    label, edge = next(iter(upright(body).items()))
    most = WALL * (2 + math.sqrt(2))
    assert blends.fillet(body, {label: edge}, most * 0.97, "o3")
    with pytest.raises(KernelRefusal, match="too large") as refusal:
        blends.fillet(body, {label: edge}, most * 1.06, "o3")
    assert refusal.value.at == (label,)
    works = float(str(refusal.value).split("about ")[1].split()[0])
    assert 0.9 * most < works <= 1.001 * most


def test_a_chamfer_that_would_come_out_inside_is_refused():
    """A flat cut at a distance d reaches the inner corner (t, t) at d = 2 t."""
    body = tray()
    label, edge = next(iter(upright(body).items()))
    assert blends.chamfer(body, {label: edge}, blends.ChamferSize(WALL * 1.95), False, "o3")
    with pytest.raises(KernelRefusal, match="no room"):
        blends.chamfer(body, {label: edge}, blends.ChamferSize(WALL * 2.05), False, "o3")


def test_faces_that_touch_at_an_edge_or_a_vertex_do_not_cross():
    body = box(60, 40, 30)
    rounded = blends.fillet(body, dict(body.edges), 3.0, "o3")
    assert not is_wrong(rounded.shape, rounded.face_list)


def lune():
    """A disc less its own copy aside and lower, two of its new edges rounded: a freeform patch between the rounds."""
    disc = prism(TOP, [(circle("c", (3.95, 34.94), 39.08),)], level(0), level(30.82), "o1")
    other = placing.placed(disc, placing.shifted((-28.97, 8.61, -18.84)), "o2")
    cut = boolean("cut", disc, other)
    wall = "o2:copy:(o1:side:c)#2"
    edges = {k: cut.edges[k] for k in (f"(o1:side:c|{wall})", f"(o1:start|{wall})")}
    return blends.fillet(cut, edges, 8.6, "o3")


def test_facets_of_a_freeform_patch_enclose_what_another_kernel_measures(tmp_path):
    """The kernel fills such a patch wrongly at some angles; arris 0.9.1 measures the solid from its STEP file."""
    arris, trimesh = pytest.importorskip("arris"), pytest.importorskip("trimesh")
    body = lune()
    step.write(tmp_path / "x.step", [step.Product("Lune", (step.WrittenSolid("Lune", body),))])
    model = arris.Model()
    (solid,) = model.read_step((tmp_path / "x.step").read_text("utf-8")).solids
    exact = model.mass_properties(solid.body).volume
    assert volume(body.shape) == pytest.approx(exact, rel=1e-6)
    for angle in (0.5, 0.25, 0.16, 0.1):
        found = BodyMesh.from_result(mesh(body, angle))
        facets = trimesh.Trimesh(found.points.astype(float), found.triangles, process=True)
        assert facets.is_watertight, angle
        assert facets.volume == pytest.approx(exact, rel=0.015 + 1 - math.sin(angle) / angle), angle


def test_facets_of_something_else_are_told():
    body = lune()
    exact = rough_volume(body.shape)
    assert can_be_facetted(body.shape) and may_enclose(0.99 * exact, body.shape, 0.2)
    assert not may_enclose(1.09 * exact, body.shape, 0.2)  # as the kernel once filled it


class Lying:
    """A boolean of the kernel that gives what it likes."""

    def __init__(self, shape):
        self.shape = shape

    def __call__(self):
        return self

    def SetArguments(self, _):
        pass

    SetTools = SetArguments

    def SimplifyResult(self, *_):
        pass

    def Build(self):
        pass

    def IsDone(self):
        return True

    def Shape(self):
        return self.shape

    def Modified(self, _):
        from architectonic.kernel.shapes.topology import ShapeList

        return ShapeList()

    def IsDeleted(self, _):
        return False


@pytest.mark.parametrize(
    ("does", "given", "why"),
    [
        ("cut", lambda a, b: Labelled(boolean("add", a, b).shape, ()), "soundly"),  # more than there was
        ("add", lambda a, b: Labelled(boolean("cut", a, b).shape, ()), "soundly"),  # less than there was
        ("overlap", lambda a, b: a, "soundly"),  # more than the smaller one
    ],
)
def test_a_boolean_whose_volume_cannot_be_is_refused(monkeypatch, does, given, why):
    """max(a, b) <= a + b united <= a + b; a - b <= a less b <= a; what both fill <= min(a, b)."""
    a = box(60, 40, 30)
    b = prism(
        KernelFrame((0, 0, 0), (1, 0, 0), (0, 0, 1)), [(rectangle(20, 20, "q", 30, 10),)], level(5), level(50), "o2"
    )
    monkeypatch.setattr(solids, "carry", lambda shape, *_: Labelled(shape, (("x",),)))
    lie = given(a, b).shape
    monkeypatch.setitem(solids._BOOLEANS, does, Lying(lie))
    with pytest.raises(KernelRefusal, match=why):
        boolean(does, a, b)


def test_a_cut_that_parts_faces_and_takes_nothing_though_the_two_share_something(monkeypatch):
    a = box(60, 40, 30)
    b = prism(TOP, [(rectangle(20, 20, "q", 30, 10),)], level(5), level(50), "o2")
    monkeypatch.setattr(solids, "carry", lambda shape, *_: Labelled(shape, (("x",),)))
    monkeypatch.setitem(solids._BOOLEANS, "cut", Lying(a.shape))
    with pytest.raises(KernelRefusal, match="cut out of"):
        boolean("cut", a, b)
    assert rough_volume(a.shape) == pytest.approx(72_000)
