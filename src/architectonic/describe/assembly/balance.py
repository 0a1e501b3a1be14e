"""Mass, centre and moments of inertia of an assembly, from those of its bodies where they stand."""

from __future__ import annotations

import numpy as np

from architectonic.base import tolerance
from architectonic.describe.assembly.extents import plan_weight
from architectonic.describe.assembly.plans import Placed
from architectonic.describe.results import Node, Plan, Value, Vector, needed
from architectonic.describe.view import View


class Balance(Value, frozen=True):
    """How an assembly is weighted.

    Attributes:
        mass: g; centre: mm, in the assembly.
        inertia: about the centre, along the assembly's axes: Ixx, Iyy, Izz, Ixy, Ixz, Iyz, g mm2; products are minus the
            integral of x y dm, as the matrix has them.
    """

    mass: float
    centre: Vector
    inertia: tuple[float, ...]


def plan_balance(view: View, node: Node) -> Plan:
    """None where a body has no density, or where there are no bodies. Moments by the parallel-axis theorem (Huygens, Steiner)."""
    (outcome,) = yield [Node("assembly", node.at, "")]
    placed: tuple[Placed, ...] = needed(outcome)
    masses, centres, tensors = [], [], []
    for body in [b for p in placed for b in p.bodies]:
        weight = yield from plan_weight(body)
        (measured,) = yield [body.node("measure")]
        if weight is None or measured.value is None:
            return None
        if not weight:
            continue
        turn = np.array(body.stands, float).reshape(4, 4)
        found = measured.value
        masses.append(weight)
        centres.append(turn[:3, :3] @ np.array(found["centre_mm"]) + turn[:3, 3])
        tensors.append(turn[:3, :3] @ matrix(found["inertia_mm5"]) @ turn[:3, :3].T * (weight / found["volume_mm3"]))
    if not masses:
        return None
    total = float(sum(masses))
    centre = sum(m * c for m, c in zip(masses, centres, strict=True)) / total
    whole = np.zeros((3, 3))
    for m, c, i in zip(masses, centres, tensors, strict=True):
        off = c - centre
        whole += i + m * (off @ off * np.eye(3) - np.outer(off, off))
    at = tuple(tolerance.length(float(c)) for c in centre)
    ixx, iyy, izz, ixy, ixz, iyz = (
        float(f"{whole[i, j]:.10g}") for i, j in ((0, 0), (1, 1), (2, 2), (0, 1), (0, 2), (1, 2))
    )
    return Balance(total, (at[0], at[1], at[2]), (ixx, iyy, izz, ixy, ixz, iyz))


def matrix(inertia: tuple[float, ...]) -> np.ndarray:
    """Six moments and products as a symmetric matrix, (3, 3)."""
    xx, yy, zz, xy, xz, yz = inertia
    return np.array([[xx, xy, xz], [xy, yy, yz], [xz, yz, zz]])
