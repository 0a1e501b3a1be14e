"""Files for printing, pictures and cutting, read back by other packages; volumes, areas and distances in closed form."""

import math
import zipfile

import ezdxf
import lib3mf
import manifold3d
import numpy as np
import pygltflib
import pytest
import stl
import trimesh
from shapely import MultiLineString, Point, Polygon, polygonize

import architectonic as a
from architectonic.base.errors import UserFault

pytestmark = pytest.mark.kernel
R, r, H = 20.0, 4.0, 12.0


@pytest.fixture(scope="module")
def ring(store):
    """A disc with a bore."""
    with a.new("Flanges", store=store) as opened:
        part = opened.part("Flange")
        part.parameter("kerf", "0.4 mm")
        outline = part.sketch("Outline")
        outline.circle((0, 0), diameter=f"{2 * R} mm")
        outline.circle((0, 0), diameter=f"{4 * r} mm")
        part.extrude(make="Disc", regions=outline.region(), far=f"{H} mm", name="Block")
        yield part


def volume():
    return math.pi * (R**2 - (2 * r) ** 2) * H


def test_an_stl_is_closed_and_misses_the_faces_by_no_more_than_is_asked(ring, tmp_path):
    for chord in (1.0, 0.1, 0.01):
        file = tmp_path / "flange.stl"
        assert ring.opened.export("Flange", file, chord=chord, angle=math.radians(30)) == []
        data = file.read_bytes()
        read = stl.Mesh.from_file(str(file))  # numpy-stl
        assert len(data) == 84 + 50 * len(read.vectors)
        mesh = trimesh.load_mesh(file)
        assert mesh.is_watertight and mesh.is_winding_consistent and mesh.euler_number == 0  # one hole through it
        solid = manifold3d.Manifold(manifold3d.Mesh(mesh.vertices.astype(np.float32), mesh.faces.astype(np.uint32)))
        assert solid.status() == manifold3d.Error.NoError and solid.volume() == pytest.approx(mesh.volume, rel=1e-5)
        samples, _ = trimesh.sample.sample_surface(mesh, 20_000, seed=1)
        round_about = np.hypot(samples[:, 0], samples[:, 1])
        flat = np.minimum(abs(samples[:, 2]), abs(samples[:, 2] - H))
        misses = np.min([abs(round_about - R), abs(round_about - 2 * r), flat], axis=0).max()
        assert misses <= chord and abs(mesh.volume - volume()) <= chord * 2 * math.pi * (R + 2 * r) * H
    assert misses > 0.0005  # it is no finer than it must be


def test_a_3mf_holds_units_colours_and_names(ring, tmp_path):
    file = tmp_path / "flange.3mf"
    ring.opened.export("Flange", file)
    wrapper = lib3mf.Wrapper()
    model = wrapper.CreateModel()
    reader = model.QueryReader("3mf")
    reader.SetStrictModeActive(True)
    reader.ReadFromFile(str(file))
    assert reader.GetWarningCount() == 0 and model.GetUnit() == lib3mf.ModelUnit.MilliMeter
    objects, names = model.GetMeshObjects(), []
    while objects.MoveNext():
        made = objects.GetCurrentMeshObject()
        assert made.IsManifoldAndOriented()
        names.append(made.GetName())
    assert names == ["Disc"]
    second = trimesh.load(file).to_mesh()  # a reader of its own
    assert second.volume == pytest.approx(volume(), rel=0.02) and second.is_watertight
    with zipfile.ZipFile(file) as package:
        text = package.read("3D/3dmodel.model").decode()
    assert 'unit="millimeter"' in text and "displaycolor=" in text


@pytest.mark.filterwarnings("ignore:pygltf.utils.validator:UserWarning")
def test_a_glb_is_valid_and_stands_upright_in_metres(ring, tmp_path):
    file = tmp_path / "flange.glb"
    ring.opened.export("Flange", file)
    read = pygltflib.GLTF2().load(str(file))
    from pygltflib import validator  # it says that it is provisional

    validator.validate(read)
    assert read.asset.version == "2.0" and [m.name for m in read.meshes] == ["Disc"]
    scene = trimesh.load(file)
    low, high = scene.bounds
    assert np.allclose(high - low, [2 * R / 1000, H / 1000, 2 * R / 1000], rtol=1e-3)
    assert read.materials[0].pbrMetallicRoughness.metallicFactor == 0.0


def test_a_face_lies_down_when_it_is_asked_to(ring, tmp_path):
    for down, tall in (("Block:end", H), ("-z", H), ("y", 2 * R)):
        ring.opened.export("Flange", tmp_path / "x.stl", down=down)
        mesh = trimesh.load_mesh(tmp_path / "x.stl")
        assert mesh.bounds[0][2] == pytest.approx(0, abs=1e-5) and np.ptp(mesh.bounds[:, 2]) == pytest.approx(
            tall, rel=1e-3
        )
        assert mesh.volume > 0
    with pytest.raises(UserFault, match=r"there is no face “Block:top”.*flat faces are .*Block:end"):
        ring.opened.export("Flange", tmp_path / "y.stl", down="Block:top")
    assert not (tmp_path / "y.stl").exists()


def test_the_outline_of_a_face_is_cut_beside_its_lines(ring, tmp_path):
    for kerf in ("", "kerf", "2 * kerf"):
        ring.opened.export("Flange", tmp_path / "face.dxf", face="Block:end", kerf=kerf)
        drawing = ezdxf.readfile(tmp_path / "face.dxf")
        assert not drawing.audit().errors and drawing.header["$INSUNITS"] == 4
        width = {"": 0.0, "kerf": 0.4, "2 * kerf": 0.8}[kerf]
        circles = {e.dxf.layer: e.dxf.radius for e in drawing.modelspace() if e.dxftype() == "CIRCLE"}
        assert circles == pytest.approx({"outside": R + width / 2, "inside": 2 * r - width / 2})
        cut = Point(0, 0).buffer(circles["outside"], 512) - Point(0, 0).buffer(circles["inside"], 512)
        assert cut.area == pytest.approx(math.pi * ((R + width / 2) ** 2 - (2 * r - width / 2) ** 2), rel=1e-4)
    with pytest.raises(UserFault, match="narrower than the cut"):
        ring.opened.export("Flange", tmp_path / "no.dxf", face="Block:end", kerf="20 mm")
    with pytest.raises(UserFault, match="kerv"):
        ring.opened.export("Flange", tmp_path / "no.dxf", face="Block:end", kerf="kerv")


def test_lines_arcs_and_splines_of_a_cut_enclose_what_they_should(store, tmp_path):
    with a.new("Plates", store=store) as opened:
        part = opened.part("Plate")
        outline = part.sketch("Outline")
        outline.rectangle("60 mm", "40 mm")
        part.extrude(make="Plate", regions=outline.region(), far="3 mm", name="Block")
        opened.export("Plate", tmp_path / "plate.dxf", face="Block:end", kerf="1 mm")
        space = ezdxf.readfile(tmp_path / "plate.dxf").modelspace()
        kinds = sorted(e.dxftype() for e in space)
        assert kinds == ["ARC"] * 4 + ["LINE"] * 4  # true arcs about the corners
        outline_of = Polygon([(0, 0), (60, 0), (60, 40), (0, 40)]).buffer(0.5, quad_segs=256)
        flat = [list(e.flattening(1e-4)) if e.dxftype() == "ARC" else [e.dxf.start, e.dxf.end] for e in space]
        lines = MultiLineString([[(round(p.x, 6), round(p.y, 6)) for p in line] for line in flat])
        (made,) = polygonize([lines]).geoms
        assert made.area == pytest.approx(outline_of.area, rel=1e-5) and outline_of.area == pytest.approx(
            2400 + 100 + math.pi / 4, rel=1e-5
        )


def test_what_cannot_be_written_is_told_and_leaves_nothing(ring, tmp_path):
    with pytest.raises(UserFault, match="no format is known"):
        ring.opened.export("Flange", tmp_path / "x.obj")
    with pytest.raises(UserFault, match="facets of this fineness"):
        ring.opened.export("Flange", tmp_path / "x.stl", chord=0.0)
    with pytest.raises(OSError, match="could not be written"):
        ring.opened.export("Flange", "/nowhere/x.stl")
    assert list(tmp_path.iterdir()) == []
