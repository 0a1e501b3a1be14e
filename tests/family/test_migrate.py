"""Families of format 1, written by the program as it was then, open as what they are."""

import json
from pathlib import Path

import msgspec
import pytest

from architectonic.base.errors import UserFault
from architectonic.family import codec
from architectonic.family.migrate import from_1, migrated
from architectonic.family.operations.edges.chamfer import Chamfer
from architectonic.family.records import FORMAT
from architectonic.family.references import After, Reference
from architectonic.family.walk import pointers

OLD, NEW = (Path(__file__).parent / f"format{n}" for n in (1, 2))
DOCUMENTS = sorted(p for p in OLD.glob("*.json") if p.name != "family.json")


@pytest.mark.parametrize("path", DOCUMENTS, ids=lambda p: p.stem)
def test_documents_as_they_were_written_then_are_those_that_are_written_now(path):
    """Beside the same documents as the program wrote them when format 2 began."""
    found = codec.decode_document(path.read_bytes(), path.name)
    assert json.loads(path.read_text("utf-8"))["format"] == 1 and found.format == FORMAT
    assert codec.encode(found) == (NEW / path.name).read_bytes()


def test_the_head_too():
    found = codec.decode_head((OLD / "family.json").read_bytes(), "family.json")
    assert codec.encode(found) == (NEW / "family.json").read_bytes()


def test_a_bevel_is_a_chamfer_now():
    text = (OLD / "Elbow-iNVp.json").read_text("utf-8")
    assert '"bevel"' in text
    found = codec.decode_document(text.encode(), "Elbow")
    (chamfer,) = [o for o in found.build if isinstance(o, Chamfer)]
    assert b'"kind": "chamfer"' in codec.encode(found) and chamfer.kind == "chamfer"


def test_a_stage_as_text_is_a_stage_wherever_it_stands():
    """In a socket, in an operation and in an expression's neighbours alike; other texts that begin so stay."""
    face = {"item": "b1", "label": "o1:end", "stage": "after:o1"}
    old = {
        "format": 1, "kind": "part", "id": "p", "name": "after:noon",
        "feeds": {"f": {"name": "after:all", "sockets": {"s": {"takes": "face", "source": {**face, "of": "q"}}}}},
        "build": [{"kind": "sketch", "id": "k", "name": "K", "plane": face}],
    }  # fmt: skip
    found = codec.decode_document(msgspec.json.encode(old), "P")
    stages = [p.stage for p in pointers(found) if isinstance(p, Reference)]
    assert stages == [After(after="o1"), After(after="o1")]
    assert found.name == "after:noon" and found.feeds["f"].name == "after:all"
    again = codec.encode(found)
    assert b'"format": 2' in again and codec.decode_document(again, "P") == found


def test_a_step_leaves_what_it_is_given_and_what_is_present_as_they_are():
    data = {"format": 1, "build": [{"kind": "bevel"}]}
    assert from_1(data)["build"] == [{"kind": "chamfer"}] and data["build"] == [{"kind": "bevel"}]
    present = {"format": FORMAT, "build": [{"kind": "bevel"}]}
    assert migrated(present, FORMAT) is present


def test_a_bevel_in_a_file_of_today_is_refused_by_name():
    text = (OLD / "Elbow-iNVp.json").read_text("utf-8").replace('"format": 1', f'"format": {FORMAT}')
    with pytest.raises(UserFault, match="bevel"):
        codec.decode_document(text.encode(), "Elbow")
