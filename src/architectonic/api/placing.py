"""What an assembly places, from Python: what fills each place, where it stands, and alternates of both."""

from __future__ import annotations

from typing import Any

from architectonic.api.documents import Model
from architectonic.api.protocols import Opened
from architectonic.base.errors import UserFault
from architectonic.family import edits, scopes
from architectonic.family import records as r
from architectonic.family.documents.assembly import TAKES
from architectonic.family.scopes import Scope
from architectonic.session.assembly import grid
from architectonic.session.joining.replacing import places_found
from architectonic.session.open.whatif import find_configuration


class Placing(Model):
    """Instances, and the alternates in which they differ."""

    def __init__(self, opened: Opened, key: str, size: str = "", shown: str = "") -> None:
        super().__init__(opened, key, size)
        self.shown = shown

    @property
    def at(self) -> Scope:
        """It in its size and alternate, the first ones by default."""
        family, at = self.opened.family, super().at
        return (
            scopes.scope(family, self.id, at.configuration, edits.find_alternate(family, self.id, self.shown))
            if self.shown
            else at
        )

    def in_size(self, size: str) -> Any:
        """The same assembly, in the same alternate, as it is in a size or row."""
        return type(self)(self.opened, self.id, super().in_size(size).size, self.shown)

    def in_alternate(self, name: str) -> Any:
        """The same assembly, in the same size, as it is in an alternate."""
        edits.find_alternate(self.opened.family, self.id, name)
        return type(self)(self.opened, self.id, self.size, name)

    def alternate(self, name: str, follows: str = "", number: str = "", note: str = "") -> Any:
        """A new alternate, the same as the one it follows until something of its own is said; the assembly in it."""

        def change(family: r.Family) -> r.Family:
            parent = edits.find_alternate(family, self.id, follows) if follows else ""
            family, key = edits.add_alternate(family, self.id, name, parent, self.opened.new_id)
            return edits.change_alternate(family, self.id, key, number=number, note=note)

        self.apply(f"new alternate {name}", change)
        return self.in_alternate(name)

    def cell(self, where: str) -> str:
        """The cell of a size, row or alternate; "" for what is common to all."""
        rows = {a.name: a.id for a in self._assembly().alternates}
        return rows.get(where) or super().cell(where)

    def _assembly(self) -> r.Assembly:
        record = self.record
        assert isinstance(record, r.Assembly)
        return record

    def _instance(self, name: str) -> r.Instance:
        rows = {i.name: i for i in self._assembly().instances}
        if name not in rows:
            raise UserFault(f"“{name}” is not placed here", self.name, "it is one of " + ", ".join(rows))
        return rows[name]

    def _bond(self, name: str) -> r.Bond:
        rows = {b.name: b for b in self._assembly().bonds}
        if name not in rows:
            raise UserFault(f"there is no joint or rule “{name}”", self.name, "it is one of " + ", ".join(rows))
        return rows[name]

    def place(self, document: str, name: str = "", placement: tuple[float, ...] = ()) -> None:
        """Place a part or assembly; on the shared origin unless 16 numbers say where (base.rigid)."""
        source = edits.find_document(self.opened.family, document).id
        self.apply(
            f"place {document}", lambda f: edits.add_instance(f, self.id, source, name, self.opened.new_id, placement)
        )

    def repeat(
        self, instance: str, count: str, step: str, along: Any = None, about: Any = None, more: bool = False
    ) -> None:
        """Let an instance stand several times, along a line or axis or about one: each use so far from the one before.

        Args:
            count, step: expressions; along, about: the name of a datum, or a standard axis such as "x".
            more: beside the rows and rings that it has; otherwise instead of the first.
        """
        thing = along if about is None else about
        axis = r.Reference(item=thing if thing in r.STANDARD else self.operation(thing).id)
        found = self._instance(instance)
        at = len(found.repeats) if more else 0
        self.apply(
            f"repeat {instance}",
            lambda f: edits.repeat_instance(f, self.id, found.id, axis, about is not None, count, step, at),
        )

    def name_alternates(self, pattern: str) -> None:
        """Call all alternates by what the columns of the grid show: `{Stand}, {Shoulder} deg`."""
        seen = self.evaluation()
        self.apply(f"alternates named {pattern}", lambda f: grid.named(f, seen, self.at, pattern))

    def fill(
        self,
        instance: str,
        document: str = "",
        size: str = "",
        alternate: str = "",
        choose: str = "",
        where: str = "",
        item: str = "",
    ) -> None:
        """Say what fills the place of an instance: a document, in a size, an alternate, one item of a part, or nothing.

        Args:
            size: always this one; "" for the same as the assembly. choose: an expression that names it instead.
            where: the alternate or size in which it holds; "" for wherever none says otherwise.
        """
        family, key = self.opened.family, self._instance(instance).id
        if not document:
            made = r.Fill()
        else:
            source = edits.find_document(family, document).id
            row = find_configuration(family, source, size) if size else r.MATCH
            taken = edits.find_alternate(family, source, alternate) if alternate else ""
            alone = next((i.id for i in getattr(family.documents[source], "part_items", ()) if i.name == item), "")
            if item and not alone:
                raise UserFault(f"{document} has no part item “{item}”", self.name, "make one of its bodies first")
            made = edits.bind_fill(family, self.id, source, row, taken, choose, alone)
        cell = self.cell(where)
        self.apply(
            f"{instance}: {document or 'nothing'}",
            lambda f: places_found(edits.set_fill(f, self.id, key, made, cell), self.id, key),
        )

    def drive(self, bond: str, text: str, where: str = "", field: str = "") -> None:
        """Give a joint or rule a value; "" lets it go where no other value holds.

        Args:
            where: the alternate or size in which it holds; "" for wherever none says otherwise.
            field: slide, turn, offset, angle or lead; "" for the first that the kind takes of turn, slide, offset, angle.
        """
        found = self._bond(bond)
        takes = TAKES[found.kind]
        named = field or next((k for k in ("turn", "slide", "offset", "angle") if k in takes), "")
        cell = self.cell(where)
        self.apply(f"{bond} {text}", lambda f: edits.set_bond_value(f, self.id, found.id, named, text, cell))

    def limit(self, bond: str, least: str = "", most: str = "", field: str = "") -> None:
        """Say how far a joint goes; an end without text is open."""
        found = self._bond(bond)
        named: Any = field or ("turn" if "turn" in TAKES[found.kind] else "slide")
        self.apply(f"limits of {bond}", lambda f: edits.set_limits(f, self.id, found.id, named, least, most))

    def stand(self, instance: str, placement: tuple[float, ...], where: str = "") -> None:
        """Say where an instance stands, or starts when joints place it."""
        key, cell = self._instance(instance).id, self.cell(where)
        self.apply(f"place {instance}", lambda f: edits.stand_at(f, self.id, {key: placement}, cell))

    def fix(self, instance: str, fixed: bool = True) -> None:
        """Let an instance stay where it is, whatever comes to it; or let it go."""
        key = self._instance(instance).id
        self.apply(f"fix {instance}", lambda f: edits.fix(f, self.id, key, fixed))
