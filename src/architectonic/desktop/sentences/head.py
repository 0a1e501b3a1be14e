"""The start of a datum's sentence: how it is placed, which can be changed, and what it is called."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QLabel, QLineEdit, QWidget

from architectonic.describe.words.datums import DATUMS, gives, way_of
from architectonic.desktop.kit.listbox import ListBox
from architectonic.family.records import Datum


class DatumHead(QObject):
    """The first words of the sentence of one datum.

    Attributes:
        how: the ways it can be placed; name: what it is called.

    Signals:
        turned: another way was chosen, by its key.
        named: another name is being typed.
    """

    turned = pyqtSignal(str)
    named = pyqtSignal()

    def __init__(self, record: Datum, is_new: bool) -> None:
        super().__init__()
        self.how = ListBox()
        way = way_of(record)
        for other in DATUMS.values():
            if is_new or gives(other) == gives(way):
                self.how.addItem(other.title, other.key)
        self.how.setAccessibleName("how it is placed")
        self.show_way(record)
        self.how.currentIndexChanged.connect(lambda _: self.turned.emit(self.how.currentData()))
        self.name = QLineEdit(record.name)
        self.name.setAccessibleName("name of the datum; several, parted by commas, make several")
        self.name.setMinimumWidth(120)
        self.name.textEdited.connect(lambda _: self.named.emit())
        called = QLabel("called")
        called.setObjectName("soft")
        self.widgets: tuple[QWidget, ...] = (self.how, called, self.name)

    def show_way(self, record: Datum) -> None:
        """Name the way a datum is placed, without taking it for a choice."""
        self.how.blockSignals(True)
        self.how.setCurrentIndex(self.how.findData(way_of(record).key))
        self.how.blockSignals(False)
