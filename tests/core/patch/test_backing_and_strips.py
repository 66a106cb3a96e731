"""Backing strips that pass through their hole, and strips of cloth whose laps keep apart."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import MultiPolygon

from ribpatch.core.laminate.stack import stack_up
from ribpatch.core.patch.backing import backing_of, narrowest
from ribpatch.core.patch.plies import PlyOutline
from ribpatch.core.patch.strips import strips_of
from ribpatch.core.scheme import StackLine
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
STACK = stack_up((StackLine(fabric="biax-45-450", count=2),), "epoxy-5-1-slow", "hand", SHELF)


@given(st.floats(0.08, 0.5), st.floats(0.08, 0.5), st.floats(0.02, 0.1))
def test_every_strip_passes_through_the_hole_and_together_they_cover_it(long, wide, lap):
    hole = shapely.box(0, 0, long, wide)
    made = backing_of(MultiPolygon([hole]), STACK, lap, 0.05)
    for strip in made.strips:
        assert narrowest(strip) <= narrowest(hole) * 0.9 + 1e-9
    covered = shapely.union_all(list(made.strips))
    assert covered.buffer(1e-6).covers(hole.buffer(lap * 0.99))


def outline(number, width, length=2.0):
    laid = stack_up((StackLine(fabric="biax-090-600", count=number),), "epoxy-5-1-slow", "hand", SHELF).plies[-1]
    return PlyOutline(laid, 0.0, 0.0, MultiPolygon([shapely.box(0, 0, length, width)]))


@pytest.mark.parametrize("width", [2.0, 3.1, 4.5])
def test_the_laps_of_neighbouring_plies_keep_their_stagger(width):
    strips = strips_of(tuple(outline(n, width) for n in range(1, 5)), 0.05, 0.1)
    joints = [s.joints for s in strips]
    assert all(joints)
    for n, one in enumerate(joints):
        for other in joints[:n]:
            assert np.abs(np.subtract.outer(one, other)).min() >= 0.1 - 1e-9
