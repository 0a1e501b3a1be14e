"""Names that hold: build lists driven over half to twice their values, and with an operation inserted early.

Each list carries the place of every face and edge that is picked as a formula of its values: that is the oracle. A
reference counts as right when all that it finds lies on that place, as reported when it says that it is lost, and as
silently wrong when it finds something else. Asked for: 99 % right, none silently wrong.
"""

from __future__ import annotations

import math
import tempfile
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

Vector = tuple[float, float, float]
Values = dict[str, float]
NEAR = 1e-5


class Segment(NamedTuple):
    """A straight edge between two points."""

    p: Vector
    q: Vector

    def holds(self, x: Vector) -> bool:
        """Whether a point lies on it."""
        length = math.dist(self.p, self.q)
        return abs(math.dist(self.p, x) + math.dist(x, self.q) - length) < NEAR


class Ring(NamedTuple):
    """A round edge about an upright axis."""

    centre: Vector
    radius: float

    def holds(self, x: Vector) -> bool:
        """Whether a point lies on it."""
        flat = math.hypot(x[0] - self.centre[0], x[1] - self.centre[1])
        return abs(x[2] - self.centre[2]) < NEAR and abs(flat - self.radius) < NEAR


class Plane(NamedTuple):
    """A flat face: its place along an axis of the document."""

    axis: int
    at: float

    def holds(self, x: Vector) -> bool:
        """Whether a point lies on it."""
        return abs(x[self.axis] - self.at) < NEAR


class Tube(NamedTuple):
    """A round face about an upright axis."""

    x: float
    y: float
    radius: float

    def holds(self, p: Vector) -> bool:
        """Whether a point lies on it."""
        return abs(math.hypot(p[0] - self.x, p[1] - self.y) - self.radius) < NEAR


class Base(NamedTuple):
    """A first solid: its values, how it is drawn, where its edges and faces are, and where work on it goes.

    Attributes:
        top: height of its upper side; spot: a place on that; side: a place on its outline; treated: an edge to round.
    """

    values: Values
    build: Callable[[Any], None]
    edges: Callable[[Values], dict[str, Segment | Ring]]
    faces: Callable[[Values], dict[str, Plane | Tube]]
    top: str
    spot: tuple[str, str]
    side: tuple[str, str]
    treated: str


class Maker:
    """A part being built by calls."""

    def __init__(self, values: Values) -> None:
        from architectonic.family import edits

        self.family = edits.new_family("Names")
        self.family, self.key = edits.add_document(self.family, "part", "Part")
        for name, value in values.items():
            self.family = edits.add_parameter(self.family, self.key, name, f"{value} mm")
        self._count = 0

    def e(self, text: str) -> Any:
        from architectonic.family import names

        return names.bind_quantity(self.family, self.family.documents[self.key], text, "length", "mm")

    def sketch(self, plane: str, draw: Callable[[Any], None]) -> list[Any]:
        """A sketch, and references to its regions."""
        from architectonic.describe.drawn.drawing import Drawing
        from architectonic.describe.results import Node
        from architectonic.family import edits
        from architectonic.family.records import Reference, Sketch
        from architectonic.family.scopes import Scope
        from architectonic.session.open.queries import ask

        self._count += 1
        made = Sketch(id=f"s{self._count}", name=f"S{self._count}", plane=Reference(item=plane))
        self.family = edits.add_operation(self.family, self.key, made)
        ids = iter(range(1000))
        d = Drawing(self.family, self.key, made, lambda: f"s{self._count}c{next(ids)}")
        draw(d)
        self.family = edits.replace_operation(self.family, self.key, d.sketch)
        node = Node("solve", Scope(self.key, "default"), made.id)
        regions = ask(self.family, [node]).value(node).regions
        return [Reference(item=made.id, label=r.label) for r in regions]

    def extrude(self, key: str, regions: list[Any], does: str, far: str, **more: Any) -> None:
        from architectonic.family.operations.solids.extrude import Distance, Extrude
        from architectonic.session.model import building

        made = Extrude(
            id=key, name=key, does=does, acts_on=("b",), regions=tuple(regions), far=Distance(value=self.e(far)), **more
        )
        self.family = building.store(self.family, self.key, made, body_name="Body")

    def level(self, key: str, height: str, over: str = "top") -> str:
        """A datum plane at a height over one of the three planes."""
        from architectonic.family import edits
        from architectonic.family.records import Datum, OffsetPlane, Reference

        by = OffsetPlane(plane=Reference(item=over), distance=self.e(height))
        self.family = edits.add_operation(self.family, self.key, Datum(id=key, name=key, by=by))
        return key


def outline(*corners: tuple[str, str]) -> Callable[[Any], None]:
    """A closed outline of lines through corners given by expressions; every corner is held."""

    def draw(d: Any) -> None:
        rough = [(11.0 * k + 3, 7.0 * (k * k % 5) + 2) for k in range(len(corners))]
        lines = [d.line(rough[k], rough[(k + 1) % len(corners)]) for k in range(len(corners))]
        for k, (x, y) in enumerate(corners):
            d.constrain("coincident", f"{lines[k]}.start", f"{lines[k - 1]}.end")
            place(d, f"{lines[k]}.start", x, y)

    return draw


def place(d: Any, point: str, x: str, y: str) -> None:
    """Hold a point at coordinates, which may be zero or negative."""
    for kind, axis, text in (("horizontal_distance", "y_axis", x), ("vertical_distance", "x_axis", y)):
        if text == "0 mm":
            d.constrain("on_curve", point, axis)
        elif text.startswith("-"):
            d.constrain(kind, point, "origin", value=text[1:], branch=1)
        else:
            d.constrain(kind, "origin", point, value=text, branch=1)


def ring(x: str, y: str, r: str) -> Callable[[Any], None]:
    """A circle at coordinates given by expressions."""

    def draw(d: Any) -> None:
        c = d.circle((5.0, 5.0), 3.0)
        place(d, f"{c}.centre", x, y)
        d.constrain("radius", c, value=r)

    return draw


def corners(v: Values, w: str = "w", h: str = "h") -> list[tuple[float, float]]:
    return [(0, 0), (v[w], 0), (v[w], v[h]), (0, v[h])]


def prism_edges(points: list[tuple[float, float]], low: float, high: float) -> dict[str, Segment | Ring]:
    """Edges of an upright prism: lower, upper and upright ones."""
    found: dict[str, Segment | Ring] = {}
    for k, (x, y) in enumerate(points):
        u, t = points[(k + 1) % len(points)]
        found[f"low {k}"] = Segment((x, y, low), (u, t, low))
        found[f"high {k}"] = Segment((x, y, high), (u, t, high))
        found[f"up {k}"] = Segment((x, y, low), (x, y, high))
    return found


def block(m: Maker) -> None:
    m.extrude("base", m.sketch("top", outline(("0 mm", "0 mm"), ("w", "0 mm"), ("w", "h"), ("0 mm", "h"))), "make", "d")


def plate(m: Maker) -> None:
    regions = m.sketch(
        "top",
        lambda d: (
            outline(("0 mm", "0 mm"), ("w", "0 mm"), ("w", "h"), ("0 mm", "h"))(d),
            ring("w / 4", "h / 2", "r")(d),
        ),
    )
    m.extrude("base", [r for r in regions if "-" in r.label], "make", "d")


def ell(m: Maker) -> None:
    draw = outline(("0 mm", "0 mm"), ("w", "0 mm"), ("w", "t"), ("t", "t"), ("t", "h"), ("0 mm", "h"))
    m.extrude("base", m.sketch("top", draw), "make", "d")


def bush(m: Maker) -> None:
    from architectonic.family.operations.solids.revolve import Revolve
    from architectonic.family.records import Reference
    from architectonic.session.model import building

    draw = outline(("a", "0 mm"), ("c", "0 mm"), ("c", "k"), ("b", "k"), ("b", "l"), ("a", "l"))
    regions = m.sketch("front", draw)
    made = Revolve(
        id="base", name="base", does="make", acts_on=("b",), regions=tuple(regions), axis=Reference(item="z")
    )
    m.family = building.store(m.family, m.key, made, body_name="Body")


def drum(m: Maker) -> None:
    m.extrude("base", m.sketch("top", ring("x", "y", "r")), "make", "d")


def tee(m: Maker) -> None:
    block(m)
    level = m.level("shelf", "d")
    draw = outline(("w / 4", "0 mm"), ("w / 2", "0 mm"), ("w / 2", "h"), ("w / 4", "h"))
    m.extrude("wall", m.sketch(level, draw), "add", "k")


def tee_edges(v: Values) -> dict[str, Segment | Ring]:
    wall = [(v["w"] / 4, 0), (v["w"] / 2, 0), (v["w"] / 2, v["h"]), (v["w"] / 4, v["h"])]
    upper = {
        f"wall {k}": e for k, e in prism_edges(wall, v["d"], v["d"] + v["k"]).items() if k not in ("low 0", "low 2")
    }
    base = {k: e for k, e in prism_edges(corners(v), 0, v["d"]).items() if k not in ("high 0", "high 2")}
    return {**base, **upper}


L6 = lambda v: [(0, 0), (v["w"], 0), (v["w"], v["t"]), (v["t"], v["t"]), (v["t"], v["h"]), (0, v["h"])]  # noqa: E731
BASES: dict[str, Base] = {
    "block": Base({"w": 60, "h": 40, "d": 20}, block, lambda v: prism_edges(corners(v), 0, v["d"]),
        lambda v: {"left": Plane(0, 0), "right": Plane(0, v["w"]), "front": Plane(1, 0), "back": Plane(1, v["h"]), "low": Plane(2, 0), "top": Plane(2, v["d"])},
        "d", ("w / 2", "h / 2"), ("w / 3", "0 mm"), "up 2"),
    "plate": Base({"w": 80, "h": 50, "d": 8, "r": 6}, plate,
        lambda v: {**prism_edges(corners(v), 0, v["d"]), "rim": Ring((v["w"] / 4, v["h"] / 2, v["d"]), v["r"]), "foot": Ring((v["w"] / 4, v["h"] / 2, 0), v["r"])},
        lambda v: {"left": Plane(0, 0), "right": Plane(0, v["w"]), "back": Plane(1, v["h"]), "top": Plane(2, v["d"]), "bore": Tube(v["w"] / 4, v["h"] / 2, v["r"])},
        "d", ("0.7 * w", "h / 2"), ("w / 2", "0 mm"), "up 1"),
    "ell": Base({"w": 70, "h": 60, "t": 15, "d": 30}, ell, lambda v: prism_edges(L6(v), 0, v["d"]),
        lambda v: {"left": Plane(0, 0), "end": Plane(0, v["w"]), "inner x": Plane(0, v["t"]), "inner y": Plane(1, v["t"]), "back": Plane(1, v["h"]), "top": Plane(2, v["d"])},
        "d", ("t / 2", "t / 2"), ("w / 2", "0 mm"), "up 4"),
    "bush": Base({"a": 8, "b": 16, "c": 30, "k": 10, "l": 30}, bush,
        lambda v: {"outer low": Ring((0, 0, 0), v["c"]), "outer high": Ring((0, 0, v["k"]), v["c"]), "neck": Ring((0, 0, v["k"]), v["b"]), "crown": Ring((0, 0, v["l"]), v["b"]), "bore high": Ring((0, 0, v["l"]), v["a"]), "bore low": Ring((0, 0, 0), v["a"])},
        lambda v: {"low": Plane(2, 0), "step": Plane(2, v["k"]), "crown": Plane(2, v["l"]), "outer": Tube(0, 0, v["c"]), "neck": Tube(0, 0, v["b"]), "bore": Tube(0, 0, v["a"])},
        "k", ("(b + c) / 2", "0 mm"), ("0 mm", "-c"), "outer low"),
    "drum": Base({"x": 10, "y": 15, "r": 25, "d": 18}, drum,
        lambda v: {"low": Ring((v["x"], v["y"], 0), v["r"]), "high": Ring((v["x"], v["y"], v["d"]), v["r"])},
        lambda v: {"low": Plane(2, 0), "top": Plane(2, v["d"]), "side": Tube(v["x"], v["y"], v["r"])},
        "d", ("x", "y"), ("x", "y - r"), "low"),
    "tee": Base({"w": 80, "h": 40, "d": 12, "k": 15}, tee, tee_edges,
        lambda v: {"left": Plane(0, 0), "right": Plane(0, v["w"]), "low": Plane(2, 0), "wall top": Plane(2, v["d"] + v["k"]), "wall left": Plane(0, v["w"] / 4), "wall right": Plane(0, v["w"] / 2)},
        "d", ("0.75 * w", "h / 2"), ("0.75 * w", "0 mm"), "up 2"),
}  # fmt: skip


class Carried(NamedTuple):
    """Where a solid has gone: into which document, and what takes a point of it back to where it was."""

    key: str
    back: Callable[[Vector], Vector]


def stays(p: Vector) -> Vector:
    """A point of a solid that has gone nowhere."""
    return p


def nothing(m: Maker, base: Base, at: dict[str, Any]) -> None:
    """No further operation."""


def rounded(m: Maker, base: Base, at: dict[str, Any]) -> None:
    from architectonic.family.operations.edges.fillet import Fillet
    from architectonic.session.model import building

    m.family = building.store(
        m.family, m.key, Fillet(id="round", name="round", edges=(at[base.treated],), radius=m.e("1.5 mm"))
    )


def chamfered(m: Maker, base: Base, at: dict[str, Any]) -> None:
    from architectonic.family.operations.edges.chamfer import Chamfer
    from architectonic.session.model import building

    m.family = building.store(
        m.family, m.key, Chamfer(id="chamfer", name="chamfer", edges=(at[base.treated],), distance=m.e("1 mm"))
    )


def pocketed(m: Maker, base: Base, at: dict[str, Any]) -> None:
    (x, y), level = base.spot, m.level("lid", base.top)
    m.extrude("pocket", m.sketch(level, ring(x, y, "2 mm")), "cut", f"({base.top}) / 3", flip=True)


def bossed(m: Maker, base: Base, at: dict[str, Any]) -> None:
    (x, y), level = base.spot, m.level("lid", base.top)
    m.extrude("boss", m.sketch(level, ring(x, y, "2.5 mm")), "add", "6 mm")


def notched(m: Maker, base: Base) -> None:
    """The operation that is inserted early: a slot down the outline, right through."""
    m.extrude("notch", m.sketch("top", ring(*base.side, "1.5 mm")), "cut", "500 mm")


FOLLOWERS = {f.__name__: f for f in (nothing, rounded, chamfered, pocketed, bossed)}


def points_of_edge(edge: Any) -> list[Vector]:
    from OCP.BRepAdaptor import BRepAdaptor_Curve

    c = BRepAdaptor_Curve(edge)
    a, b = c.FirstParameter(), c.LastParameter()
    found = (c.Value(a + (b - a) * k / 6) for k in range(7))
    return [(p.X(), p.Y(), p.Z()) for p in found]


def points_of_face(face: Any) -> list[Vector]:
    from OCP.BRepAdaptor import BRepAdaptor_Surface

    from architectonic.kernel.shapes.topology import EDGE, subshapes

    s = BRepAdaptor_Surface(face)  # one of the surface itself: a disc and a tube have the same edge
    middle = s.Value((s.FirstUParameter() + s.LastUParameter()) / 2, (s.FirstVParameter() + s.LastVParameter()) / 2)
    return [(middle.X(), middle.Y(), middle.Z()), *(p for e in subshapes(face, EDGE) for p in points_of_edge(e))]


class Pick(NamedTuple):
    """A reference as it was picked, and which place it was picked at."""

    kind: str
    name: str
    wanted: Any


def picks(shape: Any, base: Base, v: Values, back: Callable[[Vector], Vector] = stays) -> list[Pick]:
    """Every edge and face of the oracle that is there whole, with its label and witness."""
    from architectonic.describe.recipes import Wanted
    from architectonic.family.records import Witness
    from architectonic.kernel.shapes.topology import EDGE, FACE, ancestors
    from architectonic.kernel.shapes.witness import edge_facts, face_facts

    around, found = dict(ancestors(shape.shape, EDGE, FACE)), []
    for name, at in base.edges(v).items():
        for label, edge in shape.edges.items():
            if all(at.holds(back(p)) for p in points_of_edge(edge)):
                facts = edge_facts(shape, edge, around[edge])
                witness = Witness(kind=facts.kind, convex=facts.convex, neighbours=facts.neighbours)
                found.append(Pick("edge", name, Wanted(label, witness)))
    for name, place_ in base.faces(v).items():
        for face, label in shape.name_of.items():
            if all(place_.holds(back(p)) for p in points_of_face(face)):
                facts = face_facts(shape, face)
                witness = Witness(kind=facts.kind, neighbours=facts.neighbours)
                found.append(Pick("face", name, Wanted(label, witness)))
    return found


def verdict(shape: Any, pick: Pick, base: Base, v: Values, back: Callable[[Vector], Vector] = stays) -> str:
    """right, reported or wrong."""
    from architectonic.make.fault import MakeFault
    from architectonic.make.operations.found import edges_of
    from architectonic.make.queries import faces_of

    try:
        if pick.kind == "edge":
            at: Any = base.edges(v)[pick.name]
            found = [points_of_edge(e) for e in edges_of(shape, (pick.wanted,)).values()]
        else:
            at = base.faces(v)[pick.name]
            found = [points_of_face(f) for f in faces_of(shape, pick.wanted, "it")]
    except MakeFault:
        return "reported"
    return "right" if all(at.holds(back(p)) for points in found for p in points) else "wrong"


class Trial:
    """A store and its workers, and what came of the references that were followed."""

    def __init__(self, folder: Path) -> None:
        from architectonic.session.open.engine import Engine

        self.folder, self.engine = folder, Engine.start(folder, 2)
        self.told: Counter[str] = Counter()
        self.lost: Counter[str] = Counter()

    def shape_of(self, family: Any, key: str) -> Any:
        """The body as it is in the end; None when there is none."""
        from architectonic.describe.results import Node
        from architectonic.family.scopes import Scope
        from architectonic.propagate.targets import all_scopes
        from architectonic.propagate.whole import evaluate_scopes
        from architectonic.worker.shapes import stored

        evaluation = evaluate_scopes(self.engine.evaluator, family, all_scopes(family))
        state = evaluation.value(Node("finished", Scope(key, "default"), ""))
        shape = state.shape("b") or next((b.shape for b in state.bodies), None)
        return stored(self.folder, shape) if shape else None

    def follow(self, name: str, base: Base, follower: Callable[..., Carried | None]) -> None:
        """One build list through all its changes."""
        from architectonic.family import edits
        from architectonic.family.records import Reference

        plain = Maker(base.values)
        base.build(plain)
        found = picks(self.shape_of(plain.family, plain.key), base, base.values)
        at = {p.name: Reference(item="b", stage="here", label=p.wanted.label, witness=p.wanted.witness) for p in found}

        def built(inserted: bool) -> tuple[Maker, Carried]:
            m = Maker(base.values)
            base.build(m)
            if inserted:
                notched(m, base)
            return m, follower(m, base, at) or Carried(m.key, stays)

        (first, there), (later, moved) = built(False), built(True)
        wanted = picks(self.shape_of(first.family, there.key), base, base.values, there.back)
        trials = [(moved, later.family, "inserted", base.values)]
        rows = {p.name: p.id for p in first.family.documents[first.key].parameters}
        for value in base.values:
            for factor in (0.5, 0.75, 1.5, 2.0):
                v = {**base.values, value: base.values[value] * factor}
                changed = edits.set_value(first.family, first.key, rows[value], f"{v[value]} mm")
                trials.append((there, changed, f"{value} x {factor:g}", v))
        for stands, family, what, v in trials:
            shape = self.shape_of(family, stands.key)
            if shape is None:
                self.told["no solid"] += 1
                continue
            for pick in wanted:
                came = verdict(shape, pick, base, v, stands.back)
                self.told[came] += 1
                if came != "right":
                    self.lost[f"{came}: {name}, {follower.__name__}, {what}, {pick.kind} {pick.name}"] += 1

    def tell(self, what: str, goal: str) -> None:
        """Shares of what came of the references, and which were lost most often."""
        told = self.told
        count = told["right"] + told["reported"] + told["wrong"]
        print(
            f"names        {what}, {count} references followed: {100 * told['right'] / count:.2f} % right,"
            f" {told['reported']} reported, {told['wrong']} silently wrong (goal: {goal}, none wrong);"
            f" no solid {told['no solid']} times"
        )
        for line, times in self.lost.most_common(8):
            print(f"             {times} x {line}")


def naming() -> None:
    """Thirty build lists, their references followed through changes of values and an inserted operation."""
    with tempfile.TemporaryDirectory() as folder:
        trial = Trial(Path(folder))
        for name, base in BASES.items():
            for follower in FOLLOWERS.values():
                trial.follow(name, base, follower)
        trial.engine.close()
    trial.tell(f"{len(BASES) * len(FOLLOWERS)} build lists", "99 %")
