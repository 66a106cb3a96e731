"""The cut plan: every strip of every ply once, as large as its piece, on its own roll; drawn, listed and written."""

import numpy as np
import pytest
from msgspec.structs import replace
from tests.bed import bed_job as demo_job

from ribpatch.core.drawing.cut_view import cut_rows, cut_view, roll_words
from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.shapes import Area, Badge, Callout, Line
from ribpatch.core.edits import set_rule
from ribpatch.core.memo import Known
from ribpatch.core.patch.strips import handled, strips_in, widest
from ribpatch.core.plan import Plan, job_shelf, plan
from ribpatch.core.record import evolve
from ribpatch.core.stock import StockItem
from ribpatch.core.stock_edits import forget_layout, keep_layout
from ribpatch.core.supply import cutting
from ribpatch.core.supply.cutting import Cut, Length, cloth_in_stock, cuts_of, mark_of, rolls_of, turns_of
from ribpatch.core.supply.nesting.shape import Lying, Nested, Shape, area_of, extent, turned, turns_that_fit
from ribpatch.core.supply.nesting.sound import is_sound
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
MADE = plan(demo_job(), SHELF)
BIAX, UD, MAT = (
    next(f for f in SHELF.fabrics if f.turn == 90 and f.layers[0].kind == "stitched"),
    next(f for f in SHELF.fabrics if f.turn == 180),
    next(f for f in SHELF.fabrics if f.layers[0].kind == "mat" and len(f.layers) == 1),
)
BOX = ((0.0, 0.0), (0.5, 0.0), (0.5, 0.4), (0.0, 0.4))
TRIANGLE = BOX[:3]


def cut(ring, name="A", ply="ply 1", turns=(0.0, 180.0)):
    return Cut(name, ply, 1, 1, Shape(ring, turns))


def test_every_ply_of_the_demo_is_covered_by_its_pieces_with_trim():
    """By area: each ply with its trim and laps; every piece holds what it is cut for."""
    trim = SHELF.rule("cloth.trim")
    for made in MADE.zones:
        cuts = [c for _, cuts in made.cuts for c in cuts]
        outlines = [o for o in made.patch.all_outlines if not o.region.is_empty]
        plies = sum(o.region.area for o in outlines) + sum(p.blank.area * len(p.outlines) for p in made.parts)
        around = sum(o.region.length for o in outlines) * trim
        area = sum(area_of(c.shape.ring) for c in cuts)
        assert plies < area < plies + 2.2 * around + 0.4 * plies
        assert all(c.zone == made.zone.name for c in cuts) and len({c.name for c in cuts}) >= len(outlines)
        widths = {f.id: f.roll_width for f, _ in made.cuts}
        for fabric, pieces in made.cuts:
            assert all(turns_that_fit(c.shape, widths[fabric.id]) for c in pieces)


def test_rolls_are_told_of_as_they_are_laid_out_and_given_up_where_that_raises(monkeypatch):
    class Off(Exception):
        """Not wanted any longer."""

    def anew():
        monkeypatch.setattr(cutting, "_KNOWN", Known(64))
        return Plan(MADE.job, MADE.shelf, MADE.zones, MADE.system)

    def until(count, shares):
        def told(share):
            shares.append(share)
            if len(shares) == count:
                raise Off

        return told

    for count in (1, 2, 30):
        made, shares = anew(), []
        with pytest.raises(Off):
            made.rolls_told(until(count, shares))
        assert "rolls" not in made.__dict__ and all(0 <= s <= 1 for s in shares)
    shares = []
    rolls = made.rolls_told(until(-1, shares))
    assert rolls is made.rolls and made.rolls_told(until(1, [])) is rolls and len(shares) > 30 and shares[0] == 0.0
    others = anew().rolls
    assert [(r.cuts, r.made) for r in rolls] == [(r.cuts, r.made) for r in others]


def test_a_ply_wider_than_the_roll_is_strips_that_lap_and_cover_it():
    zone = MADE.zone("z1").zone
    made = MADE.zone("z1")
    wide = next(o for o in made.patch.outlines if o.size[1] > 0.6)
    narrow = evolve(wide.laid.ply.fabric, roll_width=0.4, turn=180)
    outline = replace(wide, laid=replace(wide.laid, ply=replace(wide.laid.ply, fabric=narrow)))
    face = replace(made.patch.face, outlines=(outline,))
    ((fabric, cuts),) = cuts_of(zone, replace(made.patch, face=face, backing=None, second=None), (), SHELF)
    assert fabric is narrow and len(cuts) >= 2 and [c.piece for c in cuts] == list(range(1, len(cuts) + 1))
    assert cuts[0].name == f"{zone.name}, ply {outline.laid.number} 1/{len(cuts)}"
    heights = [extent(turned(c.shape.ring, 0.0))[1] for c in cuts]
    assert max(heights) <= 0.4 + 1e-9 and all(c.shape.turns == (0.0, 180.0) for c in cuts)
    laps = SHELF.rule("strip.overlap") * (len(cuts) - 1)
    assert sum(heights) >= outline.size[1] + laps - 1e-3
    assert sum(area_of(c.shape.ring) for c in cuts) > outline.region.area


def test_what_nobody_can_handle_is_smaller_strips():
    zone = MADE.zone("z1").zone
    few = handled(zone, SHELF)
    above = evolve(zone, scheme=evolve(zone.scheme, laying=evolve(zone.scheme.laying, overhead=True)))
    assert handled(above, SHELF) == SHELF.rule("handled.overhead") < few == SHELF.rule("handled.downhand")
    assert handled(MADE.zone("z2").zone, SHELF) == SHELF.rule("handled.vertical")
    assert widest(1.27, 2.0, 1.0, 0.05, 10.0) == 1.27 and widest(1.27, 2.0, 1.0, 0.05, 1.0) == 0.5
    assert widest(1.27, 20.0, 1.0, 0.05, 1.0) == pytest.approx(0.15), "no narrower than three laps"


def test_the_laps_that_the_plan_draws_are_those_that_are_cut():
    """Of pieces that nobody can handle whole, on the plan and on the roll alike."""
    shelf = job_shelf(
        SHELF, set_rule(next(r for r in SHELF.rules if r.id == "handled.downhand"), 0.4).change(demo_job()).own
    )
    made = MADE.zone("z1")
    strips = strips_in(made.zone, made.patch.outlines, shelf)
    assert all(len(s.pieces) > 1 for s in strips)
    drawing = plan_view(made.zone, made.patch, None, shelf, "rebuild", "metric")
    drawn = [s for s in drawing.shapes if isinstance(s, Line) and s.role == "joint"]
    assert len(drawn) == sum(len(s.lines) for s in strips) > 0
    cuts = [c for _, cuts in cuts_of(made.zone, made.patch, (), shelf) for c in cuts]
    assert len(cuts) == sum(len(s.pieces) for s in strips)


def test_cloth_is_turned_as_it_may_be():
    assert turns_of(UD, BOX) == (0.0, 180.0) and turns_of(BIAX, TRIANGLE) == (0.0, 90.0, 180.0, 270.0)
    assert turns_of(MAT, TRIANGLE) is None and turns_of(MAT, BOX) == (0.0, 90.0, 180.0, 270.0)
    assert turns_of(evolve(UD, turn=0), BOX) == (0.0,)


def test_fabrics_of_all_zones_share_a_roll_in_the_order_first_used():
    rows = [(BIAX, (cut(BOX),)), (UD, (cut(BOX, "B"),)), (BIAX, (cut(BOX, "B", "ply 2"),))]
    rolls = rolls_of(rows, {})
    assert [r.fabric.id for r in rolls] == [BIAX.id, UD.id]
    assert [c.name for c in rolls[0].cuts] == ["A, ply 1", "B, ply 2"]
    assert rolls[0].made.length == pytest.approx(0.5) and rolls[0].left is None
    assert rolls[0].used == pytest.approx(0.4 / (0.5 * BIAX.roll_width))
    assert rolls_of([], {}) == () and MADE.rolls is MADE.rolls


def test_off_cuts_are_used_up_first_and_the_roll_says_what_is_left():
    rows = [(BIAX, tuple(cut(BOX, ply=f"ply {n}") for n in range(1, 6)))]
    stock = {
        BIAX.id: (Length("", BIAX.roll_width, 2.0), Length("off-cut s1", 0.45, 1.2), Length("off-cut s2", 0.3, 0.3))
    }
    rolls = rolls_of(rows, stock)
    assert [(r.cloth.name, len(r.cuts)) for r in rolls] == [("off-cut s1", 2), ("", 3)]
    assert rolls[0].left == pytest.approx(0.2) and rolls[1].left == pytest.approx(1.5)
    assert {c.ply for r in rolls for c in r.cuts} == {f"ply {n}" for n in range(1, 6)}
    assert "0.20 m left" in roll_words(rolls[0], "metric") and "off-cut s1" in roll_words(rolls[0], "metric")
    short = rolls_of(rows, {BIAX.id: (Length("", BIAX.roll_width, 0.6),)})[0]
    assert short.left == pytest.approx(-0.4) and "0.40 m more than there is" in roll_words(short, "metric")
    drawing = cut_view(rolls, "metric", BIAX.id)
    assert drawing.bounds[3] - drawing.bounds[1] == pytest.approx(0.45 + 0.15 + BIAX.roll_width)


def test_a_kept_layout_is_used_while_the_pieces_are_the_same_and_it_is_sound():
    rows = [(BIAX, (cut(BOX), cut(BOX, "B")))]
    (roll,) = rolls_of(rows, {})
    assert not roll.kept
    lying = (Lying(0.0, 0.0, 0.0), Lying(0.7, 0.0, 0.0))
    job = keep_layout(roll, Nested(lying, 1.2, 0.5)).change(demo_job())
    (kept,) = rolls_of(rows, {}, job.layouts)
    assert kept.kept and kept.made.lying == lying and kept.made.length == pytest.approx(1.2)
    assert "kept as found" in roll_words(kept, "metric")
    assert not rolls_of([(BIAX, (cut(BOX),))], {}, job.layouts)[0].kept, "other pieces"
    over = keep_layout(roll, Nested((lying[0], lying[0]), 0.5, 0.5)).change(job)
    assert len(over.layouts) == 1 and not rolls_of(rows, {}, over.layouts)[0].kept, "one lies over the other"
    assert forget_layout(BIAX.id, BIAX.name).change(job).layouts == ()
    assert mark_of(roll.shapes, 1.0) != mark_of(roll.shapes, 1.1)


def test_stock_of_cloth_is_rolls_and_off_cuts():
    rows = (
        ("s1", BIAX.id, 3.0, None),
        ("s2", BIAX.id, 2.0, None),
        ("s3", BIAX.id, 1.0, 0.5),
        ("s4", "gone", 1.0, None),
        ("s5", UD.id, 0.0, None),
    )
    items = tuple(
        StockItem(id=i, material=m, amount=Measure(si=a), width=Measure(si=w) if w else None) for i, m, a, w in rows
    )
    made = cloth_in_stock(evolve(demo_job(), stock=items), SHELF)
    assert set(made) == {BIAX.id} and {(p.name, p.width, p.long) for p in made[BIAX.id]} == {
        ("", BIAX.roll_width, 5.0),
        ("off-cut s3", 0.5, 1.0),
    }


def test_the_demo_is_cut_whole_and_soundly():
    for roll in (*MADE.rolls, *MADE.first_rolls):
        assert is_sound(roll.shapes, roll.made.lying, roll.cloth.width)
        assert roll.made.length >= roll.made.bound - 1e-9 and 0.3 < roll.used <= 1 + 1e-9
    pieces = sum(len(c) for z in MADE.zones for _, c in z.cuts)
    assert sum(len(r.cuts) for r in MADE.rolls) == pieces == len(cut_rows(MADE.rolls, "metric"))
    assert all(a.made.length <= b.made.length for a, b in zip(MADE.rolls, MADE.first_rolls, strict=True))


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
    assert len(words) == len(MADE.rolls) and all(("'" in w) == (system == "us") for w in words)
    by_number = {r[0]: r for r in rows}
    assert by_number["1"][2].startswith("Foredeck, ply") or "ply" in by_number["1"][2]
    assert "pieces" in roll_words(MADE.rolls[0], system) and "%" in roll_words(MADE.rolls[0], system)


def test_rolls_lie_under_each_other_and_nothing_is_drawn_of_no_cloth():
    drawing = cut_view(MADE.rolls, "metric")
    height = sum(r.fabric.roll_width for r in MADE.rolls) + 0.15 * (len(MADE.rolls) - 1)
    assert drawing.bounds[3] - drawing.bounds[1] == pytest.approx(height)
    assert drawing.bounds[2] == pytest.approx(max(r.made.length for r in MADE.rolls))
    empty = plan(evolve(demo_job(), zones=()), SHELF)
    assert empty.rolls == () and cut_view((), "metric").shapes == ()


def test_one_roll_by_itself_keeps_its_numbers():
    second = MADE.rolls[1]
    drawing = cut_view(MADE.rolls, "metric", second.fabric.id)
    first = len(MADE.rolls[0].cuts) + 1
    numbers = sorted(int(s.text) for s in drawing.shapes if isinstance(s, Badge))
    assert numbers == list(range(first, first + len(second.cuts)))
    assert drawing.bounds == pytest.approx((0, -second.fabric.roll_width, second.made.length, 0))
