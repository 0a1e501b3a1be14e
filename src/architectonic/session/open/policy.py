"""What may not be stored, whoever asks: the window, the command line, a script.

Every edit of an open family passes here once, and a proposal does too. What is refused changes nothing.
"""

from __future__ import annotations

from collections.abc import Iterator

from architectonic.base.errors import UserFault
from architectonic.base.problem import Problem
from architectonic.describe.results import Node
from architectonic.family import scopes
from architectonic.family.graph.static import Graph, refuse_circle
from architectonic.family.records import Family, Model, Sketch
from architectonic.family.scopes import Scope
from architectonic.session.open.queries import ask, numbers


class Disagreement(UserFault):
    """Constraints that cannot all be true.

    Attributes:
        constraints: ids of a smallest set.
    """

    def __init__(self, problem: Problem, where: str) -> None:
        super().__init__(f"{problem.what}; nothing was stored", where, problem.mend)
        self.constraints = problem.candidates


def allowed(before: Family, after: Family, graph: Graph | None = None) -> Family:
    """The family after an edit, when it may be stored.

    Args:
        graph: its static graph, when it is known already.

    Raises:
        UserFault: something in it would need itself; the path of the circle is told.
        Disagreement: a sketch whose own constraints or dimensions were edited could not hold them any more. (A value from
            outside may put a sketch in conflict: then it gives no curves, and says so.)
    """
    refuse_circle(after, graph)
    refuse_no_value(before, after)
    for at, sketch in _edited(before, after):
        refuse_conflict(before, after, at, sketch)
    return after


def refuse_no_value(before: Family, after: Family) -> None:
    """Refuse a typed value that has no finite value in a configuration in which it is said.

    Raises:
        UserFault: a root of something negative, a division by zero and the like; says where.
    """
    asked: dict[Node, str] = {}
    for key, document in after.documents.items():
        old = before.documents.get(key)
        if old is document or old is None or old.parameters == document.parameters:
            continue
        known = {p.id: p for p in old.parameters}
        for parameter in document.parameters:
            was = known.get(parameter.id)
            if was is None or (was.common, was.own) != (parameter.common, parameter.own):
                cells = {""} if was is None else scopes.changed_cells(was, parameter)
                rows = scopes.reached(after, document, cells)
                asked |= {Node("value", at, parameter.id): parameter.name for at in rows}
    found = numbers(after, list(asked)).outcomes if asked else {}
    for node, name in asked.items():
        problem = found[node].problem
        if problem is not None and problem.code == "expression.no_value":
            raise UserFault(problem.what, f"{after.documents[node.document].name}.{name}", problem.mend)


def _edited(before: Family, after: Family) -> Iterator[tuple[Scope, Sketch]]:
    """Sketches that were there and whose constraints or dimensions are others now, in every configuration."""
    for key, document in after.documents.items():
        old = before.documents.get(key)
        if old is document or not isinstance(document, Model) or not isinstance(old, Model):
            continue
        known = {o.id: o for o in old.build if isinstance(o, Sketch)}
        for sketch in document.build:
            was = known.get(sketch.id)
            if not isinstance(sketch, Sketch) or was is None or was.constraints == sketch.constraints:
                continue
            for at in scopes.scopes_of(after, document):
                if scopes.may_be_on(after, at, sketch.switch):
                    yield at, sketch


def refuse_conflict(before: Family, after: Family, at: Scope, sketch: Sketch) -> None:
    """Refuse an edit after which a sketch that could be solved in a configuration cannot be any more.

    Raises:
        Disagreement: names the constraints that cannot all be true.
    """
    node = Node("solve", at, sketch.id)

    def problem(family: Family) -> Problem | None:
        found = ask(family, [node]).outcomes[node].problem
        return found if found is not None and found.severity == "conflict" else None

    bad = problem(after)
    if bad is not None and problem(before) is None:
        raise Disagreement(bad, sketch.name)
