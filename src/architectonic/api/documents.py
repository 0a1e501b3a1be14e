"""Documents of an open family by name: values, sketches, datums, operations, bodies."""

from __future__ import annotations

import difflib
from collections.abc import Callable, Mapping
from typing import Any

from architectonic.api.bodies import Body
from architectonic.api.offering import offered, witnesses
from architectonic.api.operations import Named, Operation
from architectonic.api.protocols import Opened
from architectonic.api.sketches import Sketch
from architectonic.api.speaking import datum_said, operation_said, switch_said, the_name
from architectonic.api.trimming import with_pieces
from architectonic.base.errors import UserFault
from architectonic.check import holes
from architectonic.check.holes import HoleRow
from architectonic.describe.models.operations import SENTENCES
from architectonic.describe.references.measurement import passing
from architectonic.describe.results import ModelState, Node
from architectonic.describe.words.datums import DATUMS
from architectonic.family import edits, names, scopes
from architectonic.family import records as r
from architectonic.family.operations.surfaces.trim import Trim
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.assembly import surroundings
from architectonic.session.feeds import feeding
from architectonic.session.model import building, datums
from architectonic.session.open.queries import ask
from architectonic.session.open.whatif import find_configuration
from architectonic.session.product import planning
from architectonic.session.sketch import underlays
from architectonic.session.tables import checks


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
            return scopes.scope(family, self.id, find_configuration(family, self.id, self.size))
        return scopes.scope(family, self.id, "")

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
        make_id = self.opened.new_id
        self.apply(
            f"new {name}", lambda f: edits.add_parameter(f, self.id, name, text, quantity, unit, rows, note, make_id)
        )

    def rule(self, name: str, holds: str, message: str = "") -> None:
        """A comparison that must hold."""
        self.apply(f"rule {name}", lambda f: edits.add_rule(f, self.id, name, holds, message, self.opened.new_id))

    def cell(self, where: str) -> str:
        """The cell of a size or row; "" for what is common to all."""
        return find_configuration(self.opened.family, self.id, where) if where else ""

    def number(self, number: str) -> None:
        """Number it."""
        self.apply(f"number {number}", lambda f: planning.set_number(f, self.id, number))

    def row(self, name: str, size: str = "", **own: str) -> None:
        """A configuration of its own below the sizes: as one of them, with values of its own by name.

        Raises:
            UserFault: the name is taken, there is no such size, or a value cannot be used.
        """

        def change(family: r.Family) -> r.Family:
            like = find_configuration(family, self.id, size) if size else ""
            family, row = edits.add_configuration(family, self.id, name, like, new_id=self.opened.new_id)
            for parameter, text in own.items():
                family = edits.set_value(family, self.id, self._parameter(parameter), text, row)
            return family

        self.apply(f"new configuration {name}", change)

    def row_says(self, row: str, **said: str) -> None:
        """What is said of a configuration: its number, note, material, colour.

        Raises:
            UserFault: another one has the number; it is no colour; no such property.
        """
        unknown = next((k for k in said if k not in edits.SAID), None)
        if unknown is not None:
            raise UserFault(f"a configuration has no “{unknown}”", self.name, "it has " + ", ".join(edits.SAID))

        def change(family: r.Family) -> r.Family:
            for field, text in said.items():
                family = edits.set_said(family, self.id, self.cell(row), field, text)
            return family

        self.apply(f"{row}: {', '.join(said)}", change)

    def _parameter(self, name: str) -> str:
        found = next((p.id for p in self.record.parameters if p.name == name), None)
        if found is None:
            known = ", ".join(p.name for p in self.record.parameters) or "none yet"
            raise UserFault(f"there is no parameter “{name}”", self.name, f"parameters are {known}")
        return found

    def guard(self, name: str, value: str, within: str = "") -> None:
        """Watch a value: every impact says first when it moves from what it is now in any configuration.

        Args:
            within: how far it may move; "" for not at all.
        """
        family = self.opened.family
        rows = scopes.scopes_of(family, self.record)
        seen = self.opened.known(*(Node("value", at, p.id) for at in rows for p in self.record.parameters))
        bound = names.bind(family, self.record, value, None)
        made = r.Guard(id=self.opened.new_id(), name=name, value=bound)
        self.apply(f"guard {name}", lambda f: checks.guard(f, seen, self.id, made, within))

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


class Table(Document):
    """A table of parameters."""

    def link(
        self,
        name: str,
        file: str,
        columns: Mapping[str, str],
        rows: Mapping[str, str],
        name_column: str = "Name",
        unit_column: str = "",
    ) -> None:
        """Let a spreadsheet drive values: what it says now is what they say already.

        Args:
            file: relative to the family's folder.
            columns: heading of the column behind each size, "" for the common value.
            rows: its name in the file behind each parameter, by name.
        """
        cells = {find_configuration(self.opened.family, self.id, k) if k else "": c for k, c in columns.items()}
        made = r.Link(
            name=name, file=file, name_column=name_column, unit_column=unit_column, columns=cells,
            rows={self._parameter(k): there for k, there in rows.items()},
        )  # fmt: skip
        links = {**self.record.links, self.opened.new_id(): made}
        self.apply(f"link {name}", lambda f: edits.put(f, edits.replace(edits.document(f, self.id), links=links)))


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
        key = self.opened.new_id()
        name = name or names.free_name("Outline", [o.name for o in self.model.build])
        axis: Any = along or ("y" if plane.item == "right" else "x")
        made = r.Sketch(id=key, name=name, plane=plane, along=axis)
        self.apply(f"new sketch {name}", lambda f: edits.add_operation(f, self.id, made))
        return Sketch(self, key)

    def _seen(self, source: Document, among: Document | None) -> r.Context | None:
        """Through which assembly, in the alternate that it is looked at in, a source is seen."""
        if among is None:
            return None
        own = "" if among.id == self.id else self.id
        found = surroundings.context_of(self.opened.family, among.id, source.id, own, among.at.alternate)
        if found is None:
            raise UserFault(f"{among.name} does not place {source.name}", self.name, "place it there first")
        return found

    def take(self, name: str, source: Document, among: Document | None = None, **things: Any) -> dict[str, Named]:
        """Take things of another document, as one feed; they follow it.

        Args:
            among: an assembly that places both, in one alternate: things are taken as they stand there. None takes them as
                the source has them.
            things: curves, regions and faces of the source, or the names of its datums.

        Returns:
            What stands for each here, by keyword.

        Raises:
            UserFault: the name is taken, or something is not of the source.
        """
        offers = [offered(source, thing, key) for key, thing in things.items()]
        seen = self.opened.known(*witnesses(source.at, offers))
        apart, through = self.opened.new_id, self._seen(source, among)
        self.apply(
            f"take {name}",
            lambda f: feeding.take(f, seen, self.at, source.at, offers, name, context=through, make_id=apart),
        )
        feed = next(f for f in self.model.feeds.values() if f.name == name)
        return {key: Named(r.Reference(item=socket)) for key, socket in zip(things, feed.sockets, strict=True)}

    def take_whole(self, layout: Document) -> None:
        """Take a layout whole, as the common frame: seen behind, to snap to and to trace."""
        self.apply(
            f"take {layout.name} whole", lambda f: surroundings.take_whole(f, self.id, layout.id, self.opened.new_id)
        )

    def underlay(
        self,
        name: str,
        file: str,
        pixels: tuple[int, int],
        width: str,
        on: Any = "front",
        at: tuple[float, float] | None = None,
        opacity: float = 0.5,
    ) -> Operation:
        """A picture on a plane, its middle over the plane's origin unless it is said where.

        Args:
            file: its name in the family's folder of pictures; pixels: its size.
            at: where its lower left corner lies, mm; opacity: from 0 to 1.
        """
        plane, key = the_name(self, on, "plane"), self.opened.new_id

        def change(family: r.Family) -> r.Family:
            family = underlays.add(family, self.id, name, file, pixels, plane, width, make_id=key)
            made = edits.model(family, self.id).build[-1].id
            said = {"opacity": opacity} if at is None else {"opacity": opacity, "at": at}
            return underlays.change(family, self.id, made, **said)

        self.apply(f"new picture {name}", change)
        return self.operation(name)

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
            self.apply(f"new datum {datum.name}", lambda f: datums.store(f, self.id, datum, make_id=self.opened.new_id))
            return Operation(self, datum.id)
        record, body_name = operation_said(self, kind, name, blanks)
        record = switch_said(self, record, off)
        if isinstance(record, Trim) and "pieces" in blanks:
            record = with_pieces(self, record, blanks["pieces"])
        self.apply(
            f"new {record.name}", lambda f: building.store(f, self.id, record, "", body_name, self.opened.new_id)
        )
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

    def holes(self) -> list[HoleRow]:
        """The holes of its bodies, or of all that it places, with what is known of them."""
        of = holes.of_assembly if isinstance(self.record, r.Assembly) else holes.of_document
        return of(self.evaluation(), self.at)

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
