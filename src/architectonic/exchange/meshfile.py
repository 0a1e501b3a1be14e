"""Facets as STL, 3MF and glTF, in and of memory; how a file is written stands with whoever asks for it."""

from __future__ import annotations

import struct
from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np

from architectonic.base.rigid import Rigid

METRES = 0.001
"""glTF counts in metres, with y up (glTF 2.0, 3.4)."""


class MeshPart(NamedTuple):
    """Facets to write.

    Attributes:
        name: of the body; item: what it is listed under with others, "" for itself.
        points: (n, 3) mm, none twice; triangles: (m, 3), outward.
        stands: where; colour: `#RRGGBB`.
    """

    name: str
    item: str
    points: np.ndarray
    triangles: np.ndarray
    stands: Rigid
    colour: str

    @property
    def placed(self) -> np.ndarray:
        """Its points where it stands."""
        m = np.array(self.stands).reshape(4, 4)
        found: np.ndarray = self.points @ m[:3, :3].T + m[:3, 3]
        return found


def stl(title: str, parts: Sequence[MeshPart]) -> bytes:
    """A binary STL file: 50 bytes a triangle, mm, which the file cannot say (3D Systems 1989; common practice)."""
    corners = [p.placed[p.triangles] for p in parts]
    every = np.concatenate(corners) if corners else np.zeros((0, 3, 3))
    normal = np.cross(every[:, 1] - every[:, 0], every[:, 2] - every[:, 0])
    length = np.linalg.norm(normal, axis=1, keepdims=True)
    record = np.zeros(len(every), dtype=[("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("more", "<u2")])
    record["normal"] = normal / np.where(length > 0, length, 1.0)
    record["corners"] = every
    head = f"architectonic: {title}, mm".encode("ascii", "replace")[:80].ljust(80)
    return head + struct.pack("<I", len(every)) + record.tobytes()


def threemf(title: str, parts: Sequence[MeshPart]) -> bytes:
    """A 3MF package: mm, colours, names; one object an item, made of its bodies (3MF Core Specification 1.3)."""
    import lib3mf  # a library of its own: only when such a file is written

    wrapper = lib3mf.Wrapper()
    model = wrapper.CreateModel()
    model.SetUnit(lib3mf.ModelUnit.MilliMeter)
    model.GetMetaDataGroup().AddMetaData("", "Title", title, "xs:string", True)
    model.GetMetaDataGroup().AddMetaData("", "Application", "Architectonic", "xs:string", True)
    known: dict[tuple[int, str], Any] = {}
    colours: dict[str, tuple[Any, int]] = {}
    group = model.AddBaseMaterialGroup() if parts else None
    grouped: dict[str, list[tuple[MeshPart, Any]]] = {}
    for part in parts:
        key = (id(part.points), part.colour)  # what is used twice is written once
        if key not in known:
            known[key] = _object(lib3mf, wrapper, model, group, colours, part)
        grouped.setdefault(part.item, []).append((part, known[key]))
    for item, members in grouped.items():
        if not item or len(members) == 1:
            for part, made in members:
                model.AddBuildItem(made, _transform(lib3mf, part.stands))
            continue
        whole = model.AddComponentsObject()
        whole.SetName(item)
        whole.SetType(lib3mf.ObjectType.Model)
        for part, made in members:
            whole.AddComponent(made, _transform(lib3mf, part.stands))
        model.AddBuildItem(whole, wrapper.GetIdentityTransform())
    return bytes(model.QueryWriter("3mf").WriteToBuffer())


def _object(
    lib3mf: Any, wrapper: Any, model: Any, group: Any, colours: dict[str, tuple[Any, int]], part: MeshPart
) -> Any:
    made = model.AddMeshObject()
    made.SetName(part.name)
    made.SetType(lib3mf.ObjectType.Model)
    positions = [lib3mf.Position((lib3mf.ctypes.c_float * 3)(*p)) for p in part.points.tolist()]
    corners = [lib3mf.Triangle((lib3mf.ctypes.c_uint32 * 3)(*t)) for t in part.triangles.tolist()]
    made.SetGeometry(positions, corners)
    if part.colour not in colours:
        red, green, blue = (int(part.colour[k : k + 2], 16) for k in (1, 3, 5))
        place = group.AddMaterial(part.colour, wrapper.RGBAToColor(red, green, blue, 255))
        colours[part.colour] = (group, place)
    made.SetObjectLevelProperty(group.GetResourceID(), colours[part.colour][1])
    return made


def _transform(lib3mf: Any, stands: Rigid) -> Any:
    """Columns of the turn, then the shift."""
    made = lib3mf.Transform()
    for row in range(4):
        for column in range(3):
            made.Fields[row][column] = stands[4 * column + row]
    return made


def glb(title: str, parts: Sequence[MeshPart]) -> bytes:
    """A binary glTF 2.0 file for pictures: metres, y up, colours as materials, names."""
    import trimesh as library

    trimesh: Any = library
    scene = trimesh.Scene(metadata={"name": title})
    turn = np.array([[1, 0, 0], [0, 0, 1], [0, -1, 0]], dtype=float)  # z up becomes y up
    taken: dict[str, int] = {}
    for part in parts:
        colour = [int(part.colour[k : k + 2], 16) for k in (1, 3, 5)]
        look = trimesh.visual.material.PBRMaterial(
            name=part.colour, baseColorFactor=[*_linear(colour), 255], metallicFactor=0.0, roughnessFactor=0.7
        )
        mesh = trimesh.Trimesh(part.placed @ turn.T * METRES, part.triangles, process=False)
        mesh.visual = trimesh.visual.TextureVisuals(material=look)
        name = part.name if part.name not in taken else f"{part.name} {taken[part.name] + 1}"
        taken[part.name] = taken.get(part.name, 0) + 1
        scene.add_geometry(mesh, node_name=name, geom_name=name)
    return bytes(scene.export(file_type="glb"))


def _linear(colour: Sequence[int]) -> list[int]:
    """Colours of the screen as glTF counts them: linear (IEC 61966-2-1)."""
    share = np.array(colour) / 255
    found = np.where(share <= 0.04045, share / 12.92, ((share + 0.055) / 1.055) ** 2.4)
    return [int(v) for v in np.round(found * 255)]
