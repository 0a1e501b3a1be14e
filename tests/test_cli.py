"""The command line: the contract of docs/headless.md, by its shapes and exit statuses."""

import json
import shutil

import pytest

from architectonic import cli
from architectonic.cli import main
from architectonic.exchange import folder

pytestmark = pytest.mark.kernel


@pytest.fixture(scope="module")
def written(store, tmp_path_factory):
    place = tmp_path_factory.mktemp("demo") / "brindle"
    assert main(["demo", "--write", str(place)]) == 0
    return place


def run(capsys, *arguments):
    status = main([str(a) for a in arguments])
    captured = capsys.readouterr()
    return status, captured.out, captured.err


def test_build_json_has_the_shape_of_the_contract(written, capsys):
    capsys.readouterr()
    status, out, _ = run(capsys, "build", written, "--json")
    data = json.loads(out)
    assert status == 0
    assert set(data) == {"family", "format", "parameters", "documents", "rules", "attention", "work"}
    wall = data["parameters"]["Sizes.wall"]
    assert wall == {
        "value": 2.0,
        "unit": "mm",
        "expression": "2 mm",
        "by_configuration": {"S": 2.0, "M": 2.4, "L": 2.8},
    }
    assert data["parameters"]["Elevation.Side.arm_angle"]["unit"] == "deg"
    assert data["parameters"]["Elevation.Side.arm_angle"]["value"] == pytest.approx(28)
    foot = data["documents"]["Foot"]
    assert foot["kind"] == "part" and list(foot["configurations"]) == ["S", "M", "L"]
    m = foot["configurations"]["M"]
    assert set(m) == {"status", "bodies", "sketches", "operations", "feeds", "items", "holes"}
    assert set(m["bodies"][0]) == {
        "name",
        "kind",
        "volume_mm3",
        "area_mm2",
        "mass_g",
        "box_mm",
        "centre_mm",
        "faces",
        "edges",
        "valid",
        "overlaps",
        "same_shape_as",
        "mirrored",
    }
    assert m["bodies"][0]["mass_g"] == pytest.approx(m["bodies"][0]["volume_mm3"] * 1.04e-3)
    assert set(m["sketches"][0]) == {"name", "freedoms", "state", "residual_mm", "regions"}
    assert m["sketches"][0]["state"] == "held" and m["sketches"][0]["residual_mm"] <= 1e-10
    assert {o["status"] for o in m["operations"]} == {"ok"}
    assert {"name": "Foot outline", "from": "Elevation", "from_configuration": "M", "state": "live"} in m["feeds"]
    light = data["documents"]["Light"]["configurations"]["L"]["alternates"]["Reading"]
    assert {i["configuration"] for i in light["instances"]} == {"L"} and len(light["instances"][0]["placement"]) == 16
    assert light["mass_g"] > 0 and len(light["box_mm"]) == 6
    tube = data["documents"]["Arm tube"]["configurations"]
    assert list(tube) == ["S", "M", "L", "L plain", "L cable exit", "Tube 200", "Tube 250", "Tube 315", "Tube 400"]
    slots = {
        row: next(o["status"] for o in t["operations"] if o["name"] == "Lighten the tube") for row, t in tube.items()
    }
    assert [row for row, status in slots.items() if status == "ok"] == [
        "M",
        "L",
        "L cable exit",
        "Tube 315",
        "Tube 400",
    ]
    exits = [
        row for row, t in tube.items() for o in t["operations"] if o["name"] == "Cable exit" and o["status"] == "ok"
    ]
    assert exits == ["L cable exit"]
    assert [o["status"] for o in tube["S"]["operations"] if o["name"] == "Lighten the tube"] == ["off"]
    assert len(data["rules"]) == 15 + 27 + 3 and all(r["holds"] for r in data["rules"])
    assert set(data["work"]) == {"nodes", "computed", "reused", "kernel_seconds", "total_seconds"}


def test_a_second_build_computes_only_what_is_quicker_than_reading(written, capsys):
    run(capsys, "build", written)
    _, out, _ = run(capsys, "build", written, "--json")
    assert json.loads(out)["work"]["kernel_seconds"] == 0


def test_build_of_one_document_and_size(written, capsys):
    status, out, _ = run(capsys, "build", written, "--document", "Cheek_L", "--configuration", "M", "--json")
    data = json.loads(out)
    assert status == 0 and list(data["documents"]) == ["Cheek L"]
    assert list(data["documents"]["Cheek L"]["configurations"]) == ["M"]


def test_impact_says_what_changes_and_what_does_not(written, capsys):
    status, out, _ = run(capsys, "impact", written, "--set", "Sizes.wall@M=2.6 mm", "--json")
    data = json.loads(out)
    assert status == 0 and set(data) == {
        "changed",
        "unchanged",
        "newly_failing",
        "newly_mended",
        "rules",
        "work",
    }
    assert {e["configuration"] for e in data["changed"]} == {"M"}
    assert {e["document"] for e in data["changed"]} == {
        "Sizes",
        "Foot",
        "Collar",
        "Desk clamp",
        "Stand",
        "Ballast",
        "Head front",
        "Head rear",
        "Cheek L",
        "Cheek R",
        "Light",
        "Head",
        "Bezel",
        "Diffuser",
        "Elbow",
        "Elbow joint",
    }
    assert set(data["unchanged"]) == {
        "Elevation",
        "Arm tube",
        "Stem",
        "Louvre",
        "Neck",
        "Wall plate",
        "Knob",
        "Head form",
        "Shade hoop",
        "Spacer",
    }
    wall = next(e for e in data["changed"] if e["quantity"] == "wall")
    assert (wall["before"], wall["after"]) == (2.4, 2.6)


def test_impact_with_a_broken_rule_and_a_failure_exits_with_1(written, capsys):
    status, out, _ = run(capsys, "impact", written, "--set", "Sizes.foot_d=90 mm", "--json")
    data = json.loads(out)
    assert status == 1 and {r["holds"] for r in data["rules"]} == {False}
    status, out, _ = run(capsys, "impact", written, "--set", "Sizes.wall=14 mm", "--json")
    data = json.loads(out)
    assert status == 1 and any("Foot" in e["where"] for e in data["newly_failing"])


def test_check(written, capsys):
    status, out, _ = run(capsys, "check", written, "--json")
    assert status == 0 and set(json.loads(out)) == {"rules", "attention", "checks"}
    status, out, _ = run(capsys, "check", written, "--set", "Sizes.reach=900 mm")
    assert status == 1 and "tips over" in out


def test_export_and_picture(written, capsys, tmp_path):
    status, _, _ = run(capsys, "export", written, "Light", "--configuration", "L", "--to", tmp_path / "light.step")
    text = (tmp_path / "light.step").read_text("utf-8")
    assert status == 0 and text.startswith("ISO-10303-21;")
    for name in ("Stand", "Foot", "Collar", "Stem", "Cheek L", "Arm tube"):
        assert f"PRODUCT('{name}'" in text
    assert text.count("NEXT_ASSEMBLY_USAGE_OCCURRENCE(") == 12  # of the foot, shell and base
    status, _, _ = run(capsys, "picture", written, "Cheek L", "--to", tmp_path / "c.png", "--size", "320x200")
    data = (tmp_path / "c.png").read_bytes()
    assert (
        status == 0
        and data[:8] == b"\x89PNG\r\n\x1a\n"
        and data[16:24] == (320).to_bytes(4, "big") + (200).to_bytes(4, "big")
    )


def test_a_what_if_export_is_not_kept(written, capsys, tmp_path):
    before = {f.name: f.read_bytes() for f in written.glob("*.json")}
    run(capsys, "export", written, "Stem", "--set", "Sizes.height=500 mm", "--to", tmp_path / "s.step")
    assert {f.name: f.read_bytes() for f in written.glob("*.json")} == before


@pytest.mark.parametrize(
    ("arguments", "told"),
    [
        (["build", "/nowhere"], "is not a folder"),
        (["build"], "required"),
        (["build", "F", "--set", "Sizes.wal=2"], "did you mean Sizes.wall?"),
        (["build", "F", "--set", "Sizes.wall=2 deg"], "an angle"),
        (["build", "F", "--set", "nonsense"], "is not a setting"),
        (["build", "F", "--document", "Feet"], "did you mean “Foot”?"),
        (["build", "F", "--configuration", "XXL"], "no configuration"),
        (["impact", "F"], "needs at least one"),
        (["export", "F", "Light", "--to", "light.xyz"], "no format"),
        (["export", "F", "Sizes", "--to", "x.step"], "no bodies"),
        (["export", "F", "Light", "--to", "/nowhere/x.step"], "could not be written"),
        (["picture", "F", "Light", "--to", "x.png", "--size", "big"], "not a size"),
    ],
)
def test_what_cannot_be_done_is_one_sentence_and_status_2(written, capsys, arguments, told):
    status, out, err = run(capsys, *[written if a == "F" else a for a in arguments])
    assert status == 2 and out == ""
    assert told in err and err.count("\n") == 1 and "Traceback" not in err


def test_new(capsys, tmp_path):
    status, out, _ = run(capsys, "new", tmp_path / "Mine", "--sizes", "A, B")
    assert status == 0 and "Mine" in out
    assert [s.name for s in folder.load(tmp_path / "Mine").family.head.sizes] == ["A", "B"]
    assert {p.name for p in (tmp_path / "Mine").iterdir()} == {"family.json", "files", "kept", ".lock"}
    status, out, _ = run(capsys, "build", tmp_path / "Mine", "--json")
    assert status == 0 and json.loads(out)["documents"] == {}
    assert run(capsys, "new", tmp_path / "Mine")[0] == 2


@pytest.fixture
def fresh(tmp_path, written):
    return shutil.copytree(written, tmp_path / "family")


def test_a_linked_file_that_vanishes_or_says_otherwise_is_told_by_check(fresh, capsys):
    status, out, _ = run(capsys, "check", fresh, "--json")
    assert status == 0 and json.loads(out)["attention"] == []
    sheet = fresh / "files" / "sizes.csv"
    sheet.write_text(sheet.read_text("utf-8-sig").replace("90", "95"), "utf-8")
    status, out, _ = run(capsys, "check", fresh, "--json")
    assert status == 1 and "1 new value" in json.loads(out)["attention"][0]["what"]
    sheet.unlink()
    status, out, _ = run(capsys, "check", fresh)
    assert status == 1 and "sizes.csv is not there any more" in out


def test_a_spreadsheet_is_looked_at_then_brought_in(fresh, capsys, tmp_path):
    file = tmp_path / "walls.csv"
    file.write_text("Name;M\nwall;2,6\nrib;1,5\n")
    status, out, _ = run(capsys, "bring", fresh, "Sizes", file, "--look")
    assert status == 0 and "2.4 mm → 2.6" in out and "cells differ" in out
    assert "2.6" not in run(capsys, "build", fresh, "--document", "Sizes", "--json")[1].split('"Sizes.wall"')[1][:200]
    assert run(capsys, "bring", fresh, "Sizes", file)[0] == 0
    values = json.loads(run(capsys, "build", fresh, "--document", "Sizes", "--json")[1])["parameters"]
    assert values["Sizes.wall"]["by_configuration"]["M"] == 2.6 and values["Sizes.rib"]["by_configuration"]["M"] == 1.5


def test_a_drawing_is_brought_onto_a_plane_and_a_sketch_goes_out(fresh, capsys, tmp_path):
    drawing = fresh / "files" / "head-outline.dxf"
    status, out, _ = run(capsys, "bring", fresh, "Elevation", drawing, "--look")
    assert status == 0 and "unit mm" in out and "left out: nothing" in out
    status, out, _ = run(capsys, "bring", fresh, "Elevation", drawing, "--plane", "Shoulder", "--sketch", "Lid")
    assert status == 0 and "8 curves, 8 ends joined" in out
    status, out, _ = run(capsys, "export", fresh, "Elevation", "--sketch", "Lid", "--to", tmp_path / "lid.dxf")
    assert status == 0 and (tmp_path / "lid.dxf").read_text().count("LWPOLYLINE\n") == 0
    assert run(capsys, "export", fresh, "Sizes", "--to", tmp_path / "t.xlsx")[0] == 0
    status, _, err = run(capsys, "bring", fresh, "Elevation", drawing, "--plane", "Nowhere")
    assert status == 2 and "planes are front, top, right, Shoulder" in err
    status, _, err = run(capsys, "export", fresh, "Elevation", "--sketch", "Nowhere", "--to", tmp_path / "n.dxf")
    assert status == 2 and "sketches are Side" in err


def test_a_pose_is_set_from_the_command_line_in_one_alternate_or_in_all(written, capsys):
    def turned(*settings):
        _, out, _ = run(capsys, "build", written, "--document", "Light", "--configuration", "M", "--json", *settings)
        found = json.loads(out)["documents"]["Light"]["configurations"]["M"]["alternates"]
        return {n: next(j["value"] for j in a["joints"] if j["name"] == "Shoulder") for n, a in found.items()}

    assert turned()["Folded"] == 86 and turned()["Reading"] == 28
    one = turned("--set", "Light.Shoulder@Folded=80 deg")
    assert (one["Folded"], one["Folded, wall"], one["Reading"]) == (80, 80, 28)
    assert set(turned("--set", "Light.Shoulder=40 deg").values()) == {40}
    status, _, err = run(capsys, "picture", written, "Light", "--alternate", "Ajar", "--to", "x.png")
    assert status == 2 and "there are Reading" in err


def test_a_name_that_no_disk_takes_and_a_fault_of_the_program_are_one_sentence(tmp_path, monkeypatch, capsys):
    assert main(["demo", "--write", str(tmp_path / ("x" * 300))]) == 2
    assert "name another one" in capsys.readouterr().err

    def broken(*_):
        raise KeyError("none")

    monkeypatch.setenv("ARCHITECTONIC_STATE", str(tmp_path / "state"))
    monkeypatch.setitem(cli._RUNS, "cache", broken)
    assert main(["cache"]) == 2
    told = capsys.readouterr().err.strip()
    assert told.startswith("a fault of the program (KeyError)") and "\n" not in told
    (report,) = (tmp_path / "state" / "faults").iterdir()
    assert "Traceback" in report.read_text()
