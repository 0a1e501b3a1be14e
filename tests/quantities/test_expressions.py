"""Expressions: the cases of the language, and an independent package for conversions."""

import math

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from architectonic.quantities import units
from architectonic.quantities.compiled import NameKind, compile_expression, complete, fixed_value
from architectonic.quantities.nodes import ExpressionFault
from architectonic.quantities.syntax import MAX_TEXT, parse, split_named

KINDS = dict.fromkeys(("wall", "Sizes.wall", "reach", "a", "b", "pin", "d", "in_", "Sizes.wall at M"), units.LENGTH)
VALUES = dict.fromkeys(KINDS, 2.0) | {"reach": 320.0, "a": 3.0, "b": 4.0}


def value(text, expected=None):
    return compile_expression(text, KINDS, expected)(VALUES)


@pytest.mark.parametrize(
    ("text", "result"),
    [
        ("1/4 in", 6.35),
        ("3 1/2 in", 88.9),
        ("12,5 mm", 12.5),
        ("wall / 4", 0.5),
        ("wall / 4 mm", 0.5),
        ("2 * wall + 0.5 mm", 4.5),
        ("sin(30 deg)", 0.5),
        ("atan2(a, b)", math.atan2(3, 4)),
        ("hypot(a, b)", 5.0),
        ("min(a, b, 1 mm)", 1.0),
        ("pick(reach > 300 mm, 2.4 mm, 2 mm)", 2.4),
        ("pick(not reach > 300 mm or wall == 2 mm and a < b, 1 mm, 2 mm)", 1.0),
        ("round(7.5 mm / 5 mm) * 5 mm", 10.0),
        ("-wall^2 / 1 mm", -4.0),
        ("= 2 mm", 2.0),
        ("in_ + pin + d", 6.0),
        ("Sizes.wall at M + 1 mm", 3.0),
        ("6 * 1/4 in", 38.1),
        ("sqrt(a^2 + b^2)", 5.0),
        ("2 − 5", -3.0),
        ("50 percent * wall", 1.0),
        ("1 kg / 1 g", 1000.0),
    ],
)
def test_value(text, result):
    assert value(text) == pytest.approx(result, rel=1e-12)


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("wall + 2", "write 2 mm"),
        ("sin(30)", "sin(30 deg) or sin(30 rad)"),
        ("Sizes.wal", "did you mean Sizes.wall?"),
        ("WALL", "did you mean wall?"),
        ("sqr(2)", "did you mean sqrt?"),
        ("wall +", "ends too early"),
        ("(wall", "ends too early"),
        ("wall wall", "place 6"),
        ("5 mmm", "units are"),
        ("3 1/2", "3 1/2 in"),
        ("", "nothing is typed"),
        ("2 ** 3", "power with ^"),
        ("1 mm + 1 deg", "a length and an angle"),
        ("wall; wall", "is not understood"),
        ("wall.__class__", "is not known"),
        ("__import__(1)", "is not known"),
        ("pick(wall, 1, 2)", "comparison"),
        ("floor(wall)", "plain number"),
        ("wall^0.5", "whole number"),
    ],
)
def test_fault_says_what_and_how_to_mend(text, told):
    with pytest.raises(ExpressionFault) as caught:
        value(text)
    assert told in caught.value.sentence


def test_fault_has_its_place():
    with pytest.raises(ExpressionFault) as caught:
        value("wall + reach * 2 $ 3")
    assert caught.value.at == 17


@pytest.mark.parametrize("text", ["1/0 * wall", "sqrt(-1)", "10^400", "(0-8)^(1/3)"])
def test_no_value_is_a_fault_not_a_crash(text):
    with pytest.raises(ExpressionFault):
        value(text)


@pytest.mark.parametrize("text", ["(" * 500 + "1" + ")" * 500, "-" * 900 + "1", "1+" * 499 + "1", "x" * (MAX_TEXT + 1)])
def test_size_and_depth_are_bounded(text):
    try:
        parse(text)
    except ExpressionFault:
        return
    assert len(text) <= MAX_TEXT  # what is accepted is small enough to walk
    compile_expression(text, {})({})


@pytest.mark.parametrize(
    ("typed", "stored"),
    [
        ("10/3", "10/3 mm"),
        ("2", "2 mm"),
        ("-3", "-3 mm"),
        ("2*3", "(2*3) * 1 mm"),
        ("wall", "wall"),
        ("=2", "2 mm"),
        ("1/4 in", "1/4 in"),
    ],
)
def test_bare_numbers_get_the_unit_of_the_field(typed, stored):
    assert complete(typed, "length", "mm") == stored


def test_a_choice_is_a_bare_name_of_the_list():
    compiled = compile_expression("pick(reach > 300 mm, L, M)", KINDS, NameKind(("S", "M", "L")))
    assert compiled(VALUES) == "L"
    with pytest.raises(ExpressionFault):
        compile_expression("pick(reach > 300 mm, L, X)", KINDS, NameKind(("S", "M", "L")))


PINT = {"um": "micrometer", "mil": "thou", "oz": "avoirdupois_ounce", "lb": "avoirdupois_pound", "mm2": "mm**2", "cm2": "cm**2",
        "m2": "m**2", "mm3": "mm**3", "cm3": "cm**3", "s": "second", "percent": "percent"}  # fmt: skip


@pytest.mark.parametrize("unit", sorted(units.UNITS))
def test_units_agree_with_pint(unit):
    """Source: pint 0.25.3, an independent implementation of NIST SP 811."""
    registry = pint.UnitRegistry()
    ours = units.UNITS[unit]
    base = {units.LENGTH: "mm", units.ANGLE: "rad", units.MASS: "g", units.AREA: "mm**2", units.VOLUME: "mm**3",
            units.FORCE: "g*mm/s**2", units.TIME: "s", units.NUMBER: ""}[ours.dimension]  # fmt: skip
    theirs = registry.Quantity(1, PINT.get(unit, unit)).to(base or "dimensionless").magnitude
    assert ours.factor == pytest.approx(theirs, rel=1e-14)


def test_a_pound_per_cubic_inch():
    """Source: GNU units 2.22, 1 lb/in3 = 27679.904710203 kg/m3."""
    assert fixed_value("1 lb / (1 in)^3", "density") * 1e6 == pytest.approx(27679.904710203, rel=1e-12)


@given(
    st.floats(-1e6, 1e6, allow_nan=False),
    st.sampled_from(["+", "-", "*"]),
    st.floats(-1e6, 1e6, allow_nan=False),
)
def test_arithmetic_is_that_of_floats(a, sign, b):
    text = f"({a:.17g}) {sign} ({b:.17g})"
    assert compile_expression(text, {})({}) == {"+": a + b, "-": a - b, "*": a * b}[sign]


@given(st.text(max_size=40))
def test_any_text_parses_or_is_refused_in_a_sentence(text):
    try:
        parse(text)
    except ExpressionFault as fault:
        assert fault.what


SP811 = [
    ("1 in", "length", 25.4), ("1 ft", "length", 304.8), ("1 mil", "length", 0.0254), ("1 lb", "mass", 453.59237),
    ("1 oz", "mass", 28.349523125), ("1 in * 1 in", "area", 645.16), ("1 in * 1 in * 1 in", "volume", 16387.064),
    ("1 deg", "angle", 0.017453292519943295),
]  # fmt: skip


@pytest.mark.parametrize(("text", "quantity", "value"), SP811)
def test_exact_factors_as_printed_by_nist(text, quantity, value):
    """Source: NIST SP 811 (2008), appendix B.8; factors in bold type there are exact."""
    assert fixed_value(text, quantity) == pytest.approx(value, rel=1e-15)


@pytest.mark.parametrize(
    ("text", "at"),
    [
        ("sin((-8)^0.5 * 1 rad) * 1 mm", 5),
        ("2 mm^1e999", 5),
        ("1e999 * 1 mm", 0),
        ("1e308 * 10 * 1 mm", 0),
        ("2 mm + 3 mm / 0", 7),
        ("wall * (0 / 0)", 8),
        ("pick(1 > 0, 1 mm, sqrt(-1) * 1 mm)", 18),
        ("(-8)^(1/3) * 1 mm", 1),
    ],
)
def test_what_can_have_no_value_is_refused_when_it_is_typed_and_where(text, at):
    with pytest.raises(ExpressionFault) as fault:
        compile_expression(text, {"wall": units.LENGTH})
    assert fault.value.at == at, fault.value


def test_what_has_a_value_is_not_refused():
    """Cube of a negative number (-8), and an even power of a fraction, are real."""
    assert compile_expression("(-2)^3", {})({}) == -8
    assert compile_expression("(-8)^2.0 * 1 mm", {})({}) == 64
    assert compile_expression("4^0.5", {})({}) == 2
    with pytest.raises(ExpressionFault, match="check roots and powers"):
        compile_expression("a^0.5", {"a": units.NUMBER})({"a": -8.0})


@pytest.mark.parametrize(
    ("text", "quantity", "value"),
    [("2 * pi * 10 mm", "length", 20 * math.pi), ("pi", "length", math.pi), ("40 % * 50 mm", "length", 20), ("15 %", "number", 0.15),
     ("45°", "angle", math.pi / 4), ("-90 °", "angle", -math.pi / 2), ("sin(30°) * 1 m", "length", 500)],
)  # fmt: skip
def test_signs_of_everyday_are_understood(text, quantity, value):
    """pi as in ISO 80000-2, item 2-15.1; per cent and the degree sign as in the SI Brochure, 5.4.7 and table 8 (from memory)."""
    unit = {"length": "mm", "angle": "deg", "number": ""}[quantity]
    assert fixed_value(complete(text, quantity, unit), quantity) == pytest.approx(value)


@pytest.mark.parametrize("text", ["1,000 mm", "12,345", "2 * 1,500 mm"])
def test_a_comma_that_may_part_thousands_is_asked_about(text):
    with pytest.raises(ExpressionFault, match="may mean") as told:
        complete(text, "length", "mm")
    assert "write " in told.value.mend


@pytest.mark.parametrize("text", ["12,5 mm", "0,125 mm", "1,0005 mm", "max(1, 200) * 1 mm"])
def test_a_comma_that_parts_decimals_is_not(text):
    assert complete(text, "length", "mm").startswith(text)


def test_a_name_and_its_value_in_one_line():
    assert split_named("wall = 3 mm") == ("wall", "3 mm") and split_named(" rim: 2 * wall ") == ("rim", "2 * wall")
    for text in ("wall == 3 mm", "3 mm", "wall", "= 3 mm", "wall =", "a.b = 3"):
        assert split_named(text) is None
