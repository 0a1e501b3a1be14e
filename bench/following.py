"""Names that hold through holes, patterns, marks, opposite hands, bodies that are fed on, and files that are read again.

`python -m bench followers reloads`
"""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from itertools import count
from pathlib import Path
from typing import Any

from architectonic.describe.results import Node
from bench.naming import BASES, Base, Carried, Maker, Trial, Vector, picks, ring, verdict

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


def reloads() -> None:
    """The bases as a supplier's files that come in another state: what is the same keeps its name, the rest is missed by name."""
    import architectonic as a
    from architectonic.session.files import outside
    from architectonic.worker.shapes import stored

    with tempfile.TemporaryDirectory() as folder:
        trial = Trial(Path(folder) / "drawn")
        for name, base in BASES.items():
            file, drawn = Path(folder) / f"{name}.step", Maker(base.values)
            base.build(drawn)
            _write(file, trial.shape_of(drawn.family, drawn.key))
            with a.new("Reader", sizes=("M",), store=Path(folder) / "read") as reader:
                part = reader.part("Housing")
                (body,) = part.from_file(file, name="Supplied")

                def read(part: Any = part, key: str = body.id) -> Any:
                    state = part.evaluation().value(Node("finished", part.at, ""))
                    return stored(Path(folder) / "read", state.shape(key))

                wanted = picks(read(), base, base.values)
                for value in base.values:
                    for factor in (0.75, 1.5):
                        v = {**base.values, value: base.values[value] * factor}
                        changed = Maker(v)
                        base.build(changed)
                        shape = trial.shape_of(changed.family, changed.key)
                        if shape is None:
                            trial.told["no solid"] += 1
                            continue
                        _write(file, shape)
                        record = part.operation("Supplied").record
                        before, looked = outside.accepted(record), outside.look(file)
                        reader.edit(
                            "take",
                            lambda f, r=record, k=looked, b=before, p=part: outside.take(f, p.id, r.id, k, b),
                        )
                        after = read()
                        for pick in wanted:
                            came = verdict(after, pick, base, v)
                            trial.told[came] += 1
                            if came == "wrong":
                                trial.lost[f"wrong: {name}, {value} x {factor:g}, {pick.kind} {pick.name}"] += 1
                        reader.undo()
        trial.engine.close()
    trial.tell("files read again, what changed is missed", "all that stayed the same")


def _write(file: Path, shape: Any) -> None:
    from architectonic.kernel import step

    step.write(file, [step.Product("Part", (step.WrittenSolid("Part", shape),))])
