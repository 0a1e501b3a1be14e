"""Assemblies in space: solving a chain of hinged bodies, and one step of a joint, beside a general solver."""

from __future__ import annotations

import math

import numpy as np
from scipy.optimize import least_squares

from architectonic.assembly.entities import GROUND, Bond, Mount, RigidBody
from architectonic.assembly.equations import BondEquations
from architectonic.assembly.solve import solve
from architectonic.base import rigid
from bench.timing import median


def chain(count: int) -> tuple[list[RigidBody], list[Bond]]:
    """Bars of 40 mm, each hinged to the one before it and set to an angle, the axes turning from one to the next."""
    bodies, bonds, stands = [], [], rigid.IDENTITY
    for k in range(count):
        bodies.append(RigidBody(f"b{k}", stands))
        axis = (0.0, 0.0, 1.0) if k % 2 else (0.0, 1.0, 0.0)
        side = (1.0, 0.0, 0.0)
        a = Mount(f"b{k - 1}" if k else GROUND, (40.0 if k else 0.0, 0.0, 0.0), axis, side)
        bonds.append(Bond(f"j{k}", "revolute", a, Mount(f"b{k}", (0.0, 0.0, 0.0), axis, side), turn=0.0))
        stands = rigid.times(stands, rigid.shift(40.0, 0.0, 0.0))
    return bodies, bonds


def assemblies() -> None:
    """All joints of a chain, and one of them; at 20 and 100 bodies beside least_squares on the same equations."""
    for count in (20, 100, 500):
        _chain_of(count, count <= 100)


def _chain_of(count: int, beside: bool) -> None:
    bodies, bonds = chain(count)
    turned = math.radians(3)
    stepped = [b._replace(turn=turned) for b in bonds]
    all_joints = median(lambda: solve(bodies, stepped), 3)
    step = median(lambda: solve(bodies, [stepped[0], *bonds[1:]]), 3)
    told = f"{count:4d} hinged bodies: all joints by 3 deg {all_joints:7.3f} s, one joint {step:7.3f} s"
    if beside:
        system = BondEquations(bodies, stepped)

        def residual(x: np.ndarray) -> np.ndarray:
            return system.residual(system.moved(system.start, x))

        general = median(lambda: least_squares(residual, np.zeros(system.columns), xtol=1e-12, ftol=1e-12), 1)
        told += f"; least_squares {general:7.2f} s, ratio {general / all_joints:.0f} (at least 20 at 100)"
    print(told)
