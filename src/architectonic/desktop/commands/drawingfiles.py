"""Drawings in and out of the shown sketch: which unit and layers, what was left out."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Literal

from PyQt6.QtWidgets import QFileDialog, QWidget

from architectonic.describe.words.blanks import counted
from architectonic.describe.words.candidates import planes
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import NameField
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.exchange import apart, dxf
from architectonic.exchange.dxf import Plot
from architectonic.family.names import free_name
from architectonic.family.records import Family, Model
from architectonic.session.sketch.bringing import Bringing, Brought, bring

UNITS = ["mm", "in", "cm", "m", "ft"]
SHOWN = "the shown sketch"
DXF = "Drawings (*.dxf)"


class DrawingFiles:
    """Callbacks about DXF files."""

    def __init__(self, desk: Desk, prompt: Prompt, tools: DrawTools) -> None:
        self.desk, self.prompt, self.tools = desk, prompt, tools

    def actions(self) -> list[Action]:
        """The actions that read and write drawing files."""
        return [
            Action(
                "sketch.bring",
                "Bring in curves from DXF…",
                self.ask_in,
                self._is_model,
                menu="document",
                also=("import", "dxf", "bring a drawing", "drawing"),
                tells="Curves of a drawing, onto this or a new plane.",
                wants="wants a part or layout",
            ),
            Action(
                "sketch.send",
                "Write this sketch as DXF…",
                self.ask_out,
                self._has_solved,
                menu="document",
                also=("export", "dxf", "send a drawing"),
                tells="Its curves in mm, for other programs.",
                wants="wants a sketch",
            ),
        ]

    def _is_model(self) -> bool:
        return isinstance(self.tools.canvas.shown.document, Model)

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
        self.desk.work.run(f"Reading {file.name}", partial(apart.drawing, file), partial(self._ask_for, file))

    def _ask_for(self, file: Path, plot: Plot) -> None:
        layers = plot.layers()
        if not layers:
            self.desk.told.emit(f"{file.name} has no curve to take: {plot.told() or 'it is empty'}.", True)
            return
        units = [f"{plot.unit}, as the file says", *(u for u in UNITS if u != plot.unit)] if plot.unit else UNITS
        named = ", ".join(f"{name} {count}" for name, count in sorted(layers.items()))
        sketch = self.tools.canvas.sketch if self.tools.canvas.isVisible() else None
        where = {SHOWN: None, **{f"a new sketch on {name}": r for name, r in planes(self.tools.canvas.shown.subject)}}
        if sketch is None:
            del where[SHOWN]

        def done(unit: str, chosen: str, place: str, near: str) -> bool:
            name = free_name(file.stem, [o.name for o in self.tools.canvas.shown.build])
            along: Literal["x", "y"] = "y" if place.endswith(" right") else "x"
            wanted = Bringing(unit.partition(",")[0], chosen, near, name, where[place], along)
            return self._put(plot, file.name, wanted)

        def field(parent: QWidget) -> NameField:
            made = NameField("", parent, lambda: list(layers), lambda _: "")
            made.setPlaceholderText("all of them")
            return made

        self.prompt.ask(
            f"{counted(sum(layers.values()), 'curve')} of {file.name}, on layers {named}",
            [("its unit", units), ("layers", field), ("into", list(where)), ("join ends within", "0.01 mm")],
            done,
            "Bring in",
        )

    def _put(self, plot: Plot, name: str, wanted: Bringing) -> bool:
        shown, sketch = self.tools.canvas.shown, self.tools.canvas.sketch
        made: list[tuple[str, Brought]] = []

        def edit(family: Family) -> Family:
            assert shown.at is not None
            family, key, brought = bring(family, shown.at, sketch.id if sketch is not None else "", plot, wanted)
            made.append((key, brought))
            return family

        done = self.desk.apply(f"bring in {name}", edit)
        if done:
            key, brought = made[-1]
            told = f", {brought.joined} ends joined"
            if plot.left_out:
                told += f", left out: {plot.told()}"
            self.desk.last_change += told
            shown.operation = key
            shown.selection_changed.emit()
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
        done = self.desk.attempt(lambda: dxf.write(file, solved))
        if done:
            self.desk.told.emit(f"Wrote {counted(len(solved.curves), 'curve')} to {file}.", False)
        return done
