"""What a chart says to those who listen is what stands on it."""

import pytest

from ribpatch.core.chart import Bars, Chart, Curve, Mark
from ribpatch.core.chart_words import chart_words


def test_bars_are_told_by_category_with_their_levels():
    chart = Chart(
        "", "new ÷ old", categories=("stretch", "bend"), bars=(Bars("along", (1.2, 0.875)), Bars("across", (0.5, 2.5))),
        limits=((1.0, "as it was"), (0.8, "least: 80 %")),
    )  # fmt: skip
    assert chart_words(chart) == [
        ("as it was: 100 %", 0.0, 1.0),
        ("least: 80 %", 0.0, 0.8),
        ("stretch, along: 120 %", 0.25, 1.2),
        ("stretch, across: 50 %", 0.75, 0.5),
        ("bend, along: 88 %", 1.25, 0.875),
        ("bend, across: 250 %", 1.75, 2.5),
    ]


def test_curves_are_told_by_their_ends_their_highest_and_where_the_marks_cut_them():
    curve = Curve("can be worked", ((0.5, 40.0), (1.0, 44.0), (2.0, 18.0)))
    wanted = Curve("it takes", ((0.5, 10.0), (2.0, 25.0)), "second")
    chart = Chart("kg", "minutes", (curve, wanted), (Mark(1.5, "1.5 kg", True), Mark(9.0, "far")), share=False)
    assert chart_words(chart) == [
        ("can be worked, minutes by kg: 40 at 0.5, 44 at 1, 18 at 2", 0.5, 40.0),
        ("it takes, minutes by kg: 10 at 0.5, 25 at 2", 0.5, 10.0),
        ("1.5 kg, chosen: can be worked 31, it takes 20", 1.5, 31.0),
        ("far: can be worked 18, it takes 25", 9.0, 18.0),
    ]


@pytest.mark.parametrize("chart", [Chart("", ""), Chart("x", "y", (Curve("none", ()),))])
def test_an_empty_chart_says_nothing(chart):
    assert chart_words(chart) == []


def test_a_mark_without_a_curve_is_told_by_its_words():
    assert chart_words(Chart("x", "y", marks=(Mark(3.0, "3:1"),))) == [("3:1", 3.0, 0.0)]
