"""Lamination theory against printed textbook values, closed forms and invariants."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.laminate.elastic import Elastic, fibre_volume, halpin_tsai, random_mat, straight
from ribpatch.core.laminate.layup import NO_LIMIT, Layup, Sheet
from ribpatch.core.laminate.match import match_of
from ribpatch.core.laminate.plate import heights, plate, reduced, turned
from ribpatch.core.laminate.strength import failures, layer_strains, used
from ribpatch.core.materials.records import Fibre, Resin

# Graphite/epoxy of the textbook examples ([16], table 2.1): E1 181, E2 10.3, G12 7.17 GPa, nu12 0.28.
GRAPHITE = Elastic(181e9, 10.3e9, 7.17e9, 0.28)


def layup(angles, thickness=0.005, elastic=GRAPHITE, limits=NO_LIMIT):
    sheets = [Sheet(k + 1, "stitched", thickness, a, elastic, limits) for k, a in enumerate(angles)]
    return Layup(tuple(sheets))


def test_reduced_stiffness_of_the_textbook_lamina():
    q = reduced(*np.array([[181e9], [10.3e9], [7.17e9], [0.28]]))[0]
    assert q[0, 0] == pytest.approx(181.8e9, rel=1e-3)
    assert q[0, 1] == pytest.approx(2.897e9, rel=1e-3)
    assert q[1, 1] == pytest.approx(10.35e9, rel=1e-3)


def test_turned_stiffness_of_the_textbook_lamina_at_60_degrees():
    q = turned(reduced(*np.array([[181e9], [10.3e9], [7.17e9], [0.28]])), np.array([60.0]))[0] / 1e9
    assert q == pytest.approx(np.array([[23.65, 32.46, 20.05], [32.46, 109.4, 54.19], [20.05, 54.19, 36.74]]), rel=2e-3)


def test_a_b_d_of_the_textbook_laminate_0_30_minus_45():
    """[16] example 4.2: three plies of 5 mm. The book counts z downward, its first ply on top."""
    p = layup([-45, 30, 0]).plate  # bottom up
    a = np.array([[1.739e9, 3.884e8, 5.663e7], [3.884e8, 4.533e8, -1.141e8], [5.663e7, -1.141e8, 4.525e8]])
    b = np.array([[-3.129e6, 9.855e5, -1.072e6], [9.855e5, 1.158e6, -1.072e6], [-1.072e6, -1.072e6, 9.855e5]])
    d = np.array([[3.343e4, 6.461e3, -5.240e3], [6.461e3, 9.320e3, -5.596e3], [-5.240e3, -5.596e3, 7.663e3]])
    assert pytest.approx(a, rel=2e-3) == p.A
    assert pytest.approx(-b, rel=2e-3) == p.B  # z upward turns the sign of B
    assert pytest.approx(d, rel=2e-3) == p.D


def test_strains_of_the_textbook_laminate_under_equal_pulls():
    """[16] example 4.3: Nx = Ny = 1000 N/m."""
    got = np.array([1000, 1000, 0, 0, 0, 0.0]) @ layup([-45, 30, 0]).plate.compliance.T
    assert got[:3] == pytest.approx([3.123e-7, 3.492e-6, -7.598e-7], rel=3e-3)
    assert got[3:] == pytest.approx([-2.971e-5, 3.285e-4, -4.101e-4], rel=3e-3)


def test_micromechanics_of_the_textbook_glass_epoxy():
    """[16] examples 3.4 to 3.10: Ef 85, Em 3.4 GPa, 70 % fibre: E1 60.52, E2 by Halpin and Tsai 20.20, G12 6.169
    GPa.
    """
    assert pytest.approx(60.52) == 0.7 * 85 + 0.3 * 3.4
    assert halpin_tsai(85.0, 3.4, 0.7, 2) == pytest.approx(20.20, rel=1e-3)
    assert halpin_tsai(35.42, 1.308, 0.7, 1) == pytest.approx(6.169, rel=2e-3)


def test_fibre_volume_from_mass():
    """[16] example 3.1: densities 2500 and 1200, mass fraction 0.8294 at 70 % of volume."""
    assert fibre_volume(0.8294, 2500, 1200) == pytest.approx(0.70, rel=1e-3)


def test_a_mat_is_alike_all_ways(shelf):
    fibre, resin = shelf.fibre("e-glass"), shelf.resin("polyester-ortho")
    assert isinstance(fibre, Fibre) and isinstance(resin, Resin)
    one = straight(fibre, resin, 0.17)
    mat = random_mat(one)
    assert mat.e1 == mat.e2 == pytest.approx(3 / 8 * one.e1 + 5 / 8 * one.e2)
    assert mat.g12 == pytest.approx(mat.e1 / (2 * (1 + mat.nu12)))
    assert 6e9 < mat.e1 < 9e9  # hand-laid mat is published at 6 to 9 GPa


def test_a_plain_plate_has_the_closed_form_stiffness():
    e, nu, t = 70e9, 0.3, 0.004
    p = layup([0, 0], t / 2, Elastic(e, e, e / 2 / (1 + nu), nu)).plate
    assert p.D[0, 0] == pytest.approx(e * t**3 / 12 / (1 - nu**2))
    assert p.in_plane[:2] == pytest.approx([e, e])
    assert p.flexural == pytest.approx([e, e])
    assert p.neutral == pytest.approx([0, 0], abs=1e-15)


def test_a_bimetal_strip_bends_about_the_textbook_axis():
    """Two layers, modulus ratio n and 1, equal thickness h: the axis lies h/2 (n - 1)/(n + 1) towards the stiffer."""
    h, n = 0.002, 4.0
    soft, stiff = (Elastic(e, e, e / 2, 0.0) for e in (10e9, 10e9 * n))
    p = Layup((Sheet(1, "x", h, 0, soft, NO_LIMIT), Sheet(2, "x", h, 0, stiff, NO_LIMIT))).plate
    assert p.neutral[0] == pytest.approx(h / 2 * (n - 1) / (n + 1))
    parts = 10e9 * h**3 / 12 * (1 + n) + 10e9 * h * (h / 2 + p.neutral[0]) ** 2 + 40e9 * h * (h / 2 - p.neutral[0]) ** 2
    assert p.bending[0] == pytest.approx(parts)


angles = st.lists(st.sampled_from([0.0, 30.0, 45.0, -45.0, 90.0, -60.0]), min_size=1, max_size=6)


@given(angles)
def test_turning_the_whole_laminate_by_90_swaps_along_and_across(which):
    a, b = layup(which).plate, layup([w + 90 for w in which]).plate
    assert a.A[0, 0] == pytest.approx(b.A[1, 1]) and a.D[1, 1] == pytest.approx(b.D[0, 0])
    assert a.in_plane[0] == pytest.approx(b.in_plane[1])


@given(angles)
def test_the_mirror_image_has_the_same_a_and_d_and_b_turned(which):
    a, b = layup(which).plate, layup(which[::-1]).plate
    assert pytest.approx(b.A, rel=1e-9, abs=1) == a.A
    assert pytest.approx(b.D, rel=1e-9, abs=1e-3) == a.D
    assert pytest.approx(-b.B, rel=1e-9, abs=10) == a.B


@given(angles)
def test_invariants_of_turning_hold_for_a(which):
    """A11 + A22 + 2 A12 and A66 - A12 do not change when the laminate is turned. [15] chapter 2."""
    a, b = layup(which).plate.A, layup([w + 17 for w in which]).plate.A
    assert a[0, 0] + a[1, 1] + 2 * a[0, 1] == pytest.approx(b[0, 0] + b[1, 1] + 2 * b[0, 1])
    assert a[2, 2] - a[0, 1] == pytest.approx(b[2, 2] - b[0, 1])


@given(st.permutations([0.0, 45.0, -45.0, 90.0]))
def test_order_does_not_matter_for_stretching(which):
    assert pytest.approx(layup([0.0, 45.0, -45.0, 90.0]).plate.A, rel=1e-9, abs=1) == layup(which).plate.A


def test_many_laminates_at_once_are_as_one_by_one():
    rng = np.random.default_rng(3)
    turns = rng.choice([0.0, 45.0, 90.0], size=(50, 6))
    q = reduced(*(np.full((50, 6), v) for v in (181e9, 10.3e9, 7.17e9, 0.28)))
    many = plate(turned(q, turns), np.full((50, 6), 0.001))
    for k in (0, 17, 49):
        one = layup(turns[k], 0.001).plate
        assert many.D[k] == pytest.approx(one.D) and many.B[k] == pytest.approx(one.B, abs=1e-6)


def test_faces_are_counted_from_the_middle():
    assert heights(np.array([0.001, 0.003])) == pytest.approx([-0.002, -0.001, 0.002])


LIMITS = (0.010, 0.008, 0.004, 0.012, 0.015)


def test_one_ply_fails_at_its_limits():
    """A single layer pulled along its fibres fails at E1 x limit x t; across them at E2 x limit x t."""
    fails = {f.load: f for f in failures(layup([0.0], 0.002, GRAPHITE, LIMITS))}
    assert fails["tension along"].first == pytest.approx(181e9 * 0.010 * 0.002)
    assert fails["compression along"].first == pytest.approx(181e9 * 0.008 * 0.002)
    assert fails["tension across"].first == pytest.approx(10.3e9 * 0.004 * 0.002)
    assert fails["tension across"].mode == "cracks across the fibres"
    assert fails["shear"].first == pytest.approx(7.17e9 * 0.015 * 0.002)


def test_one_ply_in_bending_fails_at_its_section_modulus():
    fails = {f.load: f for f in failures(layup([0.0], 0.002, GRAPHITE, LIMITS))}
    expected = 181e9 * 0.008 * 0.002**2 / 6  # compression has the lower limit
    assert fails["bending along, top stretched"].first == pytest.approx(expected)
    assert fails["bending along, bottom stretched"].first == pytest.approx(expected)


def test_cross_ply_cracks_across_long_before_its_fibres_break():
    fails = {f.load: f for f in failures(layup([0, 90, 90, 0], 0.001, GRAPHITE, LIMITS))}
    one = fails["tension along"]
    assert one.mode == "cracks across the fibres" and one.ply in (2, 3)
    assert one.fibres == pytest.approx(one.first * 0.010 / 0.004, rel=0.02)


@given(angles, st.floats(0.1, 10))
def test_strains_grow_in_step_with_the_load(which, k):
    made = layup(which, 0.001, GRAPHITE, LIMITS)
    load = np.array([[1e4, -3e3, 2e3, 5.0, 1.0, 0.0]])
    one, more = (used(layer_strains(made, load * f), made.limits) for f in (1, k))
    assert more == pytest.approx(one * k, rel=1e-9, abs=1e-12)


# ---- laminates of other kinds held against one another ----


def test_a_break_leaves_out_cracks_across_fibres_and_counts_mat_and_shear():
    """Cross ply: cracks come first, fibres break last; a mat breaks at its own limit; 0/90 in shear breaks in shear."""
    cross = {f.load: f for f in failures(layup([0, 90, 90, 0], 0.001, GRAPHITE, LIMITS))}
    one = cross["tension along"]
    assert one.breaks == one.fibres > 2 * one.first
    assert (
        cross["shear"].breaks == pytest.approx(7.17e9 * 0.015 * 0.004)
        and cross["shear"].fibres > 1e3 * cross["shear"].breaks
    )
    mat = Sheet(1, "mat", 0.002, 0.0, Elastic(9e9, 9e9, 3.4e9, 0.32), (0.01, 0.012, 0.01, 0.012, 0.015))
    pulled = {f.load: f for f in failures(Layup((mat,)))}["tension across"]
    assert pulled.breaks == pulled.first == pytest.approx(9e9 * 0.01 * 0.002)


def test_bending_is_compared_with_either_face_stretched():
    """Stiff weak fibres below, a tough layer above: with its bottom stretched it is far weaker than with its top."""
    tough = Sheet(1, "stitched", 0.002, 0.0, Elastic(20e9, 20e9, 4e9, 0.3), (0.02, 0.02, 0.02, 0.02, 0.02))
    weak = Sheet(2, "stitched", 0.002, 0.0, Elastic(20e9, 20e9, 4e9, 0.3), (0.002, 0.02, 0.002, 0.02, 0.02))
    even, uneven = Layup((tough, tough)), Layup((weak, tough))
    match = match_of(uneven, even, 1.0, 1.0)
    assert match.ratio("strong.bending.along") == pytest.approx(1.0)
    assert match.ratio("strong.bending.along.bottom") == pytest.approx(0.1)
    assert match.least("strong.bending.along") == pytest.approx(0.1) == match.least("strong.bending.across")
