"""Sketches of an open family: drawn by calls, held by expressions, regions by what they are."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from architectonic.api.items import Item
from architectonic.api.offering import traced
from architectonic.api.repeating import Repeating
from architectonic.base.errors import UserFault
from architectonic.base.places import ORIGIN, X_AXIS, Y_AXIS, point_on
from architectonic.describe.drawn.curves import as_region
from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.drawn.readings import point_values
from architectonic.describe.results import Node, RegionResult, SketchResult
from architectonic.family import edits
from architectonic.family import records as r
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.feeds import tracing
from architectonic.session.feeds.tracing import Wish
from architectonic.session.sketch import offsets
from architectonic.session.sketch.sketching import Sketching, begin
from architectonic.session.tables.checks import come_to_now
from architectonic.sketch.curves import regions as areas
from architectonic.sketch.curves.section import Section, section_of

Length = str | float
"""An expression, or mm as a plain number where something is only drawn."""


@dataclass(frozen=True)
class Curve:
    """A curve of a sketch."""

    sketch: Sketch
    id: str

    @property
    def reference(self) -> r.Reference:
        """What points at it."""
        return r.Reference(item=self.sketch.id, label=self.id)

    @property
    def kind(self) -> str:
        """Line, arc, circle, ...; of a traced curve what it is here."""
        return self.sketch.solved.curves[self.id].kind

    @property
    def follows(self) -> bool:
        """Whether it is traced: it follows something and is not drawn here."""
        return isinstance(self.sketch.record.curves[self.id], r.Trace)

    def at(self, point: str) -> Place:
        """One of its points: start, end, centre, ..."""
        return Place(self.sketch, point_on(self.id, point))

    @property
    def start(self) -> Place:
        """Its start."""
        return self.at("start")

    @property
    def end(self) -> Place:
        """Its end."""
        return self.at("end")

    @property
    def centre(self) -> Place:
        """Its centre."""
        return self.at("centre")


@dataclass(frozen=True)
class Place:
    """A point of a curve of a sketch."""

    sketch: Sketch
    label: str

    @property
    def reference(self) -> r.Reference:
        """What points at it."""
        return r.Reference(item=self.sketch.id, label=self.label)

    @property
    def position(self) -> tuple[float, float]:
        """Where it is in the sketch's plane when solved, mm, with signs."""
        x, y = point_values(self.sketch.solved, self.label)
        return x, y


@dataclass(frozen=True)
class Region:
    """A closed area of a sketch.

    Attributes:
        area: mm2.
    """

    sketch: Sketch
    found: RegionResult

    def __repr__(self) -> str:
        return f"<region of {self.area:g} mm² of {self.sketch.name}>"

    @property
    def reference(self) -> r.Reference:
        """What points at it."""
        return r.Reference(item=self.sketch.id, label=self.found.label)

    @property
    def area(self) -> float:
        """In mm2."""
        return self.found.area

    @property
    def holes(self) -> int:
        """How many openings lie in it."""
        return len(self.found.loops) - 1

    @property
    def section(self) -> Section:
        """Area, centre and second moments of area."""
        return section_of(as_region(self.found).loops)


class Sketch(Item, Repeating):
    """A sketch of a model; every call is an edit that can be undone."""

    @property
    def record(self) -> r.Sketch:
        """It as immutable data."""
        found = super().record
        assert isinstance(found, r.Sketch)
        return found

    @property
    def solved(self) -> SketchResult:
        """Its solution in the document's size.

        Raises:
            UserFault: it gives no curves; says why.
        """
        node = Node("solve", self.model.at, self.id)
        outcome = self.model.opened.known(node).outcomes[node]
        if not isinstance(outcome.value, SketchResult):
            assert outcome.problem is not None
            raise UserFault(outcome.problem.what, f"{self.model.name} / {self.name}", outcome.problem.mend)
        return outcome.value

    @property
    def freedoms(self) -> int:
        """How many ways it can still move; 0 when it is held."""
        return self.solved.freedoms

    # --- drawing --------------------------------------------------------------------------------------

    def draw(self, what: str, change: Callable[[Drawing], Any]) -> Any:
        """Any calls of a Drawing, as one step that can be undone."""
        made: list[Any] = []

        def edit(family: r.Family) -> r.Family:
            drawing = Drawing(family, self.model.id, self.record, self.model.opened.new_id)
            made.append(change(drawing))
            return edits.replace_operation(family, self.model.id, drawing.sketch)

        self.model.apply(f"{what} in {self.name}", edit)
        return made[-1]

    def line(self, start: tuple[float, float], end: tuple[float, float], helper: bool = False) -> Curve:
        """A line between two points in mm; constraints hold it."""
        return Curve(self, self.draw("line", lambda d: d.line(start, end, helper)))

    def arc(self, centre: tuple[float, float], start: tuple[float, float], end: tuple[float, float]) -> Curve:
        """An arc, counter-clockwise."""
        return Curve(self, self.draw("arc", lambda d: d.arc(centre, start, end)))

    def point(self, at: tuple[float, float]) -> Curve:
        """A point."""
        return Curve(self, self.draw("point", lambda d: d.point(at)))

    def rectangle(
        self,
        width: str,
        height: str,
        at: tuple[Length, Length] = (0.0, 0.0),
        centred: bool = False,
        names: tuple[str, str] = ("", ""),
    ) -> tuple[Curve, Curve, Curve, Curve]:
        """A rectangle of a width and a height, held at its lower left corner or about its centre: bottom, right, top, left.

        Args:
            at: where the corner or the centre is; expressions, or mm as numbers.
            names: by which expressions may use its width and its height.

        Raises:
            UserFault: a size that is not positive or cannot be used.
        """
        w, h = self._length(width, "width"), self._length(height, "height")
        x, y = (self._number(v, "at") for v in at)
        left, low = (x - w / 2, y - h / 2) if centred else (x, y)

        def change(d: Drawing) -> tuple[str, ...]:
            sides = d.rectangle((left, low), (left + w, low + h))
            d.constrain("distance", sides[0], value=width, name=names[0])
            d.constrain("distance", sides[1], value=height, name=names[1])
            ways: list[Length] = (
                [f"{_as_text(at[0])} - ({width}) / 2", f"{_as_text(at[1])} - ({height}) / 2"] if centred else [*at]
            )
            self._hold(d, point_on(sides[0], "start"), (left, low), ways)
            return sides

        a, b, c, e = (Curve(self, k) for k in self.draw("rectangle", change))
        return a, b, c, e

    def circle(
        self, at: tuple[Length, Length] = (0.0, 0.0), diameter: str = "", radius: str = "", helper: bool = False
    ) -> Curve:
        """A circle of a diameter or a radius, held at its centre.

        Raises:
            UserFault: neither or both are given, or one cannot be used.
        """
        if bool(diameter) == bool(radius):
            raise UserFault("a circle has either a diameter or a radius", self.name, "give one of them")
        size = self._length(diameter or radius, "diameter" if diameter else "radius")
        centre = (self._number(at[0], "at"), self._number(at[1], "at"))

        def change(d: Drawing) -> str:
            key = d.circle(centre, size / 2 if diameter else size, helper)
            d.constrain("diameter" if diameter else "radius", key, value=diameter or radius)
            self._hold(d, point_on(key, "centre"), centre, list(at))
            return key

        return Curve(self, self.draw("circle", change))

    def _known(self) -> Evaluation:
        """Its solution and the values of its dimensions."""
        at, values = self.model.at, [c.id for c in self.record.constraints if c.value is not None]
        return self.model.opened.known(Node("solve", at, self.id), *(Node("value", at, v) for v in values))

    def trace(
        self,
        *things: Any,
        source: Any = None,
        offset: str = "",
        side: Literal["inside", "outside"] = "inside",
        own: bool = False,
        helper: bool = True,
        name: str = "",
    ) -> list[Curve]:
        """Trace curves into it: of another sketch of its document, of another document, or what a feed stands for.

        Args:
            source: the other document that they are of, which is fed.
            offset: also a chain at this distance, to the inside or the outside of what is traced.
            own: as curves of its own, which follow nothing.
            helper: whether the traced ones bound no regions themselves; with an offset they never do.
            name: of the feed.

        Returns:
            The traced curves; with an offset those of the chain.

        Raises:
            UserFault: something cannot be traced, or the offset has no room.
        """
        model = self.model
        at = (source or model).at
        found = [traced(at, thing) for thing in things]
        wish = Wish(own=own, helper=helper, offset=offset, side=side, name=name)
        before = list(self.record.curves)

        def change(family: r.Family) -> r.Family:
            return tracing.trace(family, model.at, self.id, found, wish, model.opened.new_id)

        model.apply(f"trace into {self.name}", change)
        made = [Curve(self, k) for k in self.record.curves if k not in before]
        return made[len(found) :] if offset else made

    def offset(self, *curves: Curve, by: str, side: Literal["inside", "outside"] = "inside") -> list[Curve]:
        """A chain at a distance from curves, which follows them.

        Raises:
            UserFault: there is no room for it.
        """
        before = list(self.record.curves)

        self._edited("offset", lambda s: offsets.offset_all(s, [c.id for c in curves], by, side == "inside"))
        return [Curve(self, k) for k in self.record.curves if k not in before]

    def copied(self, what: str, change: Callable[[Sketching], list[str]]) -> list[Curve]:
        """The curves that an edit made."""
        return [Curve(self, k) for k in self._edited(what, change)]

    @staticmethod
    def key_of(thing: Any) -> str:
        """The id of a curve, or of a point of one."""
        return _place(thing)

    def _edited(self, what: str, change: Callable[[Sketching], Any]) -> Any:
        made: list[Any] = []

        def edit(family: r.Family) -> r.Family:
            editing = begin(family, self.model.at, self.id, self._known(), self.model.opened.new_id)
            made.append(change(editing))
            return editing.stored()

        self.model.apply(f"{what} in {self.name}", edit)
        return made[-1]

    def helpers(self, *curves: Curve, on: bool = True) -> None:
        """Make curves helpers, which bound no regions; or drawn ones again."""
        chosen = {c.id for c in curves}

        def change(family: r.Family) -> r.Family:
            record = self.record
            held = {k: edits.replace(c, helper=on) if k in chosen else c for k, c in record.curves.items()}
            return edits.replace_operation(family, self.model.id, edits.replace(record, curves=held))

        self.model.apply(f"helpers in {self.name}", change)

    def constrain(self, kind: str, *of: Any, value: str = "", name: str = "") -> str:
        """A constraint or dimension between curves and points: `constrain("distance", line, value="wall", name="w")`.

        Curves and points of this sketch, or the words origin, x_axis and y_axis. One that says nothing new, or that cannot
        hold, is refused.

        Raises:
            UserFault: it cannot be; says why. Nothing changed.
        """
        places = tuple(_place(p) for p in of)
        if value and not isinstance(value, str):
            raise UserFault(f"{value!r} is no expression", kind, f"write it as text, such as “{value} mm”")
        return str(self._edited(kind, lambda s: s.constrain(kind, *places, value=value or None, name=name)))

    def read_out(self, kind: str, *of: Any, name: str = "") -> str:
        """A dimension that shows a figure and decides nothing; under a name, expressions and `value` read it."""
        places = tuple(_place(p) for p in of)
        return str(self._edited(f"{kind} read out", lambda s: s.read_out(kind, *places, name=name)))

    def _hold(self, d: Drawing, place: str, drawn: tuple[float, float], ways: list[Length]) -> None:
        """Keep a point where it is from the origin, by expressions with signs."""
        if drawn == (0.0, 0.0) and not any(isinstance(v, str) for v in ways):
            d.constrain("coincident", place, ORIGIN)
            return
        for kind, value, away, axis in zip(
            ("horizontal_distance", "vertical_distance"), ways, drawn, (Y_AXIS, X_AXIS), strict=True
        ):
            if away == 0.0:
                d.constrain("on_curve", place, axis)
                continue
            text = _as_text(value)
            d.constrain(kind, ORIGIN, place, value=text if away > 0 else f"-({text})")

    def _length(self, text: Any, what: str) -> float:
        if not isinstance(text, str):
            raise UserFault(
                f"{text!r} is no expression", f"{self.name}, {what}", f"write it as text, such as “{text} mm”"
            )
        found = come_to_now(self.model.opened.family, self.model.id, text)
        if not found > 0:
            raise UserFault(f"the {what} is {found:g} mm", self.name, f"give a positive {what}")
        return found

    def _number(self, value: Length, what: str) -> float:
        if isinstance(value, str):
            return come_to_now(self.model.opened.family, self.model.id, value)
        if not isinstance(value, (int, float)) or not math.isfinite(value):
            raise UserFault(f"{value!r} is no place", f"{self.name}, {what}", "give mm as a number, or an expression")
        return float(value)

    # --- results --------------------------------------------------------------------------------------

    @property
    def curves(self) -> list[Curve]:
        """All curves, in the order in which they were drawn."""
        return [Curve(self, key) for key in self.record.curves]

    def curve(self, key: str) -> Curve:
        """A curve by its id, as `draw` returns it."""
        return Curve(self, key)

    @property
    def regions(self) -> list[Region]:
        """Its closed areas, the largest first."""
        return [Region(self, found) for found in sorted(self.solved.regions, key=lambda f: -f.area)]

    def region(self, containing: tuple[float, float] | None = None) -> Region:
        """The largest closed area, or the one that a point lies in.

        Raises:
            UserFault: there is none.
        """
        for found in self.regions:
            loops = as_region(found.found).loops
            if containing is None or (
                areas.contains(loops[0], containing) and not any(areas.contains(hole, containing) for hole in loops[1:])
            ):
                return found
        told = "no region lies there" if containing is not None else "it has no closed area"
        raise UserFault(told, f"{self.model.name} / {self.name}", "close the outline, or give another point")


def _as_text(value: Length) -> str:
    return value if isinstance(value, str) else f"{value:.12g} mm"


def _place(thing: Any) -> str:
    if isinstance(thing, Curve):
        return thing.id
    if isinstance(thing, Place):
        return thing.label
    if isinstance(thing, str):
        return thing
    raise UserFault(f"{thing!r} is no curve or point of a sketch", "", "give what line(), circle() and .start return")
