"""Sketches: solving, pulling, naming what disagrees, finding regions; each beside a general library in the same run."""

from __future__ import annotations

import math
import os
import random
import tempfile
import time
from pathlib import Path

from bench.timing import median


def solver() -> None:
    """Sketches from nothing, after one dimension changed, and pulled by a point (docs/decisions/0004)."""
    from dataclasses import replace

    import numpy as np
    from scipy.optimize import least_squares
    from tests.support.trusses import hinged, noisy, parts, truss

    from architectonic.sketch.solving import blocks, drag, solve
    from architectonic.sketch.solving.entities import Curve
    from architectonic.sketch.solving.system import System

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


def diagnosis() -> None:
    """Freedoms and what moves beside a singular value decomposition of all rows; what disagrees, by name."""
    from dataclasses import replace

    import numpy as np
    from tests.support.trusses import hinged, truss

    from architectonic.sketch.solving import conflict, solve
    from architectonic.sketch.solving.entities import Constraint, Curve
    from architectonic.sketch.solving.system import System

    for n in (300, 1000):
        curves, constraints = hinged(n)
        solved = solve.solve(curves, constraints)
        at = [Curve(c.id, c.kind, solved.values[c.id]) for c in curves]
        system = System(at, constraints)
        ours = median(lambda s=system: solve.freedoms_of(s, s.x), 9)

        def full(s: System = system, k: list = constraints) -> None:
            rows = [*s.internal_rows(s.x), *(r for c in k for r in s.rows(c, s.x))]
            matrix = np.zeros((len(rows), len(s.x)))
            for i, (_, gradient) in enumerate(rows):
                for j, g in gradient.items():
                    matrix[i, j] = g
            np.linalg.svd(matrix)

        theirs = median(full, 3)
        goal = {300: 8, 1000: 30}[n]
        print(
            f"freedoms {len(constraints):5d}  {ours * 1000:6.1f} ms (asked {goal}), full SVD {theirs * 1000:8.1f} ms, {theirs / ours:5.1f}x"
        )
        added = Constraint("new", "distance", (at[3].id, at[5].id), 50.0)
        told = median(lambda a=at, k=constraints, x=added: conflict.depends_on(a, k, x), 5)
        print(f"depends  {len(constraints):5d}  {told * 1000:6.1f} ms for one new constraint")
    curves, constraints = truss(1000)
    sizes = [k for k, c in enumerate(constraints) if c.value and c.id.endswith("-1")]
    times = []
    for k in sizes[50::60]:
        wrong = list(constraints)
        wrong[k] = replace(wrong[k], value=(wrong[k].value or 0.0) * 3.5)
        started = time.perf_counter()
        found = solve.solve(curves, wrong)
        times.append(time.perf_counter() - started)
        assert wrong[k].id in found.conflict
    print(
        f"conflict {len(constraints):5d}  {sorted(times)[len(times) // 2] * 1000:6.1f} ms until named, culprit always among them (asked 20)"
    )


def profiles() -> None:
    """Regions of much-crossing curves, exactly, beside shapely on polylines of 64 pieces a circle."""
    from shapely import polygonize, unary_union
    from shapely.geometry import LineString, MultiLineString

    from architectonic.sketch.curves import piece, regions
    from architectonic.sketch.curves.piece import Piece

    for n in (100, 500):
        draw, given = random.Random(n), list[Piece]()
        size = 30 * math.sqrt(n)
        while len(given) < n:
            x, y, kind = draw.uniform(0, size), draw.uniform(0, size), draw.random()
            if kind < 0.4:
                given.append(piece.circle(f"c{len(given)}", (x, y), draw.uniform(5, 25)))
            elif kind < 0.7:
                given.append(
                    piece.line(f"c{len(given)}", (x, y), (x + draw.uniform(-60, 60), y + draw.uniform(-60, 60)))
                )
            else:
                w, h = draw.uniform(10, 40), draw.uniform(10, 40)
                p = [(x, y), (x + w, y), (x + w, y + h), (x, y + h)]
                given += [piece.line(f"c{len(given)}-{i}", p[i], p[(i + 1) % 4]) for i in range(4)]
        ours = median(lambda g=given: regions.find(g), 9)
        drawn = [LineString([p.at(k / 64) for k in range(65)] if p.turn else [p.start, p.end]) for p in given]
        theirs = median(lambda d=drawn: polygonize([unary_union(MultiLineString(d))]), 5)
        goal = {100: 6, 500: 30}[n]
        print(
            f"regions  {n:5d}  {ours * 1000:6.1f} ms (asked {goal}), shapely {theirs * 1000:6.1f} ms, {len(regions.find(given))} regions"
        )


def window() -> None:
    """A frame of a drag in a sketch of 300 constraints: solved and painted; and the first interaction of a window."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    import numpy as np
    from PyQt6.QtCore import QPointF
    from PyQt6.QtWidgets import QApplication
    from tests.support.trusses import hinged

    from architectonic.desktop.kit import theme
    from architectonic.desktop.pane.desk import Desk
    from architectonic.desktop.window.shell import MainWindow
    from architectonic.family import edits
    from architectonic.family.records import Constraint, Expression, Layout, Point, Reference, Sketch
    from architectonic.session.open.engine import Engine
    from architectonic.session.open.session import Session

    curves, constraints = hinged(300)
    sketch = Sketch(
        id="s", name="Mechanism", plane=Reference(item="front"),
        curves={c.id: Point(at=(c.values[0], c.values[1])) for c in curves},
        constraints=tuple(
            Constraint(id=c.id, kind=c.kind, of=c.of, value=Expression(text=f"{c.value:.9f} mm") if c.value else None)  # type: ignore[arg-type]
            for c in constraints
        ),
    )  # fmt: skip
    family = edits.new_family("Bench")
    family, key = edits.add_document(family, "layout", "Mechanism")
    family = edits.put(family, edits.replace(family.documents[key], build=(sketch,)))
    assert isinstance(family.documents[key], Layout)
    application = QApplication.instance() or QApplication([])
    theme.apply(application)  # type: ignore[arg-type]
    with tempfile.TemporaryDirectory() as folder:
        engine = Engine.start(Path(folder) / "cache", 1)
        session = Session.create(Path(folder) / "family", family, engine.evaluator, Path(folder) / "state")
        desk = Desk(session, engine)
        shell = MainWindow(desk)
        shell.resize(1280, 800)
        shell.show()
        desk.show(key)
        while desk.updating or desk.settled is None or shell.sketches.solved is None:
            application.processEvents()
        canvas = shell.sketches
        canvas.frame_all()
        canvas.grab()
        place = sorted(canvas.solved.free)[len(canvas.solved.free) // 2]  # type: ignore[union-attr]
        start = canvas.to_screen(canvas.solved.curves[place].values[:2])  # type: ignore[union-attr,arg-type]
        started = time.perf_counter()
        canvas.tools.take_up(place)
        canvas.tools.drag_to(start + QPointF(1.0, 1.0))
        canvas.grab()
        first = time.perf_counter() - started
        solving, frames = [], []
        for k in range(40):
            started = time.perf_counter()
            canvas.tools.drag_to(start + QPointF(0.7 * k, 0.4 * k))
            solving.append(time.perf_counter() - started)
            canvas.grab()
            frames.append(time.perf_counter() - started)
        print(
            f"drag in the window, {len(constraints)} constraints: solving {np.median(solving) * 1000:5.1f} ms, frame median {np.median(frames) * 1000:5.1f} ms, p95 {np.percentile(frames, 95) * 1000:5.1f} ms (asked 16); the first one {first * 1000:5.1f} ms (asked 100)"
        )
        shell.close()
        engine.close()
