"""Densities of common materials, to choose from; a body's own expression decides.

Sources: EN 1991-1-1 and EN 1999-1-1 for structural steel and aluminium, EN 10088-1 for stainless steel; the others are
typical figures of data sheets, from memory, good to about 2 % (common practice). What a supplier states comes first.
"""

from __future__ import annotations

from typing import NamedTuple


class Material(NamedTuple):
    """A name, a density in g/cm3 and where it comes from."""

    name: str
    density: float
    source: str


SHEETS = "data sheets, about 2 %"
MATERIALS = (
    Material("steel", 7.85, "EN 1991-1-1"),
    Material("stainless steel 1.4301", 7.9, "EN 10088-1"),
    Material("EN AW-6060", 2.7, "EN 1999-1-1"),
    Material("EN AW-7075", 2.81, SHEETS),
    Material("AlSi10Mg", 2.67, SHEETS),
    Material("brass CW614N", 8.47, SHEETS),
    Material("copper", 8.89, SHEETS),
    Material("titanium grade 5", 4.43, SHEETS),
    Material("zinc, cast", 6.65, SHEETS),
    Material("ABS", 1.04, SHEETS),
    Material("PC", 1.2, SHEETS),
    Material("PMMA", 1.18, SHEETS),
    Material("PA66", 1.14, SHEETS),
    Material("POM", 1.41, SHEETS),
    Material("PP", 0.905, SHEETS),
    Material("PE-HD", 0.95, SHEETS),
    Material("PLA", 1.24, SHEETS),
    Material("PETG", 1.27, SHEETS),
    Material("silicone rubber", 1.15, SHEETS),
    Material("birch plywood", 0.68, SHEETS),
    Material("borosilicate glass", 2.23, SHEETS),
)
BY_NAME = {m.name.casefold(): m for m in MATERIALS}


def density_text(name: str) -> str:
    """The density of a material as an expression, "" when it is not in the table."""
    found = BY_NAME.get(name.strip().casefold())
    return f"{found.density:g} g / 1 cm3" if found is not None else ""
