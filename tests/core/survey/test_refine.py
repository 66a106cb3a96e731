"""A field's contours worked out finely: which cells are asked anew, and what is exact in them."""

import numpy as np
import pytest
import shapely

from ribpatch.core.survey.refine import finer, passed

X, Y = np.linspace(0, 1, 11), np.linspace(0, 0.6, 7)


def wavy(at):
    return np.sin(9 * at[:, 0]) + at[:, 1] ** 2, 1 + at[:, 0] * at[:, 1]


def coarse():
    x, y = np.meshgrid(X, Y)
    return tuple(v.reshape(x.shape) for v in wavy(np.column_stack([x.ravel(), y.ravel()])))


@pytest.mark.parametrize("times", [2, 4, 6])
def test_only_the_nodes_of_the_cells_asked_for_are_worked_out_and_are_exact(times):
    cells = np.zeros((6, 10), dtype=bool)
    cells[2, 3] = True
    asked = []

    def at(points):
        asked.append(points)
        return wavy(points)

    x, y, mean, deviation = finer(X, Y, coarse(), cells, at, times)
    assert (x.size, y.size) == (10 * times + 1, 6 * times + 1)
    (points,) = asked
    assert len(points) == (times + 1) ** 2
    assert points.min(axis=0) == pytest.approx((0.3, 0.2)) and points.max(axis=0) == pytest.approx((0.4, 0.3))
    inside = np.ix_((y > 0.2 - 1e-9) & (y < 0.3 + 1e-9), (x > 0.3 - 1e-9) & (x < 0.4 + 1e-9))
    places = np.column_stack([a.ravel() for a in np.meshgrid(x[inside[1].ravel()], y[inside[0].ravel()])])
    for made, true in zip((mean, deviation), wavy(places), strict=True):
        assert made[inside].ravel() == pytest.approx(true)
    # Elsewhere the old places keep their values, and what lies between is linear: exact for x times y.
    assert mean[::times, ::times] == pytest.approx(coarse()[0])
    assert deviation == pytest.approx(1 + np.outer(y, x))


def test_nothing_is_asked_where_no_cell_is_passed():
    made = finer(X, Y, coarse(), np.zeros((6, 10), dtype=bool), lambda _p: pytest.fail("was asked"), 4)
    assert made[2][::4, ::4] == pytest.approx(coarse()[0])


def test_a_line_passes_its_cells_and_those_that_it_nearly_touches():
    zone = shapely.box(-1, -1, 2, 2)
    mask = passed(X, Y, shapely.LineString([(0.02, 0.25), (0.98, 0.25)]), zone)
    assert mask[2].all() and mask.sum() == 10
    mask = passed(X, Y, shapely.LineString([(0.02, 0.22), (0.98, 0.22)]), zone)  # a fifth of a cell from the next row
    assert mask[1].all() and mask[2].all() and mask.sum() == 20


def test_the_edge_of_the_zone_is_no_contour():
    zone = shapely.box(0, 0, 1, 0.6)
    assert not passed(X, Y, zone.exterior, zone).any()
