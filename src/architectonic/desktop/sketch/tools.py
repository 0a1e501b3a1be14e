"""The drawing tools of the sketch canvas as data: what each click means, and what is drawn with all of them."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from architectonic.base.places import X_AXIS, point_on
from architectonic.session.sketch import shapes
from architectonic.session.sketch.sketching import Sketching
from architectonic.session.sketch.snapping import Snapped
from architectonic.session.sketch.trimming import extend, split, trim

Of = dict[str, tuple[str, ...]]
"""Places of the dimension that each typed size becomes."""


@dataclass(frozen=True)
class Clicks:
    """What a tool was given.

    Attributes:
        at: where the clicks landed; plain: inference is held off.
        typed: words of the sizes that were typed; sides, words, height, near: what the tool was asked for before.
    """

    at: list[Snapped]
    plain: bool = False
    typed: frozenset[str] = frozenset()
    sides: int = 6
    words: str = ""
    height: str = ""
    near: float = 0.0


@dataclass(frozen=True)
class Tool:
    """A drawing tool.

    Attributes:
        title: its name; clicks: what each click means; draw: what it does with them.
        sizes: word and dimension of each size that can be typed at the last click.
        rims: clicks that an outline passes through: they keep to points, and to nothing else that they are near.
        many: the last click is asked for again and again, until Enter.
        picks: it clicks on curves and does not snap.
        verb: how an edit by it is called.
    """

    title: str
    clicks: tuple[str, ...]
    draw: Callable[[Sketching, Clicks], Of | None]
    sizes: tuple[tuple[str, str], ...] = ()
    rims: tuple[int, ...] = ()
    many: bool = False
    picks: bool = False
    verb: str = ""


def _line(s: Sketching, c: Clicks) -> Of:
    key = s.line(c.at[0], c.at[1], infer=not c.plain and "angle" not in c.typed)
    return {"length": (key,), "angle": (X_AXIS, key)}


def _rectangle(s: Sketching, c: Clicks) -> Of:
    sides = s.rectangle(c.at[0], c.at[1])
    return {"width": (sides[0],), "height": (sides[1],)}


def _rectangle_about(s: Sketching, c: Clicks) -> Of:
    sides = shapes.rectangle_about(s, c.at[0], c.at[1])
    return {"width": (sides[0],), "height": (sides[1],)}


def _rectangle_along(s: Sketching, c: Clicks) -> Of:
    sides = shapes.rectangle_along(s, c.at[0], c.at[1], c.at[2])
    return {"length": (sides[0],), "width": (sides[1],)}


def _circle(s: Sketching, c: Clicks) -> Of:
    key = s.circle(c.at[0], math.dist(c.at[0].at, c.at[1].at))
    shapes.pass_through(s, key, c.at[1])
    return {"diameter": (key,)}


def _circle_through(s: Sketching, c: Clicks) -> None:
    shapes.circle_through(s, c.at)


def _circle_touching(s: Sketching, c: Clicks) -> None:
    shapes.circle_touching(s, c.at)


def _arc(s: Sketching, c: Clicks) -> Of:
    return {"radius": (s.arc(c.at[0], c.at[1], c.at[2]),)}


def _arc_through(s: Sketching, c: Clicks) -> Of:
    return {"radius": (shapes.arc_through(s, c.at[0], c.at[1], c.at[2]),)}


def _arc_onwards(s: Sketching, c: Clicks) -> Of:
    return {"radius": (shapes.arc_onwards(s, c.at[0], c.at[1]),)}


def _slot(s: Sketching, c: Clicks) -> Of:
    low, end, _, _ = shapes.slot(s, c.at[0], c.at[1], c.at[2].at)
    return {"length": (low,), "radius": (end,)}


def _curved_slot(s: Sketching, c: Clicks) -> Of:
    _, _, first, _ = shapes.curved_slot(s, c.at[0], c.at[1], c.at[2], c.at[3].at)
    return {"radius": (first,)}


def _polygon(s: Sketching, c: Clicks) -> Of:
    return {"side": (shapes.polygon(s, c.at[0], c.at[1], c.sides)[0],)}


def _ellipse(s: Sketching, c: Clicks) -> Of:
    key = shapes.ellipse(s, c.at[0], c.at[1], c.at[2])
    return {
        "first half axis": (point_on(key, "centre"), point_on(key, "along")),
        "second half axis": (point_on(key, "centre"), point_on(key, "across")),
    }


def _elliptic_arc(s: Sketching, c: Clicks) -> None:
    shapes.elliptic_arc(s, c.at)


def _through(s: Sketching, c: Clicks) -> None:
    shapes.spline(s, c.at, True)


def _controlled(s: Sketching, c: Clicks) -> None:
    shapes.spline(s, c.at, False)


def _text(s: Sketching, c: Clicks) -> None:
    shapes.text(s, c.at[0], c.words, c.height)


def _point(s: Sketching, c: Clicks) -> None:
    s.point(c.at[0])


def _trim(s: Sketching, c: Clicks) -> None:
    trim(s, c.at[0].under, c.at[0].at)


def _extend(s: Sketching, c: Clicks) -> None:
    extend(s, c.at[0].under, c.at[0].at)


def _split(s: Sketching, c: Clicks) -> None:
    split(s, c.at[0].under, c.at[0].at, c.near)


_WIDE = (("width", "distance"), ("height", "distance"))
_RADIUS = (("radius", "radius"),)
TOOLS = {
    "line": Tool("Line", ("first point", "second point (Alt: only where it is)"), _line, (("length", "distance"), ("angle", "angle"))),
    "rectangle": Tool("Rectangle", ("first corner", "opposite corner"), _rectangle, _WIDE),
    "rectangle_about": Tool("Rectangle about a centre", ("centre", "a corner"), _rectangle_about, _WIDE),
    "rectangle_along": Tool("Slanted rectangle", ("first corner", "along its first side", "a point of the far side"), _rectangle_along, (("length", "distance"), ("width", "distance")), rims=(2,)),
    "circle": Tool("Circle", ("centre", "a point on it"), _circle, (("diameter", "diameter"),), rims=(1,)),
    "through": Tool("Circle through points", ("first point", "second point", "third point"), _circle_through, rims=(0, 1, 2)),
    "touching": Tool("Circle touching curves", ("first curve, near where it touches", "second curve or point", "third curve or point"), _circle_touching, rims=(0, 1, 2)),
    "arc": Tool("Arc about a centre", ("centre", "start", "end, counter-clockwise"), _arc, _RADIUS),
    "arc_through": Tool("Arc through points", ("start", "end", "a point in between"), _arc_through, _RADIUS, rims=(2,)),
    "arc_onwards": Tool("Arc onwards", ("the end of a curve to go on from", "end of the arc"), _arc_onwards, _RADIUS),
    "slot": Tool("Slot", ("first centre", "second centre", "a point of its outline"), _slot, (("length", "distance"), ("radius", "radius")), rims=(2,)),
    "curved_slot": Tool("Curved slot", ("centre of its bend", "first centre", "second centre, counter-clockwise", "a point of its outline"), _curved_slot, _RADIUS, rims=(3,)),
    "polygon": Tool("Polygon", ("centre", "a corner"), _polygon, (("side", "distance"),)),
    "ellipse": Tool("Ellipse", ("centre", "end of a half axis", "how far across"), _ellipse, (("first half axis", "distance"), ("second half axis", "distance")), rims=(2,)),
    "elliptic_arc": Tool("Part of an ellipse", ("centre", "end of a half axis", "how far across", "start", "end, counter-clockwise"), _elliptic_arc, rims=(2,), verb="draw part of an ellipse"),
    "spline": Tool("Curve through points", ("first point", "next point (Enter ends it)"), _through, many=True, verb="draw a curve"),
    "controlled": Tool("Curve by control points", ("first point", "next control point (Enter ends it)"), _controlled, many=True, verb="draw a curve"),
    "text": Tool("Text", ("start of its base line",), _text, verb="write a text"),
    "point": Tool("Point", ("where it stands",), _point),
    "trim": Tool("Trim", ("the part of a curve to take away",), _trim, picks=True, verb="trim a curve"),
    "extend": Tool("Lengthen", ("a line or arc, near the end to lengthen",), _extend, picks=True, verb="lengthen a curve"),
    "split": Tool("Split", ("the place on a curve to part it at",), _split, picks=True, verb="split a curve"),
}  # fmt: skip
GROUPS = (
    ("line",),
    ("rectangle", "rectangle_about", "rectangle_along"),
    ("circle", "through", "touching"),
    ("arc", "arc_through", "arc_onwards"),
    ("slot", "curved_slot"),
    ("polygon",),
    ("ellipse", "elliptic_arc"),
    ("spline", "controlled"),
    ("text",),
    ("point",),
    ("trim", "extend", "split"),
)
"""Tools that share a button, in the order of the verb bar."""
SHORT = {"spline": "Curve", "controlled": "Control points", "elliptic_arc": "Ellipse part", "rectangle_about": "Centred rectangle", "through": "Circle through", "touching": "Circle touching", "arc": "Arc"}  # fmt: skip
"""Titles on a button, where they differ."""


def told(key: str) -> str:
    """What the clicks of a tool mean, in one line."""
    line = ", then ".join(click.split(" (")[0] for click in TOOLS[key].clicks)
    return f"{line[0].upper()}{line[1:]}."


def called(key: str) -> str:
    """How an edit by a tool is called."""
    tool = TOOLS[key]
    name = tool.title[0].lower() + tool.title[1:]
    return tool.verb or f"draw {'an' if name[0] in 'aeiou' else 'a'} {name}"
