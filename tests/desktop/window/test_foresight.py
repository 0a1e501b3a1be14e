"""While a value is typed, what would follow is worked out and said; nothing is stored until Enter."""

import pytest
from PyQt6.QtCore import Qt
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.family import edits, scopes


@pytest.fixture
def foot(qtbot, window):
    window.desk.show(edits.find_document(window.desk.family, "Foot").id)
    settle(qtbot, window)
    return window


def field(window, name):
    return next(f for f in window.drivers.fields if f.row.name == name)


def typed(qtbot, window, name, text):
    """Type into a driver and wait until what would follow is known."""
    made = field(window, name)
    made.setFocus()
    made.selectAll()
    with qtbot.waitSignal(window.desk.foresight.foreseen, timeout=240_000):
        qtbot.keyClicks(made, text)
    settle(qtbot, window)
    return made


def volume(window, evaluation):
    body = next(iter(window.desk.main.document.bodies))
    return evaluation.value(Node("measure", window.desk.main.at, body))["volume_mm3"]


def figure(facts, name):
    """That of the first body."""
    return next(told for called, told in facts if called == name)


def test_figures_come_while_typing_and_are_those_that_come_after_enter(qtbot, foot):
    desk, family, before = foot.desk, foot.desk.family, volume(foot, foot.desk.settled)
    line = typed(qtbot, foot, "wall", "3.2 mm")
    told = foot.strip.line.text()
    assert "2.4 mm → 3.2 mm" in told and "would change" in told and "Esc leaves everything" in told
    assert desk.family is family and volume(foot, desk.settled) == before  # nothing is stored
    would = volume(foot, desk.evaluation)
    assert would > before * 1.1
    assert figure(foot.right.facts(), "Volume") == f"{would / 1000:.2f} cm³"
    assert figure(foot.right.stored(), "Volume") == f"{before / 1000:.2f} cm³"
    impact = foot.strip._impact
    foot.strip.open_button.click()
    assert foot.strip._table.isVisible() and line.hasFocus()  # the table opens, and typing goes on
    qtbot.keyClick(line, Qt.Key.Key_Return)
    settle(qtbot, foot)
    assert volume(foot, desk.settled) == would and foot.right.stored() == []
    # what was foreseen is what came
    assert [
        {k: e[k] for k in ("document", "configuration", "quantity", "after")} for e in foot.strip._last["changed"]
    ] == [{k: e[k] for k in ("document", "configuration", "quantity", "after")} for e in impact["changed"]]


def test_what_breaks_is_said_first_and_esc_leaves_everything_as_it_was(qtbot, foot):
    desk, family, before = foot.desk, foot.desk.family, volume(foot, foot.desk.settled)
    line = typed(qtbot, foot, "wall", "14 mm")
    told = foot.strip.line.text()
    assert "would break Ballast / Cast ring (M): the distance is" in told
    assert desk.attention == [] and foot.head.pill.text().startswith("All current")  # of what is stored that is so
    qtbot.keyClick(line, Qt.Key.Key_Escape)
    settle(qtbot, foot)
    assert desk.previewed is None and desk.family is family and not desk.session.unsaved
    assert volume(foot, desk.evaluation) == before and line.text() == "2.4 mm"
    assert "would" not in foot.strip.line.text() and not foot.strip.open_button.isEnabled()


def test_what_cannot_be_used_yet_says_why_and_changes_nothing(qtbot, foot):
    family, line = foot.desk.family, field(foot, "wall")
    line.setFocus()
    line.selectAll()
    with qtbot.waitSignal(foot.desk.foresight.told, timeout=240_000):
        qtbot.keyClicks(line, "3 kg")
    assert foot.strip.line.text().count("Not yet:") == 1 and foot.desk.previewed is None
    qtbot.keyClick(line, Qt.Key.Key_Escape)
    assert foot.desk.family is family


def test_names_are_offered_in_drivers_and_typing_over_the_list_loses_nothing(qtbot, foot):
    line = field(foot, "wall")
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, "0.1 * tu")
    assert line.offer.popup().isVisible() and line.offer.currentCompletion().endswith("tube_d")
    qtbot.keyClick(line, Qt.Key.Key_Tab)
    assert line.text() == "0.1 * tube_d"
    line.setText("")
    qtbot.keyClicks(line, "3.2 mm")  # a unit is no name to be completed
    assert line.text() == "3.2 mm" and not line.offer.popup().isVisible()
    qtbot.keyClick(line, Qt.Key.Key_Escape)


def test_an_open_sentence_keeps_its_picture_while_a_driver_is_typed(qtbot, foot):
    desk = foot.desk
    foot.actions_.run("operation.mirror")
    settle(qtbot, foot)
    shown = desk.previewed
    assert shown is not None
    desk.foresight.typing("wall", lambda f: edits.set_value(f, desk.main.document_id, "no such value", "1 mm"))
    desk.foresight.look()
    assert desk.previewed is shown
    desk.foresight.leave()
    assert desk.previewed is shown
    foot.card.leave()


def test_a_dimension_and_a_cell_are_looked_ahead_too(qtbot, window):
    desk = window.desk
    sizes = edits.find_document(desk.family, "Sizes")
    desk.show(sizes.id)
    settle(qtbot, window)
    view = window.values.view
    wall = next(p for p in sizes.parameters if p.name == "wall")
    view.choose(wall.id, 2)
    view.edit(view.currentIndex())
    editor = view.indexWidget(view.currentIndex()) or view.viewport().findChild(type(field_of(view)))
    with qtbot.waitSignal(desk.foresight.foreseen, timeout=240_000) as told:
        editor.selectAll()
        qtbot.keyClicks(editor, "3 mm")
    assert told.args[0].startswith("wall") and told.args[1]["changed"]
    qtbot.wait(20)
    assert "would" in window.strip.line.text()
    qtbot.keyClick(editor, Qt.Key.Key_Escape)
    settle(qtbot, window)
    assert desk.previewed is None and "would" not in window.strip.line.text()  # nothing stands there that is not so
    desk.show(edits.find_document(desk.family, "Elevation").id)
    settle(qtbot, window)
    canvas = window.sketches
    canvas.grab()
    box, _ = next((b, c) for b, c in canvas.labels if c.kind == "angle")
    qtbot.mouseDClick(canvas, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    with qtbot.waitSignal(desk.foresight.foreseen, timeout=240_000) as told:
        canvas._editor.selectAll()
        qtbot.keyClicks(canvas._editor, "40 deg")
    moved = {e["document"] for e in told.args[1]["changed"]}
    assert {"Elevation", "Light"} <= moved and "arm_angle" in told.args[0]
    qtbot.keyClick(canvas._editor, Qt.Key.Key_Escape)
    settle(qtbot, window)
    assert desk.previewed is None and scopes.sizes(desk.family)


def field_of(view):
    from architectonic.desktop.pane.namefield import NameField

    return view.viewport().findChild(NameField)


def test_a_long_table_has_its_first_lines_and_all_of_them_when_asked(qtbot, pad):
    line = {"document": "Plate", "configuration": "S", "alternate": "", "before": 1.0, "after": 2.0}
    changed = [{**line, "quantity": f"v{k}"} for k in range(100)]
    pad.strip._impact = {"rules": [], "newly_failing": [], "changed": changed, "unchanged": []}
    pad.strip.unfold()
    label = pad.strip._table.widget()
    assert label.text().count("<tr>") == 1 + 60 and "40 more lines: show all" in label.text()
    label.linkActivated.emit("all")
    label = pad.strip._table.widget()
    assert label.text().count("<tr>") == 1 + 100 and "more lines" not in label.text()


def test_one_click_into_a_driver_and_what_is_typed_takes_the_place_of_what_was(qtbot, foot):
    wall = field(foot, "wall")
    for text, comes in (("3 mm", "3 mm"), ("0", "2.4 mm0")):
        foot.desk.main.select("")
        foot.setFocus()
        wall.refresh()
        qtbot.mouseClick(wall, Qt.MouseButton.LeftButton)
        if comes != text:  # a second click places the cursor
            qtbot.mouseClick(wall, Qt.MouseButton.LeftButton)
            qtbot.keyClick(wall, Qt.Key.Key_End)
        qtbot.keyClicks(wall, text)
        assert wall.text() == comes
        qtbot.keyClick(wall, Qt.Key.Key_Escape)
