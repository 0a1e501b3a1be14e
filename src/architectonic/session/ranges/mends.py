"""What would make a cell of the check matrix hold: values that decide it, its limit, the inside of a treated corner, a guard
recorded anew; each with what would come of it in every row and alternate, worked out before it is done."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator
from functools import partial
from typing import Any, NamedTuple

from architectonic.base.cancel import Watch
from architectonic.base.errors import UserFault
from architectonic.base.ids import new_id
from architectonic.check.cells import CheckCell, State, drivers
from architectonic.describe.results import Node
from architectonic.describe.words.blanks import counted
from architectonic.family import edits, names, scopes
from architectonic.family.operations.edges.chamfer import Chamfer
from architectonic.family.operations.edges.fillet import Fillet
from architectonic.family.records import (
    SELF,
    Family,
    Guard,
    Measurement,
    Reference,
    Rule,
)
from architectonic.family.scopes import Scope
from architectonic.family.walk import index
from architectonic.propagate.evaluation import Evaluation
from architectonic.propagate.targets import Look
from architectonic.quantities import units
from architectonic.quantities.syntax import comparison
from architectonic.render.pictures import meshes_of
from architectonic.session.model import surveying
from architectonic.session.open.policy import allowed
from architectonic.session.open.queries import Questions, variant
from architectonic.session.picking import picked
from architectonic.session.ranges.deciding import Decider, brought, decider_name, deciders, fine
from architectonic.session.ranges.matrix import Matrix
from architectonic.session.tables import checks

Edit = Callable[[Family], Family]
MOST = 3
"""So many mends are told: of more nobody reads the consequences."""
TRIED = 6
"""Of so many values it is tried whether they decide a cell, the nearest first."""


class Mend(NamedTuple):
    """One way to make a cell hold.

    Attributes:
        words: what is done; label: of the edit in the history.
    """

    words: str
    label: str
    edit: Edit


class MendOutcome(NamedTuple):
    """What would come of a mend.

    Attributes:
        told: in a sentence; along: the cell's column in every row.
    """

    mend: Mend
    told: str
    along: tuple[tuple[str, CheckCell], ...]


def mends(family: Family, matrix: Matrix, row: int, column: int, watch: Watch | None = None) -> list[MendOutcome]:
    """Ways to make a cell hold that does not, the nearest first; those that do not help are left out.

    Raises:
        Cancelled: the watch says so; nothing was changed.
    """
    watch = watch or Watch()
    cell, asked = matrix.cell(row, column), variant()
    if cell.state != "out of rule":
        return []
    found: list[MendOutcome] = []
    for k, mend in enumerate(_ways(asked, family, matrix.evaluation, cell, watch)):
        watch.at(0.1 + 0.2 * min(k, MOST), mend.words)
        told = _consequence(asked, family, matrix, (row, column), mend, watch)
        if told is not None:
            found.append(told)
        if len(found) == MOST:
            break
    return found


def _ways(asked: Questions, family: Family, evaluation: Evaluation, cell: CheckCell, watch: Watch) -> Iterator[Mend]:
    """What may help, the likeliest first; what no edit could do is passed over."""
    record = index(family.documents[cell.ask.document]).get(cell.ask.item)
    if not isinstance(record, (Rule, Guard)):
        return
    treated = _treated(asked, family, cell.at, record)
    if treated is not None:
        yield treated
    number = 0
    for k, decider in enumerate(deciders(asked, family, cell.at, record)):
        if k == TRIED or number == MOST - 1:
            break
        watch.at(k / (2 * TRIED), f"{decider_name(family, decider)}…")
        found = brought(asked, family, cell.at, record, decider)
        if found is not None:
            number += 1
            yield _setting(family, record, decider, *found)
    if isinstance(record, Guard):
        name = record.name
        yield Mend(
            f"Record “{name}” anew, in every row",
            f"{name} recorded anew",
            lambda f: checks.guard(f, evaluation, cell.ask.document, record),
        )
    elif (less := _literal(family, cell, record)) is not None:
        yield less


# --- a value, the limit, a corner ----------------------------------------------------------------------------------


def _setting(family: Family, record: Rule | Guard, by: Decider, now: str, text: str) -> Mend:
    name, row = decider_name(family, by), scopes.configuration_name(family, by.at) if by.cell else "every row"
    both = comparison(record.holds.text) if isinstance(record, Rule) else None
    refs = record.holds.refs if isinstance(record, Rule) else {}
    limits = both is not None and any(k == both.right and r.item == by.item for k, r in refs.items())
    words = f"Ask for {text} in {row}: {name}, {now} now" if limits else f"Set {name} of {row} to {text}, {now} now"
    return Mend(words, f"{name} of {row} {now} → {text}", partial(_set, by, text))


def _set(by: Decider, text: str, family: Family) -> Family:
    return edits.set_value(family, by.at.document, by.item, text, by.cell)


def _literal(family: Family, cell: CheckCell, record: Rule) -> Mend | None:
    """The limit as far as things are now, where it is a figure of its own; it then holds for every row."""
    document = family.documents[cell.ask.document]
    shown = names.shown_text(family, document, record.holds)
    both = comparison(shown)
    if both is None or both.sign not in ("<=", ">=") or cell.figure is None:
        return None
    number, _, unit = both.right.partition(" ")
    try:
        limit = float(number) * units.factor(unit)
    except (ValueError, KeyError):
        return None
    figure = cell.figure * units.factor(cell.unit)
    if not limit:
        return None
    step = fine(figure - limit) / 5
    count = figure / units.factor(unit) / step
    value = (math.ceil(count - 1e-9) if both.sign == "<=" else math.floor(count + 1e-9)) * step
    if value <= 0 and limit > 0:
        return None
    old, new = f"{float(number):.6g} {unit}".strip(), f"{value:.6g} {unit}".strip()
    said = rf"(?<![\d.]){re.escape(old)}"  # where its name and its sentence say the limit
    made = edits.replace(record, name=re.sub(said, new, record.name), message=re.sub(said, new, record.message))
    word = "at most" if both.sign == "<=" else "at least"
    return Mend(
        f"Ask for {word} {new} instead of {old}, in every row",
        f"{record.name}: {old} → {new}",
        lambda f: edits.put_rule(f, cell.ask.document, made, f"{both.left} {both.sign} {new}"),
    )


def _treated(asked: Questions, family: Family, at: Scope, record: Rule | Guard) -> Mend | None:
    """The inside of a corner rounded or bevelled as its outside is, where that leaves too thin a wall."""
    known = index(family.documents[at.document])
    refs = record.holds.refs.values() if isinstance(record, Rule) else ()
    measured = [m for r in refs if r.document == SELF and isinstance(m := known.get(r.item), Measurement)]
    for one in measured:
        if one.what not in ("wall", "wall by ball"):
            continue
        bodies = [r.item for r in one.of if r.of == SELF]
        found = surveying.survey(family, at, one.what, bodies, None)
        if not found.places:
            continue
        body, place = found.places[0]
        evaluation = asked.ask(family, [Node("finished", at, ""), *(Node("mesh", at, b) for b in bodies)])
        mesh = next((m for b, m, _ in meshes_of(evaluation, Look(at)) if b.body == body), None)
        made = surveying.treatment_inside(family, found, body, place, mesh) if mesh is not None else None
        if made is not None:
            corners = tuple(picked.reference(mesh, body, "edge", e) for e in made.edges)
            label = f"{made.word.lower()} the inside too, {made.size}"
            return Mend(f"{made.word} the inside too: {made.size}", label, partial(_treat, at.document, made, corners))
    return None


def _treat(document_id: str, made: surveying.Treatment, corners: tuple[Reference, ...], family: Family) -> Family:
    document = edits.model(family, document_id)
    size = names.bind_quantity(family, document, made.size, "length", "mm")
    name = names.free_name(f"{made.word} the inside", [o.name for o in document.build])
    kind: Any = {"fillet": Fillet, "chamfer": Chamfer}[made.kind]
    return edits.add_operation(family, document_id, kind(id=new_id(), name=name, edges=corners, **{made.field: size}))


# --- what comes of it -------------------------------------------------------------------------------------


def _consequence(
    asked: Questions, family: Family, matrix: Matrix, where: tuple[int, int], mend: Mend, watch: Watch
) -> MendOutcome | None:
    """Every cell once more, as it would be; None where the one that is asked about would not hold, or nothing can be done."""
    try:
        trial = allowed(family, mend.edit(family))
    except UserFault:
        return None
    wanted = [at for d in drivers(trial, trial.documents[matrix.document.id]) for at in scopes.scopes_of(trial, d)]
    after = Matrix(trial, asked.everything(trial, wanted, watch.token), matrix.document.id)
    cell = after.cell(*where)
    if cell.state not in ("holds", "near"):
        return None
    mended, broken, unknown = 0, [], 0
    for r, row in enumerate(matrix.rows):
        for c, column in enumerate(matrix.columns):
            was, now = matrix.cell(r, c).state, after.cell(r, c).state
            mended += _bad(was) and not _bad(now) and now != "updating" and (r, c) != where
            unknown += now == "updating"
            if _bad(now) and not _bad(was):
                broken.append(f"{row.name}, {column.ask.name}")
    figure = f": {cell.figure:.4g} {cell.unit}".rstrip() if cell.figure is not None else ""
    told = [f"It holds then{', near its limit' if cell.state == 'near' else ''}{figure}."]
    if mended:
        told.append(f"{counted(mended, 'more cell')} hold{'s' if mended == 1 else ''}.")
    if broken:
        more = f" and {len(broken) - 2} more" if len(broken) > 2 else ""
        told.append(f"No longer: {'; '.join(broken[:2])}{more}.")
    elif unknown:
        told.append(f"{counted(unknown, 'cell')} not known.")
    else:
        told.append("No other cell here stops holding.")
    return MendOutcome(mend, " ".join(told), tuple(after.along(where[1])))


def _bad(state: State) -> bool:
    return state in ("out of rule", "failing")
