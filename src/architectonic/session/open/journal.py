"""Unsaved edits on disk, so that a killed program loses nothing.

Every session keeps a journal of its own, in the user's state folder, under the identity of the family: the documents that
differ from what was last saved, and what they differ from. It belongs to the process that is named in it; only when that
lives no more is it offered to others. Nothing of it is deleted unasked.
"""

from __future__ import annotations

import contextlib
import fcntl
import os
import time
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple

import msgspec

from architectonic.base import folders, stores
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.base.ids import new_id
from architectonic.base.processes import claims
from architectonic.base.processes.claims import Claim
from architectonic.exchange import folder
from architectonic.exchange.folder import Stored
from architectonic.family import codec
from architectonic.family.graph.static import refuse_circle
from architectonic.family.merging import MergeClash, merged
from architectonic.family.records import AnyDocument, Family

ENDING = ".unsaved"
ASIDE = "put aside"
"""Folder beside the journals in which families lie that were put aside."""


class _Entry(msgspec.Struct):
    """What a session has not saved.

    Attributes:
        before: the documents that it started from, as far as they were changed or removed.
    """

    claim: Claim
    family: str
    folder: str
    when: float
    label: str
    before: dict[str, bytes]
    changed: dict[str, bytes]
    removed: list[str]


class Left(NamedTuple):
    """What a session that lives no more has left.

    Attributes:
        when: of its last edit, seconds since 1970, and label: what that was; folder: where the family lay.
        documents: names of those that it changed or removed; damaged: it cannot be read any more.
    """

    path: Path
    when: float
    label: str
    folder: str
    documents: tuple[str, ...]
    damaged: bool = False


class TakenBack(NamedTuple):
    """What came of edits that were left.

    Attributes:
        family: with all of them that could be brought in; taken: names of documents that differ by it.
        refused: what could not be, because others changed the same: the document and the thing.
    """

    family: Family
    taken: tuple[str, ...]
    refused: tuple[str, ...]


def _place(state_folder: Path, family: Family) -> Path:
    return state_folder / "journal" / folders.of_family(family.head.id)


class Journal:
    """The journal of one session.

    Attributes:
        trouble: why unsaved edits are not kept just now, in words; "" while they are.
    """

    def __init__(self, state_folder: Path, family: Family) -> None:
        self.state_folder = state_folder
        self.path = _place(state_folder, family) / f"{new_id()}{ENDING}"
        self.trouble = ""
        self._before: dict[str, tuple[AnyDocument, bytes]] = {}
        self._beaten = time.monotonic()

    def write(self, stored: Stored, family: Family, label: str) -> None:
        """Note how the family differs from what is stored; a full disk costs the journal, not the edit."""
        saved = stored.family.documents
        changed = {k: codec.encode(d) for k, d in family.documents.items() if saved.get(k) is not d}
        removed = [k for k in saved if k not in family.documents]
        if family.head != stored.family.head:
            changed[""] = codec.encode(family.head)
        if not changed and not removed:
            self.clear()
            return
        entry = _Entry(
            claims.mine(), family.head.name, str(stored.folder), time.time(), label,
            {k: self._of_before(stored, k) for k in (*changed, *removed) if not k or k in saved},
            changed, removed,
        )  # fmt: skip
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            stores.write(self.path, self.path.stem, msgspec.msgpack.encode(entry))
            self.trouble = ""
        except OSError as fault:
            self.trouble = f"unsaved edits are not kept on this machine ({fault.strerror or fault}): save soon"

    def _of_before(self, stored: Stored, key: str) -> bytes:
        if not key:
            return codec.encode(stored.family.head)
        known, document = self._before.get(key), stored.family.documents[key]
        if known is None or known[0] is not document:
            known = self._before[key] = document, codec.encode(document)
        return known[1]

    def beat(self) -> None:
        """Say that this session lives, for those of other machines that see the same folder."""
        if time.monotonic() - self._beaten > claims.BEAT:
            self._beaten = time.monotonic()
            with contextlib.suppress(OSError):
                os.utime(self.path)

    def release(self) -> None:
        """The session ends without saving: what it leaves may be offered at once."""
        with contextlib.suppress(OSError):
            entry = _read(self.path)
            if entry is not None:
                nobody = msgspec.structs.replace(entry.claim, pid=0)
                content = msgspec.msgpack.encode(msgspec.structs.replace(entry, claim=nobody))
                stores.write(self.path, self.path.stem, content)

    def clear(self) -> None:
        """Nothing is unsaved any more."""
        self.trouble = ""
        with contextlib.suppress(OSError):
            self.path.unlink()


def left_told(found: Left) -> str:
    """What was left, when, and from where."""
    when = claims.moment(found.when)
    if found.damaged:
        return f"Left unsaved at {when}, and cannot be read any more"
    last = f" (last: {found.label})" if found.label else ""
    return f"Left unsaved at {when}: {', '.join(found.documents) or 'nothing'}{last}, from {Path(found.folder).name}"


def left(state_folder: Path, family: Family, own: Path | None = None) -> list[Left]:
    """What other sessions of a family have left, the latest first."""
    found = []
    for path in _place(state_folder, family).glob(f"*{ENDING}"):
        if path == own:
            continue
        try:
            known = path.stat()
            claim, left_so = _glanced(path, known.st_mtime_ns, known.st_size)
        except OSError:
            continue  # it was taken meanwhile
        if claim is None:
            found.append(left_so._replace(when=known.st_mtime))
        elif not claims.is_alive(claim, known.st_mtime):
            found.append(left_so)
    return sorted(found, key=lambda f: -f.when)


@lru_cache(maxsize=64)
def _glanced(path: Path, changed: int, size: int) -> tuple[Claim | None, Left]:
    """Whose a journal is, None for a damaged one, and what it says; read again only after it has `changed`."""
    entry = _read(path)
    if entry is None:
        return None, Left(path, 0.0, "", "", (), damaged=True)
    return entry.claim, Left(path, entry.when, entry.label, entry.folder, _names(entry))


@contextlib.contextmanager
def alone(found: Left) -> Iterator[None]:
    """Have what was left for oneself while it is taken or put aside.

    Raises:
        UserFault: another window takes it, or has taken it.
    """
    try:
        handle = os.open(found.path, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC)
    except OSError:
        raise UserFault("these edits are there no more: another window has taken them, or put them aside") from None
    try:
        with contextlib.suppress(
            OSError
        ):  # where there are no locks one takes the chance that two windows do it at once
            try:
                fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except BlockingIOError:
                raise UserFault("another window is taking these edits just now") from None
        if os.fstat(handle).st_nlink == 0:
            raise UserFault("these edits are there no more: another window has taken them, or put them aside")
        yield
    finally:
        os.close(handle)


def _read(path: Path) -> _Entry | None:
    """A journal; None when it is not what was written."""
    content = stores.unsealed(path.stem, path.read_bytes())
    if content is None:
        return None
    try:
        return msgspec.msgpack.decode(content, type=_Entry)
    except msgspec.DecodeError:
        return None


def _names(entry: _Entry) -> tuple[str, ...]:
    found = []
    for key in (*entry.changed, *entry.removed):
        data = entry.changed.get(key) or entry.before.get(key)
        if not key:
            found.append(entry.family)
        elif data is not None:
            with contextlib.suppress(UserFault):
                found.append(codec.decode_document(data, "journal").name)
    return tuple(found)


def as_left(found: Left, stored: Stored) -> Family:
    """The family as a session has left it, on what is stored now.

    Raises:
        UserFault: the journal cannot be read.
    """
    entry = _entry(found)
    documents = {k: d for k, d in stored.family.documents.items() if k not in entry.removed}
    documents |= {k: codec.decode_document(data, "journal") for k, data in entry.changed.items() if k}
    head = codec.decode_head(entry.changed[""], "journal") if "" in entry.changed else stored.family.head
    return Family(head=head, documents=documents)


def _entry(found: Left) -> _Entry:
    entry = _read(found.path)
    if entry is None:
        raise UserFault("these edits cannot be read any more", found.path.name, f"they stay in {found.path.parent}")
    return entry


def taken(found: Left, present: Family) -> TakenBack:
    """The edits that a session has left, brought into the present state of the family.

    A document that nobody changed since is as it was left; one that was is brought together with what others made of it;
    where both changed the same, theirs stays and it is named.

    Raises:
        UserFault: the journal cannot be read, or nothing can be made of it.
    """
    entry = _entry(found)
    documents, head = dict(present.documents), present.head
    done: list[str] = []
    refused: list[str] = []
    for key, data in entry.changed.items():
        if not key:
            before, mine = codec.decode_head(entry.before[""], "journal"), codec.decode_head(data, "journal")
            try:
                head = merged(before, mine, present.head)
                done.append(mine.name)
            except MergeClash as clash:
                refused.append(str(clash))
            continue
        left_so = codec.decode_document(data, "journal")
        old = entry.before.get(key)
        try:
            if key in documents and old is not None:
                documents[key] = merged(codec.decode_document(old, "journal"), left_so, documents[key])
            elif key not in documents and old is not None:
                raise MergeClash((left_so.name, "which was deleted meanwhile"))
            else:
                documents[key] = left_so if key not in documents else merged(documents[key], left_so, documents[key])
            done.append(left_so.name)
        except MergeClash as clash:
            refused.append(str(clash))
    for key in entry.removed:
        before_ = codec.decode_document(entry.before[key], "journal") if key in entry.before else None
        if key in documents and documents[key] == before_:
            done.append(documents.pop(key).name)
        elif key in documents:
            refused.append(f"{documents[key].name} / deleted here, changed by others")
    family = Family(head=head, documents=documents)
    return TakenBack(refuse_circle(family), tuple(done), tuple(refused))


def put_aside(found: Left, state_folder: Path, whole: Family | None) -> Path:
    """Keep what was left as a family of its own, or, where it cannot be read, as the file that it is; returns where.

    Raises:
        EnvironmentFault: it cannot be written.
    """
    base = state_folder / ASIDE
    stamp = time.strftime("%Y-%m-%d %H.%M.%S", time.localtime(found.when))
    try:
        base.mkdir(parents=True, exist_ok=True)
        if whole is None:
            place = base / f"unreadable {stamp}{ENDING}"
            found.path.replace(place)
            return place
        name = "".join(c for c in whole.head.name if c.isalnum() or c in " -_").strip() or "family"
        number = 1
        while (place := base / f"{name} {stamp}{f' {number}' if number > 1 else ''}").exists():
            number += 1
        folder.save(Stored(place, Family(head=whole.head), {}), whole)
        found.path.unlink(missing_ok=True)
    except OSError as fault:
        raise EnvironmentFault(f"what was left cannot be put aside ({fault})", "free space, and try again") from None
    return place


def drop(found: Left) -> None:
    """Delete what was left, as somebody said so."""
    with contextlib.suppress(OSError):
        found.path.unlink()
