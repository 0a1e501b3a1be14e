"""STEP files (ISO 10303) read: the bodies of their products, where they stand, with names and colours. Lengths come out in mm."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice
from pathlib import Path
from typing import Any, NamedTuple

from OCP.BRepBuilderAPI import BRepBuilderAPI_Sewing, BRepBuilderAPI_Transform
from OCP.collections import Sequence_TCollection_AsciiString, Sequence_TDF_Label
from OCP.gp import gp_Pnt, gp_Trsf
from OCP.IFSelect import IFSelect_RetDone
from OCP.Quantity import Quantity_Color, Quantity_TOC_sRGB
from OCP.STEPCAFControl import STEPCAFControl_Reader
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFApp import XCAFApp_Application
from OCP.XCAFDoc import XCAFDoc_ColorGen, XCAFDoc_ColorSurf, XCAFDoc_DocumentTool, XCAFDoc_ShapeTool

from architectonic.base.rigid import Rigid
from architectonic.kernel.shapes.topology import FACE, SOLID, compound, rigid_of, subshapes, unwrapped
from architectonic.kernel.shapes.verdict import KernelRefusal

MOST = 20_000
"""Bodies that are read: a product that uses others twice, and they others, holds as many as one likes."""


class OutsideSolid(NamedTuple):
    """A body of a file.

    Attributes:
        path: names of the uses that lead to it, the outermost first, then its own with a number where it has brothers;
            no two bodies of a file have the same.
        product: name of the product that it is of; number: among the bodies of that product.
        shape: in the product's coordinates; stands: where the file has it.
        solid: it encloses something; otherwise it is surfaces.
        colour: `#RRGGBB`, "" for none.
    """

    path: tuple[str, ...]
    product: str
    number: int
    shape: Any
    stands: TopLoc_Location
    solid: bool
    colour: str


class OutsideFile(NamedTuple):
    """What a file holds: its bodies, and the units of length that it is written in."""

    solids: tuple[OutsideSolid, ...]
    units: tuple[str, ...]


def read(path: Path) -> OutsideFile:
    """Read a file.

    Raises:
        KernelRefusal: it is damaged, no STEP file, or holds no bodies, or more than are read.
    """
    document = TDocStd_Document(TCollection_ExtendedString("MDTV-XCAF"))
    XCAFApp_Application.GetApplication_s().InitDocument(document)
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    if reader.ReadFile(str(path)) != IFSelect_RetDone:
        raise KernelRefusal("it is no STEP file, or it is damaged")
    lengths, angles, solid_angles = (Sequence_TCollection_AsciiString() for _ in range(3))
    reader.ChangeReader().FileUnits(lengths, angles, solid_angles)
    if not reader.Transfer(document):
        raise KernelRefusal("nothing in it could be made out")
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    roots = Sequence_TDF_Label()
    tool.GetFreeShapes(roots)
    bodies = (s for k in range(roots.Length()) for s in _below(document, roots.Value(k + 1), (), TopLoc_Location(), ""))
    found = list(islice(bodies, MOST + 1))
    if len(found) > MOST:
        raise KernelRefusal(f"it holds more than {MOST:,} bodies")
    if not found:
        raise KernelRefusal("it holds no bodies")
    units = dict.fromkeys(lengths.Value(k + 1).ToCString().lower() for k in range(lengths.Length()))
    return OutsideFile(tuple(_told_apart(found)), tuple(units))


def _below(
    document: Any, label: Any, path: tuple[str, ...], stands: TopLoc_Location, colour: str
) -> Iterator[OutsideSolid]:
    """The bodies of a product and of what it uses."""
    name = _name(label) or "body"
    colour = _colour(document, label) or colour
    if XCAFDoc_ShapeTool.IsAssembly_s(label):
        uses = Sequence_TDF_Label()
        XCAFDoc_ShapeTool.GetComponents_s(label, uses, False)
        for k in range(uses.Length()):
            use, product = uses.Value(k + 1), TDF_Label()
            if not XCAFDoc_ShapeTool.GetReferredShape_s(use, product):
                continue
            there = stands.Multiplied(XCAFDoc_ShapeTool.GetLocation_s(use))
            called = _name(use) or _name(product)
            yield from _below(document, product, (*path, called), there, _colour(document, use) or colour)
        return
    shape = XCAFDoc_ShapeTool.GetShape_s(label)
    parts = subshapes(shape, SOLID)
    solid = bool(parts)
    if not solid and subshapes(shape, FACE):
        parts = [_sewn(shape)]
        solid = bool(subshapes(parts[0], SOLID))
    for k, part in enumerate(parts):
        own = (*path, f"{name} {k + 1}" if len(parts) > 1 else name) if not path or len(parts) > 1 else path
        yield OutsideSolid(own, name, k, part, stands, solid, colour)


def standing(one: OutsideSolid, placed: bool, factor: float) -> Any:
    """A body where the file has it, or as its product has it; its lengths taken `factor` times as long."""
    shape = one.shape.Moved(one.stands) if placed else one.shape
    if factor != 1.0:
        scale = gp_Trsf()
        scale.SetScale(gp_Pnt(0.0, 0.0, 0.0), factor)
        shape = BRepBuilderAPI_Transform(shape, scale, True).Shape()
    elif not shape.Location().IsIdentity():  # so that its places are its own, as of all other bodies
        shape = BRepBuilderAPI_Transform(
            shape.Located(TopLoc_Location()), shape.Location().Transformation(), True
        ).Shape()
    return unwrapped(shape) if one.solid else shape


def placement(one: OutsideSolid) -> Rigid:
    """Where the file has a body's product."""
    return rigid_of(one.stands.Transformation())


def _sewn(shape: Any) -> Any:
    """Surfaces as one sheet where they meet."""
    faces = subshapes(shape, FACE)
    if len(faces) == 1:
        return compound(faces)
    sewing = BRepBuilderAPI_Sewing(1e-3)
    for face in faces:
        sewing.Add(face)
    sewing.Perform()
    return compound([sewing.SewedShape()])


def _told_apart(found: list[OutsideSolid]) -> Iterator[OutsideSolid]:
    """Bodies with paths that no other one has."""
    seen: dict[tuple[str, ...], int] = {}
    for one in found:
        count = seen[one.path] = seen.get(one.path, 0) + 1
        yield one if count == 1 else one._replace(path=(*one.path[:-1], f"{one.path[-1]} #{count}"))


def _name(label: Any) -> str:
    """The name of a label; asking for one that it does not have would end the process."""
    if not label.IsAttribute(TDataStd_Name.GetID_s()):
        return ""
    found = TDataStd_Name()
    label.FindAttribute(TDataStd_Name.GetID_s(), found)
    return str(found.Get().ToExtString()).strip()


def _colour(document: Any, label: Any) -> str:
    found, tool = Quantity_Color(), XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    for kind in (XCAFDoc_ColorSurf, XCAFDoc_ColorGen):
        if tool.GetColor_s(label, kind, found):
            return "#" + "".join(f"{round(255 * c):02X}" for c in found.Values(Quantity_TOC_sRGB))
    return ""
