"""Helpers of tests: solids."""

import pytest

from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.results import Node
from architectonic.family import edits, names
from architectonic.family.records import Datum, OffsetPlane, Reference, Sketch, Witness
from architectonic.family.scopes import Scope
from architectonic.session.model import building
from tests.support.models import TOP, Model, problem, volume

FRONT = Reference(item="front")


class Bench(Model):
    """A part with a block 80 x 50 x 10 called Block."""

    def __init__(self, engine):
        super().__init__()
        self.engine = engine
        self.key = self.part("Part")
        self.made, self.sides = self.block(self.key)

    def e(self, text, quantity="length"):
        return names.bind_quantity(self.family, self.family.documents[self.key], text, quantity, "mm")

    def face(self, role, body="b1", kind=""):
        witness = Witness(kind=kind) if kind else None
        return Reference(item=body, stage="here", label=f"{self.made}:{role}", witness=witness)

    def upright(self, k=0):
        a, b = sorted((self.sides[k], self.sides[(k + 1) % 4]))
        return Reference(item="b1", stage="here", label=f"({self.made}:side:{a}|{self.made}:side:{b})")

    def circle(self, name, at, radius, plane=TOP):
        sketch = Sketch(id=name, name=name, plane=plane)
        self.add(self.key, sketch)
        d = Drawing(self.family, self.key, sketch)
        d.circle(at, radius)
        self.family = edits.replace_operation(self.family, self.key, d.sketch)
        return Reference(item=name, label=self.only_region(self.key, name))

    def box(self, name, w, h, plane=TOP, at=(0, 0)):
        sketch, _, _ = self.rectangle(self.key, name, w, h, plane, at)
        return Reference(item=sketch, label=self.only_region(self.key, sketch))

    def plane(self, name, distance, base="top"):
        by = OffsetPlane(plane=Reference(item=base), distance=self.e(distance))
        self.add(self.key, Datum(id=name, name=name, by=by))
        return Reference(item=name)

    def store(self, operation, name=""):
        self.family = building.store(self.family, self.key, operation, body_name=name)
        return operation

    def settle(self):
        return self.evaluate(self.engine)

    def volumes(self):
        evaluation = self.settle()
        document = self.family.documents[self.key]
        state = evaluation.value(Node("finished", Scope(self.key, "default"), ""))
        return {document.bodies[b].name: volume(evaluation, self.key, b) for b in (b.id for b in state.bodies)}

    def told(self, key):
        return problem(self.settle(), self.key, key)


def close(value):
    return pytest.approx(value, rel=1e-8)
