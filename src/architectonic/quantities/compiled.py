"""Syntax tree to a function of plain floats, with dimensions checked once.

There is no evaluation of program text anywhere: the tree holds only numbers, names and the functions listed
here, and is turned into nested closures.
"""

from __future__ import annotations

import difflib
import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from architectonic.quantities import units
from architectonic.quantities.nodes import CONSTANTS, Call, ExpressionFault, Literal, Name, SyntaxNode
from architectonic.quantities.syntax import names_in, parse, refuse_doubtful
from architectonic.quantities.units import ANGLE, NUMBER, Dimension

Value = float | bool | str
Environment = Mapping[str, float]
Function = Callable[[Environment], Value]


class Truth:
    """The kind of a comparison's outcome."""

    def __repr__(self) -> str:
        return "a comparison"


TRUTH = Truth()


@dataclass(frozen=True)
class NameKind:
    """The kind of a bare name out of a list that the field offers."""

    options: tuple[str, ...]


Kind = Dimension | Truth | NameKind


@dataclass(frozen=True)
class Compiled:
    """A checked expression.

    Attributes:
        kind: what it yields.
        names: keys of the names it reads.
    """

    kind: Kind
    names: tuple[str, ...]
    function: Function

    def __call__(self, environment: Environment) -> Value:
        """The value in internal units.

        Raises:
            ExpressionFault: division by zero, root of a negative number, overflow.
        """
        try:
            value = self.function(environment)
        except ZeroDivisionError:
            raise ExpressionFault("this divides by zero") from None
        except (ValueError, OverflowError):
            raise ExpressionFault("this has no value with these numbers", 0, "check roots and powers") from None
        if isinstance(value, float) and not math.isfinite(value):
            raise ExpressionFault("this has no finite value with these numbers", 0, "check roots and powers")
        return value


_SAME = ("min", "max", "abs", "hypot")
_ROUND: dict[str, Callable[[float], float]] = {
    "floor": lambda x: float(math.floor(x)),
    "ceil": lambda x: float(math.ceil(x)),
    # half up: what people expect of a dimension, unlike the round-half-even of binary arithmetic
    "round": lambda x: float(math.floor(x + 0.5)),
}
_TRIG: dict[str, Callable[[float], float]] = {"sin": math.sin, "cos": math.cos, "tan": math.tan}
_COMPARE: dict[str, Callable[[float, float], bool]] = {
    "<": lambda a, b: a < b - 1e-9,
    "<=": lambda a, b: a <= b + 1e-9,
    ">": lambda a, b: a > b + 1e-9,
    ">=": lambda a, b: a >= b - 1e-9,
    "==": lambda a, b: abs(a - b) <= 1e-9,
    "!=": lambda a, b: abs(a - b) > 1e-9,
}
"""Comparisons forgive the rounding grid: 2.0000000004 mm is 2 mm."""
FUNCTIONS = (*_SAME, "sqrt", *_TRIG, "atan2", *_ROUND, "pick")


def _power(base: float, exponent: float) -> float:
    """A power that is a real number.

    Raises:
        ValueError: it would be complex.
    """
    if base < 0 and exponent != int(exponent):
        raise ValueError("complex")
    return float(base**exponent)


class _Checker:
    def __init__(self, kinds: Mapping[str, Dimension], expected: Kind | None) -> None:
        self.kinds = kinds
        self.options = expected.options if isinstance(expected, NameKind) else ()

    def check(self, node: SyntaxNode) -> tuple[Kind, Function]:
        if isinstance(node, Literal):
            value = node.value
            return node.dimension, lambda env: value
        if isinstance(node, Name):
            return self._name(node)
        assert isinstance(node, Call)
        kind, function = self._call(node)
        if not isinstance(kind, NameKind) and not names_in(node):
            self._refuse_no_value(node, kind, function)
        return kind, function

    def _refuse_no_value(self, node: Call, kind: Kind, function: Function) -> None:
        """What names nothing has the value that it has: none at all is told where it stands, before it is stored."""
        try:
            Compiled(kind, (), function)({})
        except ExpressionFault as fault:
            raise ExpressionFault(fault.what, fault.at or node.at, fault.mend) from None

    def _name(self, node: Name) -> tuple[Kind, Function]:
        key = node.key
        if key in self.kinds:
            return self.kinds[key], lambda env: env[key]
        if key in self.options:
            return NameKind(self.options), lambda env: key
        raise unknown_name(key, node.at, (*self.kinds, *self.options))

    def _number(self, node: SyntaxNode, role: str) -> tuple[Dimension, Function]:
        kind, function = self.check(node)
        if not isinstance(kind, Dimension):
            raise ExpressionFault(f"{role} needs a value, not {kind!r}", node.at)
        return kind, function

    def _call(self, node: Call) -> tuple[Kind, Function]:
        name = node.function
        if name in ("and", "or", "not"):
            return self._logic(node)
        if name == "pick":
            return self._pick(node)
        parts = [self._number(a, f"“{name}”") for a in node.arguments]
        kinds = [p[0] for p in parts]
        f = [p[1] for p in parts]
        if name in ("neg", "pos"):
            sign = -1.0 if name == "neg" else 1.0
            return kinds[0], lambda env: sign * f[0](env)  # type: ignore[operator]
        if name in ("+", "-", *_COMPARE):
            self._same(node, kinds)
            return self._sum_or_comparison(name, kinds[0], f)
        if name == "*":
            return kinds[0].times(kinds[1]), lambda env: f[0](env) * f[1](env)  # type: ignore[operator]
        if name == "/":
            return kinds[0].times(kinds[1], -1), lambda env: f[0](env) / f[1](env)  # type: ignore[operator]
        if name == "^":
            return self._power(node, kinds, f)
        return self._function(node, kinds, f)

    def _sum_or_comparison(self, name: str, kind: Dimension, f: list[Function]) -> tuple[Kind, Function]:
        a, b = f
        if name == "+":
            return kind, lambda env: a(env) + b(env)  # type: ignore[operator]
        if name == "-":
            return kind, lambda env: a(env) - b(env)  # type: ignore[operator]
        compare = _COMPARE[name]
        return TRUTH, lambda env: compare(a(env), b(env))  # type: ignore[arg-type]

    def _same(self, node: Call, kinds: list[Dimension]) -> None:
        for kind, argument in zip(kinds[1:], node.arguments[1:], strict=True):
            if kind == kinds[0]:
                continue
            culprit = argument if kind == NUMBER else node.arguments[0]
            other = kinds[0] if kind == NUMBER else kind
            what = f"“{node.function}” joins {units.name_of(kinds[0])} and {units.name_of(kind)}"
            if NUMBER in (kind, kinds[0]) and isinstance(culprit, Literal) and culprit.bare:
                unit = next((u.name for u in units.UNITS.values() if u.dimension == other and u.factor == 1.0), "mm")
                unit = "deg" if other == ANGLE else unit
                raise ExpressionFault(what, culprit.at, f"write {culprit.value:g} {unit}")
            raise ExpressionFault(what, culprit.at, "both sides need the same kind of quantity")

    def _logic(self, node: Call) -> tuple[Kind, Function]:
        parts = []
        for argument in node.arguments:
            kind, function = self.check(argument)
            if kind is not TRUTH:
                raise ExpressionFault(f"“{node.function}” needs comparisons, such as a > b", argument.at)
            parts.append(function)
        if node.function == "not":
            return TRUTH, lambda env: not parts[0](env)
        if node.function == "and":
            return TRUTH, lambda env: all(p(env) for p in parts)
        return TRUTH, lambda env: any(p(env) for p in parts)

    def _pick(self, node: Call) -> tuple[Kind, Function]:
        self._count(node, 3)
        condition_kind, condition = self.check(node.arguments[0])
        if condition_kind is not TRUTH:
            raise ExpressionFault("pick begins with a comparison, such as pick(a > b, a, b)", node.at)
        (yes_kind, yes), (no_kind, no) = (self.check(a) for a in node.arguments[1:])
        if yes_kind != no_kind:
            if isinstance(yes_kind, Dimension) and isinstance(no_kind, Dimension):
                self._same(Call(node.at, node.end, 1, "pick", node.arguments[1:]), [yes_kind, no_kind])
            raise ExpressionFault("both outcomes of pick need the same kind", node.at)
        return yes_kind, lambda env: yes(env) if condition(env) else no(env)

    def _count(self, node: Call, count: int) -> None:
        if len(node.arguments) != count:
            raise ExpressionFault(f"{node.function} takes {count} values, not {len(node.arguments)}", node.at)

    def _power(self, node: Call, kinds: list[Dimension], f: list[Function]) -> tuple[Kind, Function]:
        base, exponent = kinds[0], node.arguments[1]
        if kinds[1] != NUMBER:
            raise ExpressionFault("an exponent is a plain number", exponent.at)
        if base == NUMBER:
            return NUMBER, lambda env: _power(f[0](env), f[1](env))  # type: ignore[arg-type]
        if not (isinstance(exponent, Literal) and exponent.value == int(exponent.value) and exponent.value <= 6):
            raise ExpressionFault("a quantity with a unit is raised to a whole number up to 6", exponent.at)
        n = int(exponent.value)
        return base.power(n), lambda env: float(f[0](env) ** n)  # type: ignore[operator]

    def _function(self, node: Call, kinds: list[Dimension], f: list[Function]) -> tuple[Kind, Function]:
        name = node.function
        if name in _SAME:
            self._same(node, kinds)
            call: Callable[..., Any] = dict[str, Callable[..., Any]](
                {"min": min, "max": max, "abs": abs, "hypot": math.hypot}
            )[name]
            if name == "abs":
                self._count(node, 1)
            if len(f) == 1 and name in ("min", "max"):
                return kinds[0], f[0]
            return kinds[0], lambda env: call(*(p(env) for p in f))
        if name == "atan2":
            self._count(node, 2)
            self._same(node, kinds)
            return ANGLE, lambda env: math.atan2(f[0](env), f[1](env))  # type: ignore[arg-type]
        if name not in FUNCTIONS:
            raise unknown_name(name, node.at, FUNCTIONS, "function")
        self._count(node, 1)
        if name in _TRIG:
            return self._trig(node, kinds[0], f[0])
        if name == "sqrt":
            if any(e % 2 for e in kinds[0]):
                raise ExpressionFault(f"sqrt of {units.name_of(kinds[0])} has no unit", node.at)
            return Dimension(*(e // 2 for e in kinds[0])), lambda env: math.sqrt(f[0](env))  # type: ignore[arg-type]
        if kinds[0] != NUMBER:
            raise ExpressionFault(
                f"{name} takes a plain number",
                node.at,
                f"divide by the step first, such as {name}(x / 5 mm) * 5 mm",
            )
        rounding = _ROUND[name]
        return NUMBER, lambda env: rounding(f[0](env))  # type: ignore[arg-type]

    def _trig(self, node: Call, kind: Dimension, f: Function) -> tuple[Kind, Function]:
        call = _TRIG[node.function]
        if kind != ANGLE:
            argument = node.arguments[0]
            shown = f"{argument.value:g}" if isinstance(argument, Literal) else "…"
            raise ExpressionFault(
                f"{node.function} takes an angle, not {units.name_of(kind)}",
                argument.at,
                f"write {node.function}({shown} deg) or {node.function}({shown} rad)",
            )
        return NUMBER, lambda env: call(f(env))  # type: ignore[arg-type]


def unknown_name(name: str, at: int, known: Iterable[str], noun: str = "name") -> ExpressionFault:
    """The fault for a name that means nothing here, with the nearest spelling."""
    known = list(known)
    near = difflib.get_close_matches(name, known, 1, 0.6)
    if not near:
        lower = {k.lower(): k for k in known}
        near = [lower[name.lower()]] if name.lower() in lower else []
    mend = f"did you mean {near[0]}?" if near else f"no {noun} of this spelling can be seen from here"
    return ExpressionFault(f"“{name}” is not known", at, mend)


@lru_cache(maxsize=4096)
def _compile(text: str, kinds: tuple[tuple[str, Dimension], ...], expected: Kind | None) -> Compiled:
    tree = parse(text)
    kind, function = _Checker(dict(kinds), expected).check(tree)
    if expected is not None and kind != expected:
        if isinstance(expected, NameKind):
            raise ExpressionFault("this field takes one of " + ", ".join(expected.options))
        if isinstance(expected, Truth):
            raise ExpressionFault("a rule is a comparison", 0, "write one of < <= > >= == != between two values")
        got = units.name_of(kind) if isinstance(kind, Dimension) else "a comparison"
        raise ExpressionFault(f"this gives {got}, and the field takes {units.name_of(expected)}", 0)
    return Compiled(kind, names_in(tree), function)


@lru_cache(maxsize=16384)
def _names_of(text: str) -> tuple[str, ...]:
    return names_in(parse(text))


def compile_expression(text: str, kinds: Mapping[str, Dimension], expected: Kind | None = None) -> Compiled:
    """Parse, check and compile.

    Args:
        text: what was typed.
        kinds: dimension of every name that may be used; other names are faults.
        expected: what the field takes; None takes anything.

    Raises:
        ExpressionFault: with the place, and a way to mend it where there is one.
    """
    used = {k: kinds[k] for k in _names_of(text) if k in kinds}
    try:
        return _compile(text, tuple(sorted(used.items())), expected)
    except ExpressionFault as fault:
        if "not known" in fault.what:  # the cache key holds only the known names: look for near ones among all
            raise unknown_name(
                fault.what.split("“")[1].split("”")[0], fault.at, (*kinds, *FUNCTIONS, *CONSTANTS)
            ) from None
        raise


def complete(text: str, quantity: str, unit: str) -> str:
    """What is stored for what was typed: a bare number gets the field's unit.

    `10/3` alone in a length field becomes `10/3 mm`; `2 * 3` becomes `(2 * 3) * 1 mm`; text that already yields
    the quantity, or reads any name, is kept as it is.

    Raises:
        ExpressionFault: it cannot be read, or may be read in two ways.
    """
    refuse_doubtful(text)
    cleaned = text.strip().removeprefix("=").strip()
    tree = parse(cleaned)
    dimension = units.QUANTITIES[quantity]
    if dimension == NUMBER or names_in(tree):
        return cleaned
    if quantity == "density":
        kind = compile_expression(cleaned, {}).kind
        return f"({cleaned}) * 1 g / 1 cm3" if kind == NUMBER else cleaned
    try:
        if compile_expression(cleaned, {}).kind != NUMBER:
            return cleaned
    except ExpressionFault:
        return cleaned
    if (isinstance(tree, Literal) and tree.bare) or _is_fraction(tree):
        return f"{cleaned} {unit}"
    if isinstance(tree, Call) and tree.function == "neg" and getattr(tree.arguments[0], "bare", False):
        return f"{cleaned} {unit}"
    return f"({cleaned}) * 1 {unit}"


def _is_fraction(tree: SyntaxNode) -> bool:
    return (
        isinstance(tree, Call)
        and tree.function == "/"
        and all(isinstance(a, Literal) and a.bare and a.value == int(a.value) for a in tree.arguments)
    )


def fixed_value(text: str, quantity: str) -> float:
    """The value of an expression without names, in internal units (for `--set` and tests)."""
    compiled = compile_expression(text, {}, units.QUANTITIES[quantity])
    value = compiled({})
    assert isinstance(value, (int, float))
    return float(value)
