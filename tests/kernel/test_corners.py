"""The picture names corners by the rule by which the kernel's side names vertices: both must agree, or a click finds nothing."""

import numpy as np
import pytest

pytest.importorskip("OCP")

from tests.support.plates import TOP, level, plate, rectangle
from tests.support.shapes import SOLIDS
from tests.support.swept import box

from architectonic.base.labels import faces_around, kind_of, pair
from architectonic.describe.recipes import FindInput, Wanted
from architectonic.family.records import Witness
from architectonic.kernel.measure.mesh import mesh
from architectonic.kernel.shapes.curves import point_of
from architectonic.kernel.solids.prisms import boolean, prism
from architectonic.make.fault import MakeFault
from architectonic.make.nearest import nearest
from architectonic.make.queries import find
from architectonic.render.camera import BodyMesh
from architectonic.session.picking.picked import reference, witness


@pytest.mark.parametrize(("make", "_"), SOLIDS)
def test_every_corner_of_the_picture_is_a_vertex_of_the_body(make, _):
    body = make()
    corners = BodyMesh.from_result(mesh(body)).corners
    assert set(corners) <= set(body.vertices)
    for label, at in corners.items():
        assert np.allclose(at, point_of(body.vertices[label]), atol=1e-3), label
    met = {k for k in body.vertices if len(pair(k)) > 1}  # that of one closed edge is where it happens to begin
    assert met <= set(corners)


def test_a_box_has_eight_of_three_faces_each():
    picture = BodyMesh.from_result(mesh(box()))
    assert len(picture.corners) == 8
    assert all(kind_of(k) == "vertex" and len(faces_around(k)) == 3 for k in picture.corners)
    label = next(k for k, at in picture.corners.items() if np.allclose(at, (0, 0, 0)))
    seen = witness(picture, "vertex", label)
    assert seen.kind == "vertex" and seen.at == (0.0, 0.0, 0.0) and set(seen.neighbours) == faces_around(label)
    assert reference(picture, "b", "vertex", label).label == label and picture.has(label)
    assert witness(picture, "vertex", "((a|b)|(b|c)|(c|a))") is None


def test_a_vertex_is_found_though_its_edges_were_split_since():
    """A notch parts the edge that runs to the corner: the vertex is still the one between its three faces."""
    body = plate()
    label, vertex = next((k, v) for k, v in body.vertices.items() if len(faces_around(k)) == 3)
    x, y, z = point_of(vertex)
    side = (x + (15 if x < 1 else -25), y - 3, -1.0)
    notch = prism(TOP, [(rectangle(10, 6, "q", side[0], side[1]),)], level(-1), level(11), "o9")
    cut = boolean("cut", body, notch)
    assert label not in cut.vertices  # its edges have other names now
    (found,) = cut.find_vertices(label)
    assert point_of(found) == pytest.approx((x, y, z))
    answer, _ = find(FindInput("vertex", Wanted(label, None)), [cut])
    assert answer.point == pytest.approx((x, y, z))


def test_a_lost_vertex_has_the_nearest_of_those_that_share_most_faces_with_it():
    body = box()
    labels = {tuple(round(c) for c in point_of(v)): k for k, v in body.vertices.items()}
    near = labels[(0, 0, 0)]
    lost = near.replace("o1:start", "o7:gone")
    seen = Witness(kind="vertex", at=(1.0, 1.0, 0.0))
    assert nearest([body], Wanted(lost, seen), "vertex")[0] == near
    with pytest.raises(MakeFault) as fault:
        find(FindInput("vertex", Wanted(lost, seen)), [body])
    assert fault.value.problem.code == "vertex.missing" and fault.value.problem.candidates[0] == near


def test_a_lost_straight_edge_is_not_likelier_to_be_a_round_one_that_lies_nearer():
    """A plate with a bore: the rim of the bore shares the top with the lost edge and lies at its witness; a line does not."""
    body = plate()
    rim = next(k for k in body.edges if "o1:end" in k and k.count("side") == 1 and _round(body, k))
    seen = Witness(kind="line", convex="convex", at=tuple(round(c, 3) for c in _middle(body, rim)))
    found = nearest([body], Wanted("(o1:end|o9:gone)", seen), "edge")
    assert len(found) == 5 and not any(_round(body, k) for k in found[:4])


def _round(body, label):
    from architectonic.kernel.shapes.witness import edge_kind

    return edge_kind(body.edges[label]) == "circle"


def _middle(body, label):
    from architectonic.kernel.shapes.labelled import centre

    return centre(body.edges[label])
