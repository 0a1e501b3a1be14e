"""Building a range: every row built and checked, how far it is told, and a file for each."""

from __future__ import annotations

import shutil
import tempfile
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import NamedTuple

from architectonic.base.cancel import CancelToken
from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.check.attention import Item, attention
from architectonic.check.cells import built as built_by
from architectonic.family import edits, scopes
from architectonic.family.records import Family
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.evaluator import Evaluator
from architectonic.session.files.export import NONE, Writing, export
from architectonic.session.open.engine import Engine
from architectonic.session.open.queries import whole
from architectonic.session.ranges import rows as ranged
from architectonic.session.tables.columns import states


class Far(NamedTuple):
    """How far it is: rows and pieces of work that are done, all at most, and the seconds that are left, None while unknown."""

    done: int
    most: int
    seconds: float | None


class RowBuilt(NamedTuple):
    """A row: its id and name, and whether it is current, failing or out of rule."""

    key: str
    name: str
    state: str


class RangeBuilt(NamedTuple):
    """A range as it came out.

    Attributes:
        causes: what is wrong, by root cause, each with the rows in which.
    """

    evaluation: Evaluation
    document: str
    rows: tuple[RowBuilt, ...]
    causes: tuple[Item, ...]

    @property
    def good(self) -> tuple[RowBuilt, ...]:
        """Rows that can be handed out."""
        return tuple(r for r in self.rows if r.state != "failing")


def build(
    evaluator: Evaluator,
    family: Family,
    document: str,
    keys: Sequence[str] = (),
    cancel: CancelToken | None = None,
    told: Callable[[Far], object] = lambda _: None,
) -> RangeBuilt:
    """Build and check every row; only what differs from what is known is made.

    Args:
        keys: rows; all when empty.

    Raises:
        Cancelled: it was asked to stop; what is made so far stays in the store.
    """
    found = edits.document(family, document)
    wanted = [r for r in ranged.rows(family, found) if not keys or r.key in keys]
    alternate = scopes.alternate_of(found)
    at = {r.key: Scope(document, r.key, alternate) for r in wanted}
    started = time.monotonic()

    def progress(done: int, most: int) -> None:
        spent = time.monotonic() - started
        told(Far(done, most, spent / done * (most - done) if done else None))

    evaluation = whole(evaluator, family, list(at.values()), (), cancel, progress)
    marks = states(evaluation, list(at.values()), built_by(family, document))
    made = tuple(RowBuilt(r.key, r.name, marks[at[r.key]]) for r in wanted)
    return RangeBuilt(evaluation, document, made, tuple(attention(evaluation)))


def file_names(built: RangeBuilt, pattern: str) -> dict[str, str]:
    """What the file of each row is called, without its ending.

    Raises:
        UserFault: a word in braces that means nothing, two rows that would be called alike, no name of a file.
    """
    family = built.evaluation.family
    alternate = scopes.alternate_of(family.documents[built.document])
    words = ranged.words_of(family, built.evaluation, built.document)
    made = edits.filled_patterns(
        {r.key: r.name for r in built.rows},
        pattern,
        lambda row, word: words(Scope(built.document, row, alternate), word),
    )
    for text in made.values():
        if not text or text in (".", "..") or any(c in text for c in '/\\\0:*?"<>|') or len(text.encode()) > 200:
            raise UserFault(f"“{text}” is no name of a file", pattern, 'leave out / \\ : * ? " < > |')
    return made


def write_files(
    engine: Engine,
    built: RangeBuilt,
    folder: Path,
    ending: str,
    pattern: str = "{document} {name}",
    wish: Writing = NONE,
    more: Sequence[Callable[[Path], None]] = (),
    cancel: CancelToken | None = None,
    told: Callable[[float], object] = lambda _: None,
) -> list[Path]:
    """A file for each row that is built, and what else belongs to them: all of them, or none.

    Args:
        more: write further files into the folder that they are given.

    Raises:
        UserFault: as of `file_names`; the folder is a file.
        EnvironmentFault: a file cannot be written; nothing is left behind.
        Cancelled: it was asked to stop; nothing is left behind.
    """
    called = file_names(built, pattern)
    document = built.evaluation.family.documents[built.document]
    if folder.exists() and not folder.is_dir():
        raise UserFault(f"{folder} is a file", "", "name a folder")
    try:
        folder.mkdir(parents=True, exist_ok=True)
        part = Path(tempfile.mkdtemp(prefix=".range-", dir=folder))
    except OSError as fault:
        raise EnvironmentFault(f"{folder} cannot be written ({fault.strerror})", "name another folder") from None
    try:
        for n, row in enumerate(built.good):
            if cancel is not None:
                cancel.check()
            at = Scope(built.document, row.key, scopes.alternate_of(document))
            try:
                export(engine, built.evaluation, at, part / f"{called[row.key]}{ending}", wish)
            except UserFault as fault:
                raise UserFault(fault.what, f"{document.name}, {row.name}", fault.mend) from None
            told((n + 1) / len(built.good))
        for write in more:
            write(part)
        found = sorted(part.iterdir())
        for path in found:
            path.replace(folder / path.name)
        return [folder / path.name for path in found]
    except OSError as fault:
        if isinstance(fault, EnvironmentFault):
            raise EnvironmentFault(f"{fault.what}; nothing was left half written", fault.mend) from None
        why = fault.strerror or str(fault)
        raise EnvironmentFault(
            f"{folder} could not be written ({why}); nothing was left half written", "make room"
        ) from None
    finally:
        shutil.rmtree(part, ignore_errors=True)
