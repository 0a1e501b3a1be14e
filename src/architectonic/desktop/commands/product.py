"""The plan of the product, the common frame, and parts started in place."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from functools import partial

from architectonic.base.places import taken_apart
from architectonic.describe.words.candidates import points_of
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk, shown_scope
from architectonic.desktop.product.plan import PlanCanvas
from architectonic.family.records import STANDARD_PLANES, AnyOperation, Assembly, Datum, Family, Model, Sketch
from architectonic.family.scopes import InPlace, Scope
from architectonic.session.assembly import surroundings
from architectonic.session.feeds.feeding import Offer
from architectonic.session.picking import picked
from architectonic.session.product import planning
from architectonic.session.product.planning import Start

SHARED = "the shared origin"


class PlanCommands:
    """Callbacks about planned and placed documents."""

    def __init__(
        self,
        desk: Desk,
        prompt: Prompt,
        canvas: PlanCanvas,
        show: Callable[[str], object],
        feed: Callable[[], object],
    ) -> None:
        self.desk, self.prompt, self.canvas, self.show_tab, self.feed = desk, prompt, canvas, show, feed

    def actions(self) -> list[Action]:
        """The actions about what assemblies place."""
        tree, planned, line = self.canvas.tree, self._planned, self._line
        return [
            Action("plan.part", "Plan a part", partial(tree.add, "part"), planned, short="Part below", tells="A part below the chosen entry.", wants="wants the plan"),
            Action("plan.assembly", "Plan an assembly", partial(tree.add, "assembly"), planned, short="Assembly below", tells="An assembly below the chosen entry.", wants="wants the plan"),
            Action("plan.inside", "Plan a part inside the chosen entry", partial(tree.add, "part", True), line, short="Part inside", tells="A part inside the chosen entry.", wants="wants an entry that holds others"),
            Action("plan.assign", "Assign curves and planes to the chosen entry…", self.assign, line, short="Assign…", tells="Which curves and planes of the layout it takes.", wants="wants a chosen entry"),
            Action("plan.open", "Open the chosen entry", self.open, line, short="Open", tells="The document of the chosen entry.", wants="wants a chosen entry"),
            Action("frame.take", "Take a layout whole, as common frame…", self.take_whole, self._can_take, menu="document", short="Common frame…", also=("skeleton", "layout"), tells="All of a layout at once, where it stands.", wants="wants a part or assembly"),
            Action("part.here", "New part here…", self.part_here, self._in_assembly, short="New part here…", also=("in context",), tells="A new part that takes what is picked.", wants="wants a body or an assembly"),
            Action("view.context", "Look at this part among its neighbours", self.look_among, self._has_neighbours, menu="view", short="Neighbours", tells="The other parts of an assembly, behind it.", wants="wants a part of an assembly"),
        ]  # fmt: skip

    def _in_assembly(self) -> bool:
        return isinstance(self.desk.main.document, Assembly)

    def _planned(self) -> bool:
        return self._in_assembly() and self.canvas.isVisible()

    def _line(self) -> bool:
        return self._planned() and self.canvas.tree.line() is not None

    # --- plan -----------------------------------------------------------------------------------------

    def open(self) -> None:
        """Show the chosen entry's document among its neighbours."""
        line = self.canvas.tree.line()
        if line is not None:
            self.show_in(line.document, self.canvas.tree.top)

    def show_in(self, document: str, assembly: str) -> None:
        """Show a document with an assembly around it."""
        self.desk.show(document)
        self.desk.main.context = assembly
        self.desk.main.changed.emit()
        self.desk.update()

    def assign(self) -> None:
        """Take curves, regions and planes of a layout into the chosen entry."""
        line = self.canvas.tree.line()
        if line is not None:
            self.show_in(line.document, self.canvas.tree.top)
            self.feed()

    def _layouts(self) -> list[str]:
        document = self.desk.main.document
        if not isinstance(document, Model):
            return []
        known = surroundings.frames_of(self.desk.family, document.id)
        found = self.desk.family.documents.values()
        return [d.name for d in found if d.kind == "layout" and d.id not in known and d.id != document.id]

    def _can_take(self) -> bool:
        return bool(self._layouts())

    def take_whole(self) -> None:
        """Ask which layout, and whether all that stands below takes it too."""
        document = self.desk.main.document
        assert document is not None
        below = isinstance(document, Assembly) and bool(document.instances)
        key = document.id

        def done(name: str, reach: str = "") -> bool:
            def edit(family: Family) -> Family:
                layout = next(d.id for d in family.documents.values() if d.name == name)
                every = [key, *(line.document for line in planning.lines(family, key))] if "below" in reach else [key]
                for k in dict.fromkeys(every):
                    if layout not in surroundings.frames_of(family, k):
                        family = surroundings.take_whole(family, k, layout)
                return family

            return self.desk.apply(f"{name} is the common frame", edit)

        fields: list[tuple[str, str | list[str] | Callable[..., object]]] = [("layout", self._layouts())]
        if below:
            fields.append(("taken by", ["this and all that stands below it", "this alone"]))
        self.prompt.ask("Common frame", fields, done)  # type: ignore[arg-type]

    # --- parts in place -------------------------------------------------------------------------------

    def _picked(self, kind: str, seen: str) -> Iterator[tuple[str, InPlace, Offer]]:
        """What is picked of neighbours: the neighbour's name, its body in place, and the face or edge."""
        main, family = self.desk.main, self.desk.family
        for what, body, label in main.picks:
            mesh = main.mesh(body)
            found = picked.witness(mesh, what, label) if mesh is not None else None
            if what == kind and found is not None and found.kind == seen:
                yield family.documents[body.document].name, body, Offer(kind, body.body, label, found)  # type: ignore[arg-type]

    def _offered(self, sources: Iterable[str]) -> Iterator[tuple[str, Scope, AnyOperation]]:
        """Operations of some documents: the document's name, its scope, and the operation."""
        for source in sources:
            document = self.desk.family.documents[source]
            for operation in document.build if isinstance(document, Model) else ():
                yield document.name, shown_scope(self.desk, source), operation

    def _frames(self) -> list[str]:
        return surroundings.frames_of(self.desk.family, self.desk.main.document_id)

    def _starts(self) -> dict[str, Start]:
        """What a part can start on: picked flat faces, planes of the common frame and of the assembly, standard ones."""
        found: dict[str, Start] = {}
        for name, body, face in self._picked("face", "plane"):
            found[f"the picked face of {name}"] = Start("", body.at, face, path=body.path)
        for name, there, operation in self._offered([self.desk.main.document_id, *self._frames()]):
            if isinstance(operation, Datum) and operation.gives == "plane":
                found[f"{operation.name} of {name}"] = Start("", there, Offer("plane", operation.id))
        order = [*STANDARD_PLANES]
        order.sort(key=lambda n: n != "top")
        return {**found, **{name: Start(name) for name in order}}

    def _points(self) -> dict[str, Start]:
        """Where its first sketch can have its origin: chosen points first, then those of the frame."""
        curves = self.desk.main.curves
        chosen: dict[str, Start] = {}
        found: dict[str, Start] = {}
        for name, body, edge in self._picked("edge", "circle"):
            chosen[f"the centre of the picked edge of {name}"] = Start("", body.at, edge, path=body.path)
        for name, there, operation in self._offered(self._frames()):
            if isinstance(operation, Datum) and operation.gives == "point":
                found[f"{operation.name} of {name}"] = Start("", there, Offer("vertex", operation.id))
            elif isinstance(operation, Sketch):
                for words, reference in points_of(operation):
                    curve, part = taken_apart(reference.label)
                    first = reference.label in curves or curve in curves
                    start = Start("", there, Offer("curve", operation.id, curve), part)
                    (chosen if first else found)[f"{words}, {name}"] = start
        return {**chosen, **found}

    def part_here(self) -> None:
        """Ask for a name and what it starts on; the part opens with its neighbours around it."""
        desk, at, evaluation = self.desk, self.desk.main.at, self.desk.evaluation
        assert at is not None
        starts, points = self._starts(), self._points()
        number = planning.next_number(desk.family, at.document)

        def done(name: str, numbered: str, on: str, origin: str) -> bool:
            made: list[tuple[str, str]] = []

            def edit(family: Family) -> Family:
                assert evaluation is not None
                family, part, sketch = planning.new_part_here(
                    family, evaluation, at, name, numbered, starts[on], points.get(origin)
                )
                made.append((part, sketch))
                return family

            if not desk.apply(f"new part {name} here", edit):
                return False
            part, sketch = made[-1]
            self.show_in(part, at.document)
            desk.main.operation = sketch
            desk.main.selection_changed.emit()
            self.show_tab("Sketch")
            return True

        where = [*points, SHARED] if self.desk.main.curves and points else [SHARED, *points]
        fields: list[tuple[str, str | list[str]]] = [("name", "New part"), ("number", number)]
        fields += [("starts on", list(starts)), ("its origin at", where)]
        self.prompt.ask("New part here", fields, done)

    def _has_neighbours(self) -> bool:
        main = self.desk.main
        return main.document is not None and bool(surroundings.assemblies_with(self.desk.family, main.document_id))

    def look_among(self) -> None:
        """Show the neighbours of this part behind it, or let them go again."""
        main = self.desk.main
        around = surroundings.assemblies_with(self.desk.family, main.document_id)
        order = ["", *around]
        main.context = order[(order.index(main.context) + 1) % len(order)] if main.context in order else ""
        main.backdrop = True
        main.changed.emit()
        self.desk.update()
        name = self.desk.family.documents[main.context].name if main.context else ""
        self.desk.told.emit(f"Pane among the parts of {name}; B hides them." if name else "Pane alone.", False)
