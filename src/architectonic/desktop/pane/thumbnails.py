"""Small pictures of documents, painted without the 3D library so that they cost the event loop nothing."""

from __future__ import annotations

from collections.abc import Collection

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPolygonF

from architectonic.describe.drawn.curves import as_piece_of, as_pieces
from architectonic.describe.drawn.readings import samples
from architectonic.describe.results import Node, SketchResult
from architectonic.desktop.kit import theme
from architectonic.family.records import Model, Sketch
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look
from architectonic.render.camera import BodyMesh
from architectonic.render.pictures import meshes_of
from architectonic.render.small import shaded

WIDTH, HEIGHT, RATIO = 56, 42, 2


def thumbnail(evaluation: Evaluation, look: Look) -> QImage | None:
    """The picture of a document in a configuration; None when there is nothing to show. Runs in any thread."""
    meshes = [(m, colour) for _, m, colour in meshes_of(evaluation, look)]
    if meshes:
        return bodies(meshes)
    document = evaluation.family.documents.get(look.at.document)
    solved = [
        evaluation.value(Node("solve", look.at, o.id))
        for o in (document.build if isinstance(document, Model) else ())
        if isinstance(o, Sketch)
    ]
    shown = next((s for s in solved if isinstance(s, SketchResult) and s.curves), None)
    return sketch(shown) if shown is not None else None


def _blank(wide: int = WIDTH, high: int = HEIGHT) -> tuple[QImage, QPainter]:
    image = QImage(wide * RATIO, high * RATIO, QImage.Format.Format_RGB32)
    image.fill(QColor(theme.FIELD))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    return image, painter


def bodies(
    meshes: list[tuple[BodyMesh, str]],
    wide: int = WIDTH,
    high: int = HEIGHT,
    scale: float | None = None,
) -> QImage:
    """Bodies from the front left above, as triangles that face the eye.

    Args:
        wide, high: of the picture, in pixels.
        scale: half the visible height, mm, so that several pictures can be compared; what the bodies need by default.
    """
    w, h = wide * RATIO, high * RATIO
    pixels = shaded(meshes, w, h, theme.FIELD, scale)
    return QImage(pixels.tobytes(), w, h, 3 * w, QImage.Format.Format_RGB888).copy()


def sketch(
    solved: SketchResult,
    wide: int = WIDTH,
    high: int = HEIGHT,
    lit: Collection[str] = (),
    around: SketchResult | None = None,
) -> QImage:
    """Curves of a sketch in ink.

    Args:
        wide, high: of the picture, in pixels; lit: labels of curves and regions that stand out.
        around: a sketch whose curves are framed too, so that two pictures can be compared.
    """
    image, p = _blank(wide, high)
    drawn = {k: c for k, c in solved.curves.items() if not c.fixed and c.kind != "point"} or solved.curves
    paths = {k: [q.points() for q in as_pieces("", c)] if c.kind == "text" else [samples(c)] for k, c in drawn.items()}
    framed = [q for lines in paths.values() for line in lines for q in line]
    framed += [q for c in (around.curves.values() if around is not None else ()) for q in samples(c)]
    xs, ys = [x for x, _ in framed], [y for _, y in framed]
    across, up = max(max(xs) - min(xs), 1e-6), max(max(ys) - min(ys), 1e-6)
    scale = 0.8 * min(wide * RATIO / across, high * RATIO / up)
    middle = ((max(xs) + min(xs)) / 2, (max(ys) + min(ys)) / 2)

    def at(x: float, y: float) -> QPointF:
        return QPointF(wide * RATIO / 2 + (x - middle[0]) * scale, high * RATIO / 2 - (y - middle[1]) * scale)

    for region in (r for r in solved.regions if r.label in lit):
        outline = QPainterPath()
        for loop in region.loops:
            outline.addPolygon(QPolygonF([at(*q) for piece in loop for q in as_piece_of(piece).points()]))
        p.fillPath(outline, theme.colour(theme.PLUM, 0.3))
    p.setBrush(Qt.BrushStyle.NoBrush)
    for key, lines in paths.items():
        p.setPen(QPen(QColor(theme.PLUM if key in lit else theme.INK), 5 if key in lit else 2))
        for line in lines:
            p.drawPolyline(QPolygonF([at(x, y) for x, y in line]))
    p.end()
    return image
