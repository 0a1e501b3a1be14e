"""The closed list of units, and dimensions as exponents.

Inside the program every value is a plain float in mm, rad, g, s and their products. Factors are exact by
definition (NIST SP 811, appendix B); tests compare them with an independent package.
"""

from __future__ import annotations

import math
from typing import NamedTuple


class Dimension(NamedTuple):
    """Exponents of length, angle, mass and time."""

    length: int = 0
    angle: int = 0
    mass: int = 0
    time: int = 0

    def times(self, other: Dimension, sign: int = 1) -> Dimension:
        """The dimension of a product, or of a quotient with ``sign=-1``."""
        return Dimension(*(a + sign * b for a, b in zip(self, other, strict=True)))

    def power(self, n: int) -> Dimension:
        """The dimension of the n-th power."""
        return Dimension(*(a * n for a in self))


NUMBER = Dimension()
LENGTH = Dimension(length=1)
ANGLE = Dimension(angle=1)
MASS = Dimension(mass=1)
AREA = Dimension(length=2)
VOLUME = Dimension(length=3)
TIME = Dimension(time=1)
FORCE = Dimension(length=1, mass=1, time=-2)
DENSITY = Dimension(length=-3, mass=1)

QUANTITIES: dict[str, Dimension] = {
    "number": NUMBER,
    "length": LENGTH,
    "angle": ANGLE,
    "area": AREA,
    "volume": VOLUME,
    "mass": MASS,
    "density": DENSITY,
    "force": FORCE,
    "time": TIME,
}


class Unit(NamedTuple):
    """A unit: how many internal units (mm, rad, g, s) one of it is."""

    name: str
    dimension: Dimension
    factor: float


_INCH = 25.4
_POUND = 453.59237

UNITS: dict[str, Unit] = {
    u.name: u
    for u in (
        Unit("um", LENGTH, 1e-3),
        Unit("mm", LENGTH, 1.0),
        Unit("cm", LENGTH, 10.0),
        Unit("m", LENGTH, 1000.0),
        Unit("in", LENGTH, _INCH),
        Unit("ft", LENGTH, 12 * _INCH),
        Unit("mil", LENGTH, _INCH / 1000),
        Unit("deg", ANGLE, math.pi / 180),
        Unit("rad", ANGLE, 1.0),
        Unit("g", MASS, 1.0),
        Unit("kg", MASS, 1000.0),
        Unit("lb", MASS, _POUND),
        Unit("oz", MASS, _POUND / 16),
        Unit("mm2", AREA, 1.0),
        Unit("cm2", AREA, 100.0),
        Unit("m2", AREA, 1e6),
        Unit("mm3", VOLUME, 1.0),
        Unit("cm3", VOLUME, 1000.0),
        Unit("N", FORCE, 1e6),
        Unit("s", TIME, 1.0),
        Unit("percent", NUMBER, 0.01),
    )
}

DEFAULT_UNIT: dict[str, str] = {
    "number": "",
    "length": "mm",
    "angle": "deg",
    "area": "mm2",
    "volume": "mm3",
    "mass": "g",
    "density": "g/cm3",
    "force": "N",
    "time": "s",
}
"""The unit a field of each quantity shows and completes a bare number with. Densities are shown in g/cm3 and
typed as a quotient (`2.7 g / 1 cm3`) or bare."""


def name_of(dimension: Dimension) -> str:
    """What people call a dimension: "a length", "an angle", "a plain number", else its exponents."""
    words = {
        NUMBER: "a plain number",
        LENGTH: "a length",
        ANGLE: "an angle",
        AREA: "an area",
        VOLUME: "a volume",
        MASS: "a mass",
        DENSITY: "a density",
        FORCE: "a force",
        TIME: "a time",
    }
    if dimension in words:
        return words[dimension]
    parts = [f"{n}^{e}" for n, e in zip(("mm", "rad", "g", "s"), dimension, strict=True) if e]
    return "a quantity in " + " ".join(parts)


def factor(unit: str) -> float:
    """Internal units in one `unit`; "" is a plain number and "g/cm3" the density of display."""
    if unit == "":
        return 1.0
    if unit == "g/cm3":
        return 1e-3
    return UNITS[unit].factor


def shown(value: float, unit: str, decimals: int = 4) -> str:
    """A value as people read it: `2.4 mm`, `28 deg`; at most `decimals` decimals, a true minus sign."""
    number = (
        f"{value / factor(unit):.{decimals}f}".rstrip("0").rstrip(".") if decimals else f"{value / factor(unit):.0f}"
    )
    if number in ("-0", ""):
        number = "0"
    return f"{number.replace('-', '−')} {unit}".strip()
