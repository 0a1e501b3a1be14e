"""How the operation pattern is made with the kernel."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

import msgspec

from architectonic.base.kinds import declared, functions
from architectonic.describe.operations.holes.hole import HoleInput
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.marks.engrave import EngraveInput
from architectonic.describe.operations.patterns.pattern import PatternInput, PatternStep, member_of
from architectonic.describe.recipes import EdgesInput, SolidInput
from architectonic.kernel.measure.bodies import quick_box
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.topology import SOLID, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import bores, placing
from architectonic.make.fault import MakeFault
from architectonic.make.operations.holes import hole
from architectonic.make.operations.solid import changed_by

Made = tuple[list[str], dict[str, Labelled]]


@cache
def _inputs() -> dict[str, type]:
    return {k.recipe: k.given for k in declared("describe.operations", OperationKind)}


def make(given: PatternInput, shapes: list[Labelled]) -> Made:
    """The bodies with what is done again.

    Raises:
        MakeFault: a member lies beside the bodies; the kernel refuses.
    """
    bodies = dict(zip(given.bodies, shapes, strict=False))
    touched: dict[str, Labelled] = {}
    for step in given.steps:
        changed = _STEPS[step.how](given, step, bodies, shapes)
        bodies |= changed
        touched |= changed
    return list(touched), touched


def _tools(
    given: PatternInput, step: PatternStep, bodies: dict[str, Labelled], shapes: list[Labelled]
) -> dict[str, Labelled]:
    """What an operation adds or cuts, copied to every member, all at once."""
    payload: SolidInput | EngraveInput = msgspec.msgpack.decode(step.payload, type=_inputs()[step.kind])
    try:
        tool: Labelled = functions("make.operations", "tool")[step.kind](payload, [shapes[k] for k in step.shapes])
        copies = [placing.member(tool, m, member_of(given.operation, key)) for key, m in given.members]
    except KernelRefusal as refusal:
        raise MakeFault("pattern.refused", str(refusal), "change what it repeats") from None
    _refuse_away(given, copies, list(bodies.values()))
    before = {k: len(subshapes(b.shape, SOLID)) for k, b in bodies.items()}
    try:
        _, made = changed_by(payload.does, tuple(bodies), list(bodies.values()), bores.together(copies))
    except KernelRefusal as refusal:
        raise MakeFault("pattern.refused", str(refusal), "change the step, or what it repeats") from None
    if payload.does == "add":
        for body, shape in made.items():
            loose = len(subshapes(shape.shape, SOLID)) - before[body]
            if loose > 0 and len(bodies) == 1:
                told = f"{loose} of {len(copies)} members do not touch the body"
                raise MakeFault("pattern.loose", told, "change the step or the count, or leave those out")
    return made


def _refuse_away(given: PatternInput, copies: list[Labelled], bodies: list[Labelled]) -> None:
    """Every member must reach a body at least with its box.

    Raises:
        MakeFault: one does not; says which.
    """
    boxes = [quick_box(b.shape) for b in bodies]
    for number, copy in enumerate(copies, start=2):
        own = quick_box(copy.shape)
        if not any(all(own[i] <= b[i + 3] and b[i] <= own[i + 3] for i in range(3)) for b in boxes):
            told = f"member {number} of {len(copies) + 1} lies beside the bodies"
            raise MakeFault("pattern.beside", told, "change the step or the count, or leave it out")


def _holes(
    given: PatternInput, step: PatternStep, bodies: dict[str, Labelled], shapes: list[Labelled]
) -> dict[str, Labelled]:
    payload = msgspec.msgpack.decode(step.payload, type=HoleInput)
    own = [bodies[b] for b in payload.bodies]
    return hole.make(payload, [*own, *(shapes[k] for k in step.shapes[len(own) :])])[1]


def _edges(
    given: PatternInput, step: PatternStep, bodies: dict[str, Labelled], shapes: list[Labelled]
) -> dict[str, Labelled]:
    payload: EdgesInput = msgspec.msgpack.decode(step.payload, type=_inputs()[step.kind])
    made: Made = functions("make.operations", "make")[step.kind](payload, [bodies[b] for b, _ in payload.edges])
    return made[1]


_STEPS: dict[str, Callable[..., dict[str, Labelled]]] = {"tool": _tools, "holes": _holes, "edges": _edges}
