"""Short random identifiers.

Ten letters or digits carry 59 bits: two people adding parts at the same time never collide. The source is
injectable, so that the demo family comes out the same each time it is written.
"""

from __future__ import annotations

import random
import secrets
import string
from collections.abc import Callable

LETTERS = string.ascii_letters + string.digits
LENGTH = 10

IdSource = Callable[[], str]


def new_id() -> str:
    """A fresh identifier from the system's random source; it starts with a letter."""
    return secrets.choice(string.ascii_letters) + "".join(secrets.choice(LETTERS) for _ in range(LENGTH - 1))


def seeded(seed: int) -> IdSource:
    """A source that gives the same identifiers for the same seed (for the demo and for tests only)."""
    stream = random.Random(seed)

    def next_id() -> str:
        return stream.choice(string.ascii_letters) + "".join(stream.choices(LETTERS, k=LENGTH - 1))

    return next_id


def replayed(known: list[str]) -> IdSource:
    """A source that gives known identifiers again from the first on, then fresh ones, which become known.

    What is built twice the same way, as by a preview and then for good, has the same names and shares its results.
    """
    count = -1

    def next_id() -> str:
        nonlocal count
        count += 1
        if count == len(known):
            known.append(new_id())
        return known[count]

    return next_id
