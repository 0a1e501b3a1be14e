"""Bodies of other programs' files: looked at before anything is taken, kept with the family, taken anew when the file changes."""

from __future__ import annotations

from pathlib import Path
from typing import Literal, NamedTuple

from architectonic.base import files, kept
from architectonic.base.cancel import Watch
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.base.rigid import IDENTITY
from architectonic.check.attention import Item
from architectonic.describe.operations.bodies.outside import FileLook, LookInput, OutsideFound
from architectonic.describe.words.blanks import counted
from architectonic.exchange import allowed
from architectonic.family import edits, names
from architectonic.family.operations.bodies.outside import LengthUnit, Outside, OutsideBody
from architectonic.family.records import Body, Family, Model
from architectonic.session.open import queries

ENDINGS = (".step", ".stp")
MOST_BYTES = 400_000_000
Role = Literal["reference", "build"]
"""What bodies are brought in as: to be seen and taken from, never cut nor exported; or to build on."""


class Looked(NamedTuple):
    """A file as it is now.

    Attributes:
        content: name of what was looked at, which is kept.
    """

    file: Path
    content: str
    found: FileLook


def look(file: Path, watch: Watch | None = None) -> Looked:
    """Read a file and see what is in it.

    Raises:
        UserFault: it is no STEP file, damaged, very large, or holds no bodies.
        EnvironmentFault: it cannot be read.
        Cancelled: it was asked to stop.
    """
    watch = watch or Watch()
    if file.suffix.lower() not in ENDINGS:
        raise UserFault("this is no STEP file", file.name, "choose one that ends in .step or .stp")
    try:
        size = file.stat().st_size
    except OSError as fault:
        raise EnvironmentFault(f"{file.name} cannot be read ({fault.strerror})", "check that it exists") from None
    if size > MOST_BYTES:
        told = f"it has {size / 1e6:.0f} MB, and at most {MOST_BYTES / 1e6:.0f} are read"
        raise UserFault(told, file.name, "write out fewer parts of it")
    data = files.read(file)
    if not data.lstrip().startswith(b"ISO-10303-21"):
        raise UserFault("it is empty" if not data.strip() else "this is no STEP file", file.name, "write it anew")
    watch.at(0.1)
    content = kept.keep(kept.scratch(), data, ".step", file.stem)
    path = kept.find(content)
    assert path is not None
    reply = queries.made("look", LookInput(str(path)), FileLook, watch)
    if isinstance(reply, FileLook):
        watch.at(1.0)
        return Looked(file, content, reply)
    raise UserFault(reply.what, file.name, reply.mend)


def bring(
    family: Family,
    document_id: str,
    looked: Looked,
    wanted: list[tuple[str, ...]],
    role: Role = "build",
    folder: Path | None = None,
    unit: LengthUnit = "",
    before: str = "",
    placed: bool = True,
    make_id: IdSource = new_id,
) -> tuple[Family, str]:
    """Bodies of a file in a part.

    Args:
        wanted: their paths in the file; [] for all. folder: of the family, None while it has none.

    Returns:
        The family and the id of the operation.

    Raises:
        UserFault: nothing is chosen, or the document makes no bodies.
    """
    document = edits.model(family, document_id)
    if not document.makes_bodies:
        raise UserFault(f"a {document.kind} holds no bodies of its own", document.name, "bring it into a part")
    found = [b for b in looked.found.bodies if not wanted or b.path in wanted]
    if not found:
        raise UserFault("no body of it is chosen", looked.file.name, "choose at least one")
    made: dict[str, OutsideBody] = {}
    for one in found:
        key = make_id()
        here = [b.name for b in edits.model(family, document_id).bodies.values()]
        said = Body(
            name=names.free_name(names.plain_name(one.path[-1]), here),
            colour=one.colour,
            backdrop_only=role == "reference",
        )
        family = edits.add_body(family, document_id, key, said)
        made[key] = OutsideBody(path=one.path, box=one.box if placed else one.own_box, surface=not one.solid)
    _settle(looked, folder)
    allowed.allow(family, looked.file)
    name = names.free_name(names.plain_name(looked.file.stem), [o.name for o in document.build])
    record = Outside(
        id=make_id(),
        name=name,
        file=_called(looked.file, folder),
        content=looked.content,
        bodies=made,
        unit=unit,
        placed=placed,
    )
    return edits.add_operation(family, document_id, record, before), record.id


def _settle(looked: Looked, folder: Path | None) -> None:
    """Keep what was looked at in the family's own folder, when it has one."""
    source = kept.find(looked.content)
    if folder is not None and source is not None:
        kept.keep(folder / kept.FOLDER, source.read_bytes(), source.suffix, looked.content.rsplit("-", 1)[0])


def _called(file: Path, folder: Path | None) -> str:
    """How a record writes a file: relative to the family's folder when it lies in it."""
    whole = file.resolve()
    inside = folder is not None and whole.is_relative_to(folder.resolve())
    return whole.relative_to(folder.resolve()).as_posix() if inside and folder is not None else whole.as_posix()


def as_parts(
    family: Family, looked: Looked, name: str, folder: Path | None = None, make_id: IdSource = new_id
) -> tuple[Family, str]:
    """A part for every product of a file, and an assembly in which they stand as the file has them.

    Returns:
        The family, and the id of the assembly.

    Raises:
        UserFault: the name is taken.
    """
    family, whole = edits.add_document(family, "assembly", name, make_id)
    parts: dict[str, str] = {}
    uses: dict[tuple[str, tuple[float, ...]], None] = {}
    for one in looked.found.bodies:
        if one.product not in parts:
            taken = [d.name for d in family.documents.values()]
            called = names.free_name(names.plain_name(one.product), taken)
            family, parts[one.product] = edits.add_document(family, "part", called, make_id)
            first: dict[int, tuple[str, ...]] = {}
            for body in looked.found.bodies:
                if body.product == one.product:
                    first.setdefault(body.number, body.path)
            family, _ = bring(
                family, parts[one.product], looked, list(first.values()), "build", folder, "", "", False, make_id
            )
        uses[one.product, one.stands] = None
    for product, stands in uses:
        taken = [i.name for i in edits.assembly(family, whole).instances]
        called = names.free_name(names.plain_name(product), taken)
        family = edits.add_instance(
            family, whole, parts[product], called, make_id, stands if stands != IDENTITY else ()
        )
    return family, whole


# --- files that change ------------------------------------------------------------------------------------


class Stale(NamedTuple):
    """A file that is not what was accepted last: changed, or gone while the family has no copy of it either."""

    document: str
    operation: str
    file: Path
    state: Literal["changed", "gone"]


def operations(family: Family) -> list[tuple[Model, Outside]]:
    """Every operation that reads a file."""
    models = [d for d in family.documents.values() if isinstance(d, Model)]
    return [(d, o) for d in models for o in d.build if isinstance(o, Outside)]


def file_of(record: Outside, folder: Path | None) -> Path:
    """Where an operation's file was read from."""
    return Path(record.file) if folder is None else folder / record.file


def stale(family: Family, folder: Path | None) -> list[Stale]:
    """Files that have changed since they were accepted, and those that are nowhere."""
    found = []
    for document, record in operations(family):
        file = file_of(record, folder)
        try:
            if folder is not None:
                allowed.refuse_strange(family, folder, file)
            data = files.read(file)
        except (UserFault, EnvironmentFault):
            if kept.find(record.content) is None:
                found.append(Stale(document.id, record.id, file, "gone"))
            continue
        if kept.name_of(data, ".step", record.content.rsplit("-", 1)[0]) != record.content:
            found.append(Stale(document.id, record.id, file, "changed"))
    return found


def entries(family: Family, found: list[Stale]) -> list[Item]:
    """The attention that files need which have changed; one that is nowhere is told where it is used."""
    made = []
    for one in found:
        document = family.documents.get(one.document)
        if one.state == "changed" and document is not None:
            what = f"{one.file.name} has changed since it was read"
            mend = "look at the difference and take it"
            made.append(
                Item(document.name, what, mend, "updating", one.document, one.operation, ("all sizes",), (), ())
            )
    return made


class OutsideChange(NamedTuple):
    """What a new state of a file has otherwise: a body, and what of it."""

    body: str
    what: str


def differences(record: Outside, before: FileLook | None, after: FileLook) -> list[OutsideChange]:
    """What taking a file anew would change of the bodies that are used; () where it is the same to the eye.

    Args:
        before: what was accepted last, None where that is not there any more.
    """
    old = {b.path: b for b in before.bodies} if before is not None else {}
    new = {b.path: b for b in after.bodies}
    found = []
    for body in record.bodies.values():
        name = body.path[-1]
        there = new.get(_path_in(body, before, after))
        if there is None:
            found.append(OutsideChange(name, "is not in it any more"))
            continue
        if there.path != body.path:
            found.append(OutsideChange(name, f"is called {there.path[-1]} now"))
        if body.path not in old:
            continue
        was = old[body.path]
        gone = len(set(was.marks) - set(there.marks))
        if gone or len(was.marks) != len(there.marks):
            kept_ = len(was.marks) - gone
            found.append(
                OutsideChange(name, f"{kept_} of {counted(len(was.marks), 'face')} as they were, {gone} changed")
            )
        if was.volume != there.volume:
            found.append(OutsideChange(name, f"volume {was.volume / 1000:.4g} cm³, then {there.volume / 1000:.4g} cm³"))
    used = {_path_in(b, before, after) for b in record.bodies.values()}
    found += [
        OutsideChange(b.path[-1], "is new in it") for b in after.bodies if b.path not in used and b.path not in old
    ]
    return found


def _path_in(body: OutsideBody, before: FileLook | None, after: FileLook) -> tuple[str, ...]:
    """Where a body is in a new state of its file: under its path, else the only one that looks as it did."""
    if any(b.path == body.path for b in after.bodies):
        return body.path
    was = next((b for b in before.bodies if b.path == body.path), None) if before is not None else None
    like: list[OutsideFound] = [b for b in after.bodies if was is not None and b.marks == was.marks]
    return like[0].path if len(like) == 1 else body.path


def take(
    family: Family,
    document_id: str,
    operation_id: str,
    looked: Looked,
    before: FileLook | None = None,
    folder: Path | None = None,
) -> Family:
    """Read the bodies of an operation from a new state of its file, or from another file. Faces that are the same keep their
    names; a body that is not in it any more is missing.

    Raises:
        UserFault: the operation is gone.
    """
    allowed.allow(family, looked.file)
    document = edits.model(family, document_id)
    record = next((o for o in document.build if o.id == operation_id), None)
    if not isinstance(record, Outside):
        raise UserFault("what reads this file is not there any more", document.name)
    _settle(looked, folder)
    there = {b.path: b for b in looked.found.bodies}
    bodies = {}
    for key, body in record.bodies.items():
        found = there.get(_path_in(body, before, looked.found))
        if found is not None:
            box = found.box if record.placed else found.own_box
            body = edits.replace(body, path=found.path, box=box, surface=not found.solid)
        bodies[key] = body
    changed = edits.replace(record, file=_called(looked.file, folder), content=looked.content, bodies=bodies)
    return edits.replace_operation(family, document_id, changed)


def accepted(record: Outside) -> FileLook | None:
    """What the accepted state of an operation's file holds; None where it is not there any more."""
    path = kept.find(record.content)
    if path is None:
        return None
    reply = queries.made("look", LookInput(str(path)), FileLook)
    return reply if isinstance(reply, FileLook) else None
