"""Helpers of tests: bodies."""

import math

import pytest

pytest.importorskip("OCP")
from architectonic.kernel.shapes.outlines import KernelFrame
from architectonic.kernel.solids import blends, shells, sweeps
from architectonic.kernel.solids.prisms import boolean, prism
from tests.support.plates import TOP, circle, level, rectangle
from tests.support.swept import FRONT, Z, box


def torus(big=30.0, small=8.0):
    return sweeps.revolve(FRONT, [(circle("c", (big, 0), small),)], *Z, 0.0, math.tau, "o1")


def frame_with_two_holes():
    holes = (circle("a", (20, 25), 5, False), circle("b", (60, 25), 5, False))
    return prism(TOP, [(rectangle(80, 50), *holes)], level(0), level(10), "o1")


def rounded():
    body = box()
    return blends.fillet(body, dict(body.edges), 3.0, "o2")


def tray():
    body = box()
    return shells.shell(body, body.find_faces("o1:end"), 3.0, [], "o2")


def crossed():
    """Two bars over each other: the bicylinder's relative, united."""
    other = prism(
        KernelFrame((50, 30, 20), (0, 1, 0), (1, 0, 0)), [(circle("c", (0, 0), 8),)], level(-70), level(70), "o2"
    )
    return boolean("add", box(), other)
