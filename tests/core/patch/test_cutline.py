"""The cut line against closed forms."""

import math

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import MultiPolygon, Point

from ribpatch.core.geometry import clean
from ribpatch.core.patch.cutline import band_width, cut_line
from ribpatch.core.scheme import Cut
from ribpatch.core.survey.extent import Extent
from ribpatch.core.units import Measure

ZONE = ((0.0, 0.0), (3.0, 0.0), (3.0, 2.0), (0.0, 2.0))


def extent(region) -> Extent:
    region = clean(region)
    return Extent(region, region, MultiPolygon(), MultiPolygon(), region.area, 1.0, 1.0, True, False)


def disc(x, y, r):
    return Point(x, y).buffer(r, quad_segs=64)


def cut(**fields) -> Cut:
    return Cut(**{k: Measure(si=v) if isinstance(v, float) else v for k, v in fields.items()})


def test_band_width_of_a_disc_is_its_radius_and_of_a_strip_its_width():
    assert band_width(disc(0, 0, 0.3)) == pytest.approx(0.3, rel=1e-3)
    assert band_width(shapely.box(0, 0, 50, 0.2)) == pytest.approx(0.2, rel=0.01)


def test_margin_grows_a_disc_by_the_margin():
    line = cut_line(extent(disc(1, 1, 0.2)), cut(margin=0.1, shape="free", radius=0.0), ZONE)
    assert line.region.area == pytest.approx(math.pi * 0.3**2, rel=2e-3)
    assert line.grown_by == pytest.approx(0.1)
    assert line.sound == pytest.approx(math.pi * (0.3**2 - 0.2**2), rel=5e-3)


def test_as_far_again_doubles_the_radius_of_a_disc():
    line = cut_line(extent(disc(1, 1, 0.2)), cut(rule="as far again", shape="free", radius=0.0), ZONE)
    assert line.region.area == pytest.approx(math.pi * 0.4**2, rel=5e-3)


def test_squared_up_is_a_box_with_rounded_corners():
    r = 0.05
    line = cut_line(extent(disc(1, 1, 0.2)), cut(margin=0.05, shape="squared", radius=r), ZONE)
    x0, y0, x1, y1 = line.region.bounds
    assert (x1 - x0, y1 - y0) == pytest.approx((0.5, 0.5), abs=2e-3)
    assert line.region.area == pytest.approx(0.25 - (4 - math.pi) * r * r, rel=3e-3)
    assert len(line.sharp.exterior.coords) == 5


@given(
    st.lists(st.tuples(st.floats(0.5, 2.5), st.floats(0.5, 1.5), st.floats(0.05, 0.3)), min_size=1, max_size=4),
    st.floats(0.0, 0.2), st.sampled_from(["squared", "free"]), st.sampled_from(["margin", "as far again"]), st.floats(0.0, 0.1),
)  # fmt: skip
def test_the_cut_never_leaves_damage_and_never_leaves_the_zone(discs, margin, shape, rule, radius):
    bad = shapely.union_all([disc(*d) for d in discs])
    line = cut_line(extent(bad), cut(margin=margin, shape=shape, rule=rule, radius=radius), ZONE)
    assert shapely.box(0, 0, 3, 2).buffer(1e-6).covers(line.region)
    limit = 1e-5 if shape == "squared" or radius <= margin else bad.area * 0.05
    assert line.missed <= limit


def test_two_blobs_near_each_other_become_one_cut():
    bad = shapely.union_all([disc(1, 1, 0.1), disc(1.25, 1, 0.1)])
    line = cut_line(extent(bad), cut(margin=0.05), ZONE)
    assert len(line.region.geoms) == 1


def test_a_drawn_line_is_taken_with_its_corners_rounded_and_what_it_misses_is_told():
    drawn = ((0.8, 0.8), (1.0, 0.8), (1.0, 1.2), (0.8, 1.2))
    line = cut_line(extent(disc(1, 1, 0.2)), Cut(drawn=(drawn,), radius=Measure(si=0.0)), ZONE)
    assert line.drawn and line.region.area == pytest.approx(0.08)
    assert line.missed == pytest.approx(math.pi * 0.04 / 2, rel=0.1)


def test_past_the_edge_is_trimmed_and_told():
    line = cut_line(extent(disc(0.1, 1, 0.09)), cut(margin=0.1), ZONE)
    assert line.trimmed and line.region.bounds[0] == pytest.approx(0)


def test_no_damage_no_cut():
    assert cut_line(extent(MultiPolygon()), Cut(), ZONE).region.is_empty
