"""Edges that operations are given, found by label, never guessed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from architectonic.describe.recipes import EdgesInput, Wanted
from architectonic.describe.references.witness import disagreement
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.shapes.witness import edge_facts
from architectonic.make.fault import MakeFault
from architectonic.make.nearest import nearest


def each_edge(
    given: EdgesInput,
    shapes: list[Labelled],
    along: Callable[[Labelled, dict[str, Any]], Labelled],
    code: str,
    mend: str = "make it smaller",
) -> tuple[list[str], dict[str, Labelled]]:
    made = {}
    for (body, wanted), shape in zip(given.edges, shapes, strict=False):
        edges = edges_of(shape, wanted)
        try:
            made[body] = along(shape, edges)
        except KernelRefusal as refusal:
            other = "take those edges out" if "smoothly" in str(refusal) else mend
            raise MakeFault(code, str(refusal), other, at=refusal.at) from None
    return list(made), made


def edges_of(shape: Labelled, wanted: tuple[Wanted, ...]) -> dict[str, Any]:
    """Edges that are wanted, by their present labels; all pieces of an edge that was split since.

    Raises:
        MakeFault: one is gone, or is not what was picked.
    """
    names = {e: n for n, e in shape.edges.items()}
    around = dict(ancestors(shape.shape, EDGE, FACE)) if any(w.witness for w in wanted) else {}
    edges: dict[str, Any] = {}
    lost: list[tuple[Wanted, str]] = []
    for one in wanted:
        found, differs = shape.find_edges(one.label), ""
        if one.witness:
            facts = {e: edge_facts(shape, e, around[e]) for e in found}
            told = {e: disagreement(one.witness, f.kind, f.convex, f.neighbours) for e, f in facts.items()}
            differs = next((t for t in told.values() if t), "")
            found = [e for e in found if not told[e]]
        if not found:
            lost.append((one, differs))
        edges.update({names[e]: e for e in found})
    if lost:
        _, differs = lost[0]
        near = {one.label: nearest([shape], one, "edge") for one, _ in lost}
        told_lost = f"{len(lost)} of {len(wanted)} edges {'is' if len(lost) == 1 else 'are'} gone"
        told_lost = "the edge it takes is gone" if len(wanted) == 1 else told_lost
        raise MakeFault(
            "edge.missing",
            f"{told_lost}: {differs}" if differs else told_lost,
            "pick edges again",
            "missing",
            next(iter(near.values())),
            near,
        )
    return edges
