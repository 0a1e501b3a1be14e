"""Bodies carry what they are: their kind from the operation that made them, what is said of their faces through changes."""

from architectonic.describe.models.operations import OPERATIONS
from architectonic.describe.models.states import _born
from architectonic.describe.operations.solid import replaced
from architectonic.describe.results import BodyState, ModelState, Value
from architectonic.family.operations.bodies.split import Split
from architectonic.family.operations.solids.extrude import Distance, Extrude
from architectonic.family.operations.surfaces.revolve_surface import RevolveSurface
from architectonic.family.records import Expression, Reference


class Thread(Value, frozen=True):
    """What is said of a face, for this test."""

    size: str


SAID = {"o1:side:c9": (Thread("M6"),)}
SHEET = BodyState("b", "k0.b", "surface", SAID)


def test_a_changed_body_keeps_its_kind_and_what_is_said_of_its_faces():
    after = replaced(ModelState((SHEET,)), "k1", ["b"])
    assert after.bodies == (BodyState("b", "k1.b", "surface", SAID),) and after.shape("b") == "k1.b"
    assert replaced(after, "k2", [], ["b"]).bodies == () and after.shape("x") is None


def test_a_piece_is_what_it_comes_from_and_a_new_body_what_its_operation_makes():
    split = Split(id="s", name="S", acts_on=("b",), by=Reference(item="front"), pieces={"b": "p"})
    piece = _born(BodyState("p", "k1.p"), split, ModelState((SHEET,)))
    assert (piece.kind, piece.attributes, piece.shape) == ("surface", SAID, "k1.p")
    far = Distance(value=Expression(text="1 mm"))
    made = Extrude(id="o", name="O", does="make", acts_on=("n",), regions=(), far=far)
    assert _born(BodyState("n", "k1.n"), made, ModelState((SHEET,))).kind == "solid"
    sheet = RevolveSurface(id="r", name="R", curves=(), axis=Reference(item="z"), body="s")
    assert _born(BodyState("s", "k1.s"), sheet, ModelState((SHEET,))).kind == "surface"
    assert {r.gives for r in OPERATIONS} == {"solid", "surface"}
