"""Parts of several bodies in the demo: an elbow whose tongue and fork mesh around a pin, and crossed louvre fins."""

from __future__ import annotations

from collections.abc import Callable

from architectonic.api.opened import OpenFamily
from architectonic.api.parts import Part
from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, point_on
from architectonic.demo.writer import ALUMINIUM, STEEL, begin
from architectonic.describe.drawn.drawing import Drawing


def _arm(towards: int) -> Callable[[Drawing], str]:
    """A flat bar with a round end about the origin, to the right (+1) or the left (-1); its straight end."""

    def draw(d: Drawing) -> str:
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
        return end

    return draw


def elbow(family: OpenFamily) -> None:
    """A fork and a tongue from two outlines, the slot cut by the tongue itself, drilled and pinned together."""
    part = begin(
        family, "Elbow", hub_r="Sizes.tube_d / 2 + 2 * Sizes.wall", leg="2.5 * hub_r", wide="Sizes.tube_d",
        thick="wide / 3",
    )  # fmt: skip
    ends = {}
    for name, towards, width in (("Fork", -1, "wide"), ("Tongue", 1, "thick")):
        sketch = part.sketch(f"{name} outline", on="front")
        ends[name] = sketch.draw("a bar", _arm(towards))
        part.extrude(make=name, regions=sketch.region(), far=("both", width), name=f"{name} bar")
        part.body(name).made_of(*ALUMINIUM)
    part.subtract(body="Fork", tools="Tongue", keep=True, clearance="Sizes.gap", name="Slot of the fork")
    hole = part.sketch("Pin hole", on="front")
    hole.circle(diameter="Sizes.pin_hole")
    both = ("Fork", "Tongue")
    part.extrude(cut=both, regions=hole.region(), far="through", near="through", name="Drill both")
    _pin(part)
    bar = part.operation("Fork bar")
    touched = [bar.made(cap, f"side:{ends['Fork']}", kind="line", convex="convex") for cap in ("start", "end")]
    part.fillet(edges=touched, radius="Sizes.wall / 2", name="Ease the end")
    part.item("Bars", description="a pair that is fitted together")
    for name, number in (("Fork", "BRL-71"), ("Tongue", "BRL-72")):
        part.item(name, name, number=number, finish="anodised, black", supply="make", under="Bars")
    part.item("Pin", "Pin", number="BRL-73", description="turned, a push fit", supply="buy")


def elbow_joint(family: OpenFamily) -> None:
    """The items of the elbow as an assembly that bends: the tongue turns in the fork about the pin. Where it turns, the fork
    is relieved, here alone."""
    whole = family.assembly("Elbow joint")
    whole.number("BRL-70")
    for item in ("Fork", "Tongue", "Pin"):
        whole.place("Elbow", item)
        whole.fill(item, "Elbow", item=item)
    whole.fix("Fork")
    whole.bond("revolute", ("Fork", "y"), ("Tongue", "y"), "Elbow", play="Sizes.pin_hole - Sizes.pin_d")
    whole.bond("fixed", ("Fork", "y"), ("Pin", "y"), "Pin in its fork")
    whole.limit("Elbow", "-100 deg", "100 deg")
    whole.alternate("Straight")
    whole.alternate("Bent", follows="Straight", note="as far as the arm is folded")
    whole.drive("Elbow", "0 deg", "Straight")
    whole.drive("Elbow", "75 deg", "Bent")
    (fork,) = whole.work_on("Fork / Fork")
    swung = whole.sketch("Where it swings", on="front")
    swung.circle(diameter="2.6 * Elbow.hub_r")
    wide = ("both", "Elbow.thick + 2 * Sizes.gap")
    whole.extrude(cut=fork.name, regions=swung.region(), far=wide, name="Relieve the fork")


def _half(d: Drawing) -> list[str]:
    """Half of the section of a shank with a flat head."""
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
    return lines


def _pin(part: Part) -> None:
    """Turned from half of its section."""
    sketch = part.sketch("Half of the pin", on="top")
    lines = sketch.draw("half of the pin", _half)
    turned = part.revolve(make="Pin", regions=sketch.region(), axis="y", name="Turn the pin")
    part.body("Pin").made_of(*STEEL)
    tip = turned.made(f"side:{lines[0]}", f"side:{lines[1]}", kind="circle", convex="convex")
    part.chamfer(edges=tip, distance="Sizes.pin_d / 10", name="Lead in")


def louvre(family: OpenFamily) -> None:
    """Two sheet fins that cross, each slotted for half of its height by what the other is thick."""
    part = begin(family, "Louvre", fin_h="Sizes.head_h / 3", slot="Sizes.sheet + Sizes.gap")
    for name, plane, width in (
        ("Fin along", "front", "Sizes.diffuser_w"),
        ("Fin across", "right", "Sizes.head_h - 2 * Sizes.rim"),
    ):
        sketch = part.sketch(f"{name} outline", on=plane)
        sketch.draw("a sheet", _sheet(width, "fin_h", 0))
        part.extrude(make=name, regions=sketch.region(), far=("both", "Sizes.sheet"), name=f"{name} sheet")
        part.body(name).made_of(*ALUMINIUM)
    for name, body, plane, side in (
        ("Slot from above", "Fin along", "front", 1),
        ("Slot from below", "Fin across", "right", -1),
    ):
        sketch = part.sketch(name, on=plane)
        sketch.draw("a slot", _sheet("slot", "fin_h / 2", side))
        part.extrude(cut=body, regions=sketch.region(), far="through", near="through", name=f"{name}, cut")


def _sheet(width: str, height: str, side: int) -> Callable[[Drawing], None]:
    """A rectangle in the middle of its plane: about the x axis (0), on it (+1) or hung from it (-1)."""

    def draw(d: Drawing) -> None:
        bottom, right, top, _ = d.rectangle((-20, -5 if side <= 0 else 0), (20, 5 if side >= 0 else 0))
        d.constrain("distance", bottom, value=width, name="width")
        d.constrain("distance", right, value=height, name="height")
        d.constrain("symmetric", point_on(bottom, "start"), point_on(bottom, "end"), Y_AXIS)
        if side == 0:
            d.constrain("symmetric", point_on(right, "start"), point_on(right, "end"), X_AXIS)
        else:
            d.constrain("on_curve", point_on(bottom if side > 0 else top, "start"), X_AXIS)

    return draw
