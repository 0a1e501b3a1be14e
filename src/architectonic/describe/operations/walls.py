"""Shell and draft: bodies hollowed, faces tilted."""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.describe.operations.solid import acted, plan_length, replaced, wanted_by_body
from architectonic.describe.recipes import DraftInput, ShellInput, Wanted
from architectonic.describe.references.planes import plan_plane
from architectonic.describe.references.value import evaluate
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, fault
from architectonic.describe.view import View
from architectonic.family.records import Draft, Shell
from architectonic.quantities.units import ANGLE


def plan_shell(view: View, node: Node, record: Shell, given: ModelState) -> Plan:
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


def plan_draft(view: View, node: Node, record: Draft, given: ModelState) -> Plan:
    """Bodies after faces were tilted."""
    if not record.faces:
        raise fault("draft.no_face", "it has no face", "pick faces")
    angle = yield from evaluate(view, node, record.angle, ANGLE)
    if not tolerance.FEATURE < abs(angle) < math.pi / 3:
        raise fault("draft.angle", f"faces are not tilted by {math.degrees(angle):g}°", "give an angle up to 60°")
    plane = yield from plan_plane(view, node, record.plane, record.id)
    by_body = wanted_by_body(record.faces)
    bodies = acted(view, node, tuple(by_body), given)
    payload = DraftInput(
        operation=record.id,
        faces=tuple((b, tuple(by_body[b])) for b, _ in bodies),
        plane=plane,
        angle=angle,
        flip=record.flip,
    )
    made = yield Recipe("draft", payload, tuple(s for _, s in bodies))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)
