"""Writing neutral files of a document in one configuration."""

from __future__ import annotations

import os
from pathlib import Path

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.describe.recipes import ExportInput
from architectonic.describe.results import Node, SketchResult
from architectonic.exchange import dxf, spreadsheet
from architectonic.family.names import identifier
from architectonic.family.records import Sketch
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.keys import encode
from architectonic.session.files.products import Products
from architectonic.session.open.engine import Engine
from architectonic.session.tables.spreadsheets import sheet_of

STEP = (".step", ".stp")


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
    tree = Products(evaluation, at, item)
    if not tree.shapes:
        raise UserFault("it has no bodies to export", document.name)
    part = path.with_name(f".{path.name}.{os.getpid()}{path.suffix}")
    payload = encode(ExportInput(str(part.absolute()), tuple(tree.products)))
    try:
        reply = engine.pool.submit(f"export-{os.getpid()}", "step", payload, tuple(tree.shapes)).result()
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
