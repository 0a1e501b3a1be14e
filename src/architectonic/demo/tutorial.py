"""The tutorial family: one table, one layout, a plate and the cover that fits it. Small enough to read whole."""

from __future__ import annotations

from pathlib import Path

from architectonic.api.opened import new
from architectonic.family.records import Family
from architectonic.propagate.evaluator import Evaluator
from architectonic.session.open.session import Session

SEED = 20260302


def tutorial() -> Family:
    """The whole family; the same ids every time."""
    with new("Tutorial", ("Small", "Large"), seed=SEED) as family:
        table = family.table("Numbers")
        table.parameter("length", "80 mm", note="of the plate", Large="120 mm")
        table.parameter("width", "50 mm", note="of the plate")
        table.parameter("wall", "2 mm", note="of the cover")
        table.parameter("clearance", "0.3 mm", note="between plate and cover")
        table.parameter("bolt_d", "5 mm", note="through both", Large="6 mm")
        table.rule("bolt leaves a rim", "4 * bolt_d <= width", "The bolt is too thick for the plate.")
        layout = family.layout("Plan")
        outline = layout.sketch("Outline", on="top")
        sides = outline.rectangle("Numbers.length", "Numbers.width", centred=True, names=("length", "width"))
        outline.circle(diameter="Numbers.bolt_d")
        pair = family.assembly("Pair")
        pair.take_whole(layout)
        for name, offset, thick in (
            ("Plate", "", "6 mm"),
            ("Cover", "Numbers.clearance + Numbers.wall", "3 mm"),
        ):
            part = pair.plan("part", name, "")
            own = part.sketch("Outline", on="top")
            own.trace(*sides, source=layout, offset=offset, side="outside", helper=bool(offset), name="Outline")
            part.extrude(make=name, regions=own.region(), far=thick, name=f"Push the {name.lower()}")
        return family.family


def write(folder: Path, evaluator: Evaluator | None = None, state_folder: Path | None = None) -> Session:
    """Write the tutorial family into a new folder.

    Raises:
        UserFault: the folder already holds something.
    """
    return Session.create(folder, tutorial(), evaluator, state_folder)
