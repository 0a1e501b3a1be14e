"""Plays a dimension through a span of values: there and back, what moves lit, then the sketch springs back."""

from __future__ import annotations

from PyQt6.QtCore import QTimer

from architectonic.desktop.sketch.view import SketchView
from architectonic.quantities.units import shown
from architectonic.session.sketch.playing import STEPS, Span, Still


class Player:
    """One play at a time on a canvas; Esc ends it."""

    def __init__(self, canvas: SketchView) -> None:
        self.canvas = canvas
        self.span: Span | None = None
        self.moving: set[str] = set()
        self.told, self.value = "", 0.0
        self._frames: list[Still] = []
        self._way: list[int] = []
        self._timer = QTimer(canvas)
        self._timer.setInterval(30)
        self._timer.timeout.connect(self._next)

    def start(self, span: Span) -> None:
        """Begin at the present value, up, down, and back to it."""
        self.stop()
        self.span, self._frames = span, []
        self._still = self.canvas.solved
        self._way = [*range(STEPS + 1), *range(STEPS - 1, -1, -1)]
        self._timer.start()

    def stop(self) -> bool:
        """Spring back; False when nothing was playing."""
        playing = self.span is not None
        self._timer.stop()
        self.span, self.moving, self.told = None, set(), ""
        if playing:
            self.canvas.live = None
            self.canvas.update()
        return playing

    def _next(self) -> None:
        span = self.span
        if span is None or self._still is None:
            return
        if not self._way:
            report = span.report(self._frames)
            self.stop()
            self.canvas.desk.told.emit(report, any(f.solved is None for f in self._frames))
            return
        frame = span.frame(self._way.pop(0))
        if len(self._frames) <= STEPS:
            self._frames.append(frame)
        if frame.solved is not None:
            self.canvas.live = frame.solved
            self.moving |= span.moved(frame, self._still)
        self.value = frame.value
        self.told = shown(frame.value, span.unit, 2) + ("" if frame.solved is not None else ": does not solve")
        self.canvas.update()
