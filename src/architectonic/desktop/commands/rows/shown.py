"""What all commands about the shown document share."""

from __future__ import annotations

from architectonic.desktop.pane.desk import Desk
from architectonic.family.records import AnyDocument


class OfShown:
    """Callbacks about the document of the main pane."""

    desk: Desk

    @property
    def document(self) -> AnyDocument:
        """The shown document."""
        assert self.desk.main.document is not None
        return self.desk.main.document

    def _has(self) -> bool:
        return self.desk.main.document is not None
