"""The practice panel: its truth, its instruments, where to test next, and the score."""

from itertools import pairwise

import numpy as np
import pytest
from shapely.geometry import MultiPolygon

from ribpatch.core.geometry import polygon_of
from ribpatch.core.job import HiddenPatch, Practice, Survey
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.readings import Moisture, Tap
from ribpatch.core.record import evolve
from ribpatch.core.survey.field import posterior_of
from ribpatch.core.survey.next_test import _as_read, _between, _state, best_places, next_tests, outcomes_of
from ribpatch.core.survey.panel import METER, read_ear, read_hammer, read_meter, read_plug, truth_of
from ribpatch.core.survey.practice import score_practice
from ribpatch.core.survey.score import scores_of
from ribpatch.library.demo import demo_job
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
ZONE = ((0.0, 0.0), (1.6, 0.0), (1.6, 1.0), (0.0, 1.0))
BOX = ((0.4, 0.3), (0.9, 0.3), (0.9, 0.7), (0.4, 0.7))
DRAWN = Practice(seed=3, drawn=(HiddenPatch(state="rotted", ring=BOX),))


def test_the_truth_is_the_same_for_the_same_seed_and_lies_in_the_panel():
    seen = set()
    for seed in range(30):
        truth = truth_of(Practice(seed=seed), ZONE)
        again = truth_of.function(Practice(seed=seed), ZONE)
        assert truth.damaged.equals(again.damaged) and truth.drift == again.drift
        assert polygon_of(ZONE).buffer(1e-9).contains(truth.damaged)
        seen |= {s for s, region in truth.regions.items() if not region.is_empty}
        seen |= {"metal"} if not truth.behind.is_empty else set()
    assert seen == {"wet", "rotted", "disbonded", "metal"}


def test_a_drawn_truth_is_just_what_was_drawn():
    truth = truth_of(DRAWN, ZONE)
    assert truth.damaged.area == pytest.approx(0.2)
    assert truth.state((0.6, 0.5)) == "rotted" and truth.state((0.1, 0.1)) == "sound"


def test_the_meter_reads_its_scatter_drift_and_false_highs():
    truth = truth_of(DRAWN, ZONE)
    cold = [read_meter(truth, (0.05 + 0.001 * k, 0.05)).value for k in range(300)]
    sound = [read_meter(truth, (0.05 + 0.001 * k, 0.05), used=200).value for k in range(300)]
    rot = [read_meter(truth, (0.5 + 0.001 * k, 0.5), used=200).value for k in range(300)]
    assert np.mean(cold) == pytest.approx(METER["sound"][0], abs=0.6), "it starts true and drifts as it is used"
    assert np.mean(sound) == pytest.approx(METER["sound"][0] + truth.drift, abs=0.6)
    assert np.mean(rot) == pytest.approx(METER["rotted"][0] + truth.drift, abs=2.5)
    fooled = next(
        t for t in (truth_of(Practice(seed=s), ZONE) for s in range(40)) if t.behind.difference(t.damaged).area > 0.005
    )
    at = fooled.behind.difference(fooled.damaged.buffer(1e-6)).representative_point()
    assert read_meter(fooled, (at.x, at.y)).value > METER["sound"][0] + fooled.drift + 15


def test_the_same_place_reads_the_same_and_a_second_reading_differs():
    truth = truth_of(DRAWN, ZONE)
    assert read_meter(truth, (0.2, 0.2)) == read_meter(truth, (0.2, 0.2))
    assert read_meter(truth, (0.2, 0.2), 1).value != read_meter(truth, (0.2, 0.2)).value
    assert read_hammer(truth, (0.2, 0.2)).size > 10_000
    assert read_plug(truth, (0.6, 0.5)).core == "soft" and read_plug(truth, (0.1, 0.1)).bond == "whole"


def test_the_ear_is_mostly_right():
    truth = truth_of(DRAWN, ZONE)
    words = [read_ear(truth, (0.02 + 0.001 * k, 0.1)).grade for k in range(300)]
    assert 0.85 < words.count("ring") / 300 < 0.95


def with_rules(values):
    rules = tuple(evolve(r, value=values[r.id]) if r.id in values else r for r in SHELF.rules)
    return Shelf(**{**{f: getattr(SHELF, f) for f in SHELF.__struct_fields__}, "rules": rules})


def around(bad, step=0.2):
    places = [(x, y) for x in np.arange(step / 2, 1.6, step) for y in np.arange(step / 2, 1.0, step)]
    return Survey(
        readings=tuple(
            Tap(id=f"r{n}", x=float(x), y=float(y), grade="dull" if bad(x, y) else "ring")
            for n, (x, y) in enumerate(places)
        )
    )


def test_the_next_places_lie_where_nothing_was_read_first_and_at_the_border_when_all_was():
    half = Survey(readings=tuple(r for r in around(lambda x, y: False).readings if r.x < 0.9))
    assert {t.why for t in next_tests(half, ZONE, SHELF)} == {"not looked at"}
    assert all(t.at[0] > 0.8 for t in next_tests(half, ZONE, SHELF))
    tests = next_tests(around(lambda x, y: x < 0.8, step=0.1), ZONE, SHELF)
    assert 1 <= len(tests) <= 3
    assert all(0.55 < t.at[0] < 1.05 for t in tests if t.why == "border"), [t.at for t in tests]
    apart = [np.hypot(a.at[0] - b.at[0], a.at[1] - b.at[1]) for a in tests for b in tests if a is not b]
    assert not apart or min(apart) > 0.05
    assert all(a.doubt > b.doubt for a, b in pairwise(tests)) and all(0 < t.settles <= t.doubt for t in tests)


def test_reading_there_settles_about_what_was_expected():
    """Over simulated panels the doubt left after the test is, on average, what the formula expects."""
    expected, real = [], []
    for seed in range(24):
        truth = truth_of(Practice(seed=seed), ZONE)
        places = [(x, y) for x in np.arange(0.15, 1.6, 0.26) for y in np.arange(0.12, 1.0, 0.25)]
        rows = tuple(evolve(read_ear(truth, (float(x), float(y))), id=f"r{n}") for n, (x, y) in enumerate(places))
        survey = Survey(readings=rows)
        found = best_places(posterior_of(survey, ZONE, SHELF), ZONE, SHELF, 1)
        if not found:
            continue
        read = read_ear if found[0].by == "tap" else read_plug
        after = evolve(survey, readings=(*rows, evolve(read(truth, found[0].at), id="new")))
        left = next_tests(after, ZONE, SHELF)
        expected.append(found[0].settles)
        real.append(found[0].doubt - (left[0].doubt if left else 0.0))
    assert len(real) > 15 and np.mean(expected) > 0
    assert np.mean(real) > 0.3 * np.mean(expected)


def test_a_place_chosen_is_taken_as_read_for_the_next_ones():
    """The doubt round it shrinks by what a test there takes away, and the next places settle less each."""
    survey = Survey(readings=around(lambda x, y: False, step=0.4).readings)
    made = posterior_of(survey, ZONE, SHELF)
    cells, places = np.array([[0.4, 0.4], [1.5, 0.9]]), np.array([[0.42, 0.4], [1.0, 0.1]])
    state = _state(made, cells, places)
    before = state.variance.copy()
    _as_read(state, 0, outcomes_of(SHELF)["plug"])
    shrunk = before - state.variance
    assert shrunk[2] == shrunk.max() > 0.1 and shrunk[0] > 5 * abs(shrunk[1]) and (shrunk > -1e-9).all()
    assert np.diag(state.shared[2:]) == pytest.approx(state.variance[2:], abs=1e-6)
    tests = next_tests(survey, ZONE, SHELF)
    assert [t.settles for t in tests] == sorted((t.settles for t in tests), reverse=True)


def test_a_border_lies_between_what_is_bad_and_what_is_sound_near_by():
    made = posterior_of(around(lambda x, y: x < 0.8, step=0.1), ZONE, SHELF)
    cells = np.array([[0.1, 0.5], [0.75, 0.5], [0.85, 0.5], [1.5, 0.5]])
    places = np.array([[0.8, 0.5], [0.1, 0.52], [1.5, 0.52]])
    state = _state(made, cells, places)
    assert [_between(state, k) for k in range(3)] == [True, False, False], "bad far off makes no border here"


def test_a_plug_is_worth_its_time_where_a_meter_alone_was_read():
    cheap = with_rules({"test.plug": 1.0})
    dear = with_rules({"test.plug": 240.0})
    transom = demo_job().zone("z2")  # read by meter alone
    by = [{t.by for t in next_tests(transom.survey, transom.outline, s)} for s in (cheap, dear)]
    assert "plug" in by[0] and by[1] == {"tap"}


def test_nothing_read_suggests_nothing():
    assert next_tests(Survey(), ZONE, SHELF) == ()


def test_the_score_of_a_perfect_an_empty_and_a_whole_extent():
    truth = truth_of(DRAWN, ZONE)
    survey = Survey(readings=tuple(Tap(id=f"r{k}", x=0.1, y=0.1, grade="ring") for k in range(20)))
    best = score_practice(survey, truth.damaged, truth, SHELF)
    none = score_practice(survey, MultiPolygon(), truth, SHELF)
    whole = score_practice(survey, polygon_of(ZONE), truth, SHELF)
    assert best.points == 100 and best.missed == best.cut == 0
    assert none.points == pytest.approx(100 - SHELF.rule("practice.missed")) and none.missed == pytest.approx(0.2)
    assert whole.points == pytest.approx(100 - SHELF.rule("practice.cut")) and whole.cut == pytest.approx(1.4)
    assert any("never read" in a for a in none.advice) and any("sound area was cut" in a for a in whole.advice)


def test_the_advice_names_a_meter_without_reference_and_one_that_was_fooled():
    truth = next(
        t for t in (truth_of(Practice(seed=s), ZONE) for s in range(40)) if t.behind.difference(t.damaged).area > 0.005
    )
    at = truth.behind.difference(truth.damaged.buffer(1e-6)).representative_point()
    survey = Survey(readings=(Moisture(id="r1", x=at.x, y=at.y, value=40),))
    advice = " ".join(score_practice(survey, MultiPolygon(), truth, SHELF).advice)
    assert "reference" in advice and "fooled" in advice and "plug" in advice


def test_two_plugs_that_clash_both_stand_and_give_even_odds_between():
    truth = truth_of(DRAWN, ZONE)
    wet, dry = read_plug(truth, (0.6, 0.5)), read_plug(truth, (0.2, 0.2))
    survey = Survey(readings=(evolve(wet, id="a", x=0.8, y=0.5), evolve(dry, id="b", x=0.81, y=0.5)))
    assert scores_of(survey, SHELF).x.size == 2
    assert 0.1 < posterior_of(survey, ZONE, SHELF).chance_at(np.array([[0.805, 0.5]]))[0] < 0.9
