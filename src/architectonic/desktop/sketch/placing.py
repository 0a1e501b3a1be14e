"""Copies and moves of chosen curves, asked for on the card: offset, mirror, row, ring; move, turn, scale, copy, paste."""

from __future__ import annotations

import math
from collections.abc import Callable

from architectonic.base.places import AXES, ORIGIN, point_of
from architectonic.describe.drawn.curves import points_in
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.pane import Pane
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.family.records import COUNT, Family, Line, Point
from architectonic.quantities.syntax import name_and_value
from architectonic.session.sketch import copies, moving, offsets
from architectonic.session.sketch.copies import Pattern
from architectonic.session.sketch.moving import Similarity
from architectonic.session.sketch.sketching import Sketching


class PlacingCommands:
    """Callbacks about where chosen curves are, and about their copies."""

    def __init__(self, desk: Desk, prompt: Prompt, tools: DrawTools) -> None:
        self.desk, self.prompt, self.tools = desk, prompt, tools

    @property
    def shown(self) -> Pane:
        """The pane of the sketch."""
        return self.tools.canvas.shown

    def actions(self) -> list[Action]:
        """The actions that move, turn, scale and copy chosen curves."""
        return [
            Action("copies.offset", "Offset the chosen chain…", self.offset, self._has_curves, short="Offset…", tells="A chain beside it that keeps its distance.", wants="wants curves"),
            Action("copies.mirror", "Mirror at the line chosen last", self.mirror, self._ends_with_line, short="Mirror", also=("symmetry", "reflect"), tells="Copies that stay mirrored.", wants="wants curves, then a line"),
            Action("copies.row", "Repeat in a row along the line chosen last…", self.row, self._ends_with_line, short="Row…", also=("pattern", "array", "linear"), tells="Copies at one step along a line.", wants="wants curves, then a line"),
            Action("copies.ring", "Repeat in a ring about the point chosen last…", self.ring, self._has_curves, short="Ring…", also=("pattern", "array", "circular"), tells="Copies at one angle about a point.", wants="wants curves"),
            Action("copies.missing", "Draw the members that are missing", self.draw_missing, self._has_counts, tells="What counts of rows and rings ask for by now.", wants="wants a count"),
            Action("place.move", "Move the chosen curves…", lambda: self.move(False), self._has_curves, short="Move…", tells="By two lengths.", wants="wants curves"),
            Action("place.turn", "Turn the chosen curves…", self.turn, self._has_curves, short="Turn…", tells="By an angle about a point.", wants="wants curves"),
            Action("place.scale", "Scale the chosen curves…", self.scale, self._has_curves, short="Scale…", tells="By a factor about a point.", wants="wants curves"),
            Action("place.copy", "Copy the chosen curves beside…", lambda: self.move(True), self._has_curves, short="Copy beside…", tells="As often as asked, each beside the last.", wants="wants curves"),
            Action("choose.chain", "Choose all that joins on", self.choose_chain, self._has_curves, short="Choose what joins", tells="All curves that hang together by their ends.", wants="wants a curve"),
            Action("choose.kind", "Choose all of this kind", self.choose_kind, self._has_curves, short="Choose this kind", tells="All curves of the kinds that are chosen.", wants="wants a curve"),
            Action("sketch.fork", "Fork this sketch", self.fork, self._has_sketch, tells="A copy that is free to become another.", wants="wants a sketch"),
        ]  # fmt: skip

    # --- what is chosen -------------------------------------------------------------------------------

    def _has_sketch(self) -> bool:
        return self.tools.canvas.sketch is not None and self.tools.canvas.isVisible()

    def curves(self) -> list[str]:
        """Chosen curves of the sketch, whole ones only."""
        sketch = self.tools.canvas.sketch
        return [k for k in self.shown.curves if sketch is not None and k in sketch.curves]

    def _has_curves(self) -> bool:
        return bool(self.curves())

    def _choose(self, curves: list[str]) -> None:
        self.shown.curves = curves
        self.shown.selection_changed.emit()

    def choose_kind(self) -> None:
        """All curves of the kinds that are chosen, drawn or helpers as they are."""
        sketch, out = self.tools.canvas.sketch, self.tools.canvas.out_of_picking()
        assert sketch is not None
        kinds = {(type(sketch.curves[k]), sketch.curves[k].helper) for k in self.curves()}
        self._choose([k for k, c in sketch.curves.items() if (type(c), c.helper) in kinds and k not in out])

    def choose_chain(self) -> None:
        """All curves that hang together with the chosen ones by joined ends."""
        sketch = self.tools.canvas.sketch
        assert sketch is not None
        self._choose(offsets.joined(sketch, self.curves()))

    def _last(self) -> str:
        return self.shown.curves[-1] if self.shown.curves else ""

    def _ends_with_line(self) -> bool:
        sketch, last = self.tools.canvas.sketch, self._last()
        if sketch is None or len(self.shown.curves) < 2:
            return False
        return last in AXES or isinstance(sketch.curves.get(last), Line)

    def _has_counts(self) -> bool:
        sketch = self.tools.canvas.sketch
        return sketch is not None and any(c.kind == COUNT for c in sketch.constraints)

    def _done(self, label: str, edit: Callable[[Sketching], object]) -> bool:
        done = self.tools.apply(label, edit)
        if done:
            self.shown.curves = []
            self.shown.selection_changed.emit()
        return done

    # --- copies that stay what they are ---------------------------------------------------------------

    def offset(self) -> None:
        """Ask how far and to which side."""
        editing = self.tools.sketching()
        curves = self.curves()
        if editing is None:
            return
        closed = 0

        def look() -> None:
            nonlocal closed
            closed = offsets.inward(editing, curves)

        if not self.desk.attempt(look):
            return
        sides = ["outside", "inside"] if closed else ["left of it", "right of it"]

        def done(distance: str, side: str) -> bool:
            way = {"inside": closed, "outside": -closed, "left of it": 1, "right of it": -1}[side]
            return self._done(f"offset by {distance}", lambda s: offsets.offset(s, curves, distance, way))

        self.prompt.ask("Offset", [("distance", self.tools.asking("3 mm", "distance")), ("side", sides)], done)

    def mirror(self) -> None:
        """Mirror the chosen curves at the line chosen last."""
        *curves, line = self.shown.curves
        self._done("mirror", lambda s: copies.mirror(s, curves, line))

    def row(self) -> None:
        """Ask how many and how far apart."""
        *curves, line = self.shown.curves

        def done(count: str, step: str, name: str) -> bool:
            asked = self._pattern(count, step, name)
            return self._done(f"row of {asked.pieces}", lambda s: copies.in_row(s, curves, line, asked))

        self.prompt.ask(
            "Row",
            [("how many in all", "3"), ("step", self.tools.asking("10 mm", "distance")), ("name of the step", "")],
            done,
        )

    def ring(self) -> None:
        """Ask how many and at which angle; about the point chosen last, else the origin."""
        chosen, sketch = list(self.shown.curves), self.tools.canvas.sketch
        assert sketch is not None
        last = self._last()
        centre = last if point_of(last) or last == ORIGIN or isinstance(sketch.curves.get(last), Point) else ORIGIN
        curves = [k for k in chosen if k != centre and k in sketch.curves]

        def done(count: str, step: str, name: str) -> bool:
            asked = self._pattern(count, step, name)
            return self._done(f"ring of {asked.pieces}", lambda s: copies.in_ring(s, curves, centre, asked))

        about = "the origin" if centre == ORIGIN else "the chosen point"
        self.prompt.ask(
            f"Ring about {about}",
            [
                ("how many in all", "6"),
                ("step (blank: all round)", self.tools.asking("", "angle")),
                ("name of the step", ""),
            ],
            done,
        )

    def _pattern(self, count: str, step: str, name: str) -> Pattern:
        """What was typed; `holes = 5` gives the count a name that others can use."""
        called, text = name_and_value(count)
        return Pattern(text, step, name, called)

    def draw_missing(self) -> None:
        """Draw the members that counts ask for by now."""
        self._done("draw missing members", copies.draw_missing)

    # --- moves ----------------------------------------------------------------------------------------

    def _change(self, label: str, how: Callable[[Sketching], Similarity], copy: bool = False) -> bool:
        curves, lost = self.curves(), []

        def edit(editing: Sketching) -> None:
            if copy:
                moving.duplicate(editing, curves, how(editing))
            else:
                lost.extend(moving.change(editing, curves, how(editing)))

        done = self.tools.apply(label, edit)
        if done and lost:
            self.desk.last_change += f", letting go of what no longer held: {', '.join(lost)}"
        return done

    def move(self, copy: bool) -> None:
        """Ask how far across and up."""

        def done(across: str, up: str) -> bool:
            return self._change(
                "copy beside" if copy else "move",
                lambda s: Similarity(by=(s.measure(across), s.measure(up))),
                copy,
            )

        self.prompt.ask(
            "Copy beside" if copy else "Move",
            [("across", self.tools.asking("20 mm", "distance")), ("up", self.tools.asking("0 mm", "distance"))],
            done,
        )

    def _about(self, editing: Sketching) -> tuple[float, float]:
        """The middle of the box of what is chosen."""
        solved = self.tools.canvas.solved
        points = [
            p
            for k in self.curves()
            if solved is not None and k in solved.curves
            for p in _points(solved.curves[k].values)
        ]
        xs, ys = [p[0] for p in points] or [0.0], [p[1] for p in points] or [0.0]
        return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2

    def turn(self) -> None:
        """Ask by how much, about the middle of what is chosen."""

        def done(angle: str) -> bool:
            return self._change("turn", lambda s: Similarity(about=self._about(s), turn=s.measure(angle, "angle")))

        self.prompt.ask("Turn about its middle", [("angle", self.tools.asking("90 deg", "angle"))], done)

    def scale(self) -> None:
        """Ask for a factor, about the middle of what is chosen."""

        def done(factor: str) -> bool:
            try:
                value = float(factor.replace(",", "."))
            except ValueError:
                value = math.nan
            if not value > 0:
                self.desk.told.emit(f"A factor is a number above zero, not “{factor}”.", True)
                return False
            return self._change("scale", lambda s: Similarity(about=self._about(s), factor=value))

        self.prompt.ask("Scale about its middle", [("factor", "2")], done)

    def fork(self) -> None:
        """A copy of the shown sketch that shares nothing with it."""
        sketch, document = self.tools.canvas.sketch, self.shown.document_id
        assert sketch is not None
        made: list[str] = []

        def edit(family: Family) -> Family:
            family, key = moving.fork_sketch(family, document, sketch.id)
            made.append(key)
            return family

        if self.desk.apply(f"fork {sketch.name}", edit):
            self.shown.operation = made[-1]
            self.shown.selection_changed.emit()


def _points(values: tuple[float, ...]) -> list[tuple[float, float]]:
    """Points of a curve; a circle by its box."""
    if len(values) == 3:
        x, y, r = values
        return [(x - r, y - r), (x + r, y + r)]
    return points_in(values)
