"""The demo family: Brindle reading lights, written with the Python interface. All names and numbers are made up for it.

No geometry is looked at, so that it is there at once: faces and edges are pointed at by the names that they will have.
"""

from __future__ import annotations

from pathlib import Path

from architectonic.api.opened import OpenFamily, new
from architectonic.base.places import ORIGIN, X_AXIS, point_on
from architectonic.demo import bodies, files, foot, heads, standing, tube
from architectonic.demo.writer import ABS, ALUMINIUM, HEAD, PC, STEEL, Elevation, begin, sized
from architectonic.describe.drawn.drawing import Drawing
from architectonic.family.records import Family
from architectonic.propagate.evaluator import Evaluator
from architectonic.session.open.session import Session

SEED = 20260301
SIZES = (
    ("reach", "260 mm", "320 mm", "410 mm", "shoulder to head pivot"),
    ("height", "11 in", "360 mm", "17 in", "desk to shoulder"),
    ("foot_d", "130 mm", "150 mm", "190 mm", "outside of the foot"),
    ("wall", "2 mm", "2.4 mm", "2.8 mm", "moulded walls"),
    ("gap", "0.2 mm", "0.2 mm", "0.25 mm", "between moving parts"),
    ("stem_d", "1/2 in", "5/8 in", "5/8 in", "outside of the stem"),
    ("tube_d", "14 mm", "16 mm", "20 mm", "outside of the arm"),
    ("pin_d", "5 mm", "6 mm", "8 mm", "pivot pin"),
    ("sheet", "2 mm", "2 mm", "2.5 mm", "cheek plates"),
    ("foot_h", "16 mm", "18 mm", "22 mm", "height of the foot"),
    ("neck", "30 mm", "36 mm", "44 mm", "head pivot to bezel"),
    ("cable", "1.2 m", "1.4 m", "1.6 m", "as it is bought"),
    ("cable_slack", "120 mm", "120 mm", "150 mm", "for turning"),
)
"""What the engineer decides, for S, M and L."""


def _sizes(family: OpenFamily) -> None:
    table = family.table("Sizes")
    head = ((name, f"{s} mm", f"{m} mm", f"{l} mm", note) for name, s, m, l, note in HEAD)
    for row in (*SIZES, *head):
        sized(table, *row)
    table.rule(
        "foot carries the reach",
        "reach <= 2.2 * foot_d",
        "The light tips over: widen the foot or shorten the reach.",
    )
    table.rule(
        "pin leaves a wall",
        "pin_d <= tube_d / 2",
        "The pin hole weakens the arm: take a thinner pin or a thicker tube.",
    )
    table.rule(
        "cable is long enough",
        "cable >= height + reach + cable_slack",
        "The cable does not reach the head: buy a longer one.",
    )
    table.rule(
        "pieces of the head add up",
        "abs(2 * rim + diffuser_w - head_w) <= 0.01 mm",
        "Rim and diffuser do not add up to the head's width.",
    )
    table.parameter("pin_hole", "pin_d + gap", note="drilled")
    table.guard("play of the pin stays", "pin_hole - pin_d", "0.01 mm")
    columns, rows = {size: size for size in ("S", "M", "L")}, {h[0]: h[0] for h in HEAD}
    table.link("head of the design office", "files/sizes.csv", columns, rows, unit_column="Unit")


# --- the layout ---------------------------------------------------------------------------------------


def _side(d: Drawing) -> tuple[str, str, str, str]:
    """Stem and arm, their joint and the head's pivot."""
    stem, arm = d.line((0, 0), (0, 360)), d.line((0, 360), (282.5, 510.2))
    head, shoulder = d.point((282.5, 510.2)), d.point((0, 360))
    d.constrain("coincident", point_on(stem, "start"), ORIGIN)
    d.constrain("vertical", stem)
    d.constrain("coincident", point_on(arm, "start"), point_on(stem, "end"))
    d.constrain("coincident", shoulder, point_on(stem, "end"))
    d.constrain("coincident", head, point_on(arm, "end"))
    d.constrain("distance", stem, value="Sizes.height", name="stem_length")
    d.constrain("distance", arm, value="Sizes.reach", name="arm_length")
    d.constrain("angle", X_AXIS, arm, value="28 deg", name="arm_angle")
    return stem, arm, head, shoulder


def _plan(d: Drawing) -> tuple[str, str]:
    """Foot and stem from above."""
    foot, bore = d.circle((0, 0), 75), d.circle((0, 0), 7.9)
    for circle, name in ((foot, "foot_d"), (bore, "stem_d")):
        d.constrain("coincident", point_on(circle, "centre"), ORIGIN)
        d.constrain("diameter", circle, value=f"Sizes.{name}", name=name)
    return foot, bore


def _outline(d: Drawing) -> None:
    """The closed outline of the head, drawn elsewhere and brought in, then held by the table."""
    sides = [d.add(c) for c in files.outline()]
    lines, arcs = sides[0::2], sides[1::2]
    for k, key in enumerate(sides):
        following = sides[(k + 1) % len(sides)]
        d.constrain("coincident", point_on(key, "end"), point_on(following, "start"))
        d.constrain("tangent", *((key, following) if key in lines else (following, key)))
    d.constrain("horizontal", lines[0])
    d.constrain("vertical", lines[1])
    for arc in arcs[1:]:
        d.constrain("equal", arcs[0], arc)
    d.constrain("radius", arcs[0], value="Sizes.head_r", name="corner")
    d.constrain("distance", lines[1], lines[3], value="Sizes.head_w", name="width")
    d.constrain("distance", lines[0], lines[2], value="Sizes.head_h", name="height")
    d.constrain("distance", ORIGIN, lines[1], value="width / 2")
    d.constrain("distance", ORIGIN, lines[0], value="height / 2")


def _elevation(family: OpenFamily) -> Elevation:
    layout = family.layout("Elevation").in_size("M")
    side = layout.sketch("Side", on="front")
    stem, arm, head, shoulder = (side.curve(k) for k in side.draw("the elevation", _side))
    plan = layout.sketch("Plan", on="top")
    foot, bore = (plan.curve(k) for k in plan.draw("the plan", _plan))
    layout.datum_offset(plane="top", distance="Sizes.height", name="Shoulder")
    layout.datum_offset(plane="top", distance="Sizes.foot_h", name="Foot top")
    layout.datum_square(line=arm, name="Arm square")
    layout.underlay("Concept", "concept.png", (1200, 1200), "720 mm", at=(-180.0, -60.0), opacity=0.45)
    layout.datum_square(line=arm, share="1", name="Head face")
    layout.datum_offset(plane="Head face", distance="Sizes.neck", name="Head seat")
    desk = layout.sketch("Desk", on="top")
    (reach,) = desk.trace(arm)

    def lit(d: Drawing) -> None:
        circle = d.circle((282.5, 0), 90)
        d.constrain("coincident", point_on(circle, "centre"), reach.end.label)
        d.constrain("radius", circle, value="Sizes.height / 4", name="lit")

    desk.draw("what is lit", lit)
    layout.datum_frame(origin=head.at("at"), plane="Head face", name="Head")
    outline = layout.sketch("Head outline", on="Head")
    outline.draw("the outline", _outline)
    return Elevation(layout, side, plan, outline, stem, arm, shoulder, head, foot, bore)


# --- parts --------------------------------------------------------------------------------------------


def _stem(family: OpenFamily, e: Elevation) -> None:
    part = begin(family, "Stem", bore="Sizes.stem_d - 3 mm")
    fed = part.take("Stem outline", e.layout, outline=e.plan.regions[-1], top="Shoulder")
    part.extrude(make="Stem", regions=fed["outline"], far=(fed["top"], "-Sizes.tube_d / 2"), name="Stem rod")
    part.body("Stem").made_of(*STEEL)
    hole = part.sketch("Cable hole", on="top")
    hole.circle(diameter="bore")
    part.extrude(cut="Stem", regions=hole.region(), far="Sizes.height", name="Cable hole through")


def _cheek(family: OpenFamily, e: Elevation) -> None:
    part = begin(
        family, "Cheek L", hub_r="Sizes.tube_d / 2 + 2 * Sizes.wall", tip_r="Sizes.pin_d / 2 + 2 * Sizes.wall",
        length="Sizes.reach / 5",
    )  # fmt: skip
    fed = part.take("Arm axis", e.layout, arm=e.arm)
    part.datum_offset(plane="front", distance="Sizes.tube_d / 2 + Sizes.gap", name="Inner face")
    profile = part.sketch("Profile", on="Inner face")
    (axis,) = profile.trace(fed["arm"])

    def plate(d: Drawing) -> tuple[str, str, str, str]:
        hub, tip = d.circle((0, 360), 12.8), d.circle((56.5, 390), 7.8)
        upper, lower = d.line((-6, 371), (53, 397)), d.line((6, 349), (60, 383))
        d.constrain("coincident", point_on(hub, "centre"), axis.start.label)
        d.constrain("on_curve", point_on(tip, "centre"), axis.id)
        d.constrain("radius", hub, value="hub_r")
        d.constrain("radius", tip, value="tip_r")
        d.constrain("distance", point_on(hub, "centre"), point_on(tip, "centre"), value="length", name="pitch")
        for line, branch in ((upper, -1), (lower, 1)):
            for end, circle in (("start", hub), ("end", tip)):
                d.constrain("on_curve", point_on(line, end), circle)
                d.constrain("tangent", line, circle, branch=branch)
        for circle, at in ((hub, (0, 360)), (tip, (56.5, 390))):
            hole = d.circle(at, 3)
            d.constrain("coincident", point_on(hole, "centre"), point_on(circle, "centre"))
            d.constrain("diameter", hole, value="Sizes.pin_d + Sizes.gap")
        return hub, tip, upper, lower

    around = profile.draw("the plate", plate)
    areas = profile.regions[:3]  # hub, tip and the web between them; the two smallest are the holes
    made = part.extrude(make="Cheek", regions=areas, far="Sizes.sheet", name="Cheek plate")
    part.body("Cheek").made_of(*ALUMINIUM)
    kinds = ("circle", "circle", "line", "line")
    outer = [made.made("end", f"side:{c}", kind=k, convex="convex") for c, k in zip(around, kinds, strict=True)]
    part.fillet(edges=outer, radius="Sizes.sheet / 4", name="Break the outer edge")
    clip = part.sketch("Clip", on="Inner face")
    (along,) = clip.trace(fed["arm"])

    def places(d: Drawing) -> list[str]:
        made = []
        for share, name in ((0.5, "clip_at"), (0.72, "spring_at")):
            point = d.point((56.5 * share, 360 + 30 * share))
            d.constrain("on_curve", point, along.id)
            d.constrain("distance", along.start.label, point, value=f"{share} * length", name=name)
            made.append(point)
        return made

    first, second = (clip.curve(k) for k in clip.draw("where clip and spring go", places))
    part.tapped_hole(places=first, bodies="Cheek", size="M3", far="through", flip=True, name="Cable clip")
    part.number("BRL-21")
    right = part.opposite_hand("Cheek R", "front")
    right.number("BRL-22")
    part.hole(places=second, bodies="Cheek", diameter="2.5 mm", far="through", flip=True, name="Spring hole")
    tab = right.sketch("Stop", on="front")
    (mirrored,) = tab.trace(e.arm, source=e.layout)

    def stop(d: Drawing) -> None:
        point = d.point((40, 381))
        d.constrain("on_curve", point, mirrored.id)
        d.constrain("distance", mirrored.start.label, point, value="Sizes.reach / 7", name="stop_at")

    tab.draw("where the stop goes", stop)
    right.tapped_hole(places="Stop", bodies="Cheek", size="M3", far="through", name="Stop screw")


def _knob(family: OpenFamily) -> None:
    """A knob for the pivot: flutes around it by their number, a thread, its size on top."""
    part = begin(family, "Knob", d="4 * Sizes.pin_d", high="2 * Sizes.pin_d", flute_d="d / 6")
    part.number("BRL-80")
    part.parameter("flutes", "round(d / 2 mm)", quantity="number", note="around")
    outline = part.sketch("Knob outline", on="top")
    outline.circle(diameter="d")
    body = part.extrude(make="Knob", regions=outline.region(), far="high", name="Knob body")
    part.body("Knob").made_of(*ABS)
    flute = part.sketch("Flute", on="top")

    def one(d: Drawing) -> None:
        circle = d.circle((12.5, 0), 2)
        d.constrain("on_curve", point_on(circle, "centre"), X_AXIS)
        d.constrain("distance", ORIGIN, point_on(circle, "centre"), value="d / 2 + flute_d / 4", name="out")
        d.constrain("diameter", circle, value="flute_d", name="wide")

    flute.draw("one flute", one)
    cut = part.extrude(cut="Knob", regions=flute.region(), far="through", name="First flute")
    part.pattern_ring(of=cut, bodies="Knob", axis="z", count="flutes", angle="360 deg", name="Flutes all round")
    part.tapped_hole(
        places=(body.made("start", kind="plane"), "0 mm", "0 mm"),
        bodies="Knob",
        size="M4",
        far="high - 3 mm",
        name="Thread",
    )
    part.engrave(
        text="{size}",
        face=body.made("end", kind="plane"),
        bodies="Knob",
        depth="0.4 mm",
        height="d / 3",
        name="Size mark",
    )


# --- assemblies ---------------------------------------------------------------------------------------


def _light(family: OpenFamily, e: Elevation) -> None:
    light = family.assembly("Light")
    standing.stand(family)
    for name in ("Stand", "Stem", "Cheek L", "Arm tube"):
        light.place(name)
    light.take_whole(e.layout)
    light.number("BRL")
    head = light.plan("assembly", "Head", "BRL-60").in_size("M")
    for name, number, offset, outside in (
        ("Bezel", "BRL-61", "Sizes.wall", True),
        ("Diffuser", "BRL-62", "Sizes.rim + Sizes.gap", False),
    ):
        part, sketch = head.start(name, e.layout, "Head seat", number)
        part = part.in_size("M")
        sketch = part.sketch(sketch.name)
        side = "outside" if outside else "inside"
        sketch.trace(*e.head.curves, source=e.layout, offset=offset, side=side, name="Head outline")
        if outside:
            sketch.offset(*(c for c in sketch.curves if c.follows), by="Sizes.rim")
            (ring,) = (g for g in sketch.regions if g.holes)
            part.extrude(make="Ring", regions=ring, far="3 * Sizes.wall", name="Make the ring")
            part.body("Ring").made_of(*ABS)
        else:
            part.extrude(make="Pane", regions=sketch.region(), far="Sizes.wall", name="Make the pane")
            part.body("Pane").made_of(*PC)
    standing.neck(family, e)
    head.place("Neck")
    standing.move(family, light, head, e)


def brindle() -> Family:
    """The whole demo family; the same ids every time."""
    with new("Brindle reading lights", ("S", "M", "L"), seed=SEED) as family:
        _sizes(family)
        layout = _elevation(family)
        foot.foot(family, layout)
        _stem(family, layout)
        _cheek(family, layout)
        _knob(family)
        tube.arm_tube(family, layout)
        standing.desk_clamp(family)
        standing.wall_plate(family)
        _light(family, layout)
        bodies.elbow(family)
        bodies.elbow_joint(family)
        bodies.louvre(family)
        heads.heads(family)
        tube.spacer(family)
        return family.family


def write(folder: Path, evaluator: Evaluator | None = None, state_folder: Path | None = None) -> Session:
    """Write the demo family into a new folder, with the files that it draws over, follows and brings in.

    Raises:
        UserFault: the folder already holds something.
    """
    session = Session.create(folder, brindle(), evaluator, state_folder)
    files.write(folder / "files")
    return session
