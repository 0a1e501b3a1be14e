"""A picture of a document in one configuration, straight from an evaluation."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.describe.results import ModelState, Node
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluator import Evaluation
from architectonic.propagate.targets import Look
from architectonic.render.camera import VIEWS, BodyMesh, Camera, frame
from architectonic.render.palette import BODY_COLOURS, colour_of


def bodies_of(evaluation: Evaluation, look: Look) -> list[tuple[str, str, str]]:
    """Bodies of a part, or of all instances of an assembly: document, configuration, body."""
    placed = evaluation.value(Node("assembly", *look.at, ""))
    if placed is not None:
        return [body for p in placed for body in p.bodies]
    state = evaluation.value(look.state(evaluation.family))
    return [(*look.at, b) for b, _ in state.bodies] if isinstance(state, ModelState) else []


def meshes_of(evaluation: Evaluation, look: Look) -> list[tuple[tuple[str, str, str], BodyMesh, str]]:
    """Those of the bodies that are drawn already: each with its mesh and colour."""
    placed = evaluation.value(Node("assembly", *look.at, ""))
    shown = look.state(evaluation.family)
    found = []
    for k, body in enumerate(bodies_of(evaluation, look)):
        mesh = evaluation.value(Node("mesh", *body, "" if placed is not None else shown.item))
        if mesh is not None:
            source = evaluation.family.documents.get(body[0])
            own = getattr(getattr(source, "bodies", {}).get(body[2]), "colour", "")
            by_place = own or BODY_COLOURS[k % len(BODY_COLOURS)]
            colour = by_place if placed is not None else colour_of(source, body[2], k)
            found.append((body, BodyMesh.from_result(mesh), colour))
    return found


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
