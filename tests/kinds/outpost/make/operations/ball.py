"""How a ball is made with the kernel."""

from __future__ import annotations

from OCP.BRepPrimAPI import BRepPrimAPI_MakeSphere
from OCP.gp import gp_Pnt

from architectonic.kernel.shapes.labelled import Labelled, named
from architectonic.kernel.shapes.topology import FACE, subshapes
from architectonic.make.operations.solid import act
from outpost.describe.operations.ball import BallInput


def make(given: BallInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies that changed or were made."""
    shape = BRepPrimAPI_MakeSphere(gp_Pnt(*given.centre), given.radius).Solid()
    tool = named(shape, {f: [f"{given.operation}:round"] for f in subshapes(shape, FACE)})
    return act(given, shapes, tool)
