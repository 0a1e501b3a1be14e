"""STEP files (ISO 10303-242) with the names of parts and bodies."""

from __future__ import annotations

from pathlib import Path

from OCP.IFSelect import IFSelect_RetDone
from OCP.Interface import Interface_Static
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.STEPControl import STEPControl_AsIs
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDocStd import TDocStd_Document
from OCP.XCAFApp import XCAFApp_Application
from OCP.XCAFDoc import XCAFDoc_DocumentTool

from architectonic.base.rigid import Rigid
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import location, standing


def write(path: Path, name: str, bodies: list[tuple[str, Labelled, Rigid]]) -> None:
    """Write bodies in place under one named product.

    Raises:
        OSError: the file could not be written.
    """
    document = TDocStd_Document(TCollection_ExtendedString("MDTV-XCAF"))
    XCAFApp_Application.GetApplication_s().InitDocument(document)
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    if len(bodies) == 1:
        label = tool.AddShape(standing(bodies[0][1].shape, bodies[0][2]), False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(bodies[0][0], True))
    else:
        whole = tool.NewShape()
        TDataStd_Name.Set_s(whole, TCollection_ExtendedString(name, True))
        for body_name, body, stands in bodies:
            label = tool.AddShape(body.shape, False)
            TDataStd_Name.Set_s(label, TCollection_ExtendedString(body_name, True))
            component = tool.AddComponent(whole, label, location(stands))
            TDataStd_Name.Set_s(component, TCollection_ExtendedString(body_name, True))
        tool.UpdateAssemblies()
    writer = STEPCAFControl_Writer()
    Interface_Static.SetCVal_s("write.step.schema", "AP242DIS")
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    writer.Transfer(document, STEPControl_AsIs)
    if writer.Write(str(path)) != IFSelect_RetDone:
        raise OSError(f"{path} could not be written")
