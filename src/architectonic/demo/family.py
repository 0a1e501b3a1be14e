"""The demo family: Brindle reading lights. All names and numbers are made up for this product."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from architectonic.base.places import ORIGIN, X_AXIS, point_on
from architectonic.demo import bodies, files, tube
from architectonic.demo.writer import ABS, ALUMINIUM, HEAD, STEEL, Writer
from architectonic.describe.results import Node
from architectonic.family import edits, scopes
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.operations.solids.extrude import Distance, Extrude, ToFace
from architectonic.family.records import (
    Datum,
    Family,
    FrameAt,
    Guard,
    Link,
    OffsetPlane,
    Reference,
    SquarePlane,
    Underlay,
    Witness,
)
from architectonic.propagate.evaluator import Evaluator
from architectonic.session.assembly import surroundings
from architectonic.session.feeds import tracing
from architectonic.session.feeds.feeding import Offer
from architectonic.session.feeds.traceable import Traceable
from architectonic.session.feeds.tracing import Wish
from architectonic.session.open.queries import ask
from architectonic.session.open.session import Session
from architectonic.session.product import planning
from architectonic.session.product.planning import Start
from architectonic.session.sketch import copies
from architectonic.session.sketch.sketching import begin
from architectonic.session.tables import checks


def _sizes(w: Writer) -> None:
    table = w.document("table", "Sizes")
    w.values(table, "reach", "260 mm", "320 mm", "410 mm", "shoulder to head pivot")
    w.values(table, "height", "11 in", "360 mm", "17 in", "desk to shoulder")
    w.values(table, "foot_d", "130 mm", "150 mm", "190 mm", "outside of the foot")
    w.values(table, "wall", "2 mm", "2.4 mm", "2.8 mm", "moulded walls")
    w.values(table, "gap", "0.2 mm", "0.2 mm", "0.25 mm", "between moving parts")
    w.values(table, "stem_d", "1/2 in", "5/8 in", "5/8 in", "outside of the stem")
    w.values(table, "tube_d", "14 mm", "16 mm", "20 mm", "outside of the arm")
    w.values(table, "pin_d", "5 mm", "6 mm", "8 mm", "pivot pin")
    w.values(table, "sheet", "2 mm", "2 mm", "2.5 mm", "cheek plates")
    w.values(table, "foot_h", "16 mm", "18 mm", "22 mm", "height of the foot")
    w.values(table, "cable", "1.2 m", "1.4 m", "1.6 m", "as it is bought")
    w.values(table, "cable_slack", "120 mm", "120 mm", "150 mm", "for turning")
    for name, s, m, l, note in HEAD:
        w.values(table, name, f"{s} mm", f"{m} mm", f"{l} mm", note)
    for name, rule, message in (
        (
            "foot carries the reach",
            "reach <= 2.2 * foot_d",
            "The light tips over: widen the foot or shorten the reach.",
        ),
        (
            "pin leaves a wall",
            "pin_d <= tube_d / 2",
            "The pin hole weakens the arm: take a thinner pin or a thicker tube.",
        ),
        (
            "cable is long enough",
            "cable >= height + reach + cable_slack",
            "The cable does not reach the head: buy a longer one.",
        ),
        (
            "pieces of the head add up",
            "abs(2 * rim + diffuser_w - head_w) <= 0.01 mm",
            "Rim and diffuser do not add up to the head's width.",
        ),
    ):
        w.family = edits.add_rule(w.family, table, name, rule, message, w.new_id)
    w.family = edits.add_parameter(w.family, table, "pin_hole", "pin_d + gap", note="drilled", new_id=w.new_id)
    play = Guard(id=w.new_id(), name="play of the pin stays", value=w.plain(table, "pin_hole - pin_d"))
    w.family = checks.guard(w.family, w.seen(table), table, play, "0.01 mm")
    rows = {p.id: p.name for p in w.family.documents[table].parameters if p.name in {h[0] for h in HEAD}}
    link = Link(
        name="head of the design office", file="files/sizes.csv", name_column="Name", unit_column="Unit",
        columns={w.s: "S", w.m: "M", w.l: "L"}, rows=rows,
    )  # fmt: skip
    found = w.family.documents[table]
    w.family = edits.put(w.family, edits.replace(found, links={w.new_id(): link}))


def _elevation(w: Writer) -> dict[str, str]:
    layout = w.document("layout", "Elevation")
    side = w.sketch(layout, "Side", Reference(item="front"))
    stem = side.line((0, 0), (0, 360))
    arm = side.line((0, 360), (282.5, 510.2))
    head = side.point((282.5, 510.2))
    shoulder = side.point((0, 360))
    side.constrain("coincident", point_on(stem, "start"), ORIGIN)
    side.constrain("vertical", stem)
    side.constrain("coincident", point_on(arm, "start"), point_on(stem, "end"))
    side.constrain("coincident", shoulder, point_on(stem, "end"))
    side.constrain("coincident", head, point_on(arm, "end"))
    side.constrain("distance", stem, value="Sizes.height", name="stem_length")
    side.constrain("distance", arm, value="Sizes.reach", name="arm_length")
    side.constrain("angle", X_AXIS, arm, value="28 deg", name="arm_angle")
    side_id = w.keep(side)
    plan = w.sketch(layout, "Plan", Reference(item="top"))
    foot = plan.circle((0, 0), 75)
    bore = plan.circle((0, 0), 7.9)
    plan.constrain("coincident", point_on(foot, "centre"), ORIGIN)
    plan.constrain("coincident", point_on(bore, "centre"), ORIGIN)
    plan.constrain("diameter", foot, value="Sizes.foot_d", name="foot_d")
    plan.constrain("diameter", bore, value="Sizes.stem_d", name="stem_d")
    plan_id = w.keep(plan)
    top = Reference(item="top")
    shoulder_plane = w.add(
        layout,
        Datum(
            id=w.new_id(),
            name="Shoulder",
            by=OffsetPlane(plane=top, distance=w.text(layout, "Sizes.height")),
        ),
    )
    roof = w.add(
        layout,
        Datum(
            id=w.new_id(),
            name="Foot top",
            by=OffsetPlane(plane=top, distance=w.text(layout, "Sizes.foot_h")),
        ),
    )
    square = w.add(
        layout,
        Datum(id=w.new_id(), name="Arm square", by=SquarePlane(line=Reference(item=side_id, label=arm))),
    )
    w.add(
        layout,
        Underlay(
            id=w.new_id(), name="Concept", plane=Reference(item="front"), file="concept.png", pixels=(1200, 1200),
            at=(-180.0, -60.0), width=w.text(layout, "720 mm"), opacity=0.45,
        ),
    )  # fmt: skip
    face = w.add(
        layout,
        Datum(
            id=w.new_id(),
            name="Head face",
            by=SquarePlane(line=Reference(item=side_id, label=arm), share=w.text(layout, "1", "number", "")),
        ),
    )
    tied = w.sketch(layout, "Desk", Reference(item="top"))
    reach = tied.trace(Reference(item=side_id, label=arm), (0.0, 0.0, 282.543229715, 0.0))
    lit = tied.circle((282.5, 0), 90)
    tied.constrain("coincident", point_on(lit, "centre"), point_on(reach, "end"))
    tied.constrain("radius", lit, value="Sizes.height / 4", name="lit")
    w.keep(tied)
    outline, sides = _head_outline(w, layout, side_id, head, face)
    w.ids["head outline"], w.ids["head face"] = outline, face
    w.head = sides
    return {
        "layout": layout, "side": side_id, "plan": plan_id, "stem": stem, "arm": arm, "head": head, "shoulder": shoulder,
        "foot": foot, "bore": bore, "shoulder_plane": shoulder_plane, "roof": roof, "square": square,
    }  # fmt: skip


def _head_outline(w: Writer, layout: str, side: str, head: str, face: str) -> tuple[str, list[str]]:
    """The closed outline of the head, drawn elsewhere and brought in, then held by the table."""
    frame = w.add(
        layout,
        Datum(
            id=w.new_id(),
            name="Head",
            by=FrameAt(origin=Reference(item=side, label=point_on(head, "at")), plane=Reference(item=face)),
        ),
    )
    d = w.sketch(layout, "Head outline", Reference(item=frame))
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
    return w.keep(d), sides


def _head(w: Writer, e: dict[str, str]) -> str:
    """An assembly of two parts from one outline, started in place on the head's face, with different offsets."""
    w.family = surroundings.take_whole(w.family, w.ids["Light"], e["layout"], w.new_id)
    w.family = planning.set_number(w.family, w.ids["Light"], "BRL")
    w.family, head = planning.add(w.family, w.ids["Light"], "assembly", "Head", "BRL-60", make_id=w.new_id)
    at, layout = scopes.Scope(head, w.m), scopes.Scope(e["layout"], w.m)
    start = Start("", layout, Offer("plane", w.ids["head face"]))
    for name, number, offset, outside, thick, body, density, material in (
        ("Bezel", "BRL-61", "Sizes.wall", True, "3 * Sizes.wall", "Ring", ABS, "ABS"),
        ("Diffuser", "BRL-62", "Sizes.rim + Sizes.gap", False, "Sizes.wall", "Pane", "1.2 g / 1 cm3", "PC"),
    ):
        seen = ask(w.family, [Node("frame", layout, w.ids["head face"])])
        w.family, part, sketch = planning.new_part_here(w.family, seen, at, name, number, start, make_id=w.new_id)
        w.ids[name] = part
        outline = [Traceable(layout, "curve", w.ids["head outline"], k, np.zeros((1, 2)), "") for k in w.head]
        there = scopes.Scope(part, w.m)
        wish = Wish(offset=offset, side="outside" if outside else "inside", name="Head outline")
        w.family = tracing.trace(w.family, there, sketch, outline, wish, w.new_id)
        key = w.body(part, body, density, material)
        label = _ring(w, there, sketch) if name == "Bezel" else _largest(w, there, sketch)
        w.add(
            part,
            Extrude(
                id=w.new_id(), name=f"Make the {body.lower()}", does="make", acts_on=(key,),
                regions=(Reference(item=sketch, label=label),), far=Distance(value=w.text(part, thick)),
            ),
        )  # fmt: skip
    return head


def _largest(w: Writer, at: scopes.Scope, sketch: str) -> str:
    """Label of the largest region of a sketch."""
    node = Node("solve", at, sketch)
    return str(max(ask(w.family, [node]).value(node).regions, key=lambda r: r.area).label)


def _ring(w: Writer, at: scopes.Scope, sketch: str) -> str:
    """Draw the opening of a ring inside its outer edge; the label of the ring."""
    node = Node("solve", at, sketch)
    traced = [k for k, c in ask(w.family, [node]).value(node).curves.items() if c.fixed]
    editing = begin(w.family, at, sketch, ask(w.family, [node]), w.new_id)
    copies.offset(editing, traced, "Sizes.rim", copies.inward(editing, traced))
    w.family = editing.stored()
    regions = ask(w.family, [node]).value(node).regions
    return str(next(r.label for r in regions if len(r.loops) > 1))


def _foot(w: Writer, e: dict[str, str]) -> None:
    part = w.document("part", "Foot")
    body = w.body(part, "Shell", ABS, "ABS")
    fed = w.feed(
        part, e["layout"], "Foot outline",
        outline=("region", e["plan"], f"+{e['foot']}/-{e['bore']}", Witness(kind="region", at=(60, 0), size=17473.5)),
        edge=("curve", e["plan"], e["foot"], Witness(kind="circle", at=(0, 0, 0), size=75)),
        bore=("curve", e["plan"], e["bore"], Witness(kind="circle", at=(0, 0, 0), size=7.9375)),
        roof=("plane", e["roof"], "", Witness(kind="plane", at=(0, 0, 18), normal=(0, 0, 1))),
    )  # fmt: skip
    block = Extrude(
        id=w.new_id(), name="Foot block", does="make", acts_on=(body,),
        regions=(Reference(item=fed["outline"]),), far=ToFace(target=Reference(item=fed["roof"])),
    )  # fmt: skip
    w.add(part, block)
    hollow = w.sketch(part, "Hollow", Reference(item="top"))
    rim, boss = hollow.circle((0, 0), 70), hollow.circle((0, 0), 12)
    for circle in (rim, boss):
        hollow.constrain("coincident", point_on(circle, "centre"), ORIGIN)
    hollow.constrain("radius", rim, value="Sizes.foot_d / 2 - Sizes.wall", name="inside")
    hollow.constrain("radius", boss, value="Sizes.stem_d / 2 + 2 * Sizes.wall", name="boss")
    hollow_id = w.keep(hollow)
    w.add(
        part,
        Extrude(
            id=w.new_id(), name="Hollow out", does="cut", acts_on=(body,),
            regions=(Reference(item=hollow_id, label=f"+{rim}/-{boss}"),),
            far=ToFace(
                target=Reference(item=body, stage="here", label=f"{block.id}:end", witness=Witness(kind="plane", at=(0, 0, 18))),
                offset=w.text(part, "-Sizes.wall"),
            ),
        ),
    )  # fmt: skip
    rim_edge = f"({block.id}:end|{block.id}:side:{fed['outline']}:{e['foot']})"
    w.add(
        part,
        Fillet(
            id=w.new_id(), name="Round the rim", radius=w.text(part, "1.5 * Sizes.wall"),
            edges=(Reference(item=body, stage="here", label=rim_edge, witness=Witness(kind="circle", at=(0, 0, 18), size=75)),),
        ),
    )  # fmt: skip


def _stem(w: Writer, e: dict[str, str]) -> None:
    part = w.document("part", "Stem")
    body = w.body(part, "Stem", STEEL, "steel")
    fed = w.feed(
        part, e["layout"], "Stem outline",
        outline=("region", e["plan"], f"+{e['bore']}", Witness(kind="region", at=(0, 0), size=197.9)),
        top=("plane", e["shoulder_plane"], "", Witness(kind="plane", at=(0, 0, 360), normal=(0, 0, 1))),
    )  # fmt: skip
    w.family = edits.add_parameter(w.family, part, "bore", "Sizes.stem_d - 3 mm", new_id=w.new_id)
    w.add(
        part,
        Extrude(
            id=w.new_id(), name="Stem rod", does="make", acts_on=(body,), regions=(Reference(item=fed["outline"]),),
            far=ToFace(target=Reference(item=fed["top"]), offset=w.text(part, "-Sizes.tube_d / 2")),
        ),
    )  # fmt: skip
    hole = w.sketch(part, "Cable hole", Reference(item="top"))
    circle = hole.circle((0, 0), 6)
    hole.constrain("coincident", point_on(circle, "centre"), ORIGIN)
    hole.constrain("diameter", circle, value="bore")
    hole_id = w.keep(hole)
    w.add(
        part,
        Extrude(
            id=w.new_id(), name="Cable hole through", does="cut", acts_on=(body,),
            regions=(Reference(item=hole_id, label=f"+{circle}"),), far=Distance(value=w.text(part, "Sizes.height")),
        ),
    )  # fmt: skip


def _cheek(w: Writer, e: dict[str, str]) -> None:
    part = w.document("part", "Cheek L")
    body = w.body(part, "Cheek", ALUMINIUM, "EN AW-6060")
    fed = w.feed(
        part, e["layout"], "Arm axis",
        arm=("curve", e["side"], e["arm"], Witness(kind="line", at=(141, 0, 435), size=320)),
    )  # fmt: skip
    for name, text in (
        ("hub_r", "Sizes.tube_d / 2 + 2 * Sizes.wall"),
        ("tip_r", "Sizes.pin_d / 2 + 2 * Sizes.wall"),
        ("length", "Sizes.reach / 5"),
    ):
        w.family = edits.add_parameter(w.family, part, name, text, new_id=w.new_id)
    plane = w.add(
        part,
        Datum(
            id=w.new_id(),
            name="Inner face",
            by=OffsetPlane(plane=Reference(item="front"), distance=w.text(part, "Sizes.tube_d / 2 + Sizes.gap")),
        ),
    )
    d = w.sketch(part, "Profile", Reference(item=plane))
    axis = d.trace(Reference(item=fed["arm"]), tube.ARM_AXIS)
    hub, tip = d.circle((0, 360), 12.8), d.circle((56.5, 390), 7.8)
    upper, lower = d.line((-6, 371), (53, 397)), d.line((6, 349), (60, 383))
    d.constrain("coincident", point_on(hub, "centre"), point_on(axis, "start"))
    d.constrain("on_curve", point_on(tip, "centre"), axis)
    d.constrain("radius", hub, value="hub_r")
    d.constrain("radius", tip, value="tip_r")
    d.constrain("distance", point_on(hub, "centre"), point_on(tip, "centre"), value="length", name="pitch")
    for side, branch in ((upper, -1), (lower, 1)):
        for end, circle in (("start", hub), ("end", tip)):
            d.constrain("on_curve", point_on(side, end), circle)
            d.constrain("tangent", side, circle, branch=branch)
    holes = [d.circle((0, 360), 3), d.circle((56.5, 390), 3)]
    for hole, circle in zip(holes, (hub, tip), strict=True):
        d.constrain("coincident", point_on(hole, "centre"), point_on(circle, "centre"))
        d.constrain("diameter", hole, value="Sizes.pin_d + Sizes.gap")
    sketch = w.keep(d)
    w.ids["cheek sketch"] = sketch
    labels = _cheek_regions(hub, tip, upper, lower, holes)
    plate = Extrude(
        id=w.new_id(), name="Cheek plate", does="make", acts_on=(body,), far=Distance(value=w.text(part, "Sizes.sheet")),
        regions=tuple(Reference(item=sketch, label=label) for label in labels),
    )  # fmt: skip
    w.add(part, plate)
    outer = {
        f"({plate.id}:end|{plate.id}:side:{c})": Witness(
            kind=kind, convex="convex", neighbours=(f"{plate.id}:end", f"{plate.id}:side:{c}")
        )
        for c, kind in ((hub, "circle"), (tip, "circle"), (upper, "line"), (lower, "line"))
    }
    w.add(
        part,
        Fillet(
            id=w.new_id(), name="Break the outer edge", radius=w.text(part, "Sizes.sheet / 4"),
            edges=tuple(Reference(item=body, stage="here", label=key, witness=seen) for key, seen in outer.items()),
        ),
    )  # fmt: skip


def _cheek_regions(hub: str, tip: str, upper: str, lower: str, holes: list[str]) -> tuple[str, ...]:
    """Labels of the three regions that make the plate: hub, tip and the web between them."""
    from architectonic.sketch.curves import piece
    from architectonic.sketch.curves import regions as find_regions

    pieces = [
        piece.circle(hub, (0, 0), 10), piece.circle(tip, (60, 0), 6),
        piece.circle(holes[0], (0, 0), 3), piece.circle(holes[1], (60, 0), 3),
    ]  # fmt: skip
    # outer tangents of two circles with radii 10 and 6 at 60 (closed form: sine of the tilt is 4 / 60)
    s, c = 4 / 60, (1 - (4 / 60) ** 2) ** 0.5
    for line, y in ((upper, 1.0), (lower, -1.0)):
        pieces.append(piece.line(line, (10 * s, y * 10 * c), (60 + 6 * s, y * 6 * c)))
    return tuple(r.label for r in find_regions.find(pieces) if r.label not in {f"+{h}" for h in holes})


def _light(w: Writer) -> None:
    light = w.document("assembly", "Light")
    for name in ("Foot", "Stem", "Cheek L", "Arm tube"):
        w.family = edits.add_instance(w.family, light, w.ids[name], new_id=w.new_id)


def brindle() -> Family:
    """The whole demo family; the same ids every time."""
    w = Writer()
    _sizes(w)
    layout = _elevation(w)
    _foot(w, layout)
    _stem(w, layout)
    _cheek(w, layout)
    tube.arm_tube(w, layout)
    _light(w)
    _head(w, layout)
    bodies.elbow(w)
    bodies.louvre(w)
    return w.family


def write(folder: Path, evaluator: Evaluator | None = None, state_folder: Path | None = None) -> Session:
    """Write the demo family into a new folder, with the files that it draws over, follows and brings in.

    Raises:
        UserFault: the folder already holds something.
    """
    session = Session.create(folder, brindle(), evaluator, state_folder)
    files.write(folder / "files")
    return session
