"""The attention list of the window: one entry for each cause, what hangs on it, and its mend."""

from PyQt6.QtCore import Qt
from tests.support.windows import settle

from architectonic.family import edits


def open_document(qtbot, window, name):
    window.desk.show(edits.find_document(window.desk.family, name).id)
    settle(qtbot, window)


def words(card):
    return [[card.rows.item(r, c).text().strip() for c in range(3)] for r in range(card.rows.rowCount())]


def test_after_a_deletion_the_list_opens_and_feeds_are_mended_all_at_once(qtbot, window):
    open_document(qtbot, window, "Elevation")
    window.desk.main.select(next(o.id for o in window.desk.main.build if o.name == "Plan"))
    window.actions_.run("sketch.fork")  # something else that may be meant
    settle(qtbot, window)
    window.desk.main.operation = ""
    window.desk.main.select(next(o.id for o in window.desk.main.build if o.name == "Plan"))
    window.actions_.run("operation.delete")
    qtbot.keyClick(window.list_card, Qt.Key.Key_Return)
    settle(qtbot, window)
    card, desk = window.list_card, window.desk
    assert card.isVisible() and card.title.text().startswith("One thing needs attention")
    assert window.head.pill.text().startswith("1 needs attention")
    told = words(card)
    assert told[0] == ["missing", "Elevation", "Plan is gone"]
    assert [t[1] for t in told if t[2].startswith("lost ")] == ["Foot / Foot outline", "Stem / Stem outline"]
    assert ["", "Foot / Foot block", "has no result because of it"] in told
    assert {e["document"] for e in window.strip._impact["changed"]} >= {"Foot", "Stem"} and window.height() == 800
    for name, many in (("Foot", "3 things"), ("Stem", "One thing")):
        window.actions_.run("view.attention")
        row = next(r for r, t in enumerate(words(card)) if t[1].startswith(f"{name} / {name} outline"))
        card.rows.setCurrentCell(row, 0)
        qtbot.keyClick(card, Qt.Key.Key_Return)  # goes there, and opens its mend
        assert desk.main.document.name == name and card.title.text().startswith(f"{many} that {name} outline took")
        qtbot.waitUntil(lambda: card.pictures.count() > 1)  # as it was, and what it may be now
        assert words(card)[0][0] == "likeliest" and "of Plan" in words(card)[0][1]
        qtbot.keyClick(card, Qt.Key.Key_Return)
        settle(qtbot, window)
    assert desk.attention == [] and window.head.pill.text().startswith("All current")
    window.head.pill.click()
    assert card.title.text() == "Every document is current in every configuration." and card.rows.rowCount() == 0
