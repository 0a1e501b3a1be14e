"""What an instance can still do where it stands, as slides and turns that can be seen and dragged along."""

from __future__ import annotations

from typing import Literal, NamedTuple

import numpy as np

from architectonic.base import rigid
from architectonic.base.errors import UserFault
from architectonic.base.rigid import IDENTITY, Rigid, Vector
from architectonic.describe.assembly.extents import Extents
from architectonic.describe.assembly.plans import Placed
from architectonic.describe.assembly.posing import Mobility, Posed
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.open.queries import ask

RANK = 1e-6
"""Singular values below this are none: motions are unit vectors, turns weighed by the size of the instance."""
NONE = RANK**0.5
"""What is left of a direction below this is none."""
ALONG = 1 - RANK
"""Cosine above which a direction counts as one of the assembly's axes."""


class FreeMove(NamedTuple):
    """A motion that is left to an instance.

    Attributes:
        kind: slide along the axis, mm, or turn about it, rad.
        point, axis: in the assembly; pitch: how far it slides while it turns, mm a rad.
    """

    kind: Literal["slide", "turn"]
    point: Vector
    axis: Vector
    pitch: float = 0.0

    def carried(self, value: float) -> Rigid:
        """The motion by so much, as a placement in the assembly."""
        if self.kind == "slide":
            return rigid.shift(*(value * c for c in self.axis))
        slid = self.pitch * value
        return rigid.times(rigid.shift(*(slid * c for c in self.axis)), rigid.about(self.axis, value, self.point))


def free_moves(evaluation: Evaluation, at: Scope, instance: str) -> list[FreeMove]:
    """The slides and turns that are left to an instance: three and three when nothing holds it, none when it is fixed, held, or
    when what is left is not known."""
    document = edits.assembly(evaluation.family, at.document)
    record = edits.instance_of(document, instance)
    placed = evaluation.value(Node("placed", at, instance))
    if record.fixed or not isinstance(placed, Placed):
        return []
    centre, size = _middle(evaluation, at, placed)
    if not any(instance in (b.a.instance, b.b.instance) for b in document.bonds):
        axes: list[Vector] = [(1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)]
        kinds: tuple[Literal["slide", "turn"], ...] = ("slide", "turn")
        return [FreeMove(kind, centre, axis) for kind in kinds for axis in axes]
    mobility = evaluation.value(Node("mobility", at, ""))
    moves = [m[instance] for m in mobility.motions if instance in m] if isinstance(mobility, Mobility) else []
    if not moves:
        return []
    given = np.array(moves, float)
    origin = np.array([placed.placement[3], placed.placement[7], placed.placement[11]])
    shifts = given[:, :3] + np.cross(given[:, 3:], np.array(centre) - origin)
    return _told(np.hstack([shifts, size * given[:, 3:]]), np.array(centre), size)


def _middle(evaluation: Evaluation, at: Scope, placed: Placed) -> tuple[Vector, float]:
    """The middle of its box and about its size; where it stands while that is not known."""
    extents = evaluation.value(Node("extents", at, ""))
    box = extents.of[placed.instance].box if isinstance(extents, Extents) and placed.instance in extents.of else None
    if box is None:
        return (placed.placement[3], placed.placement[7], placed.placement[11]), 100.0
    low, high = np.array(box[:3]), np.array(box[3:])
    x, y, z = ((low + high) / 2).tolist()
    return (x, y, z), max(float(np.linalg.norm(high - low)) / 2, 1.0)


def _told(moves: np.ndarray, centre: np.ndarray, size: float) -> list[FreeMove]:
    """A space of small motions, rows of shift and weighed turn (k, 6), as slides and turns along axes where that can be."""
    basis = _space(moves)
    slides = _space(_null(basis[:, 3:]) @ basis[:, :3])
    found = [FreeMove("slide", _vector(centre), _vector(d)) for d in _directions(slides)]
    for d in _directions(_space(basis[:, 3:])):
        share = np.linalg.lstsq(basis[:, 3:].T, size * d, rcond=None)[0]
        shift = share @ basis[:, :3]
        shift = shift - slides.T @ (slides @ shift)  # what slides give besides is no part of the turn
        pitch = float(shift @ d)
        point = centre + np.cross(d, shift - pitch * d)
        found.append(FreeMove("turn", _vector(point), _vector(d), pitch))
    return found


def _space(rows: np.ndarray) -> np.ndarray:
    """An orthonormal basis of what rows span, (rank, columns)."""
    if not rows.size:
        return np.zeros((0, rows.shape[1]))
    _, sizes, basis = np.linalg.svd(rows, full_matrices=False)
    return np.asarray(basis[: int((sizes > RANK * max(1.0, sizes.max())).sum())])


def _null(rows: np.ndarray) -> np.ndarray:
    """Combinations of rows that come to nothing, (number, rows)."""
    u, sizes, _ = np.linalg.svd(rows)
    return np.asarray(u[:, int((sizes > RANK).sum()) :].T)


def _directions(space: np.ndarray) -> list[np.ndarray]:
    """Directions that span a space (rank, 3): the assembly's axes where they lie in it."""
    found: list[np.ndarray] = []
    for axis in (*np.eye(3), *space):
        inside = space.T @ (space @ axis)
        if axis is not None and np.linalg.norm(inside) < ALONG:
            continue
        for other in found:
            inside = inside - (inside @ other) * other
        if np.linalg.norm(inside) > NONE:
            found.append(inside / np.linalg.norm(inside))
    return found[: len(space)]


def _vector(v: np.ndarray) -> Vector:
    return (float(v[0]), float(v[1]), float(v[2]))


def moved_by(family: Family, at: Scope, seen: Evaluation, instance: str, move: FreeMove, value: float) -> Family:
    """The family with an instance moved from where it stands in an evaluation, in the shown alternate; what bonds join to it
    comes along.

    Args:
        value: mm or rad.
    """
    placed = seen.value(Node("placed", at, instance))
    stands = placed.placement if isinstance(placed, Placed) else IDENTITY
    posed = seen.value(Node("posed", at, ""))
    others = dict(posed.stands) if isinstance(posed, Posed) else {}
    return edits.stand_at(
        family, at.document, {**others, instance: _squared(rigid.times(move.carried(value), stands))}, at.alternate
    )


def let_go(family: Family, at: Scope, seen: Evaluation, instance: str, move: FreeMove, value: float) -> Family:
    """Keep where a drag has brought an instance, and all that came along, as their bonds let them stand; arguments as of
    `moved_by`.

    Raises:
        UserFault: its bonds do not let it stand there.
    """
    moved = moved_by(family, at, seen, instance, move, value)
    if not edits.assembly(family, at.document).bonds:
        return moved
    node = Node("posed", at, "")
    outcome = ask(moved, [node]).outcomes[node]
    if not isinstance(outcome.value, Posed):
        name = edits.instance_of(edits.assembly(family, at.document), instance).name
        told = outcome.problem.what if outcome.problem is not None else "what holds it does not let it"
        raise UserFault(f"{name} cannot stand there: {told}", "", "drag it less far")
    return edits.stand_at(moved, at.document, outcome.value.stands, at.alternate)


def _squared(m: Rigid) -> Rigid:
    """Without the noise of reckoning."""
    return tuple(round(v, 9 if k % 4 == 3 else 12) + 0.0 for k, v in enumerate(m))
