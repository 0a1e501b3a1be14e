"""Tables from, to and driven by spreadsheets: compared before anything is taken, kept when a file goes wrong."""

import random

import openpyxl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.exchange import spreadsheet
from architectonic.family import edits, tables
from architectonic.family.tables import Typed
from architectonic.session.tables import spreadsheets
from architectonic.session.tables.spreadsheets import compare, driven_by, entries, link, look, sheet_of, take


@pytest.fixture
def table():
    family = edits.new_family("Trial", ("S", "M", "L"))
    family, key = edits.add_document(family, "table", "Sizes")
    s, _, l = (size.id for size in family.head.sizes)
    family = edits.add_parameter(family, key, "wall", "2.4 mm", own={s: "2 mm", l: "2.8 mm"}, note="moulded")
    family = edits.add_parameter(family, key, "stem", "5/8 in")
    family = edits.add_parameter(family, key, "outer", "2 * wall + 1 mm", own={l: "wall * 3"})
    family = edits.add_parameter(family, key, "turn", "30 deg", "angle")
    return family, key


def write(tmp_path, rows, name="t.csv"):
    spreadsheet.write(tmp_path / name, rows)
    return tmp_path / name


def row(family, key, name):
    return next(p for p in family.documents[key].parameters if p.name == name)


@pytest.mark.parametrize("ending", ["csv", "xlsx"])
def test_what_is_written_differs_in_nothing_and_makes_the_same_table_elsewhere(table, tmp_path, ending):
    family, key = table
    file = write(tmp_path, sheet_of(family, key), f"t.{ending}")
    same = compare(family, key, spreadsheet.read(file))
    assert same.changes == () and same.faults == () and same.only_here == ()
    other = edits.new_family("Other", ("S", "M", "L"))
    other, there = edits.add_document(other, "table", "Sizes")
    other = take(other, there, compare(other, there, spreadsheet.read(file)))

    def told(f, k):
        named = {s.id: s.name for s in f.head.sizes}
        return [
            (p.name, p.unit, p.quantity, p.note, p.common.text, {named[c]: e.text for c, e in p.own.items()})
            for p in f.documents[k].parameters
        ]

    assert told(other, there) == told(family, key)


@settings(max_examples=30)
@given(seed=st.integers(0, 10**9))
def test_any_table_goes_out_and_comes_back_the_same(seed, tmp_path_factory):
    draw = random.Random(seed)
    family = edits.new_family("Trial", ("S", "M"))
    family, key = edits.add_document(family, "table", "T")
    sizes = [s.id for s in family.head.sizes]
    for k in range(draw.randrange(1, 8)):
        text = draw.choice([f"{draw.uniform(-9, 999)!r} mm", f"{draw.randrange(1, 9)}/8 in", "2.5", "1e-3 m"])
        if k and draw.random() < 0.4:
            text = f"v{draw.randrange(k)} * 2"
        own = {s: f"{draw.uniform(0, 99)!r} mm" for s in sizes if draw.random() < 0.4}
        note = draw.choice(["", 'say "so"', "a; b, c\td", "=1+1", "Größe"])
        family = edits.add_parameter(family, key, f"v{k}", text, own=own, note=note)
    for ending in ("csv", "tsv", "xlsx"):
        file = tmp_path_factory.mktemp("s") / f"t.{ending}"
        spreadsheet.write(file, sheet_of(family, key))
        found = compare(family, key, spreadsheet.read(file))
        assert (found.changes, found.faults, found.only_here) == ((), (), ())


def test_a_difference_lists_what_changes_what_is_new_and_what_cannot_be_used(table, tmp_path):
    family, key = table
    file = write(tmp_path, [
        ["Parameter", "Unit", "S", "M", "L"],
        ["wall", "mm", 2.0, 2.6, "#DIV/0!"],
        ["Stem", "in", "", 0.5, ""],
        ["rib", "mm", 1.2, 1.2, 1.4],
        ["wall", "mm", 9.0, 9.0, 9.0],
    ])  # fmt: skip
    found = compare(family, key, spreadsheet.read(file))
    told = {(c.name, c.after) for c in found.changes}
    assert (("wall", "2.6 mm") in told and ("Stem", "0.5 in") in told) or ("stem", "0.5 in") in told
    assert ("rib", "1.4 mm") in told and not any(c.after == "2 mm" for c in found.changes)
    assert {where for where, _ in found.faults} == {"E2", "A5"} and set(found.only_here) == {"outer", "turn"}
    changed = take(family, key, found)
    assert row(changed, key, "wall").own[family.head.sizes[1].id].text == "2.6 mm"
    assert [p.name for p in changed.documents[key].parameters][-1] == "rib"


def test_a_sheet_without_values_says_how_to_head_a_column(table, tmp_path):
    family, key = table
    file = write(tmp_path, [["Name", "Colour"], ["wall", "red"]])
    with pytest.raises(UserFault, match=r"head one .all sizes., or by a size: S, M, L"):
        compare(family, key, spreadsheet.read(file))


# --- files that drive ---------------------------------------------------------------------------------------


@pytest.fixture
def linked(table, tmp_path):
    """wall is driven by sizes.csv in the family's folder."""
    family, key = table
    file = write(tmp_path, [["Name", "Unit", "S", "M", "L"], ["wall", "mm", 2.0, 2.4, 2.8]], "sizes.csv")
    return link(family, key, tmp_path, file), key, file, tmp_path


def test_a_link_drives_the_rows_it_names_and_only_those(linked):
    family, key, _, folder = linked
    document = family.documents[key]
    (one,) = document.links.values()
    assert one.file == "sizes.csv" and list(one.rows.values()) == ["wall"]
    assert driven_by(document, row(family, key, "wall").id) is one
    assert driven_by(document, row(family, key, "stem").id) is None
    assert entries(family, look(family, folder)) == []
    with pytest.raises(UserFault, match=r"comes from sizes\.csv"):
        spreadsheets.refuse_driven(document, [Typed(row(family, key, "wall").id, family.head.sizes[0].id, "3 mm")])


def test_new_values_wait_to_be_accepted_and_a_rename_here_does_not_lose_them(linked):
    family, key, file, folder = linked
    wall = row(family, key, "wall")
    family = tables.type_cells(family, key, [Typed(wall.id, "name", "shell")])
    file.write_text(file.read_text("utf-8-sig").replace("2.8", "3.1"), "utf-8")
    (seen,) = look(family, folder)
    (change,) = seen.difference.changes
    assert (change.before, change.after) == ("2.8 mm", "3.1 mm")
    (entry,) = entries(family, [seen])
    assert "1 new value" in entry.what and entry.severity == "updating"
    family = take(family, key, seen.difference)
    assert entries(family, look(family, folder)) == []


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("Name,Unit,S,M,L\nwall,mm,2,,2.8\n", "D2 of sizes.csv: wall is missing"),
        ("Name,Unit,S,M,L\nwall,mm,2,about 2,2.8\n", "no length for wall"),
        ("Name,Unit,S,M,L\nwall,deg,2,2,2.8\n", "no length for wall"),
        ("Name,Unit,S,M,L\nwall,mm,2,#N/A,2.8\n", "the error #N/A"),
        ("Name,Unit,S,M,L\npin,mm,2,2,2.8\n", "row “wall” is gone"),
        ("Name,Unit,S,L\nwall,mm,2,2.8\n", "column “M” is gone"),
        ("", "nothing in it"),
    ],
)
def test_what_is_wrong_in_the_file_is_one_entry_and_the_accepted_values_stay(linked, text, told):
    family, key, file, folder = linked
    before = row(family, key, "wall")
    file.write_text(text)
    found = entries(family, look(family, folder))
    missing = [e for e in found if e.severity == "missing"]
    assert len(missing) == 1 and told in missing[0].what and "accepted last are used" in missing[0].what
    assert missing[0].mend and row(family, key, "wall") == before


def test_a_file_that_vanishes_comes_back_or_is_pointed_elsewhere(linked):
    family, key, file, folder = linked
    (link_id,) = family.documents[key].links
    data = file.read_bytes()
    file.unlink()
    (entry,) = entries(family, look(family, folder))
    assert "not there any more" in entry.what and "point the link elsewhere" in entry.mend
    other = folder / "files" / "walls.xlsx"
    other.parent.mkdir()
    book = openpyxl.Workbook()
    for line in (["Name", "Unit", "S", "M", "L"], ["wall", "mm", 2, 2.4, 3.3]):
        book.active.append(line)
    book.save(other)
    family = spreadsheets.change_link(family, key, link_id, file=spreadsheets.relative(folder, other))
    (seen,) = look(family, folder)
    assert [c.after for c in seen.difference.changes] == ["3.3 mm"]
    file.write_bytes(data)
    family = spreadsheets.change_link(family, key, link_id, file="sizes.csv")
    assert entries(family, look(family, folder)) == []
    family = spreadsheets.sever(family, key, link_id)
    assert driven_by(family.documents[key], row(family, key, "wall").id) is None
    assert row(family, key, "wall").common.text == "2.4 mm"


def test_two_files_cannot_drive_one_value_and_a_file_that_fits_nothing_is_refused(linked):
    family, key, file, folder = linked
    with pytest.raises(UserFault, match=r"driven by sizes\.csv already"):
        link(family, key, folder, file)
    other = write(folder, [["Name", "S"], ["nobody", 1.0]], "o.csv")
    with pytest.raises(UserFault, match="no row of it has a name"):
        link(family, key, folder, other)
    with pytest.raises(EnvironmentFault):
        link(family, key, folder, folder / "none.csv")
