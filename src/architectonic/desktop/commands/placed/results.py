"""What an assembly comes to: what runs into what, what it is made of, and what differs between two alternates."""

from __future__ import annotations

from collections.abc import Callable

from architectonic.base.errors import UserFault
from architectonic.check import parts
from architectonic.describe.assembly.clashes import Clashes, Clearance
from architectonic.describe.assembly.joints import told
from architectonic.describe.results import Node
from architectonic.describe.words.blanks import counted
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.body.laidover import Other
from architectonic.desktop.body.player import JointPlayer
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.dock import Dock
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.tables.contactsheet import ContactSheet, SheetPicture, pictures
from architectonic.family import scopes
from architectonic.family.records import Assembly, Bond
from architectonic.family.scopes import InPlace, Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities.compiled import complete, fixed_value
from architectonic.session.assembly import grid
from architectonic.session.assembly.figures import interference
from architectonic.session.open.queries import ask


class ResultCommands:
    """Callbacks about what comes of an assembly."""

    def __init__(self, desk: Desk, prompt: Prompt, cards: ListCard, canvas: BodyCanvas) -> None:
        self.desk, self.prompt, self.cards, self.canvas = desk, prompt, cards, canvas
        dock = cards.parentWidget()
        self.sheet = ContactSheet(dock)
        if isinstance(dock, Dock):
            dock.hold(self.sheet)
        self.player = JointPlayer(desk)

    def actions(self) -> list[Action]:
        """The actions about results of assemblies."""
        several = self._several
        return [
            Action("assembly.clashes", "What runs into what", self.clashes, self._in_assembly, short="Interference", also=("collision", "clash", "overlap"), tells="Each pair with the volume that both fill.", wants="wants an assembly"),
            Action("assembly.near", "How near bodies come to each other…", self.clearances, self._in_assembly, short="Clearance…", also=("gap", "distance", "contact"), tells="Pairs nearer than a limit; touching is told from overlapping.", wants="wants an assembly"),
            Action("assembly.parts", "Parts list", self.parts, self._in_assembly, short="Parts list", also=("bill of materials",), tells="Every part with number, material and quantity.", wants="wants an assembly"),
            Action("alternate.sheet", "Contact sheet of all sizes and alternates", self.contact_sheet, self._pictured, short="Contact sheet", also=("overview", "pictures", "gallery"), tells="All side by side in one scale; a click shows one.", wants="wants a part or assembly"),
            Action("alternate.compare", "What differs from another alternate…", self.compare, several, short="Compare…", also=("difference",), tells="Make-up, pose, results and parts that differ.", wants="wants two alternates"),
            Action("alternate.over", "Lay another alternate over this one…", self.lay_over, several, short="Lay over…", also=("ghost", "overlay"), tells="Both in one picture, with a slider between them.", wants="wants two alternates"),
            Action("bond.play", "Play this joint through its range", self.play, lambda: self._bond is not None, short="Play", also=("motion", "animate", "simulate"), tells="From limit to limit; says where bodies first touch.", wants="wants a joint"),
        ]  # fmt: skip

    def _in_assembly(self) -> bool:
        return isinstance(self.desk.main.document, Assembly)

    def _several(self) -> bool:
        return len(getattr(self.desk.main.document, "alternates", ())) > 1

    @property
    def _bond(self) -> Bond | None:
        bonds = getattr(self.desk.main.document, "bonds", ())
        return next((b for b in bonds if b.id == self.desk.main.operation and b.moves), None)

    # --- lists ----------------------------------------------------------------------------------------

    def clashes(self) -> None:
        """Every pair of bodies that run into each other; going to one lights both."""
        at, evaluation, document = self.desk.main.at, self.desk.settled, self.desk.main.document
        if at is None or evaluation is None or document is None:
            return
        found = evaluation.value(Node("clashes", at, ""))
        where = scopes.alternate_name(self.desk.family, at)
        title = f"{document.name}{f', {where}' if where else ''}: "
        if not isinstance(found, Clashes):
            self.cards.start(title + "it is not known yet what runs into what", ("",), [])
            return
        rows = [
            (
                (parts.way(evaluation, at, c.a), parts.way(evaluation, at, c.b), f"{c.volume:.4g} mm³"),
                lambda pair=(c.a, c.b): self._light(pair),
            )
            for c in sorted(found.pairs, key=lambda c: -c.volume)
        ]
        rows += [
            ((parts.way(evaluation, at, a), parts.way(evaluation, at, b), "could not be compared"), None)  # type: ignore[misc]
            for a, b in found.unknown
        ]
        told_ = "nothing runs into anything" if not rows else interference(evaluation, at)
        others = [
            scopes.alternate_name(self.desk.family, s)
            for s in scopes.scopes_of(self.desk.family, document)
            if s.configuration == at.configuration and s != at and _clashing(evaluation.value(Node("clashes", s, "")))
        ]
        also = f"; also in {', '.join(others)}" if others else ""
        self.cards.start(title + told_ + also, ("one", "the other", "both fill"), rows)

    def clearances(self) -> None:
        """Ask for a limit; it is worked out beside the event loop, and each pair can be lit."""

        def done(typed: str) -> bool:
            at, family = self.desk.main.at, self.desk.family
            if at is None:
                return True
            try:
                limit = fixed_value(complete(typed, "length", "mm"), "length")
            except UserFault as fault:
                self.desk.told.emit(fault.sentence, True)
                return False
            node = Node("clearances", at, "", repr(limit))
            self.desk.work.run(
                "Comparing bodies", lambda watch: ask(family, [node]), lambda seen: self._near(seen, node, typed)
            )
            return True

        self.prompt.ask("How near bodies come", [("pairs nearer than", "2 mm")], done, "Look")

    def _near(self, seen: Evaluation, node: Node, typed: str) -> None:
        found: tuple[Clearance, ...] = seen.value(node) or ()
        rows = [
            (
                (parts.way(seen, node.at, c.a), parts.way(seen, node.at, c.b), _how_near(c)),
                lambda pair=(c.a, c.b): self._light(pair),
            )
            for c in found
        ]
        name, where = self.desk.family.documents[node.document].name, scopes.alternate_name(self.desk.family, node.at)
        title = f"{name}{f', {where}' if where else ''}: "
        title += f"{counted(len(rows), 'pair')} nearer than {typed}" if rows else f"nothing is nearer than {typed}"
        self.cards.start(title, ("one", "the other", "apart"), rows)

    def _light(self, pair: tuple[InPlace, InPlace]) -> None:
        """All faces of two bodies."""
        meshes = {b: m for b, m, _ in self.canvas.meshes}
        self.desk.main.pick([("face", b, f) for b in pair if b in meshes for f in dict.fromkeys(meshes[b].faces)])

    def parts(self) -> None:
        """What the shown alternate is made of, as it is built up."""
        at, evaluation, document = self.desk.main.at, self.desk.settled, self.desk.main.document
        if at is None or evaluation is None or document is None:
            return
        found = parts.nested(evaluation, at)
        rows: list[tuple[tuple[str, ...], Callable[[], object] | None]] = [
            (
                (
                    line.number, "    " * line.depth + line.name, ", ".join(n for n in (line.configuration, line.alternate) if n),
                    line.material, str(line.quantity), "—" if line.mass is None else f"{line.mass:.1f} g",
                ),
                lambda k=line.at.document: self.desk.show(k),  # type: ignore[misc]
            )
            for line in found
        ]  # fmt: skip
        count = sum(line.quantity for line in parts.flat(evaluation, at))
        where = scopes.alternate_name(self.desk.family, at)
        title = f"{document.name}{f', {where}' if where else ''}: {count} parts"
        self.cards.start(title, ("number", "part", "in", "material", "quantity", "each"), rows)

    # --- alternates beside each other -----------------------------------------------------------------

    def _others(self) -> dict[str, str]:
        document, at = self.desk.main.document, self.desk.main.at
        assert isinstance(document, Assembly) and at is not None
        return {a.name: a.id for a in document.alternates if a.id != at.alternate}

    def compare(self) -> None:
        """Ask which other one, and list what differs."""
        others, shown = self._others(), self._shown()

        def done(name: str) -> bool:
            self._list(shown, name, others[name])
            return True

        self.prompt.ask(f"Compare {shown} with", [("alternate", list(others))], done, "Compare")

    def _shown(self) -> str:
        at = self.desk.main.at
        return scopes.alternate_name(self.desk.family, at) if at is not None else ""

    def _list(self, shown: str, name: str, other: str) -> None:
        document, at, evaluation = self.desk.main.document, self.desk.main.at, self.desk.settled
        if not isinstance(document, Assembly) or at is None or evaluation is None:
            return
        there = at._replace(alternate=other)
        rows: list[tuple[tuple[str, ...], Callable[[], object] | None]] = []
        for column in grid.columns(document, True):
            here, then = (column.shown(self.desk.family, evaluation, s).text for s in (at, there))
            if here != then:
                rows.append(((column.group, f"{column.title} {column.unit}".strip(), here, then), None))
        for mine, its in parts.differences(parts.flat(evaluation, at), parts.flat(evaluation, there)):
            line = mine or its
            assert line is not None
            counts = [str(x.quantity) if x is not None else "none" for x in (mine, its)]
            rows.append((("Parts", line.name, *counts), lambda k=line.at.document: self.desk.show(k)))  # type: ignore[misc]
        title = f"{shown} and {name} differ in {len(rows)}" if rows else f"{shown} and {name} are the same"
        self.cards.start(title, ("", "what", shown, name), rows)

    def _pictured(self) -> bool:
        document = self.desk.main.document
        return document is not None and document.placeable

    def contact_sheet(self) -> None:
        """Every size and alternate in one scale; drawn beside the event loop."""
        document, at, family = self.desk.main.document, self.desk.main.at, self.desk.family
        if document is None or at is None:
            return
        wanted = scopes.scopes_of(family, document)
        title = f"{document.name}: {len(wanted)} in one scale"

        def drawn(found: list[SheetPicture]) -> None:
            self.sheet.start(title, family, found, at, self._show_scope)

        self.desk.work.run(f"Drawing {len(wanted)} pictures", lambda watch: pictures(family, wanted), drawn)

    def _show_scope(self, at: Scope) -> None:
        self.desk.show(at.document, at.configuration, at.alternate)

    def lay_over(self) -> None:
        """Ask which; both are seen, with a slider between them."""
        others = self._others()
        every = [Other(alternate=k) for k in others.values()]
        words = {"every other one": every, "none": [], **{n: [Other(alternate=k)] for n, k in others.items()}}
        order = [*others, "every other one", "none"]

        def done(name: str) -> bool:
            self.canvas.laid.lay(words[name])
            return True

        self.prompt.ask(f"Lay over {self._shown()}", [("alternate", order)], done, "Lay over")

    # --- motion ---------------------------------------------------------------------------------------

    def play(self) -> None:
        """From where it is to its limits and back; again stops it."""
        bond, at = self._bond, self.desk.main.at
        if bond is not None and at is not None:
            field = bond.moves
            self.player.start(at, bond, lambda v: told(field, round(v, 5)))


def _how_near(found: Clearance) -> str:
    if found.volume > 0:
        return f"overlap, {found.volume:.4g} mm³"
    return f"{found.distance:.3f} mm" if found.distance else "touching"


def _clashing(found: object) -> bool:
    return isinstance(found, Clashes) and bool(found.pairs)
