"""The engineer's stories through the real window: one value changed, seen everywhere, undone, saved, exported."""

import threading

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication, QMenu
from tests.support.hands import field, show, type_into, volume
from tests.support.windows import settle

from architectonic.describe.results import Node
from architectonic.desktop.window.find import Findable, rank
from architectonic.family import edits
from architectonic.propagate.evaluator import Evaluator
from architectonic.session.files.export import Writing
from architectonic.session.open.session import Session

pytestmark = [pytest.mark.window, pytest.mark.kernel]


def test_one_value_is_typed_its_reach_seen_applied_and_undone(qtbot, window):
    show(qtbot, window, "Foot")
    before, large = volume(window, "Foot"), volume(window, "Foot", "L")
    wall = field(window, "wall")
    type_into(qtbot, wall, "2.6")
    assert (
        "M only" in window.strip.line.text()
        and "16 documents, 16 configurations, 14 alternates" in window.strip.line.text()
    )
    qtbot.keyClick(wall, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert wall.text() == "2.6 mm"
    assert volume(window, "Foot") > before and volume(window, "Foot", "L") == large
    assert "followed in" in window.strip.line.text()
    assert window.head.undo_button.text().startswith("↶ Undo: wall")
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    settle(qtbot, window)
    assert volume(window, "Foot") == before and wall.text() == "2.4 mm"
    assert window.desk.settled.work.computed == 0


def test_the_first_keystroke_replaces_the_value_even_when_an_update_ends_meanwhile(qtbot, window):
    show(qtbot, window, "Foot")
    wall = field(window, "wall")
    wall.setFocus()
    assert wall.selectedText() == "2.4 mm"
    window.desk.update()
    settle(qtbot, window)
    qtbot.keyClicks(wall, "2.6")
    assert wall.text() == "2.6"


@pytest.mark.parametrize(
    ("text", "told"),
    [("2.6 deg", "an angle"), ("Sizes.wal", "did you mean"), ("2 +", "ends too early"), ("foot_d", "circle")],
)
def test_a_bad_value_changes_nothing_and_says_why(qtbot, window, text, told):
    show(qtbot, window, "Foot")
    if text == "foot_d":
        text = "wall + 1 mm"
        show(qtbot, window, "Sizes")
    before = window.desk.family
    wall = field(window, "wall")
    type_into(qtbot, wall, text)
    qtbot.keyClick(wall, Qt.Key.Key_Return)
    assert window.desk.family is before and told in window.strip.line.text()
    assert wall.property("bad") is True and wall.hasFocus()
    qtbot.keyClick(wall, Qt.Key.Key_Escape)
    assert wall.text() == "2.4 mm"


def test_an_edit_that_breaks_something_opens_the_strip_with_take_back(qtbot, window):
    show(qtbot, window, "Foot")
    family = window.desk.family
    wall = field(window, "wall")
    type_into(qtbot, wall, "14 mm")
    qtbot.keyClick(wall, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.strip.take_back.isVisible() and window.strip._table.isVisible()
    assert "attention" in window.head.pill.text() or "failing" in window.head.pill.text()
    failing = [e for e in window.made_of.entries if e.problem]
    assert failing and failing[0].problem.mend
    qtbot.mouseClick(window.strip.take_back, Qt.MouseButton.LeftButton)
    settle(qtbot, window)
    assert window.desk.family is family and window.head.pill.text().startswith("All current")


def test_the_size_chooser_shows_another_size(qtbot, window):
    show(qtbot, window, "Foot")
    entries = {a.text(): a for a in window.head.size_button.menu().actions()}
    assert list(entries) == ["S", "M", "L"]
    entries["L"].trigger()
    settle(qtbot, window)
    assert "L" in window.head.size_button.text() and field(window, "foot_d").text() == "190 mm"
    assert ("Box", "190.0 × 190.0 × 22.0") in window.right.facts()


def test_faces_are_named_under_the_pointer_and_measured_between(qtbot, window):
    show(qtbot, window, "Foot")
    canvas = window.bodies
    canvas.look("top")
    middle = QPoint(canvas.width() // 2 + 60, canvas.height() // 2)
    qtbot.mouseMove(canvas, middle)
    assert "end of Foot block" in canvas.painter.describe(*canvas.over[0][:3])
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=middle)
    assert len(window.desk.main.picks) == 1
    qtbot.keyClick(canvas, Qt.Key.Key_BracketRight)
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, middle)
    qtbot.waitUntil(lambda: "Shortest" in dict(window.right.facts()), timeout=20_000)
    facts = dict(window.right.facts())
    assert "Between the two" in facts and facts["Apart"] == "2.4 mm"  # the roof of the foot is the wall
    qtbot.wait(300)  # the picture at rest is drawn once, smoothly
    renders = canvas.scene.renders
    for k in range(20):
        qtbot.mouseMove(canvas, middle + QPoint(k, 0))
    assert canvas.scene.renders == renders  # hovering draws over the picture, it renders nothing


def test_only_this_and_hide(qtbot, window):
    show(qtbot, window, "Light")
    canvas = window.bodies
    key = canvas.meshes[0][0]
    window.desk.main.pick([("face", key, canvas.meshes[0][1].faces[0])])
    qtbot.keyClick(canvas, Qt.Key.Key_O)
    assert len(canvas.hidden) == 9
    qtbot.keyClick(canvas, Qt.Key.Key_O)
    assert not canvas.hidden


def test_a_switch_and_a_row_in_made_of(qtbot, window):
    show(qtbot, window, "Arm tube")
    rows = window.made_of
    tops = rows.plan.tops()
    y, entry = next((y, e) for y, e in tops if e.text.startswith("Lighten"))
    before = volume(window, "Arm tube")
    qtbot.mouseClick(rows, Qt.MouseButton.LeftButton, pos=QPoint(36, int(y) + 10))
    settle(qtbot, window)
    assert volume(window, "Arm tube") > before
    qtbot.mouseClick(rows, Qt.MouseButton.LeftButton, pos=QPoint(120, int(y) + 10))
    assert window.desk.main.operation == entry.id


def test_the_range_grid_types_values_and_switches(qtbot, qtmodeltester, window):
    show(qtbot, window, "Arm tube")
    window.show_tab("Range")
    model = window.range.model
    qtmodeltester.check(model)
    column = next(k for k, h in enumerate(model.headers) if h.endswith("hub mm"))
    large = next(i for i, row in enumerate(model.cells) if row[0].expression == "L")
    assert model.setData(model.index(large, column), "24 mm", Qt.ItemDataRole.EditRole)
    settle(qtbot, window)
    assert model.cells[large][column].kind == "own" and model.cells[large][column].text == "24.00"
    plain = next(i for i, row in enumerate(model.cells) if row[0].expression == "L plain")
    assert model.cells[plain][column].text == "24.00"  # the child inherits
    assert model.setData(model.index(large, column), "", Qt.ItemDataRole.EditRole)
    settle(qtbot, window)
    assert model.cells[large][column].kind == "computed"
    switch = next(k for k, h in enumerate(model.headers) if h.endswith("Lighten the tube"))
    small = next(i for i, row in enumerate(model.cells) if row[0].expression == "S")
    assert model.cells[small][switch].text == "off"
    model.toggle(model.index(small, switch))
    settle(qtbot, window)
    assert model.cells[small][switch].text == "on"


def test_the_table_grid_types_one_size(qtbot, window):
    show(qtbot, window, "Sizes")
    model = window.values.model
    row = next(i for i in range(model.rowCount()) if model.cell(i, 0).text == "height")
    column = model.headers.index("L")
    assert model.cell(row, column).expression == "17 in" and model.cell(row, column).text == "431.80"
    assert model.setData(model.index(row, column), "18 in", Qt.ItemDataRole.EditRole)
    settle(qtbot, window)
    assert model.cell(row, column).text == "457.20"
    assert not model.setData(model.index(row, column), "18 deg", Qt.ItemDataRole.EditRole)
    assert model.cell(row, column).kind == "bad" and "angle" in model.cell(row, column).told


def test_a_dimension_is_typed_in_the_sketch_and_parts_follow(qtbot, window):
    show(qtbot, window, "Elevation")
    canvas = window.sketches
    qtbot.waitUntil(lambda: canvas.solved is not None and bool(canvas.labels))
    tube = volume(window, "Arm tube")
    angle = next(c for c in canvas.sketch.constraints if c.name == "arm_angle")
    before = window.desk.settled.value(
        Node(
            "frame",
            window.desk.main.at,
            next(o.id for o in window.desk.main.document.build if o.name == "Arm square"),
        )
    )
    editor = canvas.edit(angle.id)
    qtbot.keyClicks(editor, "35")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    settle(qtbot, window)
    after = window.desk.settled.value(
        Node(
            "frame",
            window.desk.main.at,
            next(o.id for o in window.desk.main.document.build if o.name == "Arm square"),
        )
    )
    assert after != before and volume(window, "Arm tube") == pytest.approx(tube, rel=1e-9)  # turned, not changed


def test_save_reopen_and_export(qtbot, window, tmp_path):
    show(qtbot, window, "Foot")
    wall = field(window, "wall")
    type_into(qtbot, wall, "2.7 mm")
    qtbot.keyClick(wall, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.head.family_button.text().endswith("•")
    assert window.actions_.run("family.save")
    settle(qtbot, window)
    assert not window.head.family_button.text().endswith("•")
    assert Session.open(tmp_path / "family").family == window.desk.family
    of = window.handing.variant()
    window.handing.write(of, tmp_path / "foot.step", Writing())
    qtbot.waitUntil(lambda: "Wrote" in window.strip.line.text())
    assert "PRODUCT('Shell'" in (tmp_path / "foot.step").read_text()
    window.handing.write(of, tmp_path / "nowhere" / "foot.step", Writing())
    qtbot.waitUntil(lambda: "could not be written" in window.strip.line.text())


def test_a_family_of_ones_own(qtbot, window, tmp_path):
    assert window.commands.families.make_family(tmp_path / "mine", "Mine", "A, B")
    window.actions_.run("document.new_table")
    qtbot.keyClick(window.prompt.fields[0], Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.desk.main.document.name == "My table"
    window.actions_.run("value.new")
    window.prompt.fields[0].setText("wall")
    window.prompt.fields[1].setText("3")
    qtbot.keyClick(window.prompt.fields[1], Qt.Key.Key_Return)
    settle(qtbot, window)
    assert [p.common.text for p in window.desk.main.document.parameters] == ["3 mm"]
    assert not window.commands.families.make_family(tmp_path / "mine", "Again", "")
    assert "not empty" in window.strip.line.text()


def test_deleting_a_document_names_its_users_and_is_undone(qtbot, window):
    show(qtbot, window, "Stem")
    assert window.actions_.run("document.delete")
    assert "Light took from it" in window.strip.line.text()
    settle(qtbot, window)
    assert "attention" in window.head.pill.text() or "failing" in window.head.pill.text()
    assert window.actions_.run("edit.undo")
    settle(qtbot, window)
    assert window.head.pill.text().startswith("All current")


def test_find_or_do_goes_to_a_value(qtbot, window):
    qtbot.keyClick(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClicks(window.finder.field, "sizes tube")
    assert window.finder.list.item(0).text() == "Sizes: tube_d"
    qtbot.keyClick(window.finder.field, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert field(window, "tube_d").hasFocus()
    assert rank("xq", Findable("Sizes", print)) is None


def test_find_or_do_ranks_whole_words_and_words_of_the_trade_and_says_what_is_wanted(qtbot, window):
    def found(words):
        window.finder.start()
        window.finder.field.setText(words)
        rows = [window.finder.list.item(k).data(Qt.ItemDataRole.UserRole) for k in range(window.finder.list.count())]
        return rows

    show(qtbot, window, "Foot")
    titles = [e.title for e in found("fillet")]  # its name; what another word of the trade means: here before elsewhere
    assert titles[0] == "Fillet edges" and titles.index("Round faces over") < titles.index("Round the corner")
    assert found("fillet")[0].tells == "Fillet edges with radius 1 mm."  # the sentence that it opens
    assert {"Repeat in a row along the line chosen last", "Repeat in a ring about the point chosen last"} <= {
        e.title for e in found("pattern")
    }
    assert found("subtract")[0].title == "Subtract bodies"
    assert [e.title for e in found("join")[:2]] == [
        "Unite bodies",
        "Join surfaces",
    ]  # ends of curves cannot be joined here
    assert found("who takes")[0].title == "Which part takes which surface"  # by the words of its button as well
    assert found("ns")[0].title == "New sketch" or "New" in found("ns")[0].title  # beginnings of its words
    assert found("mirror")[0].title == "Mirror bodies"  # what can be done here comes before what cannot
    show(qtbot, window, "Elevation")
    assert found("foot")[0].title == "Foot"  # a document by its name, before what only begins so and stands here
    show(qtbot, window, "Foot")
    wanted = next(e for e in found("mirror") if e.wants)
    assert wanted.title.startswith("Mirror at the line") and wanted.wants == "wants curves, then a line"
    entries = found("mirror at the")
    assert entries[0].title == wanted.title
    qtbot.keyClick(window.finder.field, Qt.Key.Key_Return)
    assert "wants curves, then a line first" in window.strip.line.text()
    assert [e.title for e in found("zzzz")] == ["Nothing is called “zzzz”"]
    qtbot.keyClick(window.finder.field, Qt.Key.Key_Return)
    assert window.finder.isVisible()  # nothing was done, in no silence
    assert found("cut")[0].title == "Extrude…".rstrip("…") and found("split")[0].title == "Split bodies"
    assert len(found("")) > 20 and not any(e.wants for e in found(""))
    window.finder.hide()


def test_what_is_shown_is_never_evaluated_in_the_event_loop(qtbot, window, monkeypatch):
    """While a value is typed, documents, sizes and a section are shown: every pass of the evaluator is begun by another thread.
    How long the event loop is busy is measured in bench/ (`python -m bench events`)."""
    asked = []
    real = window.desk.engine.evaluator.evaluate

    def begin(*arguments, **more):
        asked.append(threading.current_thread() is threading.main_thread())
        return Evaluator.begin(window.desk.engine.evaluator, *arguments, **more)

    monkeypatch.setattr(window.desk.engine.evaluator, "begin", begin)
    show(qtbot, window, "Light")
    sizes = edits.find_document(window.desk.family, "Sizes")
    reach = next(p for p in sizes.parameters if p.name == "reach")
    window.desk.apply("reach", lambda f: edits.set_value(f, sizes.id, reach.id, "301 mm"))
    settle(qtbot, window)
    for name in ("Foot", "Elevation", "Sizes", "Stem"):
        show(qtbot, window, name)
    window.desk.show(size=window.desk.family.head.sizes[-1].id)
    settle(qtbot, window)
    assert asked and not any(asked)
    real(window.desk.family, ())
    assert asked[-1]  # what is asked for here would have been seen


def test_the_map_is_whole_while_another_family_is_opened(qtbot, window, tmp_path):
    """It is painted before it has followed: with the cards of the old family, or of the new one, never of both."""
    window.show_tab("Map")
    settle(qtbot, window)
    assert window.commands.families.make_family(tmp_path / "other", "Other", "A")
    window.map.grab()
    settle(qtbot, window)
    window.map.grab()
    assert window.map.cards == {}


def test_the_map_shows_who_drives_whom_and_opens_documents(qtbot, window):
    """Oracle: networkx descendants and ancestors on the same edges; every arrow goes forward."""
    import networkx as nx

    from architectonic.desktop.product.map import closure, drives, layers

    edges = drives(window.desk.family)
    graph = nx.DiGraph([(a, b) for a, takers in edges.items() for b in takers])
    graph.add_nodes_from(edges)
    for key in edges:
        assert closure(edges, key) == nx.descendants(graph, key)
    column = {k: i for i, keys in enumerate(layers(edges)) for k in keys}
    assert all(column[a] < column[b] for a, b in graph.edges)
    window.show_tab("Map")
    light = edits.find_document(window.desk.family, "Light").id
    at = window.map.cards[light].center().toPoint()
    qtbot.mouseClick(window.map, Qt.MouseButton.LeftButton, pos=at)
    assert window.map.chosen == light and closure(edges, light) == set()
    qtbot.mouseDClick(window.map, Qt.MouseButton.LeftButton, pos=at)
    assert window.desk.main.document_id == light


def test_every_card_of_the_map_can_be_got_to_however_low_the_pane_is(qtbot, window):
    window.show_tab("Map")
    settle(qtbot, window)
    canvas = window.map

    def seen():
        return {k for k, box in canvas.cards.items() if box.top() >= 0 and box.bottom() <= canvas.height() - 36}

    def apart():
        boxes = list(canvas.cards.values())
        return not any(a.intersects(b) for n, a in enumerate(boxes) for b in boxes[:n])

    assert seen() == set(canvas.cards) and canvas.below == 0 and apart()
    canvas.resize(canvas.width(), 240)
    assert canvas.below > 0 and apart() and seen() < set(canvas.cards)
    reached = seen()
    for _ in range(40):
        at = QPointF(canvas.rect().center())
        turn = QWheelEvent(
            at, canvas.mapToGlobal(at), QPoint(), QPoint(0, -120), Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(canvas, turn)
        reached |= seen()
    assert reached == set(canvas.cards) and canvas.rolled == canvas.below


def test_edges_are_picked_and_rounded_with_a_preview(qtbot, window):
    """Closed form: rounding the bore's upper rim takes away a ring by Pappus; here only the direction is checked."""
    show(qtbot, window, "Stem")
    body = next(iter(window.desk.main.document.bodies))
    block = next(o.id for o in window.desk.main.document.build if o.name == "Stem rod")
    key = window.desk.main.body(body)
    mesh = window.bodies.mesh(key)
    rim = next(e for e in mesh.edges if f"{block}:end" in e and f"{block}:side" in e)
    before, family = volume(window, "Stem"), window.desk.family
    window.desk.main.pick([("edge", key, rim)])
    assert window.actions_.run("operation.fillet")
    card = window.card
    settle(qtbot, window)
    assert window.desk.family is family and window.desk.previewed is not None
    assert volume(window, "Stem") == before  # what is settled is not touched by a preview
    previewed = window.desk.evaluation.value(Node("measure", window.desk.main.at, body))["volume_mm3"]
    assert previewed < before
    type_into(qtbot, card.value, "50")
    qtbot.waitUntil(lambda: "still works" in card.hint.text(), timeout=20_000)
    type_into(qtbot, card.value, "-1")
    qtbot.waitUntil(lambda: "not a positive" in card.hint.text(), timeout=20_000)
    qtbot.keyClick(card.value, Qt.Key.Key_Return)
    assert window.desk.family is family and card.isVisible()
    type_into(qtbot, card.value, "Sizes.wall / 3")
    qtbot.keyClick(card.value, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert not card.isVisible() and window.desk.previewed is None
    assert window.made_of.entries[-1].text == "Fillet: fillet 1 edge with radius Sizes.wall / 3"
    assert volume(window, "Stem") < before
    window.actions_.run("edit.undo")
    settle(qtbot, window)
    assert window.desk.family is family


def test_a_sentence_is_left_as_it_was(qtbot, window):
    show(qtbot, window, "Arm tube")
    cut = next(o for o in window.desk.main.document.build if o.name == "Draw the tube")
    family = window.desk.family
    window.desk.main.select(cut.id)
    assert window.actions_.run("operation.edit")
    type_into(qtbot, window.card.value, "30 mm")
    qtbot.waitUntil(lambda: not window.desk.updating and window.desk.previewed is not None, timeout=20_000)
    qtbot.keyClick(window.card.value, Qt.Key.Key_Escape)
    settle(qtbot, window)
    assert window.desk.family is family and window.desk.previewed is None and not window.card.isVisible()


def test_a_region_is_clicked_and_extruded(qtbot, window):
    show(qtbot, window, "Stem")
    window.show_tab("Sketch")
    hole = next(o for o in window.desk.main.document.build if o.name == "Cable hole")
    window.desk.main.select(hole.id)
    canvas = window.sketches
    canvas.frame_all()
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.to_screen((1.0, 1.0)).toPoint())
    assert window.desk.main.regions[0] == hole.id and len(window.desk.main.regions[1]) == 1
    assert window.actions_.run("operation.extrude")
    card = window.card
    card.blanks["acts_on"].verb.setCurrentIndex(0)
    card.blanks["acts_on"].body_name.setText("Plug")
    type_into(qtbot, card.value, "12 mm")
    qtbot.keyClick(card.value, Qt.Key.Key_Return)
    settle(qtbot, window)
    bodies = {b.name: k for k, b in window.desk.main.document.bodies.items()}
    plug = window.desk.settled.value(Node("measure", window.desk.main.at, bodies["Plug"]))
    assert plug["volume_mm3"] == pytest.approx(3.14159265358979 * (12.875 / 2) ** 2 * 12, rel=1e-9)
    assert [c.name for c in window.made_of.columns] == ["Stem", "Plug"]


@pytest.mark.parametrize("kind", ["table", "layout", "part", "assembly"])
def test_a_new_document_beside_others_opens_empty_and_says_what_to_do(qtbot, window, kind):
    show(qtbot, window, "Foot")
    window.show_tab("Map")  # so that the new document brings a canvas to the front before it is evaluated
    window.actions_.run(f"document.new_{kind}")
    window.prompt.fields[0].setText("Fresh")
    qtbot.keyClick(window.prompt.fields[0], Qt.Key.Key_Return)
    assert window.desk.main.document.name == "Fresh" and window.desk.main.document.kind == kind
    assert not window.handing.has_bodies()
    window.grab()
    settle(qtbot, window)
    window.actions_.run("edit.undo")
    settle(qtbot, window)
    assert all(d.name != "Fresh" for d in window.desk.family.documents.values())


def test_an_edit_is_one_pass_of_the_evaluator_and_leaves_no_menu_behind(qtbot, window, monkeypatch):
    """What is shown comes first and everything else later, yet out of one pass; small pictures are asked by themselves."""
    show(qtbot, window, "Foot")
    begun = []
    honest = Evaluator.begin

    def begin(self, family, *more, **how):
        if self is window.desk.engine.evaluator:  # what is asked before an edit is stored is another's
            begun.append(family)
        return honest(self, family, *more, **how)

    monkeypatch.setattr("architectonic.desktop.pane.updater.Updater._picture", lambda *_: None)
    monkeypatch.setattr(Evaluator, "begin", begin)
    seen = []
    window.desk.evaluated.connect(lambda *_: seen.append(window.desk.evaluation))
    menus = len(window.head.findChildren(QMenu))
    for value in ("2.5", "2.7"):
        wall = field(window, "wall")
        type_into(qtbot, wall, value)
        qtbot.keyClick(wall, Qt.Key.Key_Return)
        settle(qtbot, window)
        ours = [f for f in begun if f is window.desk.family]
        assert len(ours) == 1
    assert len(seen) > 2
    assert len(window.head.findChildren(QMenu)) == menus


def test_a_view_that_nobody_turned_shows_all_of_what_grows_and_one_that_was_turned_stays(qtbot, window):
    show(qtbot, window, "Foot")
    window.show_tab("Bodies")
    canvas = window.bodies

    def inside():
        flat = [canvas.camera.project(m.points, canvas.width(), canvas.height()) for _, m, _ in canvas.meshes]
        return all(p[:, 0].min() >= 0 and p[:, 0].max() <= canvas.width() for p in flat)

    def grow(text):
        line = field(window, "foot_d")
        type_into(qtbot, line, text)
        qtbot.keyClick(line, Qt.Key.Key_Return)
        settle(qtbot, window)

    canvas.frame_all()
    assert inside()
    grow("260 mm")
    assert inside()
    canvas._untouched = False  # turned, slid or zoomed by hand
    before = canvas.camera
    grow("400 mm")
    assert canvas.camera is before and not inside()
