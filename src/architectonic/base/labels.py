"""The grammar of labels (docs/decisions/0002): a face is `operation:role`, a piece of it adds `#...`, an edge is
`(face|face)` with `@(...)` where two faces meet more than once, a vertex `(edge|edge|edge)`. Brackets nest.
"""

from __future__ import annotations

import re
from typing import Literal


def kind_of(label: str) -> Literal["face", "edge", "vertex"]:
    """What a label names."""
    return "vertex" if label.startswith("((") else "edge" if label.startswith("(") else "face"


def base(label: str) -> str:
    """A label without the part that tells its pieces apart: from the first # outside brackets on."""
    depth = 0
    for i, char in enumerate(label):
        depth += (char == "(") - (char == ")")
        if char == "#" and depth == 0:
            return label[:i]
    return label


def plain(label: str) -> str:
    """A label without any piece suffix, at every depth: what new faces are named after, so that a cut inserted
    earlier does not rename them."""
    out, depth, skip = [], 0, -1
    for char in label:
        if char == "(":
            depth += 1
        elif char == ")":
            depth -= 1
        if skip >= 0 and (depth < skip or (depth == skip and char == "|")):
            skip = -1
        if char == "#" and skip < 0:
            skip = depth
        if skip < 0:
            out.append(char)
    return "".join(out)


def pair(label: str) -> frozenset[str]:
    """The face labels of an edge label, or a face label alone. Brackets nest: split at depth one only."""
    if not label.startswith("("):
        return frozenset([label])
    parts, depth, current = [], 0, ""
    for char in label:
        if char == "(":
            depth += 1
            if depth == 1:
                continue
        elif char == ")":
            depth -= 1
            if depth == 0:
                break
        if char == "|" and depth == 1:
            parts.append(current)
            current = ""
        else:
            current += char
    return frozenset([*parts, current])


def faces_around(vertex: str) -> frozenset[str]:
    """The faces that meet at a vertex, whichever pieces of them."""
    return frozenset(plain(face) for edge in pair(base(vertex)) for face in pair(edge))


def atoms(label: str) -> frozenset[str]:
    """Every plain face label that is named anywhere in a label: `o3:blend:(o1:side:c9|o1:end)` names three."""
    return frozenset(part.strip(":") for part in re.split(r"[()|#@]+", label) if ":" in part.strip(":"))


def made_by(label: str, operations: frozenset[str], roles: frozenset[str]) -> tuple[str, str, str] | None:
    """Which of some operations made a face, in which of some roles, and what else its label says; None for no face of theirs.

    `o5:copy:(h1:wall:c3)` was made by h1 as a wall; the rest is the same for all faces of that one hole of that copy.
    """
    for part in re.finditer(r"(?:^|(?<=\())([^:()|#@]+):([^:()|#@]+):", label):
        if part[1] in operations and part[2] in roles:
            return part[1], part[2], label[: part.start()] + label[part.end() :]
    return None


def copied(label: str, operations: frozenset[str], member: str) -> str:
    """The label of a face or edge where faces that some operations made are those of a member of a pattern.

    `(o1:end|o4:side:c2)` becomes `(o1:end|p1:2:(o4:side:c2))` in the member `p1:2` of what o4 did.
    """
    if kind_of(label) == "face":
        return f"{member}:({label})" if label.partition(":")[0] in operations else label
    around = sorted(copied(face, operations, member) for face in pair(label))
    head = f"({'|'.join(around)})"
    end = label[len(_first_bracket(label)) :]
    if not end.startswith("@"):
        return head
    ends = sorted(copied(face, operations, member) for face in pair(end[1:]))
    return f"{head}@({'|'.join(ends)})"


def _first_bracket(label: str) -> str:
    """What stands in the first bracket of a label, with it."""
    depth = 0
    for i, char in enumerate(label):
        depth += (char == "(") - (char == ")")
        if depth == 0:
            return label[: i + 1]
    return label


def makers(label: str) -> list[str]:
    """The operations that a face is named after, the outermost first: `p1:2:(o4:side:c2)` is of p1, then of o4."""
    return [part[1] for part in re.finditer(r"(?:^|(?<=[(|]))([^:()|#@]+):", label)]
