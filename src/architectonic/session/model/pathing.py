"""Paths in space: points added, moved and tied, rules put on them and taken off, and their bend tables."""

from __future__ import annotations

import csv
import io
import math
from typing import Any

from architectonic.base.errors import UserFault
from architectonic.base.ids import IdSource, new_id
from architectonic.describe.operations.curves.path import TOLD
from architectonic.describe.results import Node
from architectonic.describe.space.leads import Led
from architectonic.describe.words.sentences import target
from architectonic.family import edits, names
from architectonic.family.operations.curves.path import TIED, VALUED, PathPoint, PathRule, RuleKind, SpacePath
from architectonic.family.records import Expression, Family, Model, Reference
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation
from architectonic.session.open import queries
from architectonic.session.picking.subject import Subject

TAKES: dict[str, int] = {
    "corner": 3,
    "parallel": 4,
    "square": 4,
    "equal": 4,
    "mirrored": 2,
    "apart": 2,
    "meets": 1,
    "in_plane": 1,
    "on_line": 1,
}
"""Points that each kind of rule is between; two for those that are not named, one for coordinates."""


def with_point(path: SpacePath, at: tuple[float, float, float], make_id: IdSource = new_id) -> tuple[SpacePath, str]:
    """A path with one more point at its end, and the id of that."""
    key = make_id()
    return edits.replace(path, points={**path.points, key: PathPoint(at=at)}, order=(*path.order, key)), key


def without_point(path: SpacePath, key: str) -> SpacePath:
    """A path without a point, and without what held it."""
    return edits.replace(
        path,
        points={k: p for k, p in path.points.items() if k != key},
        order=tuple(k for k in path.order if k != key),
        rules=tuple(r for r in path.rules if key not in r.of),
    )


def points_of(kind: RuleKind) -> int:
    """How many points a kind of rule is said of; a leg is two."""
    return TAKES.get(kind, 1 if kind.startswith("coordinate") else 2)


def rule_words(family: Family, document: Model, path: SpacePath, rule: PathRule) -> str:
    """A rule as it is read: `1-2 and 3-4 parallel`, `2 in a plane Top 5 mm`."""
    numbers = [str(path.order.index(k) + 1) for k in rule.of if k in path.order]
    if len(numbers) == 4:
        numbers = ["-".join(numbers[:2]), "and", "-".join(numbers[2:])]
    to = target(family, document, rule.to) if rule.to is not None else ""
    value = names.shown_text(family, document, rule.value) if rule.value is not None else ""
    return " ".join(w for w in (*numbers, TOLD[rule.kind], to, value) if w)


def rule_said(
    family: Family,
    document: Model,
    path: SpacePath,
    kind: RuleKind,
    of: tuple[str, ...],
    value: str = "",
    to: Reference | None = None,
    name: str = "",
    make_id: IdSource = new_id,
) -> PathRule:
    """A rule as it is typed.

    Raises:
        UserFault: the wrong number of points, a value that is missing or cannot be used, nothing that it is tied to.
    """
    wanted = points_of(kind)
    if len(of) != wanted or any(k not in path.points for k in of):
        raise UserFault(f"{kind} is said of {wanted} points of the path, not of {len(of)}", path.name)
    quantity = VALUED.get(kind, "")
    bound: Expression | None = None
    if quantity and value:
        bound = names.bind_quantity(family, document, value, quantity, "deg" if quantity == "angle" else "mm")
    elif quantity and kind != "in_plane":
        raise UserFault(f"{kind} needs a value", path.name, "type one")
    if (kind in TIED) != (to is not None):
        raise UserFault(f"{kind} ties to {'a ' + TIED[kind] if kind in TIED else 'nothing'}", path.name)
    return PathRule(id=make_id(), kind=kind, of=of, to=to, value=bound, name=name)


def refuse_conflict(family: Family, at: Scope, path: SpacePath) -> None:
    """A rule that cannot be true with the others is not stored.

    Raises:
        UserFault: says which of them disagree.
    """
    node = Node("path", at, path.id)
    problem = queries.ask(family, [node]).outcomes[node].problem
    if problem is not None and problem.severity == "conflict":
        raise UserFault(problem.what, path.name, problem.mend)


def table_rows(led: Led) -> list[tuple[str, ...]]:
    """The bend table as it is shown and written: step, feed, turn, bend, bent by the tool, radius; mm and degrees."""
    rows = []
    for number, b in enumerate(led.bends):
        bends = [f"{math.degrees(v):.2f}" for v in (b.turn, b.bend, b.bent)] if b.point else ["", "", ""]
        rows.append((str(number + 1), f"{b.feed:.2f}", *bends, f"{b.radius:.2f}" if b.point else ""))
    return rows


HEADINGS = ("step", "feed mm", "turn deg", "bend deg", "bent deg", "radius mm")


def table_csv(led: Led) -> str:
    """The bend table as comma-separated values, the developed length last."""
    told = io.StringIO()
    writer = csv.writer(told, lineterminator="\n")
    writer.writerow(HEADINGS)
    writer.writerows(table_rows(led))
    writer.writerow(("developed length mm", f"{led.length:.2f}"))
    return told.getvalue()


def fact_rows(subject: Subject) -> list[tuple[str, str]]:
    """What there is to say of the chosen path, or of the one in an open sentence: its length, and how it is bent."""
    chosen = subject.standing or subject.operation
    if subject.evaluation is None or subject.at is None or not chosen:
        return []
    led = led_of(subject.evaluation, subject.at, chosen)
    if led is None:
        return []
    rows = [
        ("Path in space", ""),
        ("Developed", f"{led.length:.2f} mm"),
        ("Free", str(led.freedoms) if led.freedoms else "held"),
    ]
    if led.bends:
        rows.append(("Step", "feed · turn · bend"))
    for number, b in enumerate(led.bends):
        turn, bend, over = (f"{round(math.degrees(v), 2) + 0.0:g}".replace("-", "−") for v in (b.turn, b.bend, b.bent))
        rows.append((str(number + 1), f"{b.feed:.2f} · {turn}° · {bend}°" if b.point else f"{b.feed:.2f}"))
        if over != bend:
            rows.append(("", f"bent by {over}°"))
    return rows


def led_of(evaluation: Evaluation, at: Scope, operation: str) -> Led | None:
    """A path as it is known; None while it is not, or fails."""
    found: Any = evaluation.value(Node("path", at, operation))
    return found if isinstance(found, Led) else None
