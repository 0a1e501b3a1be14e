"""How the operation combine is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.bodies.combine import CombineInput
from architectonic.kernel.measure.mesh import can_be_facetted
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.solids import prisms, shells
from architectonic.make.fault import MakeFault
from architectonic.make.operations.solid import united

Made = tuple[list[str], dict[str, Labelled]]


FINE = 0.1
"""Angle of the facets that are held against the volume: of two bodies that nearly fit, the kernel puts some together wrongly and
calls them valid (an overlap of two turned bodies that was 3 % off)."""
_DOES = {"unite": "add", "subtract": "cut", "overlap": "overlap"}


def make(given: CombineInput, shapes: list[Labelled]) -> Made:
    """The first body after the others were united with it or taken from it.

    Raises:
        MakeFault: nothing is left; the others do not reach it; there is no room for the clearance.
    """
    first, *others = shapes
    try:
        if given.clearance:
            others = [shells.grown(o, given.clearance, given.operation) for o in others]
        result = prisms.boolean(_DOES[given.does], first, united(others))
        if result is not None and not can_be_facetted(result.shape, FINE):
            raise KernelRefusal("the two solids could not be combined soundly here")
    except KernelRefusal as refusal:
        raise MakeFault("combine.refused", str(refusal), "move one of the bodies or change the clearance") from None
    if result is None:
        raise MakeFault("combine.nothing_left", "nothing of the body would be left", "choose other bodies")
    if given.does == "subtract" and result.faces == first.faces:
        raise MakeFault("combine.no_effect", "the bodies do not reach each other", "move one of them")
    return [given.body], {given.body: result}
