"""What can be done inside a sketch: drawing tools, constraints and dimensions, as actions."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QWidget

from architectonic.base.places import curve_of, point_on
from architectonic.describe.drawn.readings import measured
from architectonic.describe.words.sentences import constraint, place_words
from architectonic.desktop.commands.drawingfiles import DrawingFiles
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import NameField
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.desktop.sketch.placing import PlacingCommands
from architectonic.desktop.sketch.tools import SHORT, TOOLS
from architectonic.family import edits, names
from architectonic.family.records import Constraint, Model, quantity_of
from architectonic.quantities.units import DEFAULT_UNIT, shown
from architectonic.session.sketch import holding
from architectonic.session.sketch.playing import Span
from architectonic.session.sketch.sketching import fitting
from architectonic.sketch.curves.piece import LETTER

CONSTRAINTS = {
    "coincident": "Join",
    "horizontal": "Horizontal",
    "vertical": "Vertical",
    "parallel": "Parallel",
    "perpendicular": "Square to",
    "equal": "Equal",
    "collinear": "In line",
    "concentric": "Same centre",
    "midpoint": "In the middle",
    "symmetric": "Symmetric",
    "tangent": "Tangent",
    "smooth": "Smooth",
    "on_curve": "On the curve",
    "fix": "Fix",
}
DIMENSIONS = {
    "distance": "Length",
    "angle": "Angle",
    "diameter": "Diameter",
    "radius": "Radius",
    "arc_length": "Arc length",
    "horizontal_distance": "Across",
    "vertical_distance": "Up",
}
"""Verbs for constraints and dimensions, in the order in which the verb bar shows those that fit."""
INNER = {
    "first half axis": ("centre", "along"),
    "second half axis": ("centre", "across"),
    "height of capitals": ("at", "over"),
}
"""Sizes of one curve that lie between two of its points."""
MOST = 3
"""Constraints that are offered to be taken back at once; the others are in the list beside."""


class SketchCommands:
    """Callbacks about the shown sketch."""

    def __init__(self, desk: Desk, prompt: Prompt, tools: DrawTools) -> None:
        self.desk, self.prompt, self.tools = desk, prompt, tools
        self.placing = PlacingCommands(desk, prompt, tools)
        self.files = DrawingFiles(desk, prompt, tools)
        self._again, self._lit = "", False
        prompt.closed.connect(self._unlight)
        self._later = QTimer(singleShot=True, interval=60, timeout=self._dimension_again)  # type: ignore[call-arg]
        self._next = QTimer(singleShot=True, interval=60, timeout=self._propose_next)  # type: ignore[call-arg]

    def actions(self) -> list[Action]:
        """The actions about sketches."""
        desk = self.desk

        def drawing(tool: str) -> Callable[[], None]:
            asking = {"polygon": self.start_polygon, "text": self.start_text}
            return asking.get(tool, lambda: self.tools.start(tool))

        def constraining(kind: str) -> Callable[[], object]:
            return lambda: self.tools.constrain(kind)

        def fits(kind: str) -> Callable[[], bool]:
            return lambda: kind in fitting(self.tools.kinds())

        def dimensioning(kind: str) -> Callable[[], object]:
            return lambda: self.dimension(kind)

        return [
            *[Action(f"sketch.{t}", TOOLS[t].title, drawing(t), self._has_sketch, short=SHORT.get(t, "")) for t in TOOLS],
            *[Action(f"dimension.{k}", f"{title}…", dimensioning(k), fits(k)) for k, title in DIMENSIONS.items()],
            *[Action(f"constrain.{k}", title, constraining(k), fits(k)) for k, title in CONSTRAINTS.items()],
            *[Action(f"dimension.{word.replace(' ', '_')}", f"{word.capitalize()}…", self._measuring(ends), self._is(ends)) for word, ends in INNER.items()],
            Action("choose.letters", "Choose its letters", self.choose_letters, self._is(("at", "over"))),
            Action("dimension.turn", "Drive, or only read", self.tools.turn_over, self._has_dimension),
            Action("dimension.rename", "Name this dimension…", self.rename_dimension, self._has_dimension, short="Name…"),
            Action("dimension.play", "Play this dimension…", self.play, self._drives, short="Play…"),
            Action("sketch.round", "Round the corner…", self.round_corner, lambda: self.tools.kinds() == ("line", "line")),
            Action("sketch.chamfer", "Chamfer the corner…", self.chamfer_corner, lambda: self.tools.kinds() == ("line", "line")),
            *self.placing.actions(),
            *self.files.actions(),
            Action("sketch.hold", "Hold the rest…", self.hold_rest, self._can_move),
            Action("sketch.helper", "Helper or drawn", self.tools.toggle_helper, lambda: bool(desk.main.curves)),
            Action("sketch.delete", "Delete the chosen curves", self.tools.delete, lambda: bool(desk.main.curves or desk.main.constraint), short="Delete"),
        ]  # fmt: skip

    def _can_move(self) -> bool:
        solved = self.tools.canvas.solved
        return solved is not None and solved.freedoms > 0

    def _has_sketch(self) -> bool:
        return self.tools.canvas.sketch is not None

    def dimension(self, kind: str) -> None:
        """Ask for the value of the chosen places, beginning with what it is now."""
        solved = self.tools.canvas.solved
        if solved is None:
            return
        now = measured(solved, kind, self.tools.places())
        unit = DEFAULT_UNIT[quantity_of(kind)]

        def done(value: str, name: str) -> bool:
            return self.tools.dimension(kind, value, name)

        deciding = self.tools.light_deciding(kind)
        if deciding is not None:
            self._offer_instead(kind, f"{shown(now, unit, 3)} is decided already; what decides it is lit.", deciding)
            return

        def field(parent: QWidget) -> NameField:
            return self.tools.field(shown(now, unit, 3), parent, kind)

        self.prompt.ask(DIMENSIONS[kind], [("value", field), ("name, if others use it", "")], done)

    def _offer_instead(self, kind: str, told: str, deciding: list[Constraint]) -> None:
        """A dimension that says nothing new: show it as a read-out, or take back one of those that decide it."""
        sketch, document = self.tools.canvas.sketch, self.desk.main.document
        if sketch is None or not isinstance(document, Model):
            return
        chosen = list(self.desk.main.curves)

        def taking_back(key: str) -> Callable[[], object]:
            def take() -> None:
                if self.tools.release(key):
                    self.desk.main.curves = chosen
                    self._again = kind
                    self._later.start()

            return take

        choices: list[tuple[str, Callable[[], object]]] = [
            ("Show it as a read-out", lambda: self.tools.read_out(kind, ""))
        ]
        for c in [c for c in deciding if c.kind != "coincident"][:MOST]:
            words = constraint(self.desk.family, document, sketch, c, curve_of(c.of[0]))
            choices.append((f"Take back: {place_words(sketch, c.of[0])} {words}", taking_back(c.id)))
        self.prompt.offer(told, choices)
        self._lit = True

    def _unlight(self) -> None:
        """What decides is lit as long as it is asked about."""
        if self._lit:
            self._lit = False
            self.desk.main.light(set())

    def _dimension_again(self) -> None:
        """Once what stood against it is taken back and solved."""
        if self.desk.updating:
            self._later.start()
        else:
            self.dimension(self._again)

    def _one(self, ends: tuple[str, str]) -> str:
        """The one chosen curve, if it has such points."""
        chosen, sketch = self.desk.main.curves, self.tools.canvas.sketch
        record = sketch.curves.get(chosen[0]) if sketch is not None and len(chosen) == 1 else None
        return chosen[0] if record is not None and all(hasattr(record, e) for e in ends) else ""

    def _is(self, ends: tuple[str, str]) -> Callable[[], bool]:
        return lambda: bool(self._one(ends))

    def _measuring(self, ends: tuple[str, str]) -> Callable[[], None]:
        """Ask for a size of the chosen curve that lies between two of its points."""

        def ask() -> None:
            key = self._one(ends)
            self.desk.main.curves = [point_on(key, end) for end in ends]
            self.dimension("distance")

        return ask

    def choose_letters(self) -> None:
        """Choose the regions that the chosen text fills, ready to be extruded."""
        key, sketch, solved = self._one(("at", "over")), self.tools.canvas.sketch, self.tools.canvas.solved
        if sketch is None or solved is None:
            return
        self.desk.main.regions = (
            sketch.id,
            tuple(r.label for r in solved.regions if r.label.startswith(f"+{key}{LETTER}")),
        )
        self.desk.main.curves = []
        self.desk.main.selection_changed.emit()

    def _dimension(self) -> Constraint | None:
        sketch, key = self.tools.canvas.sketch, self.desk.main.constraint
        found = next((c for c in sketch.constraints if c.id == key), None) if sketch is not None else None
        return found if found is not None and (found.value is not None or found.reads) else None

    def start_polygon(self) -> None:
        """Ask how many sides, then draw."""

        def done(sides: str) -> bool:
            if not sides.isdigit() or not 3 <= int(sides) <= 64:
                self.desk.told.emit(f"A polygon has 3 to 64 sides, not “{sides}”.", True)
                return False
            self.tools.sides = int(sides)
            self.tools.start("polygon")
            self.tools.canvas.setFocus()
            return True

        self.prompt.ask("Polygon", [("sides", str(self.tools.sides))], done, "Draw")

    def start_text(self) -> None:
        """Ask for the words and the height of capitals, then place them with a click."""

        def done(words: str, height: str) -> bool:
            if not words:
                self.desk.told.emit("A text needs something to see: type at least one letter.", True)
                return False
            self.tools.words, self.tools.height = words, height
            self.tools.start("text")
            self.tools.canvas.setFocus()
            return True

        self.prompt.ask("Text", [("words", self.tools.words), ("height of capitals", self.tools.height)], done, "Place")

    def chamfer_corner(self) -> None:
        """Ask how far along both chosen lines the corner is cut."""
        self.prompt.ask("Chamfer the corner", [("distance", "2 mm")], self.tools.chamfer_corner)

    def round_corner(self) -> None:
        """Ask for the radius of the corner of the two chosen lines."""
        self.prompt.ask("Round the corner", [("radius", "3 mm")], self.tools.round_corner)

    def hold_rest(self) -> None:
        """Propose what would take the next freedom, one by one, until the sketch is held or it is enough."""
        editing = self.tools.sketching()
        proposal = holding.next_hold(editing) if editing is not None else None
        if proposal is None:
            self.desk.told.emit("Nothing is left to hold: no point of this sketch can move.", False)
            return
        kind, of, reading = proposal
        sketch = self.tools.canvas.sketch
        assert sketch is not None
        where = " and ".join(place_words(sketch, p) for p in of)
        self.tools.canvas.show_hold(of)
        if kind == "fix":
            self.prompt.offer(
                f"Nothing ties this sketch down: fix {where}?",
                [("Fix it", lambda: self._held(kind, of, None))],
                "Enough",
            )
            return
        unit = DEFAULT_UNIT[quantity_of(kind)]
        self.prompt.ask(
            f"Hold {DIMENSIONS[kind].lower()} of {where}",
            [("at", shown(reading, unit, 3))],
            lambda value: self._held(kind, of, value),
            "Hold",
        )

    def _held(self, kind: str, of: tuple[str, ...], value: str | None) -> bool:
        if self.tools.hold(kind, of, value):
            self._next.start()
            return True
        return False

    def _propose_next(self) -> None:
        """The next proposal, once the last one is solved."""
        if self.desk.updating:
            self._next.start()
        elif self.tools.canvas.solved is not None and self.tools.canvas.solved.freedoms:
            self.hold_rest()

    def _has_dimension(self) -> bool:
        return self._dimension() is not None

    def _drives(self) -> bool:
        found = self._dimension()
        return found is not None and found.value is not None

    def play(self) -> None:
        """Ask for a span of the chosen dimension, then play it; nothing is stored."""
        found, canvas, at = self._dimension(), self.tools.canvas, self.desk.main.at
        value = self.desk.main.value("value", found.id) if found is not None else None
        sketch = canvas.sketch
        if found is None or value is None or at is None or sketch is None:
            return
        unit = names.unit_of(found)
        quantity = quantity_of(found.kind)

        def done(low: str, high: str) -> bool:
            editing = self.tools.sketching()
            if editing is None:
                return False

            def start() -> None:
                ends = editing.measure(low, quantity), editing.measure(high, quantity)
                self.tools.player.start(Span(self.desk.family, at, sketch.id, found.id, *ends))

            return self.desk.attempt(start)

        self.prompt.ask(
            f"Play {found.name or found.kind.replace('_', ' ')}",
            [("from", shown(value * 0.7, unit, 2)), ("to", shown(value * 1.3, unit, 2))],
            done,
            "Play",
        )

    def rename_dimension(self) -> None:
        """Ask for the name that expressions use."""
        found, document = self._dimension(), self.desk.main.document_id
        if found is not None:
            key = found.id
            self.prompt.ask(
                "Name of this dimension",
                [("name", found.name)],
                lambda name: self.desk.apply(f"name {name}", lambda f: edits.rename_item(f, document, key, name)),
            )
