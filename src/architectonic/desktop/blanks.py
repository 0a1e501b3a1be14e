"""Blanks of sentences: fields for values, and the end of an extrusion."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit

from architectonic.describe.sentences import target, text
from architectonic.desktop.choices import planes
from architectonic.desktop.workbench import Workbench
from architectonic.family import edits, names
from architectonic.family.records import STANDARD_PLANES, Distance, Family, Model, Reference, ToPlane

FAR = ("by", "both ways by")
NEAR = ("from its plane", "from before it by")


def value_field(shown: str, name: str, wide: int = 130) -> QLineEdit:
    """A field for an expression."""
    made = QLineEdit(shown)
    made.setFixedHeight(26)
    made.setMinimumWidth(wide)
    made.setAccessibleName(name)
    return made


class EndBlank:
    """One end of an extrusion: words of its own first, then every plane; and a field for its distance or offset."""

    def __init__(
        self,
        bench: Workbench,
        end: Distance | ToPlane | None,
        words: tuple[str, str],
        reaching: str,
        name: str,
        line: QHBoxLayout,
    ) -> None:
        document = bench.main.document
        assert isinstance(document, Model)
        self.name = name
        self.choice = QComboBox()
        self.choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.choice.setAccessibleName(f"{name}: which end")
        for word in words:
            self.choice.addItem(word, None)
        for reference, called in self._planes(bench, document, end):
            self.choice.addItem(f"{reaching} {called}", reference)
        shown = ""
        if isinstance(end, Distance):
            self.choice.setCurrentIndex(1 if words is NEAR else 0)
            shown = text(bench.family, document, end.value)
        elif end is not None:
            found = [i for i in range(self.choice.count()) if self.choice.itemData(i) == end.target]
            self.choice.setCurrentIndex(found[0] if found else 0)
            shown = text(bench.family, document, end.offset) if end.offset is not None else ""
        self.field = value_field(shown, name, 96)
        self.field.setPlaceholderText("offset, if any")
        line.addWidget(self.choice)
        line.addWidget(self.field)

    def _planes(self, bench: Workbench, document: Model, end: object) -> list[tuple[Reference, str]]:
        """Planes an end can reach, the standard ones last, its present one among them."""
        known = planes(bench.main)
        found = [(r, name) for name, r in known if r.item not in STANDARD_PLANES]
        found += [(r, f"the {name} plane") for name, r in known if r.item in STANDARD_PLANES]
        if isinstance(end, ToPlane) and all(end.target != r for r, _ in found):
            found.append((end.target, target(bench.family, document, end.target)))
        return found

    def read(self, family: Family, document: Model) -> Distance | ToPlane:
        """The end as it stands.

        Raises:
            UserFault: what is typed cannot be used.
        """
        typed, reference = self.field.text().strip(), self.choice.currentData()
        if reference is not None:
            offset = names.bind_quantity(family, document, typed, "length", "mm") if typed else None
            return ToPlane(target=reference, offset=offset)
        value = names.bind_quantity(family, document, typed, "length", "mm")
        edits.refuse_not_positive(value, "length", self.name)
        return Distance(value=value)
