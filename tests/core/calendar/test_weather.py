"""Air at the work against the physics of heat and water, and the simulated weather."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.calendar.weather import (
    Aid,
    Hours,
    Shed,
    at_work,
    dew_points,
    followed,
    humidity_at,
    layable,
    repeated,
    simulated,
    warmth_of,
    why_not,
)
from ribpatch.core.resin.air import dew_point


def hours(temperature, humidity=0.6, rain=0.0, first=0):
    t = np.asarray(temperature, float)
    return Hours(first, t, np.full(len(t), humidity), np.full(len(t), rain))


@given(st.floats(-10, 40), st.floats(0.1, 1.0), st.floats(0, 15))
def test_heat_leaves_the_water_where_it_is(degrees, humidity, more):
    made = at_work(hours([degrees], humidity), Shed(loss=100.0), (Aid("heater", degrees + more, None, None),))
    assert float(made.air.temperature[0]) == pytest.approx(degrees + more)
    assert (
        float(made.air.dew[0]) == pytest.approx(dew_point(degrees, humidity), abs=0.02) or made.air.humidity[0] <= 0.02
    )
    assert float(humidity_at(np.array([degrees]), dew_points(np.array([degrees]), np.array([humidity])))[0]) == (
        pytest.approx(humidity, abs=1e-9)
    )


def test_a_heater_lifts_by_its_power_over_the_loss_and_a_tent_makes_it_do_more():
    cold = hours([2.0] * 4)
    shed = Shed(loss=200.0, warmer=1.0, lag=0)
    heater = Aid("heater", 25.0, None, 2000.0)
    assert at_work(cold, shed, (heater,)).air.temperature[-1] == pytest.approx(2 + 1 + 2000 / 200)
    assert at_work(cold, shed, (heater, Aid("tent"))).air.temperature[-1] == pytest.approx(25.0)
    assert at_work(hours([30.0]), shed, (heater,)).air.temperature[0] == 31.0


def test_a_laminate_follows_the_air_as_a_body_of_one_temperature():
    made = followed(np.array([10.0, 20.0, 20.0, 20.0]), 2 * 3600)
    assert made[1:] == pytest.approx(20 - 10 * np.exp(-np.array([1, 2, 3]) / 2))
    assert followed(np.array([1.0, 9.0]), 0).tolist() == [1.0, 9.0]


def test_when_it_may_be_laid_in_and_why_not():
    air = hours([18.0, 18.0, 11.0, 18.0], 0.6)
    damp = Hours(0, air.temperature, np.array([0.6, 0.95, 0.6, 0.6]), np.array([0, 0, 0, 1.0]))
    work = at_work(damp, Shed(100.0, roof=False, lag=0))
    assert layable(work, 12.0, 0.8, 3.0).tolist() == [1, 0, 0, 0]
    assert why_not(work, 0, 12.0, 0.8, 3.0) == ""
    assert "over the dew point" in why_not(work, 1, 12.0, 0.8, 3.0) and "95%" in why_not(work, 1, 12.0, 0.8, 3.0)
    assert "under the system's 12" in why_not(work, 2, 12.0, 0.8, 3.0)
    assert why_not(work, 3, 12.0, 0.8, 3.0) == "rain on the work"
    covered = at_work(damp, Shed(100.0, roof=False, lag=0), (Aid("cover"),))
    assert layable(covered, 12.0, 0.8, 3.0).tolist() == [1, 0, 0, 1]
    dried = at_work(damp, Shed(100.0, lag=0), (Aid("dehumidifier", None, 0.6),))
    assert layable(dried, 12.0, 0.8, 3.0).tolist() == [1, 1, 0, 1]
    warmed = at_work(damp, Shed(100.0, roof=False, lag=0), (Aid("blanket", 20.0),))
    assert warmed.laminate.tolist() == [20.0] * 4


def test_just_at_the_margin_it_may_be_laid_in():
    dew = dew_point(20.0, 0.5)
    work = at_work(hours([20.0], 0.5), Shed(100.0, lag=0))
    assert layable(work, 10.0, 0.5, 20.0 - dew).tolist() == [1]
    assert layable(work, 10.0, 0.5, 20.0 - dew + 1e-6).tolist() == [0]


def test_beyond_what_is_known_the_nearest_day_goes_on():
    made = repeated(hours(np.arange(48.0), first=24), 0, 120)
    assert made.temperature[24:72].tolist() == list(range(48))
    assert made.temperature[:24].tolist() == list(range(24))
    assert made.temperature[72:96].tolist() == made.temperature[96:120].tolist() == list(range(24, 48))
    assert repeated(hours([7.0]), -3, 10).temperature.tolist() == [7.0] * 10


def test_a_clock_runs_by_the_laminate():
    made = warmth_of(at_work(hours([10.0, 20.0], first=5), Shed(100.0, lag=0)))
    assert made.times.tolist() == [6 * 3600, 7 * 3600] and made.degrees.tolist() == [10.0, 20.0]


def test_simulated_weather_is_of_its_season_and_always_the_same():
    summer, winter = simulated(0, 24 * 60, 190, 4), simulated(0, 24 * 60, 10, 4)
    again = simulated(0, 24 * 60, 190, 4)
    assert np.array_equal(summer.temperature, again.temperature)
    assert not np.array_equal(summer.temperature, simulated(0, 24 * 60, 190, 5).temperature)
    assert 15 < summer.temperature.mean() < 24 and -4 < winter.temperature.mean() < 5
    days = summer.temperature.reshape(-1, 24).mean(axis=0)
    assert 12 <= int(days.argmax()) <= 18 and days.max() - days.min() > 4
    assert summer.humidity.reshape(-1, 24).mean(axis=0)[4] > summer.humidity.reshape(-1, 24).mean(axis=0)[15]
    assert 0 < (summer.rain > 0).mean() < 0.3 and summer.humidity.min() >= 0.2 and summer.humidity.max() <= 1


def test_hours_that_begin_later_are_told_by_their_own_hour():
    air = Hours(30, np.array([18.0, 8.0, 18.0]), np.array([0.6, 0.6, 0.6]), np.array([0.0, 0.0, 0.0]))
    work = at_work(air, Shed(100.0, lag=0))
    assert [bool(why_not(work, h, 12.0, 0.8, 3.0)) for h in (30, 31, 32)] == [False, True, False]
    assert "46.4 °F, under the system's 53.6 °F" in why_not(work, 31, 12.0, 0.8, 3.0, "us")
    assert air.last == 33


def test_the_simulated_forecast_is_of_its_day_and_year():
    from ribpatch.core.simulated_air import simulated_forecast
    from ribpatch.core.timetable import Timetable

    made = simulated_forecast(Timetable(start="2027-07-10"), "2026-01-01")
    known = simulated(0, 28 * 24, 191, 7 + 2027)
    assert made.start == "2027-07-10T00:00" and made.temperature == tuple(known.temperature.tolist())
    assert simulated_forecast(Timetable(), "2027-07-10") == made
