"""Assemblies in space: solving a chain of hinged bodies, and one step of a joint, beside a general solver."""

from __future__ import annotations

import math
import tempfile
import time
from pathlib import Path

import numpy as np
from scipy.optimize import least_squares

from architectonic.assembly.entities import GROUND, Bond, Mount, RigidBody
from architectonic.assembly.equations import BondEquations
from architectonic.assembly.solve import solve
from architectonic.base import rigid
from architectonic.demo.family import brindle
from architectonic.describe.assembly.clashes import near
from architectonic.describe.assembly.plans import PlacedBody
from architectonic.describe.references.relations import boxes_meet
from architectonic.family import edits, scopes
from architectonic.family.scopes import InPlace, Scope
from architectonic.propagate.targets import Look
from architectonic.propagate.whole import evaluate_scopes
from architectonic.session.open.engine import Engine
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
    """All joints of a chain, and one of them; at 20 and 100 bodies beside least_squares on the same equations. A drag of 50
    bodies; interference of all pairs; alternates."""
    for count in (20, 100, 500):
        _chain_of(count, count <= 100)
    _drag(50)
    _clashing(500)
    _alternates()


def _drag(count: int) -> None:
    """One joint moved by a degree at a time, each step from where the bodies were stored."""
    bodies, bonds = chain(count)
    taken = []
    for k in range(60):
        stepped = [bonds[0], bonds[1]._replace(turn=math.radians(k)), *bonds[2:]]
        start = time.perf_counter()
        solve(bodies, stepped)
        taken.append(time.perf_counter() - start)
    p95 = sorted(taken)[int(0.95 * len(taken))]
    print(f"{count:4d} moving bodies, a drag: p95 {1000 * p95:6.1f} ms a step (16 asked)")


def _clashing(count: int) -> None:
    """Bars in a row, each with the next one: boxes swept beside every pair compared by its boxes."""
    boxes = [(40.0 * k, 0.0, 0.0, 40.0 * k + 41.0, 10.0, 10.0) for k in range(count)]
    bodies = [
        (k, PlacedBody(InPlace((f"i{k}",), Scope("d", "c"), "b"), rigid.IDENTITY, Scope("d", "c"), "b"), b)
        for k, b in enumerate(boxes)
    ]
    swept = median(lambda: near(bodies), 3)

    def every() -> list[tuple[int, int]]:
        return [(i, j) for i in range(count) for j in range(i) if boxes_meet(boxes[i], boxes[j])]

    told = median(every, 1)
    assert len(near(bodies)) == len(every()) == count - 1
    print(
        f"{count:4d} bodies: pairs whose boxes meet {1000 * swept:6.1f} ms; every pair {1000 * told:6.1f} ms, ratio {told / swept:.0f}"
    )


def _alternates() -> None:
    """The demo light: 27 results cold, one more pose, and an alternate that is known already."""
    with tempfile.TemporaryDirectory() as folder:
        engine = Engine.start(Path(folder))
        family = brindle()
        light = edits.find_document(family, "Light")
        rows = scopes.scopes_of(family, light)
        start = time.perf_counter()
        first = evaluate_scopes(engine.evaluator, family, rows)
        cold = time.perf_counter() - start
        bond = next(b.id for b in light.bonds if b.name == "Shoulder")
        posed = edits.set_bond_value(family, light.id, bond, "turn", "40 deg", rows[0].alternate)
        start = time.perf_counter()
        second = evaluate_scopes(engine.evaluator, posed, rows)
        again = time.perf_counter() - start
        start = time.perf_counter()
        evaluate_scopes(engine.evaluator, posed, [rows[3]], (Look(rows[3]),))
        switched = time.perf_counter() - start
        engine.close()
    print(
        f"{len(rows)} results of the demo light: {cold:.1f} s and {first.work.computed} computations cold; one pose changed "
        f"{again:.2f} s, {second.work.computed}; an alternate that is known {1000 * switched:.0f} ms (300 asked)"
    )


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
