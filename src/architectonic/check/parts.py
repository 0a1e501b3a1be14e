"""Parts lists: what an assembly is made of in one configuration and alternate, flat or as it is built up."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from architectonic.describe.assembly.extents import Extents
from architectonic.describe.assembly.plans import Placed
from architectonic.describe.results import Node
from architectonic.family.records import Assembly, Family, Model
from architectonic.family.scopes import InPlace, Scope, alternate_name, configurations
from architectonic.propagate.evaluation import Evaluation


class PartLine(NamedTuple):
    """One line of a parts list.

    Attributes:
        at: what it lists; depth: below how many assemblies it stands (0 in a flat list).
        number, material: "" where none is said; of a part of several materials all of them.
        mass: of one piece, g, None when it is not known.
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


def flat(evaluation: Evaluation, at: Scope) -> list[PartLine]:
    """Every part with the number of its uses anywhere below, in the order in which they are met."""
    counts: dict[Scope, int] = {}
    masses: dict[Scope, float | None] = {}
    for placed, mass in _uses(evaluation, at):
        counts[placed.at] = counts.get(placed.at, 0) + 1
        masses[placed.at] = mass
    return [_line(evaluation.family, k, 0, n, masses[k]) for k, n in counts.items()]


def nested(evaluation: Evaluation, at: Scope, depth: int = 0) -> list[PartLine]:
    """Parts and assemblies as they are placed, what an assembly holds below it; like ones in one line."""
    counts: dict[Scope, int] = {}
    masses: dict[Scope, float | None] = {}
    for placed, mass in _placed(evaluation, at):
        counts[placed.at] = counts.get(placed.at, 0) + 1
        masses[placed.at] = mass
    found = []
    for key, quantity in counts.items():
        found.append(_line(evaluation.family, key, depth, quantity, masses[key]))
        found += nested(evaluation, key, depth + 1)
    return found


def differences(before: list[PartLine], after: list[PartLine]) -> list[tuple[PartLine | None, PartLine | None]]:
    """Lines of two flat lists that differ: one side is None where a part is in the other list only."""
    old, new = {line.at: line for line in before}, {line.at: line for line in after}
    return [(old.get(k), new.get(k)) for k in dict.fromkeys([*old, *new]) if old.get(k) != new.get(k)]


def _placed(evaluation: Evaluation, at: Scope) -> Iterator[tuple[Placed, float | None]]:
    """What an assembly places itself, with the mass of each."""
    extents = evaluation.value(Node("extents", at, ""))
    for placed in evaluation.value(Node("assembly", at, "")) or ():
        yield placed, extents.of[placed.instance].mass if isinstance(extents, Extents) else None


def _uses(evaluation: Evaluation, at: Scope) -> Iterator[tuple[Placed, float | None]]:
    """Uses of parts below an assembly, with the mass of each."""
    for placed, mass in _placed(evaluation, at):
        if isinstance(evaluation.family.documents[placed.at.document], Assembly):
            yield from _uses(evaluation, placed.at)
        else:
            yield placed, mass


def _line(family: Family, at: Scope, depth: int, quantity: int, mass: float | None) -> PartLine:
    document = family.documents[at.document]
    bodies = document.bodies.values() if isinstance(document, Model) else ()
    materials = dict.fromkeys(b.material for b in bodies if b.material and not b.backdrop_only)
    row = dict(configurations(family, document)).get(at.configuration, "")
    return PartLine(
        at, depth, document.number, document.name, row, alternate_name(family, at), ", ".join(materials), quantity, mass
    )


def way(evaluation: Evaluation, at: Scope, body: InPlace) -> str:
    """A body in place as people call it: `Head / Shade`, with its own name where a part has several."""
    family, names = evaluation.family, []
    for key in body.path:
        instances = getattr(family.documents[at.document], "instances", ())
        names += [i.name for i in instances if i.id == key]
        placed = evaluation.value(Node("placed", at, key))
        if placed is None:
            break
        at = placed.at
    part = family.documents[body.document]
    bodies = part.bodies if isinstance(part, Model) else {}
    return " / ".join([*names, *([bodies[body.body].name] if len(bodies) > 1 and body.body in bodies else [])])
