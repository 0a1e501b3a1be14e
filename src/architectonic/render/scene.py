"""Pictures of bodies off screen, with VTK and without Qt (docs/decisions/0010)."""

from __future__ import annotations

import os
from pathlib import Path

os.environ.setdefault("VTK_DEFAULT_OPENGL_WINDOW", "vtkEGLRenderWindow")

import numpy as np
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray, vtk_to_numpy
from vtkmodules.vtkCommonCore import vtkPoints, vtkUnsignedCharArray
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkCommonExecutionModel import vtkTrivialProducer
from vtkmodules.vtkFiltersCore import vtkCleanPolyData, vtkPolyDataNormals
from vtkmodules.vtkFiltersHybrid import vtkPolyDataSilhouette
from vtkmodules.vtkIOImage import vtkPNGWriter
from vtkmodules.vtkRenderingCore import (
    vtkActor,
    vtkLight,
    vtkPolyDataMapper,
    vtkRenderer,
    vtkWindowToImageFilter,
)
from vtkmodules.vtkRenderingOpenGL2 import vtkEGLRenderWindow

from architectonic.render.camera import BodyMesh, Camera
from architectonic.render.palette import INK, PAPER, rgb


class Scene:
    """Bodies with colours, rendered off screen into arrays."""

    def __init__(self, background: str = PAPER) -> None:
        self.renderer = vtkRenderer()
        self.renderer.SetBackground(*rgb(background))
        self.renderer.RemoveAllLights()
        self.renderer.AutomaticLightCreationOff()
        for x, y, z, strength in ((-0.6, 0.8, 1.0, 0.62), (0.8, -0.5, 0.9, 0.34), (0.0, 1.0, 0.2, 0.14)):
            light = vtkLight()
            light.SetLightTypeToCameraLight()
            light.SetPosition(x, y, z)
            light.SetFocalPoint(0, 0, 0)
            light.SetIntensity(strength)
            self.renderer.AddLight(light)
        self.window = vtkEGLRenderWindow()
        self.window.SetOffScreenRendering(1)
        self.window.SetMultiSamples(4)
        self.window.AddRenderer(self.renderer)
        self._actors: list[vtkActor] = []
        self.renders = 0

    def set_bodies(self, bodies: list[tuple[BodyMesh, str, float]]) -> None:
        """Show these bodies: mesh, colour and opacity."""
        for actor in self._actors:
            self.renderer.RemoveActor(actor)
        self._actors = []
        for mesh, colour, opacity in bodies:
            surface = _surface(mesh, colour, opacity)
            self._actors += [surface, _silhouette(surface, self.renderer)]
            self._actors.append(_edges(mesh, 0.85 if opacity < 1 else 1.0))
        for actor in self._actors:
            self.renderer.AddActor(actor)

    def set_samples(self, samples: int) -> None:
        """Smooth edges (4) for a picture at rest, none (0) while moving."""
        if self.window.GetMultiSamples() != samples:
            self.window.SetMultiSamples(samples)

    def picture(self, camera: Camera, width: int, height: int) -> np.ndarray:
        """The image, (height, width, 3) uint8."""
        if self.window.GetSize() != (width, height):
            self.window.SetSize(width, height)
        c = self.renderer.GetActiveCamera()
        _, up, forward = camera.axes()
        c.ParallelProjectionOn()
        c.SetFocalPoint(*camera.focus)
        c.SetPosition(*(camera.focus - forward * 1000.0))
        c.SetViewUp(*up)
        c.SetParallelScale(camera.scale)
        self.renderer.ResetCameraClippingRange()
        self.window.Render()
        self.renders += 1
        pixels = vtkUnsignedCharArray()
        self.window.GetPixelData(0, 0, width - 1, height - 1, 0, pixels, 0)
        return np.ascontiguousarray(vtk_to_numpy(pixels).reshape(height, width, 3)[::-1])

    def close(self) -> None:
        """Give the graphics memory back."""
        self.window.Finalize()


def _surface(mesh: BodyMesh, colour: str, opacity: float) -> vtkActor:
    data = vtkPolyData()
    points = vtkPoints()
    points.SetData(numpy_to_vtk(mesh.points, deep=1))
    data.SetPoints(points)
    cells = np.hstack([np.full((len(mesh.triangles), 1), 3), mesh.triangles]).astype(np.int64).ravel()
    array = vtkCellArray()
    array.ImportLegacyFormat(numpy_to_vtkIdTypeArray(cells, deep=1))
    data.SetPolys(array)
    source = vtkTrivialProducer()
    source.SetOutput(data)
    normals = vtkPolyDataNormals()
    normals.SetInputConnection(source.GetOutputPort())
    normals.SplittingOff()
    normals.ConsistencyOff()
    mapper = vtkPolyDataMapper()
    mapper.SetInputConnection(normals.GetOutputPort())
    mapper.SetResolveCoincidentTopologyToPolygonOffset()
    mapper.SetRelativeCoincidentTopologyPolygonOffsetParameters(1.0, 1.0)
    actor = vtkActor()
    actor.SetMapper(mapper)
    surface = actor.GetProperty()
    surface.SetColor(*rgb(colour))
    surface.SetAmbient(0.6)
    surface.SetDiffuse(0.52)
    surface.SetSpecular(0.03)
    surface.SetOpacity(opacity)
    return actor


def _silhouette(surface: vtkActor, renderer: vtkRenderer) -> vtkActor:
    """Where a curved face turns away from the eye; it follows the camera by itself."""
    weld = vtkCleanPolyData()
    weld.SetInputConnection(surface.GetMapper().GetInputConnection(0, 0).GetProducer().GetInputConnection(0, 0))
    outline = vtkPolyDataSilhouette()
    outline.SetInputConnection(weld.GetOutputPort())
    outline.SetCamera(renderer.GetActiveCamera())
    outline.SetEnableFeatureAngle(0)
    mapper = vtkPolyDataMapper()
    mapper.SetInputConnection(outline.GetOutputPort())
    actor = vtkActor()
    actor.SetMapper(mapper)
    actor.GetProperty().SetColor(*rgb(INK))
    actor.GetProperty().SetLineWidth(1.0)
    actor.GetProperty().LightingOff()
    return actor


def _edges(mesh: BodyMesh, opacity: float) -> vtkActor:
    data = vtkPolyData()
    points = vtkPoints()
    points.SetData(numpy_to_vtk(mesh.lines, deep=1))
    data.SetPoints(points)
    cells: list[int] = []
    convex = mesh.convex or [""] * len(mesh.edges)
    for a, b, meets in zip(mesh.line_starts[:-1], mesh.line_starts[1:], convex, strict=True):
        if meets == "smooth":
            continue
        cells += [b - a, *range(a, b)]
    array = vtkCellArray()
    array.ImportLegacyFormat(numpy_to_vtkIdTypeArray(np.asarray(cells, np.int64), deep=1))
    data.SetLines(array)
    mapper = vtkPolyDataMapper()
    mapper.SetInputData(data)
    actor = vtkActor()
    actor.SetMapper(mapper)
    actor.GetProperty().SetColor(*rgb(INK))
    actor.GetProperty().SetLineWidth(1.0)
    actor.GetProperty().LightingOff()
    actor.GetProperty().SetOpacity(opacity)
    return actor


def write_png(scene: Scene, camera: Camera, width: int, height: int, path: Path) -> None:
    """Render and write a PNG file.

    Raises:
        OSError: the file could not be written.
    """
    scene.picture(camera, width, height)
    grab = vtkWindowToImageFilter()
    grab.SetInput(scene.window)
    grab.ReadFrontBufferOff()
    writer = vtkPNGWriter()
    writer.SetInputConnection(grab.GetOutputPort())
    writer.SetWriteToMemory(1)
    writer.Write()
    path.write_bytes(vtk_to_numpy(writer.GetResult()).tobytes())
