"""A person at the window: only mouse and keyboard, with every action counted.

A click, a key and a text that is typed are one action each; moving the pointer is none.
"""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QAbstractButton, QApplication

from architectonic.describe.results import Node
from architectonic.desktop.pane.namefield import NameField
from architectonic.family import edits
from architectonic.session.open.session import Session
from tests.support.canvases import tap
from tests.support.faces import face_at
from tests.support.windows import opened, settle

TOOL_KEYS = {"rectangle": ("1", "R"), "line": ("1", "L"), "circle": ("1", "I"), "slot": ("1", "B")}


@pytest.fixture
def person(qtbot, themed, engine, tmp_path):
    """Somebody before an empty family in two sizes."""
    mine = edits.new_family("Mine", ("A", "B"))
    for window in opened(qtbot, Session.create(tmp_path / "mine", mine, engine.evaluator, tmp_path / "state"), engine):
        yield Person(qtbot, window)


class Person:
    """Sits before a window.

    Attributes:
        actions: how many so far.
    """

    def __init__(self, qtbot, window):
        self.qtbot, self.window, self.actions = qtbot, window, 0

    # --- keyboard -------------------------------------------------------------------------------------

    @property
    def at_hand(self):
        """What has the keyboard."""
        return QApplication.focusWidget() or self.window

    def key(self, key, modifiers=Qt.KeyboardModifier.NoModifier):
        self.actions += 1
        self.qtbot.keyClick(self.at_hand, key, modifiers)
        self.qtbot.wait(20)  # what is typed into a cell is taken in a turn of the loop of its own
        settle(self.qtbot, self.window)

    def type(self, text, *keys):
        """Type a text over what is chosen, then keys such as Enter."""
        self.actions += 1
        field = self.at_hand
        if isinstance(field, NameField):
            field._names = list  # off screen a list that pops up does not give the keyboard back
        self.qtbot.keyClicks(field, text)
        for key in keys:
            self.key(key)

    def do(self, words):
        """Find or do: Ctrl+K, a few words, Enter."""
        self.key(Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
        self.type(words, Qt.Key.Key_Return)

    def enter(self):
        self.key(Qt.Key.Key_Return)

    # --- mouse ----------------------------------------------------------------------------------------

    def click(self, x, y, modifiers=Qt.KeyboardModifier.NoModifier, canvas=None):
        """A click at a place of a sketch, mm."""
        self.actions += 1
        canvas = canvas or self.window.sketches
        at = canvas.to_screen((x, y)).toPoint()
        self.qtbot.mouseMove(canvas, at + QPoint(7, 7))
        self.qtbot.mouseMove(canvas, at)
        self.qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, modifiers, at)
        settle(self.qtbot, self.window)

    def press(self, words, among=None):
        """A button by the words on it."""
        self.actions += 1
        found = [b for b in (among or self.window).findChildren(QAbstractButton) if b.isVisible() and words in b.text()]
        assert found, f"there is no button “{words}”"
        self.qtbot.mouseClick(found[0], Qt.MouseButton.LeftButton)
        settle(self.qtbot, self.window)

    def choose(self, field, words):
        """An entry of a list, by its words: the list is opened, the entry clicked."""
        self.actions += 2
        field.setCurrentText(words)
        assert field.currentText() == words, [field.itemText(k) for k in range(field.count())]
        settle(self.qtbot, self.window)

    def face(self, role, modifiers=Qt.KeyboardModifier.NoModifier):
        """A click on the face of a role, in 3D."""
        self.actions += 1
        tap(self.qtbot, self.window.bodies, face_at(self.window.bodies, role), modifiers)
        settle(self.qtbot, self.window)

    def spot(self, at, modifiers=Qt.KeyboardModifier.NoModifier):
        """A click in 3D on a place in space, mm."""
        self.actions += 1
        canvas = self.window.bodies
        (x, y, _), *_ = canvas.camera.project(np.array([at], float), canvas.width(), canvas.height())
        tap(self.qtbot, canvas, QPoint(round(x), round(y)), modifiers)
        settle(self.qtbot, self.window)

    def tool(self, name):
        """A drawing tool by its figure and letter."""
        self.window.sketches.setFocus()
        for key in TOOL_KEYS[name]:
            self.actions += 1
            self.qtbot.keyClicks(self.at_hand, key)
        settle(self.qtbot, self.window)

    def sized(self, tool, at, to, *sizes):
        """Draw by a tool from a place, its sizes typed beside the pointer, and lay the tool down."""
        canvas = self.window.sketches
        self.tool(tool)
        self.click(*at)
        self.qtbot.mouseMove(canvas, canvas.to_screen(to).toPoint())
        canvas.setFocus()
        for number, text in enumerate(sizes):
            if not number:
                self.type(text[0])  # the first letter or figure opens the sizes
                text = text[1:]
            self.type(text, Qt.Key.Key_Return if number == len(sizes) - 1 else Qt.Key.Key_Tab)
        self.lay_down()

    def lay_down(self):
        """Esc: the tool is laid down."""
        self.window.sketches.setFocus()
        self.key(Qt.Key.Key_Escape)

    # --- several at once ------------------------------------------------------------------------------

    def new(self, kind, name):
        """A new document."""
        self.do(f"new {kind}")
        self.type(name, Qt.Key.Key_Return)

    def sketch(self, plane=""):
        """A new sketch, on another plane than is offered when one is named, with no tool in hand."""
        self.do("new sketch")
        if plane:
            self.choose(self.window.prompt.fields[1], plane)
        self.enter()
        self.lay_down()

    def operation(self, words, *values, near=()):
        """Open a sentence, type into its fields in turn, keep it.

        Args:
            near: what is pressed or chosen in it before: buttons by their words, lists with their entries.
        """
        self.do(words)
        for wish in near:
            self.press(wish, self.window.card) if isinstance(wish, str) else self.choose(*wish)
        self.window.card.value.setFocus()
        for value in values:
            self.at_hand.selectAll()
            self.type(value)
        self.enter()

    def block(self, name, wide, deep, high):
        """A part that is one block: a sketch on its top plane, sizes typed while it is drawn, extruded."""
        self.new("part", name)
        self.sketch()
        self.sized("rectangle", (0, 0), (30, 20), wide, deep)
        self.do("extrude")  # its only region is meant
        self.type(high, Qt.Key.Key_Return)

    def drive(self, name, text):
        """Type a value over that of a driver, and leave it to be looked at."""
        self.actions += 1
        field = next(f for f in self.window.drivers.fields if f.row.name == name)
        self.qtbot.mouseClick(field, Qt.MouseButton.LeftButton)
        field.selectAll()
        self.type(text)

    # --- what is seen ---------------------------------------------------------------------------------

    def measured(self, body=0):
        """Figures of a body of the shown document in the shown size."""
        document = self.window.desk.main.document
        key = list(document.bodies)[body]
        return self.window.desk.settled.value(Node("measure", self.window.desk.main.at, key))
