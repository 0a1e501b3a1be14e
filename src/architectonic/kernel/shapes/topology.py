"""Small helpers over the kernel's topology: maps, casts, bytes.

The kernel's Python wrappers compare by identity; here equality is set once to sameness of place and geometry, so that
shapes can be keys. Collections are read by index: iterating over one costs 0.3 ms before the first element.
"""

from __future__ import annotations

import io
from collections.abc import Iterator
from typing import Any

from OCP.BinTools import BinTools, BinTools_FormatVersion
from OCP.BRep import BRep_Builder
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.collections import (
    IndexedDataMap_TopoDS_Shape_List_TopoDS_Shape_TopTools_ShapeMapHasher as AncestorMap,
)
from OCP.collections import (
    IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap,
)
from OCP.collections import List_TopoDS_Shape as ShapeList
from OCP.GeomAbs import GeomAbs_Plane
from OCP.gp import gp_Trsf
from OCP.Message import Message, Message_Printer
from OCP.TopAbs import (
    TopAbs_COMPOUND,
    TopAbs_EDGE,
    TopAbs_FACE,
    TopAbs_REVERSED,
    TopAbs_SHELL,
    TopAbs_SOLID,
    TopAbs_VERTEX,
    TopAbs_WIRE,
)
from OCP.TopExp import TopExp
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Compound, TopoDS_Shape

from architectonic.base.rigid import IDENTITY, Rigid

TopoDS_Shape.__eq__ = lambda a, b: isinstance(b, TopoDS_Shape) and a.IsSame(b)
Message.DefaultMessenger_s().RemovePrinters(Message_Printer.get_type_descriptor_s())

FACE, EDGE, VERTEX, SOLID, WIRE = TopAbs_FACE, TopAbs_EDGE, TopAbs_VERTEX, TopAbs_SOLID, TopAbs_WIRE
SHELL = TopAbs_SHELL
CASTS = {
    FACE: TopoDS.Face,
    EDGE: TopoDS.Edge,
    VERTEX: TopoDS.Vertex,
    SOLID: TopoDS.Solid,
    WIRE: TopoDS.Wire,
    SHELL: TopoDS.Shell,
}


def subshapes(shape: Any, kind: Any) -> list[Any]:
    """The different faces, edges, vertices or solids of a shape, in the kernel's stable order."""
    found = ShapeMap()
    TopExp.MapShapes_s(shape, kind, found)
    cast = CASTS[kind]
    return [cast(found.FindKey(i + 1)) for i in range(found.Extent())]


def ancestors(shape: Any, kind: Any, of: Any) -> Iterator[tuple[Any, list[Any]]]:
    """For each subshape of `kind`, the subshapes of kind `of` that it bounds."""
    found = AncestorMap()
    TopExp.MapShapesAndAncestors_s(shape, kind, of, found)
    for i in range(found.Extent()):
        yield CASTS[kind](found.FindKey(i + 1)), listed(found.FindFromIndex(i + 1))


def listed(shapes: Any) -> list[Any]:
    """A kernel list as a Python list; the kernel's list is left alone."""
    copy = ShapeList()
    copy.Assign(shapes)
    out = []
    while not copy.IsEmpty():
        out.append(copy.First())
        copy.RemoveFirst()
    return out


def shape_list(shapes: list[Any]) -> Any:
    """A Python list as a kernel list."""
    out = ShapeList()
    for shape in shapes:
        out.Append(shape)
    return out


def compound(shapes: list[Any]) -> Any:
    """Several shapes as one."""
    builder, out = BRep_Builder(), TopoDS_Compound()
    builder.MakeCompound(out)
    for shape in shapes:
        builder.Add(out, shape)
    return out


def unwrapped(shape: Any) -> Any:
    """A compound of one solid as that solid; None when nothing solid is left."""
    if shape.IsNull():
        return None
    solids = subshapes(shape, SOLID)
    if not solids:
        return None
    return solids[0] if len(solids) == 1 else (shape if shape.ShapeType() == TopAbs_COMPOUND else compound(solids))


def to_bytes(shape: Any) -> bytes:
    """The kernel's binary form, without the triangles that some picture may have left on it."""
    stream = io.BytesIO()
    BinTools.Write_s(shape, stream, False, False, BinTools_FormatVersion.BinTools_FormatVersion_CURRENT)
    return stream.getvalue()


def from_bytes(data: bytes) -> Any:
    """Inverse of `to_bytes`; face order is kept."""
    shape = TopoDS_Shape()
    BinTools.Read_s(shape, io.BytesIO(data))
    return shape


def is_planar(face: Any) -> tuple[tuple[float, float, float], tuple[float, float, float]] | None:
    """Origin and outward normal of a planar face, else None."""
    surface = BRepAdaptor_Surface(face)
    if surface.GetType() != GeomAbs_Plane:
        return None
    plane = surface.Plane()
    p, n = plane.Location(), plane.Axis().Direction()
    if not plane.Direct():
        n = n.Reversed()
    sign = -1.0 if face.Orientation() == TopAbs_REVERSED else 1.0
    return (p.X(), p.Y(), p.Z()), (sign * n.X(), sign * n.Y(), sign * n.Z())


def location(stands: Rigid) -> TopLoc_Location:
    """A place as the kernel has it."""
    if stands == IDENTITY:
        return TopLoc_Location()
    trsf = gp_Trsf()
    trsf.SetValues(*stands[:12])
    return TopLoc_Location(trsf)


def rigid_of(move: Any) -> Rigid:
    """A place as plain numbers."""
    return (*(float(move.Value(i, j)) for i in (1, 2, 3) for j in (1, 2, 3, 4)), 0.0, 0.0, 0.0, 1.0)


def standing(shape: Any, stands: Rigid) -> Any:
    """A shape where it stands; the same one where it was made."""
    return shape if stands == IDENTITY else shape.Moved(location(stands))
