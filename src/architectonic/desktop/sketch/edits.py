"""Edits of what is chosen in a sketch canvas, carried out through the desk."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QWidget

from architectonic.base.errors import UserFault
from architectonic.base.places import AXES
from architectonic.describe.words.blanks import counted
from architectonic.desktop.pane.namefield import NameField
from architectonic.desktop.sketch.view import SketchView
from architectonic.family import edits, names
from architectonic.family.records import DIMENSIONS, Constraint, Family, quantity_of
from architectonic.quantities import units
from architectonic.quantities.syntax import name_and_value
from architectonic.session.sketch import corners, holding
from architectonic.session.sketch.sketching import Sketching, begin, place_kinds

WORDS = {
    "distance": "length",
    "diameter": "dia",
    "radius": "radius",
    "angle": "angle",
    "offset": "gap",
    "count": "count",
}
"""First part of a name that a dimension is given when an expression needs one."""


class SketchEdits:
    """Constraints, dimensions and deletions on the chosen places of a canvas.

    Attributes:
        trying: the edit that is being carried out, with its label: it can be tried again once nothing stands against it.
    """

    def __init__(self, canvas: SketchView) -> None:
        self.canvas = canvas
        self.trying: tuple[str, Callable[[Sketching], object]] | None = None

    def apply(self, label: str, edit: Callable[[Sketching], object]) -> bool:
        """Carry out an edit of the sketch through the desk."""
        editing = self.sketching()
        if editing is None:
            return False

        def change(_: Family) -> Family:
            edit(editing)
            return editing.stored()

        self.trying = (label, edit)
        done = self.canvas.desk.apply(f"{label} in {editing.drawing.sketch.name}", change)
        self.trying = None
        return done

    def kinds(self) -> tuple[str, ...]:
        """What the chosen places are, in the order of `places`."""
        sketch = self.canvas.sketch
        return () if sketch is None else place_kinds(sketch, self.canvas.solved, self.places())

    def places(self) -> list[str]:
        """The chosen places in the order that constraints expect: points first, axes last."""
        sketch, chosen = self.canvas.sketch, self.canvas.shown.curves
        if sketch is None:
            return []
        rank = {"point": 0, "spline": 1, "controlled": 1, "ellipse": 2, "elliptic_arc": 2, "line": 3}
        kinds = dict(zip(chosen, place_kinds(sketch, self.canvas.solved, chosen), strict=True))
        return sorted(chosen, key=lambda p: (p in AXES, rank.get(kinds[p], 4)))

    def _let_go(self, done: bool) -> bool:
        if done:
            self.canvas.shown.curves = []
            self.canvas.shown.selection_changed.emit()
        return done

    def constrain(self, kind: str) -> bool:
        """Constrain the chosen places; of several lines, and of points that are fixed, each one."""
        chosen, places = list(self.canvas.shown.curves), self.places()
        if kind == "fix" or (kind in ("horizontal", "vertical") and set(self.kinds()) == {"line"}):

            def edit(editing: Sketching) -> None:
                for place in chosen:
                    editing.constrain(kind, place)
        else:

            def edit(editing: Sketching) -> None:
                editing.constrain(kind, *places)

        return self._let_go(self.apply(kind.replace("_", " "), edit))

    def light_deciding(self, kind: str) -> list[Constraint] | None:
        """Light the constraints that decide already what one of the chosen places would say; None for nothing."""
        editing = self.sketching()
        found = editing.deciding(kind, *self.places()) if editing is not None else None
        self.canvas.shown.light({c.id for c in found or ()})
        return found

    def release(self, constraint: str) -> bool:
        """Take a constraint back."""
        self.canvas.shown.light(set())
        return self.apply("take back a constraint", lambda s: s.release(constraint))

    def dimension(self, kind: str, value: str, name: str = "") -> bool:
        """Give the chosen places a dimension; it may have a name that expressions use."""
        places = self.places()
        label = f"dimension {value}"
        return self._let_go(self.apply(label, lambda s: s.constrain(kind, *places, value=value, name=name)))

    def sketching(self) -> Sketching | None:
        """The shown sketch, ready to be asked or edited; None when there is none."""
        canvas = self.canvas
        sketch, at, evaluation = canvas.sketch, canvas.shown.at, canvas.shown.evaluation
        if sketch is None or at is None or evaluation is None:
            return None
        return begin(canvas.desk.family, at, sketch.id, evaluation)

    def names(self) -> list[str]:
        """All that an expression in the shown sketch may name."""
        canvas = self.canvas
        document = canvas.shown.document
        return names.offered(canvas.desk.family, document, canvas.sketch) if document is not None else []

    def value_words(self, text: str, quantity: str) -> str:
        """What a typed expression comes to, or what is wrong with it."""
        editing = self.sketching()
        if editing is None or not text:
            return ""
        name, value = name_and_value(text)
        called = f", called {name}" if name else ""
        try:
            return f"= {units.shown(editing.measure(value, quantity), units.DEFAULT_UNIT[quantity], 3)}{called}"
        except UserFault as fault:
            return fault.what

    def field(self, text: str, parent: QWidget, kind: str) -> NameField:
        """A field for the value of a kind of dimension, which names are offered in."""
        return NameField(text, parent, self.names, lambda t: self.value_words(t, quantity_of(kind)))

    def asking(self, text: str, kind: str) -> Callable[[QWidget], NameField]:
        """Makes a field for the value of a kind of dimension, on whatever card asks for it."""
        return lambda parent: self.field(text, parent, kind)

    def name_into(self, field: NameField, c: Constraint) -> None:
        """Put the name of a dimension into an expression; one without a name gets one first."""
        if c.kind not in DIMENSIONS:
            return
        name = c.name
        if not name:
            document, sketch = self.canvas.shown.document_id, self.canvas.sketch
            assert sketch is not None
            taken = [d.name for d in sketch.constraints if d.name]
            name = names.free_name(f"{WORDS.get(c.kind, 'size')}1", taken)
            if not self.canvas.desk.apply(f"name {name}", lambda f: edits.rename_item(f, document, c.id, name)):
                return
        field.insert_name(names.identifier(name))

    def hold(self, kind: str, of: tuple[str, ...], value: str | None) -> bool:
        """Take one freedom that is left."""
        return self.apply("hold", lambda s: s.constrain(kind, *of, value=value))

    def read_out(self, kind: str, name: str) -> bool:
        """Show a figure of the chosen places that decides nothing."""
        places = self.places()
        return self._let_go(self.apply("read-out", lambda s: s.read_out(kind, *places, name=name)))

    def turn_over(self) -> bool:
        """Let the chosen dimension drive, or only read."""
        key = self.canvas.shown.constraint
        return self.apply("drive or read a dimension", lambda s: holding.turn_over(s, key))

    def chamfer_corner(self, distance: str) -> bool:
        """Cut the corners that are chosen."""
        pairs, label = self.corners(), f"chamfer {counted(len(self.corners()), 'corner')}, {distance}"
        return self._let_go(self.apply(label, lambda s: corners.chamfer_corners(s, pairs, distance)))

    def round_corner(self, radius: str) -> bool:
        """Round the corners that are chosen."""
        pairs, label = self.corners(), f"round {counted(len(self.corners()), 'corner')}, {radius}"
        return self._let_go(self.apply(label, lambda s: corners.round_corners(s, pairs, radius)))

    def corners(self) -> list[tuple[str, str]]:
        """The lines of each corner that is chosen, by its point or by its lines."""
        editing = self.sketching() if self.canvas.shown.curves else None
        return corners.corners_in(editing.drawing.sketch, self.canvas.shown.curves) if editing is not None else []

    def toggle_helper(self) -> bool:
        """Make the chosen curves helpers, or drawn again."""
        chosen = list(self.canvas.shown.curves)
        return self._let_go(self.apply("helper geometry", lambda s: s.toggle_helper(chosen)))

    def delete(self) -> bool:
        """Take the chosen curves away."""
        sketch = self.canvas.sketch
        constraint = self.canvas.shown.constraint
        if constraint:
            self.canvas.shown.constraint = ""
            return self.apply("delete a constraint", lambda s: s.release(constraint))
        chosen = [k for k in self.canvas.shown.curves if sketch is not None and k in sketch.curves]
        if not chosen:
            return False
        self.canvas.shown.curves = []

        def edit(editing: Sketching) -> None:
            for key in chosen:
                editing.delete(key)

        return self.apply("delete curves", edit)
