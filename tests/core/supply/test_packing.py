"""Rectangles on a strip: every one inside and none over another, against known optima, bounds and all orders tried."""

from __future__ import annotations

import random
from itertools import permutations, product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ribpatch.core.errors import InvalidValue
from ribpatch.core.supply.packing import Packed, Rect, least_length, pack, ways_of

SIZES = st.floats(0.05, 1.2)


def sound(made: Packed, rects: list[Rect], width: float) -> None:
    assert [p.number for p in made.puts] == list(range(len(rects)))
    for p in made.puts:
        rect = rects[p.number]
        assert (p.long, p.wide) == ((rect.wide, rect.long) if p.turned else (rect.long, rect.wide))
        assert rect.turns or not p.turned
        assert p.x >= 0 and p.y >= -1e-9 and p.y + p.wide <= width + 1e-9 and p.x + p.long <= made.length + 1e-9
    for n, a in enumerate(made.puts):
        for b in made.puts[n + 1 :]:
            apart = max(a.x - b.x - b.long, b.x - a.x - a.long, a.y - b.y - b.wide, b.y - a.y - a.wide)
            assert apart > -1e-9, "none lies over another"
    assert made.length >= made.bound - 1e-9


@given(st.lists(st.tuples(SIZES, SIZES, st.booleans()), min_size=1, max_size=25))
@settings(max_examples=60, deadline=None)
def test_any_pieces_lie_inside_and_beside_each_other(rows: list[tuple[float, float, bool]]) -> None:
    rects = [Rect(*row) for row in rows]
    made = pack(rects, 1.27, tries=20)
    sound(made, rects, 1.27)
    assert made == pack(rects, 1.27, tries=20), "the same again"


def cut_up(count: int, long: float, wide: float, rng: random.Random) -> list[tuple[float, float]]:
    rects = [(long, wide)]
    while len(rects) < count:
        a, b = rects.pop(max(range(len(rects)), key=lambda k: rects[k][0] * rects[k][1] * rng.uniform(0.3, 1)))
        f = rng.uniform(0.25, 0.75)
        rects += [(a * f, b), (a * (1 - f), b)] if rng.random() < a / (a + b) else [(a, b * f), (a, b * (1 - f))]
    rng.shuffle(rects)
    return rects


@pytest.mark.parametrize("count", [2, 5, 10, 20])
@pytest.mark.parametrize("turns", [False, True])
@pytest.mark.parametrize("seed", range(4))
def test_a_sheet_cut_up_goes_together_again(count: int, turns: bool, seed: int) -> None:
    rects = [Rect(*row, turns) for row in cut_up(count, 3.0, 1.27, random.Random(100 * seed + count))]
    made = pack(rects, 1.27)
    sound(made, rects, 1.27)
    assert made.length == pytest.approx(3.0) and made.proven


def test_many_pieces_come_near_the_bound() -> None:
    for count, most in ((40, 1.1), (100, 1.09)):
        rects = [Rect(*row, True) for row in cut_up(count, 3.0, 1.27, random.Random(count))]
        made = pack(rects, 1.27, tries=120)
        sound(made, rects, 1.27)
        assert made.length / 3.0 < most


def shortest(rects: list[Rect], width: float) -> float:
    """Every order and way, each piece as low and as near the edge as it slides: the optimum of few pieces."""
    best = float("inf")
    for order in permutations(range(len(rects))):
        for ways in product(*(ways_of(rects[n], width) for n in order)):
            laid: list[tuple[float, float, float, float]] = []
            for long, wide, _ in ways:
                spots = {0.0, *(y + w for _, y, _, w in laid)}
                found = []
                for y in spots:
                    if y + wide <= width + 1e-9:
                        over = [x + a for x, b, a, w in laid if b < y + wide - 1e-9 and b + w > y + 1e-9]
                        found.append((max(over, default=0.0), y))
                x, y = min(found)
                laid.append((x, y, long, wide))
            best = min(best, max(x + a for x, _, a, _ in laid))
    return best


@pytest.mark.parametrize("seed", range(12))
def test_few_pieces_are_as_short_as_any_order_makes_them(seed: int) -> None:
    rng = random.Random(seed)
    rects = [
        Rect(round(rng.uniform(0.2, 1.2), 2), round(rng.uniform(0.2, 0.9), 2), rng.random() < 0.5) for _ in range(5)
    ]
    made = pack(rects, 1.27)
    sound(made, rects, 1.27)
    assert made.length <= shortest(rects, 1.27) * 1.03 + 1e-9


def test_the_bound_counts_area_length_and_what_is_too_wide_for_another() -> None:
    assert least_length([Rect(1, 0.5), Rect(1, 0.5)], 1.0) == 1.0
    assert least_length([Rect(2, 0.1), Rect(0.1, 0.1)], 1.0) == 2.0 and least_length(
        [Rect(0.9, 0.1, True)], 1.0
    ) == pytest.approx(0.1)
    assert least_length([Rect(0.4, 0.6), Rect(0.5, 0.7), Rect(0.1, 0.1)], 1.0) == pytest.approx(0.9)
    assert least_length([], 1.0) == 0.0 and pack([], 1.0).length == 0.0


def test_one_piece_is_turned_only_where_it_may_be_and_where_that_is_shorter() -> None:
    assert pack([Rect(1.0, 0.4, True)], 1.2).length == 0.4 and pack([Rect(1.0, 0.4)], 1.2).length == 1.0
    assert pack([Rect(0.4, 1.3, True)], 1.2).puts[0].turned, "too wide for the roll unless it is turned"


def test_what_cannot_lie_is_told_and_a_search_can_be_stopped() -> None:
    with pytest.raises(InvalidValue, match="piece 2.*1.4 m wide and the roll 1.2"):
        pack([Rect(1, 1), Rect(1.5, 1.4, True)], 1.2)
    with pytest.raises(InvalidValue, match="piece 1.*no size"):
        pack([Rect(0, 1)], 1.2)
    told: list[float] = []

    def go_on(share: float) -> bool:
        told.append(share)
        return len(told) < 5

    rects = [Rect(0.3 + 0.01 * k, 0.4 + 0.013 * k) for k in range(9)]
    made = pack(rects, 1.27, 300, go_on)
    sound(made, rects, 1.27)
    assert len(told) == 5 and told[0] == 0.0 and told[-1] == pytest.approx(4 / 300)


def test_hundreds_of_pieces_are_laid_out_with_fewer_tries() -> None:
    rng = random.Random(3)
    rects = [Rect(rng.uniform(0.1, 0.8), rng.uniform(0.1, 0.8), True) for _ in range(150)]
    told: list[float] = []

    def go_on(share: float) -> bool:
        told.append(share)
        return True

    made = pack(rects, 1.27, go_on=go_on)
    sound(made, rects, 1.27)
    assert 40 < len(told) < 60 and made.length < 1.12 * made.bound
