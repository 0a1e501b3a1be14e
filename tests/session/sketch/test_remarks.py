"""Hints, spans of one dimension, and dead points as the evaluation tells them."""

import pytest
from tests.support.pads import Pad

from architectonic.base.errors import UserFault
from architectonic.family.scopes import Scope
from architectonic.session.sketch.copies import Pattern, in_row
from architectonic.session.sketch.corners import round_corner
from architectonic.session.sketch.hints import hints
from architectonic.session.sketch.playing import STEPS, Span
from architectonic.session.sketch.snapping import Snapped, snap


@pytest.fixture
def pad():
    return Pad()


def remarks(pad):
    return " ".join(hints(pad.sketch, pad.solved))


def plate(pad, corner="origin"):
    sides = pad(lambda s: s.rectangle(Snapped((0, 0), corner), Snapped((60, 40))))
    for side, value in ((sides[0], "60 mm"), (sides[1], "40 mm")):
        pad(lambda s, k=side, v=value: s.constrain("distance", k, value=v))
    return sides


def test_an_empty_or_tied_sketch_gets_no_remark(pad):
    assert remarks(pad) == ""
    plate(pad)
    assert remarks(pad) == ""


def test_a_sketch_tied_to_nothing_says_so(pad):
    sides = plate(pad, "")
    assert "Nothing ties this sketch" in remarks(pad)
    pad(lambda s: s.constrain("coincident", f"{sides[0]}.start", "origin"))
    assert remarks(pad) == ""


def test_a_hole_in_the_middle_by_a_number_will_not_stay_there(pad):
    sides = plate(pad)
    hole = pad(lambda s: s.circle(Snapped((30, 20)), 5.0))
    key = pad(lambda s: s.constrain("distance", f"{hole}.centre", sides[3], value="30 mm"))
    assert "will not stay in the middle" in remarks(pad)
    pad(lambda s: s.release(key))
    pad(lambda s: s.constrain("distance", f"{hole}.centre", sides[3], value="22 mm"))
    assert remarks(pad) == ""


def test_rounds_and_copies_are_better_made_on_the_body(pad):
    sides = plate(pad)
    for k in range(4):
        pad(lambda s, k=k: round_corner(s, sides[k], sides[(k + 1) % 4], "4 mm"))
    assert "4 rounded corners" in remarks(pad)
    hole = pad(lambda s: s.circle(Snapped((10, 10)), 1.0))
    pad(lambda s: in_row(s, [hole], "x_axis", Pattern("13", "3 mm")))
    assert "12 copied curves" in remarks(pad)


def test_a_large_sketch_is_remarked(pad):
    def many(s):
        for k in range(61):
            s.point(Snapped((k, k % 7)))

    pad(many)
    assert "61 curves in one sketch" in remarks(pad)


def test_a_span_says_how_far_the_sketch_goes_along(pad):
    """A triangle of 60, 40 and a third side solves between 20 and 100 (triangle inequality)."""
    p = [(0.0, 0.0), (60.0, 0.0), (40.0, 34.0)]
    lines = []
    for k in range(3):
        a, b = (snap(pad.solved, q, 1e-3) for q in (p[k], p[(k + 1) % 3]))
        lines.append(pad(lambda s, a=a, b=b: s.line(a, b, infer=False)))
    for line, value in zip(lines, ("60 mm", "40 mm", "50 mm"), strict=True):
        pad(lambda s, k=line, v=value: s.constrain("distance", k, value=v))
    key = pad.sketch.constraints[-1].id
    family = pad.family
    span = Span(family, Scope(pad.key, "default"), "s", key, 10.0, 130.0)
    frames = [span.frame(k) for k in range(STEPS + 1)]
    assert [f.value for f in frames if f.solved is None] == [10.0, 15.0, *range(105, 131, 5)]
    told = span.report(frames)
    assert told.startswith("It solves from 20 to 100 mm; at 10 mm: these cannot all be true")
    assert span.moved(next(f for f in frames if f.solved), pad.solved)
    assert pad.family is family
    with pytest.raises(UserFault, match="smaller to a larger"):
        Span(family, Scope(pad.key, "default"), "s", key, 5.0, 5.0)


def test_a_dead_centre_is_told_by_the_evaluation(pad):
    crank = pad(lambda s: s.line(Snapped((0, 0), "origin"), Snapped((30, 0)), infer=False))
    rod = pad(lambda s: s.line(Snapped((30, 0), f"{crank}.end"), Snapped((70, 0)), infer=False))
    pad(lambda s: s.constrain("fix", f"{rod}.end"))
    pad(lambda s: s.drawing.constrain("distance", crank, value="30 mm"))
    pad(lambda s: s.drawing.constrain("distance", rod, value="40 mm"))
    assert set(pad.solved.dead) == {crank, rod} and pad.solved.freedoms == 1


def test_every_kind_of_constraint_has_words(pad):
    from typing import get_args

    from architectonic.describe.words.sentences import CONSTRAINTS, constraint, place_words
    from architectonic.family.records import ConstraintKind
    from architectonic.session.sketch.copies import mirror
    from architectonic.session.sketch.offsets import offset

    assert set(CONSTRAINTS) == set(get_args(ConstraintKind))
    sides = plate(pad)
    made = pad(lambda s: offset(s, list(sides), "5 mm", 1))
    own = pad.sketch.constraints[-1]
    document = pad.family.documents[pad.key]
    assert constraint(pad.family, document, pad.sketch, own, made[0]) == "offset 5 mm from line 1"
    assert constraint(pad.family, document, pad.sketch, own, sides[1]) == "offset 5 mm as line 6"
    curve = pad(lambda s: s.drawing.spline([(5, 5), (15, 12), (25, 4)]))
    pad(lambda s: mirror(s, [curve], "y_axis"))
    told = constraint(pad.family, document, pad.sketch, pad.sketch.constraints[-1], curve)
    assert told == "mirrored as curve 10, the y axis"
    assert place_words(pad.sketch, f"{curve}.p1") == "the point 1 of curve 9"
