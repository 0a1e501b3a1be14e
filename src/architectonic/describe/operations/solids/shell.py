"""Shell: bodies hollowed to a wall."""

from __future__ import annotations

from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, plan_length, replaced, wanted_by_body
from architectonic.describe.recipes import Wanted
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, Value, fault
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Flag, Length
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Faces, Walls
from architectonic.family.operations.solids.shell import Shell


class ShellInput(Value, frozen=True, kw_only=True):
    """Walls of bodies, in the order of the shapes that come along: faces left open, and walls of their own."""

    operation: str
    bodies: tuple[str, ...]
    thickness: float
    open: tuple[tuple[Wanted, ...], ...]
    own: tuple[tuple[tuple[Wanted, float], ...], ...]


def plan(view: View, node: Node, record: Shell, given: ModelState) -> Plan:
    """Bodies after they were hollowed."""
    thickness = yield from plan_length(view, node, record.thickness, "thickness")
    bodies = acted(view, node, record.acts_on, given)
    opened = wanted_by_body(record.faces)
    stray = [b for b in opened if b not in dict(bodies)]
    if stray:
        raise fault("shell.other_body", "an open face is on a body that is not hollowed", "pick faces of that body")
    own: dict[str, list[tuple[Wanted, float]]] = {}
    for wall in record.own:
        value = yield from plan_length(view, node, wall.thickness, "thickness")
        own.setdefault(wall.face.item, []).append((Wanted(wall.face.label, wall.face.witness), value))
    payload = ShellInput(
        operation=record.id,
        bodies=tuple(b for b, _ in bodies),
        thickness=-thickness if record.outside else thickness,
        open=tuple(tuple(opened.get(b, ())) for b, _ in bodies),
        own=tuple(tuple(own.get(b, ())) for b, _ in bodies),
    )
    made = yield Recipe("shell", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


KIND = OperationKind(
    Shell,
    (
        Sentence("shell", "Shell bodies", "shell", "Shell", (
            Bodies("acts_on"), Length("thickness", "to a wall of", "2 mm"), Faces("faces", "open at", optional=True),
            Flag("outside", "wall outside"), Walls("own", "with walls of", "3 mm", "+ other walls"),
        ), short="Shell", also=("hollow", "hollow out", "wall", "thin")),
    ),
    plan,
    recipe="shell", given=ShellInput, version=2,
    group="solids",
    rank=60,
)  # fmt: skip
