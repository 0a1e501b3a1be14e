"""The 3D canvas: an off-screen picture under painted names, highlights and tags (docs/decisions/0010)."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QGuiApplication,
    QImage,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from architectonic.describe.results import Frame, Node
from architectonic.desktop.body.laidover import LaidOver
from architectonic.desktop.body.looks.opening import Opening
from architectonic.desktop.body.painter import BodyPainter
from architectonic.desktop.body.planepick import PlanePick
from architectonic.desktop.body.planepull import PlanePull
from architectonic.desktop.body.space import Space
from architectonic.desktop.body.taker import Taker
from architectonic.desktop.body.view import BodyView
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.dock import LINE
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.pane import Pane
from architectonic.desktop.sketch.dimensionfield import open_field
from architectonic.family.scopes import InPlace
from architectonic.render.camera import VIEWS, Camera, frame
from architectonic.render.picking import Picker, RayHit
from architectonic.render.pictures import alike, bodies_of, meshes_of

if TYPE_CHECKING:
    from architectonic.render.scene import Scene

BACKDROP = "#A9A59B"
"""What stands behind is all of one grey: only a document's own bodies have colours."""
SMOOTH = 4
"""Samples of a pixel in a picture at rest; without a graphics card they cost three times the picture itself."""
KEYS = {Qt.Key.Key_F: "front", Qt.Key.Key_T: "top", Qt.Key.Key_R: "right", Qt.Key.Key_I: "isometric"}


class BodyCanvas(BodyView):
    """Bodies and layouts in space. Middle drag turns, Shift with it slides, the wheel zooms to the pointer.

    Signals:
        opened (str, str): a sketch was double-clicked: its document and itself.
        deleted: what is chosen is to go.
        pulled (str, float): a copy of a plane is pulled off by its name: the plane, and how far, mm.
    """

    opened = pyqtSignal(str, str)
    pulled = pyqtSignal(str, float)
    deleted = pyqtSignal()

    def __init__(self, desk: Desk, shown: Pane) -> None:
        super().__init__(desk, shown)
        self._scene: Scene | None = None
        self.space = Space(self)
        self.plane_pick, self.plane_pull = PlanePick(self.space), PlanePull(self.space)
        self.opening = Opening(self)
        self.laid = LaidOver(self)
        self.painter = BodyPainter(self, self.space, self.opening, self.laid)
        self.taker = Taker(self, self.space)
        self._field: QWidget | None = None
        self.picker = Picker([])
        self._image: QImage | None = None
        self._stale = False
        self._framed: str = ""
        self._untouched = True
        self._drag: QPointF | None = None
        self._waits_for_view = False
        self._sharpen = QTimer(self, singleShot=True, interval=150, timeout=self._on_rest)  # type: ignore[call-arg]
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(320, 160)
        self.setAccessibleName("3D canvas")
        desk.evaluated.connect(self.refresh)
        shown.changed.connect(self._on_shown)
        shown.selection_changed.connect(self.update)
        desk.answered.connect(self.update)

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
        self.over = []
        self.opening.close()

    def refresh(self) -> None:
        """Follow the last evaluation; what is missing in it keeps its last picture."""
        look = self.shown.look
        if look is None or self.shown.evaluation is None or not self.isVisible():
            return
        found = meshes_of(self.shown.evaluation, look)
        around = [b for behind in self.shown.behind() for b in meshes_of(self.shown.evaluation, behind)]
        if not found and self._framed == look.at.document and self.desk.updating:
            return
        same = not self.laid.refresh() and alike(found, self.meshes) and alike(around, self.around)
        resting = QGuiApplication.mouseButtons() == Qt.MouseButton.NoButton
        if same and self._framed == look.at.document and not (resting and self._untouched and not self._all_seen()):
            self.update()
            return
        first = bool(found) and not self.meshes and self._untouched  # the first body is seen whole
        self.meshes, self.around = found, around
        self._show()
        if self._framed != look.at.document or first:
            waits = not found and bool(self.desk.updating or bodies_of(self.shown.evaluation, look))
            self._framed = "" if waits else look.at.document  # what is still being made is framed once it is there
            self.frame_all()
        elif self._untouched and not self._all_seen() and resting:
            self.frame_all()  # a view that nobody turned shows all of it, except while something is dragged
        else:
            self.anew()

    def _show(self) -> None:
        shown = self.opening.seen(self.laid.uncovered([s for s in self.meshes if s[0] not in self.hidden]))
        self._cut = {b: m for b, m, _ in shown} if self.opening.cuts else {}
        if self.meshes or self.around:
            behind = [(m, BACKDROP, 0.28) for b, m, _ in self.around if b not in self.hidden]
            bodies = [*((m, c, self.laid.share) for _, m, c in shown), *behind, *self.laid.bodies()]
            self.scene.set_bodies(bodies, self.opening.cuts, self.opening.instead(shown))
        seen = [*shown, *(b for b in self.around if b[0] not in self.hidden)]
        self.picker = Picker([(b, m) for b, m, _ in seen])

    def show_again(self) -> None:
        """A new picture of the same bodies."""
        self._show()
        self.anew()

    # --- camera ---------------------------------------------------------------------------------------

    def frame_all(self) -> None:
        """Show everything."""
        high = max(1, self.height())
        self.camera = frame(self.camera, self._clouds(), self.width() / high, 1.12)
        self._untouched = True
        self.anew()

    def _clouds(self) -> list[np.ndarray]:
        """What a view of everything shows: the document's own, else what stands behind it."""
        own = [m.points for b, m, _ in self.meshes if b not in self.hidden]
        own += [m.points for m, _, _ in self.laid.bodies()]
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
            mesh = self.mesh(body)
            plane = mesh.planes[mesh.faces.index(label)] if mesh and kind == "face" and label in mesh.faces else None
            if plane:
                self._look_along(np.array(plane[1]))
                return
        evaluation, at = self.shown.evaluation, self.shown.at
        frame = evaluation.value(Node("frame", at, self.shown.operation)) if evaluation and at else None
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

    def anew(self) -> None:
        """Have a new picture: one for all that changes until the canvas is painted next."""
        self._stale = True
        self.update()

    def _draw(self, resting: bool = False) -> None:
        self._stale = False
        if not self.meshes and not self.around:
            self._image = None
            return
        ratio = self.devicePixelRatioF()
        w, h = int(self.width() * ratio), int(self.height() * ratio)
        self.scene.set_samples(SMOOTH if resting else 0)
        pixels = self.scene.picture(self.camera, w, h)
        self._image = QImage(pixels.tobytes(), w, h, 3 * w, QImage.Format.Format_RGB888)
        self._image.setDevicePixelRatio(ratio)
        if SMOOTH and not resting:
            self._sharpen.start()

    def _on_rest(self) -> None:
        if self.isVisible():
            self._draw(resting=True)
            self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """A new size needs a new picture. A card that opens below takes height from it: nothing moves under the pointer,
        unless something would leave a view that nobody turned.
        """
        super().resizeEvent(event)
        old, new = (event.oldSize().height(), event.size().height()) if event is not None else (0, 0)
        if old > 0 and new > 0:
            here = self.camera
            per_pixel, (_, up, _) = 2 * here.scale / old, here.axes()
            focus = here.focus + up * per_pixel * (old - new) / 2
            self.camera = Camera(here.direction, here.up, focus, here.scale * new / old)
        line = event is not None and event.size().width() == event.oldSize().width() and abs(new - old) <= LINE
        if self._untouched and not (line and self._all_seen()):
            self.frame_all()
        else:
            self.anew()

    def _all_seen(self) -> bool:
        """Whether everything lies within the picture."""
        w, h = self.width(), self.height()
        flat = [self.camera.project(points, w, h) for points in self._clouds() if len(points)]
        return all(bool(((p[:, :2] >= 0) & (p[:, :2] <= (w, h))).all()) for p in flat)

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
            if self.plane_pick.take(event.position()) or self.opening.take(event.position()):
                return
            if any(h.take(event.position()) for h in self.handles):
                return
            if self.shown.gathering:
                self.taker.click(event.position())
                return
            self.plane_pull.take(event.position())
            over = self.space.over
            if over is not None and over.at == self.shown.at:
                self.shown.operation, self.shown.picks = self.space.row(over), []
                self.shown.curves = [over.curve] if over.curve else []
                self.shown.selection_changed.emit()
                return
            hit = self.current()
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
            self._field = open_field(self.desk, self, at, sketch, c, box, self.setFocus)
        elif over is not None:
            self.opened.emit(*self.space.home(over))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Turn or slide while dragging, else name what lies under the pointer."""
        assert event is not None
        at = event.position()
        if self._drag is not None:
            self._untouched = False
            dx, dy = at.x() - self._drag.x(), at.y() - self._drag.y()
            self._drag = at
            slides = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
            self.camera = self.camera.slid(dx, dy, self.height()) if slides else self.camera.turned(dx, dy)
            self.anew()
            return
        if self.opening.follow(at) or any(h.follow(at) for h in self.handles):
            return
        held = self.plane_pull.held
        if held is not None:
            distance = self.plane_pull.follow(at)
            if distance is not None:
                self.pulled.emit(held[0].operation.id, distance)
            elif self.plane_pull.pulled:
                self.desk.told.emit("Turn the view first: this plane is seen square on.", False)
            return
        hits = self.picker.at(self.camera, at.x(), at.y(), self.width(), self.height())
        if self.shown.gathering:
            hits = [h for h in [*self._given_hits(at), *hits] if h.kind in self.taker.wants.bodies]
        on = [h.hover(at) for h in self.handles]
        hits = [] if any(h.under for h in self.handles) else hits
        moved = self.space.hover(at) or any(on)
        if moved or [h[:3] for h in hits] != [h[:3] for h in self.over]:
            self.over, self.deep = hits, 0
            self.update()

    def _given_hits(self, at: QPointF) -> list[RayHit]:
        """What of the bodies that an open sentence is given lies here and is not there any more in its result."""
        found: list[RayHit] = []
        for body, mesh, _ in self.meshes:
            given = self.shown.given(body)
            if given is not None:
                hits = Picker([(body, given)]).at(self.camera, at.x(), at.y(), self.width(), self.height())
                found += [h for h in hits if not mesh.has(h.label)]
        return found

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """The drag is over."""
        self._drag = None
        if event is not None:
            self.opening.let_go(event.position())
        for h in self.handles:
            h.let_go()
        self.plane_pull.release()

    def leaveEvent(self, event: object) -> None:
        """Nothing is under the pointer."""
        self.over = []
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom to the pointer."""
        assert event is not None
        self._untouched = False
        x, y = event.position().x() - self.width() / 2, event.position().y() - self.height() / 2
        self.camera = self.camera.nearer(event.angleDelta().y() / 120, x, y, self.height())
        self.anew()

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
        elif key in (Qt.Key.Key_BracketLeft, Qt.Key.Key_BracketRight) and self.over:
            self.deep = (self.deep + (1 if key == Qt.Key.Key_BracketRight else -1)) % len(self.over)
            self.update()
        elif event.matches(QKeySequence.StandardKey.SelectAll):
            self.taker.take_all()
        elif key == Qt.Key.Key_Delete and not self.shown.gathering:
            self.deleted.emit()
        elif key == Qt.Key.Key_O:
            self.only_this()
        elif key == Qt.Key.Key_B:
            self.toggle_backdrop()
        elif key == Qt.Key.Key_Escape and self.plane_pick.leave():
            self.update()
        elif key == Qt.Key.Key_H and self.shown.picks:
            self.hide_bodies(self.hidden | {body for _, body, _ in self.shown.picks})
        else:
            super().keyPressEvent(event)
        self._waits_for_view = key == Qt.Key.Key_V

    def toggle_backdrop(self) -> None:
        """Show or hide what stands behind the document."""
        self.shown.backdrop = not self.shown.backdrop
        self.desk.update()
        self.refresh()

    def hide_bodies(self, hidden: set[InPlace]) -> None:
        """Hide these bodies and no others."""
        self.hidden = hidden
        self.show_again()

    def only_this(self) -> None:
        """Hide all bodies but those picked; again to show all."""
        keys = {b for b, _, _ in self.meshes}
        picked = {body for _, body, _ in self.shown.picks}
        self.hide_bodies(set() if self.hidden or not picked else keys - picked)

    # --- painting -------------------------------------------------------------------------------------

    def paintEvent(self, _: object) -> None:
        """The picture, then what is hovered and picked, then names."""
        if self._stale:
            self._draw()
        p = QPainter(self)
        p.fillRect(self.rect(), QColor(theme.PAPER))
        if self._image is not None:
            p.drawImage(QPointF(0, 0), self._image)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.painter.paint(p)
        self.plane_pick.paint(p)

    def _show_again(self, at: QPointF) -> bool:
        """Bring back what is clicked in the list of hidden bodies."""
        for box, key in self.painter.hidden_rows if self.hidden else []:
            if box.contains(at):
                self.hide_bodies(self.hidden - {key} if key is not None else set())
                return True
        return False

    def close_scene(self) -> None:
        """Give graphics memory back."""
        self._sharpen.stop()
        if self._scene is not None:
            self._scene.close()
