"""What would make a check hold, held against closed forms; and the place it is about, against plane geometry."""

import math

import numpy as np
import pytest

import architectonic as a
from architectonic.base.cancel import Cancelled, CancelToken, Watch
from architectonic.session.model import surveying
from architectonic.session.open.queries import ask
from architectonic.session.ranges.matrix import Matrix
from architectonic.session.ranges.mends import mends
from architectonic.session.ranges.places import sight, through

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Mended", sizes=("S", "L"), store=store) as opened:
        yield opened


def matrix_of(part, names=None):
    evaluation = part.opened.evaluate(names or (part.name,))
    return Matrix(part.opened.family, evaluation, part.id)


def cell_of(matrix, row, name):
    return (
        next(k for k, r in enumerate(matrix.rows) if r.name == row),
        next(k for k, c in enumerate(matrix.columns) if name in c.ask.name),
    )


def test_a_value_is_brought_to_where_the_rule_holds_in_its_row_alone(family):
    table = family.table("Sizes")
    table.parameter("wide", "40 mm", L="60 mm")
    table.parameter("margin", "3 mm")
    table.rule("fits", "2 * wide + margin <= 100 mm", "it does not fit")
    matrix = matrix_of(table)
    row, column = cell_of(matrix, "L", "fits")
    found = mends(family.family, matrix, row, column)
    # 2 * wide + 3 <= 100: 48.5, from 60 in steps of 5 outward 45
    assert [c.mend.words for c in found] == [
        "Set Sizes.wide of L to 45 mm, 60 mm now",
        "Ask for at most 123 mm instead of 100 mm, in every row",
    ]
    assert found[0].told == "It holds then: 93 mm. No other cell here stops holding."
    assert [(n, c.figure) for n, c in found[0].along] == [("S", 83.0), ("L", 93.0)]
    family.edit(found[0].mend.label, found[0].mend.edit)
    assert [c.figure for _, c in matrix_of(table).along(column)] == [83.0, 93.0]
    assert not mends(family.family, matrix_of(table), row, column)


def test_what_a_mend_breaks_elsewhere_is_told_before(family):
    table = family.table("Sizes")
    table.parameter("wide", "60 mm")
    table.rule("fits", "2 * wide <= 100 mm", "it does not fit")
    table.rule("carries", "wide >= 55 mm", "too narrow")
    matrix = matrix_of(table)
    wide, limit = mends(family.family, matrix, *cell_of(matrix, "S", "fits"))
    assert wide.mend.words == "Set Sizes.wide of S to 50 mm, 60 mm now"
    assert wide.told == "It holds then, near its limit: 100 mm. No longer: S, carries."
    assert limit.told == "It holds then, near its limit: 120 mm. 1 more cell holds. No other cell here stops holding."


def test_formulas_are_followed_to_values_and_a_limit_that_is_a_value_is_one_too(family):
    table = family.table("Sizes")
    table.parameter("side", "20 mm")
    table.parameter("half", "side / 2")
    table.parameter("least", "12 mm")
    table.rule("deep enough", "half >= least")
    matrix = matrix_of(table)
    found = mends(family.family, matrix, *cell_of(matrix, "S", "deep"))
    words = [c.mend.words for c in found]
    assert words == ["Ask for 10 mm in S: Sizes.least, 12 mm now", "Set Sizes.side of S to 24 mm, 20 mm now"]


def test_a_guard_is_recorded_anew_or_its_value_brought_back(family):
    table = family.table("Sizes")
    table.parameter("pin", "6 mm")
    table.guard("pin stays", "pin", "0.01 mm")
    family.set("Sizes.pin", "6.5 mm")
    matrix = matrix_of(table)
    back, anew = mends(family.family, matrix, *cell_of(matrix, "S", "pin stays"))
    assert back.mend.words == "Set Sizes.pin of S to 6 mm, 6.5 mm now"
    assert anew.mend.words == "Record “pin stays” anew, in every row"
    family.edit(anew.mend.label, anew.mend.edit)
    assert {c.state for _, c in matrix_of(table).along(0)} == {"holds"}


def test_what_holds_has_no_mends_and_looking_can_be_cancelled(family):
    table = family.table("Sizes")
    table.parameter("wide", "40 mm")
    table.rule("fits", "wide <= 100 mm")
    table.rule("fits just", "wide <= 41 mm")
    table.rule("fits not", "wide ≥ 100 mm", "11 mm or 100 mm")
    matrix = matrix_of(table)
    assert matrix.cell(*cell_of(matrix, "S", "fits just")).state == "near"
    for name in ("fits", "fits just"):
        assert not mends(family.family, matrix, *cell_of(matrix, "S", name))
    (less,) = mends(family.family, matrix, *cell_of(matrix, "S", "fits not"))
    assert less.mend.words == "Ask for at least 40 mm instead of 100 mm, in every row"
    rule = less.mend.edit(family.family).documents[table.id].rules[-1]
    assert rule.message == "11 mm or 40 mm"
    token = CancelToken()
    token.cancel()
    with pytest.raises(Cancelled):
        mends(family.family, matrix, *cell_of(matrix, "S", "fits not"), Watch(token))


@pytest.fixture
def case(family):
    """A box with walls of 4, rounded with 9 on the outside only: at its corners 4 sqrt 2 - 9 (sqrt 2 - 1) are left."""
    part = family.part("Case")
    part.parameter("thick", "4 mm")
    outline = part.sketch("Outline")
    outline.rectangle("120 mm", "80 mm", at=(-60, -40))
    part.extrude(make="Case", regions=outline.region(), far="25 mm", name="Block")
    part.shell(bodies="Case", thickness="thick", faces=part.operation("Block").face("end"), name="Hollow")
    uprights = list(part.body("Case").edges(kind="line", direction="z", convex="convex"))
    part.fillet(edges=uprights, radius="9 mm", name="Round")
    found = surveying.survey(family.family, part.at, "wall", [part.body("Case").id], None)
    family.edit("rule", lambda f: surveying.as_rule(f, found, "thinnest", "3 mm"))
    return part


ACROSS = 4 * math.sqrt(2) - 9 * (math.sqrt(2) - 1)


def test_a_thin_corner_is_rounded_inside_too_or_less_outside(case, family):
    matrix = matrix_of(case)
    row, column = cell_of(matrix, "S", "Wall")
    assert matrix.cell(row, column).figure == pytest.approx(ACROSS, abs=0.02)
    inside, *others = mends(family.family, matrix, row, column)
    assert inside.mend.words == "Round the inside too: 9 mm - 4 mm"
    assert [c.figure for _, c in inside.along] == pytest.approx([4.0, 4.0], abs=0.01)
    assert inside.told.startswith("It holds then") and "1 more cell holds" in inside.told
    assert others  # the limit at least
    family.edit(inside.mend.label, inside.mend.edit)
    assert case.survey("wall")[0][1].value == pytest.approx(4.0, abs=0.01)


class Known:
    """An evaluation with what it is asked for beside."""

    def __init__(self, part):
        self.part, self.family = part, part.opened.family

    def value(self, node):
        return ask(self.family, [node]).value(node)


def test_the_place_is_cut_open_where_the_wall_is_thinnest(case):
    matrix = matrix_of(case)
    seen = sight(Known(case), matrix.cell(*cell_of(matrix, "S", "Wall")))
    assert seen.what == "wall" and seen.limit == 3.0 and set(seen.colours) == {0}
    assert len(seen.places) >= 4 and seen.places[0].told.startswith("1.9")
    place = seen.places[0]
    # the plane goes through the place, upright, along the diagonal of the corner
    assert abs(place.cut.heights(np.array([place.at]))[0]) < 1e-9
    assert abs(place.cut.normal[2]) < 1e-9
    diagonal = np.array([math.copysign(1, place.at[0]), math.copysign(1, place.at[1]), 0]) / math.sqrt(2)
    assert abs(place.cut.normal @ diagonal) < 0.35  # the normal of the facet that is met, not quite the middle one
    assert sight(Known(case), matrix.cell(*cell_of(matrix, "S", "Builds"))) is None


def test_a_level_face_is_cut_towards_the_middle():
    points = np.array([[0.0, 0.0, 0.0], [10.0, 10.0, 2.0]])
    plane = through((8.0, 5.0, 2.0), np.array([0.0, 0.0, 1.0]), points)
    assert np.allclose(np.abs(plane.normal), [0, 1, 0]) and plane.normal[1] < 0  # seen from the front
