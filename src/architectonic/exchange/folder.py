"""The family folder: loading, saving as one transaction, and noticing what others changed (docs/format.md).

Saving writes every changed document beside its target, then a commit record, then renames, then clears the record.
Whoever opens the folder next finishes or rolls back what was interrupted.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
from dataclasses import dataclass
from pathlib import Path
from typing import TypedDict

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.family import codec
from architectonic.family.names import identifier
from architectonic.family.records import AnyDocument, Family

HEAD = "family.json"
RECORD = ".commit.json"
PART = ".part"
RESERVED = ("files", "kept")
"""Folders inside a family: pictures and linked tables; geometry of pinned and severed feeds."""


class _Record(TypedDict):
    writes: dict[str, str]
    removes: list[str]


@dataclass(frozen=True)
class Stored:
    """A family as it lies on disk.

    Attributes:
        files: name of the file of each document ("" for family.json) and its digest when read or written.
    """

    folder: Path
    family: Family
    files: dict[str, tuple[str, str]]


def folder_of(path: Path) -> Path:
    """The family's folder, whether it or its family.json was named."""
    return path.parent if path.name == HEAD else path


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def _read(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as fault:
        raise EnvironmentFault(
            f"{path.name} cannot be read ({fault.strerror})", "check that it exists and may be read"
        ) from None


def load(path: Path) -> Stored:
    """Read a family.

    Raises:
        EnvironmentFault: the folder or a file cannot be read.
        UserFault: a file is broken, newer, or stands twice; nothing is half opened.
    """
    folder = folder_of(path)
    if not folder.is_dir():
        raise EnvironmentFault(f"{folder} is not a folder", "name the folder of a family")
    if not (folder / HEAD).exists():
        raise EnvironmentFault(
            f"{folder} holds no {HEAD}", "name the folder of a family, or make one with: architectonic new"
        )
    recover(folder)
    data = _read(folder / HEAD)
    head = codec.decode_head(data, HEAD)
    files = {"": (HEAD, _digest(data))}
    documents: dict[str, AnyDocument] = {}
    for file in sorted(folder.glob("*.json")):
        if file.name in (HEAD, RECORD) or file.name.startswith("."):
            continue
        data = _read(file)
        document = codec.decode_document(data, file.name)
        if document.id in documents:
            raise UserFault(
                f"this is a copy of {files[document.id][0]}: both hold the id {document.id}",
                file.name,
                "move one of them out of the folder, or fork the document inside the program",
            )
        documents[document.id] = document
        files[document.id] = (file.name, _digest(data))
    ordered = dict(sorted(documents.items(), key=lambda e: (e[1].rank, e[1].name.casefold(), e[0])))
    return Stored(folder, Family(head=head, documents=ordered), files)


def file_name(document: AnyDocument) -> str:
    """`<identifier>-<first 4 of the id>.json`: a hint only, the id inside counts."""
    return f"{identifier(document.name)}-{document.id[:4]}.json"


def changed_on_disk(stored: Stored) -> list[str]:
    """Files that others changed, added or took away since they were read or written here."""
    found = []
    known = {name for name, _ in stored.files.values()}
    for name, digest in stored.files.values():
        try:
            if _digest((stored.folder / name).read_bytes()) != digest:
                found.append(name)
        except OSError:
            found.append(name)
    for file in stored.folder.glob("*.json"):
        if file.name not in known and not file.name.startswith("."):
            found.append(file.name)
    return sorted(found)


def save(stored: Stored, family: Family, overwrite: bool = False) -> Stored:
    """Write what differs from disk, all or nothing.

    Args:
        overwrite: also write over files that others changed meanwhile.

    Raises:
        UserFault: others changed a file that would be written or removed; nothing was written.
        EnvironmentFault: the folder cannot be written; nothing was changed.
    """
    stored.folder.mkdir(parents=True, exist_ok=True)
    contents: dict[str, tuple[str, bytes]] = {"": (HEAD, codec.encode(family.head))}
    taken: dict[str, str] = {}
    for key, document in family.documents.items():
        name = file_name(document)
        while name.casefold() in taken and taken[name.casefold()] != key:
            name = name.replace(".json", "_.json")
        taken[name.casefold()] = key
        contents[key] = (name, codec.encode(document))
    files = {key: (name, _digest(data)) for key, (name, data) in contents.items()}
    writes = {name: data for key, (name, data) in contents.items() if stored.files.get(key) != files[key]}
    kept = {name for name, _ in contents.values()}
    removes = [name for name, _ in stored.files.values() if name not in kept]
    if not overwrite:
        touched = {*writes, *removes}
        foreign = [n for n in changed_on_disk(stored) if n in touched and (n in _known(stored) or n in writes)]
        if foreign:
            raise UserFault(
                f"changed on disk by someone else since it was opened: {', '.join(foreign)}",
                stored.folder.name,
                "reload to see their version, or save again to overwrite it",
            )
    _commit(stored.folder, writes, removes)
    return Stored(stored.folder, family, files)


def _known(stored: Stored) -> set[str]:
    return {name for name, _ in stored.files.values()}


def _commit(folder: Path, writes: dict[str, bytes], removes: list[str]) -> None:
    if not writes and not removes:
        return
    from filelock import FileLock, Timeout  # 40 ms that opening a family need not wait for

    try:
        with FileLock(folder / ".lock", timeout=10):
            for name, data in writes.items():
                _write_durably(folder / (name + PART), data)
            record: _Record = {"writes": {name: _digest(data) for name, data in writes.items()}, "removes": removes}
            _write_durably(folder / (RECORD + PART), json.dumps(record).encode())
            (folder / (RECORD + PART)).replace(folder / RECORD)  # from here on the save will be finished
            _finish(folder, record)
    except Timeout:
        raise EnvironmentFault("another program is saving this family", "try again in a moment") from None
    except OSError as fault:
        _sweep(folder)
        raise EnvironmentFault(
            f"the family could not be saved ({fault.strerror or fault})",
            "free space or choose another folder",
        ) from None


def _write_durably(path: Path, data: bytes) -> None:
    with path.open("wb") as stream:
        stream.write(data)
        stream.flush()
        os.fsync(stream.fileno())


def _finish(folder: Path, record: _Record) -> None:
    for name in record["writes"]:
        part = folder / (name + PART)
        if part.exists():
            part.replace(folder / name)
    for name in record["removes"]:
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
        UserFault: the record names a file that is neither written nor waiting; says which.
    """
    record_path = folder / RECORD
    parts = list(folder.glob(f"*{PART}"))
    if not record_path.exists():
        if parts:
            from filelock import FileLock, Timeout

            with contextlib.suppress(OSError, Timeout), FileLock(folder / ".lock", timeout=0):
                _sweep(folder)  # only when nobody is saving right now
        return bool(parts)
    try:
        record = json.loads(record_path.read_bytes())
        wanted = {str(k): str(v) for k, v in record["writes"].items()}
        removes = [str(n) for n in record["removes"]]
    except (ValueError, KeyError, AttributeError, TypeError):
        raise UserFault(
            "the record of an unfinished save is damaged", RECORD, "delete it to keep the files as they are"
        ) from None
    for name, digest in wanted.items():
        for candidate in (folder / (name + PART), folder / name):
            if candidate.exists() and _digest(candidate.read_bytes()) == digest:
                break
        else:
            raise UserFault(
                "an unfinished save has lost this file", name, f"take it from a backup, then delete {RECORD}"
            )
    _finish(folder, {"writes": wanted, "removes": removes})
    return True
