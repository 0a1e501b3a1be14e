"""Plays a joint through its range in the picture, one position after the other, and says what it came to."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QTimer

from architectonic.base.errors import UserFault
from architectonic.describe.assembly.posing import Mobility
from architectonic.describe.results import Node
from architectonic.desktop.pane.desk import Desk
from architectonic.family.records import Bond
from architectonic.family.scopes import Scope
from architectonic.session.assembly.posing import driven_to
from architectonic.session.joining.motion import JointMotion, MotionStill, span_of, steps
from architectonic.session.open.queries import ask

COUNT = 37
"""Positions from one end to the other."""
WHOLE = {"turn": 6.283185307179586, "slide": 100.0}
"""How far a joint without limits is played, rad or mm."""


class JointPlayer:
    """One play at a time; nothing is stored, and everything is where it was when it ends."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._way: list[float] = []
        self._stuck: list[float] = []
        self._grips: dict[float, float] = {}
        self._now: tuple[Scope, Bond, Callable[[float], str]] | None = None
        self._value = 0.0
        self._timer = QTimer(interval=30, timeout=self._next)  # type: ignore[call-arg]
        desk.family_changed.connect(self.stop)
        desk.main.changed.connect(self.stop)

    @property
    def playing(self) -> bool:
        """Whether it plays now."""
        return self._now is not None

    def start(self, at: Scope, bond: Bond, say: Callable[[float], str]) -> None:
        """Up, down, and back to where it is; a second call stops it."""
        if self.playing:
            self.stop()
            return
        evaluation = self.desk.settled
        if evaluation is None:
            return
        try:
            least, most = span_of(evaluation, at, bond.id, bond.moves, WHOLE[bond.moves])
            driven_to(self.desk.family, at, bond.id, bond.moves, least)
        except UserFault as fault:
            self.desk.told.emit(fault.sentence, True)
            return
        now = getattr(evaluation.value(Node("joint", at, bond.id)), bond.moves)
        values = steps(least, most, COUNT)
        up, down = [v for v in values if v > now], [v for v in values if v < now]
        self._way = [*up, *reversed(up), now, *reversed(down), *down, now]
        self._stuck, self._grips = [], {}
        self._now = (at, bond, say)
        self._timer.start()

    def stop(self) -> None:
        """Everything is where it was."""
        if self._now is None:
            return
        self._timer.stop()
        self._now = None
        self.desk.preview(None)

    def _next(self) -> None:
        if self._now is None:
            return
        at, bond, say = self._now
        if self.desk.updating and self.desk.previewed is not None:
            if self.desk.evaluation is None or self.desk.evaluation.family is not self.desk.previewed:
                return  # the picture of the last position is not there yet
        self._note(at)
        if not self._way:
            told = f"{bond.name} goes through its whole range"
            if self._stuck:
                told = f"{bond.name} cannot be brought to {say(self._stuck[0])}: nothing stands there"
            dead = self._dead()
            if dead:
                told += f"; it is at a dead centre near {' and '.join(say(v) for v in dead)}"
            self.stop()
            self.desk.told.emit(f"{told}. Everything is where it was.", bool(self._stuck))
            return
        self._value = self._way.pop(0)
        self.desk.preview(driven_to(self.desk.family, at, bond.id, bond.moves, self._value))
        self.desk.told.emit(f"{bond.name} {say(self._value)}", False)

    def _note(self, at: Scope) -> None:
        evaluation = self.desk.evaluation
        if self.desk.previewed is not None and evaluation is not None and evaluation.family is self.desk.previewed:
            outcome = evaluation.outcomes.get(Node("posed", at, ""))
            if outcome is not None and outcome.problem is not None:
                self._stuck.append(self._value)
            elif self._now is not None:
                node = Node("mobility", at, "")
                mobility = ask(self.desk.previewed, [node]).value(node)
                grip = mobility.grips.get(self._now[1].id, 1.0) if isinstance(mobility, Mobility) else 1.0
                self._grips[self._value] = grip

    def _dead(self) -> tuple[float, ...]:
        """Values next to which it was at a dead centre."""
        return JointMotion(tuple(MotionStill(v, "", {}, None, g) for v, g in sorted(self._grips.items()))).dead
