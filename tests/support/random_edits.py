"""Helpers of tests: random edits."""

from architectonic.family import edits, names
from architectonic.family.operations.solids.extrude import Extrude


def random_edit(family, draw):
    """One edit that a user might make: a value, a cell, a switch, a deletion, an order, a name."""
    document = draw.choice(list(family.documents.values()))
    values = [item for _, item in names.values_of(document)]
    build = list(getattr(document, "build", ()))
    kind = draw.choice(["value", "value", "value", "cell", "switch", "delete", "move", "rename", "extrude", "feed"])
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
    if kind == "extrude":
        pads = [o for o in build if isinstance(o, Extrude)]
        if pads:
            pad = draw.choice(pads)
            return edits.replace_operation(family, document.id, edits.replace(pad, flip=not pad.flip))
    return family
