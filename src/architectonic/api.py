"""The Python interface: plain functions over immutable families."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from architectonic.base.errors import UserFault
from architectonic.check.impact import impact as compare
from architectonic.check.report import report
from architectonic.describe.drawn.drawing import Drawing
from architectonic.describe.results import Node
from architectonic.exchange import folder
from architectonic.family import edits, scopes
from architectonic.family.edits import find_document as find
from architectonic.family.edits import new_family
from architectonic.family.records import Family
from architectonic.propagate.evaluator import Evaluation
from architectonic.propagate.targets import all_scopes
from architectonic.propagate.whole import evaluate_scopes
from architectonic.session.open.engine import Engine
from architectonic.session.open.queries import ask
from architectonic.session.open.session import Session
from architectonic.session.open.whatif import find_configuration, with_values

__all__ = ["Drawing", "build", "edits", "find", "impact", "load", "new_family", "regions", "save", "set_values"]


def load(path: str | Path) -> Family:
    """The family in a folder; raises like `exchange.folder.load`."""
    return folder.load(Path(path)).family


def save(family: Family, path: str | Path) -> None:
    """Write a family: into a new folder, or over the one it came from (only what differs is written)."""
    target = Path(path)
    if (target / folder.HEAD).exists():
        folder.save(folder.load(target), family)
    else:
        Session.create(target, family)


def set_values(family: Family, **settings: str) -> Family:
    """A family with values set by dotted identifier: `set_values(f, **{"Sizes.wall": "2.6 mm", "Sizes.gap@M": "0.3"})`."""
    return with_values(family, [f"{name}={text}" for name, text in settings.items()])


def regions(family: Family, document: str, sketch: str, configuration: str = "") -> list[dict[str, Any]]:
    """The regions of a sketch: label, area in mm2 and a point inside, largest first.

    Raises:
        UserFault: an unknown document, sketch or configuration, or a sketch that gives no curves.
    """
    found = find(family, document)
    key = next((o.id for o in getattr(found, "build", ()) if o.name == sketch), None)
    if key is None:
        raise UserFault(f"there is no sketch “{sketch}”", found.name)
    row = find_configuration(family, found.id, configuration) if configuration else ""
    node = Node("solve", scopes.scope(family, found.id, row), key)
    outcome = ask(family, [node]).outcomes[node]
    if outcome.value is None:
        raise UserFault(outcome.problem.what if outcome.problem else "no curves", found.name)
    ordered = sorted(outcome.value.regions, key=lambda r: -r.area)
    return [{"label": r.label, "area_mm2": r.area, "inside": list(r.inside)} for r in ordered]


def _evaluate(family: Family, engine: Engine) -> Evaluation:
    return evaluate_scopes(engine.evaluator, family, all_scopes(family))


def build(family: Family, store: str | Path | None = None) -> dict[str, Any]:
    """Evaluate everything; the same object as `architectonic build --json` prints.

    Args:
        store: folder for shapes and results; the user's cache folder by default.
    """
    engine = Engine.start(Path(store) if store else None)
    try:
        return report(_evaluate(family, engine))
    finally:
        engine.close()


def impact(before: Family, after: Family, store: str | Path | None = None) -> dict[str, Any]:
    """What changes from one family to another; the same object as `architectonic impact --json` prints."""
    engine = Engine.start(Path(store) if store else None)
    try:
        return compare(_evaluate(before, engine), _evaluate(after, engine))
    finally:
        engine.close()
