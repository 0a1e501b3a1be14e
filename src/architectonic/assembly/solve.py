"""Where bodies come to stand: the solution that the way from their start positions leads to.

The bonds are not fulfilled at one stroke. What is missing at the start is taken away in steps (a Newton homotopy: residual
(1 - t) r0 for t from 0 to 1; Allgower and Georg, Introduction to Numerical Continuation Methods, 2003), each corrected by
Gauss-Newton steps of least length. So a crank that is turned takes its linkage along on its side, and nothing depends on
what was solved before.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from scipy import sparse
from scipy.sparse import linalg

from architectonic.assembly.carried import carried
from architectonic.assembly.entities import GROUND, KINDS, Bond, Mount, RigidBody
from architectonic.assembly.equations import Array, BondEquations, Poses, frame_of, rotations
from architectonic.base import tolerance
from architectonic.base.rigid import Rigid

CLOSE = 1e-9
"""Largest residual, mm, of what counts as fulfilled."""
STEPS = 14
"""Corrections in one step along the way."""
SHORTEST = 1 / 256
"""The shortest step along the way, of the whole."""
FEW = 120
"""Unknowns up to which equations are solved as a full matrix."""
WIDEST = 0.6
"""How far a body may turn in one step, rad: farther, it could come out on the other side."""


class Standing(NamedTuple):
    """Outcome of solving.

    Attributes:
        stands: by body. Of bodies in a conflict, where they started.
        residual: the largest, mm.
        conflict: ids of a smallest set of bonds that cannot all be true, () when solved.
        flipped: bodies that were turned over at the start, as they faced the wrong way.
    """

    stands: dict[str, Rigid]
    residual: float
    conflict: tuple[str, ...] = ()
    flipped: tuple[str, ...] = ()


def solve(bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> Standing:
    """Mount bodies by their bonds; each group that hangs together is solved for itself."""
    stands = {b.id: b.stands for b in bodies}
    worst, conflict, flipped = 0.0, [], []
    for group, held in components(bodies, bonds):
        if not held:
            continue
        turned, over = faced(group, held)
        flipped += over
        system, at, residual = _settled(turned, held)
        if residual > CLOSE * system.size:
            conflict += smallest(group, held)
            worst = max(worst, residual)
            continue
        worst = max(worst, residual)
        square = squared(at.turns)
        for body in group:
            if not body.fixed:
                k = system.number[body.id]
                stands[body.id] = as_rigid(square[k], at.shifts[k])
    return Standing(stands, worst, tuple(conflict), tuple(flipped))


def _settled(bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> tuple[BondEquations, Poses, float]:
    """A group where its tree takes it, else where the way from its start leads: its equations, poses and largest residual."""
    start = carried(bodies, bonds)
    if start is not None:
        system = BondEquations(start, bonds)
        at, residual = followed(system)
        if residual <= CLOSE * system.size:
            return system, at, residual
    system = BondEquations(bodies, bonds)
    return system, *followed(system)


def components(bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> list[tuple[list[RigidBody], list[Bond]]]:
    """Groups of bodies that bonds join, with those bonds; what stays joins nothing. In the order of their first body."""
    free = {b.id: b for b in bodies if not b.fixed}
    first = {k: k for k in free}

    def root(k: str) -> str:
        while first[k] != k:
            k = first[k]
        return k

    for bond in bonds:
        ends = [p.body for p in (bond.a, bond.b) if p.body in free]
        known = {b.id: b for b in bonds}
        for c in bond.coupled:  # what follows something is solved with it
            ends += [p.body for o in [known.get(c.other)] if o is not None for p in (o.a, o.b) if p.body in free]
        for end in ends[1:]:
            first[root(end)] = root(ends[0])
    groups: dict[str, list[RigidBody]] = {}
    for key, body in free.items():
        groups.setdefault(root(key), []).append(body)
    found = []
    for key, group in groups.items():
        held = [o for o in bonds if any(p.body in free and root(p.body) == key for p in (o.a, o.b))]
        stays = {p.body for o in held for p in (o.a, o.b)} - free.keys() - {GROUND}
        found.append(([*(b for b in bodies if b.id in stays), *group], held))
    between = [o for o in bonds if o.a.body not in free and o.b.body not in free]
    return [*found, *(([b for b in bodies if b.fixed], [o]) for o in between)]


def faced(bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> tuple[list[RigidBody], list[str]]:
    """Bodies, those turned over that a bond wants to face the other way than they do at the start, and which these are."""
    at, over = {b.id: b for b in bodies}, []
    for bond in bonds:
        if "parallel" not in KINDS[bond.kind].forms:
            continue
        faces = float(np.dot(_axis(at, bond.a), _axis(at, bond.b)))
        place = next(
            (p for p in (bond.b, bond.a) if p.body in at and not at[p.body].fixed and p.body not in over), None
        )
        if faces * bond.sense < 0 and place is not None:
            at[place.body] = _turned_over(at[place.body], place)
            over.append(place.body)
    return [at[b.id] for b in bodies], over


def _axis(at: dict[str, RigidBody], place: Mount) -> Array:
    axis = np.array(place.axis, float)
    return axis if place.body not in at else np.array(at[place.body].stands, float).reshape(4, 4)[:3, :3] @ axis


def _turned_over(body: RigidBody, place: Mount) -> RigidBody:
    """Half a turn about the side of one of its places, through its point."""
    stands = np.array(body.stands, float).reshape(4, 4)
    turn, shift = stands[:3, :3], stands[:3, 3]
    half = rotations(math.pi * (turn @ frame_of(place)[0])[None])[0]
    point = turn @ np.array(place.point) + shift
    return body._replace(stands=as_rigid(squared((half @ turn)[None])[0], half @ (shift - point) + point))


def followed(system: BondEquations) -> tuple[Poses, float]:
    """Poses at the end of the way from the start, and the largest residual there, mm."""
    at = system.start
    missing = system.residual(at)
    if not len(missing):
        return at, 0.0
    if not system.columns:
        return at, float(np.abs(missing).max())
    done, step = 0.0, _first_step(system, missing)
    while done < 1.0:
        goal = min(1.0, done + step)
        there = _corrected(system, at, (1.0 - goal) * missing, goal == 1.0)
        if there is not None:
            at, done, step = there, goal, step * 2
        elif step / 2 < SHORTEST:
            break
        else:
            step /= 2
    return at, float(np.abs(system.residual(at)).max())


def _first_step(system: BondEquations, missing: Array) -> float:
    """A share of the way that turns none of the driven joints farther than a step may."""
    before = sum(len(system.sorts[s].bond) for s in ("lean", "reach"))
    turns = missing[before : before + len(system.sorts["turn"].bond)] / system.size
    most = float(np.abs(turns).max()) if len(turns) else 0.0
    return min(1.0, 0.9 * WIDEST / most) if most > 0 else 1.0


def _corrected(system: BondEquations, start: Poses, goal: Array, last: bool) -> Poses | None:
    """Poses near a start at which the residuals are as wanted; None where steps do not lead there, or lead too far."""
    at, limit = start, CLOSE * system.size * 1e-2
    for _ in range(STEPS):
        off = system.residual(at) - goal
        if float(np.abs(off).max()) < limit:
            return at
        few = system.columns <= FEW
        move = (
            least_of_few(system.matrix(at), -off, system.size) if few else least(system.jacobian(at), -off, system.size)
        )
        if not np.isfinite(move).all():
            return None
        at = system.moved(at, move)
        turned = np.einsum("nij,nij->n", at.turns, start.turns)
        if float(turned.min()) < 1 + 2 * math.cos(WIDEST):  # the trace of the turn between them
            return None
        if float(np.abs(move).max()) < tolerance.SOLVER * 1e-3:
            break  # nothing brings it nearer: what is redundant may disagree on the way, but not at its end
    off = system.residual(at) - goal
    near = float(np.abs(off).max()) < CLOSE * system.size
    return at if near or (not last and _rests(system, at, off)) else None


def _rests(system: BondEquations, at: Poses, off: Array) -> bool:
    """Whether no small move brings the residuals nearer to what is wanted."""
    pull = (system.matrix(at) if system.columns <= FEW else system.jacobian(at)).T @ off
    return float(np.abs(pull).max()) <= 1e-6 * float(np.abs(off).max()) * system.size


def _weights(columns: int, size: float) -> Array:
    return np.tile([1.0, 1.0, 1.0, 1 / size, 1 / size, 1 / size], columns // 6)


def least_of_few(matrix: Array, wanted: Array, size: float) -> Array:
    """The shortest move that does what is wanted, as nearly as can be; turns are weighed by a length."""
    weights = _weights(matrix.shape[1], size)
    found: Array = np.linalg.lstsq(matrix * weights, wanted, rcond=1e-10)[0] * weights
    return found


def least(jacobian: sparse.csr_array, wanted: Array, size: float) -> Array:
    """The same for many bodies: the equations are solved sparsely, a trace of their size added to the diagonal, as some of
    them may say the same; what that leaves is made good by the next move.
    """
    weights = _weights(jacobian.shape[1], size)
    weighed = jacobian @ sparse.diags_array(weights)
    square = (weighed @ weighed.T).tocsc()
    trace = 1e-11 * float(square.diagonal().mean())
    solved = linalg.splu(square + trace * sparse.eye_array(square.shape[0], format="csc")).solve(wanted)
    found: Array = (weighed.T @ solved) * weights
    return found


def smallest(bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> list[str]:
    """A smallest set of bonds that cannot all be true: each that is left out of it can be fulfilled (deletion filter)."""
    kept = list(bonds)
    for bond in reversed(bonds):
        rest = [b for b in kept if b is not bond]
        if rest and not _holds(bodies, rest):
            kept = rest
    return [b.id for b in kept]


def _holds(bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> bool:
    for group, held in (g for g in components(bodies, bonds) if g[1]):
        system = BondEquations(faced(group, held)[0], held)
        if followed(system)[1] > CLOSE * system.size:
            return False
    return True


def squared(turns: Array) -> Array:
    """The nearest turns, (n, 3, 3): many small moves add up."""
    u, _, v = np.linalg.svd(turns)
    found: Array = u @ v
    return found


def as_rigid(square: Array, shift: Array) -> Rigid:
    """Numbers for a record, on the grid, of a turn that is square."""
    rows = [
        [*(tolerance.ratio(c) for c in row), tolerance.length(s)]
        for row, s in zip(square.tolist(), shift.tolist(), strict=True)
    ]
    return (*rows[0], *rows[1], *rows[2], 0.0, 0.0, 0.0, 1.0)
