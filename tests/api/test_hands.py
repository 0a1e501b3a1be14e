"""Opposite hands: what both share, what each has of its own, texts that read right, threads that keep their hand."""

import pytest

import architectonic as a
from architectonic.base.errors import UserFault
from architectonic.describe.models.operations import sentence
from architectonic.family import edits, hands

pytestmark = pytest.mark.kernel


@pytest.fixture
def family(store):
    with a.new("Handed", sizes=("S", "L"), store=store) as opened:
        yield opened


@pytest.fixture
def left(family):
    """A plate beside the plane *right*, with a text off its middle and a tapped hole."""
    part = family.part("Cheek L")
    outline = part.sketch("Outline")
    outline.rectangle("60 mm", "30 mm", at=(10, 0))
    part.extrude(make="Cheek", regions=outline.region(), far="8 mm", name="Block")
    part.tapped_hole(places=(top(part), "20 mm", "7 mm"), bodies="Cheek", size="M4", far="6 mm", name="Thread")
    part.engrave(text="Brindle", face=top(part), bodies="Cheek", depth="0.5 mm", height="5 mm", x="-8 mm", y="6 mm")
    return part


def top(part):
    x = 68 if part.name == "Cheek L" else -68
    return part.body("Cheek").face(kind="plane", normal="z", near=(x, 28, 8))


def test_the_other_hand_is_the_mirror_image(left):
    right = left.opposite_hand("Cheek R", "right")
    one, other = left.body("Cheek"), right.body("Cheek")
    assert other.volume == pytest.approx(one.volume, rel=1e-9)
    assert other.box[0] == pytest.approx(-70) and other.box[3] == pytest.approx(-10)
    said = sentence(right.opened.family, right.model, right.operation("Opposite hand").record)
    assert "keeping the hand of threads" in said and "and texts readable" in said


def drawn_by_hand(family, mirrored):
    """The right cheek as one would draw it, with the text as it is read, or as it is seen in a mirror."""
    part = family.part("By hand")
    outline = part.sketch("Outline")
    outline.rectangle("60 mm", "30 mm", at=(-70, 0))
    part.extrude(make="Cheek", regions=outline.region(), far="8 mm", name="Block")
    part.tapped_hole(places=(top(part), "-20 mm", "7 mm"), bodies="Cheek", size="M4", far="6 mm", name="Thread")
    part.engrave(
        text="Brindle",
        face=top(part),
        bodies="Cheek",
        depth="0.5 mm",
        height="5 mm",
        x="8 mm",
        y="6 mm",
        mirrored=mirrored,
    )
    return part.body("Cheek")


@pytest.mark.parametrize("readable", (True, False))
def test_its_text_reads_right_unless_told_otherwise(left, family, readable):
    right = left.opposite_hand("Cheek R", "right")
    mirror = right.operation("Opposite hand").record
    changed = edits.replace(mirror, by=edits.replace(mirror.by, readable=readable))
    family.edit("texts", lambda f: edits.replace_operation(f, right.id, changed))
    other, wanted = right.body("Cheek"), drawn_by_hand(family, not readable)
    assert other.volume == pytest.approx(wanted.volume, rel=1e-9)
    assert other.inertia == pytest.approx(wanted.inertia, rel=1e-9, abs=1e-3)
    assert ("and texts readable" in sentence(family.family, right.model, changed)) is readable


def test_threads_keep_their_hand_unless_told_otherwise(left):
    right = left.opposite_hand("Cheek R", "right")
    (row,) = right.holes()
    assert row.holes.hand == "right" and row.holes.thread.startswith("M4")


def test_what_comes_before_changes_both_and_what_comes_after_only_one(left, family):
    right = left.opposite_hand("Cheek R", "right")
    left.hole(places=(top(left), "60 mm", "7 mm"), bodies="Cheek", diameter="5 mm", far="through", name="Only left")
    one, other = left.body("Cheek").volume, right.body("Cheek").volume
    assert one < other
    right.hole(
        places=(top(right), "-60 mm", "7 mm"),
        bodies="Cheek",
        diameter="3 mm",
        far="through",
        name="Only right",
    )
    listed = left.what_differs(right)
    assert [(d.what, d.first, d.other) for d in listed if d.operation] == [
        ("Only left", "there", "—"),
        ("Only right", "—", "there"),
    ]
    assert any(d.what == "Volume" for d in listed)
    shared = hands.shared_with(family.family, left.id)
    names = {o.name for o in left.model.build if o.id in shared}
    assert names == {"Outline", "Block", "Mark", "Thread"}
    changed = family.impact(lambda f: a_deeper(f, left))
    assert "Cheek R" in str(changed)


def test_the_last_shared_row_may_go_and_the_division_moves_up(left, family):
    right = left.opposite_hand("Cheek R", "right")
    right.sketch("Spot").point((-60, 7))
    own = right.hole(places="Spot", bodies="Cheek", diameter="3 mm", far="through", flip=True, name="Only right")
    last = left.model.build[-1]
    assert last.id in hands.shared_with(family.family, left.id)
    left.operation(last.name).delete()
    assert right.operation("Opposite hand").problem is None and own.problem is None
    drilled = 3.14159265358979 * 1.5**2 * 8
    assert right.body("Cheek").volume == pytest.approx(left.body("Cheek").volume - drilled, rel=1e-9)
    shared = hands.shared_with(family.family, left.id)
    assert left.model.build[-1].id in shared
    family.undo()
    assert left.model.build[-1].id == last.id


def a_deeper(family, part):
    record = part.operation("Block").record
    far = edits.replace(record.far, value=edits.replace(record.far.value, text="9 mm"))
    return edits.replace_operation(family, part.id, edits.replace(record, far=far))


def test_a_fork_shares_nothing_and_is_the_same(left, family):
    right = left.opposite_hand("Cheek R", "right")
    right.hole(
        places=(top(right), "-60 mm", "7 mm"),
        bodies="Cheek",
        diameter="3 mm",
        far="through",
        name="Only right",
    )
    before = right.body("Cheek").volume, right.body("Cheek").centre
    right.fork_hand()
    assert hands.hands_of(family.family, right.id) == []
    assert right.operation("Only right").problem is None
    assert right.body("Cheek").volume == pytest.approx(before[0], rel=1e-9)
    assert right.body("Cheek").centre == pytest.approx(before[1], abs=1e-6)
    assert not right.model.feeds
    family.edit("deeper", lambda f: a_deeper(f, left))
    assert right.body("Cheek").volume == pytest.approx(before[0], rel=1e-9)
    with pytest.raises(UserFault, match="no opposite hand"):
        right.fork_hand()


def test_a_hand_up_to_an_earlier_row(left):
    right = left.opposite_hand("Blank R", "right", upto="Block")
    assert right.body("Cheek").volume == pytest.approx(60 * 30 * 8)


def test_bodies_of_one_part_may_be_hands_of_each_other(left):
    left.mirror(bodies="Cheek", plane="right", copies=True, name="Other hand")
    one, other = left.bodies
    assert other.volume == pytest.approx(one.volume, rel=1e-9)
    (row,) = left.holes()
    assert row.number == 2 and row.holes.hand == "right"


def test_threads_that_are_mirrored_are_left_handed(left, family):
    right = left.opposite_hand("Cheek R", "right")
    mirror = right.operation("Opposite hand").record
    changed = edits.replace(mirror, by=edits.replace(mirror.by, threads=False))
    family.edit("threads", lambda f: edits.replace_operation(f, right.id, changed))
    (row,) = right.holes()
    assert row.holes.hand == "left"


def test_it_needs_bodies(family):
    empty = family.part("Empty")
    with pytest.raises(UserFault, match="no bodies"):
        empty.opposite_hand("Other", "right")
