"""What drives a document: its sources, what is taken from each, and in which state."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

from architectonic.base.errors import UserFault
from architectonic.check.attention import Item, rules
from architectonic.describe.models.documents import kind_of
from architectonic.describe.references.rule import words
from architectonic.describe.results import Checked, Node
from architectonic.describe.words.blanks import counted
from architectonic.describe.words.taking import noun
from architectonic.family import edits, names, scopes
from architectonic.family.records import (
    SELF,
    Assembly,
    Document,
    Family,
    Feed,
    Fill,
    Guard,
    Measurement,
    Model,
    Rule,
    Socket,
    ValueRef,
)
from architectonic.family.walk import items, leads_to, pointers_in
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.open.session import Session
from architectonic.session.picking.subject import Subject

MANY = 60
"""Own values beyond which a document shows them on its canvas only."""


class SourceRow(NamedTuple):
    """One value: where it lives and what to call it."""

    document: str
    item: str
    name: str


class Fed(NamedTuple):
    """One feed: its id and name, what it takes, and its state."""

    feed: str
    name: str
    note: str
    state: str


class Group(NamedTuple):
    """One source: its sign, name and what is taken from it."""

    key: str
    kind: str
    name: str
    note: str
    state: str
    rows: tuple[SourceRow, ...]
    feeds: tuple[Fed, ...] = ()


def groups_of(subject: Subject, attention: Sequence[Item] = ()) -> list[Group]:
    """The sources of the shown document, other documents first, its own values last."""
    family, document = subject.family, subject.document
    if document is None:
        return []
    taken: dict[str, dict[str, SourceRow]] = {}
    feeds: dict[str, list[Fed]] = {}
    for p in (p for _, record in items(document) for p in pointers_in(record)):  # kept per record: few are new
        if isinstance(p, ValueRef) and p.document not in (SELF, document.id):
            taken.setdefault(p.document, {})[p.item] = SourceRow(p.document, p.item, _name(subject, p.document, p.item))
    for p in _driving(family, document) if isinstance(document, Assembly) else ():
        taken.setdefault(p.document, {})[p.item] = SourceRow(p.document, p.item, _name(subject, p.document, p.item))
    placed = _placed(document)
    for key in placed:
        taken.setdefault(key, {})
    if isinstance(document, Model):
        for key, feed in document.feeds.items():
            for of in dict.fromkeys(s.source.of for s in feed.sockets.values()):
                feeds.setdefault(of, []).append(Fed(key, feed.name, _kinds(feed, of), _state(subject, feed)))
                taken.setdefault(of, {})
    order = list(family.documents)
    found = []
    for key in sorted(taken, key=lambda k: order.index(k) if k in order else -1):
        source, rows, fed = family.documents.get(key), taken[key], tuple(feeds.get(key, ()))
        note = ", ".join(
            part
            for part in (
                f"placed {_times(placed[key])}" if placed.get(key) else "",
                counted(len(fed), "feed") if fed else "",
                counted(len(rows), "value") if rows else "",
            )
            if part
        )
        if source is None:
            found.append(Group(key, "part", "a document that is gone", note, "missing", (), fed))
        else:
            worst = "missing" if any(f.state == "missing" for f in fed) else "current"
            found.append(Group(key, source.kind, source.name, note, worst, tuple(rows.values()), fed))
    for key, link in document.links.items():
        told = [i.severity for i in attention if i.where == f"{document.name} / {link.name}"]
        state = "missing" if "missing" in told else "updating" if told else "current"
        note = "taken at once" if link.at_once else counted(len(link.rows), "value")
        file = Fed(key, Path(link.file).name, note, state)
        found.append(Group(key, "table", "Files", "", state, (), (file,)))
    if document.checked and kind_of(document).views[0] != "Values":  # a table is made of its rules
        held = tuple(_checked(subject, r) for r in document.checked)
        worst = "out of rule" if any(h.state != "current" for h in held) else "current"
        found.append(Group("rules", "rules", "Rules", counted(len(held), "rule"), worst, (), held))
    own = tuple(
        SourceRow(document.id, item.id, key)
        for key, item in names.values_of(document)
        if not isinstance(item, Measurement)
    )
    if own:
        word = f"{len(own)} of its own" + ("" if len(own) <= MANY else ", in the grid")
        shown_here = own if len(own) <= MANY else ()
        found.append(Group(document.id, document.kind, f"This {document.kind}", word, "current", shown_here))
    return found


def _driving(family: Family, assembly: Assembly) -> list[ValueRef]:
    """Values of other documents that decide something in what an assembly places, or in what that takes from."""
    found: list[ValueRef] = []
    waiting, seen = [i.document for i in assembly.instances], {assembly.id}
    while waiting:
        document = family.documents.get(waiting.pop())
        if document is None or document.id in seen:
            continue
        seen.add(document.id)
        for p in (p for _, record in items(document) for p in pointers_in(record)):
            of = leads_to(p)
            if of not in (SELF, document.id):
                waiting.append(of)
                found += [p] if isinstance(p, ValueRef) else []
    return list({(p.document, p.item): p for p in found}.values())


def _checked(subject: Subject, record: Rule | Guard) -> Fed:
    found = subject.value("rule", record.id)
    bad = isinstance(found, Checked) and not found.holds
    word = "guard" if isinstance(record, Guard) else ""
    return Fed(
        record.id, record.name, word or ("" if not bad else "does not hold"), "out of rule" if bad else "current"
    )


def out_of_rule(evaluation: Evaluation | None, size: str) -> dict[str, str]:
    """Values that decide a rule or guard which does not hold in a size: by item, what to say of it."""
    found: dict[str, str] = {}
    if evaluation is None:
        return found
    for node, record, checked in rules(evaluation):
        if checked is None or checked.holds or scopes.size_of(evaluation.family, node.at) != size:
            continue
        told, stack, seen = words(record, checked), [node], {node}
        while stack:
            for read, _ in evaluation.noted.get(stack.pop(), ()):
                if read.what == "value" and read not in seen:
                    seen.add(read)
                    stack.append(read)
                    found.setdefault(read.item, told)
    return found


def _kinds(feed: Feed, of: str) -> str:
    takes = [noun(s.takes, s.source.label) for s in feed.sockets.values() if s.source.of == of]
    return ", ".join(counted(takes.count(k), k) for k in dict.fromkeys(takes))


def _state(subject: Subject, feed: Feed) -> str:
    """live feeds are current, or missing when any of their sockets has lost its source in the shown configuration."""
    if feed.state != "live":
        return feed.state
    at, evaluation = subject.at, subject.evaluation
    for key in feed.sockets if evaluation is not None else ():
        assert evaluation is not None
        outcome = evaluation.outcomes.get(Node("socket", at, key))
        if outcome is not None and outcome.problem is not None and outcome.problem.severity != "off":
            return "missing"
    return "current"


def where(session: Session, document: str, item: str, key: str) -> str:
    """In which configurations an edited cell is seen: `all sizes`, `M only`, `S, M`."""
    seen = [s.configuration for s in session.shown_from(document, item, key)]
    rows = scopes.configurations(session.family, session.family.documents[document])
    told = [name for row, name in rows if row in seen]
    return "all sizes" if len(told) == len(rows) else f"{told[0]} only" if len(told) == 1 else ", ".join(told)


def reach(session: Session, document: str, item: str, key: str, name: str) -> str:
    """How far an edit of a value reaches, in one sentence."""
    documents, reached = session.reach(document, item, key)
    rows = {(s.document, s.configuration) for s in reached}
    others = sum(bool(s.alternate) for s in reached)
    counts = [counted(len(documents), "document"), counted(len(rows), "configuration")]
    counts += [counted(others, "alternate")] if others else []
    return f"{name}, {where(session, document, item, key)}: reaches {', '.join(counts)} ({', '.join(documents)})"


def _times(n: int) -> str:
    return {1: "once", 2: "twice"}.get(n, f"{n} times")


def _name(subject: Subject, document: str, item: str) -> str:
    try:
        return str(edits.value_item(subject.family, document, item)[2].name)
    except UserFault:
        return "a value that is gone"


class TakingDocument(NamedTuple):
    """A document that takes from the shown one, and what."""

    document: str
    name: str
    kind: str
    takes: str


def likely_source(family: Family, document_id: str) -> str:
    """The document that the next thing is probably taken from; "" when there is no other that has anything to take.

    What it took from last, else a layout, else the part that was made last.
    """
    document = family.documents.get(document_id)
    feeds = document.feeds.values() if isinstance(document, Model) else ()
    taken = [s.source.of for f in feeds for s in f.sockets.values()]
    others = [d for d in family.documents.values() if isinstance(d, Model) and d.id != document_id and d.build]
    drawn = [d.id for d in others if kind_of(d).drawn]
    found = [k for k in reversed(taken) if k in {d.id for d in others}] + drawn + [d.id for d in reversed(others)]
    return next(iter(found), "")


def _placed(document: Document) -> dict[str, int]:
    """How many instances each document may fill, by its id."""
    found: dict[str, int] = {}
    for instance in getattr(document, "instances", ()):
        for key in {p.document for p in pointers_in(instance) if isinstance(p, Fill)}:
            found[key] = found.get(key, 0) + 1
    return found


def takers(family: Family, document_id: str) -> list[TakingDocument]:
    """Who takes from a document, and what: `1 region, 2 curves, 3 values`."""
    found = []
    for other in family.documents.values():
        if other.id == document_id:
            continue
        words: dict[str, set[str]] = {}
        for key, record in items(other):
            for p in () if isinstance(record, Feed) else pointers_in(record):  # its sockets follow
                of = leads_to(p)
                if of != document_id:
                    continue
                if isinstance(p, Fill):
                    words.setdefault("instance", set()).add(key)
                elif isinstance(p, ValueRef):
                    words.setdefault("value", set()).add(p.item)
                else:
                    words.setdefault(
                        noun(record.takes, record.source.label) if isinstance(record, Socket) else "reference", set()
                    ).add(key)
        if words:
            told = ", ".join(counted(len(things), word) for word, things in words.items())
            found.append(TakingDocument(other.id, other.name, other.kind, told))
    return found
