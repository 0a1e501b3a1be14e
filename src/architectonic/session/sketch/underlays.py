"""Pictures brought into the family, and placed: moved, turned, cropped, and scaled by two points and a distance."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Literal

from architectonic.base import tolerance
from architectonic.base.cancel import Watch
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.describe.results import Picture
from architectonic.exchange import apart
from architectonic.family import edits, names
from architectonic.family.records import Family, Reference, Underlay
from architectonic.session.tables.checks import come_to_now

FOLDER = "files"
XY = tuple[float, float]


def keep(folder: Path, file: Path, watch: Watch | None = None) -> tuple[str, tuple[int, int]]:
    """Copy a picture into the family's folder; its name there and its size in pixels.

    Raises:
        UserFault: it cannot be shown.
        EnvironmentFault: it cannot be read or written.
        Cancelled: it was asked to stop; nothing is kept.
    """
    picture = apart.picture(file, watch)
    target = folder / FOLDER / picture.name(file.stem)
    if not target.exists():
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            part = target.with_suffix(".part")
            part.write_bytes(picture.data)
            part.replace(target)
        except OSError as fault:
            raise EnvironmentFault(f"the picture cannot be kept in {target.parent}: {fault.strerror}") from None
    return target.name, picture.pixels


def add(
    family: Family,
    document_id: str,
    name: str,
    file: str,
    pixels: tuple[int, int],
    plane: Reference,
    width: str = "200 mm",
    along: Literal["x", "y"] = "x",
    before: str = "",
    make_id: IdSource = new_id,
) -> Family:
    """Put a picture on a plane, its middle over the plane's origin.

    Raises:
        UserFault: the name is taken; the width cannot be used.
    """
    document = edits.document(family, document_id)
    bound = names.bind_quantity(family, document, width, "length", "mm")
    edits.refuse_not_positive(bound, "length", name)
    made = Underlay(id=make_id(), name=name, plane=plane, along=along, file=file, pixels=pixels, width=bound)
    return edits.add_operation(family, document_id, made, before)


def underlay(family: Family, document_id: str, key: str) -> Underlay:
    """An underlay by id.

    Raises:
        UserFault: it is gone, or something else.
    """
    found = edits.operation(family, document_id, key)
    if not isinstance(found, Underlay):
        raise UserFault("this is not an underlay", found.name)
    return found


def change(family: Family, document_id: str, key: str, **changes: object) -> Family:
    """Put it elsewhere, turn, fade or crop it; angles in rad, shares from 0 to 1.

    Raises:
        UserFault: an opacity or a crop that leaves nothing to see.
    """
    made = edits.replace(underlay(family, document_id, key), **changes)
    left, bottom, right, top = made.crop
    if not 0.0 < made.opacity <= 1.0:
        raise UserFault("the opacity lies above 0 and is 100 percent at most", made.name)
    if min(made.crop) < 0 or left + right >= 1 or bottom + top >= 1:
        raise UserFault("nothing would be left of the picture", made.name, "crop less")
    at = (tolerance.length(made.at[0]), tolerance.length(made.at[1]))
    return edits.replace_operation(family, document_id, edits.replace(made, at=at, turn=tolerance.ratio(made.turn)))


def scale(family: Family, document_id: str, key: str, picture: Picture, first: XY, second: XY, distance: str) -> Family:
    """Scale a picture so that two of its points stand a typed distance apart; the first stays where it is.

    Args:
        picture: how it lies now; first, second: on its plane, mm.
        distance: a length, or an expression that goes on deciding it.

    Raises:
        UserFault: the points are one; the distance is not positive.
    """
    record = underlay(family, document_id, key)
    apart = math.dist(first, second)
    if apart < tolerance.FEATURE:
        raise UserFault("the two points are one", record.name, "pick points that lie apart")
    document = edits.document(family, document_id)
    typed = names.bind_quantity(family, document, distance, "length", "mm")
    edits.refuse_not_positive(typed, "length", record.name)
    factor = float(f"{picture.size[0] / apart:.9g}")
    text = f"({typed.text}) * {factor:.9g}"
    width = names.bind_quantity(family, document, text, "length", "mm")
    ratio = come_to_now(family, document_id, text) / picture.size[0]
    at = (first[0] + (picture.at[0] - first[0]) * ratio, first[1] + (picture.at[1] - first[1]) * ratio)
    return change(family, document_id, key, width=width, at=at)


def place(family: Family, document_id: str, key: str, picture: Picture, first: XY, target: XY) -> Family:
    """Move a picture so that one of its points comes to stand on a place of its plane."""
    record = underlay(family, document_id, key)
    at = (record.at[0] + target[0] - first[0], record.at[1] + target[1] - first[1])
    return change(family, document_id, key, at=at)


def straighten(family: Family, document_id: str, key: str, picture: Picture, first: XY, second: XY) -> Family:
    """Turn a picture about a point so that the line to a second one becomes level, or upright if that is nearer.

    Raises:
        UserFault: the points are one.
    """
    record = underlay(family, document_id, key)
    if math.dist(first, second) < tolerance.FEATURE:
        raise UserFault("the two points are one", record.name, "pick points that lie apart")
    angle = math.atan2(second[1] - first[1], second[0] - first[0])
    turn = round(angle / (math.pi / 2)) * (math.pi / 2) - angle
    c, s = math.cos(turn), math.sin(turn)
    x, y = picture.at[0] - first[0], picture.at[1] - first[1]
    at = (first[0] + c * x - s * y, first[1] + s * x + c * y)
    return change(family, document_id, key, at=at, turn=record.turn + turn)
