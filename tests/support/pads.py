"""Helpers of tests: pads."""

import pytest

from architectonic.describe.results import Node
from architectonic.family import edits, scopes
from architectonic.family.records import Reference, Sketch
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.ports import NoExecutor
from architectonic.propagate.targets import of_scope
from architectonic.session.sketch.pulling import Grip
from architectonic.session.sketch.sketching import begin
from architectonic.session.sketch.snapping import snap


class Pad:
    """A sketch on a layout, evaluated after every edit."""

    def __init__(self):
        family = edits.new_family("Trial")
        family, self.key = edits.add_document(family, "layout", "L")
        self.family = edits.add_operation(family, self.key, Sketch(id="s", name="S", plane=Reference(item="top")))
        self.evaluator = Evaluator(NoExecutor())

    def __call__(self, edit):
        at = scopes.scope(self.family, self.key, "")
        editing = begin(self.family, at, "s", self.evaluate())
        result = edit(editing)
        self.family = editing.stored()
        return result

    def evaluate(self):
        at = scopes.scope(self.family, self.key, "")
        return self.evaluator.evaluate(self.family, list(of_scope(self.family, at)))

    @property
    def solved(self):
        return self.evaluate().value(Node("solve", Scope(self.key, "default"), "s"))

    @property
    def sketch(self):
        return edits.operation(self.family, self.key, "s")

    def snapped(self, x, y, within=1.0):
        return snap(self.solved, (x, y), within)


def pulled(pad, place, to):
    """Take a point up, pull it, let it go."""

    def edit(editing):
        pull = Grip(editing, place)
        result = pull.to(to)
        if result is not None:
            pull.stored(result)
        return result

    return pad(edit)


@pytest.fixture
def pad():
    return Pad()
