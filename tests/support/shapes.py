"""Helpers of tests: shapes."""

import math

import pytest

pytest.importorskip("OCP")
from architectonic.kernel.shapes.outlines import KernelFrame
from architectonic.kernel.solids import blends, dividing, placing, sweeps
from architectonic.kernel.solids.prisms import boolean, prism
from tests.support.bodies import crossed, frame_with_two_holes, rounded, torus, tray
from tests.support.plates import TOP, circle, level, plate, rectangle, stages
from tests.support.swept import FRONT, Z, box, polygon

HIGH = KernelFrame((0, 0, 40), (1, 0, 0), (0, 0, 1))


def turned():
    outline = polygon((5, 0), (20, 0), (20, 10), (5, 10))
    return sweeps.revolve(FRONT, [(outline,)], *Z, 0.0, math.tau, "o1")


def chamfered():
    body = box()
    return blends.chamfer(body, dict(body.edges), blends.ChamferSize(4.0), False, "o2")


def half():
    parts = dividing.halves(plate(), dividing.plane(KernelFrame((30, 0, 0), (0, 1, 0), (1, 1, 0)), plate(), "o2"))
    return parts[0] or parts[1]


def mirrored():
    return placing.placed(rounded(), placing.mirrored(KernelFrame((0, 0, 0), (0, 1, 0), (1, 0, 0))))


def bicylinder():
    """Two rods of radius 10 that cross at right angles; what both fill: 16/3 r^3 (Archimedes)."""
    first = prism(TOP, [(circle("a", (0, 0), 10),)], level(-20), level(20), "o1")
    other = prism(
        KernelFrame((0, 0, 0), (0, 1, 0), (1, 0, 0)), [(circle("b", (0, 0), 10),)], level(-20), level(20), "o2"
    )
    return boolean("overlap", first, other)


SOLIDS = [
    (box, 0), (plate, 1), (frame_with_two_holes, 2), (torus, 1), (rounded, 0), (tray, 0), (crossed, 0), (turned, 1),
    (chamfered, 0), (half, 1), (mirrored, 0), (bicylinder, 0), (lambda: stages(80, 50), 1),
    (lambda: sweeps.loft([(TOP, (rectangle(60, 60, "a"),)), (HIGH, (rectangle(30, 30, "b"),))], True, "o1"), 0),
]  # fmt: skip
