"""STEP files (ISO 10303-242) written: products with their structure, names, colours, materials and properties."""

from __future__ import annotations

from pathlib import Path
from typing import Any, NamedTuple

from OCP.APIHeaderSection import APIHeaderSection_MakeHeader
from OCP.IFSelect import IFSelect_RetDone
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TOC_sRGB
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.STEPControl import STEPControl_AsIs
from OCP.TCollection import TCollection_ExtendedString, TCollection_HAsciiString
from OCP.TDataStd import TDataStd_Name, TDataStd_NamedData
from OCP.TDocStd import TDocStd_Document
from OCP.XCAFApp import XCAFApp_Application
from OCP.XCAFDoc import XCAFDoc_ColorGen, XCAFDoc_DocumentTool

from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import location


class WrittenSolid(NamedTuple):
    """A body of a product.

    Attributes:
        colour: `#RRGGBB`, "" for none; material: its name, "" for none; density: g/cm3, 0.0 where it is not known.
        properties: further ones by name, such as the data of its holes.
    """

    name: str
    body: Labelled
    colour: str = ""
    material: str = ""
    density: float = 0.0
    properties: tuple[tuple[str, str], ...] = ()


class WrittenUse(NamedTuple):
    """A use of another product: its place in the list of products, what it is called here, and where it stands."""

    product: int
    name: str
    stands: Rigid = IDENTITY


class Product(NamedTuple):
    """A product of bodies, or of other products."""

    name: str
    solids: tuple[WrittenSolid, ...] = ()
    uses: tuple[WrittenUse, ...] = ()


def write(path: Path, products: list[Product]) -> None:
    """Write products, the last of which is the whole and which use only those before them.

    Raises:
        OSError: the file could not be written.
    """
    document = TDocStd_Document(TCollection_ExtendedString("MDTV-XCAF"))
    XCAFApp_Application.GetApplication_s().InitDocument(document)
    made: list[Any] = []
    for product in products:
        made.append(_product(document, product, made))
    XCAFDoc_DocumentTool.ShapeTool_s(document.Main()).UpdateAssemblies()
    writer = STEPCAFControl_Writer()
    writer.SetMetadataMode(True)
    Interface_Static.SetCVal_s("write.step.schema", "AP242DIS")
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    writer.Transfer(document, STEPControl_AsIs)
    header = APIHeaderSection_MakeHeader(writer.ChangeWriter().Model())
    header.SetName(_text(products[-1].name))
    header.SetOriginatingSystem(_text("Architectonic"))
    if writer.Write(str(path)) != IFSelect_RetDone:
        raise OSError(f"{path} could not be written")


def _product(document: Any, product: Product, made: list[Any]) -> Any:
    """The label of a product; one body alone is the product itself."""
    if len(product.solids) == 1 and not product.uses:
        (solid,) = product.solids
        return _solid(document, solid._replace(name=product.name))
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    whole = tool.NewShape()
    _name(whole, product.name)
    for solid in product.solids:
        _name(tool.AddComponent(whole, _solid(document, solid), location(IDENTITY)), solid.name)
    for use in product.uses:
        _name(tool.AddComponent(whole, made[use.product], location(use.stands)), use.name)
    return whole


def _solid(document: Any, solid: WrittenSolid) -> Any:
    """The label of a body with all that is known of it."""
    main = document.Main()
    label = XCAFDoc_DocumentTool.ShapeTool_s(main).AddShape(solid.body.shape, False)
    _name(label, solid.name)
    if solid.colour:
        red, green, blue = (int(solid.colour[k : k + 2], 16) / 255 for k in (1, 3, 5))
        XCAFDoc_DocumentTool.ColorTool_s(main).SetColor(
            label, Quantity_Color(red, green, blue, Quantity_TOC_sRGB), XCAFDoc_ColorGen
        )
    if solid.material:
        XCAFDoc_DocumentTool.MaterialTool_s(main).SetMaterial(
            label, _text(solid.material), _text(""), solid.density, _text("density"), _text("POSITIVE_RATIO_MEASURE")
        )
    if solid.properties:
        data = TDataStd_NamedData.Set_s(label)
        for key, value in solid.properties:
            data.SetString(TCollection_ExtendedString(key, True), TCollection_ExtendedString(value, True))
    return label


def _name(label: Any, name: str) -> None:
    TDataStd_Name.Set_s(label, TCollection_ExtendedString(name, True))


def _text(text: str) -> Any:
    return TCollection_HAsciiString(text.encode("ascii", "replace").decode("ascii"))
