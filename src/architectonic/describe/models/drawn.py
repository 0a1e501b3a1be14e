"""Bodies as they are drawn and written: with threads modelled where that was asked for. Nothing is built on them."""

from __future__ import annotations

import msgspec

from architectonic.describe.models.states import plan_there
from architectonic.describe.recipes import MeshInput, Tapping, ThreadedInput
from architectonic.describe.results import BodyState, HoleSet, Node, NodeFault, Plan, Recipe
from architectonic.describe.view import View
from architectonic.quantities.standards import threads

_BY_NAME = {t.name: t for t in threads.THREADS}
BODY = "body"
"""What a shape with threads is called by its recipe."""


def threaded(body: BodyState) -> Recipe | None:
    """What models the threads of a body; None where none is asked for."""
    taps = {key: _tapping(s) for key, s in sorted(body.attributes.items()) if s.shown and s.thread in _BY_NAME}
    return Recipe("threaded", ThreadedInput(taps), (body.shape,)) if taps else None


def _tapping(holes: HoleSet) -> Tapping:
    nominal = _BY_NAME[holes.thread].diameter
    return Tapping(nominal, holes.pitch, holes.diameter, holes.thread_depth, holes.hand == "left")


def plan_drawn(view: View, node: Node) -> Plan:
    """The key of a body's shape as it is drawn and written.

    Raises:
        NodeFault: there is no such body, or its threads cannot be modelled.
    """
    body: BodyState = yield from plan_there(view, node)
    recipe = threaded(body)
    if recipe is None:
        return body.shape
    made = yield recipe
    if made.problem is not None:
        names = ", ".join(s.name for s in body.attributes.values() if s.shown)
        raise NodeFault(msgspec.structs.replace(made.problem, what=f"the thread of {names}: {made.problem.what}"))
    return f"{made.key}.{BODY}"


def plan_mesh(view: View, node: Node) -> Plan:
    """Triangles of a body, finished or as after the operation of the label; without threads where they cannot be made."""
    body: BodyState = yield from plan_there(view, node)
    shape = body.shape
    if threaded(body) is not None:
        (outcome,) = yield [node._replace(what="drawn")]
        shape = outcome.value or body.shape
    made = yield picture(body, shape)
    if made.problem is not None:
        raise NodeFault(made.problem)
    return made.value


def picture(body: BodyState, shape: str) -> Recipe:
    """The triangles of a body whose shape is drawn as another one."""
    return Recipe("mesh", MeshInput(), (shape,) if shape == body.shape else (shape, body.shape))
