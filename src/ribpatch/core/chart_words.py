"""A chart in words, for those who listen to it."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.numerals import fixed, general

if TYPE_CHECKING:
    from ribpatch.core.chart import Chart, Curve

FIGURES = 3
Told = tuple[str, float, float]  # words, and the place on the chart's axes that they are told of


def chart_words(chart: Chart) -> list[Told]:
    """What a chart says, each with its place: bars by category (counted from 0, middles at half), limits, where curves
    begin and end and are highest, and their values at each mark.
    """
    return [*_limits(chart), *_bars(chart), *_curves(chart), *_marks(chart)]


def _value(chart: Chart, y: float) -> str:
    return f"{fixed(y * 100, 0)} %" if chart.share else general(y, FIGURES)


def _limits(chart: Chart) -> list[Told]:
    first = min((x for c in chart.curves for x, _ in c.points), default=0.0)
    rows = [(words, _value(chart, level), level) for level, words in chart.limits]
    return [(words if value in words else f"{words}: {value}", first, level) for words, value, level in rows]


def _bars(chart: Chart) -> list[Told]:
    count = max(len(chart.bars), 1)
    return [
        (f"{category}, {bars.name}: {_value(chart, bars.values[k])}", k + (n + 0.5) / count, bars.values[k])
        for k, category in enumerate(chart.categories)
        for n, bars in enumerate(chart.bars)
    ]


def _curves(chart: Chart) -> list[Told]:
    told = []
    for curve in chart.curves:
        if curve.points:
            highest = max(curve.points, key=lambda p: p[1])
            places = dict.fromkeys((curve.points[0], highest, curve.points[-1]))
            said = ", ".join(f"{_value(chart, y)} at {general(x, FIGURES)}" for x, y in places)
            told.append((f"{curve.name}, {chart.y_name} by {chart.x_name}: {said}", *curve.points[0]))
    return told


def _marks(chart: Chart) -> list[Told]:
    told = []
    for mark in chart.marks:
        values = [(c.name, _at(c, mark.x)) for c in chart.curves if c.points]
        said = ", ".join(f"{name} {_value(chart, y)}" for name, y in values)
        words = f"{mark.text}{', chosen' if mark.chosen else ''}"
        told.append((f"{words}: {said}" if said else words, mark.x, values[0][1] if values else 0.0))
    return told


def _at(curve: Curve, x: float) -> float:
    """The value at a place, between points in a straight line."""
    xs, ys = zip(*curve.points, strict=True)
    return float(np.interp(x, xs, ys))
