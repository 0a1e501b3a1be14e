"""Solids against closed forms, and names of faces and edges through history."""

import math

import pytest

pytest.importorskip("OCP")

from tests.support.plates import TOP, level, names, plate, rectangle, stages, volume

from architectonic.kernel import step
from architectonic.kernel.measure.bodies import measure
from architectonic.kernel.measure.mesh import mesh
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import Side
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import blends
from architectonic.kernel.solids.prisms import boolean, prism


def test_prism_with_a_hole():
    m = measure(plate())
    assert m["volume_mm3"] == pytest.approx((4000 - math.pi * 25) * 10, rel=1e-9)
    assert m["area_mm2"] == pytest.approx(2 * (4000 - math.pi * 25) + 260 * 10 + 2 * math.pi * 5 * 10, rel=1e-9)
    assert m["box_mm"] == pytest.approx((0, 0, 0, 80, 50, 10), abs=1e-9)
    assert m["centre_mm"] == pytest.approx((40, 25, 5), abs=1e-9)
    assert m["valid"]


def test_pushed_against_the_normal():
    body = prism(TOP, [(rectangle(10, 10),)], level(2), level(-3), "o1")
    assert volume(body) == pytest.approx(500, rel=1e-9)
    assert measure(body)["box_mm"][2] == pytest.approx(-3)


def test_four_vertical_fillets():
    """Source: (80 * 50 - (4 - pi) r^2) * 10 for r = 8."""
    body = prism(TOP, [(rectangle(80, 50),)], level(0), level(10), "o1")
    upright = {n: e for n, e in body.edges.items() if n.count("side") == 2}
    assert volume(blends.fillet(body, upright, 8, "o2")) == pytest.approx((4000 - (4 - math.pi) * 64) * 10, rel=1e-9)


def test_cube_with_all_edges_rounded():
    """Source: inclusion of corner balls: a = 20, r = 3 gives 7572.619359."""
    body = prism(TOP, [(rectangle(20, 20),)], level(0), level(20), "o1")
    rounded = blends.fillet(body, dict(body.edges), 3, "o2")
    assert volume(rounded) == pytest.approx(7572.619359, rel=1e-8)
    assert len([n for n in names(rounded) if ":corner:" in n]) == 8


def test_booleans_of_offset_cubes():
    """Source: manifold3d 3.5.4: union 1875, common 125, difference 875."""
    a = prism(TOP, [(rectangle(10, 10),)], level(0), level(10), "a")
    b = prism(TOP, [(rectangle(10, 10, "d", 5, 5),)], level(5), level(15), "b")
    assert [volume(boolean(d, a, b)) for d in ("add", "overlap", "cut")] == pytest.approx([1875, 125, 875], rel=1e-9)


def test_uniting_flush_faces_keeps_both_names():
    a = prism(TOP, [(rectangle(10, 10),)], level(0), level(10), "a")
    b = prism(TOP, [(rectangle(10, 10, "d", 10, 0),)], level(0), level(10), "b")
    united = boolean("add", a, b)
    assert len(united.faces) == 6
    assert len(united.find_faces("a:end")) == 1
    assert united.find_faces("a:end") == united.find_faces("b:end")


def test_names_are_the_same_when_a_size_is_halved_or_doubled():
    middle, small, large = stages(80, 50), stages(50, 30), stages(160, 100)
    assert names(middle) == names(small) == names(large)
    assert set(middle.edges) == set(small.edges) == set(large.edges)
    assert set(middle.vertices) == set(large.vertices)
    assert len(names(middle)) == len(middle.faces)


def test_a_split_face_means_all_its_pieces():
    body = stages(80, 50)
    assert len(body.find_faces("o1:end")) == 2
    assert all(n.startswith("o1:end#(") for n in names(body) if n.startswith("o1:end"))


def test_a_fillet_stays_on_its_edge_when_a_cut_comes_before_it():
    edge = "(o1:side:c0|o1:side:c1)"
    plain = plate()
    cut = boolean("cut", plain, prism(TOP, [(rectangle(20, 6, "q", 30, -1),)], level(-1), level(11), "o9"))
    for body in (plain, cut):
        (found,) = body.find_edges(edge)
        rounded = blends.fillet(body, {edge: found}, 3, "o3")
        (_face,) = rounded.find_faces(f"o3:blend:{edge}")
        assert volume(body) - volume(rounded) == pytest.approx((1 - math.pi / 4) * 9 * 10, rel=1e-6)


def test_a_lost_edge_is_not_guessed_but_has_candidates():
    body = plate()
    assert body.find_edges("(o1:side:c0|o7:end)") == []
    near = body.candidates("(o1:side:c0|o7:end)", list(body.edges))
    assert near and all("o1:side:c0" in n for n in near)


def test_a_fillet_that_is_too_large_says_what_would_fit():
    body = prism(TOP, [(rectangle(20, 20),)], level(0), level(10), "o1")
    edge = {"(o1:side:c0|o1:side:c1)": body.edges["(o1:side:c0|o1:side:c1)"]}
    with pytest.raises(KernelRefusal, match=r"about 1[89]"):
        blends.fillet(body, edge, 25, "o2")


def test_of_edges_that_cannot_be_rounded_together_the_ones_at_fault_are_found():
    """A plate 80 x 20: at a short side two rounds of 12 each have room alone and not together, as 24 > 20."""
    body = prism(TOP, [(rectangle(80, 20),)], level(0), level(10), "o1")
    edges = {
        k: body.edges[k] for k in ("(o1:side:c0|o1:side:c1)", "(o1:side:c1|o1:side:c2)", "(o1:side:c0|o1:side:c3)")
    }
    pair = set(list(edges)[:2])
    with pytest.raises(KernelRefusal, match="at 2 of 3 edges; about 9") as refusal:
        blends.fillet(body, edges, 12, "o2")
    assert set(refusal.value.at) == pair
    for edge in pair:
        assert blends.fillet(body, {edge: edges[edge]}, 12, "o2")
    with pytest.raises(KernelRefusal, match="at 2 of 3 edges") as refusal:
        blends.chamfer(body, edges, blends.ChamferSize(12), False, "o2")
    assert set(refusal.value.at) == pair


def test_a_crossed_outline_is_refused():
    p = [(0, 0), (10, 10), (10, 0), (0, 10)]
    bow = tuple(Side(f"l{i}", p[i], p[(i + 1) % 4]) for i in range(4))
    with pytest.raises(KernelRefusal, match="crosses itself"):
        prism(TOP, [(bow,)], level(0), level(5), "o1")


def test_labels_travel_with_the_bytes():
    body = stages(80, 50)
    again = Labelled.from_bytes(body.to_bytes())
    assert again.faces == body.faces and set(again.edges) == set(body.edges)


def test_mesh_encloses_nearly_the_volume():
    """Source: divergence theorem on the triangles."""
    import numpy as np

    body = stages(80, 50)
    m = mesh(body, 0.1)
    p = np.frombuffer(m["points"], np.float32).reshape(-1, 3).astype(float)
    t = p[np.frombuffer(m["triangles"], np.int32).reshape(-1, 3)]
    enclosed = np.einsum("ij,ij->i", t[:, 0], np.cross(t[:, 1], t[:, 2])).sum() / 6
    assert enclosed == pytest.approx(volume(body), rel=2e-3)
    assert len(m["convex"]) == len(m["edges"]) and {"smooth", "convex"} <= set(m["convex"])


def test_step_is_read_back_by_another_kernel(tmp_path):
    """Reader: arris 0.9.1, which did not write the file and shares no code with the kernel."""
    arris = pytest.importorskip("arris")
    body = stages(80, 50)
    step.write(tmp_path / "x.step", [step.Product("Prüfplatte", (step.WrittenSolid("Prüfplatte", body),))])
    text = (tmp_path / "x.step").read_text("utf-8")
    assert "MANIFOLD_SOLID_BREP" in text and "AP242" in text
    model = arris.Model()
    (solid,) = model.read_step(text).solids
    assert solid.ok
    assert model.mass_properties(solid.body).volume == pytest.approx(volume(body), rel=1e-6)
