"""Pictures to draw over: what is refused, and where they come to lie."""

import io
import math
import struct
import zlib

import pytest
from PIL import Image

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.describe.results import Node
from architectonic.exchange import picturefile
from architectonic.family import edits
from architectonic.family.records import Reference
from architectonic.family.scopes import Scope
from architectonic.session.open.queries import ask
from architectonic.session.sketch import underlays

FRONT = Reference(item="front")


def picture(tmp_path, name="concept.png", size=(400, 300), **options):
    file = tmp_path / name
    Image.new("RGB", size, "white").save(file, **options)
    return file


@pytest.fixture
def layout(tmp_path):
    family = edits.new_family("Trial", ("S", "M"))
    family, key = edits.add_document(family, "layout", "L")
    s, m = (size.id for size in family.head.sizes)
    family = edits.add_parameter(family, key, "height", "300 mm", own={s: "200 mm", m: "300 mm"})
    kept = underlays.keep(tmp_path / "family", picture(tmp_path))
    family = underlays.add(family, key, "Concept", *kept, FRONT, "400 mm", make_id=lambda: "u")
    return family, key


def placed(family, key, size=0):
    node = Node("underlay", Scope(key, family.head.sizes[size].id), "u")
    return ask(family, [node]).value(node)


def test_a_picture_is_kept_in_the_family_under_a_name_that_says_its_content(tmp_path):
    name, pixels = underlays.keep(tmp_path / "f", picture(tmp_path))
    assert pixels == (400, 300) and name.startswith("concept-") and (tmp_path / "f" / "files" / name).exists()
    assert underlays.keep(tmp_path / "f", picture(tmp_path))[0] == name
    assert underlays.keep(tmp_path / "f", picture(tmp_path, size=(401, 300)))[0] != name


@pytest.mark.parametrize(("name", "kind"), [("a.png", "PNG"), ("a.jpg", "JPEG"), ("a.jpeg", "JPEG")])
def test_bitmaps_by_their_content(tmp_path, name, kind):
    assert picturefile.read(picture(tmp_path, name)).kind == kind


@pytest.mark.parametrize(
    ("text", "pixels"),
    [
        ('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"/>', (1000, 500)),
        ('<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="30mm"/>', (333, 1000)),
    ],
)
def test_vector_pictures(tmp_path, text, pixels):
    (tmp_path / "a.svg").write_text(text)
    assert picturefile.read(tmp_path / "a.svg").pixels == pixels


def bomb():
    """A PNG that says it has 60,000 x 60,000 pixels."""
    head = struct.pack(">IIBBBBB", 60000, 60000, 8, 2, 0, 0, 0)
    chunks = ((b"IHDR", head), (b"IDAT", zlib.compress(b"\0" * 99)), (b"IEND", b""))
    body = b"".join(struct.pack(">I", len(d)) + t + d + struct.pack(">I", zlib.crc32(t + d)) for t, d in chunks)
    return b"\x89PNG\r\n\x1a\n" + body


def whole():
    stream = io.BytesIO()
    Image.effect_noise((200, 200), 90).save(stream, "PNG")
    return stream.getvalue()


@pytest.mark.parametrize(
    ("name", "data", "told"),
    [
        ("a.png", b"not a picture", "cannot be read"),
        ("a.png", whole()[:-9000], "cannot be read"),
        ("a.png", bomb(), "pixels"),
        ("a.jpg", b"\xff\xd8\xff\xe0broken", "cannot be read"),
        ("a.gif", b"GIF89a", "use PNG, JPEG or SVG"),
        ("a.svg", b"<svg", "broken"),
        ("a.svg", b"<html/>", "no SVG"),
        ("a.svg", b'<svg xmlns="http://www.w3.org/2000/svg"/>', "how large"),
        ("a.svg", b'<!DOCTYPE s [<!ENTITY a "aaaa">]><svg viewBox="0 0 1 1">&a;</svg>', "entities"),
        ("a.svg", b'<svg viewBox="0 0 0 5"/>', "no size"),
    ],
)
def test_what_cannot_be_shown_is_refused_in_one_sentence(tmp_path, name, data, told):
    (tmp_path / name).write_bytes(data)
    with pytest.raises(UserFault, match=told) as caught:
        underlays.keep(tmp_path / "f", tmp_path / name)
    assert name in caught.value.sentence and not (tmp_path / "f").exists()


def test_a_picture_that_is_not_there(tmp_path):
    with pytest.raises(EnvironmentFault):
        picturefile.read(tmp_path / "none.png")


def test_it_lies_on_its_plane_as_wide_as_it_was_told(layout):
    found = placed(*layout)
    assert found.size == (400, 300) and found.at == (0, 0) and found.frame.normal == (0, -1, 0)


def test_two_points_and_a_distance_scale_it_and_the_first_stays(layout):
    """Points 100 mm apart become height / 2 apart: in S by 1, in M by 1.5; the first one keeps its place (in S)."""
    family, key = layout
    before = placed(family, key)
    family = underlays.scale(family, key, "u", before, (50, 40), (150, 40), "height / 2")
    small, large = placed(family, key, 0), placed(family, key, 1)
    assert small.size == pytest.approx((400, 300)) and large.size == pytest.approx((600, 450))
    assert small.at == pytest.approx((0, 0))
    family = underlays.scale(family, key, "u", small, (50, 40), (150, 40), "50 mm")
    assert placed(family, key).size == pytest.approx((200, 150)) and placed(family, key).at == pytest.approx((25, 20))


def test_it_is_moved_by_a_point_and_straightened_by_a_line(layout):
    family, key = layout
    family = underlays.place(family, key, "u", placed(family, key), (10, 10), (0, -5))
    assert placed(family, key).at == (-10, -15)
    family = underlays.straighten(family, key, "u", placed(family, key), (0, 0), (100, 100 * math.tan(0.1)))
    found = placed(family, key)
    assert found.turn == pytest.approx(-0.1)
    c, s = math.cos(-0.1), math.sin(-0.1)
    assert found.at == pytest.approx((c * -10 - s * -15, s * -10 + c * -15))
    family = underlays.straighten(family, key, "u", found, (0, 0), (5 * math.tan(0.05), 5))
    assert placed(family, key).turn == pytest.approx(-0.05)  # nearer to upright


@pytest.mark.parametrize(
    "changes", [{"opacity": 0.0}, {"opacity": 1.5}, {"crop": (0.6, 0.0, 0.5, 0.0)}, {"crop": (-0.1, 0, 0, 0)}]
)
def test_nothing_left_to_see_is_refused(layout, changes):
    with pytest.raises(UserFault):
        underlays.change(*layout, "u", **changes)


def test_points_that_are_one_and_widths_of_nothing(layout):
    family, key = layout
    with pytest.raises(UserFault, match="two points are one"):
        underlays.scale(family, key, "u", placed(family, key), (1, 1), (1, 1), "5 mm")
    with pytest.raises(UserFault, match="positive"):
        underlays.scale(family, key, "u", placed(family, key), (1, 1), (2, 1), "0 mm")
    with pytest.raises(UserFault, match=r"not an underlay|not there"):
        underlays.change(family, key, "nothing", opacity=0.5)
