"""Draws the pictures of docs/screenshots anew, from the demo family: `python docs/screenshots/make.py [NAME ...]`.

Each picture is a function below; the real window is driven off screen as a person would, by actions, keys and clicks.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("LIBGL_ALWAYS_SOFTWARE", "1")

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from architectonic.demo.family import write
from architectonic.desktop.body.laidover import Other
from architectonic.desktop.kit import theme
from architectonic.desktop.pane.desk import Desk, shown_scope
from architectonic.desktop.window.shell import MainWindow
from architectonic.family import edits
from architectonic.session.model import surveying
from architectonic.session.open.engine import Engine

HERE = Path(__file__).parent
ENTER = Qt.Key.Key_Return
SHIFT = Qt.KeyboardModifier.ShiftModifier


class Sitting:
    """The window on a fresh copy of the demo."""

    def __init__(self, folder: Path, engine: Engine) -> None:
        session = write(folder / "family", engine.evaluator, folder / "state")
        self.desk = Desk(session, engine)
        self.window = MainWindow(self.desk)
        self.window.resize(1280, 800)
        self.window.show()
        self.desk.update()
        self.settle()

    def settle(self, seconds: float = 0.4) -> None:
        """Until everything is current, then a moment for what comes later: figures, pictures at rest."""
        desk = self.desk
        while desk.updating or desk.settled is None or desk.work.busy:
            QTest.qWait(5)
        QTest.qWait(int(1000 * seconds))

    def show(self, document: str, tab: str = "") -> None:
        """A document, on one of its canvases."""
        self.desk.show(edits.find_document(self.desk.family, document).id)
        self.settle()
        if tab:
            self.window.show_tab(tab)
            self.settle()

    def choose(self, operation: str) -> None:
        """A row of Made of."""
        self.desk.main.select(next(o.id for o in self.desk.main.build if o.name == operation))

    def run(self, action: str) -> None:
        """An action by its id."""
        assert self.window.actions_.run(action), action
        self.settle()

    def type(self, field: Any, text: str, *keys: Qt.Key) -> None:
        """Type over what stands in a field."""
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        for key in keys:
            QTest.keyClick(field, key)
        self.settle(0.8)

    def answer(self, *texts: str) -> None:
        """Type into the fields of the open card, then Enter."""
        for field, text in zip(self.window.prompt.fields, texts, strict=False):
            field.setText(text)
        QTest.keyClick(self.window.prompt.fields[0], ENTER)
        self.settle()

    def click(
        self, canvas: Any, x: float, y: float, keys: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier
    ) -> None:
        """A click at a place of a sketch, mm."""
        at = canvas.to_screen((x, y)).toPoint()
        QTest.mouseMove(canvas, at)
        QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, keys, at)
        self.settle(0.1)

    def draw(self, tool: str, *points: tuple[float, float]) -> None:
        """Draw by clicks, and lay the tool down."""
        canvas = self.window.sketches
        self.run(tool)
        for point in points:
            self.click(canvas, *point)
        for _ in range(3):
            QTest.keyClick(canvas, Qt.Key.Key_Escape)
        self.settle(0.1)

    def sketch(self, part: str, name: str) -> None:
        """An empty sketch in a new part, seen at a fixed scale."""
        self.run("document.new_part")
        self.answer(part)
        self.run("sketch.new")
        self.answer(name)
        self.window.sketches.tools.stop()
        self.window.sketches.scale, self.window.sketches.centre = 4.6, (40.0, 25.0)


def assembly(s: Sitting) -> None:
    s.show("Light", "Alternates")
    rows = {r.name: r.key for r in s.window.alternates.model.rows}
    s.window.bodies.laid.lay([Other(alternate=rows[n]) for n in ("Folded", "Boxed")])
    s.desk.main.select(next(b.id for b in s.desk.main.document.bonds if b.name == "Shoulder"))  # type: ignore[union-attr]
    s.window.bodies.frame_all()
    s.settle()


def bodies(s: Sitting) -> None:
    s.show("Elbow", "Bodies")


def failing(s: Sitting) -> None:
    s.show("Foot", "Bodies")
    s.type(next(f for f in s.window.drivers.fields if f.row.name == "wall"), "14 mm", ENTER)
    s.settle(1)


def layout(s: Sitting) -> None:
    s.show("Elevation", "Sketch")


def map_(s: Sitting) -> None:
    s.show("Light", "Map")
    s.window.map.chosen = edits.find_document(s.desk.family, "Arm tube").id
    s.window.map.update()


def mend(s: Sitting) -> None:
    s.show("Elevation", "Sketch")
    s.choose("Plan")
    s.run("sketch.fork")
    s.desk.main.operation = ""
    s.choose("Plan")
    s.run("operation.delete")
    QTest.keyClick(s.window.list_card, ENTER)
    s.settle(0.6)
    s.run("view.attention")
    card = s.window.list_card
    row = next(r for r in range(card.rows.rowCount()) if card.rows.item(r, 1).text().strip() == "Foot / Foot outline")
    card.rows.setCurrentCell(row, 0)
    QTest.keyClick(card, ENTER)
    s.settle(2)


def part(s: Sitting) -> None:
    s.show("Foot", "Bodies")
    s.type(next(f for f in s.window.drivers.fields if f.row.name == "wall"), "3.2 mm")
    s.settle(1.5)


def plan(s: Sitting) -> None:
    s.show("Light", "Plan")


def hands(s: Sitting) -> None:
    s.show("Cheek R", "Bodies")
    s.run("hand.differs")
    s.settle(1)


def hole(s: Sitting) -> None:
    s.show("Foot", "Bodies")
    s.choose("Screw holes")
    s.run("operation.edit")
    s.settle(1)


def walls(s: Sitting) -> None:
    s.show("Foot", "Bodies")
    body = next(b for b, _, _ in s.window.bodies.meshes if s.window.bodies.body_name(b) == "Base")
    s.desk.main.pick([("face", body, s.window.bodies.mesh(body).faces[0])])
    for other, _, _ in s.window.bodies.meshes:
        if other != body:
            s.window.bodies.hidden.add(other)
    s.run("check.wall")
    s.answer("1.6 mm")
    s.settle(2)
    s.window.bodies.frame_all()


def range_(s: Sitting) -> None:
    s.show("Arm tube", "Range")
    view, model = s.window.range.view, s.window.range.model
    view.setFocus()
    row = next(k for k, r in enumerate(model.rows) if r.name == "L cable exit")
    view.setCurrentIndex(model.index(row, 2))
    s.settle(3)


def checks(s: Sitting) -> None:
    foot = edits.find_document(s.desk.family, "Foot")
    shell = next(key for key, body in foot.bodies.items() if body.name == "Shell")
    found = surveying.survey(s.desk.family, shown_scope(s.desk, foot.id), "wall", [shell], None)
    s.desk.apply("rule on thinnest", lambda f: surveying.as_rule(f, found, "thinnest", "1.3 mm"))
    s.show("Foot", "Checks")
    s.settle(1)
    s.window.strip.fold()
    QTest.keyClick(s.window.checks.view, ENTER)  # what would mend it
    s.settle(1)


def sketching(s: Sitting) -> None:
    s.sketch("Bracket", "Outline")
    canvas = s.window.sketches
    s.draw("sketch.rectangle", (0, 0), (80, 50))
    s.draw("sketch.circle", (22, 25), (30, 25))
    s.click(canvas, 40, 0)
    s.run("dimension.distance")
    s.answer("80 mm")
    s.click(canvas, 22, 33)
    s.run("dimension.diameter")
    s.answer("16 mm")
    s.draw("sketch.slot", (48, 20), (66, 30), (66, 36))
    canvas.show_motions(True)


def space(s: Sitting) -> None:
    s.show("Elevation", "3D")


def working(s: Sitting) -> None:
    s.show("Stand", "Bodies")
    s.choose("Drill the stack")
    s.run("operation.edit")


def table(s: Sitting) -> None:
    s.show("Sizes", "Values")


def trim(s: Sitting) -> None:
    s.show("Head rear", "Bodies")
    s.choose("Trim Envelope and Parting")
    s.run("operation.edit")
    s.settle(1)


def wire(s: Sitting) -> None:
    s.show("Shade hoop", "Bodies")
    s.choose("Way of the wire")
    s.run("operation.edit")
    s.settle(1)


PICTURES: tuple[Callable[[Sitting], None], ...] = (
    assembly, bodies, checks, failing, hands, hole, layout, map_, mend, part, plan, range_, sketching, space,
    table, trim, walls, wire, working,
)  # fmt: skip


def main() -> None:
    """Draw all pictures, or those that are named."""
    application = QApplication([])
    theme.apply(application)
    wanted = sys.argv[1:]
    with tempfile.TemporaryDirectory() as top:
        engine = Engine.start(Path(top) / "cache")
        for number, picture in enumerate(PICTURES):
            name = picture.__name__.rstrip("_")
            if wanted and name not in wanted:
                continue
            started = time.perf_counter()
            sitting = Sitting(Path(top) / str(number), engine)
            picture(sitting)
            sitting.settle(0.6)
            sitting.window.grab().save(str(HERE / f"{name}.png"))
            sitting.window.hide()
            sys.stdout.write(f"{name} {time.perf_counter() - started:.1f} s\n")
        engine.close()
    os._exit(0)  # windows of one process would each end the engine that they share


if __name__ == "__main__":
    main()
