"""The journal: every session has its own, what a killed one left is offered, and nothing of it is lost or deleted unasked."""

import random
import subprocess
import sys

import pytest
from tests.support.random_edits import random_edit

from architectonic.base.errors import UserFault
from architectonic.exchange import folder
from architectonic.family import edits
from architectonic.family.merging import MergeClash, merged
from architectonic.session.open import journal, leftovers
from architectonic.session.open.session import Session
from architectonic.session.open.whatif import with_values


@pytest.fixture
def places(demo, tmp_path):
    Session.create(tmp_path / "family", demo, None, None)
    return tmp_path / "family", tmp_path / "state"


def opened(places):
    return Session.open(places[0], None, places[1])


def value(text):
    return lambda f: with_values(f, [text])


def wall(family):
    sizes = edits.find_document(family, "Sizes")
    return next(p for p in sizes.parameters if p.name == "wall").common.text


KILLED = """
import os, sys
from pathlib import Path
from architectonic.session.open.session import Session
from architectonic.session.open.whatif import with_values
session = Session.open(Path(sys.argv[1]), None, Path(sys.argv[2]))
for text in sys.argv[3:]:
    session.apply(text, lambda f: with_values(f, [text]))
os.kill(os.getpid(), 9)
"""


def kill_after(places, *texts):
    done = subprocess.run([sys.executable, "-c", KILLED, *map(str, places), *texts], check=False)
    assert done.returncode == -9


def test_what_killed_programs_left_is_offered_each_by_itself(places, demo):
    kill_after(places, "Sizes.wall=3 mm")
    kill_after(places, "Sizes.foot_d=101 mm", "Sizes.gap=0.5 mm")
    session = opened(places)
    found = leftovers.left(session)
    assert [k.documents for k in found] == [("Sizes",), ("Sizes",)]
    assert [k.label for k in found] == ["Sizes.gap=0.5 mm", "Sizes.wall=3 mm"] and found[0].folder == str(places[0])
    for one in found:
        made = leftovers.take(session, one)
        assert made.taken == ("Sizes",) and made.refused == ()
    assert session.family == with_values(demo, ["Sizes.wall=3 mm", "Sizes.foot_d=101 mm", "Sizes.gap=0.5 mm"])
    assert leftovers.left(session) == [] and session.unsaved
    assert session.undo() and session.undo() and session.family == demo


def test_the_edits_of_a_session_that_lives_are_its_own(places):
    first, second = opened(places), opened(places)
    first.apply("wall", value("Sizes.wall=3 mm"))
    assert leftovers.left(second) == [] and leftovers.left(opened(places)) == []
    second.apply("gap", value("Sizes.gap=0.5 mm"))
    second.undo()
    first.end()
    (found,) = leftovers.left(second)
    assert found.label == "wall"


def test_what_was_left_is_taken_by_one_window_only(places, demo, monkeypatch):
    """Also while that is still at it."""
    session = opened(places)
    session.apply("wall", value("Sizes.wall=3 mm"))
    session.end()
    first, second = opened(places), opened(places)
    (seen,), (seen_too,) = leftovers.left(first), leftovers.left(second)
    reading = journal.taken

    def meanwhile(*given):
        with pytest.raises(UserFault, match="another window is taking these edits just now"):
            leftovers.take(second, seen_too)
        with pytest.raises(UserFault, match="just now"):
            leftovers.put_aside(second, seen_too)
        return reading(*given)

    monkeypatch.setattr(journal, "taken", meanwhile)
    leftovers.take(first, seen)
    with pytest.raises(UserFault, match="another window has taken them"):
        leftovers.take(second, seen_too)
    assert first.family != demo and second.family == demo and leftovers.left(second) == []


def test_a_session_that_ends_leaves_what_was_not_saved_and_one_that_saved_nothing(places):
    session = opened(places)
    session.apply("wall", value("Sizes.wall=3 mm"))
    session.save()
    session.end()
    assert leftovers.left(opened(places)) == []
    session.apply("gap", value("Sizes.gap=0.5 mm"))
    session.end()
    again = opened(places)
    leftovers.take(again, leftovers.left(again)[0])
    again.save()
    assert leftovers.left(opened(places)) == [] and opened(places).family == again.family


def test_what_others_changed_elsewhere_meanwhile_stays(places, demo):
    """Another parameter of the same table, and another document: both are kept."""
    session = opened(places)
    session.apply("wall", value("Sizes.wall=3 mm"))
    session.end()
    other = opened(places)
    other.apply("gap", value("Sizes.gap=0.5 mm"))
    other.apply("part", lambda f: edits.add_document(f, "part", "Extra")[0])
    other.save()
    again = opened(places)
    made = leftovers.take(again, leftovers.left(again)[0])
    assert made.refused == () and leftovers.left(again) == []
    assert again.family == with_values(other.family, ["Sizes.wall=3 mm"])


def test_where_both_changed_the_same_theirs_stays_and_what_was_left_is_put_aside(places, tmp_path):
    session = opened(places)
    session.apply("wall", value("Sizes.wall=3 mm"))
    session.apply("rod", value("Arm_tube.wall=1.9 mm"))
    session.end()
    other = opened(places)
    other.apply("wall", value("Sizes.wall=4 mm"))
    other.save()
    again = opened(places)
    made = leftovers.take(again, leftovers.left(again)[0])
    assert made.taken == ("Arm tube",) and len(made.refused) == 1 and made.refused[0].startswith("Sizes / wall")
    assert wall(again.family) == "4 mm"
    (aside,) = (tmp_path / "state" / journal.ASIDE).iterdir()
    assert wall(folder.load(aside).family) == "3 mm"


def test_a_document_that_was_deleted_meanwhile_is_told_and_put_aside(places, tmp_path):
    session = opened(places)
    session.apply("rod", value("Arm_tube.wall=1.9 mm"))
    session.end()
    other = opened(places)
    other.apply("gone", lambda f: edits.delete_document(f, edits.find_document(f, "Arm tube").id))
    other.save()
    again = opened(places)
    made = leftovers.take(again, leftovers.left(again)[0])
    assert made.refused == ("Arm tube / which was deleted meanwhile",) and again.family == other.family
    (aside,) = (tmp_path / "state" / journal.ASIDE).iterdir()
    assert edits.find_document(folder.load(aside).family, "Arm tube")


def test_put_aside_unasked_for_nothing_is_deleted(places):
    session = opened(places)
    session.apply("wall", value("Sizes.wall=3 mm"))
    lost = session.family
    session.end()
    again = opened(places)
    place = leftovers.put_aside(again, leftovers.left(again)[0])
    assert leftovers.left(again) == [] and not again.unsaved and folder.load(place).family == lost


def test_a_damaged_journal_is_told_and_kept(places):
    session = opened(places)
    session.apply("wall", value("Sizes.wall=3 mm"))
    session.end()
    data = bytearray(session.journal.path.read_bytes())
    data[len(data) // 2] ^= 1
    session.journal.path.write_bytes(data)
    again = opened(places)
    (found,) = leftovers.left(again)
    assert found.damaged
    with pytest.raises(UserFault, match="cannot be read"):
        leftovers.take(again, found)
    place = leftovers.put_aside(again, found)
    assert place.read_bytes() == bytes(data) and leftovers.left(again) == []


def test_a_disk_that_takes_nothing_is_told_and_forgotten_when_it_does(places, monkeypatch):
    session = opened(places)

    def full(path, key, content):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patch:
        patch.setattr("architectonic.base.stores.write", full)
        session.apply("wall", value("Sizes.wall=3 mm"))
    assert "No space left" in session.journal.trouble and wall(session.family) == "3 mm"
    session.apply("gap", value("Sizes.gap=0.5 mm"))
    assert session.journal.trouble == ""


# --- bringing two states together --------------------------------------------------------------------------


@pytest.mark.parametrize("seed", range(4))
def test_random_edits_of_one_side_alone_are_taken_whole(demo, seed):
    draw = random.Random(seed)
    for _ in range(12):
        try:
            edited = random_edit(demo, draw)
        except UserFault:
            continue
        for key, document in edited.documents.items():
            before = demo.documents.get(key)
            if before is not None:
                assert merged(before, document, before) == document == merged(before, before, document)


def several(family, draw):
    for _ in range(4):
        family = random_edit(family, draw)
    return family


def test_both_sides_are_in_it_or_the_clash_is_named(demo):
    """Whoever is taken first, the same comes out, up to the order of what both added at one place."""
    draw, met = random.Random(3), 0
    for _ in range(20):
        try:
            a, b = (several(demo, draw) for _ in range(2))
        except UserFault:
            continue
        for key in demo.documents.keys() & a.documents.keys() & b.documents.keys():
            base, mine, theirs = (f.documents[key] for f in (demo, a, b))
            if base in (mine, theirs):
                continue
            met += 1
            try:
                one = merged(base, mine, theirs)
            except MergeClash as clash:
                assert clash.where[0] in (mine.name, theirs.name)
                continue
            other = merged(base, theirs, mine)
            assert {p.id: p for p in one.parameters} == {p.id: p for p in other.parameters}
    assert met > 3


def test_both_add_a_row_and_one_moves_another():
    family, key = edits.add_document(edits.new_family("F"), "table", "T")
    for name in ("a", "b", "c"):
        family = edits.add_parameter(family, key, name, "1 mm")
    base = family.documents[key]
    mine = edits.add_parameter(family, key, "mine", "2 mm").documents[key]
    theirs = edits.add_parameter(family, key, "theirs", "3 mm").documents[key]
    a, b, c = theirs.parameters[:3]
    theirs = edits.replace(theirs, parameters=(c, a, b, theirs.parameters[3]))
    assert [p.name for p in merged(base, mine, theirs).parameters][:3] == ["c", "mine", "a"]
    assert {p.name for p in merged(base, mine, theirs).parameters} == {"a", "b", "c", "mine", "theirs"}
    gone = edits.replace(base, parameters=base.parameters[1:])
    changed = edits.set_value(family, key, base.parameters[0].id, "9 mm").documents[key]
    with pytest.raises(MergeClash, match="T"):
        merged(base, gone, changed)
