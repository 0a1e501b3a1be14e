"""What can be done with the check matrix."""

from __future__ import annotations

from architectonic.desktop.kit.actions import Action
from architectonic.desktop.ranges.checks import ChecksCanvas


class MatrixCommands:
    """Callbacks about the matrix and its chosen cell."""

    def __init__(self, canvas: ChecksCanvas) -> None:
        self.canvas = canvas

    def actions(self) -> list[Action]:
        """The actions about the matrix."""
        canvas, seen, chosen = self.canvas, self.canvas.isVisible, self._chosen
        return [
            Action("checks.next", "Next check that does not hold", canvas.view.next_bad, seen, short="Next", also=("failing", "broken"), tells="Row by row, and round.  N", wants="wants the checks on the screen"),
            Action("checks.mend", "What would make this check hold", canvas.drawer.work_out, self._mendable, short="Mend", also=("repair", "fix", "aim", "limit"), tells="Values, limits and corners, each with what would come of it.  Enter", wants="wants a check that does not hold"),
            Action("checks.open", "Go where this check leads", canvas.open, chosen, short="Go to it", tells="The document in that row and alternate.  G", wants="wants a cell"),
            Action("checks.row", "Show the row of this check", canvas.show_row, chosen, short="Show row", tells="As the configuration of the window.", wants="wants a cell"),
        ]  # fmt: skip

    def _mendable(self) -> bool:
        return self._chosen() and self.canvas.drawer.mendable

    def _chosen(self) -> bool:
        return self.canvas.isVisible() and self.canvas.cell is not None
