"""Problems as data: what is wrong with a model that still evaluates."""

from __future__ import annotations

from typing import Literal

import msgspec

Severity = Literal["failing", "missing", "conflict", "out of rule", "off"]


class Problem(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """One thing that needs attention.

    Attributes:
        code: stable dotted identifier, e.g. ``fillet.too_large``.
        severity: which state mark it carries.
        what: one sentence in the user's words.
        mend: what would put it right, or "".
        where: readable path of the item ("Foot / Chamfer rim").
        root: path of the first cause when this only follows from another problem.
        candidates: labels that a lost reference might have meant, nearest first.
        at: labels of the edges or faces at fault.
        lost: every lost label, each with what it might have meant.
    """

    code: str
    what: str
    severity: Severity = "failing"
    mend: str = ""
    where: str = ""
    root: str = ""
    candidates: tuple[str, ...] = ()
    at: tuple[str, ...] = ()
    lost: dict[str, tuple[str, ...]] = {}
