"""Drawings: the right shapes at true places, and words that do not collide."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon
from tests.schemes import rescheme

from ribpatch.core.drawing.boat_view import boat_view, half_breadth, hull_ring
from ribpatch.core.drawing.hatch import PATTERNS, hatch
from ribpatch.core.drawing.labels import free_box, overlaps, spread
from ribpatch.core.drawing.palette import DARK, FILLS, LIGHT, PENS, ramp_colours
from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.section_view import default_line, followed_line, section_view
from ribpatch.core.drawing.shapes import Area, Callout, Dimension, Line, Raster, Spot
from ribpatch.core.drawing.survey_picture import survey_picture
from ribpatch.core.record import evolve
from ribpatch.core.survey.field import grid_of
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


def areas(drawing, role):
    return [Polygon(s.rings[0]).area for s in drawing.shapes if isinstance(s, Area) and s.role == role]


def factor(drawing):
    return int(drawing.note.removeprefix("depth × ")) if "×" in drawing.note else 1


@pytest.fixture
def topside(made):
    return made.zone("z4")


def test_section_of_a_solid_skin_shows_true_areas(topside, made):
    """Cut through the middle: the old skin left plus what was ground off is the whole skin along the line."""
    line = ((-0.1, 0.34), (1.6, 0.34))
    found = section_view(topside.zone, topside.patch, made.shelf, line, False, "metric")
    assert sum(areas(found, "old-skin")) / factor(found) == pytest.approx(1.5 * 0.007, rel=1e-3)
    opened = section_view(topside.zone, topside.patch, made.shelf, line, True, "metric")
    gap = sum(areas(found, "old-skin")) / factor(found) - sum(areas(opened, "old-skin")) / factor(opened)
    hole = topside.patch.cut.region.intersection(_line(line)).length
    assert gap == pytest.approx(hole * 0.007 + 0.084 * 0.007, rel=0.03)


def _line(line):
    from shapely.geometry import LineString

    return LineString(line)


def test_section_shows_every_ply_and_the_new_core(made):
    zone = made.zone("z1")
    drawing = section_view(zone.zone, zone.patch, made.shelf, default_line(zone.zone), True, "metric")
    assert len(areas(drawing, "new-skin")) >= len(zone.patch.stack.plies)
    core = sum(areas(drawing, "new-core")) / factor(drawing)
    width = zone.patch.cut.region.intersection(_line(default_line(zone.zone))).length
    assert core == pytest.approx(width * 0.0165, rel=0.02)
    words = [s.text for s in drawing.shapes if isinstance(s, Callout)]
    assert "6 plies 4.1 mm" in words and "old skin 4.0 mm" in words
    assert [s for s in drawing.shapes if isinstance(s, Dimension)]


@pytest.mark.parametrize("order", ["smallest first", "largest first"])
@pytest.mark.parametrize("form", ["ground", "stepped"])
def test_plies_fill_the_taper_in_either_order(job, shelf, order, form):
    from ribpatch.core.fields import set_at
    from ribpatch.core.plan import plan

    changed = set_at(
        set_at(job, ("zones", "z4", "scheme", "laminate", "order"), order),
        ("zones", "z4", "scheme", "taper", "form"),
        form,
    )
    made = plan(changed, shelf)
    zone = made.zone("z4")
    drawing = section_view(zone.zone, zone.patch, shelf, default_line(zone.zone), True, "metric")
    plies = sum(areas(drawing, "new-skin")) / factor(drawing)
    whole = zone.patch.cut.region.intersection(_line(default_line(zone.zone))).length
    assert plies > whole * zone.patch.stack.thickness
    assert len(areas(drawing, "new-skin")) >= 7


def test_a_section_beside_the_zone_draws_nothing_and_does_not_fail(topside, made):
    drawing = section_view(topside.zone, topside.patch, made.shelf, ((0.0, 5.0), (1.0, 5.0)), True, "metric")
    assert not [s for s in drawing.shapes if isinstance(s, Area)]


def test_plan_grows_with_the_stage(made):
    zone = made.zone("z1")
    kinds = {}
    for depth in ("boat", "find", "open", "rebuild"):
        drawing = plan_view(
            zone.zone,
            zone.patch,
            survey_picture(zone.zone, made.shelf),
            made.shelf,
            depth,
            "metric",
        )
        kinds[depth] = {(type(s).__name__, getattr(s, "role", "")) for s in drawing.shapes}
    assert ("Raster", "damage") not in kinds["boat"] and ("Raster", "damage") in kinds["find"]
    assert ("Line", "cut") not in kinds["find"] and ("Line", "cut") in kinds["open"]
    assert ("Line", "ply-line") in kinds["rebuild"]


def test_plan_shows_each_reading_and_marks_references(made):
    zone = made.zone("z1")
    spots = [
        s
        for s in plan_view(
            zone.zone,
            zone.patch,
            survey_picture(zone.zone, made.shelf),
            made.shelf,
            "find",
            "metric",
        ).shapes
        if isinstance(s, Spot)
    ]
    assert len(spots) == len(zone.zone.survey.readings)
    assert sum(s.reference for s in spots) == 4


def test_tight_places_are_marked_on_the_plan(made):
    zone = made.zone("z2")
    shapes = plan_view(
        zone.zone,
        zone.patch,
        survey_picture(zone.zone, made.shelf),
        made.shelf,
        "open",
        "metric",
    ).shapes
    assert [s for s in shapes if isinstance(s, Callout) and s.role == "tight"]
    assert [s for s in shapes if isinstance(s, Line) and s.role == "tight"]


def test_units_change_the_words_and_not_the_shapes(made):
    zone = made.zone("z4")
    one, two = (
        section_view(zone.zone, zone.patch, made.shelf, default_line(zone.zone), True, s) for s in ("metric", "us")
    )
    assert [s.rings for s in one.shapes if isinstance(s, Area)] == [s.rings for s in two.shapes if isinstance(s, Area)]
    assert any("in" in s.text for s in two.shapes if isinstance(s, Callout))


def test_boat_is_drawn_to_her_dimensions(job):
    x0, y0, x1, y1 = Polygon(hull_ring(job.boat)).bounds
    assert (x1 - x0, y1 - y0) == pytest.approx((9.6, 2.9), rel=0.01)
    assert half_breadth(job.boat, np.array([9.6]))[0] == pytest.approx(0, abs=1e-6)


def test_every_zone_lies_on_the_boat_at_its_station(job):
    drawing = boat_view(job.boat, job.zones, "z2", ("", "", "", ""))
    patches = {s.key: Polygon(s.rings[0]) for s in drawing.shapes if isinstance(s, Area) and s.key.startswith("z")}
    assert set(patches) == {"z1", "z2", "z3", "z4"}
    hull = Polygon(hull_ring(job.boat)).buffer(0.15)
    assert all(hull.covers(p) for p in patches.values())
    assert patches["z3"].centroid.y > 0 > patches["z4"].centroid.y
    assert patches["z2"].bounds[0] == pytest.approx(0)


@given(st.lists(st.floats(0, 400), min_size=1, max_size=20), st.floats(5, 20))
def test_spread_words_never_touch(wanted, height):
    placed = sorted(spread(wanted, height, 0, 1000))
    assert all(b - a >= height - 1e-6 for a, b in pairwise(placed))


@given(st.lists(st.tuples(st.floats(0, 300), st.floats(0, 200)), max_size=25))
def test_free_boxes_never_overlap(points):
    taken = []
    for x, y in points:
        box = free_box(x, y, 40, 12, taken, (0, 0, 300, 200))
        if box is not None:
            assert not any(overlaps(box, other) for other in taken)
            taken.append(box)


@pytest.mark.parametrize("material", [m for m, p in PATTERNS.items() if p])
def test_every_material_has_a_hatch_of_its_own(material):
    made = hatch(material, 0, 0, 100, 60, 10)
    assert made.segments or made.dots


def test_hatches_differ():
    seen = {
        (hatch(m, 0, 0, 50, 50, 10).segments, hatch(m, 0, 0, 50, 50, 10).dots)
        for m in set(PATTERNS) - {"fitting", "light"}
    }
    assert len(seen) == len(set(PATTERNS) - {"fitting", "light"})


def _luminance(colour: str) -> float:
    rgb = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in rgb]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=["light", "dark"])
@pytest.mark.parametrize(
    ("ink", "paper"),
    [("ink", "paper"), ("ink", "panel"), ("soft", "panel"), ("soft", "paper"), ("soft", "rail"), ("accent", "panel"), ("accent-ink", "accent"),
     ("warn", "panel"), ("warn", "rail"), ("grave", "panel"), ("ledger-ink", "ledger"), ("ledger-soft", "ledger"), ("change", "ledger")],
)  # fmt: skip
def test_contrast_is_at_least_four_and_a_half(palette, ink, paper):
    a, b = sorted((_luminance(palette[ink]), _luminance(palette[paper])), reverse=True)
    assert (a + 0.05) / (b + 0.05) >= 4.5


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_the_damage_ramp_runs_one_way_in_lightness(theme):
    colours = ramp_colours(np.linspace(0, 1, 40), theme)
    light = [_luminance("#" + bytes(c).hex()) for c in colours]
    steps = np.diff(light)
    assert (steps < 0).all() or (steps > 0).all()


def test_every_role_has_colours_in_both_palettes():
    names = {p.colour for p in PENS.values()} | set(FILLS.values())
    assert names <= set(LIGHT) and set(LIGHT) == set(DARK)


def test_raster_is_clipped_to_the_zone(made):
    zone = made.zone("z1")
    raster = next(
        s
        for s in plan_view(
            zone.zone,
            zone.patch,
            survey_picture(zone.zone, made.shelf),
            made.shelf,
            "find",
            "metric",
        ).shapes
        if isinstance(s, Raster)
    )
    assert raster.clip == (zone.zone.outline,) and raster.values.shape == tuple(
        axis.size for axis in reversed(grid_of(zone.zone.outline))
    )


@pytest.mark.parametrize("core", ["foam-pvc-130", None])
def test_rotten_core_inside_the_cut_is_out_once_it_is_opened(job, core):
    from ribpatch.core.patch.repair import patch_of

    zone = job.zone("z1")
    zone = evolve(
        zone, scheme=rescheme(zone.scheme, core=core, core_thickness=zone.scheme.core.thickness if core else None)
    )
    patch = patch_of(zone, SHELF)
    x0, y0, x1, y1 = patch.extent.likely.intersection(patch.cut.region).bounds
    line = ((x0 - 0.3, (y0 + y1) / 2), (x1 + 0.3, (y0 + y1) / 2))
    for opened in (False, True):
        drawing = section_view(zone, patch, SHELF, line, opened, "metric")
        old = [s for s in drawing.shapes if getattr(s, "role", "") == "old-core"]
        middle = (x0 + x1) / 2 - line[0][0]
        over = any(min(x for x, _ in a.rings[0]) < middle < max(x for x, _ in a.rings[0]) for a in old)
        assert over is not opened
        words = [s.text for s in drawing.shapes if hasattr(s, "text")]
        assert ("bad core out; no new one chosen" in words) is (opened and core is None)


def test_a_section_line_follows_a_changed_outline():
    line = followed_line(((0.5, 0.0), (0.5, 1.0)), (0, 0, 1, 1), (0, 0, 3, 0.5))
    assert line == ((1.5, 0.0), (1.5, 0.5))


def test_one_ply_is_one_ply(job):
    from ribpatch.core.patch.repair import patch_of
    from ribpatch.core.scheme import StackLine

    zone = job.zone("z4")
    zone = evolve(zone, scheme=rescheme(zone.scheme, plies=(StackLine(fabric="biax-45-800", count=1),)))
    drawing = section_view(zone, patch_of(zone, SHELF), SHELF, default_line(zone), True, "metric")
    words = [s.text for s in drawing.shapes if hasattr(s, "text")]
    assert any(w.startswith("1 ply ") for w in words) and not any("1 plies" in w for w in words)


def test_a_section_line_follows_from_any_box_into_any_other():
    line = followed_line(((2.5, 3.0), (4.0, 3.5)), (2.0, 3.0, 4.0, 4.0), (-1.0, 10.0, 3.0, 10.5))
    assert line == ((0.0, 10.0), (3.0, 10.25))


@pytest.mark.parametrize(("thickness", "words"), [(0.0165, "bedding 1.5 mm"), (0.012, "bedding and shim 6.0 mm")])
def test_the_bed_and_shim_are_drawn_and_pointed_at_where_they_lie(job, thickness, words):
    from ribpatch.core.patch.repair import patch_of

    zone = job.zone("z1")
    zone = evolve(zone, scheme=rescheme(zone.scheme, core_thickness=Measure(si=thickness)))
    patch = patch_of(zone, SHELF)
    drawing = section_view(zone, patch, SHELF, default_line(zone), True, "metric")
    (callout,) = [s for s in drawing.shapes if isinstance(s, Callout) and s.text.startswith("bedding")]
    putty = [y for s in drawing.shapes if isinstance(s, Area) and s.role == "putty" for _, y in s.rings[0]]
    new = [y for s in drawing.shapes if isinstance(s, Area) and s.role == "new-core" for _, y in s.rings[0]]
    assert callout.text == words and callout.at[1] == pytest.approx((min(putty) + max(putty)) / 2)
    factor = (max(new) - min(new)) / thickness
    assert (max(putty) - min(putty)) / factor == pytest.approx(0.018 - thickness) and max(putty) == pytest.approx(
        min(new)
    )
