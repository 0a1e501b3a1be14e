"""Helpers of tests: frames."""

from architectonic.describe.results import Node
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.ports import NoExecutor


def frame_of(family, key, item):
    outcome = Evaluator(NoExecutor()).evaluate(family, [Node("frame", Scope(key, "default"), item)]).outcomes
    return outcome[Node("frame", Scope(key, "default"), item)]
