"""The cut plan: every strip of every ply once, as large as its piece, on its own roll; drawn, listed and written."""

import numpy as np
import pytest

from ribpatch.core.drawing.cut_view import cut_rows, cut_view, roll_words
from ribpatch.core.drawing.shapes import Area, Badge, Callout
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.supply.cloth import Cloth, Piece
from ribpatch.core.supply.cutting import cuts_of, rolls_of
from ribpatch.library.demo import demo_job
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
MADE = plan(demo_job(), SHELF)
BIAX, UD = (next(f for f in SHELF.fabrics if f.turn == turn) for turn in (90, 180))


def cloth(fabric, *pieces):
    return Cloth(fabric, tuple(Piece(*p) for p in pieces), 1.0, 1.0)


def test_a_piece_wider_than_the_roll_is_strips_that_cover_it_with_their_overlaps():
    (whole, *strips) = cuts_of("Sole", cloth(BIAX, (1, 0.8, 0.5, 1, 0.4), (2, 3.0, 3.0, 3, 9.3)), 0.05)
    assert whole == type(whole)("Sole", 1, 1, 1, 0.8, 0.5, True) and whole.name == "Sole, ply 1"
    assert [s.name for s in strips] == ["Sole, ply 2 1/3", "Sole, ply 2 2/3", "Sole, ply 2 3/3"]
    assert all(s.long == 3.0 and not s.turns for s in strips), "strips keep their way"
    assert 3 * strips[0].wide - 2 * 0.05 == pytest.approx(3.0)
    assert not cuts_of("Sole", cloth(UD, (1, 0.8, 0.2, 1, 0.4)), 0.05)[0].turns


def test_fabrics_of_all_zones_share_a_roll_in_the_order_first_used():
    zones = [
        ("A", (cloth(BIAX, (1, 0.5, 0.4, 1, 0.2)),)),
        ("B", (cloth(UD, (1, 1, 0.2, 1, 0.2)), cloth(BIAX, (2, 0.5, 0.4, 1, 0.2)))),
    ]
    rolls = rolls_of(zones, 0.05)
    assert [r.fabric.id for r in rolls] == [BIAX.id, UD.id]
    assert [c.name for c in rolls[0].cuts] == ["A, ply 1", "B, ply 2"]
    assert rolls[0].packed.length == pytest.approx(0.4) and rolls[0].used == pytest.approx(
        0.4 / (0.4 * BIAX.roll_width)
    )
    assert rolls_of([], 0.05) == () and MADE.rolls is MADE.rolls


def test_the_demo_is_cut_whole():
    """Every ply's boxes by area, and no roll shorter than its area."""
    for roll in MADE.rolls:
        wanted = sum(
            p.area for z in MADE.zones for c in z.needs.cloth if c.fabric.id == roll.fabric.id for p in c.pieces
        )
        cut = sum(c.long * c.wide for c in roll.cuts)
        assert cut == pytest.approx(wanted)
        assert roll.packed.length * roll.fabric.roll_width >= cut - 1e-9 and 0.3 < roll.used <= 1 + 1e-9
    assert sum(len(r.cuts) for r in MADE.rolls) == len(cut_rows(MADE.rolls, "metric"))


@pytest.mark.parametrize("system", ["metric", "us"])
def test_every_piece_is_drawn_numbered_and_listed(system):
    drawing, rows = cut_view(MADE.rolls, system), cut_rows(MADE.rolls, system)
    areas = [s for s in drawing.shapes if isinstance(s, Area)]
    badges = [s for s in drawing.shapes if isinstance(s, Badge)]
    assert len(areas) == len(badges) == len(rows)
    assert sorted(int(b.text) for b in badges) == list(range(1, len(rows) + 1)) == sorted(int(r[0]) for r in rows)
    x0, y0, x1, y1 = drawing.bounds
    for area, badge in zip(areas, badges, strict=True):
        ring = np.array(area.rings[0])
        assert (ring.min(axis=0) >= (x0 - 1e-9, y0 - 1e-9)).all() and (ring.max(axis=0) <= (x1 + 1e-9, y1 + 1e-9)).all()
        assert (ring.min(axis=0) < badge.at).all() and (ring.max(axis=0) > badge.at).all()
    words = [s.text for s in drawing.shapes if isinstance(s, Callout)]
    assert len(words) == len(MADE.rolls) and all(("ft" in w) == (system == "us") for w in words)
    by_number = {r[0]: r for r in rows}
    assert by_number["1"][2].startswith("Foredeck, ply") or "ply" in by_number["1"][2]
    assert "pieces" in roll_words(MADE.rolls[0], system) and "%" in roll_words(MADE.rolls[0], system)


def test_rolls_lie_under_each_other_and_nothing_is_drawn_of_no_cloth():
    drawing = cut_view(MADE.rolls, "metric")
    height = sum(r.fabric.roll_width for r in MADE.rolls) + 0.15 * (len(MADE.rolls) - 1)
    assert drawing.bounds[3] - drawing.bounds[1] == pytest.approx(height)
    assert drawing.bounds[2] == pytest.approx(max(r.packed.length for r in MADE.rolls))
    empty = plan(evolve(demo_job(), zones=()), SHELF)
    assert empty.rolls == () and cut_view((), "metric").shapes == ()


def test_one_roll_by_itself_keeps_its_numbers():
    second = MADE.rolls[1]
    drawing = cut_view(MADE.rolls, "metric", second.fabric.id)
    first = len(MADE.rolls[0].cuts) + 1
    numbers = sorted(int(s.text) for s in drawing.shapes if isinstance(s, Badge))
    assert numbers == list(range(first, first + len(second.cuts)))
    assert drawing.bounds == pytest.approx((0, -second.fabric.roll_width, second.packed.length, 0))
