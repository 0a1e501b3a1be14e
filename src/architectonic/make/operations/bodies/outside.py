"""How bodies are read from files with the kernel."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from pathlib import Path

from architectonic.base import kept, tolerance
from architectonic.base.errors import EnvironmentFault
from architectonic.base.processes import limits
from architectonic.base.rigid import IDENTITY
from architectonic.describe.operations.bodies.outside import FileLook, LookInput, OutsideFound, OutsideInput
from architectonic.kernel import stepin
from architectonic.kernel.measure import bodies as measured
from architectonic.kernel.measure import gauge
from architectonic.kernel.shapes import fingerprints
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.outlines import KernelFrame, Side
from architectonic.kernel.shapes.topology import FACE, subshapes
from architectonic.kernel.shapes.verdict import KernelRefusal, volume
from architectonic.kernel.solids import prisms
from architectonic.make.fault import MakeFault

PER_BYTE = 20
"""Bytes of memory that reading may take for each byte of a large STEP file."""
MM = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}
"""Units that a file may be taken in, mm (exact)."""
SAID = {"millimetre": "mm", "centimetre": "cm", "metre": "m", "inch": "in", "foot": "ft"}
"""Units as files say them."""


def make(given: OutsideInput, shapes: list[Labelled]) -> tuple[list[str], dict[str, Labelled]]:
    """The bodies of a kept file, their faces called after what they look like.

    Raises:
        MakeFault: it cannot be read, or a body is not in it.
        EnvironmentFault: it is not there.
    """
    if not given.content:
        return _boxes(given)
    path = kept.find(given.content)
    if path is None:
        raise EnvironmentFault(f"{given.content} is not there", "choose the file again")
    with _held_to_limits(path):
        return _chosen(given, path)


@contextlib.contextmanager
def _held_to_limits(path: Path) -> Iterator[None]:
    """Read a file with as much memory as files of others may take, or as large ones need.

    Raises:
        MakeFault: it is damaged, no STEP file, empty, or takes more.
    """
    most = max(limits.of_reading().memory, PER_BYTE * path.stat().st_size)
    much = MakeFault(
        "outside.much", f"reading it takes more than {most / 1e9:g} GB of memory", "write out fewer parts of it"
    )
    try:
        with limits.room(most):
            yield
    except KernelRefusal as refusal:
        raise MakeFault("outside.refused", str(refusal), "write it anew, or choose another file") from None
    except MakeFault:
        raise
    except Exception as fault:
        if isinstance(fault, MemoryError) or type(fault).__name__ == "Standard_OutOfMemory":
            raise much from None
        raise MakeFault("outside.refused", f"it cannot be read ({type(fault).__name__})", "write it anew") from None


def _chosen(given: OutsideInput, path: Path) -> tuple[list[str], dict[str, Labelled]]:
    found = stepin.read(path)
    factor = MM[given.unit] / MM[SAID.get(found.units[0] if found.units else "", "mm")] if given.unit else 1.0
    by_path = {s.path: s for s in found.solids}
    made = {}
    for key, where, _ in given.bodies:
        if where not in by_path:
            raise MakeFault(
                "outside.gone", f"{' / '.join(where)} is not in the file any more", "choose its bodies again"
            )
        made[key] = fingerprints.labelled(stepin.standing(by_path[where], given.placed, factor), given.operation)
    return list(made), made


def _boxes(given: OutsideInput) -> tuple[list[str], dict[str, Labelled]]:
    """What stands in for bodies whose file is missing."""
    made = {}
    for key, _, box in given.bodies:
        x0, y0, z0, x1, y1, z1 = box
        corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
        loop = tuple(Side(f"box{k}", corners[k], corners[(k + 1) % 4]) for k in range(4))
        frame = KernelFrame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
        made[key] = prisms.prism(frame, [(loop,)], (z0, 0.0, 0.0), (z1, 0.0, 0.0), given.operation)
    return list(made), made


def look(given: LookInput, shapes: list[Labelled]) -> tuple[FileLook, dict[str, Labelled]]:
    """What a file holds, before anything of it is taken.

    Raises:
        MakeFault: it is damaged, no STEP file, empty, or takes too much.
    """
    path = Path(given.path)
    with _held_to_limits(path):
        found = stepin.read(path)
        return FileLook(tuple(_told(s) for s in found.solids), found.units), {}


def _told(one: stepin.OutsideSolid) -> OutsideFound:
    stood = stepin.standing(one, True, 1.0)
    return OutsideFound(
        path=one.path,
        product=one.product,
        number=one.number,
        solid=one.solid,
        colour=one.colour,
        volume=float(f"{volume(stood):.9g}") if one.solid else 0.0,
        area=float(f"{gauge.area(subshapes(stood, FACE)):.9g}"),
        box=tuple(tolerance.length(c) for c in measured.box(stood)),
        own_box=tuple(tolerance.length(c) for c in measured.box(stepin.standing(one, False, 1.0))),
        stands=stepin.placement(one) or IDENTITY,
        marks=tuple(sorted(fingerprints.of(f) for f in subshapes(stood, FACE))),
    )
