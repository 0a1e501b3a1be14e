"""Inside corners: what a cutter of a radius gets into, and what not."""

from __future__ import annotations

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepTools import BRepTools
from OCP.GeomAbs import GeomAbs_Cylinder, GeomAbs_Line
from OCP.gp import gp_Dir, gp_Pnt, gp_Vec

from architectonic.base import tolerance
from architectonic.kernel.measure.holes import hole_of
from architectonic.kernel.measure.surveys.survey import Survey, worst
from architectonic.kernel.shapes.labelled import Labelled, centre
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors
from architectonic.kernel.shapes.witness import convexity, normal_at

ALONG = 1e-4
"""Cosine above 1 less this: along the tool."""


def inside(body: Labelled, tool: tuple[float, float, float], drilled: frozenset[str]) -> Survey:
    """The radius of each inside corner along a tool's axis, mm: 0 of a sharp edge; drilled holes are none.

    Args:
        drilled: ids of the operations that drilled.
    """
    values, at, labels = [], [], []
    about = dict(ancestors(body.shape, EDGE, FACE))
    for label, edge in body.edges.items():
        curve = BRepAdaptor_Curve(edge)
        if curve.GetType() == GeomAbs_Line and _along(curve.Line().Direction(), tool):
            if convexity(edge, about[edge]) == "concave":
                values.append(0.0)
                at.append(centre(edge))
                labels.append(label)
    for face, names in zip(body.face_list, body.faces, strict=True):
        surface = BRepAdaptor_Surface(face)
        if surface.GetType() != GeomAbs_Cylinder or hole_of(names, drilled):
            continue
        cylinder = surface.Cylinder()
        u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
        if not _along(cylinder.Axis().Direction(), tool) or u1 - u0 > 2 * np.pi - tolerance.FEATURE:
            continue
        middle = surface.Value((u0 + u1) / 2, (v0 + v1) / 2)
        normal = normal_at(face, middle)
        outwards = gp_Vec(_foot(cylinder, middle), middle)
        if normal is not None and gp_Vec(normal).Dot(outwards) < 0:
            values.append(cylinder.Radius())
            at.append((middle.X(), middle.Y(), middle.Z()))
            labels.append(names[0])
    if not values:
        return Survey([])
    return Survey(worst(np.array(values), np.array(at), labels, [""] * len(labels), body))


def _along(direction: gp_Dir, tool: tuple[float, float, float]) -> bool:
    return bool(abs(direction.X() * tool[0] + direction.Y() * tool[1] + direction.Z() * tool[2]) > 1 - ALONG)


def _foot(cylinder: object, p: gp_Pnt) -> gp_Pnt:
    """The point of an axis that is nearest to a point."""
    axis = cylinder.Axis()  # type: ignore[attr-defined]
    origin, way = axis.Location(), gp_Vec(axis.Direction())
    return origin.Translated(way.Multiplied(gp_Vec(origin, p).Dot(way)))
