"""Writing neutral files of a document in one configuration."""

from __future__ import annotations

import os
from pathlib import Path

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.base.rigid import IDENTITY, Rigid
from architectonic.describe.assembly.plans import Placed, PlacedBody
from architectonic.describe.recipes import ExportInput
from architectonic.describe.results import ModelState, Node, SketchResult
from architectonic.exchange import dxf, spreadsheet
from architectonic.family import edits
from architectonic.family.names import identifier
from architectonic.family.records import Model, Part, Sketch
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.keys import encode
from architectonic.session.open.engine import Engine
from architectonic.session.tables.spreadsheets import sheet_of

STEP = (".step", ".stp")


Shape = tuple[str, str, Rigid]


def shapes_of(evaluation: Evaluation, at: Scope, item: str = "") -> list[Shape]:
    """Name, shape key and place of every body of a document, or of all parts of an assembly; those that only stand
    behind are left out.

    Args:
        item: a part item by name, whose bodies alone are wanted.

    Raises:
        UserFault: there is no such item.
    """
    placed = evaluation.value(Node("assembly", at, ""))
    if placed is not None:
        return [shape for p in placed for shape in _placed(evaluation, p)]
    state = evaluation.value(Node("finished", at, ""))
    document = evaluation.family.documents.get(at.document)  # None: made since, and not evaluated yet
    if not isinstance(state, ModelState) or not isinstance(document, Model):
        return []
    wanted = _of_item(document, item) if item else None
    return [
        (document.bodies[b.id].name if b.id in document.bodies else b.id, b.shape, IDENTITY)
        for b in state.bodies
        if (wanted is None or b.id in wanted) and not (b.id in document.bodies and document.bodies[b.id].backdrop_only)
    ]


def _of_item(document: Model, name: str) -> set[str]:
    """Ids of the bodies of a part item, and of those under it."""
    items = document.part_items if isinstance(document, Part) else ()
    key = next((i.id for i in items if name in (i.name, i.number)), "")
    if not isinstance(document, Part) or not key:
        known = ", ".join(i.name for i in items) or "none"
        raise UserFault(f"there is no part item “{name}”", document.name, f"items are {known}")
    return {b for i in edits.below(document, key) for b in i.bodies}


def _placed(evaluation: Evaluation, placed: Placed) -> list[Shape]:
    """The same of an instance, as its assembly works on it further."""
    top, found = evaluation.family.documents[placed.at.document].name, []
    bodies = [b for b in placed.bodies if not _backdrop(evaluation, b)]
    for body in bodies:
        part = evaluation.family.documents[body.body.document]
        inner = [b for b in bodies if b.body.path == body.body.path]
        own = part.bodies[body.body.body].name if isinstance(part, Model) and len(inner) > 1 else ""
        name = " ".join(dict.fromkeys(n for n in (top, part.name, own) if n))
        state = evaluation.value(body.node("finished"))
        key = state.shape(body.item) if isinstance(state, ModelState) else None
        found += [(name, key, body.stands)] if key is not None else []
    return found


def _backdrop(evaluation: Evaluation, body: PlacedBody) -> bool:
    document = evaluation.family.documents.get(body.body.document)
    return isinstance(document, Model) and document.bodies[body.body.body].backdrop_only


def _sketch(evaluation: Evaluation, at: Scope, name: str) -> SketchResult:
    """The solved sketch of a name, or the first one.

    Raises:
        UserFault: there is none, or it gives no curves.
    """
    document = evaluation.family.documents[at.document]
    found = [o for o in getattr(document, "build", ()) if isinstance(o, Sketch)]
    record = next((o for o in found if name in ("", o.name, identifier(o.name))), None)
    if record is None:
        known = ", ".join(o.name for o in found) or "none"
        raise UserFault(
            f"there is no sketch “{name}”" if name else "it has no sketch", document.name, f"sketches are {known}"
        )
    solved = evaluation.value(Node("solve", at, record.id))
    if not isinstance(solved, SketchResult):
        raise UserFault("this sketch gives no curves", f"{document.name} / {record.name}", "see what needs attention")
    return solved


def export(engine: Engine, evaluation: Evaluation, at: Scope, path: Path, sketch: str = "", item: str = "") -> None:
    """Write a document to a file; the format follows its ending.

    Args:
        sketch: of a drawing, by name; "" for the first. item: of a part, the part item that alone is written, by name.

    Raises:
        UserFault: an unknown ending, nothing to write, or something of the document fails.
        EnvironmentFault: the file cannot be written; an old one is left as it was.
    """
    document = evaluation.family.documents[at.document]
    ending = path.suffix.lower()
    if ending == ".dxf":
        dxf.write(path, _sketch(evaluation, at, sketch))
        return
    if ending in (".csv", ".tsv", ".xlsx"):
        spreadsheet.write(path, sheet_of(evaluation.family, at.document))
        return
    if ending not in STEP:
        formats = " ".join((*STEP, ".dxf", ".csv", ".xlsx"))
        raise UserFault(f"no format is known for “{path.suffix}”", str(path), f"formats are {formats}")
    bodies = shapes_of(evaluation, at, item)
    if not bodies:
        raise UserFault("it has no bodies to export", document.name)
    part = path.with_name(f".{path.name}.{os.getpid()}{path.suffix}")
    payload = encode(
        ExportInput(str(part.absolute()), document.name, tuple(b[0] for b in bodies), tuple(b[2] for b in bodies))
    )
    try:
        reply = engine.pool.submit(f"export-{os.getpid()}", "step", payload, tuple(b[1] for b in bodies)).result()
        if reply.defect or reply.lost or reply.problem:
            why = reply.defect or ("a shape is lost" if reply.lost else "")
            raise EnvironmentFault(
                f"{path} could not be written ({why})", "check that the folder exists and may be written"
            )
        part.replace(path)
    except OSError as fault:
        if isinstance(fault, EnvironmentFault):
            raise
        raise EnvironmentFault(
            f"{path} could not be written ({fault.strerror})", "check that the folder may be written"
        ) from None
    finally:
        part.unlink(missing_ok=True)
