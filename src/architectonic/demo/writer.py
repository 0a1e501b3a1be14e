"""What the demo family is written with: its materials, the head's values, and how parts begin."""

from __future__ import annotations

from typing import Any, NamedTuple

from architectonic.api.documents import Document
from architectonic.api.opened import OpenFamily
from architectonic.api.parts import Part
from architectonic.api.sketches import Curve, Sketch

ALUMINIUM = ("EN AW-6060", "2.7 g / 1 cm3")
STEEL = ("steel", "7.85 g / 1 cm3")
ABS = ("ABS", "1.04 g / 1 cm3")
PC = ("PC", "1.2 g / 1 cm3")
CAST = ("cast iron EN-GJL-200", "7.2 g / 1 cm3")
HEAD = (
    ("head_w", 80, 90, 110, "width of the head"),
    ("head_h", 50, 56, 66, "height of the head"),
    ("head_r", 10, 12, 14, "corners of the head"),
    ("rim", 4, 4, 5, "of the bezel"),
    ("diffuser_w", 72, 82, 100, "seen width"),
)
"""What the linked spreadsheet says, in mm for S, M and L."""


class Elevation(NamedTuple):
    """The layout, its sketches, and the curves that parts take."""

    layout: Any
    side: Sketch
    plan: Sketch
    head: Sketch
    stem: Curve
    arm: Curve
    shoulder: Curve
    pivot: Curve
    foot: Curve
    bore: Curve


def sized(table: Document, name: str, s: str, m: str, l: str, note: str = "") -> None:
    """A parameter with a value for each size; M stands in the common cell."""
    table.parameter(name, m, note=note, **{size: text for size, text in (("S", s), ("L", l)) if text != m})


def begin(family: OpenFamily, name: str, **parameters: str) -> Part:
    """A part, looked at in M, with parameters of its own."""
    part: Part = family.part(name).in_size("M")
    for called, text in parameters.items():
        part.parameter(called, text)
    return part
