"""Colours of pictures: paper, ink and the bodies, in an order in which neighbours differ."""

from __future__ import annotations

BODY_COLOURS = (
    "#93A9BA",
    "#CDBB9F",
    "#CB9F88",
    "#A0B39C",
    "#AC9FB5",
    "#CDC283",
    "#8AB3B1",
    "#C7A5A5",
    "#B4B8B9",
)
PAPER, INK = "#F7F5F0", "#22303C"


def rgb(colour: str) -> tuple[float, float, float]:
    """`#RRGGBB` as three numbers from 0 to 1."""
    return int(colour[1:3], 16) / 255, int(colour[3:5], 16) / 255, int(colour[5:7], 16) / 255
