"""A catalogue of a range as a workbook and as a PDF with pictures."""

from __future__ import annotations

import io
from collections.abc import Sequence
from importlib.resources import as_file, files
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

PAGE = (297.0, 210.0)
"""A4 across, mm (ISO 216)."""
EDGE, GAP = 12.0, 4.0
PICTURES = 4
"""In a line of the page."""
LINE = 5.4
INK, SOFT, HAIR = (34, 48, 60), (104, 112, 118), (207, 200, 186)


class CatalogueRow(NamedTuple):
    """A row: its name, what stands below its picture, its cells, and its picture ((h, w, 3) bytes, None for none)."""

    name: str
    caption: str
    cells: tuple[str, ...]
    picture: np.ndarray | None


class Catalogue(NamedTuple):
    """What a catalogue shows: title, a line below it, headings with units, rows."""

    title: str
    note: str
    headings: tuple[tuple[str, str], ...]
    rows: tuple[CatalogueRow, ...]


def write_pdf(file: Path, of: Catalogue) -> None:
    """Pictures of all rows at one scale, then the table, its headings on every page.

    Raises:
        OSError: it cannot be written.
    """
    from fpdf import FPDF  # a library of its own: only when such a file is written

    class Pages(FPDF):  # type: ignore[misc]
        def footer(self) -> None:
            self.set_y(-9)
            self.set_font("Inter", size=7)
            self.set_text_color(*SOFT)
            self.cell(0, 4, f"{of.title}, {self.page_no()} of {{nb}}", align="R")

    pdf: Any = Pages("L", "mm", "A4")
    pdf.set_title(of.title)
    pdf.set_creator("Architectonic")
    for style, name in (("", "Inter-Regular"), ("B", "Inter-SemiBold")):
        with as_file(files("architectonic.base").joinpath("fonts", f"{name}.otf")) as font:
            pdf.add_font("Inter", style, str(font))
    pdf.set_auto_page_break(False)
    _pictures(pdf, of)
    _table(pdf, of)
    file.write_bytes(bytes(pdf.output()))


def _head(pdf: Any, of: Catalogue) -> float:
    pdf.add_page()
    pdf.set_xy(EDGE, EDGE)
    pdf.set_text_color(*INK)
    pdf.set_font("Inter", "B", 14)
    pdf.cell(0, 7, of.title)
    pdf.set_xy(EDGE, EDGE + 7)
    pdf.set_font("Inter", size=8)
    pdf.set_text_color(*SOFT)
    pdf.cell(0, 4, of.note)
    return EDGE + 15


def _pictures(pdf: Any, of: Catalogue) -> None:
    from PIL import Image

    wide = (PAGE[0] - 2 * EDGE - (PICTURES - 1) * GAP) / PICTURES
    high = wide * 0.62
    y = PAGE[1]
    for number, row in enumerate(of.rows):
        column = number % PICTURES
        if column == 0:
            y = y + high + LINE + GAP if number else PAGE[1]
            if y + high + LINE > PAGE[1] - EDGE:
                y = _head(pdf, of)
        x = EDGE + column * (wide + GAP)
        pdf.set_draw_color(*HAIR)
        pdf.rect(x, y, wide, high)
        if row.picture is not None:
            data = io.BytesIO()
            Image.fromarray(row.picture).save(data, "PNG")
            pdf.image(data, x + 0.5, y + 0.5, wide - 1, high - 1, keep_aspect_ratio=True)
        pdf.set_xy(x, y + high)
        pdf.set_font("Inter", "B", 8)
        pdf.set_text_color(*INK)
        pdf.cell(wide, LINE, _cut(pdf, row.name, wide - 22))
        pdf.set_xy(x, y + high)
        pdf.set_font("Inter", size=7)
        pdf.set_text_color(*SOFT)
        pdf.cell(wide, LINE, row.caption, align="R")


def _table(pdf: Any, of: Catalogue) -> None:
    """Columns as wide as what stands in them; those that do not fit come on pages of their own, with the names again."""
    pdf.set_font("Inter", size=7)
    texts = [[row.cells[k] for row in of.rows] for k in range(len(of.headings))]
    widths = [
        min(60.0, max(pdf.get_string_width(t) for t in (title, unit, *column)) + 5)
        for (title, unit), column in zip(of.headings, texts, strict=True)
    ]
    first = min(60.0, max((pdf.get_string_width(r.name) for r in of.rows), default=20.0) * 1.1 + 5)
    room, groups = PAGE[0] - 2 * EDGE - first, [list[int]()]
    for k, wide in enumerate(widths):
        if groups[-1] and sum(widths[j] for j in groups[-1]) + wide > room:
            groups.append([])
        groups[-1].append(k)
    for group in groups:
        y = PAGE[1]
        for row in of.rows:
            if y + LINE > PAGE[1] - EDGE:
                y = _headings(pdf, of, group, widths, first, _head(pdf, of))
            _line(
                pdf,
                y,
                first,
                [(row.name, "B", "L"), *((row.cells[k], "", "R") for k in group)],
                [widths[k] for k in group],
            )
            y += LINE


def _headings(pdf: Any, of: Catalogue, group: Sequence[int], widths: Sequence[float], first: float, y: float) -> float:
    told = [[of.headings[k][part] for k in group] for part in (0, 1)]
    for part, style in ((0, "B"), (1, "")):
        name = "Configuration" if part == 0 else ""
        cells = [(name, style, "L"), *((t, style, "R") for t in told[part])]
        _line(pdf, y + part * LINE * 0.7, first, cells, [widths[k] for k in group], rule=part == 1)
    return y + 1.8 * LINE


def _line(
    pdf: Any, y: float, first: float, cells: Sequence[tuple[str, str, str]], widths: Sequence[float], rule: bool = True
) -> None:
    x = EDGE
    for (text, style, side), wide in zip(cells, (first, *widths), strict=True):
        pdf.set_xy(x, y)
        pdf.set_font("Inter", style, 7)
        pdf.set_text_color(*INK)
        pdf.cell(wide, LINE, _cut(pdf, text, wide - 2), align=side)
        x += wide
    if rule:
        pdf.set_draw_color(*HAIR)
        pdf.line(EDGE, y + LINE, x, y + LINE)


def _cut(pdf: Any, text: str, room: float) -> str:
    """A user's long text, shortened in the middle."""
    if pdf.get_string_width(text) <= room:
        return text
    keep = len(text)
    while keep > 2 and pdf.get_string_width(f"{text[: keep // 2]}…{text[-(keep // 2) :]}") > room:
        keep -= 1
    return f"{text[: keep // 2]}…{text[-(keep // 2) :]}"


def rows_of(of: Catalogue) -> list[list[str | float]]:
    """The table for a workbook: figures as numbers."""
    head: list[str | float] = ["Configuration", *(f"{t} {u}".strip() for t, u in of.headings)]
    return [head, *([row.name, *(_figure(c) for c in row.cells)] for row in of.rows)]


def _figure(text: str) -> str | float:
    try:
        return float(text)
    except ValueError:
        return text
