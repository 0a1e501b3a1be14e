"""Helpers of tests: models."""

from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.results import Node
from architectonic.family import edits, names
from architectonic.family.operations.solids.extrude import Distance, Extrude
from architectonic.family.records import Body, Reference, Sketch
from architectonic.family.scopes import Scope
from architectonic.propagate.targets import all_scopes
from architectonic.propagate.whole import evaluate_scopes

TOP = Reference(item="top")


class Model:
    """A family of small parts, built by calls."""

    def __init__(self):
        self.family = edits.new_family("Trial")

    def part(self, name):
        self.family, key = edits.add_document(self.family, "part", name)
        return key

    def text(self, part, text, quantity="length"):
        return names.bind_quantity(self.family, self.family.documents[part], text, quantity, "mm")

    def parameter(self, part, name, text):
        self.family = edits.add_parameter(self.family, part, name, text)

    def rectangle(self, part, name, w, h, plane=TOP, at=(0, 0)):
        sketch = Sketch(id=f"{part}{name}", name=name, plane=plane)
        self.family = edits.add_operation(self.family, part, sketch)
        d = Drawing(self.family, part, sketch)
        sides = d.rectangle(at, (at[0] + 10, at[1] + 5))
        if at == (0, 0):
            d.constrain("coincident", f"{sides[0]}.start", "origin")
        else:
            d.constrain("fix", f"{sides[0]}.start")
        d.constrain("distance", sides[0], value=w, name="w")
        d.constrain("distance", sides[1], value=h, name="h")
        self.family = edits.replace_operation(self.family, part, d.sketch)
        return sketch.id, sides, "".join(f"+{s}" for s in sides)

    def add(self, part, operation, before=""):
        self.family = edits.add_operation(self.family, part, operation, before)

    def block(self, part, name="Block", w="80 mm", h="50 mm", height="10 mm", body="b1"):
        sketch, sides, label = self.rectangle(part, f"{name} outline", w, h)
        label = self.only_region(part, sketch)
        self.add(part, Extrude(id=f"{part}{name}", name=name, does="make", acts_on=(body,),
                               regions=(Reference(item=sketch, label=label),), far=Distance(value=self.text(part, height))))  # fmt: skip
        self.family = edits.add_body(self.family, part, body, Body(name=f"{name} body"))
        return f"{part}{name}", sides

    def only_region(self, part, sketch):
        from architectonic.propagate.evaluator import Evaluator
        from tests.support.fakes import FakeExecutor

        found = Evaluator(FakeExecutor()).evaluate(self.family, [Node("solve", Scope(part, "default"), sketch)])
        return found.value(Node("solve", Scope(part, "default"), sketch)).regions[0].label

    def evaluate(self, engine):
        return evaluate_scopes(engine.evaluator, self.family, all_scopes(self.family))


def volume(evaluation, part, body="b1"):
    return evaluation.value(Node("measure", Scope(part, "default"), body))["volume_mm3"]


def problem(evaluation, part, operation):
    return evaluation.outcomes[Node("state", Scope(part, "default"), operation)].problem
