"""What is drawn before anything is opened needs no repair: it is the same with one and without."""

from collections import Counter

import pytest
from shapely.geometry import Polygon
from tests.bed import bed_job as demo_job

from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.drawing.shapes import Area, Callout
from ribpatch.core.patch.repair import as_found, patch_of
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
ZONES = demo_job().zones


def areas(drawing):
    found = Counter()
    for shape in drawing.shapes:
        if isinstance(shape, Area):
            found[shape.role] += round(Polygon(shape.rings[0]).area, 9)
    return found


@pytest.mark.parametrize("zone", ZONES, ids=lambda z: z.name)
def test_the_plan_and_the_cut_through_as_found_are_those_of_the_repair_as_found(zone):
    found, made = as_found(zone, SHELF), patch_of(zone, SHELF)
    assert found.extent is made.extent
    assert found.cut.region.is_empty and not found.outlines and found.band.outer.is_empty
    for depth in ("boat", "find"):
        views = [plan_view(zone, patch, None, SHELF, depth, "metric") for patch in (found, made)]
        assert views[0].shapes == views[1].shapes
    sections = [section_view(zone, p, SHELF, default_line(zone), False, "metric") for p in (found, made)]
    assert areas(sections[0]) == pytest.approx(areas(sections[1]), abs=1e-7)
    words = [sorted(s.text for s in v.shapes if isinstance(s, Callout)) for v in sections]
    assert words[0] == words[1] and words[0]
    assert sections[0].bounds == pytest.approx(sections[1].bounds)
