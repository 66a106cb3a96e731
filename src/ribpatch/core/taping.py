"""Outlines by tape: distances from two pins and between corners, adjusted by least squares; offsets from a baseline;
half a shape mirrored. SI.

The first pin is the origin and the second lies on the x axis: the base between them is a measure like the others. Each
corner comes from its two tapes by plane trigonometry; every further distance is redundancy, and all are then adjusted
together (Gauss-Newton on the distances, equal weights). The misfit is the root of the sum of squared residuals over the
degrees of freedom. The measure that fits worst is the one with the largest residual over its own standard deviation,
which its share of redundancy gives; one check alone shows that something is wrong, but not what. Source: [37].
"""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.errors import BadOutline
from ribpatch.core.quantity import parse
from ribpatch.core.text import lines_of, parts_of
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats, Point, Ring
    from ribpatch.core.units import System

FIRST, SECOND = "pin 1", "pin 2"
STEPS, STILL = 30, 1e-9  # Gauss-Newton: at most so many, until nothing moves by more than this, m
LEAST_CHECK = 0.03  # share of redundancy below which a measure is not checked by the others
GROSS = 3.0  # standard deviations from which a measure is called likely wrong
NOISE = 0.002  # m: a tape read to 2 mm, the spread that a measure is held against where there is little redundancy


class Span(Struct, frozen=True):
    """One measured distance between two named points, m."""

    a: str
    b: str
    length: float

    @property
    def name(self) -> str:
        """What it lies between, in words."""
        return f"{self.a} to {self.b}"


class Taped(Struct, frozen=True, eq=False):
    """Adjusted corners: their places (m) by name, the residual of each measure (adjusted less measured, m), the misfit
    (m; None without redundancy), and the worst measure with how many of its standard deviations it is off.
    """

    points: dict[str, Point]
    spans: tuple[Span, ...]
    residuals: tuple[float, ...]
    redundancy: tuple[float, ...]
    misfit: float | None
    worst: Span | None
    times: float

    @property
    def ring(self) -> Ring:
        """The corners in the order in which they were measured, without the pins."""
        return tuple(at for name, at in self.points.items() if name not in (FIRST, SECOND))

    @property
    def suspect(self) -> bool:
        """Whether the worst measure is likely wrong."""
        return self.worst is not None and self.times > GROSS


def adjusted(spans: tuple[Span, ...], below: frozenset[str] = frozenset()) -> Taped:
    """Corners from distances (m); those named in ``below`` lie on the other side of the base. Raises BadOutline where a
    corner does not hang on two distances from points that are known, or two tapes cannot meet.
    """
    start = _placed(spans, below)
    names = [n for n in start if n != FIRST]
    free = [(n, axis) for n in names for axis in (0, 1) if not (n == SECOND and axis == 1)]
    index = {key: k for k, key in enumerate(free)}
    at = {n: np.array(p) for n, p in start.items()}
    measured = np.array([s.length for s in spans])
    design = np.zeros((len(spans), len(free)))
    for _ in range(STEPS):
        design, modelled = _design(spans, at, index)
        step = np.linalg.lstsq(design, measured - modelled, rcond=None)[0]
        for (name, axis), move in zip(free, step, strict=True):
            at[name][axis] += move
        if np.abs(step).max(initial=0.0) < STILL:
            break
    design, modelled = _design(spans, at, index)
    residuals = modelled - measured
    freedom = len(spans) - len(free)
    checked = 1 - np.einsum("ij,ji->i", design, np.linalg.pinv(design))
    misfit = sqrt(float(residuals @ residuals) / freedom) if freedom > 0 else None
    worst, times = _worst(spans, residuals, checked, freedom)
    places = {n: (float(p[0]), float(p[1])) for n, p in at.items()}
    return Taped(places, spans, tuple(residuals.tolist()), tuple(checked.tolist()), misfit, worst, times)


def _design(spans: tuple[Span, ...], at: dict[str, Floats], index: dict[tuple[str, int], int]) -> tuple[Floats, Floats]:
    """How each distance changes with each free coordinate, (n, m), and the distances as they are, (n,), m."""
    design, lengths = np.zeros((len(spans), len(index))), np.zeros(len(spans))
    for row, span in enumerate(spans):
        way = at[span.b] - at[span.a]
        lengths[row] = length = float(np.hypot(*way))
        for name, sign in ((span.a, -1.0), (span.b, 1.0)):
            for axis in (0, 1):
                if (name, axis) in index and length > 0:
                    design[row, index[name, axis]] = sign * way[axis] / length
    return design, lengths


def _worst(spans: tuple[Span, ...], residuals: Floats, checked: Floats, freedom: int) -> tuple[Span | None, float]:
    """The measure farthest off in its own standard deviations, judged by the spread that the others leave."""
    best, times = None, 0.0
    for span, off, share in zip(spans, residuals.tolist(), checked.tolist(), strict=True):
        if freedom < 2 or share < LEAST_CHECK:
            continue
        left = float(residuals @ residuals) - off**2 / share  # what stays where this one is left out
        spread = max(NOISE, sqrt(max(left, 0.0) / (freedom - 1)))
        mine = abs(off) / (spread * sqrt(share))
        if mine > times:
            best, times = span, mine
    return best, times


def _placed(spans: tuple[Span, ...], below: frozenset[str]) -> dict[str, Point]:
    """First places: every corner by its first two distances to points that are known already."""
    base = next((s for s in spans if {s.a, s.b} == {FIRST, SECOND}), None)
    if base is None or base.length <= 0:
        raise BadOutline("base", reason="the distance between the pins is missing", advice="Write it first, alone.")
    at: dict[str, Point] = {FIRST: (0.0, 0.0), SECOND: (base.length, 0.0)}
    wanted = list(dict.fromkeys(n for s in spans for n in (s.a, s.b) if n not in at))
    for name in wanted:
        ties = [(at[o], s) for s in spans if name in (s.a, s.b) and (o := s.b if s.a == name else s.a) in at]
        if len(ties) < 2:
            raise BadOutline(
                f"corner {name}", reason="it hangs on fewer than two distances", advice="Measure it from both pins."
            )
        at[name] = _met(name, ties[0], ties[1], name in below)
    return at


def _met(name: str, one: tuple[Point, Span], two: tuple[Point, Span], below: bool) -> Point:
    """Where two tapes meet: above the line between their ends, or below it."""
    (x1, y1), (x2, y2) = one[0], two[0]
    a, b, d = one[1].length, two[1].length, float(np.hypot(x2 - x1, y2 - y1))
    along = (a * a - b * b + d * d) / (2 * d)
    high = a * a - along * along
    if -2 * NOISE * (a + b) < high < 0:
        high = 0.0  # the tapes lie along the base, or miss each other by no more than a reading
    if high < 0:
        raise BadOutline(
            f"corner {name}",
            reason=f"the tapes {one[1].name} and {two[1].name} do not meet",
            advice="Measure both again.",
        )
    ux, uy = (x2 - x1) / d, (y2 - y1) / d
    side = -sqrt(high) if below else sqrt(high)
    return x1 + along * ux - side * uy, y1 + along * uy + side * ux


def taped_words(taped: Taped, system: System) -> str:
    """How well the measures agree, and which of them fits worst, in a sentence."""
    if taped.misfit is None:
        return "Nothing checks these measures: add a distance between two corners, like A C 930."
    said = f"The measures agree to {shown(taped.misfit, Kind.SIZE, system)}."
    if taped.worst is None:
        return f"{said} One more check would tell which of them is off, if one is."
    off = taped.residuals[taped.spans.index(taped.worst)]
    way = "long" if off < 0 else "short"
    name = f"{taped.worst.name} reads {shown(abs(off), Kind.SIZE, system)} {way}"
    return f"{said} {'Measure again: ' if taped.suspect else 'Worst: '}{name}."


# ---- as typed -----------------------------------------------------------------------------------------------------


def spans_from_text(text: str, system: System = "metric") -> tuple[tuple[Span, ...], frozenset[str]]:
    """Distances as they are written down: first the base alone; then a corner a line, its name and its distances from
    the first and the second pin, ``below`` after them where it lies on the other side; and checks, two names and the
    distance between them. Raises BadOutline or another Fault with the line.
    """
    spans: list[Span] = []
    below: set[str] = set()
    for number, line in enumerate(lines_of(text), 1):
        words = _words(line)
        if len(words) == 1 and not spans:
            spans.append(Span(FIRST, SECOND, _length(words[0], number, system)))
            continue
        if not spans:
            raise BadOutline(
                "line 1", reason="the base is missing", advice="Write the distance between the pins alone."
            )
        if words[-1].lower() == "below":
            below.add(words[0])
            words = words[:-1]
        if len(words) != 3:
            raise BadOutline(
                f"line {number}",
                reason=f"“{line.strip()}” is no corner and no check",
                advice="Write a corner like A 612 845, a check like A C 930.",
            )
        known = {n for s in spans for n in (s.a, s.b)}
        if words[1] in known or words[0] in ("1", "2"):
            ends = [FIRST if w == "1" else SECOND if w == "2" else w for w in words[:2]]
            spans.append(Span(ends[0], ends[1], _length(words[2], number, system)))
        else:
            spans.append(Span(FIRST, words[0], _length(words[1], number, system)))
            spans.append(Span(SECOND, words[0], _length(words[2], number, system)))
    return tuple(spans), frozenset(below)


def _words(line: str) -> list[str]:
    """The parts of a line, ``below`` by itself at its end."""
    parts = parts_of(line)
    if len(parts) > 1 and parts[-1].lower().endswith(" below"):
        parts[-1:] = [parts[-1][:-6].strip(), "below"]
    return parts


def _length(word: str, number: int, system: System) -> float:
    value = parse(word, Kind.SIZE, system).measure.si
    if value <= 0:
        raise BadOutline(f"line {number}", reason=f"“{word}” is no distance", advice="A tape reads more than nothing.")
    return value


def offsets_from_text(text: str, system: System = "metric") -> Ring:
    """A ring from offsets: a station along the baseline and one offset up from it a line, or two, the lower first. With
    one, the baseline is the lower side. Raises BadOutline or another Fault.
    """
    rows: list[tuple[float, float, float]] = []
    for number, line in enumerate(lines_of(text), 1):
        words = _words(line)
        if len(words) not in (2, 3):
            raise BadOutline(
                f"line {number}",
                reason=f"“{line.strip()}” is not a station with one or two offsets",
                advice="Write it like 250 310, or 250 -40 310.",
            )
        values = [parse(w, Kind.SIZE, system).measure.si for w in words]
        rows.append((values[0], values[1] if len(values) == 3 else 0.0, values[-1]))
    rows.sort()
    lower = [(x, low) for x, low, _ in rows]
    upper = [(x, high) for x, low, high in reversed(rows) if high != low]
    ring = tuple(dict.fromkeys((*lower, *upper)))
    if len(ring) < 3:
        raise BadOutline("offsets", reason="fewer than three corners", advice="Give two stations or more.")
    return ring


def mirrored(half: Ring) -> Ring:
    """The whole of a shape whose lower half was measured, its highest corners on the middle line; m.

    Corners within a millimetre of the middle stand on it once.
    """
    middle = max(y for _, y in half)
    low = [p for p in half if p[1] < middle - 1e-3]
    on = [p for p in half if p[1] >= middle - 1e-3]
    if not low or not on:
        raise BadOutline("half", reason="all corners lie on the middle line", advice="Give the corners beside it.")
    first = next(k for k, p in enumerate(half) if p in low and half[k - 1] in on)
    chain = [half[(first + k) % len(half)] for k in range(len(half))]
    side = [p for p in chain if p in low]
    ends = [p for p in chain if p in on]
    outer = (ends[0], ends[-1]) if len(ends) > 1 else (ends[0],)
    other = [(x, 2 * middle - y) for x, y in reversed(side)]
    return tuple(dict.fromkeys((*side, outer[0], *other, outer[-1])))
