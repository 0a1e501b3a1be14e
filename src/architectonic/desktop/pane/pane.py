"""One document as it is looked at in one place of the window, and what is chosen in it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, Protocol

from PyQt6.QtCore import QObject, pyqtSignal

from architectonic.base.labels import kind_of
from architectonic.describe.results import Node, Outcome, Vector
from architectonic.describe.words.accepts import NOTHING, Accepts
from architectonic.family import names, scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import AnyDocument, AnyOperation, Family, Reference
from architectonic.family.scopes import InPlace, Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look
from architectonic.render.camera import BodyMesh
from architectonic.session.assembly.surroundings import as_evaluated, looks_behind
from architectonic.session.model.facts import things
from architectonic.session.picking.subject import Pick, Subject, picture_in

PREVIEW, PRESENT = "preview", "present"


class Lying(Protocol):
    """What a pane knows of the desk that it lies on."""

    size: str
    alternates: dict[str, str]

    @property
    def family(self) -> Family:
        """The present family."""

    @property
    def evaluation(self) -> Evaluation | None:
        """What is known of what is being looked at: of a preview while there is one."""

    @property
    def present(self) -> Evaluation | None:
        """What is known of the present."""

    def update(self) -> None:
        """Evaluate anew what is shown."""

    def answers(self, nodes: Iterable[Node], of: Family | None = None) -> dict[Node, Outcome]:
        """Outcomes of a few nodes that are known; the others are asked for."""


class Pane(QObject):
    """What a pane of the canvas area shows.

    Attributes:
        document_id: "" for an empty pane.
        operation: the chosen row.
        until: the last operation that is shown, the marker *up to here*; "" for all.
        variant: what it shows while something is being changed: PREVIEW follows it, PRESENT stays with what is stored.
        own_size, own_alternate: those that this pane shows; "" for what is chosen for the whole window.
        picks: what is picked in 3D.
        lit: items that the driver under the pointer moves.
        curves: ids of the chosen curves of the shown sketch.
        constraint: id of the chosen constraint or dimension of that sketch.
        regions: a sketch, and the labels of its chosen regions.
        context: the assembly that the document is looked at in: its other parts stand behind it; "" for none.
        backdrop: whether what stands behind is shown.
        standing: the operation whose open sentence takes clicks; one that is not in the list yet for a new one.
        gathering: what an open sentence takes by clicks now; touched: where on a face the last click was, mm.

    Signals:
        changed: another document or configuration is shown.
        selection_changed: anything else of the above.
        gathered (Reference): something was clicked while a sentence takes clicks.
    """

    gathered = pyqtSignal(object)

    changed = pyqtSignal()
    selection_changed = pyqtSignal()

    def __init__(self, desk: Lying) -> None:
        super().__init__()
        self.desk = desk
        self.document_id = ""
        self.context = ""
        self.backdrop = True
        self.own_size = self.own_alternate = ""
        self.variant = PREVIEW
        self.clear()

    def clear(self) -> None:
        """Nothing chosen, everything shown."""
        self.operation = ""
        self.until = ""
        self.picks: list[Pick] = []
        self.lit: set[str] = set()
        self.curves: list[str] = []
        self.constraint = ""
        self.regions: tuple[str, tuple[str, ...]] = ("", ())
        self.gathering = NOTHING
        self.standing = ""
        self.touched: Vector | None = None

    def gather(self, accepts: Accepts, picked: Sequence[Reference] = (), standing: str = "") -> None:
        """Let clicks go to an open sentence; what it has is lit."""
        if not accepts and not self.gathering and standing == self.standing:
            return
        self.gathering, self.standing = accepts, standing
        bodies = getattr(self.document, "bodies", {})
        at = self.at
        self.picks = [
            Pick(kind_of(r.label), InPlace((), at, r.item), r.label)
            for r in picked
            if at is not None and r.item in bodies and r.label
        ]
        self.curves = [r.label for r in picked if r.item not in bodies and accepts.drawn == {"curve"}]
        regions = [r for r in picked if r.item not in bodies and "region" in accepts.drawn]
        last = regions[-1].item if regions else ""
        self.regions = (last, tuple(r.label for r in regions if r.item == last))
        self.selection_changed.emit()

    @property
    def document(self) -> AnyDocument | None:
        """The shown document; None in an empty pane."""
        return self.desk.family.documents.get(self.document_id)

    @property
    def at(self) -> Scope | None:
        """The shown scope."""
        if self.document is None:
            return None
        return scopes.scope(
            self.desk.family,
            self.document_id,
            scopes.shown_as(self.desk.family, self.document_id, self.size),
            self.own_alternate or self.desk.alternates.get(self.document_id, ""),
        )

    @property
    def evaluation(self) -> Evaluation | None:
        """What is known of the variant that is shown."""
        return self.desk.present if self.variant == PRESENT else self.desk.evaluation

    @property
    def size(self) -> str:
        """The size that is shown here."""
        return self.own_size or self.desk.size

    @property
    def subject(self) -> Subject:
        """What the core is asked about: what is shown here, and what is chosen in it."""
        at = self.at or Scope("", "")
        picks, curves = tuple(self.picks), tuple(self.curves)
        chosen, open_ = self.operation, self.standing
        return Subject(self.desk.family, at, self.evaluation, self.until, picks, curves, chosen, self.mesh, open_)

    @property
    def look(self) -> Look | None:
        """The shown scope, up to the marker."""
        at = self.at
        return None if at is None else Look(at, self.until)

    def show(self, document_id: str) -> None:
        """Show another document; tells nobody, as the desk does."""
        if document_id != self.document_id:
            self.document_id, self.context, self.variant = document_id, "", PREVIEW
            self.own_size = self.own_alternate = ""
            self.clear()

    def show_own(self, size: str | None = None, alternate: str | None = None) -> None:
        """Show a size or an alternate of its own here, whatever the whole window shows; "" follows it again."""
        self.own_size = self.own_size if size is None else size
        self.own_alternate = self.own_alternate if alternate is None else alternate
        self.changed.emit()
        self.desk.update()

    def show_variant(self, variant: str) -> None:
        """Follow what is being changed, or stay with the present."""
        self.variant = variant
        self.changed.emit()
        self.desk.update()

    def select(self, operation: str) -> None:
        """Choose an operation, "" for none; one that is chosen already stays so."""
        self.operation = operation
        self.picks = []  # what was picked in the picture is another choice
        self.selection_changed.emit()

    def pick(self, picks: Sequence[tuple[str, InPlace, str]]) -> None:
        """Choose faces or edges: kind, body and label."""
        self.picks = [Pick(*p) for p in picks]
        self.selection_changed.emit()

    def light(self, items: set[str]) -> None:
        """Light what a driver moves."""
        if items != self.lit:
            self.lit = items
            self.selection_changed.emit()

    def show_until(self, operation: str) -> None:
        """Put the marker *up to here* after an operation; on the last one, or "", everything is shown."""
        build = self.build
        self.until = "" if not build or operation == build[-1].id else operation
        self.selection_changed.emit()
        self.desk.update()

    def behind(self) -> list[Look]:
        """What stands faintly behind the document: layouts taken whole, and its neighbours in the assembly it is in."""
        stood = as_evaluated(self.evaluation)
        if not self.backdrop:
            return []
        shown = self.desk.alternates.get(self.context, "")
        return looks_behind(self.desk.family, self.document_id, self.context, self.size, stood, shown)

    # --- what is there --------------------------------------------------------------------------------

    @property
    def build(self) -> tuple[AnyOperation, ...]:
        """The build list, empty for documents that have none."""
        return self.subject.build

    @property
    def after_marker(self) -> str:
        """The operation that new ones go in before; "" for the end of the list."""
        return self.subject.after_marker

    def value(self, what: str, item: str) -> Any:
        """A value of the shown scope from the last evaluation."""
        return self.subject.value(what, item)

    def given(self, body: InPlace) -> BodyMesh | None:
        """The picture of a body as the operation of the open sentence is given it; None when none is open."""
        if not self.gathering or body.at != self.at or body.path:
            return None
        last = ""
        for operation in self.build:
            if operation.id in (self.standing, self.after_marker if self.standing not in self._ids else ""):
                break
            if isinstance(operation, BodyOperation):
                last = operation.id
        node = Node("mesh", body.at, body.body, last)
        # what it is given is the same in the stored family, whatever the sentence says meanwhile
        found = self.desk.answers([node], self.desk.family).get(node) if last else None
        return BodyMesh.from_result(found.value) if found is not None and found.value else None

    @property
    def _ids(self) -> set[str]:
        return {o.id for o in self.build}

    def mesh(self, body: InPlace, label: str = "") -> BodyMesh | None:
        """The picture of a body where it stands; one that shows a label, which an open sentence may have changed."""
        look = self.look
        looks = [*([look] if look is not None else []), *self.behind()] if body.path or body.at == self.at else []
        found = picture_in(self.evaluation, body, looks)
        if label and (found is None or not found.has(label)):
            return self.given(body) or found
        return found

    def body(self, key: str) -> InPlace:
        """A body that the shown document knows by this id."""
        return InPlace((), Scope("", ""), key) if self.at is None else self.subject.own(key)

    def things(self) -> tuple[Reference, ...]:
        """What is picked, as references that hold for good."""
        return things(self.subject)


def names_in(shown: Pane) -> list[str]:
    """All that an expression may name in the document of a pane."""
    return names.offered(shown.desk.family, shown.document) if shown.document is not None else []
