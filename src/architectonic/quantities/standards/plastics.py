"""Cores for screws that form their own thread in plastic: a share of the screw's diameter that goes with the material.

Common practice, figures from memory: what the maker of the screws states for a material comes first.
"""

from __future__ import annotations

CORES = {
    "ABS": 0.80,
    "PC": 0.85,
    "PA": 0.75,
    "PA-GF": 0.80,
    "POM": 0.75,
    "PP": 0.70,
    "PE": 0.70,
    "PMMA": 0.85,
    "PBT": 0.75,
}
"""Diameter of the core as a share of the screw's, by material."""
WALL_AROUND = 2.0
"""Outer diameter of a boss as a multiple of the screw's."""
