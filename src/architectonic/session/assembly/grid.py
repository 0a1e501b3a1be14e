"""The alternates of an assembly as a grid: rows are alternates, columns what fills each place, the pose, values, what is
said of them, and what each comes to. A plain assembly has one row."""

from __future__ import annotations

import re
from abc import ABC, abstractmethod
from collections.abc import Sequence
from typing import Any, ClassVar, NamedTuple

from architectonic.base.errors import UserFault
from architectonic.check.attention import failing_scopes
from architectonic.describe.assembly.balance import Balance
from architectonic.describe.assembly.extents import Extents
from architectonic.describe.assembly.joints import JointState
from architectonic.describe.results import Node, Outcome
from architectonic.family import edits, names, scopes
from architectonic.family.operations.base import BodyOperation, Switch
from architectonic.family.operations.bodies.bring_in import BringIn
from architectonic.family.records import (
    JOINTS,
    MATCH,
    QUANTITY,
    Assembly,
    Bond,
    Expression,
    Family,
    Fill,
    Instance,
    Measurement,
    Parameter,
)
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units
from architectonic.session.assembly.figures import interference

NOTHING = "nothing"
"""What a place is filled with where nothing stands."""
BY = " by "
"""Between a document and the expression that chooses its configuration."""


class AlternateRow(NamedTuple):
    """An alternate: its id ("" for a plain assembly), its name, and below how many others it stands."""

    key: str
    name: str
    depth: int


class AlternateCell(NamedTuple):
    """What a cell shows.

    Attributes:
        text: as it is shown; typed: as it would have to be typed, "" where it follows others.
        kind: own, inherited, computed, free, switch, inherited switch, word or result.
    """

    text: str
    typed: str = ""
    kind: str = "result"


def rows(document: Assembly) -> list[AlternateRow]:
    """Alternates in their order, those that follow one below it."""
    if not document.alternates:
        return [AlternateRow("", document.name, 0)]
    found: list[AlternateRow] = []

    def below(parent: str, depth: int) -> None:
        for a in document.alternates:
            if a.parent == parent and a.id not in {r.key for r in found}:
                found.append(AlternateRow(a.id, a.name, depth))
                below(a.id, depth + 1)

    below("", 0)
    known = {r.key for r in found}
    return found + [AlternateRow(a.id, a.name, 0) for a in document.alternates if a.id not in known]


class AlternateColumn(ABC):
    """One column.

    Attributes:
        group: make-up, pose, values, said, results; title, unit: of its heading.
    """

    group: ClassVar[str]
    title: str
    unit: str = ""

    @abstractmethod
    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> AlternateCell:
        """The cell of a row."""

    def change(self, family: Family, key: str, text: str) -> Family:
        """What is typed into the cell of a row; "" follows the others again.

        Raises:
            UserFault: it cannot be used.
        """
        raise UserFault(f"{self.title} is what comes of it", "", "change what decides it")

    def choices(self, family: Family) -> list[str]:
        """What the cell offers."""
        return []


def _kind(cell: str, key: str, expression: Expression | None) -> str:
    if expression is not None and (expression.refs or expression.choices):
        return "computed"
    return "own" if cell == key else "inherited"


class MakeUp(AlternateColumn):
    """What fills the place of an instance."""

    group = "Make-up"

    def __init__(self, document: str, instance: Instance) -> None:
        self.document, self.key, self.title = document, instance.id, instance.name

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> AlternateCell:
        """The document, with what is said of its configuration and alternate."""
        found = edits.assembly(family, self.document)
        cell, filled = scopes.fill(family, at, edits.instance_of(found, self.key))
        text = said(family, found, filled)
        return AlternateCell(text, text if cell == at.alternate else "", _kind(cell, at.alternate, filled.chosen))

    def change(self, family: Family, key: str, text: str) -> Family:
        """Fill it with what is named."""
        fill = meant(family, self.document, text) if text else None
        return edits.set_fill(family, self.document, self.key, fill, key)

    def choices(self, family: Family) -> list[str]:
        """Nothing, every document that can be placed, and alternates of assemblies."""
        found = [NOTHING]
        for d in family.documents.values():
            if d.placeable and d.id != self.document and self.document not in edits.contained(family, d.id):
                found.append(d.name)
                found += [f"{d.name}, {a.name}" for a in scopes.alternates(d)]
                found += [f"{d.name}, {i.name}" for i in getattr(d, "part_items", ())]
        return found


def said(family: Family, document: Assembly, filled: Fill) -> str:
    """What fills a place, as it would be typed: `Foot`, `Foot, L`, `Head, Folded`, `Foot by pick(...)`, `nothing`."""
    source = family.documents.get(filled.document)
    if not filled.document:
        return NOTHING
    if source is None:
        return "a document that is gone"
    words = [source.name]
    if filled.configuration != MATCH:
        words.append(names.row_name(family, source.id, filled.configuration))
    if filled.alternate:
        words.append(next((a.name for a in scopes.alternates(source) if a.id == filled.alternate), "gone"))
    if filled.item:
        words.append(next((i.name for i in getattr(source, "part_items", ()) if i.id == filled.item), "gone"))
    chosen = f"{BY}{names.shown_text(family, document, filled.chosen)}" if filled.chosen is not None else ""
    return ", ".join(words) + chosen


def meant(family: Family, document: str, text: str) -> Fill:
    """What a typed text fills a place with.

    Raises:
        UserFault: no such document, configuration or alternate.
    """
    if text.strip().casefold() == NOTHING:
        return Fill()
    main, _, chosen = text.partition(BY)
    name, *more = [w.strip() for w in main.split(",")]
    source = edits.find_document(family, name)
    configuration, alternate, item = MATCH, "", ""
    sizes = {n: k for k, n in scopes.configurations(family, source)}
    others = {a.name: a.id for a in scopes.alternates(source)}
    inner = {i.name: i.id for i in getattr(source, "part_items", ())}
    for word in more:
        if word in others:
            alternate = others[word]
        elif word in sizes:
            configuration = sizes[word]
        elif word in inner:
            item = inner[word]
        else:
            raise UserFault(f"{source.name} has no “{word}”", "", "there are " + ", ".join([*others, *inner, *sizes]))
    return edits.bind_fill(family, document, source.id, configuration, alternate, chosen.strip(), item)


class Pose(AlternateColumn):
    """A value of a joint or rule."""

    group = "Pose"

    def __init__(self, document: str, bond: Bond, field: str, alone: bool) -> None:
        self.document, self.key, self.field = document, bond.id, field
        self.title = bond.name if alone else f"{bond.name} {field}"
        self.unit = units.DEFAULT_UNIT[QUANTITY[field]]

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> AlternateCell:
        """Its value; one that nothing drives as it came to stand."""
        found = edits.assembly(family, self.document)
        bond = edits.bond_of(found, self.key)
        cell, expression = scopes.driven(family, at, bond, self.field)
        outcome = evaluation.outcomes.get(Node("joint", at, self.key)) if evaluation is not None else None
        text = "…"
        if outcome is not None:
            text = "—"
            if isinstance(outcome.value, JointState) and self.field in ("slide", "turn"):
                text = f"{getattr(outcome.value, self.field) / units.factor(self.unit):.1f}"
            elif outcome.value is not None and expression is not None:
                text = names.shown_text(family, found, expression)
        if expression is None:
            return AlternateCell(text, "", "free")
        typed = names.shown_text(family, found, expression)
        return AlternateCell(text, typed if cell == at.alternate else "", _kind(cell, at.alternate, expression))

    def change(self, family: Family, key: str, text: str) -> Family:
        """Drive it."""
        return edits.set_bond_value(family, self.document, self.key, self.field, text, key)


class Given(AlternateColumn):
    """A parameter of the assembly."""

    group = "Values"

    def __init__(self, document: str, parameter: Parameter) -> None:
        self.document, self.key, self.title, self.unit = document, parameter.id, parameter.name, parameter.unit

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> AlternateCell:
        """Its value."""
        found = edits.assembly(family, self.document)
        parameter = next(p for p in found.parameters if p.id == self.key)
        cell, expression = scopes.cell(family, at, parameter)
        value = evaluation.value(Node("value", at, self.key)) if evaluation is not None else None
        text = "…" if value is None else f"{value / units.factor(self.unit):.2f}"
        typed = names.shown_text(family, found, expression)
        return AlternateCell(text, typed if cell == at.alternate else "", _kind(cell, at.alternate, expression))

    def change(self, family: Family, key: str, text: str) -> Family:
        """Set it."""
        if not text:
            return edits.clear_cell(family, self.document, self.key, key)
        return edits.set_value(family, self.document, self.key, text, key)


class Switched(AlternateColumn):
    """Whether something is on."""

    def __init__(self, document: str, key: str, title: str) -> None:
        self.document, self.key, self.title = document, key, title

    @abstractmethod
    def switch(self, family: Family) -> Switch:
        """Its switch."""

    @abstractmethod
    def turned(self, family: Family, on: bool | None, key: str) -> Family:
        """With it turned on or off in a row; None follows the others again."""

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> AlternateCell:
        """On or off."""
        switch = self.switch(family)
        own = at.alternate in switch.own or not at.alternate
        on = "on" if scopes.is_on(family, at, switch) else "off"
        return AlternateCell(on, on if own else "", "switch" if own else "inherited switch")

    def change(self, family: Family, key: str, text: str) -> Family:
        """Turn it on or off."""
        if text not in ("", "on", "off"):
            raise UserFault(f"“{text}” is neither on nor off", self.title)
        return self.turned(family, None if not text else text == "on", key)


class Holding(Switched):
    """Whether a joint or rule holds, where that differs."""

    group = "Pose"

    def switch(self, family: Family) -> Switch:
        """Of the joint or rule."""
        return edits.bond_of(edits.assembly(family, self.document), self.key).switch

    def turned(self, family: Family, on: bool | None, key: str) -> Family:
        """The joint or rule turned."""
        return edits.set_bond_switch(family, self.document, self.key, on, key)


class Working(Switched):
    """Whether an operation of the assembly is on."""

    group = "Operations"

    def switch(self, family: Family) -> Switch:
        """Of the operation."""
        return edits.operation(family, self.document, self.key).switch

    def turned(self, family: Family, on: bool | None, key: str) -> Family:
        """The operation turned."""
        return edits.set_switch(family, self.document, self.key, on, key)


class Property(AlternateColumn):
    """What is said of an alternate."""

    group = "Properties"

    def __init__(self, document: str, field: str) -> None:
        self.document, self.field, self.title = document, field, field.capitalize()

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> AlternateCell:
        """Its number or note; that of a plain assembly is the document's."""
        found = edits.assembly(family, self.document)
        of: Any = next((a for a in found.alternates if a.id == at.alternate), found)
        text = str(getattr(of, self.field))
        return AlternateCell(text, text, "word")

    def change(self, family: Family, key: str, text: str) -> Family:
        """Say it."""
        if key:
            return edits.change_alternate(family, self.document, key, **{self.field: text})
        found = edits.assembly(family, self.document)
        return edits.put(family, edits.replace(found, **{self.field: text.strip()}))


class ResultColumn(AlternateColumn):
    """What an alternate comes to."""

    group = "Results"
    TITLES: ClassVar[dict[str, tuple[str, str]]] = {
        "mass": ("Mass", "g"), "box": ("Box", "mm"), "centre": ("Centre", "mm"), "interference": ("Interference", ""),
    }  # fmt: skip

    def __init__(self, what: str) -> None:
        self.what = what
        self.title, self.unit = self.TITLES[what]

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> AlternateCell:
        """The figure; … while it is not known."""
        outcome = evaluation.outcomes.get(Node("extents", at, "")) if evaluation is not None else None
        if outcome is None or evaluation is None:
            return AlternateCell("…")
        if self.what == "interference":
            return AlternateCell(interference(evaluation, at))
        whole = outcome.value.whole if isinstance(outcome.value, Extents) else None
        if self.what == "centre":
            balance = evaluation.value(Node("balance", at, ""))
            known = isinstance(balance, Balance)
            return AlternateCell(", ".join(f"{c + 0.0:.1f}" for c in balance.centre) if known else "—")
        if self.what == "mass":
            return AlternateCell(f"{whole.mass:.1f}" if whole is not None and whole.mass is not None else "—")
        box = whole.box if whole is not None else None
        return AlternateCell(
            "—" if box is None else " × ".join(f"{b - a:.0f}" for a, b in zip(box[:3], box[3:], strict=True))
        )


class Measured(AlternateColumn):
    """A kept measurement of the assembly."""

    group = "Results"

    def __init__(self, measurement: Measurement) -> None:
        self.key, self.title, self.unit = measurement.id, measurement.name, names.unit_of(measurement)

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> AlternateCell:
        """The figure; … while it is not known."""
        outcome = evaluation.outcomes.get(Node("value", at, self.key)) if evaluation is not None else None
        if outcome is None:
            return AlternateCell("…")
        return AlternateCell("—" if outcome.value is None else f"{outcome.value / units.factor(self.unit):.2f}")


def columns(document: Assembly, every: bool = False) -> list[AlternateColumn]:
    """The columns of an assembly, in their order.

    Args:
        every: also places that are filled the same in all alternates, where others are not.
    """
    key = document.id
    varied = [i for i in document.instances if i.fills]
    found: list[AlternateColumn] = [MakeUp(key, i) for i in (document.instances if every or not varied else varied)]
    for bond in document.bonds:
        moves = JOINTS.get(bond.kind, ())
        driven = [f for f in ("offset", "angle") if getattr(bond, f) is not None]
        fields = [*moves, *(f for f in driven if f not in moves)]
        found += [Pose(key, bond, f, len(fields) == 1) for f in fields]
        found += [Holding(key, bond.id, f"{bond.name} holds")] if bond.switch.own else []
    found += [Given(key, p) for p in document.parameters]
    found += [
        Working(key, o.id, o.name)
        for o in document.build
        if isinstance(o, BodyOperation) and not isinstance(o, BringIn)
    ]
    found += [ResultColumn(what) for what in ResultColumn.TITLES]
    found += [Measured(m) for m in document.measurements]
    return found + [Property(key, f) for f in ("number", "note")]


def named(family: Family, evaluation: Evaluation | None, at: Scope, pattern: str) -> Family:
    """Alternates called by what their cells show: `{Stand} {Shoulder}` gives `Desk clamp 28.0`.

    Args:
        at: a scope of the assembly, whose size figures are of.

    Raises:
        UserFault: there is no such column, or two alternates would be called the same.
    """
    found = edits.assembly(family, at.document)
    known = {c.title: c for c in columns(found, True)}
    wanted = re.findall(r"\{([^{}]*)\}", pattern)
    unknown = next((w for w in wanted if w not in known), None)
    if unknown is not None or not wanted:
        told = f"there is no column “{unknown}”" if unknown is not None else "the pattern names no column"
        raise UserFault(told, found.name, "write " + ", ".join(f"{{{t}}}" for t in known))
    made: list[str] = []
    for alternate in found.alternates:
        there = at._replace(alternate=alternate.id)
        shown = {w: known[w].shown(family, evaluation, there).text for w in wanted}
        name = re.sub(r"\{([^{}]*)\}", lambda m: shown[m.group(1)], pattern)  # noqa: B023
        made.append(names.check_name(name, made, "alternate"))
    rows = tuple(edits.replace(a, name=n) for a, n in zip(found.alternates, made, strict=True))
    return edits.put(family, edits.replace(found, alternates=rows))


def states(evaluation: Evaluation | None, rows: Sequence[Scope]) -> dict[Scope, str]:
    """The mark of each row: current, failing, out of rule, or updating while it is not known."""
    outcomes = evaluation.outcomes if evaluation is not None else {}
    bad = failing_scopes(evaluation) if evaluation is not None else frozenset()
    broken = {n.at for n, o in outcomes.items() if _breaks_a_rule(n, o)}
    return {
        at: "updating"
        if Node("assembly", at, "") not in outcomes
        else "failing"
        if at in bad
        else "out of rule"
        if at in broken
        else "current"
        for at in rows
    }


def _breaks_a_rule(node: Node, outcome: Outcome) -> bool:
    if outcome.problem is not None and outcome.problem.severity == "out of rule":
        return True
    return node.what == "rule" and outcome.value is not None and not outcome.value.holds
