"""Drawings of repairs: pits, two faces, backing, saved skins, tabbing, numbers of plies; what lies where in the
section.
"""

import numpy as np
import pytest
import shapely
from tests.schemes import rescheme
from tests.strategies import SHELF

from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.section_view import default_line, levels_of, profile_of, section_view
from ribpatch.core.drawing.shapes import Area, Badge, Line
from ribpatch.core.drawing.tab_view import EXAGGERATED, tab_view
from ribpatch.core.job import DepthPoint
from ribpatch.core.laminate.stack import stack_up
from ribpatch.core.patch.repair import patch_of
from ribpatch.core.record import evolve
from ribpatch.core.scheme import Backing, Face, StackLine, Tabbing
from ribpatch.core.units import Measure


def m(value):
    return Measure(si=value)


def with_scheme(zone, **changes):
    return evolve(zone, scheme=rescheme(zone.scheme, **changes))


def section(zone, line=None):
    patch = patch_of(zone, SHELF)
    return patch, section_view(zone, patch, SHELF, line or default_line(zone), True, "metric")


def factor(drawing):
    return int(drawing.note.split("×")[1]) if "×" in drawing.note else 1


def height_of(drawing, role):
    ys = [y for s in drawing.shapes if isinstance(s, Area) and s.role == role for ring in s.rings for _, y in ring]
    return min(ys), max(ys)


def test_every_ply_in_the_section_carries_its_number(job):
    patch, drawing = section(job.zone("z4"))
    numbers = [s.text for s in drawing.shapes if isinstance(s, Badge) and s.role == "ply-number"]
    assert numbers == [str(n) for n in range(1, 8)]
    rooms = [s.clearance for s in drawing.shapes if isinstance(s, Badge)]
    assert rooms[0] == pytest.approx(patch.stack.plies[0].ply.thickness * factor(drawing))


def test_a_pit_is_as_deep_as_it_was_noted_and_the_skin_stays_below(job):
    zone = evolve(
        with_scheme(job.zone("z4"), part_depth=True, plies=()),
        depths=(DepthPoint(id="d1", x=0.72, y=0.34, depth=m(0.003)),),
    )
    patch, drawing = section(zone)
    low, high = height_of(drawing, "old-skin")
    assert (high - low) / factor(drawing) == pytest.approx(0.007)
    (a, _), (b, y) = default_line(zone)
    chord = patch.cut.region.intersection(shapely.LineString([(a, y), (b, y)])).length
    ground = 0.003 * (chord + 12 * 0.003)  # a trapezium: level over the bad area, rising at 12:1 on both sides
    left = sum(shapely.Polygon(s.rings[0]).area for s in drawing.shapes if isinstance(s, Area) and s.role == "old-skin")
    assert left / factor(drawing) == pytest.approx(1.5 * 0.007 - ground, rel=0.01)


def test_the_pit_is_drawn_in_steps_of_a_millimetre(job):
    zone = evolve(
        with_scheme(job.zone("z4"), part_depth=True), depths=(DepthPoint(id="d1", x=0.72, y=0.34, depth=m(0.0035)),)
    )
    patch = patch_of(zone, SHELF)
    shapes = plan_view(zone, patch, None, SHELF, "open", "metric").shapes
    areas = sorted(shapely.Polygon(s.points).area for s in shapes if isinstance(s, Line) and s.role == "depth-line")
    assert areas == pytest.approx(sorted(patch.pit.deeper(d).area for d in (0.001, 0.002, 0.003)), rel=0.02)
    assert [s.text for s in shapes if isinstance(s, Badge) and s.role == "depth"] == ["3.5"]


def test_without_a_noted_depth_nothing_is_shown_cut(job):
    _, drawing = section(with_scheme(job.zone("z4"), part_depth=True))
    areas = [shapely.Polygon(s.rings[0]).area for s in drawing.shapes if isinstance(s, Area) and s.role == "old-skin"]
    assert sum(areas) / factor(drawing) == pytest.approx(1.5 * 0.007, rel=0.01)


def test_two_faces_meet_in_the_middle_of_a_solid_laminate(job):
    zone = with_scheme(
        job.zone("z4"),
        second=Face(plies=(StackLine(fabric="biax-45-800", count=3),)),
        plies=(StackLine(fabric="biax-45-800", count=4),),
    )
    patch, drawing = section(zone)
    levels = levels_of(zone, patch, SHELF)
    assert levels.middle == pytest.approx(0.0035) and levels.top == pytest.approx(0.007)
    low, high = height_of(drawing, "new-skin")
    thick = patch.stack.thickness + patch.second.stack.thickness
    assert (high - low) / factor(drawing) == pytest.approx(thick, rel=0.05)
    numbers = [s.text for s in drawing.shapes if isinstance(s, Badge) and s.role == "ply-number"]
    assert numbers == ["1", "2", "3", "4", "1", "2", "3"]


def test_backing_lies_under_the_skin_and_laps_past_the_cut(job):
    zone = with_scheme(job.zone("z4"), backing=Backing(width=m(0.06)))
    patch, drawing = section(zone)
    low, _ = height_of(drawing, "new-skin")
    assert low / factor(drawing) == pytest.approx(-patch.backing.thickness)
    profile = profile_of(zone, patch, default_line(zone))
    wide, cut = (float(np.ptp(profile.s[mask > 0])) for mask in (profile.backed, profile.cut))
    assert wide - cut == pytest.approx(0.12, abs=0.004)


def test_inside_turns_the_section_round(job):
    outside, inside = (section(with_scheme(job.zone("z2"), side=side)) for side in ("outside", "inside"))
    assert "outside on top" in outside[1].title and "inside on top" in inside[1].title
    tops = [
        levels_of(with_scheme(job.zone("z2"), side=s), p, SHELF).core
        for s, (p, _) in (("outside", outside), ("inside", inside))
    ]
    assert tops == pytest.approx([0.004, 0.005])  # the skin at the bottom is the other one


def test_the_plan_numbers_the_pieces_of_a_saved_skin(job):
    zone = with_scheme(job.zone("z1"), cut=evolve(job.zone("z1").scheme.cut, saved=True))
    patch = patch_of(zone, SHELF)
    drawing = plan_view(zone, patch, None, SHELF, "open", "metric")
    numbers = [s.text for s in drawing.shapes if isinstance(s, Badge) and s.role == "piece"]
    assert numbers == [str(p.number) for p in patch.saved.pieces] and len(numbers) > 1


def test_the_plan_shows_joints_only_where_a_ply_is_wider_than_its_roll(job):
    small, large = job.zone("z4"), evolve(job.zone("z4"), outline=((0, 0), (4, 0), (4, 3), (0, 3)))
    large = evolve(large, survey=evolve(large.survey, drawn=(((0.3, 0.3), (3.6, 0.3), (3.6, 2.6), (0.3, 2.6)),)))
    joints = [
        [
            s
            for s in plan_view(z, patch_of(z, SHELF), None, SHELF, "rebuild", "us").shapes
            if isinstance(s, Line) and s.role == "joint"
        ]
        for z in (small, large)
    ]
    assert joints[0] == [] and len(joints[1]) >= 7


def test_tight_stretches_are_drawn_along_the_cut(job):
    zone = job.zone("z1")
    drawing = plan_view(zone, patch_of(zone, SHELF), None, SHELF, "open", "metric")
    tight = next(s for s in drawing.shapes if isinstance(s, Line) and s.role == "tight")
    cut = patch_of(zone, SHELF).cut.region
    assert len(tight.points) > 3 and all(cut.boundary.distance(shapely.Point(p)) < 1e-6 for p in tight.points)


@pytest.mark.parametrize("angle", [45, 60, 90, 120, 150])
def test_a_tabbed_corner_has_its_fillet_and_every_ply_at_its_leg(angle):
    stack = stack_up((StackLine(fabric="biax-45-600", count=3),), "epoxy-5-1-slow", "hand", SHELF)
    tabbing = Tabbing(angle=m(angle), radius=m(0.015))
    drawing = tab_view(stack, tabbing, SHELF, "metric")
    plies = [s for s in drawing.shapes if isinstance(s, Area) and s.role == "new-skin"]
    reach = 0.015 / np.tan(np.radians(angle) / 2)
    assert [max(x for x, y in p.rings[0] if y < 0.02) for p in plies] == pytest.approx(
        [reach + leg for leg in (0.05, 0.065, 0.08)], rel=0.02
    )
    fillet = next(s for s in drawing.shapes if isinstance(s, Area) and s.role == "putty")
    from ribpatch.core.patch.tabbing import fillet_volume

    assert shapely.Polygon(fillet.rings[0]).area == pytest.approx(fillet_volume(0.015, angle), rel=0.03)
    assert drawing.note == f"plies × {EXAGGERATED} thick"


def test_a_corner_without_plies_is_still_drawn():
    drawing = tab_view(stack_up((), "epoxy-5-1-slow", "hand", SHELF), Tabbing(), SHELF, "us")
    assert any(isinstance(s, Area) and s.role == "putty" for s in drawing.shapes)
