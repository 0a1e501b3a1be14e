"""Outside parts: STEP files in and out, used as reference or to build on; files that change, and that are missing."""

import math
import os
import random
import re
import subprocess
import sys
import threading
import time

import pytest
from bench import hostile

import architectonic as a
from architectonic.base import kept, rigid
from architectonic.base.cancel import Cancelled, CancelToken, Watch
from architectonic.base.errors import UserFault
from architectonic.family import edits
from architectonic.kernel import stepin
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.session.files import outside
from architectonic.session.files.outside import look

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Outside", sizes=("S", "L"), store=store) as opened:
        assert opened.engine
        yield opened


def casting(family, high="20 mm", name="Casting"):
    """A block of 60 x 40 with a hole of 10; its volume in closed form."""
    part = family.part(name)
    outline = part.sketch("Outline")
    outline.rectangle("60 mm", "40 mm")
    part.extrude(make=name, regions=outline.region(), far=high, name="Block")
    part.hole(
        places=(part.operation("Block").face("end"), "15 mm", "20 mm"), bodies=name, diameter="10 mm", far="through"
    )
    return part


@pytest.fixture
def file(family, tmp_path):
    casting(family)
    family.export("Casting", tmp_path / "casting.step")
    return tmp_path / "casting.step"


VOLUME = 60 * 40 * 20 - math.pi * 25 * 20


def in_unit(file, unit):
    """The same file with its lengths called otherwise, as another program writes it."""
    text = file.read_text("utf-8")
    changed, count = re.subn(r"SI_UNIT\(\.MILLI\.,\.METRE\.\)", unit, text)
    assert count
    made = file.with_name("other.step")
    made.write_text(changed, "utf-8")
    return made


def test_a_body_to_build_on_has_the_volume_and_colour_that_the_file_says(family, file):
    part = family.part("Housing")
    (body,) = part.from_file(file)
    assert body.name == "Casting" and body.volume == pytest.approx(VOLUME, rel=1e-9)
    assert part.model.bodies[body.id].colour == "#93A9BA"
    top = body.face(kind="plane", normal="+z")
    part.hole(places=(top, "40 mm", "20 mm"), bodies="Casting", diameter="6 mm", far="through")
    assert body.volume == pytest.approx(VOLUME - math.pi * 9 * 20, rel=1e-9)


def test_a_reference_is_seen_but_never_cut_weighed_or_written(family, file, tmp_path):
    part = family.part("Housing")
    part.from_file(file, role="reference")
    outline = part.sketch("Slot")
    outline.rectangle("30 mm", "30 mm")
    made = part.extrude(make="Cover", regions=outline.region(), far="25 mm")
    assert made.problem is None
    cut = part.extrude(cut="Casting", regions=outline.region(), far="5 mm")
    assert cut.problem.code == "body.backdrop"
    cut.delete()
    family.export("Housing", tmp_path / "housing.step")
    assert [b.path[-1] for b in look(tmp_path / "housing.step").found.bodies] == ["Housing"]


def test_lengths_in_inches_come_out_in_mm(family, file):
    """An inch is 25.4 mm (exact, international yard and pound agreement of 1959)."""
    text = file.read_text("utf-8")
    number = max(int(n) for n in re.findall(r"^#(\d+)", text, re.M))
    (unit,) = set(
        re.findall(r"#(\d+) ?= ?\( ?LENGTH_UNIT\(\) ?NAMED_UNIT\(\*\) ?SI_UNIT\(\.MILLI\.,\.METRE\.\) ?\);", text)
    )
    text = re.sub(
        rf"#{unit} ?= ?\(.*?\);",
        f"#{number + 1} = DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.);\n"
        f"#{number + 2} = (LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(.MILLI.,.METRE.));\n"
        f"#{number + 3} = LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#{number + 2});\n"
        f"#{unit} = (CONVERSION_BASED_UNIT('INCH',#{number + 3}) LENGTH_UNIT() NAMED_UNIT(#{number + 1}));",
        text,
        count=1,
        flags=re.S,
    )
    other = file.with_name("inches.step")
    other.write_text(text, "utf-8")
    looked = look(other)
    assert looked.found.units == ("inch",)
    assert looked.found.bodies[0].volume == pytest.approx(VOLUME * 25.4**3, rel=1e-6)
    part = family.part("Housing")
    (body,) = part.from_file(other, unit="mm")  # the file says inches and means mm
    assert body.volume == pytest.approx(VOLUME, rel=1e-6)


def test_structure_names_and_places_come_back(family, file, tmp_path):
    casting(family, "12 mm", "Lid")
    pair = family.assembly("Pair")
    pair.place("Casting", name="Below")
    pair.place("Lid", name="Above", placement=rigid.shift(0, 0, 20))
    pair.place("Lid", name="Beside", placement=rigid.shift(100, 0, 0))
    whole = family.assembly("Whole")
    whole.place("Pair", name="First pair")
    family.export("Whole", tmp_path / "whole.step")
    assert re.search(r"FILE_NAME\([^;]*'Architectonic'", (tmp_path / "whole.step").read_text("utf-8"), re.S)
    found = look(tmp_path / "whole.step").found
    assert {b.path: b.product for b in found.bodies} == {
        ("First pair", "Below"): "Casting",
        ("First pair", "Above"): "Lid",
        ("First pair", "Beside"): "Lid",
    }
    heights = {b.path[-1]: (b.box[2], b.box[0]) for b in found.bodies}
    assert heights["Above"] == pytest.approx((20, 0), abs=1e-6) and heights["Beside"] == pytest.approx(
        (0, 100), abs=1e-6
    )
    text = (tmp_path / "whole.step").read_text("utf-8")
    assert "AP242" in text and len(re.findall(r"MANIFOLD_SOLID_BREP\(", text)) == 2  # each part once
    made = family.from_file(tmp_path / "whole.step", "Bought")
    assert len(made.record.instances) == 3
    names = {d.name for d in family}
    assert {"Casting 2", "Lid 2", "Bought"} <= names


def test_holes_and_materials_are_written_as_properties(family, tmp_path):
    part = casting(family)
    part.tapped_hole(
        places=(part.operation("Block").face("end"), "40 mm", "20 mm"), bodies="Casting", size="M4", far="8 mm"
    )
    part.body("Casting").made_of("steel")
    family.export("Casting", tmp_path / "x.step")
    text = (tmp_path / "x.step").read_text("utf-8")
    assert "Holes: Tapped hole" in text and "thread M4" in text and "hand right" in text
    assert "'steel'" in text and "7.85" in text


def test_a_file_that_changes_keeps_what_is_the_same(family, file, tmp_path):
    part = family.part("Housing")
    (body,) = part.from_file(file, name="Supplied")
    side = body.face(kind="plane", normal="-x")
    record = part.operation("Supplied").record
    assert outside.stale(family.family, None) == []
    family["Casting"].hole(
        places=(family["Casting"].operation("Block").face("end"), "45 mm", "20 mm"),
        bodies="Casting",
        diameter="6 mm",
        far="through",
    )
    family.export("Casting", file)
    (stale,) = outside.stale(family.family, None)
    assert stale.state == "changed"
    before, looked = outside.accepted(record), look(file)
    told = [c.what for c in outside.differences(record, before, looked.found)]
    assert told[0] == "5 of 7 faces as they were, 2 changed" and "volume" in told[1]
    labels = {f.label for f in body.faces()}
    family.edit("take", lambda f: outside.take(f, part.id, record.id, looked, before))
    assert body.volume == pytest.approx(VOLUME - math.pi * 9 * 20, rel=1e-9)
    assert len(labels & {f.label for f in body.faces()}) == 5
    assert side.area == pytest.approx(40 * 20)
    assert outside.stale(family.family, None) == []


def test_a_missing_file_leaves_a_box(family, file, tmp_path, monkeypatch):
    part = family.part("Housing")
    (body,) = part.from_file(file, name="Supplied")
    assert body.volume == pytest.approx(VOLUME, rel=1e-9)
    record = part.operation("Supplied").record
    lost = edits.replace(record, content="nowhere-000000000000000000000000.step")
    family.edit("lost", lambda f: edits.replace_operation(f, part.id, lost))
    assert part.operation("Supplied").problem.code == "outside.missing"
    assert "boxes stand in" in part.operation("Supplied").problem.what
    assert body.volume == pytest.approx(60 * 40 * 20, rel=1e-9)


def test_a_family_carries_its_files_along(family, file, tmp_path, store):
    part = family.part("Housing")
    part.from_file(file)
    family.save(tmp_path / "stored")
    (copy,) = (tmp_path / "stored" / "kept").iterdir()
    assert copy.read_bytes() == file.read_bytes()
    file.unlink()
    kept.told(())
    with a.open(tmp_path / "stored", store=tmp_path / "other store") as again:
        assert again["Housing"].body("Casting").volume == pytest.approx(VOLUME, rel=1e-9)


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("x.step", b"", "empty"),
        ("x.step", b"hello", "no STEP file"),
        ("x.txt", b"ISO-10303-21;", "no STEP file"),
        (
            "x.step",
            b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=CARTESIAN_POINT('',(0.,0.,0.));\n",
            "damaged|made out|no bodies",
        ),
    ],
)
def test_files_that_cannot_be_used_say_why(family, tmp_path, name, content, said):
    (tmp_path / name).write_bytes(content)
    part = family.part("Housing")
    with pytest.raises(UserFault, match=said):
        part.from_file(tmp_path / name)
    assert not part.model.build and not part.model.bodies


def test_half_a_file_is_refused(family, file):
    data = file.read_bytes()
    file.write_bytes(data[: len(data) // 2])
    part = family.part("Housing")
    with pytest.raises(UserFault):
        part.from_file(file)
    assert not part.model.build


def test_a_very_large_file_is_refused_before_it_is_read(family, tmp_path, monkeypatch):
    monkeypatch.setattr(outside, "MOST_BYTES", 10)
    (tmp_path / "x.step").write_bytes(b"ISO-10303-21;\n" * 3)
    with pytest.raises(UserFault, match="at most"):
        family.part("Housing").from_file(tmp_path / "x.step")


BODIES = sorted(n for n, (kind, _, _) in hostile.MAKERS.items() if kind == "bodies" and not n.startswith("products of"))


@pytest.mark.parametrize("name", BODIES)
def test_hostile_files_are_one_sentence(family, tmp_path, monkeypatch, name):
    monkeypatch.setattr(hostile, "MAKERS", {name: hostile.MAKERS[name]})
    ((_, _, path),) = hostile.hostile(tmp_path, random.Random(3))
    with pytest.raises(UserFault) as told:
        look(path)
    assert "\n" not in told.value.sentence


def test_more_bodies_than_are_read_are_refused(tmp_path, monkeypatch):
    monkeypatch.setattr(stepin, "MOST", 30)
    path = tmp_path / "many.step"
    path.write_bytes(hostile.nested_products(5, 2))
    with pytest.raises(KernelRefusal, match="more than 30 bodies"):
        stepin.read(path)


def test_what_asks_for_too_much_memory_is_told(tmp_path):
    path = tmp_path / "many.step"
    path.write_bytes(hostile.nested_products(12, 2))
    program = (
        "import sys, pathlib, tempfile\nfrom architectonic.session.open.engine import Engine\n"
        "from architectonic.session.files import outside\nfrom architectonic.base.errors import ArchitectonicError\n"
        "engine = Engine.start(pathlib.Path(tempfile.mkdtemp()), 1)\n"
        "try:\n    outside.look(pathlib.Path(sys.argv[1]))\n"
        "except ArchitectonicError as fault:\n    print(fault)\nengine.close()"
    )
    limits = os.environ | {"ARCHITECTONIC_READ_MEMORY": "1000000"}
    done = subprocess.run(
        [sys.executable, "-c", program, str(path)], env=limits, capture_output=True, text=True, check=True
    )
    assert "memory" in done.stdout and done.stdout.count("\n") == 1 and "write out fewer parts" in done.stdout


def test_looking_is_stopped_at_once_and_its_worker_ended(family, tmp_path):
    """Where it would take half a minute to the end."""
    path, token = tmp_path / "many.step", CancelToken()
    path.write_bytes(hostile.nested_products(17, 2))
    pool = family.engine.pool
    pool.warm()

    def stop():
        while not any(w.busy for w in list(pool._workers.values())):
            time.sleep(0.01)
        busy.extend(w.process for w in pool._workers.values() if w.busy)
        token.cancel()

    busy = []
    threading.Thread(target=stop).start()
    with pytest.raises(Cancelled):
        look(path, Watch(token))
    assert busy[0].wait() == -9
    assert casting(family, name="Later").body("Later").volume == pytest.approx(VOLUME, rel=1e-9)


def test_a_body_that_is_not_in_the_file_is_told(family, file):
    with pytest.raises(UserFault, match="bodies are Casting"):
        family.part("Housing").from_file(file, "Nobody")


def test_what_is_written_is_read_by_another_reader(family, tmp_path):
    """Reader: arris 0.9.1 for volumes, steputils 0.1 for names, colours and places; neither shares code with the kernel."""
    arris, p21 = pytest.importorskip("arris"), pytest.importorskip("steputils.p21")
    part = casting(family)
    lid = casting(family, "12 mm", "Lid")
    lid.body("Lid").made_of("steel")
    pair = family.assembly("Pair")
    pair.place("Casting", name="Below")
    pair.place("Lid", name="Above", placement=rigid.shift(0, 0, 20))
    pair.place("Lid", name="Beside", placement=rigid.shift(100, 0, 0))
    file = tmp_path / "pair.step"
    family.export("Pair", file)
    model = arris.Model()
    volumes = {round(model.mass_properties(s.body).volume, 3) for s in model.read_step(file.read_text("utf-8")).solids}
    ours = {round(p.body(n).volume, 3) for p, n in ((part, "Casting"), (lid, "Lid"))}
    assert len(volumes) == len(ours)
    assert sorted(volumes) == pytest.approx(sorted(ours), rel=1e-7)
    found = [i for i in p21.readfile(str(file)).data[0].instances.values() if hasattr(i, "entity")]
    named = {name: [i.entity.params for i in found if i.entity.name == name] for name in {i.entity.name for i in found}}
    assert {p[0] for p in named["PRODUCT"]} == {"Pair", "Casting", "Lid"}
    assert sorted(p[1] for p in named["NEXT_ASSEMBLY_USAGE_OCCURRENCE"]) == ["Above", "Below", "Beside"]
    places = {tuple(float(c) for c in p[1]) for p in named["CARTESIAN_POINT"] if len(p[1]) == 3}
    assert {(0.0, 0.0, 20.0), (100.0, 0.0, 0.0)} <= places
    colours = {tuple(round(255 * float(c)) for c in p[1:]) for p in named["COLOUR_RGB"]}
    assert colours == {(0x93, 0xA9, 0xBA)}  # the first of the palette, of both
