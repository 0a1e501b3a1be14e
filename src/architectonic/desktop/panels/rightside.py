"""Driven: who takes from the shown document. Facts: figures of it and of what is picked. Attention lives in the pill."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from architectonic.base.places import curve_of, point_of
from architectonic.describe.results import Node
from architectonic.describe.words.blanks import counted
from architectonic.describe.words.sentences import constraint, place_words
from architectonic.desktop.kit import theme
from architectonic.desktop.kit.signs import Mark, icon
from architectonic.desktop.kit.soon import soon
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.thumbnails import RATIO
from architectonic.family import scopes
from architectonic.family.records import Model, Sketch
from architectonic.family.walk import Same
from architectonic.session.feeds.sources import TakingDocument, takers
from architectonic.session.model import measuring
from architectonic.session.model.facts import Facts

STATES = ("failing", "missing", "conflict", "out of rule", "updating")


class RightSide(QWidget):
    """Both panels.

    Signals:
        opened (str): a document was chosen.
        constraint_chosen (str): a constraint was chosen.
        measurement_chosen (str): a kept measurement was chosen.
    """

    opened = pyqtSignal(str)
    constraint_chosen = pyqtSignal(str)
    measurement_chosen = pyqtSignal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.desk = desk
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(12, 8, 12, 8)
        self._layout.setSpacing(4)
        self._content: Any = None
        self._body: QWidget | None = None
        refresh = soon(self, self.refresh)
        for signal in (
            desk.family_changed,
            desk.main.changed,
            desk.evaluated,
            desk.main.selection_changed,
            desk.pictured,
            desk.answered,
        ):
            signal.connect(refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow family, evaluation and selection; nothing is rebuilt when nothing changed."""
        content = (
            takers(self.desk.family, self.desk.main.document_id),
            self._states(),
            self.facts(),
            self.desk.updating,
            self._seen(),
            self.listed(),
            self.measured(),
            self.stored(),
        )
        if content == self._content:
            return
        self._content = content
        if self._body is not None:
            self._layout.removeWidget(self._body)
            self._body.hide()
            self._body.deleteLater()
        self._body = self._build(*content[:3], content[-1])
        self._layout.addWidget(self._body)
        self._body.show()

    def _seen(self) -> tuple[Same, ...]:
        return tuple(Same(image) for image in self.desk.pictures.values())

    def _states(self) -> dict[str, str]:
        """Worst state of each document."""
        found: dict[str, str] = {}
        for item in reversed(self.desk.attention):
            found[item.document] = item.severity
        return found

    # --- widgets --------------------------------------------------------------------------------------

    def _taker(self, taker: TakingDocument, states: dict[str, str]) -> QHBoxLayout:
        """Picture, name and state of a document that takes from this one, and what it takes."""
        state = states.get(taker.document, "updating" if self.desk.updating else "current")
        line, words, head = QHBoxLayout(), QVBoxLayout(), QHBoxLayout()
        line.setSpacing(8)
        words.setSpacing(0)
        button = QPushButton(taker.name)
        button.setObjectName("flat")
        button.setStyleSheet("text-align: left; padding: 0 2px; font-weight: 600;")
        button.clicked.connect(lambda _=False, k=taker.document: self.opened.emit(k))
        head.addWidget(button, 1)
        head.addWidget(Mark(state if state in STATES else "current", True))
        note = _soft(f"{taker.takes}, in {counted(len(scopes.sizes(self.desk.family)), 'size')}")
        note.setContentsMargins(2, 0, 0, 0)
        words.addLayout(head)
        words.addWidget(note)
        line.addWidget(_picture(self.desk.pictures.get(taker.document), taker.kind), 0, Qt.AlignmentFlag.AlignTop)
        line.addLayout(words, 1)
        return line

    def facts(self) -> list[tuple[str, str]]:
        """Figures of what is picked, or of the document; until new ones come those of before stand."""
        before = self.desk.settled if self.desk.updating else None
        return Facts(self.desk.main.subject, self.desk.answers, before).rows()

    def stored(self) -> list[tuple[str, str]]:
        """The same figures as they are stored, while those of something that is being typed are shown; else nothing."""
        desk = self.desk
        if desk.previewed is None or desk.previewed is not desk.foresight.family or desk.settled is None:
            return []
        subject = replace(desk.main.subject, evaluation=desk.settled)
        return Facts(subject, lambda nodes: desk.answers(nodes, desk.family)).rows()

    def _build(
        self,
        driven: list[TakingDocument],
        states: dict[str, str],
        facts: list[tuple[str, str]],
        stored: list[tuple[str, str]],
    ) -> QWidget:
        body = QWidget()
        body.setObjectName("panel")
        rows = QVBoxLayout(body)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(3)
        document = self.desk.main.document
        word = document.kind if document else "document"
        rows.addLayout(_heading("Driven", f"what follows this {word}"))
        for taker in driven:
            rows.addLayout(self._taker(taker, states))
        if not driven:
            rows.addWidget(_soft("Nothing takes from this."))
        rule = QWidget()
        rule.setFixedHeight(13)
        rows.addWidget(rule)
        of = "of what is picked" if self.desk.main.picks else ""
        rows.addLayout(_heading("Facts", "with what is being typed" if stored else of))
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(3)
        for k, (label, figure) in enumerate(facts):
            if not figure:
                head = QLabel(label)
                head.setWordWrap(True)
                head.setStyleSheet("font-size: 12px; font-weight: 600; margin-top: 5px;")
                grid.addWidget(head, k, 0, 1, 2)
                continue
            left = QLabel(label)
            left.setObjectName("soft")
            old = stored[k][1] if len(stored) == len(facts) and stored[k][0] == label else figure
            value = QLabel(figure if old == figure else f"{old}\n→ {figure}")
            value.setStyleSheet("font-size: 12px;" if old == figure else f"font-size: 12px; color: {theme.PLUM_TEXT};")
            value.setAlignment(Qt.AlignmentFlag.AlignRight)
            value.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            grid.addWidget(left, k, 0)
            grid.addWidget(value, k, 1)
        rows.addLayout(grid)
        title, entries = self.listed()
        if not facts and not entries:
            drawn = any(isinstance(o, Sketch) for o in self.desk.main.build)
            curves = "Choose a curve of the sketch to see what holds it. " if drawn else ""
            rows.addWidget(_soft(curves + "Pick a face or an edge; Shift picks a second and measures between the two."))
        self._constraints(rows, title, entries)
        self._measured(rows)
        rows.addStretch(1)
        return body

    def measured(self) -> list[tuple[str, str, str, str]]:
        """Kept measurements: id, name, the figure in the shown size, and the figures of all sizes when they differ."""
        main, evaluation = self.desk.main, self.desk.evaluation
        document, found = main.document, []
        for m in document.measurements if isinstance(document, Model) and evaluation is not None else ():
            assert evaluation is not None and main.at is not None and document is not None
            values = {
                name: evaluation.value(Node("value", main.at._replace(configuration=row), m.id))
                for row, name in scopes.configurations(self.desk.family, document)
            }
            told = {n: "—" if v is None else measuring.figure(m.what, v) for n, v in values.items()}
            now = dict(scopes.configurations(self.desk.family, document)).get(main.at.configuration, "")
            others = (
                "   ".join(f"{n} {t}".replace(" ", "\u00a0") for n, t in told.items())
                if len(set(told.values())) > 1
                else ""
            )
            found.append((m.id, m.name, told.get(now, "—"), others))
        return found

    def _measured(self, rows: QVBoxLayout) -> None:
        entries = self.measured()
        if not entries:
            return
        gap = QWidget()
        gap.setFixedHeight(8)
        rows.addWidget(gap)
        rows.addLayout(_heading("Measured", "kept figures"))
        for key, name, now, others in entries:
            line = QHBoxLayout()
            link = QLabel(f'<a href="{key}" style="color: {theme.INK}; text-decoration: none;">{name}</a>')
            link.setToolTip("show what it is measured on; Delete takes it away")
            link.linkActivated.connect(self.measurement_chosen)
            chosen = key == self.desk.main.operation
            link.setStyleSheet(f"font-size: 12px; font-weight: {600 if chosen else 400};")
            value = QLabel(now)
            value.setStyleSheet("font-size: 12px;")
            line.addWidget(link, 1)
            line.addWidget(value)
            rows.addLayout(line)
            if others:
                rows.addWidget(_soft(others))

    def listed(self) -> tuple[str, list[tuple[str, str]]]:
        """A heading and constraints under it: those that disagree, else those of the chosen curves."""
        bad = self.disagreeing()
        if bad:
            return "These cannot all be true: change one, let it only read, or take it away", bad
        return "Why it is where it is", self.reasons()

    def _constraints(self, rows: QVBoxLayout, title: str, entries: list[tuple[str, str]]) -> None:
        """Constraints in words, each to be chosen and taken away."""
        if entries:
            head = QLabel(title)
            head.setWordWrap(True)
            head.setStyleSheet("font-size: 12px; font-weight: 600; margin-top: 5px;")
            rows.addWidget(head)
        for key, words in entries:
            line = QLabel(f'<a href="{key}" style="color: {theme.INK}; text-decoration: none;">•&nbsp; {words}</a>')
            line.setWordWrap(True)
            line.setStyleSheet("font-size: 12px; padding: 1px 2px;")
            line.setToolTip("choose it: its curves are lit, Delete takes it away")
            line.linkActivated.connect(self.constraint_chosen)
            rows.addWidget(line)

    def disagreeing(self) -> list[tuple[str, str]]:
        """Constraints of the shown document's sketches that disagree: id and words."""
        main, found = self.desk.main, []
        for sketch in (o for o in main.build if isinstance(o, Sketch)):
            bad = main.subject.disagreeing(sketch.id)
            for c in sketch.constraints if bad else ():
                if c.id in bad and isinstance(main.document, Model):
                    where = " and ".join(place_words(sketch, p) for p in c.of)
                    words = constraint(self.desk.family, main.document, sketch, c, curve_of(c.of[0]))
                    found.append((c.id, f"{where}: {words}" if len(c.of) == 1 else words))
        return found

    def reasons(self) -> list[tuple[str, str]]:
        """Constraints of the chosen curves: id and words; of several curves each says which it belongs to."""
        main = self.desk.main
        document, found = main.document, dict[str, str]()
        for sketch in (o for o in main.build if isinstance(o, Sketch)):
            for place in main.curves:
                curve = curve_of(place)
                for c in sketch.constraints if curve in sketch.curves and isinstance(document, Model) else ():
                    if any(p == place or (not point_of(place) and curve_of(p) == curve) for p in c.of):
                        assert isinstance(document, Model)
                        words = constraint(self.desk.family, document, sketch, c, curve)
                        several = len({curve_of(p) for p in main.curves}) > 1
                        found.setdefault(c.id, f"{place_words(sketch, curve)} {words}" if several else words)
        return list(found.items())


def _picture(image: QImage | None, kind: str) -> QLabel:
    """A small picture in a frame; the sign of the kind until there is one."""
    made = QLabel()
    made.setFixedSize(58, 44)
    made.setStyleSheet("background: #FDFCF9; border: 1px solid #CFC8BA;")
    made.setAlignment(Qt.AlignmentFlag.AlignCenter)
    if image is not None:
        pixmap = QPixmap.fromImage(image)
        pixmap.setDevicePixelRatio(RATIO)
        made.setPixmap(pixmap)
    else:
        made.setPixmap(icon(kind).pixmap(16, 16))
    return made


def _heading(text: str, note: str) -> QHBoxLayout:
    line = QHBoxLayout()
    head = QLabel(text)
    head.setObjectName("heading")
    line.addWidget(head)
    line.addWidget(_soft(note), 1)
    return line


def _soft(text: str) -> QLabel:
    made = QLabel(text)
    made.setObjectName("soft")
    made.setWordWrap(True)
    return made
