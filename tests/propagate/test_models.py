"""Whole models through the real kernel: stages, ends, failures that pass their input on, lost references."""

import math

import pytest
from tests.support.models import TOP, Model, problem, volume

from architectonic.check.attention import attention
from architectonic.describe.results import Node
from architectonic.family import edits, names
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.operations.solids.extrude import Distance, Extrude, Symmetric, ToFace
from architectonic.family.records import Body, Datum, Feed, OffsetPlane, Reference, Socket
from architectonic.family.references import After
from architectonic.family.scopes import Scope

pytestmark = pytest.mark.kernel


@pytest.fixture
def model():
    return Model()


def test_ends_distance_symmetric_and_up_to_a_face_with_offset(model, engine):
    """Closed form: 80 x 50 x 10 with a 20 x 10 pocket that stops 2 mm above the bottom, and a boss both ways."""
    part = model.part("Plate")
    block, _ = model.block(part)
    top = model.part("Other")
    assert top
    pocket, _, _ = model.rectangle(part, "Pocket outline", "20 mm", "10 mm", at=(30, 20))
    label = model.only_region(part, pocket)
    model.add(part, Datum(id="lid", name="Lid", by=OffsetPlane(plane=TOP, distance=model.text(part, "10 mm"))))
    face = Reference(item="b1", stage="here", label=f"{block}:start")
    model.add(part, Extrude(id="cut", name="Pocket", does="cut", acts_on=("b1",), regions=(Reference(item=pocket, label=label),),
                            far=ToFace(target=face, offset=model.text(part, "2 mm")), near=ToFace(target=Reference(item="lid")), flip=False))  # fmt: skip
    evaluation = model.evaluate(engine)
    assert (
        problem(evaluation, part, "cut").code == "extrude.length"
    )  # far lies before near: said, and the block passes on
    assert volume(evaluation, part) == pytest.approx(40000, rel=1e-9)
    cut = edits.operation(model.family, part, "cut")
    model.family = edits.replace_operation(
        model.family,
        part,
        edits.replace(cut, far=cut.near, near=ToFace(target=face, offset=model.text(part, "-2 mm"))),
    )
    assert volume(model.evaluate(engine), part) == pytest.approx(40000 - 20 * 10 * 8, rel=1e-9)
    cut = edits.operation(model.family, part, "cut")
    both = edits.replace(cut, does="add", far=Distance(value=model.text(part, "30 mm")), near=Symmetric())
    model.family = edits.replace_operation(model.family, part, both)
    assert volume(model.evaluate(engine), part) == pytest.approx(40000 + 20 * 10 * 20, rel=1e-9)


def test_a_fillet_stays_on_its_edge_in_every_size_and_after_a_cut_before_it(model, engine):
    part = model.part("Plate")
    model.parameter(part, "w", "80 mm")
    block, sides = model.block(part, w="w")
    edge = f"({block}:side:{min(sides[0], sides[1])}|{block}:side:{max(sides[0], sides[1])})"
    model.add(
        part,
        Fillet(
            id="round",
            name="Round",
            edges=(Reference(item="b1", stage="here", label=edge),),
            radius=model.text(part, "4 mm"),
        ),
    )
    lost = (1 - math.pi / 4) * 16 * 10
    for width in (80, 40, 160):
        w = model.family.documents[part].parameters[0]
        model.family = edits.set_value(model.family, part, w.id, f"{width} mm")
        assert volume(model.evaluate(engine), part) == pytest.approx(width * 50 * 10 - lost, rel=1e-9)
    notch, _, _ = model.rectangle(part, "Notch outline", "10 mm", "8 mm", at=(20, -2))
    label = model.only_region(part, notch)
    for operation in ("Notch outline",):
        model.family = edits.move_operations(model.family, part, (f"{part}{operation}",), "round")
    model.add(part, Extrude(id="notch", name="Notch", does="cut", acts_on=("b1",), regions=(Reference(item=notch, label=label),),
                            far=Distance(value=model.text(part, "10 mm"))), before="round")  # fmt: skip
    evaluation = model.evaluate(engine)
    assert problem(evaluation, part, "round") is None
    assert volume(evaluation, part) == pytest.approx(160 * 50 * 10 - lost - 10 * 6 * 10, rel=1e-9)


def test_a_failing_operation_passes_its_input_on_and_a_lost_edge_is_reported(model, engine):
    part = model.part("Plate")
    block, sides = model.block(part)
    good = f"({block}:side:{min(sides[0], sides[1])}|{block}:side:{max(sides[0], sides[1])})"
    model.add(
        part,
        Fillet(
            id="big",
            name="Too big",
            edges=(Reference(item="b1", stage="here", label=good),),
            radius=model.text(part, "90 mm"),
        ),
    )
    lost = f"({block}:side:{sides[0]}|gone:end)"
    model.add(
        part,
        Fillet(
            id="lost",
            name="Lost",
            edges=(Reference(item="b1", stage="here", label=lost),),
            radius=model.text(part, "1 mm"),
        ),
    )
    evaluation = model.evaluate(engine)
    assert volume(evaluation, part) == pytest.approx(40000, rel=1e-9)
    assert "still works" in problem(evaluation, part, "big").what
    found = problem(evaluation, part, "lost")
    assert found.severity == "missing" and any(sides[0] in c for c in found.candidates)
    told = attention(evaluation)
    assert [i.where for i in told] == ["Plate / Too big", "Plate / Lost"]
    state = evaluation.value(Node("state", Scope(part, "default"), "big"))
    assert (
        state.status == "failing"
        and state.bodies == evaluation.value(Node("state", Scope(part, "default"), block)).bodies
    )


def test_what_it_acts_on_is_explicit(model, engine):
    """A cut through two bodies in one place takes only from the one it names."""
    part = model.part("Stack")
    model.block(part, "Lower", body="b1")
    model.block(part, "Upper", w="60 mm", height="20 mm", body="b2")
    hole, _, _ = model.rectangle(part, "Hole outline", "5 mm", "4 mm", at=(10, 10))
    label = model.only_region(part, hole)
    model.add(part, Extrude(id="cut", name="Hole", does="cut", acts_on=("b2",), regions=(Reference(item=hole, label=label),),
                            far=Distance(value=model.text(part, "30 mm"))))  # fmt: skip
    evaluation = model.evaluate(engine)
    assert volume(evaluation, part, "b1") == pytest.approx(40000, rel=1e-9)
    assert volume(evaluation, part, "b2") == pytest.approx(60000 - 5 * 4 * 20, rel=1e-9)


def take_face(model, part, source, body, stage, label, height):
    """A block in `part` that ends on a face of another part."""
    socket = f"{part}socket"
    reference = Reference(of=source, item=body, stage=stage, label=label)
    model.family = edits.add_feed(
        model.family,
        part,
        f"{part}feed",
        Feed(name="Neighbour", sockets={socket: Socket(takes="face", source=reference)}),
    )
    sketch, _, _ = model.rectangle(part, "Riser outline", "5 mm", "5 mm", at=(1, 1))
    region = model.only_region(part, sketch)
    model.add(part, Extrude(id=f"{part}riser", name="Riser", does="add", acts_on=("b1",), regions=(Reference(item=sketch, label=region),),
                            far=ToFace(target=Reference(item=socket), offset=model.text(part, height))))  # fmt: skip


def test_two_parts_take_from_an_early_stage_of_each_other(model, engine):
    a, b = model.part("A"), model.part("B")
    block_a, _ = model.block(a, "First", height="10 mm")
    block_b, _ = model.block(b, "Second", height="20 mm")
    take_face(model, a, b, "b1", After(after=block_b), f"{block_b}:end", "5 mm")
    take_face(model, b, a, "b1", After(after=block_a), f"{block_a}:end", "15 mm")
    from architectonic.family.graph.static import refuse_circle

    refuse_circle(model.family)
    evaluation = model.evaluate(engine)
    assert attention(evaluation) == []
    assert volume(evaluation, a) == pytest.approx(40000 + 25 * 15, rel=1e-9)
    assert volume(evaluation, b) == pytest.approx(80000 + 25 * 5, rel=1e-9)


def test_a_true_circle_is_refused_and_one_from_a_file_is_told_with_its_path(model, engine):
    from architectonic.base.errors import UserFault
    from architectonic.family.graph.static import refuse_circle

    a, b = model.part("A"), model.part("B")
    block_a, _ = model.block(a, "First", height="10 mm")
    block_b, _ = model.block(b, "Second", height="20 mm")
    take_face(model, a, b, "b1", "finished", f"{block_b}:end", "5 mm")
    take_face(model, b, a, "b1", "finished", f"{block_a}:end", "15 mm")
    with pytest.raises(UserFault, match="→"):
        refuse_circle(model.family)
    told = attention(model.evaluate(engine))
    assert told and "→" in told[0].what and told[0].severity == "conflict"


def test_a_size_that_moves_a_neighbours_face_is_followed(model, engine):
    a, b = model.part("A"), model.part("B")
    model.block(a, "First", height="10 mm")
    model.parameter(b, "height", "20 mm")
    block_b, _ = model.block(b, "Second", height="height")
    take_face(model, a, b, "b1", "finished", f"{block_b}:end", "0 mm")
    assert volume(model.evaluate(engine), a) == pytest.approx(40000 + 25 * 10, rel=1e-9)
    parameter = model.family.documents[b].parameters[0]
    model.family = edits.set_value(model.family, b, parameter.id, "32 mm")
    assert volume(model.evaluate(engine), a) == pytest.approx(40000 + 25 * 22, rel=1e-9)


def test_a_deleted_source_is_missing_and_the_rest_still_builds(model, engine):
    a, b = model.part("A"), model.part("B")
    model.block(a, "First", height="10 mm")
    block_b, _ = model.block(b, "Second", height="20 mm")
    take_face(model, a, b, "b1", "finished", f"{block_b}:end", "0 mm")
    model.family = edits.delete_document(model.family, b)
    evaluation = model.evaluate(engine)
    assert volume(evaluation, a) == pytest.approx(40000, rel=1e-9)
    (item,) = attention(evaluation)
    assert item.severity == "missing" and "gone" in item.what and len(item.following) == 1


def test_an_operation_whose_sources_are_all_off_is_off_too(model, engine):
    part = model.part("Plate")
    block, _ = model.block(part)
    model.family = edits.set_switch(model.family, part, f"{part}Block outline", False)
    evaluation = model.evaluate(engine)
    state = evaluation.value(Node("state", Scope(part, "default"), block))
    assert state.status == "off" and "off" in state.reason and attention(evaluation) == []


@pytest.mark.parametrize(("height", "code"), [("0 mm", "extrude.length"), ("-5 mm", "extrude.negative")])
def test_zero_and_negative_lengths_fail_with_a_reason(model, engine, height, code):
    part = model.part("Plate")
    block, _ = model.block(part, height=height)
    found = problem(model.evaluate(engine), part, block)
    assert found.code == code and found.mend


def test_a_cut_that_misses_says_so(model, engine):
    part = model.part("Plate")
    model.block(part)
    far, _, _ = model.rectangle(part, "Far outline", "5 mm", "5 mm", at=(500, 500))
    label = model.only_region(part, far)
    model.add(part, Extrude(id="cut", name="Miss", does="cut", acts_on=("b1",), regions=(Reference(item=far, label=label),),
                            far=Distance(value=model.text(part, "5 mm"))))  # fmt: skip
    assert "nothing" in problem(model.evaluate(engine), part, "cut").what


def test_mass_follows_the_density_and_the_assembly_sums(model, engine):
    """Identity: 100 x 100 x 10 mm of steel at 7.85 g/cm3 weigh 785 g."""
    part = model.part("Slab")
    model.block(part, w="100 mm", h="100 mm")
    density = names.bind_quantity(model.family, model.family.documents[part], "7.85 g / 1 cm3", "density", "g/cm3")
    model.family = edits.add_body(model.family, part, "b1", Body(name="Slab", density=density))
    model.family, whole = edits.add_document(model.family, "assembly", "Stack")
    model.family = edits.add_instance(model.family, whole, part)
    model.family = edits.add_instance(model.family, whole, part, "Slab again")
    evaluation = model.evaluate(engine)
    assert evaluation.value(Node("mass", Scope(part, "default"), "b1")) == pytest.approx(785, rel=1e-9)
    extents = evaluation.value(Node("extents", Scope(whole, "default"), ""))
    assert extents.whole.mass == pytest.approx(1570, rel=1e-9)
    assert [e.mass for e in extents.of.values()] == pytest.approx([785, 785], rel=1e-9)
