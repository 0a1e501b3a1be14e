"""Names that hold through holes, patterns, marks, opposite hands and bodies that are fed on. `python -m bench followers`"""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from itertools import count
from pathlib import Path
from typing import Any

from bench.naming import BASES, Base, Carried, Maker, Trial, Vector, ring

CROWNS = ("top", "crown", "wall top")
"""What the bases call the upper side of theirs that a text has room on."""


def drilled(m: Maker, base: Base, at: dict[str, Any]) -> None:
    """A counterbored hole at the free spot."""
    _hole(m, base, "drill")


def patterned(m: Maker, base: Base, at: dict[str, Any]) -> None:
    """A row of holes from the free spot, whose count follows the height."""
    from architectonic.family import names
    from architectonic.family.operations.patterns.pattern import PatternSteps, Row
    from architectonic.family.records import Reference
    from architectonic.session.model import building

    _hole(m, base, "drill")
    document = m.family.documents[m.key]
    members = names.bind_quantity(m.family, document, f"1 + floor(({base.top}) / 7 mm)", "number", "")
    row = Row(direction=Reference(item="x"), count=members, step=m.e("3.5 mm"))
    made = PatternSteps(id="row", name="row", acts_on=("b",), of=(Reference(item="drill"),), by=row)
    m.family = building.store(m.family, m.key, made)


def marked(m: Maker, base: Base, at: dict[str, Any]) -> None:
    """A text on the upper side."""
    from architectonic.family.operations.marks.engrave import Engrave, TextPiece, Words
    from architectonic.session.model import building

    by = Words(text=(TextPiece(text="A8"),), height=m.e("2 mm"))
    face = next(at[name] for name in CROWNS if name in at)
    made = Engrave(id="mark", name="mark", face=face, acts_on=("b",), depth=m.e("0.3 mm"), by=by)
    m.family = building.store(m.family, m.key, made)


def mirrored(m: Maker, base: Base, at: dict[str, Any]) -> Carried:
    """The opposite hand of the solid with a hole in it, in another part that is fed its body."""
    from architectonic.family.records import Reference
    from architectonic.session.product import opposing

    _hole(m, base, "drill")
    m.family, key = opposing.begin(m.family, m.key, "Other", Reference(item="right"), make_id=_ids())
    return Carried(key, _over)


def fed(m: Maker, base: Base, at: dict[str, Any]) -> Carried:
    """The body with a hole, brought into another part and moved there."""
    from architectonic.family import edits
    from architectonic.family.operations.bodies.move import Move, Shift
    from architectonic.family.scopes import Scope
    from architectonic.session.assembly import working
    from architectonic.session.model import building

    _hole(m, base, "drill")
    m.family, key = edits.add_document(m.family, "part", "Other")
    m.family, found = working.feed_bodies(m.family, key, Scope(m.key, ""), ["b"], make_id=_ids())
    x, y, z = (m.e(f"{s} mm") for s in (7, -3, 2))
    moved = Move(id="away", name="away", acts_on=tuple(found.values()), by=Shift(x=x, y=y, z=z))
    m.family = building.store(m.family, key, moved)
    return Carried(key, _back)


def _ids() -> Callable[[], str]:
    """The same ids in every list: labels of two lists are compared."""
    numbers = count()
    return lambda: f"n{next(numbers)}"


def _over(p: Vector) -> Vector:
    return (-p[0], p[1], p[2])


def _back(p: Vector) -> Vector:
    return (p[0] - 7, p[1] + 3, p[2] - 2)


def _hole(m: Maker, base: Base, key: str) -> None:
    from architectonic.family.operations.holes.hole import Hole, HolePlace, Plain, Stepped
    from architectonic.family.operations.solids.extrude import Distance
    from architectonic.family.records import Reference
    from architectonic.session.model import building

    (x, y), level = base.spot, m.level("lid", base.top)
    regions = m.sketch(level, ring(x, y, "1 mm"))
    circle = regions[0].label.lstrip("+-").split("/")[0]
    place = HolePlace(at=Reference(item=regions[0].item, label=circle))
    made = Hole(
        id=key, name=key, acts_on=("b",), places=(place,), by=Plain(diameter=m.e("1.5 mm")),
        counterbore=Stepped(diameter=m.e("3 mm"), depth=m.e("0.5 mm")), far=Distance(value=m.e(f"({base.top}) / 3")), flat=True,
    )  # fmt: skip
    m.family = building.store(m.family, m.key, made)


def followers() -> None:
    """The build lists of the naming bench with what details add to them."""
    with tempfile.TemporaryDirectory() as folder:
        trial = Trial(Path(folder))
        for name, base in BASES.items():
            for follower in (drilled, patterned, marked, mirrored, fed):
                trial.follow(name, base, follower)
        trial.engine.close()
    trial.tell("with holes, patterns, marks, opposite hands and fed bodies", "99.5 %")
