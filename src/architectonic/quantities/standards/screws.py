"""Holes that screws pass through, and recesses for their heads.

Sources: ISO 273 for metric clearance holes, ISO 4762 and ISO 10642 for metric heads, ASME B18.2.8 and B18.3 for inch ones; all
from memory. How far a recess is wider and deeper than a head is common practice (metric widths as of DIN 974-1, series 1).
"""

from __future__ import annotations

from typing import NamedTuple

from architectonic.quantities.standards.threads import INCH, key_of

FITS = ("fine", "medium", "coarse")
CLASSES = dict(zip(FITS, ("H12", "H13", "H14"), strict=True))
"""Tolerance class of the hole, by fit (ISO 273)."""


class Screw(NamedTuple):
    """A nominal size and what goes with it, mm.

    Attributes:
        clearance: of the hole it passes through: fine, medium and coarse.
        socket: of a socket head: diameter, height, width of its recess, depth of its recess; None where there is none.
        flat: of a countersunk socket head of 90 deg: its theoretical diameter; None where none is known.
    """

    name: str
    diameter: float
    clearance: tuple[float, float, float]
    socket: tuple[float, float, float, float] | None = None
    flat: float | None = None

    @property
    def key(self) -> str:
        """Its name as an expression can say it."""
        return key_of(self.name) if self.metric else "INCH_" + key_of(self.name.lstrip("#"))

    @property
    def metric(self) -> bool:
        """Whether it is of ISO, not of ASME."""
        return self.name.startswith("M")

    def standard(self, head: str) -> str:
        """What a head is laid down in, or the hole where there is none."""
        if head == "socket":
            return "ISO 4762" if self.metric else "ASME B18.3"
        return "ISO 10642" if head == "flat" else self.clears

    @property
    def clears(self) -> str:
        """What its clearance hole is laid down in."""
        return "ISO 273" if self.metric else "ASME B18.2.8"


# clearance fine, medium, coarse; socket head diameter and height; width of its recess; flat head diameter
_METRIC: dict[str, tuple[tuple[float, float, float], tuple[float, float, float] | None, float | None]] = {
    "1.6": ((1.7, 1.8, 2.0), (3.0, 1.6, 3.5), None),
    "2": ((2.2, 2.4, 2.6), (3.8, 2.0, 4.3), None),
    "2.5": ((2.7, 2.9, 3.1), (4.5, 2.5, 5.0), None),
    "3": ((3.2, 3.4, 3.6), (5.5, 3.0, 6.5), 6.72),
    "3.5": ((3.7, 3.9, 4.2), None, None),
    "4": ((4.3, 4.5, 4.8), (7.0, 4.0, 8.0), 8.96),
    "5": ((5.3, 5.5, 5.8), (8.5, 5.0, 10.0), 11.20),
    "6": ((6.4, 6.6, 7.0), (10.0, 6.0, 11.0), 13.44),
    "7": ((7.4, 7.6, 8.0), None, None),
    "8": ((8.4, 9.0, 10.0), (13.0, 8.0, 15.0), 17.92),
    "10": ((10.5, 11.0, 12.0), (16.0, 10.0, 18.0), 22.40),
    "12": ((13.0, 13.5, 14.5), (18.0, 12.0, 20.0), 26.88),
    "14": ((15.0, 15.5, 16.5), (21.0, 14.0, 24.0), None),
    "16": ((17.0, 17.5, 18.5), (24.0, 16.0, 26.0), 33.60),
    "18": ((19.0, 20.0, 21.0), None, None),
    "20": ((21.0, 22.0, 24.0), (30.0, 20.0, 33.0), 40.32),
    "22": ((23.0, 24.0, 26.0), None, None),
    "24": ((25.0, 26.0, 28.0), (36.0, 24.0, 40.0), None),
}
# diameter; clearance close, normal, loose; socket head diameter and height, all in inches
_INCH = {
    "#4": (0.112, (0.120, 0.128, 0.144), (0.183, 0.112)),
    "#6": (0.138, (0.146, 0.154, 0.170), (0.226, 0.138)),
    "#8": (0.164, (0.172, 0.180, 0.196), (0.270, 0.164)),
    "#10": (0.190, (0.197, 0.206, 0.221), (0.312, 0.190)),
    "1/4": (0.250, (0.266, 0.281, 0.295), (0.375, 0.250)),
    "5/16": (0.3125, (0.328, 0.344, 0.359), (0.469, 0.3125)),
    "3/8": (0.375, (0.391, 0.406, 0.422), (0.562, 0.375)),
    "1/2": (0.500, (0.531, 0.562, 0.609), (0.750, 0.500)),
    "5/8": (0.625, (0.656, 0.688, 0.734), (0.938, 0.625)),
    "3/4": (0.750, (0.781, 0.812, 0.906), (1.125, 0.750)),
}
WIDER_IN = 0.8
"""How much wider than its head the recess of an inch screw is, mm (common practice, about 1/32 in)."""


def deeper(diameter: float) -> float:
    """How much deeper than its head a recess is, mm (common practice, as of DIN 974-1)."""
    return 0.4 if diameter < 7 else 0.6


def _all() -> tuple[Screw, ...]:
    found = []
    for d, (clearance, head, flat) in _METRIC.items():
        socket = None if head is None else (*head, head[1] + deeper(float(d)))
        found.append(Screw(f"M{d}", float(d), clearance, socket, flat))
    for name, (d_in, clear, (wide, high)) in _INCH.items():
        mm, height = d_in * INCH, high * INCH
        recess = (wide * INCH, height, wide * INCH + WIDER_IN, height + deeper(mm))
        found.append(Screw(name, mm, (clear[0] * INCH, clear[1] * INCH, clear[2] * INCH), recess))
    return tuple(found)


SCREWS = _all()
BY_KEY = {s.key: s for s in SCREWS}
