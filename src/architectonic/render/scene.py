"""Pictures of bodies off screen, with VTK and without Qt (docs/decisions/0010)."""

from __future__ import annotations

import os
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("VTK_DEFAULT_OPENGL_WINDOW", "vtkEGLRenderWindow")

import numpy as np
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray, vtk_to_numpy
from vtkmodules.vtkCommonCore import vtkPoints, vtkUnsignedCharArray
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkCommonExecutionModel import vtkTrivialProducer
from vtkmodules.vtkFiltersCore import vtkCleanPolyData, vtkPolyDataNormals
from vtkmodules.vtkFiltersGeneral import vtkContourTriangulator
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
from architectonic.render.section import GRID, Cap
from architectonic.render.tint import Cells, Stripes


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

    def set_bodies(
        self,
        bodies: list[tuple[BodyMesh, str, float]],
        caps: list[tuple[Cap, str]] | None = None,
        instead: dict[int, Cells | Stripes] | None = None,
    ) -> None:
        """Show these bodies: mesh, colour and opacity.

        Args:
            caps: cuts through them, each with the colour that fills it.
            instead: what some of them, by their place in the list, are coloured by.
        """
        for actor in self._actors:
            self.renderer.RemoveActor(actor)
        self._actors = []
        for cap, colour in caps or []:
            self._actors += _cap(cap, colour)
        for k, (mesh, colour, opacity) in enumerate(bodies):
            own = (instead or {}).get(k)
            if own is not None:
                over = replace(mesh, points=own.points, triangles=own.triangles)
                if isinstance(own, Stripes):
                    surface = _striped(_surface(over, colour, opacity, normals=own.normals))
                else:
                    surface = _surface(over, colour, opacity, own.colours())
                self._actors += [surface, _silhouette(surface, self.renderer), _edges(mesh, 1.0)]
                continue
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


def _cap(cap: Cap, colour: str) -> list[vtkActor]:
    """The filled cut, its outline and its hatching."""
    outline = _segments(cap.outline)
    weld = vtkCleanPolyData()
    weld.SetInputData(outline)
    weld.SetToleranceIsAbsolute(True)
    weld.SetAbsoluteTolerance(GRID)
    fill = vtkContourTriangulator()
    fill.SetInputConnection(weld.GetOutputPort())
    mapper = vtkPolyDataMapper()
    mapper.SetInputConnection(fill.GetOutputPort())
    mapper.SetResolveCoincidentTopologyToPolygonOffset()
    surface = vtkActor()
    surface.SetMapper(mapper)
    surface.GetProperty().SetColor(*rgb(colour))
    surface.GetProperty().LightingOff()
    made = [surface]
    for segments, width, opacity in ((cap.outline, 1.6, 1.0), (cap.hatching, 1.0, 0.45)):
        lines = vtkPolyDataMapper()
        lines.SetInputData(_segments(segments))
        actor = vtkActor()
        actor.SetMapper(lines)
        actor.GetProperty().SetColor(*rgb(INK))
        actor.GetProperty().SetLineWidth(width)
        actor.GetProperty().SetOpacity(opacity)
        actor.GetProperty().LightingOff()
        made.append(actor)
    return made


def _segments(segments: np.ndarray) -> vtkPolyData:
    """Separate lines between two points each."""
    data = vtkPolyData()
    points = vtkPoints()
    points.SetData(numpy_to_vtk(np.ascontiguousarray(segments.reshape(-1, 3)), deep=1))
    data.SetPoints(points)
    count = len(segments)
    ends = np.arange(2 * count).reshape(-1, 2)
    cells = np.hstack([np.full((count, 1), 2), ends]).astype(np.int64).ravel()
    array = vtkCellArray()
    array.ImportLegacyFormat(numpy_to_vtkIdTypeArray(cells, deep=1))
    data.SetLines(array)
    return data


STRIPES = """//VTK::Light::Impl
  vec3 away = reflect(vec3(0.0, 0.0, -1.0), normalVCVSOutput);
  float turn = asin(clamp(away.y, -1.0, 1.0)) * 9.0 / 3.14159265;
  float edge = max(fwidth(turn), 1e-4);
  float lit = smoothstep(-edge, edge, abs(fract(turn) - 0.5) - 0.25);
  fragOutput0.rgb = mix(fragOutput0.rgb * 0.34, mix(fragOutput0.rgb, vec3(1.0), 0.55), lit);
"""
"""Lines of light far away, level on the screen and 10 degrees apart from dark to dark, seen in the faces as in mirrors."""


def _striped(surface: vtkActor) -> vtkActor:
    surface.GetShaderProperty().AddFragmentShaderReplacement("//VTK::Light::Impl", True, STRIPES, False)
    return surface


def _surface(
    mesh: BodyMesh, colour: str, opacity: float, tints: np.ndarray | None = None, normals: np.ndarray | None = None
) -> vtkActor:
    data = vtkPolyData()
    points = vtkPoints()
    points.SetData(numpy_to_vtk(mesh.points, deep=1))
    data.SetPoints(points)
    cells = np.hstack([np.full((len(mesh.triangles), 1), 3), mesh.triangles]).astype(np.int64).ravel()
    array = vtkCellArray()
    array.ImportLegacyFormat(numpy_to_vtkIdTypeArray(cells, deep=1))
    data.SetPolys(array)
    if tints is not None:
        data.GetCellData().SetScalars(numpy_to_vtk(tints, deep=1))
    source = vtkTrivialProducer()
    source.SetOutput(data)
    shaded = vtkPolyDataNormals()
    shaded.SetInputConnection(source.GetOutputPort())
    shaded.SplittingOff()
    shaded.ConsistencyOff()
    if normals is not None:
        data.GetPointData().SetNormals(numpy_to_vtk(normals, deep=1))
        shaded.ComputePointNormalsOff()
    mapper = vtkPolyDataMapper()
    mapper.SetInputConnection(shaded.GetOutputPort())
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
