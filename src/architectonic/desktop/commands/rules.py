"""Rules and guards: made, changed, recorded anew."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QMenu, QWidget

from architectonic.base.errors import UserFault
from architectonic.base.ids import new_id
from architectonic.desktop.kit.actions import Action
from architectonic.desktop.kit.prompt import Prompt
from architectonic.desktop.pane.desk import Desk
from architectonic.desktop.pane.namefield import NameField, asking
from architectonic.desktop.pane.pane import names_in
from architectonic.desktop.tables.grid import TableGrid
from architectonic.family import edits, names
from architectonic.family.records import SELF, AnyDocument, Expression, Family, Figure, Guard, Model, Rule
from architectonic.quantities.compiled import TRUTH
from architectonic.session.tables import checks

WATCHED: dict[str, tuple[Figure, ...]] = {
    "its volume, box and centre": ("volume", "box", "centre"),
    "its volume": ("volume",),
    "its box": ("box",),
    "its centre": ("centre",),
    "its area": ("area",),
}


class RuleCommands:
    """Callbacks about rules and guards of the shown document."""

    def __init__(self, desk: Desk, prompt: Prompt, grid: TableGrid) -> None:
        self.desk, self.prompt, self.grid = desk, prompt, grid

    def actions(self) -> list[Action]:
        """The actions about rules and guards."""
        return [
            Action(
                "rule.new",
                "New rule…",
                self.new_rule,
                self._has,
                also=("check", "constraint"),
                tells="Something that must hold in every size.",
                wants="wants a document",
            ),
            Action(
                "rule.edit",
                "Change this rule…",
                self.edit,
                lambda: self._chosen() is not None,
                short="Change…",
                tells="Its words and what it compares.",
                wants="wants a chosen rule",
            ),
            Action(
                "guard.new",
                "Guard a value…",
                self.guard_value,
                self._has,
                tells="Warns when a value moves from what it is now.",
                wants="wants a document",
            ),
            Action(
                "guard.body",
                "Guard a body…",
                self.guard_body,
                self._has_bodies,
                tells="Warns when a figure of a body moves.",
                wants="wants a body",
            ),
            Action(
                "guard.record",
                "Record this guard anew",
                self.record,
                lambda: isinstance(self._chosen(), Guard),
                tells="What it is now is what is guarded.",
                wants="wants a chosen guard",
            ),
        ]

    def _has(self) -> bool:
        return self.desk.main.document is not None

    def _has_bodies(self) -> bool:
        return bool(getattr(self.desk.main.document, "bodies", {}))

    @property
    def document(self) -> AnyDocument:
        """The shown document."""
        assert self.desk.main.document is not None
        return self.desk.main.document

    def _chosen(self) -> Rule | Guard | None:
        document = self.desk.main.document
        return next((r for r in document.checked if r.id == self.desk.main.operation), None) if document else None

    # --- rules ----------------------------------------------------------------------------------------

    def _field(self, text: str, parent: QWidget) -> NameField:
        """A field for a comparison: completes names, and says whether it holds now."""
        made = NameField(text, parent, partial(names_in, self.desk.main), self._holds)
        made.setMinimumWidth(240)
        return made

    def _holds(self, text: str) -> str:
        at, evaluation = self.desk.main.at, self.desk.settled
        if at is None or evaluation is None or not text:
            return ""
        try:
            return "holds now" if checks.come_to(self.desk.family, evaluation, at, text, TRUTH) else "does not hold now"
        except UserFault as fault:
            return fault.what

    def new_rule(self) -> None:
        """Ask for a comparison and what to say when it does not hold."""
        self._ask(Rule(id=new_id(), name=f"rule {1 + len(self.document.rules)}", holds=Expression(text="")), True)

    def _ask(self, rule: Rule, fresh: bool) -> None:
        document = self.document
        text = names.shown_text(self.desk.family, document, rule.holds) if not fresh else ""

        def done(name: str, typed: str, message: str) -> bool:
            made = edits.replace(rule, name=name, message=message)
            label = f"{'new rule' if fresh else 'change'} {name}"
            return self.desk.apply(label, lambda f: edits.put_rule(f, document.id, made, typed))

        self.prompt.ask(
            "New rule" if fresh else f"Change {rule.name}",
            [("name", rule.name), ("holds while", partial(self._field, text)), ("else say", rule.message)],
            done,
        )

    def edit(self) -> None:
        """Change the chosen rule, or the name, room and sentence of the chosen guard."""
        record = self._chosen()
        if isinstance(record, Rule):
            self._ask(record, False)
        elif record is not None:
            self._ask_guard(record)

    # --- guards ---------------------------------------------------------------------------------------

    def guard_value(self) -> None:
        """Ask which value must stay; the chosen row of a table is offered."""
        rows = self.grid.view.rows() if self.grid.isVisible() else []
        first = next((p.name for p in self.document.parameters if p.id in rows), "")
        key, evaluation = self.document.id, self.desk.settled

        def done(name: str, text: str, within: str, message: str) -> bool:
            assert evaluation is not None

            def edit(f: Family) -> Family:
                made = checks.value_guard(f, key, new_id(), name, text)
                return checks.guard(f, evaluation, key, edits.replace(made, message=message), within)

            return self.desk.apply(f"guard {name}", edit)

        def field(parent: QWidget) -> NameField:
            return NameField(
                names.identifier(first) if first else "", parent, partial(names_in, self.desk.main), lambda _: ""
            )

        self.prompt.ask(
            "Guard a value: it must stay as it is now, in every size",
            [
                ("name", f"{first or 'value'} stays"),
                ("value", field),
                ("within", asking("0.001 mm", self.desk.main)),
                ("else say", ""),
            ],
            done,
        )

    def guard_body(self) -> None:
        """Ask which figures of which body must stay."""
        document, evaluation = self.document, self.desk.settled
        assert isinstance(document, Model)
        called = {b.name: k for k, b in document.bodies.items()}
        picked = next((b.body for _, b, _ in self.desk.main.picks), "")
        order = sorted(called, key=lambda n: called[n] != picked)

        def done(body: str, what: str, message: str) -> bool:
            assert evaluation is not None
            name = names.free_name(f"{body} stays", [r.name for r in document.checked])
            made = checks.body_guard(new_id(), name, SELF, called[body], WATCHED[what])
            made = edits.replace(made, message=message)
            return self.desk.apply(f"guard {body}", lambda f: checks.guard(f, evaluation, document.id, made))

        self.prompt.ask(
            "Guard a body: it must stay as it is now, in every size",
            [("body", order), ("watch", list(WATCHED)), ("else say", "")],
            done,
        )

    def _ask_guard(self, guard: Guard) -> None:
        key = self.document.id
        within = names.shown_text(self.desk.family, self.document, guard.within) if guard.within else ""

        def done(name: str, room: str, message: str) -> bool:
            made = edits.replace(guard, name=name, message=message)
            return self.desk.apply(
                f"change {name}", lambda f: edits.put_guard(f, key, checks.with_room(f, key, made, room))
            )

        self.prompt.ask(
            f"Change {guard.name}",
            [("name", guard.name), ("within", asking(within, self.desk.main)), ("else say", guard.message)],
            done,
        )

    def record(self) -> None:
        """What is now is what must stay from here on."""
        guard, evaluation, key = self._chosen(), self.desk.settled, self.document.id
        if isinstance(guard, Guard) and evaluation is not None:
            self.desk.apply(f"record {guard.name} anew", lambda f: checks.guard(f, evaluation, key, guard))

    def menu(self, item: str, menu: QMenu) -> None:
        """What can be done with a rule or guard."""
        self.desk.main.operation = item
        record = self._chosen()
        name = record.name if record is not None else ""
        entries = [("Change…", self.edit)]
        if isinstance(record, Guard):
            entries.append(("Record it anew: what is now must stay", self.record))
        key = self.document.id

        def delete() -> None:
            self.desk.apply(f"delete {name}", lambda f: edits.delete_item(f, key, item))

        for text, run in (*entries, ("Delete", delete)):
            made = menu.addAction(text)
            assert made is not None
            made.triggered.connect(lambda _=False, r=run: r())
