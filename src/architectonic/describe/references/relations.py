"""How the bodies of a model stand to each other: which overlap, and which have the same shape."""

from __future__ import annotations

from itertools import combinations
from typing import Any, Literal

from architectonic.base import tolerance
from architectonic.describe.recipes import BodyInput
from architectonic.describe.results import Made, Node, Plan, Recipe, Value, needed
from architectonic.describe.view import View

ALIKE = 1e-6
"""Measurements that differ by less than this share may be those of one shape; the shapes then decide."""


class Relations(Value, frozen=True):
    """Pairs of bodies by id.

    Attributes:
        overlaps: two bodies, and the volume that both fill, mm3.
        alike: a body, an earlier one of its shape, and whether it is its mirror image.
    """

    overlaps: tuple[tuple[str, str, float], ...] = ()
    alike: tuple[tuple[str, str, bool], ...] = ()


def plan_relations(view: View, node: Node) -> Plan:
    """Overlapping and like solids of a finished model; backdrops stand wherever they like, surfaces cross as they must."""
    (outcome,) = yield [Node("finished", node.at, "")]
    records = view.model(node).bodies
    standing = [b for b in needed(outcome).bodies if b.id in records and not records[b.id].backdrop_only]
    shapes = {b.id: b.shape for b in standing if b.kind != "surface"}
    if len(shapes) < 2:
        return Relations()
    outcomes = yield [Node("measure", node.at, b) for b in shapes]
    measured = {b: o.value for b, o in zip(shapes, outcomes, strict=True) if o.value is not None}
    overlaps: list[tuple[str, str, float]] = []
    alike: dict[str, tuple[str, bool]] = {}
    for a, b in combinations(measured, 2):
        if boxes_meet(measured[a]["box_mm"], measured[b]["box_mm"]):
            made: Made = yield Recipe("shared", BodyInput(), (shapes[a], shapes[b]))
            if made.problem is None and made.value > 0:
                overlaps.append((a, b, made.value))
        if a not in alike and b not in alike and may_be_alike(measured[a], measured[b]):
            likeness: Made = yield Recipe("likeness", BodyInput(), (shapes[a], shapes[b]))
            kind: Literal["", "same", "mirrored"] = likeness.value or ""
            if likeness.problem is None and kind:
                alike[b] = (a, kind == "mirrored")
    return Relations(tuple(overlaps), tuple((b, a, mirrored) for b, (a, mirrored) in alike.items()))


def boxes_meet(a: Any, b: Any) -> bool:
    """Whether two boxes share more than a face."""
    return all(min(a[i + 3], b[i + 3]) - max(a[i], b[i]) > tolerance.FEATURE for i in range(3))


def may_be_alike(a: dict[str, Any], b: dict[str, Any]) -> bool:
    """Whether two bodies measure the same wherever they stand: volume, area, and counts of faces and edges."""
    if (a["faces"], a["edges"]) != (b["faces"], b["edges"]):
        return False
    return all(abs(a[k] - b[k]) <= ALIKE * max(abs(a[k]), abs(b[k])) for k in ("volume_mm3", "area_mm2"))
