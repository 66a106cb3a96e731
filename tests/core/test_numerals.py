"""Numbers, money and days as regions write and read them; what is written reads back as itself."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core import numerals
from ribpatch.core.dates import date_words, day_words, iso_date, long_day
from ribpatch.core.errors import Fault
from ribpatch.core.memo import remembered
from ribpatch.core.numerals import (
    PLAIN,
    Numerals,
    fixed,
    general,
    money,
    plainly,
    region_is_plain,
    use_money,
    use_numerals,
    writing,
)
from ribpatch.core.plan import reworded
from ribpatch.core.quantity import parse
from ribpatch.core.text import parts_of
from ribpatch.core.units import Kind, place_words, shown, shown_beside

GERMAN = Numerals(",", ".", 4, "{}\u00a0¤", "dmy", ".")
FRENCH = Numerals(",", "\u00a0", 4, "{}\u00a0¤", "dmy", "/")
SPANISH = Numerals(",", ".", 5, "{}\u00a0¤", "dmy", "/")
US = Numerals(".", ",", 4, "¤{}", "mdy", "/")
SWISS = Numerals(".", "'", 4, "¤\u00a0{}", "dmy", ".")
REGIONS = {"plain": PLAIN, "de": GERMAN, "fr": FRENCH, "es": SPANISH, "us": US, "ch": SWISS}


@pytest.fixture(autouse=True)
def region():
    """Writes as a region for one test."""
    yield use_numerals
    use_numerals(PLAIN)
    use_money("")


@pytest.mark.parametrize(
    ("where", "whole", "part", "small"),
    [
        ("plain", "1234567", "−12345.50", "0.250"),
        ("de", "1.234.567", "−12.345,50", "0,250"),
        ("fr", "1\u00a0234\u00a0567", "−12\u00a0345,50", "0,250"),
        ("us", "1,234,567", "−12,345.50", "0.250"),
        ("ch", "1'234'567", "−12'345.50", "0.250"),
    ],
)
def test_numbers_are_written_as_the_region_does(region, where, whole, part, small):
    region(REGIONS[where])
    assert (fixed(1234567, 0), fixed(-12345.5, 2), fixed(0.25, 3)) == (whole, part, small)
    with plainly():
        assert fixed(-12345.5, 2) == "−12345.50"


def test_four_figures_are_grouped_only_where_the_region_does(region):
    region(SPANISH)
    assert (fixed(3400, 0), fixed(34000, 0)) == ("3400", "34.000")
    region(GERMAN)
    assert (fixed(3400, 0), general(1e-9), general(2.5)) == ("3.400", "1e−09", "2,5")


@pytest.mark.parametrize(
    ("where", "typed", "kind", "si"),
    [
        ("de", "1.234,5 kg", Kind.MASS, 1234.5),
        ("de", "3.400 kg", Kind.LOAD, 3400.0),
        ("de", "1,5 mm", Kind.SIZE, 0.0015),
        ("de", "1.5 mm", Kind.SIZE, 0.0015),
        ("de", "1,234 m", Kind.LENGTH, 1.234),
        ("de", "0.125 kg", Kind.MASS, 0.125),
        ("de", "12,5:1", Kind.RATIO, 12.5),
        ("us", "3,400 kg", Kind.LOAD, 3400.0),
        ("us", "1,234.5 kg", Kind.MASS, 1234.5),
        ("us", "0,125 kg", Kind.MASS, 0.125),
        ("fr", "1\u00a0234,5 kg", Kind.MASS, 1234.5),
        ("fr", "1\u202f234 kg", Kind.MASS, 1234.0),
        ("fr", "1 234 kg", Kind.MASS, 1234.0),
        ("fr", "1 1/2 in", Kind.SIZE, 0.0381),
        ("ch", "3'400 kg", Kind.LOAD, 3400.0),
        ("ch", "4'6\"", Kind.SIZE, 1.3716),
        ("plain", "1.234 m", Kind.LENGTH, 1.234),
    ],
)
def test_typed_numbers_are_read_as_the_region_writes_them(region, where, typed, kind, si):
    region(REGIONS[where])
    assert parse(typed, kind).measure.si == pytest.approx(si)


def test_a_comma_that_may_be_either_is_refused_only_where_the_region_has_no_groups(region):
    with pytest.raises(Fault, match="decimal or a thousand"):
        parse("1,234 m", Kind.LENGTH)
    region(US)
    assert parse("1,234 mm", Kind.SIZE).measure.si == pytest.approx(1.234)


@given(
    st.sampled_from(sorted(REGIONS)),
    st.sampled_from([Kind.SIZE, Kind.LENGTH, Kind.MASS, Kind.AREA, Kind.FORCE, Kind.DENSITY, Kind.MONEY, Kind.RATIO]),
    st.floats(0.002, 90_000),
    st.sampled_from(["metric", "us", "us32", "us-decimal"]),
)
def test_what_is_shown_reads_back_as_itself(where, kind, si, system):
    use_numerals(REGIONS[where])
    use_money({"de": "€", "us": "$", "ch": "CHF"}.get(where, ""))
    said = shown(si, kind, system)
    assert shown(parse(said, kind, system).measure.si, kind, system) == said
    use_numerals(PLAIN)
    use_money("")


@given(
    st.floats(1, 9999), st.floats(1, 9999), st.sampled_from(sorted(REGIONS)), st.sampled_from(["metric", "us-decimal"])
)
def test_places_are_parted_where_a_comma_is_a_decimal_sign(x, y, where, system):
    use_numerals(REGIONS[where])
    said = place_words((x / 1000, y / 1000), system)
    parts = [p.removesuffix(" mm").removesuffix(" in") for p in parts_of(said)]
    use_numerals(PLAIN)
    assert len(parts) == 2, said


def test_parts_of_a_line(region):
    region(GERMAN)
    assert parts_of("24,5, 13,0") == parts_of("24,5; 13,0") == parts_of("24,5 13,0") == ["24,5", "13,0"]
    assert parts_of("toe rail, 1,5 m, 2 m") == ["toe rail", "1,5 m", "2 m"]
    region(PLAIN)
    assert parts_of("24.5,13.0") == ["24.5", "13.0"]


def test_a_number_is_never_rounded_to_the_other_side_of_a_limit_in_any_region(region):
    region(GERMAN)
    assert shown_beside(0.011999, 0.012, Kind.SIZE) == "11,999 mm"


# ---- money ----


@pytest.mark.parametrize(
    ("where", "sign", "said", "each"),
    [
        ("us", "$", "$1,234.50", "$24.00 per kg"),
        ("de", "€", "1.234,50\u00a0€", "24,00\u00a0€ per kg"),
        ("ch", "CHF", "CHF\u00a01'234.50", "CHF\u00a024.00 per kg"),
        ("us", "", "1,234.50", "24.00 per kg"),
    ],
)
def test_money_carries_its_sign_where_the_region_puts_it(region, where, sign, said, each):
    region(REGIONS[where])
    use_money(sign)
    assert (shown(1234.5, Kind.MONEY), shown(24, Kind.PRICE_MASS)) == (said, each)
    assert parse(said, Kind.MONEY).measure.si == 1234.5


# ---- days ----


@pytest.mark.parametrize(
    ("where", "said", "typed"),
    [
        ("plain", "2026-12-05", ["2026-12-05"]),
        ("de", "05.12.2026", ["5.12.2026", "5.12.26", "05.12.2026", "2026-12-05"]),
        ("us", "12/05/2026", ["12/5/2026", "12/05/26", "12-05-2026", "2026-12-05"]),
        ("fr", "05/12/2026", ["5/12/2026", "05/12/26"]),
    ],
)
def test_days_are_shown_and_read_in_the_order_of_the_region(region, where, said, typed):
    region(REGIONS[where])
    assert date_words("2026-12-05") == said and date_words("2026-12-05T14:30") == f"{said} 14:30"
    assert [iso_date(t) for t in typed] == ["2026-12-05"] * len(typed)
    assert iso_date(f"{typed[0]} 14:30") == "2026-12-05 14:30"
    assert iso_date("yesterday") == "yesterday" and iso_date("45.45.2026") == "45.45.2026" and date_words("") == ""


def test_dots_say_that_the_day_is_first_even_where_the_year_is(region):
    assert iso_date("5.12.2026") == iso_date("05.12.26") == "2026-12-05"
    assert iso_date(" 5-12-2026 ") == "5-12-2026" and iso_date("5/12/26") == "5/12/26"


def test_a_day_in_words_has_its_month_where_the_region_says_it(region):
    assert (day_words("2026-11-30T08:00"), long_day("2026-11-30T08:00")) == ("Mon 30 Nov", "30 Nov 2026")
    region(US)
    assert (day_words("2026-11-30T08:00"), long_day("2026-11-30T08:00")) == ("Mon Nov 30", "Nov 30, 2026")


@given(st.dates(date(1950, 1, 1), date(2199, 12, 31)), st.sampled_from(sorted(REGIONS)))
def test_a_day_that_is_shown_reads_back(day, where):
    use_numerals(REGIONS[where])
    assert iso_date(date_words(day.isoformat())) == day.isoformat()
    use_numerals(PLAIN)


def test_without_zeros(region):
    region(GERMAN)
    assert [numerals.without_zeros(t) for t in ("1.200", "2,50", "3,00")] == ["1.200", "2,5", "3"]


def test_a_file_written_beside_the_window_leaves_the_window_its_region(region):
    from threading import Event, Thread

    region(GERMAN)
    inside, looked, said = Event(), Event(), {}

    def write():
        with plainly():
            said["file"] = fixed(1.5, 1)
            inside.set()
            looked.wait(5)

    writer = Thread(target=write)
    writer.start()
    inside.wait(5)
    said["window"], said["typed"] = fixed(1.5, 1), parse("1.234,5 kg", Kind.MASS).measure.si
    looked.set()
    writer.join()
    assert said == {"file": "1.5", "window": "1,5", "typed": 1234.5}


def test_what_was_put_in_words_is_told_apart_by_who_wrote_it(region):
    assert writing() == (PLAIN, "") and region_is_plain()
    region(GERMAN)
    use_money("€")
    assert writing() == (GERMAN, "€") and not region_is_plain()
    with plainly():
        assert writing() == (PLAIN, "€") and not region_is_plain()
    assert writing() == (GERMAN, "€")


def test_words_that_are_remembered_are_those_of_the_region_and_its_money(region):
    @remembered(8)
    def priced(value):
        return money(fixed(value, 2))

    assert priced(1.5) == "1.50"
    region(GERMAN)
    assert priced(1.5) == "1,50"
    use_money("€")
    assert priced(1.5) == "1,50\u00a0€"
    with plainly():
        assert "1.50" in priced(1.5)
    assert priced(1.5) == "1,50\u00a0€"


def test_a_plan_is_asked_again_for_a_file_only_where_the_window_writes_otherwise(region, made):
    assert reworded(made) is made
    region(GERMAN)
    other = reworded(made)
    assert other is not made and other.job is made.job and other.system == made.system
