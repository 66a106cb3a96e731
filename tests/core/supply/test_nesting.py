"""Pieces by their shape: sound layouts, known optima, bounds held against a second calculation, settled and mended."""

from __future__ import annotations

import random
from collections.abc import Callable
from itertools import pairwise, permutations

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.ops import split

from ribpatch.core.errors import BadOutline, Fault, InvalidValue
from ribpatch.core.supply.nesting import nest as nesting
from ribpatch.core.supply.nesting.convex import convex_parts
from ribpatch.core.supply.nesting.joining import taken_apart, wholes_of, within
from ribpatch.core.supply.nesting.nest import (
    area_used,
    by_boxes,
    constructed,
    nest,
    smallest_box,
    those_beside,
    turns_to_try,
)
from ribpatch.core.supply.nesting.settle import settled
from ribpatch.core.supply.nesting.shape import (
    Lying,
    Nested,
    Shape,
    area_of,
    chords_of,
    is_box,
    least_length,
    length_over,
    placed,
    turned,
    turns_that_fit,
)
from ribpatch.core.supply.nesting.sound import is_sound
from ribpatch.nester.search import searched

TRIANGLE = ((0.0, 0.0), (0.5, 0.0), (0.0, 0.4))
ELL = ((0.0, 0.0), (1.0, 0.0), (1.0, 0.3), (0.3, 0.3), (0.3, 0.8), (0.0, 0.8))
HALF = (0.0, 180.0)


def box(long: float, wide: float, turns: tuple[float, ...] = (0.0,)) -> Shape:
    return Shape(((0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide)), turns)


def check(shapes: list[Shape], made: Nested, width: float) -> None:
    """By shapely alone: inside, at a turn allowed, none over another, as long as said, not under the bound."""
    pieces = []
    for shape, at in zip(shapes, made.lying, strict=True):
        turn = affinity.rotate(shapely.Polygon(shape.ring), at.turn, origin=(0, 0))
        pieces.append(affinity.translate(turn, at.x, at.y))
        assert shape.turns is None or any(abs((at.turn - t + 180) % 360 - 180) < 1e-6 for t in shape.turns)
    x0, y0, x1, y1 = np.array([p.bounds for p in pieces]).T
    assert x0.min() >= -1e-7 and y0.min() >= -1e-7 and y1.max() <= width + 1e-7
    assert x1.max() == pytest.approx(made.length, abs=1e-7)
    over = [a.intersection(b).area for n, a in enumerate(pieces) for b in pieces[n + 1 :]]
    assert max(over, default=0.0) < 1e-7
    assert made.length >= made.bound - 1e-7 and is_sound(shapes, made.lying, width)


def outlines(count: int, seed: int) -> list[Shape]:
    """Stars about a middle: mostly not convex."""
    rng = random.Random(seed)
    made = []
    for _ in range(count):
        corners = rng.randint(3, 9)
        angles = (np.arange(corners) + np.array([rng.uniform(0, 0.8) for _ in range(corners)])) * 2 * np.pi / corners
        radii = [rng.uniform(0.06, 0.35) for _ in angles]
        ring = tuple((float(r * np.cos(a)), float(r * np.sin(a))) for r, a in zip(radii, angles, strict=True))
        made.append(Shape(ring, rng.choice([(0.0,), HALF, (0.0, 90.0, 180.0, 270.0), None])))
    return made


@given(st.integers(1, 9), st.integers(0, 10_000))
@settings(max_examples=15, deadline=None)
def test_any_shapes_lie_on_the_roll_and_beside_each_other(count: int, seed: int) -> None:
    shapes = outlines(count, seed)
    made = nest(shapes, 0.9, tries=4)
    check(shapes, made, 0.9)
    assert made == nest(shapes, 0.9, tries=4), "the same again"
    boxes = by_boxes(shapes, 0.9, 4)
    check(shapes, boxes, 0.9)
    assert made.length <= boxes.length + 1e-9


@given(st.integers(0, 10_000))
@settings(max_examples=30, deadline=None)
def test_convex_parts_fill_an_outline_once(seed: int) -> None:
    ring = outlines(1, seed)[0].ring
    parts = [shapely.Polygon(p) for p in convex_parts(ring)]
    assert all(p.convex_hull.area == pytest.approx(p.area) for p in parts)
    assert sum(p.area for p in parts) == pytest.approx(area_of(ring)) == shapely.Polygon(ring).area
    assert shapely.union_all(parts).symmetric_difference(shapely.Polygon(ring)).area < 1e-9


def test_an_ell_is_two_parts_and_a_box_one() -> None:
    assert len(convex_parts(ELL)) == 2 and len(convex_parts(box(1, 2).ring)) == 1
    assert len(convex_parts(ELL[::-1])) == 2, "whichever way round"


def cut_up(count: int, seed: int, long: float = 3.0, wide: float = 1.25) -> list[Shape]:
    """A sheet cut by slanted lines: it goes together again with nothing lost, so its length is the optimum."""
    rng = np.random.default_rng(seed)
    parts = [shapely.box(0, 0, long, wide)]
    while len(parts) < count:
        parts.sort(key=lambda p: -p.area)
        part, a = parts.pop(0), rng.uniform(0, np.pi)
        (x, y), way = part.centroid.coords[0], 9 * np.array([np.cos(a), np.sin(a)])
        parts += list(split(part, shapely.LineString([(x - way[0], y - way[1]), (x + way[0], y + way[1])])).geoms)
    return [Shape(tuple((x - p.bounds[0], y - p.bounds[1]) for x, y in p.exterior.coords[:-1]), HALF) for p in parts]


@pytest.mark.parametrize(
    ("shapes", "width", "optimum"),
    [
        ([Shape(TRIANGLE, HALF)] * 12, 1.2, 1.0),
        ([Shape(TRIANGLE, None)] * 8, 0.8, 1.0),
        (cut_up(4, 3), 1.25, 3.0),
        (cut_up(6, 1), 1.25, 3.0),
        ([Shape(((0.0, 0.0), (1.0, 0.0), (0.8, 0.4), (0.2, 0.4)), HALF)] * 6, 1.2, 1.8),
        ([Shape(((0.0, 0.0), (0.6, 0.0), (0.9, 0.5), (0.3, 0.5)), (0.0,))] * 4, 1.0, 1.5),
    ],
)
def test_a_search_comes_within_three_in_a_hundred_of_known_optima(
    shapes: list[Shape], width: float, optimum: float
) -> None:
    """Triangles and trapezia in pairs, rhomboids in rows, sheets cut up; all but the last fill what they take."""
    made = searched(shapes, width, 60.0, go_on=lambda _share, best: best.length > 1.03 * optimum)
    check(shapes, made, width)
    assert optimum - 1e-6 <= made.length <= 1.03 * optimum


def test_a_search_is_stopped_keeps_what_it_has_and_is_never_longer() -> None:
    shapes = outlines(14, 5)
    first = nest(shapes, 1.0)
    told: list[tuple[float, float]] = []

    def go_on(share: float, best: Nested) -> bool:
        told.append((share, best.length))
        return len(told) < 6

    made = searched(shapes, 1.0, 60.0, first, go_on)
    check(shapes, made, 1.0)
    assert len(told) == 6 and told[-1][0] < 0.5 and all(b[1] <= a[1] for a, b in pairwise(told))
    assert made.length == told[-1][1] <= first.length
    assert searched(shapes[:1], 1.0, 60.0).length == nest(shapes[:1], 1.0).length, "one piece is not searched for"


def test_the_bound_is_area_length_and_what_takes_more_than_half_the_width() -> None:
    assert least_length([Shape(TRIANGLE)], 0.4) == 0.5 and least_length([], 1.0) == 0.0
    assert least_length([Shape(TRIANGLE)] * 12, 1.2) == pytest.approx(1.0), "the area"
    # A triangle 0.4 high takes more than 0.15 of a roll 0.3 wide along 0.5 (1 - .15 / .4); it must be turned to fit.
    over = length_over(chords_of(turned(TRIANGLE, 0.0)), np.array([0.15, 0.1]))
    assert over == pytest.approx([0.5 * (1 - 0.15 / 0.4), 0.5 * (1 - 0.1 / 0.4)])
    assert length_over(chords_of(turned(ELL, 0.0)), np.array([0.3, 0.9])) == pytest.approx([0.3, 0.0])
    assert least_length([box(0.4, 0.6), box(0.5, 0.7), box(0.1, 0.1)], 1.0) == pytest.approx(0.9)
    # Two that take more than half, and one that goes beside neither; only one such.
    assert least_length([box(1.0, 0.7), box(1.1, 0.8), box(0.9, 0.35)], 1.0) == pytest.approx(3.0)
    assert least_length([box(1.0, 0.7), box(1.1, 0.8), box(0.9, 0.35), box(0.8, 0.35)], 1.0) == pytest.approx(3.0)
    assert least_length([box(1.0, 0.7), box(1.1, 0.8), box(0.9, 0.25)], 1.0) == pytest.approx(2.1), "goes beside one"
    assert nest([box(1.0926, 0.6257), box(1.0926, 0.4894)], 1.0).proven


@given(st.lists(st.tuples(st.integers(1, 8), st.integers(1, 9)), min_size=2, max_size=5))
@settings(max_examples=30, deadline=None)
def test_the_bound_is_under_what_any_order_makes(rows: list[tuple[int, int]]) -> None:
    """Boxes slid as far as they go in every order: the least of it is the optimum, or a little more."""
    boxes = [(a / 10, b / 10) for a, b in rows]
    best = float("inf")
    for order in permutations(boxes):
        laid: list[tuple[float, float, float, float]] = []
        for long, wide in order:
            spots = [y for y in (0.0, *(y + w for _, y, _, w in laid)) if y + wide <= 1.0 + 1e-9]
            x, y = min(
                (max((x + a for x, b, a, w in laid if b < y + wide - 1e-9 and b + w > y + 1e-9), default=0.0), y)
                for y in spots
            )
            laid.append((x, y, long, wide))
        best = min(best, max(x + a for x, _, a, _ in laid))
    assert least_length([box(*b) for b in boxes], 1.0) <= best + 1e-9


@given(st.integers(0, 10_000), st.floats(0.02, 0.5))
@settings(max_examples=30, deadline=None)
def test_the_length_over_a_height_is_that_of_slices(seed: int, half: float) -> None:
    """Against many thin slices by shapely."""
    ring = outlines(1, seed)[0].ring
    polygon = shapely.Polygon(ring)
    x0, y0, x1, y1 = polygon.bounds
    at = x0 + (np.arange(400) + 0.5) * (x1 - x0) / 400
    lines = shapely.linestrings([[(x, y0 - 1), (x, y1 + 1)] for x in at])
    tall = shapely.length(shapely.intersection(lines, polygon)) > half
    over = length_over(chords_of(turned(ring, 0.0)), np.array([half]))
    assert over == pytest.approx([tall.mean() * (x1 - x0)], abs=4 * (x1 - x0) / 400)


@given(st.integers(1, 6), st.integers(0, 10_000), st.floats(0.45, 1.2))
@settings(max_examples=25, deadline=None)
def test_the_bound_is_that_of_slices_at_every_step(count: int, seed: int, width: float) -> None:
    """Area, longest and what cannot lie side by side, by thin slices of shapely."""
    shapes = [Shape(s.ring, (0.0,)) for s in outlines(count, seed)]
    talls, across = [], []
    for shape in shapes:
        polygon = shapely.Polygon(shape.ring)
        x0, y0, x1, y1 = polygon.bounds
        at = x0 + (np.arange(500) + 0.5) * (x1 - x0) / 500
        lines = shapely.linestrings([[(x, y0 - 1), (x, y1 + 1)] for x in at])
        talls.append((shapely.length(shapely.intersection(lines, polygon)), (x1 - x0) / 500))
        across.append(y1 - y0)
    assume(max(across) <= width)
    over = [
        [(tall > least).sum() * d for tall, d in talls] for least in (width / 2, *(width - 0.995 * a for a in across))
    ]
    most = [sum(over[0])]
    for step, wide in zip(across, over[1:], strict=True):
        other = [(tall > 0.995 * step).sum() * d for tall, d in talls]
        most += [sum(wide) + max(o - w for o, w in zip(other, wide, strict=True))] if step < width / 2 else []
    area = sum(shapely.Polygon(s.ring).area for s in shapes) / width
    expected = max(area, *(500 * d for _, d in talls), *most)
    assert least_length(shapes, width) == pytest.approx(expected, abs=0.01 * sum(500 * d for _, d in talls))


def test_a_half_turn_takes_the_same_room() -> None:
    shapes = outlines(5, 11)
    both = [Shape(s.ring, HALF) for s in shapes]
    assert least_length(both, 1.3) == pytest.approx(
        least_length([Shape(s.ring, (180.0,)) for s in shapes], 1.3), rel=1e-9
    )
    assert least_length(both, 1.3) == pytest.approx(
        least_length([Shape(s.ring, (0.0,)) for s in shapes], 1.3), rel=1e-9
    )


@pytest.mark.parametrize("after", [0, 1, 5, 40])
def test_a_layout_that_is_stopped_is_the_best_so_far(after: int) -> None:
    shapes, shares = [Shape(s.ring, HALF) for s in outlines(9, 4)], []

    def go_on(share: float) -> bool:
        shares.append(share)
        return len(shares) <= after

    made, whole = nest(shapes, 1.4, go_on=go_on), nest(shapes, 1.4)
    check(shapes, made, 1.4)
    assert whole.length <= made.length + 1e-9 and all(0 <= s <= 1 for s in shares)
    assert whole.length < by_boxes(shapes, 1.4).length - 0.01, "by shapes it is shorter"
    assert len(shares) <= after + 6, "each stage asks once more at most"


def until(last: int) -> Callable[[float], bool]:
    """Says to go on, but not the time that is the last."""
    left = iter(range(1, last))
    return lambda _: next(left, None) is not None


def test_what_is_stopped_or_proven_goes_through_no_more_of_its_stages(monkeypatch) -> None:
    stages: list[str] = []
    for name in ("settled", "constructed"):
        made = getattr(nesting, name)
        monkeypatch.setattr(nesting, name, lambda *a, name=name, made=made: stages.append(name) or made(*a))
    shapes = [Shape(s.ring, HALF) for s in outlines(9, 4)]
    asked: list[float] = []
    nest(shapes, 1.4, go_on=lambda share: asked.append(share) or True)
    assert stages == ["settled", "constructed", "settled"]
    for last, gone_through in ((len(asked), ["settled"]), (len(asked) - 1, []), (1, [])):
        stages.clear()
        nest(shapes, 1.4, go_on=until(last))
        assert stages == gone_through
    stages.clear()
    halves = [Shape(((0.0, 0.0), (0.5, 0.0), (0.0, 0.4)), HALF)] * 2
    assert nest(halves, 0.4).proven and stages == [], "two that make a box"
    asked.clear()
    long = [box(1.0, 0.5), box(0.3, 0.2), box(0.4, 0.25)]
    assert nest(long, 1.0, go_on=lambda share: asked.append(share) or True).proven and asked == []


def test_what_may_lie_any_way_is_as_long_as_it_is_narrow_at_least() -> None:
    sides = ((0.0, 0.0), (0.04, 0.0), (0.0, 0.03))
    assert least_length([Shape(sides, None)], 1.0) == pytest.approx(0.04 * 0.03 / 0.05)


def test_settling_closes_gaps_mends_a_hair_and_gives_up_on_more() -> None:
    shapes = [box(0.5, 0.5), box(0.5, 0.5), box(0.5, 0.5)]
    loose = [Lying(0.1, 0.02, 0.0), Lying(0.75, 0.1, 0.0), Lying(1.4, 0.3, 0.0)]
    made = settled(shapes, loose, 0.6, 1.25)
    assert made is not None and made.length == pytest.approx(1.5)
    check(shapes, made, 0.6)
    hair = [Lying(0.0, 0.0, 0.0), Lying(0.4999, 0.0, 0.0), Lying(0.9998, 0.0, 0.0)]
    mended = settled(shapes, hair, 0.6, 1.25)
    assert mended is not None and mended.length == pytest.approx(1.5)
    beside = [box(0.5, 0.35), box(0.5, 0.35)]
    assert settled(beside, [Lying(0, 0, 0), Lying(0, 0.3, 0)], 0.6, 0.5) is None, "no room across the roll"
    exact = settled([box(0.5, 0.3)] * 2, [Lying(0, 0, 0), Lying(0, 0.2999, 0)], 0.6, 0.5)
    assert exact is not None and exact.length == pytest.approx(0.5)


@given(st.integers(2, 8), st.integers(0, 10_000))
@settings(max_examples=20, deadline=None)
def test_a_constructed_layout_settles_soundly(count: int, seed: int) -> None:
    shapes = outlines(count, seed)
    built = constructed(shapes, 0.9)
    made = settled(shapes, built, 0.9, least_length(shapes, 0.9)) if built is not None else None
    if made is not None:
        check(shapes, made, 0.9)


def test_pieces_as_wide_as_the_roll_are_laid_too_and_a_library_that_gives_up_is_no_fault(monkeypatch) -> None:
    """As strips of full width are: rounded corners, so that they are no boxes."""
    strip = tuple((float(x), float(y)) for x, y in shapely.box(0.1, 0.1, 1.4, 1.17).buffer(0.1).exterior.coords[:-1])
    shapes = [Shape(strip, HALF)] * 5 + [Shape(TRIANGLE, HALF)] * 3
    made = nest(shapes, 1.27)
    check(shapes, made, 1.27)
    check(shapes, searched(shapes, 1.27, 1.5, made), 1.27)

    assert those_beside(shapes, 1.27) == (5, 6, 7) and those_beside(shapes[:5], 1.27) == ()
    assert those_beside([box(1, 0.7), box(1, 0.6), box(1, 0.4)], 1.0) == (1, 2)
    assert those_beside([box(1, 0.4), box(1, 0.4)], 1.0) == (0, 1) and those_beside([box(1, 0.4)], 1.0) == ()
    alone = nest(shapes[:5], 1.27)
    assert alone.length <= 5 * 1.5 + 1e-6
    check(shapes[:5], searched(shapes[:5], 1.27, 1.0, alone), 1.27)

    class PanicException(BaseException):
        pass

    def panic(*_: object) -> None:
        raise PanicException

    monkeypatch.setattr("ribpatch.core.supply.nesting.nest.instance_of", panic)
    assert constructed(shapes, 1.27) is None
    check(shapes, nest(shapes, 1.27), 1.27)


def test_what_is_not_sound_is_told() -> None:
    shapes = [box(0.5, 0.5), box(0.5, 0.5)]
    good = (Lying(0.0, 0.0, 0.0), Lying(0.5, 0.0, 0.0))
    assert is_sound(shapes, good, 0.5)
    for wrong in (
        good[:1],
        (good[0], Lying(0.49, 0.0, 0.0)),
        (good[0], Lying(0.5, 0.01, 0.0)),
        (good[0], Lying(0.5, -0.01, 0.0)),
        (good[0], Lying(-0.5, 0.0, 0.0)),
        (good[0], Lying(1.0, 0.0, 90.0)),
    ):
        assert not is_sound(shapes, wrong, 0.5)
    assert is_sound([Shape(TRIANGLE, None)], [Lying(0.4, 0.0, 33.0)], 1.0)


def test_any_turn_is_square_to_the_smallest_box() -> None:
    leaning = Shape(tuple(map(tuple, turned(box(1.0, 0.3).ring, 30.0))), None)
    assert smallest_box(leaning, 1.2) % 90 == pytest.approx(60.0) and len(turns_to_try(leaning, 1.2)) == 4
    assert by_boxes([leaning], 0.5).length == pytest.approx(1.0)
    assert smallest_box(Shape(TRIANGLE, None), 1.0) % 90 == pytest.approx(0.0), "square to its two legs"
    assert turns_that_fit(box(1.0, 0.3, (0.0, 90.0)), 0.5) == (0.0,)
    assert is_box(box(1, 1).ring) and not is_box(TRIANGLE)


def test_what_cannot_lie_is_told_by_number() -> None:
    with pytest.raises(InvalidValue, match="piece 2.*0.8 m wide and the roll 0.5 m; split it"):
        nest([box(0.5, 0.5), Shape(ELL, HALF)], 0.5)
    with pytest.raises(Fault, match="piece 1"):
        nest([Shape(((0.0, 0.0), (1.0, 1.0), (1.0, 0.0), (0.0, 1.0)))], 2.0)
    assert issubclass(BadOutline, Fault)


def test_used_is_area_over_what_is_cut_off() -> None:
    shapes = [Shape(TRIANGLE)]
    assert area_used(shapes, nest(shapes, 0.4), 0.4) == pytest.approx(0.5)
    assert area_used([], Nested((), 0.0, 0.0), 1.0) == 0.0


@pytest.mark.parametrize(("count", "seed"), [(6, 0), (10, 1), (20, 2), (30, 3)])
def test_a_sheet_cut_up_by_slanted_lines_goes_together_at_once(count: int, seed: int) -> None:
    shapes = cut_up(count, seed)
    made = nest(shapes, 1.25, tries=4)
    check(shapes, made, 1.25)
    assert made.length == pytest.approx(3.0, abs=1e-6) and made.proven


@given(st.integers(2, 7), st.integers(0, 10_000))
@settings(max_examples=12, deadline=None)
def test_what_is_joined_is_whole_and_every_piece_in_its_place(count: int, seed: int) -> None:
    shapes = [*cut_up(count, seed), Shape(ELL, HALF), Shape(TRIANGLE, None)]
    wholes = wholes_of(shapes, 1.25)
    assert sorted(n for w in wholes for n, _ in w.parts) == list(range(len(shapes)))
    for whole in wholes:
        parts = [shapely.Polygon(placed(shapes[n], p)) for n, p in whole.parts]
        assert shapely.union_all(parts, grid_size=1e-9).symmetric_difference(shapely.Polygon(whole.ring)).area < 1e-7
        assert sum(p.area for p in parts) == pytest.approx(shapely.Polygon(whole.ring).area)
        for n, p in whole.parts:
            allowed = shapes[n].turns
            assert allowed is None or all(
                any(abs((t + p.turn - a + 180) % 360 - 180) < 1e-6 for a in allowed) for t in whole.turns
            )
    rows = tuple(Lying(3.0 * n, 1.0, (w.turns or (0.0,))[-1]) for n, w in enumerate(wholes))
    laid = taken_apart(wholes, rows)
    for whole, row in zip(wholes, rows, strict=True):
        there = shapely.Polygon(placed(Shape(whole.ring), row))
        inside = shapely.union_all(
            [shapely.Polygon(placed(shapes[n], laid[n])) for n, _ in whole.parts], grid_size=1e-9
        )
        assert there.symmetric_difference(inside).area < 1e-6


def test_two_triangles_make_a_box_and_what_goes_on_no_roll_is_not_joined() -> None:
    two = wholes_of([Shape(TRIANGLE, HALF)] * 2, 1.0)
    assert len(two) == 1 and len(two[0].ring) == 4 and is_box(two[0].ring) and two[0].turns == HALF
    assert len(wholes_of([Shape(TRIANGLE, (0.0,))] * 2, 1.0)) == 2, "neither may be turned"
    assert len(wholes_of([box(0.5, 0.4), box(0.5, 0.4)], 0.5)) == 1, "one behind the other"
    assert (
        len(wholes_of([box(0.5, 0.4), box(0.6, 0.4)], 0.3 + 0.1)) == 1
        and len(wholes_of([box(0.5, 0.4), box(0.5, 0.3)], 0.45)) == 2
    )
    (quarter,) = wholes_of([box(0.5, 0.4), box(0.4, 0.5, (90.0,))], 1.0)
    assert quarter.turns == (0.0,) and [p.turn for _, p in quarter.parts] == [0.0, 90.0], "each as it may lie"
    assert within(Lying(1.0, 0.0, 10.0), Lying(2.0, 3.0, 90.0)) == Lying(2.0, 4.0, 100.0)
