"""Assemblies from Python: what is placed, how it holds together, where it stands; and every document as what it is."""

from __future__ import annotations

from typing import Any

from architectonic.api.bodies import Body
from architectonic.api.documents import Document, Model, Table
from architectonic.api.offering import offered, witnesses
from architectonic.api.parts import Master, Part
from architectonic.api.placing import Placing
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
from architectonic.family.scopes import InPlace
from architectonic.quantities import units
from architectonic.session.assembly import sending, working
from architectonic.session.joining.motion import JointMotion, moved_through, steps
from architectonic.session.open.queries import ask
from architectonic.session.product import planning, varying


class Assembly(Placing):
    """An assembly: instances of parts and assemblies."""

    def work_on(self, *ways: str) -> list[Body]:
        """Let the assembly work further on bodies where they stand, by `Arm`, `Arm / Tube` or `Arm / Tube / Cap`; the
        parts stay as they are.

        Returns:
            The bodies as the operations of the assembly know them.

        Raises:
            UserFault: nothing that stands here is called so.
        """
        named = working.bodies_below(self.opened.family, self.id)
        chosen = [
            b
            for b, told in named.items()
            if told in ways or (not self._only_seen(b) and any(told.startswith(f"{w} / ") for w in ways))
        ]
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

    def _only_seen(self, body: InPlace) -> bool:
        return edits.model(self.opened.family, body.document).bodies[body.body].backdrop_only

    def choose(self, variation: str) -> None:
        """Let the first of a row of variations be as this one is; all that takes from it follows."""
        key = self._instance(variation).id
        self.apply(f"{variation} is the way forward", lambda f: varying.choose(f, self.id, key))

    def send(self, operation: str) -> sending.Sent:
        """Make an operation of the assembly one of each part that it acts on, fed from the assembly as it stands here."""
        key, made = self.operation(operation).id, []

        def change(family: r.Family) -> r.Family:
            family, sent = sending.send(family, self.id, key, self.at.alternate, self.opened.new_id)
            made.append(sent)
            return family

        self.apply(f"send {operation} to the parts", change)
        return made[-1]

    def fork(self, instance: str, name: str, where: str = "") -> Document:
        """Fill an instance with a copy of what fills it, that shares nothing with it from then on."""
        key, cell, made = self._instance(instance).id, self.cell(where), []

        def change(family: r.Family) -> r.Family:
            family, copy = edits.fork_instance(family, self.id, key, name, cell, self.opened.new_id)
            made.append(copy)
            return family

        self.apply(f"fork {instance} as {name}", change)
        return document_for(self.opened, made[-1])

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
    kinds = ((r.Assembly, Assembly), (r.Part, Part), (r.Master, Master), (r.Model, Model), (r.Table, Table))
    kind = next((mine for theirs, mine in kinds if isinstance(record, theirs)), Document)
    return kind(opened, key)
