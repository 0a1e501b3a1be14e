"""Benchmarks: ratios against a baseline measured in the same run. `python -m bench`"""

from __future__ import annotations

import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path


def median(action: Callable[[], object], runs: int = 5) -> float:
    """Median seconds of some runs."""
    times = []
    for _ in range(runs):
        started = time.perf_counter()
        action()
        times.append(time.perf_counter() - started)
    return statistics.median(times)


def propagation() -> None:
    """Evaluating the demo, cold and after one change, beside the kernel's own time for the same operations."""
    from architectonic.demo.family import brindle
    from architectonic.family import edits
    from architectonic.propagate.targets import all_scopes
    from architectonic.propagate.whole import evaluate_scopes
    from architectonic.session.places import Engine

    family = brindle()
    with tempfile.TemporaryDirectory() as folder:
        engine = Engine.start(Path(folder), 1)
        sizes = edits.find_document(family, "Sizes")
        wall = next(p for p in sizes.parameters if p.name == "wall")
        small = edits.add_parameter(family, sizes.id, "warm_up", "1 mm")
        evaluate_scopes(engine.evaluator, small, all_scopes(small)[:1])
        cold = evaluate_scopes(engine.evaluator, family, all_scopes(family)).work
        print(
            f"cold build   {cold.total_seconds:6.3f} s, kernel {cold.kernel_seconds:6.3f} s, ratio {cold.total_seconds / cold.kernel_seconds:.2f}"
        )
        totals, kernels = [], []
        for k in range(7):
            changed = edits.set_value(family, sizes.id, wall.id, f"{2.5 + k / 100} mm")
            work = evaluate_scopes(engine.evaluator, changed, all_scopes(changed)).work
            totals.append(work.total_seconds)
            kernels.append(work.kernel_seconds)
        total, kernel = statistics.median(totals), statistics.median(kernels)
        print(f"one change   {total:6.3f} s, kernel {kernel:6.3f} s, ratio {total / kernel:.2f} (goal to come: 1.10)")
        same = median(lambda: evaluate_scopes(engine.evaluator, changed, all_scopes(changed)))
        print(f"nothing new  {same:6.3f} s, {same / total:.2f} of one change")
        engine.close()


def solver() -> None:
    """Sketches from nothing, after one dimension changed, and pulled by a point (docs/decisions/0004)."""
    from dataclasses import replace

    import numpy as np
    from scipy.optimize import least_squares
    from tests.sketch.families import hinged, noisy, parts, truss

    from architectonic.sketch import blocks, drag, solve
    from architectonic.sketch.system import Curve, System

    def forget() -> None:
        blocks._planned.cache_clear()
        solve._followed.cache_clear()

    for name, make in (("plates", parts), ("truss", truss)):
        for n in (20, 100, 300, 1000):
            curves, constraints = make(n)
            drawn = noisy(curves, 0.5)

            def cold(d: list[Curve] = drawn, k: list = constraints) -> None:
                forget()
                solve.solve(d, k)

            ours = median(cold)
            system = System(drawn, constraints)
            theirs = float("nan")
            if n <= 300:

                def rows(x: np.ndarray, s: System = system, k: list = constraints) -> tuple[np.ndarray, np.ndarray]:
                    found = [*s.internal_rows(list(x)), *(r for c in k for r in s.rows(c, list(x)))]
                    slopes = np.zeros((len(found), len(x)))
                    for i, (_, gradient) in enumerate(found):
                        for j, g in gradient.items():
                            if j not in s.fixed:
                                slopes[i, j] = g
                    return np.array([r for r, _ in found]), slopes

                theirs = median(
                    lambda s=system: least_squares(lambda x: rows(x)[0], s.x, jac=lambda x: rows(x)[1], xtol=1e-12), 3
                )
            lengths = [i for i, c in enumerate(constraints) if c.kind == "distance"]
            times = []
            for k in range(9):
                i = lengths[(k * 7919) % len(lengths)]
                changed = [
                    *constraints[:i],
                    replace(constraints[i], value=constraints[i].value * 1.1),
                    *constraints[i + 1 :],
                ]
                started = time.perf_counter()
                solve.solve(drawn, changed)
                times.append(time.perf_counter() - started)
            print(
                f"{name:7} {len(constraints):5d}   cold {ours * 1000:6.1f} ms (least_squares {theirs * 1000:8.1f} ms,"
                f" {theirs / ours:5.1f}x), one dimension {sorted(times)[4] * 1000:6.1f} ms"
            )
    for n in (100, 300, 1000):
        curves, constraints = hinged(n)
        solved = solve.solve(curves, constraints)
        place = sorted(solved.free)[len(solved.free) // 2]
        x, y = solved.values[place]
        at = [Curve(c.id, c.kind, solved.values[c.id]) for c in curves]
        times, worst = [], 0.0
        pulled = drag.Drag(at, constraints, place)
        for k in range(30):
            started = time.perf_counter()
            pulled.pull((x + 0.3 * k, y + 0.15 * k), 2)
            times.append(time.perf_counter() - started)
            worst = max(worst, pulled.residual())
        low, high = np.percentile(times, [50, 95]) * 1000
        print(
            f"pull    {len(constraints):5d}   median {low:6.1f} ms, p95 {high:6.1f} ms a frame (asked 8 at 300, 20 at 1000), worst residual {worst:.0e}"
        )


def start_up() -> None:
    """Start to a drawn, usable window, and to its first 3D picture, beside an empty window that imports the same libraries."""
    empty = (
        "import os; os.environ['QT_QPA_PLATFORM']='offscreen'\n"
        "from PyQt6.QtWidgets import QApplication, QWidget\n"
        "import vtkmodules.vtkRenderingOpenGL2, vtkmodules.vtkFiltersHybrid, vtkmodules.vtkIOImage\n"
        "a = QApplication([]); w = QWidget(); w.resize(1280, 800); w.show(); a.processEvents()"
    )
    ours = (
        "import os, sys, tempfile, pathlib; os.environ['QT_QPA_PLATFORM']='offscreen'\n"
        "from PyQt6.QtWidgets import QApplication\n"
        "from architectonic.desktop import theme; from architectonic.desktop.shell import Shell\n"
        "from architectonic.desktop.workbench import Workbench; from architectonic.session.places import Engine\n"
        "from architectonic.session.session import Session\n"
        "a = QApplication([]); theme.apply(a); e = Engine.start(); s = Session.open(pathlib.Path(sys.argv[1]), e.evaluator)\n"
        "b = Workbench(s, e); w = Shell(b); w.resize(1280, 800); w.show(); a.processEvents()\n"
    )
    ends = {
        "start-up": "os._exit(0)",
        "first picture": "b.update()\nwhile not w.bodies.meshes: a.processEvents()\nw.grab(); e.close(); os._exit(0)",
    }
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run(
            [sys.executable, "-m", "architectonic.cli", "demo", "--write", f"{folder}/f"],
            check=True,
            stdout=subprocess.DEVNULL,
        )
        base = median(lambda: subprocess.run([sys.executable, "-c", empty], check=True, stderr=subprocess.DEVNULL))
        for name, end in ends.items():
            command = [sys.executable, "-c", ours + end, f"{folder}/f"]
            full = median(lambda c=command: subprocess.run(c, check=True, stderr=subprocess.DEVNULL))
            goal = " (at most 1.50)" if name == "start-up" else ""
            print(f"{name:13} {full:6.2f} s, empty window {base:6.2f} s, ratio {full / base:.2f}{goal}")


if __name__ == "__main__":
    propagation()
    solver()
    start_up()
