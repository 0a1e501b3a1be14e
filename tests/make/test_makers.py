"""Makers called in this process: input records to shapes, and every refusal as a problem."""

import math

import msgspec
import pytest

pytest.importorskip("OCP")

from tests.support.makers import FRONT, TOP, areas, block, extrude, level, make, measured, square

from architectonic.describe import recipes
from architectonic.describe.operations.solids.extrude import ExtrudeInput
from architectonic.describe.results import Recipe
from architectonic.describe.sketch.solve import piece_result
from architectonic.make.fault import MakeFault
from architectonic.make.registry import MAKERS
from architectonic.propagate.keys import encode, key_of
from architectonic.sketch.curves import piece, regions
from architectonic.worker.protocol import Request
from architectonic.worker.server import handle
from architectonic.worker.shapes import Shapes


def test_inputs_survive_the_way_to_a_worker():
    given = extrude([*square(10), piece.circle("h", (5, 5), 2)])
    again = msgspec.msgpack.decode(encode(given), type=MAKERS["extrude"].input)
    assert again == given and encode(again) == encode(given)


@pytest.mark.parametrize(("frame", "box"), [(TOP, (0, 0, 0, 10, 10, 4)), (FRONT, (0, -4, 0, 10, 0, 10))])
def test_an_extrude_stands_where_its_plane_stands(frame, box):
    _, made = make("extrude", extrude(square(10), end=4.0, frame=frame))
    assert measured(made["b"])["box_mm"] == pytest.approx(box, abs=1e-9)


def test_several_areas_make_one_body_of_several_solids():
    _, made = make("extrude", extrude([*square(10), *square(5, 20, 0, "d")]))
    m = measured(made["b"])
    assert m["solids"] == 2 and m["volume_mm3"] == pytest.approx(1000 + 250, rel=1e-9)


def test_adjacent_regions_make_one_solid_without_a_wall_between():
    _, made = make("extrude", extrude([*square(10), piece.line("t", (0, 4), (10, 4))]))
    m = measured(made["b"])
    assert m["solids"] == 1 and m["faces"] == 6 and m["volume_mm3"] == pytest.approx(1000, rel=1e-9)


def test_a_half_disc_and_a_ring():
    """Closed forms: pi r^2 / 2 h, and pi (R^2 - r^2) h."""
    half = [piece.arc("a", (0, 0), (6, 0), (-6, 0)), piece.line("l", (-6, 0), (6, 0))]
    _, made = make("extrude", extrude(half, end=3.0))
    assert measured(made["b"])["volume_mm3"] == pytest.approx(math.pi * 36 / 2 * 3, rel=1e-9)
    rings = [r for r in regions.find([piece.circle("a", (0, 0), 9), piece.circle("b", (0, 0), 7)]) if "/" in r.label]
    loops = tuple(tuple(tuple(piece_result(p) for p in loop) for loop in o) for o in regions.outline(rings))
    ring = ExtrudeInput(
        operation="o",
        does="make",
        bodies=("b",),
        prisms=(recipes.Prism(area=recipes.Area(TOP, loops), start=level(0), end=level(2)),),
    )
    _, made = make("extrude", ring)
    assert measured(made["b"])["volume_mm3"] == pytest.approx(math.pi * (81 - 49) * 2, rel=1e-9)


@pytest.mark.parametrize(("does", "volume"), [("add", 4000 + 125), ("cut", 4000 - 375), ("overlap", 375)])
def test_what_an_extrude_does(does, volume):
    """A 5 x 5 post from 2.5 below the block's top ... 5 above it, standing half inside: sums of boxes."""
    post = extrude(square(5, 5, 5, "d"), does, -5.0, 15.0, operation="o2") if does == "cut" else None
    if does == "cut":
        post = extrude(square(5, 5, 5, "d"), does, -5.0, 15.0, operation="o2")
        expected = 4000 - 250
    elif does == "add":
        post = extrude(square(5, 5, 5, "d"), does, 0.0, 15.0, operation="o2")
        expected = 4000 + 125
    else:
        post = extrude(square(5, 5, 5, "d"), does, 0.0, 15.0, operation="o2")
        expected = 250
    names, made = make("extrude", post, [block()])
    assert names == ["b"] and measured(made["b"])["volume_mm3"] == pytest.approx(expected, rel=1e-9)


def test_an_end_on_a_sloping_plane_is_a_wedge():
    """A 10 x 10 prism under the plane z = 4 + u: volume is area times the height over the centroid (Pappus), so
    100 * (4 + 5); the sloping face has sqrt(2) times the area."""
    _, made = make("extrude", extrude(square(10), "make", 0.0, (4.0, 1.0, 0.0)))
    wedge = measured(made["b"])
    assert wedge["volume_mm3"] == pytest.approx(900, rel=1e-12)
    assert wedge["area_mm2"] == pytest.approx(100 + 100 * math.sqrt(2) + 10 * 4 + 10 * 14 + 2 * 90, rel=1e-9)
    assert {n[0] for n in made["b"].faces} == {"o1:start", "o1:end", *(f"o1:side:c{i}" for i in range(4))}


def test_both_ends_slope_and_a_round_outline_keeps_its_names():
    """A cylinder of radius 3 between z = -2 - v / 2 and z = 5 + u: pi r^2 times the heights over its centre."""
    _, made = make("extrude", extrude([piece.circle("r", (1.0, 2.0), 3.0)], "make", (-2.0, 0.0, -0.5), (5.0, 1.0, 0.0)))
    assert measured(made["b"])["volume_mm3"] == pytest.approx(math.pi * 9 * ((5 + 1) - (-2 - 1)), rel=1e-9)
    assert {n[0] for n in made["b"].faces} == {"o1:start", "o1:end", "o1:side:r"}
    _, down = make("extrude", extrude([piece.circle("r", (1.0, 2.0), 3.0)], "make", (2.0, 0.0, 0.5), (-5.0, -1.0, 0.0)))
    assert measured(down["b"])["volume_mm3"] == pytest.approx(math.pi * 9 * 9, rel=1e-9)


def test_only_bodies_that_are_touched_change():
    far = make("extrude", extrude(square(20, 500, 0)))[1]["b"]
    names, made = make(
        "extrude", extrude(square(5, 5, 5, "d"), "cut", bodies=("near", "far"), operation="o2"), [block(), far]
    )
    assert names == ["near"] and set(made) == {"near"}


@pytest.mark.parametrize(
    ("given", "code"),
    [
        (extrude(square(5, 900, 0, "d"), "cut", operation="o2"), "operation.no_effect"),
        (extrude(square(50, -5, -5, "d"), "cut", -5.0, 50.0, operation="o2"), "operation.nothing_left"),
        (extrude(square(5, 900, 0, "d"), "overlap", operation="o2"), "operation.nothing_left"),
    ],
)
def test_refusals_of_an_extrude(given, code):
    with pytest.raises(MakeFault) as caught:
        make("extrude", given, [block()])
    assert caught.value.problem.code == code and caught.value.problem.mend


def face(label, witness=None):
    return recipes.FaceInput(recipes.Wanted(label, witness))


def test_a_face_is_found_with_its_outward_normal_and_a_lost_one_has_candidates():
    found, _ = make("face", face("o1:start"), [block()])
    assert found["normal"] == (0, 0, -1) and found["origin"] == (0, 0, 0)
    found, _ = make("face", face("o1:end"), [block()])
    assert found["origin"] == (0, 0, 10)
    with pytest.raises(MakeFault) as caught:
        make("face", face("o1:side:gone"), [block()])
    assert caught.value.problem.severity == "missing"


def test_a_face_parted_in_height_is_refused():
    step = make("extrude", extrude([piece.circle("r", (10, 10), 4)], "cut", operation="o2"), [block()])[1]["b"]
    with pytest.raises(MakeFault) as caught:
        make("face", face("o2:side:r"), [step])
    assert caught.value.problem.code == "face.not_planar"


def test_the_key_depends_on_every_input():
    base = extrude(square(10))
    keys = {key_of(Recipe("extrude", base), encode(base))}
    for change in (
        {"end": level(11.0)}, {"draft": 0.1}, {"up": False}, {"area": recipes.Area(FRONT, areas(*square(10)))},
        {"area": recipes.Area(TOP, areas(*square(11)))},
    ):  # fmt: skip
        other = msgspec.structs.replace(base, prisms=(msgspec.structs.replace(base.prisms[0], **change),))
        keys.add(key_of(Recipe("extrude", other), encode(other)))
    for change in ({"does": "add"}, {"operation": "o2"}, {"bodies": ("c",)}):
        other = msgspec.structs.replace(base, **change)
        keys.add(key_of(Recipe("extrude", other), encode(other)))
    keys.add(key_of(Recipe("extrude", base, ("a.b",)), encode(base)))
    keys.add(key_of(Recipe("mesh", base), encode(base)))
    assert len(keys) == 11
    assert key_of(Recipe("extrude", extrude(square(10))), encode(extrude(square(10)))) in keys


def request(kind, given, store, shapes=(), key="k1"):
    return Request(key, kind, msgspec.Raw(encode(given)), tuple(shapes), str(store))


def test_a_worker_keeps_shapes_on_disk_for_the_others(tmp_path):
    reply = handle(request("extrude", extrude(square(10)), tmp_path), Shapes())
    assert not reply.problem and not reply.defect
    other = handle(request("measure", recipes.BodyInput(), tmp_path, ["k1.b"], "k2"), Shapes())
    assert msgspec.msgpack.decode(other.value)["volume_mm3"] == pytest.approx(1000)
    assert not list(tmp_path.rglob("*.part"))


def test_a_worker_says_what_is_lost_refused_or_defect(tmp_path):
    lost = handle(request("measure", recipes.BodyInput(), tmp_path, ["nowhere.b"]), Shapes())
    assert lost.lost == "nowhere.b"
    (tmp_path / "shapes" / "to").mkdir(parents=True)
    (tmp_path / "shapes" / "to" / "torn.b").write_bytes(b"\x93half")
    torn = handle(request("measure", recipes.BodyInput(), tmp_path, ["torn.b"]), Shapes())
    assert torn.lost == "torn.b" or torn.defect
    handle(request("extrude", extrude(square(10)), tmp_path, key="k3"), Shapes())
    refused = handle(request("extrude", extrude(square(5, 900, 0, "d"), "cut"), tmp_path, ["k3.b"]), Shapes())
    assert refused.problem is not None and refused.problem.code == "operation.no_effect"
    defect = handle(
        request(
            "step",
            recipes.ExportInput(
                "/nowhere/x.step", (recipes.ExportProduct(name="x", solids=(recipes.ExportSolid(name="b", shape=0),)),)
            ),
            tmp_path,
            ["k3.b"],
        ),
        Shapes(),
    )
    assert "nowhere" in defect.defect
