"""Datums begun from what is chosen, and stored, several in steps at once."""

from __future__ import annotations

from typing import Any

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.base.places import ORIGIN, point_of
from architectonic.describe.words import candidates
from architectonic.describe.words.datums import DATUMS
from architectonic.describe.words.things import One
from architectonic.family import edits, names
from architectonic.family.placements import OffsetPlane
from architectonic.family.records import Datum, Expression, Family
from architectonic.session.model.building import placed
from architectonic.session.picking.subject import Subject


def fitting(subject: Subject, gives: str) -> str:
    """The way to place a plane, an axis or a point that what is chosen asks for."""
    lines = [p for p in subject.curves if not point_of(p)]
    faces = [p for p in subject.picks if p.kind == "face"]
    points = [p for p in subject.curves if point_of(p) or p == ORIGIN]
    if gives == "Plane":
        if len(points) == 3:
            return "datum_points"
        if len(faces) == 2:
            return "datum_mid"
        if faces and candidates.round_faces(subject):
            return "datum_tangent"
        return "datum_line" if lines or any(p.kind == "edge" for p in subject.picks) else "datum_offset"
    if gives == "Axis":
        return "datum_axis_points" if len(points) == 2 else "datum_axis_line"
    return "datum_point"


def begun(subject: Subject, way: str, make_id: IdSource = new_id) -> Datum:
    """A datum as its sentence begins: what is chosen comes first in what its blanks offer.

    Raises:
        UserFault: there is nothing yet that one of its blanks could take.
    """
    sentence = DATUMS[way]
    document = subject.document
    assert document is not None
    used: dict[type, int] = {}
    fields: dict[str, Any] = {}
    for blank in sentence.blanks:
        if not isinstance(blank, One):
            fields |= blank.begin(document, make_id)  # type: ignore[arg-type]
        elif not blank.optional:
            offered = blank.candidates(subject)
            nth = used.get(type(blank), 0)
            used[type(blank)] = nth + 1
            if not offered:
                raise UserFault(
                    f"there is no {blank.keyword} to take yet", sentence.title, f"pick {blank.accepts.says}"
                )
            fields[blank.field] = offered[min(nth, len(offered) - 1)][1]
    name = names.free_name(sentence.called, [o.name for o in subject.build])
    return Datum(id=make_id(), name=name, by=placed(sentence, fields))


def store(family: Family, document_id: str, datum: Datum, before: str = "", make_id: IdSource = new_id) -> Family:
    """Put a datum into the build list, or in the place of the one with its id; several names, parted by commas, make
    several, each a step further.

    Raises:
        UserFault: a name is taken, or several are asked for that cannot stand in steps.
    """
    document = edits.model(family, document_id)
    called = [n.strip() for n in datum.name.split(",") if n.strip()] or [""]
    if any(o.id == datum.id for o in document.build):
        others = [o.name for o in document.build if o.id != datum.id]
        names.check_name(datum.name.strip(), others, "datum")
        return edits.replace_operation(family, document_id, edits.replace(datum, name=datum.name.strip()))
    if len(called) > 1 and not isinstance(datum.by, OffsetPlane):
        raise UserFault("several at once are only made beside a plane", datum.name, "give one name")
    for step, name in enumerate(called, 1):
        by = datum.by
        if step > 1 and isinstance(by, OffsetPlane):
            further = Expression(text=f"{step} * ({by.distance.text})", refs=by.distance.refs)
            by = edits.replace(by, distance=further)
        made = edits.replace(datum, id=datum.id if step == 1 else make_id(), name=name, by=by)
        family = edits.add_operation(family, document_id, made, before)
    return family
