"""CSV and XLSX, whatever wrote them: separators, decimal signs, encodings, broken files."""

import math
import zipfile

import openpyxl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.exchange import spreadsheet
from architectonic.exchange.spreadsheet import figure, number_text, read, write


def texts(grid):
    return [[c.text for c in row] for row in grid.rows]


@pytest.mark.parametrize(
    ("data", "rows"),
    [
        (b"Name,Value\nwall,2.4\n", [["wall", "2.4"]]),
        (b"Name;Value\r\nwall;2,4\r\nreach;1.250,75\r\n", [["wall", "2.4"], ["reach", "1250.75"]]),
        (b"Name;Value\nwall;1,250\n", [["wall", "1.250"]]),  # semicolons: the comma is the decimal sign
        (b'Name,Value\nreach,"1,250"\n', [["reach", "1250"]]),  # commas: it groups thousands
        (b"Name\tValue\nwall\t2.4\n", [["wall", "2.4"]]),
        ("\ufeffName,Value\nL\u00e4nge,3/8 in\n".encode(), [["Länge", "3/8 in"]]),
        ("Name;Value\nL\u00e4nge;2,5\n".encode("cp1252"), [["Länge", "2.5"]]),
        ("Name;Value\nL\u00e4nge;1\u202f250,5\n".encode("utf-16"), [["Länge", "1250.5"]]),
        (b'Name,Value\n"a ""b""",1e-3\n\n,\n', [['a "b"', "1e-3"]]),
    ],
)
def test_texts_of_many_origins(tmp_path, data, rows):
    file = tmp_path / "t.csv"
    file.write_bytes(data)
    assert texts(read(file)) == rows


@pytest.mark.parametrize("ending", [".csv", ".xlsx", ".tsv"])
@settings(max_examples=25)
@given(values=st.lists(st.floats(allow_nan=False, allow_infinity=False, width=64), min_size=1, max_size=12))
def test_numbers_come_back_exactly(tmp_path_factory, ending, values):
    file = tmp_path_factory.mktemp("n") / f"t{ending}"
    write(file, [["Name", "Value"], *([f"v{k}", v] for k, v in enumerate(values))])
    for (_, text), value in zip(texts(read(file)), values, strict=True):
        assert float(text) == value and math.copysign(1, float(text)) in (math.copysign(1, value), 1)


@given(
    st.floats(allow_nan=False, allow_infinity=False),
    st.sampled_from([(",", ""), (",", "."), (".", ","), (",", "\u202f")]),
)
def test_a_number_means_the_same_in_every_locale(value, signs):
    """Written with a decimal sign and groups as locales do, and read with the knowledge of which it was."""
    decimal, group = signs
    plain = f"{value:,.6f}"
    written = plain.translate(str.maketrans({",": group, ".": decimal}))
    assert float(number_text(written, decimal == ",")) == float(plain.replace(",", ""))


def test_a_text_that_looks_like_a_formula_is_written_as_text(tmp_path):
    file = tmp_path / "t.xlsx"
    write(file, [["Name", "Note"], ["wall", "=1+1"]])
    assert openpyxl.load_workbook(file).active["B2"].data_type == "s" and texts(read(file)) == [["wall", "=1+1"]]


def test_errors_merged_cells_and_formulas_that_were_never_computed_are_told_in_their_cell(tmp_path):
    book = openpyxl.Workbook()
    page = book.active
    for row in (["Name", "S", "M"], ["wall", 2.4, "#REF!"], ["gap", 1, None], ["pin", "=B2*2", True]):
        page.append(row)
    page["C2"].data_type = "e"
    page.merge_cells("B3:C3")
    file = tmp_path / "t.xlsx"
    book.save(file)
    grid = read(file)
    told = {grid.where(r, c): cell.fault for r, row in enumerate(grid.rows) for c, cell in enumerate(row) if cell.fault}
    assert set(told) == {"C2", "C3", "B4", "C4"}
    assert "#REF!" in told["C2"] and "B3:C3" in told["C3"] and "never computed" in told["B4"]


def test_sheets_are_named_and_a_wrong_name_lists_them(tmp_path):
    book = openpyxl.Workbook()
    book.create_sheet("Walls").append(["Name", "Value"])
    file = tmp_path / "t.xlsx"
    book.save(file)
    assert read(file, "Walls").headings == ("Name", "Value")
    with pytest.raises(UserFault, match="sheets are Sheet, Walls"):
        read(file, "Pins")


def test_gone_half_written_and_foreign_files(tmp_path):
    with pytest.raises(EnvironmentFault, match="not there any more"):
        read(tmp_path / "none.csv")
    whole = tmp_path / "whole.xlsx"
    write(whole, [["Name", "Value"], ["wall", 2.0]])
    half = tmp_path / "half.xlsx"
    half.write_bytes(whole.read_bytes()[:-200])
    with pytest.raises(EnvironmentFault, match="may still be being written"):
        read(half)
    other = tmp_path / "other.xlsx"
    with zipfile.ZipFile(other, "w") as z:
        z.writestr("a.txt", "nothing")
    with pytest.raises(UserFault, match="not a workbook"):
        read(other)
    binary = tmp_path / "b.csv"
    binary.write_bytes(bytes(range(256)) * 4)
    with pytest.raises(UserFault, match="neither"):
        read(binary)
    empty = tmp_path / "e.csv"
    empty.write_text("\n\n")
    with pytest.raises(UserFault, match="nothing in it"):
        read(empty)
    double = tmp_path / "d.csv"
    double.write_text("Name,M,m\nwall,1,2\n")
    with pytest.raises(UserFault, match="two columns"):
        read(double)


def test_an_enormous_file_is_refused_before_it_is_read(tmp_path, monkeypatch):
    file = tmp_path / "big.csv"
    file.write_text("Name,Value\n" + "wall,1\n" * 50)
    monkeypatch.setattr(spreadsheet, "MAX_BYTES", 100)
    with pytest.raises(UserFault, match="larger than"):
        read(file)


@given(st.floats(allow_nan=False, allow_infinity=False))
def test_figures_are_the_shortest_that_read_back(value):
    assert float(figure(value)) == value
