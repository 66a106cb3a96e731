"""Drying against the curve that made it, and what changed between two sessions."""

from datetime import date, timedelta

import numpy as np
import pytest

from ribpatch.core.job import Survey
from ribpatch.core.readings import Moisture, Pin, SurveySession, Tap
from ribpatch.core.survey.sessions import (
    change_between,
    drying_curves,
    drying_words,
    fitted,
    latest_session,
    only_session,
)
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
ZONE = ((0.0, 0.0), (2.0, 0.0), (2.0, 1.0), (0.0, 1.0))
START = date(2026, 3, 1)
DRY = Moisture(id="dry", x=1.9, y=0.9, value=12)


def survey(values, days, at=(0.5, 0.5), reference=True):
    sessions = tuple(
        SurveySession(id=f"s{n}", date=(START + timedelta(days=d)).isoformat()) for n, d in enumerate(days)
    )
    rows = tuple(
        Moisture(id=f"r{n}", x=at[0], y=at[1], value=round(v, 1), session=f"s{n}") for n, v in enumerate(values)
    )
    return Survey(
        readings=(*rows, *((DRY,) if reference else ())), sessions=sessions, references=("dry",) if reference else ()
    )


def made(half_life, days, height=45.0, noise=0.0):
    rng = np.random.default_rng(4)
    return survey([12 + height * 0.5 ** (d / half_life) + noise * rng.standard_normal() for d in days], days)


def test_a_drying_place_is_forecast_to_the_day_that_its_curve_reaches_the_reference():
    days = (0, 7, 14, 21, 35)
    (place,) = drying_curves(made(20, days), SHELF)
    true = 20 * np.log2(45 / SHELF.rule("drying.within"))
    early, middle, late = place.dates
    assert fitted(place, np.array([0.0, 20.0])) == pytest.approx([45, 22.5], rel=0.08)
    assert place.says == "drying" and place.half_life == pytest.approx(20, rel=0.15)
    assert (middle - START).days == pytest.approx(true, rel=0.12)
    assert early < middle < late and (early - START).days < true < (late - START).days


def test_fewer_readings_mean_a_wider_forecast():
    few, many = (drying_curves(made(20, d, noise=1.0), SHELF)[0] for d in ((0, 10), (0, 5, 10, 20, 30, 40)))
    assert (few.dates[2] or date.max) > (many.dates[2] or date.max)
    assert few.still > many.still


def test_a_place_that_stays_wet_is_told_to_look_for_the_source():
    (place,) = drying_curves(survey([55, 56, 54, 55], (0, 10, 20, 40)), SHELF)
    assert fitted(place, np.array([0.0, 100.0])) == pytest.approx([43, 43])
    assert place.says == "not drying" and place.still > 0.5 and place.dates == (None, None, None)
    (wetter,) = drying_curves(survey([40, 47, 55], (0, 10, 20)), SHELF)
    assert wetter.says == "not drying"


def test_a_dry_place_is_dry_and_no_reference_means_no_curve():
    (place,) = drying_curves(survey([30, 18, 13.5], (0, 20, 40)), SHELF)
    assert place.says == "dry"
    assert drying_curves(survey([50, 40], (0, 10), reference=False), SHELF) == ()
    assert drying_curves(survey([50], (0,)), SHELF) == ()


def test_wood_pins_dry_towards_dry_wood():
    sessions = tuple(SurveySession(id=f"s{n}", date=(START + timedelta(days=10 * n)).isoformat()) for n in range(3))
    rows = tuple(Pin(id=f"r{n}", x=0.5, y=0.5, value=v, session=f"s{n}") for n, v in enumerate((40, 30, 24)))
    (place,) = drying_curves(Survey(readings=rows, sessions=sessions), SHELF)
    assert place.over[0] == pytest.approx(40 - SHELF.rule("pin.dry"))
    assert place.says == "drying"


def taps(session, bad):
    places = [(x, y) for x in np.arange(0.1, 2, 0.2) for y in np.arange(0.1, 1, 0.2)]
    return tuple(
        Tap(id=f"{session}-{n}", x=float(x), y=float(y), grade="dull" if bad(x) else "ring", session=session)
        for n, (x, y) in enumerate(places)
    )


def test_the_change_between_two_sessions_shows_where_it_got_worse_and_better():
    both = Survey(
        readings=(*taps("s1", lambda x: x < 0.5), *taps("s2", lambda x: x > 1.5)),
        sessions=(SurveySession(id="s1", date="2026-01-01"), SurveySession(id="s2", date="2026-02-01")),
    )
    field, change = change_between(both, "s1", "s2", ZONE, SHELF)
    assert np.nanmean(change[:, field.x < 0.4]) < -0.5 and np.nanmean(change[:, field.x > 1.6]) > 0.5
    assert abs(np.nanmean(change[:, (field.x > 0.8) & (field.x < 1.2)])) < 0.1
    assert latest_session(both) == "s2" and len(only_session(both, "s1").readings) == 50
    assert change_between(both, "s1", "none", ZONE, SHELF) is None


def dated(places, days):
    """A moisture reading at every place on every day, wet at first."""
    sessions = tuple(
        SurveySession(id=f"s{n}", date=(START + timedelta(days=d)).isoformat()) for n, d in enumerate(days)
    )
    rows = [
        Moisture(id=f"r{n}-{k}", x=x, y=y, value=60 - 5 * n, session=f"s{n}")
        for n in range(len(days)) for k, (x, y) in enumerate(places)
    ]  # fmt: skip
    return Survey(readings=(*rows, DRY), sessions=sessions, references=("dry",))


def test_thousands_of_places_are_told_apart():
    """Each place is found again on the second day among all the others, and only its own."""
    places = [(0.05 * i, 0.05 * j) for i in range(60) for j in range(40)]
    curves = drying_curves(dated(places, (0, 14)), SHELF)
    assert len(curves) == len(places)
    assert {c.at for c in curves} == {(x, y) for x, y in places} and all(c.days.size == 2 for c in curves)


@pytest.mark.parametrize(("apart", "curves"), [(0.029, 1), (0.031, 0)])
def test_a_reading_a_little_beside_the_first_is_of_the_same_place(apart, curves):
    """The pitch is 100 mm: within three tenths of it the same place was meant, across any square's border."""
    for x in (0.0, 0.015, 0.0299, 0.5):
        first, second = dated([(x, 0.2)], (0, 14)), dated([(x + apart, 0.2)], (0, 14))
        rows = (first.readings[0], *(r for r in second.readings if r.session == "s1"), DRY)
        both = Survey(readings=rows, sessions=first.sessions, references=("dry",))
        assert len(drying_curves(both, SHELF)) == curves


def test_what_was_dry_from_the_start_has_no_curve():
    assert drying_curves(survey([13, 12, 12.5], (0, 10, 20)), SHELF) == ()


def test_times_of_day_go_before_the_sessions_date():
    rows = tuple(
        Moisture(id=f"r{n}", x=0.5, y=0.5, value=v, at=at)
        for n, (v, at) in enumerate(((50, "2026-03-01 08:00"), (35, "2026-03-11T20:00")))
    )
    (place,) = drying_curves(Survey(readings=(*rows, DRY), references=("dry",)), SHELF)
    assert list(place.days) == [0, 10.5]


def test_the_words_of_every_case():
    days = (0, 14, 28)
    (drying,) = drying_curves(survey([55, 35, 23], days), SHELF)
    (still,) = drying_curves(survey([55, 56, 57], days), SHELF)
    (dry,) = drying_curves(survey([55, 20, 13], days), SHELF)
    assert "at the reference about" in drying_words(drying) and "4 in 5" in drying_words(drying)
    assert "look for the source" in drying_words(still) and "+43 to +45" in drying_words(still)
    assert drying_words(dry).endswith("at the reference.")
