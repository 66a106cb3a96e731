"""What readings say by state of the material: tables that are whole, spreads that are densities, and their limits."""

import math

import numpy as np
import pytest

from ribpatch.core.survey.likelihood import (
    LEVELS,
    STATES,
    kind_levels,
    level_logs,
    levels_logs,
    listeners_of,
    spreads_of,
    words_of,
)
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


@pytest.mark.parametrize("card", ["tap", "cut", "screw", "weep", "smell", "soap"])
def test_the_words_of_an_instrument_are_all_that_can_be_said(card):
    table = np.array([g.says for g in SHELF.instrument(card).grades if g.says is not None])
    assert table.sum(axis=0) == pytest.approx([1, 1, 1, 1], abs=0.011)


@pytest.mark.parametrize("words", [("dry", "damp", "wet"), ("firm", "soft", "gone"), ("whole", "torn", "clean")])
def test_water_core_and_bond_of_a_plug_each_have_all_their_words(words):
    table = np.exp([words_of(SHELF)["plug", w] for w in words])
    assert table.sum(axis=0) == pytest.approx([1, 1, 1, 1], abs=0.011)


@pytest.mark.parametrize("kind", ["moisture", "pin", "infrared", "push"])
def test_a_spread_is_a_density_between_its_limits(kind):
    levels = np.linspace(LEVELS[0] - 4, LEVELS[1] + 6, 4001)
    spread = spreads_of(SHELF)[kind]
    # Inside the limits; what lies beyond them counts as the last level and is no density.
    inside = (levels >= LEVELS[0]) & (levels <= LEVELS[1])
    area = np.exp(levels_logs(levels[inside], spread)).sum(axis=0) * (levels[1] - levels[0])
    assert (area < 1.01).all() and (area > 0.8).all()
    assert levels_logs(np.array([0.3]), spread)[0] == pytest.approx(level_logs(0.3, spread))


def test_a_dry_meter_says_nothing_against_a_dry_disbond_and_no_reading_is_beyond_doubt():
    dry = level_logs(0.0, spreads_of(SHELF)["moisture"])
    assert dry[STATES.index("disbonded")] == dry[STATES.index("sound")]
    assert dry[STATES.index("wet")] < dry[0] - 2
    for level in (-50.0, 1.5, 400.0):
        high = level_logs(level, spreads_of(SHELF)["moisture"])
        assert max(high) - min(high) < math.log(100)


def test_listeners_say_something_and_the_duller_one_says_ring_less_often():
    tables, weights = listeners_of(SHELF)
    assert weights.sum() == pytest.approx(1) and tables.sum(axis=1) == pytest.approx(np.ones((len(weights), 4)))
    usual, duller, brighter = tables[0], tables[1], tables[2]
    assert duller[0, 0] < usual[0, 0] < brighter[0, 0] + 0.2 and duller[2:, 0].sum() > usual[2:, 0].sum()


def test_a_reading_that_does_not_tell_two_states_apart_has_no_level_of_that_kind():
    logs = np.log([[0.5, 0.5, 0.1, 0.9]])
    wet, rotted, loose = kind_levels(logs)[0]
    assert math.isnan(wet) and rotted == pytest.approx(0.1 / 0.6) and loose == pytest.approx(0.9 / 1.4)


def test_what_says_nothing_is_as_likely_in_every_state():
    for card, word in (("plug", "none"), ("soap", "unreachable")):
        assert words_of(SHELF)[card, word] == (0.0, 0.0, 0.0, 0.0)
