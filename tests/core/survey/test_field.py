"""The field against sums over the field itself, what it must never do, and what it must say of how panels are read."""

import math

import msgspec
import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.figure import Figure, FigureBook
from ribpatch.core.job import Survey
from ribpatch.core.normal import normal_cdf, normal_quantile
from ribpatch.core.readings import Moisture, Plug, Push, Tap
from ribpatch.core.record import evolve
from ribpatch.core.survey.extent import extent_of, least_chance
from ribpatch.core.survey.field import field_of, kind_fields, posterior_of
from ribpatch.core.survey.figures import _field_figures
from ribpatch.core.survey.likelihood import listeners_of
from ribpatch.core.survey.score import scores_of
from ribpatch.core.survey.sites import MOST_SITES, sites_of
from ribpatch.core.survey.structure import Start
from ribpatch.core.survey.vouched import vouched_by
from ribpatch.core.units import Kind, Measure
from ribpatch.library.shelf import shipped_shelf

ZONE = ((0.0, 0.0), (2.0, 0.0), (2.0, 1.0), (0.0, 1.0))
SHELF = shipped_shelf()


def tap(n, x, y, grade):
    return Tap(id=f"r{n}", x=x, y=y, grade=grade)


def grid(bad=lambda x, y: False, step=0.1, word="dull"):
    places = [(x, y) for x in np.arange(step / 2, 2, step) for y in np.arange(step / 2, 1, step)]
    return tuple(tap(i, float(x), float(y), word if bad(x, y) else "ring") for i, (x, y) in enumerate(places))


def test_one_reading_gives_the_odds_of_bayes_rule_at_its_place_and_the_prior_far_from_it():
    """Against a sum over the field at the place, for each length and each kind of listener; no moments."""
    survey = Survey(readings=(tap(1, 0.0, 0.0, "crunch"),))
    made = posterior_of(survey, ZONE, SHELF)
    tables, weights = listeners_of(SHELF)
    heard = np.einsum("l,lws->ws", weights, tables)[4]
    prior, none = SHELF.rule("damage.prior"), SHELF.rule("damage.none")
    bad = heard[1:] @ [0.5, 0.25, 0.25]
    likely = prior * bad + (1 - prior) * heard[0]
    any_damage = (1 - none) * likely / ((1 - none) * likely + none * heard[0])
    assert made.any_damage == pytest.approx(any_damage, abs=0.05)
    at, far = made.chance_at(np.array([[0.0, 0.0], [2.0, 1.0]]))
    exact = any_damage * prior * bad / likely
    assert 0.5 * exact < at < 1.02 * exact, "a normal spread in place of the cut one never says more than it"
    assert any_damage * prior < far < 1.35 * any_damage * prior, "one reading hardly moves the level of the panel"
    assert made.at(np.array([[2.0, 1.0]]))[1][0] > 0.97


def test_a_sound_panel_has_no_extent():
    survey = Survey(readings=grid())
    extent = extent_of(survey, ZONE, SHELF)
    assert extent.likely.is_empty and extent.unsurveyed_area == pytest.approx(0, abs=0.02)
    assert extent_of(evolve(survey, confidence=Measure(si=0.95)), ZONE, SHELF).likely.is_empty


def test_a_disc_of_rot_is_found_near_its_size_and_place():
    survey = Survey(readings=grid(lambda x, y: (x - 1) ** 2 + (y - 0.5) ** 2 < 0.25**2))
    extent = extent_of(survey, ZONE, SHELF)
    true = math.pi * 0.25**2
    assert extent.surely.area < true < extent.likely.area
    assert extent.expected_area == pytest.approx(true, rel=0.25)
    assert extent.likely.centroid.x == pytest.approx(1, abs=0.03)
    assert not extent.reaches_edge


def test_more_confidence_means_a_larger_extent():
    survey = Survey(readings=grid(lambda x, y: x > 1.2 and y > 0.3))
    areas = [
        extent_of(evolve(survey, confidence=Measure(si=c)), ZONE, SHELF).likely.area for c in (0.6, 0.8, 0.9, 0.95)
    ]
    assert areas == sorted(areas) and areas[0] < areas[-1]


def test_damage_at_the_edge_is_told():
    survey = Survey(readings=grid(lambda x, y: x > 1.6))
    assert extent_of(survey, ZONE, SHELF).reaches_edge


def test_what_no_reading_reaches_is_not_called_sound_or_bad():
    """Two words settle nothing, for one in ten is wrong; a plug settles its own place; words that agree, the panel."""
    reach = SHELF.rule("survey.vouches")
    discs = 2 * math.pi * reach**2 - (2 * reach**2 * math.acos(0.05 / reach) - 0.1 * math.sqrt(reach**2 - 0.05**2))
    words = extent_of(Survey(readings=(tap(1, 0.5, 0.5, "ring"), tap(2, 0.6, 0.5, "ring"))), ZONE, SHELF)
    assert words.likely.is_empty and words.unsurveyed_area == pytest.approx(2, abs=0.002)
    assert words.left_open.area == pytest.approx(discs, abs=0.002)
    plug = Plug(id="p", x=0.5, y=0.5, water="dry", core="firm", bond="whole")
    seen = extent_of(Survey(readings=(plug,)), ZONE, SHELF)
    here = shapely.Point(0.5, 0.5)
    assert words.left_open.contains(here) and not seen.unsurveyed.contains(here)
    half = Survey(readings=tuple(t for t in grid(lambda x, y: False) if t.x < 1))
    agreed = extent_of(half, ZONE, SHELF)
    edge = max(t.x for t in half.readings)
    assert 1 - edge - reach < agreed.unsurveyed_area - 1 + 1e-6 < 1 - edge + 0.1


def test_bad_taps_at_one_place_vouch_for_no_more_than_twice_their_reach():
    one = Survey(readings=tuple(tap(n, 1.0, 0.5, "dull") for n in range(40)))
    extent = extent_of(one, ZONE, SHELF)
    most = math.pi * (2 * SHELF.rule("survey.vouches")) ** 2
    assert extent.likely.area <= most and extent.unsurveyed_area >= 2 - most


def test_on_a_panel_far_larger_than_what_was_read_only_what_was_read_is_surveyed():
    rng = np.random.default_rng(4)
    hull = ((0.0, 0.0), (40.0, 0.0), (40.0, 3.0), (0.0, 3.0))
    places = rng.uniform((0.2, 0.2), (39.8, 2.8), (500, 2))
    survey = Survey(readings=tuple(tap(n, float(x), float(y), "ring") for n, (x, y) in enumerate(places)))
    discs = shapely.MultiPoint(places).buffer(SHELF.rule("survey.vouches")).area
    assert extent_of(survey, hull, SHELF).unsurveyed_area == pytest.approx(120 - discs, rel=0.01)


def test_the_reach_of_a_reading_does_not_follow_how_far_apart_the_readings_lie():
    """Ten taps on a large panel vouch for ten discs; a second instrument beside each changes no length much; a crowd in
    one corner does not shrink what is found elsewhere.
    """
    large = ((0.0, 0.0), (3.0, 0.0), (3.0, 1.1), (0.0, 1.1))
    ten = tuple(tap(n, 0.15 + 0.3 * n, 0.3 if n % 2 else 0.8, "ring") for n in range(10))
    few = extent_of(Survey(readings=ten), large, SHELF)
    assert few.unsurveyed_area > 3.3 - 10 * math.pi * SHELF.rule("survey.vouches") ** 2 - 0.01 > 2.5
    beside = tuple(Moisture(id=f"m{n}", x=t.x + 0.01, y=t.y, value=12) for n, t in enumerate(ten))
    alone, both = (
        posterior_of(Survey(readings=r, references=m), large, SHELF).length
        for r, m in ((ten, ()), ((*ten, *beside), ("m0",)))
    )
    assert both == pytest.approx(alone, rel=0.15)
    spot = tuple(tap(100 + n, 2.3 + 0.1 * (n % 4), 0.4 + 0.1 * (n // 4), "dull") for n in range(12))
    rest = tuple(tap(200 + n, 0.2 + 0.25 * (n % 12), 0.2 + 0.7 * (n // 12), "ring") for n in range(24))
    crowd = tuple(tap(300 + n, 0.05 + 0.03 * (n % 8), 0.05 + 0.03 * (n // 8), "ring") for n in range(60))
    without, crowded = (
        extent_of(Survey(readings=r), large, SHELF).likely for r in ((*spot, *rest), (*spot, *rest, *crowd))
    )
    far = shapely.box(1.8, 0.0, 3.0, 1.1)
    assert crowded.intersection(far).area == pytest.approx(without.intersection(far).area, rel=0.15)


def test_the_meter_says_nothing_without_a_reference_and_no_reference_is_invented():
    wet = tuple(Moisture(id=f"r{i}", x=0.1 + i * 0.1, y=0.5, value=60) for i in range(5))
    alone = Survey(readings=wet)
    assert scores_of(alone, SHELF).left_out == 5 and field_of(alone, ZONE, SHELF) is None
    dry = Moisture(id="dry", x=1.9, y=0.9, value=12)
    judged = scores_of(Survey(readings=(*wet, dry), references=("dry",)), SHELF)
    assert judged.left_out == 0 and judged.reference == 12
    assert list(judged.score) == [1, 1, 1, 1, 1, 0]


def test_drawing_the_extent_overrules_the_readings():
    ring = ((0.5, 0.5), (0.9, 0.5), (0.9, 0.8), (0.5, 0.8))
    extent = extent_of(Survey(readings=grid(), drawn=(ring,)), ZONE, SHELF)
    assert extent.likely.area == pytest.approx(0.12) and not extent.from_readings


def test_the_order_of_readings_does_not_matter():
    readings = grid(lambda x, y: x + y < 0.8)
    one, two = (field_of(Survey(readings=r), ZONE, SHELF) for r in (readings, readings[::-1]))
    assert np.allclose(one.chance, two.chance, atol=1e-6)


def test_many_readings_are_thinned_and_agree_with_the_disc():
    survey = Survey(readings=grid(lambda x, y: (x - 1) ** 2 + (y - 0.5) ** 2 < 0.25**2, step=0.03))
    assert len(survey.readings) > 2000
    field = field_of(survey, ZONE, SHELF)
    assert field.sites <= MOST_SITES
    extent = extent_of(survey, ZONE, SHELF)
    disc = shapely.Point(1, 0.5).buffer(0.25)
    assert extent.expected_area == pytest.approx(disc.area, rel=0.3), (
        "cells of a hand's breadth on its edge count as bad"
    )
    assert extent.likely.intersection(disc).area > 0.97 * disc.area


def test_repeated_readings_at_one_place_are_no_trouble():
    survey = Survey(readings=tuple(tap(i, 1.0, 0.5, "dull") for i in range(30)))
    field = field_of(survey, ZONE, SHELF)
    assert np.isfinite(field.chance).all() and field.chance.max() > 0.4


@given(
    st.lists(
        st.tuples(st.floats(0, 2), st.floats(0, 1), st.sampled_from(["ring", "flat", "dull", "crunch"])),
        min_size=1,
        max_size=40,
    )
)
def test_chances_are_chances_and_doubt_never_exceeds_the_prior(rows):
    survey = Survey(readings=tuple(tap(i, *row) for i, row in enumerate(rows)))
    field = field_of(survey, ZONE, SHELF)
    assert (field.chance >= 0).all() and (field.chance <= 1).all()
    assert (field.doubt <= 1 + 1e-9).all() and (field.doubt >= 0).all()


def test_a_second_tap_at_one_place_says_less_than_the_first_and_another_instrument_says_it_whole():
    one, twice = (
        Survey(readings=(tap(1, 1, 0.5, "dull"),)),
        Survey(readings=(tap(1, 1, 0.5, "dull"), tap(2, 1.0, 0.5, "dull"))),
    )
    apart = Survey(
        readings=(
            tap(1, 1, 0.5, "dull"),
            Push(id="p", x=1.0, y=0.5, force=100, deflection=0.002),
            Push(id="q", x=0.2, y=0.2, force=100, deflection=0.001),
        ),
        references=("q",),
    )
    first, second = (sites_of(scores_of(s, SHELF), SHELF) for s in (one, twice))
    assert first.weight.tolist() == [1.0] and second.weight == pytest.approx([1 / 1.5] * 2) and len(second.at) == 1
    assert sites_of(scores_of(apart, SHELF), SHELF).weight.tolist() == [1.0, 1.0, 1.0]
    chance = [posterior_of(s, ZONE, SHELF).chance_at(np.array([[1.0, 0.5]]))[0] for s in (one, twice)]
    assert chance[0] < chance[1] < 1.5 * chance[0]


def test_a_meter_that_drifted_is_read_from_where_the_taps_call_it_sound():
    """All readings eight points high on a ringing panel: the drift is told and taken off, and nothing is cut."""
    taps = grid(step=0.2)
    wet = tuple(Moisture(id=f"m{n}", x=t.x + 0.05, y=t.y, value=18) for n, t in enumerate(taps))
    dry = Moisture(id="dry", x=0.1, y=0.1, value=12)
    made = posterior_of(Survey(readings=(*taps, *wet, dry), references=("dry",)), ZONE, SHELF)
    assert made.drift["moisture"] == pytest.approx(6 / SHELF.rule("moisture.rise"), rel=0.15)
    assert extent_of(Survey(readings=(*taps, *wet, dry), references=("dry",)), ZONE, SHELF).likely.is_empty


def test_wet_places_do_not_count_as_drift():
    taps = grid(step=0.2)
    levels = tuple(
        Moisture(id=f"m{n}", x=t.x + 0.05, y=t.y, value=60 if n % 10 == 0 else 12) for n, t in enumerate(taps)
    )
    dry = Moisture(id="dry", x=0.1, y=0.1, value=12)
    made = posterior_of(Survey(readings=(*taps, *levels, dry), references=("dry",)), ZONE, SHELF)
    assert made.drift.get("moisture", 0.0) == pytest.approx(0.0, abs=0.01)


def test_a_tank_behind_a_ringing_panel_is_no_damage_but_dull_taps_with_it_are():
    def read(word):
        taps = grid(lambda x, y: 0.6 < x < 1.0 and 0.3 < y < 0.7, step=0.1, word=word)
        high = tuple(
            Moisture(id=f"m{n}", x=t.x, y=t.y, value=40 if 0.6 < t.x < 1.0 and 0.3 < t.y < 0.7 else 12)
            for n, t in enumerate(taps)
        )
        survey = Survey(readings=(*taps, *high), references=("m0", "m1"))
        return posterior_of(survey, ZONE, SHELF).chance_at(np.array([[0.8, 0.5]]))[0]

    assert read("ring") < 0.9 < read("dull")


def test_plugs_that_are_sound_among_dull_taps_discount_those_taps_elsewhere():
    """A panel that sounds dull all over to this listener: three sound plugs tell that it is the ear."""
    dull = grid(lambda x, y: True, step=0.2)
    plugs = tuple(
        Plug(id=f"p{n}", x=x, y=0.5, water="dry", core="firm", bond="whole") for n, x in enumerate((0.4, 1.0, 1.6))
    )
    at = np.array([[0.7, 0.9], [1.3, 0.1]])
    before, after = (
        posterior_of(Survey(readings=r), ZONE, SHELF).chance_at(at).mean() for r in (dull, (*dull, *plugs))
    )
    assert before > 0.9 and after < before - 0.15


def test_a_lone_wrong_tap_among_many_sound_ones_is_no_damage():
    one = grid(lambda x, y: abs(x - 1.05) < 0.01 and abs(y - 0.55) < 0.01)
    assert extent_of(Survey(readings=one), ZONE, SHELF).likely.is_empty
    assert (made := posterior_of(Survey(readings=one), ZONE, SHELF)).others.max() < 0.2 and made.any_damage < 0.6


def test_damage_is_likelier_at_a_bare_fitting_before_anything_is_read_there():
    start = Start("bollard", ((1.5, 0.5),), 0.5)
    survey = Survey(readings=(tap(1, 0.2, 0.5, "dull"), tap(2, 0.4, 0.5, "ring")))
    plain, near = (
        posterior_of(survey, ZONE, SHELF, s).chance_at(np.array([[1.5, 0.5], [1.0, 0.5]])) for s in ((), (start,))
    )
    assert near[0] > 1.4 * plain[0] and near[1] == pytest.approx(plain[1], rel=0.02)


def test_plugs_are_never_held_against_taps_and_a_meter_is_held_against_both():
    """A wet plug under ringing taps stays wet; a meter beside it that says so too is not taken as fooled."""
    taps = tuple(t for t in grid(step=0.1) if abs(t.x - 1) > 0.06 or abs(t.y - 0.5) > 0.06)
    plug = Plug(id="p", x=1.0, y=0.5, water="wet", core="soft", bond="torn")
    high = Moisture(id="m", x=1.0, y=0.52, value=60)
    dry = Moisture(id="dry", x=0.1, y=0.1, value=12)
    made = posterior_of(Survey(readings=(*taps, plug, high, dry), references=("dry",)), ZONE, SHELF)
    assert made.chance_at(np.array([[1.0, 0.5]]))[0] > 0.5
    assert made.kinds_at(np.array([[1.0, 0.5]]))[0][1] > 0.35 > 0.25, "rot is likelier there than it usually is"
    assert made.kinds_at(np.array([[1.0, 0.5], [1.9, 0.1]])).sum(axis=1) == pytest.approx([1, 1])


@given(st.lists(st.floats(0.001, 0.999), min_size=1, max_size=60), st.floats(0.5, 0.99))
def test_the_extent_is_the_least_that_holds_its_share_of_what_is_expected(chances, confidence):
    chance = np.array(chances)
    least = least_chance(chance, confidence, 0.035)
    held = chance[chance >= least].sum() / chance.sum()
    assert held >= confidence - 1e-9 or least == pytest.approx(min(0.35 * (1 - confidence), 0.5))
    more = chance[chance > least].sum() / chance.sum()
    assert more <= confidence + 1e-9 or least == pytest.approx(1 - confidence**3)
    assert least_chance(chance, min(confidence + 0.005, 0.995), 0.035) <= least + 1e-12


def test_two_patches_make_two_polygons():
    survey = Survey(
        readings=grid(lambda x, y: (x - 0.4) ** 2 + (y - 0.5) ** 2 < 0.04 or (x - 1.6) ** 2 + (y - 0.5) ** 2 < 0.04)
    )
    found = extent_of(survey, ZONE, SHELF).likely
    assert len(found.geoms) == 2
    assert sorted(round(float(p.centroid.x), 1) for p in found.geoms) == [0.4, 1.6]


def test_kinds_are_told_apart_where_the_readings_do():
    """Wet or rotted on the left by the meter, a loose skin on the right by ear, which the meter calls dry."""
    wet = tuple(
        Moisture(id=f"m{i}-{j}", x=0.1 + 0.2 * i, y=0.1 + 0.2 * j, value=50 if i < 3 else 12)
        for i in range(10)
        for j in range(5)
    )
    taps = tuple(t for t in grid(lambda x, y: x > 1.5, step=0.2, word="drummy") if t.x > 0.7)
    survey = Survey(readings=(*wet, *taps), references=("m9-0", "m9-4"))
    kinds = kind_fields(survey, ZONE, SHELF)
    at = {name: (f.chance[:, f.x < 0.4].mean(), f.chance[:, f.x > 1.7].mean()) for name, f in kinds.items()}
    assert at["wet"][0] + at["rotted"][0] > 0.6 and at["disbonded"][0] < 0.15
    assert at["disbonded"][1] > 0.6 and at["wet"][1] + at["rotted"][1] < 0.3
    total = sum(f.chance for f in kinds.values())
    assert total == pytest.approx(field_of(survey, ZONE, SHELF).chance, abs=1e-6)
    assert kind_fields(Survey(), ZONE, SHELF) == {}


def test_a_plug_moves_the_field_where_taps_said_otherwise():
    dull = grid(lambda x, y: 0.8 < x < 1.2 and 0.3 < y < 0.7)
    plug = Plug(id="p", x=1.0, y=0.5, water="dry", core="firm", bond="whole")
    before, after = (
        posterior_of(Survey(readings=r), ZONE, SHELF).chance_at(np.array([[1.0, 0.5]]))[0]
        for r in (dull, (*dull, plug))
    )
    assert before > 0.8 and after < 0.6


@given(st.lists(st.floats(-6, 6), min_size=1, max_size=30))
def test_the_normal_distribution_function_is_as_exact_as_its_source_says(values):
    exact = [0.5 * math.erfc(-v / math.sqrt(2)) for v in values]
    assert np.allclose(normal_cdf(np.array(values)), exact, atol=8e-8)


@given(st.floats(1e-6, 1 - 1e-6))
def test_the_quantile_is_the_inverse_of_the_distribution_function(share):
    assert 0.5 * math.erfc(-normal_quantile(share) / math.sqrt(2)) == pytest.approx(share, rel=1e-9)


# ---- extents as exact as they are stated ----


def hit_panel(count, radius, seed):
    """Taps at random places over a round spot, and the outline: made here, by no simulator of the program."""
    rng = np.random.default_rng(seed)
    places = rng.uniform((0.0, 0.0), (1.5, 0.8), (count, 2))
    bad = np.hypot(places[:, 0] - 0.7, places[:, 1] - 0.4) < radius
    taps = tuple(
        Tap(id=f"r{n}", x=float(x), y=float(y), grade="dull" if b else "ring")
        for n, ((x, y), b) in enumerate(zip(places, bad, strict=True))
    )
    return Survey(readings=taps), ((0.0, 0.0), (1.5, 0.0), (1.5, 0.8), (0.0, 0.8))


def connected(mask, seeds):
    """The cells of a mask that hang together with a seed."""
    found = mask & seeds
    while True:
        wide = np.pad(found, 1)
        grown = mask & (found | wide[:-2, 1:-1] | wide[2:, 1:-1] | wide[1:-1, :-2] | wide[1:-1, 2:])
        if (grown == found).all():
            return found
        found = grown


@pytest.mark.parametrize(("count", "radius"), [(60, 0.25), (120, 0.2), (400, 0.16), (1500, 0.1)])
def test_an_extent_is_within_half_a_per_cent_of_the_contour_itself(count, radius, shelf):
    """Against a plain grid sixty times as fine, counted cell by cell: no contours, no interpolation."""
    survey, ring = hit_panel(count, radius, count)
    extent, made = extent_of(survey, ring, shelf), posterior_of(survey, ring, shelf)
    side = 0.0025
    x, y = np.meshgrid(np.arange(side / 2, 1.5, side), np.arange(side / 2, 0.8, side))
    places = np.column_stack([x.ravel(), y.ravel()])
    chance = made.chance_at(places)
    region = vouched_by(made.sites, shelf)
    vouched, near = (
        shapely.contains_xy(r, places[:, 0], places[:, 1])
        for r in (region, region.buffer(shelf.rule("survey.vouches"), quad_segs=4))
    )
    suspect = near & (chance >= shelf.rule("extent.suspect"))
    inside = connected(((chance >= extent.least) & (vouched | suspect)).reshape(x.shape), suspect.reshape(x.shape))
    area = float(inside.sum()) * side**2
    assert area > 0.01 and extent.likely.area == pytest.approx(area, rel=0.006)  # the count itself is good to a tenth


def test_places_asked_together_and_one_by_one_have_the_same_field(job, monkeypatch):
    zone = job.zone("z1")
    made = posterior_of(zone.survey, zone.outline, SHELF)
    places = np.random.default_rng(4).random((53, 2))
    together = made.at(places)
    monkeypatch.setattr("ribpatch.core.survey.posterior.BLOCK", 10)
    for whole, blocks in zip(together, made.at(places), strict=True):
        assert blocks == pytest.approx(whole, abs=2e-5)
    alone = [made.at(place[None]) for place in places]
    assert [a[0][0] for a in alone] == pytest.approx(together[0], abs=2e-5)
    assert all(v.shape == (0,) for v in made.at(np.empty((0, 2))))


@given(
    st.lists(
        st.tuples(st.floats(0, 2), st.floats(0, 1), st.sampled_from(["ring", "flat", "dull", "crunch"])), max_size=25
    )
)
def test_a_zone_falls_into_damage_sound_and_not_surveyed_without_overlap(rows):
    survey = Survey(readings=tuple(tap(i, *row) for i, row in enumerate(rows)))
    extent = extent_of(survey, ZONE, SHELF)
    assert extent.likely.intersection(extent.unsurveyed).area < 1e-6
    assert extent.left_open.difference(extent.unsurveyed).area < 1e-6
    assert extent.likely.area + extent.unsurveyed_area <= 2 + 1e-6
    if not extent.likely.is_empty:  # every part of it has a place that is suspect
        made = posterior_of(survey, ZONE, SHELF)
        for part in extent.likely.geoms:
            x0, y0, x1, y1 = part.bounds
            inside = np.stack(np.meshgrid(np.linspace(x0, x1, 60), np.linspace(y0, y1, 60)), axis=-1).reshape(-1, 2)
            inside = inside[shapely.contains_xy(part.buffer(0.02), inside[:, 0], inside[:, 1])]
            assert made.chance_at(inside).max() > 0.7 * SHELF.rule("extent.suspect")


def test_lengths_are_told_as_along_and_across():
    survey = Survey(readings=tuple(Tap(id=f"r{n}", x=0.1 * n, y=0.2, grade="dull" if n < 4 else "ring") for n in range(9)))  # fmt: skip
    made, book = posterior_of(survey, ZONE, SHELF), FigureBook("z")
    long = msgspec.structs.replace(made, parts=(msgspec.structs.replace(made.parts[0], scales=(0.3, 0.125)),))
    _field_figures(book, long, Figure("n", "readings", 9.0, Kind.COUNT, ""), SHELF)
    names = [i.name for f in book.figures for i in f.inputs]
    assert "alike over 0.3 m along, 0.125 m across" in names
