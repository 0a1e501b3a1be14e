"""Checks of the shown part: walls, draft, corners, holes, clearances; in colour and as a list, each can become a rule."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from architectonic.base.cancel import Watch
from architectonic.base.errors import UserFault
from architectonic.check import holes
from architectonic.describe.measured import Gauged, SurveyPlace
from architectonic.describe.references.measurement import passing
from architectonic.describe.references.relations import Relations
from architectonic.describe.references.surveys import SURVEYS
from architectonic.describe.results import Node, Vector
from architectonic.describe.words.blanks import counted
from architectonic.describe.words.sentences import face_words
from architectonic.desktop.body.canvas import BodyCanvas
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.listcard import ListCard
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.family import names
from architectonic.family.records import Measures, Reference
from architectonic.family.scopes import InPlace, Scope
from architectonic.quantities.compiled import complete, fixed_value
from architectonic.session.model import surveying
from architectonic.session.model.surveying import Surveyed, Treatment
from architectonic.session.open import queries
from architectonic.session.picking import picked
from architectonic.session.picking.subject import Pick

WAYS = {"z": "z", "x": "x", "y": "y"}
FIRST: dict[Measures, str] = {
    "wall": "1.2 mm", "wall by ball": "1.2 mm", "draft": "1 deg", "inside radius": "3 mm", "curvature": "5 mm", "hole to edge": "2 mm", "hole to hole": "2 mm", "deviation": "0.1 mm",
}  # fmt: skip
"""Limits that are offered first (common practice for small moulded and milled parts)."""
CALLED: dict[Measures, str] = {
    "wall": "thinnest", "wall by ball": "thinnest", "draft": "least_draft", "inside radius": "inside_radius", "curvature": "least_radius",
    "hole to edge": "hole_margin", "hole to hole": "hole_gap", "deviation": "deviation",
}  # fmt: skip
"""What a value is called when it is kept."""


class CheckCommands:
    """Callbacks about checks.

    Args:
        make: opens the sentence of a new operation with some blanks filled.
    """

    def __init__(
        self,
        desk: Desk,
        prompt: Prompt,
        cards: ListCard,
        canvas: BodyCanvas,
        make: Callable[[str, dict[str, object]], object],
    ) -> None:
        self.desk, self.prompt, self.cards, self.canvas, self.make = desk, prompt, cards, canvas, make
        desk.family_changed.connect(self._on_changed)

    def actions(self) -> list[Action]:
        """The actions that check."""
        part = self._can
        wants = "wants a part with bodies"
        return [
            Action("check.wall", "Check wall thickness…", partial(self.ask, "wall"), part, short="Walls…", also=("thickness", "thin", "rays"), tells="Every place by colour, the thinnest listed: square to the surface.", wants=wants),
            Action("check.ball", "Check wall thickness by balls…", partial(self.ask, "wall by ball"), part, short="Walls by balls…", also=("thickness", "inscribed ball", "sphere"), tells="By the largest ball that fits inside: also across corners.", wants=wants),
            Action("check.draft", "Check draft…", partial(self.ask, "draft"), part, short="Draft…", also=("mould", "taper"), tells="Where faces lean less than they should to come out of a mould.", wants=wants),
            Action("check.corners", "Check inside corners for a cutter…", partial(self.ask, "inside radius"), part, short="Corners…", also=("milling", "sharp", "radius"), tells="Corners that a cutter does not get into.", wants=wants),
            Action("check.radius", "Check the roundness of faces…", partial(self.ask, "curvature"), part, short="Roundness…", also=("curvature", "smallest radius", "minimum radius"), tells="The smallest radius everywhere by colour, the sharpest places listed.", wants=wants),
            Action("check.deviation", "Check the deviation from another body…", partial(self.ask, "deviation"), self._has_two, short="Deviation…", also=("compare", "distance of surfaces", "fit"), tells="How far faces lie from another body or surface, by colour.", wants="wants two bodies"),
            Action("check.margin", "Check holes to edges…", partial(self.ask, "hole to edge"), part, short="Hole to edge…", also=("edge distance",), tells="What is left between holes and the edges around them.", wants=wants),
            Action("check.gap", "Check holes to holes…", partial(self.ask, "hole to hole"), part, short="Hole to hole…", also=("web", "ligament"), tells="What is left between holes.", wants=wants),
            Action("check.bodies", "Check bodies for clearance…", self.bodies, self._has_two, short="Clearance…", also=("interference", "overlap", "gap", "clash"), tells="How near bodies come to each other, and which run into each other.", wants="wants two bodies"),
            Action("check.hand", "Check the hand of threads", self.threads, part, short="Threads", also=("left hand", "right hand"), tells="Threads that are left-handed, or mirrored.", wants=wants),
            Action("check.clear", "Colours of the part again", self.clear, lambda: self.canvas.opening.surveys.found is not None, short="Own colours", tells="Ends the check.", wants="wants a check"),
        ]  # fmt: skip

    def _can(self) -> bool:
        document = self.desk.main.document
        return document is not None and document.makes_bodies and bool(self.canvas.meshes)

    def _has_two(self) -> bool:
        return self._can() and len([1 for b, _, _ in self.canvas.meshes if not b.path]) > 1

    def _on_changed(self) -> None:
        """What was found is of the part as it was."""
        if self.canvas.opening.surveys.found is not None:
            self.canvas.opening.surveys.show(None)
            self.desk.told.emit("The part has changed: check it again to see its colours.", False)

    def clear(self) -> None:
        """The bodies' own colours."""
        self.canvas.opening.surveys.show(None)

    # --- surveys --------------------------------------------------------------------------------------

    def ask(self, what: Measures) -> None:
        """Ask for the limit, and the direction where there is one."""
        kind, at = SURVEYS[what], self.desk.main.at
        if at is None:
            return
        fields: list[tuple[str, str | list[str]]] = [(kind.bound, FIRST[what])]
        seconds = dict(WAYS) if kind.about else self._others(at) if kind.against else {}
        if seconds:
            fields.append((kind.about or kind.against, list(seconds)))

        def done(typed: str, way: str = "") -> bool:
            unit = "deg" if kind.quantity == "angle" else "mm"
            try:
                limit = fixed_value(complete(typed, kind.quantity, unit), kind.quantity)
            except UserFault as fault:
                self.desk.told.emit(fault.sentence, True)
                return False
            if limit <= 0:
                self.desk.told.emit("A limit is above zero.", True)
                return False
            self.run(what, limit, complete(typed, kind.quantity, unit), Reference(item=seconds[way]) if way else None)
            return True

        self.prompt.ask(kind.title, fields, done, "Check")

    def _others(self, at: Scope) -> dict[str, str]:
        """Bodies by name that others can be held against: those that are not picked first."""
        assert self.desk.settled is not None
        document, picked_ = self.desk.family.documents[at.document], {p.body.body for p in self.desk.main.picks}
        known = surveying.bodies_in(self.desk.settled, at)
        return {names_of(document, b): b for b in sorted(known, key=lambda b: b in picked_)}

    def run(self, what: Measures, limit: float, typed: str, second: Reference | None = None) -> None:
        """Survey the shown bodies beside the event loop, then colour them and list the worst places."""
        at, settled = self.desk.main.at, self.desk.settled
        if at is None or settled is None:
            return
        against = second.item if second is not None and SURVEYS[what].against else ""
        bodies = [b for b in self._bodies(at) if b != against]
        if not bodies:
            self.desk.told.emit("A body is held against another one: pick one that it is not.", True)
            return

        def work(watch: Watch) -> Surveyed:
            found: dict[str, object] = {}
            one: Surveyed | None = None
            for k, body in enumerate(bodies):
                watch.at(k / len(bodies))
                one = surveying.survey(settled.family, at, what, [body], second)
                found |= one.of
            assert one is not None
            return one._replace(of=found)  # type: ignore[arg-type]

        self.desk.work.run(SURVEYS[what].title, work, partial(self._show, limit, typed))

    def _bodies(self, at: Scope) -> list[str]:
        """The picked bodies, all when none is picked."""
        assert self.desk.settled is not None
        known = surveying.bodies_in(self.desk.settled, at)
        wanted = {p.body.body for p in self.desk.main.picks if p.body.at == at}
        return [b for b in known if b in wanted] or known

    def _show(self, limit: float, typed: str, found: Surveyed) -> None:
        kind = SURVEYS[found.what]
        self.canvas.opening.surveys.show(found, limit)
        places = found.places
        beyond = found.beyond(limit)
        document = self.desk.family.documents[found.at.document]
        rows = [
            (
                (
                    surveying.figure(found.what, p.value),
                    names_of(document, b),
                    " ".join(f"{c:.1f}" for c in p.at),
                    self._words(b, p.label),
                    self._words(b, p.other),
                ),
                partial(self._go, b, p),
            )
            for b, p in places
        ]
        if not places:
            self.cards.start(f"{kind.title}: {kind.nothing}", (), [])
            return
        extreme = f"{'most' if kind.most else 'least'} {surveying.figure(found.what, places[0][1].value)}"
        side = "above" if kind.most else "below"
        told = f"{counted(len(beyond), 'place')} {side} {typed}" if beyond else f"nowhere {side} {typed}"
        choices: list[tuple[str, Callable[[], object]]] = [
            (f"Make it a rule: {kind.bound} {typed}…", partial(self._keep, found, typed))
        ]
        offered = self._treatment(found, limit)
        if offered is not None:
            body, treatment = offered
            choices.append(
                (f"{treatment.word} the inside too: {treatment.size}", partial(self._treat, found.at, body, treatment))
            )
        self.cards.start(
            f"{kind.title}: {extreme}, {told}", (kind.figure, "body", "at x y z", "on", "opposite"), rows, choices
        )

    def _words(self, body: str, label: str) -> str:
        """What a face or edge is, in words."""
        document = self.desk.main.document
        return face_words(document, label) if label and document is not None else ""

    def _go(self, body: str, place: SurveyPlace) -> None:
        """Light a place, and pick what it is on."""
        at = self.desk.main.at
        if at is None:
            return
        self.canvas.opening.surveys.chosen = place
        kind = "edge" if place.label.startswith("(") else "face"
        self.desk.main.pick([Pick(kind, InPlace((), at, body), place.label)])
        self.canvas.update()

    def _treatment(self, found: Surveyed, limit: float) -> tuple[str, Treatment] | None:
        """What would even out the worst place that is treated on one side only."""
        if found.what not in ("wall", "wall by ball"):
            return None
        for body, place in found.places:
            mesh = self.canvas.mesh(InPlace((), found.at, body))
            made = surveying.treatment_inside(self.desk.family, found, body, place, mesh) if mesh is not None else None
            if made is not None:
                return body, made
        return None

    def _treat(self, at: Scope, body: str, treatment: Treatment) -> None:
        """Open the sentence of the matching treatment."""
        mesh = self.canvas.mesh(InPlace((), at, body))
        edges = tuple(picked.reference(mesh, body, "edge", e) for e in treatment.edges)
        document = self.desk.family.documents[at.document]
        size = names.bind_quantity(self.desk.family, document, treatment.size, "length", "mm")
        self.make(treatment.kind, {"edges": edges, treatment.field: size})

    def _keep(self, found: Surveyed, typed: str) -> None:
        """Ask for a name, then keep the worst place as a value with a rule."""
        document = self.desk.family.documents[found.at.document]
        free = names.free_name(CALLED[found.what], [n for n, _ in names.values_of(document)], "_")

        def done(name: str, limit: str) -> bool:
            return bool(self.desk.apply(f"rule on {name}", lambda f: surveying.as_rule(f, found, name.strip(), limit)))

        title = f"A rule for {document.name}: it is watched in every size"
        self.prompt.ask(title, [("the value is called", free), (SURVEYS[found.what].bound, typed)], done)

    # --- bodies, threads ------------------------------------------------------------------------------

    def bodies(self) -> None:
        """How near bodies come to each other."""
        at, settled = self.desk.main.at, self.desk.settled
        if at is None or settled is None:
            return
        shown = self._bodies(at)
        if len(shown) < 2:
            shown = surveying.bodies_in(settled, at)
        pairs = [(a, b) for k, a in enumerate(shown) for b in shown[k + 1 :]]
        document = settled.family.documents[at.document]

        def work(watch: Watch) -> list[tuple[float, str, str, tuple[Vector, ...]]]:
            known = settled.value(Node("relations", at, ""))
            over = {frozenset((a, b)): v for a, b, v in known.overlaps} if isinstance(known, Relations) else {}
            found: list[tuple[float, str, str, tuple[Vector, ...]]] = []
            for k, (a, b) in enumerate(pairs):
                watch.at(k / len(pairs))
                if frozenset((a, b)) in over:
                    found.append((-over[frozenset((a, b))], a, b, ()))
                    continue
                node = Node("gauged", at, "", passing("distance", (Reference(item=a), Reference(item=b))))
                value = queries.ask(settled.family, [node]).value(node)
                if isinstance(value, Gauged):
                    found.append((value.value, a, b, value.ends))
            return sorted(found)

        def show(found: list[tuple[float, str, str, tuple[Vector, ...]]]) -> None:
            rows = []
            for value, a, b, ends in found:
                told = (
                    f"run into each other, {-value:.4g} mm³"
                    if value < 0
                    else "touch"
                    if value < 1e-6
                    else f"{value:.4g} mm apart"
                )
                pick = partial(self._pick, at, (a, b), ends)
                rows.append(((names_of(document, a), names_of(document, b), told), pick))
            crossing = sum(v < 0 for v, _, _, _ in found)
            title = (
                f"{counted(len(found), 'pair')} of bodies, {crossing} of them run into each other"
                if crossing
                else f"{counted(len(found), 'pair')} of bodies, none runs into another"
            )
            self.cards.start(title, ("body", "and", "how near"), rows)

        self.desk.work.run("Clearance of bodies", work, show)

    def _pick(self, at: Scope, bodies: tuple[str, ...], ends: tuple[Vector, ...]) -> None:
        """Pick the faces of both bodies that come nearest to each other, so that these are lit and measured between."""
        picks = []
        for number, body in enumerate(bodies):
            mesh = self.canvas.mesh(InPlace((), at, body))
            if mesh is not None and mesh.faces:
                near = picked.face_at(mesh, ends[number]) if len(ends) == 2 else mesh.faces[0]
                picks.append(Pick("face", InPlace((), at, body), near))
        self.desk.main.pick(picks)

    def threads(self) -> None:
        """Threads that are left-handed."""
        at, settled = self.desk.main.at, self.desk.settled
        if at is None or settled is None:
            return
        rows = [r for r in holes.of_document(settled, at) if r.holes.thread]
        left = [r for r in rows if r.holes.hand == "left"]
        told = f"{sum(r.number for r in left)} are left-handed" if left else "all are right-handed"
        title = f"{counted(sum(r.number for r in rows), 'thread')}, {told}" if rows else "It has no threads"
        lines = [
            ((r.holes.name, r.holes.thread, r.holes.hand, str(r.number)), None)
            for r in (*left, *(r for r in rows if r not in left))
        ]
        self.cards.start(title, ("made by", "thread", "hand", "count"), lines)


def names_of(document: object, body: str) -> str:
    """The name of a body."""
    bodies = getattr(document, "bodies", {})
    return bodies[body].name if body in bodies else body
