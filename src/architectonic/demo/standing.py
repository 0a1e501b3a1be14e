"""What the light stands on, and how it moves: a foot, a clamp or a plate; joints with limits; alternates of make-up and pose."""

from __future__ import annotations

from typing import Any

from architectonic.api.documents import Model
from architectonic.api.opened import OpenFamily
from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, point_on
from architectonic.base.rigid import shift
from architectonic.demo.writer import ALUMINIUM, STEEL, Elevation, begin
from architectonic.describe.drawn.drawing import Drawing

POSES = (
    ("Reading", "28 deg", "-58 deg", "0 deg", "over the page"),
    ("Folded", "86 deg", "-90 deg", "0 deg", "upright, out of the way"),
    ("Boxed", "86 deg", "0 deg", "90 deg", "as it is sent, what it stands on beside it"),
)
"""Name, shoulder, tilt and swivel, and what it is for."""
STANDS = (("foot", "Weighted foot"), ("clamp", "Desk clamp"), ("wall", "Wall plate"))
"""How an alternate of the light is called by what it stands on, and the alternate of the stand."""


def desk_clamp(family: OpenFamily) -> None:
    """A block over the edge of the desk, with a jaw below and a bore for the stem."""
    part = begin(family, "Desk clamp", grip="45 mm", jaw="14 mm", wide="Sizes.stem_d + 8 * Sizes.wall")
    side = part.sketch("Side", on="front")

    def block(d: Drawing) -> None:
        bottom, _, top, _ = d.rectangle((-25, -59), (25, 18))
        d.constrain("symmetric", point_on(top, "start"), point_on(top, "end"), Y_AXIS)
        d.constrain("distance", bottom, value="1.6 * wide", name="deep")
        d.constrain("distance", X_AXIS, top, value="Sizes.foot_h", name="above")
        d.constrain("distance", X_AXIS, bottom, value="grip + jaw", name="below")

    side.draw("the block", block)
    part.extrude(make="Clamp", regions=side.region(), far=("both", "wide"), name="Clamp block")
    part.body("Clamp").made_of(*ALUMINIUM)
    mouth = part.sketch("Mouth", on="front")

    def gap(d: Drawing) -> None:
        bottom, _, top, left = d.rectangle((-14, -45), (60, 0))
        d.constrain("on_curve", point_on(top, "start"), X_AXIS)
        d.constrain("distance", left, value="grip", name="opening")
        d.constrain("distance", bottom, value="2 * wide", name="through")
        d.constrain("distance", Y_AXIS, left, value="wide / 2", name="web")

    mouth.draw("the mouth", gap)
    part.extrude(cut="Clamp", regions=mouth.region(), far="through", near="through", name="Open the mouth")
    _bore(part, "Clamp")


def wall_plate(family: OpenFamily) -> None:
    """A plate on the wall behind, and a boss on it that holds the stem."""
    part = begin(family, "Wall plate", high="6 * Sizes.foot_h", thick="2 * Sizes.sheet", out="2 * Sizes.stem_d")
    part.datum_offset(plane="right", distance="-out", name="Wall side")
    plate = part.sketch("Plate outline", on="Wall side")

    def outline(d: Drawing) -> None:
        bottom, right, top, _ = d.rectangle((-30, -40), (30, 68))
        d.constrain("symmetric", point_on(top, "start"), point_on(top, "end"), Y_AXIS)
        d.constrain("symmetric", point_on(right, "start"), point_on(right, "end"), X_AXIS)
        d.constrain("distance", bottom, value="high / 2", name="wide")
        d.constrain("distance", right, value="high", name="tall")

    plate.draw("the plate", outline)
    part.extrude(make="Plate", regions=plate.region(), far="thick", flip=True, name="Plate")
    part.body("Plate").made_of(*STEEL)
    boss = part.sketch("Boss outline", on="top")

    def block(d: Drawing) -> None:
        bottom, right, _, left = d.rectangle((-32, -12), (16, 12))
        d.constrain("symmetric", point_on(right, "start"), point_on(right, "end"), X_AXIS)
        d.constrain("distance", right, value="1.8 * Sizes.stem_d", name="wide")
        d.constrain("distance", Y_AXIS, left, value="out", name="out")
        d.constrain("distance", bottom, value="out + Sizes.stem_d", name="long")

    boss.draw("the boss", block)
    part.extrude(add="Plate", regions=boss.region(), far="Sizes.foot_h", name="Boss")
    _bore(part, "Plate")


def _bore(part: Model, body: str) -> None:
    """The hole that the stem stands in, from the table top upwards."""
    hole = part.sketch("Stem bore", on="top")
    hole.circle(diameter="Sizes.stem_d")
    part.extrude(cut=body, regions=hole.region(), far="Sizes.foot_h", name="Bore for the stem")


def stand(family: OpenFamily) -> None:
    """One of three things to stand on, as alternates of an assembly."""
    whole = family.assembly("Stand")
    whole.place("Foot", "Base")
    whole.number("BRL-10")
    for name, document in (("Weighted foot", "Foot"), ("Desk clamp", "Desk clamp"), ("Wall plate", "Wall plate")):
        whole.alternate(name)
        if document != "Foot":
            whole.fill("Base", document, where=name)
    _collar(family)
    whole.place("Collar")
    stack = whole.work_on("Base / Shell", "Base / Clamp", "Base / Plate", "Collar")
    whole.datum_offset(plane="top", distance="Sizes.foot_h - 10 mm", name="Screw depth")
    screws = whole.sketch("Screw holes", on="Screw depth")

    def two(d: Drawing) -> None:
        around = d.circle((0, 0), 10, helper=True)
        d.constrain("coincident", point_on(around, "centre"), ORIGIN)
        d.constrain("radius", around, value="Sizes.stem_d / 2 + Sizes.wall", name="around")
        for x in (10, -10):
            hole = d.circle((x, 0), 1.1)
            d.constrain("on_curve", point_on(hole, "centre"), around)
            d.constrain("on_curve", point_on(hole, "centre"), X_AXIS)
            d.constrain("diameter", hole, value="2.2 mm", name="drill" if x > 0 else "drill 2")

    screws.draw("two holes", two)
    whole.extrude(cut=tuple(b.name for b in stack), regions=screws.regions, far="through", name="Drill the stack")


def _collar(family: OpenFamily) -> None:
    """A ring around the stem, on whatever it stands on."""
    part = begin(family, "Collar", high="8 mm")
    part.number("BRL-11")
    part.datum_offset(plane="top", distance="Sizes.foot_h", name="Seat")
    outline = part.sketch("Ring outline", on="Seat")
    outline.circle(diameter="Sizes.stem_d + 4 * Sizes.wall")
    outline.circle(diameter="Sizes.stem_d")
    (ring,) = (g for g in outline.regions if g.holes)
    part.extrude(make="Collar", regions=ring, far="high", name="Ring")
    part.body("Collar").made_of(*STEEL)


def pivots(model: Model, e: Elevation, *wanted: str) -> None:
    """Frames about which a document turns: square to the front, at the shoulder or the head, along the arm or upright."""
    points = {name: "pivot" if "Head" in name else "shoulder" for name in wanted}
    things = {p: getattr(e, p) for p in points.values()} | ({} if wanted == ("Shoulder seat",) else {"arm": e.arm})
    fed = model.take("Pivots", e.layout, **things)
    for name, point in points.items():
        along = {"along": fed["arm"]} if "arm" in fed else {}
        model.datum_frame(origin=fed[point], plane="front", name=name, **along)


def neck(family: OpenFamily, e: Elevation) -> None:
    """A rod from the pivot of the head to its bezel."""
    part = begin(family, "Neck")
    fed = part.take("Head", e.layout, face="Head face", seat="Head seat", pivot=e.pivot)
    rod = part.sketch("Rod", on=fed["face"])
    (pivot,) = rod.trace(fed["pivot"])

    def round_(d: Drawing) -> None:
        circle = d.circle((0, 0), 3)
        d.constrain("coincident", point_on(circle, "centre"), pivot.id)
        d.constrain("diameter", circle, value="Sizes.pin_d")

    rod.draw("the rod", round_)
    part.extrude(make="Neck", regions=rod.region(), far=fed["seat"], name="Neck rod")
    part.body("Neck").made_of(*STEEL)


def move(family: OpenFamily, light: Any, head: Model, e: Elevation) -> None:
    """Joints with limits, and nine alternates: three poses on three stands, each other in make-up or in pose alone."""
    pivots(family["Stem"].in_size("M"), e, "Shoulder seat")
    pivots(family["Cheek L"].in_size("M"), e, "Shoulder pivot")
    pivots(family["Arm tube"].in_size("M"), e, "Shoulder pivot", "Head seat")
    pivots(head, e, "Head pivot")
    light.fix("Stand")
    light.bond("revolute", ("", "z"), ("Stem", "z"), "Swivel")
    light.bond("revolute", ("Stem", "Shoulder seat"), ("Cheek L", "Shoulder pivot"), "Shoulder")
    light.bond("fixed", ("Cheek L", "Shoulder pivot"), ("Arm tube", "Shoulder pivot"), "Arm in its cheek")
    light.bond("revolute", ("Arm tube", "Head seat"), ("Head", "Head pivot"), "Tilt")
    for name, least, most in (
        ("Shoulder", "-20 deg", "88 deg"),
        ("Tilt", "-110 deg", "40 deg"),
        ("Swivel", "-170 deg", "170 deg"),
    ):
        light.limit(name, least, most)
    for pose, shoulder, tilt, swivel, note in POSES:
        first = "" if pose == "Reading" else "Reading"
        light.alternate(pose, follows=first, note=note)
        for joint, value in (("Shoulder", shoulder), ("Tilt", tilt), ("Swivel", swivel)):
            if not first or value != POSES[0][1 + ("Shoulder", "Tilt", "Swivel").index(joint)]:
                light.drive(joint, value, pose)
        for short, stands in STANDS[1:]:
            light.alternate(f"{pose}, {short}", follows=pose)
            light.fill("Stand", "Stand", alternate=stands, where=f"{pose}, {short}")
    light.stand("Stand", shift(-320.0, 0.0, 0.0), "Boxed")
    light.rule(
        "cable is long enough in every pose",
        "Sizes.cable >= Sizes.height + Sizes.reach + Sizes.tube_d * (abs(Shoulder) + abs(Tilt) + abs(Swivel)) / 1 rad",
        "The cable is pulled: take a longer one, or keep a joint from turning so far.",
    )
