"""Files that are meant to do harm to who reads them: each is named by what it tries; and whole ones, to be damaged."""

from __future__ import annotations

import io
import random
import re
import struct
import tempfile
import zipfile
import zlib
from collections.abc import Callable, Iterator
from functools import cache
from pathlib import Path

Made = tuple[str, str, Callable[[random.Random], bytes]]
"""Kind of reader, ending, and what makes the content."""


def hostile(folder: Path, draw: random.Random) -> Iterator[tuple[str, str, Path]]:
    """Name, kind of reader and path of one file after the other, of every format."""
    for name, (kind, ending, make) in MAKERS.items():
        path = folder / f"{name.replace(' ', '-')}{ending}"
        path.write_bytes(make(draw))
        yield name, kind, path


def _workbook(sheet: str, merged: str = "", shared: str = "") -> bytes:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as book:
        book.writestr(
            "[Content_Types].xml",
            '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/></Types>',
        )
        book.writestr(
            "_rels/.rels",
            '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>',
        )
        book.writestr(
            "xl/workbook.xml",
            '<?xml version="1.0"?><workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="S" sheetId="1" r:id="rId1"/></sheets></workbook>',
        )
        book.writestr(
            "xl/_rels/workbook.xml.rels",
            '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
        )
        merge = f'<mergeCells count="1"><mergeCell ref="{merged}"/></mergeCells>' if merged else ""
        book.writestr(
            "xl/worksheets/sheet1.xml",
            f'<?xml version="1.0"?>{shared}<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>{sheet}</sheetData>{merge}</worksheet>',
        )
    return file.getvalue()


def _row(n: int, cells: list[str]) -> str:
    return (
        f'<row r="{n}">'
        + "".join(f'<c r="{chr(65 + k)}{n}" t="inlineStr"><is><t>{c}</t></is></c>' for k, c in enumerate(cells))
        + "</row>"
    )


def many_rows(count: int) -> bytes:
    """A workbook with so many rows."""
    return _workbook("".join(_row(n, ["a", "b", "c"]) for n in range(1, count + 1)))


def _png(width: int, height: int, bomb: bool = False) -> bytes:
    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    rows = zlib.compress(b"\0" * (1000 if not bomb else 200_000_000), 9)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0))
        + chunk(b"IDAT", rows)
        + chunk(b"IEND", b"")
    )


def _dxf(entities: str, blocks: str = "") -> bytes:
    return f"0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1032\n0\nENDSEC\n0\nSECTION\n2\nBLOCKS\n{blocks}0\nENDSEC\n0\nSECTION\n2\nENTITIES\n{entities}0\nENDSEC\n0\nEOF\n".encode()


def _insert(name: str) -> str:
    return f"0\nINSERT\n8\n0\n2\n{name}\n10\n0\n20\n0\n30\n0\n70\n100\n71\n100\n44\n1\n45\n1\n"


def _nested(deep: int) -> str:
    return "".join(
        f"0\nBLOCK\n8\n0\n2\nB{k}\n70\n0\n10\n0\n20\n0\n30\n0\n3\nB{k}\n{_insert(f'B{k + 1}') if k + 1 < deep else ''}0\nENDBLK\n8\n0\n"
        for k in range(deep)
    )


def _svg(body: str) -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 10 10">{body}</svg>'.encode()


def _laughs() -> bytes:
    body = '<g id="a0"><rect width="1" height="1"/></g>'
    for k in range(1, 12):
        body += f'<g id="a{k}">' + f'<use xlink:href="#a{k - 1}"/>' * 10 + "</g>"
    return _svg(body)


def _noise(count: int) -> Callable[[random.Random], bytes]:
    return lambda draw: draw.randbytes(count)


@cache
def nested_products(deep: int, wide: int) -> bytes:
    """A block that a product uses so often, that another one uses as often, and so on."""
    from architectonic.kernel import step
    from architectonic.kernel.shapes.outlines import KernelFrame, Side
    from architectonic.kernel.solids import prisms

    corners = [(0.0, 0.0), (3.0, 0.0), (3.0, 2.0), (0.0, 2.0)]
    loop = tuple(Side(f"s{k}", corners[k], corners[(k + 1) % 4]) for k in range(4))
    frame = KernelFrame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    block = prisms.prism(frame, [(loop,)], (0.0, 0.0, 0.0), (1.0, 0.0, 0.0), "block")
    products = [step.Product("Block", (step.WrittenSolid("Block", block),))]
    for k in range(deep):
        uses = tuple(step.WrittenUse(k, f"use {n}") for n in range(wide))
        products.append(step.Product(f"Level {k}", (), uses))
    with tempfile.TemporaryDirectory() as scratch:
        path = Path(scratch) / "made.step"
        step.write(path, products)
        return path.read_bytes()


def _used_by_itself() -> bytes:
    """A product that uses what uses it."""
    used = re.compile(rb"(NEXT_ASSEMBLY_USAGE_OCCURRENCE\([^#]*)(#\d+),(#\d+)")
    whole, count = used.subn(rb"\1\3,\2", nested_products(2, 2), count=1)
    assert count
    return whole


def _far_fetched() -> bytes:
    """Coordinates that are no numbers, or beyond all."""
    return re.sub(rb"CARTESIAN_POINT\('',\(3\.", b"CARTESIAN_POINT('',(1.E400", nested_products(1, 1))


MAKERS: dict[str, Made] = {
    "merged over the whole sheet": (
        "spreadsheet",
        ".xlsx",
        lambda _: _workbook(_row(1, ["name", "M"]), "A1:XFD1048576"),
    ),
    "a sheet that unpacks without end": (
        "spreadsheet",
        ".xlsx",
        lambda _: _workbook(_row(1, ["name", "x" * 300_000_000])),
    ),
    "a million rows": (
        "spreadsheet",
        ".xlsx",
        lambda _: many_rows(1_000_000),
    ),
    "a cell far away": (
        "spreadsheet",
        ".xlsx",
        lambda _: _workbook('<row r="1048576"><c r="XFD1048576"><v>1</v></c></row>'),
    ),
    "entities in entities": (
        "spreadsheet",
        ".xlsx",
        lambda _: _workbook(
            _row(1, ["&lol9;"]),
            "",
            '<!DOCTYPE x [<!ENTITY lol0 "lol">'
            + "".join(f'<!ENTITY lol{k} "{f"&lol{k - 1};" * 10}">' for k in range(1, 10))
            + "]>",
        ),
    ),
    "no workbook": ("spreadsheet", ".xlsx", _noise(4000)),
    "half a workbook": ("spreadsheet", ".xlsx", lambda _: _workbook(_row(1, ["name", "M"]))[:400]),
    "odd UTF-16": ("spreadsheet", ".csv", lambda _: b"\xff\xfea\0,\0b"),
    "a field of any length": ("spreadsheet", ".csv", lambda _: b'name,M\n"' + b"x" * 3_000_000 + b"\n"),
    "quotes that never close": ("spreadsheet", ".csv", lambda _: b'"' * 100_001),
    "bytes of chance": ("spreadsheet", ".csv", _noise(5000)),
    "many columns": ("spreadsheet", ".csv", lambda _: b"," * 2_000_000 + b"\n" + b"," * 2_000_000),
    "blocks in blocks": ("drawing", ".dxf", lambda _: _dxf(_insert("B0"), _nested(7))),
    "a block that holds itself": (
        "drawing",
        ".dxf",
        lambda _: _dxf(_insert("B0"), _nested(1).replace("0\nENDBLK", _insert("B0") + "0\nENDBLK")),
    ),
    "half a drawing": ("drawing", ".dxf", lambda _: _dxf("0\nLINE\n10\n")[:-30]),
    "a spline of a billion": (
        "drawing",
        ".dxf",
        lambda _: _dxf(
            "0\nSPLINE\n8\n0\n70\n8\n71\n3\n72\n1000000000\n73\n999999999\n40\n0\n40\n1\n10\nnan\n20\n1e400\n"
        ),
    ),
    "no drawing": ("drawing", ".dxf", _noise(4000)),
    "a heading and chance": ("drawing", ".dxf", lambda draw: b"AutoCAD Binary DXF\r\n\x1a\0" + draw.randbytes(3000)),
    "a picture of four billion pixels": ("picture", ".png", lambda _: _png(65535, 65535)),
    "a picture that unpacks without end": ("picture", ".png", lambda _: _png(4000, 4000, bomb=True)),
    "half a picture": ("picture", ".png", lambda _: _png(10, 10)[:40]),
    "a drawing that uses itself": ("picture", ".svg", lambda _: _svg('<g id="a"><use xlink:href="#a"/></g>')),
    "two that use each other": (
        "picture",
        ".svg",
        lambda _: _svg('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>'),
    ),
    "uses of uses": ("picture", ".svg", lambda _: _laughs()),
    "a filter of itself": (
        "picture",
        ".svg",
        lambda _: _svg('<pattern id="p" fill="url(#p)"><rect fill="url(#p)"/></pattern>'),
    ),
    "a file of the system": (
        "picture",
        ".svg",
        lambda _: _svg('<image href="file:///etc/hostname" width="9" height="9"/>'),
    ),
    "deep": ("picture", ".svg", lambda _: _svg("<g>" * 100_000 + "</g>" * 100_000)),
    "no picture": ("picture", ".png", _noise(3000)),
    "products of products of products": ("bodies", ".step", lambda _: nested_products(17, 2)),
    "a product that uses itself": ("bodies", ".step", lambda _: _used_by_itself()),
    "coordinates beyond all": ("bodies", ".step", lambda _: _far_fetched()),
    "half of a product": ("bodies", ".step", lambda _: nested_products(2, 2)[:9000]),
    "brackets in brackets": (
        "bodies",
        ".step",
        lambda _: (
            b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=" + b"(" * 1_000_000 + b";\nENDSEC;\nEND-ISO-10303-21;\n"
        ),
    ),
    "a heading and chance, as bodies": ("bodies", ".step", lambda draw: b"ISO-10303-21;\n" + draw.randbytes(5000)),
}


def mutated(data: bytes, draw: random.Random) -> bytes:
    """A file with a few bytes changed, cut, doubled or taken out."""
    found = bytearray(data)
    for _ in range(draw.randrange(1, 6)):
        at = draw.randrange(len(found) or 1)
        match draw.randrange(4):
            case 0:
                found[at : at + 1] = bytes([draw.randrange(256)])
            case 1:
                del found[at : at + draw.randrange(1, 40)]
            case 2:
                found[at:at] = found[at : at + draw.randrange(1, 40)]
            case 3:
                found = found[: at + 1]
    return bytes(found)


def small() -> dict[tuple[str, str], bytes]:
    """Whole files of each kind, to be damaged."""
    return {
        ("spreadsheet", ".xlsx"): _workbook(_row(1, ["name", "M"]) + _row(2, ["wall", "2 mm"])),
        ("spreadsheet", ".csv"): b"name;M\nwall;2,5 mm\n",
        ("drawing", ".dxf"): _dxf("0\nLINE\n8\n0\n10\n0\n20\n0\n11\n5\n21\n5\n0\nCIRCLE\n8\n0\n10\n1\n20\n1\n40\n3\n"),
        ("picture", ".svg"): _svg('<g id="a"><rect width="2" height="2"/></g><use href="#a"/>'),
        ("picture", ".png"): _png(4, 4),
        ("bodies", ".step"): nested_products(2, 2),
    }
