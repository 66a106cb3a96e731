"""Drawings of the survey: the run drawn straight, the boat strip's bending run, the pictures behind the readings."""

import numpy as np
import pytest

from ribpatch.core.drawing.boat_view import boat_view, zone_patch
from ribpatch.core.drawing.palette import CHANGE, RAMP, ramp_colours
from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.run_view import from_run, run_view, to_run
from ribpatch.core.drawing.shapes import Area, Badge, Line, Raster, Spot, Text
from ribpatch.core.drawing.survey_picture import SHOWS, survey_marks, survey_picture
from ribpatch.core.edits import path_from_text
from ribpatch.core.errors import BadOutline
from ribpatch.core.geometry import polygon_of
from ribpatch.core.job import RUNS, HiddenPatch, Practice
from ribpatch.core.record import evolve
from ribpatch.core.survey.entry import made_reading
from ribpatch.core.survey.extent import stretches_of
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


def of(drawing, kind):
    return [s for s in drawing.shapes if isinstance(s, kind)]


def run_of(job, made, system="metric"):
    zone = job.zones[2]
    picture = survey_picture(zone, SHELF, "chance", "", "")
    return run_view(zone, made.zone("z3").patch, SHELF, system, picture, survey_marks(zone, SHELF))


def test_a_run_has_a_lane_for_each_instrument_and_its_bad_stretch_from_to(job, made):
    drawing = run_of(job, made)
    spots = of(drawing, Spot)
    assert len(spots) == len(job.zones[2].survey.readings) and len({s.at[1] for s in spots}) == 1
    spans = stretches_of(made.zone("z3").patch.extent.likely)
    assert spans and [s.text for s in of(drawing, Text)] == [f"{a:.2f} m to {b:.2f} m" for a, b in spans]
    damage = [s for s in of(drawing, Line) if s.role == "damage"]
    assert [(s.points[0][0], s.points[1][0]) for s in damage] == list(spans)
    (raster,) = of(drawing, Raster)
    worst = raster.low[0] + (raster.high[0] - raster.low[0]) * np.argmax(raster.values[0]) / (
        raster.values.shape[1] - 1
    )
    assert spans[0][0] < worst < spans[0][1]


def test_places_along_a_run_go_there_and_back(job):
    zone = job.zones[2]
    x, y = from_run(zone, to_run(zone, (1.3, 0.02)))
    assert x == 1.3 and y == pytest.approx(0.09)


def test_stretches_join_where_they_overlap():
    boxes = [polygon_of(((a, 0.0), (b, 0.0), (b, 0.1), (a, 0.1))) for a, b in ((0.0, 0.5), (1.0, 1.5))]
    assert stretches_of(boxes[0].union(boxes[1])) == ((0.0, 0.5), (1.0, 1.5))
    assert stretches_of(boxes[0].difference(boxes[0])) == ()


def test_a_run_bends_round_the_boat_strip_along_its_path(job):
    path = ((1.0, 1.2), (4.0, 1.45), (7.0, 0.9))
    zone = evolve(job.zones[2], kind="joint run", path=path)
    patch = zone_patch(job.boat, zone)
    assert all(patch.buffer(1e-6).covers(polygon_of(((x - 1e-4, y), (x, y + 1e-4), (x + 1e-4, y)))) or patch.distance(
        polygon_of(((x - 1e-4, y), (x, y + 1e-4), (x + 1e-4, y)))) < 1e-3 for x, y in path)  # fmt: skip
    bare = zone_patch(job.boat, evolve(zone, path=()))
    assert bare.bounds[0] == pytest.approx(zone.place.station.si, abs=0.1), "without a path a joint follows the sheer"
    marked = boat_view(job.boat, job.zones, "z1", ("",) * 4, ("", "?", "", "✓"))
    assert [t.text for t in of(marked, Text)] == ["1 Foredeck", "2 Transom ?", "3 Battery stringer", "4 Bow topside ✓"]


@pytest.mark.parametrize("kind", RUNS)
def test_every_kind_of_run_can_be_drawn(job, made, kind):
    zone = evolve(job.zones[2], kind=kind)
    assert zone.is_run and run_view(zone, made.zone("z3").patch, SHELF, "us", None, ()).shapes
    assert not zone_patch(job.boat, zone).is_empty


def test_paths_from_text():
    assert path_from_text("1.0 m, 0.9 m\n4 m  1.1 m\n7.0 0.2") == ((1.0, 0.9), (4.0, 1.1), (7.0, 0.2))
    assert path_from_text("") == ()
    for text in ("1 m", "1 m, 2 m", "a b\nc d"):
        with pytest.raises(Exception, match=r"two|not|understood"):
            path_from_text(text)
    with pytest.raises(BadOutline, match="two points"):
        path_from_text("1 m, 2 m")


def test_every_picture_has_values_between_nothing_and_one(job):
    for _, shows in SHOWS:
        picture = survey_picture(job.zones[0], SHELF, shows, "", "")
        if shows == "change":
            assert picture is None
            continue
        assert np.nanmin(picture.values) >= 0 and np.nanmax(picture.values) <= 1 and all(picture.words)
    transom = job.zones[1]
    change = survey_picture(transom, SHELF, "change", "s1", "s2")
    assert change.ramp == "change" and np.nanmin(change.values) < 0.45


def test_marks_number_the_next_tests_pin_photographs_and_outline_the_truth(job):
    marks = survey_marks(job.zones[0], SHELF)
    assert [b.text for b in marks if isinstance(b, Badge) and b.role == "next"] == ["1", "2", "3"]
    ring = ((0.3, -0.2), (0.6, -0.2), (0.6, 0.2))
    practice = Practice(drawn=(HiddenPatch(state="rotted", ring=ring),), revealed=True)
    shown = survey_marks(evolve(job.zones[0], practice=practice), SHELF)
    assert [s.role for s in shown if isinstance(s, Area)] == ["truth-rotted"] and not any(
        isinstance(s, Badge) for s in shown
    )
    assert not any(
        isinstance(s, Area)
        for s in survey_marks(evolve(job.zones[0], practice=evolve(practice, revealed=False)), SHELF)
    )


def test_test_cuts_and_cracks_are_lines_and_rare_instruments_carry_letters(job, made):
    zone = job.zones[0]
    rows = (
        made_reading("cut", SHELF, x=0.2, y=0, points=((0.2, 0), (0.4, 0), (0.6, 0)), states=("sound", "wet")),
        made_reading("sketch", SHELF, x=0.3, y=0.3, grade="star", points=((0.3, 0.3), (0.4, 0.4))),
        made_reading("pin", SHELF, x=0.5, y=0.2, value=30),
    )
    survey = evolve(zone.survey, readings=tuple(evolve(r, id=f"x{n}") for n, r in enumerate(rows)), references=())
    drawing = plan_view(evolve(zone, survey=survey), made.zone("z1").patch, None, SHELF, "find", "metric")
    roles = [s.role for s in of(drawing, Line)]
    assert roles.count("cut-sound") == 1 and roles.count("cut-bad") == 1 and "crack" in roles
    (pin,) = of(drawing, Spot)
    assert (pin.shape, pin.code, pin.level) == ("tag", "Pi", 1.0)


def test_the_ramps_are_even_in_lightness_and_unknown_takes_the_paper():
    for theme in ("light", "dark"):
        grey = ramp_colours(np.linspace(0, 1, 50), theme).mean(axis=1)
        steps = np.diff(grey)
        assert (steps < 0).all() or (steps > 0).all()
        assert len(CHANGE[theme]) == 7 and CHANGE[theme][3] == RAMP[theme][0], "no change is the paper"
        middle = ramp_colours(np.array([0.5, np.nan]), theme, "change")
        assert (middle[0] == middle[1]).all()
