"""Words that do not collide: invariants of the placing."""

from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.drawing.labels import first_free, free_box, overlaps, spread

ROOM = (0.0, 0.0, 400.0, 300.0)
boxes = st.tuples(st.floats(0, 380), st.floats(0, 280), st.floats(1, 120), st.floats(1, 60))


def test_boxes_that_share_only_an_edge_do_not_overlap():
    assert not overlaps((0, 0, 10, 10), (10, 0, 10, 10)) and not overlaps((0, 0, 10, 10), (0, 10, 10, 10))
    assert overlaps((0, 0, 10, 10), (9.99, 9.99, 10, 10))


@given(boxes, boxes)
def test_overlap_is_the_same_from_both_sides(a, b):
    assert overlaps(a, b) == overlaps(b, a)
    assert overlaps(a, a)


@given(st.floats(0, 400), st.floats(0, 300), st.lists(boxes, max_size=12))
def test_a_place_found_is_free_and_in_the_room(x, y, taken):
    box = free_box(x, y, 60, 14, taken, ROOM)
    if box is not None:
        assert not any(overlaps(box, other) for other in taken)
        assert box[0] >= 0 and box[1] >= 0 and box[0] + 60 <= 400 and box[1] + 14 <= 300


def test_the_first_choice_is_right_of_the_point_and_the_next_is_left():
    right = free_box(200, 150, 60, 14, [], ROOM)
    assert right == (206, 143, 60, 14)
    left = free_box(200, 150, 60, 14, [right], ROOM)
    assert left == (134, 143, 60, 14)
    assert free_box(200, 150, 60, 14, [ROOM], ROOM) is None


def test_places_are_tried_all_round_and_then_further_off():
    taken, found = [], []
    for _ in range(9):
        box = free_box(200, 150, 60, 14, taken, ROOM)
        found.append(box[:2])
        taken.append((box[0] + 29, box[1] + 6, 2, 2))  # only its middle, so that its neighbours stay free
    assert found == [(206, 143), (134, 143), (170, 130), (170, 156), (206, 130), (206, 156), (134, 130), (134, 156), (170, 120)]  # fmt: skip


def test_the_first_free_of_some_boxes_is_taken():
    boxes = [(10, 10, 20, 10), (40, 10, 20, 10), (395, 10, 20, 10)]
    assert first_free(boxes, [], ROOM) == boxes[0] and first_free(boxes, [(25, 15, 5, 5)], ROOM) == boxes[1]
    assert first_free(boxes[2:], [], ROOM) is None and first_free([ROOM], [], ROOM) == ROOM


@given(st.lists(st.floats(-50, 350), min_size=1, max_size=12))
def test_lines_of_text_keep_their_order_and_do_not_touch(wanted):
    height, low, high = 16.0, 0.0, 300.0
    placed = spread(wanted, height, low, high)
    in_order = [placed[i] for i in sorted(range(len(wanted)), key=lambda i: wanted[i])]
    assert all(b - a >= height - 1e-9 for a, b in pairwise(in_order))
    assert in_order[0] >= low + height / 2 - 1e-9 and in_order[-1] <= high - height / 2 + 1e-9


@given(st.lists(st.integers(0, 5), min_size=1, max_size=5, unique=True))
def test_lines_that_have_room_stay_where_they_are(places):
    wanted = [20.0 + 40.0 * p for p in places]
    assert spread(wanted, 16, 0, 300) == wanted
