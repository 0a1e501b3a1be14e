"""How the pattern of bodies is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.patterns.bodies import PatternBodiesInput
from architectonic.describe.operations.patterns.pattern import member_of
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import bores, placing
from architectonic.kernel.solids.prisms import boolean
from architectonic.make.fault import MakeFault


def make(given: PatternBodiesInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The copies as bodies of their own, or the bodies with them.

    Raises:
        MakeFault: the kernel refuses.
    """
    made: dict[str, Labelled] = {}
    labels = [member_of(given.operation, key) for key, _ in given.members]
    try:
        for number, (body, shape) in enumerate(zip(given.bodies, shapes, strict=True)):
            copies = [placing.member(shape, m, label) for (_, m), label in zip(given.members, labels, strict=True)]
            if given.copies:
                made |= {keys[number]: copy for keys, copy in zip(given.copies, copies, strict=True)}
                continue
            whole = boolean("add", shape, bores.together(copies))
            assert whole is not None, "something is left of solids that are united"
            made[body] = whole
    except KernelRefusal as refusal:
        raise MakeFault("pattern.refused", str(refusal), "change the step or the count") from None
    return list(made), made
