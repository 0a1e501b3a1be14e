"""What an impact calls unchanged is unchanged: checked against evaluations from scratch and the shapes themselves."""

import random

import numpy as np
import pytest
from tests.support.random_edits import random_edit

from architectonic.base.errors import UserFault
from architectonic.base.rigid import IDENTITY
from architectonic.check.impact import impact
from architectonic.describe.assembly.plans import PlacedBody
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import Datum, OffsetPlane, Point
from architectonic.family.scopes import InPlace
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.targets import all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.session.open.whatif import with_values

pytestmark = [pytest.mark.kernel, pytest.mark.no_cover]


def scratch(engine, family):
    """Everything, looked at as if for the first time; what the kernel made of the same before is not made again, as the same
    key gives the same result (tests/propagate/test_incremental.py)."""
    return evaluate_scopes(Evaluator(engine.pool, engine.evaluator.cache), family, all_scopes(family))


def touched(found):
    return {e["document"] for e in found["changed"]}


def test_a_hole_that_moves_changes_its_part_although_no_figure_does(engine):
    """The first case that lied: volume, area, box and mass stay, the hole stands elsewhere."""
    import architectonic as a

    with a.new("F") as family:
        part = family.part("Plate")
        outline = part.sketch("Outline")
        outline.rectangle("80 mm", "50 mm", centred=True)
        part.extrude(make="Plate", regions=outline.region(), far="5 mm")
        part.parameter("across", "10 mm")
        hole = part.sketch("Hole")
        hole.circle(("across", 0.0), diameter="6 mm")
        part.extrude(cut="Plate", regions=hole.region(), far="through", name="Drill")
        light = family.assembly("Light")
        light.place("Plate")
        family.part("Other")
        found = family.impact({"Plate.across": "25 mm"})
        assert touched(found) == {"Plate", "Light"} and "Other" in found["unchanged"]
        told = {(e["document"], e["quantity"]) for e in found["changed"]}
        assert {
            ("Plate", "across"),
            ("Plate", "Hole: curves"),
            ("Plate", "Plate: shape"),
            ("Light", "Plate: shape"),
        } <= told


def test_a_datum_and_an_arm_that_turns_leave_nothing_unchanged_that_moves(engine, demo):
    layout = edits.find_document(demo, "Elevation")
    plane = next(o for o in layout.build if o.name == "Shoulder")
    loose = edits.add_operation(
        demo,
        layout.id,
        Datum(id="loose", name="Loose", by=OffsetPlane(plane=plane.by.plane, distance=plane.by.distance)),
    )
    moved = edits.replace_operation(
        loose, layout.id, edits.replace(edits.operation(loose, layout.id, "loose"), by=edits.replace(plane.by, distance=with_mm("15 mm")))
    )  # fmt: skip
    before = scratch(engine, loose)
    found = impact(before, scratch(engine, moved))
    assert touched(found) == {"Elevation"}
    assert {e["quantity"] for e in found["changed"]} == {"Loose: place"}
    turned = impact(before, scratch(engine, with_values(loose, ["Elevation.Side.arm_angle=35 deg"])))
    assert {"Head", "Light", "Bezel", "Diffuser", "Arm tube", "Cheek L"} <= touched(turned)
    assert {"Foot", "Stem", "Sizes", "Louvre"} <= set(turned["unchanged"])


def with_mm(text):
    from architectonic.family.records import Expression

    return Expression(text=text)


def shapes(evaluation, document):
    """Exact figures of every body that a document shows, with its centre and inertia, which tell where it is and how its
    material lies; where it stands; and the curves of every sketch. Facets are not compared: one shape has many."""
    family = evaluation.family
    found = {}
    for at in all_scopes(family, (document.id,)):
        placed = [b for p in evaluation.value(Node("assembly", at, "")) or () for b in p.bodies]
        state = evaluation.value(Node("finished", at, ""))
        own = [PlacedBody(InPlace((), at, b.id), IDENTITY, at, b.id) for b in state.bodies] if state is not None else []
        for one in (*own, *placed):
            body, stands = one.body, one.stands
            figures = evaluation.value(one.node("measure"))
            if figures is not None:
                numbers = [figures[k] for k in ("volume_mm3", "area_mm2", "centre_mm", "box_mm", "inertia_mm5")]
                found[at.configuration, body.path, body.body] = np.hstack([*numbers, stands])
        for node, outcome in evaluation.outcomes.items():
            if node.at == at and node.what == "solve" and outcome.value is not None:
                for key, curve in outcome.value.curves.items():
                    found[at.configuration, node.item, key] = np.array(curve.values)
    return found


@pytest.mark.parametrize("seed", range(2))
def test_whatever_is_edited_what_is_called_unchanged_stays_where_it_is(engine, demo, seed):
    """Random edits; of every document called unchanged all shapes and curves are the same."""
    draw, family, before = random.Random(seed), demo, scratch(engine, demo)
    judged = 0
    for _ in range(3):
        try:
            edited = moved(random_edit(family, draw), draw) if draw.random() < 0.6 else moved(family, draw)
        except UserFault:
            continue
        after = scratch(engine, edited)
        found = impact(before, after)
        for name in found["unchanged"]:
            document = edits.find_document(edited, name)
            if document.id not in family.documents:
                continue
            a, b = shapes(before, family.documents[document.id]), shapes(after, document)
            assert a.keys() == b.keys(), name
            assert all(a[k].shape == b[k].shape and np.allclose(a[k], b[k], rtol=1e-9, atol=1e-6) for k in a), name
            judged += len(a)
        family, before = edited, after
    assert judged


def moved(family, draw):
    """Move a point of a sketch that nothing holds, or switch something: figures often stay."""
    document = draw.choice([d for d in family.documents.values() if getattr(d, "build", ())])
    free = [o for o in document.build if isinstance(o, BodyOperation)]
    if free and draw.random() < 0.4:
        operation = draw.choice(free)
        return edits.set_switch(family, document.id, operation.id, draw.random() < 0.5)
    sketches = [o for o in document.build if o.kind == "sketch"]
    if not sketches:
        return family
    sketch = draw.choice(sketches)
    key = f"p{draw.randrange(10**6)}"
    place = (draw.uniform(-50, 50), draw.uniform(-50, 50))
    return edits.replace_operation(
        family, document.id, edits.replace(sketch, curves={**sketch.curves, key: Point(at=place)})
    )
