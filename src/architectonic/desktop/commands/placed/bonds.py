"""Joints and placement rules of the shown assembly, and what stays where it is."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from architectonic.check import switched
from architectonic.describe.words.candidates import lines
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.sentences.bondcard import BondCard
from architectonic.family import edits, names, scopes
from architectonic.family.names import free_name
from architectonic.family.records import Assembly, Bond, Instance, use_of
from architectonic.session.assembly import grid
from architectonic.session.joining.replacing import places_found

ROW, RING = "in a row along", "in a ring about"


class BondCommands:
    """Callbacks about what holds instances together."""

    def __init__(self, desk: Desk, prompt: Prompt, card: BondCard) -> None:
        self.desk, self.prompt, self.card = desk, prompt, card

    def actions(self) -> list[Action]:
        """The actions about joints and rules."""
        several, bond, instance = self._several, lambda: self._bond is not None, lambda: self._instance is not None
        return [
            Action("bond.joint", "Joint between two parts…", partial(self.card.start, True), several, short="Joint…", also=("mate", "hinge", "slider", "revolute", "prismatic", "pair"), tells="Two clicks: what moves, and what it goes to.", wants="wants two placed parts"),
            Action("bond.rule", "Place a part by a rule…", partial(self.card.start, False), several, short="Rule…", also=("mate", "flush", "against", "coaxial", "align", "constraint"), tells="Two clicks: what moves, and what it goes to.", wants="wants two placed parts"),
            Action("bond.edit", "Edit this joint or rule", self.edit, bond, short="Edit…", tells="Opens its sentence.", wants="wants a joint or rule"),
            Action("bond.switch", "Let this joint or rule hold here, or not", self.switch, bond, short="On or off", also=("suppress",), tells="In the shown alternate only.", wants="wants a joint or rule"),
            Action("instance.replace", "Replace this part…", self.replace, instance, short="Replace…", also=("exchange", "swap"), tells="Joints find their places on it by name; what does not is told.", wants="wants a placed part"),
            Action("instance.fork", "Fork this part…", self.fork, instance, short="Fork…", also=("copy", "independent", "variation"), tells="A copy of its document stands here; it shares nothing.", wants="wants a placed part"),
            Action("instance.repeat", "Repeat this part in a row or ring…", self.repeat, instance, short="Repeat…", also=("pattern", "array", "copies"), tells="Further uses that follow the first.", wants="wants a placed part"),
            Action("instance.once", "Let this part stand once", self.once, lambda: self._instance is not None and bool(self._instance.repeats), short="Once", tells="Takes its further uses away.", wants="wants a repeated part"),
            Action("instance.fix", "Fix this part, or let it go", self.fix, instance, short="Fix", also=("ground", "anchor"), tells="What is fixed stays; others come to it.", wants="wants a placed part"),
        ]  # fmt: skip

    @property
    def _assembly(self) -> Assembly | None:
        found = self.desk.main.document
        return found if isinstance(found, Assembly) else None

    def _several(self) -> bool:
        return self._assembly is not None and bool(self._assembly.instances)

    @property
    def _bond(self) -> Bond | None:
        found = self._assembly
        return next((b for b in found.bonds if b.id == self.desk.main.operation), None) if found is not None else None

    @property
    def _instance(self) -> Instance | None:
        """The chosen row, or what is picked."""
        found, main = self._assembly, self.desk.main
        key = next((use_of(p.body.path[0])[0] for p in main.picks if p.body.path), main.operation)
        return next((i for i in found.instances if i.id == key), None) if found is not None else None

    def edit(self) -> None:
        """Open the sentence of the chosen one."""
        if self._bond is not None:
            self.card.change(self._bond.id)

    def switch(self) -> None:
        """Off where it is on in the shown alternate, and the other way round."""
        bond, at = self._bond, self.desk.main.at
        if bond is not None and at is not None:
            on = not switched.is_on(self.desk.family, self.desk.evaluation, at, bond)
            where = scopes.alternate_name(self.desk.family, at)
            label = f"{bond.name} {'on' if on else 'off'}{f' in {where}' if where else ''}"
            self.desk.apply(label, lambda f: edits.set_bond_switch(f, at.document, bond.id, on, at.alternate))

    def replace(self) -> None:
        """Ask what stands here instead: in the shown alternate, and in those that follow it."""
        found, at = self._instance, self.desk.main.at
        if found is None or at is None:
            return
        column = grid.MakeUp(at.document, found)
        shown = column.shown(self.desk.family, self.desk.evaluation, at).text
        offered = [c for c in column.choices(self.desk.family) if c != shown]
        where = scopes.alternate_name(self.desk.family, at)

        def done(text: str) -> bool:
            label = f"{found.name}{f' of {where}' if where else ''} {shown} → {text}"
            return self.desk.apply(
                label, lambda f: places_found(column.change(f, at.alternate, text), at.document, found.id)
            )

        title = f"{found.name}{f' in {where}' if where else ''}: instead of {shown}"
        self.prompt.ask(title, [("what stands here", offered)], done, "Replace")

    def fork(self) -> None:
        """Ask for the name of the copy."""
        found, at = self._instance, self.desk.main.at
        if found is None or at is None:
            return
        cell, filled = scopes.fill(self.desk.family, at, found)
        source = self.desk.family.documents.get(filled.document)
        if source is None:
            self.desk.told.emit("Nothing stands here that could be forked.", True)
            return
        free = free_name(source.name, [d.name for d in self.desk.family.documents.values()])

        def done(name: str) -> bool:
            return self.desk.apply(
                f"fork {source.name} as {name}",
                lambda f: edits.fork_instance(f, at.document, found.id, name, cell)[0],
            )

        self.prompt.ask(f"Fork {source.name}", [("name of the copy", free)], done, "Fork")

    def repeat(self) -> None:
        """Ask along or about what, how often and how far."""
        found, at = self._instance, self.desk.main.at
        document = self._assembly
        if found is None or at is None or document is None:
            return
        old = found.repeats[0] if found.repeats else None
        axes = dict(lines(replace(self.desk.main.subject, picks=())))
        order = list(axes)
        if old is not None:
            order.sort(key=lambda n: axes[n] != old.axis)
        else:
            order.sort(key=lambda n: not n.endswith("axis"))
        shown = (
            [names.shown_text(self.desk.family, document, e) for e in (old.count, old.step)] if old else ["3", "20 mm"]
        )
        ways = [RING, ROW] if old is not None and old.about else [ROW, RING]

        def done(way: str, axis: str, count: str, step: str) -> bool:
            about = way == RING
            label = f"{found.name} × {count} {'about' if about else 'along'} {axis}"
            return self.desk.apply(
                label, lambda f: edits.repeat_instance(f, at.document, found.id, axes[axis], about, count, step)
            )

        fields: list[tuple[str, str | list[str]]] = [("it stands", ways), ("of", order), ("uses in all", shown[0])]
        self.prompt.ask(f"Repeat {found.name}", [*fields, ("each farther by", shown[1])], done, "Repeat")

    def once(self) -> None:
        """No further uses."""
        found, at = self._instance, self.desk.main.at
        if found is not None and at is not None:
            self.desk.apply(f"{found.name} once", lambda f: edits.repeat_no_more(f, at.document, found.id))

    def fix(self) -> None:
        """Fixed where it stands now, or free again."""
        found, at = self._instance, self.desk.main.at
        if found is None or at is None:
            return
        fixed = not found.fixed
        label = f"{found.name} is {'fixed' if fixed else 'free'}"
        self.desk.apply(label, lambda f: edits.fix(f, at.document, found.id, fixed))
