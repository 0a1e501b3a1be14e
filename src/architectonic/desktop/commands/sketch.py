"""What can be done inside a sketch: drawing tools, constraints and dimensions, as actions."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from PyQt6.QtCore import QTimer

from architectonic.base.places import point_on
from architectonic.describe.drawn.readings import measured
from architectonic.describe.words.sentences import place_words
from architectonic.desktop.commands.drawingfiles import DrawingFiles
from architectonic.desktop.commands.standing import StandingAgainst
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.pane import Pane
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.desktop.sketch.placing import PlacingCommands
from architectonic.desktop.sketch.tools import SHORT, TOOLS, told
from architectonic.family import edits, names
from architectonic.family.records import Constraint, quantity_of
from architectonic.quantities.syntax import split_named
from architectonic.quantities.units import DEFAULT_UNIT, shown
from architectonic.session.sketch import holding
from architectonic.session.sketch.playing import Span
from architectonic.session.sketch.sketching import fitting
from architectonic.sketch.curves.piece import LETTER


class Verb(NamedTuple):
    """What a constraint or dimension is called, what it does, and what it wants chosen."""

    title: str
    tells: str
    wants: str


CONSTRAINTS = {
    "coincident": Verb("Join", "Two points in one place.", "2 points"),
    "horizontal": Verb("Horizontal", "Level, or two points at one height.", "lines or 2 points"),
    "vertical": Verb("Vertical", "Upright, or one point over the other.", "lines or 2 points"),
    "parallel": Verb("Parallel", "Lines in one direction.", "2 lines"),
    "perpendicular": Verb("Square to", "Lines at a right angle.", "2 lines"),
    "equal": Verb("Equal", "One length or one radius.", "2 lines or 2 rounds"),
    "collinear": Verb("In line", "Lines on one straight line.", "2 lines"),
    "concentric": Verb("Same centre", "Rounds about one point.", "2 rounds"),
    "midpoint": Verb("In the middle", "A point halfway along a line.", "a point and a line"),
    "symmetric": Verb("Symmetric", "Two points, mirrored at a line.", "2 points, then a line"),
    "tangent": Verb("Tangent", "Curves that touch without crossing.", "a round and a line or round"),
    "smooth": Verb("Smooth", "One direction and one bend where they meet.", "2 curves that meet"),
    "on_curve": Verb("On the curve", "A point that stays on a curve.", "a point and a curve"),
    "fix": Verb("Fix", "A point stays where it is.", "points"),
}
DIMENSIONS = {
    "distance": Verb("Length", "Of a line; or how far two things are apart.", "a line, or 2 points or lines"),
    "angle": Verb("Angle", "From one line to the other.", "2 lines"),
    "diameter": Verb("Diameter", "Across a circle or an arc.", "a circle or arc"),
    "radius": Verb("Radius", "Of a circle or an arc.", "a circle or arc"),
    "arc_length": Verb("Arc length", "Along an arc.", "an arc"),
    "horizontal_distance": Verb("Across", "Between two points, sideways only.", "2 points"),
    "vertical_distance": Verb("Up", "Between two points, upwards only.", "2 points"),
}
"""Verbs for constraints and dimensions, in the order in which they are offered."""
INNER = {
    "first half axis": (("centre", "along"), "an ellipse"),
    "second half axis": (("centre", "across"), "an ellipse"),
    "height of capitals": (("at", "over"), "a text"),
}
"""Sizes of one curve that lie between two of its points, and of what curve."""


class SketchCommands:
    """Callbacks about the sketch of one pane."""

    def __init__(self, desk: Desk, prompt: Prompt, tools: DrawTools) -> None:
        self.desk, self.prompt, self.tools = desk, prompt, tools
        self.placing = PlacingCommands(desk, prompt, tools)
        self.files = DrawingFiles(desk, prompt, tools)
        self._again = ""
        self.standing = StandingAgainst(desk, prompt, tools)
        self._later = QTimer(singleShot=True, interval=60, timeout=self._dimension_again)  # type: ignore[call-arg]
        self._next = QTimer(singleShot=True, interval=60, timeout=self._propose_next)  # type: ignore[call-arg]

    @property
    def shown(self) -> Pane:
        """The pane of the sketch."""
        return self.tools.canvas.shown

    def actions(self) -> list[Action]:
        """The actions about sketches."""

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
            *[Action(f"sketch.{t}", d.title, drawing(t), self._has_sketch, short=SHORT.get(t, ""), tells=told(t), wants="wants an open sketch") for t, d in TOOLS.items()],
            *[Action(f"dimension.{k}", f"{v.title}…", dimensioning(k), fits(k), tells=v.tells, wants=f"wants {v.wants}", also=("dimension", k.replace("_", " "))) for k, v in DIMENSIONS.items()],
            *[Action(f"constrain.{k}", v.title, constraining(k), fits(k), tells=v.tells, wants=f"wants {v.wants}", also=(k.replace("_", " "),)) for k, v in CONSTRAINTS.items()],
            *[Action(f"dimension.{word.replace(' ', '_')}", f"{word.capitalize()}…", self._measuring(ends), self._is(ends), tells=f"Of {whole}.", wants=f"wants {whole}") for word, (ends, whole) in INNER.items()],
            Action("choose.letters", "Choose its letters", self.choose_letters, self._is(("at", "over")), tells="The regions that its letters fill.", wants="wants one text"),
            Action("dimension.turn", "Drive, or only read", self.tools.turn_over, self._has_dimension, tells="A dimension drives the sketch, or only reads it.", wants="wants a dimension"),
            Action("dimension.rename", "Name this dimension…", self.rename_dimension, self._has_dimension, short="Name…", tells="A name, so that other values can use it.", wants="wants a dimension"),
            Action("dimension.play", "Play this dimension…", self.play, self._drives, short="Play…", tells="Moves it through a span; nothing is stored.", wants="wants a dimension that drives"),
            Action("sketch.round", "Round the corner…", lambda: self.ask_corners("Round", "radius", "3 mm", self.tools.round_corner), lambda: bool(self.tools.corners()), also=("fillet",), tells="An arc of a radius in place of the corner.", wants="wants 2 lines or a corner"),
            Action("sketch.chamfer", "Chamfer the corner…", lambda: self.ask_corners("Chamfer", "distance", "2 mm", self.tools.chamfer_corner), lambda: bool(self.tools.corners()), also=("bevel",), tells="A straight cut in place of the corner.", wants="wants 2 lines or a corner"),
            *self.placing.actions(),
            *self.files.actions(),
            Action("sketch.hold", "Hold the rest…", self.hold_rest, self._can_move, also=("constrain fully", "define"), tells="Proposes what takes the next freedom.", wants="wants a freedom that is left"),
            Action("sketch.helper", "Helper or drawn", self.tools.toggle_helper, lambda: bool(self.shown.curves), also=("construction",), tells="Helpers guide other curves and bound nothing.", wants="wants a curve"),
            Action("sketch.delete", "Delete the chosen curves", self.tools.delete, lambda: bool(self.shown.curves or self.shown.constraint), short="Delete", tells="The chosen curves or the chosen dimension.", wants="wants a curve or dimension"),
        ]  # fmt: skip

    def _can_move(self) -> bool:
        solved = self.tools.canvas.solved
        return solved is not None and solved.freedoms > 0

    def _has_sketch(self) -> bool:
        return self.tools.canvas.sketch is not None and self.tools.canvas.isVisible()

    def dimension(self, kind: str) -> None:
        """Ask for the value of the chosen places, beginning with what it is now."""
        solved = self.tools.canvas.solved
        if solved is None:
            return
        now = measured(solved, kind, self.tools.places())
        unit = DEFAULT_UNIT[quantity_of(kind)]

        def done(value: str, name: str) -> bool:
            named = split_named(value)
            return self.tools.dimension(kind, *((named[1], name or named[0]) if named else (value, name)))

        deciding = self.tools.light_deciding(kind)
        if deciding is not None:
            self._offer_instead(kind, f"{shown(now, unit, 3)} is decided already; what decides it is lit", deciding)
            return

        field = self.tools.asking(shown(now, unit, 3), kind)
        self.prompt.ask(DIMENSIONS[kind].title, [("value", field), ("name, if others use it", "")], done)

    def _offer_instead(self, kind: str, told: str, deciding: list[Constraint]) -> None:
        """A dimension that says nothing new: show it as a read-out, or take back one of those that decide it."""
        chosen = list(self.shown.curves)

        def again() -> None:
            self.shown.curves = chosen
            self._again = kind
            self._later.start()

        reading = ("Show it as a read-out", lambda: self.tools.read_out(kind, ""))
        self.standing.offer(told, deciding, again, [reading])

    def _dimension_again(self) -> None:
        """Once what stood against it is taken back and solved."""
        if self.desk.updating:
            self._later.start()
        else:
            self.dimension(self._again)

    def _one(self, ends: tuple[str, str]) -> str:
        """The one chosen curve, if it has such points."""
        chosen, sketch = self.shown.curves, self.tools.canvas.sketch
        record = sketch.curves.get(chosen[0]) if sketch is not None and len(chosen) == 1 else None
        return chosen[0] if record is not None and all(hasattr(record, e) for e in ends) else ""

    def _is(self, ends: tuple[str, str]) -> Callable[[], bool]:
        return lambda: bool(self._one(ends))

    def _measuring(self, ends: tuple[str, str]) -> Callable[[], None]:
        """Ask for a size of the chosen curve that lies between two of its points."""

        def ask() -> None:
            key = self._one(ends)
            self.shown.curves = [point_on(key, end) for end in ends]
            self.dimension("distance")

        return ask

    def choose_letters(self) -> None:
        """Choose the regions that the chosen text fills, ready to be extruded."""
        key, sketch, solved = self._one(("at", "over")), self.tools.canvas.sketch, self.tools.canvas.solved
        if sketch is None or solved is None:
            return
        self.shown.regions = (
            sketch.id,
            tuple(r.label for r in solved.regions if r.label.startswith(f"+{key}{LETTER}")),
        )
        self.shown.curves = []
        self.shown.selection_changed.emit()

    def _dimension(self) -> Constraint | None:
        sketch, key = self.tools.canvas.sketch, self.shown.constraint
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

    def ask_corners(self, verb: str, size: str, first: str, done: Callable[[str], bool]) -> None:
        """Ask for the size of the chosen corners; says what becomes of what is measured there."""
        many = len(self.tools.corners())
        which = "the corner" if many == 1 else f"{many} corners"
        field = self.tools.asking(first, "radius" if size == "radius" else "distance")
        told = f"{verb} {which} (dimensions and middles stay, to where the lines met)"
        self.prompt.ask(told, [(size, field)], done)

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
            f"Hold {DIMENSIONS[kind].title.lower()} of {where}",
            [("at", self.tools.asking(shown(reading, unit, 3), kind))],
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
        found, canvas, at = self._dimension(), self.tools.canvas, self.shown.at
        value = self.shown.value("value", found.id) if found is not None else None
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
        found, document = self._dimension(), self.shown.document_id
        if found is not None:
            key = found.id
            self.prompt.ask(
                "Name of this dimension",
                [("name", found.name)],
                lambda name: self.desk.apply(f"name {name}", lambda f: edits.rename_item(f, document, key, name)),
            )
