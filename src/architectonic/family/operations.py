"""Records of build lists: sketches, datums, pictures, and what is done to bodies."""

from __future__ import annotations

from typing import Literal

from architectonic.family.drawn import Constraint, Curve
from architectonic.family.placements import AnyAxis, AnyPlane, AnyPoint
from architectonic.family.references import Expression, Record, Reference


class Switch(Record, frozen=True, kw_only=True):
    """Whether an operation is on: by default, and per size or row."""

    default: bool = True
    own: dict[str, bool] = {}


class Operation(Record, frozen=True, kw_only=True):
    """Common to all entries of a build list.

    Attributes:
        stretch: the heading that it stands under, with its neighbours of the same; "" for none.
    """

    id: str
    name: str
    switch: Switch = Switch()
    stretch: str = ""


class Sketch(Operation, tag="sketch", tag_field="kind", frozen=True, kw_only=True):
    """Curves on a plane.

    Attributes:
        plane: a standard plane, a datum, a planar face or a socket holding one.
        along: which document axis gives the sketch's x, stored as a choice when made.
    """

    plane: Reference
    along: Literal["x", "y"] = "x"
    curves: dict[str, Curve] = {}
    constraints: tuple[Constraint, ...] = ()


class Datum(Operation, tag="datum", tag_field="kind", frozen=True, kw_only=True):
    """A named plane, axis or point."""

    by: AnyPlane | AnyAxis | AnyPoint

    @property
    def gives(self) -> Literal["plane", "axis", "point"]:
        """What it is."""
        return "axis" if isinstance(self.by, AnyAxis) else "point" if isinstance(self.by, AnyPoint) else "plane"


class Underlay(Operation, tag="underlay", tag_field="kind", frozen=True, kw_only=True):
    """A picture on a plane, to draw over.

    Attributes:
        plane, along: as those of a sketch.
        file: in the folder `files/` of the family.
        pixels: its width and height.
        at: its lower left corner on the plane, mm, before it is turned about that corner.
        width: how wide the whole picture is.
        turn: rad, counter-clockwise.
        crop: shares of the picture that are left out at its left, bottom, right and top.
    """

    plane: Reference
    along: Literal["x", "y"] = "x"
    file: str
    pixels: tuple[int, int]
    at: tuple[float, float] = (0.0, 0.0)
    width: Expression
    turn: float = 0.0
    opacity: float = 0.5
    crop: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)


# --- what is done to bodies -----------------------------------------------------------------------------


class BodyOperation(Operation, frozen=True, kw_only=True):
    """Common to operations that make or change bodies."""

    @property
    def makes(self) -> tuple[str, ...]:
        """Ids of the bodies that come from it."""
        return ()

    @property
    def changes(self) -> tuple[str, ...]:
        """Ids of the bodies that it acts on."""
        return ()


Does = Literal["make", "add", "cut", "overlap"]


class Solid(BodyOperation, frozen=True, kw_only=True):
    """Something solid, and what it does.

    Attributes:
        does: make a body, add to, cut from, or keep the overlap with bodies.
        acts_on: ids of the bodies it changes; for "make", the id of the body it makes.
    """

    does: Does
    acts_on: tuple[str, ...]

    @property
    def makes(self) -> tuple[str, ...]:
        """The body of its own."""
        return self.acts_on if self.does == "make" else ()

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return () if self.does == "make" else self.acts_on


class Distance(Record, tag="distance", tag_field="kind", frozen=True, kw_only=True):
    """An end at a distance from the sketch's plane, along the direction of that side."""

    value: Expression


class ToFace(Record, tag="face", tag_field="kind", frozen=True, kw_only=True):
    """An end on a planar face, datum or point, extended as needed; `offset` carries on in the extrusion's direction."""

    target: Reference
    offset: Expression | None = None


class Through(Record, tag="through", tag_field="kind", frozen=True, kw_only=True):
    """An end beyond everything it acts on."""


class ToNext(Record, tag="next", tag_field="kind", frozen=True, kw_only=True):
    """An end where the first material begins, for what is added; where it ends, for what is cut."""


class Symmetric(Record, tag="symmetric", tag_field="kind", frozen=True, kw_only=True):
    """The near side mirrors the far side: the far distance is the whole length."""


Far = Distance | ToFace | Through | ToNext
Near = Distance | ToFace | Through | Symmetric


class Extrude(Solid, tag="extrude", tag_field="kind", frozen=True, kw_only=True):
    """Regions pushed along their plane's normal.

    Attributes:
        regions: regions of sketches or sockets, or planar faces; each is pushed along the normal of its own plane.
        flip: against the plane's normal, stored when made.
        far: where it ends; near: where it starts (None: on the plane).
        draft: how far its sides lean in towards the far end.
    """

    regions: tuple[Reference, ...]
    far: Far
    near: Near | None = None
    flip: bool = False
    draft: Expression | None = None


class Revolve(Solid, tag="revolve", tag_field="kind", frozen=True, kw_only=True):
    """Regions turned about an axis.

    Attributes:
        regions: as of an extrude.
        axis: a line, an axis or a round edge.
        angle: how far, or
        target: the face or plane that it goes up to; None of both: all the way round.
        symmetric: half of the angle either way.
        flip: the other way round.
    """

    regions: tuple[Reference, ...]
    axis: Reference
    angle: Expression | None = None
    target: Reference | None = None
    symmetric: bool = False
    flip: bool = False


class Sweep(Solid, tag="sweep", tag_field="kind", frozen=True, kw_only=True):
    """Regions of one plane moved along a path of curves and edges that meet end to end."""

    regions: tuple[Reference, ...]
    path: tuple[Reference, ...]


class Loft(Solid, tag="loft", tag_field="kind", frozen=True, kw_only=True):
    """A solid through regions, one after the other.

    Attributes:
        straight: ruled from each to the next.
        guides: curves that touch every section, and that its sides follow.
    """

    regions: tuple[Reference, ...]
    straight: bool = False
    guides: tuple[Reference, ...] = ()


class Thicken(Solid, tag="thicken", tag_field="kind", frozen=True, kw_only=True):
    """A plate on faces: outwards from their body, or inwards when flipped."""

    faces: tuple[Reference, ...]
    thickness: Expression
    flip: bool = False


class Rib(BodyOperation, tag="rib", tag_field="kind", frozen=True, kw_only=True):
    """A wall on one side of an open line of curves in one plane, as far as the bodies that it is added to.

    Attributes:
        curves: end to end; the ends are carried on straight.
        thickness: half of it on either side of the curves' plane.
        flip: the wall lies on the other side of the curves.
    """

    acts_on: tuple[str, ...]
    curves: tuple[Reference, ...]
    thickness: Expression
    flip: bool = False

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on


class OnEdges(BodyOperation, frozen=True, kw_only=True):
    """Something along edges; the bodies it acts on are those of the edges."""

    edges: tuple[Reference, ...]

    @property
    def changes(self) -> tuple[str, ...]:
        """The bodies of its edges."""
        return tuple(dict.fromkeys(e.item for e in self.edges))


class Fillet(OnEdges, tag="fillet", tag_field="kind", frozen=True, kw_only=True):
    """Edges rounded with one radius.

    Attributes:
        last: the radius at the end of each edge, when it grows or shrinks along it.
    """

    radius: Expression
    last: Expression | None = None


class Bevel(OnEdges, tag="bevel", tag_field="kind", frozen=True, kw_only=True):
    """Edges cut off flat.

    Attributes:
        distance: on the first face; on the other one it is the same, or
        second, or it follows from
        angle: between the bevel and the first face.
        flip: the other face counts as the first.
    """

    distance: Expression
    second: Expression | None = None
    angle: Expression | None = None
    flip: bool = False


class OwnWall(Record, frozen=True, kw_only=True):
    """A face with a wall of its own thickness."""

    face: Reference
    thickness: Expression


class Shell(BodyOperation, tag="shell", tag_field="kind", frozen=True, kw_only=True):
    """Bodies hollowed to a wall.

    Attributes:
        faces: those that are left open.
        outside: the wall stands outside of what was solid.
        own: faces with a wall of another thickness.
    """

    acts_on: tuple[str, ...]
    faces: tuple[Reference, ...] = ()
    thickness: Expression
    outside: bool = False
    own: tuple[OwnWall, ...] = ()

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on


class RoundOver(BodyOperation, tag="round_over", tag_field="kind", frozen=True, kw_only=True):
    """Narrow flat faces replaced by a round that runs into the faces on both sides of them."""

    faces: tuple[Reference, ...]

    @property
    def changes(self) -> tuple[str, ...]:
        """The bodies of its faces."""
        return tuple(dict.fromkeys(f.item for f in self.faces))


class Bridge(BodyOperation, tag="bridge", tag_field="kind", frozen=True, kw_only=True):
    """Two bodies joined by a solid from a flat face of one to a flat face of the other; the first stays."""

    faces: tuple[Reference, ...]

    @property
    def changes(self) -> tuple[str, ...]:
        """Both bodies."""
        return tuple(dict.fromkeys(f.item for f in self.faces))


class Draft(BodyOperation, tag="draft", tag_field="kind", frozen=True, kw_only=True):
    """Faces tilted about where they meet a plane, so that they lean in along its normal."""

    faces: tuple[Reference, ...]
    plane: Reference
    angle: Expression
    flip: bool = False

    @property
    def changes(self) -> tuple[str, ...]:
        """The bodies of its faces."""
        return tuple(dict.fromkeys(f.item for f in self.faces))


class Split(BodyOperation, tag="split", tag_field="kind", frozen=True, kw_only=True):
    """Bodies cut in two: what lies before the divider stays the body, what lies behind becomes a new one.

    Attributes:
        by: a plane, a face, which counts as extended where its surface has a natural extension, or a sketch, whose lines
            are carried on straight and stand square to its plane. Before it lies where the normal points; of lines what
            is on their left, within closed ones.
        flip: what lies behind stays.
        pieces: the new body of each body it acts on.
    """

    acts_on: tuple[str, ...]
    by: Reference
    flip: bool = False
    pieces: dict[str, str] = {}

    @property
    def makes(self) -> tuple[str, ...]:
        """What lies behind."""
        return tuple(self.pieces[b] for b in self.acts_on if b in self.pieces)

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on


class Combine(BodyOperation, tag="combine", tag_field="kind", frozen=True, kw_only=True):
    """A body united with others, less others, or what it shares with them.

    Attributes:
        acts_on: the body that changes.
        tools: the others; they go, unless they are kept.
        clearance: the others are grown by it first.
    """

    does: Literal["unite", "subtract", "overlap"]
    acts_on: tuple[str, ...]
    tools: tuple[str, ...]
    keep: bool = False
    clearance: Expression | None = None

    @property
    def changes(self) -> tuple[str, ...]:
        """The body that changes, and those that are used up."""
        return (*self.acts_on, *self.tools)


class Shift(Record, tag="shift", tag_field="kind", frozen=True, kw_only=True):
    """Along the document's axes."""

    x: Expression
    y: Expression
    z: Expression


class Turn(Record, tag="turn", tag_field="kind", frozen=True, kw_only=True):
    """About a line."""

    axis: Reference
    angle: Expression


class Align(Record, tag="align", tag_field="kind", frozen=True, kw_only=True):
    """So that a point comes to lie on another, a line in another, or a plane with its x on another.

    Attributes:
        flip: turned over: a line the other way round, a plane face to face.
    """

    start: Reference
    target: Reference
    flip: bool = False


class Mirror(Record, tag="mirror", tag_field="kind", frozen=True, kw_only=True):
    """In a plane."""

    plane: Reference


class Scale(Record, tag="scale", tag_field="kind", frozen=True, kw_only=True):
    """About a point, evenly."""

    point: Reference
    factor: Expression


class Back(Record, tag="back", tag_field="kind", frozen=True, kw_only=True):
    """What an earlier move did, taken back.

    Attributes:
        move: the operation that moved them, of the stage "here".
    """

    move: Reference


class Move(BodyOperation, tag="move", tag_field="kind", frozen=True, kw_only=True):
    """Bodies, or copies of them, put elsewhere.

    Attributes:
        copies: the new body of each body it acts on; {} when they are moved themselves.
    """

    acts_on: tuple[str, ...]
    by: Shift | Turn | Align | Mirror | Scale | Back
    copies: dict[str, str] = {}

    @property
    def makes(self) -> tuple[str, ...]:
        """The copies."""
        return tuple(self.copies[b] for b in self.acts_on if b in self.copies)

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return () if self.copies else self.acts_on


class TakeOut(BodyOperation, tag="take_out", tag_field="kind", frozen=True, kw_only=True):
    """Bodies left out of the result; their history stays, and switching this off brings them back."""

    acts_on: tuple[str, ...]

    @property
    def changes(self) -> tuple[str, ...]:
        """What it acts on."""
        return self.acts_on


AnyBodyOperation = (
    Extrude
    | Revolve
    | Sweep
    | Loft
    | Thicken
    | Rib
    | Fillet
    | RoundOver
    | Bevel
    | Shell
    | Draft
    | Split
    | Combine
    | Bridge
    | Move
    | TakeOut
)
AnyOperation = Sketch | Datum | Underlay | AnyBodyOperation
