"""A part of sixty operations: what a change in one of them runs again, and what the engine adds to the kernel's time."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path
from typing import Any

from bench.naming import Maker, outline, ring

COUNT = 60


def sixty() -> Maker:
    """A plate with bosses and bores in a grid, each with a round or a chamfer at its upper edge now and then."""
    from architectonic.family.operations.edges.chamfer import Chamfer
    from architectonic.family.operations.edges.fillet import Fillet
    from architectonic.family.records import Reference
    from architectonic.session.model import building

    m = Maker({"w": 240, "h": 160, "d": 12, **{f"r{k}": 3 + k % 3 for k in range(COUNT)}})
    corners = ("0 mm", "0 mm"), ("w", "0 mm"), ("w", "h"), ("0 mm", "h")
    m.extrude("o0", m.sketch("top", outline(*corners)), "make", "d")
    level, number = m.level("lid", "d"), 1
    while number < COUNT:
        column, row = (number // 2) % 8, (number // 2) // 8
        regions = m.sketch(level, ring(f"{20 + 28 * column} mm", f"{20 + 36 * row} mm", f"r{number}"))
        boss = number % 4 < 2
        m.extrude(f"o{number}", regions, "add" if boss else "cut", "6 mm", flip=not boss)
        number += 1
        if number < COUNT:
            curve = regions[0].label.lstrip("+-").split("/")[0]
            top = sorted((f"o{number - 1}:side:{curve}", f"o{number - 1}:end" if boss else "o0:end"))
            edge = Reference(item="b", stage="here", label=f"({top[0]}|{top[1]})")
            kind: Any = Fillet if number % 3 else Chamfer
            size = {"radius": m.e("0.8 mm")} if kind is Fillet else {"distance": m.e("0.8 mm")}
            m.family = building.store(m.family, m.key, kind(id=f"o{number}", name=f"o{number}", edges=(edge,), **size))
            number += 1
    return m


def building() -> None:
    """Cold, after a change near the end, and the first preview of one more operation."""
    from architectonic.check.attention import attention
    from architectonic.family import edits
    from architectonic.family.operations.edges.fillet import Fillet
    from architectonic.family.records import Reference
    from architectonic.family.scopes import Scope
    from architectonic.propagate.targets import Look
    from architectonic.propagate.whole import evaluate_scopes
    from architectonic.session.model import building as store
    from architectonic.session.open.engine import Engine

    m = sixty()
    at = Scope(m.key, "default")
    with tempfile.TemporaryDirectory() as folder:
        engine = Engine.start(Path(folder), 1)

        def run(family: Any, at: Scope = at) -> Any:
            return evaluate_scopes(engine.evaluator, family, [at], (Look(at),))

        warm = Maker({"w": 1.0})
        warm.extrude("o0", warm.sketch("top", ring("0 mm", "0 mm", "w")), "make", "w")
        run(warm.family, Scope(warm.key, "default"))  # the worker has loaded the kernel by then
        cold = run(m.family)
        failing = len(attention(cold))
        work = cold.work
        print(
            f"60 in a part {work.total_seconds:6.3f} s cold, kernel {work.kernel_seconds:6.3f} s,"
            f" overhead {100 * (work.total_seconds / work.kernel_seconds - 1):.0f} % (goal now: 25 %); {failing} failing"
        )
        rows = {p.name: p.id for p in m.family.documents[m.key].parameters}
        for number in (1, 29, 53):
            changed = edits.set_value(m.family, m.key, rows[f"r{number}"], "3.5 mm")
            work = run(changed).work
            ran = [r for r in work.reasons if r[1] in ("extrude", "fillet", "chamfer")]
            after = COUNT - number
            print(
                f"             a change in operation {number}: {len(ran)} of the {after} from there on ran,"
                f" {work.total_seconds:.3f} s, kernel {work.kernel_seconds:.3f} s"
            )
            run(m.family)
        corner = sorted(f"o0:side:s1c{k}" for k in (0, 1))
        edge = Reference(item="b", stage="here", label=f"({corner[0]}|{corner[1]})")
        more = Fillet(id="more", name="more", edges=(edge,), radius=m.e("3 mm"))
        previewed = store.store(m.family, m.key, more)
        started = time.perf_counter()
        evaluate_scopes(engine.evaluator, previewed, [at], (Look(at),), measured=False, quick=True)
        seen = time.perf_counter() - started
        run(previewed)
        took = time.perf_counter() - started
        print(
            f"             one more operation: picture in {1000 * seen:.0f} ms (goal: 100 ms), measured in {1000 * took:.0f} ms"
        )
        engine.close()
