"""The foot of the demo: a cast weight, and a shell of two parts around it."""

from __future__ import annotations

from typing import Any

from architectonic.api.opened import OpenFamily
from architectonic.api.parts import Part
from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, point_on
from architectonic.demo.writer import ABS, CAST, Elevation, begin
from architectonic.describe.drawn.drawing import Drawing


def _ring(part: Part, name: str, on: str, outer: str, inner: str) -> tuple[Any, str, str]:
    """A sketch of two circles about the origin, held by their radii."""
    made = part.sketch(name, on=on)

    def circles(d: Drawing) -> tuple[str, str]:
        found = []
        for start, value, called in ((60.0, outer, "outside"), (14.0, inner, "inside")):
            circle = d.circle((0, 0), start)
            d.constrain("coincident", point_on(circle, "centre"), ORIGIN)
            d.constrain("radius", circle, value=value, name=called)
            found.append(circle)
        return found[0], found[1]

    outside, inside = made.draw("two circles", circles)
    return made, outside, inside


def ballast(family: OpenFamily) -> tuple[Part, Any, Any]:
    """A cast ring over the cable's room, tapped from below in four places: the part, the ring and the holes."""
    part = begin(
        family, "Ballast", clearance="1 mm", cable_room="4.5 mm", lift="Sizes.wall + cable_room",
        thick="Sizes.foot_h - lift - Sizes.wall - clearance", holes_at="Sizes.foot_d / 3",
    )  # fmt: skip
    part.number("BRL-15")
    part.datum_offset(plane="top", distance="lift", name="Underside")
    outline, _, _ = _ring(
        part,
        "Ring outline",
        "Underside",
        "Sizes.foot_d / 2 - Sizes.wall - clearance",
        "Sizes.stem_d / 2 + 2 * Sizes.wall + clearance",
    )
    (ring,) = (g for g in outline.regions if g.holes)
    cast = part.extrude(make="Ballast", regions=ring, far="thick", name="Cast ring")
    part.body("Ballast").made_of(*CAST)
    pattern = part.sketch("Hole pattern", on="Underside")

    def four(d: Drawing) -> None:
        around = d.circle((0, 0), 50, helper=True)
        d.constrain("coincident", point_on(around, "centre"), ORIGIN)
        d.constrain("radius", around, value="holes_at", name="around")
        for k, (x, y) in enumerate(((35.4, 35.4), (-35.4, 35.4), (-35.4, -35.4), (35.4, -35.4))):
            spoke = d.line((0, 0), (x, y), helper=True)
            d.constrain("coincident", point_on(spoke, "start"), ORIGIN)
            d.constrain("on_curve", point_on(spoke, "end"), around)
            d.constrain("angle", X_AXIS, spoke, value=f"{45 + 90 * k} deg", name=f"spoke_{k + 1}")
            place = d.point((x, y))
            d.constrain("coincident", place, point_on(spoke, "end"))

    pattern.draw("four places", four)
    tapped = part.tapped_hole(
        places="Hole pattern",
        bodies="Ballast",
        size="M4",
        far="thick - 1 mm",
        flip=True,
        flat=True,
        name="Tapped from below",
    )
    return part, cast, tapped


def foot(family: OpenFamily, e: Elevation) -> Part:
    """A shell around the ballast: a cap and a base that it stands on, with room for the cable below the weight."""
    weight, cast, tapped = ballast(family)
    part = begin(family, "Foot", fit="0.2 mm")
    fed = part.take("Foot outline", e.layout, outline=e.plan.region(), edge=e.foot, bore=e.bore, roof="Foot top")
    block = part.extrude(make="Shell", regions=fed["outline"], far=fed["roof"], name="Foot block")
    part.body("Shell").made_of(*ABS)
    hollow, _, _ = _ring(part, "Hollow", "top", "Sizes.foot_d / 2 - Sizes.wall", "Sizes.stem_d / 2 + 2 * Sizes.wall")
    roof = (block.made("end", kind="plane"), "-Sizes.wall")
    part.extrude(cut="Shell", regions=hollow.region(), far=roof, name="Hollow out")
    outside = f"side:{fed['outline'].reference.item}:{e.foot.id}"
    part.fillet(edges=block.made("end", outside, kind="circle"), radius="1.5 * Sizes.wall", name="Round the rim")
    bore = f"side:{fed['outline'].reference.item}:{e.bore.id}"
    _base(part, weight, cast, tapped, block, bore)
    part.item("Foot shell", "Shell", number="BRL-12", finish="fine texture", supply="make")
    part.item("Foot base", "Base", number="BRL-13", supply="make")
    return part


def _base(part: Part, weight: Part, cast: Any, tapped: Any, block: Any, bore: str) -> None:
    """The base below the weight, which is there to be seen and built around."""
    held = part.take("Ballast", weight, under=cast.made("start", kind="plane"), holes=tapped)
    (seen,) = part.bring_in(weight, name="Ballast body")
    seen.only_seen()
    disc, outer, _ = _ring(
        part, "Base outline", "top", "Sizes.foot_d / 2 - Sizes.wall - fit", "Sizes.stem_d / 2 + 2 * Sizes.wall + fit"
    )
    (ring,) = (g for g in disc.regions if g.holes)
    base = part.extrude(make="Base", regions=ring, far="Sizes.wall", name="Base plate")
    part.body("Base").made_of(*ABS)
    edges = [block.made("end", bore, kind="circle"), base.made("start", f"side:{outer}", kind="circle")]
    part.chamfer(edges=edges, distance="Sizes.wall / 4", name="Bevel both")
    post = part.sketch("Post", on="top")

    def one(d: Drawing) -> None:
        spoke = d.line((0, 0), (35.4, 35.4), helper=True)
        d.constrain("coincident", point_on(spoke, "start"), ORIGIN)
        d.constrain("angle", X_AXIS, spoke, value="45 deg", name="spoke")
        d.constrain("distance", spoke, value="Ballast.holes_at", name="out")
        circle = d.circle((35.4, 35.4), 6)
        d.constrain("coincident", point_on(circle, "centre"), point_on(spoke, "end"))
        d.constrain("diameter", circle, value="12 mm", name="thick")

    post.draw("a post", one)
    stands = part.extrude(add="Base", regions=post.region(), far=held["under"], name="Post under the weight")
    part.pattern_ring(of=stands, bodies="Base", axis="z", count="4", angle="360 deg", name="Four posts")
    part.matching_hole(
        places=held["holes"], bodies="Base", near="outside", far="through", sunk=True, name="Screw holes"
    )
    part.datum_offset(plane="top", distance="Sizes.wall / 2", name="Cable floor")
    way = part.sketch("Cable way", on="Cable floor")

    def channel(d: Drawing) -> None:
        bottom, right, _, _ = d.rectangle((-100, -2.5), (0, 2.5))
        d.constrain("symmetric", point_on(right, "start"), point_on(right, "end"), X_AXIS)
        d.constrain("on_curve", point_on(right, "start"), Y_AXIS)
        d.constrain("distance", right, value="Ballast.cable_room", name="wide")
        d.constrain("distance", bottom, value="Sizes.foot_d", name="long")

    way.draw("the way of the cable", channel)
    part.extrude(cut=("Shell", "Base"), regions=way.region(), far="Ballast.cable_room", name="Cable way out")
    part.engrave(
        text="BRINDLE {size}", face=base.made("start", kind="plane"), bodies="Base", depth="0.3 mm",
        height="Sizes.foot_d / 30", y="Sizes.foot_d / 4", name="Size mark",
    )  # fmt: skip
