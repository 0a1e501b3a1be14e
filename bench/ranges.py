"""Ranges: many rows of one model against each from nothing, pictures of a contact sheet, and a grid of many cells."""

from __future__ import annotations

import os
import tempfile
import time
from pathlib import Path

from bench.timing import median

ROWS, OPERATIONS = 200, 20


def _model(opened, rows: int):  # type: ignore[no-untyped-def]
    """A block with 16 bosses and holes that no row changes, then three operations that each row decides."""
    part = opened.part("Plate")
    part.parameter("long", "20 mm")
    outline = part.sketch("Outline")
    outline.rectangle("160 mm", "80 mm")
    part.extrude(make="Plate", regions=outline.region(), far="10 mm", name="Block")
    for k in range(OPERATIONS - 4):
        sketch = part.sketch(f"Round {k}")
        sketch.circle((10 + 9 * k, 20 + 40 * (k % 2)), diameter="6 mm")
        if k % 2:
            part.extrude(cut="Plate", regions=sketch.region(), far="through", name=f"Hole {k}")
        else:
            part.extrude(add="Plate", regions=sketch.region(), far="14 mm", name=f"Boss {k}")
    for k in range(3):
        sketch = part.sketch(f"Pocket outline {k}")
        sketch.circle((30 + 40 * k, 40), diameter="long / 2")
        part.extrude(cut="Plate", regions=sketch.region(), far="4 mm", name=f"Pocket {k}")
    for n in range(rows):
        part.row(f"P {n}", long=f"{12 + n * 0.05:.2f} mm")
    return part


def rows() -> None:
    """200 rows of a model of 20 operations with a shared prefix: on one worker and on two, against each from nothing."""
    import architectonic as a
    from architectonic.session.open.engine import Engine
    from architectonic.session.ranges import building

    with a.new("Bench") as opened:
        part = _model(opened, ROWS)
        family, key = opened.family, part.id
    took = {}
    for workers in (1, 2):
        with tempfile.TemporaryDirectory() as place:
            engine = Engine.start(Path(place), workers)
            building.build(
                engine.evaluator, family, key, [s.id for s in family.documents[key].configurations[:1]]
            )  # warm
            started = time.perf_counter()
            made = building.build(engine.evaluator, family, key)
            took[workers] = time.perf_counter() - started
            assert all(r.state == "current" for r in made.rows)
            engine.close()
    sample = family.documents[key].configurations[:: ROWS // 8]
    alone = []
    for row in sample:
        with tempfile.TemporaryDirectory() as place:
            engine = Engine.start(Path(place), 1)
            engine.pool.warm()
            started = time.perf_counter()
            building.build(engine.evaluator, family, key, [row.id])
            alone.append(time.perf_counter() - started)
            engine.close()
    alone.sort()
    nothing = alone[len(alone) // 2] * ROWS
    print(
        f"{ROWS} rows of {OPERATIONS} operations: one worker {took[1]:.1f} s, two {took[2]:.1f} s, each from nothing {nothing:.1f} s (of {len(sample)} measured)"
    )
    print(
        f"  shared prefix {nothing / took[1]:.1f} times faster (5 wanted), two workers {took[1] / took[2]:.2f} times more (1.7 wanted)"
    )


def sheet() -> None:
    """60 pictures of a contact sheet: drawn from triangles that are there, and with the triangles."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtWidgets import QApplication

    import architectonic as a
    from architectonic.desktop.pane import thumbnails
    from architectonic.desktop.ranges.sheet import HIGH, WIDE
    from architectonic.family import scopes
    from architectonic.session.open.queries import variant
    from architectonic.session.ranges.seen import seen

    _ = QApplication.instance() or QApplication([])
    with tempfile.TemporaryDirectory() as place, a.new("Bench", store=Path(place)) as opened:
        part = _model(opened, 60)
        opened.evaluate(("Plate",))
        asked = variant()
        every = scopes.scopes_of(opened.family, part.record)[-60:]
        started = time.perf_counter()
        found = [seen(asked, opened.family, at) for at in every]
        meshed = time.perf_counter() - started
        meshes = [[(m, c) for _, m, c in s] for s in found]
        drawn = median(lambda: [thumbnails.bodies(m, WIDE, HIGH, 100.0) for m in meshes], 3)
        print(
            f"60 pictures of {WIDE} x {HIGH}: drawn {drawn * 1e3:.0f} ms ({drawn / 60 * 1e3:.1f} each), triangles made before {meshed:.2f} s"
        )


def _many():  # type: ignore[no-untyped-def]
    """2,000 rows of 60 values, half of them computed, every fourth row a child."""
    from architectonic.family import edits
    from architectonic.family.records import Configuration, Expression, Parameter, ValueRef

    family = edits.new_family("Many")
    family, key = edits.add_document(family, "part", "Rod")
    made = [Parameter(id=f"id{k}", name=f"p{k}", common=Expression(text=f"{k + 1} mm")) for k in range(30)]
    made += [
        Parameter(
            id=f"id{k}",
            name=f"p{k}",
            common=Expression(text=f"p{k - 30} + 1 mm", refs={f"p{k - 30}": ValueRef(item=f"id{k - 30}")}),
        )
        for k in range(30, 60)
    ]
    rows_ = tuple(
        Configuration(id=f"r{n}", name=f"Rod {n}", parent=f"r{n - 1}" if n % 4 == 3 else "") for n in range(2000)
    )
    family = edits.put(family, edits.replace(family.documents[key], parameters=tuple(made), configurations=rows_))
    return family, key


def _rested(desk, application, run) -> float:  # type: ignore[no-untyped-def]
    """The middle time of three, each begun when everything before is worked out."""
    times = []
    for _ in range(3):
        while desk.updating:
            application.processEvents()
            time.sleep(0.001)
        started = time.perf_counter()
        run()
        times.append(time.perf_counter() - started)
    return sorted(times)[1]


def cells() -> None:
    """A range of 2,000 rows and 60 columns: a typed value, a page of scrolling, a paste of 1,000 cells."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtWidgets import QApplication, QTableWidget

    from architectonic.desktop.kit import theme
    from architectonic.desktop.pane.desk import Desk
    from architectonic.desktop.window.shell import MainWindow
    from architectonic.session.open.engine import Engine
    from architectonic.session.open.session import Session

    application = QApplication.instance() or QApplication([])
    theme.apply(application)  # type: ignore[arg-type]
    family, key = _many()
    with tempfile.TemporaryDirectory() as place:
        engine = Engine.start(Path(place) / "cache")
        session = Session.create(Path(place) / "family", family, engine.evaluator)
        shell = MainWindow(Desk(session, engine))
        shell.resize(1280, 800)
        shell.show()
        shell.desk.show(key)
        shell.show_tab("Range")
        while shell.desk.updating:
            application.processEvents()
        view, model = shell.range.view, shell.range.model
        empty = QTableWidget(2000, 62)
        empty.resize(view.size())
        empty.show()
        position = [0]

        def scroll(bar, by: int = 25):  # type: ignore[no-untyped-def]
            position[0] = (position[0] + by) % 1500
            bar.setValue(position[0])
            application.processEvents()

        ours = median(lambda: scroll(view.verticalScrollBar()), 31)
        bare = median(lambda: scroll(empty.verticalScrollBar()), 31)
        notch = median(lambda: scroll(view.verticalScrollBar(), 3), 61)
        print(f"page scroll  {ours * 1e3:6.1f} ms, empty grid {bare * 1e3:.1f} ms, ratio {ours / bare:.1f}")
        print(f"wheel        {notch * 1e3:6.1f} ms for a notch of three rows (16 wanted for a frame)")
        count = [0]

        def type_one() -> None:
            count[0] += 1
            model.setData(model.index(4, 2), f"{count[0]} mm", 2)

        print(
            f"typed value  {_rested(shell.desk, application, type_one) * 1e3:6.1f} ms in the event loop (30 wanted), {median(type_one, 9) * 1e3:.1f} while values before are worked out"
        )
        block = [[str(k % 9 + c) for c in range(4)] for k in range(250)]

        def paste() -> None:
            count[0] += 1
            model.paste(2, 1, "\n".join("\t".join(f"{line}{count[0] % 9}" for line in row) for row in block))

        print(f"paste        {_rested(shell.desk, application, paste) * 1e3:6.1f} ms for 1000 cells (150 wanted)")
        shell.leave()
        application.processEvents()
        engine.close()
