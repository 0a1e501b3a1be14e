"""Joints and placement rules from what is picked: the places that they hold, and what is likely meant."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.labels import atoms, kind_of
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.assembly.posing import Mobility, Mounted, Posed, mounting
from architectonic.describe.results import Node, Outcome
from architectonic.describe.words.joining import WORDS
from architectonic.describe.words.sentences import face_words
from architectonic.family.records import STANDARD, Assembly, Bond, Datum, Family, Mounting, Reference, use_of
from architectonic.family.scopes import InPlace, Scope
from architectonic.family.walk import index
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.picking import picked
from architectonic.session.picking.subject import Pick, Subject


def mounting_of(subject: Subject, pick: Pick) -> Mounting:
    """A picked face, edge or vertex of something that is placed, as a place to hold by.

    Raises:
        UserFault: it belongs to no instance of the assembly, or only the assembly makes it.
    """
    own = {o.id for o in subject.build}
    if any(part.split(":")[0] in own for part in atoms(pick.label)):
        raise UserFault(
            "the assembly makes this itself, where its parts stand", pick.label, "pick something that a part makes"
        )
    if not pick.body.path:
        raise UserFault("this is not placed here", pick.body.body, "pick something of an instance")
    mesh = subject.mesh(pick.body, pick.label)
    found = picked.reference(mesh, pick.body.body, pick.kind, pick.label, "finished", pick.body.document)
    instance, number = use_of(pick.body.path[0])
    if number:
        raise UserFault("this is a repeated use, which follows the first", pick.body.body, "pick the first one")
    return Mounting(instance=instance, within=pick.body.path[1:], place=found)


def mountings(subject: Subject) -> list[Mounting]:
    """What is picked, one place for each instance, and the chosen datum of the assembly itself first; two at most."""
    chosen = next((o for o in subject.build if o.id == subject.operation and isinstance(o, Datum)), None)
    found = [Mounting(place=Reference(item=chosen.id))] if chosen is not None else []
    for pick in subject.picks:
        if pick.body.path:
            made = mounting_of(subject, pick)
            found = [m for m in found if (m.instance, m.within) != (made.instance, made.within)] + [made]
    return found[-2:]


def told(family: Family, document: Assembly, end: Mounting) -> str:
    """A place in words: `Arm tube, end of Draw the tube`."""
    names = [i.name for i in document.instances if i.id == end.instance] or ["this assembly"]
    source = family.documents.get(document.id if not end.instance else end.place.of)
    if end.place.item in STANDARD:
        return f"{names[0]}, its {end.place.item}"
    record = index(source).get(end.place.item) if source is not None else None
    if end.place.label and source is not None:
        kind = kind_of(end.place.label)
        words = face_words(source, end.place.label) if kind == "face" else ""
        return f"{names[0]}, {kind}{f' of {words}' if words else ''}"
    return f"{names[0]}, {getattr(record, 'name', 'a place that is gone')}"


def sentence(family: Family, document: Assembly, bond: Bond) -> str:
    """A joint or rule as a row says it: `Shoulder: Cheek L turns about Stem`."""

    def name(end: Mounting) -> str:
        return next((i.name for i in document.instances if i.id == end.instance), "the assembly")

    return f"{bond.name}: {name(bond.b)} {WORDS[bond.kind]} {name(bond.a)}"


def likely(ends: Sequence[Mounting], joint: bool) -> str:
    """The kind that is likely meant by two places: round ones turn or are coaxial, flat ones slide or lie against."""
    kinds = [e.place.witness.kind if e.place.witness is not None else "plane" for e in ends]
    if any(k == "vertex" for k in kinds):
        return "spherical" if joint else "point"
    if all(k in ("plane", "line") for k in kinds):
        return "planar" if joint else "against"
    return "revolute" if joint else "coaxial"


def kept_apart(at: Scope, seen: Evaluation, answers: Mapping[Node, Outcome], a: Mounting, b: Mounting) -> Rigid:
    """What has to be said of b's place so that a bond made now moves nothing: where a's place is, in what b shows, as it
    is turned from b's own.

    Args:
        seen: where instances stand; answers: what the nodes of `asked` came to.

    Raises:
        UserFault: one of them is no place to hold by.
    """
    frames = []
    for end in (a, b):
        node, stands = _where(at, seen, end)
        outcome = answers[node]
        if not isinstance(outcome.value, Mounted):
            told = outcome.problem.what if outcome.problem is not None else "this is no place to hold by"
            raise UserFault(told, "", "pick another face, edge or corner")
        frames.append((np.array(stands).reshape(4, 4), _matrix(outcome.value)))
    (ta, fa), (tb, fb) = frames
    made = np.linalg.inv(tb) @ ta @ fa @ np.linalg.inv(fb)
    return tuple(
        tolerance.length(float(c)) if k % 4 == 3 else tolerance.ratio(float(c)) for k, c in enumerate(made.reshape(-1))
    )


def _where(at: Scope, seen: Evaluation, end: Mounting) -> tuple[Node, Rigid]:
    """The node of a place, and where what it is on stands."""
    if not end.instance:
        return Node("mounted", at, "", mounting(end.place)), IDENTITY
    placed = seen.value(Node("placed", at, end.instance))
    if placed is None:
        raise UserFault("it is not known yet where these are", "", "wait a moment, then try again")
    place = end.others.get(placed.at.document, end.place)
    return Node("mounted", placed.at, "/".join(end.within), mounting(place)), placed.placement


def asked(at: Scope, seen: Evaluation, ends: Sequence[Mounting]) -> list[Node]:
    """What has to be known of places before a bond can hold them where they are."""
    return [_where(at, seen, end)[0] for end in ends]


def _matrix(place: Mounted) -> np.ndarray:
    axis, side = np.array(place.axis), np.array(place.side)
    found = np.eye(4)
    found[:3, 0], found[:3, 1], found[:3, 2], found[:3, 3] = side, np.cross(axis, side), axis, np.array(place.point)
    return found


def judged(evaluation: Evaluation | None, at: Scope, document: Assembly, bond: str) -> tuple[str, bool]:
    """What a bond comes to, in words, and whether it contradicts others: freedoms that are left, or that it says nothing new."""
    outcome = evaluation.outcomes.get(Node("posed", at, "")) if evaluation is not None else None
    if outcome is None:
        return "", False
    if outcome.problem is not None:
        return outcome.problem.what, outcome.problem.severity == "conflict"
    posed: Posed = outcome.value
    mobility = evaluation.value(Node("mobility", at, "")) if evaluation is not None else None
    if not isinstance(mobility, Mobility):
        return "", False
    left = "1 freedom is left" if mobility.freedoms == 1 else f"{mobility.freedoms or 'no'} freedoms are left"
    if bond in mobility.redundant:
        return f"It is so already and says nothing new; {left}.", False
    turned = [i.name for i in document.instances if i.id in posed.flipped]
    return f"{left.capitalize()}{f'; {turned[0]} is turned over for it' if turned else ''}.", False


def ends_in_place(document: Assembly, bond: Bond, evaluation: Evaluation | None, at: Scope) -> list[Pick]:
    """The faces and edges that a bond holds, as picks, so that both are lit."""
    found = []
    for end in (bond.a, bond.b):
        placed = evaluation.value(Node("placed", at, end.instance)) if evaluation is not None and end.instance else None
        if placed is not None and end.place.label and not end.within:
            found.append(
                Pick(kind_of(end.place.label), InPlace((end.instance,), placed.at, end.place.item), end.place.label)
            )
    return found
