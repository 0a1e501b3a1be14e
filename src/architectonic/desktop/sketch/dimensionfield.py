"""A dimension of a sketch typed where it stands, on whatever canvas shows it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QWidget

from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import NameField
from architectonic.family import edits, names
from architectonic.family.records import COUNT, Constraint, Family, Sketch, quantity_of
from architectonic.family.scopes import Scope
from architectonic.quantities import units
from architectonic.quantities.syntax import name_and_value
from architectonic.session.open.policy import Disagreement
from architectonic.session.sketch import copies
from architectonic.session.sketch.sketching import sketch_of
from architectonic.session.tables.checks import in_words


def open_field(
    desk: Desk,
    widget: QWidget,
    at: Scope,
    sketch: Sketch,
    c: Constraint,
    box: QRectF,
    closed: Callable[[], object],
    disagreeing: Callable[[set[str]], object] = lambda _: None,
) -> NameField | None:
    """A field over a dimension's figure; Enter stores what is typed, Esc leaves it. None for what is only read.

    Args:
        at: the scope that the sketch is shown in.
        closed: called when the field goes.
        disagreeing: called with the constraints that leave no room for what was typed.
    """
    document = desk.family.documents[at.document]
    if c.value is None:
        desk.told.emit("This figure is only read: Drive makes it decide.", True)
        return None
    old = names.shown_text(desk.family, document, c.value, sketch)
    quantity = quantity_of(c.kind)

    def now() -> Sketch:
        """The sketch as it stands: a dimension picked into the text may have been named meanwhile."""
        return sketch_of(desk.family, at, sketch.id)

    def value_words(text: str) -> str:
        name, value = name_and_value(text)
        told = in_words(desk.family, desk.settled, at, value, quantity, units.DEFAULT_UNIT[quantity], now())
        return f"{told}, called {name}" if name and told.startswith("=") else told

    field = NameField(old, widget, lambda: names.offered(desk.family, document, now()), value_words)
    field.setGeometry(int(box.center().x()) - 90, int(box.y()) - 2, 180, 24)
    field.setAccessibleName(f"value of {c.name or c.kind}")
    field.selectAll()

    def close() -> None:
        desk.foresight.leave()
        field.hide()
        field.deleteLater()
        closed()

    def change(text: str) -> Callable[[Family], Family]:
        name, value = name_and_value(text)

        def edit(family: Family) -> Family:
            family = edits.rename_item(family, at.document, c.id, name) if name and name != c.name else family
            family = edits.set_value(family, at.document, c.id, value)
            return copies.grown(family, at, sketch.id) if c.kind == COUNT else family

        return edit

    def label(text: str) -> str:
        return f"{c.name or c.kind.replace('_', ' ')} {old} → {text}"

    def edited(typed: str) -> None:
        text = typed.strip()
        if text == old:
            desk.foresight.leave()
        else:
            desk.foresight.typing(label(text), change(text))

    def enter() -> None:
        text = field.text().strip()
        if text == old or desk.apply(label(text), change(text)):
            close()
            return
        if isinstance(desk.fault, Disagreement):
            disagreeing(set(desk.fault.constraints))
        field.selectAll()

    field.textEdited.connect(edited)
    field.returnPressed.connect(enter)
    field.left.connect(close)
    field.show()
    field.setFocus()
    return field
