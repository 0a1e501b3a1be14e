"""Moving, turning, scaling and copying curves, also from one sketch or document into another; forking a sketch.

What no longer holds where the curves come to stand is let go of and told; all else stays.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import msgspec

from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.base.places import curve_of, curves_of, point_of, point_on
from architectonic.describe.drawn.curves import mapped
from architectonic.describe.drawn.drawing import numbers
from architectonic.describe.drawn.readings import XY, measured
from architectonic.family import edits
from architectonic.family.names import free_name
from architectonic.family.records import (
    SELF,
    Constraint,
    Curve,
    Expression,
    Family,
    Layout,
    Part,
    Sketch,
    Trace,
    quantity_of,
)
from architectonic.session.sketch.sketching import Sketching, drawn
from architectonic.sketch.solving import entities
from architectonic.sketch.solving.system import System


class Similarity(NamedTuple):
    """A move of the plane: turned and scaled about a point, then moved."""

    about: XY = (0.0, 0.0)
    turn: float = 0.0
    factor: float = 1.0
    by: XY = (0.0, 0.0)

    def at(self, p: XY) -> XY:
        """Where a point comes to stand."""
        c, s = self.factor * math.cos(self.turn), self.factor * math.sin(self.turn)
        x, y = p[0] - self.about[0], p[1] - self.about[1]
        return self.about[0] + c * x - s * y + self.by[0], self.about[1] + s * x + c * y + self.by[1]


def change(editing: Sketching, curves: list[str], how: Similarity) -> list[str]:
    """Move chosen curves; dimensions of plain numbers among them are scaled along.

    Returns:
        What was let go of because it does not hold any more, in words.

    Raises:
        UserFault: nothing that is drawn here is chosen, or scaling by nothing.
    """
    sketch = editing.drawing.sketch
    if abs(how.factor) < tolerance.FEATURE:
        raise UserFault("curves are scaled by a factor above zero", sketch.name)
    chosen = {k for k in curves if k in sketch.curves and not isinstance(sketch.curves[k], Trace)}
    if not chosen:
        raise UserFault("there is nothing to move", sketch.name, "choose curves that are drawn here")
    moved = {k: mapped(c, how.at, how.factor) if k in chosen else c for k, c in sketch.curves.items()}
    changed = edits.replace(sketch, curves=moved)
    values = dict(editing.values)
    constraints: list[Constraint] = []
    lost: list[str] = []
    for c in sketch.constraints:
        inside = curves_of(c.of) <= chosen
        if inside and how.factor != 1.0 and c.value is not None and quantity_of(c.kind) == "length":
            c = edits.replace(c, value=_scaled(c.value, how.factor))
            values[c.id] = values.get(c.id, 0.0) * how.factor
        constraints.append(c)
    editing.values = values
    curves_now = numbers(changed, editing.drawing.traced)
    size = max([abs(v) for c in curves_now for v in c.values] + [1.0])
    kept = []
    for c in constraints:
        if not c.solves or c.kind == "fix" or _holds(curves_now, editing.number(c), size):
            kept.append(c)
        else:
            lost.append(editing.words(c))
    editing.drawing.sketch = edits.replace(changed, constraints=tuple(kept))
    return lost


def _holds(curves: list[entities.Curve], c: entities.Constraint, size: float) -> bool:
    """Whether a constraint is true where curves stand; a fix always is."""
    given = System(curves, [c])
    return all(abs(r) < tolerance.MODELLING * size for r, _ in given.rows(c, given.x))


def _scaled(value: Expression, factor: float) -> Expression:
    return edits.replace(value, text=f"({value.text}) * {factor:.9g}")


def duplicate(editing: Sketching, curves: list[str], how: Similarity) -> list[str]:
    """Loose copies of curves with the constraints among them, elsewhere."""
    made = paste(editing, cut_out(editing, curves))
    change(editing, made, how)
    return made


# --- between sketches -----------------------------------------------------------------------------------


class Clip(msgspec.Struct, frozen=True, kw_only=True):
    """Curves with the constraints among them, as they travel through the clipboard."""

    architectonic: str = "curves"
    document: str
    curves: dict[str, Curve]
    constraints: tuple[Constraint, ...]


def cut_out(editing: Sketching, curves: list[str]) -> str:
    """Chosen curves and what holds among them, as text.

    Raises:
        UserFault: nothing that is drawn here is chosen.
    """
    sketch = editing.drawing.sketch
    chosen: dict[str, Curve] = {
        k: c for k in curves if (c := sketch.curves.get(k)) is not None and not isinstance(c, Trace)
    }
    if not chosen:
        raise UserFault("there is nothing to copy", sketch.name, "choose curves that are drawn here")
    inner = tuple(c for c in sketch.constraints if c.kind != "fix" and curves_of(c.of) <= set(chosen))
    clip = Clip(document=editing.at.document, curves=chosen, constraints=inner)
    return msgspec.json.encode(clip).decode("utf-8")


def paste(editing: Sketching, text: str) -> list[str]:
    """Curves from the clipboard, with what holds among them; names of dimensions that are taken get a number.

    Raises:
        UserFault: the clipboard holds no curves.
    """
    sketch = editing.drawing.sketch
    try:
        clip = msgspec.json.decode(text, type=Clip)
    except (msgspec.DecodeError, UnicodeError):
        raise UserFault("the clipboard holds no curves", sketch.name, "copy curves of a sketch first") from None
    key_of = {k: editing.drawing.add(c) for k, c in clip.curves.items()}
    ids = {c.id: editing.drawing.new_id() for c in clip.constraints}
    taken = [c.name for c in sketch.constraints if c.name]
    made = []
    for c in clip.constraints:
        of = tuple(point_on(key_of[curve_of(p)], point_of(p)) for p in c.of)
        name = free_name(c.name, taken) if c.name else ""
        taken += [name] if name else []
        value = carried(c.value, ids, clip.document, editing.at.document, editing.family) if c.value else None
        made.append(edits.replace(c, id=ids[c.id], of=of, name=name, value=value))
    now = editing.drawing.sketch
    editing.drawing.sketch = edits.replace(now, constraints=(*now.constraints, *made))
    here = drawn(editing.drawing.sketch)
    editing.values |= {c.id: measured(here, c.kind, c.of) for c in made if c.value is not None}
    return list(key_of.values())


def carried(value: Expression, ids: dict[str, str], source: str, target: str, family: Family) -> Expression:
    """An expression in another document: what it named at home is named from outside; what came along, here.

    Raises:
        UserFault: it takes from a document that is not in this family.
    """
    refs = {}
    for name, ref in value.refs.items():
        if ref.item in ids:
            refs[name] = edits.replace(ref, document=SELF, item=ids[ref.item])
        elif ref.document != SELF or source == target:
            refs[name] = ref
        else:
            refs[name] = edits.replace(ref, document=source)
        if refs[name].document not in (SELF, *family.documents):
            raise UserFault(f"{name} is not in this family", "clipboard", "paste the curves within their family")
    return edits.replace(value, refs=refs)


def fork_sketch(family: Family, document: str, sketch_id: str, make_id: IdSource = new_id) -> tuple[Family, str]:
    """A copy of a whole sketch right after it, that shares nothing with it but what both take from elsewhere.

    Raises:
        UserFault: it is gone.
    """
    sketch = edits.operation(family, document, sketch_id)
    if not isinstance(sketch, Sketch):
        raise UserFault("this is not a sketch", sketch.name)
    model = edits.model(family, document)
    ids = {c.id: make_id() for c in sketch.constraints}
    constraints = tuple(
        edits.replace(c, id=ids[c.id], value=carried(c.value, ids, document, document, family) if c.value else None)
        for c in sketch.constraints
    )
    name = free_name(sketch.name, [o.name for o in model.build])
    made = edits.replace(sketch, id=make_id(), name=name, constraints=constraints)
    build = [o for old in model.build for o in ([old, made] if old.id == sketch_id else [old])]
    changed: Layout | Part = edits.replace(model, build=tuple(build))  # type: ignore[assignment]
    return edits.put(family, changed), made.id
