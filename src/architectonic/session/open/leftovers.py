"""Edits that sessions which live no more have left: taken into the open family, or put aside."""

from __future__ import annotations

from pathlib import Path

from architectonic.session.open import journal
from architectonic.session.open.journal import Left, TakenBack
from architectonic.session.open.session import Session

LABEL = "edits that were left"


def left(session: Session) -> list[Left]:
    """What other sessions of the family have left, the latest first."""
    own = session.journal
    return journal.left(own.state_folder, session.family, own.path) if own else []


def take(session: Session, found: Left) -> TakenBack:
    """Take edits that were left as one step that can be undone, in one window only; what others changed too stays as they have
    it, and the state that was left is put aside. Raises like `session.open.journal.alone`, `taken` and `put_aside`.
    """
    assert session.journal is not None
    with journal.alone(found):
        made = journal.taken(found, session.family)
        if made.refused:
            _put_aside(session, found)
        session.take_over(made.family, LABEL)
        if not session.journal.trouble:
            journal.drop(found)  # they are in this journal now
    return made


def put_aside(session: Session, found: Left) -> Path:
    """Keep edits that were left outside the family; raises like `session.open.journal.alone` and `put_aside`."""
    with journal.alone(found):
        return _put_aside(session, found)


def _put_aside(session: Session, found: Left) -> Path:
    assert session.journal is not None
    whole = None if found.damaged else journal.as_left(found, session.stored)
    return journal.put_aside(found, session.journal.state_folder, whole)
