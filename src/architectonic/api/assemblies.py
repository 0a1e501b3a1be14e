"""Assemblies from Python: what is placed, how it holds together, where it stands; and every document as what it is."""

from __future__ import annotations

from typing import Any

from architectonic.api.documents import Document, Model, Table
from architectonic.api.offering import offered, witnesses
from architectonic.api.protocols import Opened
from architectonic.api.sketches import Sketch
from architectonic.base.errors import UserFault
from architectonic.base.rigid import IDENTITY
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family import records as r
from architectonic.session.open.queries import ask
from architectonic.session.product import planning


class Assembly(Model):
    """An assembly: instances of parts and assemblies."""

    def place(self, document: str, name: str = "", placement: tuple[float, ...] = ()) -> None:
        """Place a part or assembly; on the shared origin unless 16 numbers say where (base.rigid)."""
        source = edits.find_document(self.opened.family, document).id
        self.apply(
            f"place {document}", lambda f: edits.add_instance(f, self.id, source, name, self.opened.new_id, placement)
        )

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
            lambda f: edits.add_bond(f, self.id, kind, ends[0], ends[1], name, facing, values, self.opened.new_id),
        )

    def _mounting(self, instance: str, thing: Any) -> r.Mounting:
        record = self.record
        assert isinstance(record, r.Assembly)
        found = next((i for i in record.instances if i.name == instance), None)
        if instance and found is None:
            raise UserFault(f"“{instance}” is not placed here", self.name, "it is one of " + ", ".join(i.name for i in record.instances))  # fmt: skip
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
        record = self.record
        assert isinstance(record, r.Assembly)
        key = next((i.id for i in record.instances if i.name == instance), "")
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
        return {i.name: outcome.value.stands.get(i.id) or i.placement or IDENTITY for i in record.instances}

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
