"""The field that holds the points of a path in space: clicked, or typed along a lock."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QToolButton

from architectonic.base.errors import UserFault
from architectonic.describe.words.blanks import counted
from architectonic.desktop.pane.namefield import NameField
from architectonic.desktop.sentences.blanks.fields import Field, mark_active
from architectonic.desktop.sentences.blanks.ledrules import LedRules
from architectonic.family import edits, names
from architectonic.family.operations.curves.path import PathPoint, PathRule, RuleKind, SpacePath
from architectonic.family.records import Family, Model, Reference
from architectonic.session.model import pathing

AXES = "xyz"
LOCKS = ("", *AXES, *(f"plane {a}" for a in AXES))
"""Nothing, along an axis, or in the plane square to one."""
FACE = "face"
"""In the plane of a face that was pointed at."""


class FaceLock(NamedTuple):
    """A flat face: what points in its plane are held to, a point of it and its normal."""

    reference: Reference
    origin: tuple[float, float, float]
    normal: tuple[float, float, float]


def on_axis(lock: str) -> bool:
    """Whether a lock is along an axis."""
    return lock in LOCKS[1:4]


def on_plane(lock: str) -> bool:
    """Whether a lock is in a plane other than that of the view."""
    return lock == FACE or lock in LOCKS[4:]


def lock_words(lock: str) -> str:
    """A lock in words."""
    return (
        "in the plane of the view"
        if not lock
        else "in the plane of a face"
        if lock == FACE
        else f"square to {lock[-1].upper()}"
        if " " in lock
        else f"along {lock.upper()}"
    )


class _Typed(NameField):
    """Where a length along the lock, or three coordinates, are typed; X, Y, Z and F turn the lock while it is empty."""

    def __init__(self, field: LedField) -> None:
        super().__init__("", None, lambda: names.offered(field.desk.family, field.document), lambda _: "")
        self.led = field

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Axes while nothing is typed; Enter sets the point; Backspace in the empty field takes the last one out."""
        assert event is not None
        letter = event.text().lower()
        if not self.text() and on_axis(letter):
            plane = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.led.turn_lock(f"plane {letter}" if plane else letter)
        elif not self.text() and letter == "f":
            self.led.lock_to_face()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.text():
            self.led.type_in(self.text())
        elif event.key() == Qt.Key.Key_Backspace and not self.text():
            self.led.drop_last()
        else:
            super().keyPressEvent(event)


class LedField(Field):
    """Points of a path in order, with what holds each to the one before and to what it was clicked on."""

    def fill(self, value: Any) -> None:
        """A button that says how many there are, the lock, and a field for what is typed."""
        assert isinstance(self.record, SpacePath)
        self.path = self.record
        self.lock = ""
        self.pointed: Callable[[], FaceLock | None] = lambda: None
        self.face: FaceLock | None = None
        self.button = QToolButton()
        self.button.setCheckable(True)
        self.button.setAccessibleName("points of the path")
        self.button.clicked.connect(lambda _=False: self.changed())
        self.locked = QToolButton()
        self.locked.setAccessibleName("lock of the next point")
        self.locked.setToolTip(
            "X, Y or Z locks the next point to that axis, with Shift to the plane square to it; F to the plane of the face"
            " under the pointer; again frees it"
        )
        self.locked.clicked.connect(lambda _=False: self.turn_lock(self._next_lock))
        self.typed = _Typed(self)
        self.typed.setMinimumWidth(120)
        self.typed.setFixedHeight(26)
        self.typed.setAccessibleName("next point")
        self.rules = LedRules(self.desk, lambda: self.document, lambda: self.path, self._put)
        self.widgets += [self.button, self.locked, self.typed, *self.rules.widgets]
        self.word()

    def word(self) -> None:
        """How many points there are, the lock, and what may be typed."""
        count = len(self.path.order)
        self.button.setText(counted(count, "point") if count else "click points")
        self.button.setToolTip("Active: a click on a vertex, an end or a centre ties a point to it, elsewhere it stands free. Delete takes out the last.")  # fmt: skip
        self.locked.setText(lock_words(self.lock))
        self.typed.setPlaceholderText("how far" if on_axis(self.lock) and count else "x, y, z")
        self.rules.word()

    @property
    def wants(self) -> str:
        """Two points at least."""
        return "" if len(self.path.order) > 1 else "click points in the picture, or type where they are"

    @property
    def picked(self) -> list[Reference]:
        """What its points are tied to, the last of them last."""
        return [r.to for r in self.path.rules if r.kind == "meets" and r.to is not None]

    @property
    def first(self) -> QLineEdit | None:
        """What is typed."""
        return self.typed

    def show(self, shown: bool) -> None:
        """What puts a rule on only while one is asked for."""
        super().show(shown)
        if shown:
            self.rules.word()

    def activate(self, active: bool) -> None:
        """The button is pressed while clicks go to it."""
        self.button.setChecked(active)
        mark_active(self.button, active)

    # --- points ---------------------------------------------------------------------------------------

    def turn_lock(self, lock: str) -> None:
        """Lock the next point; the same lock again frees it."""
        self.lock = "" if lock == self.lock else lock
        self.word()
        self.desk.answered.emit()

    @property
    def _next_lock(self) -> str:
        known = (*LOCKS, FACE) if self.face is not None else LOCKS
        return known[(known.index(self.lock) + 1) % len(known)] if self.lock in known else ""

    def lock_to_face(self) -> None:
        """Lock the next point to the plane of the flat face under the pointer; again frees it."""
        found = self.pointed()
        if found is None and self.lock != FACE:
            self.desk.told.emit("Point at a flat face of a body first, then F.", True)
            return
        self.face = found or self.face
        self.turn_lock(FACE)

    def _put(self, path: SpacePath) -> None:
        self.path = path
        self.word()
        self.changed()

    def take(self, reference: Reference) -> None:
        """A point on something that was clicked."""
        seen = reference.witness
        at = tuple(float(c) for c in seen.at) if seen is not None and len(seen.at) == 3 else (0.0, 0.0, 0.0)
        key = self._add(at)  # type: ignore[arg-type]
        self._hold("meets", (key,), to=reference)
        self.changed()

    def put(self, at: tuple[float, float, float]) -> None:
        """A point where the pointer is; on a lock that is kept."""
        before = self.path.order[-1] if self.path.order else ""
        key = self._add(at)
        if self.lock == FACE and self.face is not None:
            self._hold("in_plane", (key,), to=self.face.reference)
        elif before and self.lock:
            kind = f"level_{self.lock[-1]}" if " " in self.lock else f"along_{self.lock}"
            self._hold(kind, (before, key))  # type: ignore[arg-type]
        self.changed()

    def type_in(self, typed: str) -> None:
        """A length along the lock, or coordinates; both become values that hold."""
        before = self.path.order[-1] if self.path.order else ""
        stood = self.path
        try:
            if before and on_axis(self.lock):
                k = AXES.index(self.lock)
                start = list(self.path.points[before].at)
                start[k] += 10.0
                key = self._add((start[0], start[1], start[2]))
                self._hold(f"along_{self.lock}", (before, key))  # type: ignore[arg-type]
                self._hold(f"step_{self.lock}", (before, key), typed)  # type: ignore[arg-type]
            else:
                parts = [t.strip() for t in typed.replace(";", ",").split(",")]
                if len(parts) != 3:
                    raise UserFault("a point has three coordinates", typed, "write x, y, z, or lock an axis first")
                key = self._add((0.0, 0.0, 0.0))
                for axis, part in zip(AXES, parts, strict=True):
                    self._hold(f"coordinate_{axis}", (key,), part)  # type: ignore[arg-type]
        except UserFault as fault:
            self.path = stood
            self.desk.told.emit(fault.sentence, True)
            return
        self.typed.clear()
        self.changed()

    def move(self, key: str, at: tuple[float, float, float]) -> None:
        """A point is pulled to where the pointer is; what holds it decides where it comes to."""
        self.path = edits.replace(
            self.path, points={**self.path.points, key: edits.replace(self.path.points[key], at=at)}
        )
        self.changed()

    def drop_last(self) -> None:
        """Take out the last point."""
        if self.path.order:
            self.path = pathing.without_point(self.path, self.path.order[-1])
            self.word()
            self.changed()

    def _add(self, at: tuple[float, float, float]) -> str:
        self.path, key = pathing.with_point(self.path, at)
        self.word()
        return key

    def _hold(self, kind: RuleKind, of: tuple[str, ...], value: str = "", to: Reference | None = None) -> None:
        made: PathRule = pathing.rule_said(self.desk.family, self.document, self.path, kind, of, value, to)
        self.path = edits.replace(self.path, rules=(*self.path.rules, made))

    def read(self, family: Family, document: Model) -> dict[str, Any]:
        """Points, their order and what holds them."""
        points: dict[str, PathPoint] = self.path.points
        return {"points": points, "order": self.path.order, "rules": self.path.rules}
