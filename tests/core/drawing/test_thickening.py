"""Where a thickening runs on the boat: areas by hand, and every member that can become too light has its place."""

import pytest
from shapely.geometry import Polygon
from tests.bed import bed_job as demo_job

from ribpatch.core.drawing.boat_view import TRANSOM_SHARE, hull_ring
from ribpatch.core.drawing.shapes import Area, Line
from ribpatch.core.drawing.thickening_view import member_place, thickening_view
from ribpatch.core.structure.pressure import size_of
from ribpatch.core.structure.scantlings import WHOLE, Change, Lighter, becomes_light, scantlings

BOAT = demo_job().boat
HULL = Polygon(hull_ring(BOAT))


def drawn(key, reach):
    view = thickening_view(BOAT, Lighter(key, "keel and stem, of her", 0.008, 0.010, reach), "metric")
    whole = [Polygon(s.rings[0], s.rings[1:]) for s in view.shapes if isinstance(s, Area) and s.role == "new-skin"]
    return view, whole, [Polygon(s.points) for s in view.shapes if isinstance(s, Line) and s.role == "band"]


def test_a_keel_is_thickened_along_the_whole_boat_and_out_to_the_reach():
    view, (whole,), (out,) = drawn("keel", 0.18)
    length, beam = BOAT.length.si, BOAT.beam.si
    assert whole.area == pytest.approx(WHOLE * length, rel=0.01) and whole.area < WHOLE * length
    assert out.bounds[3] == pytest.approx(WHOLE / 2 + 0.18) and out.buffer(1e-6).contains(whole)
    assert view.title == "Keel and stem: 2.0 mm more" and view.bounds == (0, -beam / 2, length, beam / 2)


def test_a_transom_runs_out_forward():
    _, (whole,), (out,) = drawn("transom", 0.3)
    width = BOAT.beam.si * TRANSOM_SHARE
    assert whole.bounds == pytest.approx((0, -width / 2, WHOLE / 2, width / 2), abs=0.02)
    assert out.bounds[2] == pytest.approx(WHOLE / 2 + 0.3)


def test_a_shell_is_thicker_all_over_and_bottom_and_sides_make_the_hull():
    bottom, side, deck = (member_place(BOAT, key) for key in ("bottom", "side", "deck"))
    assert bottom.area + side.area == pytest.approx(HULL.area) and deck.area == pytest.approx(HULL.area)
    assert bottom.intersection(side).area == pytest.approx(0, abs=1e-9)
    _, whole, _ = drawn("bottom", 0.1)
    assert sum(p.area for p in whole) == pytest.approx(bottom.area)


def test_stringers_run_on_both_sides_and_what_stands_across_goes_from_side_to_side():
    for key, count in (("stringer", 2), ("stringer-laminate", 2), ("chain-plates", 2), ("bulkhead", 3), ("frame", 3)):
        place = member_place(BOAT, key)
        assert len(place.geoms) == count
        assert place.centroid.y == pytest.approx(0, abs=1e-9)
    across = member_place(BOAT, "floor").geoms[0]
    assert across.bounds[3] == -across.bounds[1] and HULL.buffer(0.005).contains(across)


def test_every_member_that_can_become_too_light_is_drawn_within_the_boat():
    rows = becomes_light(BOAT, Change(1.5, 900.0, 120e3, True), (1.0, 0.5), 0.3, 40e3)
    assert {row.key for row in rows} == {s.key for s in scantlings(size_of(BOAT), (1.0, 0.5), 0.3)}
    for row in rows:
        for system in ("metric", "us"):
            view = thickening_view(BOAT, row, system)
            areas = [Polygon(s.rings[0], s.rings[1:]) for s in view.shapes if isinstance(s, Area)]
            assert len(areas) > 1, row.key
            assert all(HULL.buffer(1e-6).contains(p) for p in areas), row.key
            assert ("in more" in view.title) == (system == "us")


def test_chain_plates_and_what_stands_across_are_drawn_where_they_usually_stand():
    length = BOAT.length.si
    assert [p.x for p in member_place(BOAT, "chain-plates").geoms] == pytest.approx([0.55 * length] * 2)
    stands = [line.bounds[0] for line in member_place(BOAT, "bulkhead").geoms]
    assert stands == pytest.approx([0.25 * length, 0.5 * length, 0.72 * length])
    off = member_place(BOAT, "stringer").geoms[0].bounds[3]
    assert off == pytest.approx(0.22 * BOAT.beam.si)
    half = member_place(BOAT, "bottom").bounds[3]
    assert half == pytest.approx(0.72 * BOAT.beam.si / 2, rel=1e-3)
