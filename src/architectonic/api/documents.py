"""Documents of an open family by name: values, sketches, datums, operations, bodies."""

from __future__ import annotations

import difflib
from collections.abc import Callable
from typing import Any

from architectonic.api.bodies import Body, Face, Selected
from architectonic.api.protocols import Opened
from architectonic.api.sketches import Sketch
from architectonic.api.speaking import datum_said, operation_said, switch_said, the_name
from architectonic.base.errors import UserFault
from architectonic.base.ids import new_id
from architectonic.base.problem import Problem
from architectonic.describe.models.operations import SENTENCES
from architectonic.describe.references.measurement import passing
from architectonic.describe.results import ModelState, Node
from architectonic.describe.words.datums import DATUMS
from architectonic.family import edits, names, scopes
from architectonic.family import records as r
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.model import building, datums
from architectonic.session.open.queries import ask
from architectonic.session.open.whatif import find_configuration


class Document:
    """A document; `in_size` gives the same as it is in one size."""

    def __init__(self, opened: Opened, key: str, size: str = "") -> None:
        self.opened, self.id, self.size = opened, key, size

    def __repr__(self) -> str:
        return f"<{self.record.kind} {self.name}{f' in {self.size}' if self.size else ''}>"

    @property
    def record(self) -> r.AnyDocument:
        """It as immutable data."""
        return edits.document(self.opened.family, self.id)

    @property
    def name(self) -> str:
        """What it is called."""
        return self.record.name

    @property
    def at(self) -> Scope:
        """It in its size, the first one by default."""
        family = self.opened.family
        if self.size:
            return Scope(self.id, find_configuration(family, self.id, self.size))
        return Scope(self.id, scopes.configurations(family, self.record)[0][0])

    def in_size(self, size: str) -> Any:
        """The same document as it is in a size or row."""
        find_configuration(self.opened.family, self.id, size)
        return type(self)(self.opened, self.id, size)

    def apply(self, label: str, change: Callable[[r.Family], r.Family]) -> None:
        """One step that can be undone."""
        self.opened.session.apply(label, change)

    def parameter(
        self, name: str, text: str, quantity: str = "length", unit: str = "", note: str = "", **own: str
    ) -> None:
        """A new parameter; further keywords are texts of its own by size: `parameter("width", "40 mm", L="60 mm")`."""
        for key, typed in {"": text, **own}.items():
            if not isinstance(typed, str):
                raise UserFault(
                    f"{typed!r} is no expression", f"{name} {key}".strip(), f"write text, such as “{typed} mm”"
                )
        rows = {find_configuration(self.opened.family, self.id, size): typed for size, typed in own.items()}
        self.apply(f"new {name}", lambda f: edits.add_parameter(f, self.id, name, text, quantity, unit, rows, note))

    def rule(self, name: str, holds: str, message: str = "") -> None:
        """A comparison that must hold."""
        self.apply(f"rule {name}", lambda f: edits.add_rule(f, self.id, name, holds, message))

    def evaluation(self, pictured: bool = False) -> Evaluation:
        """What is known of it in its size."""
        return self.opened.evaluate((self.name,), self.opened.name_of(self.at), pictured)

    def value(self, name: str) -> float:
        """A parameter, named dimension or measurement in its size, in mm, rad, g or as a plain number.

        Raises:
            UserFault: an unknown name, or one without a value; says why.
        """
        known = dict(names.values_of(self.record))
        if name not in known:
            raise UserFault(f"there is no value “{name}”", self.name, "values are " + (", ".join(known) or "none yet"))
        outcome = self.evaluation().outcomes[Node("value", self.at, known[name].id)]
        if outcome.value is None:
            assert outcome.problem is not None
            raise UserFault(outcome.problem.what, outcome.problem.where, outcome.problem.mend)
        return float(outcome.value)


class Operation:
    """An operation or datum of a build list.

    Attributes:
        id: what faces are named by.
    """

    def __init__(self, model: Model, key: str) -> None:
        self.model, self.id = model, key

    def __repr__(self) -> str:
        return f"<{self.record.kind} {self.name}>"

    @property
    def record(self) -> r.AnyOperation:
        """It as immutable data."""
        return edits.operation(self.model.opened.family, self.model.id, self.id)

    @property
    def name(self) -> str:
        """What it is called."""
        return self.record.name

    @property
    def reference(self) -> r.Reference:
        """What points at it."""
        return r.Reference(item=self.id)

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

    def face(self, role: str = "", **asked: Any) -> Face:
        """The one face that it made in a role (start, end, side, ...); further keywords as of `Body.faces`."""
        found = [f for b in self.bodies for f in b.faces(made_by=self, role=role, **asked)]
        return Selected("face", self.name, found).one()

    def switch(self, on: bool, *sizes: str) -> None:
        """On or off in some sizes, or by default."""
        cells = [find_configuration(self.model.opened.family, self.model.id, s) for s in sizes] or [""]
        for cell in cells:
            self.model.apply(
                f"{self.name} {'on' if on else 'off'}",
                lambda f, c=cell: edits.set_switch(f, self.model.id, self.id, on, c),  # type: ignore[misc]
            )

    def delete(self) -> None:
        """Take it out."""
        self.model.apply(f"delete {self.name}", lambda f: edits.delete_item(f, self.model.id, self.id))


class Model(Document):
    """A document with a build list. Every operation of the window is a method named as in its sentence, whose keywords
    are its blanks: `part.fillet(edges=..., radius="2 mm")`, `part.datum_offset(plane="top", distance="10 mm")`.
    """

    def sketch(self, name: str = "", on: Any = "top", along: str = "") -> Sketch:
        """The sketch of a name, or a new one on a plane: front, top, right, a datum, or a flat face."""
        found = next((o for o in self.model.build if isinstance(o, r.Sketch) and o.name == name), None)
        if found is not None:
            return Sketch(self, found.id)
        plane = the_name(self, on, "plane")
        key = new_id()
        name = name or names.free_name("Outline", [o.name for o in self.model.build])
        axis: Any = along or ("y" if plane.item == "right" else "x")
        made = r.Sketch(id=key, name=name, plane=plane, along=axis)
        self.apply(f"new sketch {name}", lambda f: edits.add_operation(f, self.id, made))
        return Sketch(self, key)

    @property
    def model(self) -> r.Model:
        """It as immutable data."""
        return edits.model(self.opened.family, self.id)

    def __getattr__(self, kind: str) -> Callable[..., Operation]:
        if kind.startswith("_"):
            raise AttributeError(kind)
        if kind not in SENTENCES and kind not in DATUMS:
            known = (*SENTENCES, *DATUMS)
            near = difflib.get_close_matches(kind, known, 1, 0.5)
            mend = f"did you mean {near[0]}?" if near else f"there are {', '.join(known)}"
            raise AttributeError(f"{self.name} has no operation “{kind}”; {mend}")
        return lambda **blanks: self.do(kind, **blanks)

    def __dir__(self) -> list[str]:
        return [*super().__dir__(), *SENTENCES, *DATUMS]

    def do(self, kind: str, name: str = "", off: tuple[str, ...] = (), **blanks: Any) -> Operation:
        """Add an operation or a datum.

        Args:
            kind: as in its sentence: extrude, fillet, datum_offset, ...
            name: what it is called; one that is free by default.
            off: sizes in which it is off.
            blanks: what fills its sentence.

        Raises:
            UserFault: an unknown kind or blank, or something that a blank cannot take; says which. Nothing changed.
        """
        if kind in DATUMS:
            datum = datum_said(self, kind, name, blanks)
            self.apply(f"new datum {datum.name}", lambda f: datums.store(f, self.id, datum))
            return Operation(self, datum.id)
        record, body_name = operation_said(self, kind, name, blanks)
        record = switch_said(self, record, off)
        self.apply(f"new {record.name}", lambda f: building.store(f, self.id, record, body_name=body_name))
        return Operation(self, record.id)

    def operation(self, name: str) -> Operation:
        """An operation or datum by name.

        Raises:
            UserFault: there is none.
        """
        found = next((o for o in self.model.build if o.name == name), None)
        if found is None:
            known = ", ".join(o.name for o in self.model.build) or "none yet"
            raise UserFault(f"there is no operation “{name}”", self.name, f"operations are {known}")
        return Operation(self, found.id)

    @property
    def operations(self) -> list[Operation]:
        """All of the build list, in order."""
        return [Operation(self, o.id) for o in self.model.build]

    def body(self, name: str) -> Body:
        """A body by name.

        Raises:
            UserFault: there is none.
        """
        found = next((k for k, b in self.model.bodies.items() if b.name == name), None)
        if found is None:
            known = ", ".join(b.name for b in self.model.bodies.values()) or "none yet"
            raise UserFault(f"there is no body “{name}”", self.name, f"bodies are {known}")
        return Body(self, found)

    @property
    def bodies(self) -> list[Body]:
        """The bodies that the build list ends with in the document's size."""
        state = self.evaluation().value(Node("finished", self.at, ""))
        return [Body(self, b.id) for b in state.bodies] if isinstance(state, ModelState) else []

    def measure(self, what: str, *of: Any) -> float:
        """A figure of one thing or between two: distance, apart, angle, radius, length, area, ...; mm, mm2, rad.

        Raises:
            UserFault: they have no such figure; says why.
        """
        references = tuple(the_name(self, thing, "thing") for thing in of)
        node = Node("gauged", self.at, "", passing(what, references))
        assert self.opened.engine is not None  # it is running now, and answers
        outcome = ask(self.opened.family, [node]).outcomes[node]
        if outcome.value is None:
            assert outcome.problem is not None
            raise UserFault(outcome.problem.what, self.name, outcome.problem.mend)
        return float(outcome.value.value)


class Assembly(Model):
    """An assembly: instances of parts and assemblies."""

    def place(self, document: str, name: str = "", placement: tuple[float, ...] = ()) -> None:
        """Place a part or assembly; on the shared origin unless 16 numbers say where (base.rigid)."""
        source = edits.find_document(self.opened.family, document).id
        self.apply(f"place {document}", lambda f: edits.add_instance(f, self.id, source, name, placement=placement))


def document_for(opened: Opened, key: str) -> Document:
    """A document as what it is."""
    record = opened.family.documents[key]
    kind = Assembly if isinstance(record, r.Assembly) else Model if isinstance(record, r.Model) else Document
    return kind(opened, key)
