"""Parts of several bodies in the demo: an elbow whose tongue and fork mesh around a pin, and crossed louvre fins."""

from __future__ import annotations

from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, point_on
from architectonic.demo.writer import Writer
from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.bodies.combine import Combine
from architectonic.family.operations.edges.chamfer import Chamfer
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.operations.solids.extrude import Distance, Extrude, Symmetric, Through
from architectonic.family.operations.solids.revolve import Revolve
from architectonic.family.records import Reference, Witness
from architectonic.family.scopes import Scope
from architectonic.session.open.queries import ask

ALUMINIUM, STEEL = "2.7 g / 1 cm3", "7.85 g / 1 cm3"


def _regions(w: Writer, part: str, sketch: str) -> list[Reference]:
    """References to all regions of a sketch, the largest first."""
    node = Node("solve", Scope(part, w.m), sketch)
    found = sorted(ask(w.family, [node]).value(node).regions, key=lambda r: -r.area)
    return [Reference(item=sketch, label=r.label) for r in found]


def _arm(w: Writer, part: str, name: str, towards: int) -> str:
    """A flat bar with a round end about the origin, to the right (+1) or the left (-1)."""
    d = w.sketch(part, name, Reference(item="front"))
    r, far = 12.0, towards * 40.0
    cap = d.arc((0, 0), (0, r), (0, -r)) if towards > 0 else d.arc((0, 0), (0, -r), (0, r))
    upper, lower, end = d.line((0, r), (far, r)), d.line((0, -r), (far, -r)), d.line((far, r), (far, -r))
    first, last = ("start", "end") if towards > 0 else ("end", "start")
    d.constrain("coincident", point_on(cap, "centre"), ORIGIN)
    d.constrain("coincident", point_on(cap, first), point_on(upper, "start"))
    d.constrain("coincident", point_on(cap, last), point_on(lower, "start"))
    d.constrain("coincident", point_on(end, "start"), point_on(upper, "end"))
    d.constrain("coincident", point_on(end, "end"), point_on(lower, "end"))
    for line in (upper, lower):
        d.constrain("horizontal", line)
        d.constrain("tangent", line, cap)
    d.constrain("vertical", end)
    d.constrain("radius", cap, value="hub_r")
    d.constrain("distance", ORIGIN, end, value="leg", name="reach")
    return w.keep(d)


def elbow(w: Writer) -> None:
    """A fork and a tongue from two outlines, the slot cut by the tongue itself, drilled and pinned together."""
    part = w.document("part", "Elbow")
    fork = w.body(part, "Fork", ALUMINIUM, "EN AW-6060")
    tongue = w.body(part, "Tongue", ALUMINIUM, "EN AW-6060")
    pin = w.body(part, "Pin", STEEL, "steel")
    for name, text in (
        ("hub_r", "Sizes.tube_d / 2 + 2 * Sizes.wall"),
        ("leg", "2.5 * hub_r"),
        ("wide", "Sizes.tube_d"),
        ("thick", "wide / 3"),
    ):
        w.family = edits.add_parameter(w.family, part, name, text, new_id=w.new_id)
    for name, body, towards, width in (("Fork", fork, -1, "wide"), ("Tongue", tongue, 1, "thick")):
        sketch = _arm(w, part, f"{name} outline", towards)
        w.add(
            part,
            Extrude(
                id=w.new_id(), name=f"{name} bar", does="make", acts_on=(body,), regions=(_regions(w, part, sketch)[0],),
                far=Distance(value=w.text(part, width)), near=Symmetric(),
            ),
        )  # fmt: skip
    w.add(
        part,
        Combine(
            id=w.new_id(), name="Slot of the fork", does="subtract", acts_on=(fork,), tools=(tongue,), keep=True,
            clearance=w.text(part, "Sizes.gap"),
        ),
    )  # fmt: skip
    d = w.sketch(part, "Pin hole", Reference(item="front"))
    hole = d.circle((0, 0), 3)
    d.constrain("coincident", point_on(hole, "centre"), ORIGIN)
    d.constrain("diameter", hole, value="Sizes.pin_hole")
    drilled = w.keep(d)
    w.add(
        part,
        Extrude(
            id=w.new_id(), name="Drill both", does="cut", acts_on=(fork, tongue), regions=(Reference(item=drilled, label=f"+{hole}"),),
            far=Through(), near=Through(),
        ),
    )  # fmt: skip
    _pin(w, part, pin)
    _finish(w, part, fork)


def _pin(w: Writer, part: str, pin: str) -> None:
    """Turned from half of its section: a shank and a flat head."""
    d = w.sketch(part, "Half of the pin", Reference(item="top"))
    points = [(0.0, -10.0), (3.0, -10.0), (3.0, 10.0), (5.0, 10.0), (5.0, 12.0), (0.0, 12.0)]
    lines = [d.line(p, points[(k + 1) % 6]) for k, p in enumerate(points)]
    for k, line in enumerate(lines):
        d.constrain("coincident", point_on(line, "end"), point_on(lines[(k + 1) % 6], "start"))
        d.constrain("vertical" if k % 2 else "horizontal", line)
    d.constrain("on_curve", point_on(lines[0], "start"), Y_AXIS)
    d.constrain("distance", Y_AXIS, lines[1], value="Sizes.pin_d / 2", name="shank")
    d.constrain("distance", Y_AXIS, lines[3], value="Sizes.pin_d", name="head")
    d.constrain("distance", X_AXIS, lines[0], value="wide / 2 + Sizes.gap", name="below")
    d.constrain("distance", X_AXIS, lines[2], value="wide / 2 + Sizes.gap", name="above")
    d.constrain("distance", lines[2], lines[4], value="Sizes.sheet", name="head_h")
    sketch = w.keep(d)
    turned = Revolve(
        id=w.new_id(), name="Turn the pin", does="make", acts_on=(pin,), regions=(_regions(w, part, sketch)[0],),
        axis=Reference(item="y"),
    )  # fmt: skip
    w.add(part, turned)
    tip = f"({turned.id}:side:{lines[0]}|{turned.id}:side:{lines[1]})"
    seen = Witness(kind="circle", convex="convex", neighbours=tuple(tip[1:-1].split("|")))
    w.add(
        part,
        Chamfer(
            id=w.new_id(), name="Lead in", distance=w.text(part, "Sizes.pin_d / 10"),
            edges=(Reference(item=pin, stage="here", label=tip, witness=seen),),
        ),
    )  # fmt: skip


def _finish(w: Writer, part: str, fork: str) -> None:
    """Round what hands touch: the long edges of the fork's end."""
    document = edits.model(w.family, part)
    bar = next(o for o in document.build if o.name == "Fork bar")
    sketch = next(o for o in document.build if o.name == "Fork outline")
    end = next(c.of[1] for c in sketch.constraints if c.name == "reach")  # type: ignore[attr-defined]
    edges = []
    for cap in ("start", "end"):
        faces = sorted((f"{bar.id}:{cap}", f"{bar.id}:side:{end}"))
        seen = Witness(kind="line", convex="convex", neighbours=tuple(faces))
        edges.append(Reference(item=fork, stage="here", label=f"({faces[0]}|{faces[1]})", witness=seen))
    w.add(part, Fillet(id=w.new_id(), name="Ease the end", edges=tuple(edges), radius=w.text(part, "Sizes.wall / 2")))


def louvre(w: Writer) -> None:
    """Two sheet fins that cross, each slotted for half of its height by what the other is thick."""
    part = w.document("part", "Louvre")
    along, across = (w.body(part, name, ALUMINIUM, "EN AW-6060") for name in ("Fin along", "Fin across"))
    for name, text in (("fin_h", "Sizes.head_h / 3"), ("slot", "Sizes.sheet + Sizes.gap")):
        w.family = edits.add_parameter(w.family, part, name, text, new_id=w.new_id)
    for name, body, plane, axis, width in (
        ("Fin along", along, "front", "x", "Sizes.diffuser_w"),
        ("Fin across", across, "right", "y", "Sizes.head_h - 2 * Sizes.rim"),
    ):
        sketch = _sheet(w, w.sketch(part, f"{name} outline", Reference(item=plane), axis), width, "fin_h", 0)
        w.add(
            part,
            Extrude(
                id=w.new_id(), name=f"{name} sheet", does="make", acts_on=(body,), regions=(_regions(w, part, sketch)[0],),
                far=Distance(value=w.text(part, "Sizes.sheet")), near=Symmetric(),
            ),
        )  # fmt: skip
    for name, body, plane, axis, side in (
        ("Slot from above", along, "front", "x", 1),
        ("Slot from below", across, "right", "y", -1),
    ):
        sketch = _sheet(w, w.sketch(part, name, Reference(item=plane), axis), "slot", "fin_h / 2", side)
        w.add(
            part,
            Extrude(
                id=w.new_id(), name=f"{name}, cut", does="cut", acts_on=(body,), regions=(_regions(w, part, sketch)[0],),
                far=Through(), near=Through(),
            ),
        )  # fmt: skip


def _sheet(w: Writer, d: Drawing, width: str, height: str, side: int) -> str:
    """A rectangle in the middle of its plane: about the x axis (0), on it (+1) or hung from it (-1)."""
    bottom, right, top, _ = d.rectangle((-20, -5 if side <= 0 else 0), (20, 5 if side >= 0 else 0))
    d.constrain("distance", bottom, value=width, name="width")
    d.constrain("distance", right, value=height, name="height")
    d.constrain("symmetric", point_on(bottom, "start"), point_on(bottom, "end"), Y_AXIS)
    if side == 0:
        d.constrain("symmetric", point_on(right, "start"), point_on(right, "end"), X_AXIS)
    else:
        d.constrain("on_curve", point_on(bottom if side > 0 else top, "start"), X_AXIS)
    return w.keep(d)
