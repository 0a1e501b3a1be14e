"""Building by hand: the marker, moving rows, planes, both ends of an extrusion; files that others changed; closing."""

import pytest
from PyQt6.QtCore import QPoint, Qt
from tests.support.hands import click, drag, draw, held, place, row, show
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.solids.extrude import Distance, Extrude, ToFace
from architectonic.family.records import Datum, LinePlane, OffsetPlane, SquarePlane
from architectonic.session.open.session import Session

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def gap(window, k):
    return QPoint(150, int(window.made_of.plan.gap(k)))


def middle(window, entry):
    top = next(y for y, e in window.made_of.plan.tops() if e.id == entry.id)
    return QPoint(150, int(top + window.made_of.plan.height(entry) / 2))


def test_the_marker_shows_an_earlier_state_and_new_operations_go_in_there(qtbot, window):
    show(qtbot, window, "Foot")
    build = window.desk.main.build
    whole = len(window.bodies.meshes[0][1].faces)
    drag(qtbot, window.made_of, QPoint(150, int(window.made_of.plan.marker_y())), gap(window, 1))
    settle(qtbot, window)
    assert window.desk.main.until == build[0].id
    assert len(window.bodies.meshes[0][1].faces) < whole
    # feeds, assemblies and checks still take the finished part
    assert len(window.desk.settled.value(Node("finished", window.desk.main.at, "")).bodies) == 3
    assert window.desk.main.after_marker == build[1].id
    window.actions_.run("datum.new")
    place(qtbot, window, "top", "5 mm")
    names = [type(o).__name__ for o in window.desk.main.build]
    assert names[1] == "Datum" and window.desk.main.until == window.desk.main.build[1].id
    window.desk.main.show_until("")
    settle(qtbot, window)
    assert len(window.bodies.meshes[0][1].faces) == whole


def test_rows_are_dragged_and_a_move_that_a_dependency_forbids_is_refused(qtbot, window):
    show(qtbot, window, "Foot")
    family, made_of = window.desk.family, window.made_of
    drag(qtbot, made_of, middle(window, row(window, "Hollow out")), gap(window, 1))
    assert window.desk.family is family
    assert "takes from" in window.strip.line.text() and "must stay after it" in window.strip.line.text()
    drag(qtbot, made_of, middle(window, row(window, "Sketch Hollow")), gap(window, 0))
    settle(qtbot, window)
    assert window.desk.main.build[0].name == "Hollow" and not window.desk.attention
    qtbot.mouseClick(made_of, Qt.MouseButton.LeftButton, pos=middle(window, row(window, "Hollow out")))
    assert window.desk.main.operation == next(o.id for o in window.desk.main.build if o.name == "Hollow out")


def test_planes_through_a_line_are_made_from_a_chosen_line(qtbot, window):
    show(qtbot, window, "Elevation")
    canvas = window.sketches
    line = next(k for k, c in canvas.solved.curves.items() if c.kind == "line")
    for how, kind in (("Plane through a line, turned", LinePlane), ("Plane square to a curve", SquarePlane)):
        canvas.choose(line)
        assert "datum.new" in window.verbs.verbs()
        window.actions_.run("datum.new")
        assert window.card.head.how.currentText() == "Plane through a line, turned"  # a line is chosen
        window.card.head.how.setCurrentText(how)
        place(qtbot, window, held(window.card)[0].itemText(0), "1/3" if kind is SquarePlane else "30 deg")
        made = window.desk.main.build[-1]
        assert isinstance(made, Datum) and isinstance(made.by, kind)
        assert window.desk.settled.value(Node("frame", window.desk.main.at, made.id)) is not None
        window.desk.main.operation = ""
    assert not window.desk.attention


def test_an_extrusion_has_two_ends_of_its_own(qtbot, pad):
    """From 4 mm before the plane up to a datum at 12 mm: a block of 20 x 10 x 16 (sum of boxes)."""
    canvas = pad.sketches
    pad.actions_.run("datum.new")
    pad.card.name.setText("Lid")
    place(qtbot, pad, "top", "12 mm")
    assert isinstance(pad.desk.main.build[-1].by, OffsetPlane)
    pad.desk.main.operation = pad.desk.main.build[0].id
    pad.show_tab("Sketch")
    draw(qtbot, pad, "sketch.rectangle", (0, 0), (20, 10))
    click(qtbot, canvas, 10, 6)
    assert pad.actions_.run("operation.extrude")
    card = pad.card
    card.blanks["near"].choice.setCurrentIndex(1)
    card.blanks["near"].field.setText("4")
    end = card.blanks["far"].choice
    end.setCurrentIndex(end.findText("up to Lid"))
    card.value.setText("")
    qtbot.keyClick(card.value, Qt.Key.Key_Return)
    settle(qtbot, pad)
    made = pad.desk.main.build[-1]
    assert isinstance(made, Extrude) and isinstance(made.near, Distance) and isinstance(made.far, ToFace)
    (body,) = pad.desk.main.document.bodies
    measured = pad.desk.settled.value(Node("measure", pad.desk.main.at, body))
    drawn = canvas.solved.regions[0].area  # clicks land on whole pixels: 20 x 10 within a quarter
    assert drawn == pytest.approx(200, rel=0.03)
    assert measured["volume_mm3"] == pytest.approx(drawn * 16)
    assert measured["box_mm"][2] == pytest.approx(-4) and measured["box_mm"][5] == pytest.approx(12)
    # and a sketch on the picked face of it
    pad.show_tab("Bodies")
    settle(qtbot, pad)
    key = pad.bodies.meshes[0][0]
    label = next(f for f in pad.bodies.meshes[0][1].faces if f.endswith(":end"))
    pad.desk.main.pick([("face", key, label)])
    assert "sketch.new" in pad.verbs.verbs()
    pad.actions_.run("sketch.new")
    assert pad.prompt.fields[1].currentText() == "the picked face"
    qtbot.keyClick(pad.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, pad)
    sketch = pad.desk.main.build[-1]
    assert sketch.plane.witness.kind == "plane" and len(sketch.plane.witness.neighbours) == 4
    assert pad.desk.settled.value(Node("frame", pad.desk.main.at, sketch.id)).origin == pytest.approx((0, 0, 12))


def other_hand(window, name, note):
    """Somebody else changes a document on disk."""
    folder = window.desk.session.stored.folder
    theirs = Session.open(folder)
    key = edits.find_document(theirs.family, name).id
    theirs.apply("note", lambda f: edits.put(f, edits.replace(f.documents[key], note=note)))
    theirs.save()
    return key


def test_what_others_changed_is_taken_or_overwritten_by_choice(qtbot, window):
    sizes = edits.find_document(window.desk.family, "Sizes").id
    foot = edits.find_document(window.desk.family, "Foot").id
    window.desk.apply("mine", lambda f: edits.rename_document(f, sizes, "Numbers"))
    window.desk.apply("mine too", lambda f: edits.put(f, edits.replace(f.documents[foot], note="mine")))
    key = other_hand(window, "Foot", "theirs")
    window.actions_.run("family.save")
    assert window.prompt.isVisible() and window.desk.session.unsaved
    window.commands.families.take_theirs()
    settle(qtbot, window)
    family = window.desk.family
    assert family.documents[key].note == "theirs" and family.documents[sizes].name == "Numbers"
    window.actions_.run("family.save")
    assert not window.desk.session.unsaved
    other_hand(window, "Stem", "theirs again")
    stem = edits.find_document(family, "Stem").id
    window.desk.apply("mine", lambda f: edits.put(f, edits.replace(f.documents[stem], note="mine")))
    window.actions_.run("family.save")
    assert window.desk.session.unsaved
    window.commands.families.overwrite()
    assert Session.open(window.desk.session.stored.folder).family.documents[stem].note == "mine"


def test_a_folder_that_was_moved_is_followed_or_all_of_it_is_saved_elsewhere(qtbot, window, tmp_path):
    desk, families = window.desk, window.commands.families
    foot = edits.find_document(desk.family, "Foot").id
    desk.apply("mine", lambda f: edits.put(f, edits.replace(f.documents[foot], note="mine")))
    was = desk.session.stored.folder
    was.rename(tmp_path / "moved")
    window.actions_.run("family.save")
    assert window.prompt.isVisible() and "moved or removed" in window.strip.line.text()
    assert desk.session.unsaved and not was.exists()
    assert families.follow_to(tmp_path / "moved") and not desk.session.unsaved
    assert Session.open(tmp_path / "moved").family.documents[foot].note == "mine"
    desk.apply("more", lambda f: edits.put(f, edits.replace(f.documents[foot], note="more")))
    assert families.save_into(tmp_path / "new") and not desk.session.unsaved
    assert Session.open(tmp_path / "new").family == desk.family
    assert (tmp_path / "new" / "files" / "concept.png").exists()
    assert Session.open(tmp_path / "moved").family.documents[foot].note == "mine"
    assert not families.save_into(tmp_path / "moved") and "not empty" in window.strip.line.text()


def test_closing_asks_about_unsaved_edits(qtbot, window):
    sizes = edits.find_document(window.desk.family, "Sizes").id
    window.desk.apply("mine", lambda f: edits.rename_document(f, sizes, "Numbers"))
    window.close()
    assert window.isVisible() and window.prompt.isVisible()
    qtbot.keyClick(window.prompt, Qt.Key.Key_Escape)
    assert window.isVisible() and not window.prompt.isVisible()
    window.close()
    qtbot.keyClick(window.prompt, Qt.Key.Key_Return)
    assert not window.isVisible()
    assert Session.open(window.desk.session.stored.folder).family.documents[sizes].name == "Numbers"
