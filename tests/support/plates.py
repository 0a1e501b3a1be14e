"""Helpers of tests: plates."""

import pytest

pytest.importorskip("OCP")
from architectonic.kernel.measure.bodies import measure
from architectonic.kernel.shapes.outlines import KernelFrame, Side
from architectonic.kernel.solids import blends
from architectonic.kernel.solids.prisms import boolean, prism

TOP = KernelFrame((0, 0, 0), (1, 0, 0), (0, 0, 1))


def rectangle(w, h, key="c", x=0.0, y=0.0):
    p = [(x, y), (x + w, y), (x + w, y + h), (x, y + h)]
    return tuple(Side(f"{key}{i}", p[i], p[(i + 1) % 4]) for i in range(4))


def level(height):
    return (float(height), 0.0, 0.0)


def circle(key, centre, r, ccw=True):
    q = (centre[0] + r, centre[1])
    return (Side(key, q, q, centre, r, (centre[0] - r, centre[1]), ccw),)


def plate(w=80, h=50):
    return prism(TOP, [(rectangle(w, h), circle("h", (w / 2, h / 2), 5, False))], level(0), level(10), "o1")


def names(body):
    return {n[0] for n in body.faces}


def volume(body):
    return measure(body)["volume_mm3"]


def stages(w, h):
    """Plate, a round bite out of its side, two rounded corners, a groove that parts its top."""
    body = plate(w, h)
    body = boolean(
        "cut",
        body,
        prism(
            KernelFrame((0, 0, 10), (1, 0, 0), (0, 0, 1)), [(circle("k", (w, h / 2), 6),)], level(-4), level(1), "o2"
        ),
    )
    corners = {n: body.edges[n] for n in ("(o1:side:c0|o1:side:c1)", "(o1:side:c2|o1:side:c3)")}
    body = blends.fillet(body, corners, 3, "o3")
    groove = prism(TOP, [(rectangle(3, 500, "z", w / 2 + 8, -5),)], level(8), level(12), "o4")
    return boolean("cut", body, groove)
