"""How long the event loop of the window is busy while everything is rebuilt, and what 1,000 edits leave in memory."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any


class _Window:
    """The real window, off screen, on the demo family in a folder of its own."""

    def __init__(self, folder: Path) -> None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        from PyQt6.QtWidgets import QApplication

        from architectonic.demo.family import write
        from architectonic.desktop.kit import theme
        from architectonic.desktop.pane.desk import Desk
        from architectonic.desktop.window.shell import MainWindow
        from architectonic.session.open.engine import Engine

        self.application: Any = QApplication.instance() or QApplication([])
        theme.apply(self.application)
        self.engine = Engine.start(folder / "cache")
        session = write(folder / "family", self.engine.evaluator, folder / "state")
        self.desk = Desk(session, self.engine)
        self.shell = MainWindow(self.desk)
        self.shell.resize(1280, 800)
        self.shell.show()
        self.desk.update()
        self.settle()

    def settle(self) -> None:
        """Until everything is current."""
        while self.desk.updating or self.desk.settled is None or self.desk.work.busy:
            self.application.processEvents()
            time.sleep(0.0005)

    def named(self, name: str) -> Any:
        """A document."""
        from architectonic.family import edits

        return edits.find_document(self.desk.family, name)

    def reach(self, mm: float) -> None:
        """Drag the whole light along: the reach in M."""
        from architectonic.family import edits

        sizes = self.named("Sizes")
        key = next(p.id for p in sizes.parameters if p.name == "reach")
        self.desk.apply("reach", lambda f: edits.set_value(f, sizes.id, key, f"{mm:g} mm"))

    def close(self) -> None:
        """End it."""
        self.shell.leave()


def _gap(window: _Window, act: Callable[[], object]) -> tuple[float, float]:
    """Longest gaps, in seconds, between ticks of 2 ms until all is current: without and with the pictures drawn."""
    from PyQt6.QtCore import QTimer

    drawn, depth = [0.0], [0]
    canvas = window.shell.bodies

    def counted(real: Callable[..., object]) -> Callable[..., None]:
        def call(*arguments: object, **keywords: object) -> None:
            started = time.perf_counter()
            depth[0] += 1
            real(*arguments, **keywords)
            depth[0] -= 1
            if not depth[0]:
                drawn[0] += time.perf_counter() - started

        return call

    kept = {name: getattr(canvas, name) for name in ("_draw", "_show")}
    for name, real in kept.items():
        setattr(canvas, name, counted(real))
    gaps, whole, last = [0.0], [0.0], [time.perf_counter()]

    def tick() -> None:
        now = time.perf_counter()
        gaps.append(now - last[0] - drawn[0])
        whole.append(now - last[0])
        last[0], drawn[0] = now, 0.0

    timer = QTimer(interval=2, timeout=tick)  # type: ignore[call-arg]
    timer.start()
    act()
    window.settle()
    end = time.perf_counter() + 0.1
    while time.perf_counter() < end:
        window.application.processEvents()
    timer.stop()
    for name, real in kept.items():
        setattr(canvas, name, real)
    return max(gaps), max(whole)


def events() -> None:
    """A value is typed in the assembly; a section is traced and a trace kept while all is rebuilt; beside an idle window."""
    from statistics import median

    with tempfile.TemporaryDirectory() as folder:
        window = _Window(Path(folder))
        desk, shell = window.desk, window.shell
        desk.show(window.named("Light").id)
        window.settle()
        idle = median(_gap(window, lambda: None)[0] for _ in range(3))
        busy = [_gap(window, lambda k=k: window.reach(300 + k)) for k in range(7)]
        without, whole = median(a for a, _ in busy), median(b for _, b in busy)
        print(
            f"event loop, all rebuilt {1000 * without:5.1f} ms without pictures, {1000 * whole:5.1f} ms with them; idle {1000 * idle:4.1f} ms"
        )
        desk.show(window.named("Foot").id)
        shell.show_tab("Sketch")
        window.settle()
        took = []
        for k in range(5):
            shell.actions_.run("sketch.new")
            shell.prompt.fields[0].setText(f"Cut {k}")
            shell.prompt.fields[1].setCurrentText("front")
            shell.prompt.keep()
            window.settle()
            shell.actions_.run("sketch.trace")
            card = shell.trace_card
            card.blanks["how"].list.setCurrentIndex(2)  # type: ignore[attr-defined]
            card.chosen = [next(n for n, t in enumerate(card.things) if t.takes == "edge")]
            card.on_changed("things")
            window.reach(310 + k)  # everything is being rebuilt from now on
            started = time.perf_counter()
            card.keep()
            took.append(time.perf_counter() - started)
            window.settle()
        print(f"a section traced meanwhile  {1000 * median(took):5.1f} ms in the event loop (at most 50)")
        window.close()


def _resident(pid: int) -> float:
    """Resident memory of a process in MB."""
    text = Path(f"/proc/{pid}/statm").read_text("ascii")
    return int(text.split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6


def memory() -> None:
    """The window and its workers after 50 and after 1,000 edits of the demo, and the cache folder."""
    with tempfile.TemporaryDirectory() as folder:
        window = _Window(Path(folder))
        window.desk.show(window.named("Light").id)
        window.settle()
        sizes: dict[int, tuple[float, float]] = {}
        for k in range(1, 1001):
            window.reach(300 + k % 97 + k / 1000)
            window.settle()
            if k in (50, 1000):
                workers = sum(_resident(pid) for pid in window.engine.pool.processes())
                sizes[k] = (_resident(os.getpid()), workers)
        stored = sum(f.stat().st_size for f in (Path(folder) / "cache").rglob("*") if f.is_file()) / 1e6
        (a, b), (c, d) = sizes[50], sizes[1000]
        print(
            f"window {a:.0f} MB after 50 edits, {c:.0f} MB after 1,000, ratio {c / a:.2f} (at most 1.30); workers {b:.0f} and {d:.0f} MB, ratio {d / b:.2f}; cache {stored:.0f} MB"
        )
        window.close()
