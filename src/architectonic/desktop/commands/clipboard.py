"""Copy and paste: curves between sketches, operations between build lists."""

from __future__ import annotations

from PyQt6.QtWidgets import QApplication

from architectonic.describe.words.blanks import counted
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sketch.drawtools import DrawTools
from architectonic.family.records import AnyOperation, Family, Model
from architectonic.session.model import carrying
from architectonic.session.sketch import moving


class Clipboard:
    """Callbacks of Ctrl+C and Ctrl+V, where no table has the keyboard."""

    def __init__(self, desk: Desk, tools: DrawTools) -> None:
        self.desk, self.tools = desk, tools

    def actions(self) -> list[Action]:
        """Copying and pasting."""
        return [
            Action(
                "edit.copy",
                "Copy curves, or the chosen operation",
                self.copy,
                self._can_copy,
                "Ctrl+C",
                "edit",
                tells="Curves with what holds them, or an operation.",
                wants="wants curves or a row",
            ),
            Action(
                "edit.paste",
                "Paste curves or operations",
                self.paste,
                self._can_paste,
                "Ctrl+V",
                "edit",
                tells="Into this sketch or this list.",
                wants="wants something copied",
            ),
        ]

    def _can_copy(self) -> bool:
        return bool(self._curves()) or self._operation() is not None

    def _can_paste(self) -> bool:
        return isinstance(self.desk.main.document, Model)

    def _curves(self) -> list[str]:
        """Chosen curves of the shown sketch, whole ones only."""
        sketch = self.tools.canvas.sketch
        return [k for k in self.desk.main.curves if sketch is not None and k in sketch.curves]

    def _operation(self) -> AnyOperation | None:
        """The chosen row of the build list."""
        main = self.desk.main
        return next((o for o in main.build if o.id == main.operation), None)

    def copy(self) -> None:
        """Put the chosen curves, or the chosen operation with what it takes from, on the clipboard."""
        main, board, curves = self.desk.main, QApplication.clipboard(), self._curves()
        if board is None:
            return
        editing, operation = self.tools.sketching(), self._operation()
        if curves and editing is not None:
            if self.desk.attempt(lambda: board.setText(moving.cut_out(editing, curves))):
                told = counted(len(curves), "curve")
                self.desk.told.emit(f"Copied {told}; Ctrl+V puts them into any sketch.", False)
        elif operation is not None:
            solved = {o.id: s for o in main.build if (s := main.value("solve", o.id)) is not None}
            board.setText(carrying.cut_out(self.desk.family, main.document_id, operation.id, solved))
            self.desk.told.emit(f"Copied {operation.name}; Ctrl+V puts it into any build list.", False)

    def paste(self) -> None:
        """Put curves into the shown sketch, chosen, ready to be moved; or operations into the build list."""
        board, made = QApplication.clipboard(), list[str]()
        if board is None:
            return
        text = board.text()
        if carrying.is_carried(text):
            self._paste_operations(text)
        elif self.tools.canvas.sketch is None or not self.tools.canvas.isVisible():
            self.desk.told.emit("The clipboard holds no operations: copy a row of Made of first.", True)
        elif self.tools.apply("paste curves", lambda s: made.extend(moving.paste(s, text))):
            self.desk.main.curves = list(made)
            self.desk.main.selection_changed.emit()

    def _paste_operations(self, text: str) -> None:
        """Put operations in at the marker; the last, which the others came along for, is chosen."""
        main, made, left = self.desk.main, list[str](), list[str]()

        def edit(family: Family) -> Family:
            family, made[:], left[:] = carrying.paste(family, main.document_id, text, main.after_marker)
            return family

        if not self.desk.apply("paste operations", edit):
            return
        if main.until:
            main.until = made[-1]
        main.select(made[-1])
        if left:
            more = f" and {len(left) - 2} more" if len(left) > 2 else ""
            self.desk.told.emit(f"Pasted; to be filled: {'; '.join(left[:2])}{more}. Edit it above the canvas.", True)
