"""The arm tube of the demo: along an axis of the layout, with configurations of its own."""

from __future__ import annotations

from architectonic.api.documents import Model
from architectonic.api.opened import OpenFamily
from architectonic.api.operations import Named, Operation
from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, point_on
from architectonic.demo.writer import ALUMINIUM, Elevation, begin
from architectonic.describe.drawn.drawing import Drawing
from architectonic.quantities.preferred import nearest, term

SLOTTED = 315
"""The length from which a tube that is sold by itself has lightening slots, mm."""


def arm_tube(family: OpenFamily, e: Elevation) -> None:
    """Drawn to length by formula, by size and in preferred lengths; slots in long ones, a cable exit in one."""
    part = begin(
        family, "Arm tube", hub="Sizes.tube_d", length="Elevation.Side.arm_length - 2 * hub",
        wall="pick(length < 340 mm, 1.5 mm, 2 mm)", slot_r="Sizes.tube_d / 4",
    )  # fmt: skip
    fed = part.take("Arm axis", e.layout, square="Arm square", shoulder=e.shoulder, arm=e.arm)
    part.datum_offset(plane=fed["square"], distance="hub", name="Tube start")
    section = part.sketch("Section", on="Tube start")
    (centre,) = section.trace(fed["shoulder"])

    section.draw("the section", lambda d: _rings(d, centre.id, (8.0, "Sizes.tube_d"), (6.5, "Sizes.tube_d - 2 * wall")))
    (ring,) = (g for g in section.regions if g.holes)
    part.extrude(make="Tube", regions=ring, far="length", name="Draw the tube")
    part.body("Tube").made_of(*ALUMINIUM)
    slots = part.sketch("Slots", on="front")
    (axis,) = slots.trace(fed["arm"])

    def holes(d: Drawing) -> None:
        for k in (2, 3, 4):
            circle = d.circle((282.5 * k / 6, 360 + 150 * k / 6), 4)
            centre = point_on(circle, "centre")
            d.constrain("on_curve", centre, axis.id)
            d.constrain("distance", centre, axis.start.label, value=f"Elevation.Side.arm_length * {k} / 6")
            d.constrain("radius", circle, value="slot_r")

    slots.draw("the slots", holes)
    cut = part.extrude(
        cut="Tube", regions=slots.regions, far=("both", "2 * Sizes.tube_d"), off=("S",), name="Lighten the tube"
    )
    leaves = _cable_exit(part, fed["arm"])
    part.row("L plain", "L")
    cut.switch(False, "L plain")
    part.row("L cable exit", "L")
    leaves.switch(True, "L cable exit")
    first = nearest("R10", 200)
    for mm in (term("R10", first + k) for k in range(4)):  # sold by itself in preferred lengths (ISO 3)
        part.row(f"Tube {mm:g}", length=f"{mm:g} mm")
        cut.switch(mm >= SLOTTED, f"Tube {mm:g}")


def _rings(d: Drawing, centre: str, *rings: tuple[float, str]) -> None:
    """Circles about one point: the radius that each is drawn with, and what its diameter is."""
    for radius, value in rings:
        circle = d.circle((0, 0), radius)
        d.constrain("coincident", point_on(circle, "centre"), centre)
        d.constrain("diameter", circle, value=value)


def _cable_exit(part: Model, arm: Named) -> Operation:
    """A hole near the shoulder, in no size but where a row asks for it."""
    outline = part.sketch("Cable exit outline", on="front")
    (axis,) = outline.trace(arm)

    def hole(d: Drawing) -> None:
        circle = d.circle((40, 381), 3)
        centre = point_on(circle, "centre")
        d.constrain("on_curve", centre, axis.id)
        d.constrain("distance", centre, axis.start.label, value="3 * hub")
        d.constrain("diameter", circle, value="Sizes.tube_d / 3", name="exit_d")

    outline.draw("the exit", hole)
    made = part.extrude(cut="Tube", regions=outline.region(), far="through", flip=True, name="Cable exit")
    made.switch(False)
    return made


def spacer(family: OpenFamily) -> None:
    """A sleeve over an M5 screw in a dozen lengths: a bore across where there is room for it, and one row that is wider."""
    part = begin(family, "Spacer", inside="5.3 mm", rim="2.2 mm", outside="inside + 2 * rim", length="10 mm")
    ring = part.sketch("Ring")

    # 5.3 mm inside: a fine clearance hole of ISO 273
    ring.draw("the ring", lambda d: _rings(d, ORIGIN, (4.85, "outside"), (2.65, "inside")))
    (between,) = (g for g in ring.regions if g.holes)
    part.extrude(make="Sleeve", regions=between, far="length", name="Sleeve")
    part.body("Sleeve").made_of(*ALUMINIUM)
    across = part.sketch("Across", on="front")

    def bore(d: Drawing) -> None:
        circle = d.circle((0, 5), 1)
        centre = point_on(circle, "centre")
        d.constrain("on_curve", centre, Y_AXIS)
        d.constrain("distance", centre, X_AXIS, value="length / 2")
        d.constrain("diameter", circle, value="2 mm")

    across.draw("the bore", bore)
    cut = part.extrude(cut="Sleeve", regions=across.region(), far="through", near="through", name="Bore across")
    cut.switch("length > 20 mm")
    for n in range(12):
        mm = term("R10", 7 + n)
        part.row(f"SP {mm:g}", length=f"{mm:g} mm")
        part.row_says(f"SP {mm:g}", number=f"BRL-8{n + 1:02}")
    part.row("SP 40 wide", "SP 40", rim="parent.rim + 2 mm")
    part.row_says("SP 40 wide", number="BRL-821", note="where the hole below is worn")
