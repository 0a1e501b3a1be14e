"""Holes in words: the set behind a face or an open sentence, whether mating holes match, and where a hole was made."""

from __future__ import annotations

import math
from typing import NamedTuple

from architectonic.base.labels import made_by, plain
from architectonic.describe.operations.holes.mating import Mated
from architectonic.describe.results import HoleSet, HolesResult, ModelState, Node
from architectonic.family.operations.holes.hole import Hole
from architectonic.family.records import Family, Model
from architectonic.family.scopes import InPlace
from architectonic.quantities.units import shown
from architectonic.session.picking.subject import Subject

Rows = list[tuple[str, str]]
ROLES = frozenset(("wall", "sink", "seat", "flare", "ledge", "step", "floor", "point"))
FEW = 4
"""Directions of axes are told by a letter within so many digits."""


class WhereMade(NamedTuple):
    """Where a hole was made: ids of the document and of the operation."""

    document: str
    operation: str


def length(value: float) -> str:
    """A length in mm."""
    return shown(value, "mm", 3)


def of_face(subject: Subject, body: InPlace, label: str) -> tuple[HoleSet, str] | None:
    """The hole set that a face of a body carries, and the role of the face; None of a face of no hole."""
    if subject.evaluation is None:
        return None
    state = subject.evaluation.value(Node("finished", body.at, ""))
    known = next((b for b in state.bodies if b.id == body.body), None) if isinstance(state, ModelState) else None
    if known is None or not known.attributes:
        return None
    found = made_by(plain(label), frozenset(known.attributes), ROLES)
    return (known.attributes[found[0]], found[1]) if found is not None else None


def made_in(family: Family, operation: str) -> WhereMade | None:
    """The document whose operation made some holes."""
    for document in family.documents.values():
        if isinstance(document, Model) and any(o.id == operation and isinstance(o, Hole) for o in document.build):
            return WhereMade(document.id, operation)
    return None


def set_rows(holes: HoleSet) -> Rows:
    """What a hole set says, line by line."""
    rows = [("Hole", holes.standard or holes.purpose)]
    what, _, head = holes.made_for.partition(", ")
    rows += [("For", what)] if what else []
    rows += [("Head", head)] if head else []
    size = f"Ø{holes.diameter:.5g}" + (f" {holes.tolerance}" if holes.tolerance and not holes.thread else "")
    rows.append(("Size", size))
    if holes.limits is not None:
        rows.append(("Limits", f"{holes.limits[0]:.3f} … {holes.limits[1]:.3f} mm"))
    if holes.counterbore is not None:
        rows.append(("Sunk", f"Ø{holes.counterbore[0]:.4g}, {holes.counterbore[1]:.4g} deep"))
    if holes.countersink is not None:
        rows.append(("Countersunk", f"Ø{holes.countersink[0]:.4g}, {math.degrees(holes.countersink[1]):.4g}°"))
    if holes.step is not None:
        rows.append(("Then", f"Ø{holes.step[0]:.4g}, {holes.step[1]:.4g} deep"))
    rows.append(
        ("Depth", length(holes.depth) if holes.depth is not None else "through" if holes.through else "up to a face")
    )
    if holes.thread:
        rows.append(("Thread", f"{holes.thread} × {holes.pitch:.4g}" if "x" not in holes.thread else holes.thread))
        rows.append(("Thread depth", length(holes.thread_depth) if holes.thread_depth is not None else "all of it"))
        rows.append(("Hand, class", f"{holes.hand}, {holes.tolerance}"))
        rows += [("Modelled", "in pictures and files")] if holes.shown else []
    else:
        rows.append(("Thread", f"none, clears {holes.size}" if holes.purpose == "screw" else "none"))
    return rows


def face_rows(subject: Subject, body: InPlace, label: str) -> Rows:
    """The hole behind a picked face."""
    found = of_face(subject, body, label)
    if found is None:
        return []
    holes, _ = found
    made = made_in(subject.family, holes.operation)
    where = subject.family.documents[made.document].name if made is not None else ""
    return [*set_rows(holes), ("Made by", f"{holes.name} of {where}" if where else holes.name)]


def operation_rows(subject: Subject) -> Rows:
    """The hole set of the chosen operation or of an open sentence, and the mating one."""
    evaluation, chosen = subject.evaluation, subject.standing or subject.operation
    if evaluation is None or not chosen:
        return []
    holes = evaluation.value(Node("holes", subject.at, chosen))
    if not isinstance(holes, HolesResult):
        return []
    heading = "Hole set, before it is kept" if subject.standing else "Hole set"
    rows: Rows = [(heading, ""), *set_rows(holes.set)]
    rows.append(("Count", str(len(holes.places))))
    directions = {tuple(round(c, FEW) + 0.0 for c in p.frame.normal) for p in holes.places}
    if len(directions) == 1:
        rows.append(("Axis", axis_words(next(iter(directions)))))
    return rows + mating_rows(subject, chosen, holes)


def axis_words(d: tuple[float, ...]) -> str:
    """`+z`, or the three numbers."""
    for k, name in enumerate("xyz"):
        if abs(abs(d[k]) - 1) < 10**-FEW:
            return f"{'+' if d[k] > 0 else '−'}{name}"
    return ", ".join(f"{c:.3g}" for c in d)


def mating_rows(subject: Subject, operation: str, holes: HolesResult) -> Rows:
    """The fed set at whose places some holes stand, and whether the two go together."""
    found = subject.value("mating", operation)
    if holes.fed is None:
        return []
    fed = holes.fed
    made = made_in(subject.family, fed.operation)
    where = subject.family.documents[made.document].name if made is not None else fed.name
    rows: Rows = [(f"Mating holes of {where}", "")]
    if isinstance(found, Mated):
        rows.append(("They", "match" if not found.differences else "do not match"))
        rows += [("", d) for d in found.differences]
    rows.append(("There", f"{fed.thread}, {fed.hand} hand" if fed.thread else f"Ø{fed.diameter:.4g}"))
    if fed.thread:
        deep = fed.thread_depth if fed.thread_depth is not None else fed.depth
        rows.append(("Thread depth", length(deep) if deep is not None else "all of it"))
    return rows
