"""Rectangles on sheets, and cores cut in pieces for them: sound, known fewest, bounds, seams where they may lie."""

from __future__ import annotations

import random
from itertools import pairwise

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.bed import bed_job as demo_job

from ribpatch.core.drawing.shapes import Area, Badge
from ribpatch.core.drawing.sheet_view import core_words, sheet_rows, sheet_view, sheet_words
from ribpatch.core.errors import InvalidValue
from ribpatch.core.patch.coring.pieces import core_pieces, kept_clear, layers_of, seams_between
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.stock import StockItem
from ribpatch.core.supply.packing import Rect
from ribpatch.core.supply.sheets import OnSheets, Sheet, fewest, on_sheets
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
MADE = plan(demo_job(), SHELF)
SHEET = Sheet(2.44, 1.22)
SIZES = st.floats(0.05, 1.2)


def check(made: OnSheets, rects: list[Rect], kerf: float) -> None:
    """Every piece once, inside its sheet, a saw cut from the next."""
    puts = [p for s in made.laid for p in s.puts]
    assert sorted(p.number for p in puts) == list(range(len(rects)))
    for laid in made.laid:
        boxes = [shapely.box(p.x, p.y, p.x + p.long, p.y + p.wide) for p in laid.puts]
        for p in laid.puts:
            rect = rects[p.number]
            assert (p.long, p.wide) == pytest.approx((rect.wide, rect.long) if p.turned else (rect.long, rect.wide))
            assert rect.turns or not p.turned
            assert p.x >= -1e-9 and p.y >= -1e-9
            assert p.x + p.long <= laid.sheet.long + 1e-9 and p.y + p.wide <= laid.sheet.wide + 1e-9
        for n, a in enumerate(boxes):
            for b in boxes[n + 1 :]:
                (ax0, ay0, ax1, ay1), (bx0, by0, bx1, by1) = a.bounds, b.bounds
                assert max(bx0 - ax1, ax0 - bx1, by0 - ay1, ay0 - by1) >= kerf - 1e-9, "the saw goes between"


@given(st.lists(st.tuples(SIZES, SIZES, st.booleans()), min_size=1, max_size=20), st.sampled_from([0.0, 0.004]))
@settings(max_examples=40, deadline=None)
def test_any_pieces_lie_on_sheets_with_the_saw_between(rows: list[tuple[float, float, bool]], kerf: float) -> None:
    rects = [Rect(*row) for row in rows]
    made = on_sheets(rects, SHEET, kerf, tries=10)
    check(made, rects, kerf)
    assert made.bound <= made.whole == len(made.laid) and 0 < made.used <= 1 + 1e-9
    assert made == on_sheets(rects, SHEET, kerf, tries=10), "the same again"


@pytest.mark.parametrize("kerf", [0.0, 0.003])
@pytest.mark.parametrize(("count", "sheets"), [(5, 1), (10, 2), (14, 2)])
@pytest.mark.parametrize("seed", range(3))
def test_sheets_sawn_up_go_on_as_many_again(count: int, sheets: int, seed: int, kerf: float) -> None:
    rng = random.Random(100 * seed + count)
    rects = [(2.44, 1.22)] * sheets
    while len(rects) < count:
        a, b = rects.pop(max(range(len(rects)), key=lambda k: rects[k][0] * rects[k][1] * rng.uniform(0.3, 1)))
        f = rng.uniform(0.3, 0.7)
        if rng.random() < a / (a + b):
            rects += [((a - kerf) * f, b), ((a - kerf) * (1 - f), b)]
        else:
            rects += [(a, (b - kerf) * f), (a, (b - kerf) * (1 - f))]
    pieces = [Rect(*row) for row in rects]
    made = on_sheets(pieces, SHEET, kerf)
    check(made, pieces, kerf)
    assert sheets <= made.whole <= sheets + (sheets > 1)
    assert made.bound == sheets and made.proven == (made.whole == sheets)


def test_the_bound_counts_area_and_what_no_two_share_a_sheet() -> None:
    assert fewest([], SHEET) == 0 and fewest([Rect(0.1, 0.1)], SHEET) == 1
    assert fewest([Rect(1.3, 0.7)] * 3, SHEET) == 3, "two in no direction beside each other"
    assert fewest([Rect(1.22, 1.22)] * 3, SHEET) == 2 and fewest([Rect(1.22, 1.22)] * 3, SHEET, 0.003) == 3
    assert fewest([Rect(2.0, 1.0)] * 4, SHEET) == 4 and fewest([Rect(1.3, 0.5)] * 4, SHEET) == 2
    assert fewest([Rect(0.6, 1.5, True)] * 4, SHEET) == 2, "turned, as each is counted least"


def test_off_cuts_are_filled_before_a_whole_sheet_is_taken() -> None:
    rects = [Rect(0.5, 0.5), Rect(0.5, 0.5), Rect(1.0, 1.0)]
    made = on_sheets(rects, SHEET, 0.003, (Sheet(1.1, 0.55), Sheet(0.2, 0.2)))
    check(made, rects, 0.003)
    assert made.whole == 1 and [len(s.puts) for s in made.laid] == [2, 1]
    none = on_sheets(rects[:2], SHEET, 0.003, (Sheet(1.1, 0.55),))
    assert none.whole == 0 and len(none.laid) == 1 and none.laid[0].rest == pytest.approx(1.1 - 1.003)


def test_what_goes_on_no_sheet_is_told() -> None:
    with pytest.raises(InvalidValue, match="piece 2.*1.3 by 1.3 m and the sheet 2.44 by 1.22 m; split it"):
        on_sheets([Rect(1, 1), Rect(1.3, 1.3, True)], SHEET)
    with pytest.raises(InvalidValue, match="piece 1.*no size"):
        on_sheets([Rect(1, 0)], SHEET)
    assert on_sheets([Rect(1.0, 2.4, True)], SHEET).laid[0].puts[0].turned


LENGTHS = st.floats(0.5, 12.0)


@given(
    LENGTHS,
    st.floats(0.6, 2.5),
    st.floats(0.0, 0.2),
    st.lists(st.tuples(st.floats(0, 12), st.floats(0.02, 0.4)), max_size=3),
)
@settings(max_examples=80, deadline=None)
def test_seams_leave_no_piece_too_long_and_lie_where_they_may(
    length: float, side: float, lap: float, kept: list[tuple[float, float]]
) -> None:
    clear = tuple((a, a + w) for a, w in kept)
    seams, bad = seams_between((0.0, length), side, lap, clear)
    ends = (0.0, *seams, length)
    assert list(seams) == sorted(seams)
    for k, (a, b) in enumerate(pairwise(ends)):
        laps = lap / 2 * ((k > 0) + (k < len(ends) - 2))
        assert bad or b - a + laps <= side + 1e-6
    assert bad or not any(a + 1e-6 < s < b - 1e-6 for s in seams for a, b in clear)
    assert bool(seams) == (length > side + 1e-9)


def test_seams_by_hand() -> None:
    assert seams_between((0, 2.44), 2.44, 0.03, ()) == ((), False)
    assert seams_between((0, 4.85), 2.44, 0.03, ()) == ((2.425,), False)
    assert len(seams_between((0, 4.86), 2.44, 0.03, ())[0]) == 2, "a lap more than two sheets"
    assert seams_between((0, 3), 2.44, 0.03, ((1.4, 1.6),)) == ((1.4,), False)
    assert seams_between((0, 3), 2.44, 0.03, ((-1, 4),))[1], "nowhere to put it"
    assert seams_between((0, 4), 2.44, 0.03, (), 0.25)[0] == (pytest.approx(4 - 2.425),), (
        "no nearer to the end than the rest reaches"
    )


def test_the_core_of_the_demo_is_pieces_less_a_gap_in_as_many_layers_as_it_takes() -> None:
    made = MADE.zone("z2").core_pieces
    cut = MADE.zone("z2").patch.cut.region
    assert made is not None and made.joint == "scarfed" and made.sheet == 0.018 and len(made.layers) == 2
    gap = SHELF.rule("core.gap")
    for layer in made.layers:
        assert sum(p.area for p in layer.pieces) == pytest.approx(cut.buffer(-gap).area, rel=1e-3)
    assert made.lap == pytest.approx(8 * MADE.zone("z2").zone.scheme.core.thickness.si)
    assert MADE.zone("z2").needs.core_sheets == 2 == MADE.zone("z2").figure("core.sheets").value
    assert layers_of(SHELF.core("ply-marine"), 0.018) == (1, 0.018) and layers_of(SHELF.core("ply-marine"), 0.013) == (
        1,
        0.015,
    )
    assert layers_of(SHELF.core("poured-600"), 0.04) == (1, 0.04)


def test_a_small_sheet_makes_seams_off_the_centreline_and_the_clamp() -> None:
    zone = MADE.zone("z2").zone
    small = evolve(SHELF.core("ply-marine"), sheet=(0.9, 1.2))
    shelf = type(SHELF)(*(getattr(SHELF, f) for f in SHELF.__struct_fields__))
    shelf = shelf.__class__(
        **{f: getattr(SHELF, f) for f in SHELF.__struct_fields__}
        | {"cores": tuple(small if c.id == small.id else c for c in SHELF.cores)}
    )
    made = core_pieces(zone, MADE.zone("z2").patch, shelf)
    assert made is not None and all(layer.x for layer in made.layers)
    region = MADE.zone("z2").patch.cut.region
    clear = kept_clear(zone, region, 0, SHELF.rule("seam.clear"))
    middle = sum(f(c[0] for c in zone.outline) for f in (min, max)) / 2
    assert any(a < middle < b for a, b in clear)
    if not made.bad:
        assert not any(a + 1e-6 < x < b - 1e-6 for layer in made.layers for x in layer.x for a, b in clear)
    assert all(min(long, wide) <= 0.9 + 1e-6 and max(long, wide) <= 1.2 + 1e-6 for long, wide in made.sizes) or made.bad
    words = core_words("Transom", made, "metric")
    assert "2 layers of 18.0 mm" in words and "with seams at" in words and "scarfed, 276" in words


def test_sheets_of_all_zones_are_shared_drawn_and_listed() -> None:
    every = MADE.core_sheets
    assert [(s.core.id, s.thickness) for s in every] == [("foam-pvc-130", 0.02), ("ply-marine", 0.018)]
    drawing, rows = sheet_view(every, "metric"), sheet_rows(every, "metric")
    areas = [s for s in drawing.shapes if isinstance(s, Area)]
    badges = sorted(int(s.text) for s in drawing.shapes if isinstance(s, Badge))
    assert len(areas) == len(rows) == sum(len(s.cuts) for s in every) and badges == list(range(1, len(rows) + 1))
    assert "2 sheets of 2.44 m × 1.22 m" in sheet_words(every[1], "metric") and "8'0 1/16\" ×" in sheet_words(
        every[1], "us"
    )
    assert "none can do with fewer" in sheet_words(every[1], "metric")
    off = StockItem(id="s1", material="ply-marine", amount=Measure(si=1.4), width=Measure(si=0.8))
    less = plan(evolve(demo_job(), stock=(off,)), SHELF).core_sheets[1]
    assert less.made.whole == 1 and "1 off-cut used up" in sheet_words(less, "metric")
    only = sheet_view(every, "metric", "ply-marine")
    assert len([s for s in only.shapes if isinstance(s, Area)]) == len(every[1].cuts)
    assert plan(evolve(demo_job(), zones=()), SHELF).core_sheets == ()
