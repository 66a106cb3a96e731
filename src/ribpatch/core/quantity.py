"""Typed quantities: the one reader of everything that people type as a number.

Units are pint's, with only the units of this trade defined. What was understood is said back in both systems.
Source: [1].
"""

from __future__ import annotations

import re
from fractions import Fraction
from functools import cache
from math import isfinite
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from ribpatch.core.errors import UnreadableQuantity, WrongDimension
from ribpatch.core.numerals import money_sign, read_plain
from ribpatch.core.units import (
    EXAMPLE,
    INCH,
    MOST_TYPED,
    PRICED,
    Kind,
    Measure,
    System,
    display_unit,
    from_shown,
    shown,
)

if TYPE_CHECKING:
    import pint


class Understood(Struct, frozen=True):
    """What typed text was taken to mean."""

    measure: Measure
    said: str


_DEFINITIONS = (
    "meter = [length] = m = metre = metres = meters",
    "kilogram = [mass] = kg = kilo = kilos",
    "second = [time] = s = sec = seconds",
    "kelvin = [temperature]; offset: 0 = K",
    "millimeter = 0.001 * meter = mm = millimetre = millimetres",
    "centimeter = 0.01 * meter = cm",
    "inch = 0.0254 * meter = in = inches = ins",
    "foot = 12 * inch = ft = feet",
    "yard = 3 * foot = yd = yards",
    "gram = 0.001 * kilogram = g = gr = grams",
    "tonne = 1000 * kilogram = t = tonnes",
    "pound = 0.45359237 * kilogram = lb = lbs = pounds",
    "ounce = pound / 16 = oz = ounces",
    "newton = kilogram * meter / second ** 2 = N = n = newtons",
    "kilonewton = 1000 * newton = kN = kn",
    "kilogram_force = 9.80665 * newton = kgf = kp",
    "pound_force = 0.45359237 * kilogram_force = lbf",
    "watt = newton * meter / second = W = w = watts",
    "kilowatt = 1000 * watt = kW = kw",
    "horsepower = 550 * 0.3048 * meter * pound_force / second = hp",
    "pascal = newton / meter ** 2 = Pa = pa",
    "kilopascal = 1000 * pascal = kPa = kpa",
    "megapascal = 1000000 * pascal = MPa = mpa",
    "bar = 100000 * pascal",
    "psi = pound_force / inch ** 2",
    "minute = 60 * second = min = mins = minutes",
    "hour = 60 * minute = h = hr = hours",
    "liter = 0.001 * meter ** 3 = l = L = litre = litres",
    "milliliter = 0.001 * liter = ml = mL = cc",
    "us_gallon = 231 * inch ** 3 = gal = gallon = gallons",
    "us_fluid_ounce = us_gallon / 128 = floz",
    "degC = kelvin; offset: 273.15 = celsius",
    "degF = 5 / 9 * kelvin; offset: 233.15 + 200 / 9 = fahrenheit",
)


@cache
def registry() -> pint.UnitRegistry[Any]:
    """Pint's registry with the units of this trade only (loads pint at first use)."""
    import pint

    made: pint.UnitRegistry[Any] = pint.UnitRegistry(None)
    for line in _DEFINITIONS:
        made.define(line)
    return made


_SI: dict[Kind, str] = {
    Kind.LENGTH: "m",
    Kind.SIZE: "m",
    Kind.AREA: "m**2",
    Kind.VOLUME: "m**3",
    Kind.MASS: "kg",
    Kind.LOAD: "kg",
    Kind.AREAL: "kg/m**2",
    Kind.AREAL_MAT: "kg/m**2",
    Kind.DENSITY: "kg/m**3",
    Kind.TIME: "s",
    Kind.FORCE: "N",
    Kind.POWER: "W",
    Kind.PRESSURE: "Pa",
    Kind.STRESS: "Pa",
    Kind.TEMPERATURE: "degC",
    Kind.PRICE_MASS: "1/kg",
    Kind.PRICE_AREA: "1/m**2",
}
_BARE = (Kind.COUNT, Kind.NUMBER, Kind.MONEY)

_GLYPHS = str.maketrans(
    {
        "½": " 1/2",
        "¼": " 1/4",
        "¾": " 3/4",
        "⅛": " 1/8",
        "⅜": " 3/8",
        "⅝": " 5/8",
        "⅞": " 7/8",
        "²": "2",
        "³": "3",
        "×": "x",
        "−": "-",
        "–": "-",
        "′": "'",
        "’": "'",
        "″": '"',
        "”": '"',
        "“": '"',
        "º": "°",
    }
)
_NUMBER = re.compile(r"(?:(\d+)\s+)?(\d+)\s*/\s*(\d+)|(\d+\.?\d*(?:e[+-]?\d+)?|\.\d+)", re.IGNORECASE)
_UNIT = re.compile(r"['\"]+|[°%a-z]+(?:\s?(?:/|per)\s?(?:[a-z]+)\s?(?:\^|\*\*)?[23]?)?[23]?", re.IGNORECASE)


def parse(text: str, kind: Kind, system: System = "metric") -> Understood:
    """Read typed text as a quantity of ``kind``.

    Takes decimals with point or comma, groups of three as the region writes them,
    ``3/8``, ``1 1/2 in``, ``4'6"``, ``18 oz``, ``17 oz/yd2``, ``10mm``, ``25c``,
    ``12:1``, ``90 %``, and sums and whole multiples of these. A bare fraction of a size is inches in either system,
    as spoken. Raises UnreadableQuantity or WrongDimension.
    """
    if len(text) > MOST_TYPED:
        raise _unread(text[:40] + "…", kind, f"it is longer than {MOST_TYPED} signs")
    clean = _plain(text, kind)
    total, position = 0.0, 0
    sign, terms = 1.0, 0
    while position < len(clean):
        if terms:
            match = re.compile(r"\s*([+-])\s*").match(clean, position)
            if match is None:
                raise _unread(text, kind, f"“{clean[position:]}” is left over")
            sign, position = (1.0 if match[1] == "+" else -1.0), match.end()
        elif clean[0] in "+-":
            sign, position = (-1.0 if clean[0] == "-" else 1.0), 1
        value, position = _term(clean, position, kind, system, text)
        total += sign * value
        terms += 1
    if not terms:
        raise _unread(text, kind, "nothing was typed")
    if not isfinite(total):
        raise _unread(text, kind, "the number is too large")
    return Understood(Measure(si=total, typed=text.strip()), understood(total, kind, system))


def understood(si: float, kind: Kind, system: System) -> str:
    """The value in the user's system, then in the other where that differs."""
    other: System = "us32" if system == "metric" else "metric"
    first, second = shown(si, kind, system), shown(si, kind, other)
    return first if first == second else f"{first}  ({second})"


def _plain(text: str, kind: Kind) -> str:
    clean = text.translate(_GLYPHS).strip().lower()
    if kind in PRICED and money_sign():
        clean = clean.replace(money_sign().lower(), " ").strip()
    try:
        clean = read_plain(clean)
    except ValueError as wrong:
        raise _unread(text, kind, str(wrong)) from None
    clean = re.sub(r"\s*\bper\s+", "/", clean)
    if kind is Kind.RATIO:
        clean = re.sub(r"\s*(:|to)\s*1\s*$", "", clean)
        inverse = re.fullmatch(r"1\s*(?::|to|in)\s*(\S+)", clean)
        clean = inverse[1] if inverse else clean
    return clean


def _term(clean: str, position: int, kind: Kind, system: System, text: str) -> tuple[float, int]:
    number, position, fraction = _number(clean, position, kind, text)
    times = re.compile(r"\s*[x*]\s*(?=[\d.])").match(clean, position)
    if times:
        factor = number
        number, position, fraction = _number(clean, times.end(), kind, text)
        number *= factor
    unit, position = _unit(clean, position)
    value = _convert(number, unit, kind, system, fraction, text)
    if unit in ("'", "ft", "feet", "foot"):
        inches = _inches(clean, position, kind, text)
        if inches:
            return value + inches[0], inches[1]
    return value, position


def _number(clean: str, position: int, kind: Kind, text: str) -> tuple[float, int, bool]:
    while position < len(clean) and clean[position] == " ":
        position += 1
    match = _NUMBER.match(clean, position)
    if match is None:
        raise _unread(
            text, kind, "a number is missing" if position >= len(clean) else f"“{clean[position:]}” is no number"
        )
    if match[3] is None:
        return float(match[4]), match.end(), False
    if int(match[3]) == 0:
        raise _unread(text, kind, "a fraction over zero")
    return float(int(match[1] or 0) + Fraction(int(match[2]), int(match[3]))), match.end(), True


def _unit(clean: str, position: int) -> tuple[str, int]:
    match = re.compile(r"\s*").match(clean, position)
    start = match.end() if match else position
    found = re.compile(r"(sq|square|cu|fl)\s+([a-z]+)").match(clean, start)
    if found:
        word = {"sq": f"{found[2]}2", "square": f"{found[2]}2", "cu": f"{found[2]}3", "fl": "floz"}[found[1]]
        return word, found.end()
    slash = re.compile(r"/\s?(kg|g|lb|m2|yd2|ft2)").match(clean, start)
    if slash:
        return slash[0].replace(" ", ""), slash.end()
    unit = _UNIT.match(clean, start)
    return (unit[0].strip(), unit.end()) if unit else ("", position)


def _inches(clean: str, position: int, kind: Kind, text: str) -> tuple[float, int] | None:
    start = re.compile(r"\s*-?\s*(?=[\d.])").match(clean, position)
    if start is None or (start[0].strip() == "-" and not clean.rstrip().endswith(('"', "in"))):
        return None
    number, position, _ = _number(clean, start.end(), kind, text)
    unit, position = _unit(clean, position)
    if unit not in ("", '"', "in", "ins", "inch", "inches"):
        raise _unread(text, kind, "inches were expected after the feet")
    return number * INCH, position


def _convert(number: float, unit: str, kind: Kind, system: System, fraction: bool, text: str) -> float:
    if kind is Kind.DIFFERENCE:
        if unit not in ("", "k", "°", "c", "°c", "f", "°f"):
            raise WrongDimension(text=text, wanted=kind.value, example="3 K")
        return number * 5 / 9 if unit.endswith("f") or (not unit and system != "metric") else number
    if kind is Kind.RATIO or kind in _BARE or kind is Kind.ANGLE:
        if unit in ("", "°", "deg"):
            return number
        raise WrongDimension(text=text, wanted=kind.value, example=EXAMPLE.get(kind, "12"))
    if kind is Kind.PERCENT:
        if unit not in ("", "%", "percent", "pc"):
            raise WrongDimension(text=text, wanted="share", example=EXAMPLE[kind])
        return number / 100
    if not unit:
        return number * INCH if fraction and kind is Kind.SIZE else from_shown(number, kind, system)
    spelled = _spelled(unit, kind)
    if spelled == _spelled(display_unit(kind, system).unit.translate(_GLYPHS).lower(), kind):
        return from_shown(number, kind, system)  # the shown unit needs no pint
    return _with_pint(number, spelled, kind, text)


def _spelled(unit: str, kind: Kind) -> str:
    if kind is Kind.TEMPERATURE:
        return {"c": "degC", "f": "degF"}.get(unit.strip("°").removeprefix("deg")[:1], unit)
    word = {"'": "ft", '"': "in", "''": "in", "gsm": "g/m2"}.get(unit, unit)
    if kind is Kind.AREAL and word in ("oz", "ounces", "ounce"):
        word = "oz/yd2"
    if kind is Kind.AREAL_MAT and word in ("oz", "ounces", "ounce"):
        word = "oz/ft2"
    if kind in (Kind.AREAL, Kind.AREAL_MAT) and word in ("g", "gr", "grams"):
        word = "g/m2"
    word = f"1{word}" if word.startswith("/") else word
    return re.sub(r"([a-z])\s?(?:\^|\*\*)?([23])$", r"\1**\2", word.replace(" ", ""))


def _with_pint(number: float, unit: str, kind: Kind, text: str) -> float:
    import pint

    try:
        quantity = registry().Quantity(number, unit)
    except (pint.errors.UndefinedUnitError, pint.errors.DefinitionSyntaxError, ValueError, TypeError, AssertionError):
        raise _unread(text, kind, f"“{unit.replace('**', '')}” is no unit we know") from None
    try:
        return float(quantity.to(_SI[kind]).magnitude)
    except pint.errors.DimensionalityError:
        raise WrongDimension(text=text, wanted=kind.value, example=EXAMPLE.get(kind, "12")) from None


def _unread(text: str, kind: Kind, reason: str) -> UnreadableQuantity:
    return UnreadableQuantity(text=text, reason=reason, example=EXAMPLE.get(kind, "12"))
