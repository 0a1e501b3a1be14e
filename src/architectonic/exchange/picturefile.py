"""Pictures that are drawn over: what a file holds, before anything is made of it."""

from __future__ import annotations

import hashlib
import io
import re
import warnings
from pathlib import Path
from typing import Any, NamedTuple

from architectonic.base import files
from architectonic.base.cancel import Watch
from architectonic.base.errors import EnvironmentFault, UserFault

MAX_BYTES = 100_000_000
MAX_PIXELS = 80_000_000
MAX_DRAWN = 200_000
"""Elements of an SVG, each counted as often as it is used."""
MAX_USES_DEEP = 50
ENDINGS = {".png": "PNG", ".jpg": "JPEG", ".jpeg": "JPEG", ".svg": "SVG"}


class PictureFile(NamedTuple):
    """A picture that can be shown: its bytes, kind and size; of an SVG its own units count as pixels."""

    data: bytes
    kind: str
    pixels: tuple[int, int]

    def name(self, stem: str) -> str:
        """A file name that says what it is and changes with its content."""
        ending = {"PNG": "png", "JPEG": "jpg", "SVG": "svg"}[self.kind]
        plain = re.sub(r"[^\w-]+", "-", stem).strip("-")[:40] or "picture"
        return f"{plain}-{hashlib.blake2b(self.data, digest_size=4).hexdigest()}.{ending}"


def read(file: Path, watch: Watch | None = None) -> PictureFile:
    """Read a picture and see that it is whole.

    Raises:
        UserFault: no PNG, JPEG or SVG; broken, or larger than can be shown.
        EnvironmentFault: the file cannot be read.
        Cancelled: it was asked to stop.
    """
    watch = watch or Watch()
    try:
        if file.stat().st_size > MAX_BYTES:
            raise UserFault(f"this picture is larger than {MAX_BYTES // 1_000_000} MB", file.name, "make it smaller")
    except OSError as fault:
        raise EnvironmentFault(f"{file.name} cannot be read: {fault.strerror or fault}") from None
    data = files.read(file)
    if file.suffix.lower() not in ENDINGS:
        raise UserFault("this is no picture that can be drawn over", file.name, "use PNG, JPEG or SVG")
    watch.at(0.2)
    found = _vector(file.name, data) if file.suffix.lower() == ".svg" else _bitmap(file.name, data)
    watch.at(1.0)
    return found


def may_be_drawn(file: Path) -> bool:
    """Whether an SVG of a family may be given to who draws it: it was looked at when it came, but a family may come from
    somebody else.
    """
    try:
        _vector(file.name, files.read(file))
    except (UserFault, EnvironmentFault):
        return False
    return True


def _bitmap(name: str, data: bytes) -> PictureFile:
    from PIL import Image  # only when a picture is read

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # its own warning about size comes long before our limit
            with Image.open(io.BytesIO(data), formats=("PNG", "JPEG")) as image:
                kind, size = str(image.format), image.size
                if size[0] * size[1] > MAX_PIXELS:
                    raise UserFault(
                        f"this picture has {size[0]} × {size[1]} pixels, more than {MAX_PIXELS // 1_000_000} million",
                        name,
                        "make it smaller",
                    )
                image.load()
    except UserFault:
        raise
    except Image.DecompressionBombError:
        raise UserFault("this picture has far too many pixels", name, "make it smaller") from None
    except Exception as fault:  # the reader raises whatever its decoders raise
        told = "it ends too early" if "truncated" in str(fault) else "it is broken or no PNG or JPEG"
        raise UserFault(f"this picture cannot be read: {told}", name, "save it again") from None
    return PictureFile(data, kind, size)


def _refuse_endless(root: Any, name: str) -> None:
    """Refuse drawings that use parts of themselves without end, or so often that drawing them ends nowhere, and those that
    ask for other files.

    Raises:
        UserFault: says which.
    """
    named: dict[str, tuple[int, list[str]]] = {}  # by id: elements below it, and what they use
    stack = [(root, False)]
    inside: list[tuple[str, int, list[str]]] = []
    while stack:
        element, leaving = stack.pop()
        key = element.get("id") or f"#{id(element)}"
        if leaving:
            _, count, uses = inside.pop()
            named[key] = count + 1, uses
            if inside:
                inside[-1] = inside[-1][0], inside[-1][1] + count + 1, inside[-1][2] + uses
            continue
        uses = []
        for attribute, value in element.attrib.items():
            if attribute.rpartition("}")[2] == "href":
                if not value.startswith(("#", "data:image/")):
                    raise UserFault("this SVG asks for other files, which are not read", name, "save it as plain SVG")
                uses += [value[1:]] if value.startswith("#") else []
            uses += re.findall(r"url\(\s*['\"]?#([^'\")]+)", value)
        inside.append((key, 0, uses))
        stack.append((element, True))
        stack += [(child, False) for child in element]
    weights: dict[str, int] = {}

    def weigh(key: str, above: tuple[str, ...]) -> int:
        if key in above or len(above) > MAX_USES_DEEP:
            raise UserFault("this SVG uses parts of itself without end", name, "save it as plain SVG")
        if key not in weights:
            count, uses = named.get(key, (0, []))
            weights[key] = count + sum(weigh(used, (*above, key)) for used in uses)
        return weights[key]

    if max(weigh(key, ()) for key in named) > MAX_DRAWN:
        raise UserFault(f"this SVG draws more than {MAX_DRAWN} things", name, "make it simpler")


def _vector(name: str, data: bytes) -> PictureFile:
    """Only the head is looked at; entities and document types, which can grow without end, are refused."""
    from xml.etree import ElementTree

    head = data[:4096].lower()
    if b"<!entity" in data.lower() or (b"<!doctype" in head and b"[" in head.split(b"<!doctype", 1)[1].split(b">")[0]):
        raise UserFault("this SVG defines entities, which are not followed", name, "save it as plain SVG")
    try:
        root = ElementTree.fromstring(data)
    except ElementTree.ParseError as fault:
        raise UserFault(f"this SVG is broken: {fault}", name, "save it again") from None
    if root.tag.rpartition("}")[2] != "svg":
        raise UserFault("this is no SVG", name, "save it as SVG")
    _refuse_endless(root, name)
    box = [float(v) for v in re.findall(r"-?[\d.]+(?:e-?\d+)?", root.get("viewBox", ""))]
    size = [re.match(r"[\d.]+", root.get(side, "")) for side in ("width", "height")]
    if len(box) == 4:
        width, height = box[2], box[3]
    elif all(size):
        width, height = (float(s.group()) for s in size if s)
    else:
        raise UserFault("this SVG does not say how large it is", name, "give it a viewBox")
    if width <= 0 or height <= 0:
        raise UserFault("this SVG has no size", name, "give it a viewBox")
    share = 1000 / max(width, height)
    return PictureFile(data, "SVG", (max(1, round(width * share)), max(1, round(height * share))))
