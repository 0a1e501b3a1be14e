"""Random build lists with random values: nothing may hang, and no wrong solid may pass without being reported.

A solid is wrong when it is not valid, when nothing is enclosed, or when the volume of its facets and the kernel's own
volume differ by more than a hundredth. `python -m bench fuzz surfaces`
"""

from __future__ import annotations

import random
import tempfile
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from bench.naming import BASES, Maker, place

WRONG = 0.01


def facet_volume(mesh: Any) -> float:
    """Volume within triangles, mm3 (divergence theorem)."""
    corners = mesh.points.astype(float)[mesh.triangles]
    return float(np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6)


class Fuzz:
    """One random build list, grown operation by operation.

    Args:
        shapes: gives the body as it is, to pick edges and faces of.
    """

    def __init__(self, seed: int, shapes: Any) -> None:
        self.draw, self.shapes = random.Random(seed), shapes
        base = BASES[self.draw.choice(list(BASES))]
        self.base = base
        values = {k: round(v * self.draw.uniform(0.3, 2.5), 2) for k, v in base.values.items()}
        self.maker = Maker(values)
        base.build(self.maker)
        self.steps = 0

    def size(self, low: float, high: float) -> str:
        return f"{self.draw.uniform(low, high):.2f} mm"

    def grow(self) -> None:
        """One more operation of a random kind."""
        self.steps += 1
        self.draw.choice(self.kinds())()

    def kinds(self) -> tuple[Callable[[], None], ...]:
        """What an operation may be, the likelier ones more than once."""
        solids = (
            self.treat,
            self.treat,
            self.bore,
            self.bore,
            self.wall,
            self.tilt,
            self.halve,
            self.shift,
            self.plate,
        )
        return (*solids, self.over, self.rib, self.drill, self.drill, self.row, self.mark)

    def _refs(self, kind: str, most: int) -> tuple[Any, ...]:
        """Edges or faces of the body as it is, with their witnesses left out."""
        from architectonic.family.records import Reference

        shape = self.shapes(self.maker.family, self.maker.key)
        labels = sorted(shape.edges if kind == "edge" else (n[0] for n in shape.faces)) if shape else []
        chosen = self.draw.sample(labels, min(len(labels), self.draw.randint(1, most)))
        return tuple(Reference(item="b", stage="here", label=label) for label in chosen)

    def store(self, record: Any) -> None:
        from architectonic.session.model import building

        self.maker.family = building.store(self.maker.family, self.maker.key, record)

    def treat(self) -> None:
        from architectonic.family.operations.edges.chamfer import Chamfer
        from architectonic.family.operations.edges.fillet import Fillet

        key, edges = f"t{self.steps}", self._refs("edge", 4)
        if edges and self.draw.random() < 0.5:
            self.store(Fillet(id=key, name=key, edges=edges, radius=self.maker.e(self.size(0.2, 12))))
        elif edges:
            self.store(Chamfer(id=key, name=key, edges=edges, distance=self.maker.e(self.size(0.2, 8))))

    def bore(self) -> None:
        """A round cut or boss somewhere, from some height."""
        key = f"o{self.steps}"
        x, y, r = (self.draw.uniform(-10, 90), self.draw.uniform(-10, 60), self.draw.uniform(0.5, 15))
        level = self.maker.level(f"l{self.steps}", f"{self.draw.uniform(-5, 40):.2f} mm")

        def ring(d: Any) -> None:
            c = d.circle((x, y), r)
            place(d, f"{c}.centre", f"{x:.2f} mm", f"{y:.2f} mm")
            d.constrain("radius", c, value=f"{r:.2f} mm")

        does = self.draw.choice(("cut", "add", "overlap") if self.draw.random() < 0.2 else ("cut", "add"))
        flip = self.draw.random() < 0.5
        self.maker.extrude(key, self.maker.sketch(level, ring), does, self.size(0.5, 60), flip=flip)

    def wall(self) -> None:
        from architectonic.family.operations.solids.shell import Shell

        key = f"w{self.steps}"
        faces = self._refs("face", 2)
        self.store(Shell(id=key, name=key, acts_on=("b",), faces=faces, thickness=self.maker.e(self.size(0.3, 8))))

    def tilt(self) -> None:
        from architectonic.family import names
        from architectonic.family.operations.solids.draft import Draft
        from architectonic.family.records import Reference

        key, faces = f"d{self.steps}", self._refs("face", 3)
        document = self.maker.family.documents[self.maker.key]
        angle = names.bind_quantity(
            self.maker.family, document, f"{self.draw.uniform(0.5, 25):.2f} deg", "angle", "deg"
        )
        if faces:
            self.store(Draft(id=key, name=key, faces=faces, plane=Reference(item="top"), angle=angle))

    def halve(self) -> None:
        """By a plane, a face of the body itself as if it went on, or a line."""
        from architectonic.family.operations.bodies.split import Split
        from architectonic.family.records import Reference

        how, faces = self.draw.random(), self._refs("face", 1)
        if how < 0.3 and faces:
            by = faces[0]
        elif how < 0.6:
            by = Reference(item=self._line("top")[0])
        else:
            by = Reference(item=self.maker.level(f"l{self.steps}", f"{self.draw.uniform(-2, 30):.2f} mm"))
        self.store(
            Split(id=f"p{self.steps}", name=f"p{self.steps}", acts_on=("b",), by=by, flip=self.draw.random() < 0.5)
        )

    def shift(self) -> None:
        from architectonic.family.operations.bodies.combine import Combine
        from architectonic.family.operations.bodies.move import Move, Shift

        x, y, z = (self.maker.e(f"{self.draw.uniform(-40, 40):.2f} mm") for _ in range(3))
        copy = f"copy{self.steps}"
        self.store(Move(id=f"m{self.steps}", name=f"m{self.steps}", acts_on=("b",), by=Shift(x=x, y=y, z=z), copies={"b": copy}))  # fmt: skip
        does = self.draw.choice(("unite", "subtract", "overlap"))
        self.store(Combine(id=f"c{self.steps}", name=f"c{self.steps}", does=does, acts_on=("b",), tools=(copy,)))

    def over(self) -> None:
        from architectonic.family.operations.edges.round_over import RoundOver

        key, faces = f"v{self.steps}", self._refs("face", 1)
        if faces:
            self.store(RoundOver(id=key, name=key, faces=faces))

    def rib(self) -> None:
        """A wall along a random line of an upright plane, on a random side."""
        from architectonic.family.operations.solids.rib import Rib
        from architectonic.family.records import Reference

        sketch, line = self._line(self.maker.level(f"l{self.steps}", f"{self.draw.uniform(-50, 10):.2f} mm", "front"))
        key, thick = f"r{self.steps}", self.maker.e(self.size(0.5, 8))
        self.store(Rib(id=key, name=key, acts_on=("b",), curves=(Reference(item=sketch, label=line),), thickness=thick, flip=self.draw.random() < 0.5))  # fmt: skip

    def drill(self) -> None:
        """Holes in the middle of random circles, plain or with a recess, blind or through; on a level or on a face."""
        from architectonic.family.operations.holes.hole import Cone, Hole, HolePlace, Plain, Stepped, Tapped
        from architectonic.family.operations.solids.extrude import Distance, Through
        from architectonic.family.records import Expression, Reference

        key, draw, e = f"h{self.steps}", self.draw, self.maker.e
        level = self.maker.level(f"l{self.steps}", f"{draw.uniform(0, 40):.2f} mm")
        points: list[str] = []

        def dots(d: Any) -> None:
            for _ in range(draw.randint(1, 4)):
                x, y = draw.uniform(-5, 85), draw.uniform(-5, 60)
                points.append(d.point((x, y)))
                place(d, points[-1], f"{x:.2f} mm", f"{y:.2f} mm")

        self.maker.sketch(level, dots)
        sketch = self.maker.family.documents[self.maker.key].build[-1].id
        wide = draw.uniform(0.8, 12)
        more: dict[str, Any] = {}
        if draw.random() < 0.3:
            more["counterbore"] = Stepped(diameter=e(f"{wide * 1.6:.2f} mm"), depth=e(self.size(0.5, 6)))
        elif draw.random() < 0.3:
            angle = Expression(text="90 deg")
            more["countersink"] = Cone(diameter=e(f"{wide * 1.7:.2f} mm"), angle=angle)
        far = Through() if draw.random() < 0.5 else Distance(value=e(self.size(1, 30)))
        by = Tapped(size=Expression(text="M6")) if draw.random() < 0.2 else Plain(diameter=e(f"{wide:.2f} mm"))
        places = tuple(HolePlace(at=Reference(item=sketch, label=p)) for p in points)
        self.store(Hole(id=key, name=key, acts_on=("b",), places=places, by=by, far=far, flip=draw.random() < 0.3, flat=draw.random() < 0.3, **more))  # fmt: skip

    def row(self) -> None:
        """The last thing that can be repeated again in a row, a ring or a mirror."""
        from architectonic.family import names
        from architectonic.family.operations.patterns.pattern import Mirrored, PatternSteps, Ring, Row
        from architectonic.family.records import Reference

        document = self.maker.family.documents[self.maker.key]
        sources = [o.id for o in document.build if o.id[0] in "htok" and o.kind not in ("datum", "sketch")]
        if not sources:
            return

        def bound(text: str, quantity: str, unit: str) -> Any:
            return names.bind_quantity(self.maker.family, document, text, quantity, unit)

        members = bound(str(self.draw.randint(0, 5)), "number", "")
        by: Any = Row(
            direction=Reference(item=self.draw.choice("xyz")), count=members, step=self.maker.e(self.size(1, 30))
        )
        if self.draw.random() < 0.3:
            by = Ring(axis=Reference(item="z"), count=members, angle=bound("360 deg", "angle", "deg"))
        elif self.draw.random() < 0.2:
            by = Mirrored(plane=Reference(item=self.draw.choice(("front", "right"))))
        key = f"q{self.steps}"
        self.store(PatternSteps(id=key, name=key, acts_on=("b",), of=(Reference(item=self.draw.choice(sources)),), by=by))  # fmt: skip

    def mark(self) -> None:
        """A short text on a random face, cut or raised."""
        from architectonic.family.operations.marks.engrave import Engrave, TextPiece, Words

        key, faces = f"e{self.steps}", self._refs("face", 1)
        if faces:
            by = Words(
                text=(TextPiece(text=self.draw.choice(("A", "8", "i", "M4"))),), height=self.maker.e(self.size(1, 12))
            )
            self.store(Engrave(id=key, name=key, face=faces[0], acts_on=("b",), depth=self.maker.e(self.size(0.1, 1.5)), raised=self.draw.random() < 0.4, by=by))  # fmt: skip

    def _line(self, plane: str, beyond: float = 0.0) -> tuple[str, str]:
        """A random line on a plane, that goes on beyond the solid on either side: its sketch and itself."""
        ends = [(self.draw.uniform(-10, 90), self.draw.uniform(-5, 60)) for _ in range(2)]
        if beyond:
            ends = [(x, self.draw.uniform(-5, 60)) for x in (-beyond, beyond)]
        lines: list[str] = []

        def draw(d: Any) -> None:
            lines.append(d.line(*ends))
            for part, (x, y) in zip(("start", "end"), ends, strict=True):
                place(d, f"{lines[0]}.{part}", f"{x:.2f} mm", f"{y:.2f} mm")

        self.maker.sketch(plane, draw)
        return self.maker.family.documents[self.maker.key].build[-1].id, lines[0]

    def plate(self) -> None:
        from architectonic.family.operations.solids.thicken import Thicken

        key, faces = f"k{self.steps}", self._refs("face", 1)
        if faces:
            self.store(Thicken(id=key, name=key, does="add", acts_on=("b",), faces=faces, thickness=self.maker.e(self.size(0.3, 6))))  # fmt: skip


class SurfaceFuzz(Fuzz):
    """A random build list in which surfaces are made of the solid's faces and of lines, and worked into it."""

    def kinds(self) -> tuple[Callable[[], None], ...]:
        """Surfaces, and some of what changes the solid between them."""
        return (self.skin, self.skin, self.closed, self.sheet, self.sheet, self.treat, self.bore, self.tilt)

    def skin(self) -> None:
        """Faces again at a distance; often thickened to a body of their own."""
        from architectonic.family.operations.solids.thicken import Thicken
        from architectonic.family.operations.surfaces.offset import OffsetSurface
        from architectonic.family.records import Reference

        key, faces, draw = f"y{self.steps}", self._refs("face", 3), self.draw
        if not faces:
            return
        away = self.maker.e(self.size(0.2, 8)) if draw.random() < 0.8 else None
        self.store(
            OffsetSurface(id=key, name=key, body=f"{key}b", faces=faces, distance=away, flip=draw.random() < 0.4)
        )
        if draw.random() < 0.7:
            whole = (Reference(item=f"{key}b", stage="here"),)
            thick = self.maker.e(self.size(0.2, 6))
            self.store(Thicken(id=f"{key}t", name=f"{key}t", does="make", acts_on=(f"{key}w",), faces=whole, thickness=thick, both=draw.random() < 0.3, flip=draw.random() < 0.5))  # fmt: skip

    def closed(self) -> None:
        """All faces as a surface, made a solid again."""
        from architectonic.family.operations.surfaces.join import Join
        from architectonic.family.operations.surfaces.offset import OffsetSurface
        from architectonic.family.records import Reference

        key = f"j{self.steps}"
        away = self.maker.e(self.size(0.1, 3)) if self.draw.random() < 0.5 else None
        self.store(OffsetSurface(id=key, name=key, body=f"{key}b", faces=(Reference(item="b", stage="here"),), distance=away))  # fmt: skip
        self.store(Join(id=f"{key}c", name=f"{key}c", acts_on=(f"{key}b",), close=True))

    def sheet(self) -> None:
        """A sheet on a random line: it cuts the solid in two, takes a face's place, is carried on, or stands there."""
        from architectonic.family.operations.bodies.split import Split
        from architectonic.family.operations.solids.replace_face import ReplaceFace
        from architectonic.family.operations.surfaces.extend import Extend, ExtendBy
        from architectonic.family.operations.surfaces.extrude_surface import ExtrudeSurface
        from architectonic.family.records import Reference

        key, draw = f"x{self.steps}", self.draw
        sketch, line = self._line(draw.choice(("front", "right")), 200.0)
        curves = (Reference(item=sketch, label=line),)
        self.store(ExtrudeSurface(id=key, name=key, body=f"{key}b", curves=curves, length=self.maker.e("300 mm"), symmetric=True))  # fmt: skip
        by, how, faces = Reference(item=f"{key}b", stage="here"), draw.random(), self._refs("face", 1)
        if how < 0.4:
            self.store(Split(id=f"{key}p", name=f"{key}p", acts_on=("b",), by=by, flip=draw.random() < 0.5))
        elif how < 0.7 and faces:
            self.store(ReplaceFace(id=f"{key}r", name=f"{key}r", face=faces[0], by=by))
        elif how < 0.85:
            edge = Reference(item=f"{key}b", stage="here", label=f"({key}:end|{key}:side:{line})")
            self.store(Extend(id=f"{key}e", name=f"{key}e", edges=(edge,), by=ExtendBy(length=self.maker.e(self.size(1, 80)))))  # fmt: skip


FINE = 0.03
"""Angle of the facets that decide: those of a picture miss the volume of a thin wall by more than a hundredth."""


def finely(store: Path, key: str) -> float:
    """Volume within fine facets of a shape, mm3."""
    from architectonic.kernel.measure.mesh import mesh
    from architectonic.render.camera import BodyMesh
    from architectonic.worker.shapes import stored

    body = stored(store, key)
    return facet_volume(BodyMesh.from_result(mesh(body, FINE)))


def wrong_in(evaluation: Any, key: str, store: Path) -> tuple[list[str], int]:
    """What is wrong with the bodies of a part and was not reported; and how many operations were.

    Args:
        store: where the shapes are.
    """
    from architectonic.describe.results import Node
    from architectonic.family.scopes import Scope
    from architectonic.render.camera import BodyMesh

    found = []
    state = evaluation.value(Node("finished", Scope(key, "default"), ""))
    reported = sum(o.problem is not None for n, o in evaluation.outcomes.items() if n.what == "state")
    for body, shape, kind in ((b.id, b.shape, b.kind) for b in state.bodies) if state is not None else ():
        measured = evaluation.value(Node("measure", Scope(key, "default"), body))
        mesh = evaluation.outcomes[Node("mesh", Scope(key, "default"), body)]
        if measured is None or mesh.value is None:
            found.append(f"{body}: cannot be measured or drawn")
            continue
        if kind == "surface":
            if not measured["valid"] or measured["solids"] or measured["area_mm2"] <= 0:
                found.append(f"{body}: no sound surface")
            continue
        volume, facets = measured["volume_mm3"], facet_volume(BodyMesh.from_result(mesh.value))
        if abs(facets - volume) > WRONG * volume:
            facets = finely(store, shape)
        if not measured["valid"] or measured["solids"] < 1 or volume <= 0:
            found.append(f"{body}: not valid")
        elif abs(facets - volume) > WRONG * volume:
            found.append(f"{body}: {volume:.3f} mm3 by the kernel, {facets:.3f} by its facets")
    return found, reported


def trials(seeds: range, folder: Path, kind: type[Fuzz] = Fuzz) -> tuple[Counter[str], list[str]]:
    """So many random build lists: counts of operations and what came of them, and the wrong solids."""
    from architectonic.family.scopes import Scope
    from architectonic.propagate.targets import Look
    from architectonic.propagate.whole import evaluate_scopes
    from bench.naming import Trial

    told: Counter[str] = Counter()
    bad: list[str] = []
    trial = Trial(folder)
    for seed in seeds:
        fuzz = kind(seed, trial.shape_of)
        for _ in range(fuzz.draw.randint(2, 6)):
            fuzz.grow()
        m = fuzz.maker
        at = Scope(m.key, "default")
        evaluation = evaluate_scopes(trial.engine.evaluator, m.family, [at], (Look(at),))
        found, reported = wrong_in(evaluation, m.key, folder)
        told["lists"] += 1
        told["operations"] += fuzz.steps
        told["reported"] += reported
        told["wrong"] += len(found)
        bad += [f"seed {seed}: {f}" for f in found]
    trial.engine.close()
    return told, bad


def fuzz(count: int = 2000) -> None:
    """Two thousand random build lists of solids."""
    _fuzzed("solids", Fuzz, count)


def surfaces(count: int = 1000) -> None:
    """A thousand random build lists with surfaces."""
    _fuzzed("surfaces", SurfaceFuzz, count)


def _fuzzed(what: str, kind: type[Fuzz], count: int) -> None:
    with tempfile.TemporaryDirectory() as folder:
        told, bad = trials(range(count), Path(folder), kind)
    print(
        f"fuzz         {what}: {told['lists']} build lists, {told['operations']} operations, {told['reported']} reported,"
        f" {told['wrong']} wrong ones unreported (goal: none)"
    )
    for line in bad[:12]:
        print(f"             {line}")
