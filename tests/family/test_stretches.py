"""Stretches of a build list: headings that neighbours share, kept sensible by every move."""

import pytest

from architectonic.base.errors import UserFault
from architectonic.family import edits, stretches
from architectonic.family.records import Datum, OffsetPlane, Reference
from architectonic.family.references import Expression


@pytest.fixture
def list_of_five():
    family = edits.new_family("Trial")
    family, key = edits.add_document(family, "part", "Part")
    for name in "abcde":
        by = OffsetPlane(plane=Reference(item="top"), distance=Expression(text="1 mm"))
        family = edits.add_operation(family, key, Datum(id=name, name=name, by=by))
    return family, key


def headed(family, key, first, last, name):
    document = edits.model(family, key)
    return edits.put(family, edits.replace(document, build=stretches.headed(document.build, first, last, name)))


def told(family, key):
    build = edits.model(family, key).build
    return [(s.name, "".join(o.id for o in build[s.first : s.last + 1])) for s in stretches.stretches(build)]


def test_a_heading_is_shared_by_neighbours_and_taken_away(list_of_five):
    family, key = list_of_five
    family = headed(family, key, "b", "d", "  Middle  part ")
    assert told(family, key) == [("Middle part", "bcd")]
    assert told(headed(family, key, "c", "e", "Tail"), key) == [("Middle part", "b"), ("Tail", "cde")]
    assert told(headed(family, key, "b", "d", ""), key) == []
    assert told(headed(family, key, "d", "e", "Middle part"), key) == [("Middle part", "bcde")]


def test_wrong_ends_and_doubled_names_are_refused(list_of_five):
    family, key = list_of_five
    with pytest.raises(UserFault, match="earlier"):
        headed(family, key, "d", "b", "Middle")
    with pytest.raises(UserFault, match="another stretch"):
        headed(headed(family, key, "a", "b", "Start"), key, "d", "e", "Start")


def test_what_is_moved_or_put_in_belongs_where_it_lies(list_of_five):
    family, key = list_of_five
    family = headed(family, key, "b", "d", "Middle")
    assert told(edits.move_operations(family, key, ("a",), "c"), key) == [("Middle", "bacd")]
    assert told(edits.move_operations(family, key, ("c",)), key) == [("Middle", "bd")]  # out of it: under no heading
    assert told(edits.move_operations(family, key, ("b",), "d"), key) == [("Middle", "cbd")]
    assert told(edits.move_operations(family, key, ("b", "c", "d"), "a"), key) == [("Middle", "bcd")]
    by = edits.operation(family, key, "a").by
    added = edits.add_operation(family, key, Datum(id="f", name="f", by=by), "c")
    assert told(added, key) == [("Middle", "bfcd")]
    assert told(edits.add_operation(family, key, Datum(id="f", name="f", by=by), "b"), key) == [("Middle", "bcd")]
