"""Helpers of tests: random edits."""

from architectonic.base.rigid import shift
from architectonic.family import edits, names
from architectonic.family.operations.solids.extrude import Extrude
from architectonic.family.records import Fill


def random_edit(family, draw):
    """One edit that a user might make: a value, a cell, a switch, a deletion, an order, a name."""
    document = draw.choice(list(family.documents.values()))
    values = [item for _, item in names.values_of(document)]
    build = list(getattr(document, "build", ()))
    kind = draw.choice(
        [
            "value",
            "value",
            "value",
            "cell",
            "switch",
            "delete",
            "move",
            "rename",
            "extrude",
            "feed",
            "placed",
            "placed",
            "row",
        ]
    )
    if kind in ("value", "cell") and values:
        item = draw.choice(values)
        texts = [
            f"{draw.uniform(1, 400):.3f}",
            "Sizes.wall * 3",
            "Sizes.reach / 2",
            "0",
            "Sizes.gap + 1 mm",
            "30 deg",
        ]
        cell = draw.choice([s.id for s in family.head.sizes]) if kind == "cell" and hasattr(item, "own") else None
        return edits.set_value(family, document.id, item.id, draw.choice(texts), cell)
    if kind == "switch" and build:
        cell = draw.choice(["", *(s.id for s in family.head.sizes)])
        return edits.set_switch(family, document.id, draw.choice(build).id, draw.random() < 0.6, cell)
    if kind == "delete" and draw.random() < 0.3:
        victims = [*build, *document.parameters]
        return edits.delete_item(family, document.id, draw.choice(victims).id) if victims else family
    if kind == "move" and len(build) > 1:
        return edits.move_operations(family, document.id, (draw.choice(build).id,), draw.choice(build).id)
    if kind == "rename" and values:
        return edits.rename_item(family, document.id, draw.choice(values).id, f"n{draw.randrange(10**6)}")
    if kind == "feed" and getattr(document, "feeds", None):
        feed = draw.choice(list(document.feeds))
        rule = draw.choice(["match", *(s.id for s in family.head.sizes)])
        chosen = draw.choice(["", "", "pick(Sizes.reach > 300 mm, L, M)", "S"])
        return edits.take_configuration(family, document.id, feed, rule, chosen)
    placed = [d for d in family.documents.values() if getattr(d, "instances", ())]
    if kind in ("placed", "row") and placed:
        return _assembly_edit(family, draw.choice(placed), draw, kind)
    if kind == "extrude":
        pads = [o for o in build if isinstance(o, Extrude)]
        if pads:
            pad = draw.choice(pads)
            return edits.replace_operation(family, document.id, edits.replace(pad, flip=not pad.flip))
    return family


def _assembly_edit(family, whole, draw, kind):
    """Another filler, another place, another pose in some cell; a row that comes, goes or follows another one."""
    rows = [a.id for a in whole.alternates]
    cell = draw.choice(["", *rows, *(s.id for s in family.head.sizes)])
    if kind == "row":
        made = draw.random()
        if made < 0.4 or not rows:
            return edits.add_alternate(family, whole.id, f"a{draw.randrange(10**6)}", draw.choice(["", *rows]))[0]
        if made < 0.7:
            return edits.delete_alternate(family, whole.id, draw.choice(rows))
        return edits.change_alternate(family, whole.id, draw.choice(rows), parent=draw.choice(["", *rows]))
    instance = draw.choice(whole.instances)
    what = draw.random()
    if what < 0.4:
        fillers = [d.id for d in family.documents.values() if d.placeable]
        fill = draw.choice([None, Fill(), Fill(document=draw.choice(fillers)), Fill(document=draw.choice(fillers))])
        return edits.set_fill(family, whole.id, instance.id, fill, cell)
    if what < 0.6:
        at = shift(draw.uniform(-50, 50), draw.uniform(-50, 50), 0.0)
        return edits.stand_at(family, whole.id, {instance.id: at}, cell)
    moving = [b for b in whole.bonds if b.moves]
    if not moving:
        return family
    bond, texts = draw.choice(moving), ["", f"{draw.uniform(-40, 40):.3f} deg", "Elevation.Side.arm_angle / 2"]
    if what < 0.7:
        return edits.set_bond_switch(family, whole.id, bond.id, draw.random() < 0.5, cell)
    return edits.set_bond_value(family, whole.id, bond.id, bond.moves, draw.choice(texts), cell)
