"""Tables typed like a spreadsheet in the real window; spreadsheets compared, taken and followed."""

import math

import pytest
from PyQt6.QtCore import QItemSelectionModel, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QLineEdit
from tests.support.hands import answer, show
from tests.support.windows import settle, worked

from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.session.ranges import columns as ranged

pytestmark = [pytest.mark.window, pytest.mark.kernel]


@pytest.fixture
def table(qtbot, window):
    show(qtbot, window, "Sizes")
    return window


def at(window, name, heading="Name"):
    model = window.values.model
    row = next(r for r in range(model.rowCount()) if model.cell(r, 0).text == name)
    return model.index(row, model.headers.index(heading))


def cell(window, name, heading):
    index = at(window, name, heading)
    return window.values.model.cell(index.row(), index.column())


def choose(window, first, last=None):
    selection = window.values.view.selectionModel()
    selection.setCurrentIndex(first, QItemSelectionModel.SelectionFlag.ClearAndSelect)
    if last is not None:
        from PyQt6.QtCore import QItemSelection

        selection.select(QItemSelection(first, last), QItemSelectionModel.SelectionFlag.ClearAndSelect)


def test_a_value_is_typed_over_and_names_are_completed_in_the_cell(qtbot, table):
    view = table.values.view
    choose(table, at(table, "gap", "M"))
    qtbot.keyClick(view, Qt.Key.Key_Return)
    editor = view.focusWidget()
    qtbot.keyClicks(editor, "wa")
    assert "wall" in editor._names() and editor.offer.completionCount() > 0
    editor.offer.popup().hide()
    editor.setText("wall / 8")
    qtbot.waitUntil(lambda: editor._value("wall / 8") == "= 0.3 mm")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: cell(table, "gap", "M").text == "0.30")  # an editor commits in a turn of its own
    found = cell(table, "gap", "M")
    assert (found.text, found.beside, found.kind, found.marked) == ("0.30", "wall / 8", "computed", True)


def test_what_cannot_be_used_stays_in_its_cell_until_it_is_put_right(qtbot, table):
    model, family = table.values.model, table.desk.family
    assert not model.setData(at(table, "wall", "S"), "2 degs")
    assert cell(table, "wall", "S").kind == "bad" and "degs" in cell(table, "wall", "S").text
    assert table.desk.family is family and model.data(at(table, "wall", "S"), Qt.ItemDataRole.ToolTipRole)
    assert model.setData(at(table, "wall", "S"), "2.2")
    settle(qtbot, table)
    assert cell(table, "wall", "S").text == "2.20" and cell(table, "wall", "S").kind == "own"


def test_cells_go_to_a_spreadsheet_and_back_and_expressions_stay_expressions(qtbot, table):
    view, model = table.values.view, table.values.model
    choose(table, at(table, "wall", "S"), at(table, "gap", "L"))
    qtbot.keyClick(view, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    clipboard = QGuiApplication.clipboard()
    assert clipboard.text() == "2.00\t2.40\t2.80\n0.20\t0.20\t0.25\n"
    clipboard.setText("2,1\t2,5\t3,0\n")  # as a spreadsheet with decimal commas writes it
    choose(table, at(table, "wall", "S"))
    qtbot.keyClick(view, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    settle(qtbot, table)
    assert [cell(table, "wall", h).text for h in ("S", "M", "L")] == ["2.10", "2.50", "3.00"]
    choose(table, at(table, "pin_hole", "All sizes"))
    view.copy()
    choose(table, at(table, "sheet", "M"))
    view.paste()
    settle(qtbot, table)
    assert cell(table, "sheet", "M").expression == "pin_d + gap"
    before = table.desk.family
    clipboard.setText("1\t2\nx\tbad unit\n")
    choose(table, at(table, "wall", "S"))
    view.paste()
    assert table.desk.family is before and model.rowCount()


def test_rows_are_added_by_typing_inserted_moved_grouped_and_deleted(qtbot, table):
    model, view = table.values.model, table.values.view
    last = model.rowCount() - 1
    assert model.cell(last, 0).kind == "ghost"
    model.setData(model.index(last, 0), "rib")
    model.setData(model.index(last, 1), "1.2")
    settle(qtbot, table)
    assert cell(table, "rib", "M").text == "1.20"
    choose(table, at(table, "gap"))
    assert table.actions_.run("value.insert")
    ghost = next(r for r in range(model.rowCount()) if model.lines[r].kind == "new")
    assert model.cell(ghost + 1, 0).text == "gap"
    model.setData(model.index(ghost, 0), "foot_t")
    model.setData(model.index(ghost, 1), "wall + 1 mm")
    settle(qtbot, table)
    names = [p.name for p in table.desk.main.document.parameters]
    assert names.index("foot_t") == names.index("gap") - 1
    choose(table, at(table, "foot_t"))
    qtbot.keyClick(view, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    settle(qtbot, table)
    names = [p.name for p in table.desk.main.document.parameters]
    assert names.index("foot_t") == names.index("wall") - 1
    assert table.actions_.run("value.group")
    answer(qtbot, table, "Foot")
    assert any(line.kind == "group" and line.group == "Foot" for line in model.lines)
    choose(table, at(table, "foot_t"))
    assert table.actions_.run("value.delete")
    settle(qtbot, table)
    assert "foot_t" not in [p.name for p in table.desk.main.document.parameters]


def test_a_series_of_preferred_numbers_and_filling_down(qtbot, table):
    view = table.values.view
    choose(table, at(table, "head_w", "S"), at(table, "head_h", "S"))
    choose(table, at(table, "stem_d", "S"), at(table, "tube_d", "L"))
    view.choose(next(p.id for p in table.desk.main.document.parameters if p.name == "tube_d"), 2)
    choose(table, at(table, "tube_d", "S"), at(table, "tube_d", "L"))
    assert table.actions_.run("value.series")
    table.prompt.fields[0].setCurrentText("preferred R10")
    table.prompt.keep()
    settle(qtbot, table)
    assert [cell(table, "tube_d", h).text for h in ("S", "M", "L")] == ["12.50", "16.00", "20.00"]
    choose(table, at(table, "wall", "S"), at(table, "gap", "S"))
    qtbot.keyClick(view, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    settle(qtbot, table)
    assert cell(table, "gap", "S").text == cell(table, "wall", "S").text


def test_uses_unused_and_doubled_are_listed_and_lead_there(qtbot, table):
    choose(table, at(table, "pin_d"))
    assert table.actions_.run("value.uses")
    card = table.list_card
    assert card.isVisible() and card.rows.rowCount() >= 3
    documents = {card.rows.item(r, 1).text() for r in range(card.rows.rowCount())}
    assert "Cheek L" in documents
    card.keep()
    assert not card.isVisible()
    show(qtbot, table, "Sizes")
    assert table.actions_.run("value.unused")
    unused = {card.rows.item(r, 0).text() for r in range(card.rows.rowCount())}
    assert "wall" not in unused and unused == set()
    card.leave()
    assert table.actions_.run("value.doubled") and card.isVisible()
    card.leave()


def test_seeking_rows(qtbot, table):
    grid = table.values
    qtbot.keyClick(grid.view, Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
    grid.seek.setText("head")
    qtbot.waitUntil(lambda: grid.counted.text().startswith("5 of"))
    grid.seek.setText("")
    qtbot.waitUntil(lambda: "of" not in grid.counted.text())


def test_a_spreadsheet_is_shown_as_a_difference_before_it_is_taken(qtbot, table, tmp_path):
    file = tmp_path / "new.csv"
    file.write_text("Name;S;M;L\nwall;2,0;2,6;3,0\nrib;1,0;1,0;1,5\n")
    before = table.desk.family
    table.files.bring(file)
    worked(qtbot, table)
    card = table.list_card
    assert card.isVisible() and table.desk.family is before and "5 cells differ" in card.title.text().replace("6", "5")
    qtbot.keyClick(card, Qt.Key.Key_Escape)
    assert table.desk.family is before
    table.files.bring(file)
    worked(qtbot, table)
    qtbot.keyClick(card, Qt.Key.Key_Return)
    settle(qtbot, table)
    assert cell(table, "wall", "M").text == "2.60" and cell(table, "rib", "L").text == "1.50"
    assert table.files.send(tmp_path / "out.xlsx")
    table.files.bring(tmp_path / "out.xlsx")
    worked(qtbot, table)
    qtbot.waitUntil(lambda: "says the same" in card.title.text())  # read in a thread


def test_a_linked_file_is_watched_its_values_wait_and_undo_gives_the_old_ones_back(qtbot, table):
    sheet = table.desk.session.stored.folder / "files" / "sizes.csv"
    assert cell(table, "head_w", "M").kind == "linked"
    assert not table.values.model.setData(at(table, "head_w", "M"), "95 mm")
    assert "comes from sizes.csv" in table.desk.refusal
    sheet.write_text(sheet.read_text("utf-8-sig").replace("head_w,mm,80,90", "head_w,mm,80,96"), "utf-8")
    qtbot.waitUntil(lambda: bool(table.files.watch.pending()), timeout=10_000)
    assert "1 needs attention" in table.head.pill.text() and cell(table, "head_w", "M").text == "90.00"
    assert table.actions_.run("link.look")
    qtbot.keyClick(table.list_card, Qt.Key.Key_Return)
    settle(qtbot, table)
    table.values.model.refresh()
    assert cell(table, "head_w", "M").text == "96.00"
    assert any("pieces of the head" in i.where for i in table.desk.attention)  # the rule speaks up
    table.actions_.run("edit.undo")
    settle(qtbot, table)
    assert cell(table, "head_w", "M").text == "90.00"


def test_a_linked_file_may_be_taken_at_once_and_one_that_vanishes_is_told(qtbot, table):
    from architectonic.session.tables import spreadsheets

    key = table.desk.main.document_id
    (link,) = table.desk.main.document.links
    sheet = table.desk.session.stored.folder / "files" / "sizes.csv"
    assert table.desk.apply("at once", lambda f: spreadsheets.change_link(f, key, link, at_once=True))
    sheet.write_text(sheet.read_text("utf-8-sig").replace("head_h,mm,50,56", "head_h,mm,50,58"), "utf-8")
    qtbot.waitUntil(lambda: cell(table, "head_h", "M").text == "58.00", timeout=10_000)
    sheet.unlink()
    qtbot.waitUntil(lambda: any("not there any more" in i.what for i in table.desk.attention), timeout=10_000)
    assert cell(table, "head_h", "M").text == "58.00"


def test_a_guard_and_a_rule_are_made_in_the_window_and_speak_up(qtbot, table):
    choose(table, at(table, "sheet"))
    assert table.actions_.run("guard.new")
    answer(qtbot, table)
    assert any(g.name == "sheet stays" for g in table.desk.main.document.guards)
    table.actions_.run("rule.new")
    field = table.prompt.fields[1]
    assert field._value("wall >= 2 mm") == "holds now" and field._value("wall >= 9 mm") == "does not hold now"
    answer(qtbot, table, "sheet is thick", "sheet >= 1 mm", "Too thin.")
    table.values.model.setData(at(table, "sheet", "M"), "0.5 mm")
    settle(qtbot, table)
    told = {i.where.split(" / ")[1]: i.what for i in table.desk.attention}
    assert (
        "was 2 mm and is 0.5 mm" in told["sheet stays"]
        and told["sheet is thick"] == "Too thin. (sheet is 0.5 mm, 1 mm)"
    )
    assert table.strip.take_back.isVisible()
    mark = next(f for f in table.drivers.fields if f.row.name == "sheet").mark
    assert (mark.isVisible() and "Too thin" in mark.toolTip()) or "stays" in mark.toolTip()


def typing(qtbot, view):
    """The field that is open in the grid."""
    fields = [f for f in view.viewport().findChildren(QLineEdit) if f.isVisible()]
    assert len(fields) == 1
    return fields[0]


def taken(qtbot, window):
    """What was typed into a cell is taken in a turn of the loop of its own; then everything is current."""
    qtbot.wait(20)
    settle(qtbot, window)


def test_typing_flows_from_name_to_value_to_the_next_new_row(qtbot, pad):
    desk = pad.desk
    pad.actions_.run("document.new_table")
    qtbot.keyClick(pad.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, pad)
    view = pad.values.view
    view.setFocus()
    view.choose("")
    view.edit(view.currentIndex())
    for text, key in (("side", Qt.Key.Key_Tab), ("50 mm", Qt.Key.Key_Return), ("half = side / 2", Qt.Key.Key_Return),
                      ("gap: 40 % * side", Qt.Key.Key_Tab), ("turn", Qt.Key.Key_Return), ("45°", Qt.Key.Key_Tab)):  # fmt: skip
        field = typing(qtbot, view)
        qtbot.keyClicks(field, text)
        popup = getattr(field, "offer", None) and field.offer.popup()
        if popup is not None and popup.isVisible():
            popup.hide()
        qtbot.keyClick(field, key)
        taken(qtbot, pad)
    typing(qtbot, view)  # the next new row waits for its name
    qtbot.keyClick(typing(qtbot, view), Qt.Key.Key_Escape)
    table = desk.main.document
    values = {p.name: desk.evaluation.value(Node("value", desk.main.at, p.id)) for p in table.parameters}
    assert values == pytest.approx({"side": 50, "half": 25, "gap": 20, "turn": math.pi / 4})
    view.choose(table.parameters[0].id, 1)
    view.edit(view.currentIndex())
    qtbot.keyClicks(typing(qtbot, view), "side = 60")  # the name stands before it: the value is meant
    qtbot.keyClick(typing(qtbot, view), Qt.Key.Key_Return)
    taken(qtbot, pad)
    assert view.currentIndex().row() == 1 and not [f for f in view.viewport().findChildren(QLineEdit) if f.isVisible()]
    assert desk.evaluation.value(Node("value", desk.main.at, table.parameters[0].id)) == 60
    view.edit(view.currentIndex())
    qtbot.keyClicks(typing(qtbot, view), "1,000 mm")
    qtbot.keyClick(typing(qtbot, view), Qt.Key.Key_Return)
    taken(qtbot, pad)
    assert "may mean 1000 or 1.000" in desk.refusal
    assert (
        desk.main.document.parameters[1] is table.parameters[1]
        or desk.main.document.parameters[1] == table.parameters[1]
    )


def test_an_unknown_name_is_mended_by_a_click(qtbot, window):
    window.desk.show(edits.find_document(window.desk.family, "Sizes").id)
    settle(qtbot, window)
    view = window.values.view
    wall = next(p for p in window.desk.main.document.parameters if p.name == "wall")
    view.choose(wall.id, 1)
    view.edit(view.currentIndex())
    field = typing(qtbot, view)
    qtbot.keyClicks(field, "2 * tube_dd")
    field.offer.popup().hide()
    qtbot.waitUntil(lambda: "did you mean tube_d?" in field.told.text())
    assert field.told.isVisible()
    qtbot.mouseClick(field.told, Qt.MouseButton.LeftButton)
    assert field.text() == "2 * tube_d"
    qtbot.keyClick(field, Qt.Key.Key_Escape)


def test_the_range_of_any_document_shows_what_drives_it_and_what_it_comes_to(qtbot, window):
    def shown(name):
        window.desk.show(edits.find_document(window.desk.family, name).id)
        settle(qtbot, window)
        window.show_tab("Range")
        settle(qtbot, window)
        model = window.range.model
        return {
            row[0].text: dict(zip([h.split("\n")[1] for h in model.headers], [c.text for c in row], strict=True))
            for row in model.cells[:-1]
        }

    for name, title in (("Foot", "foot_d"), ("Foot", "Round the rim"), ("Elevation", "height")):
        document = edits.find_document(window.desk.family, name)
        wanted = next(c for c in ranged.columns(window.desk.family, document) if c.title == title)
        window.desk.apply("show", lambda f, d=document.id, c=wanted.key: ranged.show_column(f, d, c, True))
    foot = shown("Foot")
    assert list(foot) == ["S", "M", "L"] and [foot[s]["foot_d mm"] for s in foot] == ["130.00", "150.00", "190.00"]
    assert foot["M"]["Round the rim"] == "on" and foot["L"]["Shell box mm"].startswith("190.0 × 190.0")
    mass = {s: float(row["Shell mass g"]) for s, row in foot.items()}
    assert mass["S"] < mass["M"] < mass["L"]
    layout = shown("Elevation")
    assert layout["M"]["Side.arm_angle deg"] == "28.0" and layout["M"]["height mm"] == "360.00"  # told apart from …
    assert layout["M"]["Head outline.height mm"] == "56.00"
    light = shown("Light")
    assert light["M"]["Instances"] == "5" and float(light["L"]["Mass g"]) > float(light["S"]["Mass g"])
