"""What the window shows and does: the session, the shown document and configuration, the selection, evaluations."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.check.attention import Item
from architectonic.describe.models.documents import BY_WORD
from architectonic.describe.results import Node, Outcome
from architectonic.desktop.kit.defects import Defects
from architectonic.desktop.pane.answers import Answers
from architectonic.desktop.pane.foresight import Foresight
from architectonic.desktop.pane.longwork import LongWork
from architectonic.desktop.pane.pane import PRESENT, Pane
from architectonic.desktop.pane.updater import Settled, Updater, UpdateRequest
from architectonic.family import scopes
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look
from architectonic.session.feeds.sources import takers
from architectonic.session.open.engine import Engine
from architectonic.session.open.session import Session
from architectonic.session.open.whatif import looked_at


class Desk(QObject):
    """The state behind the window.

    Attributes:
        refusal, fault: why the last edit that was refused was.
        work: reading that may take long; defects: faults of the program.
        evaluation: of what is being looked at, a preview or the present; present: of the present; settled: the last one
            in which everything was ready.
        looked: what of the present is pictured in `present`; wanted: what it is asked for of the present meanwhile.
        good: by operation, the family in which it last worked.
        alternates: by assembly, the alternate that is shown of it; its first where none is said.
        main: the pane that the panels left and right speak of; beside: the second one, empty when folded.

    Signals:
        family_changed: after each edit, undo, redo or save.
        evaluated: a new evaluation is in `evaluation`.
        counted (int, int): work done and at most to do.
        pictured: a small picture is in `pictures`, by document.
        answered: what was asked for on the side is there (`answers`).
        told (str, bool): a sentence for the change strip, and whether it is a refusal; refused (UserFault): of an edit.
    """

    family_changed = pyqtSignal()
    evaluated = pyqtSignal()
    counted = pyqtSignal(int, int)
    told, refused = pyqtSignal(str, bool), pyqtSignal(object)
    pictured = pyqtSignal()
    answered = pyqtSignal()

    def __init__(self, session: Session, engine: Engine) -> None:
        super().__init__()
        self.engine = engine
        self.updater = Updater(engine.evaluator)
        self.updater.seen.connect(self._on_seen)
        self.updater.finished.connect(self._on_finished)
        self.updater.kept.connect(self._on_kept)
        self.updater.counted.connect(self.counted)
        self.updater.broke.connect(self._on_broke)
        self.updater.pictured.connect(self._on_pictured)
        self.work = LongWork(self.told.emit)
        self.defects = Defects(self)
        self._answers = Answers(self.updater, self.answered.emit)
        self.pictures: dict[str, QImage | None] = {}
        self.alternates: dict[str, str] = {}
        self.good: dict[str, Family] = {}
        self.generation = 0
        self.evaluation: Evaluation | None = None
        self.settled: Evaluation | None = None
        self.present: Evaluation | None = None
        self.looked: set[Look] = set()
        self.wanted: tuple[Look, ...] = ()
        self.before: Evaluation | None = None
        self.attention: list[Item] = []
        self._outside: list[Item] = []
        self.previewed: Family | None = None
        self.impact: dict[str, Any] | None = None
        self.updating = False
        self.main, self.beside = Pane(self), Pane(self)
        self._started = time.perf_counter()
        self.last_change = self.refusal = ""
        self.fault: UserFault | None = None
        self.seconds = 0.0
        self.foresight = Foresight(self, lambda e: looked_at(self.session, e), self.preview, lambda: self.previewed)
        self._open(session)

    def _open(self, session: Session) -> None:
        self.session = session
        session.listeners.append(self._on_family)
        first = next(iter(session.family.documents), "")
        parts = [d.id for d in session.family.documents.values() if d.holds_bodies]
        for pane in (self.main, self.beside):
            pane.show("")
            pane.clear()
        self.main.show(parts[0] if parts else first)
        self.size = scopes.sizes(session.family)[min(1, len(scopes.sizes(session.family)) - 1)].id

    def open(self, session: Session) -> None:
        """Show another family."""
        self.work.cancel()
        self.session.end()
        self.evaluation = self.settled = self.before = self.present = None
        self.attention, self._outside, self.impact = [], [], None
        self.last_change, self.previewed, self.alternates = "", None, {}
        self._open(session)
        self.family_changed.emit()
        self.main.changed.emit()
        self.beside.changed.emit()
        self.update()

    # --- what is shown --------------------------------------------------------------------------------

    @property
    def family(self) -> Family:
        """The present family."""
        return self.session.family

    def show(self, document_id: str = "", size: str = "", alternate: str = "") -> None:
        """Show another document in the main pane, everything in another configuration, or that document in an alternate."""
        if document_id:
            self.main.show(document_id)
            self.previewed = None
        if alternate:
            self.alternates[self.main.document_id] = alternate
        if size or alternate:
            self.size = size or self.size
            self.beside.changed.emit()
        self.main.changed.emit()
        self.update()

    def show_beside(self, document_id: str, operation: str = "") -> None:
        """Show a document in the second pane; "" folds it."""
        self.beside.show(document_id)
        self.beside.operation = operation
        self.beside.changed.emit()
        self.update()

    # --- edits ----------------------------------------------------------------------------------------

    def apply(self, label: str, edit: Callable[[Family], Family]) -> bool:
        """Carry out an edit; a refusal is told in the strip and changes nothing."""
        self.defects.begin(label)
        old, last, self.last_change = self.family, self.last_change, label  # who hears of the edit is told which it is
        try:
            self.before = self.before or self.settled
            self.session.apply(label, edit)
            if self.family is old:
                self.last_change = last
        except UserFault as fault:
            self.last_change, self.refusal, self.fault = last, fault.sentence, fault
            self.told.emit(fault.sentence, True)
            self.refused.emit(fault)
            return False
        return True

    def apply_aside(self, label: str, edit: Callable[[Family], Family], done: Callable[[bool], object]) -> None:
        """Carry out an edit that has to look at geometry for it, beside the event loop.

        Args:
            done: called in the event loop, once the edit is carried out, or was refused or cancelled.
        """
        base = self.family

        def carried(made: Family) -> None:
            # what was changed meanwhile stays: the edit is made once more, on what is there now
            done(self.apply(label, lambda f: made if f is base else edit(f)))

        def refused(fault: UserFault | None) -> None:
            self.refusal, self.fault = fault.sentence if fault else "Nothing was changed.", fault
            done(False)

        self.work.run(label[0].upper() + label[1:], lambda watch: edit(base), carried, refused)

    def preview(self, family: Family | None, evaluate: bool = True) -> None:
        """Evaluate a family without taking it; None goes back to the present one."""
        if family is None and self.previewed is None:
            return
        self.previewed = family
        if evaluate:
            self.update()

    def attempt(self, action: Callable[[], Any]) -> bool:
        """Run something that may fail on the machine or be refused; tells why."""
        try:
            action()
        except UserFault as fault:
            self.told.emit(fault.sentence, True)
            return False
        except EnvironmentFault as fault:
            self.told.emit(str(fault), True)
            return False
        return True

    def undo(self) -> None:
        """Take the last edit back."""
        self.before = self.before or self.settled
        if label := self.session.history.undo_label:
            self.last_change = f"undone: {label}"
            self.session.undo()

    def redo(self) -> None:
        """Bring an undone edit back."""
        self.before = self.before or self.settled
        if label := self.session.history.redo_label:
            self.last_change = label
            self.session.redo()

    def _on_family(self) -> None:
        self.previewed = None
        if self.main.document is None and self.family.documents:
            self.main.show(next(iter(self.family.documents)))
            self.main.changed.emit()
        if self.beside.document_id and self.beside.document is None:
            self.show_beside("")
        self.family_changed.emit()
        self.update()

    # --- evaluation -----------------------------------------------------------------------------------

    def update(self) -> None:
        """Ask for an evaluation of what is shown, then of everything."""
        self.generation += 1
        self.updating = True
        self._started = time.perf_counter()
        looks = tuple(k for k in (self.main.look, self.beside.look) if k is not None)
        looks += tuple(k for pane in (self.main, self.beside) for k in pane.behind() if k not in looks)
        stays = staying(self)
        self.wanted = looks if self.previewed is None else stays
        self.updater.want(
            UpdateRequest(
                self.previewed or self.family,
                looks,
                self.generation,
                compared(self),
                small(self),
                self.family if self.previewed is not None else None,
                stays,
            )
        )
        self.counted.emit(0, 0)

    def _on_pictured(self, look: Look, image: QImage | None) -> None:
        self.pictures[look.at.document] = image
        self.pictured.emit()

    def _on_seen(self, evaluation: Evaluation, generation: int) -> None:
        if generation == self.generation:
            self.evaluation = evaluation
            if self.previewed is None:
                self.present, self.looked = evaluation, set(self.wanted)
            self.evaluated.emit()

    def _on_kept(self, evaluation: Evaluation, generation: int) -> None:
        if generation == self.generation:
            # a request that was overtaken brings nothing: what it asked for is known only now
            self.present, self.looked = evaluation, set(self.wanted)
            self.evaluated.emit()

    def _on_finished(self, settled: Settled, generation: int) -> None:
        if generation != self.generation:
            return
        if self.previewed is not None:  # a preview is looked at, never reported as what is
            self.evaluation, self.updating = settled.evaluation, False
            self.evaluated.emit()
            if settled.impact is not None:
                self.foresight.known(settled.impact)
            return
        self.evaluation = self.settled = self.present = settled.evaluation
        self.looked = set(self.wanted)
        self._remember(settled.evaluation)
        self.attention = [*settled.attention, *self._outside]
        self.impact, self.before = settled.impact, None
        self.updating = False
        self.seconds = time.perf_counter() - self._started
        self.engine.pool.stand_by()  # once everything is current there is time for it
        self.evaluated.emit()

    def answers(self, nodes: Iterable[Node], of: Family | None = None) -> dict[Node, Outcome]:
        """Outcomes of a few nodes beside the evaluation; those that are missing are asked for and come later.

        Args:
            of: an older family; None for what is shown now.
        """
        return self._answers.of(of or self.previewed or self.family, nodes)

    def _remember(self, evaluation: Evaluation) -> None:
        """Note for every operation of the shown document which family it last worked in."""
        at = self.main.at
        for operation in self.main.build if at is not None else ():
            assert at is not None
            outcome = evaluation.outcomes.get(Node("state", at, operation.id))
            if outcome is not None and outcome.problem is None:
                self.good[operation.id] = evaluation.family

    def attend(self, outside: list[Item]) -> None:
        """What needs attention outside the family: files that it follows."""
        if outside != self._outside:
            self.attention = [i for i in self.attention if i not in self._outside] + outside
            self._outside = outside
            self.evaluated.emit()

    def _on_broke(self, trace: str, generation: int) -> None:
        """A defect: say so, and keep the pictures of before."""
        self.defects.note(trace, "Undo the last edit; what is shown is older.")
        if generation == self.generation:
            self.updating = False
            self.evaluated.emit()

    def cancel(self) -> None:
        """Stop the running update; the pictures stay those of before."""
        self.updater.cancel()
        self.updating = False
        self.told.emit("The update was cancelled; what is shown is older. Any edit starts it again.", True)
        self.evaluated.emit()

    def close(self) -> None:
        """End thread and processes."""
        self.session.end()
        self.work.cancel()
        self.updater.close()
        self.engine.close()


def shown_scope(desk: Desk, document_id: str) -> Scope:
    """A document in the configuration and alternate that are shown."""
    size = scopes.shown_as(desk.family, document_id, desk.size)
    return scopes.scope(desk.family, document_id, size, desk.alternates.get(document_id, ""))


def compared(desk: Desk) -> Evaluation | None:
    """What the evaluation is compared with when it is there; None for a sentence, which is only looked at."""
    if desk.previewed is None:
        return desk.before
    return desk.settled if desk.previewed is desk.foresight.family else None


def staying(desk: Desk) -> tuple[Look, ...]:
    """What panes show of the present while something else is previewed, where that is not known yet."""
    panes = [p for p in (desk.main, desk.beside) if p.variant == PRESENT and p.look is not None]
    if desk.previewed is None or not panes:
        return ()
    wanted = dict.fromkeys(k for p in panes for k in (p.look, *p.behind()) if k is not None)
    known = desk.present is not None and desk.present.family is desk.family
    return () if known and desk.looked >= wanted.keys() else tuple(wanted)


def small(desk: Desk) -> tuple[Look, ...]:
    """What the right side shows small: documents that take from the shown one."""
    if desk.previewed is not None:
        return ()
    found = takers(desk.family, desk.main.document_id)
    return tuple(Look(shown_scope(desk, t.document)) for t in found if BY_WORD[t.kind].pictured)
