"""What the window can do, as actions over the workbench."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Literal

from PyQt6.QtWidgets import QFileDialog, QWidget

from architectonic.base.ids import new_id
from architectonic.desktop.actions import Action, Registry
from architectonic.desktop.drawtools import CONSTRAINTS, TOOLS, DrawTools
from architectonic.desktop.familycommands import FamilyCommands
from architectonic.desktop.prompt import Prompt
from architectonic.desktop.sentencecard import SentenceCard, new_extrude, new_fillet
from architectonic.desktop.workbench import Workbench
from architectonic.family import edits
from architectonic.family.records import Datum, Extrude, Family, Fillet, Model, Reference, Sketch
from architectonic.session import export


class Commands:
    """Callbacks of the actions; they ask through the prompt card and change only through the workbench."""

    def __init__(self, bench: Workbench, window: QWidget, prompt: Prompt, card: SentenceCard, tools: DrawTools) -> None:
        self.families = FamilyCommands(bench, window, prompt)
        self.bench, self.window, self.prompt, self.card, self.tools = bench, window, prompt, card, tools

    def registry(self) -> Registry:
        """All of them."""
        bench = self.bench

        def has() -> bool:
            return bench.main.document is not None

        def in_assembly() -> bool:
            return bench.main.document is not None and bench.main.document.kind == "assembly"

        def drawing(tool: str) -> Callable[[], None]:
            return lambda: self.tools.start(tool)

        def making(kind: str) -> Callable[[], None]:
            return lambda: self.new_document(kind)

        return Registry(
            [
                Action("family.new", "New family…", self.families.new_family, menu="family"),
                Action("family.open", "Open a family…", self.families.open_family, keys="Ctrl+O", menu="family"),
                Action("family.demo", "Open a fresh copy of the demo", self.families.open_demo, menu="family"),
                Action("family.save", "Save", self.families.save, lambda: bench.session.unsaved, "Ctrl+S", "family"),
                Action("edit.undo", "Undo", bench.undo, lambda: bool(bench.session.history.undo_label), "Ctrl+Z", "edit"),
                Action("edit.redo", "Redo", bench.redo, lambda: bool(bench.session.history.redo_label), "Ctrl+Shift+Z", "edit"),
                *[Action(f"document.new_{kind}", f"New {kind}…", making(kind), menu="document")
                  for kind in edits.KINDS],
                Action("document.rename", "Rename this document…", self.rename_document, has, menu="document"),
                Action("document.delete", "Delete this document", self.delete_document, has, menu="document"),
                Action("document.export", "Export as STEP…", self.export_step, self.has_bodies, "Ctrl+E", "document"),
                Action("value.new", "New value…", self.new_value, has),
                Action("rule.new", "New rule…", self.new_rule, has),
                Action("instance.new", "Place…", self.place_instance, in_assembly),
                Action("sketch.new", "New sketch…", self.new_sketch, self._is_model),
                *[Action(f"sketch.{t}", TOOLS[t][0], drawing(t), self._has_sketch) for t in TOOLS],
                Action("sketch.dimension", "Dimension…", self.dimension, lambda: bool(bench.main.curves)),
                Action("sketch.constrain", "Constrain…", self.constrain, lambda: bool(bench.main.curves)),
                Action("operation.extrude", "Extrude the chosen regions…", self.extrude, lambda: self._can_extrude()),
                Action("operation.fillet", "Round the picked edges…", self.fillet, self._has_edges),
                Action("operation.edit", "Edit this operation…", self.edit_operation, lambda: self._chosen() is not None),
                Action("operation.rename", "Rename this operation…", self.rename_operation, lambda: bool(bench.main.operation)),
                Action("operation.delete", "Delete this operation", self.delete_operation, lambda: bool(bench.main.operation)),
            ]
        )  # fmt: skip

    # --- documents ------------------------------------------------------------------------------------

    def new_document(self, kind: str) -> None:
        """Ask for a name."""

        def done(name: str) -> bool:
            made: list[str] = []

            def edit(family: Family) -> Family:
                family, key = edits.add_document(family, kind, name)
                made.append(key)
                return family

            ok = self.bench.apply(f"new {kind} {name}", edit)
            if ok:
                self.bench.show(made[-1])
            return ok

        self.prompt.ask(f"New {kind}", [("name", f"My {kind}")], done)

    def rename_document(self) -> None:
        """Ask for the new name."""
        document = self.bench.main.document
        if document is None:
            return
        key, old = document.id, document.name
        self.prompt.ask(
            f"Rename {old}",
            [("name", old)],
            lambda name: self.bench.apply(f"{old} is now {name}", lambda f: edits.rename_document(f, key, name)),
        )

    def delete_document(self) -> None:
        """Delete at once (undo brings it back), telling who took from it."""
        document = self.bench.main.document
        if document is None:
            return
        users = sorted({u.split(" / ")[0] for u in self.bench.session.users(document.id)})
        if self.bench.apply(f"delete {document.name}", lambda f: edits.delete_document(f, document.id)) and users:
            self.bench.told.emit(
                f"{document.name} is deleted; {', '.join(users)} took from it. Ctrl+Z brings it back.", True
            )

    def has_bodies(self) -> bool:
        """Whether the shown document can be exported."""
        at, evaluation = self.bench.main.at, self.bench.settled
        return at is not None and evaluation is not None and bool(export.shapes_of(evaluation, at))

    def export_step(self) -> None:
        """Ask for a file."""
        document = self.bench.main.document
        if document is None:
            return
        file, _ = QFileDialog.getSaveFileName(
            self.window, "Export as STEP", f"{document.name}.step", "STEP (*.step *.stp)"
        )
        if file:
            self.write_step(Path(file))

    def write_step(self, file: Path) -> bool:
        """Export the shown document in the shown configuration."""
        at, evaluation = self.bench.main.at, self.bench.settled
        if at is None or evaluation is None:
            return False
        ok = self.bench.attempt(lambda: export.export(self.bench.engine, evaluation, at, file))
        if ok:
            bad = [i for i in self.bench.attention if i.document == at.document]
            self.bench.told.emit(f"Wrote {file}" + (f"; {len(bad)} of its operations fail" if bad else ""), bool(bad))
        return ok

    # --- items ----------------------------------------------------------------------------------------

    def new_value(self) -> None:
        """Ask for name, value and note."""
        key = self.bench.main.document_id

        def done(name: str, value: str, note: str) -> bool:
            return self.bench.apply(
                f"new value {name}", lambda f: edits.add_parameter(f, key, name, value, _quantity(value), note=note)
            )

        self.prompt.ask("New value", [("name", "length"), ("value", "10 mm"), ("note", "")], done)

    def new_rule(self) -> None:
        """Ask for a comparison and what to say when it does not hold."""
        key = self.bench.main.document_id

        def done(name: str, text: str, message: str) -> bool:
            return self.bench.apply(f"new rule {name}", lambda f: edits.add_rule(f, key, name, text, message))

        self.prompt.ask("New rule", [("name", "wall is thick enough"), ("holds", ""), ("else say", "")], done)

    def place_instance(self) -> None:
        """Ask which part or assembly."""
        key = self.bench.main.document_id
        names = [d.name for d in self.bench.family.documents.values() if d.kind in ("part", "assembly") and d.id != key]

        def done(name: str) -> bool:
            return self.bench.apply(
                f"place {name}", lambda f: edits.add_instance(f, key, edits.find_document(f, name).id)
            )

        self.prompt.ask("Place", [("part or assembly", names[0] if names else "")], done)

    # --- sketches -------------------------------------------------------------------------------------

    def _is_model(self) -> bool:
        return isinstance(self.bench.main.document, Model)

    def _has_sketch(self) -> bool:
        return self.tools.canvas.sketch is not None

    def new_sketch(self) -> None:
        """Ask for a name and a plane: front, top, right, or the name of a datum."""
        document = self.bench.main.document
        assert isinstance(document, Model)
        planes = {"front": "front", "top": "top", "right": "right"}
        planes |= {o.name: o.id for o in document.build if isinstance(o, Datum)}
        key = document.id

        def done(name: str, plane: str) -> bool:
            item = next((v for k, v in planes.items() if k.lower() == plane.lower()), "")
            if not item:
                self.bench.told.emit(f"There is no plane “{plane}” here; planes are {', '.join(planes)}.", True)
                return False
            along: Literal["x", "y"] = "y" if item == "right" else "x"
            made = Sketch(id=new_id(), name=name, plane=Reference(item=item), along=along)
            ok = self.bench.apply(f"new sketch {name}", lambda f: edits.add_operation(f, key, made))
            if ok:
                self.bench.main.operation = made.id
                self.bench.main.selection_changed.emit()
            return ok

        self.prompt.ask("New sketch", [("name", f"Sketch {len(document.build) + 1}"), ("on the plane", "top")], done)

    def dimension(self) -> None:
        """Ask for the value of the chosen curves."""
        self.prompt.ask("Dimension", [("value", "20 mm")], self.tools.dimension)

    def constrain(self) -> None:
        """Ask for a constraint of the chosen curves."""

        def done(kind: str) -> bool:
            if kind not in CONSTRAINTS:
                self.bench.told.emit(f"Constraints are {', '.join(CONSTRAINTS)}.", True)
                return False
            return self.tools.constrain(kind)

        first = "parallel" if len(self.bench.main.curves) > 1 else "horizontal"
        self.prompt.ask("Constrain", [(f"{len(self.bench.main.curves)} chosen, to be", first)], done)

    def _can_extrude(self) -> bool:
        document = self.bench.main.document
        return document is not None and document.kind == "part" and bool(self.bench.main.regions[1])

    def _has_edges(self) -> bool:
        document = self.bench.main.document
        return (
            document is not None and document.kind == "part" and any(k == "edge" for k, _, _ in self.bench.main.picks)
        )

    def _chosen(self) -> Extrude | Fillet | None:
        """The chosen operation, if it has a sentence to edit."""
        build = getattr(self.bench.main.document, "build", ())
        return next((o for o in build if o.id == self.bench.main.operation and isinstance(o, (Extrude, Fillet))), None)

    def extrude(self) -> None:
        """Open the sentence of a new extrude."""
        document = self.bench.main.document
        assert isinstance(document, Model)
        sketch = edits.operation(self.bench.family, document.id, self.bench.main.regions[0])
        assert isinstance(sketch, Sketch)
        self.card.start(new_extrude(document, sketch, list(self.bench.main.regions[1])), True)

    def fillet(self) -> None:
        """Open the sentence of a new fillet."""
        document = self.bench.main.document
        assert isinstance(document, Model)
        self.card.start(new_fillet(document, self.bench.main.picks), True)

    def edit_operation(self) -> None:
        """Open the sentence of the chosen operation."""
        record = self._chosen()
        if record is not None:
            self.card.start(record, False)

    def rename_operation(self) -> None:
        """Ask for the new name."""
        document, item = self.bench.main.document_id, self.bench.main.operation
        entries = [*getattr(self.bench.main.document, "build", ()), *getattr(self.bench.main.document, "instances", ())]
        old = next((e.name for e in entries if e.id == item), "")
        self.prompt.ask(
            f"Rename {old}",
            [("name", old)],
            lambda name: self.bench.apply(f"{old} is now {name}", lambda f: edits.rename_item(f, document, item, name)),
        )

    def delete_operation(self) -> None:
        """Delete at once, telling who took from it."""
        document, item = self.bench.main.document_id, self.bench.main.operation
        users = self.bench.session.users(document, item)
        if self.bench.apply("delete an operation", lambda f: edits.delete_item(f, document, item)):
            self.bench.main.operation = ""
            if users:
                self.bench.told.emit(f"Deleted; {', '.join(users)} took from it. Ctrl+Z brings it back.", True)


def _quantity(text: str) -> str:
    """The quantity that a typed value has by its units; a length when it says nothing."""
    from architectonic.base.errors import UserFault
    from architectonic.quantities.compiled import compile_expression
    from architectonic.quantities.units import NUMBER, QUANTITIES

    try:
        kind = compile_expression(text, {}).kind
    except UserFault:
        return "length"
    return next((q for q, d in QUANTITIES.items() if d == kind and d != NUMBER), "length")
