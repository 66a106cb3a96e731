"""The cure clock: how far a resin has come under the temperatures that it had. Temperatures in degC, times in s.

Times of a resin are stated for 25 degC. At T everything takes exp[(Ea/R)(1/T - 1/298.15)] times as long, so that the
hours at 25 degC that a stretch of time is worth are the integral of that factor's inverse. Exact for temperatures that
are held; along a straight line by three-point Gauss over pieces of a twentieth of a degree. Source: [27].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.numerals import fixed
from ribpatch.core.resin.cure import GAS, REFERENCE, ZERO

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats

PIECE = 0.05  # K of a straight line's piece; the factor is straight within it to some millionths
MOST_PIECES = 400  # of one stretch
GAUSS = ((-0.7745966692414834, 5 / 18), (0.0, 8 / 18), (0.7745966692414834, 5 / 18))


class Warmth(Struct, frozen=True, eq=False):
    """Temperatures over time: at ``times`` (n,), s, rising, ``degrees`` (n,), degC. Between two of them straight, or
    held as at the earlier one; before the first and after the last held.
    """

    times: Floats
    degrees: Floats
    held: bool = False

    def check(self) -> None:
        """Raise ValueError where times do not rise or a temperature is no temperature of a shed."""
        if len(self.times) == 0 or len(self.times) != len(self.degrees):
            raise ValueError("give as many times as temperatures, one at least")
        if not (np.diff(self.times) > 0).all():
            raise ValueError("times must rise from one to the next")
        if not ((self.degrees >= -60) & (self.degrees <= 150)).all():
            raise ValueError("temperatures from -60 to 150 degC can be worked with")

    def at(self, times: Floats | float) -> Floats:
        """Temperature at some times, degC."""
        if not self.held:
            return np.asarray(np.interp(times, self.times, self.degrees))
        place = np.searchsorted(self.times, times, side="right") - 1
        return np.asarray(self.degrees[np.maximum(place, 0)])


def pace(degrees: Floats | float, activation: float) -> Floats:
    """How many times faster than at 25 degC; activation energy in J/mol."""
    return np.asarray(np.exp(activation / GAS * (1 / REFERENCE - 1 / (np.asarray(degrees) + ZERO))))


class CureClock(Struct, frozen=True, eq=False):
    """What time is worth at 25 degC: ``worth`` (n,), s, at ``times`` (n,), s, straight between; before and after at the
    first and last ``rates``.
    """

    times: Floats
    worth: Floats
    rates: tuple[float, float]

    def at(self, times: Floats | float) -> Floats:
        """What the time up to ``times`` is worth, s at 25 degC."""
        t = np.asarray(times, dtype=float)
        inside = np.interp(t, self.times, self.worth)
        before, after = np.minimum(t - self.times[0], 0.0), np.maximum(t - self.times[-1], 0.0)
        return np.asarray(inside + before * self.rates[0] + after * self.rates[1])

    def progress(self, since: float, until: float) -> float:
        """What the time between two moments is worth, s at 25 degC."""
        return float(self.at(until) - self.at(since))

    def reach(self, since: Floats | float, worth: float) -> Floats:
        """The moment at which so much has gone by since ``since``, s; without end where the clock stands for good."""
        wanted = self.at(since) + worth
        inside = np.interp(wanted, self.worth, self.times)
        over = wanted - self.worth[-1]
        with np.errstate(divide="ignore", invalid="ignore"):
            after = np.where(over > 0, self.times[-1] + over / self.rates[1], inside)
        under = wanted - self.worth[0]
        if self.rates[0] > 0:
            after = np.where(under < 0, self.times[0] + under / self.rates[0], after)
        return np.asarray(after)


def cure_clock(warmth: Warmth, activation: float, least: float | None = None, factor: float = 1.0) -> CureClock:
    """The clock of a resin of an activation energy, J/mol, under some warmth. Below ``least`` degC it stands. A
    resin that takes ``factor`` times as long has a clock that much slower.

    Raises ValueError where the warmth is not sound.
    """
    warmth.check()

    def rate(degrees: Floats) -> Floats:
        made = pace(degrees, activation) / factor
        return made if least is None else np.where(degrees < least, 0.0, made)

    times, degrees = warmth.times, warmth.degrees
    ends = (float(rate(degrees[:1])[0]), float(rate(degrees[-1:])[0]))
    if len(times) == 1:
        return CureClock(times, np.zeros(1), ends)
    if warmth.held:
        gained = rate(degrees[:-1]) * np.diff(times)
        return CureClock(times, np.concatenate([[0.0], np.cumsum(gained)]), ends)
    fine = _pieces(times, degrees, least)
    middle, half = 0.5 * (fine[1:] + fine[:-1]), 0.5 * np.diff(fine)
    gained = np.zeros(len(middle))
    for place, weight in GAUSS:
        gained += weight * 2 * half * rate(np.interp(middle + place * half, times, degrees))
    return CureClock(fine, np.concatenate([[0.0], np.cumsum(gained)]), ends)


def _pieces(times: Floats, degrees: Floats, least: float | None) -> Floats:
    """Times of pieces over which the temperature hardly changes, with each crossing of ``least`` among them."""
    rise = np.abs(np.diff(degrees))
    counts = np.clip(np.ceil(rise / PIECE), 1, MOST_PIECES).astype(int)
    parts = [times[:1]]
    for a, b, n in zip(times[:-1].tolist(), times[1:].tolist(), counts.tolist(), strict=True):
        parts.append(a + (b - a) * np.arange(1, n + 1) / n)
    fine = np.concatenate(parts)
    if least is None:
        return fine
    low, high = degrees[:-1] - least, degrees[1:] - least
    crosses = low * high < 0
    share = low[crosses] / (low[crosses] - high[crosses])
    return np.unique(np.concatenate([fine, times[:-1][crosses] + share * np.diff(times)[crosses]]))


MARKS = ("gel", "green_from", "green_to", "recoat", "sandable", "unclamp", "service")
MARK_WORDS = {
    "gel": "gels",
    "green_from": "the next ply bonds without sanding, from",
    "green_to": "the next ply bonds without sanding, to",
    "recoat": "the last coat without sanding",
    "sandable": "can be sanded",
    "unclamp": "can be unclamped",
    "service": "carries its load",
}


class MarkReached(Struct, frozen=True):
    """When a mark of the cure is reached, s; None where it is not foretold, with the reason."""

    mark: str
    needs: float  # s at 25 degC
    at: float | None
    why: str = ""


def marks_reached(
    needs: dict[str, float],
    laid: float,
    warmth: Warmth,
    activation: float,
    least: float | None = None,
    factor: float = 1.0,
) -> tuple[MarkReached, ...]:
    """When each mark is reached by what was laid at ``laid``, s. What comes after the temperature has fallen below
    ``least`` degC is not foretold: below it a resin may stop for good.
    """
    clock = cure_clock(warmth, activation, None, factor)
    cold = first_below(warmth, laid, least)
    made = []
    for mark, worth in needs.items():
        at = float(clock.reach(laid, worth))
        if cold is not None and at > cold:
            made.append(
                MarkReached(mark, worth, None, f"below {least:g} °C from {fixed(cold / 3600, 2)} h on: not foretold")
            )
        else:
            made.append(MarkReached(mark, worth, at))
    return tuple(made)


def first_below(warmth: Warmth, since: float, least: float | None) -> float | None:
    """The first moment from ``since`` on at which it is colder than ``least`` degC, s; None where it never is."""
    if least is None:
        return None
    if float(warmth.at(since)) < least:
        return since
    later = warmth.times > since
    cold = np.flatnonzero(later & (warmth.degrees < least))
    if not len(cold):
        return None
    n = int(cold[0])
    if warmth.held or n == 0:
        return float(warmth.times[n])
    start = max(float(warmth.times[n - 1]), since)
    high, low = float(warmth.at(start)), float(warmth.degrees[n])
    return start + (float(warmth.times[n]) - start) * (high - least) / (high - low)
