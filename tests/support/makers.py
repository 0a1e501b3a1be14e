"""Helpers of tests: makers."""

import pytest

pytest.importorskip("OCP")
from architectonic.describe import recipes
from architectonic.describe.operations.solids.extrude import ExtrudeInput
from architectonic.describe.results import Frame
from architectonic.describe.sketch.solve import piece_result
from architectonic.make.registry import MAKERS
from architectonic.sketch.curves import piece, regions

TOP = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))


FRONT = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0))


def square(size, x=0.0, y=0.0, key="c"):
    p = [(x, y), (x + size, y), (x + size, y + size), (x, y + size)]
    return [piece.line(f"{key}{i}", p[i], p[(i + 1) % 4]) for i in range(4)]


def areas(*pieces):
    return tuple(
        tuple(tuple(piece_result(p) for p in loop) for loop in loops)
        for loops in regions.outline(regions.find(list(pieces)))
    )


def level(height):
    """A height that is the same all over."""
    return height if isinstance(height, tuple) else (float(height), 0.0, 0.0)


def extrude(pieces, does="make", start=0.0, end=10.0, bodies=("b",), operation="o1", frame=TOP):
    return ExtrudeInput(
        operation=operation,
        does=does,
        prisms=(recipes.Prism(area=recipes.Area(frame, areas(*pieces)), start=level(start), end=level(end)),),
        bodies=bodies,
    )


def make(kind, given, shapes=()):
    return MAKERS[kind].function(given, list(shapes))


def measured(shape):
    return make("measure", recipes.BodyInput(), [shape])[0]


def block():
    return make("extrude", extrude(square(20)))[1]["b"]
