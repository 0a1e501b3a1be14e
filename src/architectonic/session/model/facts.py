"""Facts: figures of what is picked, of bodies and assemblies, and of chosen curves."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

import msgspec

from architectonic.base.places import curve_of
from architectonic.describe.drawn.readings import figures
from architectonic.describe.references.relations import Relations
from architectonic.describe.results import ModelState, Node, Outcome
from architectonic.describe.words.blanks import counted
from architectonic.describe.words.sentences import face_words, place_words
from architectonic.family import scopes
from architectonic.family.records import MATCH, SELF, Assembly, Context, Datum, Model, Reference, Sketch
from architectonic.family.references import After, Stage
from architectonic.family.scopes import InPlace
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units
from architectonic.session.assembly.figures import assembly_facts
from architectonic.session.model import holefacts, measuring, pathing
from architectonic.session.picking import picked
from architectonic.session.picking.picked import witness
from architectonic.session.picking.subject import Subject

Rows = list[tuple[str, str]]
Answers = Callable[[Iterable[Node]], Mapping[Node, Outcome]]


def things(subject: Subject) -> tuple[Reference, ...]:
    """What is picked, as references that hold for good: faces and edges, then the chosen datum; two at most."""
    found = []
    for kind, body, label in subject.picks:
        own = body.at == subject.at
        stage: Stage = After(after=subject.until) if own and subject.until else "finished"
        of = SELF if own else body.document
        seen = picked.reference(subject.mesh(body), body.body, kind, label, stage, of)
        context = Context(path=(subject.at.document, *body.path)) if body.path else None
        matching = own or scopes.source_scope(subject.family, subject.at, body.document, MATCH) == body.at
        rule = MATCH if matching else body.at.configuration
        found.append(msgspec.structs.replace(seen, context=context, configuration=rule))
    chosen = next((o for o in subject.build if o.id == subject.operation), None)
    if isinstance(chosen, Datum):
        found.append(Reference(item=chosen.id))
    return tuple(found[:2])


def _group(document: Model, body: str) -> str:
    """The heading that a body stands under; those of none come first."""
    return document.bodies[body].group if body in document.bodies else ""


class Facts:
    """Reads the figures off an evaluation; exact ones of what is picked are asked for and may come a moment later.

    Args:
        answers: outcomes of those nodes that are known, the others are asked for.
        before: what was known before, whose figures stand until new ones come.
    """

    def __init__(self, subject: Subject, answers: Answers, before: Evaluation | None = None) -> None:
        self.subject, self.answers, self.before = subject, answers, before

    def rows(self) -> Rows:
        """Label and figure of what is picked, else of the shown document; headings have no figure."""
        at, evaluation = self.subject.at, self.subject.evaluation
        if self.subject.document is None or evaluation is None:
            return []
        rows: Rows = []
        for pick in self.subject.picks:
            rows += self._pick(*pick)
        rows += self._gauged()
        rows += holefacts.operation_rows(self.subject)
        rows += pathing.fact_rows(self.subject)
        rows += self._curves()
        document = self.subject.document
        if isinstance(document, Model) and not isinstance(document, Assembly):
            state = evaluation.value(Node("finished", at, ""))
            bodies = [b.id for b in state.bodies] if isinstance(state, ModelState) else []
            group = ""
            for body in sorted(bodies, key=lambda b: _group(document, b)):
                if _group(document, body) != group:
                    group = _group(document, body)
                    rows.append((f"Group {group}", ""))
                rows += self._body_facts(document, body)
        elif isinstance(document, Assembly):
            rows.append((document.name, ""))
            rows += assembly_facts(evaluation, at)
        return rows

    def _curves(self) -> Rows:
        """Sizes of the chosen curves of a sketch, of three at most, and how many more are chosen."""
        main, rows = self.subject, []
        for sketch in (o for o in main.build if isinstance(o, Sketch)):
            solved = main.value("solve", sketch.id)
            chosen = [k for k in main.curves if solved is not None and k in solved.curves]
            for key in chosen[:3]:
                rows.append((place_words(sketch, key).capitalize(), ""))
                rows += [(word, units.shown(value, "mm", 2)) for word, value in figures(solved.curves[key])]
                if not any(curve_of(p) == key for c in sketch.constraints for p in c.of):
                    rows.append(("Nothing holds it yet", "·"))
            if len(chosen) > 3:
                rows.append((f"and {counted(len(chosen) - 3, 'more curve')}", ""))
        return rows

    def _body_facts(self, document: Model, body: str) -> Rows:
        at, evaluation = self.subject.at, self.subject.evaluation
        assert evaluation is not None
        seen = evaluation.family.documents.get(document.id)  # a preview names bodies that are not stored yet
        node = Node("measure", at, body)
        measured = evaluation.value(node)
        if measured is None and self.before is not None:
            evaluation = self.before  # figures come after the picture: until then those of before
            measured = evaluation.value(node)
        record = seen.bodies.get(body) if isinstance(seen, Model) else None
        rows = [(record.name if record else body, "")]
        if measured is None:
            return rows
        mass = evaluation.value(Node("mass", at, body))
        box = measured["box_mm"]
        if measured["solids"]:
            rows.append(("Volume", f"{measured['volume_mm3'] / 1000:.2f} cm³"))
            behind = record is not None and record.backdrop_only
            told = "not weighed here" if behind else f"{mass:.1f} g" if mass is not None else "no density"
            rows.append(("Mass", told))
        else:
            rows.append(("Surface of", f"{measured['area_mm2'] / 100:.2f} cm²"))
            rows.append(("Free edges", str(measured["free"]) if measured["free"] else "none: it closes"))
        if record and record.material:
            rows.append(("Material", record.material))
        rows.append(("Box", " × ".join(f"{box[i + 3] - box[i]:.1f}" for i in range(3))))
        rows.append(("Faces", str(measured["faces"])))
        if isinstance(seen, Model):
            rows += self._beside(seen, body)
        if mass and any(p.body == self.subject.own(body) for p in self.subject.picks):
            share = mass / measured["volume_mm3"] / 1000
            for axis, value in zip("xyz", measured["inertia_mm5"], strict=False):
                rows.append((f"Inertia about {axis}", f"{share * value:.4g} kg·mm²"))
        return rows

    def _beside(self, document: Model, body: str) -> Rows:
        """Bodies that it runs into, and the one whose shape it has: one part item, so many times."""
        found = self.subject.value("relations", "")
        if not isinstance(found, Relations):
            return []
        name = {k: b.name for k, b in document.bodies.items()}
        rows = []
        for a, b, volume in found.overlaps:
            if body in (a, b):
                other = b if body == a else a
                rows.append((f"Overlaps {name.get(other, other)}", f"{volume:.4g} mm³"))
        for own, other, mirrored in found.alike:
            if own == body:
                materials = {document.bodies[k].material for k in (own, other) if k in document.bodies}
                same = len(materials) == 1
                told = "mirrored" if mirrored else "same item" if same else "same shape, other material"
                rows.append((f"As {name.get(other, other)}", told))
        count = 1 + sum(other == body and not mirrored for _, other, mirrored in found.alike)
        return [*rows, ("Of this shape", f"× {count}")] if count > 1 else rows

    def _pick(self, kind: str, body: InPlace, label: str) -> Rows:
        document = self.subject.family.documents.get(body.document)
        rows = [(f"{kind.capitalize()}: {face_words(document, label)}", "")]
        mesh = self.subject.mesh(body)
        if mesh is None:
            return rows
        seen = witness(mesh, kind, label)
        if seen is None:
            return rows
        if kind != "vertex":
            rows.append(("Kind", f"{seen.convex} {seen.kind}".strip()))
        if kind == "vertex":
            rows.append(("At", ", ".join(f"{c + 0.0:.6g}" for c in seen.at)))
        if seen.normal:
            rows.append(("Normal", ", ".join(f"{c + 0.0:.3g}" for c in seen.normal)))
        return rows + (holefacts.face_rows(self.subject, body, label) if kind == "face" else [])

    def _gauged(self) -> Rows:
        """Exact figures of one picked thing, or between two."""
        of = things(self.subject)
        if self.subject.document is None or not self.subject.picks:
            return []
        nodes = measuring.asked(self.subject.at, of)
        answers = self.answers(nodes.values())
        found = measuring.told({what: answers[n] for what, n in nodes.items() if n in answers})
        rows = [(measuring.BRIEF[what], measuring.figure(what, g.value)) for what, g in found]
        rows += [row for _, g in found if g.axis is not None for row in measuring.axis_words(g.axis)]
        return [("Between the two", ""), *rows] if len(of) == 2 and rows else rows
