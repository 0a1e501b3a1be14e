"""The plan of an assembly: parts and assemblies as a tree that is typed like an outline, before there is geometry."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QPainter
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QLabel, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import icon
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.family import edits
from architectonic.family.names import free_name
from architectonic.family.records import Assembly, Family
from architectonic.session.assembly import surroundings
from architectonic.session.product import planning
from architectonic.session.product.planning import PlanLine

LINE = Qt.ItemDataRole.UserRole
NAME, NUMBER, TAKES, PROGRESS = range(4)


class PlanTree(QTreeWidget):
    """The tree with the keys of an outline.

    Signals:
        opened (str): a document was double-clicked beside its words.
    """

    opened = pyqtSignal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setColumnCount(4)
        self.setHeaderLabels(["Name", "Number", "Takes", "Progress"])
        self.setRootIsDecorated(True)
        self.setUniformRowHeights(True)
        self.setAlternatingRowColors(False)
        self.setEditTriggers(QAbstractItemView.EditTrigger.EditKeyPressed)
        self.setAccessibleName("Plan of the product")
        head = self.header()
        assert head is not None
        head.setStretchLastSection(True)
        head.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        for k, wide in enumerate((300, 110, 90)):
            self.setColumnWidth(k, wide)
        self._filling = False
        self.itemChanged.connect(self._on_typed)

    @property
    def top(self) -> str:
        """The assembly that is planned."""
        return self.desk.main.document_id

    def line(self) -> PlanLine | None:
        """The chosen line, while what it stands for is there."""
        item = self.currentItem()
        line: PlanLine | None = item.data(0, LINE) if item is not None else None
        assembly = self.desk.family.documents.get(line.assembly) if line is not None else None
        there = isinstance(assembly, Assembly) and any(i.id == line.instance for i in assembly.instances)  # type: ignore[union-attr]
        return line if there else None

    def refresh(self) -> None:
        """Follow the family; the chosen line stays chosen."""
        chosen = self.line()
        self._filling = True
        self.clear()
        open_at: list[QTreeWidgetItem] = []
        for line in planning.lines(self.desk.family, self.top):
            item = QTreeWidgetItem([line.name, line.number, f"{line.takes}" if line.takes else "–", line.progress])
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsEditable)
            item.setIcon(0, icon(line.kind))
            item.setData(0, LINE, line)
            soft = QColor(theme.SOFT)
            for k in (TAKES, PROGRESS):
                item.setForeground(k, soft)
            del open_at[line.depth :]
            if open_at:
                open_at[-1].addChild(item)
            else:
                self.addTopLevelItem(item)
            open_at.append(item)
            if chosen is not None and line.instance == chosen.instance:
                self.setCurrentItem(item)
        self.expandAll()
        self._filling = False

    def choose(self, document: str) -> None:
        """Go to the line of a document."""
        for item in self.findItems("", Qt.MatchFlag.MatchContains | Qt.MatchFlag.MatchRecursive):
            if item.data(0, LINE).document == document:
                self.setCurrentItem(item)

    def _on_typed(self, item: QTreeWidgetItem, column: int) -> None:
        """A name or number was typed."""
        if self._filling:
            return
        line: PlanLine = item.data(0, LINE)
        text = item.text(column).strip()
        if column == NAME and text != line.name:
            self.desk.apply(f"{line.name} is now {text}", lambda f: planning.rename(f, line.document, text))
        elif column == NUMBER and text != line.number:
            self.desk.apply(f"number {text}", lambda f: planning.set_number(f, line.document, text))
        self.refresh()

    # --- edits ----------------------------------------------------------------------------------------

    def add(self, kind: planning.Kind, inside: bool = False) -> None:
        """A new entry below the chosen one, or inside it; its name is typed at once."""
        line = self.line()
        assembly, before = self.top, ""
        if line is not None and inside:
            assembly = line.document
        elif line is not None:
            assembly = line.assembly
            order = [i.id for i in self.desk.family.documents[assembly].instances]  # type: ignore[attr-defined]
            following = order[order.index(line.instance) + 1 :]
            before = following[0] if following else ""
        name = free_name(f"New {kind}", [d.name for d in self.desk.family.documents.values()])
        made: list[str] = []

        def edit(family: Family) -> Family:
            if inside and line is not None:
                family = planning.as_assembly(family, line.document)
            family, key = planning.add(family, assembly, kind, name, before=before)
            made.append(key)
            return family

        if self.desk.apply(f"plan {name}", edit):
            self.refresh()
            self.choose(made[-1])
            item = self.currentItem()
            if item is not None:
                self.editItem(item, NAME)

    def _edit(self, label: str, change: Callable[[Family, PlanLine], Family]) -> None:
        line = self.line()
        if line is None:
            return
        done = self.desk.apply(f"{label} {line.name}", lambda f: change(f, line))
        if done:
            self.refresh()
            self.choose(line.document)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter types the name, Ctrl+Enter adds below; Tab puts in, Shift+Tab out; Alt with an arrow moves."""
        assert event is not None
        key, keys = event.key(), event.modifiers()
        enter = key in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if enter and keys & Qt.KeyboardModifier.ControlModifier:
            self.add("part")
        elif enter and self.currentItem() is not None and self.state() != QAbstractItemView.State.EditingState:
            self.editItem(self.currentItem(), max(0, self.currentColumn()))
        elif key == Qt.Key.Key_Tab:
            self._edit("put in", lambda f, e: planning.indent(f, e.assembly, e.instance))
        elif key == Qt.Key.Key_Backtab:
            self._edit("put out", lambda f, e: planning.outdent(f, self.top, e.assembly, e.instance))
        elif keys & Qt.KeyboardModifier.AltModifier and key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = 1 if key == Qt.Key.Key_Down else -1
            self._edit("move", lambda f, e: planning.shift(f, e.assembly, e.instance, step))
        elif key == Qt.Key.Key_Delete:
            self._edit("take out", lambda f, e: edits.delete_item(f, e.assembly, e.instance))
        else:
            super().keyPressEvent(event)

    def event(self, event: object) -> bool:
        """Tab belongs to the outline, not to the way through the window."""
        if isinstance(event, QKeyEvent) and event.type() == QKeyEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
                self.keyPressEvent(event)
                return True
        return super().event(event)  # type: ignore[arg-type]

    def mouseDoubleClickEvent(self, event: object) -> None:
        """On a name or number types it; elsewhere opens the document."""
        at = event.position().toPoint()  # type: ignore[attr-defined]
        item, column = self.itemAt(at), self.columnAt(at.x())
        if item is None:
            return
        if column in (NAME, NUMBER):
            self.editItem(item, column)
        else:
            self.opened.emit(item.data(0, LINE).document)


class PlanCanvas(QWidget):
    """The plan with what it stands in: the layouts that all take whole."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("canvas")
        self.desk = desk
        self.tree = PlanTree(desk)
        self.frame = QLabel()
        self.frame.setObjectName("soft")
        self.frame.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 10, 16, 12)
        layout.setSpacing(6)
        layout.addWidget(self.frame)
        layout.addWidget(self.tree)
        keys = QLabel(
            "Ctrl+Enter adds below · Tab puts in, Shift+Tab out · Alt+↑ ↓ moves · Enter types · Del takes out"
        )
        keys.setObjectName("soft")
        keys.setWordWrap(True)
        layout.addWidget(keys)
        refresh = soon(self, self.refresh)
        desk.family_changed.connect(refresh)
        desk.main.changed.connect(refresh)

    def refresh(self) -> None:
        """Follow the family while it is on the screen."""
        document = self.desk.main.document
        if not self.isVisible() or not isinstance(document, Assembly):
            return
        whole = [self.desk.family.documents[k].name for k in surroundings.frames_of(self.desk.family, document.id)]
        told = f"Common frame: {', '.join(whole)}, taken whole by every new entry" if whole else "No common frame yet"
        self.frame.setText(told)
        if self.tree.state() != QAbstractItemView.State.EditingState:
            self.tree.refresh()

    def showEvent(self, event: object) -> None:
        """Catch up."""
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def paintEvent(self, _: object) -> None:
        """Paper."""
        QPainter(self).fillRect(self.rect(), QColor(theme.PAPER))
