"""The arm tube of the demo: along an axis of the layout, with configurations of its own."""

from __future__ import annotations

from architectonic.base.places import point_on
from architectonic.demo.bodies import ALUMINIUM
from architectonic.demo.writer import Writer
from architectonic.family import edits
from architectonic.family.operations.base import Switch
from architectonic.family.operations.solids.extrude import Distance, Extrude, Symmetric, Through
from architectonic.family.records import Datum, OffsetPlane, Reference, Witness
from architectonic.quantities.preferred import nearest, term

SLOTTED = 315
"""The length from which a tube that is sold by itself has lightening slots, mm."""
ARM_AXIS = (0.0, 360.0, 282.543229715, 510.230900091)
"""Where the arm's axis stands in M: 320 mm at 28 deg from the shoulder at 360 mm."""


def arm_tube(w: Writer, e: dict[str, str]) -> None:
    """Drawn to length by formula, by size and in preferred lengths; slots in long ones, a cable exit in one."""
    part = w.document("part", "Arm tube")
    body = w.body(part, "Tube", ALUMINIUM, "EN AW-6060")
    fed = w.feed(
        part, e["layout"], "Arm axis",
        square=("plane", e["square"], "", Witness(kind="plane", at=(0, 0, 360))),
        shoulder=("curve", e["side"], e["shoulder"], Witness(kind="point", at=(0, 0, 360))),
        arm=("curve", e["side"], e["arm"], Witness(kind="line", at=(141, 0, 435), size=320)),
    )  # fmt: skip
    for name, text in (
        ("hub", "Sizes.tube_d"),
        ("length", "Elevation.Side.arm_length - 2 * hub"),
        ("wall", "pick(length < 340 mm, 1.5 mm, 2 mm)"),
        ("slot_r", "Sizes.tube_d / 4"),
    ):
        w.family = edits.add_parameter(w.family, part, name, text, new_id=w.new_id)
    start = w.add(
        part,
        Datum(
            id=w.new_id(),
            name="Tube start",
            by=OffsetPlane(plane=Reference(item=fed["square"]), distance=w.text(part, "hub")),
        ),
    )
    d = w.sketch(part, "Section", Reference(item=start), along="x")
    centre = d.trace(Reference(item=fed["shoulder"]))
    outer, inner = d.circle((0, 0), 8), d.circle((0, 0), 6.5)
    for circle in (outer, inner):
        d.constrain("coincident", point_on(circle, "centre"), centre)
    d.constrain("diameter", outer, value="Sizes.tube_d")
    d.constrain("diameter", inner, value="Sizes.tube_d - 2 * wall")
    section = w.keep(d)
    tube = Extrude(
        id=w.new_id(), name="Draw the tube", does="make", acts_on=(body,),
        regions=(Reference(item=section, label=f"+{outer}/-{inner}"),), far=Distance(value=w.text(part, "length")),
    )  # fmt: skip
    w.add(part, tube)
    s = w.sketch(part, "Slots", Reference(item="front"))
    axis = s.trace(Reference(item=fed["arm"]), ARM_AXIS)
    holes = []
    for k in (2, 3, 4):
        circle = s.circle((282.5 * k / 6, 360 + 150 * k / 6), 4)
        holes.append(circle)
        s.constrain("on_curve", point_on(circle, "centre"), axis)
        s.constrain(
            "distance",
            point_on(circle, "centre"),
            point_on(axis, "start"),
            value=f"Elevation.Side.arm_length * {k} / 6",
        )
        s.constrain("radius", circle, value="slot_r")
    slots = w.keep(s)
    cut = Extrude(
        id=w.new_id(), name="Lighten the tube", does="cut", acts_on=(body,), switch=Switch(default=True, own={w.s: False}),
        regions=tuple(Reference(item=slots, label=f"+{h}") for h in holes),
        far=Distance(value=w.text(part, "2 * Sizes.tube_d")), near=Symmetric(),
    )  # fmt: skip
    w.add(part, cut)
    exit_ = _cable_exit(w, part, body, fed["arm"])
    w.family, row = edits.add_configuration(w.family, part, "L plain", w.l, new_id=w.new_id)
    w.family = edits.set_switch(w.family, part, cut.id, False, row)
    w.family, row = edits.add_configuration(w.family, part, "L cable exit", w.l, new_id=w.new_id)
    w.family = edits.set_switch(w.family, part, exit_, True, row)
    length = next(p.id for p in w.family.documents[part].parameters if p.name == "length")
    first = nearest("R10", 200)
    for mm in (term("R10", first + k) for k in range(4)):  # sold by itself in preferred lengths (ISO 3)
        w.family, row = edits.add_configuration(w.family, part, f"Tube {mm:g}", new_id=w.new_id)
        w.family = edits.set_value(w.family, part, length, f"{mm:g} mm", row)
        w.family = edits.set_switch(w.family, part, cut.id, mm >= SLOTTED, row)


def _cable_exit(w: Writer, part: str, body: str, arm: str) -> str:
    """A hole near the shoulder, in no size but where a row asks for it."""
    d = w.sketch(part, "Cable exit outline", Reference(item="front"))
    axis = d.trace(Reference(item=arm), ARM_AXIS)
    hole = d.circle((40, 381), 3)
    d.constrain("on_curve", point_on(hole, "centre"), axis)
    d.constrain("distance", point_on(hole, "centre"), point_on(axis, "start"), value="3 * hub")
    d.constrain("diameter", hole, value="Sizes.tube_d / 3", name="exit_d")
    outline = w.keep(d)
    made = Extrude(
        id=w.new_id(), name="Cable exit", does="cut", acts_on=(body,), switch=Switch(default=False),
        regions=(Reference(item=outline, label=f"+{hole}"),), far=Through(), flip=True,
    )  # fmt: skip
    return w.add(part, made)
