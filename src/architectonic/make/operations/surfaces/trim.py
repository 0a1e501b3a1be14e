"""How the operation trim is made with the kernel."""

from __future__ import annotations

from architectonic.describe.operations.surfaces.pieces import PieceSeen
from architectonic.describe.operations.surfaces.trim import PiecesInput, TrimInput
from architectonic.kernel.shapes.labelled import Labelled
from architectonic.kernel.shapes.verdict import KernelRefusal
from architectonic.kernel.surfaces import trimming
from architectonic.make.fault import MakeFault
from architectonic.make.operations.surface import Made, cutter


def make(given: TrimInput, shapes: list[Labelled]) -> Made:
    """What is left of each surface; those of which nothing is left are not among them.

    Raises:
        MakeFault: it is no sound surface.
    """
    number = {b: k for k, b in enumerate(given.bodies)}
    stay = [(number[of], shape) for of, shape in zip(given.of, shapes, strict=False)]
    try:
        made = trimming.kept(stay, shapes[len(given.of) :])
    except KernelRefusal as refusal:
        raise MakeFault("trim.refused", str(refusal), "move one of the surfaces") from None
    return [given.bodies[k] for k in made], {given.bodies[k]: shape for k, shape in made.items()}


def pieces(given: PiecesInput, shapes: list[Labelled]) -> tuple[tuple[PieceSeen, ...], dict[str, Labelled]]:
    """All pieces, each with its shape.

    Raises:
        MakeFault: nothing is cut, or the kernel gives up.
    """
    found = _pieces(given, shapes)
    seen = tuple(_seen(given, p, f"p{k}") for k, p in enumerate(found))
    return seen, {f"p{k}": p.shape for k, p in enumerate(found)}


def _pieces(given: PiecesInput, shapes: list[Labelled]) -> list[trimming.TrimmedPiece]:
    surfaces = shapes[: len(given.bodies)]
    cutters = shapes[len(given.bodies) : len(given.bodies) + len(given.tools)]
    for number, (_, thing) in enumerate(given.by):
        cutters.append(cutter(thing, shapes, surfaces, f"{given.operation}.{number + 1}"))
    try:
        found = trimming.pieces(surfaces, cutters)
    except KernelRefusal as refusal:
        raise MakeFault("trim.refused", str(refusal), "move one of the surfaces a little") from None
    if not any(p.bounds for p in found):
        raise MakeFault("trim.misses", "the surfaces do not cut each other", "extend one of them, or choose others")
    return found


def _seen(given: PiecesInput, piece: trimming.TrimmedPiece, shape: str) -> PieceSeen:
    names = (*given.bodies, *given.tools, *(called for called, _ in given.by))

    def side(told: str) -> str:
        number, _, where = told.rpartition(":")
        return f"{names[int(number)]}:{where}"

    return PieceSeen(
        of=given.bodies[piece.of],
        sides=tuple(sorted(side(s) for s in piece.sides)),
        bounds=piece.bounds,
        rims=piece.rims,
        faces=piece.faces,
        area=piece.area,
        at=piece.at,
        shape=shape,
    )
