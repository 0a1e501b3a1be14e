"""Split: bodies cut in two."""

from __future__ import annotations

import math
from typing import Any, Literal

from architectonic.base import tolerance
from architectonic.describe.drawn.curves import as_piece_of, piece_result
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import acted, plan_face_or_plane, replaced
from architectonic.describe.recipes import Thing, Wanted
from architectonic.describe.references.chains import chained, met
from architectonic.describe.references.places import of_sketch
from architectonic.describe.results import (
    Frame,
    ModelState,
    Node,
    NodeFault,
    PieceResult,
    Plan,
    Recipe,
    SketchResult,
    Value,
    fault,
    needed,
)
from architectonic.describe.view import View
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Flag
from architectonic.describe.words.spoken import Sentence
from architectonic.describe.words.things import Divider
from architectonic.family.operations.bodies.split import Split
from architectonic.family.records import SELF, Sketch
from architectonic.family.walk import index


class SplitInput(Value, frozen=True, kw_only=True):
    """Bodies in the order of the shapes, and the new body of each.

    Attributes:
        frame: of a plane, or of the plane that lines stand on.
        lines: pieces end to end, closed ones counter-clockwise.
        face: in which of the shapes, counted after those of `bodies` too, and which; an empty label for a whole surface.
        flip: what lies behind stays.
    """

    operation: str
    bodies: tuple[tuple[str, str], ...]
    frame: Frame | None = None
    lines: tuple[tuple[PieceResult, ...], ...] = ()
    face: tuple[int, Wanted] | None = None
    flip: bool = False

    @property
    def by(self) -> Literal["plane", "lines", "face"]:
        """What divides them."""
        return "face" if self.face is not None else "lines" if self.lines else "plane"


def plan(view: View, node: Node, record: Split, given: ModelState) -> Plan:
    """Bodies after they were cut in two."""
    bodies = acted(view, node, record.acts_on, given)
    shapes = [s for _, s in bodies]
    by: dict[str, Any] = {}
    divider = index(view.document(node)).get(record.by.item) if record.by.of == SELF else None
    if isinstance(divider, Sketch) and not record.by.label:
        lines = yield from _plan_lines(view, node, divider)
        (frame,) = yield [Node("frame", node.at, divider.id)]
        by = {"frame": needed(frame, "its plane"), "lines": lines}
    elif divider is not None and record.by.item in view.model(node).bodies and not record.by.label:
        whole = given.shape(record.by.item)
        if whole is None:
            raise fault("body.missing", "the surface that divides does not exist here", "pick another one", "missing")
        shapes.append(whole)
        by = {"face": (len(shapes) - 1, Wanted(""))}
    else:
        thing: Thing = yield from plan_face_or_plane(view, node, record.by, record.id, shapes)
        by = {"frame": thing.frame, "face": None if thing.wanted is None else (thing.shape, thing.wanted)}
    pairs = tuple((b, record.pieces.get(b, "")) for b, _ in bodies)
    payload = SplitInput(operation=record.id, bodies=pairs, flip=record.flip, **by)
    made = yield Recipe("split", payload, tuple(shapes))
    if made.problem is not None:
        raise NodeFault(made.problem)
    return replaced(given, made.key, made.value)


def _plan_lines(view: View, node: Node, sketch: Sketch) -> Plan:
    """Sub-plan: the lines of a sketch that are no helpers, those that meet as one, closed ones counter-clockwise.

    Raises:
        NodeFault: there are none, or they branch.
    """
    solved, frame = yield [Node("solve", node.at, sketch.id), Node("frame", node.at, sketch.id)]
    found: SketchResult = needed(solved, "its sketch")
    curves = {k: of_sketch(found, needed(frame), k) for k, c in found.curves.items() if not c.helper}
    left = {k: c for k, c in curves.items() if c.curve.kind not in ("point", "text")}
    if not left:
        raise fault("split.no_line", f"{sketch.name} has no line to split by", "draw one through the body")
    chains = []
    while left:
        group = met(left)
        pieces = [p for _, p in chained([left[k] for k in group], group)]
        for key in group:
            del left[key]
        if math.dist(pieces[0].start, pieces[-1].end) < tolerance.FEATURE:
            if sum(as_piece_of(p).area() for p in pieces) < 0:
                pieces = [piece_result(as_piece_of(p).reversed()) for p in reversed(pieces)]
        chains.append(tuple(pieces))
    return tuple(chains)


KIND = OperationKind(
    Split,
    (
        Sentence("split", "Split bodies", "split", "Split", (
            Bodies("acts_on"), Divider("by", "by"), Flag("flip", "keep the other side", quiet=True),
        ), short="Split", also=("divide", "part", "slice")),
    ),
    plan,
    recipe="split", given=SplitInput, version=3,
    group="bodies",
    rank=10,
)  # fmt: skip
