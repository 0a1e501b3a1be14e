"""Assemblies from Python: what is placed, how it holds together, where it stands; and every document as what it is."""

from __future__ import annotations

from typing import Any

from architectonic.api.bodies import Body
from architectonic.api.documents import Document, Model, Table
from architectonic.api.offering import offered, witnesses
from architectonic.api.protocols import Opened
from architectonic.api.sketches import Sketch
from architectonic.base.errors import UserFault
from architectonic.base.rigid import IDENTITY
from architectonic.check import parts
from architectonic.check.parts import PartLine
from architectonic.describe.assembly.clashes import Clearance
from architectonic.describe.results import Node
from architectonic.family import edits, scopes
from architectonic.family import records as r
from architectonic.family.documents.assembly import TAKES
from architectonic.family.scopes import Scope
from architectonic.quantities import units
from architectonic.session.assembly import sending, working
from architectonic.session.joining.motion import JointMotion, moved_through, steps
from architectonic.session.open.queries import ask
from architectonic.session.open.whatif import find_configuration
from architectonic.session.product import planning


class Assembly(Model):
    """An assembly: instances of parts and assemblies."""

    def place(self, document: str, name: str = "", placement: tuple[float, ...] = ()) -> None:
        """Place a part or assembly; on the shared origin unless 16 numbers say where (base.rigid)."""
        source = edits.find_document(self.opened.family, document).id
        self.apply(
            f"place {document}", lambda f: edits.add_instance(f, self.id, source, name, self.opened.new_id, placement)
        )

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

    def work_on(self, *ways: str) -> list[Body]:
        """Let the assembly work further on bodies where they stand, by `Arm`, `Arm / Tube` or `Arm / Tube / Cap`; the
        parts stay as they are.

        Returns:
            The bodies as the operations of the assembly know them.

        Raises:
            UserFault: nothing that stands here is called so.
        """
        named = working.bodies_below(self.opened.family, self.id)
        chosen = [b for b, told in named.items() if any(told == w or told.startswith(f"{w} / ") for w in ways)]
        if not chosen:
            known = ", ".join(named.values())
            raise UserFault(f"“{', '.join(ways)}” does not stand here", self.name, f"there are {known}")
        made: list[str] = []

        def change(family: r.Family) -> r.Family:
            family, keys = working.work_on(family, self.id, chosen, make_id=self.opened.new_id)
            made.extend(keys.values())
            return family

        self.apply(f"work on {', '.join(ways)}", change)
        return [Body(self, key) for key in made]

    def send(self, operation: str) -> sending.Sent:
        """Make an operation of the assembly one of each part that it acts on, fed from the assembly as it stands here."""
        key, made = self.operation(operation).id, []

        def change(family: r.Family) -> r.Family:
            family, sent = sending.send(family, self.id, key, self.at.alternate, self.opened.new_id)
            made.append(sent)
            return family

        self.apply(f"send {operation} to the parts", change)
        return made[-1]

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
        self.apply(f"{instance}: {document or 'nothing'}", lambda f: edits.set_fill(f, self.id, key, made, cell))

    def fork(self, instance: str, name: str, where: str = "") -> Document:
        """Fill an instance with a copy of what fills it, that shares nothing with it from then on."""
        key, cell, made = self._instance(instance).id, self.cell(where), []

        def change(family: r.Family) -> r.Family:
            family, copy = edits.fork_instance(family, self.id, key, name, cell, self.opened.new_id)
            made.append(copy)
            return family

        self.apply(f"fork {instance} as {name}", change)
        return document_for(self.opened, made[-1])

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

    def _assembly(self) -> r.Assembly:
        record = self.record
        assert isinstance(record, r.Assembly)
        return record

    def cell(self, where: str) -> str:
        """The cell of a size, row or alternate; "" for what is common to all."""
        rows = {a.name: a.id for a in self._assembly().alternates}
        return rows.get(where) or super().cell(where)

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

    def bond(
        self,
        kind: Any,
        a: tuple[str, Any],
        b: tuple[str, Any],
        name: str = "",
        facing: bool = False,
        **values: str,
    ) -> None:
        """A joint or placement rule: what is placed by `b` comes to `a`, as far as nothing else holds it.

        Args:
            kind: a joint (fixed, revolute, prismatic, cylindrical, planar, spherical, screw) or a rule (flush, against,
                coaxial, point, offset, angle, parallel, frame).
            a, b: the name of an instance, "" for the assembly itself, and a face, a datum or a standard plane or axis of it.
            facing: their axes point against each other.
            values: offset, angle, slide, turn, lead, as expressions.
        """
        ends = [self._mounting(*end) for end in (a, b)]
        self.apply(
            f"{kind} {name}".strip(),
            lambda f: edits.add_bond(
                f, self.id, kind, ends[0], ends[1], name, facing, values, new_id=self.opened.new_id
            ),
        )

    def _mounting(self, instance: str, thing: Any) -> r.Mounting:
        found = self._instance(instance) if instance else None
        source = document_for(self.opened, found.document) if found is not None else self
        of = found.document if found is not None else r.SELF
        if isinstance(thing, str) and thing in r.STANDARD:
            place = r.Reference(of=of, item=thing)
        else:
            offer = offered(source, thing, "place")
            place = r.Reference(of=of, item=offer.item, label=offer.label, witness=offer.witness)
        return r.Mounting(instance=found.id if found is not None else "", place=place)

    def fix(self, instance: str, fixed: bool = True) -> None:
        """Let an instance stay where it is, whatever comes to it; or let it go."""
        key = self._instance(instance).id
        self.apply(f"fix {instance}", lambda f: edits.fix(f, self.id, key, fixed))

    def stands(self) -> dict[str, tuple[float, ...]]:
        """Where instances stand, by name: 16 numbers each (base.rigid).

        Raises:
            UserFault: their joints and rules cannot all be true; says which.
        """
        record, node = self.record, Node("posed", self.at, "")
        assert isinstance(record, r.Assembly)
        outcome = ask(self.opened.family, [node]).outcomes[node]
        if outcome.value is None:
            assert outcome.problem is not None
            raise UserFault(outcome.problem.what, self.name, outcome.problem.mend)
        family = self.opened.family
        return {
            i.name: outcome.value.stands.get(i.id) or scopes.starts(family, self.at, i)[1] or IDENTITY
            for i in record.instances
            if scopes.fill(family, self.at, i)[1].document
        }

    def parts(self, nested: bool = False) -> list[PartLine]:
        """What it is made of in its size and alternate, flat or as it is built up; number, material, quantity, mass in g."""
        found = self.opened.evaluate((self.name,), self.opened.name_of(self.at))
        return parts.nested(found, self.at) if nested else parts.flat(found, self.at)

    def clearances(self, below: float) -> list[tuple[str, str, float, float]]:
        """Pairs of bodies of different instances that are less than so many mm apart, nearest first: both by the way to them,
        the distance in mm, and the volume that both fill in mm3. At 0 without a volume they touch."""
        node = Node("clearances", self.at, "", repr(float(below)))
        self.evaluation()
        found = self.opened.engine.evaluator.evaluate(self.opened.family, [node])
        pairs: tuple[Clearance, ...] = found.value(node) or ()
        return [(*(parts.way(found, self.at, b) for b in (c.a, c.b)), c.distance, c.volume) for c in pairs]  # type: ignore[misc]

    def motion(self, joint: str, least: float, most: float, count: int = 37, touching: bool = True) -> JointMotion:
        """A joint moved through a range: where everything stands, and where bodies first run into each other.

        Args:
            least, most: of its value, mm or degrees; touching: whether bodies are compared too.
        """
        bond, family = self._bond(joint), self.opened.family
        factor = units.factor(units.DEFAULT_UNIT["angle"]) if bond.moves == "turn" else 1.0
        values = [v * factor for v in steps(least, most, count)]
        return moved_through(self.opened.engine.evaluator, family, self.at, bond.id, bond.moves, values, touching)

    def plan(self, kind: str, name: str, number: str | None = None) -> Any:
        """An empty part or assembly, placed here; it takes whole the layouts that this assembly takes.

        Args:
            number: None for the next one.
        """
        made: list[str] = []

        def change(family: r.Family) -> r.Family:
            family, key = planning.add(family, self.id, kind, name, number, make_id=self.opened.new_id)  # type: ignore[arg-type]
            made.append(key)
            return family

        self.apply(f"plan {name}", change)
        return document_for(self.opened, made[0])

    def start(self, name: str, source: Document, on: Any, number: str | None = None) -> tuple[Model, Sketch]:
        """A part on the shared origin whose first sketch lies on a plane or flat face of another document.

        Args:
            on: of the source: a datum's name, or a face.

        Returns:
            The part and its sketch.
        """
        offer = offered(source, on, "on")
        seen = self.opened.known(*witnesses(source.at, [offer]))
        made: list[tuple[str, str]] = []

        def change(family: r.Family) -> r.Family:
            begun = planning.Start("", source.at, offer)
            family, *keys = planning.new_part_here(
                family, seen, self.at, name, number, begun, make_id=self.opened.new_id
            )
            made.append((keys[0], keys[1]))
            return family

        self.apply(f"new part {name}", change)
        part = Model(self.opened, made[0][0])
        return part, Sketch(part, made[0][1])


def document_for(opened: Opened, key: str) -> Document:
    """A document as what it is."""
    record = opened.family.documents[key]
    kinds = ((r.Assembly, Assembly), (r.Model, Model), (r.Table, Table))
    kind = next((mine for theirs, mine in kinds if isinstance(record, theirs)), Document)
    return kind(opened, key)
