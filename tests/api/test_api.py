"""The Python interface: every operation of the window by its blanks, selectors, figures, and refusals at the call.

Figures: boxes, cylinders and sections in closed form; second moments of area as in any handbook of mechanics (rectangle
b h^3 / 12, circle pi r^4 / 4, quarter circle (pi/16 - 4/(9 pi)) r^4 about its centre; Gere & Goodno, Mechanics of Materials,
appendix E, cited from memory).
"""

import inspect
import math
from pathlib import Path

import numpy as np
import pytest

import architectonic as a
from architectonic.api.speaking import keyword_of
from architectonic.base import rigid
from architectonic.describe.models.operations import SENTENCES
from architectonic.describe.words.acting import Does
from architectonic.describe.words.datums import DATUMS

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Things", sizes=("S", "L"), store=store) as opened:
        yield opened


@pytest.fixture
def block(family):
    """A part with a block of 40 x 20 x 10 about the origin."""
    part = family.part("Block")
    sketch = part.sketch("Outline")
    sketch.rectangle("40 mm", "20 mm", centred=True)
    part.extrude(make="Block", regions=sketch.region(), far="10 mm", name="Body")
    return part


def test_every_operation_and_datum_of_the_window_is_a_method_whose_keywords_are_its_blanks(block):
    for kind in (*SENTENCES, *DATUMS):
        assert callable(getattr(block, kind)) and kind in dir(block)
    for _, sentence in SENTENCES.values():
        words = [keyword_of(b) for b in sentence.blanks if not isinstance(b, Does)]
        assert len(set(words)) == len(words) and all(w.isidentifier() for w in words)


def test_solids_of_many_kinds(family, block):
    """Groove and bore in closed form, the bore through the whole block; a copy moved and united by a bridge of 10 mm."""
    holes = block.sketch("Bore")
    holes.circle((5, 0), diameter="6 mm")
    block.extrude(cut="Block", regions=holes.region(), far="through")
    assert block.body("Block").volume == pytest.approx(8000 - math.pi * 9 * 10, rel=1e-9)
    move = block.move(bodies="Block", x="50 mm", copies=True)
    (copy,) = move.bodies
    assert copy.volume == pytest.approx(block.body("Block").volume, rel=1e-12)
    assert copy.centre[0] - block.body("Block").centre[0] == pytest.approx(50)
    ends = [block.body("Block").face(normal="+x"), copy.face(normal="-x")]
    assert block.bridge(faces=ends).problem is None
    assert block.body("Block").volume == pytest.approx(2 * (8000 - math.pi * 90) + 10 * 20 * 10, rel=1e-9)
    assert len(block.bodies) == 1


def test_both_ways_ends_walls_and_flags(block):
    tall = block.sketch("Post")
    tall.rectangle("10 mm", "10 mm", centred=True)
    post = block.extrude(make="Post", regions=tall.region(), far=("both", "60 mm"))
    assert post.body.box == pytest.approx((-5, -5, -30, 5, 5, 30))
    shell = block.shell(bodies="Post", thickness="1 mm", faces=post.face("end"), own=(post.face("start"), "3 mm"))
    assert shell.problem is None
    assert post.body.volume == pytest.approx(10 * 10 * 60 - 8 * 8 * 57, rel=1e-9)
    lid = block.datum_offset(plane="top", distance="25 mm", name="Lid")
    cap = block.extrude(make="Cap", regions=tall.region(), far=(lid, "2 mm"), near=("distance", "1 mm")[1])
    assert cap.body.box[2::3] == pytest.approx((-1, 27))


def test_faces_and_edges_by_what_they_are(block):
    body = block.body("Block")
    body_op = block.operation("Body")
    assert len(body.faces()) == 6 and len(body.edges()) == 12 and body.vertices.shape == (8, 3)
    assert len(body.faces(role="side", made_by=body_op)) == 4 and len(body.faces(kind="cylinder")) == 0
    top, front = body.face(normal="+z"), body.face(normal=(0, -1, 0))
    assert top.label.endswith(":end") and top.area == pytest.approx(800) and len(top.edges) == 4
    between = body.edge(between=(top, front))
    assert between.length == pytest.approx(40) and between.at == pytest.approx((0, -10, 10))
    assert len(body.edges(direction="z")) == 4 and len(body.edges(direction=(1, 0, 0), of=top)) == 2
    assert body.edge(near=(20, 10, 5)).at == pytest.approx((20, 10, 5))
    assert len(body.edges(convex="convex")) == 12
    with pytest.raises(a.UserFault, match="12 edges fit"):
        body.edge()
    with pytest.raises(a.UserFault, match="no face fits"):
        body.face(kind="sphere")
    with pytest.raises(a.UserFault, match="is no normal"):
        body.faces(normal="up")


def test_what_is_selected_follows_sizes_and_later_cuts(family, block):
    """A fillet on an edge that was selected before the block got longer and was cut: 40 or 60 mm minus a notch of 8."""
    block.parameter("long", "40 mm", L="60 mm")
    slab = block.sketch("Slab")
    slab.rectangle("long", "20 mm", at=(100, 0))
    made = block.extrude(make="Slab", regions=slab.region(), far="10 mm")
    edge = made.body.edge(between=(made.face("end"), made.body.face(normal="-y")))
    block.fillet(edges=edge, radius="2 mm", name="Rim")
    lost = (1 - math.pi / 4) * 4
    for size, long in (("S", 40), ("L", 60)):
        assert block.in_size(size).body("Slab").volume == pytest.approx(long * 200 - lost * long, rel=1e-9)


def test_positions_have_signs_and_sections_their_moments(block):
    sketch = block.sketch("Section", on="front")
    ring = sketch.circle(("-30 mm", "-12 mm"), radius="5 mm")
    assert ring.centre.position == (-30, -12) and sketch.freedoms == 0
    found = sketch.region().section
    assert found.area == pytest.approx(25 * math.pi, rel=1e-12) and found.centre == (-30, -12)
    assert found.ixx == found.iyy == pytest.approx(math.pi / 4 * 5**4, rel=1e-9) and abs(found.ixy) < 1e-6
    corner = block.sketch("Quarter")
    first, arc = corner.line((0, 0), (10, 0)), corner.arc((0, 0), (10, 0), (0, 10))
    last = corner.line((0, 10), (0, 0))
    for p, q in ((first.end, arc.start), (arc.end, last.start), (last.end, first.start)):
        corner.constrain("coincident", p, q)
    quarter = corner.region(containing=(2, 2)).section
    assert quarter.centre == pytest.approx((40 / 3 / math.pi, 40 / 3 / math.pi), rel=1e-9)
    assert quarter.ixx == pytest.approx((math.pi / 16 - 4 / 9 / math.pi) * 1e4, rel=1e-9)
    large, small, angle = quarter.principal
    assert large > small and abs(abs(angle) - math.pi / 4) < 1e-9


def test_instances_stand_where_they_are_placed(family, block, tmp_path):
    """Two uses of a block, the second turned by 90 degrees about z and shifted by 100 mm: boxes, mass and measurements."""
    whole = family.assembly("Pair")
    whole.place("Block", "First")
    turned = rigid.times(rigid.shift(100, 0, 0), rigid.about_z(math.pi / 2))
    whole.place("Block", "Second", placement=turned)
    with pytest.raises(a.UserFault, match="stretches or mirrors"):
        whole.place("Block", "Third", placement=(2.0, *rigid.IDENTITY[1:]))
    told = family.report("Pair", size="S")["documents"]["Pair"]["configurations"]["S"]["alternates"]["default"]
    assert told["box_mm"] == pytest.approx([-20, -20, 0, 110, 20, 10])
    assert told["instances"][1]["placement"] == pytest.approx(list(turned))
    assert family.export("Pair", tmp_path / "pair.step") == []
    family.picture("Pair", tmp_path / "pair.png", pixels=(320, 200))
    assert (tmp_path / "pair.png").stat().st_size > 1000


def test_read_outs_have_signs_and_angles_their_side(family):
    """A point at the left is at -25; a line drawn at 205 degrees reads 205 and stays there when 205 is asked for."""
    part = family.part("Signs")
    sketch = part.sketch("S")
    left = sketch.point((-25.0, -10.0))
    across = math.cos(math.radians(205)), math.sin(math.radians(205))
    line = sketch.line((0.0, 0.0), (30 * across[0], 30 * across[1]))
    sketch.constrain("coincident", line.start, "origin")
    for name, kind, of in (
        ("across", "horizontal_distance", ("origin", left)),
        ("back", "horizontal_distance", (left, "origin")),
        ("up", "vertical_distance", (left, "origin")),
        ("apart", "horizontal_distance", (left, line.end)),
        ("turned", "angle", ("x_axis", line)),
    ):
        sketch.read_out(kind, *of, name=name)
    read = {n: part.value(f"S.{n}") for n in ("across", "back", "up", "apart", "turned")}
    assert read["across"] == read["back"] == -25 and read["up"] == -10
    assert read["apart"] == pytest.approx(abs(25 + 30 * across[0]))
    assert math.degrees(read["turned"]) == pytest.approx(205)
    sketch.constrain("angle", "x_axis", line, value="205 deg")
    assert line.end.position == pytest.approx((30 * across[0], 30 * across[1]), abs=1e-6)
    other = sketch.line((0.0, 0.0), (30 * across[0], 30 * across[1]))
    sketch.constrain("angle", "x_axis", other, value="155 deg")  # on the side on which it is drawn
    assert other.end.position[1] < 0


def test_impact_check_undo_and_reports(family, block):
    block.parameter("high", "10 mm")
    block.rule("low enough", "high <= 12 mm")
    changed = family.impact({"Block.high": "14 mm"})
    assert [r["holds"] for r in changed["rules"]] == [False, False] and block.value("high") == 10
    family.set("Block.high", "14 mm")
    assert [r["holds"] for r in family.check()["rules"]] == [False, False]
    assert family.undo() == "Block.high = 14 mm" and family.redo() and family.undo()
    assert set(family.report(size="L")["documents"]["Block"]["configurations"]) == {"L"}


WRONG = {
    "an unknown kind": (lambda f, b: b.do("filet"), "did you mean fillet"),
    "an unknown blank": (lambda f, b: b.extrude(make="X", region=1), "did you mean regions"),
    "a number for a length": (lambda f, b: b.fillet(edges=b.body("Block").edges(), radius=2), "such as “2 mm”"),
    "a number for an angle": (lambda f, b: b.turn(bodies="Block", axis="z", angle=30), "such as “30 deg”"),
    "another quantity": (lambda f, b: b.fillet(edges=b.body("Block").edges(), radius="2 deg"), "angle"),
    "nothing to work on": (lambda f, b: b.fillet(radius="2 mm"), "it needs edges"),
    "a body that is not there": (lambda f, b: b.shell(bodies="Bolck", thickness="1 mm"), "bodies are Block"),
    "two verbs": (lambda f, b: b.extrude(make="A", cut="Block", regions=b.sketch("Outline").region()), "either"),
    "text for a flag": (lambda f, b: b.move(bodies="Block", copies="yes"), "neither True nor False"),
    "a plane by a wrong name": (lambda f, b: b.datum_offset(plane="tpo"), "there is no “tpo”"),
    "an unknown size": (lambda f, b: b.in_size("XL"), "there are S, L"),
    "a size by name in own": (lambda f, b: b.parameter("p", "1 mm", XL="2 mm"), "there are S, L"),
    "a number for a parameter": (lambda f, b: b.parameter("p", 3), "such as “3 mm”"),
    "a name that is taken": (lambda f, b: f.part("Block"), "Block"),
    "an unknown document": (lambda f, b: f["Blok"], "Block"),
    "a kind of document": (lambda f, b: f.add("drawing", "D"), "kinds are table"),
    "two sizes of a circle": (lambda f, b: b.sketch("C").circle(radius="1 mm", diameter="2 mm"), "either"),
    "no size of a rectangle": (lambda f, b: b.sketch("C").rectangle("0 mm", "2 mm"), "positive width"),
    "a figure that is not there": (lambda f, b: b.measure("radius", b.body("Block").face(normal="+z")), "round"),
    "something of no other document": (lambda f, b: b.take("T", f["Block"], a="Height"), "nothing of Block"),
    "a value that is not there": (lambda f, b: b.row("Long", hihg="9 mm"), "parameters are none yet"),
    "a constraint of no kind": (lambda f, b: b.sketch("C").constrain("vertcal", "x_axis"), "did you mean vertical"),
    "a constraint of others": (
        lambda f, b: b.sketch("C").constrain("midpoint", "x_axis", "y_axis"),
        "it takes a point and",
    ),
    "a trace of nothing": (lambda f, b: b.sketch("C").trace("Outline"), "cannot be traced"),
    "no folder": (lambda f, b: f.save(), "name one"),
}


@pytest.mark.parametrize("what", WRONG)
def test_wrong_input_is_a_sentence_at_the_call_and_changes_nothing(family, block, what):
    call, told = WRONG[what]
    for name in ("C",):
        block.sketch(name)
    before = family.family
    with pytest.raises(a.UserFault) as fault:
        call(family, block)
    assert told in str(fault.value), fault.value
    assert family.family is before


def test_a_wrong_method_is_told_as_python_does(block):
    with pytest.raises(AttributeError, match="did you mean chamfer"):
        block.chanfer(edges=())
    assert not hasattr(block, "numpy_array_interface")


def test_saving_opening_and_arrays(family, block, tmp_path):
    family.save(tmp_path / "things")
    family.save()
    mesh = block.body("Block").mesh()
    assert isinstance(mesh.points, np.ndarray) and mesh.points.shape[1] == 3
    with a.open(tmp_path / "things") as again:
        assert again.family == family.family and "Block" in again
    with pytest.raises(a.EnvironmentFault, match="not a folder"):
        a.open(tmp_path / "nothing")


def test_saving_loses_nothing_of_others(family, block, tmp_path):
    family.save(tmp_path / "things")
    (tmp_path / "things" / "files" / "table.csv").write_text("Name,mm")
    with a.new("Other") as other:
        other.table("Sizes")
        with pytest.raises(a.UserFault, match="not empty"):
            other.save(tmp_path / "things")
    with a.open(tmp_path / "things") as theirs:
        assert theirs.family == family.family
        theirs["Block"].parameter("theirs", "1 mm")
        theirs.save()
    family["Block"].parameter("mine", "2 mm")
    with pytest.raises(a.UserFault, match="changed on disk by someone else"):
        family.save()
    family.save(tmp_path / "elsewhere")
    assert (tmp_path / "elsewhere" / "files" / "table.csv").exists()
    family["Block"].parameter("more", "3 mm")
    family.save()
    with a.open(tmp_path / "elsewhere") as again, a.open(tmp_path / "things") as theirs:
        assert again.family == family.family
        assert [p.name for p in theirs["Block"].record.parameters] == ["theirs"]


def test_the_public_interface_is_told_everywhere():
    from architectonic.api import bodies, documents, items, opened, operations, sketches

    for module in (bodies, documents, items, opened, operations, sketches):
        for name, found in inspect.getmembers(module, inspect.isclass):
            if found.__module__ == module.__name__ and not name.startswith("_"):
                assert found.__doc__, name
                methods = [m for n, m in vars(found).items() if not n.startswith("_")]
                assert all(getattr(m, "__doc__", "") for m in methods if callable(m) or isinstance(m, property)), name
    assert Path(opened.__file__).exists()
