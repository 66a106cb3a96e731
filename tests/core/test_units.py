"""Display factors against pint's definitions, and how numbers are shown."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.quantity import parse, registry
from ribpatch.core.units import (
    INCH,
    OUNCE,
    SHOWN,
    Kind,
    from_shown,
    place_words,
    shown,
    shown_beside,
    si_unit,
    to_shown,
)

PINT = {
    (Kind.LENGTH, 1): ("ft", "m"), (Kind.SIZE, 0): ("mm", "m"), (Kind.SIZE, 1): ("in", "m"), (Kind.AREA, 1): ("ft**2", "m**2"),
    (Kind.VOLUME, 0): ("liter", "m**3"), (Kind.VOLUME, 1): ("floz", "m**3"), (Kind.MASS, 1): ("lb", "kg"), (Kind.LOAD, 1): ("lb", "kg"),
    (Kind.AREAL, 0): ("g/m**2", "kg/m**2"), (Kind.AREAL, 1): ("oz/yd**2", "kg/m**2"), (Kind.AREAL_MAT, 1): ("oz/ft**2", "kg/m**2"),
    (Kind.DENSITY, 1): ("lb/ft**3", "kg/m**3"), (Kind.PRICE_MASS, 1): ("1/lb", "1/kg"), (Kind.PRICE_AREA, 1): ("1/yd**2", "1/m**2"),
    (Kind.TIME, 0): ("minute", "s"),
}  # fmt: skip


@pytest.mark.parametrize(("key", "units"), PINT.items())
def test_display_factors_are_pints(key, units):
    kind, system = key
    assert SHOWN[kind][system].factor == pytest.approx(
        registry().Quantity(1, units[0]).to(units[1]).magnitude, rel=1e-12
    )


@pytest.mark.parametrize(
    ("unit", "kg_m2"),
    [("oz/ft**2", 0.3052), ("oz/yd**2", 0.03391)],
    ids=["mat per square foot", "cloth per square yard"],
)
def test_trade_ounces_match_the_published_conversions(unit, kg_m2):
    assert registry().Quantity(1, unit).to("kg/m**2").magnitude == pytest.approx(kg_m2, rel=2e-4)


def test_fahrenheit_is_shown_and_read_back():
    assert to_shown(25, Kind.TEMPERATURE, "us") == pytest.approx(77)
    assert from_shown(32, Kind.TEMPERATURE, "us") == pytest.approx(0)


@pytest.mark.parametrize(
    ("value", "kind", "system", "text"),
    [
        (0.048, Kind.SIZE, "metric", "48.0 mm"), (12.0, Kind.RATIO, "metric", "12 : 1"), (8.42, Kind.RATIO, "metric", "8.4 : 1"),
        (-0.68, Kind.MASS, "metric", "−0.68 kg"), (0.023, Kind.MASS, "metric", "23 g"), (0.9, Kind.PERCENT, "metric", "90 %"),
        (0.0254, Kind.SIZE, "us-decimal", "1.000 in"), (0.0254, Kind.SIZE, "us", "1 in"), (-1e-9, Kind.MONEY, "metric", "0.00"), (45.0, Kind.ANGLE, "metric", "45°"),
    ],
)  # fmt: skip
def test_shown(value, kind, system, text):
    assert shown(value, kind, system) == text


@given(
    st.floats(1e-3, 50),
    st.sampled_from([Kind.SIZE, Kind.LENGTH, Kind.MASS, Kind.AREAL]),
    st.sampled_from(["metric", "us-decimal"]),
)
def test_what_is_shown_reads_back_within_its_last_digit(value, kind, system):
    text = shown(value, kind, system).replace("²", "2")
    back = parse(text, kind, system).measure.si
    digits = text.split()[0]
    places = len(digits.split(".")[1]) if "." in digits else 0
    unit = SHOWN[kind][0 if system == "metric" else 1].factor
    unit = 1e-3 if text.endswith(" g") else OUNCE if text.endswith(" oz") else unit
    assert abs(back - value) <= 0.5000001 * unit * 10**-places


@given(st.floats(2e-4, 60), st.sampled_from([Kind.SIZE, Kind.LENGTH]), st.sampled_from(["us", "us32"]))
def test_what_a_us_shop_says_reads_back_within_half_a_part_or_a_few_hundredths(value, kind, system):
    text = shown(value, kind, system)
    back = parse(text, kind, system).measure.si
    part = INCH / (16 if system == "us" else 32)
    assert abs(back - value) <= max(0.5000001 * part, 0.0) and abs(back - value) <= 0.0600001 * value
    if "/" in text:
        over, under = (
            int(n) for n in text.split()[-1 if text.endswith('"') else -2].rstrip('"').split("'")[-1].split("/")
        )
        assert under in (2, 4, 8, 16, 32, 64) and over % 2 == 1 and over < under


@pytest.mark.parametrize(
    ("inches", "us", "us32"),
    [
        # As read off a tape: a hair under a mark, on it, between two; and what no mark is near enough to.
        (0.093, "3/32 in", "3/32 in"), (0.75, "3/4 in", "3/4 in"), (0.031, "1/32 in", "1/32 in"), (0.04, "0.040 in", "0.040 in"),
        (5.4375, "5 7/16 in", "5 7/16 in"), (5.4, "5 3/8 in", "5 13/32 in"), (12.0, "12 in", "12 in"), (47.25, "3'11 1/4\"", "3'11 1/4\""),
        (36.0, "3'0\"", "3'0\""), (71.99, "6'0\"", "6'0\""), (-0.5, "−1/2 in", "−1/2 in"),
    ],
)  # fmt: skip
def test_sizes_as_they_are_spoken(inches, us, us32):
    assert (shown(inches * INCH, Kind.SIZE, "us"), shown(inches * INCH, Kind.SIZE, "us32")) == (us, us32)


def test_lengths_of_a_boat_are_feet_and_inches_and_liquids_and_weights_have_the_units_of_a_shop():
    assert shown(17 * 12 * INCH, Kind.LENGTH, "us") == "17'0\"" and shown(8.5 * INCH, Kind.LENGTH, "us") == "0'8 1/2\""
    assert shown(17 * 12 * INCH, Kind.LENGTH, "us-decimal") == "17.00 ft"
    assert [shown(n * 29.5735295625e-6, Kind.VOLUME, "us") for n in (8, 32, 48, 128)] == [
        "8.0 fl oz",
        "1.00 qt",
        "1.50 qt",
        "1.00 gal",
    ]
    assert [shown(n * OUNCE, Kind.MASS, "us") for n in (0.5, 6.4, 15.9, 16)] == [
        "0.50 oz",
        "6.4 oz",
        "15.9 oz",
        "1.00 lb",
    ]


def test_a_fraction_beside_a_limit_is_never_rounded_to_it():
    limit = INCH / 8
    assert shown_beside(limit, limit, Kind.SIZE, "us") == "1/8 in"
    assert shown_beside(0.99 * limit, limit, Kind.SIZE, "us") == "0.124 in"
    assert shown_beside(1.01 * limit, limit, Kind.SIZE, "us") == "0.126 in"
    assert shown_beside(0.2 * INCH, limit, Kind.SIZE, "us") == "13/64 in"
    assert shown_beside(0.999 * 16 * OUNCE, 16 * OUNCE, Kind.MASS, "us") == "0.999 lb"


@given(st.floats(-1e4, 1e4), st.sampled_from(list(Kind)), st.sampled_from(["metric", "us"]))
def test_shown_numbers_never_use_a_hyphen_for_minus(value, kind, system):
    assert "-" not in shown(value, kind, system)


@pytest.mark.parametrize(
    ("si", "kind", "metric", "us"),
    [
        (11.1e9, Kind.MODULUS, "11.1 GPa", "1.61 Msi"), (66e6, Kind.STRESS, "66.0 MPa", "9572 psi"), (199e3, Kind.TENSION, "199 kN/m", "1136 lbf/in"),
        (125.0, Kind.MOMENT, "125 N·m/m", "28 lbf·in/in"), (53.3e6, Kind.MEMBRANE, "53.3 MN/m", "304.4 klbf/in"),
        (69.0, Kind.BENDING, "69 N·m", "611 lbf·in"), (0.006, Kind.STRAIN, "0.60 %", "0.60 %"), (5400.0, Kind.HOURS, "1.5 h", "1.5 h"),
    ],
)  # fmt: skip
def test_stiffness_strength_and_hours_are_shown_in_trade_units(si, kind, metric, us):
    """By hand: 1 psi = 6894.757 Pa, 1 lbf/in = 175.127 N/m, 1 lbf in = 0.112985 N m, 1 lbf in/in = 4.44822 N."""
    assert shown(si, kind, "metric") == metric
    assert shown(si, kind, "us") == us


def test_what_has_no_end_is_shown_so():
    assert shown(float("inf"), Kind.RATIO) == "∞ : 1"


@pytest.mark.parametrize(
    ("value", "limit", "kind", "system", "says"),
    [
        (2.63, 3.0, Kind.DIFFERENCE, "metric", "2.6 K"), (2.97, 3.0, Kind.DIFFERENCE, "metric", "2.97 K"), (3.0, 3.0, Kind.DIFFERENCE, "metric", "3.0 K"),
        (11.97, 12.0, Kind.RATIO, "metric", "11.97 : 1"), (12.0, 12.0, Kind.RATIO, "metric", "12 : 1"), (12.004, 12.0, Kind.RATIO, "metric", "12.004 : 1"),
        (8.2, 12.0, Kind.RATIO, "metric", "8.2 : 1"), (0.996, 1.0, Kind.PERCENT, "metric", "99.6 %"), (2.97, 3.0, Kind.DIFFERENCE, "us", "5.3 °F"),
    ],
)  # fmt: skip
def test_a_number_is_never_rounded_to_its_limit_or_past_it(value, limit, kind, system, says):
    assert shown_beside(value, limit, kind, system) == says


@given(
    st.floats(0.5, 60),
    st.floats(0.5, 60),
    st.sampled_from([Kind.RATIO, Kind.DIFFERENCE, Kind.PERCENT]),
    st.sampled_from(["metric", "us"]),
)
def test_what_is_read_lies_on_the_same_side_as_what_is_meant(value, limit, kind, system):
    text = shown_beside(value, limit, kind, system)
    read, bound = float(text.split()[0].replace("−", "-")), to_shown(limit, kind, system)
    number = to_shown(value, kind, system)
    if abs(number - bound) > 1e-5:
        assert (read < bound) == (number < bound)


def test_places_are_in_the_units_shown():
    assert place_words((0.62, 0.33)) == "620, 330 mm" and place_words((0.62, -0.33), "us-decimal") == "24.4, −13.0 in"
    assert place_words((0.62, -0.33), "us") == "24 7/16 in, −13 in"  # as it is spoken


def test_every_kind_has_its_si_unit():
    assert all(si_unit(kind) for kind in Kind) and si_unit(Kind.SIZE) == "m" and si_unit(Kind.DIFFERENCE) == "K"


@pytest.mark.parametrize(
    ("si", "kind", "metric", "us"),
    [
        (3400.0, Kind.LOAD, "3400 kg", "7496 lb"), (0.45, Kind.AREAL, "450 g/m²", "13.3 oz/yd²"),
        (150.0, Kind.DENSITY, "150 kg/m³", "9.4 lb/ft³"), (1500.0, Kind.TIME, "25 min", "25 min"),
        (5400.0, Kind.HOURS, "1.5 h", "1.5 h"), (0.9, Kind.PERCENT, "90 %", "90 %"), (45.0, Kind.ANGLE, "45°", "45°"),
        (6000.0, Kind.FORCE, "6000 N", "1348.9 lbf"), (38e9, Kind.MODULUS, "38.0 GPa", "5.51 Msi"),
        (12e6, Kind.STRESS, "12.0 MPa", "1740 psi"), (0.0125, Kind.STRAIN, "1.25 %", "1.25 %"), (7.0, Kind.COUNT, "7", "7"),
        (2.6, Kind.DIFFERENCE, "2.6 K", "4.7 °F"), (14.5, Kind.PRICE_MASS, "14.50 per kg", "6.58 per lb"),
    ],
)  # fmt: skip
def test_each_kind_is_shown_in_its_unit_with_its_decimals(si, kind, metric, us):
    assert (shown(si, kind), shown(si, kind, "us")) == (metric, us)
