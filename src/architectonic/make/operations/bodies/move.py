"""How the operation move is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.bodies.move import MoveInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import placing
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import frame_of

Made = tuple[list[str], dict[str, Labelled]]


def make(given: MoveInput, shapes: list[Labelled]) -> Made:
    """The bodies, or copies of them, elsewhere.

    Raises:
        MakeFault: the kernel refuses.
    """
    if given.shift is not None:
        way = placing.shifted(given.shift)
    elif given.axis is not None:
        way = placing.turned(given.axis.origin, given.axis.direction, given.angle)
    elif given.onto is not None:
        way = placing.onto(frame_of(given.onto[0]), frame_of(given.onto[1]))
    elif given.mirror is not None:
        way = placing.mirrored(frame_of(given.mirror))
    else:
        assert given.about is not None
        way = placing.scaled(given.about, given.factor)
    way = way.Inverted() if given.back else way
    made = {}
    for (body, to), shape in zip(given.bodies, shapes, strict=True):
        try:
            made[to] = placing.placed(shape, way, "" if to == body else given.operation)
        except KernelRefusal as refusal:
            raise MakeFault("move.refused", str(refusal), "change how it is moved") from None
    return list(made), made
