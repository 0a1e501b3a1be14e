"""Rows of values: many cells at once, order, units, series; random edits against a plain evaluation."""

import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from architectonic.base.errors import UserFault
from architectonic.describe.results import Node
from architectonic.exchange import folder
from architectonic.family import edits, names, scopes, tables
from architectonic.family.graph.static import Graph, refuse_circle
from architectonic.family.scopes import Scope
from architectonic.family.tables import Typed
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.ports import NoExecutor
from architectonic.quantities.preferred import R40, SERIES, nearest, term
from architectonic.session.open.session import Session


@pytest.fixture
def table():
    family = edits.new_family("Trial", ("S", "M"))
    family, key = edits.add_document(family, "table", "T")
    for name, text in (("wall", "2 mm"), ("gap", "0.2 mm"), ("outer", "10 * wall + gap"), ("turn", "30 deg")):
        quantity = "angle" if name == "turn" else "length"
        family = edits.add_parameter(family, key, name, text, quantity)
    return family, key


def row(family, key, name):
    return next(p for p in family.documents[key].parameters if p.name == name)


def order(family, key):
    return [p.name for p in family.documents[key].parameters]


def value(family, key, name, size="S"):
    size_id = next(s.id for s in family.head.sizes if s.name == size)
    node = Node("value", Scope(key, size_id), row(family, key, name).id)
    return Evaluator(NoExecutor()).evaluate(family, [node]).value(node)


def test_many_cells_are_typed_at_once_and_new_rows_may_use_each_other(table):
    family, key = table
    m = family.head.sizes[1].id
    wall = row(family, key, "wall").id
    cells = [
        Typed(wall, "", "3 mm"), Typed(wall, m, "4"), Typed("new1", "name", "rib"), Typed("new1", "", "foot / 2"),
        Typed("new2", "name", "foot"), Typed("new2", "", "1/2 in"), Typed("new2", "note", "outside"),
    ]  # fmt: skip
    family = tables.type_cells(family, key, cells, before=row(family, key, "outer").id)
    assert order(family, key) == ["wall", "gap", "rib", "foot", "outer", "turn"]
    assert value(family, key, "rib") == 6.35 and row(family, key, "foot").note == "outside"
    assert value(family, key, "outer") == 30.2 and value(family, key, "outer", "M") == 40.2


@pytest.mark.parametrize(
    ("cells", "told"),
    [
        ([("wall", "", "2 deg")], "angle"),
        ([("wall", "", "3 mm"), ("gap", "name", "WALL")], "differs only in case"),
        ([("gap", "unit", "furlong")], "no unit"),
        ([("wall", "unit", "deg")], "reads wall as a length"),
        ([("new", "name", "alone")], "needs a name and a value"),
        ([("wall", "", "nowhere + 1 mm")], "not known"),
    ],
)
def test_one_bad_cell_refuses_all_and_says_where(table, cells, told):
    family, key = table
    known = {p.name: p.id for p in family.documents[key].parameters}
    with pytest.raises(UserFault, match=told):
        tables.type_cells(family, key, [Typed(known.get(r, r), c, t) for r, c, t in cells])


def test_a_circle_is_refused_with_its_path(table):
    family, key = table
    family = tables.type_cells(family, key, [Typed(row(family, key, "wall").id, "", "outer / 12")])
    with pytest.raises(UserFault, match=r"circle: .*wall.*outer|circle: .*outer.*wall"):
        refuse_circle(family)


def test_a_unit_changes_how_a_value_is_shown_and_a_free_row_may_change_its_quantity(table):
    family, key = table
    family = tables.type_cells(family, key, [Typed(row(family, key, "wall").id, "unit", "in")])
    assert value(family, key, "wall") == 2 and row(family, key, "wall").unit == "in"
    family = tables.type_cells(family, key, [Typed(row(family, key, "turn").id, "unit", "g")])
    assert row(family, key, "turn").quantity == "mass" and value(family, key, "turn") == 30


def test_rows_of_a_group_stand_together_and_move_into_the_group_they_are_put_in(table):
    family, key = table
    ids = {n: row(family, key, n).id for n in order(family, key)}
    family = tables.type_cells(
        family, key, [Typed(ids["wall"], "group", "Shell"), Typed(ids["outer"], "group", "Shell")]
    )
    assert order(family, key) == ["wall", "outer", "gap", "turn"]
    family = tables.move_rows(family, key, [ids["turn"]], before=ids["outer"])
    assert order(family, key) == ["wall", "turn", "outer", "gap"] and row(family, key, "turn").group == "Shell"


def test_fill_down_copies_what_is_typed_and_leaves_names(table):
    family, key = table
    m = family.head.sizes[1].id
    wall, gap = row(family, key, "wall").id, row(family, key, "gap").id
    family = tables.type_cells(family, key, [Typed(wall, m, "gap * 9")])
    with pytest.raises(UserFault, match=r"circle"):
        refuse_circle(tables.fill_down(family, key, [wall, gap], [m]))
    family = tables.fill_down(family, key, [wall, gap], ["name", ""])
    assert value(family, key, "gap") == 2 and order(family, key)[:2] == ["wall", "gap"]


def test_unused_and_doubled_values(table):
    family, key = table
    assert [p.name for p in tables.unused(family, key)] == ["outer", "turn"]
    family = edits.add_parameter(family, key, "sheet", "0.2 cm")
    family = edits.add_parameter(family, key, "mass", "2 g", "mass")
    ((a, b),) = tables.doubled(family)
    assert {a[1].name, b[1].name} == {"wall", "sheet"}


def test_preferred_numbers_are_those_of_iso_3():
    """ISO 3:1973, table 1; R10 and the deviation of every term from 10^(k/40), at most -1.01 % to +1.26 %."""
    assert SERIES["R5"] == (1.00, 1.60, 2.50, 4.00, 6.30)
    assert SERIES["R10"] == (1.00, 1.25, 1.60, 2.00, 2.50, 3.15, 4.00, 5.00, 6.30, 8.00)
    for k, t in enumerate(R40):
        assert -1.01 <= round(100 * (t / 10 ** (k / 40) - 1), 2) <= 1.26
    assert [term("R10", k) for k in (-10, -1, 0, 3, 13)] == [0.1, 0.8, 1.0, 2.0, 20.0]
    assert tables.series(16, None, "R20", 5) == [16, 18, 20, 22.4, 25]


@pytest.mark.parametrize("name", SERIES)
@given(k=st.integers(-60, 60))
def test_every_term_is_nearest_to_itself(name, k):
    assert nearest(name, term(name, k)) == k


def test_series_of_steps_and_ratios():
    assert tables.series(2, 5, "steps", 4) == [2, 5, 8, 11]
    assert tables.series(3, 6, "times", 4) == [3, 6, 12, 24]
    with pytest.raises(UserFault):
        tables.series(-1, None, "R5", 3)


# --- random edits against a plain evaluation ----------------------------------------------------------------

UNITS = {"mm": 1.0, "cm": 10.0, "in": 25.4}


def plain(session, key):
    """Every value by ordinary arithmetic: stored texts with names replaced, evaluated by Python itself."""
    document = session.family.documents[key]
    texts = {p.name: names.shown_text(session.family, document, p.common) for p in document.parameters}
    known = {}

    def work_out(name):
        if name not in known:
            text = texts[name]
            for unit, factor in UNITS.items():
                text = text.replace(f" {unit}", f"*{factor}")
            used = {n: work_out(n) for n in texts if n in set(text.replace("(", " ").replace(")", " ").split())}
            known[name] = eval(text, {"__builtins__": {}, "max": max}, used)
        return known[name]

    return {n: work_out(n) for n in texts}


@settings(max_examples=60)
@given(seed=st.integers(0, 10**9))
def test_tables_survive_random_edits_renames_moves_and_undo(seed, tmp_path_factory):
    """After each step all values equal a plain evaluation, and the graph kept from before equals one made anew."""
    draw = random.Random(seed)
    family = edits.new_family("Trial")
    family, key = edits.add_document(family, "table", "T")
    session = Session(folder.Stored(tmp_path_factory.getbasetemp(), family, {}), Evaluator(NoExecutor()))
    count = 0
    for _ in range(30):
        rows = list(session.family.documents[key].parameters)
        kind = draw.choice(("add", "set", "rename", "move", "delete", "undo", "redo"))
        try:
            if kind == "add" or not rows:
                count += 1
                text = _text(draw, rows)
                session.apply("add", lambda f, n=count, t=text: edits.add_parameter(f, key, f"v{n}", t))
            elif kind == "set":
                target = draw.choice(rows)
                text = _text(draw, rows)
                session.apply("set", lambda f, p=target, t=text: tables.type_cells(f, key, [Typed(p.id, "", t)]))
            elif kind == "rename":
                count += 1
                target = draw.choice(rows)
                cells = [Typed(target.id, "name", f"w{count}")]
                session.apply("rename", lambda f, c=cells: tables.type_cells(f, key, c))
            elif kind == "move":
                moved, before = draw.choice(rows).id, draw.choice(["", *(p.id for p in rows)])
                session.apply("move", lambda f, m=moved, b=before: tables.move_rows(f, key, [m], "" if b == m else b))
            elif kind == "delete":
                free = tables.unused(session.family, key)
                if free:
                    gone = draw.choice(free).id
                    session.apply("delete", lambda f, g=gone: tables.delete_rows(f, key, [g]))
            else:
                getattr(session, kind)()
        except UserFault as fault:
            assert "circle" in fault.sentence
        evaluation = session.evaluate()
        expected = plain(session, key)
        for p in session.family.documents[key].parameters:
            found = evaluation.value(Node("value", Scope(key, "default"), p.id))
            assert math.isclose(found, expected[p.name], rel_tol=1e-12, abs_tol=1e-9), p.name
        kept, anew = session.graph_now(), Graph(session.family)
        assert kept.reads == anew.reads
        assert {k: set(v) for k, v in kept.readers.items() if v} == {k: set(v) for k, v in anew.readers.items() if v}
    assert scopes.sizes(session.family)


def _text(draw, rows):
    literal = f"{draw.randrange(1, 400) / 8} {draw.choice(list(UNITS))}"
    if not rows or draw.random() < 0.4:
        return literal
    a, b = draw.choice(rows).name, draw.choice(rows).name
    return draw.choice((f"{a} + {literal}", f"2 * {a} - {b} / 4", f"max( {a} , {b} ) + {literal}"))
