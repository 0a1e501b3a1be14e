"""Spline surfaces as arrays: read, written, carried on beyond their ends as their last piece runs."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from OCP.collections import Array1_double, Array1_int, Array2_double, Array2_gp_Pnt
from OCP.Geom import Geom_BSplineSurface
from OCP.gp import gp_Pnt

ROUNDS = 4
"""How often the length of what is added is corrected; each round gains about three digits."""


@dataclass(frozen=True)
class Net:
    """Poles in homogeneous coordinates (n, m, 4), flat knots and degrees in both directions."""

    poles: np.ndarray
    u: np.ndarray
    v: np.ndarray
    degrees: tuple[int, int]

    def turned(self) -> Net:
        """With its two directions changed over."""
        return Net(self.poles.transpose(1, 0, 2), self.v, self.u, (self.degrees[1], self.degrees[0]))


def read(surface: Any) -> Net:
    """The net of a spline surface that is not periodic."""
    n, m = surface.NbUPoles(), surface.NbVPoles()
    poles = np.empty((n, m, 4))
    for i in range(n):
        for j in range(m):
            w = surface.Weight(i + 1, j + 1)
            poles[i, j] = (*(w * c for c in surface.Pole(i + 1, j + 1).Coord()), w)
    u = [surface.UKnot(k + 1) for k in range(surface.NbUKnots()) for _ in range(surface.UMultiplicity(k + 1))]
    v = [surface.VKnot(k + 1) for k in range(surface.NbVKnots()) for _ in range(surface.VMultiplicity(k + 1))]
    return Net(poles, np.array(u), np.array(v), (surface.UDegree(), surface.VDegree()))


def written(net: Net) -> Any:
    """A net as the kernel has it."""
    n, m, _ = net.poles.shape
    poles, weights = Array2_gp_Pnt(1, n, 1, m), Array2_double(1, n, 1, m)
    for i in range(n):
        for j in range(m):
            x, y, z, w = (float(c) for c in net.poles[i, j])
            poles.SetValue(i + 1, j + 1, gp_Pnt(x / w, y / w, z / w))
            weights.SetValue(i + 1, j + 1, w)
    (ku, cu), (kv, cv) = (_counted(k) for k in (net.u, net.v))
    return Geom_BSplineSurface(poles, weights, ku, kv, cu, cv, *net.degrees, False, False)


def _counted(flat: np.ndarray) -> tuple[Any, Any]:
    marks, counts = np.unique(flat, return_counts=True)
    knots, times = Array1_double(1, len(marks)), Array1_int(1, len(marks))
    for k, (mark, count) in enumerate(zip(marks, counts, strict=True)):
        knots.SetValue(k + 1, float(mark))
        times.SetValue(k + 1, int(count))
    return knots, times


def longer(net: Net, by: float) -> Net:
    """A net carried on beyond the end of its first direction by a step of its coordinate, as its last piece runs.

    The new poles are values of the blossom of that piece (Ramshaw, Blossoms are polar forms, 1989), so that what was there
    stays as it was to the last digit and goes on with all its derivatives.
    """
    p, t, n = net.degrees[0], net.u, len(net.poles)
    end = t[-1] + by
    made = net.poles.copy()
    piece = net.poles[n - p - 1 :]
    for k in range(1, p + 1):
        made[n - p - 1 + k] = _blossom(piece, t, n - 1, p, [*t[n - p + k : n], *[end] * k])
    knots = t.copy()
    knots[-(p + 1) :] = end
    return replace(net, poles=made, u=knots)


def _blossom(points: np.ndarray, t: np.ndarray, k: int, p: int, at: list[float]) -> np.ndarray:
    """Of the piece that begins at knot k, whose poles are given, the value of its blossom."""
    d = [points[j] for j in range(p + 1)]
    for r in range(1, p + 1):
        for j in range(p, r - 1, -1):
            low, high = t[j + k - p], t[j + 1 + k - r]
            share = (at[r - 1] - low) / (high - low)
            d[j] = (1 - share) * d[j - 1] + share * d[j]
    found: np.ndarray = d[p]
    return found


def carried_on(surface: Any, in_u: bool, after: bool, length: float) -> Any:
    """A spline surface carried on beyond one of its ends by a length, measured along the middle."""
    net = read(surface)
    net = net if in_u else net.turned()
    if not after:
        net = replace(net, poles=net.poles[::-1], u=-net.u[::-1])
    by = 0.1 * float(net.u[-1] - net.u[0])
    for _ in range(ROUNDS):
        by *= length / _added(net, by)
    made = longer(net, by)
    if not after:
        made = replace(made, poles=made.poles[::-1], u=-made.u[::-1])
    return written(made if in_u else made.turned())


def _added(net: Net, by: float) -> float:
    """The length of what a step adds, along the middle of the other direction."""
    surface = written(longer(net, by))
    v = float(net.v[0] + net.v[-1]) / 2
    ends = np.linspace(float(net.u[-1]), float(net.u[-1]) + by, 65)
    points = np.array([surface.Value(float(u), v).Coord() for u in ends])
    return float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())
