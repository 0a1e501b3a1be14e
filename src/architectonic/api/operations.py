"""Operations and datums of an open family: what they made, why they fail, where they are off."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from architectonic.api.bodies import Body, Face, Selected
from architectonic.api.items import Item
from architectonic.base.problem import Problem
from architectonic.describe.results import Node
from architectonic.family import edits
from architectonic.family import records as r


@dataclass(frozen=True)
class Named:
    """Something that is known by its name here.

    Attributes:
        reference: what points at it.
    """

    reference: r.Reference


class Operation(Item):
    """An operation or datum of a build list; faces are named by its id."""

    @property
    def problem(self) -> Problem | None:
        """Why it fails in the document's size; None when it does not."""
        what = "state" if isinstance(self.record, r.BodyOperation) else "frame"
        return self.model.evaluation().outcomes[Node(what, self.model.at, self.id)].problem

    @property
    def bodies(self) -> list[Body]:
        """Bodies that come from it, or else those that it acts on."""
        record = self.record
        assert isinstance(record, r.BodyOperation)
        return [Body(self.model, key) for key in record.makes or record.changes]

    @property
    def body(self) -> Body:
        """The one body that comes from it, or that it acts on.

        Raises:
            UserFault: there are several, or none.
        """
        return Selected("body", self.name, self.bodies).one()

    def made(self, *roles: str, kind: str = "", convex: str = "") -> Named:
        """The face that it makes in a role, or the edge between two, by name alone: no geometry is looked at.

        `block.made("end")`, `block.made("end", f"side:{line.id}", kind="line")`; `face` looks, and says what is there.

        Args:
            kind, convex: of the face or edge, by which it is found again when its name is lost.
        """
        faces = sorted(f"{self.id}:{role}" for role in roles)
        label = faces[0] if len(faces) == 1 else f"({'|'.join(faces)})"
        around = tuple(faces) if len(faces) > 1 else ()
        seen = r.Witness(kind=kind, convex=convex, neighbours=around) if kind else None
        return Named(r.Reference(item=self.body.id, stage="here", label=label, witness=seen))

    def face(self, role: str = "", **asked: Any) -> Face:
        """The one face that it made in a role (start, end, side, ...); further keywords as of `Body.faces`."""
        found = [f for b in self.bodies for f in b.faces(made_by=self, role=role, **asked)]
        return Selected("face", self.name, found).one()

    def switch(self, on: bool | str, *sizes: str) -> None:
        """On, off or by a condition (`length > 300 mm`) in some sizes, rows or alternates, or by default.

        Raises:
            UserFault: the condition is no comparison.
        """
        cells, told = [self.model.cell(s) for s in sizes] or [""], on if isinstance(on, str) else "on" if on else "off"

        def change(family: r.Family) -> r.Family:
            said = edits.condition(family, self.model.id, told)
            for cell in cells:
                family = edits.set_switch(family, self.model.id, self.id, said, cell)
            return family

        self.model.apply(f"{self.name} {told}", change)

    def delete(self) -> None:
        """Take it out."""
        self.model.apply(f"delete {self.name}", lambda f: edits.delete_item(f, self.model.id, self.id))
