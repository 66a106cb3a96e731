"""The practice panel: its truth, its instruments, where to test next, and the score."""

from itertools import pairwise
from math import sqrt

import numpy as np
import pytest
from shapely.geometry import MultiPolygon, box
from tests.bed import bed_job as demo_job

from ribpatch.core.geometry import clean, polygon_of
from ribpatch.core.job import HiddenPatch, Practice, Survey
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.readings import Moisture, Strike, Tap
from ribpatch.core.record import evolve
from ribpatch.core.survey.field import posterior_of
from ribpatch.core.survey.heard import heard, heard_words
from ribpatch.core.survey.next_test import (
    _after,
    _as_read,
    _between,
    _doubt,
    _state,
    best_places,
    next_tests,
    outcomes_of,
)
from ribpatch.core.survey.panel import METER, read_ear, read_hammer, read_meter, read_plug, truth_of
from ribpatch.core.survey.practice import score_practice
from ribpatch.core.survey.propagation import RAMP
from ribpatch.core.survey.score import scores_of
from ribpatch.core.survey.strikes import UNLIKE, UNTOLD, Verdict
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


def test_the_doubt_expected_after_a_test_is_what_many_drawn_fields_give():
    """Fields drawn from what was read, answers drawn from them, and moments by weighing: no formula in common."""
    survey = Survey(readings=around(lambda x, y: x < 0.5, step=0.3).readings)
    made = posterior_of(survey, ZONE, SHELF)
    cells = np.array([[0.55, 0.5], [0.9, 0.45], [1.45, 0.85]])
    places = np.array([[0.65, 0.5], [1.3, 0.8]])
    state = _state(made, cells, places)
    rng = np.random.default_rng(1)
    for by, answers in outcomes_of(SHELF).items():
        for k in range(len(places)):
            n, own = state.cells, float(state.variance[3 + k])
            field = state.mean[n + k] + sqrt(own) * rng.standard_normal(400_000)
            bad = field + sqrt(RAMP) * rng.standard_normal(len(field)) > 0  # the border is no sharp line
            left = 0.0
            for if_bad, if_sound in zip(answers.bad, answers.sound, strict=True):
                weight = np.where(bad, if_bad, if_sound)
                at = np.average(field, weights=weight)
                spread = np.average((field - at) ** 2, weights=weight)
                gain = state.shared[:n, k] / own
                means = state.mean[:n] + gain * (at - state.mean[n + k])
                spreads = state.variance[:n] - gain**2 * (own - spread)
                left += weight.mean() * _doubt(means, spreads).sum()
            assert _after(state, answers, k)[0] == pytest.approx(left, rel=0.01), (by, k)


def test_what_was_left_open_is_looked_at_before_a_border_is_walked_again():
    """A patch whose border was tapped closely, and half a panel that has one tap a third of a metre each way."""
    close = [(x, y) for x in np.arange(0.05, 0.6, 0.09) for y in np.arange(0.1, 1.0, 0.1)]
    wide = [(x, y) for x in (0.85, 1.2, 1.5) for y in (0.15, 0.5, 0.85)]
    rows = tuple(
        Tap(id=f"r{n}", x=float(x), y=float(y), grade="dull" if x < 0.3 else "ring")
        for n, (x, y) in enumerate(close + wide)
    )
    tests = next_tests(Survey(readings=rows), ZONE, SHELF)
    assert len(tests) == 3 and all(t.at[0] > 0.62 for t in tests)


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
    best = score_practice(survey, truth.damaged, MultiPolygon(), truth, SHELF)
    none = score_practice(survey, MultiPolygon(), MultiPolygon(), truth, SHELF)
    whole = score_practice(survey, polygon_of(ZONE), MultiPolygon(), truth, SHELF)
    assert best.points == 100 and best.missed == best.cut == 0
    assert none.points == pytest.approx(100 - SHELF.rule("practice.missed")) and none.missed == pytest.approx(0.2)
    assert whole.points == pytest.approx(100 - SHELF.rule("practice.cut")) and whole.cut == pytest.approx(1.4)
    assert any("never read" in a for a in none.advice) and any("sound area was cut" in a for a in whole.advice)


def test_a_score_tells_what_was_missed_where_the_survey_did_not_look_apart():
    truth = truth_of(DRAWN, ZONE)
    survey = Survey(readings=(Tap(id="r1", x=0.1, y=0.1, grade="ring"),))
    half = truth.damaged.intersection(box(0, 0, truth.damaged.centroid.x, 5))
    told = score_practice(survey, MultiPolygon(), clean(half), truth, SHELF, alone=2)
    assert told.unsurveyed == pytest.approx(half.area) and told.missed_there == pytest.approx(half.area)
    most = truth.damaged.buffer(0.05)
    advice = score_practice(survey, MultiPolygon(), clean(most), truth, SHELF, alone=1).advice
    assert "not surveyed" in advice[0] and "1 reading stands alone and was not taken again" in advice[1]
    assert any(a.startswith("2 readings stand alone and were") for a in told.advice)


def test_recorded_taps_are_counted_as_told_rightly_wrongly_and_not_told(monkeypatch):
    truth = truth_of(DRAWN, ZONE)
    spot = truth.regions["rotted"].representative_point()
    shape = {"frequency": 800, "centroid": 1500, "decay": 0.01, "contact": 0.002}
    strikes = tuple(
        Strike(id=f"s{k}", x=x, y=y, **shape)
        for k, (x, y) in enumerate([(0.05, 0.05), (spot.x, spot.y), (spot.x, spot.y), (0.05, 0.9), (1.5, 0.9)])
    )
    words = dict(zip((s.id for s in strikes), ("sound", "dull", "drummy", UNLIKE, UNTOLD), strict=True))
    assert truth.state((0.05, 0.05)) == truth.state((0.05, 0.9)) == truth.state((1.5, 0.9)) == "sound"
    told = {i: Verdict(w, w, {}, (), 0.8, ()) for i, w in words.items()}
    monkeypatch.setattr("ribpatch.core.survey.practice.heard", lambda _survey, _shelf: told)
    ears = score_practice(Survey(readings=strikes), MultiPolygon(), MultiPolygon(), truth, SHELF).ears
    assert (ears.right, ears.wrong, ears.untold) == (2, 1, 2)
    marked = Survey(readings=strikes, references=("s0",))
    assert score_practice(marked, MultiPolygon(), MultiPolygon(), truth, SHELF).ears.right == 1, "no reference counts"


def test_what_a_recorded_tap_is_told_as_is_the_same_everywhere():
    assert heard_words(None).startswith("no reference")
    assert heard_words(Verdict("drummy", "drummy: low", {}, (), 0.84, ())) == "drummy: low (84 %)"
    assert heard_words(Verdict(UNLIKE, "unlike any", {}, (), 0.0, ())) == "unlike any"


def test_the_advice_names_a_meter_without_reference_and_one_that_was_fooled():
    truth = next(
        t for t in (truth_of(Practice(seed=s), ZONE) for s in range(40)) if t.behind.difference(t.damaged).area > 0.005
    )
    at = truth.behind.difference(truth.damaged.buffer(1e-6)).representative_point()
    survey = Survey(readings=(Moisture(id="r1", x=at.x, y=at.y, value=40),))
    advice = " ".join(score_practice(survey, MultiPolygon(), MultiPolygon(), truth, SHELF).advice)
    assert "reference" in advice and "fooled" in advice and "plug" in advice


def test_two_plugs_that_clash_both_stand_and_give_even_odds_between():
    truth = truth_of(DRAWN, ZONE)
    wet, dry = read_plug(truth, (0.6, 0.5)), read_plug(truth, (0.2, 0.2))
    survey = Survey(readings=(evolve(wet, id="a", x=0.8, y=0.5), evolve(dry, id="b", x=0.81, y=0.5)))
    assert scores_of(survey, SHELF).x.size == 2
    assert 0.1 < posterior_of(survey, ZONE, SHELF).chance_at(np.array([[0.805, 0.5]]))[0] < 0.9


def test_only_recorded_taps_are_told_and_a_survey_without_readings_was_never_read():
    shape = {"frequency": 800, "centroid": 1500, "decay": 0.01, "contact": 0.002}
    rows = (
        Tap(id="t1", x=0.1, y=0.1, grade="ring"),
        *(Strike(id=f"s{k}", x=0.2 + 0.1 * k, y=0.2, **shape) for k in (1, 2)),
    )
    told = heard(Survey(readings=rows, references=("s1",)), SHELF)
    assert set(told) == {"s1", "s2"} and told["s2"].id == "sound"
    assert set(heard(Survey(readings=rows), SHELF).values()) == {None}
    truth = truth_of(DRAWN, ZONE)
    advice = score_practice(Survey(), MultiPolygon(), MultiPolygon(), truth, SHELF).advice
    assert "never read" in advice[0]
    beside = Survey(
        readings=tuple(
            Tap(id=f"r{k}", x=0.45 + 0.1 * (k % 5), y=0.35 + 0.1 * (k // 5), grade="dull") for k in range(20)
        )
    )
    assert "lies beside" in score_practice(beside, MultiPolygon(), MultiPolygon(), truth, SHELF).advice[0]


def test_the_last_of_three_goes_into_the_largest_hole():
    rows = tuple(
        Tap(id=f"r{n}", x=x, y=y, grade="dull" if x < 0.4 else "ring")
        for n, (x, y) in enumerate(
            (float(a), float(b)) for a in np.arange(0.06, 1.1, 0.12) for b in np.arange(0.06, 1.0, 0.12)
        )
    )
    survey = Survey(readings=rows)
    made = posterior_of(survey, ZONE, SHELF)
    tests = best_places(made, ZONE, SHELF, 3)
    read = np.array([(r.x, r.y) for r in rows] + [t.at for t in tests[:2]])
    away = np.hypot(*(read - tests[2].at).T).min()
    assert tests[2].at[0] > 1.1 and away > 0.12 and tests[2].why == "not looked at"
    grid = np.array([(a, b) for a in np.arange(0.05, 1.6, 0.05) for b in np.arange(0.05, 1.0, 0.05)])
    holes = np.sqrt(((grid[:, None] - read[None]) ** 2).sum(axis=2)).min(axis=1)
    assert away > 0.8 * holes.max()
