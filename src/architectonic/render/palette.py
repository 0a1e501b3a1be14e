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
"""What draft is shown in: words of the legend, and colours that keep apart in grey too."""
BANDS = ("#B0563F", "#D9A24C", "#CFC99A", "#8FB08A")
"""Figures of a survey against their limit: below it, up to a quarter over it, up to twice, more; apart in grey too."""
UNKNOWN = "#C9CDD1"
"""Where a survey has no figure."""
PAPER, INK = "#F7F5F0", "#22303C"


NAMED = {
    "slate blue": BODY_COLOURS[0],
    "sand": BODY_COLOURS[1],
    "clay": BODY_COLOURS[2],
    "sage": BODY_COLOURS[3],
    "lilac": BODY_COLOURS[4],
    "straw": BODY_COLOURS[5],
    "teal": BODY_COLOURS[6],
    "rose": BODY_COLOURS[7],
    "silver": BODY_COLOURS[8],
    "graphite": "#6C7278",
    "white": "#E9E7E1",
    "brass": "#C2A25A",
}
"""Colours that a body can be given, by the words for them."""


def colour_of(document: object, body: str, place: int = 0) -> str:
    """The colour of a body: its own, else the one of the palette at its place in the document."""
    bodies = getattr(document, "bodies", {})
    record = bodies.get(body)
    if record is not None and record.colour:
        return str(record.colour)
    return BODY_COLOURS[(list(bodies).index(body) if body in bodies else place) % len(BODY_COLOURS)]


def rgb(colour: str) -> tuple[float, float, float]:
    """`#RRGGBB` as three numbers from 0 to 1."""
    return int(colour[1:3], 16) / 255, int(colour[3:5], 16) / 255, int(colour[5:7], 16) / 255
