"""The rows of Made of: operations under their stretches, instances of an assembly, rules of a table."""

from __future__ import annotations

from typing import NamedTuple

from architectonic.base.problem import Problem
from architectonic.base.rigid import IDENTITY
from architectonic.check import switched
from architectonic.describe.models.operations import sentence
from architectonic.describe.references.relations import Relations
from architectonic.describe.references.rule import words
from architectonic.describe.results import Checked, ModelState, Node, SketchResult
from architectonic.describe.words.sentences import target
from architectonic.family import names, scopes
from architectonic.family.hands import hands_of, shared_rows, shared_with
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import AnyOperation, Assembly, Family, Guard, Instance, Model, Rule, Sketch, Underlay
from architectonic.family.stretches import Stretch, stretches
from architectonic.quantities import units
from architectonic.render.palette import colour_of
from architectonic.session.joining.bonding import sentence as sentence_of
from architectonic.session.picking.subject import Subject


class Entry(NamedTuple):
    """A row: id, sentence, switch, dots by body, a figure at the right, and what is wrong.

    Attributes:
        upto: how many operations stand before the end of it, those that are folded into it included.
        folded: of the heading of a stretch, whether its operations are hidden; None of a row.
        inside: ids of the operations of the stretch that it heads.
    """

    id: str
    text: str
    on: bool | None
    dots: tuple[str, ...]
    note: str
    problem: Problem | None
    upto: int = 0
    folded: bool | None = None
    inside: tuple[str, ...] = ()

    @property
    def first(self) -> str:
        """The operation that it begins with."""
        return self.inside[0] if self.inside else self.id


class Column(NamedTuple):
    """A body: id, name, colour, and what is told of it when pointed at: bodies that it runs into, and of the same shape."""

    id: str
    name: str
    colour: str
    note: str
    overlaps: bool


def columns(subject: Subject) -> list[Column]:
    """The bodies of the shown model."""
    document = subject.document
    if not isinstance(document, Model):
        return []
    found = subject.value("relations", "")
    told: dict[str, list[str]] = {k: [] for k in document.bodies}
    crossing: set[str] = set()
    if isinstance(found, Relations):
        name = {k: b.name for k, b in document.bodies.items()}
        for a, b, volume in found.overlaps:
            if a in told and b in told:
                told[a].append(f"overlaps {name[b]} by {volume:.4g} mm³")
                told[b].append(f"overlaps {name[a]} by {volume:.4g} mm³")
                crossing |= {a, b}
        for own, other, mirrored in found.alike:
            if own in told and other in told:
                told[own].append(f"{'mirrors' if mirrored else 'has the shape of'} {name[other]}")
    return [
        Column(k, b.name, colour_of(document, k), "; ".join(told[k]), k in crossing) for k, b in document.bodies.items()
    ]


def entries(subject: Subject, folded: set[tuple[str, str]]) -> list[Entry]:
    """All rows; of folded stretches only the heading."""
    document = subject.document
    if isinstance(document, Assembly):
        return _operations(subject, document, folded) + _instances(subject, document) + _bonds(subject, document)
    if isinstance(document, Model):
        return _operations(subject, document, folded)
    return [_rule(subject, r) for r in document.checked] if document is not None else []


def _operations(subject: Subject, document: Model, folded: set[tuple[str, str]]) -> list[Entry]:
    hands = Handed(subject.family, document)
    rows = [hands.marked(_operation(subject, document, o, k)) for k, o in enumerate(document.build)]
    heads = {s.first: s for s in stretches(document.build)}
    found: list[Entry] = []
    k = 0
    while k < len(rows):
        if k not in heads:
            found.append(rows[k])
            k += 1
            continue
        stretch = heads[k]
        inside = rows[stretch.first : stretch.last + 1]
        closed = (document.id, stretch.name) in folded
        found.append(_heading(stretch, inside, closed))
        found += [] if closed else inside
        k = stretch.last + 1
    return found


class Handed:
    """What a document shares with its opposite hands."""

    def __init__(self, family: Family, document: Model) -> None:
        self._with = shared_with(family, document.id)
        pairs = [h for h in hands_of(family, document.id) if h.other == document.id]
        self._brings = {h.brings: shared_rows(family, h) for h in pairs}
        self._first = {h.brings: family.documents[h.first].name for h in pairs}

    def marked(self, entry: Entry) -> Entry:
        """A row with its mark when it is shared; the one that follows the first hand says what it shares."""
        if entry.id in self._brings:
            rows = self._brings[entry.id]
            told = ", ".join(o.name for o in rows)
            return entry._replace(text=f"{entry.text}, shared with {self._first[entry.id]}: {told}", note=SHARED)
        return entry._replace(note=f"{entry.note} {SHARED}".strip()) if entry.id in self._with else entry


def _heading(stretch: Stretch, inside: list[Entry], closed: bool) -> Entry:
    """The row that heads a stretch: it switches all of it; folded, it shows what is wrong inside and all dots."""
    problem = next((e.problem for e in inside if e.problem), None) if closed else None
    dots = [next((d for d in at if d), "") for at in zip(*(e.dots for e in inside if e.dots), strict=True)]
    upto = stretch.last + 1 if closed else stretch.first
    on = any(e.on for e in inside)
    note = f"{len(inside)} folded" if closed else ""
    ids = tuple(e.id for e in inside)
    return Entry(f"stretch:{ids[0]}", stretch.name, on, tuple(dots) if closed else (), note, problem, upto, closed, ids)


SHARED = "shared"
"""The mark of a row that an opposite hand shares."""
MOST = 2
"""Joints and rules that a row calls by their names."""


def _instances(subject: Subject, document: Assembly) -> list[Entry]:
    """What stands in each place in the shown alternate, and how."""
    found, extents = [], subject.value("extents", "")
    outcome = subject.evaluation.outcomes.get(Node("posed", subject.at, "")) if subject.evaluation is not None else None
    whole = outcome.problem if outcome is not None else None
    for instance in document.instances:
        _, filled = scopes.fill(subject.family, subject.at, instance)
        source = subject.family.documents.get(filled.document)
        mass = extents.of[instance.id].mass if extents is not None and instance.id in extents.of else None
        note = f"{mass:.1f} g" if mass is not None else ""
        if not filled.document:
            text = f"{instance.name}: nothing stands here"
        elif source is None:
            text = f"{instance.name}: its document is gone"
        else:
            filler = "" if source.name == instance.name else f" ({source.name})"
            text = f"{instance.name}{filler}, {_stands(subject, document, instance)}{_repeated(subject, document, instance)}"
        held = any(instance.id in (b.a.instance, b.b.instance) for b in document.bonds)
        problem = subject.problem("placed", instance.id) if filled.document else None
        problem = problem or (subject.problem("repeats", instance.id) if instance.repeats else None)
        if problem is None and held and whole is not None and not whole.candidates:
            problem = whole  # what contradicts is told at the joints and rules themselves
        found.append(Entry(instance.id, text, None, (), note, problem))
    return found


def _bonds(subject: Subject, document: Assembly) -> list[Entry]:
    """Joints and rules, with where they are and what is wrong with them."""
    found, evaluation = [], subject.evaluation
    posed = evaluation.outcomes.get(Node("posed", subject.at, "")) if evaluation is not None else None
    for bond in document.bonds:
        state = subject.value("joint", bond.id)
        note = (
            units.shown(getattr(state, bond.moves), names.unit_of(bond), 1) if bond.moves and state is not None else ""
        )
        problem = subject.problem("within", bond.id) or subject.problem("joint", bond.id)
        if problem is not None and problem.severity == "off":
            note, problem = "nothing to hold here", None
        elif problem is not None and problem.code.startswith("follows."):
            whole = posed.problem if posed is not None else None
            problem = whole if whole is not None and bond.id in whole.candidates else None
        found.append(Entry(bond.id, sentence_of(subject.family, document, bond), None, (), note, problem))
    return found


def _stands(subject: Subject, document: Assembly, instance: Instance) -> str:
    """How an instance comes to stand where it is in the shown alternate."""
    held = [b.name for b in document.bonds if instance.id in (b.a.instance, b.b.instance)]
    if instance.fixed:
        return "fixed"
    if held:
        return f"held by {' and '.join(held) if len(held) <= MOST else f'{len(held)} joints and rules'}"
    starts = scopes.starts(subject.family, subject.at, instance)[1]
    return "placed" if starts and starts != IDENTITY else "same origin"


def _repeated(subject: Subject, document: Assembly, instance: Instance) -> str:
    """How often it stands: `, × 4 about the z axis by 90 deg`."""
    said = ""
    for repeat in instance.repeats:
        count, step = (names.shown_text(subject.family, document, e) for e in (repeat.count, repeat.step))
        way = "about" if repeat.about else "along"
        said += f", × {count} {way} {target(subject.family, document, repeat.axis)} by {step}"
    return said


def _rule(subject: Subject, record: Rule | Guard) -> Entry:
    found = subject.value("rule", record.id)
    note, problem = "", None
    if isinstance(found, Checked):
        note = "holds" if found.holds else "does not hold"
        if not found.holds:
            problem = Problem(code="rule", what=words(record, found), severity="out of rule")
    name = f"Guard: {record.name}" if isinstance(record, Guard) else record.name
    return Entry(record.id, name, None, (), note, problem)


def _operation(subject: Subject, document: Model, operation: AnyOperation, place: int) -> Entry:
    at, evaluation = subject.at, subject.evaluation
    on = switched.is_on(subject.family, evaluation, at, operation)
    kinds: dict[type, str] = {Sketch: "solve", Underlay: "underlay"}
    what = "state" if isinstance(operation, BodyOperation) else kinds.get(type(operation), "frame")
    outcome = evaluation.outcomes.get(Node(what, at, operation.id)) if evaluation else None
    problem = outcome.problem if outcome and outcome.problem and outcome.problem.severity != "off" else None
    dots, note = [], ""
    if isinstance(operation, BodyOperation):
        made, changed = operation.makes, operation.changes
        dots = ["makes" if k in made else "acts" if k in changed else "" for k in document.bodies]
    elif isinstance(operation, Sketch) and outcome and isinstance(outcome.value, SketchResult):
        left = outcome.value.freedoms
        note = ("held" if not left else f"{left} free") if outcome.value.curves else "empty"
    if outcome and isinstance(outcome.value, ModelState) and outcome.value.status == "off":
        on = False
    text = sentence(subject.family, document, operation)
    return Entry(operation.id, text, on, tuple(dots), note, problem, place + 1)
