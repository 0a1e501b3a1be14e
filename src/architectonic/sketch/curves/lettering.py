"""Outlines of text in the shipped font, as lines and cubic spans.

Lengths are in heights of a capital letter; the base line begins at the origin. Outlines of one text never cross.
"""

from __future__ import annotations

from functools import lru_cache
from importlib.resources import as_file, files
from typing import Any

from architectonic.base.errors import UserFault
from architectonic.sketch.curves import paths, piece
from architectonic.sketch.curves.piece import LETTER, Piece

Point = tuple[float, float]
Outline = tuple[tuple[Point, ...], ...]
"""Poles of each span in turn: two for a line, four for a cubic."""


@lru_cache(maxsize=1)
def _font() -> tuple[Any, Any, Any, float]:
    """Glyphs, the glyph of each character, advance widths, and the height of a capital in font units."""
    from fontTools.ttLib import TTFont  # loads with the first text, not with a window

    with as_file(files("architectonic.base").joinpath("fonts", "Inter-Regular.otf")) as file:
        font = TTFont(file)
        return font.getGlyphSet(), font.getBestCmap(), font["hmtx"], float(font["OS/2"].sCapHeight)


@lru_cache(maxsize=256)
def set_out(text: str) -> tuple[tuple[Outline, ...], float]:
    """Outlines of a line of text, and its width.

    Raises:
        UserFault: nothing to see in it, or a character that the font does not have.
    """
    from fontTools.pens.recordingPen import DecomposingRecordingPen

    glyphs, names, advance, height = _font()
    missing = [c for c in text if ord(c) not in names]
    if missing:
        raise UserFault(f"the font has no “{missing[0]}”", text, "leave it out")
    found: list[Outline] = []
    x = 0.0
    for character in text:
        name = names[ord(character)]
        pen = DecomposingRecordingPen(glyphs)
        glyphs[name].draw(pen)
        found += _contours(pen.value, x, height)
        x += advance[name][0]
    if not found:
        raise UserFault("a text needs something to see", text, "type at least one letter")
    return tuple(found), x / height


def _contours(drawn: list[tuple[str, tuple[Point, ...]]], shift: float, height: float) -> list[Outline]:
    """Closed contours of one glyph, moved along the base line."""
    found: list[Outline] = []
    spans: list[tuple[Point, ...]] = []
    here = first = (0.0, 0.0)
    for what, given in drawn:
        points = tuple(((p[0] + shift) / height, p[1] / height) for p in given)
        if what == "moveTo":
            here = first = points[0]
            spans = []
        elif what in ("lineTo", "curveTo"):
            if points[-1] != here:
                spans.append((here, *points))
            here = points[-1]
        elif what in ("closePath", "endPath"):
            if here != first:
                spans.append((here, first))
            if spans:
                found.append(tuple(spans))
    return found


def ratio(text: str) -> float:
    """Height of a capital by the width of the text."""
    return 1.0 / set_out(text)[1]


def pieces(curve: str, text: str, values: tuple[float, ...]) -> list[Piece]:
    """Outlines of a text where it stands, each piece named after the text.

    Args:
        values: ends of the base line, and the upper corner over its start (mm).
    """
    outlines, width = set_out(text)
    ax, ay, bx, by, cx, cy = values
    ux, uy, vx, vy = (bx - ax) / width, (by - ay) / width, cx - ax, cy - ay
    found: list[Piece] = []
    for outline in outlines:
        moved = [tuple((ax + x * ux + y * vx, ay + x * uy + y * vy) for x, y in span) for span in outline]
        for k, span in enumerate(moved):
            name = f"{curve}{LETTER}{len(found)}"
            end = moved[(k + 1) % len(moved)][0]
            if len(span) == 2:
                found.append(piece.line(name, span[0], end))
            else:
                found.append(piece.along(name, paths.bezier((*span[:-1], end))))
    return found
