"""BondEquations of bonds as arrays: residuals and their derivatives by small moves of the bodies.

Every equation but those of coupled joints is one of four sorts over two bodies A and B, with directions e on A and u on B
and points p on each:

    lean    e . u - c                    (times a length, so that all residuals are mm)
    reach   e . (p_B - p_A) - d
    turn    angle from A's side to B's side about A's axis - c   (times a length)
    screw   e . (p_B - p_A) - lead / 2 pi * that angle - d

A coupled joint has one more: the value of a reach or turn is a share of another one, plus an offset.

A body moves by a shift dt and a turn dw, both in the assembly's axes: a direction v on it changes by dw x v, a point by
dt + dw x (its arm). Derivatives follow from that alone.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from scipy import sparse

from architectonic.assembly.entities import GROUND, KINDS, Bond, Mount, RigidBody

Array = np.ndarray
Triple = Sequence[float] | np.ndarray


class Poses(NamedTuple):
    """Where bodies stand: turns (n, 3, 3) and shifts (n, 3), mm."""

    turns: Array
    shifts: Array


class BondRows(NamedTuple):
    """BondEquations of one sort, m of them.

    Attributes:
        a, b: numbers of their bodies, (m,); pa, pb: points; e, u: directions, (m, 3), in the bodies' coordinates.
        side_a, side_b: what a turn is counted from and to; c: what is wanted, (m,); lead: mm a turn, (m,).
        bond: the number of the bond that each belongs to, (m,).
    """

    a: Array
    b: Array
    pa: Array
    pb: Array
    e: Array
    u: Array
    side_a: Array
    side_b: Array
    c: Array
    lead: Array
    bond: Array


class _Row(NamedTuple):
    sort: str
    a: int
    b: int
    pa: Triple
    pb: Triple
    e: Triple
    u: Triple
    c: float
    lead: float
    bond: int
    side_a: Triple = (0.0, 0.0, 0.0)
    side_b: Triple = (0.0, 0.0, 0.0)


SORTS = ("lean", "reach", "turn", "screw")


class _Pair(NamedTuple):
    """An equation of a coupled joint: the sorts and rows (of one each) of what follows and of what it follows."""

    sorts: tuple[str, str]
    rows: tuple[BondRows, BondRows]
    ratio: float
    offset: float


class BondEquations:
    """The equations of some bonds between some bodies.

    Attributes:
        bonds: as they were given; bodies: the ground first; free: the column of each body's six unknowns, -1 for one that stays, (n,).
        columns: how many unknowns; size: the length, mm, that turns are weighed by.
        bond: the number of the bond of each equation, (rows,).
    """

    def __init__(self, bodies: Sequence[RigidBody], bonds: Sequence[Bond]) -> None:
        self.bonds = list(bonds)
        self.bodies = [RigidBody(GROUND, (1.0, 0, 0, 0, 0, 1.0, 0, 0, 0, 0, 1.0, 0, 0, 0, 0, 1.0), True), *bodies]
        self.number = {b.id: k for k, b in enumerate(self.bodies)}
        stands = np.array([b.stands for b in self.bodies], float).reshape(-1, 4, 4)
        self.start = Poses(stands[:, :3, :3].copy(), stands[:, :3, 3].copy())
        free = [not b.fixed for b in self.bodies]
        self.free = np.where(free, 6 * (np.cumsum(free) - 1), -1)
        self.columns = 6 * sum(free)
        points = [p.point for bond in bonds for p in (bond.a, bond.b)]
        spread = float(np.ptp(np.array(points), axis=0).max()) if points else 0.0
        self.size = max(spread, 1.0)
        rows = [row for k, bond in enumerate(bonds) for row in self._rows(k, bond)]
        self.sorts = {s: _stacked([r for r in rows if r.sort == s]) for s in SORTS}
        self.pairs = self._pairs(bonds)
        self.bond = np.concatenate([*(self.sorts[s].bond for s in SORTS), *(p.rows[0].bond for p in self.pairs)])

    # --- what a bond says -----------------------------------------------------------------------------

    def _rows(self, k: int, bond: Bond) -> list[_Row]:
        found: list[_Row] = []
        for form in KINDS[bond.kind].forms:
            found += getattr(self, f"_{form}")(k, bond)
        if bond.slide is not None:
            found.append(self._reach(k, bond, bond.a.axis, bond.slide))
        if bond.turn is not None and bond.kind != "screw":
            found.append(self._about(k, bond, bond.turn))
        if bond.turn is not None and bond.kind == "screw":
            found.append(self._reach(k, bond, bond.a.axis, bond.offset + bond.lead * bond.turn / math.tau))
        return found

    def _reach(self, k: int, bond: Bond, direction: Triple, far: float) -> _Row:
        a, b = bond.a, bond.b
        return _Row(
            "reach", self.number[a.body], self.number[b.body], a.point, b.point, direction, direction, far, 0.0, k
        )

    def _about(self, k: int, bond: Bond, angle: float, sort: str = "turn", lead: float = 0.0) -> _Row:
        a, b = bond.a, bond.b
        return _Row(sort, self.number[a.body], self.number[b.body], a.point, b.point, a.axis, b.axis, angle, lead, k,
                    a.side, b.side)  # fmt: skip

    def _meet(self, k: int, bond: Bond) -> list[_Row]:
        """Both points are one: along three directions of A; a frame may stand off along the axis."""
        side, across, axis = frame_of(bond.a)
        return [
            self._reach(k, bond, side, 0.0),
            self._reach(k, bond, across, 0.0),
            self._reach(k, bond, axis, bond.offset),
        ]

    def _beside(self, k: int, bond: Bond) -> list[_Row]:
        side, across, _ = frame_of(bond.a)
        return [self._reach(k, bond, side, 0.0), self._reach(k, bond, across, 0.0)]

    def _ahead(self, k: int, bond: Bond) -> list[_Row]:
        return [self._reach(k, bond, bond.a.axis, bond.offset)]

    def _parallel(self, k: int, bond: Bond) -> list[_Row]:
        side, across, _ = frame_of(bond.a)
        return [self._lean(k, bond, side, bond.b.axis, 0.0), self._lean(k, bond, across, bond.b.axis, 0.0)]

    def _leaning(self, k: int, bond: Bond) -> list[_Row]:
        return [self._lean(k, bond, bond.a.axis, bond.b.axis, math.cos(bond.angle))]

    def _lean(self, k: int, bond: Bond, e: Triple, u: Triple, c: float) -> _Row:
        a, b = bond.a, bond.b
        return _Row("lean", self.number[a.body], self.number[b.body], a.point, b.point, e, u, c, 0.0, k)

    def _turn(self, k: int, bond: Bond) -> list[_Row]:
        return [self._about(k, bond, bond.angle)]

    def _screw(self, k: int, bond: Bond) -> list[_Row]:
        return [self._about(k, bond, bond.offset, "screw", bond.lead)]

    def _pairs(self, bonds: Sequence[Bond]) -> list[_Pair]:
        """Equations of coupled joints; of a bond that is not among these its followers are free."""
        known, found = {b.id: b for b in bonds}, []
        for k, bond in enumerate(bonds):
            for c in bond.coupled:
                if c.other in known:
                    rows = (self._value(k, bond, c.field), self._value(k, known[c.other], c.other_field))
                    sorts = (rows[0].sort, rows[1].sort)
                    found.append(_Pair(sorts, (_stacked([rows[0]]), _stacked([rows[1]])), c.ratio, c.offset))
        return found

    def _value(self, k: int, bond: Bond, field: str) -> _Row:
        return self._reach(k, bond, bond.a.axis, 0.0) if field == "slide" else self._about(k, bond, 0.0)

    def _weight(self, sort: str) -> float:
        """What a turn is multiplied by in a residual."""
        return self.size if sort == "turn" else 1.0

    # --- numbers --------------------------------------------------------------------------------------

    def residual(self, at: Poses) -> Array:
        """How far every equation is from true, mm, (rows,)."""
        plain = [self._residual(s, r, at) for s, r in self.sorts.items()]
        return np.concatenate([*plain, *(self._coupled(p, at) for p in self.pairs)])

    def _coupled(self, pair: _Pair, at: Poses) -> Array:
        follows, followed = (
            self._residual(s, r, at) / self._weight(s) for s, r in zip(pair.sorts, pair.rows, strict=True)
        )
        off: Array = follows - pair.ratio * followed - pair.offset
        return self.size * wrapped(off) if pair.sorts[0] == "turn" else off

    def _residual(self, sort: str, r: BondRows, at: Poses) -> Array:
        if not len(r.a):
            return np.zeros(0)
        e = _on(at, r.a, r.e)
        if sort == "lean":
            found: Array = self.size * (_dot(e, _on(at, r.b, r.u)) - r.c)
            return found
        apart = _dot(e, _at(at, r.b, r.pb) - _at(at, r.a, r.pa))
        if sort == "reach":
            reached: Array = apart - r.c
            return reached
        turned = angle_about(e, _on(at, r.a, r.side_a), _on(at, r.b, r.side_b))
        if sort == "turn":
            return self.size * wrapped(turned - r.c)
        advanced: Array = apart - r.lead / math.tau * turned - r.c
        return advanced

    def matrix(self, at: Poses) -> Array:
        """Derivatives of the residuals by the six unknowns of every free body, (rows, columns); for few of them this is
        quicker than `jacobian`, which is the same."""
        found = np.zeros((len(self.bond), self.columns))
        rows, columns, values = self._entries(at)
        if len(values):
            np.add.at(found, (rows, columns), values)
        return found

    def jacobian(self, at: Poses) -> sparse.csr_array:
        """Derivatives of the residuals by the six unknowns of every free body, (rows, columns)."""
        rows, columns, values = self._entries(at)
        shape = (len(self.bond), self.columns)
        if not len(values):
            return sparse.csr_array(shape)
        return sparse.csr_array(sparse.coo_array((values, (rows, columns)), shape))

    def _entries(self, at: Poses) -> tuple[Array, Array, Array]:
        """Row, column and value of every derivative; those of one place add up."""
        rows, columns, values = [], [], []
        top = 0
        for sort, r in self.sorts.items():
            m = len(r.a)
            for number, d in zip((r.a, r.b), self._derivatives(sort, r, at) if m else (), strict=False):
                moves = self.free[number] >= 0
                rows.append(np.repeat(np.arange(top, top + m)[moves], 6))
                columns.append((self.free[number][moves][:, None] + np.arange(6)).ravel())
                values.append(d[moves].ravel())
            top += m
        for pair in self.pairs:
            for sort, r, share in zip(pair.sorts, pair.rows, (1.0, -pair.ratio), strict=True):
                weight = share * self._weight(pair.sorts[0]) / self._weight(sort)
                for number, d in zip((r.a, r.b), self._derivatives(sort, r, at), strict=True):
                    if self.free[number[0]] >= 0:
                        rows.append(np.full(6, top))
                        columns.append(self.free[number[0]] + np.arange(6))
                        values.append(weight * d[0])
            top += 1
        if not rows:
            return np.zeros(0, int), np.zeros(0, int), np.zeros(0)
        return np.concatenate(rows), np.concatenate(columns), np.concatenate(values)

    def _derivatives(self, sort: str, r: BondRows, at: Poses) -> tuple[Array, Array]:
        e, none = _on(at, r.a, r.e), np.zeros((len(r.a), 3))
        if sort == "lean":
            u = _on(at, r.b, r.u)
            turned = self.size * _cross(e, u)
            return np.hstack([none, turned]), np.hstack([none, -turned])
        arm_a, arm_b = _on(at, r.a, r.pa), _on(at, r.b, r.pb)
        apart = _at(at, r.b, r.pb) - _at(at, r.a, r.pa)
        da = np.hstack([-e, _cross(e, apart) - _cross(arm_a, e)])
        db = np.hstack([e, _cross(arm_b, e)])
        if sort == "reach":
            return da, db
        about_a, about_b = np.hstack([none, -e]), np.hstack([none, e])
        if sort == "turn":
            return self.size * about_a, self.size * about_b
        share = (r.lead / math.tau)[:, None]
        return da - share * about_a, db - share * about_b

    def gradient(self, bond: Bond, field: str) -> Array:
        """How a joint's value changes at the start by the unknowns, mm or rad, (columns,)."""
        row = self._value(0, bond, field)
        found, r = np.zeros(self.columns), _stacked([row])
        for number, d in zip((row.a, row.b), self._derivatives(row.sort, r, self.start), strict=True):
            if self.free[number] >= 0:
                found[self.free[number] : self.free[number] + 6] += d[0] / self._weight(row.sort)
        return found

    def moved(self, at: Poses, step: Array) -> Poses:
        """The bodies after a small move, (columns,)."""
        turns, shifts = at.turns.copy(), at.shifts.copy()
        moves = np.flatnonzero(self.free >= 0)
        d = step.reshape(-1, 6)
        shifts[moves] += d[:, :3]
        turns[moves] = rotations(d[:, 3:]) @ turns[moves]
        return Poses(turns, shifts)


def frame_of(place: Mount) -> tuple[Array, Array, Array]:
    """Side, across and axis of a place, square to each other, in its body's coordinates."""
    axis, side = np.array(place.axis, float), np.array(place.side, float)
    return side, cross(axis, side), axis


def in_space(place: Mount, stands: Array) -> tuple[Array, Array, Array]:
    """Point, axis and side of a place where its body stands, (4, 4)."""
    turn = stands[:3, :3]
    return turn @ np.array(place.point) + stands[:3, 3], turn @ np.array(place.axis), turn @ np.array(place.side)


def cross(a: Array, b: Array) -> Array:
    """The vector product of two vectors; for single ones far quicker than the general function."""
    (x, y, z), (u, v, w) = a.tolist(), b.tolist()
    return np.array([y * w - z * v, z * u - x * w, x * v - y * u])


def angle_about(axis: Array, first: Array, then: Array) -> Array:
    """The angle from one direction to another about an axis, rad, in (-pi, pi], (m,)."""
    found: Array = np.arctan2(_dot(axis, _cross(first, then)), _dot(first, then) - _dot(axis, first) * _dot(axis, then))
    return found


def wrapped(angle: Array) -> Array:
    """An angle in [-pi, pi)."""
    found: Array = (angle + math.pi) % math.tau - math.pi
    return found


def rotations(w: Array) -> Array:
    """Turns about vectors by their lengths (Rodrigues), (n, 3, 3)."""
    size = np.linalg.norm(w, axis=1)
    cross = np.zeros((len(w), 3, 3))
    cross[:, 0, 1], cross[:, 0, 2], cross[:, 1, 2] = -w[:, 2], w[:, 1], -w[:, 0]
    cross -= cross.transpose(0, 2, 1)
    small = size < 1e-8
    whole = np.where(small, 1.0, size)
    first = np.where(small, 1.0, np.sin(whole) / whole)[:, None, None]
    second = np.where(small, 0.5, (1 - np.cos(whole)) / whole**2)[:, None, None]
    found: Array = np.eye(3) + first * cross + second * (cross @ cross)
    return found


def _cross(a: Array, b: Array) -> Array:
    """Vector products row by row, (m, 3); the general function spends most of its time on axes."""
    found: Array = a[:, (1, 2, 0)] * b[:, (2, 0, 1)] - a[:, (2, 0, 1)] * b[:, (1, 2, 0)]
    return found


def _dot(a: Array, b: Array) -> Array:
    found: Array = np.einsum("ij,ij->i", a, b)
    return found


def _on(at: Poses, number: Array, v: Array) -> Array:
    """Directions on bodies, in the assembly's axes."""
    found: Array = np.einsum("nij,nj->ni", at.turns[number], v)
    return found


def _at(at: Poses, number: Array, p: Array) -> Array:
    found: Array = _on(at, number, p) + at.shifts[number]
    return found


def _stacked(rows: list[_Row]) -> BondRows:
    def vectors(name: str) -> Array:
        return np.array([getattr(r, name) for r in rows], float).reshape(-1, 3)

    def numbers(name: str, kind: type) -> Array:
        return np.array([getattr(r, name) for r in rows], kind)

    return BondRows(
        numbers("a", int), numbers("b", int), vectors("pa"), vectors("pb"), vectors("e"), vectors("u"),
        vectors("side_a"), vectors("side_b"), numbers("c", float), numbers("lead", float), numbers("bond", int),
    )  # fmt: skip
