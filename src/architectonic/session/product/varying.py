"""Variations of a part side by side: copies in a row that are shaped apart, compared, and one of which is the way forward."""

from __future__ import annotations

from string import ascii_uppercase
from typing import NamedTuple

import msgspec

from architectonic.base import rigid
from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.describe.results import ModelState, Node
from architectonic.family import edits, names
from architectonic.family.records import Assembly, Family, Model
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units

APART = 1.3
"""How far variations stand from one to the next, by their width."""
MOST = 12


def begin(
    family: Family, document_id: str, count: int, wide: float = 100.0, make_id: IdSource = new_id
) -> tuple[Family, str]:
    """An assembly of a document and copies of it in a row along x; each copy is a document of its own.

    Args:
        count: of all, the document itself among them; wide: of one, mm.

    Returns:
        The family, and the id of the assembly.

    Raises:
        UserFault: it cannot be placed, or there would be one or very many.
    """
    source = edits.document(family, document_id)
    if not source.placeable:
        raise UserFault(f"a {source.kind} has no variations", source.name, "choose a part or an assembly")
    if not 2 <= count <= MOST:
        raise UserFault(f"{count} variations", source.name, f"give a number from 2 to {MOST}")
    taken = [d.name for d in family.documents.values()]
    family, row = edits.add_document(family, "assembly", names.free_name(f"{source.name} variations", taken), make_id)
    family = edits.add_instance(family, row, document_id, source.name, make_id)
    for k in range(1, count):
        taken = [d.name for d in family.documents.values()]
        called = names.free_name(f"{source.name} {ascii_uppercase[k]}", taken)
        family, copy = edits.duplicate_document(family, document_id, called, make_id)
        family = edits.put(family, edits.replace(edits.document(family, copy), number=""))
        family = edits.add_instance(family, row, copy, called, make_id, rigid.shift(APART * wide * k, 0.0, 0.0))
    return family, row


def width(evaluation: Evaluation, at: Scope) -> float:
    """How wide what a scope shows is along x, mm; 100 while that is not known."""
    state = evaluation.value(Node("finished", at, ""))
    boxes = [evaluation.value(Node("measure", at, b.id)) for b in state.bodies] if isinstance(state, ModelState) else []
    known = [b["box_mm"] for b in boxes if b is not None]
    return max(b[3] for b in known) - min(b[0] for b in known) if known else 100.0


def original(family: Family, row: Assembly, instance: str) -> tuple[Model, Model]:
    """The document that a variation was copied from, and the variation.

    Raises:
        UserFault: it is the first itself, or shares nothing with it.
    """
    if not row.instances:
        raise UserFault("nothing stands here", row.name, "place a part first")
    first = edits.model(family, row.instances[0].document)
    chosen = edits.model(family, edits.instance_of(row, instance).document)
    if first.id == chosen.id:
        raise UserFault(f"{first.name} is what the others were copied from", row.name, "choose one of the others")
    if not {o.id for o in first.build} & {o.id for o in chosen.build}:
        raise UserFault(f"{chosen.name} shares nothing with {first.name}", row.name, "choose a copy of it")
    return first, chosen


class VariationDifference(NamedTuple):
    """What two variations differ in: what it is, and how it is in the first and in the other."""

    what: str
    first: str
    other: str


def differences(evaluation: Evaluation, first: Scope, other: Scope) -> list[VariationDifference]:
    """Values, operations and figures of two variations that are not the same."""
    family = evaluation.family
    one, two = (edits.model(family, s.document) for s in (first, other))
    found: list[VariationDifference] = []
    values = {item.id: key for d in (two, one) for key, item in names.values_of(d)}
    units_of = {item.id: names.unit_of(item) for d in (two, one) for _, item in names.values_of(d)}
    for key, called in values.items():
        texts = []
        for at in (first, other):
            value = evaluation.value(Node("value", at, key))
            texts.append("—" if value is None else f"{value / units.factor(units_of[key]):.6g} {units_of[key]}".strip())
        if texts[0] != texts[1]:
            found.append(VariationDifference(called, *texts))
    mine, its = ({o.id: o for o in d.build} for d in (one, two))
    for key in dict.fromkeys([*mine, *its]):
        if key not in its or key not in mine:
            record = mine.get(key) or its[key]
            found.append(
                VariationDifference(record.name, "there" if key in mine else "—", "there" if key in its else "—")
            )
        elif msgspec.structs.replace(mine[key], name="") != msgspec.structs.replace(its[key], name=""):
            found.append(VariationDifference(mine[key].name, "as it was", "changed"))
    return found + unlike_figures(evaluation, first, other)


def unlike_figures(evaluation: Evaluation, first: Scope, other: Scope) -> list[VariationDifference]:
    """Mass and volume of two scopes, where they are not the same."""
    found: list[VariationDifference] = []
    for what, called, unit in (("mass", "Mass", "g"), ("volume", "Volume", "cm³")):
        figures = [_figure(evaluation, at, what) for at in (first, other)]
        texts = ["—" if f is None else f"{f:.4g} {unit}" for f in figures]
        if texts[0] != texts[1]:
            found.append(VariationDifference(called, *texts))
    return found


def _figure(evaluation: Evaluation, at: Scope, what: str) -> float | None:
    state = evaluation.value(Node("finished", at, ""))
    bodies = state.bodies if isinstance(state, ModelState) else ()
    if what == "mass":
        found = [evaluation.value(Node("mass", at, b.id)) for b in bodies]
        return None if None in found or not found else float(sum(found))
    measured = [evaluation.value(Node("measure", at, b.id)) for b in bodies]
    return None if None in measured or not measured else float(sum(m["volume_mm3"] for m in measured)) / 1000


def choose(family: Family, row_id: str, instance: str) -> Family:
    """Let the document that variations were copied from be as one of them is; whatever takes from it follows, as what both hold
    has the same ids. The variations stay.

    Raises:
        UserFault: it is the first itself, or shares nothing with it.
    """
    first, chosen = original(family, edits.assembly(family, row_id), instance)
    return edits.take_content(family, first.id, chosen.id)
