"""Surfaces and paths in the real window: pieces kept and dropped by clicks, a new piece asked about, a path led and typed."""

import csv
import math

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QPushButton
from tests.support.canvases import block, tap  # noqa: F401
from tests.support.faces import face_at
from tests.support.hands import answer, field, rows, run, show, type_into
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.desktop.commands.parts.surfaces import SurfaceCommands
from architectonic.desktop.sentences.blanks.led import LedField
from architectonic.desktop.sentences.blanks.picks import BodiesField
from architectonic.desktop.sentences.blanks.pieces import PiecesField
from architectonic.desktop.sentences.over.leadtags import LeadTags
from architectonic.desktop.sentences.over.trimtags import TrimTags
from architectonic.family import edits
from architectonic.family.operations.curves.path import SpacePath
from architectonic.family.operations.surfaces.trim import Trim

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def overlay(window, kind):
    return next(h for h in window.bodies.handles if isinstance(h, kind))


def held(window, kind):
    return next(b for b in window.card.blanks.values() if isinstance(b, kind))


def open_trim(qtbot, window):
    show(qtbot, window, "Head rear")
    window.show_tab("Bodies")
    window.desk.main.select(next(o.id for o in window.desk.main.build if o.name == "Trim Envelope and Parting"))
    run(qtbot, window, "operation.edit")
    tags = overlay(window, TrimTags)
    qtbot.waitUntil(lambda: bool(tags.tags()))
    return tags


def press(qtbot, window, tag):
    tap(qtbot, window.bodies, tag.box.center().toPoint())
    settle(qtbot, window)


def outcome(window, name):
    desk = window.desk
    key = next(o.id for o in desk.main.build if o.name == name)
    return desk.evaluation.outcomes[Node("state", desk.main.at, key)]


def test_a_piece_is_dropped_and_kept_by_its_tag_and_nothing_is_stored_until_enter(qtbot, window):
    tags, before = open_trim(qtbot, window), window.desk.family
    assert {(t.words, t.state) for t in tags.tags()} == {
        ("Rear before Parting", "dropped"), ("Rear behind Parting", "kept"),
        ("Parting before Rear", "kept"), ("Parting behind Rear", "dropped"),
    }  # fmt: skip
    kept = next(t for t in tags.tags() if t.words == "Parting before Rear")
    press(qtbot, window, kept)
    assert held(window, PiecesField).button.text() == "1 kept · 3 dropped"
    qtbot.waitUntil(
        lambda: outcome(window, "Close to a solid").problem is not None
    )  # it does not close without a floor
    assert window.desk.family is before
    press(qtbot, window, next(t for t in tags.tags() if t.words == "Parting before Rear"))
    qtbot.waitUntil(lambda: outcome(window, "Close to a solid").problem is None)
    qtbot.keyClick(window.card, Qt.Key.Key_Escape)
    settle(qtbot, window)
    assert window.desk.family is before and not tags.tags() and not window.bodies.laid.covered


def test_keys_step_and_turn_pieces(qtbot, window):
    open_trim(qtbot, window)
    field = held(window, PiecesField)
    field.button.setFocus()
    first = field.shown[0].keep
    qtbot.keyClick(field.button, Qt.Key.Key_Space)
    settle(qtbot, window)
    assert field.shown[0].keep is (not first)
    qtbot.keyClick(field.button, Qt.Key.Key_Right)
    assert field.at == 1


def test_a_new_piece_waits_in_the_list_and_is_decided_by_a_click(qtbot, window):
    """A piece that no choice was made of: the operation says so, later rows keep what they had, Enter is refused."""
    rear = edits.find_document(window.desk.family, "Head rear")

    def forget(family):
        trim = next(o for o in edits.model(family, rear.id).build if o.name == "Trim Envelope and Parting")
        return edits.replace_operation(family, rear.id, edits.replace(trim, pieces=trim.pieces[:3]))

    window.desk.apply("one choice is missing", forget)
    settle(qtbot, window)
    assert any("1 piece is new" in a.what for a in window.desk.attention)
    tags = open_trim(qtbot, window)
    asked = [t for t in tags.tags() if t.state == "keep or drop?"]
    assert len(asked) == 1
    qtbot.waitUntil(lambda: len(tags._follows) == 2)  # one of the four is the last one that closes
    told = {f.keep: f.words for f in tags._follows}
    assert told[False] == "drop: nothing of this part fails, in any of 3" and "Close to a solid" in told[True]
    qtbot.keyClick(window.card, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert "1 more piece" in window.card.hint.text() and window.card.record is not None
    press(qtbot, window, asked[0])
    press(
        qtbot, window, next(t for t in tags.tags() if t.words == asked[0].words)
    )  # kept, then dropped: as it was before
    qtbot.keyClick(window.card, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.card.record is None
    assert not any("piece" in a.what for a in window.desk.attention)


def test_what_is_decided_in_one_part_is_offered_where_the_same_piece_waits(qtbot, window):
    """Both parts are cut from the same surface, under other names; what the one drops the other one keeps."""

    def forget(family):
        for name in ("Head rear", "Head front"):
            part = edits.find_document(family, name)
            trim = next(o for o in part.build if isinstance(o, Trim))
            before = next(c for c in trim.pieces if c.of == trim.acts_on[0] and c.sides[0].endswith(":before"))
            family = edits.replace_operation(
                family, part.id, edits.replace(trim, pieces=tuple(c for c in trim.pieces if c is not before))
            )
        return family

    window.desk.apply("one choice is missing in two parts", forget)
    settle(qtbot, window)
    waiting = [a for a in window.desk.attention if "1 piece is new" in a.what]
    assert len(waiting) == 2
    tags = open_trim(qtbot, window)
    asked = next(t for t in tags.tags() if t.state == "keep or drop?")
    for _ in range(2):  # kept, then dropped
        press(qtbot, window, next(t for t in tags.tags() if t.words == asked.words))
    qtbot.keyClick(window.card, Qt.Key.Key_Return)
    settle(qtbot, window)
    qtbot.waitUntil(lambda: "waits in 1 other part" in window.list_card.title.text())
    assert rows(window)[0][0] == "Head front"
    button = next(b for b in window.list_card.findChildren(QPushButton) if b.text().startswith("The other way"))
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    settle(qtbot, window)
    assert not any("piece" in a.what for a in window.desk.attention)
    window.actions_.run("edit.undo")
    settle(qtbot, window)
    assert any("piece" in a.what and a.where.startswith("Head front") for a in window.desk.attention)


def test_a_master_is_pulled_and_the_parts_that_are_built_from_it_follow(qtbot, window):
    show(qtbot, window, "Head form")
    run(qtbot, window, "surface.uses")
    taken = {r[0]: "".join(r[1:]) for r in rows(window)}
    assert taken["Head front"] == "●●●" and taken["Head rear"] == "●●○" and taken["Knob"] == "○○○"
    assert [r[0] for r in rows(window)][:2] == ["Head rear", "Head front"]
    qtbot.keyClick(window.list_card, Qt.Key.Key_Right)
    qtbot.keyClick(window.list_card, Qt.Key.Key_Space)  # what goes on with it is named, and it stays
    assert "Trim Envelope and Parting" in window.strip.line.text() and rows(window)[0][1] == "●"
    for mark in ("●", "○"):
        spot = window.list_card.rows.visualItemRect(window.list_card.rows.item(0, 3)).center()
        qtbot.mouseClick(window.list_card.rows.viewport(), Qt.MouseButton.LeftButton, pos=spot)
        settle(qtbot, window)
        assert rows(window)[0][3] == mark
    assert [o.name for o in edits.find_document(window.desk.family, "Head rear").build].count("Bring in") == 1
    run(qtbot, window, "surface.edges")
    kinds, lit = [r[2] for r in rows(window)], window.bodies.opening.seams
    assert kinds.count("free") == 8 and "smooth" in kinds
    assert [(str(s.number), s.free) for s in lit.shown] == [(r[0], r[2] == "free") for r in rows(window)]
    plain = window.bodies.grab().toImage()
    qtbot.keyClick(window.list_card, Qt.Key.Key_Escape)
    assert not lit.shown and window.bodies.grab().toImage() != plain
    rear = edits.find_document(window.desk.family, "Head rear")
    at = window.desk.main.at._replace(document=rear.id)
    body = next(iter(rear.bodies))
    before = window.desk.settled.value(Node("measure", at, body))["volume_mm3"]
    mouth = field(window, "mouth_d")
    type_into(qtbot, mouth, "98")
    qtbot.keyClick(mouth, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.desk.settled.value(Node("measure", at, body))["volume_mm3"] != pytest.approx(before, rel=1e-6)
    assert not window.desk.attention


def test_surfaces_of_a_master_are_brought_into_a_new_part(qtbot, window):
    run(qtbot, window, "document.new_part")
    answer(qtbot, window, "Head side")
    run(qtbot, window, "surface.take")
    answer(qtbot, window, "Head form")
    answer(qtbot, window, "Envelope, Nothing")
    assert "has no “Nothing”" in window.strip.line.text() and not window.desk.main.document.bodies
    answer(qtbot, window, "Parting, Envelope")
    assert [b.name for b in window.desk.main.document.bodies.values()] == ["Parting", "Envelope"]
    assert len(window.bodies.meshes) == 2
    window.desk.undo()
    settle(qtbot, window)
    assert not window.desk.main.document.bodies


def test_a_strong_change_of_the_master_breaks_a_round_and_says_what_still_fits(qtbot, window):
    form = edits.find_document(window.desk.family, "Head form")
    bore = next(p.id for p in form.parameters if p.name == "crown_r")
    window.desk.apply("crown", lambda f: edits.set_value(f, form.id, bore, "60 mm"))
    settle(qtbot, window)
    assert window.desk.attention
    assert all(a.mend for a in window.desk.attention)


# --- paths --------------------------------------------------------------------------------------------


def at_pixel(canvas, p):
    x, y = canvas.to_screen(np.array([p], float))[0][:2]
    return QPoint(round(x), round(y))


def test_a_path_is_led_by_clicks_locks_and_typed_lengths(qtbot, block):  # noqa: F811
    canvas = block.bodies
    run(qtbot, block, "operation.path")
    led = held(block, LedField)
    assert led.button.isChecked() and "click points" in block.card.hint.text().lower() + led.wants
    seen = [k for k, p in canvas.meshes[0][1].corners.items() if hit_first(canvas, k, p)]
    tap(qtbot, canvas, at_pixel(canvas, canvas.meshes[0][1].corners[seen[0]]))
    settle(qtbot, block)
    assert [r.kind for r in led.path.rules] == ["meets"]
    qtbot.keyClick(led.typed, Qt.Key.Key_Z)
    qtbot.keyClicks(led.typed, "6")
    qtbot.keyClick(led.typed, Qt.Key.Key_Return)
    settle(qtbot, block)
    assert [(r.kind, r.value.text) for r in led.path.rules[-1:]] == [("step_z", "6 mm")]
    qtbot.keyClick(led.typed, Qt.Key.Key_X)
    over = overlay(block, LeadTags)
    qtbot.waitUntil(lambda: over.led is not None and len(over.led.order) == 2)
    x, y, z = over.places()[led.path.order[-1]]
    way = 1 if at_pixel(canvas, (x, y, z)).x() < canvas.width() / 2 else -1
    tap(qtbot, canvas, free_along(canvas, (x, y, z), way))
    settle(qtbot, block)
    assert led.path.rules[-1].kind == "along_x" and len(led.path.order) == 3
    qtbot.waitUntil(lambda: over.led is not None and over.led.freedoms == 1)
    qtbot.keyClicks(led.typed, "1, 2")
    qtbot.keyClick(led.typed, Qt.Key.Key_Return)
    assert len(led.path.order) == 3  # three coordinates are wanted
    led.typed.clear()
    qtbot.keyClick(led.typed, Qt.Key.Key_Backspace)
    assert len(led.path.order) == 2
    qtbot.keyClick(block.card, Qt.Key.Key_Return)
    settle(qtbot, block)
    made = block.desk.main.build[-1]
    assert isinstance(made, SpacePath) and len(made.order) == 2
    assert ("Developed", "6.00 mm") in block.right.facts()


def typed_point(qtbot, led, text):
    qtbot.keyClicks(led.typed, text)
    qtbot.keyClick(led.typed, Qt.Key.Key_Return)


def test_rules_of_a_path_are_put_on_by_numbers_and_taken_off_and_a_contradiction_is_refused(qtbot, block):  # noqa: F811
    run(qtbot, block, "operation.path")
    led, over = held(block, LedField), overlay(block, LeadTags)
    typed_point(qtbot, led, "0, 0, 0")
    typed_point(qtbot, led, "40, 0, 0")
    led.put((60.0, 20.0, 5.0))
    settle(qtbot, block)
    rules = led.rules
    assert not rules.kind.isVisible() and rules.more.isVisible()
    rules.more.click()
    rules.kind.setCurrentText("angle")
    assert rules.value.isVisible() and not rules.to.isVisible() and "1 2 3" in rules.points.placeholderText()
    tap(qtbot, block.bodies, at_pixel(block.bodies, over.places()[led.path.order[0]]))  # a point names itself
    assert rules.points.text() == "1"
    rules.points.setText("1 2 3")
    qtbot.keyClicks(rules.value, "120 deg")
    qtbot.keyClick(rules.value, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: over.led is not None and over.led.freedoms == 2)
    a, b, c = (np.array(over.led.points[k]) for k in led.path.order)
    angle = math.degrees(math.acos((a - b) @ (c - b) / np.linalg.norm(a - b) / np.linalg.norm(c - b)))
    assert angle == pytest.approx(120, abs=1e-6)
    rules.kind.setCurrentText("apart")
    rules.points.setText("1 2")
    qtbot.keyClicks(rules.value, "50")
    qtbot.keyClick(rules.value, Qt.Key.Key_Return)  # they are 40 mm apart
    assert "cannot all be true" in block.strip.line.text() and len(led.path.rules) == 7
    rules.kind.setCurrentText("in a plane")
    assert rules.to.isVisible()
    rules.to.setCurrentText("top")
    rules.points.setText("3")
    rules.value.clear()
    qtbot.keyClick(rules.points, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: over.led is not None and over.led.freedoms == 1)
    assert over.led.points[led.path.order[2]][2] == pytest.approx(0.0, abs=1e-9)
    words = [x.text() for x in rules.menu.actions()]
    assert words[6:] == ["Take off: 1 2 3 an angle 120 deg", "Take off: 3 in a plane Top"]
    rules.menu.actions()[6].trigger()
    qtbot.waitUntil(lambda: over.led is not None and over.led.freedoms == 2)
    assert rules.listed.text() == "7 rules"


def test_points_are_put_into_the_plane_of_a_face(qtbot, block):  # noqa: F811
    """The face is named by F under the pointer; what is put then stays in its plane when the block grows."""
    canvas = block.bodies
    run(qtbot, block, "operation.path")
    led, over = held(block, LedField), overlay(block, LeadTags)
    qtbot.keyClick(led.typed, Qt.Key.Key_F)
    assert "Point at a flat face" in block.strip.line.text() and not led.lock
    spot = face_at(canvas, ":end")
    qtbot.mouseMove(canvas, spot)
    qtbot.waitUntil(lambda: led.pointed() is not None)
    qtbot.keyClick(led.typed, Qt.Key.Key_F)
    assert led.locked.text() == "in the plane of a face"
    tap(qtbot, canvas, spot)
    settle(qtbot, block)
    (rule,) = led.path.rules
    assert rule.kind == "in_plane" and rule.to.label.endswith(":end")
    top = max(p[2] for p in canvas.meshes[0][1].corners.values())
    assert over.led is None or over.led.points[led.path.order[0]][2] == pytest.approx(top)
    qtbot.keyClick(led.typed, Qt.Key.Key_F)
    assert led.lock == ""


def free_along(canvas, start, way):
    """A pixel along x from a point at which no corner or edge of a body lies."""
    for step in np.arange(4, 60, 1.5):
        at = at_pixel(canvas, (start[0] + way * step, start[1], start[2]))
        hits = canvas.picker.at(canvas.camera, at.x(), at.y(), canvas.width(), canvas.height())
        if (
            20 < at.x() < canvas.width() - 20
            and not any(h.kind in ("edge", "vertex") for h in hits)
            and canvas.space.hit(at.toPointF()) is None
        ):
            return at
    raise AssertionError("there is no room")


def hit_first(canvas, label, p):
    at = at_pixel(canvas, p)
    if not (20 < at.x() < canvas.width() - 20 and 60 < at.y() < canvas.height() - 20):
        return False
    hits = canvas.picker.at(canvas.camera, at.x(), at.y(), canvas.width(), canvas.height())
    return bool(hits) and hits[0].kind == "vertex" and hits[0].label == label


def test_the_bend_table_is_written(qtbot, window, tmp_path):
    show(qtbot, window, "Shade hoop")
    window.desk.main.select(next(o.id for o in window.desk.main.build if o.name == "Way of the wire"))
    commands = SurfaceCommands(window.desk, window.prompt, window.list_card, window.bodies, window, window.card.kept)
    assert commands.write_table(tmp_path / "hoop.csv")
    told = list(csv.reader((tmp_path / "hoop.csv").read_text("utf-8").splitlines()))
    assert told[0][1:4] == ["feed mm", "turn deg", "bend deg"] and len(told) == 11
    assert any(label == "Developed" for label, _ in window.right.facts())


def test_a_card_does_not_offer_what_is_made_after_its_operation(qtbot, window):
    open_trim(qtbot, window)
    offered = {b.text() for b in held(window, BodiesField).buttons.values()}
    assert offered == {"Rear", "Parting"}  # the crown is made after it


def test_a_card_of_something_later_offers_what_came_before(qtbot, window):
    show(qtbot, window, "Head rear")
    window.show_tab("Bodies")
    window.desk.main.select(next(o.id for o in window.desk.main.build if o.name == "Close to a solid"))
    run(qtbot, window, "operation.edit")
    assert "Crown" in {b.text() for b in held(window, BodiesField).buttons.values()}
