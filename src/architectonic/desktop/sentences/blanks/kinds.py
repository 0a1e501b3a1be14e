"""Which field holds a blank, by the shape of the blank."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from architectonic.describe.words.blanks import Blank
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sentences.blanks.fields import EndField, Field, FlagField, ListField, NamedField, ValueField
from architectonic.desktop.sentences.blanks.holes import MembersField, PairField, PlacesField, SizeField
from architectonic.desktop.sentences.blanks.led import LedField
from architectonic.desktop.sentences.blanks.marks import LetteringField
from architectonic.desktop.sentences.blanks.picks import (
    BodiesField,
    DoesField,
    OfferedField,
    PickField,
    ToldField,
    WallsField,
)
from architectonic.desktop.sentences.blanks.pieces import PiecesField
from architectonic.desktop.sentences.blanks.repeating import RepeatedField, TableField

FIELDS: dict[str, type[Field]] = {
    "told": ToldField,
    "value": ValueField,
    "name": NamedField,
    "flag": FlagField,
    "list": ListField,
    "end": EndField,
    "picks": PickField,
    "offered": OfferedField,
    "walls": WallsField,
    "bodies": BodiesField,
    "does": DoesField,
    "places": PlacesField,
    "size": SizeField,
    "pair": PairField,
    "members": MembersField,
    "led": LedField,
    "pieces": PiecesField,
    "repeated": RepeatedField,
    "table": TableField,
    "text": LetteringField,
}
"""By the shape of a blank."""


def field_for(desk: Desk, blank: Blank, record: Any, value: Any, is_new: bool, changed: Callable[[], object]) -> Field:
    """What holds a blank, filled as the record has it."""
    return FIELDS[blank.shape](desk, blank, record, value, is_new, changed)
