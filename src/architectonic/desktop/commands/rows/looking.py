"""Looking at rows beside each other: what differs, side by side, one laid over the other, one column over all of them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QWidget

from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.body.laidover import Other
from architectonic.desktop.body.linked import LinkedCameras
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.dock import Dock
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.ranges.grid import RangeGrid
from architectonic.desktop.ranges.plot import PlotCard, PlotPoint
from architectonic.desktop.ranges.together import MOST, TogetherCard
from architectonic.family import names
from architectonic.session.ranges.differing import differences
from architectonic.session.ranges.rows import rows

NONE = "none"


class LookingCommands:
    """Callbacks that show two rows, or all of them, beside each other."""

    def __init__(
        self,
        desk: Desk,
        prompt: Prompt,
        cards: ListCard,
        grid: RangeGrid,
        canvases: tuple[BodyCanvas, BodyCanvas],
        show_tab: Callable[[str], object],
    ) -> None:
        self.desk, self.prompt, self.cards, self.grid, self.show_tab = desk, prompt, cards, grid, show_tab
        self.canvas = canvases[0]
        self.cameras = LinkedCameras(*canvases)
        dock: QWidget | None = cards.parentWidget()
        self.plot, self.together = PlotCard(dock, self._go), TogetherCard(dock, desk)
        for card in (self.plot, self.together):
            if isinstance(dock, Dock):
                dock.hold(card)
        desk.beside.changed.connect(self._on_beside)

    def actions(self) -> list[Action]:
        """The actions that compare."""
        several, drawn = self._several, self._drawn
        return [
            Action("row.compare", "What differs from another configuration…", self.compare, several, short="Compare…", also=("difference",), tells="Every column that shows something else.", wants="wants two configurations"),
            Action("row.beside", "Another configuration beside this one…", self.ask_beside, drawn, short="Beside…", also=("side by side",), tells="Seen from the same side, and turned together.", wants="wants two configurations with bodies"),
            Action("row.together", "Several configurations side by side", self.show_together, drawn, short="Side by side", also=("compare", "linked", "many"), tells="The chosen rows, or the first ones, turned together; and what differs.", wants="wants two configurations with bodies"),
            Action("row.over", "Lay another configuration over this one…", self.ask_over, drawn, short="Lay over…", also=("ghost", "overlay"), tells="Both in one picture, with a slider between them.", wants="wants two configurations with bodies"),
            Action("column.plot", "This column over all rows", self.plot_column, self._has_column, short="Plot", also=("chart", "graph"), tells="A small plot; a click goes to the row.", wants="wants a column of figures"),
        ]  # fmt: skip

    def _several(self) -> bool:
        document = self.desk.main.document
        return document is not None and len(self._others()) > 0

    def _drawn(self) -> bool:
        document = self.desk.main.document
        return document is not None and (document.makes_bodies or document.placeable) and self._several()

    def _others(self) -> dict[str, str]:
        """Rows by name, but the one that is shown."""
        document, at = self.desk.main.document, self.desk.main.at
        if document is None or at is None:
            return {}
        return {r.name: r.key for r in rows(self.desk.family, document) if r.key != at.configuration}

    def _ask(self, title: str, verb: str, done: Callable[[str], object], more: tuple[str, ...] = ()) -> None:
        """Ask which other one; the second chosen row of the grid is offered first."""
        others = self._others()
        chosen = [names.row_name(self.desk.family, self.desk.main.document_id, k) for k in self.grid.view.chosen_rows()]
        first = [n for n in reversed(chosen) if n in others] if self.grid.isVisible() else []
        offered = list(dict.fromkeys([*first, *others, *more]))

        def take(name: str) -> bool:
            done(name)
            return True

        self.prompt.ask(title, [("configuration", offered)], take, verb)

    @property
    def _shown(self) -> str:
        at = self.desk.main.at
        return names.row_name(self.desk.family, at.document, at.configuration) if at is not None else ""

    def compare(self) -> None:
        """Ask which, and list what differs."""
        self._ask(f"Compare {self._shown} with", "Compare", self._list)

    def _list(self, name: str) -> None:
        at, evaluation, other = self.desk.main.at, self.desk.settled, self._others().get(name)
        if at is None or evaluation is None or other is None:
            return
        found = differences(self.desk.family, evaluation, at, at._replace(configuration=other))
        told = f"{self._shown} and {name} differ in {len(found)}" if found else f"{self._shown} and {name} are the same"
        choices = (
            [("Lay over", partial(self.lay_over, name)), ("Beside", partial(self.beside, name))]
            if self._drawn()
            else []
        )
        self.cards.start(
            told, ("", "what", self._shown, name), [((d.group, d.title, *d.texts), None) for d in found], choices
        )

    def ask_beside(self) -> None:
        """Ask which."""
        self._ask(f"Beside {self._shown}", "Show", self.beside)

    def beside(self, name: str) -> None:
        """The same document in the second pane, in that row, seen from the same side; and what differs."""
        other, key = self._others().get(name), self.desk.main.document_id
        if other is not None:
            self.show_tab("Bodies")
            self.desk.show_beside(key)
            self.desk.beside.show_own(other)
            self.cameras.link(True)

    def show_together(self) -> None:
        """The chosen rows of the grid where there are several, else the first ones."""
        document, at = self.desk.main.document, self.desk.main.at
        if document is None or at is None:
            return
        known = [r.key for r in rows(self.desk.family, document)]
        chosen = self.grid.view.chosen_rows() if self.grid.isVisible() else []
        wanted = chosen if len(chosen) > 1 else known
        if len(wanted) > MOST:
            self.desk.told.emit(f"The first {MOST} of {len(wanted)} are shown.", False)
        self.together.start([at._replace(configuration=k) for k in wanted[:MOST]])

    def _on_beside(self) -> None:
        """Another document beside is looked at by itself."""
        if self.cameras.on and self.desk.beside.document_id != self.desk.main.document_id:
            self.cameras.link(False)
            self.desk.beside.own_size = ""

    def ask_over(self) -> None:
        """Ask which; both are seen, with a slider between them."""
        self._ask(f"Lay over {self._shown}", "Lay over", self.lay_over, (NONE,))

    def lay_over(self, name: str) -> None:
        """Lay a row over the shown one."""
        other = self._others().get(name)
        self.show_tab("Bodies")
        self.canvas.laid.lay([Other(configuration=other)] if other is not None else [])

    # --- a column over all rows -----------------------------------------------------------------------

    def _has_column(self) -> bool:
        return self.grid.isVisible() and len(self._points()) > 1

    def _points(self) -> list[PlotPoint]:
        model, place = self.grid.model, self.grid.view.currentIndex().column()
        found = []
        for k, row in enumerate(model.rows if 0 < place < len(model.headers) else ()):
            try:
                found.append(PlotPoint(row.key, row.name, float(model.cell(k, place).text)))
            except ValueError:
                continue
        return found

    def plot_column(self) -> None:
        """The column in which the keyboard is."""
        model, place = self.grid.model, self.grid.view.currentIndex().column()
        column, at = model.columns[place - 1], self.desk.main.at
        title = (
            f"{column.title} {column.unit}".strip()
            + f" of {self.desk.main.document.name if self.desk.main.document else ''}"
        )
        self.plot.start(title, self._points(), at.configuration if at is not None else "")

    def _go(self, key: str) -> None:
        self.desk.show(size=key)
        self.grid.view.choose(key, max(0, self.grid.view.currentIndex().column()))
        self.plot.plot.shown = key
        self.plot.plot.update()
