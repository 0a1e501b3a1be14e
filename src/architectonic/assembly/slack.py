"""How far bodies can shift because joints have play, however they are driven."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from architectonic.assembly.entities import KINDS, Bond, RigidBody
from architectonic.assembly.equations import Array, BondEquations
from architectonic.base.rigid import Vector

RANK = 1e-10
"""Directions that the equations hold less than this, by the best held one, are free and not counted."""


def slack(
    bodies: Sequence[RigidBody], bonds: Sequence[Bond], plays: Mapping[str, float], points: Mapping[str, Vector]
) -> dict[str, float]:
    """The farthest that points can shift when every joint with play stands at the worst side of it, mm; to first order.

    What two places of a joint can lie apart is half of its play, each way: across the axis of a joint that turns or slides, in
    any direction of a spherical one, square to a planar one. The contributions add up (worst case, not likely at once).

    Args:
        plays: by bond, mm, the whole clearance (a hole's diameter less its pin's).
        points: by body, in the assembly.
    """
    system = BondEquations(bodies, bonds)
    if not system.columns:
        return dict.fromkeys(points, 0.0)
    weights = np.tile([1.0, 1.0, 1.0, *(3 * [1 / system.size])], system.columns // 6)
    response = weights[:, None] * np.linalg.pinv(system.matrix(system.start) * weights, rcond=RANK)
    found = dict.fromkeys(points, 0.0)
    for bond in bonds:
        play = plays.get(bond.id, 0.0)
        rows = _loose(system, bond) if play else []
        for key, point in points.items() if rows else ():
            moves = _shift(system, key, point) @ response[:, rows]
            found[key] += play / 2 * float(np.linalg.norm(moves, 2)) if moves.size else 0.0
    return found


def _loose(system: BondEquations, bond: Bond) -> list[int]:
    """Numbers of the equations of a bond that play lets go: that its points meet, in the directions that clearance is in."""
    r, forms = system.sorts["reach"], KINDS[bond.kind].forms
    k = next(n for n, b in enumerate(system.bonds) if b.id == bond.id)
    top = len(system.sorts["lean"].bond)
    along = np.abs(r.e @ np.array(bond.a.axis)) > 0.5 if len(r.e) else np.zeros(0, bool)
    wanted = np.ones(len(along), bool) if bond.kind == "spherical" else along if "ahead" in forms else ~along
    return [top + n for n in range(len(along)) if r.bond[n] == k and wanted[n]]


def _shift(system: BondEquations, body: str, point: Vector) -> Array:
    """How a point of a body shifts by the unknowns, (3, columns)."""
    found = np.zeros((3, system.columns))
    number = system.number[body]
    column = system.free[number]
    if column >= 0:
        x, y, z = np.array(point) - system.start.shifts[number]
        found[:, column : column + 3] = np.eye(3)
        found[:, column + 3 : column + 6] = [[0, z, -y], [-z, 0, x], [y, -x, 0]]
    return found
