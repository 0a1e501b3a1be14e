"""Driven: who takes from the shown document. Facts: figures of it and of what is picked. Attention lives in the pill."""

from __future__ import annotations

import math
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from architectonic.assembly.plans import weighed
from architectonic.describe.readings import figures
from architectonic.describe.results import ModelState, Node
from architectonic.describe.sentences import constraint, face_words, place_words
from architectonic.desktop import theme
from architectonic.desktop.signs import Mark, icon
from architectonic.desktop.soon import soon
from architectonic.desktop.sources import Taker, takers
from architectonic.desktop.thumbnails import RATIO
from architectonic.desktop.workbench import Workbench
from architectonic.family import scopes
from architectonic.family.records import Assembly, Layout, Model, Part, Sketch
from architectonic.quantities import units
from architectonic.session.picked import witness

STATES = ("failing", "missing", "conflict", "out of rule", "updating")


class RightSide(QWidget):
    """Both panels.

    Signals:
        opened (str): a document was chosen.
        constraint_chosen (str): a constraint was chosen.
    """

    opened = pyqtSignal(str)
    constraint_chosen = pyqtSignal(str)

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.bench = bench
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(12, 8, 12, 8)
        self._layout.setSpacing(4)
        self._content: Any = None
        self._body: QWidget | None = None
        refresh = soon(self, self.refresh)
        for signal in (
            bench.family_changed,
            bench.main.changed,
            bench.evaluated,
            bench.main.selection_changed,
            bench.pictured,
        ):
            signal.connect(refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow family, evaluation and selection; nothing is rebuilt when nothing changed."""
        content = (
            takers(self.bench.main),
            self._states(),
            self.facts(),
            self.bench.updating,
            self._seen(),
            self.listed(),
        )
        if content == self._content:
            return
        self._content = content
        if self._body is not None:
            self._layout.removeWidget(self._body)
            self._body.hide()
            self._body.deleteLater()
        self._body = self._build(*content[:3])
        self._layout.addWidget(self._body)
        self._body.show()

    def _seen(self) -> tuple[int, ...]:
        return tuple(id(image) for image in self.bench.pictures.values())

    def _states(self) -> dict[str, str]:
        """Worst state of each document."""
        found: dict[str, str] = {}
        for item in reversed(self.bench.attention):
            found[item.document] = item.severity
        return found

    def facts(self) -> list[tuple[str, str]]:
        """Label and figure of what is picked, else of the shown document; headings have no figure."""
        bench = self.bench
        at, evaluation = bench.main.at, bench.evaluation
        if at is None or evaluation is None:
            return []
        rows: list[tuple[str, str]] = []
        for kind, body, label in bench.main.picks:
            rows += self._pick(kind, body, label)
        if len(bench.main.picks) == 2:
            rows += self._between()
        rows += self._curves()
        document = bench.main.document
        if isinstance(document, (Layout, Part)):
            state = evaluation.value(Node("finished", *at, ""))
            for body, _ in state.bodies if isinstance(state, ModelState) else ():
                rows += self._body_facts(document, body)
        elif isinstance(document, Assembly):
            placed = evaluation.value(Node("assembly", *at, "")) or ()
            mass = weighed(placed)
            rows.append((document.name, ""))
            rows.append(("Instances", str(len(placed))))
            if mass is not None:
                rows.append(("Mass", f"{mass:.1f} g"))
            boxes = [p.box for p in placed if p.box]
            if boxes:
                size = [max(b[i + 3] for b in boxes) - min(b[i] for b in boxes) for i in range(3)]
                rows.append(("Box", " × ".join(f"{s:.1f}" for s in size)))
        return rows

    def _curves(self) -> list[tuple[str, str]]:
        """Sizes of the chosen curves of a sketch, of three at most."""
        main, rows = self.bench.main, []
        for sketch in (o for o in main.build if isinstance(o, Sketch)):
            solved = main.value("solve", sketch.id)
            for key in [k for k in main.curves if solved is not None and k in solved.curves][:3]:
                rows.append((place_words(sketch, key).capitalize(), ""))
                rows += [(word, units.shown(value, "mm", 2)) for word, value in figures(solved.curves[key])]
                if not any(p.split(".")[0] == key for c in sketch.constraints for p in c.of):
                    rows.append(("Nothing holds it yet", "·"))
        return rows

    def _body_facts(self, document: Model, body: str) -> list[tuple[str, str]]:
        at, evaluation = self.bench.main.at, self.bench.evaluation
        assert at is not None and evaluation is not None
        measured = evaluation.value(Node("measure", *at, body))
        seen = evaluation.family.documents[document.id]  # a preview names bodies that are not stored yet
        record = seen.bodies.get(body) if isinstance(seen, Model) else None
        rows = [(record.name if record else body, "")]
        if measured is None:
            return rows
        mass = evaluation.value(Node("mass", *at, body))
        box = measured["box_mm"]
        rows.append(("Volume", f"{measured['volume_mm3'] / 1000:.2f} cm³"))
        rows.append(("Mass", f"{mass:.1f} g" if mass is not None else "no density"))
        if record and record.material:
            rows.append(("Material", record.material))
        rows.append(("Box", " × ".join(f"{box[i + 3] - box[i]:.1f}" for i in range(3))))
        rows.append(("Faces", str(measured["faces"])))
        if mass is not None and any(b == f"{document.id}.{body}" for _, b, _ in self.bench.main.picks):
            share = mass / measured["volume_mm3"] / 1000
            for axis, value in zip("xyz", measured["inertia_mm5"], strict=False):
                rows.append((f"Inertia about {axis}", f"{share * value:.4g} kg·mm²"))
        return rows

    def _pick(self, kind: str, body: str, label: str) -> list[tuple[str, str]]:
        document = self.bench.family.documents.get(body.split(".")[0])
        rows = [(f"{kind.capitalize()}: {face_words(document, label)}", "")]
        mesh = self.bench.main.mesh(body)
        if mesh is None:
            return rows
        seen = witness(mesh, kind, label)
        if seen is None:
            return rows
        rows.append(("Kind", f"{seen.convex} {seen.kind}".strip()))
        if seen.normal:
            rows.append(("Normal", ", ".join(f"{c + 0.0:.3g}" for c in seen.normal)))
        if seen.size is not None:
            rows.append(
                ("Length, about", f"{seen.size:.2f} mm") if kind == "edge" else ("Area, about", f"{seen.size:.1f} mm²")
            )
        return rows

    def _between(self) -> list[tuple[str, str]]:
        """Distance of two picked planes when they are parallel, their angle when not."""
        planes = []
        for kind, body, label in self.bench.main.picks:
            mesh = self.bench.main.mesh(body)
            if kind == "face" and mesh is not None and label in mesh.faces:
                planes.append(mesh.planes[mesh.faces.index(label)])
        if len(planes) != 2 or None in planes:
            return []
        (p, n), (q, m) = planes
        dot = sum(a * b for a, b in zip(n, m, strict=True))
        if abs(abs(dot) - 1) < 1e-6:
            apart = abs(sum((b - a) * c for a, b, c in zip(p, q, n, strict=True)))
            return [("Between the two", f"{apart:.3f} mm")]
        return [("Between the two", f"{math.degrees(math.acos(max(-1.0, min(1.0, dot)))):.2f} deg")]

    # --- widgets --------------------------------------------------------------------------------------

    def _taker(self, taker: Taker, states: dict[str, str]) -> QHBoxLayout:
        """Picture, name and state of a document that takes from this one, and what it takes."""
        state = states.get(taker.document, "updating" if self.bench.updating else "current")
        line, words, head = QHBoxLayout(), QVBoxLayout(), QHBoxLayout()
        line.setSpacing(8)
        words.setSpacing(0)
        button = QPushButton(taker.name)
        button.setObjectName("flat")
        button.setStyleSheet("text-align: left; padding: 0 2px; font-weight: 600;")
        button.clicked.connect(lambda _=False, k=taker.document: self.opened.emit(k))
        head.addWidget(button, 1)
        head.addWidget(Mark(state if state in STATES else "current", True))
        note = _soft(f"{taker.takes}, in {len(scopes.sizes(self.bench.family))} sizes")
        note.setContentsMargins(2, 0, 0, 0)
        words.addLayout(head)
        words.addWidget(note)
        line.addWidget(_picture(self.bench.pictures.get(taker.document), taker.kind), 0, Qt.AlignmentFlag.AlignTop)
        line.addLayout(words, 1)
        return line

    def _build(self, driven: list[Taker], states: dict[str, str], facts: list[tuple[str, str]]) -> QWidget:
        body = QWidget()
        body.setObjectName("panel")
        rows = QVBoxLayout(body)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(3)
        document = self.bench.main.document
        word = document.kind if document else "document"
        rows.addLayout(_heading("Driven", f"what follows this {word}"))
        for taker in driven:
            rows.addLayout(self._taker(taker, states))
        if not driven:
            rows.addWidget(_soft("Nothing takes from this."))
        rule = QWidget()
        rule.setFixedHeight(13)
        rows.addWidget(rule)
        rows.addLayout(_heading("Facts", "of what is picked" if self.bench.main.picks else ""))
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
            value = QLabel(figure)
            value.setStyleSheet("font-size: 12px;")
            value.setAlignment(Qt.AlignmentFlag.AlignRight)
            value.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            grid.addWidget(left, k, 0)
            grid.addWidget(value, k, 1)
        rows.addLayout(grid)
        title, entries = self.listed()
        if not facts and not entries:
            drawn = any(isinstance(o, Sketch) for o in self.bench.main.build)
            curves = "Choose a curve of the sketch to see what holds it. " if drawn else ""
            rows.addWidget(_soft(curves + "Pick a face or an edge; Shift picks a second and measures between the two."))
        self._constraints(rows, title, entries)
        rows.addStretch(1)
        return body

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
        main, found = self.bench.main, []
        for sketch in (o for o in main.build if isinstance(o, Sketch)):
            bad = main.disagreeing(sketch.id)
            for c in sketch.constraints if bad else ():
                if c.id in bad and isinstance(main.document, Model):
                    where = " and ".join(place_words(sketch, p) for p in c.of)
                    words = constraint(self.bench.family, main.document, sketch, c, c.of[0].split(".")[0])
                    found.append((c.id, f"{where}: {words}" if len(c.of) == 1 else words))
        return found

    def reasons(self) -> list[tuple[str, str]]:
        """Constraints of the chosen curves: id and words."""
        main = self.bench.main
        document, found = main.document, []
        for sketch in (o for o in main.build if isinstance(o, Sketch)):
            for place in main.curves:
                curve = place.split(".")[0]
                for c in sketch.constraints if curve in sketch.curves and isinstance(document, Model) else ():
                    if any(p == place or ("." not in place and p.split(".")[0] == curve) for p in c.of):
                        assert isinstance(document, Model)
                        found.append((c.id, constraint(self.bench.family, document, sketch, c, curve)))
        return list(dict.fromkeys(found))


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
