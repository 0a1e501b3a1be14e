"""How threads are modelled with the kernel, for pictures and files."""

from __future__ import annotations

from architectonic.describe.models.drawn import BODY
from architectonic.describe.recipes import ThreadedInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import tapping
from architectonic.make.fault import MakeFault


def threaded(given: ThreadedInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """A body with threads in its holes.

    Raises:
        MakeFault: they cannot be cut soundly.
    """
    taps = {key: tapping.Tap(t.diameter, t.pitch, t.drill, t.depth, t.left) for key, t in given.taps.items()}
    try:
        return [BODY], {BODY: tapping.tap(shapes[0], taps)}
    except KernelRefusal as refusal:
        raise MakeFault("hole.thread_shape", str(refusal), "take “thread modelled” off: its data stay") from None
