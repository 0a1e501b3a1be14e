"""Text to syntax tree, by the grammar beside it. Loads with the first text that is read, not with the window."""

from __future__ import annotations

import unicodedata
from fractions import Fraction
from functools import lru_cache
from importlib.resources import files

from lark import Lark, Token, Transformer, UnexpectedCharacters, UnexpectedInput, v_args

from architectonic.quantities.nodes import CONSTANTS, ExpressionFault, Literal, Name, SyntaxNode, finite, join
from architectonic.quantities.units import NUMBER, UNITS


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
            token.start_pos or 0, token.end_pos or 0, 1, finite(float(token), token.start_pos or 0), NUMBER, True
        )

    def quantity(self, token: Token) -> SyntaxNode:
        text = str(token)
        unit = next(u for u in sorted(UNITS, key=len, reverse=True) if text.endswith(u))
        number = " ".join(text[: -len(unit)].split())
        value = finite(_parse_number(number) * UNITS[unit].factor, token.start_pos or 0)
        return Literal(token.start_pos or 0, token.end_pos or 0, 1, value, UNITS[unit].dimension, False)

    def name(self, token: Token) -> SyntaxNode:
        if str(token) in CONSTANTS:
            return Literal(token.start_pos or 0, token.end_pos or 0, 1, CONSTANTS[str(token)], NUMBER, False)
        return Name(token.start_pos or 0, token.end_pos or 0, 1, str(token))

    def name_at(self, token: Token, size: Token) -> SyntaxNode:
        return Name(token.start_pos or 0, size.end_pos or 0, 1, f"{token} at {size}")

    def call(self, function: Token, *arguments: SyntaxNode) -> SyntaxNode:
        return join(str(function), function.start_pos or 0, arguments[-1].end, arguments)

    def chain(self, first: SyntaxNode, *rest: SyntaxNode | Token) -> SyntaxNode:
        tree = first
        for sign, operand in zip(rest[::2], rest[1::2], strict=True):
            assert isinstance(operand, SyntaxNode)
            tree = join(str(sign), tree.at, operand.end, (tree, operand))
        return tree

    def comparison(self, left: SyntaxNode, sign: Token, right: SyntaxNode) -> SyntaxNode:
        return join(str(sign), left.at, right.end, (left, right))

    def power(self, base: SyntaxNode, exponent: SyntaxNode) -> SyntaxNode:
        return join("^", base.at, exponent.end, (base, exponent))

    def signed(self, sign: Token, operand: SyntaxNode) -> SyntaxNode:
        return join("neg" if sign == "-" else "pos", sign.start_pos or 0, operand.end, (operand,))

    def negation(self, operand: SyntaxNode) -> SyntaxNode:
        return join("not", operand.at, operand.end, (operand,))

    def either(self, *parts: SyntaxNode) -> SyntaxNode:
        return parts[0] if len(parts) == 1 else join("or", parts[0].at, parts[-1].end, parts)

    def both(self, *parts: SyntaxNode) -> SyntaxNode:
        return parts[0] if len(parts) == 1 else join("and", parts[0].at, parts[-1].end, parts)


@lru_cache(maxsize=1)
def _parser() -> Lark:
    grammar = files("architectonic.quantities").joinpath("grammar.lark").read_text("utf-8")
    # 40 ms once: tables that are kept are pickled, and what is pickled is run when it is read
    return Lark(grammar, parser="lalr", transformer=_Build(), maybe_placeholders=False)


def read(prepared: str) -> SyntaxNode:
    """The syntax tree of a text that is prepared.

    Raises:
        ExpressionFault: too deep, or the place of a syntax error.
    """
    try:
        tree = _parser().parse(prepared)
    except UnexpectedCharacters as fault:
        at = fault.pos_in_stream
        raise ExpressionFault(
            f"{_shown(prepared[at])} at place {at + 1} is not understood", at, _hint(prepared, at)
        ) from None
    except UnexpectedInput as fault:
        at = fault.pos_in_stream if fault.pos_in_stream is not None and fault.pos_in_stream >= 0 else len(prepared)
        token = getattr(fault, "token", None)
        if token is None or token.type == "$END":
            raise ExpressionFault("this ends too early", len(prepared), "complete it or close the bracket") from None
        raise ExpressionFault(
            f"{_shown(str(token))} at place {at + 1} is not expected here", at, _hint(prepared, at)
        ) from None
    assert isinstance(tree, SyntaxNode)
    return tree


def _shown(text: str) -> str:
    """A piece of a text in quotes; a sign that cannot be seen is called by its name."""
    if text.isprintable():
        return f"“{text}”"
    return " ".join(unicodedata.name(c, f"the sign U+{ord(c):04X}").lower() if not c.isprintable() else c for c in text)


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
