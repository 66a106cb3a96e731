from math import atan2, cos, degrees, hypot, pi, sin

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.photo.scene import RECTANGLE, SHAPE, lengths, rectangle, seen, spots

from ribpatch.core.errors import BadOutline, Fault
from ribpatch.core.photo.lens import bent, bow_of, off_lines, unbent
from ribpatch.core.photo.plane import camera_misfit, homography, moved
from ribpatch.core.photo.straightened import straight_words, straightened
from ribpatch.core.record import evolve
from ribpatch.core.set_straight import Straight
from ribpatch.core.units import Measure

OUTLINE = np.array([[0.0, 0.0], [1.5, 0.0], [1.6, 0.9], [0.1, 1.0]])
EDGES = (((0, 0), (1.5, 0)), ((0, 0.95), (1.6, 0.95)), ((1.5, 0), (1.5, 1)))


def off(made, places, **camera):
    return np.hypot(*(made.to_zone(seen(places, **camera)) - places).T)


def test_a_homography_of_the_unit_square_is_the_one_of_a_textbook():
    # Heckbert (1989): a square to a quadrilateral with corners (0,0) (2,0) (2,1) (0,2): g and h by his closed form.
    square = np.array([[0, 0], [1, 0], [1, 1], [0, 1.0]])
    quad = np.array([[0, 0], [2, 0], [2, 1], [0, 2.0]])
    dx, dy = quad[0] - quad[1] + quad[2] - quad[3]
    d1, d2 = quad[1] - quad[2], quad[3] - quad[2]
    det = d1[0] * d2[1] - d2[0] * d1[1]
    g, h = (dx * d2[1] - d2[0] * dy) / det, (d1[0] * dy - dx * d1[1]) / det
    found = homography(quad, square)
    assert found[2] / found[2, 2] == pytest.approx([g, h, 1])


@given(st.floats(-1, 1), st.floats(-2.0, -0.4), st.floats(0.6, 3), st.floats(-pi, pi), st.floats(0.6, 2))
@settings(max_examples=60, deadline=None)
def test_what_any_pinhole_camera_sees_is_laid_flat_to_the_last_figure(x, y, z, roll, focal):
    camera = {"eye": (x, y, z), "roll": roll, "focal": focal}
    made = straightened(rectangle(**camera))
    assert off(made, OUTLINE, **camera).max() < 1e-7
    assert made.camera < 1e-6
    assert np.abs(made.to_picture(OUTLINE) - seen(OUTLINE, **camera)).max() < 1e-9


@pytest.mark.parametrize(("k1", "k2", "within"), [(-0.12, 0.02, 4e-4), (-0.25, 0.05, 2e-3), (0.08, -0.01, 8e-4)])
def test_a_lens_of_another_formula_is_taken_out_by_points_along_straight_edges(k1, k2, within):
    lens = {"k1": k1, "k2": k2}
    plain, made = straightened(rectangle(**lens)), straightened(rectangle(edges=EDGES, **lens))
    assert off(plain, OUTLINE, **lens).max() > 6 * within
    assert off(made, OUTLINE, **lens).max() < within
    assert plain.straight is None and made.straight < made.bowed / 10


@given(st.floats(-0.2, 0.2), st.floats(-0.9, 0.9), st.floats(-0.7, 0.7))
def test_bending_undoes_unbending(k, u, v):
    at = np.array([[u, v]])
    assert bent(unbent(at, k), k) == pytest.approx(at, abs=1e-9)


def test_the_bow_of_lines_bent_by_a_known_one_is_that_one():
    lines = [np.column_stack([np.linspace(-0.8, 0.8, 12), np.full(12, y)]) for y in (-0.5, 0.1, 0.55)]
    for k in (-0.31, -0.04, 0.0, 0.11):
        assert bow_of([bent(line, k) for line in lines]) == pytest.approx(k, abs=1e-5)
    assert bow_of([]) == 0.0


def test_tapes_that_cross_square_are_as_good_as_a_rectangle():
    ends = np.array([[0.1, 0.5], [1.4, 0.5], [0.6, 0.05], [0.6, 0.9]])
    straight = Straight(how="tapes", marks=spots(ends), sizes=lengths(1.3, 0.85, 0.5, 0.45), shape=SHAPE, x=0.1, y=0.5)
    assert off(straightened(straight), OUTLINE).max() < 1e-7
    with pytest.raises(BadOutline, match="beyond an end"):
        straightened(evolve(straight, sizes=lengths(1.3, 0.85, 1.4, 0.45)))


def test_six_distances_between_four_points_say_how_they_agree():
    points = np.array([[0.0, 0.0], [1.1, 0.0], [1.25, 0.8], [0.2, 0.65]])

    def between(*pairs):
        return [hypot(*(points[a] - points[b])) for a, b in pairs]

    sizes = between((0, 1), (1, 2), (2, 3), (3, 0), (0, 2), (1, 3))
    straight = Straight(how="distances", marks=spots(points), sizes=lengths(*sizes), shape=SHAPE)
    made = straightened(straight)
    assert off(made, OUTLINE).max() < 1e-6 and made.misfit < 1e-9
    slipped = straightened(evolve(straight, sizes=lengths(*sizes[:5], sizes[5] + 0.05)))
    assert slipped.misfit > 0.01 and slipped.suspect


def test_the_plane_is_laid_at_a_place_and_turned():
    turned = np.array([[0.3, 0.2], *([0.3 + cos(0.4), 0.2 + sin(0.4)],)])
    straight = evolve(rectangle(), x=0.3, y=0.2, turn=Measure(si=degrees(0.4)))
    made = straightened(straight)
    assert made.marks[:2] == pytest.approx(turned)
    assert degrees(atan2(*(made.marks[1] - made.marks[0])[::-1])) == pytest.approx(degrees(0.4))


def test_marks_set_the_other_way_round_are_seen_from_behind():
    assert not straightened(rectangle()).mirrored
    assert straightened(evolve(rectangle(), marks=tuple(reversed(rectangle().marks)))).mirrored


def test_a_check_is_read_out_of_the_picture_and_not_used():
    a, b = (0.2, 0.1), (1.2, 0.7)
    made = straightened(rectangle(checks=((a, b, 1.2),)))
    assert made.checks[0].read == pytest.approx(hypot(1.0, 0.6), abs=1e-6) and made.checks[0].measured == 1.2
    assert off(made, OUTLINE).max() < 1e-7
    assert made.suspect and "Something is off" in straight_words(made, "metric")[-1]
    assert not straightened(rectangle(checks=((a, b, 1.166),))).suspect


def test_a_camera_tells_corners_that_no_camera_sees():
    assert np.abs(camera_misfit(seen(RECTANGLE) - [0.5, SHAPE / 2], RECTANGLE)).max() < 1e-6
    square_on = {"eye": (0.7, 0.4, 2.0), "target": (0.7, 0.4001)}
    swapped = straightened(rectangle(sizes=(0.6, 1.0), **square_on))
    assert swapped.suspect  # the sizes of the two sides were swapped
    assert straightened(rectangle(sizes=(1.0, 0.67), **square_on)).suspect


def test_how_far_off_a_place_may_be_read_is_what_clicks_with_noise_make():
    rng = np.random.default_rng(5)
    made = straightened(rectangle())
    spread = made.spread(OUTLINE)
    tries = []
    for _ in range(60):
        noisy = evolve(rectangle(), marks=tuple(map(tuple, seen(RECTANGLE) + rng.normal(0, 0.001, (4, 2)))))
        clicked = seen(OUTLINE) + rng.normal(0, 0.001, OUTLINE.shape)
        tries.append(((straightened.function(noisy).to_zone(clicked) - OUTLINE) ** 2).sum(axis=1))
    assert spread == pytest.approx(np.sqrt(np.mean(tries, axis=0)), rel=0.2)


def test_what_lies_above_the_horizon_is_no_place():
    low = {"eye": (0.7, -1.5, 0.4), "target": (0.7, 0.4), "roll": 0.0}
    made = straightened(rectangle(**low))
    assert np.isnan(made.to_zone(np.array([[0.5, -0.9]]))).all()
    assert np.isnan(made.to_picture(np.array([[0.7, -40.0]]))).all()  # behind the camera


def test_what_lies_over_the_plane_is_off_by_its_height_times_the_slant():
    made = straightened(rectangle())
    at = np.array([[0.7, 0.4]])
    read = made.to_zone(seen(at, heights=0.02))
    along = np.array([0.7, 0.4]) - np.array([0.6, -0.8])
    assert read - at == pytest.approx(0.02 / (1.4 - 0.02) * along[None], rel=1e-6)


@pytest.mark.parametrize(
    ("marks", "said"),
    [
        (((0.1, 0.1), (0.5, 0.1), (0.9, 0.1), (0.5, 0.6)), "in one line"),
        (((0.1, 0.1), (0.9, 0.6), (0.9, 0.1), (0.1, 0.6)), "not in order"),
    ],
)
def test_marks_that_make_no_plane_are_told(marks, said):
    with pytest.raises(BadOutline, match=said):
        straightened(evolve(rectangle(), marks=marks))


@pytest.mark.parametrize("given_sizes", [(), lengths(1.0), lengths(1.0, 0.6, 0.3), lengths(0.0, 0.6)])
def test_sizes_that_are_too_few_or_nothing_are_refused(given_sizes):
    with pytest.raises(Fault):
        evolve(rectangle(), sizes=given_sizes)


def test_words_say_what_was_and_was_not_taken_out():
    words = straight_words(straightened(rectangle()), "metric")
    assert "lens is not taken out" in words[1] and "Nothing checks the sizes" in words[2]
    words = straight_words(straightened(rectangle(edges=EDGES, k1=-0.2, checks=(((0, 0), (1, 0), 1.0),))), "us")
    assert "bowed by" in words[1] and "as measured" in words[2] and "mm" not in " ".join(words)


def test_a_place_behind_a_homography_moves_to_nothing():
    with np.errstate(all="raise"):
        assert np.isnan(moved(np.array([[1.0, 0.0]]), np.array([[1, 0, 0], [0, 1, 0], [1, 0, -1.0]]))).all()


def test_how_far_a_point_lies_off_its_line_is_told_in_the_picture_as_it_is():
    for k in (-0.35, 0.2):
        line = bent(np.column_stack([np.linspace(-0.75, 0.75, 401), np.zeros(401)]), k)
        for at in (40, 200, 390):
            off_one = line.copy()
            off_one[at, 1] += 0.004  # across the line, and across the way from the middle: nothing stretches there
            told = off_lines([off_one], k)
            assert abs(told[at]) == pytest.approx(0.004, rel=0.025)
            assert np.abs(np.delete(told, at)).max() < 2e-4


def test_a_camera_upside_down_over_the_plane_is_posed_too():
    for roll in (0.0, pi, pi / 2):
        made = straightened(rectangle(eye=(0.7, 0.4, 1.8), target=(0.7, 0.40001), roll=roll))
        assert made.camera < 1e-6


def test_a_wrong_focal_length_is_found_again_and_one_beyond_reason_is_not_believed():
    seen_long = rectangle(focal=8.0, eye=(0.6, -8, 14))
    assert straightened(rectangle(focal=1.8)).camera < 1e-6
    assert straightened(seen_long).camera > 1e-5  # longer than any lens that is thought of
