"""Any edited family survives saving, loading and saving again, bit by bit."""

import random

from hypothesis import given, settings
from hypothesis import strategies as st
from tests.support.random_edits import random_edit

from architectonic.base.errors import UserFault
from architectonic.exchange import folder
from architectonic.family.records import Family


@settings(max_examples=15)
@given(st.integers(0, 10**9))
def test_random_edits_survive_the_disk(demo, tmp_path_factory, seed):
    draw = random.Random(seed)
    place = tmp_path_factory.mktemp("f") / "family"
    stored = folder.save(folder.Stored(place, Family(head=demo.head), {}), demo)
    family = demo
    for _ in range(4):
        try:
            family = random_edit(family, draw)
        except UserFault:
            continue
        stored = folder.save(stored, family)
        again = folder.load(place)
        assert again.family == family and again.files == stored.files
        before = {f.name: f.read_bytes() for f in place.glob("*.json")}
        folder.save(again, again.family)
        assert {f.name: f.read_bytes() for f in place.glob("*.json")} == before


def test_two_documents_whose_names_give_one_file_name_both_survive(tmp_path):
    from architectonic.family import edits

    family = edits.new_family("F")
    family, a = edits.add_document(family, "part", "A b", lambda: "aaaa000001")
    family = edits.put(family, edits.replace(family.documents[a], id="aaaa000002", name="A  c"))
    family = edits.rename_document(family, "aaaa000002", "A_b2")
    stored = folder.save(folder.Stored(tmp_path / "f", Family(head=family.head), {}), family)
    assert len(stored.files) == 3 and folder.load(tmp_path / "f").family == family
