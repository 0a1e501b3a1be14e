"""The alternates of an assembly as a grid: rows are alternates, columns what fills each place, the pose, values, what is
said of them, and what each comes to. A plain assembly has one row."""

from __future__ import annotations

import re
from typing import Any, ClassVar

from architectonic.base.errors import UserFault
from architectonic.describe.assembly.balance import Balance
from architectonic.describe.assembly.extents import Extents
from architectonic.describe.assembly.joints import JointState
from architectonic.describe.results import Node
from architectonic.family import edits, names, scopes
from architectonic.family.operations.base import BodyOperation, Turned
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
)
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units
from architectonic.session.assembly.figures import interference
from architectonic.session.tables.columns import (
    GridColumn,
    GridRow,
    MeasuredColumn,
    ShownCell,
    SwitchColumn,
    ValueColumn,
)

NOTHING = "nothing"
"""What a place is filled with where nothing stands."""
BY = " by "
"""Between a document and the expression that chooses its configuration."""


def rows(document: Assembly) -> list[GridRow]:
    """Alternates in their order, those that follow one below it."""
    if not document.alternates:
        return [GridRow("", document.name, 0)]
    found: list[GridRow] = []

    def below(parent: str, depth: int) -> None:
        for a in document.alternates:
            if a.parent == parent and a.id not in {r.key for r in found}:
                found.append(GridRow(a.id, a.name, depth))
                below(a.id, depth + 1)

    below("", 0)
    known = {r.key for r in found}
    return found + [GridRow(a.id, a.name, 0) for a in document.alternates if a.id not in known]


def _kind(cell: str, key: str, expression: Expression | None) -> str:
    if expression is not None and (expression.refs or expression.choices):
        return "computed"
    return "own" if cell == key else "inherited"


class MakeUp(GridColumn):
    """What fills the place of an instance."""

    group = "Make-up"

    def __init__(self, document: str, instance: Instance) -> None:
        self.document, self.key, self.title = document, instance.id, instance.name

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """The document, with what is said of its configuration and alternate."""
        found = edits.assembly(family, self.document)
        cell, filled = scopes.fill(family, at, edits.instance_of(found, self.key))
        text = said(family, found, filled)
        return ShownCell(text, text if cell == at.alternate else "", _kind(cell, at.alternate, filled.chosen))

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


class Pose(GridColumn):
    """A value of a joint or rule."""

    group = "Pose"

    def __init__(self, document: str, bond: Bond, field: str, alone: bool) -> None:
        self.document, self.key, self.field = document, bond.id, field
        self.title = bond.name if alone else f"{bond.name} {field}"
        self.unit = units.DEFAULT_UNIT[QUANTITY[field]]

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
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
            return ShownCell(text, "", "free")
        typed = names.shown_text(family, found, expression)
        return ShownCell(text, typed if cell == at.alternate else "", _kind(cell, at.alternate, expression))

    def change(self, family: Family, key: str, text: str) -> Family:
        """Drive it."""
        return edits.set_bond_value(family, self.document, self.key, self.field, text, key)


class Holding(SwitchColumn):
    """Whether a joint or rule holds, where that differs."""

    group = "Pose"

    def record(self, family: Family) -> Bond:
        """The joint or rule."""
        return edits.bond_of(edits.assembly(family, self.document), self.item)

    def turned(self, family: Family, on: Turned | None, key: str) -> Family:
        """The joint or rule turned."""
        return edits.set_bond_switch(family, self.document, self.item, on, key)


class Working(SwitchColumn):
    """Whether an operation of the assembly is on."""

    group = "Operations"


class Property(GridColumn):
    """What is said of an alternate."""

    group = "Properties"

    def __init__(self, document: str, field: str) -> None:
        self.document, self.field, self.title = document, field, field.capitalize()

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """Its number or note; that of a plain assembly is the document's."""
        found = edits.assembly(family, self.document)
        of: Any = next((a for a in found.alternates if a.id == at.alternate), found)
        text = str(getattr(of, self.field))
        return ShownCell(text, text, "word")

    def change(self, family: Family, key: str, text: str) -> Family:
        """Say it."""
        if key:
            return edits.change_alternate(family, self.document, key, **{self.field: text})
        found = edits.assembly(family, self.document)
        return edits.put(family, edits.replace(found, **{self.field: text.strip()}))


class ResultColumn(GridColumn):
    """What an alternate comes to."""

    group = "Results"
    TITLES: ClassVar[dict[str, tuple[str, str]]] = {
        "mass": ("Mass", "g"), "box": ("Box", "mm"), "centre": ("Centre", "mm"), "interference": ("Interference", ""),
    }  # fmt: skip

    def __init__(self, what: str) -> None:
        self.what = what
        self.title, self.unit = self.TITLES[what]

    def shown(self, family: Family, evaluation: Evaluation | None, at: Scope) -> ShownCell:
        """The figure; … while it is not known."""
        outcome = evaluation.outcomes.get(Node("extents", at, "")) if evaluation is not None else None
        if outcome is None or evaluation is None:
            return ShownCell("…")
        if self.what == "interference":
            return ShownCell(interference(evaluation, at))
        whole = outcome.value.whole if isinstance(outcome.value, Extents) else None
        if self.what == "centre":
            balance = evaluation.value(Node("balance", at, ""))
            known = isinstance(balance, Balance)
            return ShownCell(", ".join(f"{c + 0.0:.1f}" for c in balance.centre) if known else "—")
        if self.what == "mass":
            return ShownCell(f"{whole.mass:.1f}" if whole is not None and whole.mass is not None else "—")
        box = whole.box if whole is not None else None
        return ShownCell(
            "—" if box is None else " × ".join(f"{b - a:.0f}" for a, b in zip(box[:3], box[3:], strict=True))
        )


def columns(document: Assembly, every: bool = False) -> list[GridColumn]:
    """The columns of an assembly, in their order.

    Args:
        every: also places that are filled the same in all alternates, where others are not.
    """
    key = document.id
    varied = [i for i in document.instances if i.fills]
    found: list[GridColumn] = [MakeUp(key, i) for i in (document.instances if every or not varied else varied)]
    for bond in document.bonds:
        moves = JOINTS.get(bond.kind, ())
        driven = [f for f in ("offset", "angle") if getattr(bond, f) is not None]
        fields = [*moves, *(f for f in driven if f not in moves)]
        found += [Pose(key, bond, f, len(fields) == 1) for f in fields]
        found += [Holding(key, bond.id, f"{bond.name} holds", "alternate")] if bond.switch.own else []
    found += [ValueColumn(key, p, p.name, "alternate") for p in document.parameters]
    found += [
        Working(key, o.id, o.name, "alternate")
        for o in document.build
        if isinstance(o, BodyOperation) and not isinstance(o, BringIn)
    ]
    found += [ResultColumn(what) for what in ResultColumn.TITLES]
    found += [MeasuredColumn(m, "alternate") for m in document.measurements]
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
