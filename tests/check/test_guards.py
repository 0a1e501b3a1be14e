"""Rules say both sides; guards keep values and bodies as they were recorded."""

import pytest
from tests.support.fakes import FakeExecutor

from architectonic.base.errors import UserFault
from architectonic.check.attention import attention, rules
from architectonic.check.impact import impact
from architectonic.check.report import rule_entries
from architectonic.family import edits, names
from architectonic.family.records import SELF, Guard
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.targets import all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.session.open.whatif import with_values
from architectonic.session.tables import checks


def evaluate(family, evaluator=None, document="Sizes"):
    """One document in all its sizes, and what it reads."""
    scopes = all_scopes(family, (edits.find_document(family, document).id,))
    return evaluate_scopes(evaluator or Evaluator(FakeExecutor()), family, scopes)


def table(demo):
    return edits.find_document(demo, "Sizes").id


def test_a_broken_rule_tells_both_sides_with_their_figures(demo):
    (item,) = [
        i for i in attention(evaluate(with_values(demo, ["Sizes.reach@M=500 mm"]))) if i.severity == "out of rule"
    ]
    assert "reach is 500 mm" in item.what and "2.2 * foot_d is 330 mm" in item.what


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("wall + sheet >= 5 mm", "wall + sheet is 4.4 mm, 5 mm)"),
        ("wall ≥ 3 mm", "wall is 2.4 mm, 3 mm)"),
        ("(wall) * 2 > (reach / 4)", "is 80 mm"),
        ("wall / sheet <= 1", "is 1.2, 1)"),
        ("wall < 1 mm or wall > 9 mm", "does not hold"),
    ],
)
def test_sides_of_many_comparisons(demo, text, told):
    family = edits.add_rule(demo, table(demo), "trial", text)
    found = [r for r in rule_entries(evaluate(family)) if r["name"] == "trial" and r["configuration"] == "M"]
    assert told in found[0]["message"] and found[0]["holds"] is False


def test_a_rule_that_reads_itself_in_a_circle_is_refused(demo):
    with pytest.raises(UserFault, match="not known"):
        edits.add_rule(demo, table(demo), "trial", "nothing_here > 2 mm")
    with pytest.raises(UserFault, match="a rule is a comparison"):
        edits.add_rule(demo, table(demo), "trial", "wall + 2 mm")
    with pytest.raises(UserFault, match="another rule"):
        edits.add_rule(demo, table(demo), "Foot carries the reach", "wall > 1 mm")


def guarded(demo, within=""):
    key = table(demo)
    made = checks.value_guard(demo, key, "g1", "step stays", "tube_d + sheet")
    return checks.guard(demo, evaluate(demo), key, made, within), key


def test_a_guarded_value_is_recorded_in_every_size_and_told_when_it_moves(demo):
    family, key = guarded(demo)
    (guard,) = [g for g in family.documents[key].guards if g.id == "g1"]
    assert {len(v) for v in guard.recorded.values()} == {1} and len(guard.recorded) == 3
    before = evaluate(family)
    assert not attention(before)
    changed = with_values(family, ["Sizes.sheet@M=2.1 mm"])
    after = evaluate(changed)
    (item,) = attention(after)
    assert "was 18 mm and is 18.1 mm" in item.what and item.configurations == ("M",) and "record it anew" in item.mend
    found = impact(before, after)["rules"]
    assert found[0]["guard"] is True and found[0]["held"] is True and found[0]["holds"] is False
    anew = checks.guard(changed, after, key, guard)
    assert not attention(evaluate(anew))


def test_a_guard_has_room_and_a_new_size_must_be_recorded(demo):
    family, key = guarded(demo, "0.2 mm")
    assert not attention(evaluate(with_values(family, ["Sizes.sheet@M=2.1 mm"])))
    assert attention(evaluate(with_values(family, ["Sizes.sheet@M=2.5 mm"])))
    family, _ = edits.add_configuration(family, key, "XL")
    item = attention(evaluate(family))[0]
    assert item.configurations == ("XL",) and "nothing is recorded" in item.what


@pytest.mark.kernel
def test_a_guarded_body_is_named_when_its_figures_move(demo, engine):
    part = edits.find_document(demo, "Cheek L")
    (body,) = part.bodies
    now = evaluate(demo, engine.evaluator, part.name)
    made = checks.body_guard("g2", "Cheek stays", SELF, body, ("volume", "box", "centre"))
    family = checks.guard(demo, now, part.id, made)
    (guard,) = family.documents[part.id].guards
    assert {len(v) for v in guard.recorded.values()} == {10}  # 1 + 6 + 3 figures
    held = evaluate(with_values(family, ["Sizes.foot_h=17 mm"]), engine.evaluator, part.name)
    assert all(c.holds for _, r, c in rules(held) if isinstance(r, Guard) and r.id == "g2")
    moved = evaluate(with_values(family, ["Sizes.sheet=3 mm"]), engine.evaluator, part.name)
    assert any("Cheek stays" in i.where for i in attention(moved))


def test_a_guard_that_watches_nothing_is_refused(demo):
    with pytest.raises(UserFault, match="watches a value, or figures"):
        edits.put_guard(demo, table(demo), Guard(id="x", name="nothing"))


def test_what_typed_text_comes_to_here_and_now(demo):
    from architectonic.family import scopes
    from architectonic.quantities.units import LENGTH

    evaluation = evaluate(demo)
    for row, expected in zip(demo.head.sizes, (4.0, 4.8, 5.6), strict=True):
        at = scopes.scope(demo, table(demo), row.id)
        assert checks.come_to(demo, evaluation, at, "2 * wall", LENGTH) == expected
    assert checks.come_to_now(demo, table(demo), "wall at L") == 2.8
    with pytest.raises(UserFault):
        checks.come_to(demo, evaluation, at, "2 * nothing", LENGTH)
    assert names.identifier("a b") == "a_b"
