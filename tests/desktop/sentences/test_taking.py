"""What clicks give: every blank of every sentence says what it accepts, in words too."""

import pytest

pytest.importorskip("PyQt6")

from tests.support.hands import show
from tests.support.windows import settle

from architectonic.describe.models.operations import SENTENCES
from architectonic.describe.words.acting import Bodies
from architectonic.describe.words.blanks import Choice, Flag, Quantity
from architectonic.describe.words.datums import DATUMS
from architectonic.describe.words.holes import LeftOut, Pair, SizeOf
from architectonic.describe.words.marks import Lettering
from architectonic.describe.words.paths import LedPoints, SpringBack
from architectonic.describe.words.patterns import Condition, PlacesTable
from architectonic.describe.words.surfaces import PiecesBlank
from architectonic.describe.words.things import (
    Divider,
    EarlierMove,
    Edges,
    Faces,
    LineBlank,
    PathBlank,
    PlaceBlank,
    PlaneBlank,
    PointBlank,
    Regions,
    RoundFace,
)
from architectonic.desktop.kit.listbox import LEAST, ROOM, ListBox
from architectonic.desktop.sentences.blanks.kinds import FIELDS

TYPED = (SizeOf, Pair, LeftOut, PlacesTable, Condition, Lettering, PiecesBlank, LedPoints, SpringBack)
"""Blanks that are typed, chosen from a list, or clicked off by their tags."""


def test_every_blank_that_can_be_clicked_says_what_it_accepts():
    blanks = [b for s in (*(s for _, s in SENTENCES.values()), *DATUMS.values()) for b in s.blanks]
    assert {type(b) for b in blanks} >= {
        Regions,
        Faces,
        Edges,
        PathBlank,
        PlaneBlank,
        LineBlank,
        PointBlank,
        PlaceBlank,
        Divider,
        RoundFace,
    }
    for blank in blanks:
        wants = blank.accepts
        assert blank.shape in FIELDS
        assert bool(wants) == bool(wants.says) == bool(wants.bodies or wants.drawn)
        assert wants.bodies <= {"face", "edge", "vertex"}
        assert wants.drawn <= {"region", "curve", "end", "plane", "axis", "point", "sketch", "path"}
        assert bool(wants) or isinstance(blank, (Quantity, Flag, Choice, Bodies, EarlierMove, *TYPED))


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
def test_a_sentence_pushes_the_picture_up_and_covers_nothing(qtbot, window):
    show(qtbot, window, "Elbow")
    canvas = window.bodies
    canvas.frame_all()

    def span():
        ys = [canvas.camera.project(m.points, canvas.width(), canvas.height())[:, 1] for _, m, _ in canvas.meshes]
        return min(y.min() for y in ys), max(y.max() for y in ys)

    low, high = span()
    assert low >= 0 and high <= canvas.height()
    whole = canvas.height()
    window.actions_.run("operation.split")
    settle(qtbot, window)
    assert window.card.isVisible() and canvas.height() == whole - window.dock.height() < whole - 60
    low, high = span()
    assert low >= 0 and high <= canvas.height()  # nobody turned the view: it is fitted anew
    window.card.leave()
    settle(qtbot, window)
    assert canvas.height() == whole
