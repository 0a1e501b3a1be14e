"""CSV and XLSX as a grid of texts, in and out, whatever the locale they were written in.

What a cell holds is told as a person would type it: `12.5`, `3/8 in`, `Sizes.wall + 2 mm`. Numbers are exact both
ways: they are written with as many figures as it takes to read the same float back.
"""

from __future__ import annotations

import csv
import io
import re
import zipfile
from collections.abc import Sequence
from pathlib import Path
from typing import Any, NamedTuple

from architectonic.base import files
from architectonic.base.cancel import Watch
from architectonic.base.errors import EnvironmentFault, UserFault

MAX_BYTES = 64_000_000
MAX_CELLS = 2_000_000
MAX_UNPACKED = 400_000_000
"""Bytes that the parts of a workbook may have together."""
ENDINGS = (".csv", ".tsv", ".txt", ".xlsx", ".xlsm")


class Cell(NamedTuple):
    """A cell's text, and why it cannot be used ("" when it can)."""

    text: str
    fault: str = ""


class Grid(NamedTuple):
    """A sheet: headings, and rows of as many cells; `where` names a cell as the spreadsheet does."""

    name: str
    headings: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]
    first_row: int = 2
    sheets: tuple[str, ...] = ()

    def where(self, row: int, column: int) -> str:
        """The name of a cell, such as C7."""
        letters, n = "", column
        while n >= 0:
            letters, n = chr(ord("A") + n % 26) + letters, n // 26 - 1
        return f"{letters}{self.first_row + row}"

    def column(self, heading: str) -> int:
        """The place of a column, -1 when there is none."""
        folded = [h.casefold() for h in self.headings]
        return folded.index(heading.casefold()) if heading.casefold() in folded else -1


def read(file: Path, sheet: str = "", watch: Watch | None = None) -> Grid:
    """Read a spreadsheet; its first row that is not empty holds the headings.

    Raises:
        UserFault: not a spreadsheet, too large, no such sheet, no headings.
        EnvironmentFault: the file cannot be read now (gone, locked, half-written).
        Cancelled: it was asked to stop.
    """
    try:
        size = file.stat().st_size
        if size > MAX_BYTES:
            raise UserFault(f"it is larger than {MAX_BYTES // 1_000_000} MB", file.name, "take out what is not needed")
    except FileNotFoundError:
        raise EnvironmentFault(f"{file.name} is not there any more") from None
    except OSError as fault:
        raise EnvironmentFault(f"{file.name} cannot be read: {fault.strerror or fault}") from None
    data = files.read(file)
    if file.suffix.lower() in (".xlsx", ".xlsm"):
        return _workbook(file, data, sheet, watch or Watch())
    if b"\0" in data[:4096] and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise UserFault("this is neither a CSV file nor a workbook", file.name, "save it as CSV or XLSX")
    return _grid(file.name, _csv_rows(decode(data)), ())


def decode(data: bytes) -> str:
    """Text of a file: by its mark, else UTF-8, else the Western code page that older spreadsheets write."""
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return data.decode("utf-16")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace")


def _csv_rows(text: str) -> list[list[Cell]]:
    """Rows of a CSV text; the separator is the one that parts its first lines most evenly."""
    lines = [line for line in text.splitlines() if line.strip()][:20]
    separator = _separator(lines)
    rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=separator))
    cells = [cell.strip() for row in rows for cell in row]
    comma = decimal_comma(cells, otherwise=separator == ";")  # where commas are decimal signs, semicolons part cells
    return [[Cell(number_text(cell.strip(), comma), _error(cell.strip())) for cell in row] for row in rows]


def _separator(lines: list[str]) -> str:
    def evenness(sign: str) -> tuple[bool, int]:
        counts = [len(row) for row in csv.reader(lines, delimiter=sign)]
        return (len(set(counts)) == 1 and counts[0] > 1, min(counts, default=0))

    return max(("\t", ";", ",", "|"), key=evenness)


def decimal_comma(cells: Sequence[str], otherwise: bool) -> bool:
    """Whether figures are written with decimal commas: some cell can be nothing else, or else no cell denies it.

    Args:
        otherwise: what holds where no cell says it.
    """
    if any(_DECIMAL_COMMA.fullmatch(c) for c in cells):
        return True
    return otherwise and not any(re.fullmatch(r"[-+−]?\d*\.\d+", c) for c in cells)


_DECIMAL_COMMA = re.compile(r"[-+−]?\d{1,3}(\.\d{3})+,\d+|[-+−]?\d+,\d{1,2}|[-+−]?\d+,\d{4,}")
_GROUPED = {True: re.compile(r"[-+−]?\d{1,3}(\.\d{3})+(,\d+)?"), False: re.compile(r"[-+−]?\d{1,3}(,\d{3})+(\.\d+)?")}


def number_text(text: str, comma: bool) -> str:
    """A number written with a decimal comma or with groups of thousands as it is typed here; other text as it is.

    Args:
        comma: whether decimal commas are written where it comes from.
    """
    bare = text.replace("\u00a0", "").replace("\u202f", "")
    if re.fullmatch(r"[-+−]?\d{1,3}( \d{3})+([.,]\d+)?", bare):
        bare = bare.replace(" ", "")
    if _GROUPED[comma].fullmatch(bare):
        bare = bare.replace("." if comma else ",", "")
    if comma and re.fullmatch(r"[-+−]?\d+,\d+", bare):
        return bare.replace(",", ".")
    return bare if re.fullmatch(r"[-+−]?\d+(\.\d+)?([eE][-+]?\d+)?", bare) else text


def _error(text: str) -> str:
    return f"the spreadsheet has the error {text} here" if re.fullmatch(r"#[A-Z/0!?]{2,}[A-Z0-9/!?]*", text) else ""


def _opened(file: Path, data: bytes) -> tuple[Any, Any]:
    """A workbook with its values, and with its formulas."""
    import openpyxl  # only when a workbook is read: it costs a tenth of a second

    _refuse_huge(file.name, data)
    try:
        return openpyxl.load_workbook(io.BytesIO(data), data_only=True), openpyxl.load_workbook(io.BytesIO(data))
    except (zipfile.BadZipFile, EOFError):
        raise EnvironmentFault(f"{file.name} is not a whole workbook; it may still be being written") from None
    except MemoryError:
        raise
    except Exception as fault:  # the reader raises whatever its parsers raise
        raise UserFault(f"this is not a workbook that can be read ({type(fault).__name__})", file.name) from None


def _workbook(file: Path, data: bytes, sheet: str, watch: Watch) -> Grid:
    book, formulas = _opened(file, data)
    names = [s.title for s in book.worksheets]
    if sheet and sheet not in names:
        raise UserFault(f"there is no sheet “{sheet}”", file.name, "sheets are " + ", ".join(names))
    if not names:
        raise UserFault("this workbook has no sheet with cells", file.name)
    page = book[sheet or names[0]]
    if (page.max_row or 0) * (page.max_column or 0) > MAX_CELLS:
        raise UserFault(f"it has more than {MAX_CELLS} cells", file.name, "take out what is not needed")
    faults: dict[tuple[int, int], str] = {}
    for area in page.merged_cells.ranges:
        for row, column in area.cells:
            if (row, column) != (area.min_row, area.min_col):
                faults[row, column] = f"the cells {area.coord} are merged: only the first one holds a value"
    for row in formulas[page.title].iter_rows():
        for c in row:
            if c.data_type == "f" and page.cell(c.row, c.column).value is None:
                faults[c.row, c.column] = "its formula was never computed: open the workbook, save it, and try again"
    rows = []
    for number, row in enumerate(page.iter_rows(values_only=True), 1):
        if number % 500 == 0:
            watch.at(0.5 + 0.5 * number / (page.max_row or 1))  # opening it is about half of the work
        rows.append([_cell(v, faults.get((number, k), "")) for k, v in enumerate(row, 1)])
    return _grid(file.name, rows, tuple(names))


def _refuse_huge(name: str, data: bytes) -> None:
    """Refuse a workbook that grows without measure when it is unpacked, before its reader tries.

    Raises:
        UserFault: says what is too large.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as parts:
            if sum(part.file_size for part in parts.infolist()) > MAX_UNPACKED:
                raise UserFault(
                    f"it unpacks to more than {MAX_UNPACKED // 1_000_000} MB", name, "take out what is not needed"
                )
            for part in parts.infolist():
                sheet = parts.read(part) if part.filename.startswith("xl/worksheets/") else b""
                for found in _MERGED.findall(sheet):
                    (left, top), (right, bottom) = (_CELL.fullmatch(end).groups() for end in found)  # type: ignore[union-attr]
                    wide = _column(right) - _column(left) + 1
                    if wide * (int(bottom) - int(top) + 1) > MAX_CELLS:
                        raise UserFault(f"more than {MAX_CELLS} of its cells are merged", name, "take them apart")
    except UserFault:
        raise
    except (zipfile.BadZipFile, EOFError, OSError, ValueError, NotImplementedError, RuntimeError):
        return  # its reader says what is wrong with it


_MERGED = re.compile(rb'<mergeCell [^>]*?ref="([A-Z]{1,3}\d{1,7}):([A-Z]{1,3}\d{1,7})"')
_CELL = re.compile(rb"([A-Z]+)(\d+)")


def _column(letters: bytes) -> int:
    found = 0
    for letter in letters:
        found = 26 * found + letter - ord("A") + 1
    return found


def _cell(value: Any, fault: str) -> Cell:
    if value is None:
        return Cell("", fault)
    if isinstance(value, bool) or not isinstance(value, (int, float, str)):
        return Cell(str(value), f"this is no number but {str(value)!r}")
    if isinstance(value, str):
        return Cell(value.strip(), _error(value.strip()))
    return Cell(figure(value))


def _grid(name: str, rows: list[list[Cell]], sheets: tuple[str, ...]) -> Grid:
    first = next((k for k, row in enumerate(rows) if any(c.text for c in row)), None)
    if first is None:
        raise UserFault("there is nothing in it", name, "the first row holds the headings")
    headings = [c.text for c in rows[first]]
    while headings and not headings[-1]:
        headings.pop()
    doubled = {h for h in headings if h and [x.casefold() for x in headings].count(h.casefold()) > 1}
    if doubled:
        raise UserFault(f"two columns are headed “{sorted(doubled)[0]}”", name, "give them different headings")
    wide = len(headings)
    cut = [tuple((row + [Cell("")] * wide)[:wide]) for row in rows[first + 1 :]]
    while cut and not any(c.text for c in cut[-1]):
        cut.pop()
    return Grid(name, tuple(headings), tuple(cut), first + 2, sheets)


def figure(value: float) -> str:
    """A number with the fewest figures that read back as the same float."""
    return str(int(value)) if float(value).is_integer() and abs(value) < 1e15 else repr(float(value))


def write(file: Path, rows: Sequence[Sequence[str | float]]) -> None:
    """Write rows, the first holding the headings; the ending says as what.

    Raises:
        UserFault: not an ending of a spreadsheet.
        EnvironmentFault: the file cannot be written.
    """
    ending = file.suffix.lower()
    try:
        if ending == ".xlsx":
            import openpyxl

            book = openpyxl.Workbook()
            page = book.active
            for row in rows:
                page.append(list(row))
                for cell in page[page.max_row]:
                    if isinstance(cell.value, str):
                        cell.data_type = "s"  # a text is never taken for a formula
                    elif cell.value is not None:
                        cell._value = figure(cell.value)  # the writer itself would keep 16 figures only
                        cell.data_type = "n"
            page.freeze_panes = "B2"
            book.save(file)
        elif ending in (".csv", ".tsv", ".txt"):
            with file.open("w", encoding="utf-8-sig", newline="") as stream:
                out = csv.writer(stream, delimiter="\t" if ending == ".tsv" else ",")
                out.writerows([c if isinstance(c, str) else figure(c) for c in row] for row in rows)
        else:
            raise UserFault(
                f"a table is not written as {ending or 'a file without ending'}", str(file), "use .csv or .xlsx"
            )
    except OSError as fault:
        raise EnvironmentFault(f"{file} cannot be written: {fault.strerror or fault}") from None
