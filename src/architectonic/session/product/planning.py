"""The plan of a product: empty, named, numbered parts and assemblies as a tree, before there is any geometry.

A plan is nothing beside the family: its lines are instances, and what is planned is there to be built. New entries take
whole the layouts that the assembly above them takes, so that all stand in one frame.
"""

from __future__ import annotations

import re
from typing import Literal, NamedTuple

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.family import edits, names, scopes
from architectonic.family.records import (
    Assembly,
    Datum,
    Document,
    Family,
    FrameAt,
    Instance,
    Model,
    Part,
    Reference,
    Sketch,
)
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.assembly import surroundings
from architectonic.session.feeds import feeding
from architectonic.session.feeds.feeding import Offer

Kind = Literal["part", "assembly"]


class PlanLine(NamedTuple):
    """One line of a plan: an instance in an assembly, how deep it stands, and how far its document is."""

    assembly: str
    instance: str
    document: str
    depth: int
    name: str
    number: str
    kind: str
    takes: int
    progress: str


def lines(family: Family, top: str) -> list[PlanLine]:
    """The tree below an assembly, depth first; the assembly itself is not in it."""
    found: list[PlanLine] = []

    def below(key: str, depth: int) -> None:
        assembly = family.documents.get(key)
        for instance in assembly.instances if isinstance(assembly, Assembly) else ():
            source = family.documents.get(instance.document)
            if source is None:
                continue
            number, takes = source.number, taken(source)
            told = progress(family, source)
            found.append(PlanLine(key, instance.id, source.id, depth, source.name, number, source.kind, takes, told))
            below(source.id, depth + 1)

    below(top, 0)
    return found


def taken(document: Document) -> int:
    """How many things a document takes from others, layouts taken whole left out."""
    feeds = document.feeds.values() if isinstance(document, Model) else ()
    return sum(s.takes != "layout" for f in feeds for s in f.sockets.values())


def begun(document: Document) -> bool:
    """Whether there is anything in it yet."""
    return isinstance(document, Model) and bool(document.build or document.bodies)


def progress(family: Family, document: Document) -> str:
    """How far a document is, in a word: empty, planned, sketched, its bodies; of an assembly how many are begun."""
    if isinstance(document, Assembly):
        parts = [
            family.documents[u.at.document]
            for u in surroundings.placed_below(family, document, scopes.scope(family, document.id, ""))
        ]
        if not parts:
            return "empty"
        return f"{sum(begun(p) for p in parts)} of {len(parts)} begun"
    if isinstance(document, Model) and document.bodies:
        return "1 body" if len(document.bodies) == 1 else f"{len(document.bodies)} bodies"
    if isinstance(document, Model) and any(isinstance(o, Sketch) and o.curves for o in document.build):
        return "sketched"
    return "assigned" if taken(document) else "empty"


def next_number(family: Family, assembly: str) -> str:
    """The number after the last one in an assembly; below a numbered assembly its number with -01; "" without any."""
    found = edits.document(family, assembly)
    used = {d.number for d in family.documents.values()}
    siblings = [
        family.documents[i.document].number for i in getattr(found, "instances", ()) if i.document in family.documents
    ]
    last = next((n for n in reversed(siblings) if re.search(r"\d$", n)), f"{found.number}-00" if found.number else "")
    while last:
        head, digits = re.fullmatch(r"(.*?)(\d+)", last).groups()  # type: ignore[union-attr]
        last = f"{head}{int(digits) + 1:0{len(digits)}d}"
        if last not in used:
            return last
    return ""


def set_number(family: Family, document_id: str, number: str) -> Family:
    """Number a document.

    Raises:
        UserFault: another one has this number.
    """
    document = edits.document(family, document_id)
    number = " ".join(number.split())
    for other in family.documents.values():
        if number and other.id != document_id and other.number.casefold() == number.casefold():
            raise UserFault(f"{other.name} has the number {number}", document.name, "choose a different one")
    return edits.put(family, edits.replace(document, number=number))


def rename(family: Family, document_id: str, name: str) -> Family:
    """Rename a document, and its instances that are called like it.

    Raises:
        UserFault: the name is taken.
    """
    old = edits.document(family, document_id).name
    family = edits.rename_document(family, document_id, name)
    for key, d in family.documents.items():
        placed = d.instances if isinstance(d, Assembly) else ()
        for instance in placed:
            if instance.document == document_id and instance.name == old:
                taken = [i.name for i in placed if i.id != instance.id]
                family = edits.rename_item(family, key, instance.id, names.free_name(name, taken))
    return family


def add(
    family: Family,
    assembly: str,
    kind: Kind,
    name: str,
    number: str | None = None,
    before: str = "",
    make_id: IdSource = new_id,
) -> tuple[Family, str]:
    """An empty part or assembly, placed; it takes whole the layouts that the assembly takes.

    Args:
        number: None for the next one.
        before: the instance it stands before.

    Returns:
        The family, and the id of the new document.

    Raises:
        UserFault: the name or number is taken.
    """
    number = next_number(family, assembly) if number is None else number
    family, key = edits.add_document(family, kind, name, make_id)
    family = set_number(family, key, number)
    for layout in surroundings.frames_of(family, assembly):
        family = surroundings.take_whole(family, key, layout, make_id)
    family = edits.add_instance(family, assembly, key, new_id=make_id)
    instance = edits.document(family, assembly).instances[-1].id  # type: ignore[attr-defined]
    return (move(family, assembly, instance, assembly, before) if before else family), key


def move(family: Family, assembly: str, instance: str, to: str, before: str = "") -> Family:
    """Put an instance elsewhere in the tree.

    Raises:
        UserFault: an assembly would contain itself.
    """
    old, new = edits.document(family, assembly), edits.document(family, to)
    assert isinstance(old, Assembly) and isinstance(new, Assembly)
    moved = next(i for i in old.instances if i.id == instance)
    if moved.document == to or to in edits.contained(family, moved.document):
        raise UserFault(f"“{new.name}” stands below it", old.name, "move that one out first")
    rest = tuple(i for i in old.instances if i.id != instance)
    family = edits.put(family, edits.replace(old, instances=rest))
    target = edits.document(family, to)
    assert isinstance(target, Assembly)
    called = names.free_name(moved.name, [i.name for i in target.instances])
    at = next((k for k, i in enumerate(target.instances) if i.id == before), len(target.instances))
    placed = edits.replace(moved, name=called)
    return edits.put(family, edits.replace(target, instances=(*target.instances[:at], placed, *target.instances[at:])))


def as_assembly(family: Family, document_id: str) -> Family:
    """An empty part becomes an assembly of the same name and number.

    Raises:
        UserFault: it has bodies already.
    """
    part = edits.document(family, document_id)
    if isinstance(part, Assembly):
        return family
    if not isinstance(part, Part) or part.bodies:
        raise UserFault("it has bodies already", part.name, "make a new assembly beside it")
    made = Assembly(**{f: getattr(part, f) for f in Assembly.__struct_fields__ if hasattr(part, f)})
    return edits.put(family, made)


def indent(family: Family, assembly: str, instance: str) -> Family:
    """Put an instance into the one above it, which becomes an assembly when it is an empty part.

    Raises:
        UserFault: there is none above, or it has bodies.
    """
    found = edits.document(family, assembly)
    assert isinstance(found, Assembly)
    order = [i.id for i in found.instances]
    at = order.index(instance)
    if at == 0:
        raise UserFault("there is nothing above it to put it into", found.name, "move it down first")
    above = found.instances[at - 1].document
    family = as_assembly(family, above)
    return move(family, assembly, instance, above)


def outdent(family: Family, top: str, assembly: str, instance: str) -> Family:
    """Put an instance out, after the assembly that it stands in.

    Raises:
        UserFault: it stands at the top already.
    """
    for key, d in family.documents.items():
        found = d.instances if isinstance(d, Assembly) else ()
        holder = next((k for k, i in enumerate(found) if i.document == assembly), None)
        if holder is not None and assembly != top:
            before = found[holder + 1].id if holder + 1 < len(found) else ""
            return move(family, assembly, instance, key, before)
    raise UserFault("it stands at the top already", edits.document(family, top).name)


def shift(family: Family, assembly: str, instance: str, step: int) -> Family:
    """One place up or down among its siblings."""
    found = edits.document(family, assembly)
    assert isinstance(found, Assembly)
    rest = [i for i in found.instances if i.id != instance]
    at = next(k for k, i in enumerate(found.instances) if i.id == instance)
    moved: Instance = found.instances[at]
    new = min(max(at + step, 0), len(rest))
    return edits.put(family, edits.replace(found, instances=(*rest[:new], moved, *rest[new:])))


# --- a part started in place ------------------------------------------------------------------------------


class Start(NamedTuple):
    """Where a part begins: a plane of its own document, or a plane or point of a neighbour or layout.

    Attributes:
        own: a standard plane; "" when it is fed.
        at, offer: the scope and thing that is fed.
        part: which point of a fed curve, such as "end" or "centre".
        path: ids of the instances that lead to it in the assembly.
    """

    own: str = "top"
    at: Scope | None = None
    offer: Offer | None = None
    part: str = ""
    path: tuple[str, ...] = ()


def new_part_here(
    family: Family,
    evaluation: Evaluation,
    assembly: Scope,
    name: str,
    number: str | None,
    start: Start,
    point: Start | None = None,
    make_id: IdSource = new_id,
) -> tuple[Family, str, str]:
    """A part on the shared origin of an assembly, with a first sketch where it starts.

    What it starts on is a feed like any other: listed, with a state, and the only relation that arises.

    Args:
        start: the plane of its first sketch.
        point: where on that plane the sketch has its origin; None: at the shared one.

    Returns:
        The family, the part and its sketch.

    Raises:
        UserFault: the name or number is taken; what it starts on is not flat.
    """
    family, part = add(family, assembly.document, "part", name, number, make_id=make_id)
    at = Scope(part, assembly.configuration)
    family, plane = _fed(family, evaluation, at, assembly, start, make_id)
    if point is not None:
        family, origin = _fed(family, evaluation, at, assembly, point, make_id)
        datum = Datum(id=make_id(), name="Start", by=FrameAt(origin=origin, plane=plane))
        family, plane = edits.add_operation(family, part, datum), Reference(item=datum.id)
    own = start.own == "right" and start.offer is None and point is None
    along: Literal["x", "y"] = "y" if own else "x"
    sketch = Sketch(id=make_id(), name="Outline", plane=plane, along=along)
    return edits.add_operation(family, part, sketch), part, sketch.id


def _fed(
    family: Family, evaluation: Evaluation, at: Scope, assembly: Scope, start: Start, make_id: IdSource
) -> tuple[Family, Reference]:
    """What a part starts on, as its own document knows it: fed when it is another's."""
    if start.offer is None or start.at is None:
        return family, Reference(item=start.own)
    source = family.documents[start.at.document].name
    name = names.free_name(f"start on {source}", [f.name for f in edits.model(family, at.document).feeds.values()])
    context = surroundings.context_of(
        family, assembly.document, start.at.document, at.document, assembly.alternate, start.path
    )
    family = feeding.take(family, evaluation, at, start.at, [start.offer], name, context=context, make_id=make_id)
    feed = list(edits.model(family, at.document).feeds.values())[-1]
    return family, Reference(item=next(iter(feed.sockets)), label=start.part)
