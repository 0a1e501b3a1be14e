"""Measurements kept under a name: made from what is picked, shown again, used in expressions."""

from __future__ import annotations

from architectonic.base.ids import new_id
from architectonic.base.labels import kind_of
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.family import edits, names, scopes
from architectonic.family.records import Measurement, Measures, Model, Reference
from architectonic.family.scopes import InPlace
from architectonic.session.model import measuring

Choice = tuple[Measures, tuple[Reference, ...]]


class MeasureCommands:
    """Callbacks about measurements of the shown document."""

    def __init__(self, desk: Desk, prompt: Prompt) -> None:
        self.desk, self.prompt = desk, prompt

    def actions(self) -> list[Action]:
        """The actions about measurements."""
        title = "Keep a measurement of what is picked…"
        return [
            Action(
                "measure.keep",
                title,
                self.keep,
                self._can,
                short="Keep figure…",
                also=("distance", "measure"),
                tells="A measurement with a name that stays.",
                wants="wants something picked",
            )
        ]

    def _can(self) -> bool:
        return isinstance(self.desk.main.document, Model) and bool(self.desk.main.picks)

    def _choices(self) -> dict[str, Choice]:
        """Figures that can be kept, by their words with the present value."""
        main = self.desk.main
        if main.at is None or not self._can():
            return {}
        of = main.things()
        nodes = measuring.asked(main.at, of)
        answers = self.desk.answers(nodes.values())
        found = measuring.told({what: answers[n] for what, n in nodes.items() if n in answers})
        offered: dict[str, Choice] = {
            f"{measuring.WORDS[what]}: {measuring.figure(what, g.value)}": (what, of) for what, g in found
        }
        if len(of) == 1:
            body = Reference(of=of[0].of, item=of[0].item, stage=of[0].stage)
            name = self.desk.family.documents[main.document_id if of[0].of == "self" else of[0].of]
            called = name.bodies[body.item].name if isinstance(name, Model) and body.item in name.bodies else "the body"
            for what in measuring.kinds_for((body,)):
                offered[f"{measuring.WORDS[what]} of {called}"] = (what, (body,))
        return offered

    def keep(self) -> None:
        """Ask which figure, and for its name; expressions, rules and guards may use it from then on."""
        offered, document = self._choices(), self.desk.main.document
        assert isinstance(document, Model)
        if not offered:
            self.desk.told.emit("Nothing is measured of these yet: wait a moment, or pick something else.", True)
            return
        taken = [n for n, _ in names.values_of(document)]
        word = {"distance": "gap", "apart": "gap"}.get(what := next(iter(offered.values()))[0], what)

        def done(choice: str, name: str) -> bool:
            what, of = offered[choice]
            made = Measurement(id=new_id(), name=name, what=what, of=of)
            return self.desk.apply(f"measure {name}", lambda f: edits.put_measurement(f, document.id, made))

        self.prompt.ask(
            "Keep a figure: it follows the model, and expressions may name it",
            [("figure", list(offered)), ("name", names.free_name(word, taken, "_"))],
            done,
        )

    def choose(self, key: str) -> None:
        """Show again what a measurement is of; Delete takes it away."""
        main = self.desk.main
        document = main.document
        record = next((m for m in getattr(document, "measurements", ()) if m.id == key), None)
        if record is None:
            return
        main.operation = key
        main.pick([(kind_of(r.label), self._body(r), r.label) for r in record.of if r.label])

    def _body(self, reference: Reference) -> InPlace:
        """The body in place that a measurement looks at."""
        main = self.desk.main
        assert main.at is not None
        at = scopes.source_scope(self.desk.family, main.at, reference.of, reference.configuration)
        return InPlace(reference.context.path[1:] if reference.context else (), at, reference.item)
