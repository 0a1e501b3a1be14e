"""What clicks give is one table: every blank of every sentence has its entry, and words for it."""

import pytest

pytest.importorskip("PyQt6")

from architectonic.describe.words.clauses import SENTENCES
from architectonic.desktop.kit.listbox import LEAST, ROOM, ListBox
from architectonic.desktop.sentences.blanks import GATHERS
from architectonic.desktop.sentences.taking import TAKING
from tests.desktop.conftest import settle
from tests.desktop.hands import show


def test_every_blank_that_can_be_clicked_has_its_entry():
    typed = {"length", "angle", "number", "flag", "choice", "does", "body", "bodies", "move"}
    takes = {b.takes for _, sentence in SENTENCES.values() for b in sentence.blanks}
    assert takes - typed <= set(GATHERS)
    assert set(GATHERS.values()) | {""} == set(TAKING)
    for kind, wants in TAKING.items():
        assert bool(kind) == bool(wants.says) == bool(wants.bodies or wants.drawn)
        assert wants.bodies <= {"face", "edge", "vertex"}
        assert wants.drawn <= {"region", "curve", "end", "plane", "axis", "point", "sketch"}


def test_a_list_is_as_wide_as_what_it_says(qtbot):
    box = ListBox()
    qtbot.addWidget(box)
    for words in ("by", "up to the face of a body with a very long name indeed"):
        box.addItem(words)
    short = box.sizeHint().width()
    box.setCurrentIndex(1)
    long = box.sizeHint().width()
    assert short == max(LEAST, box.fontMetrics().horizontalAdvance("by") + ROOM) and long > 3 * short
    assert box.minimumSizeHint() == box.sizeHint()


@pytest.mark.window
@pytest.mark.kernel
def test_bodies_are_framed_in_what_verbs_and_an_open_sentence_leave_free(qtbot, window):
    show(qtbot, window, "Elbow")
    canvas = window.bodies
    canvas.frame_all()

    def span():
        ys = [canvas.camera.project(m.points, canvas.width(), canvas.height())[:, 1] for _, m, _ in canvas.meshes]
        return min(y.min() for y in ys), max(y.max() for y in ys)

    above, below = canvas.covered()
    low, high = span()
    assert below == 0 and above > 40 and low >= above and high <= canvas.height()
    window.actions_.run("operation.split")
    settle(qtbot, window)
    canvas.frame_all()
    above, below = canvas.covered()
    low, high = span()
    assert below > 60 and low >= above and high <= canvas.height() - below
