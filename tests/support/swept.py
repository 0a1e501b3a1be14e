"""Helpers of tests: swept."""

import pytest

pytest.importorskip("OCP")
from architectonic.kernel.shapes.outlines import KernelFrame, Side
from architectonic.kernel.solids.prisms import prism
from tests.support.plates import TOP, level, rectangle

FRONT = KernelFrame((0, 0, 0), (1, 0, 0), (0, -1, 0))
"""x to the right, z up."""


Z = ((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))


def polygon(*points, key="c"):
    return tuple(Side(f"{key}{i}", p, points[(i + 1) % len(points)]) for i, p in enumerate(points))


def box(w=100, h=60, d=40, operation="o1"):
    return prism(TOP, [(rectangle(w, h),)], level(0), level(d), operation)
