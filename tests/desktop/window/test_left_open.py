"""What stays open while the family goes on: a question, a list, a line of a plan. None of it acts on what is not there."""

import pytest
from PyQt6.QtCore import Qt
from tests.support.hands import show

from architectonic.family import edits

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def test_what_waits_for_an_answer_is_forgotten_or_does_nothing(qtbot, window):
    desk, strip = window.desk, window.strip.line
    show(qtbot, window, "Foot")
    assert window.actions_.run("operation.pattern_points")  # refused: it says so, wherever it was chosen
    assert "there is no sketch with points" in strip.text() and not window.card.isVisible()

    window.actions_.run("document.rename")
    assert window.prompt.isVisible()
    show(qtbot, window, "Sizes")
    assert window.prompt.isHidden() and not window.prompt.answer(None)

    show(qtbot, window, "Foot")
    window.finder.start()
    window.finder.field.setText("new sketch")
    show(qtbot, window, "Sizes")
    before = desk.family
    qtbot.keyClick(window.finder.field, Qt.Key.Key_Return)
    assert window.finder.isHidden() and window.prompt.isHidden() and desk.family is before

    show(qtbot, window, "Foot")
    window.actions_.run("datum.new")
    ways = window.card.head.how
    window.card.leave()
    ways.setCurrentIndex(1)  # in its list, which was open still
    assert window.card.isHidden() and desk.family is before


def test_a_line_of_the_plan_whose_assembly_is_gone_is_not_chosen(qtbot, window):
    show(qtbot, window, "Stand")
    window.show_tab("Plan")
    window.plan.tree.setCurrentItem(window.plan.tree.topLevelItem(0))
    line = window.plan.tree.line()
    assert line is not None
    window.desk.apply("gone", lambda f: edits.delete_document(f, line.assembly))
    assert window.plan.tree.line() is None  # before it is drawn anew
