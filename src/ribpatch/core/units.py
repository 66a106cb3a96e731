"""Kinds of quantity: what is stored (SI), what is shown.

The display factors below are exact definitions (checked against pint in the tests) so that the window can paint
before pint has loaded, which costs a third of a second. Typed text is read in ``quantity``.
Source: [1] for the unit definitions.
"""

from __future__ import annotations

from enum import StrEnum
from math import gcd, isfinite
from typing import TYPE_CHECKING, Annotated, Literal

from msgspec import Struct

from ribpatch.core.numerals import fixed, joint, money, written
from ribpatch.core.record import Limits, Record, known

if TYPE_CHECKING:
    from collections.abc import Callable

# US sizes as they are spoken: fractions of an inch to a sixteenth or a thirty-second, or decimal inches on request.
System = Literal["metric", "us", "us32", "us-decimal"]
SYSTEMS: tuple[System, ...] = ("metric", "us", "us32", "us-decimal")
FRACTIONS: dict[System, int] = {"us": 16, "us32": 32}
MOST_TYPED = 400  # signs of one typed quantity

INCH, FOOT, YARD = 0.0254, 0.3048, 0.9144
FINEST, CLOSE, CLOSER = 64, 0.06, 0.04  # of an inch; how far off a fraction may be, and a finer one
FEET_FROM = 36.0  # in, from which a part is told in feet and inches
OUNCE, POUND = 0.028349523125, 0.45359237
POUND_FORCE = POUND * 9.80665  # N
PSI = POUND_FORCE / INCH**2  # Pa
HORSEPOWER = 550 * POUND_FORCE * FOOT  # W
US_FLUID_OUNCE = 29.5735295625e-6
QUART = 32 * US_FLUID_OUNCE  # m3


class Kind(StrEnum):
    """What a number measures; decides how it is typed and shown."""

    LENGTH = "length"  # of a boat, m
    SIZE = "size"  # of a part or a thickness, m
    AREA = "area"  # m2
    VOLUME = "volume"  # m3
    MASS = "mass"  # kg
    LOAD = "displacement"  # kg, of a whole boat
    AREAL = "areal weight"  # kg/m2
    AREAL_MAT = "areal weight of mat"  # kg/m2, an ounce is per square foot
    DENSITY = "density"  # kg/m3
    TEMPERATURE = "temperature"  # degC
    TIME = "time"  # s
    RATIO = "ratio"  # to 1
    PERCENT = "share"  # 0..1
    COUNT = "count"
    MONEY = "money"  # in the currency of the price list
    PRICE_MASS = "price per mass"  # per kg
    PRICE_AREA = "price per area"  # per m2
    ANGLE = "angle"  # degrees
    FORCE = "force"  # N
    MODULUS = "modulus"  # Pa
    STRESS = "stress"  # Pa
    TENSION = "force per width"  # N/m
    MOMENT = "moment per width"  # N m/m
    MEMBRANE = "membrane stiffness"  # N/m
    BENDING = "bending stiffness"  # N m
    STRAIN = "strain"  # m/m
    HOURS = "hours"  # s
    DIFFERENCE = "temperature difference"  # K
    POWER = "power"  # W
    PRESSURE = "pressure"  # Pa, of water or feet on a panel
    RIGIDITY = "bending stiffness of a beam"  # N m2
    TORQUE = "moment"  # N m
    SECTION = "section modulus"  # m3
    FACTOR = "factor"  # of a limit over a value
    NUMBER = "number"  # a bare scale


class DisplayUnit(Struct, frozen=True):
    """How one kind is shown in one system: unit, SI value of that unit, decimals."""

    unit: str
    factor: float
    decimals: int


SHOWN: dict[Kind, tuple[DisplayUnit, DisplayUnit]] = {
    Kind.LENGTH: (DisplayUnit("m", 1, 2), DisplayUnit("ft", FOOT, 2)),
    Kind.SIZE: (DisplayUnit("mm", 1e-3, 1), DisplayUnit("in", INCH, 3)),
    Kind.AREA: (DisplayUnit("m²", 1, 2), DisplayUnit("ft²", FOOT**2, 2)),
    Kind.VOLUME: (DisplayUnit("L", 1e-3, 2), DisplayUnit("fl oz", US_FLUID_OUNCE, 1)),
    Kind.MASS: (DisplayUnit("kg", 1, 2), DisplayUnit("lb", POUND, 2)),
    Kind.LOAD: (DisplayUnit("kg", 1, 0), DisplayUnit("lb", POUND, 0)),
    Kind.AREAL: (DisplayUnit("g/m²", 1e-3, 0), DisplayUnit("oz/yd²", OUNCE / YARD**2, 1)),
    Kind.AREAL_MAT: (DisplayUnit("g/m²", 1e-3, 0), DisplayUnit("oz/ft²", OUNCE / FOOT**2, 2)),
    Kind.DENSITY: (DisplayUnit("kg/m³", 1, 0), DisplayUnit("lb/ft³", POUND / FOOT**3, 1)),
    Kind.TEMPERATURE: (DisplayUnit("°C", 1, 1), DisplayUnit("°F", 5 / 9, 1)),
    Kind.TIME: (DisplayUnit("min", 60, 0), DisplayUnit("min", 60, 0)),
    Kind.RATIO: (DisplayUnit(": 1", 1, 1), DisplayUnit(": 1", 1, 1)),
    Kind.PERCENT: (DisplayUnit("%", 0.01, 0), DisplayUnit("%", 0.01, 0)),
    Kind.COUNT: (DisplayUnit("", 1, 0), DisplayUnit("", 1, 0)),
    Kind.MONEY: (DisplayUnit("", 1, 2), DisplayUnit("", 1, 2)),
    Kind.PRICE_MASS: (DisplayUnit("per kg", 1, 2), DisplayUnit("per lb", 1 / POUND, 2)),
    Kind.PRICE_AREA: (DisplayUnit("per m²", 1, 2), DisplayUnit("per yd²", 1 / YARD**2, 2)),
    Kind.ANGLE: (DisplayUnit("°", 1, 0), DisplayUnit("°", 1, 0)),
    Kind.FORCE: (DisplayUnit("N", 1, 0), DisplayUnit("lbf", POUND_FORCE, 1)),
    Kind.MODULUS: (DisplayUnit("GPa", 1e9, 1), DisplayUnit("Msi", 1e6 * PSI, 2)),
    Kind.STRESS: (DisplayUnit("MPa", 1e6, 1), DisplayUnit("psi", PSI, 0)),
    Kind.TENSION: (DisplayUnit("kN/m", 1e3, 0), DisplayUnit("lbf/in", POUND_FORCE / INCH, 0)),
    Kind.MOMENT: (DisplayUnit("N·m/m", 1, 0), DisplayUnit("lbf·in/in", POUND_FORCE, 0)),
    Kind.MEMBRANE: (DisplayUnit("MN/m", 1e6, 1), DisplayUnit("klbf/in", 1e3 * POUND_FORCE / INCH, 1)),
    Kind.BENDING: (DisplayUnit("N·m", 1, 0), DisplayUnit("lbf·in", POUND_FORCE * INCH, 0)),
    Kind.STRAIN: (DisplayUnit("%", 0.01, 2), DisplayUnit("%", 0.01, 2)),
    Kind.HOURS: (DisplayUnit("h", 3600, 1), DisplayUnit("h", 3600, 1)),
    Kind.DIFFERENCE: (DisplayUnit("K", 1, 1), DisplayUnit("°F", 5 / 9, 1)),
    Kind.POWER: (DisplayUnit("kW", 1e3, 0), DisplayUnit("hp", HORSEPOWER, 0)),
    Kind.PRESSURE: (DisplayUnit("kPa", 1e3, 1), DisplayUnit("psi", PSI, 2)),
    Kind.RIGIDITY: (DisplayUnit("kN·m²", 1e3, 1), DisplayUnit("klbf·ft²", 1e3 * POUND_FORCE * FOOT**2, 2)),
    Kind.TORQUE: (DisplayUnit("N·m", 1, 0), DisplayUnit("lbf·ft", POUND_FORCE * FOOT, 0)),
    Kind.SECTION: (DisplayUnit("cm³", 1e-6, 1), DisplayUnit("in³", INCH**3, 2)),
    Kind.FACTOR: (DisplayUnit("", 1, 2), DisplayUnit("", 1, 2)),
    Kind.NUMBER: (DisplayUnit("", 1, 0), DisplayUnit("", 1, 0)),
}
PRICED = (Kind.MONEY, Kind.PRICE_MASS, Kind.PRICE_AREA)
EXAMPLE: dict[Kind, str] = {
    Kind.LENGTH: "9.6 m or 31'6\"",
    Kind.SIZE: "10 mm, 3/8 or 1 1/2 in",
    Kind.MASS: "450 g or 18 oz",
    Kind.LOAD: "3400 kg or 7500 lb",
    Kind.AREAL: "450 g/m2 or 17 oz/yd2",
    Kind.AREAL_MAT: "450 g/m2 or 1.5 oz",
    Kind.TEMPERATURE: "18c or 65f",
    Kind.RATIO: "12:1",
    Kind.PERCENT: "90 %",
    Kind.TIME: "25 min",
    Kind.ANGLE: "45",
    Kind.FORCE: "200 N or 45 lbf",
    Kind.POWER: "80 kW or 110 hp",
    Kind.PRESSURE: "12 kPa or 1.7 psi",
    Kind.STRESS: "10 MPa or 1500 psi",
    Kind.AREA: "0.5 m2 or 6 sq ft",
    Kind.VOLUME: "250 ml or 8 fl oz",
    Kind.DENSITY: "150 kg/m3",
    Kind.PRICE_MASS: "14.50 or 14.50/kg",
    Kind.PRICE_AREA: "9.80 or 9.80/m2",
}


_SI_UNITS = {
    "length": "m",
    "size": "m",
    "area": "m2",
    "volume": "m3",
    "mass": "kg",
    "displacement": "kg",
    "areal weight": "kg/m2",
    "areal weight of mat": "kg/m2",
    "density": "kg/m3",
    "temperature": "degC",
    "time": "s",
    "ratio": "1",
    "share": "1",
    "count": "1",
    "money": "currency",
    "price per mass": "currency/kg",
    "price per area": "currency/m2",
    "angle": "deg",
    "force": "N",
    "number": "1",
    "modulus": "Pa",
    "stress": "Pa",
    "force per width": "N/m",
    "moment per width": "N",
    "membrane stiffness": "N/m",
    "bending stiffness": "N m",
    "strain": "1",
    "hours": "s",
    "temperature difference": "K",
    "power": "W",
    "pressure": "Pa",
    "bending stiffness of a beam": "N m2",
    "moment": "N m",
    "section modulus": "m3",
    "factor": "1",
}


def si_unit(kind: Kind) -> str:
    """The SI unit that values of a kind are held in, as text for a file."""
    return _SI_UNITS[kind.value]


class Measure(Record):
    """A stated quantity: its SI value, and the text as it was typed (empty where a default was taken)."""

    si: float
    typed: Annotated[str, Limits(max_length=MOST_TYPED)] = ""


def usual(si: float, typed: str = "") -> Measure:
    """A quantity that nobody typed, as a default of the program; ``typed`` is how a choice that it offers is
    written.
    """
    return known(Measure, si=float(si), typed=typed)


def display_unit(kind: Kind, system: System) -> DisplayUnit:
    """The unit in which ``kind`` is shown."""
    return SHOWN[kind][0 if system == "metric" else 1]


def to_shown(si: float, kind: Kind, system: System) -> float:
    """The number that is shown for an SI value."""
    if kind is Kind.TEMPERATURE and system != "metric":
        return si * 9 / 5 + 32
    return si / display_unit(kind, system).factor


def from_shown(number: float, kind: Kind, system: System) -> float:
    """The SI value of a shown number."""
    if kind is Kind.TEMPERATURE and system != "metric":
        return (number - 32) * 5 / 9
    return number * display_unit(kind, system).factor


def decimals_for(number: float, usual: int) -> int:
    """Decimals that keep small numbers readable: at least two figures, never more than four decimals."""
    size = abs(number)
    if size == 0 or usual == 0 or size >= 10**-usual * 10:
        return usual
    extra = usual
    while size < 10**-extra * 10 and extra < 4:
        extra += 1
    return extra


def number_text(si: float, kind: Kind, system: System = "metric") -> str:
    """The shown number without its unit, as the region writes it."""
    return written(_plain(si, kind, system))


def _plain(si: float, kind: Kind, system: System) -> str:
    """The shown number as Python writes it."""
    number = to_shown(si, kind, system)
    if not isfinite(number):
        return "∞"
    usual = display_unit(kind, system).decimals
    if kind is Kind.RATIO and abs(number - round(number)) < 0.05:
        usual = 0
    elif kind not in (Kind.PERCENT, Kind.MONEY, Kind.TEMPERATURE, Kind.RATIO):
        usual = decimals_for(number, usual)
    text = f"{number:.{usual}f}"
    if float(text) == 0:
        text = text.removeprefix("-")
    return text


def inch_fraction(inches: float, parts: int) -> tuple[int, int, int] | None:
    """Whole inches, and the fraction over its least denominator (0 over 1 for none) nearest to a size in inches, to one
    of ``parts``, or to a 64th where that is too coarse; None where even that is off by more than a few hundredths.
    """
    if inches == 0:
        return 0, 0, 1
    for finest, close in ((parts, CLOSE), (FINEST, CLOSER)):
        count = round(inches * finest)
        if count and abs(count / finest - inches) <= close * inches:
            whole, rest = divmod(count, finest)
            common = gcd(rest, finest)
            return whole, rest // common, finest // common
    return None


def _spoken(si: float, kind: Kind, system: System) -> tuple[str, float] | None:
    """A size as a US shop says it, and the number (in the shown unit) that was said; None where it is not so said."""
    parts = FRACTIONS.get(system)
    if parts is None or kind not in (Kind.SIZE, Kind.LENGTH) or not isfinite(si):
        return None
    inches = abs(si) / INCH
    found = inch_fraction(inches, parts)
    if found is None:
        return None
    whole, over, under = found
    said = (whole + over / under) * (INCH / FOOT if kind is Kind.LENGTH else 1) * (1 if si >= 0 else -1)
    sign = "−" if si < 0 else ""
    fraction = f"{over}/{under}" if over else ""
    if kind is Kind.LENGTH or inches >= FEET_FROM:
        feet, left = divmod(whole, 12)
        return f"{sign}{feet}'{f'{left} {fraction}'.strip()}\"", said
    return f"{sign}{f'{whole} {fraction}'.strip() if whole or not over else fraction} in", said


def _small_or_large(si: float, kind: Kind, system: System) -> str:
    """A mass or a volume in the unit that a shop would say for its size; empty where that is the usual one."""
    size = abs(si)
    text = ""
    if kind is Kind.MASS and system == "metric" and 0 < size < 0.1:
        text = f"{fixed(si * 1000, 0)} g"
    elif kind is Kind.MASS and system != "metric" and 0 < size < POUND:
        text = f"{fixed(si / OUNCE, 1 if size >= OUNCE else 2)} oz"
    elif kind is Kind.VOLUME and system != "metric" and size >= QUART:
        unit, name = (4 * QUART, "gal") if size >= 4 * QUART else (QUART, "qt")
        text = f"{fixed(si / unit, 2)} {name}"
    return text


def shown(si: float, kind: Kind, system: System = "metric") -> str:
    """An SI value as people read it: ``48.0 mm``, ``12 : 1``, ``3'11 1/4"``."""
    said = _spoken(si, kind, system)
    if said is not None:
        return said[0]
    if text := _small_or_large(si, kind, system):
        return text
    unit = display_unit(kind, system).unit
    number = number_text(si, kind, system)
    return f"{money(number) if kind in PRICED else number}{'' if unit in ('°', '') else ' '}{unit}"


MOST_DECIMALS = 6


def shown_beside(si: float, limit: float, kind: Kind, system: System = "metric") -> str:
    """An SI value as people read it beside a limit: never rounded to the limit or to its other side.

    2.63 beside 3 stays 2.6; 11.97 : 1 beside 12 : 1 does not become 12 : 1.
    """
    text = shown(si, kind, system)
    number, bound = to_shown(si, kind, system), to_shown(limit, kind, system)
    unit = display_unit(kind, system).unit
    joint = "" if unit in ("°", "") else " "
    said = _spoken(si, kind, system)
    if said is not None and _same_side(said[1], number, bound):
        return text
    if said is not None or _small_or_large(si, kind, system):
        text = f"{number_text(si, kind, system)}{joint}{unit}"
    for decimals in range(MOST_DECIMALS + 1):
        read = float(_plain(si, kind, system)) if not decimals else round(number, decimals)
        if _same_side(read, number, bound):
            return text if not decimals else f"{fixed(number, decimals)}{joint}{unit}"
    return text


def _same_side(read: float, number: float, bound: float) -> bool:
    """Whether a number as it is read lies where it lies: over, under or on a bound."""
    return (read < bound) == (number < bound) and (read > bound) == (number > bound)


def place_words(at: tuple[float, float], system: System = "metric") -> str:
    """A place in a zone's plane, m, as people read it: ``620, 330 mm``, ``24 3/8 in, 13 in`` or ``24.4, 13.0 in``."""
    if system in FRACTIONS:
        return joint().join(shown(v, Kind.SIZE, system) for v in at)
    x, y = place_numbers(at, system)
    return f"{x}{joint()}{y} {display_unit(Kind.SIZE, system).unit}"


def place_numbers(at: tuple[float, float], system: System = "metric", finer: int = 0) -> tuple[str, str]:
    """Both numbers of a place, m, to a millimetre or a tenth of an inch, or as many decimals ``finer``."""
    decimals = finer + (0 if system == "metric" else 1)
    x, y = (fixed(to_shown(v, Kind.SIZE, system), decimals, grouped=False) for v in at)
    return x, y


def in_range(kind: Kind, low: float, high: float) -> Callable[[Measure], Measure]:
    """A validator that refuses a Measure outside ``low`` to ``high`` (SI)."""

    def check(measure: Measure) -> Measure:
        if not low <= measure.si <= high:
            from pydantic_core import PydanticCustomError

            raise PydanticCustomError(
                "out_of_range",
                "{value} is outside {low} to {high}",
                {
                    "value": shown_beside(measure.si, low if measure.si < low else high, kind),
                    "low": shown(low, kind),
                    "high": shown(high, kind),
                },
            )
        return measure

    return check
