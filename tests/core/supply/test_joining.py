"""Rectangles joined by their sides: sheets sawn up go together again, on a roll and on sheets, with the saw between."""

from __future__ import annotations

import random

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from ribpatch.core.supply.joining import blocks_of
from ribpatch.core.supply.packing import Rect, pack
from ribpatch.core.supply.sheets import Sheet, on_sheets


def sawn(
    count: int, sheets: int, size: tuple[float, float], kerf: float, rng: random.Random
) -> list[tuple[float, float]]:
    """Sheets sawn through from edge to edge again and again."""
    rects = [size] * sheets
    while len(rects) < count:
        a, b = rects.pop(max(range(len(rects)), key=lambda k: rects[k][0] * rects[k][1] * rng.uniform(0.3, 1)))
        f = rng.uniform(0.25, 0.75)
        if rng.random() < a / (a + b):
            rects += [((a - kerf) * f, b), ((a - kerf) * (1 - f), b)]
        else:
            rects += [(a, (b - kerf) * f), (a, (b - kerf) * (1 - f))]
    rng.shuffle(rects)
    return rects


@pytest.mark.parametrize("turns", [False, True])
@pytest.mark.parametrize("count", [10, 40, 100])
@pytest.mark.parametrize("seed", range(2))
def test_a_roll_sawn_up_is_laid_with_nothing_lost(count: int, turns: bool, seed: int) -> None:
    rng = random.Random(31 * seed + count)
    rows = [(b, a) if turns and rng.random() < 0.5 else (a, b) for a, b in sawn(count, 1, (3.0, 1.25), 0.0, rng)]
    rects = [Rect(a, b, turns) for a, b in rows]
    made = pack(rects, 1.25, tries=20)
    assert made.length == pytest.approx(3.0) and made.proven
    boxes = [shapely.box(p.x, p.y, p.x + p.long, p.y + p.wide) for p in made.puts]
    assert shapely.union_all(boxes).area == pytest.approx(3.75) == sum(b.area for b in boxes)
    for put, rect in zip(made.puts, rects, strict=True):
        assert (put.long, put.wide) == pytest.approx((rect.wide, rect.long) if put.turned else (rect.long, rect.wide))
        assert rect.turns or not put.turned


@pytest.mark.parametrize("kerf", [0.0, 0.003])
@pytest.mark.parametrize(("count", "sheets"), [(12, 2), (40, 4), (90, 6)])
def test_sheets_sawn_up_go_on_as_many_with_the_saw_between(count: int, sheets: int, kerf: float) -> None:
    rects = [Rect(a, b, True) for a, b in sawn(count, sheets, (2.44, 1.22), kerf, random.Random(count))]
    made = on_sheets(rects, Sheet(2.44, 1.22), kerf, tries=20)
    assert made.whole == sheets and made.proven
    assert sorted(p.number for s in made.laid for p in s.puts) == list(range(count))
    for laid in made.laid:
        grown = [shapely.box(p.x, p.y, p.x + p.long + kerf, p.y + p.wide + kerf) for p in laid.puts]
        assert (
            max(b.bounds[2] for b in grown) <= 2.44 + kerf + 1e-9
            and max(b.bounds[3] for b in grown) <= 1.22 + kerf + 1e-9
        )
        assert shapely.union_all(grown).area == pytest.approx(sum(b.area for b in grown), abs=1e-7)


@given(
    st.lists(
        st.tuples(st.sampled_from([0.2, 0.3, 0.5, 0.7]), st.sampled_from([0.2, 0.4, 0.6]), st.booleans()),
        min_size=1,
        max_size=14,
    )
)
@settings(max_examples=60, deadline=None)
def test_a_join_keeps_every_rectangle_whole_and_in_its_place(rows: list[tuple[float, float, bool]]) -> None:
    rects = [Rect(*row) for row in rows]
    blocks = blocks_of(rects, 1.0, 2.0)
    parts = [p for b in blocks for p in b.parts]
    assert sorted(p.number for p in parts) == list(range(len(rects)))
    for block in blocks:
        boxes = [shapely.box(p.x, p.y, p.x + p.long, p.y + p.wide) for p in block.parts]
        assert sum(b.area for b in boxes) == pytest.approx(block.long * block.wide) == shapely.union_all(boxes).area
        fits = (block.long <= 2 + 1e-9 and block.wide <= 1 + 1e-9) or (
            block.turns and block.wide <= 2 + 1e-9 and block.long <= 1 + 1e-9
        )
        assert fits or len(block.parts) == 1
        assert block.turns == all(rects[p.number].turns for p in block.parts) or not block.turns
        for p in block.parts:
            assert rects[p.number].turns or not p.turned
    assert blocks_of([], 1.0) == () and blocks == blocks_of(rects, 1.0, 2.0)
