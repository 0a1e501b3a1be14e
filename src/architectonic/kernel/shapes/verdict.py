"""Whether a solid that the kernel calls done is right: it also calls some wrong ones so."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from OCP.BRepAlgoAPI import BRepAlgoAPI_Check
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps

from architectonic.base import tolerance
from architectonic.kernel.shapes.topology import unwrapped


class KernelRefusal(Exception):
    """The kernel could not do it; the text says why in the user's words.

    Attributes:
        at: labels of the edges or faces at fault.
    """

    def __init__(self, what: str, at: Iterable[str] = ()) -> None:
        super().__init__(what)
        self.at = tuple(at)


def volume(shape: Any) -> float:
    """Signed volume in mm3."""
    props = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, props, tolerance.MEASURE)
    return float(props.Mass())


def rough_volume(shape: Any) -> float:
    """Signed volume in mm3 to about 2e-4 of it: enough to tell what cannot be, and several times quicker."""
    props = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, props)
    return float(props.Mass())


def right_way_out(shape: Any) -> bool:
    """Whether a solid encloses something; its sign needs no accuracy."""
    return rough_volume(shape) > 0


def sound(shape: Any, refused: str, crossing: bool = False) -> Any:
    """A solid, or a compound of solids, that is closed, valid and the right way out.

    Args:
        refused: what to say when it is not.
        crossing: also look whether it runs through itself, which sweeps and shells can do and still be called valid.

    Raises:
        KernelRefusal: nothing solid, invalid, inside out, or running through itself.
    """
    solid = None if shape is None or shape.IsNull() else unwrapped(shape)
    if solid is None or not BRepCheck_Analyzer(solid).IsValid() or not right_way_out(solid):
        raise KernelRefusal(refused)
    if crossing and not BRepAlgoAPI_Check(solid, True, True).IsValid():
        raise KernelRefusal(f"{refused}: it would run through itself")
    return solid


def built(make: Callable[[], Any], refused: str) -> Any:
    """What a kernel call gives, if it is sound and does not run through itself.

    Args:
        make: gives the shape, None when the kernel says that it is not done.

    Raises:
        KernelRefusal: it is not, or the kernel faults; its faults share no base class but Exception.
    """
    try:
        return sound(make(), refused, crossing=True)
    except KernelRefusal:
        raise
    except Exception:
        raise KernelRefusal(refused) from None
