"""How makers say that the model cannot be made."""

from __future__ import annotations

from typing import Any

from architectonic.base.problem import Problem


class MakeFault(Exception):
    """The recipe has no result; `problem` says why."""

    def __init__(
        self,
        code: str,
        what: str,
        mend: str = "",
        severity: Any = "failing",
        candidates: tuple[str, ...] = (),
        lost: dict[str, tuple[str, ...]] | None = None,
        at: tuple[str, ...] = (),
    ) -> None:
        super().__init__(what)
        self.problem = Problem(
            code=code, what=what, mend=mend, severity=severity, candidates=candidates, lost=lost or {}, at=at
        )
