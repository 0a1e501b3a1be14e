"""The files beside the demo family: a drawn concept, an outline from elsewhere, the design office's spreadsheet, the foundry's
casting (the ballast in M, written by the program itself)."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from architectonic.demo.writer import HEAD
from architectonic.describe.results import CurveResult, SketchResult
from architectonic.exchange import dxf, spreadsheet
from architectonic.family.records import Arc, Curve, Line

WIDE, HIGH, CORNER = 90.0, 56.0, 12.0
"""The head's outline as it was drawn, mm."""


def outline() -> list[Curve]:
    """A rectangle with round corners about the origin, counter-clockwise: its lower side first, then a corner, and so on."""
    x, y, r = WIDE / 2, HIGH / 2, CORNER
    a, b = x - r, y - r
    return [
        Line(start=(-a, -y), end=(a, -y)), Arc(centre=(a, -b), start=(a, -y), end=(x, -b)),
        Line(start=(x, -b), end=(x, b)), Arc(centre=(a, b), start=(x, b), end=(a, y)),
        Line(start=(a, y), end=(-a, y)), Arc(centre=(-a, b), start=(-a, y), end=(-x, b)),
        Line(start=(-x, b), end=(-x, -b)), Arc(centre=(-a, -b), start=(-x, -b), end=(-a, -y)),
    ]  # fmt: skip


def write(folder: Path) -> None:
    """Write them all into a folder."""
    folder.mkdir(parents=True, exist_ok=True)
    rows: list[list[str | float]] = [["Name", "Unit", "S", "M", "L", "Note"]]
    rows += [[name, "mm", float(s), float(m), float(l), note] for name, s, m, l, note in HEAD]
    spreadsheet.write(folder / "sizes.csv", rows)
    dxf.write(folder / "head-outline.dxf", _solved(outline()))
    concept(folder / "concept.png")
    (folder / "ballast.step").write_bytes(resources.files("architectonic.demo").joinpath("ballast.step").read_bytes())


def _solved(curves: list[Curve]) -> SketchResult:
    found = {}
    for k, c in enumerate(curves):
        if isinstance(c, Line):
            found[f"c{k}"] = CurveResult("line", (*c.start, *c.end))
        elif isinstance(c, Arc):
            found[f"c{k}"] = CurveResult("arc", (*c.centre, *c.start, *c.end, CORNER))
    return SketchResult(found, 0, (), 0.0, ())


def concept(file: Path) -> None:
    """A drawn reading light, 1200 x 1200: soft strokes on paper, its stem 600 pixels high."""
    from PIL import Image, ImageDraw, ImageFilter

    paper = Image.new("RGB", (1200, 1200), "#FBF8F1")
    ink = ImageDraw.Draw(paper)
    soft, dark, light = "#B9AE9C", "#6E6557", "#EFE8DA"
    for k in range(0, 1200, 60):
        ink.line([(0, k), (1200, k)], fill=light, width=2)
        ink.line([(k, 0), (k, 1200)], fill=light, width=2)
    for x in (640, 760, 880, 1000):
        ink.line([(780, 262), (x, 1090)], fill="#E6DCC6", width=3)
    ink.line([(120, 1100), (1120, 1100)], fill=soft, width=3)
    ink.rectangle([175, 1070, 425, 1100], outline=dark, width=4)
    for shift in (-13, 13):
        ink.line([(300 + shift, 1070), (300 + shift, 505)], fill=dark, width=4)
        ink.line([(306, 497 + shift), (764, 253 + shift)], fill=dark, width=4)
    ink.ellipse([276, 476, 324, 524], outline=dark, width=5)
    ink.polygon([(748, 180), (802, 284), (776, 298), (722, 194)], outline=dark, width=5)
    paper.filter(ImageFilter.GaussianBlur(0.8)).save(file)
