"""The family folder: loading, saving as one transaction, and noticing what others changed (docs/format.md).

Saving holds one lock from looking at what others changed to reading back what was written: it writes every changed
document beside its target, then a commit record, then renames, then clears the record. Loading holds it too, so that it
never sees half of a save. Whoever opens the folder next finishes or rolls back what was interrupted. Nothing outside the
folder is ever written or removed: names in a record are plain, and links are not written through.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import shutil
from dataclasses import dataclass, replace
from pathlib import Path
from typing import NamedTuple

from architectonic.base import files as plain
from architectonic.base import kept
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.exchange.locking import locked
from architectonic.family import codec
from architectonic.family.names import identifier
from architectonic.family.operations.bodies.outside import Outside
from architectonic.family.records import AnyDocument, Family, Model

HEAD = "family.json"
RECORD = ".commit.json"
PART = ".part"
RESERVED = ("files", "kept")
"""Folders inside a family: pictures and linked tables; geometry of pinned and severed feeds."""


class Gone(EnvironmentFault):
    """The folder that a family was opened from is not there any more, or holds another family."""


class _Record(NamedTuple):
    """What a save will have done: digests of the files that it writes, and the files that it removes."""

    writes: dict[str, str]
    removes: list[str]


class Unread(NamedTuple):
    """A document that could not be read: its file, the digest of that, and why."""

    file: str
    digest: str
    told: str


@dataclass(frozen=True)
class Stored:
    """A family as it lies on disk.

    Attributes:
        files: name of the file of each document ("" for family.json) and its digest when read or written.
        unread: documents that could not be read: the others go on without them, and their files are left as they are.
    """

    folder: Path
    family: Family
    files: dict[str, tuple[str, str]]
    unread: tuple[Unread, ...] = ()


def folder_of(path: Path) -> Path:
    """The family's folder, whether it or its family.json was named."""
    return path.parent if path.name == HEAD else path


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def load(path: Path) -> Stored:
    """Read a family.

    Raises:
        EnvironmentFault: the folder or a file cannot be read, or somebody else is saving it for long.
        UserFault: family.json is broken or newer, or a document stands twice; nothing is half opened.
    """
    folder = folder_of(path)
    if not folder.is_dir():
        raise EnvironmentFault(f"{folder} is not a folder", "name the folder of a family")
    if not (folder / HEAD).exists() and not (folder / RECORD).exists():
        raise EnvironmentFault(
            f"{folder} holds no {HEAD}", "name the folder of a family, or make one with: architectonic new"
        )
    if any(folder.glob(f"*{PART}")):
        recover(folder)
    while True:
        with locked(folder, write=False):
            if not (folder / RECORD).exists():
                return _loaded(folder)
        recover(folder)  # somebody's save was interrupted: it is finished, or it is told why it cannot be


def _loaded(folder: Path) -> Stored:
    data = plain.read(folder / HEAD)
    head = codec.decode_head(data, HEAD)
    files = {"": (HEAD, _digest(data))}
    documents: dict[str, AnyDocument] = {}
    unread: list[Unread] = []
    for file in _documents(folder):
        try:
            data = plain.read(file)
            document = codec.decode_document(data, file.name)
        except (UserFault, EnvironmentFault) as fault:
            told = fault.what.rstrip(".")
            unread.append(Unread(file.name, _on_disk(file), told))
            continue
        if document.id in documents:
            raise UserFault(
                f"this is a copy of {files[document.id][0]}: both hold the id {document.id}",
                file.name,
                "move one of them out of the folder, or fork the document inside the program",
            )
        documents[document.id] = document
        files[document.id] = (file.name, _digest(data))
    ordered = dict(sorted(documents.items(), key=lambda e: (e[1].rank, e[1].name.casefold(), e[0])))
    return Stored(folder, Family(head=head, documents=ordered), files, tuple(unread))


def _documents(folder: Path) -> list[Path]:
    return sorted(f for f in folder.glob("*.json") if f.name != HEAD and not f.name.startswith("."))


def file_name(document: AnyDocument) -> str:
    """`<identifier>-<first 4 of the id>.json`: a hint only, the id inside counts."""
    return f"{identifier(document.name)}-{document.id[:4]}.json"


def changed_on_disk(stored: Stored) -> list[str]:
    """Files that others changed, added or took away since they were read or written here."""
    found = []
    left_alone = [(u.file, u.digest) for u in stored.unread]
    known = {name for name, _ in (*stored.files.values(), *left_alone)}
    for name, digest in (*stored.files.values(), *left_alone):
        if _on_disk(stored.folder / name) != digest:
            found.append(name)
    return sorted([*found, *(f.name for f in _documents(stored.folder) if f.name not in known)])


def _on_disk(path: Path) -> str:
    """The digest of a file; "" for one that is not there or cannot be read."""
    try:
        return _digest(plain.read(path))
    except EnvironmentFault:
        return ""


def refuse_elsewhere(stored: Stored) -> None:
    """Refuse to go on with a folder that is not there any more, or that is another family's by now.

    Raises:
        Gone: says which.
    """
    if not stored.files:
        return
    told = f"{stored.folder} holds this family no more"
    mend = "save all of it elsewhere, or say where it is now"
    if not (stored.folder / HEAD).exists():
        raise Gone(f"{told}: it was moved or removed", mend)
    try:
        head = codec.decode_head(plain.read(stored.folder / HEAD), HEAD)
    except (UserFault, EnvironmentFault):  # a broken one was changed by others: that is told as such
        return
    if head.id != stored.family.head.id:
        raise Gone(f"{told}: it is the family “{head.name}” by now", mend)


def save(stored: Stored, family: Family, overwrite: bool = False) -> Stored:
    """Write what differs from disk, all or nothing, and read it back.

    Args:
        overwrite: also write over files that others changed meanwhile.

    Raises:
        Gone: the folder was moved, removed, or is another family's by now; nothing was written.
        UserFault: others changed a file that would be written or removed; nothing was written.
        EnvironmentFault: the folder cannot be written; nothing was changed.
    """
    contents: dict[str, tuple[str, bytes]] = {"": (HEAD, codec.encode(family.head))}
    taken = {u.file.casefold(): f"{u.file} cannot be read" for u in stored.unread}
    for key, document in family.documents.items():
        name = file_name(document)
        while name.casefold() in taken and taken[name.casefold()] != key:
            name = name.replace(".json", "_.json")
        taken[name.casefold()] = key
        contents[key] = (name, codec.encode(document))
    files = {key: (name, _digest(data)) for key, (name, data) in contents.items()}
    written = {name for name, _ in contents.values()}
    removes = [name for name, _ in stored.files.values() if name not in written]
    refuse_elsewhere(stored)  # before anything is made where it was
    try:
        stored.folder.mkdir(parents=True, exist_ok=True)
    except OSError as fault:
        raise EnvironmentFault(
            f"{stored.folder} cannot be made ({fault.strerror})", "free space or choose another folder"
        ) from None
    with locked(stored.folder, write=True):
        refuse_elsewhere(stored)
        _finish_others(stored.folder)
        if not stored.files and (stored.folder / HEAD).exists():
            raise UserFault("this folder holds a family already", str(stored.folder), "choose a different one")
        writes = {
            name: data
            for key, (name, data) in contents.items()
            if stored.files.get(key) != files[key] or (overwrite and not (stored.folder / name).exists())
        }
        if not overwrite:
            _refuse_foreign(stored, {*writes, *removes}, set(writes))
        _keep(stored.folder / kept.FOLDER, family)
        _commit(stored.folder, writes, removes)
    return replace(stored, family=family, files=files)


def _keep(target: Path, family: Family) -> None:
    """Put the files that documents read bodies from into the family's folder, where they are not there yet.

    Raises:
        EnvironmentFault: one cannot be written.
    """
    wanted = {
        o.content for d in family.documents.values() if isinstance(d, Model) for o in d.build if isinstance(o, Outside)
    }
    for name in sorted(wanted):
        if not (target / name).exists() and (source := kept.find(name)) is not None:
            kept.keep(target, source.read_bytes(), source.suffix, name.rsplit("-", 1)[0])


def _refuse_foreign(stored: Stored, touched: set[str], writes: set[str]) -> None:
    """Refuse to write over what others changed."""
    known = {name for name, _ in stored.files.values()}
    foreign = [n for n in changed_on_disk(stored) if n in touched and (n in known or n in writes)]
    if foreign:
        raise UserFault(
            f"changed on disk by someone else since it was opened: {', '.join(foreign)}",
            stored.folder.name,
            "reload to see their version, or save again to overwrite it",
        )


def save_as(stored: Stored, family: Family, folder: Path) -> Stored:
    """Write all of a family into a new folder, with its pictures, tables and kept geometry.

    Raises:
        UserFault: the folder holds something already.
        EnvironmentFault: it cannot be written.
    """
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        raise UserFault("this folder is not empty", str(folder), "choose a new one")
    made = save(Stored(folder, Family(head=family.head), {}), family)
    try:
        for name in RESERVED:
            source = stored.folder / name
            if stored.files and source.is_dir() and not source.is_symlink():
                shutil.copytree(source, folder / name, symlinks=True, ignore=_irregular)
            else:
                (folder / name).mkdir(exist_ok=True)
        for one in stored.unread:
            with contextlib.suppress(EnvironmentFault):
                plain.write(folder / one.file, plain.read(stored.folder / one.file))
    except OSError as fault:
        raise EnvironmentFault(
            f"the documents are saved, but not all pictures and tables could be copied ({fault})",
            "copy them into the new folder by hand",
        ) from None
    return replace(made, unread=stored.unread)


def _irregular(folder: str, names: list[str]) -> list[str]:
    """What is not copied: pipes and devices."""
    found = [Path(folder, n) for n in names]
    return [p.name for p in found if not (p.is_file() or p.is_dir() or p.is_symlink())]


def follow(stored: Stored, folder: Path) -> Stored:
    """The same family in the folder that it was moved to: what others changed meanwhile is told from there.

    Raises:
        UserFault: it is another family.
        EnvironmentFault: it is none, or cannot be read.
    """
    there = load(folder)
    if there.family.head.id != stored.family.head.id:
        raise UserFault(f"this is the family “{there.family.head.name}”", str(folder), "choose the folder of this one")
    return replace(stored, folder=there.folder)


def _commit(folder: Path, writes: dict[str, bytes], removes: list[str]) -> None:
    if not writes and not removes:
        return
    record = _Record({name: _digest(data) for name, data in writes.items()}, removes)
    try:
        for name, data in writes.items():
            plain.write(folder / (name + PART), data)
        plain.write(folder / (RECORD + PART), json.dumps(record._asdict()).encode())
        (folder / (RECORD + PART)).replace(folder / RECORD)  # from here on the save will be finished
        _finish(folder, record)
    except OSError as fault:
        _sweep(folder)
        raise EnvironmentFault(
            f"the family could not be saved ({fault.strerror or fault})",
            "free space or choose another folder",
        ) from None
    wrong = [name for name, digest in record.writes.items() if _on_disk(folder / name) != digest]
    if wrong:
        raise EnvironmentFault(
            f"what was written is not what is read back: {', '.join(wrong)}", "save elsewhere, and look at the disk"
        )


def _finish(folder: Path, record: _Record) -> None:
    for name in record.writes:
        part = folder / (name + PART)
        if part.exists():
            part.replace(folder / name)
    for name in record.removes:
        (folder / name).unlink(missing_ok=True)
    (folder / RECORD).unlink(missing_ok=True)


def _sweep(folder: Path) -> None:
    """Take away what an unfinished save left, unless its commit record stands."""
    if (folder / RECORD).exists():
        return
    for part in folder.glob(f"*{PART}"):
        with contextlib.suppress(OSError):
            part.unlink()


def recover(folder: Path) -> bool:
    """Finish a save whose commit record stands, roll back one without; True when something was done.

    Raises:
        UserFault: the record is damaged, names something outside the folder, or a file that is neither written nor
            waiting; says which.
        EnvironmentFault: somebody else is saving, or a save was left that cannot be finished on this disk.
    """
    try:
        with locked(folder, write=True):
            return _finish_others(folder)
    except EnvironmentFault:
        if (folder / RECORD).exists():
            raise
        return False  # leavings without a record change nothing


def _finish_others(folder: Path) -> bool:
    if not (folder / RECORD).exists():
        found = any(folder.glob(f"*{PART}"))
        _sweep(folder)
        return found
    record = _recorded(folder)
    for name, digest in record.writes.items():
        if digest not in (_on_disk(folder / (name + PART)), _on_disk(folder / name)):
            raise UserFault(
                "an unfinished save has lost this file", name, f"take it from a backup, then delete {RECORD}"
            )
    _finish(folder, record)
    return True


def _recorded(folder: Path) -> _Record:
    """The record of an unfinished save, once it names nothing but documents of this folder."""
    mend = "delete it to keep the files as they are"
    try:
        found = json.loads(plain.read(folder / RECORD))
        record = _Record({str(k): str(v) for k, v in found["writes"].items()}, [str(n) for n in found["removes"]])
    except (ValueError, KeyError, AttributeError, TypeError):
        raise UserFault("the record of an unfinished save is damaged", RECORD, mend) from None
    for name in (*record.writes, *record.removes):
        if name != Path(name).name or "\\" in name or not name.endswith(".json") or name.startswith("."):
            raise UserFault(f"the record of an unfinished save names “{name}”, which is no document here", RECORD, mend)
    return record
