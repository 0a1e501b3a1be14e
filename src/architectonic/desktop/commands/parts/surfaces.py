"""Surfaces and paths at hand: their edges with gaps and angles, which part takes which, and bend tables."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import pyqtBoundSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from architectonic.describe.measured import SeamSeen
from architectonic.describe.results import ModelState, Node
from architectonic.describe.space.leads import Led
from architectonic.describe.words.blanks import counted
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.body.looks.seams import LitSeam
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.family import edits
from architectonic.family.operations.surfaces.trim import Trim
from architectonic.family.records import Family, Model
from architectonic.family.scopes import InPlace, Scope
from architectonic.family.walk import surfaces_of
from architectonic.session.assembly import working
from architectonic.session.feeds import taking
from architectonic.session.feeds.taking import Built
from architectonic.session.model import pathing, trimming
from architectonic.session.model.trimming import Elsewhere
from architectonic.session.open import queries
from architectonic.session.picking.subject import Pick

SMOOTH = math.radians(0.1)
"""Faces that meet at less go over into each other (common practice for styled surfaces)."""


class SurfaceCommands:
    """Callbacks about surfaces and paths in space.

    Args:
        kept: tells that an operation was stored.
    """

    def __init__(
        self,
        desk: Desk,
        prompt: Prompt,
        cards: ListCard,
        canvas: BodyCanvas,
        window: QWidget,
        kept: pyqtBoundSignal,
    ) -> None:
        self.desk, self.prompt, self.cards, self.canvas, self.window = desk, prompt, cards, canvas, window
        kept.connect(self.offer_same)
        cards.ended.connect(lambda: canvas.opening.seams.show([]))

    def actions(self) -> list[Action]:
        """The actions about surfaces and paths."""
        return [
            Action("surface.take", "Bring in surfaces of a master…", self.ask_source, lambda: bool(self._sources()), short="From a master…", also=("master", "derive", "base part", "skeleton"), tells="Surfaces and bodies of another document, to build on; they follow it.", wants="wants a part, and a master"),
            Action("surface.edges", "Edges of surfaces: gaps and angles", self.edges, lambda: bool(self._surfaces()), short="Edges", also=("free edges", "gaps", "open edges", "tangency", "continuity"), tells="Free edges with the gaps between them, and how sharply faces meet.", wants="wants a surface"),
            Action("surface.uses", "Which part takes which surface", self.uses, self._drives, short="Who takes what", also=("master", "where used"), tells="Surfaces of this master against the parts: a click takes one or leaves it.", wants="wants a master with surfaces"),
            Action("path.table", "Save the bend table…", self.ask_table, lambda: self._led() is not None, short="Bend table…", also=("bending", "CSV", "developed length"), tells="Feed, turn and bend of every corner, as CSV.", wants="wants a chosen path in space"),
        ]  # fmt: skip

    # --- from a master --------------------------------------------------------------------------------

    def _sources(self) -> list[Model]:
        """Documents whose bodies the shown part can be built on: masters first."""
        document = self.desk.main.document
        if document is None or not document.makes_bodies:
            return []
        found = [d for d in self.desk.family.documents.values() if isinstance(d, Model) and d.makes_bodies]
        return sorted(
            (d for d in found if d.id != document.id and d.bodies), key=lambda d: (not surfaces_of(d), d.name)
        )

    def ask_source(self) -> None:
        """Ask which document, then which of its bodies."""
        sources = {d.name: d for d in self._sources()}
        self.prompt.ask(
            "Bring in surfaces of a master",
            [("of", list(sources))],
            lambda name: self._ask_bodies(sources[name]),
            "Go on",
        )

    def _ask_bodies(self, source: Model) -> bool:
        names = ", ".join(b.name for b in source.bodies.values())
        self.prompt.ask(
            f"Which of {source.name}? Take out what is not wanted",
            [("bodies", names)],
            partial(self.take, source),
            "Bring in",
        )
        return True

    def take(self, source: Model, typed: str) -> bool:
        """Bring bodies of a document in, by their names; in the size that is shown they are those of that size."""
        at, target = self.desk.main.at, self.desk.main.document
        known = {b.name.casefold(): k for k, b in source.bodies.items()}
        wanted = [w.strip() for w in typed.split(",") if w.strip()]
        unknown = next((w for w in wanted if w.casefold() not in known), None)
        if unknown is not None or not wanted or at is None or target is None:
            told = f"{source.name} has no “{unknown}”" if unknown else "No body is named"
            self.desk.told.emit(f"{told}; it has {', '.join(b.name for b in source.bodies.values())}.", True)
            return False
        keys = [known[w.casefold()] for w in wanted]
        seen = at._replace(document=source.id, alternate="")
        return self.desk.apply(
            f"bring in {', '.join(wanted)}", lambda f: working.feed_bodies(f, target.id, seen, keys)[0]
        )

    # --- edges ----------------------------------------------------------------------------------------

    def _surfaces(self) -> list[str]:
        """Surfaces of the shown document as it stands."""
        at, evaluation = self.desk.main.at, self.desk.settled
        state = evaluation.value(Node("finished", at, "")) if evaluation is not None and at is not None else None
        return [b.id for b in state.bodies if b.kind == "surface"] if isinstance(state, ModelState) else []

    def edges(self) -> None:
        """All edges of the shown surfaces, free ones first; going to a row picks it."""
        at, settled, document = self.desk.main.at, self.desk.settled, self.desk.main.document
        if at is None or settled is None or not isinstance(document, Model):
            return
        picked = {p.body.body for p in self.desk.main.picks}
        known = self._surfaces()
        bodies = [b for b in known if b in picked] or known
        found = queries.ask(settled.family, [Node("seams", at, b) for b in bodies])
        rows: list[tuple[tuple[str, ...], Callable[[], object]]] = []
        lit: list[LitSeam] = []
        free = 0
        unknown = []
        for body in bodies:
            seams = found.value(Node("seams", at, body))
            if seams is None:
                unknown.append(document.bodies[body].name)
            for seam in seams or ():
                free += seam.free
                words = (str(len(rows) + 1), document.bodies[body].name, *_words(seam))
                lit.append(LitSeam(len(rows) + 1, InPlace((), at, body), seam.label, seam.free))
                rows.append((words, partial(self._go, at, body, seam)))
        title = (
            f"{document.name}: {counted(free, 'free edge')}"
            if free
            else f"{document.name}: no free edge, its surfaces close"
        )
        if unknown:
            title = f"{document.name}: the edges of {', '.join(unknown)} are not known; see what needs attention"
        self.cards.start(title, ("", "surface", "edge", "length", "gap", "angle"), rows)
        self.canvas.opening.seams.show(lit)

    def _go(self, at: Scope, body: str, seam: SeamSeen) -> None:
        where = InPlace((), at, body)
        self.desk.main.pick([Pick("edge", where, label) for label in (seam.label, seam.beside) if label])

    # --- who takes what -------------------------------------------------------------------------------

    def _drives(self) -> bool:
        document = self.desk.main.document
        return isinstance(document, Model) and bool(surfaces_of(document))

    def uses(self) -> None:
        """A row for each part, those built from the shown master first, a column for each of its surfaces."""
        master = self.desk.main.document
        if not isinstance(master, Model):
            return
        surfaces = list(surfaces_of(master))
        known = taking.built_from(self.desk.family, master.id)
        rows = []
        for built in known:
            words = (
                self.desk.family.documents[built.document].name,
                *("●" if s in built.takes else "○" for s in surfaces),
            )
            rows.append((words, partial(self.desk.show, built.document)))

        def turn(row: int, column: int) -> None:
            self._turn(master.id, known[row], surfaces[column - 1])
            self.uses()
            self.cards.rows.setCurrentCell(row, column)

        used = sum(bool(b.takes) for b in known)
        title = f"{counted(used, 'document')} built from {master.name}; a click on a mark takes a surface or leaves it"
        self.cards.start(title, ("", *(master.bodies[s].name for s in surfaces)), rows, turn=turn)

    def _turn(self, master: str, built: Built, surface: str) -> None:
        """Take a surface, or leave it."""
        family = self.desk.family
        called, name = family.documents[built.document].name, edits.model(family, master).bodies[surface].name
        if surface in built.takes:
            self.desk.apply(f"{called} leaves {name}", lambda f: taking.leave(f, master, built.document, surface))
        else:
            self.desk.apply(f"{called} takes {name}", lambda f: taking.take(f, master, built.document, surface))

    def offer_same(self, operation: str) -> None:
        """A trim was kept: where the same piece waits in another part, offer to decide on it there.

        Of two parts on either side of one surface what the one keeps the other one drops.
        """
        at, family = self.desk.main.at, self.desk.family
        record = next((o for o in self.desk.main.build if o.id == operation), None)
        if at is None or not isinstance(record, Trim):
            return

        def done(found: list[Elsewhere]) -> None:
            if not found or self.desk.family is not family:
                return
            rows = [
                ((family.documents[e.document].name, e.same.name), partial(self.desk.show, e.document)) for e in found
            ]
            title = f"The same piece waits in {counted(len(found), 'other part')}"
            self.cards.start(
                title,
                ("part", "row"),
                rows,
                [
                    ("The same way there", partial(self._decide, {e.document: e.same for e in found})),
                    ("The other way there", partial(self._decide, {e.document: e.other for e in found})),
                ],
                "Leave it",
            )

        work = "The same piece in other parts"
        self.desk.work.run(work, lambda watch: trimming.same_elsewhere(family, at, record), done)

    def _decide(self, trims: dict[str, Trim]) -> None:
        def change(family: Family) -> Family:
            for document, trim in trims.items():
                family = edits.replace_operation(family, document, trim)
            return family

        self.desk.apply("the same piece in other parts", change)

    # --- bend tables ----------------------------------------------------------------------------------

    def _led(self) -> Led | None:
        evaluation, at = self.desk.settled, self.desk.main.at
        if evaluation is None or at is None or not self.desk.main.operation:
            return None
        return pathing.led_of(evaluation, at, self.desk.main.operation)

    def ask_table(self) -> None:
        """Ask for a file."""
        name = next((o.name for o in self.desk.main.build if o.id == self.desk.main.operation), "Path")
        file, _ = QFileDialog.getSaveFileName(self.window, "Save the bend table", f"{name}.csv", "CSV (*.csv)")
        if file:
            self.write_table(Path(file))

    def write_table(self, file: Path) -> bool:
        """Write the bend table of the chosen path."""
        led = self._led()
        if led is None:
            return False
        ok = self.desk.attempt(lambda: file.write_text(pathing.table_csv(led), "utf-8"))
        if ok:
            self.desk.told.emit(f"Wrote {file}", False)
        return ok


def _words(seam: SeamSeen) -> tuple[str, ...]:
    kind = "free" if seam.free else "smooth" if seam.angle < SMOOTH else "joined"
    gap = "" if seam.gap is None else f"{seam.gap:.3f} mm"
    return kind, f"{seam.length:.1f} mm", gap, "" if seam.free else f"{math.degrees(seam.angle):.2f}°"
