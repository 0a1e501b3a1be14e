"""Edits of a sketch as a person draws: snapped curves, constraints refused when they say nothing new, deletion.

Each edit is checked against the solved sketch, so that what cannot hold is never stored (settled: over-constraint is
refused). Positions come from the last solution, which becomes the new start positions: drawing and deleting are among
the few edits that write those.
"""

from __future__ import annotations

import math

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.base.places import curve_of, point_on
from architectonic.describe.drawn.curves import drawn_result, put_at
from architectonic.describe.drawn.drawing import Drawing, kinds_in, numbers
from architectonic.describe.results import CurveResult, Node, SketchResult
from architectonic.describe.words.sentences import holds
from architectonic.family import edits
from architectonic.family.records import DIMENSIONS, Constraint, Family, Sketch, Trace, quantity_of
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.sketch.snapping import Snapped, inferred
from architectonic.session.sketch.values import measured
from architectonic.sketch.curves import kinds
from architectonic.sketch.solving import entities, images

XY = tuple[float, float]


def sketch_of(family: Family, at: Scope, sketch_id: str) -> Sketch:
    """A sketch by id.

    Raises:
        UserFault: it is gone.
    """
    found = edits.operation(family, at.document, sketch_id)
    if not isinstance(found, Sketch):
        raise UserFault("this is not a sketch", found.name)
    return found


def place_kinds(sketch: Sketch, solved: SketchResult | None, places: list[str]) -> tuple[str, ...]:
    """What chosen places are: points or kinds of curves; "" for what is gone."""
    kind_of = kinds_in(sketch, solved.curves if solved is not None else None)
    return tuple(kinds.place_kind(kind_of, p) for p in places)


def fitting(chosen: tuple[str, ...]) -> tuple[str, ...]:
    """Constraints and dimensions that fit a choice of places, by what those are.

    Several lines can each be made horizontal or vertical, and several points fixed.
    """
    each = [k for k in ("horizontal", "vertical") if chosen and set(chosen) == {"line"}]
    each += ["fix"] if chosen and set(chosen) == {"point"} else []
    found = [k for k, taken in kinds.ACCEPTS.items() if chosen in taken and k != "fix"]
    return tuple(dict.fromkeys([*each, *found]))


def restarted(sketch: Sketch, solved: SketchResult | None) -> Sketch:
    """The sketch with its solution as start positions."""
    if solved is None:
        return sketch
    curves = {k: put_at(c, solved.curves[k].values) if k in solved.curves else c for k, c in sketch.curves.items()}
    return edits.replace(sketch, curves=curves)


class Decided(UserFault):
    """A constraint or dimension that says nothing new.

    Attributes:
        constraints: ids of a smallest set that decides it.
    """

    def __init__(self, told: str, where: str, constraints: tuple[str, ...]) -> None:
        super().__init__(f"this is decided already by: {told}", where, "take one of them away first")
        self.constraints = constraints


class Sketching:
    """Edits of one sketch in one scope, from its last solution.

    Args:
        solved: the solution that is on the screen; None when the sketch is in conflict.
        values: present values of its dimensions in mm and rad, by constraint id.
    """

    def __init__(
        self,
        family: Family,
        at: Scope,
        sketch_id: str,
        solved: SketchResult | None,
        values: dict[str, float],
        make_id: IdSource = new_id,
    ) -> None:
        self.family, self.at, self.values = family, at, values
        sketch = restarted(sketch_of(family, at, sketch_id), solved)
        traced = {k: c for k, c in solved.curves.items() if c.fixed} if solved else {}
        self.drawing = Drawing(family, at.document, sketch, make_id, traced=traced)

    def stored(self) -> Family:
        """The family with the sketch as it stands now."""
        return edits.replace_operation(self.family, self.at.document, self.drawing.sketch)

    # --- drawing --------------------------------------------------------------------------------------

    def line(self, start: Snapped, end: Snapped, infer: bool = True) -> str:
        """A line, joined to what its ends snapped to, horizontal or vertical when it nearly is.

        Raises:
            UserFault: no length.
        """
        if math.dist(start.at, end.at) < tolerance.FEATURE:
            raise UserFault("a line needs two different points", self.drawing.sketch.name)
        meant = inferred(self.drawing.sketch, start, end) if infer else None
        key = self.drawing.line(start.at, end.at)
        self.join(point_on(key, "start"), start)
        if end.place:
            self.join(point_on(key, "end"), end)
        if meant is not None:
            self.try_constraint(meant[0], key, *meant[1:])
        self.join(point_on(key, "end"), end)  # a place on a curve says less than a direction does
        return key

    def circle(self, centre: Snapped, radius: float) -> str:
        """A circle about a point."""
        key = self.drawing.circle(centre.at, radius)
        self.join(point_on(key, "centre"), centre)
        return key

    def arc(self, centre: Snapped, start: Snapped, end: Snapped) -> str:
        """An arc about a point, counter-clockwise from start towards end, which need not lie on it.

        Raises:
            UserFault: no radius, or no angle.
        """
        radius = math.dist(centre.at, start.at)
        if radius < tolerance.FEATURE or math.dist(centre.at, end.at) < tolerance.FEATURE:
            raise UserFault("an arc needs a radius above zero", self.drawing.sketch.name)
        turn = math.atan2(end.at[1] - centre.at[1], end.at[0] - centre.at[0])
        landed = (centre.at[0] + radius * math.cos(turn), centre.at[1] + radius * math.sin(turn))
        if math.dist(landed, start.at) < tolerance.FEATURE:
            raise UserFault("an arc needs two different ends", self.drawing.sketch.name, "draw a circle instead")
        key = self.drawing.arc(centre.at, start.at, landed)
        self.join(point_on(key, "centre"), centre)
        self.join(point_on(key, "start"), start)
        if math.dist(landed, end.at) < tolerance.FEATURE or end.place:
            self.join(point_on(key, "end"), end)
        return key

    def point(self, at: Snapped) -> str:
        """A point, on what it snapped to."""
        key = self.drawing.point(at.at)
        self.join(key, at)
        return key

    def rectangle(self, corner: Snapped, opposite: Snapped) -> tuple[str, str, str, str]:
        """Four lines between two corners.

        Raises:
            UserFault: no area.
        """
        if min(abs(corner.at[0] - opposite.at[0]), abs(corner.at[1] - opposite.at[1])) < tolerance.FEATURE:
            raise UserFault("a rectangle needs two corners apart in both directions", self.drawing.sketch.name)
        sides = self.drawing.rectangle(corner.at, opposite.at)
        self.join(point_on(sides[0], "start"), corner)
        self.join(point_on(sides[2], "start"), opposite)
        return sides

    def join(self, place: str, snapped: Snapped) -> None:
        """Hold a point where a click landed, as far as that says anything new."""
        for kind, other in snapped.holds:
            self.try_constraint(kind, place, other)

    def try_constraint(self, kind: str, *of: str) -> None:
        """Add an inferred constraint unless it says nothing new."""
        try:
            self.constrain(kind, *of)
        except UserFault:
            return

    # --- constraints ----------------------------------------------------------------------------------

    def constrain(
        self, kind: str, *of: str, value: str | None = None, name: str = "", branch: int | None = None
    ) -> str:
        """A constraint or dimension.

        Raises:
            Decided: names what decides it already. Nothing is stored.
        """
        before = self.drawing.sketch
        key = self.drawing.constrain(kind, *of, value=value, name=name, branch=branch)
        made = self.drawing.sketch.constraints[-1]
        if made.kind in DIMENSIONS and not made.reads:
            self.values[key] = self._now(made, value or "")
        if not made.solves:
            return key
        deciders = self.deciders(made, before)
        if deciders is not None:
            self.drawing.sketch = before
            raise Decided(self.told_by(deciders), before.name, tuple(c.id for c in deciders))
        return key

    def deciders(self, added: Constraint, sketch: Sketch | None = None) -> list[Constraint] | None:
        """The smallest set of constraints that decide already what one would say; None when it says something new.

        The set is empty when the axes and what is traced decide it alone.
        """
        from architectonic.sketch.solving import conflict

        sketch = sketch or self.drawing.sketch
        known = [self.number(c) for c in sketch.constraints if c.solves]
        found = conflict.depends_on(numbers(sketch, self.drawing.traced), known, self.number(added))
        return [c for c in sketch.constraints if c.id in found] if found else None

    def deciding(self, kind: str, *of: str) -> list[Constraint] | None:
        """The same for a dimension or constraint between places."""
        return self.deciders(Constraint(id="", kind=kind, of=of))  # type: ignore[arg-type]

    def told_by(self, deciders: list[Constraint] | None) -> str:
        """What decides, in words; "" for nothing."""
        if deciders is None:
            return ""
        return "; ".join(self.words(c) for c in deciders) or "the axes and what is traced"

    def decided(self, kind: str, *of: str) -> str:
        """What decides already how long or wide something is, in words; "" when a dimension there says something new."""
        return self.told_by(self.deciding(kind, *of))

    def read_out(self, kind: str, *of: str, name: str = "") -> str:
        """A figure that is shown, may be named in expressions, and decides nothing."""
        return self.drawing.constrain(kind, *of, name=name, reads=True)

    def constraints(self) -> list[entities.Constraint]:
        """What holds now, as numbers; read-outs and counts hold nothing."""
        return [self.number(c) for c in self.drawing.sketch.constraints if c.solves]

    def number(self, c: Constraint) -> entities.Constraint:
        """A constraint as the solver reads it."""
        value = self.values.get(c.id, 0.0) if c.kind in DIMENSIONS else None
        return entities.Constraint(c.id, c.kind, c.of, value, c.branch)

    def words(self, c: Constraint) -> str:
        """A constraint with what it holds, as the window says it."""
        return holds(self.drawing.sketch, c, self.values.get(c.id) if c.value is not None else None)

    # --- taking away ----------------------------------------------------------------------------------

    def delete(self, curve: str) -> None:
        """Take a curve away, with the constraints that name it; of copies only the pair that it belongs to.

        Raises:
            UserFault: it is gone already.
        """
        sketch = self.drawing.sketch
        if curve not in sketch.curves:
            raise UserFault("this curve is not there any more", sketch.name)
        self.drawing.sketch = edits.replace(
            sketch,
            curves={k: c for k, c in sketch.curves.items() if k != curve},
            constraints=tuple(kept for c in sketch.constraints if (kept := _without(c, curve)) is not None),
        )

    def release(self, key: str) -> None:
        """Take a constraint or dimension away.

        Raises:
            UserFault: it is gone already.
        """
        sketch = self.drawing.sketch
        kept = tuple(c for c in sketch.constraints if c.id != key)
        if len(kept) == len(sketch.constraints):
            raise UserFault("this constraint is not there any more", sketch.name)
        self.drawing.sketch = edits.replace(sketch, constraints=kept)

    def shorten(self, line: str, end: str, to: XY) -> None:
        """Move an end of a line to another place along it, letting go of what the end was joined to and how long it was."""
        self.let_go(line, end)
        sketch = self.drawing.sketch
        moved = edits.replace(sketch.curves[line], **{end: (tolerance.length(to[0]), tolerance.length(to[1]))})
        self.drawing.sketch = edits.replace(sketch, curves={**sketch.curves, line: moved})

    def let_go(self, curve: str, end: str) -> None:
        """Let go of what an end is joined to and of how long the curve is; what else met there stays together."""
        sketch = self.drawing.sketch
        place = point_on(curve, end)
        own = {curve, point_on(curve, "start"), point_on(curve, "end")}
        lengths = ("distance", "arc_length")
        kept = tuple(c for c in sketch.constraints if not (place in c.of or (c.kind in lengths and set(c.of) <= own)))
        joined = [p for c in sketch.constraints if c.kind == "coincident" and place in c.of for p in c.of if p != place]
        self.drawing.sketch = edits.replace(sketch, constraints=kept)
        for other in joined[1:]:
            self.try_constraint("coincident", joined[0], other)

    def _now(self, made: Constraint, text: str) -> float:
        """What a new dimension asks for; 0 when that cannot be said before the family is evaluated."""
        try:
            return self.measure(text, quantity_of(made.kind))
        except UserFault:
            return 0.0

    def measure(self, text: str, quantity: str = "length") -> float:
        """The value of a typed length (mm) or angle (rad) as it stands; names count with their present values.

        Raises:
            UserFault: it cannot be read.
        """
        return measured(self.stored(), self.drawing.sketch, text, quantity, [self.at])[0]

    def toggle_helper(self, curves: list[str]) -> None:
        """Make curves helpers, or all of them drawn again when they are."""
        sketch = self.drawing.sketch
        known = {k: c for k in curves if (c := sketch.curves.get(k)) is not None}
        helper = not all(c.helper for c in known.values())
        changed = {k: edits.replace(c, helper=helper) for k, c in known.items()}
        self.drawing.sketch = edits.replace(sketch, curves={**sketch.curves, **changed})


def _without(c: Constraint, curve: str) -> Constraint | None:
    """A constraint when a curve is gone: copies go on as long as there are any, all else that names it goes too."""
    if all(curve_of(p) != curve for p in c.of):
        return c
    if c.kind not in kinds.IMAGES:
        return None
    pairs = images.pairs_of(c.kind, c.of)
    first = c.of[: len(c.of) - 2 * len(pairs)]
    kept = [p for p in pairs if curve not in p]
    return (
        edits.replace(c, of=(*first, *(k for p in kept for k in p)))
        if kept and all(curve_of(p) != curve for p in first)
        else None
    )


def drawn(sketch: Sketch) -> SketchResult:
    """A sketch where it was drawn, unsolved: what there is to work on while its constraints disagree."""
    curves = {}
    for key, curve in sketch.curves.items():
        if isinstance(curve, Trace):
            kind = {2: "point", 3: "circle", 4: "line", 7: "arc"}.get(len(curve.drawn))
            if kind:
                curves[key] = CurveResult(kind, curve.drawn, curve.helper, fixed=True)
        else:
            curves[key] = drawn_result(curve)
    return SketchResult(curves, 0, (), 0.0, ())


def begin(family: Family, at: Scope, sketch_id: str, evaluation: Evaluation, make_id: IdSource = new_id) -> Sketching:
    """Start editing a sketch from what an evaluation shows of it."""
    sketch = sketch_of(family, at, sketch_id)
    solved = evaluation.value(Node("solve", at, sketch_id))
    values = {
        c.id: evaluation.value(Node("value", at, c.id)) for c in sketch.constraints if c.value is not None or c.reads
    }
    known = {k: float(v) for k, v in values.items() if v is not None}
    found = solved if isinstance(solved, SketchResult) else None
    return Sketching(family, at, sketch_id, found, known, make_id)
