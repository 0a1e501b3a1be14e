"""Documents of a family that could not be read: what is told of them."""

from __future__ import annotations

from architectonic.check.attention import Item
from architectonic.exchange.folder import Stored


def entries(stored: Stored) -> list[Item]:
    """One entry for each: the others go on without it, and its file is left as it is."""
    return [
        Item(one.file, f"this document cannot be read: {one.told}", "take it from a backup or from who wrote it",
             "failing", "", "", ("all sizes",), (), ())
        for one in stored.unread
    ]  # fmt: skip
