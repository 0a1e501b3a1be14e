"""What bodies can still do, and which bonds say nothing new."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from architectonic.assembly.entities import KINDS, Bond, RigidBody
from architectonic.assembly.equations import Array, BondEquations

RANK = 1e-8
"""Singular values below this share of the largest count as none."""
MOVES = {"revolute": "turn", "prismatic": "slide", "screw": "turn"}
"""The value of joints that have one."""


class Motion(NamedTuple):
    """A small motion of bodies: by body a shift of its origin (mm) and a turn (rad), both in the assembly's axes."""

    moves: dict[str, tuple[float, ...]]


class Freedoms(NamedTuple):
    """What is left of six for every body that does not stay.

    Attributes:
        left: independent small motions; formula: what Kutzbach's formula gives, which knows no sizes.
        motions: a basis of them; redundant: bonds of which no equation says anything new, in their order.
    """

    left: int
    formula: int
    motions: tuple[Motion, ...]
    redundant: tuple[str, ...]


def freedoms(bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> Freedoms:
    """Of bodies where they stand now, their bonds fulfilled."""
    system = BondEquations(bodies, bonds)
    jacobian = _weighed(system)
    _, sizes, basis = np.linalg.svd(jacobian) if jacobian.size else (None, np.zeros(0), np.eye(system.columns))
    rank = _rank(sizes)
    free = [b for b in system.bodies if not b.fixed]
    motions = []
    for row in basis[rank:]:
        moves = {b.id: row[6 * k : 6 * k + 6] for k, b in enumerate(free)}
        told = {k: (*m[:3].tolist(), *(m[3:] / system.size).tolist()) for k, m in moves.items()}
        motions.append(Motion({k: m for k, m in told.items() if max(map(abs, m)) > 1e-12}))
    return Freedoms(system.columns - rank, mobility(bodies, bonds), tuple(motions), _redundant(system, bonds, jacobian))


def grips(bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> dict[str, float]:
    """How well each joint, of those that are driven or can move, moves what hangs on it: 1 where nothing else knows of its
    value, 0 at a dead centre, where a small change of the value is no motion of the rest (Norton, Design of Machinery: toggle
    positions).

    It is the part of the gradient of the joint's value that lies outside the space of all other equations.
    """
    jacobian = _weighed(BondEquations(bodies, bonds))
    free = jacobian.shape[1] - _rank(np.linalg.svd(jacobian, compute_uv=False)) if jacobian.size else 0
    found: dict[str, float] = {}
    for k, bond in enumerate(bonds):
        driven = next((f for f in ("turn", "slide") if getattr(bond, f) is not None), "")
        field = driven or MOVES.get(bond.kind, "")
        if field and (driven or free):
            rest = BondEquations(
                bodies, [b._replace(turn=None, slide=None) if n == k else b for n, b in enumerate(bonds)]
            )
            found[bond.id] = _outside(rest.gradient(bond, field) * _weights(rest), _weighed(rest))
    return found


def _outside(row: Array, rest: Array) -> float:
    """The share of a row that the rows of a matrix do not span."""
    _, sizes, basis = (
        np.linalg.svd(rest, full_matrices=False) if rest.size else (None, np.zeros(0), np.zeros((0, len(row))))
    )
    spanned = basis[: _rank(sizes)]
    left = row - spanned.T @ (spanned @ row)
    whole = float(np.linalg.norm(row))
    return float(np.linalg.norm(left)) / whole if whole else 0.0


def mobility(bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> int:
    """Kutzbach's formula: 6 for every body that does not stay, less what each bond takes (Kutzbach, 1929)."""
    taken = sum(
        6 - KINDS[b.kind].freedoms + (b.slide is not None) + (b.turn is not None) + len(b.coupled) for b in bonds
    )
    return 6 * sum(not b.fixed for b in bodies) - taken


def _weighed(system: BondEquations) -> Array:
    """The Jacobian at the start with turns as arcs of the system's size, so that all of it is mm by mm."""
    found: Array = system.matrix(system.start) * _weights(system)
    return found


def _weights(system: BondEquations) -> Array:
    return np.tile([1.0, 1.0, 1.0, *(3 * [1 / system.size])], system.columns // 6)


def _rank(sizes: Array) -> int:
    return int((sizes > RANK * sizes.max()).sum()) if sizes.size and sizes.max() > 0 else 0


def _redundant(system: BondEquations, bonds: Sequence[Bond], jacobian: Array) -> tuple[str, ...]:
    found, known, rank = [], np.zeros((0, system.columns)), 0
    for k, bond in enumerate(bonds):
        more = np.vstack([known, jacobian[system.bond == k]])
        now = _rank(np.linalg.svd(more, compute_uv=False)) if more.size else 0
        if now == rank:
            found.append(bond.id)
        known, rank = more, now
    return tuple(found)
