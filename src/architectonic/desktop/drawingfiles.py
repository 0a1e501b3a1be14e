"""Drawings in and out of the shown sketch: which unit and layers, what was left out."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from architectonic.desktop.actions import Action
from architectonic.desktop.drawtools import DrawTools
from architectonic.desktop.prompt import Prompt
from architectonic.desktop.workbench import Workbench
from architectonic.exchange import dxf
from architectonic.exchange.dxf import Plot
from architectonic.session.bringing import Brought, bring_in

UNITS = ["mm", "in", "cm", "m", "ft"]
ALL = "all of them"
DXF = "Drawings (*.dxf)"


class DrawingFiles:
    """Callbacks about DXF files."""

    def __init__(self, bench: Workbench, prompt: Prompt, tools: DrawTools) -> None:
        self.bench, self.prompt, self.tools = bench, prompt, tools

    def actions(self) -> list[Action]:
        """All of them."""
        return [
            Action("sketch.bring", "Bring in curves from DXF…", self.ask_in, self._has_sketch, menu="document"),
            Action("sketch.send", "Write this sketch as DXF…", self.ask_out, self._has_solved, menu="document"),
        ]

    def _has_sketch(self) -> bool:
        return self.tools.canvas.sketch is not None and self.tools.canvas.isVisible()

    def _has_solved(self) -> bool:
        return self._has_sketch() and self.tools.canvas.solved is not None

    def _window(self) -> QWidget | None:
        return self.tools.canvas.window()

    def ask_in(self) -> None:
        """Ask for a file."""
        name, _ = QFileDialog.getOpenFileName(self._window(), "Bring in curves", "", DXF)
        if name:
            self.bring(Path(name))

    def bring(self, file: Path) -> None:
        """Read a drawing, ask for what it does not say, then put its curves into the shown sketch."""
        plots: list[Plot] = []
        if not self.bench.attempt(lambda: plots.append(dxf.read(file))):
            return
        (plot,) = plots
        layers = plot.layers()
        if not layers:
            self.bench.told.emit(f"{file.name} has no curve to take: {plot.told() or 'it is empty'}.", True)
            return
        units = [f"{plot.unit}, as the file says", *(u for u in UNITS if u != plot.unit)] if plot.unit else UNITS
        named = [f"{name} ({count})" for name, count in sorted(layers.items())]
        total = sum(layers.values())

        def done(unit: str, layer: str, near: str) -> bool:
            chosen = None if layer.startswith(ALL) else frozenset({layer.rpartition(" (")[0]})
            return self._put(plot, file.name, unit.partition(",")[0], chosen, near)

        self.prompt.ask(
            f"{total} curves of {file.name}",
            [("its unit", units), ("layers", [f"{ALL} ({total})", *named]), ("join ends within", "0.01 mm")],
            done,
            "Bring in",
        )

    def _put(self, plot: Plot, name: str, unit: str, layers: frozenset[str] | None, near: str) -> bool:
        made: list[Brought] = []
        done = self.tools.apply(
            f"bring in {name}", lambda s: made.append(bring_in(s, plot, unit, layers, s.measure(near)))
        )
        if done:
            told = f", {made[0].joined} ends joined"
            if plot.left_out:
                told += f", left out: {plot.told()}"
            self.bench.last_change += told
            self.tools.canvas.frame_later()
        return done

    def ask_out(self) -> None:
        """Ask for a file."""
        sketch = self.tools.canvas.sketch
        assert sketch is not None
        name, _ = QFileDialog.getSaveFileName(self._window(), "Write as DXF", f"{sketch.name}.dxf", DXF)
        if name:
            self.send(Path(name))

    def send(self, file: Path) -> bool:
        """Write the shown sketch."""
        solved = self.tools.canvas.solved
        assert solved is not None
        done = self.bench.attempt(lambda: dxf.write(file, solved))
        if done:
            self.bench.told.emit(f"Wrote {len(solved.curves)} curves to {file}.", False)
        return done
