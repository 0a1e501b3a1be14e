"""Bodies, faces and edges by name and by what they are; what is selected points lastingly."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Generic, TypeVar

import msgspec
import numpy as np

from architectonic.api.protocols import Made, Modelled
from architectonic.base import tolerance
from architectonic.base.errors import UserFault
from architectonic.base.labels import base, pair, plain
from architectonic.describe.results import Node
from architectonic.family.edits import add_body
from architectonic.family.records import Reference
from architectonic.family.scopes import InPlace
from architectonic.propagate.targets import Look
from architectonic.render.camera import BodyMesh
from architectonic.session.model.building import change_body
from architectonic.session.picking.picked import reference
from architectonic.session.picking.subject import picture_in

DIRECTIONS = {
    f"{sign}{axis}": tuple(scale * (1.0 if k == n else 0.0) for k in range(3))
    for n, axis in enumerate("xyz")
    for sign, scale in (("", 1.0), ("+", 1.0), ("-", -1.0))
}
EXACT, DRAWN = 1e-9, 1e-6
"""How far the cosine of an angle may be from 1: of exact normals, and of lines as a picture shows them."""
T = TypeVar("T")


class Selected(Generic[T]):
    """What was found, and how to say that it is not one."""

    def __init__(self, what: str, where: str, found: Sequence[T]) -> None:
        self.what, self.where, self.found = what, where, list(found)

    def one(self) -> T:
        """The only one.

        Raises:
            UserFault: there are several, or none.
        """
        if len(self.found) != 1:
            count = len(self.found)
            told = f"{count} {self.what}s fit" if count else f"no {self.what} fits"
            raise UserFault(told, self.where, "ask for more of what it is" if count else "ask for less")
        return self.found[0]


class BodyPart:
    """A face, edge or vertex of a body.

    Attributes:
        kind: plane, cylinder, ... of a face; line, circle, ... of an edge.
        at: where its middle is, mm; size: its area or length as its picture shows it.
    """

    what = ""

    def __init__(self, body: Body, label: str, picked: Reference) -> None:
        self.body, self.label, self.reference = body, label, picked
        seen = picked.witness
        self.kind = seen.kind if seen is not None else ""
        self.at = seen.at if seen is not None else ()
        self.size = seen.size if seen is not None else None
        self.convex = seen.convex if seen is not None else ""
        self.normal = seen.normal if seen is not None else ()

    def __repr__(self) -> str:
        return f"<{self.what} {self.label} of {self.body.name}>"


class Face(BodyPart):
    """A face."""

    what = "face"

    @property
    def area(self) -> float:
        """Exact, mm2."""
        return self.body.model.measure("area", self)

    @property
    def edges(self) -> list[Edge]:
        """The edges around it."""
        return self.body.edges(of=self)


class Edge(BodyPart):
    """An edge."""

    what = "edge"

    @property
    def length(self) -> float:
        """Exact, mm."""
        return self.body.model.measure("length", self)


class Body:
    """A body of a part, as it is in the part's size."""

    def __init__(self, model: Modelled, key: str) -> None:
        self.model, self.id = model, key

    def __repr__(self) -> str:
        return f"<body {self.name}>"

    @property
    def name(self) -> str:
        """What it is called."""
        known = self.model.model.bodies
        return known[self.id].name if self.id in known else "a body that is gone"

    @property
    def reference(self) -> Reference:
        """What points at it."""
        return Reference(item=self.id)

    def made_of(self, material: str, density: str = "") -> None:
        """What it is made of; without a density that of the material's table.

        Raises:
            UserFault: the density cannot be used.
        """
        said = msgspec.structs.replace(self.model.model.bodies[self.id], material=material)
        self.model.apply(f"{self.name} of {material}", lambda f: change_body(f, self.model.id, self.id, said, density))

    def rename(self, name: str) -> None:
        """Another name.

        Raises:
            UserFault: it is taken.
        """
        said = msgspec.structs.replace(self.model.model.bodies[self.id], name=name)
        self.model.apply(f"rename {self.name} to {name}", lambda f: add_body(f, self.model.id, self.id, said))

    def only_seen(self) -> None:
        """It stands there to be seen and taken from: never cut, weighed or written."""
        said = msgspec.structs.replace(self.model.model.bodies[self.id], backdrop_only=True)
        self.model.apply(f"{self.name} as reference", lambda f: add_body(f, self.model.id, self.id, said))

    def _measured(self) -> dict[str, Any]:
        outcome = self.model.evaluation().outcomes.get(Node("measure", self.model.at, self.id))
        if outcome is None or outcome.value is None:
            why = outcome.problem.what if outcome is not None and outcome.problem else "it does not exist here"
            raise UserFault(why, f"{self.model.name} / {self.name}", "see what its operations say")
        return dict(outcome.value)

    @property
    def volume(self) -> float:
        """In mm3."""
        return float(self._measured()["volume_mm3"])

    @property
    def area(self) -> float:
        """In mm2."""
        return float(self._measured()["area_mm2"])

    @property
    def centre(self) -> tuple[float, float, float]:
        """Of its volume, mm."""
        x, y, z = self._measured()["centre_mm"]
        return x, y, z

    @property
    def box(self) -> tuple[float, ...]:
        """x0, y0, z0, x1, y1, z1 in mm."""
        return tuple(self._measured()["box_mm"])

    @property
    def inertia(self) -> tuple[float, ...]:
        """Ixx, Iyy, Izz, Ixy, Ixz, Iyz about its centre, of a body of density 1 g/mm3 (mm5)."""
        return tuple(self._measured()["inertia_mm5"])

    @property
    def mass(self) -> float | None:
        """In g; None without a density."""
        found = self.model.evaluation().value(Node("mass", self.model.at, self.id))
        return None if found is None else float(found)

    def mesh(self) -> BodyMesh:
        """Its picture: triangles with face numbers and edge lines as arrays, mm.

        Raises:
            UserFault: it does not exist in this size.
        """
        at = self.model.at
        found = picture_in(self.model.evaluation(pictured=True), InPlace((), at, self.id), [Look(at)])
        if found is None:
            raise UserFault("it does not exist here", f"{self.model.name} / {self.name}", "see what its operations say")
        return found

    @property
    def vertices(self) -> np.ndarray:
        """Points where edges meet, (n, 3), mm."""
        found = self.mesh().corners.values()
        return np.array(list(found), float).reshape(-1, 3)

    # --- selecting ------------------------------------------------------------------------------------

    def faces(
        self,
        made_by: Made | None = None,
        role: str = "",
        kind: str = "",
        normal: str | Sequence[float] = (),
        near: Sequence[float] = (),
    ) -> list[Face]:
        """Faces by what they are.

        Args:
            made_by: the operation that made them; role: what they are to it: start, end, side, blend, ...
            kind: plane, cylinder, cone, sphere, torus, ...
            normal: of flat ones, outwards: `+z` or three numbers.
            near: only the one whose middle is nearest to a point, mm.
        """
        way = _direction(normal, "normal")
        mesh, found = self.mesh(), []
        for k, label in enumerate(mesh.faces):
            made, _, rest = base(label).partition(":")
            plane = mesh.planes[k]
            if (made_by is not None and made != made_by.id) or (role and rest.split(":")[0] != role):
                continue
            if (kind and mesh.face_kinds[k] != kind) or (
                way is not None and not (plane and _along(plane[1], way, EXACT))
            ):
                continue
            found.append(Face(self, label, reference(mesh, self.id, "face", label)))
        return _nearest(found, near)

    def edges(
        self,
        made_by: Made | None = None,
        kind: str = "",
        direction: str | Sequence[float] = (),
        convex: str = "",
        of: Face | None = None,
        between: Sequence[Face] = (),
        near: Sequence[float] = (),
    ) -> list[Edge]:
        """Edges by what they are.

        Args:
            made_by: the operation that made one of their faces.
            kind: line, circle, ellipse, ...; direction: of lines, either way: `z` or three numbers.
            convex: convex, concave or smooth.
            of: a face that they are around; between: both their faces.
            near: only the one whose middle is nearest to a point, mm.
        """
        way = _direction(direction, "direction")
        mesh, found = self.mesh(), []
        wanted = {plain(f.label) for f in between} | ({plain(of.label)} if of is not None else set())
        for k, label in enumerate(mesh.edges):
            around = {plain(face) for face in pair(base(label))}
            ends = mesh.lines[[mesh.line_starts[k], mesh.line_starts[k + 1] - 1]].astype(float)
            if not wanted <= around or (
                made_by is not None and not any(f.startswith(f"{made_by.id}:") for f in around)
            ):
                continue
            if (kind and mesh.edge_kinds[k] != kind) or (convex and mesh.convex[k] != convex):
                continue
            step = ends[1] - ends[0]
            lies = mesh.edge_kinds[k] == "line" and any(
                _along(s * step, way, DRAWN) for s in (1, -1) if way is not None
            )
            if way is not None and not lies:
                continue
            found.append(Edge(self, label, reference(mesh, self.id, "edge", label)))
        return _nearest(found, near)

    def face(self, **asked: Any) -> Face:
        """The one face that fits; keywords as of `faces`."""
        return Selected("face", self.name, self.faces(**asked)).one()

    def edge(self, **asked: Any) -> Edge:
        """The one edge that fits; keywords as of `edges`."""
        return Selected("edge", self.name, self.edges(**asked)).one()


def _direction(wanted: str | Sequence[float], what: str) -> np.ndarray | None:
    """A direction as it is asked for; None when none is.

    Raises:
        UserFault: it is none.
    """
    if not len(wanted):
        return None
    if isinstance(wanted, str) and wanted not in DIRECTIONS:
        raise UserFault(f"“{wanted}” is no {what}", "", "write x, +y or -z, or three numbers")
    found = np.asarray(DIRECTIONS[wanted] if isinstance(wanted, str) else wanted, float)
    if found.shape != (3,) or not np.linalg.norm(found) > tolerance.FEATURE:
        raise UserFault(f"this is no {what}", "", "give three numbers, not all of them 0")
    return found


def _along(vector: Any, wanted: np.ndarray, rough: float) -> bool:
    """Whether a vector has a direction, as a picture shows it."""
    a = np.asarray(vector, float)
    long = float(np.linalg.norm(a) * np.linalg.norm(wanted))
    return long > tolerance.FEATURE and float(a @ wanted) > long * (1 - rough)


S = TypeVar("S", bound=BodyPart)


def _nearest(found: list[S], near: Sequence[float]) -> list[S]:
    if not len(near) or not found:
        return found
    return [min(found, key=lambda p: float(np.linalg.norm(np.array(p.at) - np.array(near))))]
