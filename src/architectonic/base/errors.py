"""The three families of errors.

A *user fault* is something the person at the keyboard can mend; an *environment fault* comes from the
machine (a file, a killed worker); everything else that is raised is a defect of the program. Expected bad
models are none of these: they are `Problem` records kept beside the result (see base.problem).
"""

from __future__ import annotations


class ArchitectonicError(Exception):
    """Base of everything the program raises on purpose."""


class UserFault(ArchitectonicError, ValueError):
    """A request that cannot be carried out; nothing was changed.

    Args:
        what: one sentence saying what is wrong.
        where: the document, item or place it is about ("" when there is only one candidate).
        mend: one sentence or fragment saying how to put it right ("" when `what` says it).
    """

    def __init__(self, what: str, where: str = "", mend: str = "") -> None:
        self.what = what
        self.where = where
        self.mend = mend
        super().__init__(self.sentence)

    @property
    def sentence(self) -> str:
        """What, where and how to mend it, in one line."""
        head = f"{self.where}: {self.what}" if self.where else self.what
        return f"{head}; {self.mend}" if self.mend else head


class EnvironmentFault(ArchitectonicError, OSError):
    """The machine did not do what was asked: an unreadable file, a lost worker, a full disk."""

    def __init__(self, what: str, mend: str = "") -> None:
        self.what = what
        self.mend = mend
        super().__init__(f"{what}; {mend}" if mend else what)
