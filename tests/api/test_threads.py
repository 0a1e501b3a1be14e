"""Threads that are modelled for pictures and files: what is cut, and that nothing is built on it."""

import math

import msgspec
import numpy as np
import pytest

import architectonic as a
from architectonic.describe.recipes import BodyInput
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.propagate.cache import ResultCache
from architectonic.propagate.evaluator import Evaluator
from architectonic.propagate.keys import encode
from architectonic.propagate.targets import Look
from architectonic.propagate.whole import asked
from architectonic.render.camera import BodyMesh
from architectonic.session.files.outside import look

pytestmark = pytest.mark.kernel
WHOLE = 30.0 * 20 * 12


@pytest.fixture
def family(store):
    with a.new("Threads", sizes=("S",), store=store) as opened:
        yield opened


@pytest.fixture
def nut(family):
    part = family.part("Nut")
    outline = part.sketch("Outline")
    outline.rectangle("30 mm", "20 mm")
    part.extrude(make="Nut", regions=outline.region(), far="12 mm", name="Block")
    return part


def tap(part, x="8 mm", **more):
    said = {"size": "M6", "far": "through", "shown": True, "name": "Tap", **more}
    made = part.tapped_hole(places=(part.operation("Block").face("end"), x, "10 mm"), bodies="Nut", **said)
    assert made.problem is None
    return made


def drawn(part, body="Nut"):
    """Volume of what is drawn and written, mm3."""
    found = part.opened.evaluate((part.name,))
    (shape,) = {found.value(n) for n in found.outcomes if n.what == "drawn" and n.item == part.body(body).id}
    reply = part.opened.engine.pool.submit("volume", "measure", encode(BodyInput()), (shape,)).result()
    return msgspec.msgpack.decode(reply.value)["volume_mm3"]


def picture(part, body="Nut"):
    found = part.opened.evaluate((part.name,), pictured=True)
    (at,) = {n.at for n in found.outcomes if n.what == "mesh" and n.document == part.id}
    return BodyMesh.from_result(found.value(Node("mesh", at, part.body(body).id)))


def groove(diameter, pitch, drill):
    """mm3 for every mm of thread: the profile of ISO 68-1, from the drill's wall to a root an eighth of the pitch wide, turned
    about the axis (Pappus)."""
    low, high, slope = drill / 2, diameter / 2, math.tan(math.radians(30))
    steps = np.linspace(low, high, 20001)
    width = pitch / 8 + 2 * slope * (high - steps)
    return float(np.trapezoid(width * math.tau * steps, steps)) / pitch


def test_the_profile_is_that_of_the_standard():
    """ISO 68-1: at the basic minor diameter the crest of the nut is a quarter of the pitch wide, so the groove three."""
    diameter, pitch = 6.0, 1.0
    minor = diameter - 1.25 * pitch * math.sqrt(3) / 2
    width = pitch / 8 + 2 * math.tan(math.radians(30)) * (diameter - minor) / 2
    assert width == pytest.approx(0.75 * pitch, rel=1e-12)


def test_what_is_written_has_the_thread_and_what_is_built_on_has_not(nut, tmp_path):
    tap(nut, far="4 mm", flat=True)
    drilled = WHOLE - math.pi * 2.5**2 * 4
    assert nut.body("Nut").volume == pytest.approx(drilled, rel=1e-9)
    assert drawn(nut) == pytest.approx(drilled - 4 * groove(6, 1, 5), rel=2e-6)
    nut.opened.export("Nut", tmp_path / "nut.step")
    (body,) = look(tmp_path / "nut.step").found.bodies
    assert body.volume == pytest.approx(drilled - 4 * groove(6, 1, 5), rel=2e-6)


def test_a_thread_is_as_deep_as_it_is_said_to_be(nut):
    tap(nut, far="11 mm", depth="3 mm", flat=True)
    drilled = WHOLE - math.pi * 2.5**2 * 11
    assert drawn(nut) == pytest.approx(drilled - 3 * groove(6, 1, 5), rel=2e-6)


@pytest.mark.parametrize("hand", ["right", "left"])
def test_the_root_winds_to_the_hand_that_is_said(nut, hand):
    """A right-hand thread goes on along its axis as it turns counter-clockwise about it, seen from either end."""
    tap(nut, hand=hand, far="3 mm", flat=True)
    mesh = picture(nut)
    x, y = mesh.points[:, 0] - 8, mesh.points[:, 1] - 10
    root = np.abs(np.hypot(x, y) - 3.0) < 1e-4
    assert root.sum() > 50
    turns = np.arctan2(y, x)[root] / math.tau * (1 if hand == "right" else -1)
    phase = (mesh.points[root, 2] - turns) % 1.0  # pitch 1: the root is an eighth wide
    around = np.angle(np.exp(2j * math.pi * phase) / np.exp(2j * math.pi * phase).mean()) / math.tau
    assert np.abs(around).max() < 1 / 16 + 1e-3
    other = (mesh.points[root, 2] + turns) % 1.0
    assert abs(np.exp(2j * math.pi * other).mean()) < 0.3


def test_mirrored_holes_keep_their_hand_in_what_is_drawn(nut):
    tap(nut, far="3 mm", flat=True)
    nut.mirror(bodies="Nut", plane="right")
    mesh = picture(nut)
    x, y = mesh.points[:, 0] + 8, mesh.points[:, 1] - 10
    root = np.abs(np.hypot(x, y) - 3.0) < 1e-4
    phase = (mesh.points[root, 2] - np.arctan2(y, x)[root] / math.tau) % 1.0
    assert abs(np.exp(2j * math.pi * phase).mean()) > 0.9


def test_members_of_a_pattern_have_it_too(nut):
    first = tap(nut, x="6 mm", size="M4", far="2 mm")
    nut.pattern_row(of=first, bodies="Nut", direction="x", count="2", step="9 mm")
    cone = math.pi * 1.65**3 / math.tan(math.radians(59)) / 3
    drilled = WHOLE - 2 * (math.pi * 1.65**2 * 2 + cone)
    assert nut.body("Nut").volume == pytest.approx(drilled, rel=1e-7)
    assert drawn(nut) == pytest.approx(drilled - 2 * 2 * groove(4, 0.7, 3.3), rel=2e-6)


def test_flanks_are_picked_as_the_wall_and_edges_of_the_thread_not_at_all(nut):
    made = tap(nut, shown=False, far="3 mm", flat=True)
    before = picture(nut)

    said = nut.model.build[-1]
    shown = msgspec.structs.replace(said, by=msgspec.structs.replace(said.by, shown=True))
    nut.opened.edit("model the thread", lambda family: edits.replace_operation(family, nut.id, shown))
    after = picture(nut)
    assert made.problem is None and after.faces == before.faces
    assert sorted(set(after.edges) - {""}) == sorted(before.edges)
    assert (after.face_kinds, after.planes) == (before.face_kinds, before.planes)
    wall = next(k for k, f in enumerate(after.faces) if ":wall:" in f)
    assert (after.face == wall).sum() > 10 * (before.face == wall).sum() and "" in after.edges
    label = next(e for e in after.edges if ":wall:" in e)
    k = after.edges.index(label)
    around = after.lines[after.line_starts[k] : after.line_starts[k + 1]]
    radii = np.hypot(around[:, 0] - 8, around[:, 1] - 10)
    assert radii.min() == pytest.approx(2.5, abs=1e-3) and radii.max() == pytest.approx(3.0, abs=1e-3)
    assert np.linalg.norm(np.diff(around, axis=0), axis=1).max() < 1.0  # the outline at its mouth in one piece


def test_a_thread_that_cannot_be_is_named_and_the_data_stay(nut):
    tap(nut)
    nut.scale(bodies="Nut", factor="2", point="origin")
    (item,) = [i for i in nut.opened.report("Nut")["attention"] if "thread" in i["what"]]
    assert "Tap" in item["what"] and "10 mm wide" in item["what"]
    assert nut.body("Nut").volume == pytest.approx(8 * (WHOLE - math.pi * 2.5**2 * 12), rel=1e-9)
    assert nut.holes()[0].holes.thread == "M6"


def test_the_picture_comes_first_without_the_thread(nut):
    """A thread takes seconds: a part is seen before it is modelled, and with it in the end."""
    tap(nut, far="3 mm", flat=True)
    engine, family, at = nut.opened.engine, nut.opened.family, nut.at
    key = nut.body("Nut").id
    run = Evaluator(engine.pool, ResultCache()).begin(family)
    sizes = []
    for measured in (False, True):
        seen = asked(run, [at], (Look(at),), measured)
        sizes.append(len(BodyMesh.from_result(seen.value(Node("mesh", at, key))).triangles))
    assert 0 < 3 * sizes[0] < sizes[1]
