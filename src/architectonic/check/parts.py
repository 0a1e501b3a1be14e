"""Parts lists: what an assembly is made of in one configuration and alternate, flat or as it is built up."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from architectonic.describe.assembly.extents import Extents
from architectonic.describe.assembly.plans import Placed
from architectonic.describe.results import ModelState, Node
from architectonic.family import edits
from architectonic.family.documents.part import Part, PartItem
from architectonic.family.records import AnyDocument, Assembly, Model, use_of
from architectonic.family.scopes import InPlace, Scope, alternate_name, configurations, said
from architectonic.propagate.evaluation import Evaluation


class PartLine(NamedTuple):
    """One line of a parts list.

    Attributes:
        at: what it lists; item: the part item of it, "" for all of it, or for what is in no item.
        depth: below how many assemblies and items it stands (0 in a flat list).
        number, material: "" where none is said; of several materials all of them.
        mass: of one piece as its part makes it, g, None when it is not known.
    """

    at: Scope
    depth: int
    number: str
    name: str
    configuration: str
    alternate: str
    material: str
    quantity: int
    mass: float | None
    item: str = ""
    note: str = ""
    finish: str = ""
    supply: str = ""


Listed = tuple[Scope, str]
"""What is placed: a scope, and the part item that alone is shown ("" for all of it)."""


def flat(evaluation: Evaluation, at: Scope) -> list[PartLine]:
    """Every part, or every item of those that have any, with the number of its pieces anywhere below, in the order in which
    they are met."""
    counts: dict[Listed, int] = {}
    for key in _uses(evaluation, at):
        counts[key] = counts.get(key, 0) + 1
    found: dict[Listed, PartLine] = {}
    for key, n in counts.items():
        for line in _lines(evaluation, key, 0, n, False):
            known = found.get((line.at, line.item))
            found[line.at, line.item] = line._replace(quantity=line.quantity + (known.quantity if known else 0))
    return list(found.values())


def nested(evaluation: Evaluation, at: Scope, depth: int = 0) -> list[PartLine]:
    """Parts and assemblies as they are placed, what an assembly holds below it, items of a part below it; like ones in one
    line."""
    counts: dict[Listed, int] = {}
    for placed in _placed(evaluation, at):
        key = (placed.at, placed.item)
        counts[key] = counts.get(key, 0) + 1
    found: list[PartLine] = []
    for key, quantity in counts.items():
        found += _lines(evaluation, key, depth, quantity, True)
        found += nested(evaluation, key[0], depth + 1)
    return found


def differences(before: list[PartLine], after: list[PartLine]) -> list[tuple[PartLine | None, PartLine | None]]:
    """Lines of two flat lists that differ: one side is None where a part is in the other list only."""
    old, new = ({(line.at, line.item): line for line in lines} for lines in (before, after))
    return [(old.get(k), new.get(k)) for k in dict.fromkeys([*old, *new]) if old.get(k) != new.get(k)]


def items_of(evaluation: Evaluation, at: Scope) -> list[PartLine]:
    """The items of a part in their order, those that stand under one below it."""
    document = evaluation.family.documents.get(at.document)
    lines = _lines(evaluation, (at, ""), 0, 1, True) if isinstance(document, Part) else ()
    return [line._replace(depth=line.depth - 1) for line in lines if line.item]


def _placed(evaluation: Evaluation, at: Scope) -> Iterator[Placed]:
    """What an assembly places itself."""
    yield from evaluation.value(Node("assembly", at, "")) or ()


def _uses(evaluation: Evaluation, at: Scope) -> Iterator[Listed]:
    """Uses of parts below an assembly."""
    for placed in _placed(evaluation, at):
        if isinstance(evaluation.family.documents[placed.at.document], Assembly):
            yield from _uses(evaluation, placed.at)
        else:
            yield placed.at, placed.item


def _lines(evaluation: Evaluation, of: Listed, depth: int, quantity: int, whole: bool) -> Iterator[PartLine]:
    """What is listed of a part or assembly: itself, and each of its items that has bodies.

    Args:
        whole: the part itself has a line above those of its items; otherwise one for what is in none of them, if there is any.
    """
    family, (at, only) = evaluation.family, of
    document = family.documents[at.document]
    items = document.part_items if isinstance(document, Part) else ()
    if isinstance(document, Part) and only:
        items = edits.below(document, only)
    held = {b for i in items for b in i.bodies}
    rest = [b for b in _bodies(evaluation, at) if b not in held]
    row = dict(configurations(family, document)).get(at.configuration, "")
    if not only and (whole or rest or not items):
        bodies = _bodies(evaluation, at) if whole else rest
        alternate = alternate_name(family, at)
        number, note, material = (said(family, at, f) for f in ("number", "note", "material"))
        materials, mass = material or _made_of(document, bodies), _mass(evaluation, at, bodies)
        yield PartLine(
            at, depth, number or document.number, document.name, row, alternate, materials, quantity, mass,
            note=note or document.note,
        )  # fmt: skip
        depth += bool(items) and whole
    for item, inside in _in_order(items):
        bodies = [b for b in item.bodies if b in _bodies(evaluation, at)]
        pieces = len(bodies) if item.apart else min(len(bodies), 1)
        if not pieces and not whole:
            continue  # a heading, or nothing of it is there in this configuration
        mass = _mass(evaluation, at, bodies)
        each = None if mass is None or not pieces else mass / pieces
        yield PartLine(
            at, depth + (inside if whole else 0), item.number, item.name, row, "", said(family, at, "material") or _made_of(document, bodies),
            quantity * pieces * item.quantity, each, item.id, item.note, item.finish, item.supply,
        )  # fmt: skip


def _in_order(items: tuple[PartItem, ...]) -> Iterator[tuple[PartItem, int]]:
    """Items with how deep they stand, those under one right below it."""
    known = {i.id for i in items}

    def below(within: str, depth: int) -> Iterator[tuple[PartItem, int]]:
        for item in items:
            if (item.within if item.within in known else "") == within:
                yield item, depth
                yield from below(item.id, depth + 1)

    yield from below("", 0)


def _bodies(evaluation: Evaluation, at: Scope) -> list[str]:
    """Bodies that a part has in a scope, those left out that are only seen."""
    document, state = evaluation.family.documents[at.document], evaluation.value(Node("finished", at, ""))
    known = document.bodies if isinstance(document, Model) else {}
    ids = [b.id for b in state.bodies] if isinstance(state, ModelState) else []
    return [b for b in ids if not (b in known and known[b].backdrop_only)]


def _made_of(document: AnyDocument, bodies: list[str]) -> str:
    known = document.bodies if isinstance(document, Model) else {}
    return ", ".join(dict.fromkeys(known[b].material for b in bodies if b in known and known[b].material))


def mass_of(evaluation: Evaluation, at: Scope) -> float | None:
    """What a part or an assembly weighs as it is, g; None where it is not known."""
    return _mass(evaluation, at, _bodies(evaluation, at))


def _mass(evaluation: Evaluation, at: Scope, bodies: list[str]) -> float | None:
    """Of bodies of a part together; of an assembly as it is worked on."""
    if isinstance(evaluation.family.documents[at.document], Assembly):
        extents = evaluation.value(Node("extents", at, ""))
        return extents.whole.mass if isinstance(extents, Extents) else None
    found = [evaluation.value(Node("mass", at, b)) for b in bodies]
    return None if None in found or not found else float(sum(found))


def way(evaluation: Evaluation, at: Scope, body: InPlace) -> str:
    """A body in place as people call it: `Head / Shade`, with its own name where a part has several."""
    family, names = evaluation.family, []
    for key in body.path:
        instances = getattr(family.documents[at.document], "instances", ())
        instance, number = use_of(key)
        names += [i.name + (f" {number + 1}" if number else "") for i in instances if i.id == instance]
        placed = evaluation.value(Node("placed", at, key))
        if placed is None:
            break
        at = placed.at
    part = family.documents[body.document]
    bodies = part.bodies if isinstance(part, Model) else {}
    return " / ".join([*names, *([bodies[body.body].name] if len(bodies) > 1 and body.body in bodies else [])])
