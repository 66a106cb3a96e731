"""Each warning appears for its reason and goes when that is mended."""

import pytest

from ribpatch.core import edits
from ribpatch.core.fields import set_at
from ribpatch.core.job import Survey
from ribpatch.core.plan import plan
from ribpatch.core.readings import Moisture
from ribpatch.core.record import evolve
from ribpatch.core.scheme import StackLine
from ribpatch.core.units import Measure


def notices(job, shelf, zone=""):
    return {n.id.removeprefix(f"{zone}."): n for n in plan(job, shelf).notices if n.zone == zone}


def put(job, zone, *path_and_value):
    *path, value = path_and_value
    return set_at(job, ("zones", zone, *path), value)


@pytest.mark.parametrize(
    ("zone", "path", "bad", "key", "grave"),
    [
        ("z4", ("scheme", "laminate", "plies"), (), "no-plies", True),
        ("z4", ("scheme", "laminate", "plies"), (StackLine(fabric="biax-45-800", count=3),), "thin", True),
        ("z4", ("scheme", "laminate", "plies"), (StackLine(fabric="biax-45-800", count=14),), "proud", False),
        ("z4", ("scheme", "laminate", "plies"), (StackLine(fabric="mat-450", count=6),), "mat-epoxy", False),
        ("z4", ("scheme", "resin", "main"), "polyester-iso", "secondary", False),
        ("z1", ("scheme", "core", "material"), None, "no-core", False),
        ("z1", ("scheme", "core", "thickness"), Measure(si=0.012), "core-thickness", False),
        ("z4", ("scheme", "taper", "ratio"), Measure(si=35), "tight.1", False),
        ("z4", ("scheme", "taper", "ratio"), Measure(si=100), "whole-panel", True),
        ("z1", ("survey",), Survey(), "nothing-read", False),
        ("z1", ("place", "station"), Measure(si=20), "beyond-bow", False),
    ],
)  # fmt: skip
def test_warnings_come_and_go(job, shelf, zone, path, bad, key, grave):
    assert key not in notices(job, shelf, zone)
    changed = notices(put_raw(job, zone, path, bad), shelf, zone)
    assert key in changed, sorted(changed)
    assert changed[key].grave is grave and changed[key].clears


def put_raw(job, zone, path, value):
    if path == ("survey",):
        return evolve(job, zones=tuple(evolve(z, survey=value) if z.id == zone else z for z in job.zones))
    return put(job, zone, *path, value)


def test_a_taper_that_eats_the_panel_names_the_largest_ratio_that_fits(job, shelf):
    text = notices(put(job, "z4", "scheme", "taper", "ratio", Measure(si=100)), shelf, "z4")["whole-panel"].text
    assert "28.9 : 1" in text


def test_cold_and_damp_sheds_are_told(job, shelf):
    cold = set_at(job, ("air", "temperature"), Measure(si=4))
    assert notices(cold, shelf, "z4")["cold"].grave
    damp = set_at(job, ("air", "humidity"), Measure(si=0.95))
    assert notices(damp, shelf, "z4")["humid"].grave


def test_laminate_near_the_dew_point_is_told_until_it_is_warmed(job, shelf):
    assert "dew" in notices(job, shelf)
    assert "dew" not in notices(set_at(job, ("air", "surface"), Measure(si=16)), shelf)


def test_a_cut_that_leaves_rot_is_grave(job, shelf):
    small = ((0.9, 0.0), (1.1, 0.0), (1.1, 0.2), (0.9, 0.2))
    assert notices(edits.draw_cut("z1", (small,)).change(job), shelf, "z1")["missed"].grave


def test_meter_readings_without_reference_are_told(job, shelf):
    survey = Survey(readings=(Moisture(id="r1", x=0.5, y=0.3, value=50),))
    changed = evolve(job, zones=tuple(evolve(z, survey=survey) if z.id == "z4" else z for z in job.zones))
    assert "no-reference" in notices(changed, shelf, "z4")


def test_unsealed_holes_are_told_until_sealed(job, shelf):
    assert "fitting.f1.unsealed" in notices(job, shelf, "z1")
    assert "fitting.f1.unsealed" not in notices(put(job, "z1", "fittings", "f1", "sealed", True), shelf, "z1")


def test_a_fitting_outside_is_told(job, shelf):
    assert "fitting.f1.outside" in notices(put(job, "z1", "fittings", "f1", "x", 9.0), shelf, "z1")


def test_words_follow_the_units(job, shelf):
    thin = put(job, "z4", "scheme", "laminate", "plies", (StackLine(fabric="biax-45-800", count=3),))
    text = next(n.text for n in plan(thin, shelf, "us").notices if n.id == "z4.thin")
    assert " in thinner" in text
