"""Hole lists: the holes of bodies, parts and assemblies as they are, with what is known of them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from typing import Any, NamedTuple

from architectonic.base import rigid, tolerance
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.results import HoleFound, HoleSet, ModelState, Node, Vector
from architectonic.family.scopes import InPlace, Scope
from architectonic.propagate.evaluation import Evaluation


class HoleRow(NamedTuple):
    """Holes of one operation that are alike: of one direction and depth; mm.

    Attributes:
        at: the scope whose operation made them.
        places: where each begins; depth: from there to the end of its wall, over all bodies that it goes through.
        bodies: that they are in; parted: how many of them are cut open since.
        diameter: as it is; it differs from that of the set where the body was scaled.
    """

    at: Scope
    holes: HoleSet
    places: tuple[Vector, ...]
    direction: Vector
    depth: float
    diameter: float
    bodies: tuple[InPlace, ...]
    parted: int

    @property
    def number(self) -> int:
        """How many there are."""
        return len(self.places)

    @property
    def as_made(self) -> bool:
        """Whether they still have the diameter that their data tell."""
        return abs(self.diameter - self.holes.diameter) < tolerance.FEATURE


class _Seen(NamedTuple):
    """A hole in one body where that stands."""

    at: Scope
    holes: HoleSet
    found: HoleFound
    body: InPlace
    stands: Rigid


def of_document(evaluation: Evaluation, at: Scope, bodies: Iterable[str] = ()) -> list[HoleRow]:
    """The hole list of a document's own bodies, or of some of them."""
    wanted = set(bodies)
    state = evaluation.value(Node("finished", at, ""))
    own = [b.id for b in state.bodies if not wanted or b.id in wanted] if isinstance(state, ModelState) else []
    return _rows(
        _Seen(at, holes, found, InPlace((), at, body), IDENTITY)
        for body in own
        for holes, found in evaluation.value(Node("bored", at, body)) or ()
    )


def of_assembly(evaluation: Evaluation, at: Scope) -> list[HoleRow]:
    """The hole list of everything that an assembly places, where it stands."""

    def seen() -> Iterator[_Seen]:
        for placed in evaluation.value(Node("assembly", at, "")) or ():
            for b in placed.bodies:
                for holes, found in evaluation.value(b.node("bored")) or ():
                    yield _Seen(b.source, holes, found, b.body, b.stands)

    return _rows(seen())


def _rows(seen: Iterable[_Seen]) -> list[HoleRow]:
    """Holes of one drill through several bodies as one, those that are alike in one row."""
    drilled: dict[tuple[Any, ...], list[tuple[_Seen, Vector, Vector]]] = defaultdict(list)
    for s in seen:
        at = rigid.moved(s.stands, s.found.at)
        direction = rigid.turned(s.stands, s.found.direction)
        way = _along(at, direction)
        foot = tuple(round(c - way * d, 4) + 0.0 for c, d in zip(at, direction, strict=True))
        drilled[s.at, s.found.operation, s.found.key, foot, _rounded(direction)].append((s, at, direction))
    alike: dict[tuple[Any, ...], list[tuple[_Seen, Vector, list[InPlace], bool]]] = defaultdict(list)
    for parts in drilled.values():
        direction = parts[0][2]
        ends = [(_along(at, direction), _along(at, direction) + s.found.depth) for s, at, _ in parts]
        first = min(range(len(parts)), key=lambda k: ends[k][0])
        depth = max(e for _, e in ends) - ends[first][0]
        s, at, _ = parts[first]
        whole = all(p.found.whole > 1 - tolerance.FEATURE for p, _, _ in parts)
        key = (s.at, s.found.operation, _rounded(direction), round(depth, 4), round(s.found.diameter, 5))
        alike[key].append((s, at, [p.body for p, _, _ in parts], whole))
    rows = []
    for (scope, _, direction, depth, diameter), members in alike.items():
        bodies = tuple(dict.fromkeys(b for m in members for b in m[2]))
        parted = sum(not m[3] for m in members)
        places = tuple(m[1] for m in members)
        rows.append(HoleRow(scope, members[0][0].holes, places, direction, depth, diameter, bodies, parted))
    return rows


def _along(p: Vector, d: Vector) -> float:
    return p[0] * d[0] + p[1] * d[1] + p[2] * d[2]


def _rounded(d: Vector) -> Vector:
    return (round(d[0], 6) + 0.0, round(d[1], 6) + 0.0, round(d[2], 6) + 0.0)


def entry(row: HoleRow) -> dict[str, Any]:
    """A row as plain data (the contract of `build --json`)."""
    holes = row.holes
    return {
        "operation": holes.name,
        "for": holes.made_for,
        "standard": holes.standard,
        "size": holes.size,
        "diameter_mm": tolerance.length(row.diameter),
        "as_made": row.as_made,
        "depth_mm": tolerance.length(row.depth),
        "through": holes.through,
        "counterbore_mm": list(holes.counterbore) if holes.counterbore else None,
        "countersink_mm_rad": list(holes.countersink) if holes.countersink else None,
        "thread": holes.thread or None,
        "thread_depth_mm": (holes.thread_depth or row.depth) if holes.thread else None,
        "hand": holes.hand if holes.thread else None,
        "class": holes.tolerance or None,
        "limits_mm": list(holes.limits) if holes.limits else None,
        "count": row.number,
        "parted": row.parted,
        "positions_mm": [list(p) for p in row.places],
        "axis": list(row.direction),
    }
