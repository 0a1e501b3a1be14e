"""Tables: an edit until every parameter is evaluated, and a grid of many rows, beside plain baselines of the same run."""

from __future__ import annotations

import os
import random
import tempfile
from pathlib import Path

from bench.timing import median


def many(count: int, sizes: tuple[str, ...] = ()):  # type: ignore[no-untyped-def]
    """A table of so many parameters, half of them computed from others, each reading two of the 200 before it."""
    from architectonic.family import edits
    from architectonic.family.records import Expression, Parameter, ValueRef

    family = edits.new_family("Many", sizes)
    family, key = edits.add_document(family, "table", "Sizes")
    draw = random.Random(1)
    rows = []
    for i in range(count):
        made = Expression(text=f"{i + 1} mm")
        if i >= 10 and draw.random() < 0.5:
            a, b = (draw.randrange(max(0, i - 200), i) for _ in range(2))
            refs = {f"p{j}": ValueRef(item=f"id{j}") for j in (a, b)}
            made = Expression(text=f"(p{a} + p{b}) / 2 + 1 mm", refs=refs)
        rows.append(Parameter(id=f"id{i}", name=f"p{i}", common=made, group=f"group {i // 100}"))
    return edits.put(family, edits.replace(family.documents[key], parameters=tuple(rows))), key


def tables() -> None:
    """3,000 parameters: one edit to everything evaluated, against evaluating all of them by plain compiled functions."""
    from architectonic.exchange import folder
    from architectonic.family import edits
    from architectonic.propagate.evaluator import Evaluator
    from architectonic.propagate.ports import NoExecutor
    from architectonic.session.open.session import Session

    family, key = many(3000)
    texts = [p.common.text.replace(" mm", "") for p in family.documents[key].parameters]
    compiled = [compile(t, "", "eval") for t in texts]

    def plain() -> None:
        known: dict[str, float] = {}
        for i, code in enumerate(compiled):
            known[f"p{i}"] = eval(code, {}, known)

    session = Session(folder.Stored(Path(tempfile.gettempdir()), family, {}), Evaluator(NoExecutor()))
    cold = median(lambda: Evaluator(NoExecutor()).evaluate(family, []), 1)
    session.evaluate()
    count = [0]

    def edit() -> None:
        count[0] += 1
        session.apply("edit", lambda f: edits.set_value(f, key, "id2", f"{7 + count[0]} mm"))
        session.evaluate()

    edit()
    base, took = median(plain), median(edit, 9)
    looked = session.evaluate().work.looked_into
    assert cold >= 0 and looked == 0
    print(
        f"edit of one  {took * 1e3:6.1f} ms until all 3000 are evaluated (under 30), plain loop {base * 1e3:.1f} ms, ratio {took / base:.1f}"
    )


def grid() -> None:
    """A table of 2,000 rows in 3 sizes: a typed value, a page of scrolling, a paste of 1,000 cells."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtWidgets import QApplication, QTableWidget

    from architectonic.desktop.kit import theme
    from architectonic.desktop.pane.desk import Desk
    from architectonic.desktop.window.shell import MainWindow
    from architectonic.session.open.engine import Engine
    from architectonic.session.open.session import Session

    application = QApplication.instance() or QApplication([])
    theme.apply(application)  # type: ignore[arg-type]
    family, key = many(2000, ("S", "M", "L"))
    with tempfile.TemporaryDirectory() as place:
        engine = Engine.start(Path(place) / "cache")
        session = Session.create(Path(place) / "family", family, engine.evaluator)
        shell = MainWindow(Desk(session, engine))
        shell.resize(1280, 800)
        shell.show()
        shell.bench.show(key)
        while shell.bench.updating:
            application.processEvents()
        view, model = shell.values.view, shell.values.model
        empty = QTableWidget(2000, 7)
        empty.resize(view.size())
        empty.show()
        position = [0]

        def scroll(bar):  # type: ignore[no-untyped-def]
            position[0] = (position[0] + 25) % 1500
            bar.setValue(position[0])
            application.processEvents()

        ours = median(lambda: scroll(view.verticalScrollBar()), 31)
        bare = median(lambda: scroll(empty.verticalScrollBar()), 31)
        print(f"page scroll  {ours * 1e3:6.1f} ms, empty grid {bare * 1e3:.1f} ms, ratio {ours / bare:.1f}")
        count = [0]

        def type_one() -> None:
            count[0] += 1
            model.setData(model.index(4, 2), f"{count[0]} mm")

        print(f"typed value  {median(type_one, 9) * 1e3:6.1f} ms in the event loop (2000 rows, 3 sizes)")
        block = "\n".join("\t".join(str(k + c) for c in range(4)) for k in range(250))

        def paste() -> None:
            count[0] += 1
            model.paste(block.replace("1", str(count[0] % 9 + 1)), 2, 1, [], False)

        print(f"paste        {median(paste, 3) * 1e3:6.1f} ms for 1000 cells")
        shell.leave()
        application.processEvents()
        engine.close()
