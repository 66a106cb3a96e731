"""What is bought: packs against every combination, needs less stock, dates, ages, things used up by rate; its edits."""

from __future__ import annotations

from itertools import product
from math import ceil

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.bed import bed_job as demo_job

from ribpatch.core.buying_words import amount_text, bought_text, date_text, note_text
from ribpatch.core.edits import set_price
from ribpatch.core.errors import Fault, ManyFaults
from ribpatch.core.materials.records import Pack
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve, read_as
from ribpatch.core.stock import Buying, StockItem
from ribpatch.core.stock_edits import add_stock, receive, remove_stock, use_off_cut
from ribpatch.core.stock_typed import price_typed, stock_typed
from ribpatch.core.supply.buying import ordered_by, spent, unit_of
from ribpatch.core.supply.consumables import CONSUMABLES, used_up
from ribpatch.core.supply.packs import cheapest
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
JOB = demo_job()
MADE = plan(JOB, SHELF)
RESIN = "epoxy-5-1-slow"


def buy(made, identity, nth=0):
    return [b for b in made.buys if b.id == identity][nth]


def with_stock(*rows, **buying):
    """The demo with things in stock: material, amount, width, opened."""
    items = tuple(
        StockItem(id=f"s{n}", material=m, amount=Measure(si=a), width=Measure(si=w) if w else None, opened=o)
        for n, (m, a, w, o) in enumerate(rows, 1)
    )
    return plan(evolve(JOB, stock=items, buying=evolve(JOB.buying, **buying)), SHELF)


PACKS = st.lists(
    st.tuples(st.sampled_from([0.5, 1, 2, 3, 5, 7]), st.integers(1, 30)),
    min_size=1,
    max_size=4,
    unique_by=lambda p: p[0],
)


@given(st.floats(0.1, 17), PACKS)
@settings(max_examples=150, deadline=None)
def test_packs_are_the_cheapest_of_all_combinations(wanted: float, packs: list[tuple[float, int]]) -> None:
    made = cheapest(wanted, tuple((float(s), float(p)) for s, p in packs))
    most = [ceil(wanted / s) + 1 for s, _ in packs]
    every = [
        (
            sum(n * p for n, (_, p) in zip(counts, packs, strict=True)),
            sum(n * s for n, (s, _) in zip(counts, packs, strict=True)),
        )
        for counts in product(*(range(m + 1) for m in most))
    ]
    cost, amount = min((c, a) for c, a in every if a >= wanted - 1e-9)
    assert made.cost == pytest.approx(cost) and made.amount == pytest.approx(amount)
    assert sum(s * n for s, n in made.packs) == pytest.approx(made.amount)


def test_packs_at_their_limits() -> None:
    assert cheapest(0.0, ((1.0, 5.0),)).packs == () and cheapest(3.0, ()).amount == 0.0
    assert cheapest(3.0, ((1.0, 1.0),)).packs == ((1.0, 3),), "no pack more by rounding"
    assert cheapest(9.0, ((1.0, 34.0), (5.0, 145.0), (20.0, 480.0))).packs == ((5.0, 1), (1.0, 4))
    assert cheapest(15.0, ((5.0, 145.0), (20.0, 400.0))).packs == ((20.0, 1),), "the larger is cheaper than three"
    free = cheapest(12.0, ((5.0, 0.0), (1.0, 0.0)))
    assert free.cost == 0 and free.amount >= 12
    assert cheapest(1e5, ((0.15, 4.0), (0.5, 13.0), (1.0, 25.0), (7.0, 170.0))).amount >= 1e5


def test_every_line_is_needed_less_stock_in_packs() -> None:
    for line in MADE.buys:
        assert (
            line.stock == 0
            and line.bought >= line.needed - 1e-9
            and line.over == pytest.approx(line.bought - line.needed)
        )
        assert line.cost is not None and line.cost >= 0
        if line.packs:
            assert sum(s * n for s, n in line.packs) == pytest.approx(line.bought)
    resin = next(i for i in MADE.items if i.id == RESIN)
    assert buy(MADE, RESIN).needed == pytest.approx(resin.charged)
    roll = next(r for r in MADE.rolls if r.fabric.id == "biax-45-600")
    assert (
        buy(MADE, "biax-45-600").needed == pytest.approx(1.05 * roll.made.length)
        and buy(MADE, "biax-45-600").unit == "m"
    )
    ply = buy(MADE, "ply-marine")
    assert (ply.unit, ply.needed) == ("each", 2.0)
    assert ply.cost == pytest.approx(2 * 2.44 * 1.22 * 0.018 * 550 * SHELF.price("ply-marine").price)
    assert spent(MADE.buys) == pytest.approx(sum(b.cost for b in MADE.buys))


def test_stock_is_taken_off_and_enough_of_it_is_not_bought() -> None:
    made = with_stock((RESIN, 4.0, None, ""), (RESIN, 1.0, None, ""), ("ply-marine", 2.0, None, ""))
    line, before = buy(made, RESIN), buy(MADE, RESIN)
    assert line.stock == 5.0 and line.short == pytest.approx(before.needed - 5) and line.bought < before.bought
    assert f"{before.needed - 5:.2f} kg short" in note_text(line, "metric")
    assert bought_text(line, "metric") == "3 × 5 kg" and line.packs == ((5.0, 3),)
    ply = buy(made, "ply-marine")
    assert (ply.bought, ply.cost, ply.over, bought_text(ply, "metric")) == (0.0, 0.0, 0.0, "nothing")
    assert "enough in stock" in note_text(ply, "metric") and date_text(ply, "2027-01-01") == ""


def test_off_cuts_lessen_what_comes_off_the_roll() -> None:
    made = with_stock(("biax-45-800", 2.0, 0.6, ""))
    assert buy(made, "biax-45-800").needed < buy(MADE, "biax-45-800").needed
    assert next(r.cloth.name for r in made.rolls if r.fabric.id == "biax-45-800") == "off-cut s1"
    assert buy(made, "biax-45-800").stock == 0, "an off-cut is no roll"


def test_what_comes_late_and_what_is_too_old_is_told() -> None:
    made = with_stock((RESIN, 1.0, None, "2025-01-10"), wanted="2027-03-11")
    line = buy(made, RESIN)
    assert (
        line.by == "2027-03-01" == ordered_by("2027-03-11", 10)
        and not line.late("2027-03-01")
        and line.late("2027-03-02")
    )
    assert date_text(line, "2027-03-01") == "2027-03-01" and date_text(line, "2027-03-02") == "2027-03-01, too late"
    assert "opened 2025-01-10, 26 months before it is wanted, and keeps 12: test a cup" in note_text(line, "metric")
    assert date_text(buy(MADE, RESIN), "2027-01-01") == "10 days before"
    assert not buy(with_stock((RESIN, 1.0, None, "2027-01-10"), wanted="2027-03-11"), RESIN).aged
    assert ordered_by("", 10) == "" == ordered_by("2027-03-11", None) and ordered_by("2027-03-01", 0.5) == "2027-02-28"


def test_prices_of_none_and_nothing_are_told_and_count_nothing() -> None:
    free = plan(set_price(evolve(SHELF.price(RESIN), price=0.0, packs=(Pack(size=5.0),))).change(JOB), SHELF)
    assert buy(free, RESIN).cost == 0.0 and buy(free, RESIN).packs == ((5.0, 4),)
    bare = plan(JOB, type(SHELF)(**{f: getattr(SHELF, f) for f in SHELF.__struct_fields__} | {"prices": ()}))
    assert all(b.cost is None and not b.packs for b in bare.buys) and "no price" in note_text(bare.buys[0], "metric")
    assert spent(bare.buys) == 0


def test_amounts_are_said_in_the_units_shown() -> None:
    assert amount_text(20.0, "kg", "metric") == "20.00 kg" and amount_text(7.2345, "each", "us") == "7.2"
    assert amount_text(2.0, "m", "us") == "6'6 3/4\"" and amount_text(12.0, "each", "metric") == "12"
    gloves = buy(MADE, "gloves")
    assert bought_text(gloves, "metric") == "1 pack of 50" and bought_text(buy(MADE, "suit"), "metric") == "8"
    assert bought_text(buy(MADE, RESIN), "us").endswith("lb")


def test_what_is_used_up_is_its_basis_times_its_rate() -> None:
    for made in MADE.zones:
        bases = dict(made.needs.bases)
        assert bases["cup"] == made.needs.cups.count and bases["zone"] == 1 and bases["bagged"] == 0
        for used in made.needs.used:
            assert used.amount == pytest.approx(bases[used.what.basis] * SHELF.rule(used.what.rule))
            assert made.figure(used.what.rule).value == used.amount
    assert not any(i.id == "film" for i in MADE.items)
    zone = MADE.zone("z1").zone
    bagged = evolve(zone, scheme=evolve(zone.scheme, laying=evolve(zone.scheme.laying, process="bag")))
    under = plan(evolve(JOB, zones=(bagged,)), SHELF)
    film = next(i for i in under.items if i.id == "film")
    assert film.amount == pytest.approx(dict(under.zones[0].needs.bases)["bagged"] * 1.5)
    assert {c.id for c in CONSUMABLES} <= {p.id for p in SHELF.prices}
    assert used_up({"cup": 0, "laid": 0, "ground": 0, "edge": 0, "bagged": 0, "zone": 0}, SHELF) == ()


def test_stock_is_put_in_received_and_taken_out() -> None:
    item = StockItem(id="s0", material=RESIN, amount=Measure(si=2.0))
    one = add_stock(JOB, item, "epoxy").change(JOB)
    two = receive(one, buy(MADE, RESIN), "2027-03-01").change(one)
    assert [s.id for s in two.stock] == ["s1", "s2"] and two.stock[1].amount.si == buy(MADE, RESIN).bought
    assert two.stock[1].note == "came 2027-03-01" and receive(one, buy(MADE, RESIN), "").change(one).stock[1].note == ""
    assert [s.id for s in remove_stock("s1", "epoxy").change(two).stock] == ["s2"]
    assert add_stock(two, item, "epoxy").change(two).stock[-1].id == "s3"


def test_what_is_left_of_cloth_is_booked() -> None:
    made = with_stock(
        ("biax-45-800", 2.0, 0.6, ""),
        ("biax-45-800", 5.0, None, ""),
        ("biax-45-800", 4.0, None, ""),
        (RESIN, 1.0, None, ""),
    )
    off, whole = (r for r in made.rolls if r.fabric.id == "biax-45-800")
    after = use_off_cut(made.job, off).change(made.job)
    kept = [s for s in after.stock if s.width is not None]
    assert len(kept) == (off.left >= 0.15) and all(s.amount.si == pytest.approx(off.left) for s in kept)
    assert len([s for s in after.stock if s.width is None]) == 3
    then = use_off_cut(made.job, whole).change(made.job)
    rolls = [s.amount.si for s in then.stock if s.material == "biax-45-800" and s.width is None]
    assert sum(rolls) == pytest.approx(9.0 - whole.made.length) and then.stock[-1].amount.si == 1.0
    all_of_it = with_stock(("biax-45-800", off.made.length + whole.made.length + 0.001, None, ""))
    (roll,) = (r for r in all_of_it.rolls if r.fabric.id == "biax-45-800")
    if roll.left < 0.005:
        assert use_off_cut(all_of_it.job, roll).change(all_of_it.job).stock == ()


@pytest.mark.parametrize(
    ("record", "given", "words"),
    [
        (StockItem, {"id": "s1", "material": "x", "amount": {"si": -1}}, "amount"),
        (StockItem, {"id": "s1", "material": "x", "amount": {"si": 1}, "opened": "yesterday"}, "no date"),
        (StockItem, {"id": "s1", "material": "x", "amount": {"si": 1}, "width": {"si": 0.0}}, "width"),
        (Buying, {"wanted": "2027-02-30"}, "no date; write it as"),
        (Buying, {"wanted": "0001-01-01"}, "outside the years 1950 to 2200"),
        (Buying, {"spread": {"si": 2}}, "spread"),
        (Pack, {"size": 0}, "size"),
    ],
)
def test_what_cannot_be_is_told(record, given, words) -> None:
    from pydantic import ValidationError

    from ribpatch.core.record import faults_of

    with pytest.raises(ValidationError) as caught:
        read_as(record, given)
    assert any(words in f"{f.sentence} {getattr(f, 'field', '')}" for f in faults_of(caught.value))
    assert issubclass(ManyFaults, Fault)


def typed(amount="1", width="", opened=""):
    return {"how much": amount, "width": width, "opened": opened}


def test_stock_is_read_as_each_material_is_counted() -> None:
    for material, amount, width, si in (
        (RESIN, "2 kg", "", 2.0),
        ("biax-45-600", "3 m", "", 3.0),
        ("biax-45-600", "80 cm", "50 cm", 0.8),
        ("ply-marine", "2", "", 2.0),
        ("ply-marine", "1.2 m", "60 cm", 1.2),
        ("peel-ply", "4 m2", "", 4.0),
        ("gloves", "30", "", 30.0),
    ):
        made = stock_typed(material, typed(amount, width), "2026-11-26", SHELF, "metric")
        assert made.amount.si == pytest.approx(si) and (made.width is not None) == bool(width), material
    day = stock_typed(RESIN, typed("1 kg", "", "20261101"), "2026-11-26", SHELF, "metric")
    assert day.opened == "2026-11-01"
    assert unit_of("nothing", SHELF) == "each" and unit_of("poured-600", SHELF) == "kg"
    for material, texts, where, words in (
        (RESIN, typed("2 kg", "1 m"), "width", "no off-cuts"),
        (RESIN, typed("lots"), "how much", "lots"),
        (RESIN, typed("-2 kg"), "how much", "outside"),
        ("biax-45-600", typed("1 m", "9 m"), "width", "outside"),
        (RESIN, typed("1 kg", "", "2026-11-27"), "opened", "still to come"),
        (RESIN, typed("1 kg", "", "2026-11-31"), "opened", "no date"),
        (RESIN, typed("1 kg", "", "1066-10-14"), "opened", "years"),
    ):
        with pytest.raises(Fault, match=words) as caught:
            stock_typed(material, texts, "2026-11-26", SHELF, "metric")
        assert caught.value.where == where, (texts, caught.value.sentence)


def test_a_price_is_typed_for_a_unit_and_for_a_pack() -> None:
    line = buy(MADE, RESIN)
    unit = price_typed(line, "epoxy", "20 per kg", SHELF, "metric")
    assert unit.price == 20 and unit.lead == 10 and all(p.price is None for p in unit.packs) and len(unit.packs) == 3
    pack = price_typed(line, "epoxy", "430 for 20 kg", SHELF, "metric")
    assert pack.price == 24 and {p.size: p.price for p in pack.packs} == {1: 34, 5: 145, 20: 430}
    new = price_typed(line, "epoxy", "60 for 2 kg", SHELF, "metric")
    assert [p.size for p in new.packs] == [1, 2, 5, 20] and new.keeps == 12
    pounds = price_typed(line, "epoxy", "100 for 10 lb", SHELF, "us")
    assert any(p.size == pytest.approx(4.536, abs=1e-3) for p in pounds.packs)
    assert price_typed(line, "epoxy", "no packs", SHELF, "metric").packs == ()
    bare = type(SHELF)(**{f: getattr(SHELF, f) for f in SHELF.__struct_fields__} | {"prices": ()})
    first = price_typed(line, "epoxy", "100 for 5 kg", bare, "metric")
    assert first.price == 20 and first.per == "kg" and first.lead is None
    for text, words in (
        ("cheap", "cheap"),
        ("-3", "price"),
        ("20 for 0 kg", "pack"),
        ("20 for ever", "ever"),
        ("x for 5 kg", "x"),
    ):
        with pytest.raises(Fault, match=words):
            price_typed(line, "epoxy", text, SHELF, "metric")
