"""Ranges in spreadsheets: written, read by another package, changed there, compared and taken; bad ones named."""

import openpyxl
import pandas
import pytest

import architectonic as a
from architectonic.base.errors import UserFault
from architectonic.exchange import spreadsheet
from architectonic.family import scopes
from architectonic.quantities.preferred import term
from architectonic.session.ranges import sheets
from architectonic.session.ranges.rows import rows

pytestmark = pytest.mark.kernel


@pytest.fixture
def bar(store):
    with a.new("Bars", sizes=("S", "L"), store=store) as opened:
        part = opened.part("Bar")
        part.parameter("length", "60 mm", L="120 mm")
        part.parameter("depth", "length / 4")
        outline = part.sketch("Outline")
        outline.rectangle("length", "20 mm")
        part.extrude(make="Bar", regions=outline.region(), far="depth", name="Block")
        part.row("L long", "L", length="parent.length + 30 mm")
        yield part


def written(bar, file):
    seen = bar.opened.evaluate(("Bar",))
    spreadsheet.write(file, sheets.sheet_of_range(bar.opened.family, seen, bar.record))
    return file


@pytest.mark.parametrize("ending", [".csv", ".xlsx"])
def test_what_is_written_says_the_same_when_it_is_read(bar, tmp_path, ending):
    file = written(bar, tmp_path / f"bar{ending}")
    read = pandas.read_csv(file) if ending == ".csv" else pandas.read_excel(file)
    assert list(read["Configuration"]) == ["S", "L", "L long"] and list(read["Child of"].fillna("")) == ["", "", "L"]
    assert list(read["length mm"].fillna("").astype(str)) in (
        ["", "120", "parent.length + 30 mm"],
        ["", "120.0", "parent.length + 30 mm"],
    )
    found = sheets.compare(bar.opened.family, bar.id, spreadsheet.read(file))
    assert (found.changes, found.fresh, found.faults, found.only_here) == ((), (), (), ())


def test_a_changed_sheet_is_compared_and_taken_as_one(bar, tmp_path):
    file = written(bar, tmp_path / "bar.xlsx")
    book = openpyxl.load_workbook(file)
    page = book.active
    columns = {c.value: c.column for c in page[1]}
    page.cell(2, columns["length mm"]).value = 63
    page.cell(4, columns["length mm"]).value = None
    page.cell(3, columns["Number"]).value = "B-2"
    for k, size in enumerate(term("R10", 20 + n) for n in range(3)):  # 100, 125, 160 of ISO 3
        page.cell(5 + k, 1).value, page.cell(5 + k, columns["length mm"]).value = f"R {size:g}", size
    page.cell(5, 2).value = "L long"
    book.save(file)
    found = sheets.compare(bar.opened.family, bar.id, spreadsheet.read(file))
    assert [(c.row, c.title, c.before, c.after) for c in found.changes] == [
        ("S", "length", "", "63 mm"),
        ("L", "Number", "", "B-2"),
        ("L long", "length", "parent.length + 30 mm", ""),
        ("R 100", "length", "", "100 mm"),
        ("R 125", "length", "", "125 mm"),
        ("R 160", "length", "", "160 mm"),
    ]
    assert found.fresh == (("R 100", "L long"), ("R 125", ""), ("R 160", "")) and not found.faults
    bar.opened.edit("take", lambda f: sheets.take(f, bar.id, found))
    assert [(r.name, r.depth) for r in rows(bar.opened.family, bar.record)] == [
        ("S", 0), ("L", 0), ("L long", 1), ("R 100", 2), ("R 125", 0), ("R 160", 0),
    ]  # fmt: skip
    assert bar.in_size("R 160").value("length") == 160 and bar.in_size("L long").value("length") == 120
    assert scopes.said(bar.opened.family, bar.in_size("L").at, "number") == "B-2"
    assert sheets.compare(bar.opened.family, bar.id, spreadsheet.read(file)).changes == ()


def test_what_cannot_be_used_is_named_by_its_cell(bar, tmp_path):
    book = openpyxl.Workbook()
    page = book.active
    for line in (
        ["Name", "length", "Colour", "Mass g"],
        ["S", "#REF!", "red", 4],
        ["A", 70],
        ["a", 80],
        ["", 90],
        ["B", 50],
        ["C", 50],
    ):
        page.append(line)
    page.merge_cells("B6:B7")
    book.save(tmp_path / "bad.xlsx")
    found = sheets.compare(bar.opened.family, bar.id, spreadsheet.read(tmp_path / "bad.xlsx"))
    told = dict(found.faults)
    assert set(told) == {"B2", "A4", "A5", "B7"}
    assert (
        "error #REF!" in told["B2"]
        and "stands in A3 too" in told["A4"]
        and "no name" in told["A5"]
        and "merged" in told["B7"]
    )
    family = bar.opened.family
    with pytest.raises(UserFault, match="Colour of S: red: “red” is no colour"):
        sheets.take(family, bar.id, found)
    (tmp_path / "none.csv").write_text("Name,weight\nS,3\n")
    with pytest.raises(UserFault, match="no column of it is one of the range"):
        sheets.compare(family, bar.id, spreadsheet.read(tmp_path / "none.csv"))
    (tmp_path / "orphan.csv").write_text("Configuration,Child of,length\nX,Nobody,3\n")
    (fault,) = sheets.compare(family, bar.id, spreadsheet.read(tmp_path / "orphan.csv")).faults
    assert fault == ("B2", "there is no configuration “Nobody” to be the child of")
