"""Helpers of tests: canvases."""

import pytest
from PyQt6.QtCore import QPoint, Qt

from architectonic.describe.results import Node
from tests.support.hands import click, draw
from tests.support.windows import settle

CARD = 150
"""Pixels from below that an open sentence may take."""


def edge_at(canvas, label):
    """A pixel in the middle of an edge."""
    mesh = canvas.meshes[0][1]
    k = mesh.edges.index(label)
    points = mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]]
    k = (len(points) - 1) // 2
    x, y, _ = canvas.camera.project(points[k : k + 2].mean(axis=0), canvas.width(), canvas.height())[0]
    return QPoint(round(x), round(y))


def seen_edges(canvas):
    """Labels of edges that the pointer hits first at their middles, also once a sentence has pushed the picture up."""
    found = []
    for label in canvas.meshes[0][1].edges:
        at = edge_at(canvas, label)
        if not 0 < at.y() < canvas.height() - CARD:
            continue
        hits = canvas.picker.at(canvas.camera, at.x(), at.y(), canvas.width(), canvas.height())
        if [h.label for h in hits if h.kind == "edge"][:1] == [label]:
            found.append(label)
    return found


def tap(qtbot, canvas, at, modifiers=Qt.KeyboardModifier.NoModifier):
    qtbot.mouseMove(canvas, at + QPoint(9, 9))  # coming from elsewhere: a move to where it is already is none
    qtbot.mouseMove(canvas, at)
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, modifiers, at)


@pytest.fixture
def block(qtbot, pad):
    """A block of about 20 x 10 x 10 in the part, seen in 3D."""
    canvas = pad.sketches
    draw(qtbot, pad, "sketch.rectangle", (0, 0), (20, 10))
    click(qtbot, canvas, 10, 6)
    pad.actions_.run("operation.extrude")
    qtbot.keyClick(pad.card.value, Qt.Key.Key_Return)
    settle(qtbot, pad)
    pad.show_tab("Bodies")
    pad.desk.main.select("")
    settle(qtbot, pad)
    pad.bodies.grab()
    return pad


def measured(window, body=0):
    keys = list(window.desk.main.document.bodies)
    return window.desk.settled.value(Node("measure", window.desk.main.at, keys[body]))
