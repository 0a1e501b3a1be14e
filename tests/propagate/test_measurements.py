"""Measurements of picked things: exact figures against closed forms, and what may name them.

Formulas stand beside each check; analytic geometry of planes and lines in space (any textbook) for the rest.
"""

import math

import pytest
from tests.support.solids import Bench, close

from architectonic.base.errors import UserFault
from architectonic.check.impact import impact
from architectonic.check.report import report
from architectonic.describe.references.measurement import passing
from architectonic.describe.results import Node
from architectonic.family import edits, names
from architectonic.family.operations.solids.extrude import Distance, Extrude
from architectonic.family.records import Guard, Measurement, Reference
from architectonic.family.references import After
from architectonic.family.scopes import Scope
from architectonic.session.model import measuring
from architectonic.session.tables import checks

pytestmark = pytest.mark.kernel


@pytest.fixture
def bench(engine):
    return Bench(engine)


def outcome(bench, what, *of):
    node = Node("gauged", Scope(bench.key, "default"), "", passing(what, of))
    return bench.engine.evaluator.evaluate(bench.family, [node]).outcomes[node]


def figure(bench, what, *of):
    found = outcome(bench, what, *of)
    assert found.problem is None, found.problem
    return found.value.value


def finished(reference):
    return edits.replace(reference, stage="finished")


def test_figures_of_one_thing(bench):
    bench.store(Extrude(id="hole", name="Hole", does="cut", acts_on=("b1",), regions=(bench.circle("Bore", (30.0, 25.0), 6.0),),
                        far=Distance(value=bench.e("10 mm"))))  # fmt: skip
    wall = next(f for f in _faces(bench) if f.startswith("hole:side"))
    bore, top = Reference(item="b1", label=wall), finished(bench.face("end"))
    rim = Reference(item="b1", label="(" + "|".join(sorted((wall, f"{bench.made}:end"))) + ")")
    assert figure(bench, "radius", bore) == close(6)
    assert figure(bench, "radius", rim) == close(6)
    for of in (bore, rim):
        assert measuring.axis_words(outcome(bench, "radius", of).value.axis) == [
            ("Axis at", "x 30, y 25"),
            ("Axis along", "z"),
        ]
    assert figure(bench, "length", rim) == close(math.tau * 6)
    assert figure(bench, "area", bore) == close(math.tau * 6 * 10)
    assert figure(bench, "area", top) == close(80 * 50 - math.pi * 36)
    body = Reference(item="b1")
    assert figure(bench, "volume", body) == close(40000 - math.pi * 360)
    share = math.pi * 360  # the centre of what is left: (whole - hole) moments over volume
    assert figure(bench, "centre x", body) == close((40000 * 40 - share * 30) / (40000 - share))
    assert "no radius" in outcome(bench, "radius", top).problem.what
    assert "density" in outcome(bench, "mass", body).problem.what


def _faces(bench):
    evaluation = bench.settle()
    node = Node("mesh", Scope(bench.key, "default"), "b1")
    return bench.engine.evaluator.evaluate(evaluation.family, [node]).value(node)["faces"]


def test_between_two_things(bench):
    bottom, top = (finished(bench.face(r)) for r in ("start", "end"))
    assert figure(bench, "distance", bottom, top) == close(10)
    assert figure(bench, "apart", bottom, top) == close(10)
    assert figure(bench, "angle", bottom, top) == close(math.pi)  # their outward normals are opposite
    a, b = (finished(bench.upright(k)) for k in (0, 2))  # opposite corners of 80 x 50
    assert figure(bench, "distance", a, b) == close(math.hypot(80, 50))
    assert figure(bench, "apart", a, b) == close(math.hypot(80, 50))
    assert figure(bench, "angle", a, Reference(item="x")) == close(math.pi / 2)
    assert figure(bench, "angle", a, top) == close(math.pi / 2)
    lid = bench.plane("Lid", "42 mm")
    assert figure(bench, "apart", top, lid) == close(32) == figure(bench, "distance", top, lid)
    spot = Reference(item="origin")
    assert figure(bench, "distance", spot, lid) == close(42)
    assert "not parallel" in outcome(bench, "apart", top, Reference(item="front")).problem.what
    x, up = (
        Reference(item="x"),
        a,
    )  # skew lines: the common perpendicular of the x axis and an upright edge at y = 0 or 50
    assert figure(bench, "apart", x, finished(bench.upright(1))) in (close(0), close(50))
    assert up


def test_a_measurement_drives_a_value_and_a_rule_and_a_guard(bench):
    """A cover as thick as half the block's height, which is measured before it is made."""
    first = bench.family.documents[bench.key].build[-1].id
    of = tuple(edits.replace(bench.face(r), stage=After(after=first)) for r in ("start", "end"))
    bench.family = edits.put_measurement(
        bench.family, bench.key, Measurement(id="m1", name="tall", what="apart", of=of)
    )
    region = bench.box("Lid", "20 mm", "20 mm", at=(100, 0))
    bench.store(Extrude(id="c", name="Cover", does="make", acts_on=("b2",), regions=(region,), far=Distance(value=bench.e("tall / 2"))), "Cover")  # fmt: skip
    assert bench.volumes()["Cover"] == close(20 * 20 * 5)
    before = bench.settle()
    bench.family = edits.add_rule(bench.family, bench.key, "low", "tall <= 11 mm", "too tall")
    made = Guard(
        id="g", name="tall stays", value=names.bind(bench.family, bench.family.documents[bench.key], "tall", None)
    )
    bench.family = checks.guard(bench.family, bench.settle(), bench.key, made)
    block = edits.operation(bench.family, bench.key, first)
    changed = edits.replace(block, far=Distance(value=bench.e("14 mm")))
    bench.family = edits.replace_operation(bench.family, bench.key, changed)
    assert bench.volumes()["Cover"] == close(20 * 20 * 7)
    after = bench.settle()
    found = impact(before, after)
    assert {"quantity": "tall", "before": 10.0, "after": 14.0}.items() <= next(
        e for e in found["changed"] if e["quantity"] == "tall"
    ).items()
    assert [r["holds"] for r in report(after)["rules"]] == [False, False]
    assert report(after)["parameters"]["Part.tall"]["value"] == 14.0


def test_a_measurement_of_what_follows_from_it_is_refused(bench):
    of = (Reference(item="b1"),)
    family = edits.put_measurement(bench.family, bench.key, Measurement(id="m1", name="much", what="volume", of=of))
    block = family.documents[bench.key].build[-1]
    text = names.bind_quantity(family, family.documents[bench.key], "much / (1 mm * 1 mm)", "length", "mm")
    from architectonic.family.graph.static import refuse_circle

    with pytest.raises(UserFault, match="circle"):
        refuse_circle(edits.replace_operation(family, bench.key, edits.replace(block, far=Distance(value=text))))
    with pytest.raises(UserFault, match="another measurement"):
        edits.put_measurement(family, bench.key, Measurement(id="m2", name="much", what="area", of=of))
    with pytest.raises(UserFault, match="nothing"):
        edits.put_measurement(family, bench.key, Measurement(id="m2", name="more", what="area", of=()))
    with pytest.raises(UserFault, match="read off"):
        edits.set_value(family, bench.key, "m1", "3 mm")
    assert edits.rename_item(family, bench.key, "m1", "lots").documents[bench.key].measurements[0].name == "lots"
    assert edits.delete_item(family, bench.key, "m1").documents[bench.key].measurements == ()


def test_a_measurement_across_documents_takes_the_finished_body(bench):
    other = bench.part("Other")
    bench.block(other, "Second", height="25 mm", body="b9")
    of = (Reference(of=other, item="b9"),)
    assert figure(bench, "volume", *of) == close(80 * 50 * 25)
    assert figure(bench, "distance", Reference(of=other, item="b9", label=f"{other}Second:end"), finished(bench.face("end"))) == close(15)  # fmt: skip
    document = bench.family.documents[bench.key]
    record = Measurement(id="", name="", what="volume", of=of)
    assert measuring.of_words(bench.family, document, record) == "Second body"


def test_what_is_gone_is_told_where_it_was_measured(bench):
    of = (Reference(item="b1", label=f"{bench.made}:lid"),)
    bench.family = edits.put_measurement(bench.family, bench.key, Measurement(id="m1", name="lid", what="area", of=of))
    from architectonic.check.attention import attention

    told = attention(bench.settle())
    assert [(i.where, i.severity) for i in told] == [("Part / lid", "missing")]
