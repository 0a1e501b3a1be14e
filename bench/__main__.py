"""Benchmarks: ratios against a baseline measured in the same run. `python -m bench`"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
from pathlib import Path

from bench import (
    assemblies,
    building,
    details,
    events,
    faults,
    following,
    fuzz,
    hands,
    naming,
    ranges,
    sketching,
    surfacing,
    tables,
)
from bench.timing import median


def propagation() -> None:
    """Evaluating the demo, cold and after one change, beside the kernel's own time for the same operations."""
    from architectonic.demo.family import brindle
    from architectonic.family import edits
    from architectonic.propagate.targets import all_scopes
    from architectonic.propagate.whole import evaluate_scopes
    from architectonic.session.open.engine import Engine

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
        "from architectonic.desktop.kit import theme; from architectonic.desktop.window.shell import MainWindow\n"
        "from architectonic.desktop.pane.desk import Desk; from architectonic.session.open.engine import Engine\n"
        "from architectonic.session.open.session import Session\n"
        "a = QApplication([]); theme.apply(a); e = Engine.start(); s = Session.open(pathlib.Path(sys.argv[1]), e.evaluator)\n"
        "b = Desk(s, e); w = MainWindow(b); w.resize(1280, 800); w.show(); a.processEvents()\n"
    )
    ends = {
        "start-up": "os._exit(0)",
        "first picture": "b.update()\nwhile not w.bodies.meshes: a.processEvents()\nw.grab(); e.close(); os._exit(0)",
    }
    with tempfile.TemporaryDirectory() as folder:
        # as installed: the bytecode of modules is kept, also where the environment forbids to write it beside them
        kept = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
        kept["PYTHONPYCACHEPREFIX"] = f"{folder}/bytecode"
        subprocess.run(
            [sys.executable, "-m", "architectonic.cli", "demo", "--write", f"{folder}/f"],
            check=True,
            stdout=subprocess.DEVNULL,
        )

        def run(command: list[str]) -> object:
            return subprocess.run(command, check=True, stderr=subprocess.DEVNULL, env=kept)

        run([sys.executable, "-c", ours + ends["start-up"], f"{folder}/f"])
        base = median(lambda: run([sys.executable, "-c", empty]))
        for name, end in ends.items():
            command = [sys.executable, "-c", ours + end, f"{folder}/f"]
            full = median(lambda c=command: run(c))
            goal = " (at most 1.50)" if name == "start-up" else ""
            print(f"{name:13} {full:6.2f} s, empty window {base:6.2f} s, ratio {full / base:.2f}{goal}")


if __name__ == "__main__":
    wanted = sys.argv[1:]
    for run in (
        propagation,
        sketching.solver,
        sketching.diagnosis,
        sketching.profiles,
        sketching.window,
        tables.tables,
        tables.grid,
        ranges.rows,
        ranges.sheet,
        ranges.cells,
        building.building,
        assemblies.assemblies,
        naming.naming,
        details.holes,
        details.walls,
        following.followers,
        following.reloads,
        surfacing.masters,
        events.events,
        start_up,
    ):
        if not wanted or run.__name__ in wanted:
            run()
    for run in (
        events.memory,
        fuzz.fuzz,
        fuzz.surfaces,
        details.foot,
        surfacing.trims,
        faults.faults,
        hands.hands,
    ):  # they take a quarter of an hour: only when they are asked for
        if run.__name__ in wanted:
            run()
