"""Files: round trip, strictness, and a schema that an independent validator could read."""

import json

import pytest

from architectonic.base.errors import UserFault
from architectonic.family import codec, edits
from architectonic.family.records import Body, Circle, Layout, Reference, Sketch


def test_round_trip_of_every_document(demo):
    for document in demo.documents.values():
        data = codec.encode(document)
        assert codec.decode_document(data, "x") == document
        assert codec.encode(codec.decode_document(data, "x")) == data


def test_files_are_pretty_sorted_and_carry_format_kind_and_id(demo):
    for document in demo.documents.values():
        text = codec.encode(document).decode()
        data = json.loads(text)
        assert {"format", "id", "kind", "name"} <= set(data)
        assert list(data) == sorted(data) and text.endswith("}\n") and "\n  " in text


@pytest.mark.parametrize("value", [float("nan"), float("inf"), -float("inf")])
def test_not_finite_numbers_are_refused(value):
    sketch = Sketch(
        id="s", name="s", plane=Reference(item="top"), curves={"c": Circle(centre=(0.0, 0.0), radius=value)}
    )
    with pytest.raises(UserFault, match="finite"):
        codec.encode(Layout(id="d", name="L", build=(sketch,)))


@pytest.mark.parametrize(
    ("data", "told"),
    [
        (b"{", "not a readable document"),
        (b"\xff\xfe", "not a readable document"),
        (b"[]", "not a readable document"),
        (b'{"kind": "part", "id": "x"}', "name"),
        (b'{"kind": "part", "id": "x", "name": "y", "colour": 1}', "colour"),
        (b'{"kind": "spline", "id": "x", "name": "y"}', "spline"),
        (b'{"kind": "part", "format": 99, "id": "x", "name": "y"}', "newer version"),
        (b'{"kind": "part", "id": "x", "name": "y", "build": [{"kind": "fillet", "id": 3}]}', "build"),
    ],
)
def test_broken_files_say_what_and_where(data, told):
    with pytest.raises(UserFault) as caught:
        codec.decode_document(data, "Foot-abcd.json")
    assert told in caught.value.sentence and "Foot-abcd.json" in caught.value.sentence


def test_the_published_schema_is_that_of_the_code(request):
    published = json.loads((request.config.rootpath / "docs" / "schema.json").read_text("utf-8"))
    assert published == json.loads(json.dumps(codec.schema()))


def test_bodies_stand_in_the_order_in_which_they_are_made_before_and_after_a_family_is_opened(demo):
    """Their columns and colours go by it; files hold them by id."""
    elbow = edits.find_document(demo, "Elbow")
    assert [b.name for b in elbow.bodies.values()] == ["Fork", "Tongue", "Pin"]
    again = codec.decode_document(codec.encode(elbow), "Elbow")
    assert list(again.bodies) == list(elbow.bodies)
    last = edits.add_body(demo, elbow.id, "0", Body(name="Made of nothing yet"))
    assert list(last.documents[elbow.id].bodies) == [*elbow.bodies, "0"]
    turned = edits.put(demo, edits.replace(elbow, bodies=dict(reversed(elbow.bodies.items()))))
    assert list(turned.documents[elbow.id].bodies) == list(elbow.bodies)
