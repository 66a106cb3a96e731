"""Coupon statistics against exact small-sample results from another library, and against tables."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from ribpatch.core.coupon_words import _odds, ages_typed, coupon_table, planned_rows, resins_over, verdict
from ribpatch.core.errors import Fault
from ribpatch.core.logbook.coupons import chance_higher, duel, factor_of, fisher, permuted, row_results
from ribpatch.core.logged import CouponResult, CouponRow, CouponSet
from ribpatch.core.units import Measure

few = st.integers(0, 8)


@given(few, few, few, few)
def test_fishers_exact_test(a, b, c, d):
    known = stats.fisher_exact([[a, b], [c, d]], alternative="greater").pvalue
    assert fisher(a, b, c, d) == pytest.approx(known, abs=1e-12)


@given(few, few, few, few)
def test_the_chance_of_a_higher_share(a, b, c, d):
    from scipy.integrate import quad

    def over(x):
        return stats.beta.pdf(x, a + 1, b + 1) * stats.beta.cdf(x, c + 1, d + 1)

    made = chance_higher((a, b), (c, d))
    assert made == pytest.approx(quad(over, 0, 1)[0], abs=1e-6)
    assert made + chance_higher((c, d), (a, b)) == pytest.approx(1)


def test_loads_against_every_way_of_sharing_them_out():
    a, b = [41.0, 39.5, 44.0, 47.0], [30.0, 38.0, 28.5, 40.0]
    known = stats.permutation_test(
        (a, b), lambda x, y: np.mean(x) - np.mean(y), alternative="greater", n_resamples=np.inf
    ).pvalue
    assert permuted(a, b) == pytest.approx(known)
    assert permuted([3, 4, 5], [1, 2, 2.5]) == pytest.approx(1 / 20)  # the clearest of twenty
    assert permuted([], [1]) is None and permuted([1.0] * 15, [1.0] * 15) is None


def a_set(*rows):
    return CouponSet(
        id="c1",
        name="onto peel ply",
        rows=tuple(
            CouponRow(
                id=f"r{n}",
                preparation=prep,
                results=tuple(
                    CouponResult(mode=m, load=None if load is None else Measure(si=load)) for m, load in results
                ),
            )
            for n, (prep, results) in enumerate(rows, 1)
        ),
    )


@pytest.mark.parametrize(("odds", "said"), [(1001, "over 1000"), (1000, "1000"), (2.4, "2"), (2, "2"), (1.94, "1.9")])
def test_odds_have_a_figure_behind_the_point_only_where_they_are_small(odds, said):
    assert _odds(odds) == said


def test_the_better_preparation_is_told_with_its_odds(shelf):
    ground = [("torn", 90.0)] * 5
    texture = [("clean", 30.0), ("clean", 35.0), ("mixed", 50.0), ("clean", 25.0), ("clean", 40.0)]
    of = a_set(("peel", texture), ("peel-ground", ground), ("sanded", []))
    best, other = row_results(of)
    assert (best.row.preparation, best.torn, other.clean, best.load) == ("peel-ground", 5, 4, 90.0)
    made = duel(best, other)
    # Five of five against none of five: the highest of six is below the lowest of six others once in 12 over 6.
    assert made.chance == pytest.approx(923 / 924) and made.fisher == pytest.approx(1 / 252)
    assert made.loads == pytest.approx(1 / 252)
    words = verdict(of, shelf)
    assert "5 of 5 tore fibres" in words and "the odds are 923 to 1" in words and "0%" in words
    table = coupon_table(of, shelf, "metric")
    assert table.rows[2].cells[2] == "0 of 5" and table.rows[0].cells[3:6] == ("0", "1", "4")


def test_few_coupons_are_said_to_be_few_and_bad_ones_no_bond(shelf):
    close = a_set(("peel", [("torn", None)] * 2), ("ground", [("torn", None)] * 2 + [("mixed", None)]))
    assert "not told apart yet" in verdict(close, shelf)
    bad = a_set(("peel", [("clean", None)] * 3), ("ground", [("mixed", None)] * 3))
    assert "None of them is a bond" in verdict(bad, shelf)
    assert "One row says nothing" in verdict(a_set(("peel", [("torn", None)])), shelf)
    assert "Nothing is read" in verdict(a_set(("peel", [])), shelf)
    assert [r.preparation for r in planned_rows(shelf, None)] == [p.id for p in shelf.preparations if p.old]


@given(st.integers(0, 20), st.integers(0, 20), st.integers(0, 20), st.floats(0.1, 1))
def test_what_is_used_of_the_bond_lies_between_what_was_stated_and_what_was_seen(torn, mixed, clean, stated):
    results = [("torn", None)] * torn + [("mixed", None)] * mixed + [("clean", None)] * clean
    if not results:
        return
    (made,) = row_results(a_set(("ground", results)))
    seen = (torn + 0.6 * mixed + 0.15 * clean) / made.count
    factor = factor_of(made, stated)
    assert min(stated, seen) - 1e-9 <= factor <= max(stated, seen) + 1e-9


def test_a_matrix_of_ways_resins_and_ages(shelf, job):
    ways = [p.id for p in shelf.preparations if p.old]
    assert {"peel", "degreased", "ground"} <= set(ways)
    rows = planned_rows(shelf, "epoxy-5-1-slow", ("epoxy-5-1-slow", "polyester-ortho"), ages_typed("1, 30"))
    assert len(rows) == len({(r.preparation, r.over, r.age.si) for r in rows}) == 4 * len(ways)
    assert {r.age.si for r in rows} == {86_400.0, 30 * 86_400.0} and rows[0].words == "1 day old"
    cells = coupon_table(CouponSet(id="c1", name="ages", rows=rows), shelf, "metric").rows[2].cells
    assert " over " in cells[1] and cells[0].endswith("1 day old")
    for text in ("0", "soon", "4000"):
        with pytest.raises(Fault):
            ages_typed(text)
    with pytest.raises(Fault, match="more than 24"):
        planned_rows(shelf, None, (), ages_typed("1, 2, 3, 4, 5"))
    assert resins_over(job.zones[0])[0] == job.zones[0].scheme.resin.main
