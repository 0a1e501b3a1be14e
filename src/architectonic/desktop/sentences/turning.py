"""Which way an extrusion goes while nobody has said so."""

from __future__ import annotations

from collections.abc import Mapping

from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sentences.blanks.fields import Field, FlagField
from architectonic.desktop.sentences.blanks.picks import DoesField
from architectonic.family.records import Reference
from architectonic.session.picking.directions import behind


class Turning:
    """Turns the open sentence of an extrusion to where the material or its end is; a person's choice stays.

    Args:
        blanks: those of the sentence, by field of the record.
    """

    def __init__(self, desk: Desk, blanks: Mapping[str, Field], is_new: bool) -> None:
        self.desk, self.blanks, self.is_new = desk, blanks, is_new
        self._turned_for: Reference | None = None
        self._turned = not is_new

    def into_material(self) -> None:
        """A new cut goes into the material, until a person says which way."""
        flip, does, regions = (self.blanks.get(k) for k in ("flip", "acts_on", "regions"))
        if not (self.is_new and isinstance(flip, FlagField) and isinstance(does, DoesField) and regions is not None):
            return
        if flip.by_hand or not regions.picked or "far" not in self.blanks:
            return
        cuts = does.verb.currentData() in ("cut", "overlap")
        wanted = cuts and behind(self.desk.main.subject, regions.picked[0], does.chosen(), self.desk.settled)
        if wanted != flip.button.isChecked():
            flip.turn(by_hand=False)

    def to_target(self, code: str) -> bool:
        """The end that was picked, or all material of a new hole, lies on the other side: turn round, once. Says whether it did.

        Args:
            code: that of the problem of the previewed operation.
        """
        flip, far = self.blanks.get("flip"), self.blanks.get("far")
        if code == "hole.beside" and isinstance(flip, FlagField) and not flip.by_hand and not self._turned:
            self._turned = True
            flip.turn(by_hand=False)
            return True
        if code != "extrude.length" or not isinstance(flip, FlagField) or far is None or not far.picked:
            return False
        if flip.by_hand or far.picked[0] == self._turned_for:
            return False
        self._turned_for = far.picked[0]
        flip.turn(by_hand=False)
        return True
