"""Faces, stretches, saved skins, backing, pits: geometry against closed forms and invariants."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import MultiPolygon, Point, Polygon
from tests.schemes import rescheme
from tests.strategies import SHELF

from ribpatch.core.geometry import clean, offset
from ribpatch.core.job import DepthPoint, Fitting
from ribpatch.core.laminate.stack import stack_up
from ribpatch.core.patch.backing import backing_of, narrowest
from ribpatch.core.patch.cutline import CutLine, cut_line
from ribpatch.core.patch.facing import cut_edges
from ribpatch.core.patch.pieces import saved_skin
from ribpatch.core.patch.pit import depth_between, fill_outlines, pit_of, putty_by_depth
from ribpatch.core.patch.plies import ply_outlines
from ribpatch.core.patch.repair import patch_of
from ribpatch.core.patch.strips import strips_of
from ribpatch.core.patch.taper import band_of, grown
from ribpatch.core.record import evolve
from ribpatch.core.scheme import FACINGS, Backing, Cut, Face, SideMargin, StackLine, Stretch, Taper
from ribpatch.core.survey.extent import Extent
from ribpatch.core.units import Measure
from ribpatch.core.zone_axes import facing_words

ZONE = ((0.0, 0.0), (3.0, 0.0), (3.0, 2.0), (0.0, 2.0))


def m(value):
    return Measure(si=value)


def line(region) -> CutLine:
    return CutLine(clean(region), region, False, 0.0, 0.0, False, 0.0)


def box_line():
    return line(shapely.box(1.0, 0.5, 2.0, 1.5))


def band(cut, t=0.004, ratio=12.0, stretches=(), fittings=()):
    taper = Taper(ratio=m(ratio), stretches=tuple(Stretch(facing=f, ratio=m(r)) for f, r in stretches))
    return band_of(cut, taper, t, 4, 0.012, ZONE, fittings)


def stack(count=4, fabric="biax-45-600"):
    return stack_up((StackLine(fabric=fabric, count=count),), "epoxy-5-1-slow", "hand", SHELF)


# ---- sides and stretches ----


def test_the_sides_of_a_box_look_four_ways():
    sides = cut_edges(clean(shapely.box(0, 0, 2, 1))).lines
    assert {f: round(line.length, 6) for f, line in sides.items()} == {"x-": 1, "x+": 1, "y-": 2, "y+": 2}
    assert sides["x+"].bounds == (2, 0, 2, 1)


def test_the_sides_of_a_hole_look_into_it():
    ring = Polygon([(0, 0), (4, 0), (4, 4), (0, 4)], [[(1, 1), (1, 3), (3, 3), (3, 1)]])
    sides = cut_edges(clean(ring)).lines
    inner = [part for part in sides["x+"].geoms if part.bounds[0] == 1]
    assert inner and sides["x+"].length == pytest.approx(6)


def test_every_kind_of_zone_names_its_four_ways():
    assert facing_words("deck panel") == {"x-": "aft", "x+": "forward", "y-": "starboard", "y+": "port"}
    assert facing_words("transom")["x-"] == "to port"


def test_another_ratio_on_one_side_adds_its_own_strip():
    """A box of 1 x 1 with 48 mm all round but 96 mm forward: one strip and two corners differ."""
    even, wide = band(box_line()), band(box_line(), stretches=(("x+", 24.0),))
    assert wide.lengths["x+"] == pytest.approx(0.096) and len(set(wide.lengths.values())) == 2
    x0, _, x1, _ = wide.outer.bounds
    assert (x0, x1) == pytest.approx((1 - 0.048, 2 + 0.096))
    # A strip of 1 x 0.048 more, and at both its ends no more than half a round of 0.096.
    assert 0.048 < wide.outer.area - even.outer.area < 0.048 + math.pi * 0.096**2


def test_equal_stretches_are_the_plain_taper():
    same = band(box_line(), stretches=tuple((f, 12.0) for f in FACINGS))
    assert same.outer.equals(band(box_line()).outer) and len(set(same.lengths.values())) == 1


@given(st.floats(4, 30), st.floats(4, 30))
def test_shares_run_from_0_in_the_cut_to_1_at_the_band(ratio, other):
    made = band(box_line(), ratio=ratio, stretches=(("y+", other),))
    inside = made.shares(np.array([[1.5, 1.0], [1.5, 1.5 - 1e-6]]))
    assert inside == pytest.approx([0, 0], abs=1e-4)
    edge = np.array([[1.5, 1.5 + other * 0.004], [1.0 - ratio * 0.004, 1.0]])
    assert made.shares(edge) == pytest.approx([1, 1], rel=1e-6)


@given(st.floats(0, 1), st.floats(0, 1), st.floats(0.01, 0.2), st.floats(0.01, 0.2))
def test_growing_by_more_covers_growing_by_less(a, b, near, far):
    lengths = {"x-": near, "x+": far, "y-": near, "y+": far}
    region = clean(shapely.box(1, 1, 2, 2).difference(shapely.box(1.4, 1.4, 1.6, 1.6)))
    low, high = sorted((a, b))
    assert grown(region, lengths, high).buffer(1e-6).covers(grown(region, lengths, low))


def test_plies_on_a_taper_of_two_ratios_end_at_the_same_height():
    made = band(box_line(), t=stack().thickness, stretches=(("x+", 24.0),))
    outlines = ply_outlines(box_line(), made, stack(), "smallest first", 0.0, ZONE)
    for outline in outlines:
        _, _, x1, _ = outline.region.bounds
        assert (x1 - 2) / (1 - outline.region.bounds[0]) == pytest.approx(2.0, rel=1e-6)


# ---- the cut, side by side ----


def extent(region) -> Extent:
    region = clean(region)
    return Extent(region, region, MultiPolygon(), MultiPolygon(), region.area, 1.0, 1.0, True, False)


def test_margins_of_single_sides_go_before_the_rule():
    sides = (SideMargin(facing="x+", margin=m(0.2)), SideMargin(facing="y-", margin=m(0.0)))
    cut = cut_line(extent(shapely.box(1, 1, 1.5, 1.5)), Cut(margin=m(0.05), sides=sides, radius=m(0)), ZONE)
    assert cut.region.bounds == pytest.approx((0.95, 1.0, 1.7, 1.55))
    assert cut.sides["x+"] == pytest.approx(0.2)


def test_as_far_again_is_measured_from_the_fitting_that_let_the_water_in():
    cleat = Fitting(id="f1", name="cleat", x=1.1, y=1.0, width=m(0.1), height=m(0.1))
    bad = shapely.box(1.0, 0.9, 1.6, 1.1)  # 50 mm aft of the cleat, 450 mm forward of it
    cut = cut_line(extent(bad), Cut(rule="as far again", radius=m(0)), ZONE, (cleat,))
    assert cut.region.bounds == pytest.approx((0.95, 0.85, 2.05, 1.15), abs=1e-6)


def test_as_far_again_from_an_edge_is_the_whole_width():
    bad = shapely.box(0.0, 0.4, 0.1, 1.4)  # a band along the after edge
    cut = cut_line(extent(bad), Cut(rule="as far again", radius=m(0), shape="free"), ZONE)
    assert cut.sides["x+"] == pytest.approx(0.1)


# ---- saved skins ----


@given(st.floats(0.2, 1.0), st.floats(2, 15), st.floats(4, 12))
def test_pieces_are_light_and_small_enough_and_with_the_slits_make_the_cut(largest, most, weight):
    region = clean(Point(1.5, 1).buffer(0.6))
    made = saved_skin(region, largest, weight, most, 0.003)
    assert [p.number for p in made.pieces] == list(range(1, len(made.pieces) + 1))
    for piece in made.pieces:
        assert piece.weight <= most + 1e-9 and piece.weight == pytest.approx(piece.region.area * weight)
    assert sum(p.region.area for p in made.pieces) + made.slits.area == pytest.approx(region.area, rel=1e-6)


def test_a_small_cut_is_lifted_in_one_piece():
    made = saved_skin(clean(shapely.box(0, 0, 0.4, 0.3)), 0.6, 6.0, 12.0, 0.004)
    assert len(made.pieces) == 1
    assert made.slits.area == pytest.approx(0.4 * 0.3 - 0.396 * 0.296)


# ---- backing ----


def test_backing_covers_hole_and_lap_with_strips_that_pass_through():
    hole = clean(shapely.box(1, 0.8, 1.4, 1.0))
    made = backing_of(hole, stack(2), 0.05, 0.03)
    assert shapely.union_all(made.strips).buffer(1e-6).covers(offset(hole, 0.05))
    assert all(
        min(s.bounds[2] - s.bounds[0], s.bounds[3] - s.bounds[1]) <= 0.2 + 1e-6 or narrowest(s) <= 0.2
        for s in made.strips
    )
    assert made.lap_area == pytest.approx(2 * 0.05 * (0.4 + 0.2) + math.pi * 0.05**2, rel=5e-3)
    assert made.weight == pytest.approx(made.area * stack(2).weight)
    assert len(made.outlines) == 2 * len(made.strips)


def test_narrowest_way_through_a_slanted_slot():
    slot = shapely.affinity.rotate(shapely.box(0, 0, 0.5, 0.08), 30)
    assert narrowest(slot) == pytest.approx(0.08, rel=1e-6)


# ---- pits ----


def points(*rows):
    return tuple(DepthPoint(id=f"d{k}", x=x, y=y, depth=m(d)) for k, (x, y, d) in enumerate(rows))


def test_depths_are_kept_at_their_points_and_within_their_range():
    noted = points((1, 1, 0.002), (1.4, 1, 0.005), (1.2, 1.3, 0.001))
    at = np.array([[1, 1], [1.4, 1.0], [1.2, 1.3]])
    assert depth_between(noted, at) == pytest.approx([0.002, 0.005, 0.001])
    anywhere = depth_between(noted, np.random.default_rng(1).uniform(0, 2, (200, 2)))
    assert anywhere.min() >= 0.001 and anywhere.max() <= 0.005


def test_an_even_pit_has_the_volume_of_a_truncated_cone():
    """Radius r, depth d, rising at R to r + R d: pi d (r2 + r (r + Rd) + (r + Rd)2) / 3."""
    r, d, ratio = 0.2, 0.004, 20.0
    pit = pit_of(clean(Point(1.5, 1).buffer(r, quad_segs=64)), points((1.5, 1, d)), ratio, ZONE)
    outer = r + ratio * d
    assert pit.deepest == pytest.approx(d)
    assert pit.volume == pytest.approx(math.pi * d * (r * r + r * outer + outer * outer) / 3, rel=0.01)
    assert pit.deeper(0.0).area == pytest.approx(math.pi * outer**2, rel=0.02)
    assert pit.deeper(d / 2).area == pytest.approx(math.pi * (r + ratio * d / 2) ** 2, rel=0.02)


def test_plies_of_a_pit_grow_upwards_and_fill_it():
    pit = pit_of(clean(Point(1.5, 1).buffer(0.2)), points((1.5, 1, 0.003)), 12.0, ZONE)
    plies = stack(5)
    areas = [region.area for region in fill_outlines(pit, plies, ZONE)]
    assert areas == sorted(areas) and areas[0] >= math.pi * 0.2**2 * 0.98
    assert sum(f.volume for f in putty_by_depth(pit, plies, 0.003, 0.0005)) < pit.volume * 0.02


def test_without_plies_all_of_a_pit_is_putty_of_its_depth():
    pit = pit_of(clean(Point(1.5, 1).buffer(0.2)), points((1.5, 1, 0.004)), 12.0, ZONE)
    deep, middling, scratches = putty_by_depth(pit, stack_up((), "epoxy-5-1-slow", "hand", SHELF), 0.003, 0.0005)
    assert deep.volume + middling.volume + scratches.volume == pytest.approx(pit.volume, rel=1e-3)
    assert deep.volume > middling.volume > scratches.volume


def test_no_depth_no_pit():
    assert pit_of(clean(Point(1.5, 1).buffer(0.2)), (), 12.0, ZONE) is None
    assert pit_of(MultiPolygon(), points((1, 1, 0.002)), 12.0, ZONE) is None


# ---- strips ----


def test_strips_cover_the_ply_and_no_two_laps_coincide():
    whole = line(shapely.box(0.2, 0.1, 2.8, 1.9))
    made = band_of(whole, Taper(), 0.0, 0, 0.012, ZONE, ())
    outlines = ply_outlines(whole, made, stack(5), "smallest first", 0.0, ZONE)
    strips = strips_of(outlines, 0.05, 0.1)
    for one, outline in zip(strips, outlines, strict=True):
        assert shapely.union_all(one.pieces).buffer(1e-6).covers(outline.region)
        assert len(one.joints) >= 1 and one.apart >= 0.1
        assert sum(p.area for p in one.pieces) == pytest.approx(
            outline.region.area + 2.6 * 0.05 * len(one.joints), rel=1e-3
        )


def test_a_ply_narrower_than_its_roll_has_no_joint():
    small = line(shapely.box(1, 1, 1.5, 1.5))
    outlines = ply_outlines(small, band(small), stack(2), "smallest first", 0.0, ZONE)
    assert all(s.joints == () for s in strips_of(outlines, 0.05, 0.1))


# ---- whole patches ----


@pytest.fixture
def topside(job):
    return job.zone("z4")


def with_scheme(zone, **changes):
    return evolve(zone, scheme=rescheme(zone.scheme, **changes))


def test_two_faces_of_a_solid_laminate_share_its_thickness(topside):
    zone = with_scheme(topside, second=Face(share=m(0.4), plies=topside.scheme.laminate.plies))
    patch = patch_of(zone, SHELF)
    assert patch.band.thickness == pytest.approx(0.6 * 0.007) and patch.second.band.thickness == pytest.approx(
        0.4 * 0.007
    )
    one = patch_of(topside, SHELF)
    assert patch.ground_volume < one.ground_volume
    assert len(patch.all_outlines) == 2 * len(one.all_outlines)


def test_two_faces_of_a_sandwich_are_its_two_skins(job):
    deck = with_scheme(job.zone("z1"), second=Face(plies=(StackLine(fabric="biax-45-600", count=3),)))
    patch = patch_of(deck, SHELF)
    assert patch.second.band.thickness == pytest.approx(0.0025) and patch.band.thickness == pytest.approx(0.004)


def test_from_above_both_skins_of_a_transom_stay(job):
    transom = with_scheme(job.zone("z2"), side="above")
    patch = patch_of(transom, SHELF)
    assert patch.outlines == () and patch.ground_volume == 0 and patch.cut.region.area > 0


def test_a_saved_skin_is_laminated_only_over_its_slits(job):
    deck = job.zone("z1")
    saved = patch_of(with_scheme(deck, cut=evolve(deck.scheme.cut, saved=True)), SHELF)
    whole = patch_of(deck, SHELF)
    assert saved.saved is not None and saved.cut.region.equals(whole.cut.region)
    assert saved.face.opening.region.area < 0.1 * whole.cut.region.area
    assert sum(o.region.area for o in saved.outlines) < sum(o.region.area for o in whole.outlines)


def test_part_depth_grinds_a_pit_and_leaves_the_skin(topside):
    zone = evolve(with_scheme(topside, part_depth=True), depths=points((0.72, 0.34, 0.003)))
    patch = patch_of(zone, SHELF)
    assert patch.pit is not None and not patch.through
    assert patch.ground_volume == pytest.approx(patch.pit.volume)
    assert patch_of(with_scheme(topside, part_depth=True), SHELF).pit is None


def test_backing_goes_with_the_hole(topside):
    patch = patch_of(with_scheme(topside, backing=Backing()), SHELF)
    assert patch.backing is not None and patch.all_outlines[0] is patch.backing.outlines[0]


# ---- awkward outlines ----


def test_bands_of_two_cuts_merge_where_they_meet():
    near = line(shapely.union_all([shapely.box(1, 0.5, 1.2, 1), shapely.box(1.25, 0.5, 1.45, 1)]))
    made = band(near)
    assert len(made.outer.geoms) == 1
    assert made.region.area < 2 * band(line(shapely.box(1, 0.5, 1.2, 1))).region.area
    outlines = ply_outlines(near, made, stack(), "largest first", 0.0, ZONE)
    assert len(outlines[0].region.geoms) == 1 and len(outlines[-1].region.geoms) == 2


def test_a_hole_in_the_cut_narrows_and_closes():
    """An island of 60 mm inside the cut: a taper of 48 mm from all sides closes it."""
    island = line(shapely.box(1, 0.5, 2, 1.5).difference(shapely.box(1.47, 0.97, 1.53, 1.03)))
    made = band(island)
    assert made.region.area == pytest.approx(band(box_line()).region.area + 0.06**2, rel=1e-3)
    assert all(len(p.interiors) == 0 for p in made.outer.geoms)


def test_slivers_are_no_parts_of_a_cut():
    sliver = shapely.box(0.2, 0.2, 0.2001, 0.3)
    assert len(line(shapely.union_all([shapely.box(1, 0.5, 2, 1.5), sliver])).region.geoms) == 1


@settings(max_examples=8)
@given(
    st.lists(st.tuples(st.floats(0.3, 2.7), st.floats(0.3, 1.7)), min_size=5, max_size=12, unique=True),
    st.floats(4, 25),
)
def test_a_band_is_the_same_by_adding_discs_along_the_line(places, ratio):
    """Area of any band against an independent sum: the cut grown as the union of discs set closely along its edge."""
    ring = shapely.MultiPoint(places).convex_hull
    if ring.geom_type != "Polygon" or ring.area < 0.02:
        return
    cut = line(ring)
    made = band_of(cut, Taper(ratio=m(ratio)), 0.004, 4, 0.012, ((-1, -1), (4, -1), (4, 3), (-1, 3)), ())
    steps = np.arange(0, ring.length, 0.004)
    discs = shapely.union_all(
        shapely.buffer(shapely.line_interpolate_point(ring.exterior, steps), made.length, quad_segs=16)
    )
    independent = shapely.union_all([ring, discs]).area - ring.area
    assert made.region.area == pytest.approx(independent, rel=0.01)


def test_mirrored_and_turned_outlines_have_the_same_areas(job):
    zone = job.zone("z4")
    flipped = evolve(
        zone, outline=tuple((-x, y) for x, y in reversed(zone.outline)),
        survey=evolve(zone.survey, drawn=tuple(tuple((-x, y) for x, y in ring) for ring in zone.survey.drawn)),
    )  # fmt: skip
    turned = evolve(
        zone, outline=tuple((-y, x) for x, y in zone.outline),
        survey=evolve(zone.survey, drawn=tuple(tuple((-y, x) for x, y in ring) for ring in zone.survey.drawn)),
    )  # fmt: skip
    areas = [[o.region.area for o in patch_of(z, SHELF).outlines] for z in (zone, flipped, turned)]
    assert areas[1] == pytest.approx(areas[0], rel=1e-6) and areas[2] == pytest.approx(areas[0], rel=1e-3)


def test_a_taper_that_eats_the_panel_is_told_with_the_largest_ratio_that_fits(job):
    from ribpatch.core.plan import plan

    zone = job.zone("z4")
    long = evolve(zone, scheme=evolve(zone.scheme, taper=Taper(ratio=m(100))))
    told = [n for n in plan(evolve(job, zones=(long,)), SHELF).notices if n.id == "z4.whole-panel"]
    least = patch_of(long, SHELF).band.least_ratio
    assert told and told[0].grave and f"{least:.1f}".rstrip("0").rstrip(".") in told[0].text
