"""Looking back: why a face is there, and putting lost references right."""

from __future__ import annotations

from collections.abc import Callable

from architectonic.base.labels import kind_of
from architectonic.describe.results import Node
from architectonic.describe.view import View
from architectonic.describe.words.blanks import counted
from architectonic.describe.words.sentences import face_words
from architectonic.desktop.body.picture import BodyPictures
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.pane.desk import Desk, shown_scope
from architectonic.desktop.sentences.feedcard import FeedCard
from architectonic.desktop.sentences.refeeding import Refeeding
from architectonic.family import edits, names
from architectonic.family.records import Model, Reference
from architectonic.family.walk import pointers_in
from architectonic.quantities import units
from architectonic.render.camera import BodyMesh, Camera, frame
from architectonic.render.palette import colour_of
from architectonic.session.model import mending
from architectonic.session.model.reasons import Reason, reasons
from architectonic.session.picking.picked import witness
from architectonic.session.picking.subject import Pick

WIDE, HIGH = 190, 120
"""Of each picture, in pixels."""
MOST = 3
"""Candidates that are listed for each lost reference."""


class LookBack:
    """Callbacks about where things come from."""

    def __init__(self, desk: Desk, cards: ListCard, feeds: FeedCard, go: Callable[[str, str], object]) -> None:
        self.desk, self.cards, self.go = desk, cards, go
        self.refeeding = Refeeding(desk, cards, feeds)
        self.pictures = BodyPictures()
        self._mending: tuple[str, str, dict[str, tuple[str, ...]]] | None = None  # title, operation, what is lost
        desk.answered.connect(self._paint_both)

    def actions(self) -> list[Action]:
        """The actions that look back at earlier states."""
        return [
            Action(
                "pick.why",
                "Why is this here…",
                self.why,
                self._has_pick,
                short="Why…",
                keys="Ctrl+Shift+W",
                tells="What decides this, down to the value.",
                wants="wants something picked",
            ),
            Action(
                "operation.mend",
                "Mend what it has lost…",
                self.mend,
                self.can_mend,
                short="Mend…",
                tells="What it lost, and what may be meant now.",
                wants="wants a row that lost something",
            ),
        ]

    def _has_pick(self) -> bool:
        return bool(self.desk.main.picks)

    def why(self) -> None:
        """List the chain behind what is picked; a row leads to its link, and the list stays, so that one can go on."""
        self.why_of(self.desk.main.picks[0], self.desk.main.document_id)

    def why_of(self, pick: Pick, shown: str, row: int = 0) -> None:
        """The chain behind a pick in the picture of a document; the first row leads back to it."""
        _, body, label = pick
        found = reasons(self.desk.family, body.document, label, self._figure)
        words = face_words(self.desk.family.documents.get(body.document), label)

        def back() -> None:
            self.desk.show(shown)
            self.desk.main.pick([pick])
            self.why_of(pick, shown)

        def leading(r: Reason, at: int) -> Callable[[], object]:
            def lead() -> None:
                self.go(r.document, r.item)
                self.why_of(pick, shown, at)

            return lead

        rows: list[tuple[tuple[str, ...], Callable[[], object]]] = [(("picked", words, ""), back)]
        for at, r in enumerate(found, 1):
            name = self.desk.family.documents[r.document].name
            rows.append(((f"{'   ' * r.depth}{r.relation}", r.words, name), leading(r, at)))
        self.cards.start(f"Why is this here: {words}", ("", "what", "in"), rows)
        self.cards.rows.setCurrentCell(row, 0)

    def _figure(self, document: str, item: str) -> str:
        """A value as it is shown in the size of now."""
        evaluation = self.desk.evaluation
        at = shown_scope(self.desk, document)
        value = evaluation.value(Node("value", at, item)) if evaluation is not None else None
        unit = names.unit_of(edits.value_item(self.desk.family, document, item)[2])
        return units.shown(value, unit, 3) if isinstance(value, (int, float)) else ""

    # --- mending --------------------------------------------------------------------------------------

    def _lost(self) -> dict[str, tuple[str, ...]]:
        main = self.desk.main
        if main.at is None or self.desk.evaluation is None or not main.operation:
            return {}
        return mending.lost_in(self.desk.evaluation, main.at, main.operation)

    def can_mend(self) -> bool:
        """Whether the chosen row or feed has lost something."""
        return bool(self._lost() or self.refeeding.lost())

    def mend(self) -> None:
        """Show each lost reference beside what it might have meant; those are lit in the canvas."""
        if self.refeeding.lost():
            self.refeeding.start()
            return
        main, lost, document = self.desk.main, self._lost(), self.desk.main.document
        assert isinstance(document, Model)
        name = next((o.name for o in main.build if o.id == main.operation), "")
        operation = main.operation
        rows = []
        for label, likely in lost.items():
            for number, other in enumerate(likely[:MOST] or ("",)):
                told = ("likeliest" if number == 0 else "also near") if other else "nothing like it is left"
                may = face_words(document, other) if other else ""
                words = (told, may, *self._place(document, other), face_words(document, label))
                take = (lambda old=label, new=other: self._take(operation, {old: new})) if other else None
                rows.append((words, take))
        first = {label: likely[0] for label, likely in lost.items() if likely}
        keys = [main.body(b) for b in document.bodies]
        seen = [
            (kind_of(k), b, k) for k in first.values() for b in keys if (m := main.mesh(b)) is not None and m.has(k)
        ]
        main.pick(seen)
        main.operation = operation
        main.selection_changed.emit()
        count = len(first)
        choices = [
            (f"Take the likeliest{f' of all {count}' if count > 1 else ''}", lambda: self._take(operation, first))
        ]
        told = f"{name} has lost {counted(len(lost), 'reference')}; what each may have meant is lit"
        self.cards.start(
            told, ("", "may be", "size", "middle at", "in place of"), rows, choices if first else [], "Leave it"
        )
        self._mending = (told, operation, lost)
        self._paint_both()

    def _paint_both(self) -> None:
        """What the references meant when it last worked, beside what they may mean now, seen from the same place."""
        if self._mending is None or self.desk.main.at is None:
            return
        title, operation, lost = self._mending
        if not self.cards.isVisible() or self.cards.title.text() != title:  # the card is asked something else by now
            self._mending = None
            return
        document, good = self.desk.main.document, self.desk.good.get(operation)
        if good is None or not isinstance(document, Model):
            return
        was = good.documents.get(document.id)
        if not isinstance(was, Model):
            return
        given = View(good).previous(Node("", self.desk.main.at, ""), operation)
        if given is None:
            return
        nodes = {b: Node("mesh", self.desk.main.at, b, given.item) for b in was.bodies}
        answers = self.desk.answers(nodes.values(), good)
        before: list[tuple[BodyMesh, str]] = [
            (BodyMesh.from_result(o.value), colour_of(was, b))
            for b, n in nodes.items()
            if (o := answers.get(n)) is not None and o.value
        ]
        now = [
            (m, colour_of(document, b))
            for b in document.bodies
            if (m := self.desk.main.mesh(self.desk.main.body(b))) is not None
        ]
        if not before or not now:
            return
        self._mending = None  # once is enough
        camera = frame(Camera(), [m.points for m, _ in (*before, *now)], WIDE / HIGH, 1.1)
        old = next((o for o in was.build if o.id == operation), None)
        meant = {p.label for p in pointers_in(old) if isinstance(p, Reference) and p.label}
        likeliest = {likely[0] for likely in lost.values() if likely}
        self.cards.show_pictures(
            [
                ("when it last worked", self.pictures.of(before, camera, WIDE, HIGH, meant)),
                ("now, the likeliest lit", self.pictures.of(now, camera, WIDE, HIGH, likeliest)),
            ]
        )

    def close(self) -> None:
        """Give graphics memory back."""
        self.pictures.close()

    def _place(self, document: Model, label: str) -> tuple[str, str]:
        """How large a candidate is, and where, as the picture shows it."""
        kind = "edge" if label.startswith("(") else "face"
        for body in document.bodies:
            mesh = self.desk.main.mesh(self.desk.main.body(body))
            seen = witness(mesh, kind, label) if mesh is not None else None
            if seen is not None and seen.size is not None:
                at = ", ".join(f"{c + 0.0:.4g}" for c in seen.at)
                return f"{seen.size:.4g} {'mm' if kind == 'edge' else 'mm²'}", at
        return "", ""

    def _take(self, operation: str, chosen: dict[str, str]) -> bool:
        desk, key = self.desk, self.desk.main.document_id
        evaluation = desk.evaluation
        assert evaluation is not None
        what = f"mend {counted(len(chosen), 'reference')}"
        return desk.apply(what, lambda f: mending.mend(f, evaluation, key, operation, chosen))
