"""The verbs of every canvas as data: groups in a fixed order, and what fits what is chosen."""

from __future__ import annotations

from collections.abc import Sequence
from string import ascii_uppercase
from typing import NamedTuple

from architectonic.describe.models.operations import OPERATIONS, SENTENCES
from architectonic.describe.operations.kind import GROUPS
from architectonic.describe.words.blanks import counted
from architectonic.desktop.commands.sketch import CONSTRAINTS, DIMENSIONS, INNER
from architectonic.desktop.kit.actions import Action, Registry
from architectonic.desktop.pane.pane import Pane
from architectonic.desktop.sketch.tools import GROUPS as TOOL_GROUPS
from architectonic.desktop.sketch.tools import TOOLS
from architectonic.family.edits import KINDS


class VerbGroup(NamedTuple):
    """Verbs under one word.

    Attributes:
        title: the word; ids: of its actions, in an order that never changes.
    """

    title: str
    ids: tuple[str, ...]


TITLES = {
    "solids": "Solid",
    "edge treatments": "Edges",
    "holes": "Holes",
    "patterns and mirrors": "Patterns",
    "marks": "Marks",
    "bodies": "Bodies",
    "surfaces": "Surfaces",
    "checks": "Checks",
}
"""One word for each group of operations."""


def _operations() -> dict[str, tuple[str, ...]]:
    """Verbs of operations by the word of their group, read from the declarations; groups without any are left out."""
    found: dict[str, list[str]] = {TITLES[g]: [] for g in GROUPS}
    for kind in OPERATIONS.values():
        found[TITLES[kind.group]] += [f"operation.{s.key}" for s in kind.sentences if s.opens]
    return {title: tuple(ids) for title, ids in found.items() if ids}


_ROW = (
    "operation.edit", "operation.mend", "operation.until", "operation.rename", "operation.delete", "operation.again",
    "stretch.name", "edit.copy", "edit.paste",
)  # fmt: skip
_BOUND = ("bond.edit", "bond.play", "bond.switch")
_PLACED = ("instance.fix", "instance.replace", "instance.fork", "instance.repeat", "instance.once", "variation.choose")
_HOLD = ("bond.joint", "bond.rule", *_BOUND, *_PLACED)
_PLACES = ("sketch.new", "datum.new", "datum.axis", "datum.point", "feed.new", "underlay.new")
_LOOK = (
    "pick.why", "pick.hole", "holes.list", "measure.keep", "pick.like", "pick.made", "pick.chain", "pick.around", "view.open", "view.stripes", "view.comb",
    "view.context", "row.over", "row.beside", "row.compare", "alternate.sheet", "variation.new", "variation.compare", "body.group", "assembly.clashes", "assembly.near", "assembly.parts",
)  # fmt: skip
_BESIDE = {
    "Bodies": (
        "body.bring_in",
        "body.send",
        "body.fetch",
        "body.edit",
        "outside.bring",
        "outside.look",
        "outside.point",
    ),
    "Patterns": ("hand.new", "hand.differs", "hand.fork"),
    "Surfaces": ("surface.take", "surface.edges", "surface.uses", "path.table"),
}
"""What stands beside the operations of a group."""
_CHECKS = (
    "check.wall", "check.ball", "check.draft", "check.corners", "check.radius", "check.deviation", "check.margin", "check.gap", "check.bodies", "check.hand", "check.clear",
)  # fmt: skip
_DRAWN = tuple(f"sketch.{t}" for group in TOOL_GROUPS for t in group if not TOOLS[t].picks)
_CHANGED = tuple(f"sketch.{t}" for group in TOOL_GROUPS for t in group if TOOLS[t].picks)
_SIZED = (*(f"dimension.{k}" for k in DIMENSIONS), *(f"dimension.{w.replace(' ', '_')}" for w in INNER))
_HELD = tuple(f"constrain.{k}" for k in CONSTRAINTS)
_DRAWING = (
    VerbGroup("Draw", _DRAWN),
    VerbGroup("Dimension", (*_SIZED, "dimension.turn", "dimension.rename", "dimension.play", "figure.column")),
    VerbGroup("Hold", (*_HELD, "sketch.hold")),
    VerbGroup("Change", (*_CHANGED, "sketch.round", "sketch.chamfer", "place.move", "place.turn", "place.scale", "sketch.helper", "sketch.own", "sketch.delete")),
    VerbGroup("Copies", ("copies.offset", "copies.mirror", "copies.row", "copies.ring", "copies.missing", "place.copy", "edit.copy", "edit.paste", "sketch.fork")),
    VerbGroup("Choose", ("choose.chain", "choose.kind", "choose.letters")),
    VerbGroup("Take", ("sketch.trace", "feed.new", "sketch.bring", "sketch.send", "underlay.new")),
)  # fmt: skip
_OPERATIONS = tuple(VerbGroup(title, ids) for title, ids in _operations().items())
VIEWS: dict[str, tuple[VerbGroup, ...]] = {
    "Sketch": (*_DRAWING, VerbGroup("Sketch", ("sketch.new", "datum.new", "datum.axis", "datum.point")), _OPERATIONS[0]),
    "3D": (
        VerbGroup("Sketch", _PLACES),
        VerbGroup("Underlay", ("underlay.scale", "underlay.move", "underlay.straighten", "underlay.look")),
        VerbGroup("Row", _ROW),
    ),
    "Bodies": (
        VerbGroup("Sketch", _PLACES),
        *(VerbGroup(g.title, (*g.ids, *_BESIDE.get(g.title, ()))) for g in _OPERATIONS),
        VerbGroup("Items", ("item.list", "item.new", "item.offer", "item.edit", "item.group", "item.drop", "item.divide")),
        VerbGroup("Place", ("instance.new", "part.here", "frame.take", *_HOLD)),
        VerbGroup("Look", _LOOK),
        VerbGroup("Checks", _CHECKS),
        VerbGroup("Row", _ROW),
        VerbGroup("Out", ("document.export",)),
    ),
    "Values": (
        VerbGroup("Value", ("value.new", "value.insert", "value.group", "value.delete", "value.uses")),
        VerbGroup("Fill", ("value.fill", "value.series")),
        VerbGroup("Seek", ("value.unused", "value.doubled")),
        VerbGroup("Rule", ("rule.new", "rule.edit", "guard.new", "guard.body", "guard.record")),
        VerbGroup("File", ("table.bring", "table.send", "link.new", "link.look")),
    ),
    "Alternates": (
        VerbGroup("Alternate", ("alternate.new", "alternate.copy", "alternate.rename", "alternate.names", "alternate.follow", "alternate.up", "alternate.down", "alternate.delete", "alternate.places")),
        VerbGroup("Look", ("alternate.over", "alternate.compare", "alternate.sheet", "assembly.clashes", "assembly.near", "assembly.parts", "bond.play")),
        VerbGroup("Place", ("instance.new", "part.here", "frame.take", *_HOLD)),
        VerbGroup("Value", ("value.new",)),
        VerbGroup("Out", ("document.export",)),
    ),
    "Range": (
        VerbGroup("Row", ("row.new", "row.child", "row.copy", "row.names", "row.numbers", "row.parent", "row.up", "row.down", "row.delete")),
        VerbGroup("Cells", ("cells.fill", "cells.series", "cells.follow", "value.new")),
        VerbGroup("Column", ("column.choose", "column.hide", "column.left", "column.right", "column.fix")),
        VerbGroup("Seek", ("rows.only", "rows.sort", "rows.all")),
        VerbGroup("Look", ("row.compare", "row.together", "row.beside", "row.over", "column.plot", "row.next", "row.previous")),
        VerbGroup("Out", ("range.build", "range.write", "range.bring", "range.send", "document.export")),
    ),
    "Checks": (
        VerbGroup("Ask", ("rule.new", "guard.new", "guard.body", "rule.edit", "guard.record")),
        VerbGroup("Show", ("checks.next", "checks.open", "checks.row")),
    ),
    "Plan": (
        VerbGroup("Plan", ("plan.part", "plan.assembly", "plan.inside")),
        VerbGroup("Entry", ("plan.assign", "plan.open")),
        VerbGroup("Place", ("part.here", "frame.take")),
    ),
    "Map": (
        VerbGroup("New", tuple(f"document.new_{kind}" for kind in KINDS)),
        VerbGroup("Document", ("document.duplicate", "document.rename", "document.delete", "view.split")),
    ),
}  # fmt: skip
BESIDE: dict[str, tuple[VerbGroup, ...]] = {
    "Sketch": (*_DRAWING, VerbGroup("Pane", ("pane.swap", "pane.close"))),
    "Bodies": (VerbGroup("Take", ("feed.new",)), VerbGroup("Pane", ("pane.swap", "pane.close", "view.stored"))),
}
"""Of the second pane: what it shows is drawn in place; its bodies are taken from, or changed in the main pane."""

STARTS: dict[str, tuple[str, ...]] = {
    "Sketch": ("sketch.line", "sketch.rectangle", "sketch.circle", "sketch.arc", "sketch.trace", "sketch.hold", "operation.extrude", "sketch.new"),
    "3D": ("sketch.new", "datum.new", "feed.new", "underlay.new"),
    "Bodies": ("operation.extrude", "sketch.new", "instance.new", "bond.joint", "bond.rule", "feed.new", "part.here", "view.open", "document.export"),
    "Values": ("value.new", "rule.new", "link.look", "table.bring"),
    "Alternates": ("bond.joint", "alternate.new", "alternate.copy", "alternate.follow", "alternate.delete", "alternate.places", "document.export"),
    "Range": ("row.new", "row.child", "cells.series", "column.choose", "range.build", "range.write", "row.compare"),
    "Checks": ("checks.next", "checks.open", "rule.new", "guard.new"),
    "Plan": ("plan.part", "plan.assembly", "plan.inside", "plan.assign", "plan.open"),
    "Map": tuple(f"document.new_{kind}" for kind in KINDS),
}  # fmt: skip
"""What one begins with while nothing is chosen."""
_OF_CURVES = (
    *_SIZED, "choose.letters", *_HELD, "sketch.round", "sketch.chamfer", "copies.offset", "copies.mirror", "place.move",
    "choose.chain", "sketch.helper", "sketch.own", "datum.new", "sketch.delete",
)  # fmt: skip
_OF_DIMENSIONS = ("dimension.turn", "dimension.rename", "dimension.play", "figure.column", "sketch.delete")
_OF_REGIONS = ("operation.extrude", "operation.revolve", "operation.sweep", "operation.loft")
_OF_ROWS = (
    *_BOUND,
    "body.send",
    "body.fetch",
    *_PLACED,
    "underlay.scale",
    "underlay.move",
    "underlay.look",
    *_ROW[:5],
    "stretch.name",
)
_OF_VALUES = ("value.uses", "value.insert", "value.group", "value.fill", "value.series", "value.delete")
_OF_PICKS = (
    "bond.joint", "bond.rule", "body.bring_in", *_PLACED, "sketch.new", "datum.new",
    "part.here", "body.edit", "item.new", "item.edit", "pick.why", "measure.keep", "pick.like", "pick.made", "pick.chain", "pick.around", "view.open",
)  # fmt: skip


def _taking(kinds: set[str]) -> list[str]:
    """Operations with a blank of the main clause that takes what is picked; those that take nothing else come first."""
    found: list[tuple[int, str]] = []
    for key, (_, sentence) in SENTENCES.items():
        takes = [b.accepts for b in sentence.blanks if b.shape == "picks" and not b.clause and kinds & b.accepts.bodies]
        if takes:
            found.append((min(len(a.bodies) + len(a.drawn) for a in takes), f"operation.{key}"))
    return [key for _, key in sorted(found, key=lambda f: f[0])]


def fitting(tab: str, shown: Pane, tool: str, cells: int, actions: Registry) -> list[Action]:
    """What fits what is chosen, that can be done now; with nothing chosen what one begins with.

    Args:
        cells: how many rows of a table are chosen.
    """
    ids: Sequence[str] = STARTS.get(tab, ())
    if tool:
        ids = next((tuple(f"sketch.{t}" for t in group) for group in TOOL_GROUPS if tool in group), ())
    elif tab == "Sketch" and shown.constraint:
        ids = _OF_DIMENSIONS
    elif tab == "Sketch" and shown.curves:
        ids = _OF_CURVES
    elif tab == "Sketch" and shown.regions[1]:
        ids = _OF_REGIONS
    elif tab in ("Bodies", "Alternates") and shown.picks:
        ids = (*_taking({p.kind for p in shown.picks}), *_OF_PICKS)
    elif tab in ("Bodies", "Alternates", "3D") and shown.operation:
        ids = (*_OF_ROWS, *(("datum.new", "sketch.new") if tab == "3D" else ()))
    elif tab == "Values" and cells:
        ids = _OF_VALUES
    known = actions.actions
    return [known[k] for k in ids if k in known and known[k].enabled()]


def chosen_words(tab: str, shown: Pane, cells: int) -> str:
    """Kind and count of what is chosen: `2 edges`; "" for nothing."""
    if tab == "Sketch" and shown.constraint:
        return "1 hold"
    if tab == "Sketch" and shown.curves:
        return counted(len(shown.curves), "curve")
    if tab == "Sketch" and shown.regions[1]:
        return counted(len(shown.regions[1]), "region")
    if tab in ("Bodies", "Alternates") and shown.picks:
        kinds = {p.kind for p in shown.picks}
        return counted(len(shown.picks), kinds.pop() if len(kinds) == 1 else "pick")
    if tab in ("Bodies", "Alternates", "3D") and shown.operation:
        return "1 row"
    return counted(cells, "row") if tab == "Values" and cells else ""


def lettered(actions: Sequence[Action]) -> list[str]:
    """A letter for each verb of a group: the first of its word that none before it has, else any that is free."""
    taken: set[str] = set()
    found = []
    for action in actions:
        letter = next((c for c in action.word.upper() + ascii_uppercase if c.isalpha() and c not in taken), "")
        taken.add(letter)
        found.append(letter)
    return found
