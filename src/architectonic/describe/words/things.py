"""Blanks that are filled with things: several that are picked, or one from a list."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource
from architectonic.describe.words import candidates
from architectonic.describe.words.accepts import Accepts, accepting
from architectonic.describe.words.blanks import Blank, Telling, counted
from architectonic.describe.words.candidates import Choosing, Named
from architectonic.describe.words.sentences import target, text
from architectonic.family import edits, names
from architectonic.family.operations.bodies.move import Move
from architectonic.family.operations.solids.shell import OwnWall
from architectonic.family.records import ORIGIN, Expression, Family, Model, Reference, Sketch
from architectonic.family.walk import surfaces_of


@dataclass(frozen=True, repr=False)
class Picked(Blank):
    """Things picked in the canvas, any number of them."""

    shape: ClassVar[str] = "picks"
    several: ClassVar[bool] = True
    noun: ClassVar[str] = ""

    @property
    def hint(self) -> str:
        """Several of its kind."""
        return f"{self.noun}s"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """Nothing is picked at first."""
        return {self.field: ()}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """How many, and of what."""
        return counted(len(value), self.noun) if value else ""

    def meant(self, document: Model, reference: Reference) -> Reference:
        """What a click on something puts in."""
        return reference


class Regions(Picked):
    """Regions of sketches, and flat faces; a row speaks of bodies, not of what they come from."""

    noun: ClassVar[str] = "region"
    accepts: ClassVar[Accepts] = accepting("face", "region", "regions of sketches or flat faces")

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Nothing: what it comes from is seen on hover."""
        return ""


class Faces(Picked):
    """Faces."""

    noun: ClassVar[str] = "face"
    accepts: ClassVar[Accepts] = accepting("face", "", "faces")


class FacesOrSurfaces(Faces):
    """Faces of solids, and whole surfaces: a click on a face of a surface means all of it."""

    accepts: ClassVar[Accepts] = accepting("face", "", "faces, or a surface for all of it")

    def meant(self, document: Model, reference: Reference) -> Reference:
        """All of a surface."""
        if reference.item in surfaces_of(document):
            return Reference(item=reference.item, stage="here")
        return reference

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The names of surfaces, else how many faces."""
        bodies = to.document.bodies
        whole = [bodies[r.item].name if r.item in bodies else "a surface" for r in value if not r.label]
        faces = len(value) - len(whole)
        return ", ".join([*whole, *([counted(faces, "face")] if faces else [])])


class Points(Picked):
    """Points."""

    noun: ClassVar[str] = "point"
    accepts: ClassVar[Accepts] = accepting("vertex", "point end", "points, ends and vertices")


class Cutters(Picked):
    """Planes and faces."""

    noun: ClassVar[str] = "plane"
    accepts: ClassVar[Accepts] = accepting("face", "plane sketch", "planes and faces")


class Edges(Picked):
    """Edges."""

    noun: ClassVar[str] = "edge"
    accepts: ClassVar[Accepts] = accepting("edge", "", "edges")


class PathBlank(Picked):
    """Edges and curves that meet end to end."""

    noun: ClassVar[str] = "piece"
    accepts: ClassVar[Accepts] = accepting("edge", "curve path", "edges, curves or a path, that meet end to end")

    @property
    def hint(self) -> str:
        """What they may be."""
        return "edges or curves"


class Walls(Faces):
    """Faces with a wall of a thickness of its own."""

    shape: ClassVar[str] = "walls"

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """The first thickness, and at how many faces."""
        return f"{text(to.family, to.document, value[0].thickness)} at {counted(len(value), 'face')}" if value else ""

    def typed(self, family: Family, document: Model, text: str) -> Expression:
        """The thickness."""
        bound = names.bind_quantity(family, document, text, "length", "mm")
        edits.refuse_not_positive(bound, "length", "thickness of a wall")
        return bound

    def stored(self, faces: tuple[Reference, ...], thickness: Expression) -> tuple[OwnWall, ...]:
        """Walls of one thickness."""
        return tuple(OwnWall(face=r, thickness=thickness) for r in faces)


@dataclass(frozen=True, repr=False)
class One(Blank):
    """One thing, from a list or by a click."""

    standard: ClassVar[str] = ""

    @property
    def hint(self) -> str:
        """One of its kind."""
        return f"a {'thing' if self.keyword == 'text' else self.keyword}"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """What every document has of it."""
        return {} if self.optional or not self.standard else {self.field: Reference(item=self.standard)}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """What it means, in words."""
        return "" if value is None else target(to.family, to.document, value)


class PlaneBlank(One):
    """A plane or a flat face."""

    standard: ClassVar[str] = "top"
    keyword: ClassVar[str] = "plane"
    accepts: ClassVar[Accepts] = accepting("face", "plane sketch", "a flat face or a plane", flat=True)

    def candidates(self, of: Choosing) -> Named:
        """Everything flat."""
        return candidates.planes(of)


class Cutter(PlaneBlank):
    """A plane or a face of any kind."""

    accepts: ClassVar[Accepts] = accepting("face", "plane sketch", "a plane or a face")


class LineBlank(One):
    """A line or an axis, also that of something round."""

    standard: ClassVar[str] = "z"
    keyword: ClassVar[str] = "line"
    accepts: ClassVar[Accepts] = accepting(
        "edge face", "curve axis", "an edge, a line, an axis or a round face", round=True
    )

    def candidates(self, of: Choosing) -> Named:
        """Everything that has a direction."""
        return candidates.lines(of)


class AlongBlank(LineBlank):
    """A direction to go along."""

    standard: ClassVar[str] = "x"


class AcrossBlank(LineBlank):
    """A second direction."""

    standard: ClassVar[str] = "y"


class PointBlank(One):
    """A point."""

    standard: ClassVar[str] = ORIGIN
    keyword: ClassVar[str] = "point"
    accepts: ClassVar[Accepts] = accepting(
        "vertex edge", "point end", "a vertex, an end, a point or a round edge for its centre"
    )

    def candidates(self, of: Choosing) -> Named:
        """Points, ends and centres."""
        return candidates.points(of)


class RoundFace(One):
    """A face that has an axis."""

    keyword: ClassVar[str] = "face"
    accepts: ClassVar[Accepts] = accepting("face", "", "a round face", round=True)

    def candidates(self, of: Choosing) -> Named:
        """Picked faces that are round."""
        return candidates.round_faces(of)


class PlaceBlank(One):
    """A point, a line or a plane."""

    standard: ClassVar[str] = ORIGIN
    keyword: ClassVar[str] = "place"
    accepts: ClassVar[Accepts] = accepting(
        "vertex edge face", "plane axis point curve end", "a vertex, an edge, a face, a plane, an axis or a point"
    )

    def candidates(self, of: Choosing) -> Named:
        """Everything that can be laid on something like it."""
        return candidates.places(of)


class SketchBlank(One):
    """A sketch."""

    keyword: ClassVar[str] = "sketch"
    accepts: ClassVar[Accepts] = accepting("", "sketch", "a sketch")

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The last sketch with points.

        Raises:
            UserFault: there is none.
        """
        found = [o for o in document.build if isinstance(o, Sketch) and candidates.has_points(o)]
        if not found:
            raise UserFault("there is no sketch with points", document.name, "draw points where members are wanted")
        return {self.field: Reference(item=found[-1].id)}

    def candidates(self, of: Choosing) -> Named:
        """Sketches with points."""
        return [
            (o.name, Reference(item=o.id))
            for o in of.before_marker
            if isinstance(o, Sketch) and candidates.has_points(o)
        ]


class Divider(One):
    """What bodies are split by: a plane, a face of any kind, or the lines of a sketch."""

    standard: ClassVar[str] = "front"
    keyword: ClassVar[str] = "divider"
    accepts: ClassVar[Accepts] = accepting("face", "plane sketch curve", "a face, a plane or a sketch")

    @property
    def hint(self) -> str:
        """What it may be."""
        return "a plane, a face or a sketch"

    def candidates(self, of: Choosing) -> Named:
        """Everything that bodies can be split by."""
        return candidates.dividers(of)


class EarlierMove(One):
    """An earlier move."""

    @property
    def hint(self) -> str:
        """What it is."""
        return "an earlier move"

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """The last one.

        Raises:
            UserFault: there is none.
        """
        found = [o for o in document.build if isinstance(o, Move)]
        if not found:
            raise UserFault("there is no move to take back", document.name, "move a body first")
        return {self.field: Reference(item=found[-1].id, stage="here")}

    def candidates(self, of: Choosing) -> Named:
        """All moves of the build list."""
        moves = [o for o in of.build if isinstance(o, Move)]
        return [(o.name, Reference(item=o.id, stage="here")) for o in moves]
