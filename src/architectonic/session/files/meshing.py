"""What a document comes to as facets for files: how fine, how many, and which way it lies."""

from __future__ import annotations

import math
import os
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import NamedTuple

import msgspec
import numpy as np

from architectonic.base.errors import UserFault
from architectonic.base.rigid import IDENTITY, Rigid, shift, times
from architectonic.describe.recipes import ExportProduct, ExportSolid, FacetInput
from architectonic.describe.results import Node
from architectonic.exchange.meshfile import MeshPart
from architectonic.family.records import Model
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.keys import encode
from architectonic.propagate.remaking import ask_worker
from architectonic.session.files.products import Products
from architectonic.session.open.engine import Engine
from architectonic.session.open.queries import ask

WAYS = {
    "x": (1.0, 0.0, 0.0), "-x": (-1.0, 0.0, 0.0), "y": (0.0, 1.0, 0.0),
    "-y": (0.0, -1.0, 0.0), "z": (0.0, 0.0, 1.0), "-z": (0.0, 0.0, -1.0),
}  # fmt: skip


class Fineness(NamedTuple):
    """How near facets lie to their faces, mm, and how far they turn from one to the next, rad."""

    chord: float
    angle: float


FINE = Fineness(0.1, math.radians(10))
"""Fine for printing: a tenth of a millimetre, as fine as common printers are (common practice)."""


class Meshed(NamedTuple):
    """Facets of all that a document shows.

    Attributes:
        misses: how far they lie from the true faces at most, mm.
    """

    parts: tuple[MeshPart, ...]
    misses: float

    @property
    def triangles(self) -> int:
        """How many there are."""
        return sum(len(p.triangles) for p in self.parts)


def meshed(
    engine: Engine, evaluation: Evaluation, at: Scope, fineness: Fineness = FINE, item: str = "", down: str = ""
) -> Meshed:
    """Facets of the bodies of a document, each of a part once.

    Args:
        item: the part item that alone is wanted, by name; down: what lies on the ground, see `turn_down`.

    Raises:
        UserFault: there is nothing to write; what is to lie down is no flat face.
        EnvironmentFault: the worker failed.
    """
    if not 1e-4 <= fineness.chord <= 100 or not 1e-3 <= fineness.angle <= math.pi / 2:
        raise UserFault("facets of this fineness cannot be made", "", "give 0.0001 to 100 mm, and 0.1 to 90 deg")
    tree = Products(evaluation, at, item)
    if not tree.shapes:
        raise UserFault("it has no bodies to write", evaluation.family.documents[at.document].name)
    uses = list(_uses(tree.products, len(tree.products) - 1, IDENTITY))
    payload = encode(FacetInput(fineness.chord, fineness.angle))
    shapes = list(dict.fromkeys(tree.shapes))
    found: dict[str, tuple[np.ndarray, np.ndarray, float]] = {}
    with ThreadPoolExecutor(4) as asking:  # they wait; the workers of the engine work
        replies = asking.map(
            lambda s: ask_worker(engine.evaluator, f"facets-{os.getpid()}-{s}", "facets", payload, (s,)), shapes
        )
        made = dict(zip(shapes, replies, strict=True))
    for shape, reply in made.items():
        if reply.problem is not None:
            raise UserFault(reply.problem.what, evaluation.family.documents[at.document].name, reply.problem.mend)
        value = msgspec.msgpack.decode(reply.value)
        points = np.frombuffer(value["points"]).reshape(-1, 3)
        corners = np.frombuffer(value["triangles"], np.int32).reshape(-1, 3)
        found[shape] = (points, corners, value["misses"])
    parts = [
        MeshPart(_called(way, solid), solid.item, *found[tree.shapes[solid.shape]][:2], stands, solid.colour)
        for way, solid, stands in uses
    ]
    if down:
        turn = _down(evaluation, at, down)
        parts = [p._replace(stands=times(turn, p.stands)) for p in parts]
        low = min(float(p.placed[:, 2].min()) for p in parts)
        parts = [p._replace(stands=times(shift(0, 0, -low), p.stands)) for p in parts]
    return Meshed(tuple(parts), max(m for *_, m in found.values()))


Use = tuple[tuple[str, ...], ExportSolid, Rigid]


def _uses(products: Sequence[ExportProduct], place: int, stands: Rigid) -> list[Use]:
    """Every body where it stands, with the names of the uses that lead to it."""
    product = products[place]
    found: list[Use] = [((), solid, stands) for solid in product.solids]
    for other, name, there in product.uses:
        inner = _uses(products, other, times(stands, there))
        found += [((name, *way), solid, place_) for way, solid, place_ in inner]
    return found


def _called(way: tuple[str, ...], solid: ExportSolid) -> str:
    return " / ".join([*way, solid.name]) if way and way[-1] != solid.name else " / ".join(way) or solid.name


def _down(evaluation: Evaluation, at: Scope, down: str) -> Rigid:
    """The turn after which a direction, or the normal of a flat face, points down.

    Raises:
        UserFault: neither a direction nor a flat face of the document.
    """
    x, y, z = WAYS.get(down) or flat_face(evaluation, at, down)[2]
    if z > 1 - 1e-12:
        return (1.0, 0.0, 0.0, 0.0, 0.0, -1.0, 0.0, 0.0, 0.0, 0.0, -1.0, 0.0, 0.0, 0.0, 0.0, 1.0)
    # the shortest turn from (x, y, z) to (0, 0, -1), about their cross product (-y, x, 0)
    a, b, c = -y, x, -z
    k = 1 / (1 + c)
    return (
        c + a * a * k, a * b * k, b, 0.0,
        a * b * k, c + b * b * k, -a, 0.0,
        -b, a, c, 0.0,
        0.0, 0.0, 0.0, 1.0,
    )  # fmt: skip


def flat_face(evaluation: Evaluation, at: Scope, label: str) -> tuple[str, str, tuple[float, float, float]]:
    """A flat face by its label, or by the name of the operation that made it and its role: `Block:end`.

    Returns:
        The body, the face's label, and its outward normal in the coordinates of the document.

    Raises:
        UserFault: there is no such face, or it is not flat.
    """
    document = evaluation.family.documents[at.document]
    if not isinstance(document, Model) or document.kind == "assembly":
        raise UserFault("faces are those of a part", document.name, "name a direction: x, -x, y, -y, z or -z")
    name, colon, role = label.partition(":")
    made = next((o.id for o in document.build if o.name == name), name)
    wanted = f"{made}{colon}{role}"
    nodes = [Node("mesh", at, body) for body in document.bodies]
    seen = ask(evaluation.family, nodes)
    flat: list[str] = []
    for node in nodes:
        mesh = seen.value(node)
        for face, plane in zip(mesh["faces"], mesh["planes"], strict=True) if mesh else ():
            if face == wanted and plane is not None:
                return node.item, face, tuple(plane[1])
            if face == wanted:
                raise UserFault(f"the face “{label}” is not flat", document.name, "choose a flat one")
            flat += [face] if plane is not None else []
    names = {o.id: o.name for o in document.build}
    known = [f"{names.get(f.partition(':')[0], f.partition(':')[0])}:{f.partition(':')[2]}" for f in flat]
    raise UserFault(f"there is no face “{label}”", document.name, "flat faces are " + ", ".join(known[:12]))
