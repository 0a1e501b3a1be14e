"""Unsaved edits on disk, so that a killed program loses nothing.

One file for each family, in the user's state folder: the documents that differ from what was last saved, and the
digests of the files they differ from.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
from pathlib import Path

import msgspec

from architectonic.base.errors import UserFault
from architectonic.exchange.folder import Stored
from architectonic.family import codec
from architectonic.family.records import Family


class _Entry(msgspec.Struct):
    base: dict[str, str]
    head: bytes
    changed: dict[str, bytes]
    removed: list[str]


class Journal:
    """The journal of one family folder."""

    def __init__(self, state_folder: Path, family_folder: Path) -> None:
        self.state_folder = state_folder
        name = hashlib.sha256(str(family_folder.resolve()).encode()).hexdigest()[:24]
        self.path = state_folder / "journal" / name

    def write(self, stored: Stored, family: Family) -> None:
        """Note how the family differs from what is stored; a full disk costs the journal, not the edit."""
        saved = stored.family.documents
        changed = {k: codec.encode(d) for k, d in family.documents.items() if saved.get(k) is not d}
        removed = [k for k in saved if k not in family.documents]
        if not changed and not removed and family.head == stored.family.head:
            self.clear()
            return
        base = {k: digest for k, (_, digest) in stored.files.items()}
        data = msgspec.msgpack.encode(_Entry(base, codec.encode(family.head), changed, removed))
        part = self.path.with_name(f"{self.path.name}.{os.getpid()}.part")
        with contextlib.suppress(OSError):
            self.path.parent.mkdir(parents=True, exist_ok=True)
            part.write_bytes(data)
            part.replace(self.path)

    def read(self, stored: Stored) -> Family | None:
        """The family with its unsaved edits, or None when there are none that fit what is on disk."""
        try:
            entry = msgspec.msgpack.decode(self.path.read_bytes(), type=_Entry)
        except (OSError, msgspec.DecodeError):
            return None
        if entry.base != {k: digest for k, (_, digest) in stored.files.items()}:
            return None
        try:
            documents = {k: d for k, d in stored.family.documents.items() if k not in entry.removed}
            documents |= {k: codec.decode_document(d, "journal") for k, d in entry.changed.items()}
            return Family(head=codec.decode_head(entry.head, "journal"), documents=documents)
        except UserFault:
            return None

    def clear(self) -> None:
        """Nothing is unsaved any more."""
        with contextlib.suppress(OSError):
            self.path.unlink()
