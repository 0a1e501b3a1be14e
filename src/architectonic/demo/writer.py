"""What the demo family is written with: its materials, the head's values, and the calls that everything is written by."""

from __future__ import annotations

from architectonic.base.ids import IdSource, seeded
from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.results import Node
from architectonic.family import edits, names
from architectonic.family.records import (
    AnyOperation,
    Body,
    Expression,
    Family,
    Feed,
    Reference,
    Sketch,
    Socket,
    Witness,
)
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.open.queries import ask

ALUMINIUM = "2.7 g / 1 cm3"
STEEL = "7.85 g / 1 cm3"
ABS = "1.04 g / 1 cm3"
HEAD = (
    ("head_w", 80, 90, 110, "width of the head"),
    ("head_h", 50, 56, 66, "height of the head"),
    ("head_r", 10, 12, 14, "corners of the head"),
    ("rim", 4, 4, 5, "of the bezel"),
    ("diffuser_w", 72, 82, 100, "seen width"),
)
"""What the linked spreadsheet says, in mm for S, M and L."""


class Writer:
    """Writes the family step by step, by the same calls that anybody may use."""

    def __init__(self) -> None:
        self.new_id: IdSource = seeded(20260301)
        self.family: Family = edits.new_family("Brindle reading lights", ("S", "M", "L"), self.new_id)
        self.s, self.m, self.l = (size.id for size in self.family.head.sizes)
        self.ids: dict[str, str] = {}
        self.head: list[str] = []

    def document(self, kind: str, name: str) -> str:
        """A new document."""
        self.family, key = edits.add_document(self.family, kind, name, self.new_id)
        self.ids[name] = key
        return key

    def values(
        self, document: str, name: str, s: str, m: str, l: str, note: str = "", quantity: str = "length"
    ) -> None:
        """A parameter with a value for each size; M stands in the common cell."""
        own = {k: t for k, t in ((self.s, s), (self.l, l)) if t != m}
        self.family = edits.add_parameter(
            self.family, document, name, m, quantity, own=own, note=note, new_id=self.new_id
        )

    def text(
        self,
        document: str,
        text: str,
        quantity: str = "length",
        unit: str = "mm",
        sketch: Sketch | None = None,
    ) -> Expression:
        """An expression standing in a document."""
        return names.bind_quantity(self.family, edits.document(self.family, document), text, quantity, unit, sketch)

    def sketch(self, document: str, name: str, plane: Reference, along: str = "x") -> Drawing:
        """Start a sketch; `keep` stores it."""
        made = Sketch(id=self.new_id(), name=name, plane=plane, along=along)  # type: ignore[arg-type]
        self.family = edits.add_operation(self.family, document, made)
        return Drawing(self.family, document, made, self.new_id)

    def keep(self, drawing: Drawing) -> str:
        """Store a drawn sketch."""
        self.family = edits.replace_operation(self.family, drawing.document_id, drawing.sketch)
        return drawing.sketch.id

    def add(self, document: str, operation: AnyOperation) -> str:
        """Append an operation."""
        self.family = edits.add_operation(self.family, document, operation)
        return operation.id

    def feed(self, document: str, source: str, name: str, **sockets: tuple[str, str, str, Witness]) -> dict[str, str]:
        """A feed; each socket is (what it takes, item, label, witness). Returns socket ids by key."""
        made, found = {}, {}
        for key, (takes, item, label, witness) in sockets.items():
            found[key] = self.new_id()
            reference = Reference(of=source, item=item, label=label, witness=witness)
            made[found[key]] = Socket(takes=takes, source=reference)  # type: ignore[arg-type]
        self.family = edits.add_feed(self.family, document, self.new_id(), Feed(name=name, sockets=made))
        return found

    def plain(self, document: str, text: str) -> Expression:
        """An expression of any kind standing in a document."""
        return names.bind(self.family, edits.document(self.family, document), text, None)

    def seen(self, document: str) -> Evaluation:
        """The values of a document in every size."""
        found = self.family.documents[document].parameters
        return ask(
            self.family, [Node("value", Scope(document, s), p.id) for s in (self.s, self.m, self.l) for p in found]
        )

    def body(self, document: str, name: str, density: str, material: str) -> str:
        """Say a body's name and what it is made of; returns its id."""
        key = self.new_id()
        record = Body(name=name, material=material, density=self.text(document, density, "density", "g/cm3"))
        self.family = edits.add_body(self.family, document, key, record)
        return key
