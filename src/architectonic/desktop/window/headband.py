"""The head band: where we are, which size is shown, Find or do, undo, and the state of everything."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QToolButton, QWidget

from architectonic.check.attention import RANK, causes
from architectonic.desktop.kit.actions import Registry
from architectonic.desktop.kit.signs import Mark, icon
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.window.folderwatch import FolderWatch
from architectonic.desktop.window.notices import Notices
from architectonic.family import scopes
from architectonic.family.records import AnyDocument, Assembly
from architectonic.session.assembly.grid import rows as rows_of
from architectonic.session.feeds.sources import takers
from architectonic.session.open.recent import recent

PILL = "What is being updated and what needs attention"
UNDO, LEAST, MOST = "↶ Undo", 48, 230
"""Pixels for what is undone: in fewer nothing could be said of it, with more it would take the band."""
MANY = 24
"""Documents beyond which they are sought instead of listed."""


class HeadBand(QWidget):
    """One line, 40 px.

    Signals:
        document_chosen (str): from the chooser; many_asked: there are too many for it.
        family_chosen (Path): one that was open before.
    """

    document_chosen = pyqtSignal(str)
    many_asked = pyqtSignal()
    family_chosen = pyqtSignal(object)

    def __init__(self, desk: Desk, actions: Registry, find: Callable[[], None]) -> None:
        super().__init__()
        self.setObjectName("head")
        self.desk, self.registry = desk, actions
        self.setFixedHeight(40)
        self.family_button = self._button("flat", "Family: new, open, save")
        self.family_button.setMenu(self._family_menu())
        self.document_button = self._button("flat", "Documents of this family")
        self.document_button.setStyleSheet("font-size: 14px; font-weight: 600;")
        self.size_button = self._button("", "Which size or configuration is shown")
        self.alternate_button = self._button("", "Which alternate is shown (Ctrl+PgDown, Ctrl+PgUp)")
        self.find_button = QToolButton()
        self.find_button.setText("Find or do        Ctrl K")
        self.find_button.setStyleSheet("font-weight: 400; padding: 4px 14px;")
        self.find_button.clicked.connect(find)
        self.undo_button, self.redo_button = self._button("flat", "Ctrl+Z"), self._button("flat", "Ctrl+Shift+Z")
        self.undo_button.setMinimumWidth(1)  # it takes the room that is left
        for button in (self.undo_button, self.redo_button):
            button.setPopupMode(QToolButton.ToolButtonPopupMode.DelayedPopup)
        self.undo_button.clicked.connect(lambda: actions.run("edit.undo"))
        self.redo_button.clicked.connect(lambda: actions.run("edit.redo"))
        self.pill = self._button("pill", PILL)
        self.pill.clicked.connect(lambda: actions.run("view.attention"))
        self.sign = QWidget()
        line = self._line = QHBoxLayout(self)
        line.setContentsMargins(8, 4, 12, 4)
        line.setSpacing(4)
        line.addWidget(self.family_button)
        line.addWidget(QLabel("›"))
        line.addWidget(self.sign)
        line.addWidget(self.document_button)
        line.addSpacing(8)
        line.addWidget(self.size_button)
        line.addWidget(self.alternate_button)
        line.addStretch(1)
        self.watch = FolderWatch(desk, self)
        self.notices = Notices(self.watch, actions)
        line.addWidget(self.notices)
        line.addWidget(self.find_button)
        line.addSpacing(8)
        for button in (self.undo_button, self.redo_button):
            line.addWidget(button)
        line.addSpacing(4)
        line.addWidget(self.pill)
        self._done = self._most = 0
        self._pill_soon = soon(self, self.refresh_pill)
        refresh = soon(self, self.refresh)
        self.watch.changed.connect(refresh)
        desk.family_changed.connect(refresh)
        desk.main.changed.connect(refresh)
        desk.evaluated.connect(self._pill_soon)
        desk.counted.connect(self._on_counted)
        self.refresh()

    def _button(self, name: str, tip: str) -> QToolButton:
        made = QToolButton()
        made.setObjectName(name)
        made.setToolTip(tip)
        made.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        return made

    def _family_menu(self) -> QMenu:
        menu = QMenu(self)
        menu.aboutToShow.connect(lambda: self._fill_families(menu))
        return menu

    def _fill_families(self, menu: QMenu) -> None:
        """What can be done with families, and those that were open last."""
        fill(menu, self.registry, "family")
        others = [p for p in recent() if p != self.desk.session.stored.folder.resolve()]
        if others:
            menu.addSeparator()
        for folder in others:
            entry = QAction(f"{folder.name}   in {folder.parent}", menu)
            entry.triggered.connect(lambda _=False, p=folder: self.family_chosen.emit(p))
            menu.addAction(entry)

    def resizeEvent(self, event: object) -> None:
        """What is undone is said as far as there is room."""
        super().resizeEvent(event)  # type: ignore[arg-type]
        self._fit()

    def event(self, event: QEvent | None) -> bool:
        """Something else in the band became longer or shorter."""
        done = super().event(event)
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self._fit()
        return done

    def _fit(self) -> None:
        """The words of undo: in whole, shortened, or none, so that the band never widens the window."""
        button, label = self.undo_button, self.desk.session.history.undo_label
        metrics = button.fontMetrics()
        around = button.sizeHint().width() - metrics.horizontalAdvance(button.text())
        others = self._line.sizeHint().width() - button.sizeHint().width()
        room = min(MOST, self.width() - others - around - metrics.horizontalAdvance(f"{UNDO}: "))
        fits = bool(label) and room >= min(LEAST, metrics.horizontalAdvance(label))
        text = f"{UNDO}: {metrics.elidedText(label, Qt.TextElideMode.ElideMiddle, room)}" if fits else UNDO
        if text != button.text():
            button.setText(text)

    # --- content --------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Follow the family and what is shown."""
        desk = self.desk
        document = desk.main.document
        unsaved = " •" if desk.session.unsaved else ""
        self.family_button.setText(desk.family.head.name + unsaved)
        self.family_button.setToolTip(
            "Family: new, open, save" + (" (something is not saved)" if unsaved else "") + self._disk()
        )
        self.document_button.setText((document.name if document else "No document") + "  ▾")
        new = Mark(document.kind) if document else QWidget()
        self._line.replaceWidget(self.sign, new)
        self.sign.hide()
        self.sign.deleteLater()
        self.sign = new
        self.document_button.setMenu(self._document_menu())
        self._fill_sizes()
        history = desk.session.history
        self._fit()
        self.undo_button.setToolTip(f"Undo: {history.undo_label}   Ctrl+Z" if history.undo_label else "Nothing to undo")
        self.undo_button.setEnabled(bool(history.undo_label))
        self.redo_button.setText("↷")
        self.redo_button.setToolTip(
            f"Redo: {history.redo_label}   Ctrl+Shift+Z" if history.redo_label else "Nothing to redo"
        )
        self.redo_button.setEnabled(bool(history.redo_label))
        self.refresh_pill()

    def _disk(self) -> str:
        """How saves are kept apart, where that is not as everywhere."""
        kind = self.watch.around.disk
        return (
            f"\nIts folder lies on {kind}, whose locks may not reach other machines: a file stands for them"
            if kind
            else ""
        )

    def _document_menu(self) -> QMenu:
        menu = emptied(self.document_button)
        documents = list(self.desk.family.documents.values())
        if len(documents) > MANY:
            seek = QAction(f"Choose one of {len(documents)} documents…", menu)
            seek.triggered.connect(self.many_asked)
            menu.addAction(seek)
        for document in documents if len(documents) <= MANY else ():
            entry = QAction(icon(document.kind), document.name, menu)
            entry.triggered.connect(lambda _=False, k=document.id: self.document_chosen.emit(k))
            menu.addAction(entry)
        menu.addSeparator()
        fill(menu, self.registry, "document", clear=False)
        users = [t.name for t in takers(self.desk.family, self.desk.main.document_id)]
        for entry in menu.actions():
            if users and entry.text() == self.registry.actions["document.delete"].title:
                entry.setText(f"{entry.text()}; {', '.join(users)} take{'s' if len(users) == 1 else ''} from it")
        return menu

    def _fill_sizes(self) -> None:
        document, at = self.desk.main.document, self.desk.main.at
        if document is None or at is None:
            self.size_button.hide()
            self.alternate_button.hide()
            return
        self._fill_alternates(document, at)
        rows = scopes.configurations(self.desk.family, document)
        self.size_button.show()
        self.size_button.setText(f"shown  {dict(rows).get(at.configuration, '')}  ▾")
        menu = emptied(self.size_button)
        for row, name in rows:
            entry = QAction(name, menu)
            entry.setCheckable(True)
            entry.setChecked(row == at.configuration)
            entry.triggered.connect(lambda _=False, k=row: self.desk.show(size=k))
            menu.addAction(entry)
        self.size_button.setMenu(menu)

    def _fill_alternates(self, document: AnyDocument, at: scopes.Scope) -> None:
        """The alternates of an assembly, those that follow one below it."""
        self.alternate_button.setVisible(bool(scopes.alternates(document)))
        if not isinstance(document, Assembly) or not document.alternates:
            return
        self.alternate_button.setText(f"alternate  {scopes.alternate_name(self.desk.family, at)}  ▾")
        menu = emptied(self.alternate_button)
        for row in rows_of(document):
            entry = QAction("      " * row.depth + row.name, menu)
            entry.setCheckable(True)
            entry.setChecked(row.key == at.alternate)
            entry.triggered.connect(lambda _=False, k=row.key: self.desk.show(alternate=k))
            menu.addAction(entry)
        self.alternate_button.setMenu(menu)

    def _on_counted(self, done: int, most: int) -> None:
        self._done, self._most = done, most
        self._pill_soon()

    def refresh_pill(self) -> None:
        """The worst of all states, and what is being computed."""
        desk = self.desk
        items = causes(desk.attention)
        worst = min(items, key=lambda i: RANK[i.severity]).severity if items else "current"
        told = "All current"
        if items:
            failing = sum(i.severity in ("failing", "conflict") for i in items)
            told = f"{failing} failing" if failing == len(items) else _needing(len(items))
        if desk.updating:
            count = f"{self._done} of at most {self._most}" if self._most else "…"
            told = f"{told}, updating {count}" if items else f"Updating {count}"
            worst = worst if items else "updating"
        trouble = desk.session.journal.trouble if desk.session.journal else ""
        self.pill.setToolTip(f"{trouble[:1].upper()}{trouble[1:]}." if trouble else PILL)
        told, worst = (f"Edits not kept; {told}", "conflict") if trouble else (told, worst)
        self.pill.setIcon(icon(worst, True))
        self.pill.setText(f"{told}  ▾")
        self.pill.setToolButtonStyle(self.find_button.toolButtonStyle().ToolButtonTextBesideIcon)


def emptied(button: QToolButton) -> QMenu:
    """The menu of a button, to be filled anew; a menu made for every change would stay as long as the window."""
    menu = button.menu() or QMenu(button)
    menu.clear()
    return menu


def _needing(count: int) -> str:
    return f"{count} {'needs' if count == 1 else 'need'} attention"


def fill(menu: QMenu, actions: Registry, name: str, clear: bool = True) -> None:
    """Put the actions of a menu into it, as they are enabled now."""
    if clear:
        menu.clear()
    for action in actions.in_menu(name):
        entry = QAction(f"{action.title}\t{action.keys}" if action.keys else action.title, menu)
        entry.setEnabled(action.enabled())
        entry.triggered.connect(lambda _=False, a=action.id: actions.run(a))
        menu.addAction(entry)
