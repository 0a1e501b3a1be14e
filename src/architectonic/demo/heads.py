"""The styled head of the demo: a master of surfaces, and two parts that are cut and closed from it in different ways."""

from __future__ import annotations

from typing import Any

from architectonic.api.opened import OpenFamily
from architectonic.api.operations import Named
from architectonic.api.parts import Master
from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, point_on
from architectonic.demo.writer import ABS, STEEL, begin, sized
from architectonic.describe.drawn.drawing import Drawing
from architectonic.family.records import Reference

FORM = (
    ("mouth_d", "78 mm", "92 mm", "112 mm", "where the light comes out"),
    ("crown_h", "80 mm", "94 mm", "112 mm", "from the mouth to the crown"),
    ("crown_r", "30 mm", "34 mm", "42 mm", "roundness of the crown"),
    ("bore", "15 mm", "18 mm", "22 mm", "left open in the crown, for the neck"),
    ("part_h", "52 mm", "62 mm", "74 mm", "where front and rear part"),
    ("rim_h", "8 mm", "9 mm", "11 mm", "where the rim turns in"),
)
"""What the master decides, for S, M and L."""


def head_form(family: OpenFamily) -> tuple[Master, Any, Any]:
    """Envelope, parting and rim surfaces; and the curves of the envelope's profile, crown first."""
    form: Master = family.master("Head form").in_size("M")
    form.number("BRL-63")
    for row in FORM:
        sized(form, *row)
    profile = form.sketch("Profile", on="front")

    def half(d: Drawing) -> tuple[str, str]:
        crown = d.arc((0, 60), (33.4, 66.3), (9, 92.8))
        skirt = d.line((46, 0), (33.4, 66.3))
        d.constrain("coincident", point_on(skirt, "end"), point_on(crown, "start"))
        d.constrain("tangent", skirt, crown)
        d.constrain("on_curve", point_on(crown, "centre"), Y_AXIS)
        d.constrain("on_curve", point_on(skirt, "start"), X_AXIS)
        d.constrain("radius", crown, value="crown_r", name="crown")
        d.constrain("distance", ORIGIN, point_on(crown, "centre"), value="crown_h - crown_r", name="up")
        d.constrain("distance", ORIGIN, point_on(skirt, "start"), value="mouth_d / 2", name="mouth")
        d.constrain("distance", point_on(crown, "end"), Y_AXIS, value="bore / 2", name="open")
        return crown, skirt

    crown, skirt = (profile.curve(k) for k in profile.draw("the profile", half))
    form.revolve_surface(curves=[crown, skirt], axis="z", name="Envelope")
    across = form.sketch("Parting line", on="front")

    def line(d: Drawing) -> str:
        """A shallow arc over the middle, higher at the back than in front."""
        over = d.arc((10, -238), (110, 44), (-90, 44))
        for end, x in (("start", "1.25 * mouth_d"), ("end", "1.25 * mouth_d")):
            d.constrain("distance", point_on(over, end), Y_AXIS, value=x, name=f"wide_{end}")
        d.constrain("distance", point_on(over, "start"), X_AXIS, value="part_h - 12 mm", name="front_h")
        d.constrain("distance", point_on(over, "end"), X_AXIS, value="part_h", name="back_h")
        d.constrain("radius", over, value="4 * mouth_d", name="bend")
        return over

    bend = across.curve(across.draw("the parting line", line))
    form.extrude_surface(curves=bend, length="2.5 * mouth_d", symmetric=True, name="Parting")
    rings = []
    for name, height, wide in (
        ("Rim inside", "rim_h - 2 mm", "mouth_d - 16 mm"),
        ("Rim outside", "rim_h", "mouth_d + 16 mm"),
    ):
        form.datum_offset(plane="top", distance=height, name=f"{name} level")
        ring = form.sketch(name, on=f"{name} level")
        ring.circle(diameter=wide)
        rings.append(ring.curves[-1])
    form.loft_surface(curves=rings, straight=True, name="Rim")
    return form, crown, skirt


def _edge(body: Any, *faces: str) -> Named:
    """An edge between two faces, or along what bounds one, as it will be called."""
    return Named(Reference(item=body.id, stage="here", label=f"({'|'.join(sorted(faces))})"))


def head_rear(family: OpenFamily, form: Master, crown: str, parting: str) -> None:
    """What lies behind the parting: its crown closed, rounded, hollowed from the parting on."""
    part = begin(family, "Head rear", crown_round="Sizes.wall + 0.6 mm")
    part.number("BRL-64")
    shell, across = part.bring_in(form, "Envelope", "Parting", name="Surfaces of the head")
    part.trim(
        bodies=[shell, across],
        pieces={
            "Envelope before Parting": False, "Envelope behind Parting": True,
            "Parting before Envelope": True, "Parting behind Envelope": False,
        },
        name="Trim Envelope and Parting",
    )  # fmt: skip
    lid = part.fill(edges=_edge(shell, crown, f"{crown.split(':')[0]}:first"), name="Crown")
    part.join(bodies=[shell, lid.body, across], close=True, name="Close to a solid")
    part.fillet(edges=_edge(shell, crown, f"{lid.id}:fill"), radius="crown_round", name="Round the crown")
    opened = Named(Reference(item=shell.id, stage="here", label=parting))
    part.shell(bodies=shell, faces=opened, thickness="Sizes.wall", name="Hollow to wall")
    shell.rename("Rear")
    shell.made_of(*ABS)


def head_front(family: OpenFamily, form: Master, skirt: str, rim_face: str) -> None:
    """What lies before the parting, down to where the rim turns in: a wall on the surface, its lower edge rounded."""
    part = begin(family, "Head front", rim_round="Sizes.wall / 3")
    part.number("BRL-65")
    shell, across, rim = part.bring_in(form, "Envelope", "Parting", "Rim", name="Surfaces of the head")
    above = {"Envelope behind Parting": False, "Envelope before Parting": True}
    part.trim(bodies=shell, tools=across, pieces=above, name="Trim at the parting")
    below = {"Envelope behind Rim": True, "Envelope before Rim": False}
    part.trim(bodies=shell, tools=rim, pieces=below, name="Trim at the rim")
    wall = part.thicken(make="Front", faces=shell, thickness="Sizes.wall", name="Wall of the front")
    lower = f"({'|'.join(sorted((skirt, f'{rim_face}:behind')))})"
    edges = [_edge(wall.body, f"{wall.id}:{on}:({skirt})", f"{wall.id}:side:{lower}") for on in ("start", "end")]
    part.fillet(edges=edges, radius="rim_round", name="Round the rim")
    part.take_out(bodies=[across, rim], name="Without the surfaces that cut")
    part.body("Front").made_of(*ABS)


def shade_hoop(family: OpenFamily, form: Master) -> None:
    """A guard of bent wire before the mouth: half of it led from point to point, the other half its mirror image."""
    part = begin(family, "Shade hoop", out="6 mm", back="18 mm", wire_d="3 mm")
    part.number("BRL-66")
    reach = "Head_form.mouth_d / 2 + out"
    points = [
        (0.0, -52.0, -6.0),
        (30.0, -52.0, -6.0),
        (30.0, -30.0, 18.0),
        (30.0, 30.0, 18.0),
        (30.0, 52.0, -6.0),
        (0.0, 52.0, -6.0),
    ]
    path = part.lead(
        points, "Way of the wire", bend="2.5 * wire_d", mirror="right", tool="2 * wire_d", spring="1.03 * bend"
    )
    path.hold("in_plane", 0, to="right")
    path.hold("in_plane", 5, to="right")
    path.hold("along_x", 0, 1)
    path.hold("along_x", 5, 4)
    path.hold("along_y", 2, 3)
    path.hold("mirrored", 2, 3, to="front")
    path.hold("mirrored", 1, 4, to="front")
    path.hold("coordinate_y", 0, value=f"-({reach})", name="in front")
    path.hold("coordinate_z", 0, value="-out", name="below")
    path.hold("step_x", 0, 1, value="Head_form.mouth_d / 3", name="wide")
    path.hold("step_z", 1, 2, value="-back", name="forward")
    path.hold("step_y", 1, 2, value="Head_form.mouth_d / 4", name="in")
    path.hold("level_x", 1, 2)
    part.wire(make="Hoop", path=path, diameter="wire_d", name="Bend the wire")
    part.body("Hoop").made_of(*STEEL)


def heads(family: OpenFamily) -> None:
    """The master and both parts."""
    form, crown, skirt = head_form(family)
    made = {o.name: o.id for o in form.operations}
    bend = form.sketch("Parting line").curves[0]
    head_rear(family, form, f"{made['Envelope']}:side:{crown.id}", f"{made['Parting']}:side:{bend.id}")
    inside = form.sketch("Rim inside").curves[-1], form.sketch("Rim outside").curves[-1]
    named = min(f"{made['Rim']}:side:{c.id}" for c in inside)
    head_front(family, form, f"{made['Envelope']}:side:{skirt.id}", named)
    shade_hoop(family, form)
