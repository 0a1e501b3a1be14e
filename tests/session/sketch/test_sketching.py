"""Drawing as a person does: snaps, inference, refusals, deletion, dragging."""

import math

import pytest
from tests.support.pads import pulled

from architectonic.base.errors import UserFault
from architectonic.describe.drawn.readings import measured
from architectonic.describe.results import Node
from architectonic.family import edits, scopes
from architectonic.family.scopes import Scope
from architectonic.propagate.targets import of_scope
from architectonic.session.open.policy import allowed
from architectonic.session.sketch.holding import motions, next_hold, turn_over
from architectonic.session.sketch.sketching import fitting
from architectonic.session.sketch.snapping import Snapped


def test_a_chain_snaps_to_ends_and_origin_and_infers_directions(pad):
    first = pad(lambda s: s.line(pad.snapped(0.2, -0.3), Snapped((40.0, 0.5))))
    second = pad(lambda s: s.line(pad.snapped(39.8, 0.1), Snapped((40.4, 25.0))))
    pad(lambda s: s.line(pad.snapped(40.3, 25.2), pad.snapped(0.1, 0.1)))
    kinds = sorted(c.kind for c in pad.sketch.constraints)
    assert kinds == ["coincident", "coincident", "coincident", "coincident", "horizontal", "vertical"]
    assert pad.solved.curves[first].values == pytest.approx((0, 0, 40, 0), abs=0.5) and pad.solved.freedoms == 2
    assert pad.solved.curves[first].values[3] == 0.0
    assert len(pad.solved.regions) == 1
    pad(lambda s: s.constrain("distance", first, value="30 mm", name="w"))
    pad(lambda s: s.constrain("distance", second, value="w / 2"))
    assert pad.solved.freedoms == 0 and pad.solved.regions[0].area == pytest.approx(30 * 15 / 2)


def test_inference_can_be_held_off(pad):
    pad(lambda s: s.line(Snapped((0.0, 0.0)), Snapped((40.0, 0.5)), infer=False))
    assert pad.sketch.constraints == ()


def test_what_is_decided_already_is_refused_with_what_decides_it(pad):
    sides = pad(lambda s: s.rectangle(Snapped((0.0, 0.0), "origin"), Snapped((40.0, 20.0))))
    pad(lambda s: s.constrain("distance", sides[0], value="40 mm", name="width"))
    before = pad.sketch
    with pytest.raises(UserFault, match=r"decided already by: .*width"):
        pad(lambda s: s.constrain("distance", sides[2], value="55 mm"))
    with pytest.raises(UserFault, match="decided already"):
        pad(lambda s: s.constrain("perpendicular", sides[0], sides[1]))
    assert pad.sketch is before
    pad(lambda s: s.constrain("distance", sides[1], value="20 mm"))
    assert pad.solved.freedoms == 0


@pytest.mark.parametrize(
    "draw",
    [
        lambda s: s.line(Snapped((1.0, 1.0)), Snapped((1.0, 1.0))),
        lambda s: s.circle(Snapped((1.0, 1.0)), 0.0),
        lambda s: s.rectangle(Snapped((1.0, 1.0)), Snapped((1.0, 9.0))),
        lambda s: s.delete("nothing"),
    ],
)
def test_nothing_degenerate_is_drawn(pad, draw):
    with pytest.raises(UserFault):
        pad(draw)
    assert pad.sketch.curves == {}


def test_deleting_a_curve_takes_its_constraints_and_no_others(pad):
    sides = pad(lambda s: s.rectangle(Snapped((0.0, 0.0), "origin"), Snapped((40.0, 20.0))))
    pad(lambda s: s.delete(sides[2]))
    assert set(pad.sketch.curves) == set(sides) - {sides[2]}
    assert all(sides[2] not in p for c in pad.sketch.constraints for p in c.of)
    assert pad.solved.regions == () and len(pad.sketch.constraints) == 6


def test_dragging_moves_what_is_free_and_keeps_what_holds(pad):
    """A crank of 30 mm about the origin: wherever it is pulled, its end stays on the circle, nearest the pointer."""
    crank = pad(lambda s: s.line(Snapped((0.0, 0.0), "origin"), Snapped((20.0, 22.0))))
    pad(lambda s: s.constrain("distance", crank, value="30 mm"))
    for to in ((40.0, 0.0), (10.0, -50.0), (-25.0, -3.0)):
        pulled(pad, f"{crank}.end", to)
        x, y = pad.solved.curves[crank].values[2:]
        assert math.hypot(x, y) == pytest.approx(30, abs=1e-9)
        assert math.atan2(y, x) == pytest.approx(math.atan2(to[1], to[0]), abs=0.05)


def test_dragging_what_is_held_moves_nothing(pad):
    sides = pad(lambda s: s.rectangle(Snapped((0.0, 0.0), "origin"), Snapped((40.0, 20.0))))
    pad(lambda s: s.constrain("distance", sides[0], value="40 mm"))
    pad(lambda s: s.constrain("distance", sides[1], value="20 mm"))
    before = pad.solved
    pulled(pad, f"{sides[1]}.end", (70.0, 55.0))
    for key, curve in before.curves.items():
        assert pad.solved.curves[key].values == pytest.approx(curve.values, abs=1e-9)


def test_start_positions_are_written_by_drawing_only(pad):
    """A changed value leaves them as they are; the next drawn curve takes the solution as its start."""
    line = pad(lambda s: s.line(Snapped((0.0, 0.0), "origin"), Snapped((40.0, 0.0))))
    key = pad(lambda s: s.constrain("distance", line, value="50 mm"))
    stored = pad.sketch.curves[line]
    pad.family = edits.set_value(pad.family, pad.key, key, "80 mm")
    assert pad.sketch.curves[line] == stored
    assert pad.solved.curves[line].values[2] == pytest.approx(80)
    pad(lambda s: s.circle(Snapped((10.0, 10.0)), 3.0))
    assert pad.sketch.curves[line].end == pytest.approx((80, 0))


@pytest.mark.parametrize(
    ("kinds", "fits", "not_fits"),
    [
        (("line",), {"horizontal", "vertical", "distance"}, {"parallel", "radius", "coincident"}),
        (
            ("line", "line"),
            {"parallel", "perpendicular", "equal", "angle", "horizontal", "collinear", "distance"},
            {"tangent", "radius"},
        ),
        (("line", "circle"), {"tangent"}, {"equal", "angle"}),
        (("circle", "arc"), {"tangent", "equal"}, {"parallel"}),
        (("point", "point"), {"coincident", "distance", "horizontal_distance", "fix"}, {"on_curve"}),
        (("point", "line"), {"on_curve", "distance"}, {"coincident"}),
        ((), set(), {"fix", "horizontal"}),
    ],
)
def test_constraints_fit_what_is_chosen(kinds, fits, not_fits):
    found = set(fitting(kinds))
    assert fits <= found and not found & not_fits


def test_what_a_dimension_would_read(pad):
    """3-4-5 triangle; a point 2 from the x axis; half of it a radius."""
    line = pad(lambda s: s.line(Snapped((1, 2)), Snapped((4, 6))))
    ring = pad(lambda s: s.circle(Snapped((9, 2)), 1.5))
    solved = pad.solved
    assert measured(solved, "distance", [line]) == pytest.approx(5)
    assert measured(solved, "horizontal_distance", [line]) == pytest.approx(3)
    assert measured(solved, "vertical_distance", [f"{line}.start", f"{line}.end"]) == pytest.approx(4)
    assert measured(solved, "distance", [f"{ring}.centre", "x_axis"]) == pytest.approx(2)
    assert measured(solved, "radius", [ring]) == 1.5 and measured(solved, "diameter", [ring]) == 3
    assert measured(solved, "angle", [line, "x_axis"]) == pytest.approx(math.atan2(4, 3))


def test_an_arc_lands_on_its_radius_and_joins_what_it_snapped_to(pad):
    pad(lambda s: s.line(Snapped((0, 0)), Snapped((10, 0))))
    key = pad(lambda s: s.arc(Snapped((0, 0), "origin"), pad.snapped(10, 0), Snapped((0, 25))))
    arc = pad.solved.curves[key].values
    assert arc == pytest.approx((0, 0, 10, 0, 0, 10, 10))
    with pytest.raises(UserFault, match="two different ends"):
        pad(lambda s: s.arc(Snapped((0, 0)), Snapped((5, 0)), Snapped((9, 0))))


def test_a_conflict_is_refused_before_it_is_stored_but_a_broken_sketch_can_be_worked_on(pad):
    """Sides 30, 40 and 80 make no triangle."""
    keys = pad(
        lambda s: [
            s.line(Snapped(a), Snapped(b), infer=False)
            for a, b in (((0, 0), (30, 0)), ((30, 0), (0, 40)), ((0, 40), (0, 0)))
        ]
    )
    pad(lambda s: [s.try_constraint("coincident", f"{keys[i]}.end", f"{keys[(i + 1) % 3]}.start") for i in range(3)])
    for key, value in zip(keys, ("30 mm", "50 mm", "40 mm"), strict=True):
        last = pad(lambda s, k=key, v=value: s.constrain("distance", k, value=v))
    wrong = edits.set_value(pad.family, pad.key, last, "85 mm")
    with pytest.raises(UserFault, match="cannot all be true"):
        allowed(pad.family, wrong)
    still_wrong = edits.set_value(wrong, pad.key, last, "90 mm")
    assert allowed(wrong, still_wrong) is still_wrong
    right = edits.set_value(pad.family, pad.key, last, "45 mm")
    assert allowed(pad.family, right) is right


def test_a_constraint_whose_curve_became_another_kind_is_told(pad):
    line = pad(lambda s: s.line(Snapped((0, 0)), Snapped((10, 3))))
    pad(lambda s: s.constrain("horizontal_distance", f"{line}.start", f"{line}.end", value="12 mm"))
    from architectonic.family.records import Circle

    ring = edits.replace(pad.sketch, curves={line: Circle(centre=(0, 0), radius=4)})
    pad.family = edits.replace_operation(pad.family, pad.key, ring)
    outcome = pad.evaluate().outcomes[Node("solve", Scope(pad.key, "default"), "s")]
    assert outcome.problem.code == "sketch.misfit" and "something that is gone" in outcome.problem.what


def test_a_read_out_shows_what_it_measures_drives_nothing_and_can_be_turned_over(pad):
    """3-4-5: the hypotenuse is read; as a dimension it would say nothing new."""
    from architectonic.family import names

    base = pad(lambda s: s.line(Snapped((0, 0), "origin"), Snapped((30, 0))))
    pad(lambda s: s.constrain("distance", base, value="3 mm"))
    up = pad(lambda s: s.line(pad.snapped(3, 0), Snapped((3, 40))))
    pad(lambda s: s.constrain("distance", up, value="4 mm"))
    assert pad.solved.freedoms == 0
    told = pad(lambda s: s.decided("distance", f"{base}.start", f"{up}.end"))
    assert "line 1 length 3 mm" in told and "line 2 length 4 mm" in told
    key = pad(lambda s: s.read_out("distance", f"{base}.start", f"{up}.end", name="across"))
    read = Node("value", Scope(pad.key, "default"), key)

    def value():
        at = scopes.scope(pad.family, pad.key, "")
        return pad.evaluator.evaluate(pad.family, [*of_scope(pad.family, at), read]).value(read)

    assert value() == pytest.approx(5) and pad.solved.freedoms == 0
    pad.family = edits.add_parameter(pad.family, pad.key, "twice", "2 * S.across")
    twice = pad.family.documents[pad.key].parameters[-1]
    assert pad.evaluate().value(Node("value", Scope(pad.key, "default"), twice.id)) == pytest.approx(10)
    with pytest.raises(UserFault, match="decided already"):
        pad(lambda s: turn_over(s, key))
    side = next(c.id for c in pad.sketch.constraints if c.value is not None and c.of == (up,))
    pad(lambda s: turn_over(s, side))
    assert pad.solved.freedoms == 1
    pad(lambda s: turn_over(s, key))
    kept = next(c for c in pad.sketch.constraints if c.id == key)
    assert names.shown_text(pad.family, pad.family.documents[pad.key], kept.value) == "5 mm"
    assert pad.solved.freedoms == 0 and value() == pytest.approx(5)
    pad(lambda s: s.release(side))
    assert pad.solved.freedoms == 0


def test_a_read_out_that_drives_its_own_sketch_is_a_circle(pad):
    from architectonic.family.graph.static import refuse_circle

    base = pad(lambda s: s.line(Snapped((0, 0), "origin"), Snapped((30, 0))))
    pad(lambda s: s.read_out("distance", base, name="long"))
    other = pad(lambda s: s.line(Snapped((0, 9)), Snapped((30, 19)), infer=False))
    pad(lambda s: s.constrain("distance", other, value="long"))
    with pytest.raises(UserFault, match="circle"):
        refuse_circle(pad.family)


def test_how_points_can_still_move(pad):
    """A crank about the origin: its end slides square to it; a loose point moves freely; the pivot not at all."""
    crank = pad(lambda s: s.line(Snapped((0.0, 0.0), "origin"), Snapped((24.0, 7.0)), infer=False))
    pad(lambda s: s.constrain("distance", crank, value="25 mm"))
    loose = pad(lambda s: s.point(Snapped((50, 50))))
    found = pad(motions)
    (direction,) = found[f"{crank}.end"]
    assert abs(direction[0] * 24 + direction[1] * 7) < 1e-6 and math.hypot(*direction) == pytest.approx(1)
    assert len(found[loose]) == 2 and f"{crank}.start" not in found


def test_holding_the_rest_ends_with_a_held_sketch_that_did_not_move(pad):
    """Each proposal takes one freedom at what it reads now: freedoms fall to none and every point stays."""
    pad(lambda s: s.rectangle(Snapped((5.0, 5.0)), Snapped((40.0, 20.0))))
    ring = pad(lambda s: s.circle(Snapped((20.0, 12.0)), 4.0))
    pad(lambda s: s.line(pad.snapped(40, 20), Snapped((60, 31)), infer=False))
    before, left = pad.solved, pad.solved.freedoms
    while left:
        kind, of, reading = pad(next_hold)
        text = None if kind == "fix" else f"{reading} mm" if kind != "angle" else f"{math.degrees(reading)} deg"
        pad(lambda s, k=kind, o=of, t=text: s.constrain(k, *o, value=t))
        assert pad.solved.freedoms < left
        left = pad.solved.freedoms
    assert pad(next_hold) is None and pad(motions) == {}
    for key, curve in before.curves.items():
        assert pad.solved.curves[key].values == pytest.approx(curve.values, abs=1e-7)
    assert any(c.kind == "diameter" and c.of == (ring,) for c in pad.sketch.constraints)
