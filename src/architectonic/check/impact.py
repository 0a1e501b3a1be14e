"""What an edit changes: two evaluations compared (the contract of `architectonic impact --json`)."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from architectonic.base import tolerance
from architectonic.check.attention import attention, rules
from architectonic.check.report import in_unit, work_entry
from architectonic.check.results import Result, differing, digest, results
from architectonic.describe.references.rule import words
from architectonic.describe.results import Node
from architectonic.family.names import unit_of, values_of
from architectonic.family.records import Family, Guard, Model
from architectonic.family.scopes import alternate_name, alternates, configuration_name
from architectonic.propagate.evaluation import Evaluation

_FIGURES = ("volume_mm3", "area_mm2")


Where = tuple[str, str, str | None]
"""Names of a document, a configuration, and an alternate (None: it has none)."""


def _quantities(evaluation: Evaluation, nodes: Iterable[Node]) -> dict[tuple[Where, str], Any]:
    """Figures of some nodes by where they are, and quantity."""
    family = evaluation.family
    found: dict[tuple[Where, str], Any] = {}
    names: dict[str, tuple[str, str]] = {}
    for document in family.documents.values():
        for key, item in values_of(document):
            names[item.id] = (key, unit_of(item))
    for node in nodes:
        outcome, document = evaluation.outcomes[node], family.documents[node.document]
        where = (document.name, configuration_name(family, node.at), alternate_name(family, node.at) or None)
        if node.what == "value" and outcome.value is not None and node.item in names:
            name, unit = names[node.item]
            found[(where, name)] = in_unit(outcome.value, unit)
        elif node.what == "measure" and outcome.value is not None:
            body = _body_name(family, node)
            for figure in _FIGURES:
                found[(where, f"{body}: {figure}")] = outcome.value[figure]
            found[(where, f"{body}: box_mm")] = [round(v, 6) for v in outcome.value["box_mm"]]
        elif node.what == "mass" and outcome.value is not None:
            found[(where, f"{_body_name(family, node)}: mass_g")] = outcome.value
        elif node.what == "relations" and outcome.value is not None:
            for a, b, volume in outcome.value.overlaps:
                found[(where, f"{_named(family, node, a)} and {_named(family, node, b)}: overlap_mm3")] = volume
            for own, other, mirrored in outcome.value.alike:
                pair = f"{_named(family, node, other)} and {_named(family, node, own)}"
                found[(where, pair)] = "mirrored" if mirrored else "the same shape"
        elif node.what == "extents" and outcome.value is not None and outcome.value.of:
            found[(where, "mass_g")] = outcome.value.whole.mass
        elif node.what == "clashes" and outcome.value is not None:
            found[(where, "interference_mm3")] = None if outcome.value.unknown else outcome.value.volume
    return found


def _body_name(family: Family, node: Node) -> str:
    return _named(family, node, node.item)


def _named(family: Family, node: Node, key: str) -> str:
    document = family.documents[node.document]
    body = document.bodies.get(key) if isinstance(document, Model) else None
    return body.name if body else key


def same(a: Any, b: Any) -> bool:
    """Equal within the noise of measuring (1e-9 relative, 1e-6 mm for boxes)."""
    if isinstance(a, (int, float)) and isinstance(b, (int, float)):
        return abs(a - b) <= tolerance.MEASURE * max(abs(a), abs(b), tolerance.MEASURE)
    return bool(a == b)


def impact(before: Evaluation, after: Evaluation) -> dict[str, Any]:
    """What changed between two evaluations of the same nodes. A document is "unchanged" when none of its results differs:
    no figure, shape, curve, place or state.
    """
    was, now = differing(before, after)
    old, new = _quantities(before, was), _quantities(after, now)
    changed = []
    for key in dict.fromkeys([*old, *new]):
        if not same(old.get(key), new.get(key)):
            changed.append(
                {
                    "document": key[0][0],
                    "configuration": key[0][1],
                    "alternate": key[0][2],
                    "quantity": key[1],
                    "before": old.get(key),
                    "after": new.get(key),
                }
            )
    changed += _shapes(results(before, was), results(after, now), changed)
    _in_order(changed, before, after)
    touched = {entry["document"] for entry in changed}
    bad_before = {(i.where, i.what): i for i in attention(before)}
    bad_after = {(i.where, i.what): i for i in attention(after)}
    where_before, where_after = {w for w, _ in bad_before}, {w for w, _ in bad_after}
    held = {(n, r.id): c.holds if c is not None else None for n, r, c in rules(before)}
    return {
        "changed": changed,
        "unchanged": [d.name for d in after.family.documents.values() if d.name not in touched],
        "newly_failing": [_told(i) for k, i in bad_after.items() if k[0] not in where_before],
        "newly_mended": [_told(i) for k, i in bad_before.items() if k[0] not in where_after],
        "rules": [
            {
                "name": rule.name,
                "document": after.family.documents[node.document].name,
                "configuration": configuration_name(after.family, node.at),
                "alternate": alternate_name(after.family, node.at) or None,
                "guard": isinstance(rule, Guard),
                "held": held.get((node, rule.id)),
                "holds": None if checked is None else checked.holds,
                "message": words(rule, checked),
            }
            for node, rule, checked in rules(after)
            if held.get((node, rule.id)) != (None if checked is None else checked.holds)
        ],
        "work": work_entry(after),
    }


def _shapes(old: dict[Result, Any], new: dict[Result, Any], figures: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Results that differ although no figure of theirs does: what is shown of them are short digests, or where they are."""
    told = {(e["document"], e["configuration"], e["alternate"], e["quantity"].partition(":")[0]) for e in figures}
    found = []
    for key in dict.fromkeys([*old, *new]):
        a, b = old.get(key), new.get(key)
        if a != b and (key.what != "shape" or key[:4] not in told):
            found.append(
                {
                    "document": key.document,
                    "configuration": key.configuration,
                    "alternate": key.alternate,
                    "quantity": f"{key.thing}: {key.what}",
                    "before": _shown(key, a),
                    "after": _shown(key, b),
                }
            )
    return found


def _shown(key: Result, value: Any) -> Any:
    if key.what == "status":
        return value or "ok"
    return digest(value) if key.what == "shape" and value is not None else value


def _in_order(changed: list[dict[str, Any]], before: Evaluation, after: Evaluation) -> None:
    """By document and configuration as the family lists them, then by name: never by what was evaluated first."""
    families = (after.family, before.family)
    documents = list(dict.fromkeys(d.name for f in families for d in f.documents.values()))
    sizes = list(dict.fromkeys(s.name for f in families for s in f.head.sizes))

    others = list(dict.fromkeys(a.name for f in families for d in f.documents.values() for a in alternates(d)))

    def place(entry: dict[str, Any]) -> tuple[int, int, str, int, str]:
        row = entry["configuration"]
        return (
            documents.index(entry["document"]),
            sizes.index(row) if row in sizes else len(sizes),
            row,
            -1 if entry["alternate"] is None else others.index(entry["alternate"]),
            entry["quantity"],
        )

    changed.sort(key=place)


def _told(item: Any) -> dict[str, Any]:
    return {
        "where": item.where,
        "what": item.what,
        "mend": item.mend,
        "configurations": list(item.configurations),
    }
