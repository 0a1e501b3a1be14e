"""Preferred numbers: the basic series of ISO 3:1973."""

from __future__ import annotations

import math

from architectonic.base.errors import UserFault

R40 = (
    1.00, 1.06, 1.12, 1.18, 1.25, 1.32, 1.40, 1.50, 1.60, 1.70, 1.80, 1.90, 2.00, 2.12, 2.24, 2.36, 2.50, 2.65, 2.80, 3.00,
    3.15, 3.35, 3.55, 3.75, 4.00, 4.25, 4.50, 4.75, 5.00, 5.30, 5.60, 6.00, 6.30, 6.70, 7.10, 7.50, 8.00, 8.50, 9.00, 9.50,
)  # fmt: skip
"""ISO 3:1973, table 1; R20, R10 and R5 are every second, fourth and eighth of them."""
SERIES = {"R5": R40[::8], "R10": R40[::4], "R20": R40[::2], "R40": R40}


def term(series: str, number: int) -> float:
    """The n-th term of a series, 0 being 1: terms repeat in every decade, each ten times the one before.

    Raises:
        UserFault: there is no such series.
    """
    try:
        terms = SERIES[series]
    except KeyError:
        raise UserFault(f"there is no series {series}", "", "ISO 3 has " + ", ".join(SERIES)) from None
    decade, place = divmod(number, len(terms))
    return float(f"{terms[place]}e{decade}")


def nearest(series: str, value: float) -> int:
    """The number of the term nearest to a positive value, by ratio.

    Raises:
        UserFault: there is no such series, or the value is not positive.
    """
    if value <= 0:
        raise UserFault("preferred numbers begin above zero", f"{value:g}", "start from a positive value")
    term(series, 0)
    guess = round(math.log10(value) * len(SERIES[series]))
    return min((guess - 1, guess, guess + 1), key=lambda n: abs(math.log(term(series, n) / value)))
