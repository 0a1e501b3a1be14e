"""The 3D canvas: an off-screen picture under painted names, highlights and tags (docs/decisions/0010)."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from architectonic.describe.results import Frame, Node
from architectonic.desktop import theme
from architectonic.desktop.dimensionfield import open_field
from architectonic.desktop.shown import Shown
from architectonic.desktop.space import Space
from architectonic.desktop.workbench import Workbench
from architectonic.family.records import Model
from architectonic.render.camera import VIEWS, BodyMesh, Camera, frame
from architectonic.render.picking import Hit, Picker
from architectonic.render.pictures import meshes_of

if TYPE_CHECKING:
    from architectonic.render.scene import Scene

Seen = tuple[tuple[str, str, str], BodyMesh, str]
BACKDROP = "#A9A59B"
"""What stands behind is all of one grey: only a document's own bodies have colours."""
KEYS = {Qt.Key.Key_F: "front", Qt.Key.Key_T: "top", Qt.Key.Key_R: "right", Qt.Key.Key_I: "isometric"}


class BodyCanvas(QWidget):
    """Bodies and layouts in space. Middle drag turns, Shift with it slides, the wheel zooms to the pointer.

    Signals:
        opened (str, str): a sketch was double-clicked: its document and itself.
    """

    opened = pyqtSignal(str, str)

    def __init__(self, bench: Workbench, shown: Shown) -> None:
        super().__init__()
        self.bench, self.shown = bench, shown
        self._scene: Scene | None = None
        self.camera = Camera()
        self.meshes: list[tuple[tuple[str, str, str], BodyMesh, str]] = []
        self.around: list[tuple[tuple[str, str, str], BodyMesh, str]] = []
        self.space = Space(self)
        self._field: QWidget | None = None
        self.hidden: set[str] = set()
        self.picker = Picker([])
        self._image: QImage | None = None
        self._framed: str = ""
        self._untouched = True
        self._hover: list[Hit] = []
        self._depth = 0
        self._hidden_rows: list[tuple[QRectF, str]] = []
        self._drag: QPointF | None = None
        self._waits_for_view = False
        self._sharpen = QTimer(self, singleShot=True, interval=150, timeout=self._on_rest)  # type: ignore[call-arg]
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(320, 240)
        self.setAccessibleName("3D canvas")
        bench.evaluated.connect(self.refresh)
        shown.changed.connect(self._on_shown)
        shown.selection_changed.connect(self.update)

    # --- content --------------------------------------------------------------------------------------

    @property
    def scene(self) -> Scene:
        """The off-screen scene, made when there is something to draw: the window stands before VTK is loaded."""
        if self._scene is None:
            from architectonic.render.scene import Scene

            self._scene = Scene(theme.PAPER)
        return self._scene

    def _on_shown(self) -> None:
        self.hidden.clear()
        self._hover = []

    def refresh(self) -> None:
        """Follow the last evaluation; what is missing in it keeps its last picture."""
        look = self.shown.look
        if look is None or self.bench.evaluation is None or not self.isVisible():
            return
        found = meshes_of(self.bench.evaluation, look)
        around = [b for behind in self.shown.behind() for b in meshes_of(self.bench.evaluation, behind)]
        if not found and self._framed == look.at.document and self.bench.updating:
            return
        same = _alike(found, self.meshes) and _alike(around, self.around)
        if same and self._framed == look.at.document:
            self.update()
            return
        self.meshes, self.around = found, around
        self._show()
        if self._framed != look.at.document:
            self._framed = look.at.document
            self.frame_all()
        else:
            self._render()

    def _show(self) -> None:
        shown = [(b, m, c) for b, m, c in self.meshes if self._key(b) not in self.hidden]
        if self.meshes or self.around:
            behind = [(m, BACKDROP, 0.28) for b, m, _ in self.around if self._key(b) not in self.hidden]
            self.scene.set_bodies([*((m, c, 1.0) for _, m, c in shown), *behind])
        seen = [*shown, *(b for b in self.around if self._key(b[0]) not in self.hidden)]
        self.picker = Picker([(self._key(b), m) for b, m, _ in seen])

    def _key(self, body: tuple[str, str, str]) -> str:
        return f"{body[0]}.{body[2]}"

    def body_name(self, key: str) -> str:
        """The name of a body: its own in a part, its part's in an assembly."""
        document_id, _, body = key.partition(".")
        document = self.bench.family.documents.get(document_id)
        if document is None:
            return key
        if document_id != self.shown.document_id:
            return document.name
        return document.bodies[body].name if isinstance(document, Model) and body in document.bodies else body

    # --- camera ---------------------------------------------------------------------------------------

    def frame_all(self) -> None:
        """Show everything."""
        self.camera = frame(
            self.camera,
            self._clouds(),
            self.width() / max(1, self.height()),
            1.35,
        )
        self._untouched = True
        self._render()

    def _clouds(self) -> list[np.ndarray]:
        """What a view of everything shows: the document's own, else what stands behind it."""
        own = [m.points for b, m, _ in self.meshes if self._key(b) not in self.hidden]
        if not own:
            own.append(self.space.cloud())
        return own if any(len(c) for c in own) else [m.points for _, m, _ in self.around]

    def look(self, view: str) -> None:
        """Look in a standard direction."""
        direction, up = VIEWS[view]
        self.camera = Camera(np.array(direction), np.array(up), self.camera.focus, self.camera.scale)
        self.frame_all()

    def look_square(self) -> None:
        """Look square onto the picked planar face, or the chosen plane, sketch or picture."""
        for kind, body, label in self.shown.picks:
            mesh = self._mesh(body)
            plane = mesh.planes[mesh.faces.index(label)] if mesh and kind == "face" and label in mesh.faces else None
            if plane:
                self._look_along(np.array(plane[1]))
                return
        evaluation, at = self.bench.evaluation, self.shown.at
        frame = evaluation.value(Node("frame", *at, self.shown.operation)) if evaluation and at else None
        if isinstance(frame, Frame):
            self.look_at(frame)

    def look_at(self, frame: Frame) -> None:
        """Look square onto a plane."""
        self._look_along(np.array(frame.normal))

    def _look_along(self, normal: np.ndarray) -> None:
        up = np.array([0.0, 0.0, 1.0]) if abs(normal[2]) < 0.9 else np.array([0.0, 1.0, 0.0])
        self.camera = Camera(-normal, up, self.camera.focus, self.camera.scale)
        self.frame_all()

    def frame_later(self) -> None:
        """Show everything as soon as it is evaluated anew."""
        self._framed = ""

    def _render(self, samples: int = 0) -> None:
        if self.width() < 10 or self.height() < 10:
            return
        if not self.meshes and not self.around:
            self._image = None
            self.update()
            return
        ratio = self.devicePixelRatioF()
        w, h = int(self.width() * ratio), int(self.height() * ratio)
        self.scene.set_samples(samples)
        pixels = self.scene.picture(self.camera, w, h)
        self._image = QImage(pixels.tobytes(), w, h, 3 * w, QImage.Format.Format_RGB888)
        self._image.setDevicePixelRatio(ratio)
        self.update()
        if samples == 0:
            self._sharpen.start()

    def _on_rest(self) -> None:
        if self.isVisible():
            self._render(4)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """A new size needs a new picture."""
        super().resizeEvent(event)
        if self._untouched:
            self.frame_all()
        else:
            self._render()

    def showEvent(self, event: object) -> None:
        """Catch up with what was evaluated meanwhile."""
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    # --- pointer --------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Middle button moves the view; left picks."""
        assert event is not None
        self.setFocus()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._drag = event.position()
        elif event.button() == Qt.MouseButton.LeftButton and not self._show_again(event.position()):
            if self.space.picking.take(event.position()):
                return
            over = self.space.over
            if over is not None and over.at == self.shown.at:
                self.shown.operation, self.shown.picks = over.operation, []
                self.shown.curves = [over.curve] if over.curve else []
                self.shown.selection_changed.emit()
                return
            hit = self._current()
            if hit is None:
                self.shown.operation = ""
                self.shown.pick([])
                return
            entry = (hit.kind, hit.body, hit.label)
            picks = (
                [p for p in self.shown.picks if p != entry]
                if event.modifiers() & Qt.KeyboardModifier.ShiftModifier
                else []
            )
            self.shown.pick([*picks, entry])

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Type a figure where it stands, or open the sketch under the pointer."""
        assert event is not None
        tag, over = self.space.tag_at(event.position()), self.space.over
        if tag is not None:
            box, at, sketch, c = tag
            self._field = open_field(self.bench, self, at, sketch, c, box, self.setFocus)
        elif over is not None:
            self.opened.emit(over.at.document, over.operation)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Turn or slide while dragging, else name what lies under the pointer."""
        assert event is not None
        at = event.position()
        if self._drag is not None:
            self._untouched = False
            dx, dy = at.x() - self._drag.x(), at.y() - self._drag.y()
            self._drag = at
            right, up, _ = self.camera.axes()
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                k = 2 * self.camera.scale / self.height()
                focus = self.camera.focus - k * dx * right + k * dy * up
                self.camera = Camera(self.camera.direction, self.camera.up, focus, self.camera.scale)
            else:
                self._turn(-0.008 * dx, -0.008 * dy, right)
            self._render()
            return
        hits = self.picker.at(self.camera, at.x(), at.y(), self.width(), self.height())
        moved = self.space.hover(at)
        if moved or [h[:3] for h in hits] != [h[:3] for h in self._hover]:
            self._hover, self._depth = hits, 0
            self.update()

    def _turn(self, yaw: float, pitch: float, right: np.ndarray) -> None:
        def rotate(v: np.ndarray, axis: np.ndarray, angle: float) -> np.ndarray:
            c, s = np.cos(angle), np.sin(angle)
            return np.asarray(v * c + np.cross(axis, v) * s + axis * (axis @ v) * (1 - c))

        z = np.array([0.0, 0.0, 1.0])
        direction, up = (rotate(rotate(v, z, yaw), right, pitch) for v in (self.camera.direction, self.camera.up))
        self.camera = Camera(direction, up, self.camera.focus, self.camera.scale)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """The drag is over."""
        self._drag = None

    def leaveEvent(self, event: object) -> None:
        """Nothing is under the pointer."""
        self._hover = []
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom to the pointer."""
        assert event is not None
        self._untouched = False
        factor = 0.9 ** (event.angleDelta().y() / 120)
        x, y = event.position().x() - self.width() / 2, event.position().y() - self.height() / 2
        right, up, _ = self.camera.axes()
        k = 2 * self.camera.scale / self.height() * (1 - factor)
        focus = self.camera.focus + k * x * right - k * y * up
        self.camera = Camera(self.camera.direction, self.camera.up, focus, self.camera.scale * factor)
        self._render()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """V then a letter looks; Home frames; [ and ] step through what lies behind; O shows only this."""
        assert event is not None
        key = event.key()
        if self._waits_for_view and Qt.Key(key) in KEYS:
            self.look(KEYS[Qt.Key(key)])
        elif self._waits_for_view and key == Qt.Key.Key_N:
            self.look_square()
        elif key == Qt.Key.Key_Home:
            self.frame_all()
        elif key in (Qt.Key.Key_BracketLeft, Qt.Key.Key_BracketRight) and self._hover:
            self._depth = (self._depth + (1 if key == Qt.Key.Key_BracketRight else -1)) % len(self._hover)
            self.update()
        elif key == Qt.Key.Key_O:
            self.only_this()
        elif key == Qt.Key.Key_B:
            self.toggle_backdrop()
        elif key == Qt.Key.Key_Escape and self.space.picking.leave():
            self.update()
        elif key == Qt.Key.Key_H and self.shown.picks:
            self.hidden |= {body for _, body, _ in self.shown.picks}
            self._show()
            self._render()
        else:
            super().keyPressEvent(event)
        self._waits_for_view = key == Qt.Key.Key_V

    def toggle_backdrop(self) -> None:
        """Show or hide what stands behind the document."""
        self.shown.backdrop = not self.shown.backdrop
        self.bench.update()
        self.refresh()

    def only_this(self) -> None:
        """Hide all bodies but those picked; again to show all."""
        keys = {self._key(b) for b, _, _ in self.meshes}
        picked = {body for _, body, _ in self.shown.picks}
        self.hidden = set() if self.hidden or not picked else keys - picked
        self._show()
        self._render()

    def _current(self) -> Hit | None:
        return self._hover[self._depth] if self._hover else None

    # --- painting -------------------------------------------------------------------------------------

    def paintEvent(self, _: object) -> None:
        """The picture, then what is hovered and picked, then names."""
        p = QPainter(self)
        p.fillRect(self.rect(), QColor(theme.PAPER))
        if not self.meshes and not self.around and not self.space.things():
            self._paint_empty(p)
            return
        if self._image is not None:
            p.drawImage(QPointF(0, 0), self._image)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.space.paint(p)
        for body, face in self._lit_faces():
            self._paint_pick(p, "face", body, face, 0.3)
        for kind, body, label in self.shown.picks:
            self._paint_pick(p, kind, body, label, 0.55)
        hit = self._current()
        if hit is not None:
            self._paint_pick(p, hit.kind, hit.body, hit.label, 0.4)
            self._paint_name(p, hit)
        self._paint_axes(p)
        if self.hidden:
            self._paint_hidden(p)

    def _lit_faces(self) -> list[tuple[str, str]]:
        """Faces made by operations that the driver under the pointer moves."""
        lit = self.shown.lit
        return [
            (self._key(b), face)
            for b, mesh, _ in self.meshes
            for face in (mesh.faces if lit and b[0] == self.shown.document_id else ())
            if face.split(":")[0] in lit
        ]

    def _paint_hidden(self, p: QPainter) -> None:
        """What is hidden, by name; a click brings one back."""
        names = [(k, f"{self.body_name(k)} is hidden, show") for k in sorted(self.hidden)]
        rows = [("", f"{len(names)} hidden, show all"), *names] if len(names) > 1 else names
        p.setFont(theme.font(11))
        self._hidden_rows = []
        y = self.height() - 14 - 18 * len(rows)
        for key, text in rows:
            width = QFontMetricsF(p.font()).horizontalAdvance(text)
            box = QRectF(self.width() - width - 18, y, width + 8, 18)
            p.setPen(QColor(theme.INK if not key else theme.SOFT))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
            self._hidden_rows.append((box, key))
            y += 18

    def _show_again(self, at: QPointF) -> bool:
        """Bring back what is clicked in the list of hidden bodies."""
        for box, key in self._hidden_rows if self.hidden else []:
            if box.contains(at):
                self.hidden = self.hidden - {key} if key else set()
                self._show()
                self._render()
                return True
        return False

    def _paint_empty(self, p: QPainter) -> None:
        document = self.shown.document
        p.setFont(theme.font(14, 600))
        p.setPen(QColor(theme.INK))
        layout = document is not None and document.kind == "layout"
        title = "Building…" if self.bench.updating else "Nothing here yet" if layout else "No bodies here yet"
        p.drawText(self.rect().adjusted(0, -30, 0, -30), Qt.AlignmentFlag.AlignCenter, title)
        p.setFont(theme.font(12))
        p.setPen(QColor(theme.SOFT))
        if not self.bench.updating:
            hint = {
                "assembly": "Place a part to begin.",
                "layout": "Make a plane or a sketch: both verbs stand above.",
            }.get(document.kind if document else "", "Sketch an outline, then extrude it.")
            p.drawText(self.rect().adjusted(0, 10, 0, 10), Qt.AlignmentFlag.AlignCenter, hint)

    def _mesh(self, key: str) -> BodyMesh | None:
        seen = (*self.meshes, *self.around)
        return next((m for b, m, _ in seen if self._key(b) == key and key not in self.hidden), None)

    def _paint_pick(self, p: QPainter, kind: str, body: str, label: str, alpha: float) -> None:
        mesh = self._mesh(body)
        if mesh is None:
            return
        if kind == "edge" and label in mesh.edges:
            k = mesh.edges.index(label)
            points = mesh.lines[mesh.line_starts[k] : mesh.line_starts[k + 1]]
            flat = self.camera.project(points, self.width(), self.height())
            p.setPen(QPen(QColor(theme.PLUM), 3))
            p.drawPolyline(QPolygonF([QPointF(x, y) for x, y, _ in flat]))
        elif kind == "face" and label in mesh.faces:
            flat = self.camera.project(mesh.points, self.width(), self.height())
            chosen = mesh.triangles[mesh.face == mesh.faces.index(label)]
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(theme.colour(theme.PLUM, alpha))
            p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            corners = flat[chosen]
            a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
            facing = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0] < 0
            for t in corners[facing]:
                p.drawPolygon(QPolygonF([QPointF(x, y) for x, y, _ in t]))
            p.setRenderHint(QPainter.RenderHint.Antialiasing)

    def _paint_name(self, p: QPainter, hit: Hit) -> None:
        behind = f"   {self._depth + 1} of {len(self._hover)} here, [ ] behind" if len(self._hover) > 1 else ""
        text = f"{self.describe(hit.kind, hit.body, hit.label)}{behind}"
        p.setFont(theme.font(11, 500))
        width = QFontMetricsF(p.font()).horizontalAdvance(text)
        x, y = min(hit.x + 14, self.width() - width - 16), max(hit.y - 26, 4)
        p.setPen(QPen(QColor(theme.EDGE), 1))
        p.setBrush(QColor(theme.FIELD))
        p.drawRoundedRect(QRectF(x, y, width + 12, 20), 3, 3)
        p.setPen(QColor(theme.INK))
        p.drawText(QPointF(x + 6, y + 14), text)

    def describe(self, kind: str, body: str, label: str) -> str:
        """A face or edge in words: which operation made it, and its role there."""
        document = self.bench.family.documents.get(body.split(".")[0])
        return f"{kind} of {self.body_name(body)} · {face_words(document, label)}"

    def _paint_axes(self, p: QPainter) -> None:
        right, up, _ = self.camera.axes()
        at = QPointF(38, self.height() - 34)
        p.setFont(theme.font(10))
        for name, axis in (("x", (1, 0, 0)), ("y", (0, 1, 0)), ("z", (0, 0, 1))):
            d = QPointF(24 * float(np.dot(axis, right)), -24 * float(np.dot(axis, up)))
            p.setPen(QPen(QColor(theme.INK), 1.3))
            p.drawLine(at, at + d)
            p.drawText(at + d * 1.32 + QPointF(-3, 4), name)

    def close_scene(self) -> None:
        """Give graphics memory back."""
        self._sharpen.stop()
        if self._scene is not None:
            self._scene.close()


def _alike(a: list[Seen], b: list[Seen]) -> bool:
    """Whether two lists show the same pictures of the same bodies."""
    return len(a) == len(b) and all(x[0] == y[0] and x[1].source is y[1].source for x, y in zip(a, b, strict=True))


def face_words(document: object, label: str) -> str:
    """`o1:side:c9` as `side of Foot block`; an edge names both its faces."""
    if label.startswith("("):
        inner = label[1:].split(")")[0]
        return (
            " and ".join(face_words(document, part) for part in inner.split("|")[:2])
            if "(" not in inner
            else "edge of a blend"
        )
    operation, _, rest = label.partition(":")
    name = operation
    if isinstance(document, Model):
        name = next((o.name for o in document.build if o.id == operation), operation)
    role = rest.split(":")[0].split("#")[0]
    return f"{role} of {name}"
