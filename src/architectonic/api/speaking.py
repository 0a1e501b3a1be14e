"""Keywords into the blanks of sentences: what a script says is checked where it says it."""

from __future__ import annotations

import difflib
from collections.abc import Sequence
from typing import Any

import msgspec

from architectonic.api.protocols import Modelled
from architectonic.base.errors import UserFault
from architectonic.describe.models.operations import SENTENCES
from architectonic.describe.words.acting import DOES, Bodies, Does, End
from architectonic.describe.words.blanks import Blank, Choice, Copies, Flag, Quantity
from architectonic.describe.words.datums import DATUMS
from architectonic.describe.words.holes import LeftOut, Pair, Places, SizeOf
from architectonic.describe.words.marks import Lettering
from architectonic.describe.words.paths import SpringBack
from architectonic.describe.words.patterns import Condition, PlacesTable, Repeated
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.surfaces import PiecesBlank
from architectonic.describe.words.things import One, Picked, Walls
from architectonic.family import names
from architectonic.family.operations.holes.hole import HolePlace
from architectonic.family.records import STANDARD, BodyOperation, Datum, Reference, Sketch
from architectonic.session.model import building
from architectonic.session.open.whatif import find_configuration


def the_name(model: Modelled, thing: Any, blank: str) -> Reference:
    """What a thing means: a face, an edge, a region, a datum, a curve; or the name of a standard one, a datum or sketch.

    Raises:
        UserFault: it means nothing here.
    """
    if isinstance(thing, Reference):
        return thing
    found = getattr(thing, "reference", None)
    if isinstance(found, Reference):
        return found
    drawing = [o for o in model.model.build if isinstance(o, BodyOperation) and o.draws]
    drawn = next((o for o in drawing if o.name == thing or o.id == getattr(thing, "id", "")), None)
    if drawn is not None:
        return Reference(item=drawn.id)
    if isinstance(thing, str):
        if thing in STANDARD:
            return Reference(item=thing)
        record = next((o for o in model.model.build if o.name == thing and isinstance(o, (Datum, Sketch))), None)
        if record is not None:
            return Reference(item=record.id)
        known = [*STANDARD, *(o.name for o in model.model.build if isinstance(o, (Datum, Sketch)))]
        raise UserFault(f"there is no “{thing}” to take", blank, "there are " + ", ".join(known))
    raise UserFault(f"{thing!r} is nothing that can be taken", blank, "give a face, an edge, a datum or a name")


def several(thing: Any) -> list[Any]:
    """One thing or many, as many."""
    if isinstance(thing, Sequence) and not isinstance(thing, str):
        return list(thing)
    return [thing]


def keyword_of(blank: Blank) -> str:
    """What a blank is called in a call."""
    if isinstance(blank, Bodies) and blank.field == "acts_on" and not isinstance(blank, Does):
        return "bodies" if blank.several else "body"
    return blank.field.removeprefix("by.").replace("points.", "point")


def _check(kind: str, sentence: Sentence, blanks: dict[str, Any]) -> None:
    """Refuse keywords that no blank has."""
    known = [keyword_of(b) for b in sentence.blanks if not isinstance(b, Does)]
    known += list(DOES) if any(isinstance(b, Does) for b in sentence.blanks) else []
    for key in blanks:
        if key not in known:
            near = difflib.get_close_matches(key, known, 1, 0.5)
            told = f"did you mean {near[0]}? " if near else ""
            raise UserFault(f"{kind} has no blank “{key}”", "", f"{told}its blanks are {', '.join(known)}")


def _filled(model: Modelled, kind: str, blank: Blank, given: Any) -> dict[str, Any]:
    """Fields of the record for what is given for a blank."""
    family, document = model.opened.family, model.model
    called = f"{kind}, {keyword_of(blank)}"
    if isinstance(blank, Walls):
        faces, typed = given if isinstance(given, tuple) and len(given) == 2 else (given, blank.first)
        thickness = blank.typed(family, document, typed)
        return {blank.field: blank.stored(tuple(the_name(model, f, called) for f in several(faces)), thickness)}
    if isinstance(blank, (Places, LeftOut, Pair)):
        return {blank.field: of_holes(model, blank, given, called)}
    if isinstance(blank, Repeated):
        return {blank.field: tuple(_operation_said(model, thing, called) for thing in several(given))}
    if isinstance(blank, PlacesTable):
        return {blank.field: _table_said(model, blank, given, called)}
    if isinstance(blank, Picked):
        found = (the_name(model, thing, called) for thing in several(given))
        return {blank.field: tuple(blank.meant(model.model, r) for r in found)}
    if isinstance(blank, Bodies):
        return {blank.field: tuple(body_of(model, b, called) for b in several(given))}
    if isinstance(blank, (Copies, Flag)):
        if not isinstance(given, bool):
            raise UserFault(f"{given!r} is neither True nor False", called)
        return {blank.field: blank.stored(given, None)}
    if isinstance(blank, One):
        meant = the_name(model, given, called)
        whole = meant.item in document.bodies and not meant.label  # a body as this operation is given it
        return {blank.field: msgspec.structs.replace(meant, stage="here") if whole else meant}
    if isinstance(blank, End):
        try:
            return _end(model, blank, given, called)
        except UserFault as fault:
            raise UserFault(fault.what, fault.where or called, fault.mend) from None
    if not isinstance(given, str):
        unit = "mm" if isinstance(blank, Quantity) and blank.quantity == "length" else ""
        unit = "deg" if isinstance(blank, Quantity) and blank.quantity == "angle" else unit
        raise UserFault(
            f"{given!r} is no expression", called, f"write it as text, such as “{given} {unit}”".replace(" ”", "”")
        )
    assert isinstance(blank, (Quantity, Choice, SizeOf, Condition, Lettering, SpringBack))
    try:
        return {blank.field: blank.typed(family, document, given)}
    except UserFault as fault:
        raise UserFault(fault.what, called, fault.mend) from None


def of_holes(model: Modelled, blank: Places | LeftOut | Pair, given: Any, called: str) -> Any:
    """What a blank of holes or patterns is filled with: places, keys of members, a diameter and what goes with it.

    Raises:
        UserFault: it cannot be.
    """
    if isinstance(blank, Places):
        one = isinstance(given, tuple) and len(given) == 3 and isinstance(given[1], str)
        return tuple(_place_said(model, blank, thing, called) for thing in ([given] if one else several(given)))
    if isinstance(blank, LeftOut):
        found = [getattr(thing, "reference", thing) for thing in several(given)]
        return tuple(f.label if isinstance(f, Reference) else str(f) for f in found)
    if not (isinstance(given, tuple) and len(given) == 2 and all(isinstance(g, str) for g in given)):
        raise UserFault(
            f"{given!r} is no {' and '.join(blank.parts)}", called, f"write “{blank.first}”, “{blank.second}”"
        )
    return blank.both(model.opened.family, model.model, *given)


def _operation_said(model: Modelled, thing: Any, called: str) -> Reference:
    """An operation given by handle or name."""
    known = {o.id: o.name for o in model.model.build}
    key = getattr(thing, "id", None)
    found = key if key in known else next((k for k, name in known.items() if name == thing), None)
    if found is None:
        raise UserFault(f"there is no operation “{thing}”", called, "operations are " + ", ".join(known.values()))
    return Reference(item=found, stage="here")


def _table_said(model: Modelled, blank: PlacesTable, given: Any, called: str) -> Any:
    """A table of places: rows of texts, or one text."""
    typed = given if isinstance(given, str) else "; ".join(", ".join(several(row)) for row in given)
    try:
        return blank.rows(model.opened.family, model.model, typed, {}, model.opened.new_id)
    except UserFault as fault:
        raise UserFault(fault.what, called, fault.mend) from None


def _place_said(model: Modelled, blank: Places, thing: Any, called: str) -> HolePlace:
    """Where holes go in: a thing, or a plane or flat face and two texts for where in it."""
    if isinstance(thing, tuple):
        face, x, y = thing
        make_id = model.opened.new_id
        return blank.on_face(model.opened.family, model.model, the_name(model, face, called), x, y, make_id)
    return HolePlace(at=the_name(model, thing, called))


def _end(model: Modelled, blank: End, given: Any, called: str) -> dict[str, Any]:
    """An end: a length as text; through, next; a thing to end on, or that and an offset; both and a length."""
    family, document = model.opened.family, model.model
    signs = {sign for _, sign in blank.words if sign}
    if isinstance(given, (int, float)):
        raise UserFault(f"{given!r} is no expression", called, f"write it as text, such as “{given} mm”")
    if isinstance(given, str) and given in signs and given not in ("distance", "both"):
        return blank.stored(family, document, given, "")
    if isinstance(given, tuple) and len(given) == 2 and isinstance(given[1], str):
        chosen = given[0] if given[0] == "both" else the_name(model, given[0], called)
        return blank.stored(family, document, chosen, given[1])
    if isinstance(given, str) and given not in STANDARD and all(o.name != given for o in document.build):
        return blank.stored(family, document, "distance", given)
    return blank.stored(family, document, the_name(model, given, called), "")


def body_of(model: Modelled, thing: Any, called: str) -> str:
    """Id of a body given by handle or name."""
    known = model.model.bodies
    key = getattr(thing, "id", None)
    if isinstance(key, str) and key in known:
        return key
    found = next((k for k, b in known.items() if b.name == thing), None)
    if found is None:
        there = ", ".join(b.name for b in known.values()) or "none yet"
        raise UserFault(f"there is no body “{thing}”", called, f"bodies are {there}")
    return found


def operation_said(model: Modelled, kind: str, name: str, blanks: dict[str, Any]) -> tuple[BodyOperation, str]:
    """An operation as a call says it, and the name of the body that it makes.

    Raises:
        UserFault: something of it cannot be used; says which keyword.
    """
    if kind not in SENTENCES:
        near = difflib.get_close_matches(kind, list(SENTENCES), 1, 0.5)
        raise UserFault(f"there is no operation “{kind}”", model.name, f"did you mean {near[0]}?" if near else "")
    sentence = SENTENCES[kind][1]
    _check(kind, sentence, blanks)
    chosen: dict[str, Any] = {"name": name} if name else {}
    body_name = ""
    for blank in sentence.blanks:
        if isinstance(blank, Does):
            said = {verb: blanks[verb] for verb in DOES if verb in blanks}
            if len(said) > 1:
                raise UserFault(f"it can either {' or '.join(said)}", kind, "say one of them")
            for verb, given in said.items():
                if verb == "make":
                    body_name = str(given)
                    chosen |= {"does": "make", "acts_on": (model.opened.new_id(),)}
                else:
                    acted = tuple(body_of(model, b, f"{kind}, {verb}") for b in several(given))
                    chosen |= {"does": verb, "acts_on": acted}
            continue
        key = keyword_of(blank)
        if key in blanks and isinstance(blank, PiecesBlank):
            continue  # what decides on pieces needs them first: see api.trimming
        if key in blanks:
            chosen |= _filled(model, kind, blank, blanks[key])
        elif isinstance(blank, Picked) and not (blank.clause or blank.optional):
            raise UserFault(f"it needs {key}", kind, f"give {blank.accepts.says}")
    return building.new(kind, model.model, chosen, model.opened.new_id), body_name


def datum_said(model: Modelled, kind: str, name: str, blanks: dict[str, Any]) -> Datum:
    """A datum as a call says it."""
    sentence = DATUMS[kind]
    _check(kind, sentence, blanks)
    fields: dict[str, Any] = {}
    for blank in sentence.blanks:
        key = keyword_of(blank)
        if key in blanks:
            fields |= _filled(model, kind, blank, blanks[key])
        elif not blank.optional:
            if isinstance(blank, One):
                raise UserFault(f"it needs {key}", kind, f"give {blank.accepts.says}")
            fields |= blank.begin(model.model, model.opened.new_id)
    called = name or names.free_name(sentence.called, [o.name for o in model.model.build])
    return Datum(id=model.opened.new_id(), name=called, by=building.placed(sentence, fields))


def switch_said(model: Modelled, record: BodyOperation, off: Sequence[str]) -> BodyOperation:
    """The operation off in some sizes."""
    if isinstance(off, str):
        raise UserFault(f"off names several sizes, not the text “{off}”", record.name, f"write off=(“{off}”,)")
    own = {find_configuration(model.opened.family, model.id, size): False for size in off}
    return msgspec.structs.replace(record, switch=msgspec.structs.replace(record.switch, own=own)) if own else record
