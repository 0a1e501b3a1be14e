"""The report of an evaluated family as plain data: the contract of `architectonic build --json` and `check --json`."""

from __future__ import annotations

from typing import Any

from architectonic.check import holes
from architectonic.check.assemblies import alternate_entry
from architectonic.check.attention import attention, failing_scopes, rules
from architectonic.describe.models.documents import kind_of
from architectonic.describe.references.relations import Relations
from architectonic.describe.references.rule import words
from architectonic.describe.results import BodyState, ModelState, Node, SketchResult
from architectonic.family import names, scopes
from architectonic.family.operations.base import BodyOperation
from architectonic.family.records import (
    FORMAT,
    MATCH,
    SELF,
    AnyDocument,
    Assembly,
    Family,
    Guard,
    Model,
    Parameter,
    Sketch,
    Underlay,
    ValueRef,
)
from architectonic.family.scopes import Scope, configuration_name
from architectonic.family.walk import pointers
from architectonic.propagate.evaluation import Evaluation
from architectonic.quantities import units


def in_unit(value: float, unit: str) -> float:
    """An internal value in a unit, free of the noise of the division."""
    return round(value / units.factor(unit), 12)


def report(evaluation: Evaluation, documents: tuple[str, ...] = (), only: tuple[Scope, ...] = ()) -> dict[str, Any]:
    """The whole report.

    Args:
        documents: ids to report; all when empty.
        only: scopes to report; all when empty.
    """
    family = evaluation.family
    chosen = [d for d in family.documents.values() if not documents or d.id in documents]
    failing = failing_scopes(evaluation)
    return {
        "family": family.head.name,
        "format": FORMAT,
        "parameters": _parameters(evaluation, chosen),
        "documents": {d.name: _document(evaluation, d, only, failing) for d in chosen},
        "rules": rule_entries(evaluation),
        "attention": attention_entries(evaluation),
        "work": work_entry(evaluation),
    }


def work_entry(evaluation: Evaluation) -> dict[str, Any]:
    """What the evaluation cost."""
    work = evaluation.work
    return {
        "nodes": work.nodes,
        "computed": work.computed,
        "reused": work.reused,
        "kernel_seconds": round(work.kernel_seconds, 6),
        "total_seconds": round(work.total_seconds, 6),
    }


def rule_entries(evaluation: Evaluation) -> list[dict[str, Any]]:
    """Every rule in every configuration."""
    family = evaluation.family
    return [
        {
            "name": rule.name,
            "document": family.documents[node.document].name,
            "configuration": configuration_name(family, node.at),
            "alternate": scopes.alternate_name(family, node.at) or None,
            "guard": isinstance(rule, Guard),
            "holds": checked is not None and checked.holds,
            "message": words(rule, checked) if checked is not None else "it could not be worked out",
        }
        for node, rule, checked in rules(evaluation)
    ]


def attention_entries(evaluation: Evaluation) -> list[dict[str, Any]]:
    """The attention list as where, what and mend."""
    return [
        {"where": f"{i.where} ({', '.join(i.configurations)})", "what": i.what, "mend": i.mend}
        for i in attention(evaluation)
    ]


def _parameters(evaluation: Evaluation, documents: list[AnyDocument]) -> dict[str, Any]:
    family, found = evaluation.family, {}
    for document in documents:
        rows = scopes.configurations(family, document)
        for key, item in names.values_of(document):
            unit = names.unit_of(item)
            first = scopes.scope(family, document.id, "")
            expression = (
                scopes.cell(family, first, item)[1] if isinstance(item, Parameter) else getattr(item, "value", None)
            )
            values = {
                name: evaluation.value(Node("value", scopes.scope(family, document.id, row), item.id))
                for row, name in rows
            }
            known = {n: in_unit(v, unit) for n, v in values.items() if v is not None}
            default = next(iter(values))
            found[f"{names.identifier(document.name)}.{key}"] = {
                "value": known.get(default),
                "unit": unit,
                "expression": names.shown_text(family, document, expression) if expression else "measured",
                "by_configuration": known,
            }
    return found


def _document(
    evaluation: Evaluation, document: AnyDocument, only: tuple[Scope, ...], failing: frozenset[Scope]
) -> dict[str, Any]:
    family = evaluation.family
    entries = {}
    for row, name in scopes.configurations(family, document):
        rows = [at for at in scopes.scopes_of(family, document) if at.configuration == row and (not only or at in only)]
        if not rows:
            continue
        entries[name] = entry = _configuration(evaluation, document, rows[0], failing)
        if isinstance(document, Assembly):
            called = {at: scopes.alternate_name(family, at) or "default" for at in rows}
            entry["alternates"] = {called[at]: alternate_entry(evaluation, document, at, failing) for at in rows}
    return {"kind": document.kind, "configurations": entries}


def _configuration(
    evaluation: Evaluation, document: AnyDocument, at: Scope, failing: frozenset[Scope]
) -> dict[str, Any]:
    entry: dict[str, Any] = {
        "status": "failing" if at in failing else "ok",
        "bodies": [],
        "sketches": [],
        "operations": [],
        "feeds": _feeds(evaluation, document, at),
    }
    if isinstance(document, Model):
        state = evaluation.value(Node("finished", at, ""))
        if isinstance(state, ModelState):
            entry["bodies"] = [_body(evaluation, document, at, b) for b in state.bodies]
        entry["sketches"] = [_sketch(evaluation, at, o) for o in document.build if isinstance(o, Sketch)]
        entry["holes"] = [holes.entry(row) for row in holes.of_document(evaluation, at)]
        entry["operations"] = [_operation(evaluation, at, o) for o in document.build]
    entry |= kind_of(document).told(evaluation.family, document, at, evaluation.value)
    return entry


def _body(evaluation: Evaluation, document: Model, at: Scope, state: BodyState) -> dict[str, Any]:
    body = state.id
    record = document.bodies.get(body)
    measured = evaluation.value(Node("measure", at, body)) or {}
    return {
        "name": record.name if record else body,
        "kind": state.kind,
        "volume_mm3": measured.get("volume_mm3"),
        "area_mm2": measured.get("area_mm2"),
        "mass_g": evaluation.value(Node("mass", at, body)),
        "box_mm": list(measured.get("box_mm", [])),
        "centre_mm": list(measured.get("centre_mm", [])),
        "faces": measured.get("faces"),
        "edges": measured.get("edges"),
        "valid": bool(measured.get("valid")),
        **_relations(evaluation, document, at, body),
    }


def _relations(evaluation: Evaluation, document: Model, at: Scope, body: str) -> dict[str, Any]:
    """Which bodies a body overlaps, and the one whose shape it has."""
    found = evaluation.value(Node("relations", at, ""))
    if not isinstance(found, Relations):
        return {"overlaps": [], "same_shape_as": None, "mirrored": False}

    def name(key: str) -> str:
        return document.bodies[key].name

    pairs = [(a, b) for a, b, _ in found.overlaps]
    overlaps = [name(b if a == body else a) for a, b in pairs if body in (a, b)]
    like = next(((other, mirrored) for own, other, mirrored in found.alike if own == body), None)
    return {
        "overlaps": overlaps,
        "same_shape_as": name(like[0]) if like else None,
        "mirrored": bool(like and like[1]),
    }


def _sketch(evaluation: Evaluation, at: Scope, sketch: Sketch) -> dict[str, Any]:
    outcome = evaluation.outcomes.get(Node("solve", at, sketch.id))
    solved = outcome.value if outcome else None
    if isinstance(solved, SketchResult):
        return {
            "name": sketch.name,
            "freedoms": solved.freedoms,
            "state": solved.state,
            "residual_mm": solved.residual,
            "regions": len(solved.regions),
        }
    return {"name": sketch.name, "freedoms": 0, "state": "conflict", "residual_mm": None, "regions": 0}


def _operation(evaluation: Evaluation, at: Scope, operation: Any) -> dict[str, Any]:
    kinds: dict[type, str] = {Sketch: "solve", Underlay: "underlay"}
    what = "state" if isinstance(operation, BodyOperation) else kinds.get(type(operation), "frame")
    outcome = evaluation.outcomes.get(Node(what, at, operation.id))
    status, message = "off", "switched off"
    if outcome is not None:
        status, message = "ok", ""
        if isinstance(outcome.value, ModelState) and outcome.value.status == "off":
            status, message = "off", outcome.value.reason
        if outcome.problem is not None:
            status = "missing" if outcome.problem.severity == "missing" else "failing"
            message = outcome.problem.what
            if outcome.problem.severity == "off":
                status = "off"
    return {
        "name": operation.name,
        "kind": operation.kind,
        "status": status,
        "message": message,
    }


def _feeds(evaluation: Evaluation, document: AnyDocument, at: Scope) -> list[dict[str, Any]]:
    """Feeds of geometry, then of parameters, each with the configuration it takes."""
    family, found = evaluation.family, []
    if isinstance(document, Model):
        for feed in document.feeds.values():
            missing = any(
                (o := evaluation.outcomes.get(Node("socket", at, s))) is not None and o.value is None
                for s in feed.sockets
            )
            source = next((s.source for s in feed.sockets.values()), None)
            where = _source(family, at, source.of, source.configuration) if source else ("", "")
            found.append(
                {
                    "name": feed.name,
                    "from": where[0],
                    "from_configuration": where[1],
                    "state": "missing" if missing else feed.state,
                }
            )
    taken: dict[tuple[str, str], bool] = {}
    for pointer in pointers(document):
        if isinstance(pointer, ValueRef) and pointer.document not in (SELF, document.id):
            source_name, configuration = _source(family, at, pointer.document, pointer.configuration)
            ok = pointer.document in family.documents
            taken[source_name, configuration] = taken.get((source_name, configuration), True) and ok
    for (name, configuration), ok in taken.items():
        state = "live" if ok else "missing"
        found.append({"name": "parameters", "from": name, "from_configuration": configuration, "state": state})
    return found


def _source(family: Family, at: Scope, of: str, configuration: str) -> tuple[str, str]:
    document = at.document if of == SELF else of
    if document not in family.documents:
        return "", configuration if configuration != MATCH else ""
    there = scopes.source_scope(family, at, document, configuration)
    return family.documents[document].name, configuration_name(family, there)
