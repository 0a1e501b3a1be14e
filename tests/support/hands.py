"""What a person does in the window, in few words."""

from PyQt6.QtCore import Qt

from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.scopes import Scope
from tests.support.windows import settle


def show(qtbot, window, name):
    window.desk.show(edits.find_document(window.desk.family, name).id)
    settle(qtbot, window)


def field(window, name):
    return next(f for f in window.drivers.fields if f.row.name == name)


def volume(window, document, size="M"):
    family = window.desk.family
    part = edits.find_document(family, document)
    row = next(s.id for s in family.head.sizes if s.name == size)
    body = next(iter(part.bodies))
    return window.desk.settled.value(Node("measure", Scope(part.id, row), body))["volume_mm3"]


def type_into(qtbot, target, text):
    target.setFocus()
    target.selectAll()
    qtbot.keyClicks(target, text)


def click(qtbot, canvas, x, y, keys=Qt.KeyboardModifier.NoModifier):
    """A click at a place of the sketch's plane."""
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, keys, canvas.to_screen((x, y)).toPoint())


def drag(qtbot, widget, start, end):
    """Press, move in steps, release; pixels."""
    qtbot.mousePress(widget, Qt.MouseButton.LeftButton, pos=start)
    for k in (1, 2, 3):
        qtbot.mouseMove(widget, start + (end - start) * k / 3)
    qtbot.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=end)


def row(window, text):
    """The row of Made of whose sentence begins so."""
    return next(e for e in window.made_of.entries if e.text.startswith(text))


def lay_down(qtbot, canvas):
    """Esc until no tool is in hand and nothing is chosen."""
    for _ in range(3):
        qtbot.keyClick(canvas, Qt.Key.Key_Escape)


def draw(qtbot, window, tool, *points):
    """Draw with a tool by clicks at points of the sketch, mm, and lay it down; the sketch is solved."""
    canvas = window.sketches
    window.actions_.run(tool)
    for point in points:
        click(qtbot, canvas, *point)
    settle(qtbot, window)
    lay_down(qtbot, canvas)


def held(card):
    """The list or field of each blank of an open sentence."""
    return [getattr(f, "list", None) or f.field for f in card.blanks.values()]


def place(qtbot, window, *texts):
    """Fill the blanks of the open datum's sentence, then Enter."""
    for blank, text in zip(held(window.card), texts, strict=False):
        blank.setText(text) if hasattr(blank, "setText") else blank.setCurrentText(text)
    qtbot.keyClick(window.card.name, Qt.Key.Key_Return)
    settle(qtbot, window)


def run(qtbot, window, action):
    assert window.actions_.run(action), action
    settle(qtbot, window)


def answer(qtbot, window, *texts):
    """Type into the fields of the open card, None leaves one, then Enter."""
    for place, text in zip(window.prompt.fields, texts, strict=False):
        if text is not None:
            place.setText(text) if hasattr(place, "setText") else place.setCurrentText(text)
    qtbot.keyClick(window.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, window)


def rows(window):
    """The words of the open list."""
    table = window.list_card.rows
    return [[table.item(r, c).text() for c in range(table.columnCount())] for r in range(table.rowCount())]


def triangle(qtbot, window):
    """A triangle whose sides are dimensioned: 30, 32 and 31 mm."""
    canvas = window.sketches
    draw(qtbot, window, "sketch.line", (0, 0), (30, 7), (8, 30), (0, 0))
    for at, value in (((15, 3.5), "30 mm"), ((4, 15), "32 mm"), ((19, 18.5), "31 mm")):
        click(qtbot, canvas, *at)
        assert window.actions_.run("dimension.distance"), at
        answer(qtbot, window, value)
        canvas.frame_all()
        canvas.scale, canvas.centre = 4.0, (20.0, 10.0)
