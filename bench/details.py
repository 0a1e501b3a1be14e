"""Holes, walls and the foot: how quick, and whether they hold over random values. `python -m bench holes walls foot`"""

from __future__ import annotations

import random
import statistics
import tempfile
import time
from collections import Counter
from pathlib import Path
from typing import Any

from bench.timing import median

STEP = 10.0
COLUMNS = 25


def _plate(count: int) -> tuple[Any, list[tuple[float, float]], tuple[Any, ...]]:
    """A plate, the places of so many holes in it, and its outline."""
    from architectonic.kernel.shapes.outlines import KernelFrame, Side
    from architectonic.kernel.solids import prisms

    rows = count // COLUMNS
    wide, high = STEP * (COLUMNS + 1), STEP * (rows + 1)
    corners = [(0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)]
    loop = tuple(Side(f"l{k}", p, corners[(k + 1) % 4]) for k, p in enumerate(corners))
    ground = KernelFrame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    body = prisms.prism(ground, [(loop,)], (0.0, 0.0, 0.0), (8.0, 0.0, 0.0), "b")
    return body, [(STEP * (i + 1), STEP * (j + 1)) for i in range(COLUMNS) for j in range(rows)], loop


def holes() -> None:
    """Many holes, beside one boolean with as many cylinders, and beside as many circles in the outline."""
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder
    from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt

    from architectonic.describe.operations.holes.hole import HoleInput
    from architectonic.describe.results import Frame, HoleSet
    from architectonic.kernel.shapes.outlines import KernelFrame, Side
    from architectonic.kernel.shapes.topology import shape_list
    from architectonic.kernel.solids import prisms
    from architectonic.make.operations.holes import hole

    for count in (100, 500):
        body, places, loop = _plate(count)
        asked = HoleInput(
            operation="h", bodies=("b",), ends="through", begins="material", tip=None,
            bores=tuple((f"k{k}", Frame((x, y, 8.0), (1.0, 0.0, 0.0), (0.0, 0.0, -1.0))) for k, (x, y) in enumerate(places)),
            holes=HoleSet(operation="h", purpose="plain", diameter=5.0, through=True),
        )  # fmt: skip

        def boolean(body: Any = body, places: Any = places) -> None:
            tools = [
                BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(x, y, -1), gp_Dir(0, 0, 1)), 2.5, 10).Shape() for x, y in places
            ]
            cut = BRepAlgoAPI_Cut()
            cut.SetArguments(shape_list([body.shape]))
            cut.SetTools(shape_list(tools))
            cut.Build()

        def drawn(places: Any = places, loop: Any = loop) -> None:
            rims = [
                (Side(f"c{k}", (x + 2.5, y), (x + 2.5, y), (x, y), 2.5, (x - 2.5, y), False),)
                for k, (x, y) in enumerate(places)
            ]
            ground = KernelFrame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
            prisms.prism(ground, [(loop, *rims)], (0.0, 0.0, 0.0), (8.0, 0.0, 0.0), "b")

        ours = median(lambda asked=asked, body=body: hole.make(asked, [body]))
        others = {"one boolean": median(boolean, 3), "circles in the outline": median(drawn)}
        told = ", ".join(f"{1000 * t:.0f} ms {name} ({ours / t:.2f})" for name, t in others.items())
        print(
            f"holes        {count}: {1000 * ours:.0f} ms with their data and names; beside {told} (goal: 1.20 of the better)"
        )


def walls() -> None:
    """The wall check of the foot, by rays and by balls, beside drawing it."""
    from architectonic.describe.references.surveys import label_of
    from architectonic.describe.results import Node
    from architectonic.propagate.whole import evaluate_scopes
    from architectonic.session.model import surveying
    from architectonic.session.open.engine import Engine

    family, _, at = _foot()
    with tempfile.TemporaryDirectory() as folder:
        engine = Engine.start(Path(folder), 2)
        evaluation = evaluate_scopes(engine.evaluator, family, [at])
        bodies = surveying.bodies_in(evaluation, at)
        for what in ("wall", "wall by ball"):
            started = time.perf_counter()
            found = engine.evaluator.evaluate(family, [Node("surveyed", at, b, label_of(what)) for b in bodies])  # type: ignore[arg-type]
            took = time.perf_counter() - started
            values = [found.value(Node("surveyed", at, b, label_of(what))) for b in bodies]  # type: ignore[arg-type]
            cells = sum(len(v.values) // 4 for v in values)
            print(
                f"walls        of the foot, {what}: {took:.2f} s for {cells} cells on {len(bodies)} bodies (goal: 2 s)"
            )
        engine.close()


def _foot() -> tuple[Any, Any, Any]:
    from architectonic.demo.family import brindle
    from architectonic.family import edits, scopes

    family = brindle()
    foot = edits.find_document(family, "Foot")
    return family, foot, scopes.scope(family, foot.id, family.head.sizes[1].id)


class FootTrial:
    """The foot of the demo with random values.

    Attributes:
        family: the demo.
    """

    def __init__(self, seed: int = 1) -> None:
        self.family, _, self.at = _foot()
        self.random = random.Random(seed)

    def combination(self) -> tuple[Any, dict[str, float]]:
        """The family with a random size of the weight, wall, clearance and rim, and these in mm."""
        from architectonic.family import edits
        from architectonic.session.open.whatif import with_values

        r = self.random
        said = {
            "Sizes.foot_d": round(r.uniform(110, 220), 1),
            "Sizes.foot_h": round(r.uniform(15, 30), 1),
            "Sizes.wall": round(r.uniform(1.5, 3.5), 2),
            "Ballast.clearance": round(r.uniform(0.3, 2.5), 2),
        }
        rim = round(r.uniform(0.5, 2.0), 2)
        family = with_values(self.family, [f"{k}={v} mm" for k, v in said.items()])
        foot = edits.find_document(family, "Foot")
        round_ = next(o for o in foot.build if o.name == "Round the rim")
        radius = edits.replace(round_.radius, text=f"{rim} * Sizes.wall")
        family = edits.replace_operation(family, foot.id, edits.replace(round_, radius=radius))
        return family, {**said, "rim": rim}

    def verdict(self, evaluator: Any, family: Any, said: dict[str, float]) -> str:
        """right, refused: and why, or wrong: and what."""
        from architectonic.check.attention import attention
        from architectonic.describe.references.measurement import passing
        from architectonic.describe.references.surveys import label_of
        from architectonic.describe.results import Node
        from architectonic.family import edits, scopes
        from architectonic.family.records import Reference
        from architectonic.propagate.whole import evaluate_scopes

        foot, weight = (edits.find_document(family, n) for n in ("Foot", "Ballast"))
        at = scopes.scope(family, foot.id, family.head.sizes[1].id)
        below = scopes.scope(family, weight.id, family.head.sizes[1].id)
        found = evaluate_scopes(evaluator, family, [at, below])
        items = [i for i in attention(found) if i.document in (foot.id, weight.id)]
        if items:
            return f"refused: {items[0].where}: {items[0].what}"
        names = {b.name: k for k, b in foot.bodies.items()}
        for body in names.values():
            measured = found.value(Node("measure", at, body))
            if measured is None or not measured["valid"]:
                return "wrong: a body is not valid"
        pair = tuple(Reference(item=names[n]) for n in ("Shell", "Ballast"))
        gap = Node("gauged", at, "", passing("distance", pair))
        wall = Node("surveyed", at, names["Shell"], label_of("wall by ball"))  # three times as quick as by rays
        more = evaluator.evaluate(family, [gap, wall])
        clearance, survey = more.value(gap), more.value(wall)
        if abs(clearance.value - said["Ballast.clearance"]) > 1e-6:
            return f"wrong: the clearance is {clearance.value} mm, {said['Ballast.clearance']} mm asked"
        import numpy as np

        # the thickness that most cells have: bosses and corners are thicker, and in a small and high foot they are half of all
        cells, step = np.frombuffer(survey.values, np.float32), 0.005 * said["Sizes.wall"]
        steps, times = np.unique(np.round(cells[~np.isnan(cells)] / step), return_counts=True)
        usual = float(steps[times.argmax()]) * step
        if abs(usual - said["Sizes.wall"]) > 0.01 * said["Sizes.wall"]:
            return f"wrong: the wall is {usual} mm, {said['Sizes.wall']} mm asked"
        return "right"


def foot(count: int = 50) -> None:
    """The foot over random sizes of its weight, walls, clearances and rims: right, or refused by name."""
    from architectonic.session.open.engine import Engine

    trial, told = FootTrial(), Counter[str]()
    with tempfile.TemporaryDirectory() as folder:
        engine = Engine.start(Path(folder), 2)
        times = []
        for _ in range(count):
            started = time.perf_counter()
            family, said = trial.combination()
            told[trial.verdict(engine.evaluator, family, said)] += 1
            times.append(time.perf_counter() - started)
        engine.close()
    wrong = sum(n for k, n in told.items() if k.startswith("wrong"))
    print(
        f"foot         {count} combinations: {told['right']} right, {wrong} wrong, the rest refused; {statistics.median(times):.2f} s each"
    )
    for line, times_ in told.most_common(8):
        if line != "right":
            print(f"             {times_} x {line}")
