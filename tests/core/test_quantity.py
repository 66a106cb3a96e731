"""Everything that people type, and what it must be taken for."""

import math
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.errors import Fault, UnreadableQuantity, WrongDimension
from ribpatch.core.quantity import parse
from ribpatch.core.units import Kind

INCH = 0.0254


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("3/8", Kind.SIZE, 0.375 * INCH), ("1 1/2 in", Kind.SIZE, 1.5 * INCH), ("½ in", Kind.SIZE, 0.5 * INCH), ("1½\"", Kind.SIZE, 1.5 * INCH),
        ("4'6\"", Kind.LENGTH, 1.3716), ("4' 6", Kind.LENGTH, 1.3716), ("5 ft 3 1/2 in", Kind.LENGTH, 1.6129), ("10mm", Kind.SIZE, 0.01),
        ("10", Kind.SIZE, 0.01), ("1,5 mm", Kind.SIZE, 0.0015), ("0,125 m", Kind.SIZE, 0.125), (".5 in", Kind.SIZE, 0.5 * INCH),
        ("10 mm + 3/8", Kind.SIZE, 0.01 + 0.375 * INCH), ("20 - 5 mm", Kind.SIZE, 0.015), ("3 x 12 mm", Kind.SIZE, 0.036),
        ("3×12mm + 2", Kind.SIZE, 0.038), ("18 oz", Kind.MASS, 0.5102914), ("450 g", Kind.MASS, 0.45), ("7500 lb", Kind.LOAD, 3401.94),
        ("18 oz", Kind.AREAL, 0.610303), ("17 oz/yd2", Kind.AREAL, 0.5763977), ("17 oz/yd²", Kind.AREAL, 0.5763977),
        ("1.5 oz", Kind.AREAL_MAT, 0.4577276), ("1.5 oz/ft2", Kind.AREAL, 0.4577276), ("450 gsm", Kind.AREAL, 0.45), ("450 g/m2", Kind.AREAL, 0.45),
        ("25c", Kind.TEMPERATURE, 25), ("77 F", Kind.TEMPERATURE, 25), ("20 °C", Kind.TEMPERATURE, 20), ("-5c", Kind.TEMPERATURE, -5),
        ("12:1", Kind.RATIO, 12), ("12 : 1", Kind.RATIO, 12), ("1:20", Kind.RATIO, 20), ("8 to 1", Kind.RATIO, 8), ("15", Kind.RATIO, 15),
        ("90 %", Kind.PERCENT, 0.9), ("90", Kind.PERCENT, 0.9), ("6 sq ft", Kind.AREA, 0.557418), ("8 fl oz", Kind.VOLUME, 2.36588e-4),
        ("25 min", Kind.TIME, 1500), ("150 kg/m3", Kind.DENSITY, 150), ("14.50/kg", Kind.PRICE_MASS, 14.5),
        ("10 per lb", Kind.PRICE_MASS, 22.0462), ("10 per yd²", Kind.PRICE_AREA, 11.95990),
        ("17 oz per yd2", Kind.AREAL, 0.5763977), ("45°", Kind.ANGLE, 45),
        ("200", Kind.FORCE, 200), ("200 N", Kind.FORCE, 200), ("45 lbf", Kind.FORCE, 200.1700), ("20 kgf", Kind.FORCE, 196.1330),
        ("0,2 kN", Kind.FORCE, 200),
    ],
)  # fmt: skip
def test_understood(text, kind, si):
    found = parse(text, kind).measure
    assert found.si == pytest.approx(si, rel=1e-5)
    assert found.typed == text


def test_a_bare_number_is_in_the_shown_unit_of_the_system():
    assert parse("10", Kind.SIZE, "us").measure.si == pytest.approx(10 * INCH)
    assert parse("65", Kind.TEMPERATURE, "us").measure.si == pytest.approx(18.3333, rel=1e-4)
    assert parse("3/8", Kind.SIZE, "metric").measure.si == parse("3/8", Kind.SIZE, "us").measure.si


@pytest.mark.parametrize("inches", ["2", "3", "3 3/8", "23", "2.5", "11 31/32"])
@pytest.mark.parametrize("written", ["{f}'{i}\"", "{f}' {i}\"", "{f}'{i}", "{f} ft {i} in"])
def test_feet_and_any_inches_are_read(inches, written):
    wanted = 3 * 12 + sum(Fraction(part) for part in inches.split())
    assert parse(written.format(f=3, i=inches), Kind.SIZE, "us").measure.si == pytest.approx(float(wanted) * INCH)


def test_what_was_understood_is_said_in_both_systems():
    assert parse("3/8", Kind.SIZE).said == "9.5 mm  (3/8 in)"


@pytest.mark.parametrize(
    ("text", "kind", "reason"),
    [
        ("", Kind.SIZE, "nothing was typed"), ("abc", Kind.SIZE, "no number"), ("3/0", Kind.SIZE, "fraction over zero"), ("5 +", Kind.SIZE, "missing"),
        ("5 foo", Kind.SIZE, "no unit"), ("5 mm mm", Kind.SIZE, "left over"), ("1,500", Kind.SIZE, "comma"), ("1e999", Kind.SIZE, "too large"),
        ("nan", Kind.SIZE, "no number"), ("0:0:1", Kind.RATIO, "left over"), ("--5", Kind.SIZE, "no number"),
    ],
)  # fmt: skip
def test_unreadable(text, kind, reason):
    with pytest.raises(UnreadableQuantity) as caught:
        parse(text, kind)
    assert reason in caught.value.sentence
    assert "Write it like" in caught.value.sentence


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("3 kg", Kind.SIZE),
        ("3 mm", Kind.MASS),
        ("5 mm", Kind.RATIO),
        ("10 c", Kind.SIZE),
        ("3 kg", Kind.PERCENT),
        ("4 m", Kind.AREAL),
        ("20 kg", Kind.FORCE),
        ("4 mm", Kind.FORCE),
        ("20 N", Kind.MASS),
    ],
)
def test_units_of_another_kind_are_refused(text, kind):
    with pytest.raises((WrongDimension, UnreadableQuantity)):
        parse(text, kind)


@given(st.text(max_size=24), st.sampled_from(list(Kind)), st.sampled_from(["metric", "us"]))
def test_any_text_is_a_finite_number_or_a_plain_sentence(text, kind, system):
    try:
        assert math.isfinite(parse(text, kind, system).measure.si)
    except Fault as fault:
        assert fault.sentence.endswith(".")


@given(st.integers(0, 99), st.integers(0, 63), st.sampled_from([2, 4, 8, 16, 32, 64]))
def test_mixed_fractions_of_an_inch(whole, top, bottom):
    assert parse(f"{whole} {top}/{bottom} in", Kind.SIZE).measure.si == pytest.approx((whole + top / bottom) * INCH)


def test_a_text_of_hundreds_of_signs_is_no_quantity_and_is_told_shortly():
    from ribpatch.core.errors import UnreadableQuantity

    assert parse("1" + "+1" * 190, Kind.COUNT).measure.si == 191
    with pytest.raises(UnreadableQuantity, match="longer than 400") as caught:
        parse("1" + "+1" * 300, Kind.COUNT)
    assert "1+1+1" in caught.value.sentence and len(caught.value.sentence) < 160
