"""The cure clock against closed forms, another integration and its own inverse."""

from math import exp

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.calendar.clock import Warmth, cure_clock, first_below, marks_reached

EA, R, T0 = 55_000.0, 8.314462618, 298.15
HOUR = 3600.0


def times_as_long(degrees: float, activation: float = EA) -> float:
    return exp(activation / R * (1 / (degrees + 273.15) - 1 / T0))


@pytest.mark.parametrize(("degrees", "factor"), [(10, 3.24), (15, 2.16), (20, 1.46), (25, 1.0), (30, 0.69)])
def test_at_one_temperature_everything_takes_the_printed_factor(degrees, factor):
    warmth = Warmth(np.array([0.0]), np.array([float(degrees)]))
    took = float(cure_clock(warmth, EA).reach(0.0, HOUR)) / HOUR
    assert took == pytest.approx(times_as_long(degrees), rel=1e-12)
    assert took == pytest.approx(factor, abs=0.006)


def test_steps_add_up_in_closed_form():
    warmth = Warmth(np.array([0.0, 2.0, 5.0]) * HOUR, np.array([20.0, 10.0, 30.0]), held=True)
    gained = 2 / times_as_long(20) + 3 / times_as_long(10)
    need = 6.0
    expected = 5 + (need - gained) * times_as_long(30)
    assert float(cure_clock(warmth, EA).reach(0.0, need * HOUR)) / HOUR == pytest.approx(expected, rel=1e-12)
    # Laid in the middle of the cold stretch.
    gained = 1.5 / times_as_long(10)
    expected = 5 + (need - gained) * times_as_long(30)
    assert float(cure_clock(warmth, EA).reach(3.5 * HOUR, need * HOUR)) / HOUR == pytest.approx(expected, rel=1e-9)


def test_a_straight_line_against_another_integration():
    from scipy.integrate import quad

    warmth = Warmth(np.array([0.0, 10.0, 24.0]) * HOUR, np.array([8.0, 31.0, 12.0]))
    clock = cure_clock(warmth, EA)
    for start, end in ((0.0, 10.0), (1.3, 7.7), (5.0, 20.2), (11.0, 23.9), (20.0, 40.0)):
        known = quad(
            lambda h: 1 / times_as_long(float(np.interp(h, [0, 10, 24], [8, 31, 12]))),
            start,
            end,
            points=[p for p in (10.0, 24.0) if start < p < end],
        )[0]
        assert clock.progress(start * HOUR, end * HOUR) / HOUR == pytest.approx(known, rel=2e-6)


@given(
    st.lists(st.tuples(st.floats(0.1, 30), st.floats(0, 40)), min_size=1, max_size=12),
    st.floats(0, 60),
    st.floats(0.01, 50),
    st.booleans(),
    st.floats(0.3, 3),
)
def test_when_so_much_is_reached_that_much_has_gone_by(rows, since, need, held, factor):
    times = np.cumsum([a for a, _ in rows]) * HOUR
    clock = cure_clock(Warmth(times, np.array([b for _, b in rows]), held), EA, None, factor)
    at = float(clock.reach(since * HOUR, need * HOUR))
    assert clock.progress(since * HOUR, at) == pytest.approx(need * HOUR, rel=1e-6)
    slower = cure_clock(Warmth(times, np.array([b - 5 for _, b in rows]), held), EA, None, factor)
    assert float(slower.reach(since * HOUR, need * HOUR)) > at


def test_below_the_least_temperature_the_clock_stands_and_nothing_is_foretold():
    warmth = Warmth(np.array([0.0, 4.0, 8.0]) * HOUR, np.array([20.0, 10.0, 20.0]))
    stood = cure_clock(warmth, EA, 12.0)
    assert stood.progress(3.2 * HOUR, 4.8 * HOUR) == pytest.approx(0, abs=1e-6)  # 12 degC at 3.2 and at 4.8 h
    assert stood.progress(0, 8 * HOUR) < cure_clock(warmth, EA).progress(0, 8 * HOUR)
    assert first_below(warmth, 0.0, 12.0) == pytest.approx(3.2 * HOUR)
    assert first_below(warmth, 4.0 * HOUR, 12.0) == 4.0 * HOUR
    assert first_below(warmth, 5.0 * HOUR, 12.0) is None
    gel, sand = marks_reached({"gel": HOUR, "sandable": 20 * HOUR}, 0.0, warmth, EA, 12.0)
    assert gel.at is not None
    assert sand.at is None and "below 12 °C from 3.20 h on" in sand.why


def test_a_clock_that_stands_for_good_reaches_nothing():
    cold = cure_clock(Warmth(np.array([0.0, HOUR]), np.array([20.0, 2.0])), EA, 10.0)
    assert np.isinf(cold.reach(0.0, 10 * HOUR))


@pytest.mark.parametrize(
    ("times", "degrees"), [([0.0, 0.0], [1.0, 2.0]), ([0.0], [200.0]), ([], []), ([0.0, 1.0], [float("nan"), 2.0])]
)
def test_what_is_no_course_of_temperatures_is_refused(times, degrees):
    with pytest.raises(ValueError):
        cure_clock(Warmth(np.array(times), np.array(degrees)), EA)
