"""Threads by designation: nominal diameter, pitch and the drill before tapping.

Sources: ISO 261 and ISO 262 for metric pitches, ISO 2306 for metric tap drills, ASME B1.1 for unified threads with the drills
of the trade (common practice). All from memory; the basic profile below ties diameters to pitches (ISO 68-1, ISO 724).
"""

from __future__ import annotations

import math
from typing import NamedTuple

INCH = 25.4


class Thread(NamedTuple):
    """A thread, mm.

    Attributes:
        name: its designation: `M8`, `M8x1`, `1/4-20 UNC`.
        nominal: the screw that it belongs to: `M8`, `1/4`.
        series: metric coarse, metric fine, UNC or UNF.
        drill: diameter of the hole before it is tapped.
    """

    name: str
    nominal: str
    series: str
    diameter: float
    pitch: float
    drill: float

    @property
    def key(self) -> str:
        """Its name as an expression can say it: `M1_6`, `UNC_1_4_20`."""
        return key_of(self.name)

    @property
    def standard(self) -> str:
        """What it is laid down in."""
        return "ISO 261" if self.series.startswith("metric") else "ASME B1.1"

    @property
    def usual_class(self) -> str:
        """The tolerance class of the hole that is meant when none is said: ISO 965-1 and ASME B1.1."""
        return "6H" if self.series.startswith("metric") else "2B"

    @property
    def height(self) -> float:
        """Height of the fundamental triangle (ISO 68-1), mm."""
        return self.pitch * math.sqrt(3) / 2

    @property
    def pitch_diameter(self) -> float:
        """Basic pitch diameter (ISO 724), mm."""
        return self.diameter - 0.75 * self.height

    @property
    def minor_diameter(self) -> float:
        """Basic minor diameter of the inside thread (ISO 724), mm."""
        return self.diameter - 1.25 * self.height


def key_of(name: str) -> str:
    """A designation as a name: what is no letter or digit becomes an underscore, and it begins with a letter."""
    number, _, series = name.partition(" ")
    turned = f"{series}_{number.lstrip('#')}" if series else name
    return "".join(c if c.isalnum() else "_" for c in turned)


# nominal: pitch, drill
_COARSE = {
    "1.6": (0.35, 1.25), "2": (0.4, 1.6), "2.5": (0.45, 2.05), "3": (0.5, 2.5), "3.5": (0.6, 2.9), "4": (0.7, 3.3),
    "5": (0.8, 4.2), "6": (1.0, 5.0), "7": (1.0, 6.0), "8": (1.25, 6.8), "10": (1.5, 8.5), "12": (1.75, 10.2),
    "14": (2.0, 12.0), "16": (2.0, 14.0), "18": (2.5, 15.5), "20": (2.5, 17.5), "22": (2.5, 19.5), "24": (3.0, 21.0),
}  # fmt: skip
_FINE = (
    ("3", 0.35, 2.65), ("4", 0.5, 3.5), ("5", 0.5, 4.5), ("6", 0.75, 5.2), ("8", 1.0, 7.0), ("10", 1.0, 9.0),
    ("10", 1.25, 8.8), ("12", 1.25, 10.8), ("12", 1.5, 10.5), ("14", 1.5, 12.5), ("16", 1.5, 14.5), ("18", 1.5, 16.5),
    ("20", 1.5, 18.5), ("22", 1.5, 20.5), ("24", 2.0, 22.0),
)  # fmt: skip
# nominal: diameter in; threads to the inch and drill in inches, coarse then fine
_UNIFIED = {
    "#4": (0.112, (40, 0.089), (48, 0.0935)),
    "#6": (0.138, (32, 0.1065), (40, 0.113)),
    "#8": (0.164, (32, 0.136), (36, 0.136)),
    "#10": (0.19, (24, 0.1495), (32, 0.159)),
    "1/4": (0.25, (20, 0.201), (28, 0.213)),
    "5/16": (0.3125, (18, 0.257), (24, 0.272)),
    "3/8": (0.375, (16, 0.3125), (24, 0.332)),
    "7/16": (0.4375, (14, 0.368), (20, 0.3906)),
    "1/2": (0.5, (13, 0.4219), (20, 0.4531)),
    "5/8": (0.625, (11, 0.5312), (18, 0.5781)),
    "3/4": (0.75, (10, 0.6562), (16, 0.6875)),
}


def _all() -> tuple[Thread, ...]:
    found = [Thread(f"M{d}", f"M{d}", "metric coarse", float(d), p, drill) for d, (p, drill) in _COARSE.items()]
    found += [Thread(f"M{d}x{p:g}", f"M{d}", "metric fine", float(d), p, drill) for d, p, drill in _FINE]
    for k, series in enumerate(("UNC", "UNF")):
        for nominal, (d, *both) in _UNIFIED.items():
            count, drill = both[k]
            found.append(Thread(f"{nominal}-{count} {series}", nominal, series, d * INCH, INCH / count, drill * INCH))
    return tuple(found)


THREADS = _all()
BY_KEY = {t.key: t for t in THREADS}
