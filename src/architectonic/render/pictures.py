"""A picture of a document in one configuration, straight from an evaluation."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Protocol

import numpy as np

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.base.rigid import IDENTITY, times
from architectonic.describe.assembly.plans import PlacedBody
from architectonic.describe.results import ModelState, Node
from architectonic.family import scopes
from architectonic.family.records import Family, use_of
from architectonic.family.scopes import InPlace, Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look
from architectonic.render.camera import VIEWS, BodyMesh, Camera, frame
from architectonic.render.palette import BODY_COLOURS, colour_of

Seen = tuple[InPlace, BodyMesh, str]
"""A body in place, its picture where it stands, and its colour."""


class Knows(Protocol):
    """What is known of a family: an evaluation, or one with more beside it."""

    @property
    def family(self) -> Family:
        """The family."""
        ...

    def value(self, node: Node) -> Any:
        """The value of a node, None where it is not known."""
        ...


def bodies_of(evaluation: Knows, look: Look) -> list[PlacedBody]:
    """Bodies of a part, or of all instances of an assembly, and where they stand."""
    placed = evaluation.value(Node("assembly", look.at, ""))
    if placed is not None:
        found = [b for p in placed for b in p.bodies]
    else:
        state = evaluation.value(look.state(evaluation.family))
        bodies = state.bodies if isinstance(state, ModelState) else ()
        found = [PlacedBody(InPlace((), look.at, b.id), IDENTITY, look.at, b.id) for b in bodies]
    return [
        b._replace(body=b.body._replace(path=(*look.path, *b.body.path)), stands=times(look.stands, b.stands))
        for b in found
    ]


def _ordinal(family: Family, document: str, body: InPlace) -> int:
    """A figure that stays with a body in place whatever else an alternate shows or leaves out."""
    number = 0
    for key in body.path:
        instances = getattr(family.documents.get(document), "instances", ())
        at = next((k for k, i in enumerate(instances) if i.id == use_of(key)[0]), 0)
        number, document = number + at, instances[at].document if instances else ""
    bodies = list(getattr(family.documents.get(body.document), "bodies", {}))
    return number + (bodies.index(body.body) if body.body in bodies else 0)


def meshes_of(evaluation: Knows, look: Look) -> list[Seen]:
    """Those of the bodies that are drawn already: each with its mesh and colour."""
    placed = evaluation.value(Node("assembly", look.at, ""))
    shown = look.state(evaluation.family)
    found = []
    for k, one in enumerate(bodies_of(evaluation, look)):
        body, stands = one.body, one.stands
        mesh = evaluation.value(one.node("mesh")._replace(label="" if placed is not None else shown.item))
        if mesh is not None:
            source = evaluation.family.documents.get(body.document)
            own = getattr(getattr(source, "bodies", {}).get(body.body), "colour", "")
            by_place = own or BODY_COLOURS[_ordinal(evaluation.family, look.at.document, body) % len(BODY_COLOURS)]
            own_here = one.source == look.at  # also what an assembly works on: as its list shows it
            colour = colour_of(evaluation.family.documents.get(look.at.document), one.item, k) if own_here else by_place
            said = scopes.said(evaluation.family, look.at if own_here else body.at, "colour")
            found.append((body, BodyMesh.from_result(mesh).placed(stands), said or colour))
    return found


def alike(a: list[Seen], b: list[Seen]) -> bool:
    """Whether two lists show the same pictures of the same bodies, in the same colours."""
    return len(a) == len(b) and all(
        (x[0], x[2], x[1].stands) == (y[0], y[2], y[1].stands) and x[1].source is y[1].source
        for x, y in zip(a, b, strict=True)
    )


def picture_of(evaluation: Evaluation, at: Scope, view: str, width: int, height: int, path: Path) -> None:
    """Draw a document and write it as PNG.

    Raises:
        UserFault: an unknown view, another ending than .png, or nothing to draw.
        EnvironmentFault: the file cannot be written.
    """
    if view not in VIEWS:
        raise UserFault(f"there is no view “{view}”", "", "views are " + ", ".join(VIEWS))
    if path.suffix.lower() != ".png":
        raise UserFault(f"a picture is written as .png, not “{path.suffix}”", str(path))
    shown = meshes_of(evaluation, Look(at))
    if not shown:
        raise UserFault("it has no bodies to draw", evaluation.family.documents[at.document].name)
    from architectonic.render.scene import Scene, write_png  # VTK is slow to load: only when something is drawn

    scene = Scene()
    try:
        scene.set_bodies([(mesh, colour, 1.0) for _, mesh, colour in shown])
        direction, up = VIEWS[view]
        camera = frame(Camera(np.array(direction), np.array(up)), [mesh.points for _, mesh, _ in shown], width / height)
        write_png(scene, camera, width, height, path)
    except OSError as fault:
        raise EnvironmentFault(
            f"{path} could not be written ({fault.strerror})", "check that the folder exists"
        ) from None
    finally:
        scene.close()
