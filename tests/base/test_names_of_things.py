"""Identifiers that come back, the grammar of labels (docs/decisions/0002) and of places in sketches."""

import pytest

from architectonic.base.ids import replayed, seeded
from architectonic.base.labels import atoms, base, faces_around, kind_of, pair, plain
from architectonic.base.places import ORIGIN, curve_of, curves_of, point_of, point_on, taken_apart


def test_what_is_built_twice_the_same_way_has_the_same_ids():
    known = []
    first, second = replayed(known), replayed(known)
    one = [first() for _ in range(3)]
    assert [second() for _ in range(2)] == one[:2] and len(set(one)) == 3
    assert replayed(known)() == one[0] and known == one
    third = replayed(known)
    assert [third() for _ in range(4)][:3] == one and len(known) == 4  # fresh ones go on from there


def test_seeded_ids_are_the_same_for_the_same_seed_only():
    a, b, c = seeded(1), seeded(1), seeded(2)
    assert [a() for _ in range(5)] == [b() for _ in range(5)] != [c() for _ in range(5)]


@pytest.mark.parametrize(
    ("label", "kind"),
    [
        ("o1:end", "face"),
        ("o3:blend:(o1:side:c9|o1:end)", "face"),
        ("(o1:side:c9|o1:end)", "edge"),
        ("(o1:side:c9|o3:blend:(o1:side:c9|o1:end))@(o2:side:c1)", "edge"),
        ("((o1:a|o1:b)|(o1:b|o1:c)|(o1:a|o1:c))", "vertex"),
    ],
)
def test_what_a_label_names(label, kind):
    assert kind_of(label) == kind


def test_the_faces_around_a_vertex_whatever_pieces_they_are_in():
    whole = "((o1:a|o1:b)|(o1:b|o1:c)|(o1:a|o1:c))"
    split = "((o1:a#(o2:x)|o1:b)@(o1:c)|(o1:b|o1:c)|(o1:a#(o2:x)|o1:c))#2"
    assert faces_around(whole) == {"o1:a", "o1:b", "o1:c"} == faces_around(split)


def test_pairs_pieces_and_atoms():
    blend = "o3:blend:(o1:side:c9|o1:end)"
    assert pair(f"({blend}|o1:start)@(o1:x)") == {blend, "o1:start"} and pair("o1:end") == {"o1:end"}
    assert base("o1:side:c9#(o2:side:c4)2") == "o1:side:c9" and base(f"{blend}#1") == blend
    assert plain("o3:blend:(o1:side:c9#(o2:x)|o1:end)") == blend
    assert atoms(f"{blend}#(o2:side:c4)") == {"o3:blend", "o1:side:c9", "o1:end", "o2:side:c4"}


def test_places_are_put_together_and_taken_apart_alike():
    for curve, point in (("c1", "start"), ("c1", ""), ("c1_2", "p3")):
        at = point_on(curve, point)
        assert taken_apart(at) == (curve_of(at), point_of(at)) == (curve, point)
    assert point_of(ORIGIN) == "" and curve_of(ORIGIN) == ORIGIN
    assert curves_of([point_on("c1", "start"), "c1", point_on("c2", "end")]) == {"c1", "c2"}
