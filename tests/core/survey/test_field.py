"""The field against the closed form for one reading, and what it must never do."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.job import Survey
from ribpatch.core.normal import normal_cdf
from ribpatch.core.readings import Moisture, Plug, Tap
from ribpatch.core.record import evolve
from ribpatch.core.survey.field import MOST_SITES, extent_of, field_of, kind_fields, posterior_of
from ribpatch.core.survey.score import scores_of
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

ZONE = ((0.0, 0.0), (2.0, 0.0), (2.0, 1.0), (0.0, 1.0))
SHELF = shipped_shelf()


def tap(n, x, y, grade):
    return Tap(id=f"r{n}", x=x, y=y, grade=grade)


def grid(bad=lambda x, y: False, step=0.1, word="dull"):
    places = [(x, y) for x in np.arange(step / 2, 2, step) for y in np.arange(step / 2, 1, step)]
    return tuple(tap(i, float(x), float(y), word if bad(x, y) else "ring") for i, (x, y) in enumerate(places))


def test_one_reading_gives_the_closed_form_posterior():
    """At the reading mean = s2/(s2+n2) z and variance = s2 n2/(s2+n2); far away both return to the prior."""
    survey = Survey(readings=(tap(1, 0.0, 0.0, "crunch"),))
    field = field_of(survey, ZONE, SHELF)
    s2, n2 = SHELF.rule("field.prior") ** 2, SHELF.rule("tap.noise") ** 2 + SHELF.rule("tap.bias") ** 2
    mean, deviation = s2 / (s2 + n2), math.sqrt(s2 * n2 / (s2 + n2))
    assert field.doubt[0, 0] == pytest.approx(deviation / math.sqrt(s2), rel=1e-6)
    assert field.chance[0, 0] == pytest.approx(
        0.5 * (1 + math.erf((mean - SHELF.rule("field.threshold")) / deviation / math.sqrt(2))), rel=1e-6
    )
    assert field.doubt[-1, -1] > 0.98


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
    survey = Survey(readings=(tap(1, 0.1, 0.1, "ring"), tap(2, 0.2, 0.1, "ring")))
    extent = extent_of(survey, ZONE, SHELF)
    assert extent.likely.is_empty and extent.unsurveyed_area > 1.5


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
    assert np.allclose(one.chance, two.chance, atol=1e-9)


def test_many_readings_are_thinned_and_agree_with_the_disc():
    survey = Survey(readings=grid(lambda x, y: (x - 1) ** 2 + (y - 0.5) ** 2 < 0.25**2, step=0.03))
    assert len(survey.readings) > 2000
    field = field_of(survey, ZONE, SHELF)
    assert field.sites <= MOST_SITES
    extent = extent_of(survey, ZONE, SHELF)
    assert extent.expected_area == pytest.approx(math.pi * 0.25**2, rel=0.12)


def test_repeated_readings_at_one_place_are_no_trouble():
    survey = Survey(readings=tuple(tap(i, 1.0, 0.5, "dull") for i in range(30)))
    field = field_of(survey, ZONE, SHELF)
    assert np.isfinite(field.chance).all() and field.chance.max() > 0.9


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


def test_two_readings_of_one_instrument_share_an_error():
    """Two taps far apart of one session have covariance b2 in their errors: the closed form for two readings."""
    survey = Survey(readings=(tap(1, 0.0, 0.5, "crunch"), tap(2, 2.0, 0.5, "ring")))
    made = posterior_of(survey, ZONE, SHELF)
    s2, n2, b2 = (SHELF.rule(k) ** 2 for k in ("field.prior", "tap.noise", "tap.bias"))
    apart = s2 * (1 + math.sqrt(3) * 2 / made.length) * math.exp(-math.sqrt(3) * 2 / made.length)
    k = np.array([[s2 + n2 + b2, apart + b2], [apart + b2, s2 + n2 + b2]])
    cross = np.array([s2, apart])
    mean, deviation = made.at(np.array([[0.0, 0.5]]))
    assert mean[0] == pytest.approx(cross @ np.linalg.solve(k, [1.0, 0.0]))
    assert deviation[0] ** 2 == pytest.approx(s2 - cross @ np.linalg.solve(k, cross))


def test_ten_readings_of_a_drifting_meter_do_not_count_as_ten():
    """Their common error stays however many there are; without it the doubt would fall with their number."""
    rows = tuple(Moisture(id=f"m{n}", x=1.0, y=0.5, value=40) for n in range(40))
    dry = Moisture(id="dry", x=0.1, y=0.1, value=12)
    made = posterior_of(Survey(readings=(*rows, dry), references=("dry",)), ZONE, SHELF)
    _, deviation = made.at(np.array([[1.0, 0.5]]))
    alone = SHELF.rule("moisture.noise") / math.sqrt(40)
    assert deviation[0] > SHELF.rule("moisture.bias") * 0.8 > alone


def test_two_patches_make_two_polygons():
    survey = Survey(
        readings=grid(lambda x, y: (x - 0.4) ** 2 + (y - 0.5) ** 2 < 0.04 or (x - 1.6) ** 2 + (y - 0.5) ** 2 < 0.04)
    )
    found = extent_of(survey, ZONE, SHELF).likely
    assert len(found.geoms) == 2
    assert sorted(round(float(p.centroid.x), 1) for p in found.geoms) == [0.4, 1.6]


def test_kinds_are_told_apart_where_the_readings_do():
    """Wet on the left by the meter, a loose skin on the right by ear; of rot nothing speaks there but the taps."""
    wet = tuple(
        Moisture(id=f"m{i}-{j}", x=0.1 + 0.2 * i, y=0.1 + 0.2 * j, value=50 if i < 3 else 12)
        for i in range(10)
        for j in range(5)
    )
    taps = grid(lambda x, y: x > 1.5, step=0.2, word="drummy")
    survey = Survey(readings=(*wet, *taps), references=("m9-0", "m9-4"))
    kinds = kind_fields(survey, ZONE, SHELF)
    at = {name: (f.chance[:, f.x < 0.4].mean(), f.chance[:, f.x > 1.7].mean()) for name, f in kinds.items()}
    assert at["wet"][0] > 0.9 > 0.2 > at["wet"][1]
    assert at["disbonded"][1] > 0.9 > 0.2 > at["disbonded"][0]
    assert kind_fields(Survey(), ZONE, SHELF) == {}
    assert set(kind_fields(Survey(readings=wet, references=("m9-0",)), ZONE, SHELF)) == {"wet"}


def test_a_plug_moves_the_field_where_taps_said_otherwise():
    dull = grid(lambda x, y: 0.8 < x < 1.2 and 0.3 < y < 0.7)
    plug = Plug(id="p", x=1.0, y=0.5, water="dry", core="firm", bond="whole")
    before, after = (
        posterior_of(Survey(readings=r), ZONE, SHELF).at(np.array([[1.0, 0.5]]))[0][0] for r in (dull, (*dull, plug))
    )
    assert before > 0.6 and after < 0.25


@given(st.lists(st.floats(-6, 6), min_size=1, max_size=30))
def test_the_normal_distribution_function_is_as_exact_as_its_source_says(values):
    exact = [0.5 * math.erfc(-v / math.sqrt(2)) for v in values]
    assert np.allclose(normal_cdf(np.array(values)), exact, atol=8e-8)


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


@pytest.mark.parametrize(("count", "radius"), [(20, 0.25), (60, 0.2), (120, 0.12), (400, 0.16), (1500, 0.1)])
def test_an_extent_is_within_half_a_per_cent_of_the_contour_itself(count, radius, shelf):
    """Against a plain grid sixty times as fine, counted cell by cell: no contours, no interpolation."""
    survey, ring = hit_panel(count, radius, count)
    extent, made = extent_of(survey, ring, shelf), posterior_of(survey, ring, shelf)
    side = 0.0025
    x, y = np.meshgrid(np.arange(side / 2, 1.5, side), np.arange(side / 2, 0.8, side))
    mean, deviation = (v.reshape(x.shape) for v in made.at(np.column_stack([x.ravel(), y.ravel()])))
    threshold = shelf.rule("field.threshold")
    chance = np.vectorize(math.erf)((mean - threshold) / deviation / math.sqrt(2)) / 2 + 0.5
    inside = (chance >= 1 - survey.confidence.si) & (mean >= shelf.rule("field.lean") * threshold)
    area = float(inside.sum()) * side**2
    assert area > 0.01 and extent.likely.area == pytest.approx(area, rel=0.006)  # the count itself is good to a tenth


def test_places_asked_together_and_one_by_one_have_the_same_field(job, monkeypatch):
    zone = job.zone("z1")
    made = posterior_of(zone.survey, zone.outline, SHELF)
    places = np.random.default_rng(4).random((53, 2))
    together = made.at(places)
    monkeypatch.setattr("ribpatch.core.survey.field.BLOCK", 10)
    for whole, blocks in zip(together, made.at(places), strict=True):
        assert blocks == pytest.approx(whole, rel=1e-9)
    alone = [made.at(place[None]) for place in places]
    assert [a[0][0] for a in alone] == pytest.approx(together[0], rel=1e-9)
    assert all(v.shape == (0,) for v in made.at(np.empty((0, 2))))
