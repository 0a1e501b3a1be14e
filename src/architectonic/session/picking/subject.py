"""What questions about the open family are asked of: a document in one scope, as evaluated, and what is chosen in it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal, NamedTuple

from architectonic.base.problem import Problem
from architectonic.describe.results import Node
from architectonic.family.operations.bodies.bring_in import brought_in
from architectonic.family.records import AnyDocument, AnyOperation, Family, Model, Reference
from architectonic.family.scopes import InPlace, Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look
from architectonic.render.camera import BodyMesh
from architectonic.render.pictures import meshes_of
from architectonic.session.picking import picked


class Pick(NamedTuple):
    """A face, edge or vertex of a body in place, by its label."""

    kind: Literal["face", "edge", "vertex"] | str
    body: InPlace
    label: str


def picture_in(evaluation: Evaluation | None, body: InPlace, looks: list[Look]) -> BodyMesh | None:
    """The picture of a body where it stands in what is looked at; of any other body where it was made."""
    if evaluation is None:
        return None
    for look in looks:
        found = next((m for b, m, _ in meshes_of(evaluation, look) if b == body), None)
        if found is not None:
            return found
    made = evaluation.value(Node("mesh", body.at, body.body))
    return BodyMesh.from_result(made) if made else None


@dataclass(frozen=True)
class Subject:
    """A document as it is looked at.

    Attributes:
        evaluation: what is known of it; None before the first one.
        until: the operation after which nothing is shown, the marker *up to here*; "" for none.
        picks: what is picked of bodies; curves: chosen curves and points of sketches.
        operation: the chosen one.
        standing: the operation whose sentence is open; "" for none.
        picture: of a body, showing a label where an open sentence may have changed it.
    """

    family: Family
    at: Scope
    evaluation: Evaluation | None = None
    until: str = ""
    picks: tuple[Pick, ...] = ()
    curves: tuple[str, ...] = ()
    operation: str = ""
    picture: Callable[[InPlace, str], BodyMesh | None] | None = None
    standing: str = ""

    @property
    def document(self) -> AnyDocument | None:
        """The record of the document; None when it is gone."""
        return self.family.documents.get(self.at.document)

    @property
    def build(self) -> tuple[AnyOperation, ...]:
        """The build list, empty for documents that have none."""
        document = self.document
        return document.build if isinstance(document, Model) else ()

    @property
    def after_marker(self) -> str:
        """The operation that new ones go in before; "" for the end of the list."""
        ids = [o.id for o in self.build]
        return ids[ids.index(self.until) + 1] if self.until in ids[:-1] else ""

    def problem(self, what: str, item: str) -> Problem | None:
        """Why something of it fails; None when it does not, or nothing is known of it."""
        outcome = self.evaluation.outcomes.get(Node(what, self.at, item)) if self.evaluation and item else None
        return outcome.problem if outcome is not None else None

    def disagreeing(self, sketch: str) -> tuple[str, ...]:
        """Constraints of a sketch that cannot all be true."""
        found = self.problem("solve", sketch)
        return found.candidates if found is not None and found.code == "sketch.conflict" else ()

    def at_fault(self, operation: str) -> tuple[str, ...]:
        """Labels of the edges or faces at which an operation fails."""
        found = self.problem("state", operation)
        return found.at if found is not None else ()

    @property
    def before_marker(self) -> list[AnyOperation]:
        """The operations that a new one comes after."""
        ids = [o.id for o in self.build]
        return list(self.build[: ids.index(self.until) + 1] if self.until in ids else self.build)

    def value(self, what: str, item: str) -> Any:
        """A value of the scope."""
        return self.evaluation.value(Node(what, self.at, item)) if self.evaluation is not None else None

    def mesh(self, body: InPlace, label: str = "") -> BodyMesh | None:
        """The picture of a body."""
        if self.picture is not None:
            return self.picture(body, label)
        return picture_in(self.evaluation, body, [Look(self.at, self.until)])

    def picked(self, kind: str) -> list[Reference]:
        """Picked faces, edges or vertices of the document's own bodies, as the next operation finds them."""
        return [
            picked.reference(self.mesh(p.body), own, kind, p.label)
            for p in self.picks
            if p.kind == kind and (own := self.id_here(p.body))
        ]

    def id_here(self, body: InPlace) -> str:
        """The id that a body has in the document: of its own, or brought in; "" for those of others."""
        if not body.path:
            return body.body if body.at == self.at else ""
        return brought_in(self.build).get((body.path, body.document, body.body), "")

    def own(self, body: str) -> InPlace:
        """A body that the document knows by this id: of its own, or of an instance that it works on in place."""
        placed = self.value("assembly", "") or ()
        found = (b.body for p in placed for b in p.bodies if b.item == body and b.source == self.at)
        return next(found, InPlace((), self.at, body))
