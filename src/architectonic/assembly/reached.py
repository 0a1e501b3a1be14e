"""How two places lie to each other: what a joint's value is where nothing drives it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from architectonic.assembly.entities import Bond
from architectonic.assembly.equations import angle_about, in_space
from architectonic.base import tolerance
from architectonic.base.rigid import IDENTITY, Rigid, Vector


def reach(bond: Bond, stands: Mapping[str, Rigid]) -> tuple[float, float, Vector, Vector, Vector]:
    """How far b's place stands along the axis of a's, mm, and is turned about it, rad in (-pi, pi]; a's point, axis and side.

    Args:
        stands: of the bodies; one that is not among them is the assembly itself.
    """
    at = [np.array(stands.get(p.body, IDENTITY), float).reshape(4, 4) for p in (bond.a, bond.b)]
    (first, axis, side), (then, _, other) = in_space(bond.a, at[0]), in_space(bond.b, at[1])
    slide = float(np.dot(axis, then - first))
    turn = float(angle_about(axis[None], side[None], other[None])[0])
    return tolerance.length(slide), tolerance.ratio(turn), _vector(first), _vector(axis), _vector(side)


def _vector(v: np.ndarray) -> Vector:
    return (tolerance.length(float(v[0])), tolerance.length(float(v[1])), tolerance.length(float(v[2])))
