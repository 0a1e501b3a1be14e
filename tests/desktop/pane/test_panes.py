"""Two documents side by side: taking things from one into the other, and going from effect back to cause."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from tests.support.hands import click, field, show, type_into
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.records import Trace
from architectonic.session.feeds.sources import takers

pytestmark = [pytest.mark.window, pytest.mark.kernel]
SHIFT = Qt.KeyboardModifier.ShiftModifier


def named(window, name):
    return edits.find_document(window.desk.family, name)


def test_split_shows_what_drives_this_and_swaps(qtbot, window):
    show(qtbot, window, "Foot")
    assert not window.beside.isVisible()
    window.actions_.run("view.split")
    settle(qtbot, window)
    assert window.beside.isVisible() and window.desk.beside.document.name == "Elevation"
    assert window.canvas.width() < 400 and window.area.width() >= 720
    window.beside.swap.click()
    settle(qtbot, window)
    assert window.desk.main.document.name == "Elevation" and window.desk.beside.document.name == "Foot"
    window.beside.fold.click()
    settle(qtbot, window)
    assert not window.beside.isVisible()


def test_an_edit_beside_is_followed_by_the_part(qtbot, window):
    show(qtbot, window, "Stem")
    window.desk.show_beside(named(window, "Elevation").id)
    settle(qtbot, window)
    canvas = window.beside.sketches
    part = named(window, "Stem")
    measure = Node("measure", window.desk.main.at, next(iter(part.bodies)))
    before = window.desk.settled.value(measure)["box_mm"]
    canvas.grab()
    length = next(c for c in canvas.sketch.constraints if c.name == "stem_length")
    editor = canvas.edit(length.id)
    editor.setText("390 mm")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    settle(qtbot, window)
    after = window.desk.settled.value(measure)["box_mm"]
    assert after[5] - after[2] == before[5] - before[2]  # the stem reads the table, not this dimension
    solved = canvas.solved.curves[length.of[0].split(".")[0]].values
    assert abs(solved[3] - solved[1]) == pytest.approx(390)


def test_curves_and_a_datum_are_taken_by_picking(qtbot, window):
    show(qtbot, window, "Stem")
    feeds = len(window.desk.main.document.feeds)
    assert window.actions_.run("feed.new")
    settle(qtbot, window)
    card, canvas = window.feed_card, window.beside.sketches
    assert card.isVisible() and not card.answers[1].isEnabled()
    canvas.grab()
    lines = [c for c in canvas.solved.curves.values() if c.kind == "line"]
    for c in lines[:2]:
        middle = ((c.values[0] + c.values[2]) / 2 + 0.1, (c.values[1] + c.values[3]) / 2 + 40)
        at = (
            middle if c.values[0] == c.values[2] else ((c.values[0] + c.values[2]) / 2, (c.values[1] + c.values[3]) / 2)
        )
        click(qtbot, canvas, *at, SHIFT)
    card.blanks["datum"].list.setCurrentIndex(1)
    assert "2 curves, 1 plane of Elevation" in card.blanks["things"].button.text()
    card.blanks["name"].field.setText("Axes")
    qtbot.keyClick(card.blanks["name"].field, Qt.Key.Key_Return)
    settle(qtbot, window)
    document = window.desk.main.document
    assert len(document.feeds) == feeds + 1 and not card.isVisible()
    feed = next(f for f in document.feeds.values() if f.name == "Axes")
    assert [s.takes for s in feed.sockets.values()] == ["curve", "curve", "plane"]
    assert all(s.source.witness for s in feed.sockets.values())
    group = next(g for g in window.drivers._groups if g.name == "Elevation")
    assert ("Axes", "2 curves, 1 plane", "current") in [(f.name, f.note, f.state) for f in group.feeds]
    window.actions_.run("edit.undo")
    settle(qtbot, window)
    assert len(window.desk.main.document.feeds) == feeds


def test_curves_are_traced_into_the_open_sketch_and_lead_back(qtbot, window):
    show(qtbot, window, "Foot")
    sketch = next(o for o in window.desk.main.build if o.name == "Hollow")
    window.desk.main.select(sketch.id)
    window.show_tab("Sketch")
    plan = next(o for o in named(window, "Elevation").build if o.name == "Plan")
    window.desk.show_beside(named(window, "Elevation").id, plan.id)
    settle(qtbot, window)
    window.actions_.run("feed.new")
    canvas = window.beside.sketches
    circle = next(c for c in canvas.solved.curves.values() if c.kind == "circle")
    click(qtbot, canvas, circle.values[0] - circle.values[2], circle.values[1])
    card = window.feed_card
    assert card.blanks["into"].button.isVisible()
    card.blanks["into"].turn()
    card.blanks["name"].field.setText("Rim")
    qtbot.keyClick(card, Qt.Key.Key_Return)
    settle(qtbot, window)
    traced = {k: c for k, c in window.sketches.sketch.curves.items() if isinstance(c, Trace) and c.drawn}
    solved = window.sketches.solved.curves
    key = next(k for k in traced if solved[k].values[2] == circle.values[2])
    window.desk.show_beside("")
    settle(qtbot, window)
    window.sketches.frame_all()
    r = solved[key].values[2]
    at = window.sketches.to_screen((-r * 0.6, -r * 0.8)).toPoint()
    qtbot.mouseDClick(window.sketches, Qt.MouseButton.LeftButton, pos=at)
    settle(qtbot, window)
    assert window.desk.beside.document.name == "Elevation" and window.beside.sketches.sketch.name == "Plan"


def test_a_feed_is_pointed_elsewhere_renamed_and_its_loss_is_told(qtbot, window):
    show(qtbot, window, "Arm tube")
    document = window.desk.main.document
    feed_key, feed = next(iter(document.feeds.items()))
    socket, holds = next((k, s) for k, s in feed.sockets.items() if s.source.witness.kind == "line")
    elevation = named(window, "Elevation")
    window.desk.apply("delete", lambda f: edits.delete_document(f, elevation.id))
    settle(qtbot, window)
    gone = next(g for g in window.drivers._groups if g.key == elevation.id)
    assert gone.state == "missing" and any(i.severity == "missing" for i in window.desk.attention)
    window.actions_.run("edit.undo")
    settle(qtbot, window)
    window.feed_card.start(socket)
    settle(qtbot, window)
    canvas = window.beside.sketches
    point = next(k for k, c in canvas.solved.curves.items() if c.kind == "point")
    canvas.choose(point)
    family = window.desk.family
    qtbot.keyClick(window.feed_card, Qt.Key.Key_Return)
    assert window.desk.family is family and "holds a line, not a point" in window.strip.line.text()
    other = next(k for k, c in canvas.solved.curves.items() if c.kind == "line" and k != holds.source.label)
    canvas.choose(other)
    qtbot.keyClick(window.feed_card, Qt.Key.Key_Return)
    settle(qtbot, window)
    changed = window.desk.main.document.feeds[feed_key].sockets[socket]
    assert changed.source.label == other and list(window.desk.main.document.feeds[feed_key].sockets) == list(
        feed.sockets
    )
    window.desk.main.operation = feed_key
    window.actions_.run("operation.rename")
    window.prompt.fields[0].setText("Axis of the arm")
    qtbot.keyClick(window.prompt.fields[0], Qt.Key.Key_Return)
    assert window.desk.main.document.feeds[feed_key].name == "Axis of the arm"
    window.actions_.run("feed.show")
    assert window.desk.beside.document.name == "Elevation"


def test_a_face_of_another_part_is_fed(qtbot, window):
    show(qtbot, window, "Stem")
    window.desk.show_beside(named(window, "Foot").id)
    settle(qtbot, window)
    window.actions_.run("feed.new")
    settle(qtbot, window)
    bodies = window.beside.bodies
    bodies.look("top")
    centre = QPoint(bodies.width() // 2, bodies.height() // 2)
    at = next(
        centre + QPoint(dx, 0)
        for dx in range(0, 150, 6)
        if any(
            h.kind == "face" and h.label.endswith(":end")
            for h in bodies.picker.at(bodies.camera, centre.x() + dx, centre.y(), bodies.width(), bodies.height())[:1]
        )
    )
    qtbot.mouseMove(bodies, at)
    qtbot.mouseClick(bodies, Qt.MouseButton.LeftButton, pos=at)
    assert "1 face of Foot" in window.feed_card.blanks["things"].button.text()
    window.feed_card.blanks["name"].field.setText("Foot's top")
    qtbot.keyClick(window.feed_card, Qt.Key.Key_Return)
    settle(qtbot, window)
    feed = next(f for f in window.desk.main.document.feeds.values() if f.name == "Foot's top")
    (key,) = feed.sockets
    frame = window.desk.settled.value(Node("socket", window.desk.main.at, key))
    assert frame.origin == pytest.approx((0, 0, 18)) and frame.normal == pytest.approx((0, 0, 1))


def test_a_driver_lights_what_it_moves_and_the_wheel_asks_what_if(qtbot, window):
    show(qtbot, window, "Foot")
    stem = field(window, "stem_d")
    stem.enterEvent(_enter())
    hollow = next(o for o in window.desk.main.build if o.name == "Hollow")
    cut = window.desk.main.build[2]
    assert hollow.id in window.desk.main.lit and cut.id in window.desk.main.lit
    assert window.bodies.painter.lit_faces()
    assert all(face.split(":")[0] in window.desk.main.lit for _, face in window.bodies.painter.lit_faces())
    stem.leaveEvent(_enter())
    assert not window.desk.main.lit
    family, foot = window.desk.family, field(window, "foot_d")
    measure = Node("measure", window.desk.main.at, next(iter(window.desk.main.document.bodies)))
    before = window.desk.evaluation.value(measure)["box_mm"]
    foot.what_if(2)
    foot._spring.stop()
    assert "What if foot_d were 160 mm" in window.strip.line.text()
    settle(qtbot, window)
    during = window.desk.evaluation.value(measure)["box_mm"]
    assert during[3] - during[0] == pytest.approx(160)
    foot.spring_back()
    settle(qtbot, window)
    assert window.desk.evaluation.value(measure)["box_mm"] == before and window.desk.family is family


def _enter():
    from PyQt6.QtGui import QEnterEvent

    return QEnterEvent(QPointF(1, 1), QPointF(1, 1), QPointF(1, 1))


@pytest.mark.small_pictures
def test_driven_documents_have_pictures_and_say_what_they_take(qtbot, window):
    show(qtbot, window, "Elevation")
    wanted = {t.document for t in takers(window.desk.family, window.desk.main.document_id)}
    qtbot.waitUntil(lambda: all(window.desk.pictures.get(k) is not None for k in wanted), timeout=20_000)
    for key in wanted:
        image = window.desk.pictures[key]
        colours = {image.pixelColor(x, y).name() for x in range(112) for y in range(84)}
        assert len(colours) > 2


def test_the_keys_are_listed_and_hidden_bodies_come_back_by_name(qtbot, window):
    show(qtbot, window, "Light")
    window.bodies.setFocus()
    qtbot.keyClick(window.bodies, Qt.Key.Key_Question)
    qtbot.waitUntil(window.key_help.isVisible, timeout=2000)
    qtbot.keyClick(window.key_help, Qt.Key.Key_Escape)
    assert not window.key_help.isVisible()
    canvas = window.bodies
    keys = [b for b, _, _ in canvas.meshes][:2]
    canvas.hidden = set(keys)
    canvas._show()
    canvas.grab()
    box = next(box for box, key in canvas.painter.hidden_rows if key == keys[0])
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert canvas.hidden == {keys[1]}
    canvas.grab()
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.painter.hidden_rows[0][0].center().toPoint())
    assert not canvas.hidden


def test_the_size_that_a_feed_takes_is_chosen_from_its_menu_or_by_expression(qtbot, window):
    """Foot's outline always from L: 190 mm across in every size; then by an expression; then matching again."""
    from PyQt6.QtWidgets import QMenu

    show(qtbot, window, "Foot")
    feed = next(iter(window.desk.main.document.feeds))
    large = next(s.id for s in window.desk.family.head.sizes if s.name == "L")
    body = next(iter(window.desk.main.document.bodies))

    def width():
        box = window.desk.settled.value(Node("measure", window.desk.main.at, body))["box_mm"]
        return box[3] - box[0]

    assert width() == pytest.approx(150)
    menu = QMenu()
    window.commands.models.add_sizes(menu, feed)
    (inner,) = [a.menu() for a in menu.actions() if a.menu() is not None]
    entries = {a.text(): a for a in inner.actions()}
    assert entries["that matches"].isChecked() and not entries["always L"].isChecked()
    entries["always L"].trigger()
    settle(qtbot, window)
    assert window.desk.main.document.feeds[feed].sockets
    assert all(s.source.configuration == large for s in window.desk.main.document.feeds[feed].sockets.values())
    assert width() == pytest.approx(190)
    window.commands.models.choose_size(feed)
    window.prompt.fields[0].setText("pick(Sizes.reach > 1 m, L, S)")
    qtbot.keyClick(window.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, window)
    assert width() == pytest.approx(130)
    window.commands.models.choose_size(feed)
    window.prompt.fields[0].setText("pick(Sizes.reach > 1 m, L, XXL)")
    family = window.desk.family
    qtbot.keyClick(window.prompt.fields[0], Qt.Key.Key_Return)
    assert window.desk.family is family and window.prompt.isVisible()
    assert "XXL" in window.strip.line.text()


def test_enter_and_esc_answer_the_open_card_from_the_canvas(qtbot, window):
    """After picking, the keyboard is in the canvas; the card's promise of Enter and Esc holds there too."""
    show(qtbot, window, "Stem")
    window.actions_.run("feed.new")
    settle(qtbot, window)
    canvas, feeds = window.beside.sketches, len(window.desk.main.document.feeds)
    canvas.choose(next(k for k, c in canvas.solved.curves.items() if c.kind == "line"))
    canvas.setFocus()
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert len(window.desk.main.document.feeds) == feeds + 1 and not window.feed_card.isVisible()
    window.actions_.run("feed.new")
    settle(qtbot, window)
    canvas.setFocus()
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    assert not window.feed_card.isVisible() and len(window.desk.main.document.feeds) == feeds + 1
    window.actions_.run("operation.edit")
    window.desk.main.select(window.desk.main.build[2].id)
    assert window.actions_.run("operation.edit") and window.card.isVisible()
    window.bodies.setFocus()
    qtbot.keyClick(window.bodies, Qt.Key.Key_Escape)
    assert not window.card.isVisible()


def test_a_part_that_comes_after_a_grid_is_framed_when_it_is_there(qtbot, window):
    """The picture came empty: what was not drawn yet had counted as framed."""
    show(qtbot, window, "Arm tube")
    window.show_tab("Range")
    settle(qtbot, window)
    show(qtbot, window, "Elbow")
    canvas = window.bodies
    qtbot.waitUntil(lambda: bool(canvas.meshes), timeout=20_000)
    for _, mesh, _ in canvas.meshes:
        flat = canvas.camera.project(mesh.points, canvas.width(), canvas.height())
        assert (
            (flat[:, :2] >= 0).all() and (flat[:, 0] <= canvas.width()).all() and (flat[:, 1] <= canvas.height()).all()
        )


def test_two_panes_show_two_sizes_of_one_part(qtbot, window):
    """The foot beside itself: the main pane follows the window, the other one stays large; picks speak of their own."""
    show(qtbot, window, "Foot")
    foot = window.desk.main.document_id
    window.desk.show_beside(foot)
    settle(qtbot, window)
    sizes = {e.text(): e for e in window.beside.sizes().actions()}
    assert list(sizes)[:4] == ["as the whole window", "always S", "always M", "always L"]
    sizes["always L"].trigger()
    settle(qtbot, window)
    main, other = window.desk.main, window.desk.beside
    assert main.at.document == other.at.document and main.at.configuration != other.at.configuration
    (left, *_), (right, *_) = window.bodies.meshes, window.beside.bodies.meshes
    assert left[0].at == main.at and right[0].at == other.at
    wide = [float(np.ptp(m.points[:, 0])) for m in (left[1], right[1])]
    assert wide[1] > wide[0] * 1.05
    main.pick([("face", left[0], left[1].faces[0])])
    assert main.mesh(left[0]).source is left[1].source and other.mesh(right[0]).source is right[1].source
    window.bodies.hide_bodies({left[0]})
    assert not window.beside.bodies.hidden
    window.desk.show(size=window.desk.family.head.sizes[0].id)
    settle(qtbot, window)
    assert other.at == right[0].at and main.at != left[0].at


def test_two_panes_show_what_is_stored_beside_what_is_being_changed(qtbot, window):
    """Heights of the bodies in both pictures; after Esc both show the same again."""
    desk = window.desk
    show(qtbot, window, "Foot")
    window.show_tab("Bodies")
    block = next(o for o in desk.main.build if o.name == "Round the rim")
    desk.main.select(block.id)
    assert window.actions_.run("operation.edit")
    assert window.actions_.run("view.stored")
    settle(qtbot, window)
    desk.beside.select(block.id)
    type_into(qtbot, window.card.value, "7 mm")

    def rims():
        """Inner radius of the flat top in both pictures, mm."""
        found = []
        for canvas in (window.beside.bodies, window.bodies):
            (_, mesh, _) = canvas.meshes[0]
            top = mesh.points[mesh.points[:, 2] > mesh.points[:, 2].max() - 1e-6]
            found.append(float(np.hypot(top[:, 0], top[:, 1]).max()))
        return found

    qtbot.waitUntil(lambda: rims()[1] < 70)
    assert rims() == pytest.approx([75 - 1.5 * 2.4, 75 - 7], abs=0.01)
    assert "as stored" in window.beside.size_button.text()
    family = desk.family
    desk.beside.show_variant("preview")
    settle(qtbot, window)
    assert rims() == pytest.approx([75 - 7, 75 - 7], abs=0.01) and "changing" in window.beside.size_button.text()
    qtbot.keyClick(window.card, Qt.Key.Key_Escape)
    settle(qtbot, window)
    assert rims() == pytest.approx([75 - 1.5 * 2.4] * 2, abs=0.01) and desk.family is family


def test_enter_in_find_or_do_leaves_an_open_sentence_open(qtbot, window):
    """What is found there is done; the sentence is neither kept nor left."""
    desk, finder = window.desk, window.finder
    show(qtbot, window, "Foot")
    window.show_tab("Bodies")
    desk.main.select(next(o.id for o in desk.main.build if o.name == "Round the rim"))
    window.actions_.run("operation.edit")
    family = desk.family
    qtbot.keyClick(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClicks(finder.field, "as stored")
    qtbot.keyClick(finder.field, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.card.isVisible() and desk.family is family and not finder.isVisible()
    assert window.beside.isVisible() and desk.beside.variant == "present"


def test_a_pane_that_stays_with_the_present_finds_it_while_a_preview_is_open(qtbot, window):
    desk = window.desk
    show(qtbot, window, "Foot")
    window.show_tab("Bodies")
    desk.main.select(next(o.id for o in desk.main.build if o.name == "Round the rim"))
    window.actions_.run("operation.edit")
    type_into(qtbot, window.card.value, "7 mm")
    qtbot.waitUntil(lambda: desk.previewed is not None and not desk.updating)
    desk.show_beside(named(window, "Stem").id)  # it was not looked at before the sentence was opened
    desk.beside.show_variant("present")
    desk.update()  # overtakes the request that was to bring it
    qtbot.waitUntil(lambda: bool(window.beside.bodies.meshes))
    settle(qtbot, window)
    assert desk.present.family is desk.family and desk.evaluation.family is desk.previewed
