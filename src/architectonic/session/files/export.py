"""Writing neutral files of a document in one configuration: each format is one entry of `FORMATS`."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

import msgspec

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.describe.recipes import ExportInput, FlatInput, Wanted
from architectonic.describe.results import ModelState, Node, PlacedRegion, SketchResult
from architectonic.exchange import dxf, meshfile, spreadsheet
from architectonic.family.names import identifier
from architectonic.family.records import Sketch
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.keys import encode
from architectonic.propagate.remaking import ask_worker
from architectonic.quantities.units import LENGTH
from architectonic.session.files.meshing import FINE, Fineness, Meshed, flat_face, meshed
from architectonic.session.files.products import Products
from architectonic.session.open.engine import Engine
from architectonic.session.tables.checks import come_to
from architectonic.session.tables.spreadsheets import sheet_of


class Writing(NamedTuple):
    """What of a document is written, and how.

    Attributes:
        sketch: of a drawing, by name; "" for the first. item: of a part, the part item that alone is written, by name.
        fineness: of facets. down: the direction or flat face that is turned down, "" for as it stands.
        face: the flat face whose outline a drawing is; kerf: the width of the cut beside it, as an expression.
    """

    sketch: str = ""
    item: str = ""
    fineness: Fineness = FINE
    down: str = ""
    face: str = ""
    kerf: str = ""


NONE = Writing()


class Job(NamedTuple):
    """A file to write: with which engine, of what, where to, and how."""

    engine: Engine
    evaluation: Evaluation
    at: Scope
    path: Path
    wish: Writing

    @property
    def name(self) -> str:
        """Of the document."""
        return self.evaluation.family.documents[self.at.document].name


def _sketch(job: Job) -> SketchResult:
    """The solved sketch of a name, or the first one.

    Raises:
        UserFault: there is none, or it gives no curves.
    """
    document, name = job.evaluation.family.documents[job.at.document], job.wish.sketch
    found = [o for o in getattr(document, "build", ()) if isinstance(o, Sketch)]
    record = next((o for o in found if name in ("", o.name, identifier(o.name))), None)
    if record is None:
        known = ", ".join(o.name for o in found) or "none"
        raise UserFault(
            f"there is no sketch “{name}”" if name else "it has no sketch", document.name, f"sketches are {known}"
        )
    solved = job.evaluation.value(Node("solve", job.at, record.id))
    if not isinstance(solved, SketchResult):
        raise UserFault("this sketch gives no curves", f"{document.name} / {record.name}", "see what needs attention")
    return solved


def _drawing(job: Job) -> None:
    """A sketch, or the outline of a face beside which a cut runs."""
    if not job.wish.face:
        dxf.write(job.path, _sketch(job))
        return
    dxf.write_region(job.path, outline(job).region)


def outline(job: Job) -> PlacedRegion:
    """The outline of a flat face, half a cut beside it.

    Raises:
        UserFault: no such face; a kerf that is no length; a hole that is narrower than the cut.
    """
    family, evaluation = job.evaluation.family, job.evaluation
    width = 0.0
    if job.wish.kerf:
        width = float(come_to(family, evaluation, job.at, job.wish.kerf, LENGTH))
        if width < 0:
            raise UserFault(f"a cut cannot be {width:g} mm wide", job.name, "give a width of zero or more")
    body, face, _ = flat_face(evaluation, job.at, job.wish.face)
    state = evaluation.value(Node("finished", job.at, ""))
    shape = state.shape(body) if isinstance(state, ModelState) else None
    if shape is None:
        raise UserFault("this body is not made here", job.name, "see what needs attention")
    payload = encode(FlatInput(Wanted(face), width / 2))
    reply = ask_worker(job.engine.evaluator, f"flat-{os.getpid()}", "flat", payload, (shape,))
    if reply.problem is not None:
        raise UserFault(reply.problem.what, f"{job.name} / {job.wish.face}", reply.problem.mend)
    return msgspec.msgpack.decode(reply.value, type=PlacedRegion)


def _table(job: Job) -> None:
    spreadsheet.write(job.path, sheet_of(job.evaluation.family, job.at.document))


def _step(job: Job) -> None:
    tree = Products(job.evaluation, job.at, job.wish.item)
    if not tree.shapes:
        raise UserFault("it has no bodies to export", job.name)
    payload = encode(ExportInput(str(job.path.absolute()), tuple(tree.products)))
    reply = ask_worker(job.engine.evaluator, f"export-{os.getpid()}", "step", payload, tuple(tree.shapes))
    if reply.problem is not None:
        raise UserFault(reply.problem.what, job.name, reply.problem.mend)


Encoder = Callable[[str, tuple[meshfile.MeshPart, ...]], bytes]
MESHES: dict[str, Encoder] = {".stl": meshfile.stl, ".3mf": meshfile.threemf, ".glb": meshfile.glb}
"""What facets are written as, by ending."""


def facets_of(job: Job) -> Meshed:
    """The facets that are written: how many there are and how far they miss is known before."""
    return meshed(job.engine, job.evaluation, job.at, job.wish.fineness, job.wish.item, job.wish.down)


def _mesh(job: Job) -> None:
    job.path.write_bytes(MESHES[job.path.suffix.lower()](job.name, facets_of(job).parts))


class Format(NamedTuple):
    """A kind of file: what it is called, and what writes it."""

    title: str
    write: Callable[[Job], None]


FORMATS: dict[str, Format] = {
    ".step": Format("STEP", _step),
    ".stp": Format("STEP", _step),
    ".stl": Format("STL, binary", _mesh),
    ".3mf": Format("3MF", _mesh),
    ".glb": Format("glTF for pictures", _mesh),
    ".dxf": Format("DXF", _drawing),
    ".csv": Format("CSV", _table),
    ".tsv": Format("CSV", _table),
    ".xlsx": Format("workbook", _table),
}
"""By ending."""


def export(engine: Engine, evaluation: Evaluation, at: Scope, path: Path, wish: Writing = NONE) -> None:
    """Write a document to a file; the format follows its ending. Either all of it is there, or what was there before.

    Raises:
        UserFault: an unknown ending, nothing to write, or something of the document fails.
        EnvironmentFault: the file cannot be written; an old one is left as it was.
    """
    ending = path.suffix.lower()
    if ending not in FORMATS:
        raise UserFault(f"no format is known for “{path.suffix}”", str(path), f"formats are {' '.join(FORMATS)}")
    write_whole(path, lambda part: FORMATS[ending].write(Job(engine, evaluation, at, part, wish)))


def write_whole(path: Path, write: Callable[[Path], object]) -> None:
    """Write a file beside its place and put it there when it is whole.

    Raises:
        EnvironmentFault: it cannot be written; an old one is left as it was.
    """
    part = path.with_name(f".{path.name}.{os.getpid()}{path.suffix}")
    try:
        write(part)
        part.replace(path)
    except OSError as fault:
        why = fault.what if isinstance(fault, EnvironmentFault) else fault.strerror or str(fault)
        raise EnvironmentFault(f"{path} could not be written ({why})", "check that the folder may be written") from None
    finally:
        part.unlink(missing_ok=True)
