"""The open family: undo, saving, the journal of a killed program, reach."""

import pytest

from architectonic.base.errors import UserFault
from architectonic.family import edits
from architectonic.session.open import leftovers
from architectonic.session.open.session import Session
from architectonic.session.open.whatif import with_values


@pytest.fixture
def session(demo, tmp_path):
    return Session.create(tmp_path / "family", demo, None, tmp_path / "state")


def set_wall(text):
    def edit(family):
        return with_values(family, [f"Sizes.wall={text}"])

    return edit


def test_undo_and_redo_restore_the_very_objects(session, demo):
    session.apply("wall 3 mm", set_wall("3 mm"))
    changed = session.family
    assert session.history.undo_label == "wall 3 mm" and session.unsaved
    assert session.undo() and session.family is demo and session.history.redo_label == "wall 3 mm"
    assert session.redo() and session.family is changed
    assert not session.redo()


def test_a_refused_edit_leaves_no_trace(session, demo):
    with pytest.raises(UserFault):
        session.apply("circle", set_wall("Sizes.gap + Sizes.wall"))
    assert session.family is demo and session.history.undo_label == ""


def test_an_edit_that_changes_nothing_is_no_step(session):
    session.apply("nothing", lambda f: f)
    assert session.history.undo_label == ""


def test_a_session_that_ends_loses_nothing(session, tmp_path):
    session.apply("wall 3 mm", set_wall("3 mm"))
    session.apply("part", lambda f: edits.add_document(f, "part", "Extra")[0])
    session.apply("gone", lambda f: edits.delete_document(f, edits.find_document(f, "Stem").id))
    lost = session.family
    session.end()
    again = Session.open(tmp_path / "family", None, tmp_path / "state")
    made = leftovers.take(again, leftovers.left(again)[0])
    assert set(made.taken) == {"Sizes", "Extra", "Stem"}
    assert again.family == lost and again.undo()


def test_save_and_reopen(session, tmp_path):
    session.apply("wall 3 mm", set_wall("3 mm"))
    session.save()
    assert not session.unsaved
    assert Session.open(tmp_path / "family").family == session.family


def test_a_new_family_needs_an_empty_folder(demo, tmp_path):
    (tmp_path / "x").write_text("mine")
    with pytest.raises(UserFault, match="not empty"):
        Session.create(tmp_path, demo)


def test_reach_says_documents_and_configurations(session):
    """Wall has own values in S and L: its common one is seen in M alone; sheet's is seen in S and M."""
    sizes = edits.find_document(session.family, "Sizes")
    value = {p.name: p.id for p in sizes.parameters}
    documents, scopes = session.reach(sizes.id, value["wall"])
    assert (
        documents[0] == "Sizes"
        and len(documents) == len(_rows(scopes)) == 16
        and {"Cheek L", "Stand", "Light"} < set(documents)
    )
    assert sum(bool(s.alternate) for s in scopes) == 3 + 9 + 2  # of the stand, the light and the elbow
    assert len(_rows(session.reach(sizes.id, value["sheet"])[1])) == 18
    assert len(_rows(session.reach(sizes.id, value["wall"], session.family.head.sizes[2].id)[1])) == 16


def _rows(scopes):
    """Documents with their configurations, whatever their alternates."""
    return {(s.document, s.configuration) for s in scopes}


def test_listeners_hear_every_change(session):
    heard = []
    session.listeners.append(lambda: heard.append(session.family))
    session.apply("wall 3 mm", set_wall("3 mm"))
    session.undo()
    assert len(heard) == 2


def test_what_others_changed_is_merged_by_document(session, tmp_path):
    """Theirs where they changed, added or removed; ours elsewhere; one step of the history."""
    folder = session.stored.folder
    mine, theirs = (edits.find_document(session.family, n).id for n in ("Sizes", "Stem"))
    light = edits.find_document(session.family, "Light").id
    other = Session.open(folder)
    other.apply("note", lambda f: edits.put(f, edits.replace(f.documents[theirs], note="theirs")))
    other.apply("new", lambda f: edits.add_document(f, "table", "Extra")[0])
    other.apply("gone", lambda f: edits.delete_document(f, light))
    other.save()
    session.apply("mine", lambda f: edits.put(f, edits.replace(f.documents[mine], note="mine")))
    before = session.family
    assert set(session.changed_by_others())
    assert sorted(session.take_theirs()) == ["Extra", "Stem"]
    now = session.family
    assert now.documents[theirs].note == "theirs" and now.documents[mine].note == "mine"
    assert light not in now.documents and any(d.name == "Extra" for d in now.documents.values())
    assert not session.changed_by_others()
    session.undo()
    assert session.family is before
    session.redo()
    session.save()
    assert Session.open(folder).family.documents[mine].note == "mine"


def test_touches_are_what_reads_a_value_first(session):
    """stem_d is read by two sketches of the foot through their dimensions, and by what extrudes those; not beyond."""
    from architectonic.family.scopes import scope

    sizes = edits.find_document(session.family, "Sizes")
    value = next(p for p in sizes.parameters if p.name == "stem_d")
    foot = edits.find_document(session.family, "Foot")
    at = scope(session.family, foot.id, session.family.head.sizes[1].id)
    touched = session.touches(sizes.id, value.id, at)
    names = {o.name for o in foot.build if o.id in touched}
    assert "Hollow" in names and "Hollow out" in names and "Round the rim" not in names
