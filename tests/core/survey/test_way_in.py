"""Ways in: the bare fitting in the wet wins, and each fact moves the ranking as it should."""

import numpy as np
import pytest
import shapely

from ribpatch.core.job import Edge, Fitting, Survey
from ribpatch.core.readings import Moisture
from ribpatch.core.record import evolve
from ribpatch.core.survey.way_in import _Pattern, fall_of, ways_in
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


@pytest.fixture
def zone(job):
    """A transom wet round a place at 0.6, 0.3, with two like fittings, one above it and one far away."""
    zone = job.zones[1]
    ring = ((0.0, 0.0), (2.0, 0.0), (2.0, 0.8), (0.0, 0.8))
    rows = [
        Moisture(id=f"r{i}-{j}", x=0.1 + 0.2 * i, y=0.1 + 0.2 * j, value=50 if abs(0.6 - 0.1 - 0.2 * i) < 0.25 and j in (1, 2) else 12)
        for i in range(10) for j in range(4)
    ]  # fmt: skip
    references = tuple(r.id for r in rows if r.value == 12)[:4]
    fittings = tuple(
        Fitting(id=f"f{n}", name=name, x=x, y=y, width=Measure(si=0.04), height=Measure(si=0), holes=1)
        for n, (name, x, y) in enumerate((("vent", 0.6, 0.5), ("light", 1.7, 0.4)))
    )
    survey = Survey(readings=tuple(rows), references=references)
    return evolve(zone, outline=ring, survey=survey, fittings=fittings, edges=(Edge(side=0, name="bottom edge"),))


def names(zone, **more):
    return {s.name: s for s in ways_in(zone, more.get("built"), more.get("now"), SHELF)}


def test_shares_sum_to_one_and_the_wet_fitting_comes_first(zone):
    sources = ways_in(zone, None, None, SHELF)
    assert sum(s.share for s in sources) == pytest.approx(1)
    assert sources[0].name == "vent" and "wet round it" in sources[0].reasons
    assert "something not listed" in {s.name for s in sources}


def test_a_bare_fitting_counts_more_and_a_sealed_one_less(zone):
    plain = names(zone)["vent"].share
    bare, sealed = (
        names(evolve(zone, fittings=(evolve(zone.fittings[0], sealed=s), zone.fittings[1])))["vent"].share
        for s in (False, True)
    )
    assert bare > plain > sealed


def test_old_sealant_is_not_trusted(zone):
    sealed = evolve(zone, fittings=(evolve(zone.fittings[0], sealed=True), zone.fittings[1]))
    young, old = (names(sealed, built=b, now=2026)["vent"] for b in (2020, 1998))
    assert old.share > young.share and any("old" in r for r in old.reasons)


def test_what_lies_below_the_wet_place_counts_less_where_water_runs_down(zone):
    assert fall_of(zone) == (0.0, -1.0)
    assert "below the wet place" in names(zone)["bottom edge"].reasons
    turned = names(evolve(zone, falls="y+"))
    assert turned["bottom edge"].share > names(zone)["bottom edge"].share


def test_a_dry_zone_has_no_way_in(zone):
    dry = tuple(evolve(r, value=12) for r in zone.survey.readings)
    assert ways_in(evolve(zone, survey=evolve(zone.survey, readings=dry)), None, None, SHELF) == ()
    assert ways_in(evolve(zone, survey=Survey()), None, None, SHELF) == ()


@pytest.mark.parametrize("seed", range(6))
def test_wetness_round_a_shape_is_that_of_all_readings_within_reach_or_of_the_nearest_three(seed):
    """Against every distance, worked out one by one."""
    rng = np.random.default_rng(seed)
    at, wet = rng.random((80, 2)) * [2.0, 1.0], rng.random(80)
    pattern = _Pattern(at, wet, float(wet.mean()), (1.0, 0.5))
    shapes = (
        shapely.Point(rng.random(2) * [2.0, 1.0]).buffer(0.1),
        shapely.LineString([(0.0, 0.0), (2.0, rng.random())]),
        shapely.box(0.4, 0.4, 0.9, 0.5),
        shapely.Point(9.0, 9.0).buffer(0.2),
    )
    for shape in shapes:
        for reach in (0.02, 0.15, 0.5):
            apart = np.array([shape.distance(shapely.Point(p)) for p in at])
            near = wet[apart <= reach] if (apart <= reach).any() else wet[np.argsort(apart)[:3]]
            assert pattern.near(shape, reach) == pytest.approx(near.mean())
