"""Limits of holes after ISO 286: how far a hole of a class may be off its nominal diameter.

Sources: ISO 286-1 and ISO 286-2:2010, tolerance grades and fundamental deviations up to 500 mm, from memory.
"""

from __future__ import annotations

from architectonic.base.errors import UserFault

BANDS = (3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500)
"""Upper ends of the ranges of nominal size, mm; each belongs to its range."""
GRADES = {
    6: (6, 8, 9, 11, 13, 16, 19, 22, 25, 29, 32, 36, 40),
    7: (10, 12, 15, 18, 21, 25, 30, 35, 40, 46, 52, 57, 63),
    8: (14, 18, 22, 27, 33, 39, 46, 54, 63, 72, 81, 89, 97),
    9: (25, 30, 36, 43, 52, 62, 74, 87, 100, 115, 130, 140, 155),
    11: (60, 75, 90, 110, 130, 160, 190, 220, 250, 290, 320, 360, 400),
}
"""Widths of the tolerance grades IT6 to IT11, um."""
SMALLEST = {
    "F": (6, 10, 13, 16, 20, 25, 30, 36, 43, 50, 56, 62, 68),
    "G": (2, 4, 5, 6, 7, 9, 10, 12, 14, 15, 17, 18, 20),
    "H": (0,) * 13,
}
"""Lower deviations of holes, um."""
CLASSES = ("H7", "H6", "H8", "H9", "H11", "G7", "F8")
"""Classes of holes for pins, the usual one first."""


def limits(diameter: float, tolerance_class: str) -> tuple[float, float]:
    """The smallest and largest diameter of a hole, mm.

    Args:
        diameter: nominal, mm; tolerance_class: one of CLASSES.

    Raises:
        UserFault: the class is not known, or the diameter lies outside the tables.
    """
    letter, grade = tolerance_class[:1], tolerance_class[1:]
    if letter not in SMALLEST or not grade.isdigit() or int(grade) not in GRADES:
        raise UserFault(f"there is no class {tolerance_class} in the tables", "", "choose " + ", ".join(CLASSES))
    if not 0 < diameter <= BANDS[-1]:
        raise UserFault(f"ISO 286 has no limits for {diameter:g} mm here", "", f"up to {BANDS[-1]} mm are known")
    band = next(k for k, end in enumerate(BANDS) if diameter <= end)
    low = SMALLEST[letter][band]
    return diameter + low / 1000, diameter + (low + GRADES[int(grade)][band]) / 1000
