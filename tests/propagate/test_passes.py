"""One pass over a family is asked for one thing after the other; what it answered before stays as it was."""

import pytest
from tests.support.fakes import FakeExecutor

from architectonic.base.cancel import Cancelled, CancelToken
from architectonic.family import edits
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.targets import all_scopes, of_scope
from architectonic.propagate.whole import asked, evaluate_scopes


def answers(evaluation):
    return {n: (o.value, o.problem) for n, o in evaluation.outcomes.items()}


def looked(evaluator, family, groups):
    """How many plans had run after each question of one pass, and the last answer."""
    run = evaluator.begin(family)
    found = [asked(run, group) for group in groups]
    return [f.work.looked_into for f in found], found


def test_asked_in_stages_or_at_once_it_is_the_same(demo):
    scopes = all_scopes(demo)
    stages, found = looked(Evaluator(FakeExecutor()), demo, [scopes[:1], scopes[:9], scopes])
    whole = evaluate_scopes(Evaluator(FakeExecutor()), demo, scopes)
    assert answers(found[-1]) == answers(whole)
    assert stages == sorted(stages) and stages[-1] == whole.work.looked_into


def test_what_was_asked_is_not_looked_into_again(demo):
    scopes = all_scopes(demo)
    stages, _ = looked(Evaluator(FakeExecutor()), demo, [scopes, scopes[:5], scopes])
    assert stages[0] == stages[1] == stages[2] > 0


def test_an_answer_stays_when_more_is_asked(demo):
    scopes = all_scopes(demo)
    run = Evaluator(FakeExecutor()).begin(demo)
    first = asked(run, scopes[:1], measured=False)
    known, cost = dict(first.outcomes), first.work.looked_into
    asked(run, scopes)
    assert first.outcomes == known and first.work.looked_into == cost
    assert set(of_scope(demo, scopes[0])) <= set(known)


def test_a_pass_after_an_edit_looks_only_into_what_the_edit_reaches(demo):
    evaluator, scopes = Evaluator(FakeExecutor()), all_scopes(demo)
    cold = evaluate_scopes(evaluator, demo, scopes)
    sizes = edits.find_document(demo, "Sizes")
    wall = next(p for p in sizes.parameters if p.name == "wall")
    changed = edits.set_value(demo, sizes.id, wall.id, "2.9 mm")
    stages, found = looked(evaluator, changed, [scopes[:4], scopes])
    assert stages[-1] < cold.work.looked_into / 2
    assert answers(found[-1]) == answers(evaluate_scopes(Evaluator(FakeExecutor()), changed, scopes))


def test_a_cancelled_pass_says_so_and_the_next_one_is_whole(demo):
    evaluator, scopes, token = Evaluator(FakeExecutor()), all_scopes(demo), CancelToken()
    run = evaluator.begin(demo, token)
    asked(run, scopes[:2])
    token.cancel()
    with pytest.raises(Cancelled):
        asked(run, scopes)
    whole = evaluate_scopes(Evaluator(FakeExecutor()), demo, scopes)
    assert answers(evaluate_scopes(evaluator, demo, scopes)) == answers(whole)


def rods(count=40):
    """A part with a length, what is computed from it, and rows, every fourth of which follows the one before."""
    family, key = edits.add_document(edits.new_family("Many"), "part", "Rod")
    family = edits.add_parameter(family, key, "length", "10 mm")
    family = edits.add_parameter(family, key, "half", "length / 2")
    for n in range(count):
        family, row = edits.add_configuration(family, key, f"Rod {n}")
        if n % 4 == 3:
            family = edits.set_parent(family, key, row, family.documents[key].configurations[-2].id)
    return family, key


def test_one_cell_of_a_range_costs_what_it_reaches():
    family, key = rods()
    length, rows = family.documents[key].parameters[0].id, family.documents[key].configurations
    evaluator = Evaluator(FakeExecutor())
    evaluate_scopes(evaluator, family, all_scopes(family))
    for row, reached in ((rows[0], 1), (rows[2], 2)):  # the second has a child
        family = edits.set_value(family, key, length, "31 mm", row.id)
        again = evaluate_scopes(evaluator, family, all_scopes(family))
        assert again.work.looked_into == 2 * reached
        assert answers(again) == answers(evaluate_scopes(Evaluator(FakeExecutor()), family, all_scopes(family)))


def test_what_nobody_asks_for_any_more_is_left_out_of_the_answer(demo):
    """Taken over from the last answer, it would be told of for ever."""
    evaluator, scopes = Evaluator(FakeExecutor()), all_scopes(demo)
    evaluate_scopes(evaluator, demo, scopes)
    part = edits.find_document(demo, "Light")
    fewer = [at for at in scopes if at.document != part.id]
    assert answers(evaluate_scopes(evaluator, demo, fewer)) == answers(
        evaluate_scopes(Evaluator(FakeExecutor()), demo, fewer)
    )
    assert answers(evaluate_scopes(evaluator, demo, scopes)) == answers(
        evaluate_scopes(Evaluator(FakeExecutor()), demo, scopes)
    )


def test_an_answer_is_what_it_was_after_the_next_pass():
    family, key = rods(4)
    evaluator, length = Evaluator(FakeExecutor()), family.documents[key].parameters[0].id
    first = evaluate_scopes(evaluator, family, all_scopes(family))
    known, reads = answers(first), first.reads
    evaluate_scopes(evaluator, edits.set_value(family, key, length, "31 mm"), all_scopes(family))
    assert answers(first) == known and first.reads == reads
