"""Cure and the heat it makes, against steps in time, closed forms and limits: adiabatic, isothermal, Arrhenius, Semenov."""

from __future__ import annotations

from math import e, exp, log

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ribpatch.core.resin.cure import LAST, ZERO, Course, Kinetics, course, speed, time_factor
from ribpatch.core.resin.slab import Layer, Material, Slab, slab_course
from ribpatch.core.resin.vessel import VESSELS, face_of, in_vessel, kinetics, loss_of, rate_of
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
EPOXY = Kinetics(4e-4, 57_000, 330_000, 1900, 0.08, 2.0)


def in_time(k: Kinetics, loss: float, start: float, air: float, step: float = 0.5) -> tuple[list[float], ...]:
    """The same law by Runge and Kutta in time."""
    at, cured, now = 0.0, 0.0, start + ZERO

    def slope(a: float, kelvin: float) -> np.ndarray:
        pace = float(
            k.rate * exp(k.activation / 8.314462618 * (1 / 298.15 - 1 / kelvin)) * (k.seed + a) * (1 - a) ** k.order
        )
        return np.array([pace, (k.heat * pace - loss * (kelvin - air - ZERO)) / k.capacity])

    rows = [(0.0, 0.0, start)]
    state = np.array([cured, now])
    while state[0] < 0.6 and at < 40_000:
        one = slope(*state)
        two = slope(*(state + step / 2 * one))
        three = slope(*(state + step / 2 * two))
        four = slope(*(state + step * three))
        state = state + step / 6 * (one + 2 * two + 2 * three + four)
        at += step
        rows.append((at, float(state[0]), float(state[1]) - ZERO))
    return tuple(map(list, zip(*rows, strict=True)))


@pytest.mark.parametrize(
    ("loss", "start", "air"), [(0.0, 25, 25), (0.6, 20, 20), (1.5, 30, 15), (3.0, 15, 25), (12.0, 25, 20)]
)
def test_a_course_is_what_steps_in_time_give(loss: float, start: float, air: float) -> None:
    made = course(EPOXY, np.array([loss]), start, air)
    time, cured, warm = in_time(EPOXY, loss, start, air)
    assert float(made.time_cured(0.2)[0]) == pytest.approx(np.interp(0.2, cured, time), rel=3e-3)
    if max(warm) > 41:
        first = next(n for n, t in enumerate(warm) if t >= 40)
        assert float(made.time_to(40)[0]) == pytest.approx(time[first], rel=3e-3)
    n = int(np.argmax(warm))
    if 0 < n < len(warm) - 1:
        assert float(made.peak[0]) == pytest.approx(warm[n], abs=0.5)
    assert float(np.interp(0.4, made.cured, made.temperature[:, 0])) == pytest.approx(
        np.interp(0.4, cured, warm), abs=0.5
    )


@given(st.floats(0.005, 2.0), st.floats(0.5, 3.0), st.floats(5, 35), st.floats(3e4, 9e4))
@settings(max_examples=40, deadline=None)
def test_what_loses_nothing_warms_by_all_its_heat(seed: float, order: float, start: float, activation: float) -> None:
    k = Kinetics(1e-3, activation, 300_000, 1800, seed, order)
    made = course(k, np.array([0.0]), start, start)
    assert float(made.peak[0]) == pytest.approx(start + LAST * 300_000 / 1800, rel=1e-9)
    assert (np.diff(made.time[:, 0]) > 0).all() and (np.diff(made.temperature[:, 0]) > 0).all()


@given(st.floats(5, 35), st.floats(0.02, 0.5))
@settings(max_examples=30, deadline=None)
def test_what_is_held_at_the_warmth_of_the_air_cures_by_the_closed_form(t: float, seed: float) -> None:
    """Order 1: t = ln[(seed + a) / (seed (1 - a))] / (k (1 + seed)), and every time in proportion to Arrhenius."""
    k = Kinetics(1e-3, 55_000, 300_000, 1800, seed, 1.0)
    made = course(k, np.array([1e7]), t, t, steps=400)
    a = 0.5
    there = log((seed + a) / (seed * (1 - a))) / (1e-3 * (1 + seed)) * time_factor(t, 55_000)
    assert float(made.time_cured(a)[0]) == pytest.approx(there, rel=2e-3)
    assert float(made.peak[0]) == pytest.approx(t, abs=0.1) and np.isinf(made.time_to(t + 1)[0])


def test_a_mass_runs_away_where_semenov_says() -> None:
    """Made evenly (order 0, seed far over 1) the mass is steady up to m H r Ea / (G R T2) of 1/e, and not beyond."""
    T, Ea, loss = 293.15, 300_000.0, 1.0
    for share, runs in ((0.94, False), (1.1, True)):
        r = share / e * loss * 8.314462618 * T**2 / Ea / 1e9
        k = Kinetics(r / 1e6 / exp(Ea / 8.314462618 * (1 / 298.15 - 1 / T)), Ea, 1e9, 1900, 1e6, 0.0)
        made = course(k, np.array([loss]), 20, 20, steps=4000)
        # One step of warmth, R T2 / Ea, is 2.4 K: steady it stays within one and a bit.
        assert (float(made.peak[0]) > 20 + 3 * 2.4) is runs


def test_what_starts_hot_is_hot_at_once_and_a_first_crossing_is_the_first() -> None:
    made = course(EPOXY, np.array([1.0]), 45, 20)
    assert float(made.time_to(40)[0]) == 0.0
    bump = Course(
        np.array([0, 0.1, 0.2, 0.3]), np.array([[0.0], [10], [20], [30]]), np.array([[20.0], [50], [30], [60]])
    )
    assert float(bump.time_to(40)[0]) == pytest.approx(10 * 2 / 3)
    assert float(bump.time_cured(0.25)[0]) == 25 and float(speed(EPOXY, 1.0, np.array(300.0))) == 0.0


def test_a_vessel_loses_over_its_faces() -> None:
    volume = np.array([0.1 / 1150])
    wide = (4 * volume[0] / np.pi / 1.2) ** (1 / 3)
    assert face_of(volume, 1.2, 0.0)[0] == pytest.approx(np.pi * wide * 1.2 * wide + 2 * np.pi * wide**2 / 4)
    flat = volume[0] / 0.012
    assert face_of(volume, None, 0.012)[0] == pytest.approx(2 * flat + 4 * flat**0.5 * 0.012)
    losses = [loss_of(np.array([0.1]), v, 1150, SHELF)[0] for v in VESSELS]
    assert losses == sorted(losses) and losses[0] == pytest.approx(11 * face_of(volume, 1.2, 0.0)[0] / 0.1)


@pytest.mark.parametrize("resin", [r.id for r in SHELF.resins])
def test_the_stated_mass_at_25_can_be_worked_for_the_stated_pot_life(resin: str) -> None:
    made = SHELF.resin(resin)
    at = in_vessel(np.array([made.pot_mass]), "cup", made, 25, 25, SHELF)
    assert at.time[0] == pytest.approx(made.pot_life, rel=3e-3)
    assert kinetics(made, SHELF).rate == rate_of(made, SHELF)


def test_a_cup_feels_the_cold_more_than_its_cure_does_and_a_pan_hardly_warms() -> None:
    """A hundred grams at 15 degC against 25: about 3.4 times as long to 40 degC, where the cure alone takes 2.2 times."""
    resin = SHELF.resin("epoxy-5-1-slow")
    k, loss = kinetics(resin, SHELF), loss_of(np.array([0.1]), "cup", resin.density, SHELF)
    cold, warm = (float(course(k, loss, t, t).time_to(40)[0]) for t in (15, 25))
    assert cold / warm == pytest.approx(3.4, abs=0.15) and time_factor(15, resin.activation) < 2.3
    masses = np.array([0.05, 0.1, 0.3, 0.5])
    cup, pan = (in_vessel(masses, v, resin, 20, 20, SHELF) for v in ("cup", "pan"))
    assert (np.diff(cup.time) < 0).all() and (np.diff(cup.peak) > 0).all()
    assert (pan.time > cup.time).all() and (pan.peak < 0.6 * cup.peak).all()


LAY = Material(0.3, 1500, 1300)


def test_a_thin_slab_that_loses_at_both_faces_is_a_lump() -> None:
    slab = Slab(0.003, Material(300.0, 1500, 1300), 0.6, (), 8.0, 8.0)
    made = slab_course(slab, EPOXY, 25, 25)
    # The same heat, heat store and loss by mass of resin.
    lump = Kinetics(EPOXY.rate, EPOXY.activation, 0.6 * EPOXY.heat, 1300, EPOXY.seed, EPOXY.order)
    same = course(lump, np.array([16.0 / (1500 * 0.003)]), 25, 25, steps=400)
    assert made.peak == pytest.approx(float(same.peak[0]), abs=0.3)
    thick = slab_course(Slab(0.02, LAY, 0.6, (), 1e-6, 1e-6), EPOXY, 20, 20)
    assert thick.peak == pytest.approx(20 + LAST * 0.6 * EPOXY.heat / 1300, rel=0.02)
    assert thick.time_to(40) == pytest.approx(float(course(lump, np.array([0.0]), 20, 20).time_to(40)[0]), rel=0.02)


def test_without_cure_a_warm_slab_cools_as_fourier_says() -> None:
    """Both faces held at the air's warmth: the middle by the series 4/pi sum (-1)^n / (2n+1) exp(-(2n+1)2 pi2 Fo)."""
    still = Kinetics(1e-4, 1.0, 1e-3, 1900, 1.0, 1.0)
    slab = Slab(0.02, LAY, 0.5, (), 1e6, 1e6)
    made = slab_course(slab, still, 40, 20, cells=60)
    for time in (60.0, 150.0, 400.0):
        fo = 0.3 / 1500 / 1300 * time / 0.02**2
        there = 4 / np.pi * sum((-1) ** n / (2 * n + 1) * exp(-((2 * n + 1) ** 2) * np.pi**2 * fo) for n in range(40))
        assert float(np.interp(time, made.time, made.hottest)) == pytest.approx(20 + 20 * there, abs=0.35)


def test_a_slab_runs_away_where_frank_and_kamenetskii_say() -> None:
    """Made evenly, faces held: steady up to delta = q Ea (d/2)2 / (lambda R T2) of .878, and not beyond."""
    T, Ea, d = 293.15, 300_000.0, 0.02
    for share, runs in ((0.93, False), (1.12, True)):
        q = share * 0.878 * 0.3 * 8.314462618 * T**2 / Ea / (d / 2) ** 2
        heat = 1e9
        pace = q / (1500 * heat)
        k = Kinetics(pace / 1e6 / exp(Ea / 8.314462618 * (1 / 298.15 - 1 / T)), Ea, heat, 1900, 1e6, 0.0)
        made = slab_course(Slab(d, LAY, 1.0, (), 1e6, 1e6), k, 20, 20)
        assert (made.peak > 20 + 3 * 2.4) is runs


def test_an_insulating_base_lets_a_lay_up_run_away_where_a_conducting_one_does_not() -> None:
    resin = SHELF.resin("epoxy-5-1-slow")
    k = kinetics(resin, SHELF)
    foam, laminate = Layer(0.02, Material(0.035, 80, 1400)), Layer(0.01, Material(0.3, 1700, 1100))

    def peak(mm: float, *base: Layer) -> float:
        return slab_course(Slab(mm / 1000, LAY, 0.6, base, 11, 11), k, 20, 20).peak

    assert peak(4, foam) < 35 and peak(8, foam) > 80, "sharply, within a few millimetres"
    assert peak(6, laminate) < 30 < peak(6, foam)
    assert peak(6, foam, laminate) == pytest.approx(peak(6, foam), abs=5)


def test_finer_cells_and_layers_change_little() -> None:
    resin = SHELF.resin("epoxy-5-1-fast")
    k, base = kinetics(resin, SHELF), (Layer(0.02, Material(0.055, 150, 1600)), Layer(0.003, LAY))
    coarse, fine = (slab_course(Slab(0.007, LAY, 0.55, base, 11, 11), k, 22, 18, cells=n) for n in (24, 60))
    assert coarse.peak == pytest.approx(fine.peak, rel=0.01)
    assert coarse.time_to(40) == pytest.approx(fine.time_to(40), rel=0.01)
    assert coarse.cured[-1] > 0.96 and np.isinf(coarse.time_to(400))
