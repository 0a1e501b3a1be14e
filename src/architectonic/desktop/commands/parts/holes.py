"""Holes at hand: their list, and the sentence that made one, from wherever it is seen."""

from __future__ import annotations

from collections.abc import Callable

from architectonic.base.labels import made_by, plain
from architectonic.check import holes
from architectonic.check.holes import HoleRow
from architectonic.describe.words.blanks import counted
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.pane.desk import Desk
from architectonic.family.records import Assembly
from architectonic.session.model import holefacts
from architectonic.session.model.holefacts import ROLES, length

HEADINGS = ("for", "size", "class", "sunk", "depth", "thread", "hand", "count", "first at", "made by")


class HoleCommands:
    """Callbacks about holes.

    Args:
        go_to: shows an item of a document; edit: opens the sentence of the chosen operation.
    """

    def __init__(
        self,
        desk: Desk,
        cards: ListCard,
        canvas: BodyCanvas,
        go_to: Callable[[str, str], object],
        edit: Callable[[], object],
    ) -> None:
        self.desk, self.cards, self.canvas, self.go_to, self.edit = desk, cards, canvas, go_to, edit

    def actions(self) -> list[Action]:
        """The actions about holes."""
        return [
            Action("holes.list", "Hole list", self.list, self._has_bodies, short="Hole list", also=("hole table", "threads"), tells="Every hole with size, thread, depth and place.", wants="wants a body"),
            Action("pick.hole", "Open the hole where it was made", self.open, lambda: self._picked() is not None, short="Open hole", also=("edit hole",), tells="Its sentence, in the document that drilled it.", wants="wants a face of a hole"),
        ]  # fmt: skip

    def _has_bodies(self) -> bool:
        return bool(self.canvas.meshes)

    def _picked(self) -> holefacts.WhereMade | None:
        for pick in self.desk.main.picks:
            found = holefacts.of_face(self.desk.main.subject, pick.body, pick.label) if pick.kind == "face" else None
            if found is not None:
                return holefacts.made_in(self.desk.family, found[0].operation)
        return None

    def open(self) -> None:
        """Show the document that made the picked hole, with its sentence open."""
        made = self._picked()
        if made is not None:
            self.go_to(made.document, made.operation)
            self.edit()

    def list(self) -> None:
        """All holes of what is shown; going to a row lights their walls."""
        at, evaluation, document = self.desk.main.at, self.desk.settled, self.desk.main.document
        if at is None or evaluation is None or document is None:
            return
        of = holes.of_assembly if isinstance(document, Assembly) else holes.of_document
        found = of(evaluation, at)
        total = sum(r.number for r in found)
        title = f"{document.name}: {counted(total, 'hole')}" if found else f"{document.name} has no holes with data"
        self.cards.start(title, HEADINGS, [(self._words(r), lambda row=r: self._light(row)) for r in found])  # type: ignore[misc]

    @staticmethod
    def _words(row: HoleRow) -> tuple[str, ...]:
        h = row.holes
        size = f"Ø{row.diameter:.4g}" + ("" if row.as_made else f", was Ø{h.diameter:.4g}")
        sunk = f"Ø{h.counterbore[0]:.4g} × {h.counterbore[1]:.4g}" if h.counterbore else ""
        sunk = f"Ø{h.countersink[0]:.4g}" if h.countersink else sunk
        count = str(row.number) + (f", {row.parted} cut open" if row.parted else "")
        depth = length(row.depth) + (", through" if h.through else "")
        at = ", ".join(f"{c:.4g}" for c in row.places[0])
        return (
            h.made_for or h.purpose,
            size,
            h.tolerance,
            sunk,
            depth,
            h.thread,
            h.hand if h.thread else "",
            count,
            at,
            h.name,
        )

    def _light(self, row: HoleRow) -> None:
        wanted, operation = set(row.bodies), frozenset((row.holes.operation,))
        self.desk.main.pick(
            [
                ("face", b, f)
                for b, m, _ in self.canvas.meshes
                if b in wanted
                for f in dict.fromkeys(m.faces)
                if made_by(plain(f), operation, ROLES) is not None
            ]
        )
