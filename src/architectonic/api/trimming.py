"""Pieces of surfaces that are trimmed, as a script decides on them."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import msgspec

from architectonic.api.protocols import Modelled
from architectonic.base.errors import UserFault
from architectonic.describe.operations.surfaces.pieces import PieceSeen
from architectonic.family.operations.surfaces.trim import PieceChoice, Trim
from architectonic.session.model import building
from architectonic.session.model.trimming import decided_by


class TrimPiece:
    """A piece of a surface that is trimmed.

    Attributes:
        of: name of the surface; area: mm2; at: centre of its largest face, mm.
        inner: what cuts it bounds it all round: nothing of the surface's own edge does.
    """

    def __init__(self, model: Modelled, seen: PieceSeen) -> None:
        bodies = model.model.bodies
        self.of, self.area, self.at = bodies[seen.of].name, seen.area, seen.at
        self.inner = not seen.rims
        planes = {o.id: o.name for o in model.model.build}
        self._sides = {
            (bodies[cut].name if cut in bodies else planes.get(cut, cut), where)
            for cut, _, where in (s.rpartition(":") for s in seen.sides)
        }

    def before(self, name: str) -> bool:
        """Whether it lies where the normals of a surface or plane point that cuts it."""
        return (name, "before") in self._sides

    def behind(self, name: str) -> bool:
        """Whether it lies on the other side of it."""
        return (name, "behind") in self._sides


Chosen = Callable[[TrimPiece], bool] | Mapping[str, bool]
"""Which pieces stay: asked of each, or said of all by their names, as `Envelope before Parting`; nothing is looked at then."""


def with_pieces(model: Modelled, record: Trim, keep: Chosen) -> Trim:
    """A trim whose pieces a script has decided on, one by one.

    Raises:
        UserFault: the surfaces do not cut each other, or a name says of no piece which it is.
    """
    if isinstance(keep, Mapping):
        return msgspec.structs.replace(record, pieces=tuple(_said(model, record, n, k) for n, k in keep.items()))
    assert model.opened.engine is not None  # pieces need the kernel
    family = building.store(model.opened.family, model.id, record, "", "", model.opened.new_id)
    return decided_by(family, model.at, record, lambda p: keep(TrimPiece(model, p)))


def _said(model: Modelled, record: Trim, name: str, keep: bool) -> PieceChoice:
    """A piece by its name: the surface, and on which side of what cuts it it lies."""
    bodies = {k: b.name for k, b in model.model.bodies.items()}
    cutters = {**{k: bodies[k] for k in (*record.acts_on, *record.tools)}, **{r.label or r.item: "" for r in record.by}}
    cutters.update({o.id: o.name for o in model.model.build if o.id in cutters})
    told = {
        f" {where} {called or key}": f"{key}:{where}"
        for key, called in cutters.items()
        for where in ("before", "behind")
    }
    for body in sorted(record.acts_on, key=lambda b: -len(bodies[b])):
        rest = name.removeprefix(bodies[body])
        if rest == name:
            continue
        sides = [told.get(part) for part in rest.replace(" and ", "\n ").split("\n")]
        if rest and all(sides):
            return PieceChoice(of=body, sides=tuple(sorted(s for s in sides if s)), keep=keep)
    raise UserFault(
        f"“{name}” says of no piece which it is", record.name, "write as “Envelope before Parting and behind Rim”"
    )
