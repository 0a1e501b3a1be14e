"""What the blanks of a sentence accept by clicks, and the words that ask for it."""

from __future__ import annotations

from typing import NamedTuple


class Accepts(NamedTuple):
    """What fills a blank.

    Attributes:
        bodies: kinds of what is hit on bodies: face, edge, vertex.
        drawn: of sketches and datums: region, curve, end, plane, axis, point, sketch.
        says: what to click, in words.
        flat, round: only flat faces; only round faces among the faces.
    """

    bodies: frozenset[str]
    drawn: frozenset[str]
    says: str
    flat: bool = False
    round: bool = False


def _of(bodies: str, drawn: str, says: str, flat: bool = False, round: bool = False) -> Accepts:
    return Accepts(frozenset(bodies.split()), frozenset(drawn.split()), says, flat, round)


ACCEPTS = {
    "": _of("", "", ""),
    "region": _of("face", "region", "regions of sketches or flat faces"),
    "face": _of("face", "", "faces"),
    "edge": _of("edge", "", "edges"),
    "path": _of("edge", "curve", "edges or curves that meet end to end"),
    "plane": _of("face", "plane sketch", "a flat face or a plane", flat=True),
    "line": _of("edge face", "curve axis", "an edge, a line, an axis or a round face", round=True),
    "point": _of("vertex edge", "point end", "a vertex, an end, a point or a round edge for its centre"),
    "place": _of("vertex edge face", "plane axis point curve end", "a vertex, an edge, a face, a plane, an axis or a point"),
    "end": _of("face vertex", "plane point end", "the face, plane or point that it ends on"),
    "divider": _of("face", "plane sketch curve", "a face, a plane or a sketch"),
}  # fmt: skip
"""What an open sentence takes, by what its active blank waits for ."""
