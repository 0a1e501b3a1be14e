"""Expressions as text: prepared, read into a tree, split into name and value.

Size and depth are bounded while the tree is built, so that no later walk over it can run out of stack.
"""

from __future__ import annotations

import re
from functools import lru_cache
from typing import NamedTuple

from architectonic.quantities.nodes import MAX_DEPTH, Call, ExpressionFault, Name, SyntaxNode

MAX_TEXT = 1000
COMPARISONS = ("<", "<=", ">", ">=", "==", "!=")


def _decimal_commas(text: str) -> str:
    """Turn `12,5` into `12.5` outside calls; inside a call a comma separates. Positions are kept."""
    out = list(text)
    stack: list[bool] = []
    for i, char in enumerate(text):
        if char == "(":
            before = text[:i].rstrip()
            stack.append(bool(before) and (before[-1].isalnum() or before[-1] == "_"))
            if len(stack) > MAX_DEPTH:
                raise ExpressionFault("this is nested too deeply", i, "split it into several parameters")
        elif char == ")" and stack:
            stack.pop()
        elif char == "," and not any(stack):
            if 0 < i < len(text) - 1 and text[i - 1].isdigit() and text[i + 1].isdigit():
                out[i] = "."
    return "".join(out)


_SIGNS = {"−": "-", "×": "*", "·": "*", "÷": "/", "≤": "<", "≥": ">"}


@lru_cache(maxsize=16384)
def parse(text: str) -> SyntaxNode:
    """The syntax tree of `text`.

    Raises:
        ExpressionFault: nothing typed, too long, too deep, or the place of a syntax error.
    """
    if len(text) > MAX_TEXT:
        raise ExpressionFault(f"this has more than {MAX_TEXT} characters", MAX_TEXT, "split it into several parameters")
    text = _prepared(text)
    if not text.strip():
        raise ExpressionFault("nothing is typed here", 0, "type a number with its unit, such as 2 mm")
    prepared = _decimal_commas(text)
    from architectonic.quantities import grammar  # its library loads with the first text

    return grammar.read(prepared)


class Comparison(NamedTuple):
    """The texts on both sides, and what they are compared by: `<=`, `==` and so on."""

    left: str
    sign: str
    right: str


def comparison(text: str) -> Comparison | None:
    """What is compared with what; None for anything else, such as several comparisons joined by `and`."""
    prepared = _prepared(text)
    tree = parse(text)
    if isinstance(tree, Call) and tree.function in COMPARISONS:
        between = prepared[: tree.arguments[1].at].rfind(tree.function)
        return Comparison(prepared[:between].strip(), tree.function, prepared[between + len(tree.function) :].strip())
    return None


def _prepared(text: str) -> str:
    """The text as the grammar takes it; the length may differ from what was typed."""
    for sign in "−×·÷":
        text = text.replace(sign, _SIGNS[sign])
    text = text.replace("≤", "<=").replace("≥", ">=").replace("²", "2").replace("³", "3")
    text = re.sub(r"(?<=\d)\s*%", " percent", text)
    text = re.sub(r"(?<=\d)\s*°", " deg", text)
    if text.lstrip().startswith("="):
        text = text.replace("=", " ", 1)
    return text


_THOUSANDS = re.compile(r"(?<![\w.,(])([1-9]\d{0,2}),(\d{3})(?![\d,.])")


def refuse_doubtful(text: str) -> None:
    """Refuse a comma that may part thousands or decimals: what is typed is asked about, never guessed.

    Raises:
        ExpressionFault: `1,000 mm`; says how each is written.
    """
    found = _THOUSANDS.search(text)
    if found is not None and not any(c in text[: found.start()] for c in "("):
        whole, rest = found.groups()
        raise ExpressionFault(
            f"“{found.group()}” may mean {whole}{rest} or {whole}.{rest}",
            found.start(),
            f"write {whole}{rest} or {whole}.{rest}",
        )


def split_named(text: str) -> tuple[str, str] | None:
    """`wall = 3 mm` and `wall: 3 mm` as name and value; None for anything else, such as a comparison."""
    found = re.fullmatch(r"\s*([^\W\d]\w*)\s*(?:=(?!=)|:)\s*(\S.*)", text)
    return (found.group(1), found.group(2).strip()) if found is not None else None


def name_and_value(text: str) -> tuple[str, str]:
    """The same, with "" for the name of what has none."""
    return split_named(text) or ("", text)


def names_in(tree: SyntaxNode) -> tuple[str, ...]:
    """The keys of all names in order of first use, each once."""
    found: dict[str, None] = {}
    stack = [tree]
    while stack:
        node = stack.pop()
        if isinstance(node, Name):
            found[node.key] = None
        elif isinstance(node, Call):
            stack.extend(reversed(node.arguments))
    return tuple(found)
