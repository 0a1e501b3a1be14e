"""Text to syntax tree.

The tree is made of small frozen nodes that remember where in the text they stand. Size and depth are bounded
while the tree is built, so that no later walk over it can run out of stack.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from importlib.resources import files

from lark import Lark, Token, Transformer, UnexpectedCharacters, UnexpectedInput, v_args

from architectonic.base.errors import UserFault
from architectonic.quantities.units import NUMBER, UNITS, Dimension

MAX_TEXT = 1000
MAX_DEPTH = 60
CONSTANTS = {"pi": math.pi}
"""Names that mean the same everywhere."""
COMPARISONS = ("<", "<=", ">", ">=", "==", "!=")


class ExpressionFault(UserFault):
    """An expression that cannot be used; `at` is the position in the text, counted from 0."""

    def __init__(self, what: str, at: int = 0, mend: str = "") -> None:
        super().__init__(what, "", mend)
        self.at = at


@dataclass(frozen=True, slots=True)
class SyntaxNode:
    """Common to all nodes: where it starts and ends in the text, and how deep the tree below it is."""

    at: int
    end: int
    depth: int


@dataclass(frozen=True, slots=True)
class Literal(SyntaxNode):
    """A number with its unit; `value` is in internal units, `bare` when no unit was written."""

    value: float
    dimension: Dimension
    bare: bool


@dataclass(frozen=True, slots=True)
class Name(SyntaxNode):
    """A dotted name, perhaps fixed to one size: `Sizes.wall at M` has the key "Sizes.wall at M"."""

    key: str


@dataclass(frozen=True, slots=True)
class Call(SyntaxNode):
    """A function of the closed list, or an operator written with a sign ("+", "-", "*", "/", "^", "<", "and", "neg")."""

    function: str
    arguments: tuple[SyntaxNode, ...]


def _join(function: str, at: int, end: int, arguments: tuple[SyntaxNode, ...]) -> Call:
    depth = 1 + max(a.depth for a in arguments)
    if depth > MAX_DEPTH:
        raise ExpressionFault("this is nested too deeply", at, "split it into several parameters")
    return Call(at, end, depth, function, arguments)


def _finite(value: float, at: int) -> float:
    if not math.isfinite(value):
        raise ExpressionFault("this number is too large", at)
    return value


def _parse_number(text: str) -> float:
    """`3 1/2`, `1/4` or a decimal number."""
    if "/" not in text:
        return float(text)
    whole, _, fraction = text.rpartition(" ") if " " in text.split("/")[0].strip() else ("", "", text)
    numerator, denominator = (int(part) for part in fraction.split("/"))
    if denominator == 0:
        raise ExpressionFault("a fraction is divided by zero")
    return float((int(whole) if whole.strip() else 0) + Fraction(numerator, denominator))


@v_args(inline=True)
class _Build(Transformer):  # type: ignore[misc]  # lark carries no types
    def number(self, token: Token) -> SyntaxNode:
        return Literal(
            token.start_pos or 0, token.end_pos or 0, 1, _finite(float(token), token.start_pos or 0), NUMBER, True
        )

    def quantity(self, token: Token) -> SyntaxNode:
        text = str(token)
        unit = next(u for u in sorted(UNITS, key=len, reverse=True) if text.endswith(u))
        number = " ".join(text[: -len(unit)].split())
        value = _finite(_parse_number(number) * UNITS[unit].factor, token.start_pos or 0)
        return Literal(token.start_pos or 0, token.end_pos or 0, 1, value, UNITS[unit].dimension, False)

    def name(self, token: Token) -> SyntaxNode:
        if str(token) in CONSTANTS:
            return Literal(token.start_pos or 0, token.end_pos or 0, 1, CONSTANTS[str(token)], NUMBER, False)
        return Name(token.start_pos or 0, token.end_pos or 0, 1, str(token))

    def name_at(self, token: Token, size: Token) -> SyntaxNode:
        return Name(token.start_pos or 0, size.end_pos or 0, 1, f"{token} at {size}")

    def call(self, function: Token, *arguments: SyntaxNode) -> SyntaxNode:
        return _join(str(function), function.start_pos or 0, arguments[-1].end, arguments)

    def chain(self, first: SyntaxNode, *rest: SyntaxNode | Token) -> SyntaxNode:
        tree = first
        for sign, operand in zip(rest[::2], rest[1::2], strict=True):
            assert isinstance(operand, SyntaxNode)
            tree = _join(str(sign), tree.at, operand.end, (tree, operand))
        return tree

    def comparison(self, left: SyntaxNode, sign: Token, right: SyntaxNode) -> SyntaxNode:
        return _join(str(sign), left.at, right.end, (left, right))

    def power(self, base: SyntaxNode, exponent: SyntaxNode) -> SyntaxNode:
        return _join("^", base.at, exponent.end, (base, exponent))

    def signed(self, sign: Token, operand: SyntaxNode) -> SyntaxNode:
        return _join("neg" if sign == "-" else "pos", sign.start_pos or 0, operand.end, (operand,))

    def negation(self, operand: SyntaxNode) -> SyntaxNode:
        return _join("not", operand.at, operand.end, (operand,))

    def either(self, *parts: SyntaxNode) -> SyntaxNode:
        return parts[0] if len(parts) == 1 else _join("or", parts[0].at, parts[-1].end, parts)

    def both(self, *parts: SyntaxNode) -> SyntaxNode:
        return parts[0] if len(parts) == 1 else _join("and", parts[0].at, parts[-1].end, parts)


@lru_cache(maxsize=1)
def _parser() -> Lark:
    grammar = files("architectonic.quantities").joinpath("grammar.lark").read_text("utf-8")
    # 40 ms once: tables that are kept are pickled, and what is pickled is run when it is read
    return Lark(grammar, parser="lalr", transformer=_Build(), maybe_placeholders=False)


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
    try:
        tree = _parser().parse(prepared)
    except UnexpectedCharacters as fault:
        at = fault.pos_in_stream
        raise ExpressionFault(
            f"“{prepared[at]}” at place {at + 1} is not understood", at, _hint(prepared, at)
        ) from None
    except UnexpectedInput as fault:
        at = fault.pos_in_stream if fault.pos_in_stream is not None and fault.pos_in_stream >= 0 else len(prepared)
        token = getattr(fault, "token", None)
        if token is None or token.type == "$END":
            raise ExpressionFault("this ends too early", len(prepared), "complete it or close the bracket") from None
        raise ExpressionFault(f"“{token}” at place {at + 1} is not expected here", at, _hint(prepared, at)) from None
    assert isinstance(tree, SyntaxNode)
    return tree


def sides(text: str) -> tuple[str, str] | None:
    """The texts on both sides of a comparison; None for anything else, such as several joined by `and`."""
    prepared = _prepared(text)
    tree = parse(text)
    if isinstance(tree, Call) and tree.function in COMPARISONS:
        between = prepared[: tree.arguments[1].at].rfind(tree.function)
        return prepared[:between].strip(), prepared[between + len(tree.function) :].strip()
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


def _hint(text: str, at: int) -> str:
    rest = text[at:].lstrip()
    before = text[:at].rstrip()
    if before[-1:].isdigit() and rest[:1].isalpha():
        return "units are " + " ".join(UNITS)
    if before[-1:].isdigit() and rest[:3].isdigit() and not rest[3:4].isdigit():
        return f"write {before.split()[-1].lstrip('(')}{rest[:3]}, without a gap"
    if before[-1:].isdigit() and rest[:1].isdigit():
        return "a mixed fraction needs its unit, such as 3 1/2 in"
    if before[-1:] in "*" or rest[:1] == "*":
        return "write a power with ^, such as 3^2"
    return "put an operator (+ - * /) between two values"


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
