"""Evaluation beside the event loop: the newest request wins, an older one is cancelled."""

from __future__ import annotations

import sys
import threading
import traceback
from importlib import import_module
from typing import Any, NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal

from architectonic.base.cancel import Cancelled, CancelToken
from architectonic.check.attention import Item, attention
from architectonic.check.impact import impact
from architectonic.describe.results import Node
from architectonic.desktop.pane.thumbnails import thumbnail
from architectonic.family.records import Family
from architectonic.family.walk import Same
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.evaluator import Evaluator, Pass
from architectonic.propagate.making import Waited
from architectonic.propagate.ports import LATER
from architectonic.propagate.targets import Look, all_scopes
from architectonic.propagate.whole import asked, evaluate_scopes

SMALL = 200
"""Of so many small pictures it is known what they show."""


class UpdateRequest(NamedTuple):
    """What the window asks for: a family, what is shown of it, the number of the request, and what is wanted small.

    Attributes:
        present: the stored family, while the other one only previews an open sentence; None when it is that itself.
        staying: what panes show of the present meanwhile.
    """

    family: Family
    shown: tuple[Look, ...]
    generation: int
    before: Evaluation | None = None
    small: tuple[Look, ...] = ()
    present: Family | None = None
    staying: tuple[Look, ...] = ()


class Settled(NamedTuple):
    """Everything is ready: the evaluation, what needs attention in it, and what changed since `before`."""

    evaluation: Evaluation
    attention: list[Item]
    impact: dict[str, Any] | None


class Updater(QObject):
    """Evaluates in a thread of its own.

    Signals:
        seen (Evaluation, int): what is shown is ready, with its generation; the rest goes on.
        kept (Evaluation, int): what panes show of the present while a preview is worked on.
        finished (Settled, int): everything is ready.
        counted (int, int): recipes done and at most to do.
        broke (str, int): a defect of the program ended the update; its traceback.
        pictured (Look, QImage): a small picture of a document.
        answered (Family, dict): outcomes of the nodes that were asked for on the side.
    """

    seen = pyqtSignal(object, int)
    kept = pyqtSignal(object, int)
    finished = pyqtSignal(object, int)
    counted = pyqtSignal(int, int)
    pictured = pyqtSignal(object, object)
    broke = pyqtSignal(str, int)
    answered = pyqtSignal(object, object)

    def __init__(self, evaluator: Evaluator) -> None:
        super().__init__()
        sys.setswitchinterval(0.001)  # the event loop gets its turn five times sooner than by default
        self._evaluator = evaluator
        self._wanted: UpdateRequest | None = None
        self._token = CancelToken()
        self._bell = threading.Condition()
        self._closed = False
        self._run: Pass | None = None
        self._questions: dict[Same, tuple[Family, tuple[Node, ...]]] = {}
        self._pictured: dict[Look, list[Any]] = {}
        self._thread = threading.Thread(target=self._work, daemon=True)
        self._thread.start()

    def want(self, wanted: UpdateRequest) -> None:
        """Ask for an evaluation; what is running for an older one stops."""
        with self._bell:
            self._wanted = wanted
            self._token.cancel()
            self._bell.notify()

    def ask(self, family: Family, nodes: tuple[Node, ...]) -> None:
        """Ask for a few nodes on the side, once nothing else is to do; of each family the last question is answered."""
        with self._bell:
            self._questions[Same(family)] = (family, nodes)
            self._bell.notify()

    def _answer(self, family: Family, nodes: tuple[Node, ...]) -> None:
        found = self._evaluator.evaluate(family, nodes)
        self.answered.emit(family, {n: found.outcomes[n] for n in nodes})

    def waited(self) -> Waited | None:
        """What the running update waits for; None for nothing."""
        run = self._run
        return run.making.waited() if run is not None else None

    def cancel(self) -> None:
        """Stop what is running; nothing is asked anew."""
        with self._bell:
            self._token.cancel()

    def close(self) -> None:
        """End the thread."""
        with self._bell:
            self._closed = True
            self._token.cancel()
            self._bell.notify()
        self._thread.join(timeout=5)

    def _picture(self, wanted: UpdateRequest, token: CancelToken) -> None:
        """Paint small pictures when all else is done; those of the same bodies are not painted again."""
        for look in wanted.small:
            seen = evaluate_scopes(self._evaluator, wanted.family, [look.at], (look,), token, urgency=LATER)
            content = [o.value for n, o in seen.outcomes.items() if n.what in ("mesh", "solve")]
            known = self._pictured.get(look, [])
            if len(known) != len(content) or any(a is not b for a, b in zip(known, content, strict=True)):
                self._pictured[look] = content
                while len(self._pictured) > SMALL:
                    self._pictured.pop(next(iter(self._pictured)))
                self.pictured.emit(look, thumbnail(seen, look))

    def _work(self) -> None:
        while True:
            with self._bell:
                while self._wanted is None and not self._questions and not self._closed:
                    self._bell.wait()
                if self._closed:
                    return
                wanted, self._wanted = self._wanted, None
                token = self._token = CancelToken()
                question = self._questions.pop(next(iter(self._questions))) if wanted is None else None
            try:
                if wanted is None:
                    assert question is not None
                    self._answer(*question)
                    continue
                first_ones = [k.at for k in wanted.shown]
                # the picture first, of what an open sentence makes a coarse one before; then the figures
                stages = (
                    ((True, False), (False, False), (False, True))
                    if wanted.present is not None
                    else ((False, False), (False, True))
                )
                run = self._run = self._evaluator.begin(wanted.family, token, self.counted.emit)
                for quick, measured in stages if wanted.shown else ():
                    seen = asked(run, first_ones, wanted.shown, measured, quick)
                    import_module("architectonic.render.scene")  # VTK, loaded here and not in the event loop
                    self.seen.emit(seen, wanted.generation)
                if wanted.present is not None and wanted.staying:
                    scopes = [k.at for k in wanted.staying]
                    stays = evaluate_scopes(self._evaluator, wanted.present, scopes, wanted.staying, token)
                    self.kept.emit(stays, wanted.generation)
                    run = self._run = self._evaluator.begin(wanted.family, token, self.counted.emit)
                run.making.urgency = LATER
                scopes = [*first_ones, *(s for s in all_scopes(wanted.family) if s not in first_ones)]
                whole = asked(run, scopes, wanted.shown)
                changed = impact(wanted.before, whole) if wanted.before is not None else None
                self.finished.emit(Settled(whole, attention(whole), changed), wanted.generation)
                self._picture(wanted, token)
            except Cancelled:
                continue
            except Exception as defect:  # a defect costs this update, not the thread
                self.broke.emit("".join(traceback.format_exception(defect)), wanted.generation if wanted else 0)
