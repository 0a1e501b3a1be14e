"""The plane of a flat face that was picked, as operations that stand on it see it."""

from __future__ import annotations

from architectonic.describe.references.planes import along, dot, unit
from architectonic.describe.results import Frame, Vector
from architectonic.family.records import Witness


def face_frame(seen: Witness) -> Frame | None:
    """The frame of a flat face from what its picture tells: as the kernel gives it (make.queries.face), to the picture's
    accuracy; None of a face that is not flat.
    """
    if seen.kind != "plane" or len(seen.normal) != 3 or len(seen.at) != 3:
        return None
    n = unit((seen.normal[0], seen.normal[1], seen.normal[2]))
    at: Vector = (seen.at[0], seen.at[1], seen.at[2])
    beside: Vector = (1.0, 0.0, 0.0) if abs(n[0]) < 0.9 else (0.0, 1.0, 0.0)
    height = dot(at, n)
    return Frame((height * n[0], height * n[1], height * n[2]), unit(along(beside, n, -dot(beside, n))), n)
