"""Bodies from a file: what a supplier or another program has made."""

from __future__ import annotations

from pathlib import PurePath
from typing import Any

import msgspec

from architectonic.base.ids import IdSource
from architectonic.describe.operations.bodies.bring_in import Come
from architectonic.describe.operations.kind import OperationKind
from architectonic.describe.operations.solid import replaced
from architectonic.describe.results import ModelState, Node, NodeFault, Plan, Recipe, Value, fault
from architectonic.describe.view import View
from architectonic.describe.words.blanks import Choice, Telling
from architectonic.describe.words.spoken import Sentence, anywhere
from architectonic.family.operations.bodies.outside import LengthUnit, Outside
from architectonic.family.records import Model

UNITS: tuple[tuple[LengthUnit, str], ...] = (
    ("", "in the file's unit"), ("mm", "as mm"), ("cm", "as cm"), ("m", "as m"), ("in", "as inches"), ("ft", "as feet"),
)  # fmt: skip


class OutsideInput(Value, frozen=True, kw_only=True):
    """Bodies of a kept file.

    Attributes:
        content: its name; "" for boxes in its stead.
        bodies: id, path in the file and box of each.
    """

    operation: str
    content: str
    bodies: tuple[tuple[str, tuple[str, ...], tuple[float, ...]], ...]
    unit: str = ""
    placed: bool = True


class LookInput(Value, frozen=True):
    """A file to look into."""

    path: str


class OutsideFound(Value, frozen=True, kw_only=True):
    """A body of a file, mm.

    Attributes:
        path: names of the uses that lead to it; product: whose body it is; number: among the bodies of that product.
        stands: where the file has it: a rigid placement (base.rigid).
        colour: `#RRGGBB`, "" for none.
        box, own_box: lowest and highest x, y and z where it stands, and as its product has it.
        marks: of its faces: what each looks like, as labels are made from it.
    """

    path: tuple[str, ...]
    product: str
    number: int
    solid: bool
    colour: str
    volume: float
    area: float
    box: tuple[float, ...]
    own_box: tuple[float, ...]
    stands: tuple[float, ...]
    marks: tuple[str, ...]


class FileLook(Value, frozen=True):
    """What a file holds: its bodies, and the units of length that it is written in."""

    bodies: tuple[OutsideFound, ...]
    units: tuple[str, ...]


def plan(view: View, node: Node, record: Outside, given: ModelState) -> Plan:
    """Bodies with those of the file; boxes where it is missing."""
    payload = OutsideInput(
        operation=record.id,
        content=record.content,
        bodies=tuple((k, b.path, b.box) for k, b in record.bodies.items()),
        unit=record.unit,
        placed=record.placed,
    )
    made = yield Recipe("outside", payload)
    if made.problem is None:
        sheets = {k for k, b in record.bodies.items() if b.surface}
        state = replaced(given, made.key, made.value)
        return ModelState(
            tuple(msgspec.structs.replace(b, kind="surface") if b.id in sheets else b for b in state.bodies)
        )
    if made.problem.code != "environment":
        raise NodeFault(made.problem)
    boxes = yield Recipe("outside", OutsideInput(operation=record.id, content="", bodies=payload.bodies))
    if boxes.problem is not None:
        raise NodeFault(boxes.problem)
    missing = fault(
        "outside.missing",
        f"{PurePath(record.file).name} is not there: boxes stand in for its bodies",
        "choose the file again",
        "missing",
    )
    raise NodeFault(missing.problem, replaced(given, boxes.key, boxes.value))


class _BodiesRead(Come):
    """Bodies of a file, and what they are there for."""

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Their names."""
        behind = all(to.document.bodies[b].backdrop_only for b in value if b in to.document.bodies)
        return super().told(to, operation, value) + (" as reference" if behind else "")


class _FileName(Come):
    """The file."""

    def begin(self, document: Model, make_id: IdSource) -> dict[str, Any]:
        """None yet."""
        return {self.field: "", "content": ""}

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Its name, without the folders."""
        return PurePath(value).name if value else ""


class _UnitTaken(Choice):
    """The unit that lengths are taken in; what the file says is not told."""

    def told(self, to: Telling, operation: Any, value: Any) -> str:
        """Its words, when it is another one."""
        return super().told(to, operation, value) if value else ""


KIND = OperationKind(
    Outside,
    (
        Sentence("outside", "Bodies from a file", "read", "Outside", (
            _BodiesRead("bodies"), _FileName("file", "from"), _UnitTaken("unit", choices=UNITS),
        ), short="From file", needs=anywhere, opens=False, also=("import", "STEP", "supplier part", "purchased part")),
    ),
    plan,
    recipe="outside", given=OutsideInput, version=1,
    group="bodies",
    rank=70,
)  # fmt: skip
