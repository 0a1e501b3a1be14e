"""The demo family: Brindle reading lights. All names and numbers are made up for this product."""

from __future__ import annotations

from architectonic.base.ids import IdSource, seeded
from architectonic.describe.drawing import Drawing
from architectonic.family import edits, names
from architectonic.family.records import (
    Body,
    Datum,
    Distance,
    Expression,
    Extrude,
    Family,
    Feed,
    Fillet,
    OffsetPlane,
    Reference,
    Sketch,
    Socket,
    SquarePlane,
    Switch,
    Symmetric,
    ToPlane,
    Witness,
)

ALUMINIUM = "2.7 g / 1 cm3"
STEEL = "7.85 g / 1 cm3"
ABS = "1.04 g / 1 cm3"
ARM_AXIS = (0.0, 360.0, 282.543229715, 510.230900091)
"""Where the arm's axis stands in M: 320 mm at 28 deg from the shoulder at 360 mm."""


class Writer:
    """Writes the family step by step, by the same calls that anybody may use."""

    def __init__(self) -> None:
        self.new_id: IdSource = seeded(20260301)
        self.family: Family = edits.new_family("Brindle reading lights", ("S", "M", "L"), self.new_id)
        self.s, self.m, self.l = (size.id for size in self.family.head.sizes)
        self.ids: dict[str, str] = {}

    def document(self, kind: str, name: str) -> str:
        """A new document."""
        self.family, key = edits.add_document(self.family, kind, name, self.new_id)
        self.ids[name] = key
        return key

    def values(
        self, document: str, name: str, s: str, m: str, l: str, note: str = "", quantity: str = "length"
    ) -> None:
        """A parameter with a value for each size; M stands in the common cell."""
        own = {k: t for k, t in ((self.s, s), (self.l, l)) if t != m}
        self.family = edits.add_parameter(
            self.family, document, name, m, quantity, own=own, note=note, new_id=self.new_id
        )

    def text(
        self,
        document: str,
        text: str,
        quantity: str = "length",
        unit: str = "mm",
        sketch: Sketch | None = None,
    ) -> Expression:
        """An expression standing in a document."""
        return names.bind_quantity(self.family, edits.document(self.family, document), text, quantity, unit, sketch)

    def sketch(self, document: str, name: str, plane: Reference, along: str = "x") -> Drawing:
        """Start a sketch; `keep` stores it."""
        made = Sketch(id=self.new_id(), name=name, plane=plane, along=along)  # type: ignore[arg-type]
        self.family = edits.add_operation(self.family, document, made)
        return Drawing(self.family, document, made, self.new_id)

    def keep(self, drawing: Drawing) -> str:
        """Store a drawn sketch."""
        self.family = edits.replace_operation(self.family, drawing.document_id, drawing.sketch)
        return drawing.sketch.id

    def add(self, document: str, operation: Datum | Extrude | Fillet) -> str:
        """Append an operation."""
        self.family = edits.add_operation(self.family, document, operation)
        return operation.id

    def feed(self, document: str, source: str, name: str, **sockets: tuple[str, str, str, Witness]) -> dict[str, str]:
        """A feed; each socket is (what it takes, item, label, witness). Returns socket ids by key."""
        made, found = {}, {}
        for key, (takes, item, label, witness) in sockets.items():
            found[key] = self.new_id()
            reference = Reference(of=source, item=item, label=label, witness=witness)
            made[found[key]] = Socket(takes=takes, source=reference)  # type: ignore[arg-type]
        self.family = edits.add_feed(self.family, document, self.new_id(), Feed(name=name, sockets=made))
        return found

    def body(self, document: str, name: str, density: str, material: str) -> str:
        """Say a body's name and what it is made of; returns its id."""
        key = self.new_id()
        record = Body(name=name, material=material, density=self.text(document, density, "density", "g/cm3"))
        self.family = edits.add_body(self.family, document, key, record)
        return key


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
    ):
        w.family = edits.add_rule(w.family, table, name, rule, message, w.new_id)


def _elevation(w: Writer) -> dict[str, str]:
    layout = w.document("layout", "Elevation")
    side = w.sketch(layout, "Side", Reference(item="front"))
    stem = side.line((0, 0), (0, 360))
    arm = side.line((0, 360), (282.5, 510.2))
    head = side.point((282.5, 510.2))
    shoulder = side.point((0, 360))
    side.constrain("coincident", f"{stem}.start", "origin")
    side.constrain("vertical", stem)
    side.constrain("coincident", f"{arm}.start", f"{stem}.end")
    side.constrain("coincident", shoulder, f"{stem}.end")
    side.constrain("coincident", head, f"{arm}.end")
    side.constrain("distance", stem, value="Sizes.height", name="stem_length")
    side.constrain("distance", arm, value="Sizes.reach", name="arm_length")
    side.constrain("angle", "x_axis", arm, value="28 deg", name="arm_angle")
    side_id = w.keep(side)
    plan = w.sketch(layout, "Plan", Reference(item="top"))
    foot = plan.circle((0, 0), 75)
    bore = plan.circle((0, 0), 7.9)
    plan.constrain("coincident", f"{foot}.centre", "origin")
    plan.constrain("coincident", f"{bore}.centre", "origin")
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
    return {
        "layout": layout, "side": side_id, "plan": plan_id, "stem": stem, "arm": arm, "head": head, "shoulder": shoulder,
        "foot": foot, "bore": bore, "shoulder_plane": shoulder_plane, "roof": roof, "square": square,
    }  # fmt: skip


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
        regions=(Reference(item=fed["outline"]),), far=ToPlane(target=Reference(item=fed["roof"])),
    )  # fmt: skip
    w.add(part, block)
    hollow = w.sketch(part, "Hollow", Reference(item="top"))
    rim, boss = hollow.circle((0, 0), 70), hollow.circle((0, 0), 12)
    for circle in (rim, boss):
        hollow.constrain("coincident", f"{circle}.centre", "origin")
    hollow.constrain("radius", rim, value="Sizes.foot_d / 2 - Sizes.wall", name="inside")
    hollow.constrain("radius", boss, value="Sizes.stem_d / 2 + 2 * Sizes.wall", name="boss")
    hollow_id = w.keep(hollow)
    w.add(
        part,
        Extrude(
            id=w.new_id(), name="Hollow out", does="cut", acts_on=(body,),
            regions=(Reference(item=hollow_id, label=f"+{rim}/-{boss}"),),
            far=ToPlane(
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
            far=ToPlane(target=Reference(item=fed["top"]), offset=w.text(part, "-Sizes.tube_d / 2")),
        ),
    )  # fmt: skip
    hole = w.sketch(part, "Cable hole", Reference(item="top"))
    circle = hole.circle((0, 0), 6)
    hole.constrain("coincident", f"{circle}.centre", "origin")
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
    axis = d.trace(Reference(item=fed["arm"]), ARM_AXIS)
    hub, tip = d.circle((0, 360), 12.8), d.circle((56.5, 390), 7.8)
    upper, lower = d.line((-6, 371), (53, 397)), d.line((6, 349), (60, 383))
    d.constrain("coincident", f"{hub}.centre", f"{axis}.start")
    d.constrain("on_curve", f"{tip}.centre", axis)
    d.constrain("radius", hub, value="hub_r")
    d.constrain("radius", tip, value="tip_r")
    d.constrain("distance", f"{hub}.centre", f"{tip}.centre", value="length", name="pitch")
    for side, branch in ((upper, -1), (lower, 1)):
        for end, circle in (("start", hub), ("end", tip)):
            d.constrain("on_curve", f"{side}.{end}", circle)
            d.constrain("tangent", side, circle, branch=branch)
    holes = [d.circle((0, 360), 3), d.circle((56.5, 390), 3)]
    for hole, circle in zip(holes, (hub, tip), strict=True):
        d.constrain("coincident", f"{hole}.centre", f"{circle}.centre")
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
    from architectonic.sketch import piece
    from architectonic.sketch import regions as find_regions

    pieces = [
        piece.circle(hub, (0, 0), 10), piece.circle(tip, (60, 0), 6),
        piece.circle(holes[0], (0, 0), 3), piece.circle(holes[1], (60, 0), 3),
    ]  # fmt: skip
    # outer tangents of two circles with radii 10 and 6 at 60 (closed form: sine of the tilt is 4 / 60)
    s, c = 4 / 60, (1 - (4 / 60) ** 2) ** 0.5
    for line, y in ((upper, 1.0), (lower, -1.0)):
        pieces.append(piece.line(line, (10 * s, y * 10 * c), (60 + 6 * s, y * 6 * c)))
    return tuple(r.label for r in find_regions.find(pieces) if r.label not in {f"+{h}" for h in holes})


def _arm_tube(w: Writer, e: dict[str, str]) -> None:
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
        d.constrain("coincident", f"{circle}.centre", centre)
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
        s.constrain("on_curve", f"{circle}.centre", axis)
        s.constrain("distance", f"{circle}.centre", f"{axis}.start", value=f"Elevation.Side.arm_length * {k} / 6")
        s.constrain("radius", circle, value="slot_r")
    slots = w.keep(s)
    cut = Extrude(
        id=w.new_id(), name="Lighten the tube", does="cut", acts_on=(body,), switch=Switch(default=True, own={w.s: False}),
        regions=tuple(Reference(item=slots, label=f"+{h}") for h in holes),
        far=Distance(value=w.text(part, "2 * Sizes.tube_d")), near=Symmetric(),
    )  # fmt: skip
    w.add(part, cut)
    w.family, row = edits.add_configuration(w.family, part, "L plain", w.l, new_id=w.new_id)
    w.family = edits.set_switch(w.family, part, cut.id, False, row)


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
    _arm_tube(w, layout)
    _light(w)
    return w.family
