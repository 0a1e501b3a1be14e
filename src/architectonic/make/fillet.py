"""Fillet: edges found by label, never guessed."""

from __future__ import annotations

from architectonic.describe.recipes import FilletInput
from architectonic.kernel import blends
from architectonic.kernel.labelled import Labelled
from architectonic.kernel.solids import KernelRefusal
from architectonic.make.fault import MakeFault


def make(given: FilletInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies with their edges rounded.

    Raises:
        MakeFault: an edge is gone (with the nearest candidates), or the radius is too large.
    """
    made = {}
    for (body, labels), shape in zip(given.edges, shapes, strict=True):
        edges = {}
        lost = []
        for label in labels:
            found = shape.find_edges(label)
            if not found:
                lost.append(label)
            names = {e: n for n, e in shape.edges.items()}
            edges.update({names[e]: e for e in found})
        if lost:
            near = shape.candidates(lost[0], list(shape.edges))
            raise MakeFault(
                "fillet.edge_missing",
                f"{len(lost)} of {len(labels)} edges {'is' if len(lost) == 1 else 'are'} gone",
                "pick edges again",
                "missing",
                tuple(near),
            )
        try:
            made[body] = blends.fillet(shape, edges, given.radius, given.operation)
        except KernelRefusal as refusal:
            raise MakeFault("fillet.too_large", str(refusal), "make it smaller") from None
    return list(made), made
