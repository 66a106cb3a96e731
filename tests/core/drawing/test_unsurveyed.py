"""The hatch of what was not surveyed against cuts made by the geometry library, and by hand."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from ribpatch.core.drawing.unsurveyed import falling


def test_a_square_by_hand():
    found = falling(shapely.box(0.05, 0.05, 0.95, 0.95), 0.5)
    assert found == pytest.approx(
        np.array([[0.05, 0.45, 0.45, 0.05], [0.05, 0.95, 0.95, 0.05], [0.55, 0.95, 0.95, 0.55]])
    )
    assert falling(shapely.MultiPolygon(), 0.1).shape == (0, 4)


@given(st.integers(0, 2**32 - 1), st.floats(0.05, 0.4))
@settings(max_examples=30, deadline=None)
def test_the_pieces_lie_inside_and_are_as_long_as_those_of_the_geometry_library(seed, pitch):
    rng = np.random.default_rng(seed)
    discs = shapely.MultiPoint(rng.uniform(0, 2, (5, 2))).buffer(0.3)
    region = shapely.box(-0.3, -0.2, 2.2, 2.1).difference(discs)
    found = falling(region, pitch)
    lines = [shapely.LineString([(c - 5, 5), (c + 5, -5)]) for c in np.arange(-20, 100) * pitch]
    assert np.hypot(found[:, 2] - found[:, 0], found[:, 3] - found[:, 1]).sum() == pytest.approx(
        sum(line.intersection(region).length for line in lines), rel=1e-6
    )
    middles = shapely.points((found[:, 0] + found[:, 2]) / 2, (found[:, 1] + found[:, 3]) / 2)
    assert (shapely.distance(region, middles) < 1e-9).all()
