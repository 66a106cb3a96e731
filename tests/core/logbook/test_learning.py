"""What a shop learns: exact distributions, limits, and whether the ranges hold on shops that are simulated otherwise."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from ribpatch.core.logbook.learning import incomplete_beta, learned, student_cdf, student_quantile
from ribpatch.core.logbook.nail import cure_factor

MARKS = {"green_from": 4.0, "green_to": 11.0, "sandable": 24.0}


@given(st.floats(0.3, 60), st.floats(0.51, 0.9995))
def test_students_t(freedom, share):
    assert student_quantile(share, freedom) == pytest.approx(stats.t.ppf(share, freedom), rel=1e-6)
    assert student_cdf(-1.3, freedom) == pytest.approx(stats.t.cdf(-1.3, freedom), rel=1e-9)


@given(st.floats(0.2, 40), st.floats(0.2, 40), st.floats(0, 1))
def test_the_incomplete_beta_function(a, b, x):
    assert incomplete_beta(a, b, x) == pytest.approx(stats.beta.cdf(x, a, b), abs=1e-10)


def test_before_any_job_nothing_is_learned_and_many_jobs_say_it_all():
    none = learned([])
    assert none.factor == 1 and none.jobs == 0 and none.low == pytest.approx(1 / none.high)
    # Prior of 2 jobs at 1: the mean of three logarithms of 1.5 counts three fifths.
    assert learned([1.5] * 3).factor == pytest.approx(1.5**0.6)
    rng = np.random.default_rng(2)
    many = learned(np.exp(rng.normal(0.3, 0.1, 4000)).tolist())
    assert many.factor == pytest.approx(np.exp(0.3), rel=0.01)
    assert np.log(many.high / many.low) == pytest.approx(2 * 1.645 * 0.1, rel=0.05)


@pytest.mark.parametrize("jobs", [0, 1, 3, 8])
@pytest.mark.parametrize("kind", ["gamma", "tails", "wrong"])
def test_nine_of_ten_next_jobs_lie_in_the_range(kind, jobs):
    rng = np.random.default_rng(7)
    held, tried = 0, 250
    for _ in range(tried):
        own, s = rng.normal(0, 0.22), rng.uniform(0.15, 0.32)
        draw = {
            "gamma": lambda s=s: np.log(rng.gamma(1 / s**2, s**2)),
            "tails": lambda s=s: 0.8 * s * rng.standard_t(5),
            "wrong": lambda s=s: rng.normal(0, s) + 0.7 * (rng.random() < 0.05),
        }[kind]
        seen = np.exp([own + draw() for _ in range(jobs + 1)])
        made = learned(seen[:-1].tolist())
        held += made.low <= seen[-1] <= made.high
    assert 0.85 <= held / tried <= 0.95


def test_a_nail_moves_the_clock_the_way_that_it_says():
    none = cure_factor([])
    assert none.middle == pytest.approx(1, abs=0.01) and none.low == pytest.approx(np.exp(-1.645 * 0.2), rel=0.01)
    assert cure_factor([("dents", 7.0, MARKS)]).middle == pytest.approx(1, abs=0.03)
    slow, fast = cure_factor([("tacky", 5.0, MARKS)]), cure_factor([("dusts", 18.0, MARKS)])
    assert slow.middle > 1.15 and fast.middle < 0.85
    sure = cure_factor([("tacky", 5.0, MARKS)] * 6)
    assert sure.middle > slow.middle and sure.high / sure.low < slow.high / slow.low


def test_the_factor_is_found_from_tests_of_resins_that_take_longer_or_shorter():
    rng = np.random.default_rng(3)
    found, trues = [], np.exp(rng.normal(0, 0.2, 150))
    for true in trues.tolist():
        tests = []
        for _ in range(6):
            worth = rng.uniform(2, 40)
            came = worth / true * np.exp(rng.normal(0, 0.05))
            state = "tacky" if came < 4 else "dents" if came < 11 else "marks" if came < 24 else "dusts"
            tests.append((state, worth, MARKS))
        found.append(cure_factor(tests))
    off = np.log([f.middle for f in found]) - np.log(trues)
    assert abs(off.mean()) < 0.03 and off.std() < 0.12 < 0.2
    assert np.mean([f.low <= t <= f.high for f, t in zip(found, trues, strict=True)]) >= 0.85
