"""Ranges: rows that inherit, formulas to the parent, conditions, what is said of rows, columns; in closed form."""

import math

import pytest

import architectonic as a
from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.family import edits, names, scopes
from architectonic.session.ranges import columns as ranged
from architectonic.session.ranges import rows

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Spacers", sizes=("S", "L"), store=store) as opened:
        yield opened


@pytest.fixture
def bar(family):
    """A bar 20 x 10, as long as its row says, bored through where it is longer than 100 mm."""
    part = family.part("Bar")
    part.parameter("length", "60 mm", L="120 mm")
    part.parameter("bore", "length / 20")
    outline = part.sketch("Outline")
    outline.rectangle("length", "20 mm")
    part.extrude(make="Bar", regions=outline.region(), far="10 mm", name="Block")
    part.body("Bar").made_of("EN AW-6060")
    hole = part.sketch("Hole")
    hole.circle((12, 10), diameter="bore")
    cut = part.extrude(cut="Bar", regions=hole.region(), far="through", name="Bore it")
    cut.switch("length > 100 mm")
    part.row("L long", "L", length="parent.length + 30 mm")
    part.row("L longer", "L long", length="parent.length + 30 mm")
    return part


def volumes(part):
    """Of each configuration, mm3."""
    found = {}
    for row, name in scopes.configurations(part.opened.family, part.record):
        evaluation = part.opened.evaluate((part.name,), name)
        state = evaluation.value(Node("finished", scopes.Scope(part.id, row), ""))
        node = Node("measure", scopes.Scope(part.id, row), state.bodies[0].id)
        found[name] = evaluation.value(node)["volume_mm3"]
    return found


def expected(length):
    bored = math.pi / 4 * (length / 20) ** 2 * 10 if length > 100 else 0.0
    return length * 20 * 10 - bored


def test_formulas_to_the_parent_and_conditions_decide_what_is_built(bar):
    lengths = {"S": 60, "L": 120, "L long": 150, "L longer": 180}
    assert volumes(bar) == pytest.approx({k: expected(v) for k, v in lengths.items()}, rel=1e-9)
    bar.opened.set("Bar.length@L", "90 mm")  # children follow, and the condition is asked anew
    moved = {"S": 60, "L": 90, "L long": 120, "L longer": 150}
    assert volumes(bar) == pytest.approx({k: expected(v) for k, v in moved.items()}, rel=1e-9)
    cut = bar.operation("Bore it")
    cut.switch(False, "L longer")
    assert volumes(bar)["L longer"] == pytest.approx(150 * 200, rel=1e-9)


def test_a_row_without_a_parent_says_so_and_a_circle_is_refused(bar):
    family = bar.opened.family
    with pytest.raises(UserFault, match=r"circle: .*length"):
        bar.opened.edit(
            "circle",
            lambda f: (
                edits.set_value(f, bar.id, bar._parameter("bore"), "length", "")
                and edits.set_value(
                    edits.set_value(f, bar.id, bar._parameter("bore"), "length / 20"),
                    bar.id,
                    bar._parameter("length"),
                    "bore * 20",
                )
            ),
        )
    assert bar.opened.family is family
    bar.opened.set("Bar.bore", "parent.bore + 1 mm")
    told = {i["where"]: i["what"] for i in bar.opened.check()["attention"]}
    assert any("parent.bore: it is the child of no configuration" in what for what in told.values()), told


def test_following_round_in_a_circle_is_refused(bar):
    key, longer, long = bar.id, bar.cell("L longer"), bar.cell("L long")
    with pytest.raises(UserFault, match="would follow itself"):
        edits.set_parent(bar.opened.family, key, long, longer)
    with pytest.raises(UserFault, match="a size follows no other"):
        edits.set_parent(bar.opened.family, key, bar.cell("L"), longer)


def test_a_row_says_its_own_material_and_its_children_follow(bar):
    bar.row_says("L long", material="stainless steel 1.4301", number="B-150", colour="#808080")
    evaluation = bar.opened.evaluate(("Bar",))
    body = bar.body("Bar").id
    masses = {
        name: evaluation.value(Node("mass", scopes.Scope(bar.id, row), body))
        for row, name in scopes.configurations(bar.opened.family, bar.record)
    }
    light, dense = 2.7e-3, 7.9e-3  # g/mm3: EN 1999-1-1, EN 10088-1
    assert masses["L"] == pytest.approx(expected(120) * light, rel=1e-9)
    assert masses["L long"] == pytest.approx(expected(150) * dense, rel=1e-9)
    assert masses["L longer"] == pytest.approx(expected(180) * dense, rel=1e-9)  # it has that of its parent
    with pytest.raises(UserFault, match="has the number B-150 already"):
        bar.row_says("L longer", number="B-150")
    with pytest.raises(UserFault, match="is no colour"):
        bar.row_says("L longer", colour="red")
    bar.row_says("S", note="for the small light")  # a size gets a row of its own when something is said of it
    assert [r.name for r in bar.record.configurations if r.size] == ["S"] and volumes(bar)["S"] == pytest.approx(12000)
    bar.row_says("L longer", material="unobtainium")
    what = [i["what"] for i in bar.opened.report("Bar")["attention"]]
    assert not what  # a mass that is not known is no fault; it is said where it is shown


def test_a_dimension_differs_from_row_to_row(family):
    part = family.part("Disc")
    outline = part.sketch("Outline")
    outline.circle((0, 0), diameter="30 mm")
    part.extrude(make="Disc", regions=outline.region(), far="5 mm")
    part.row("wide")
    dimension = next(c for o in part.model.build if o.name == "Outline" for c in o.constraints if c.kind == "diameter")
    family.edit("column", lambda f: ranged.as_column(f, part.id, dimension.id))
    family.edit("own", lambda f: edits.set_value(f, part.id, dimension.id, "50 mm", part.cell("wide")))
    assert volumes(part) == pytest.approx({k: math.pi / 4 * d**2 * 5 for k, d in (("S", 30), ("L", 30), ("wide", 50))})
    titles = {c.key: c.title for c in ranged.shown_columns(family.family, part.record)}
    assert titles[f"value:{dimension.id}"] == "Outline.diameter"
    family.edit("common again", lambda f: edits.clear_cell(f, part.id, dimension.id, part.cell("wide")))
    assert volumes(part)["wide"] == pytest.approx(math.pi / 4 * 900 * 5)


def test_rows_stand_below_their_parents_and_are_copied_and_taken_out(bar):
    def told():
        return [(r.name, r.depth) for r in rows.rows(bar.opened.family, bar.record)]

    assert told() == [("S", 0), ("L", 0), ("L long", 1), ("L longer", 2)]
    bar.opened.edit("copy", lambda f: rows.copied(f, bar.id, bar.cell("L long"))[0])
    assert told() == [("S", 0), ("L", 0), ("L long", 1), ("L longer", 2), ("L long 2", 1)]
    assert volumes(bar)["L long 2"] == pytest.approx(expected(150))
    bar.opened.edit("copy of a size", lambda f: rows.copied(f, bar.id, bar.cell("L"))[0])
    assert told()[-1] == ("L 2", 1) and volumes(bar)["L 2"] == pytest.approx(expected(120))
    bar.opened.edit("delete", lambda f: edits.delete_configuration(f, bar.id, bar.cell("L long")))
    assert told() == [("S", 0), ("L", 0), ("L longer", 1), ("L long 2", 1), ("L 2", 1)]
    with pytest.raises(UserFault, match="belongs to the whole family"):
        edits.delete_configuration(bar.opened.family, bar.id, bar.cell("S"))


def test_what_a_new_row_starts_from_is_said(bar):
    family, key = bar.opened.family, bar.id

    def starts(made):
        changed, row = made
        return rows.starts_from(changed, changed.documents[key], row)

    assert (
        starts(rows.child(family, key, bar.cell("L")))
        == "L b starts equal to L, and follows it wherever nothing of its own is typed."
    )
    assert (
        starts(rows.copied(family, key, bar.cell("L long")))
        == "L long 2 starts with 1 value of its own, and follows L in everything else."
    )
    assert (
        starts(edits.add_configuration(family, key, "Free"))
        == "Free starts from what is common to all; of what drives it, it takes S."
    )


def test_who_takes_a_row_is_told_and_names_are_followed(bar):
    rack = bar.opened.assembly("Rack")
    rack.place("Bar", name="Rail")
    rack.fill("Rail", "Bar", size="L long")
    bar.parameter("reach", "Bar.length at L_long")
    users = [(d.name, n) for d, n in edits.users_of_configuration(bar.opened.family, bar.id, bar.cell("L long"))]
    assert users == [("Bar", "reach"), ("Rack", "Rail")]
    bar.opened.edit("rename", lambda f: edits.rename_configuration(f, bar.id, bar.cell("L long"), "Rail 150"))
    reach = next(p for p in bar.record.parameters if p.name == "reach")
    assert names.shown_text(bar.opened.family, bar.record, reach.common) == "length at Rail_150"
    bar.opened.edit("rename", lambda f: edits.rename_configuration(f, bar.id, bar.cell("L"), "Large"))
    assert [s.name for s in scopes.sizes(bar.opened.family)] == ["S", "Large"]
    with pytest.raises(UserFault, match="another configuration is called"):
        edits.rename_configuration(bar.opened.family, bar.id, bar.cell("Large"), "rail 150")


def test_rows_are_named_and_numbered_by_a_pattern(bar):
    seen = bar.opened.evaluate(("Bar",))
    keys = [bar.cell("L long"), bar.cell("L longer")]
    named = rows.called(bar.opened.family, seen, bar.id, keys, "name", "Bar {length}-{n:02}")
    assert [r.name for r in named.documents[bar.id].configurations] == ["Bar 150-01", "Bar 180-02"]
    every = [r.key for r in rows.rows(bar.opened.family, bar.record)]
    numbered = rows.called(bar.opened.family, seen, bar.id, every, "number", "AT-{size}-{n:03}")
    at = [scopes.said(numbered, scopes.scope(numbered, bar.id, k), "number") for k in every]
    assert at == ["AT-S-001", "AT-L-002", "AT-L-003", "AT-L-004"]
    with pytest.raises(UserFault, match="would both be called “AT-L”"):
        rows.called(bar.opened.family, seen, bar.id, keys, "number", "AT-{size}")
    with pytest.raises(UserFault, match="“lenght” names nothing here"):
        rows.called(bar.opened.family, seen, bar.id, keys, "name", "{lenght}")
    with pytest.raises(UserFault, match="its braces do not match"):
        rows.called(bar.opened.family, seen, bar.id, keys, "name", "AT {n")


def test_a_new_operation_is_on_where_it_is_said_to_be(bar):
    cut = next(o for o in bar.model.build if o.name == "Bore it")
    bar.operation("Bore it").switch(True)

    def where(way):
        family = rows.where_on(bar.opened.family, bar.id, cut.id, bar.cell("L long"), way)
        record = edits.operation(family, bar.id, cut.id)
        keys = [r.key for r in rows.rows(family, bar.record)]
        return [scopes.turned(family, scopes.scope(family, bar.id, k), record.switch)[1] for k in keys]

    assert where("all") == [True] * 4
    assert where("row") == [False, False, True, False] and where("children") == [False, False, True, True]


def test_what_a_column_shows_says_how_it_came_about(bar):
    family, evaluation = bar.opened.family, bar.opened.evaluate(("Bar",))
    by_title = {c.title: c for c in ranged.columns(family, bar.record)}

    def kinds(title):
        at = (scopes.scope(family, bar.id, r.key) for r in rows.rows(family, bar.record))
        return [
            (c.text, c.kind, c.typed, c.differs) for c in (by_title[title].shown(family, evaluation, s) for s in at)
        ]

    assert kinds("length") == [
        ("60.00", "inherited", "", False),
        ("120.00", "own", "120 mm", False),
        ("150.00", "computed", "parent.length + 30 mm", True),
        ("180.00", "computed", "parent.length + 30 mm", True),
    ]
    assert [k[:2] for k in kinds("bore")] == [
        ("3.00", "computed"),
        ("6.00", "computed"),
        ("7.50", "inherited"),
        ("9.00", "inherited"),
    ]
    assert [k[:2] for k in kinds("Bore it")] == [
        ("off", "computed switch"),
        ("on", "computed switch"),
        ("on", "inherited switch"),
        ("on", "inherited switch"),
    ]
    assert [k[0] for k in kinds("Volume")] == [f"{expected(x) / 1000:.2f}" for x in (60, 120, 150, 180)]
    many = by_title["length"].change_many(family, [(bar.cell("S"), "61 mm"), (bar.cell("L long"), "")])
    length = next(p for p in many.documents[bar.id].parameters if p.name == "length")
    assert {k: v.text for k, v in length.own.items()} == {
        bar.cell("L"): "120 mm", bar.cell("L longer"): "parent.length + 30 mm", bar.cell("S"): "61 mm",
    }  # fmt: skip
    with pytest.raises(UserFault, match="Bore it"):
        by_title["Bore it"].change_many(family, [(bar.cell("S"), "length")])


def test_columns_are_shown_hidden_and_ordered(bar):
    key = bar.id

    def titles(family):
        return [c.title for c in ranged.shown_columns(family, family.documents[key])]

    family = bar.opened.family
    assert titles(family) == ["length", "bore", "Bore it", "Number", "Mass", "Volume", "Box"]
    by_title = {c.title: c.key for c in ranged.columns(family, bar.record)}
    family = ranged.show_column(family, key, by_title["Material"], True)
    family = ranged.show_column(family, key, by_title["Box"], False)
    family = ranged.move_column(family, key, by_title["bore"], by_title["length"])
    assert titles(family) == ["bore", "length", "Bore it", "Number", "Material", "Mass", "Volume"]
    assert titles(ranged.show_column(family, key, by_title["Box"], True))[-1] == "Box"
