"""New datums: the sentence opens on the kind that fits what is chosen, or beside a plane that is pulled."""

from __future__ import annotations

from architectonic.base.errors import UserFault
from architectonic.desktop.sentences.blanks.fields import ListField, ValueField
from architectonic.desktop.sentences.card import SentenceCard
from architectonic.family.records import Datum, Reference
from architectonic.session.model import datums


def begin(card: SentenceCard, gives: str) -> None:
    """Open on a new datum of the kind that fits what is chosen: Plane, Axis or Point."""
    _begin(card, datums.fitting(card.desk.main.subject, gives))


def beside(card: SentenceCard, plane: str, distance: float) -> None:
    """Open on a copy of a datum plane at a distance, mm, as it is pulled."""
    if not (isinstance(card.record, Datum) and card.is_new and "by.distance" in card.blanks):
        if not _begin(card, "datum_offset"):
            return
    base, far = card.blanks["by.plane"], card.blanks["by.distance"]
    assert isinstance(base, ListField) and isinstance(far, ValueField)
    base.take(Reference(item=plane))
    far.field.setText(f"{distance:g} mm")
    card.name.setFocus()
    card.preview()


def _begin(card: SentenceCard, way: str) -> bool:
    """Whether a sentence of this way could be opened; else it is told why not."""
    try:
        card.start(datums.begun(card.desk.main.subject, way), True)
    except UserFault as fault:
        card.desk.told.emit(fault.sentence, True)
        return False
    return True
