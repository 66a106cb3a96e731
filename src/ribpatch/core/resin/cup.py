"""How large a cup may be, and how many there are: by the heat balance of what stands in it.

The largest is the one that can still be worked for the margin times the time to mix it and lay it, and that gets no
hotter than wanted if it is left. Below the least temperature that the resin is stated for nothing is foretold.
Valid for 0.02 to 3 kg; source: [27].
"""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.memo import remembered
from ribpatch.core.resin.vessel import LEAST_TIME, in_vessel

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.records import Resin
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.resin.vessel import Vessel, Worked

TOO_COLD = "what can be stirred well: below the least temperature of the resin no working time is foretold"
TOO_SHORT = "too short a working time even for the smallest cup"
TOO_HOT = "too hot even the smallest cup, if it is left"
STIRRED, WORKING, PEAK = "what can be stirred well", "working time", "how hot it may get if it is left"
STEP = 0.01  # kg, to which a cup is weighed out
MASSES = 18  # of a curve


class Mixing(Struct, frozen=True):
    """How resin is mixed: from what vessel it is worked, and the warmth of the cans and of the air, degC."""

    vessel: Vessel
    mixed: float
    air: float


class Cups(Struct, frozen=True):
    """The mixes: how many, kg of mixed resin in each, working time in s of one and how hot it gets if it is left (None
    where neither can be foretold), kg mixed in all.
    """

    count: int
    each: float
    working: float | None
    peak: float | None
    total: float
    largest: float
    limited: str
    every: float  # s from one to the next, by the people who lay


def needed_time(mass: Floats | float, shelf: Shelf) -> Floats | float:
    """Time in s to mix ``mass`` kg and lay it."""
    return shelf.rule("cup.mixing") + mass / (shelf.rule("cup.rate") * shelf.rule("cup.people")) * 60


@remembered(48)
def working_curve(resin: Resin, mixing: Mixing, shelf: Shelf) -> Worked:
    """Working time and peak over the masses that a cup may hold."""
    masses = np.geomspace(min(0.02, shelf.rule("cup.least")), shelf.rule("cup.most"), MASSES)
    return in_vessel(masses, mixing.vessel, resin, mixing.mixed, mixing.air, shelf)


def at_mass(resin: Resin, mass: float, mixing: Mixing, shelf: Shelf) -> tuple[float, float]:
    """Working time in s and peak in degC of one mass."""
    made = in_vessel(np.array([mass]), mixing.vessel, resin, mixing.mixed, mixing.air, shelf)
    return float(made.time[0]), float(made.peak[0])


@remembered(48)
def largest_cup(resin: Resin, mixing: Mixing, shelf: Shelf) -> tuple[float, str]:
    """The largest cup in kg, to 10 g below, and what limits it."""
    most, least, hottest = shelf.rule("cup.most"), shelf.rule("cup.least"), shelf.rule("cup.peak")
    if min(mixing.mixed, mixing.air) < resin.least_temperature:
        return most, TOO_COLD
    made, margin = working_curve(resin, mixing, shelf), shelf.rule("cup.margin")
    spare = np.log(np.maximum(made.time, LEAST_TIME) / (margin * needed_time(made.mass, shelf)))
    by_time, by_peak = _last(made.mass, spare), _last(made.mass, hottest - made.peak)
    largest = min(by_time, by_peak)
    if largest >= most:
        return most, STIRRED
    rounded = int(largest / STEP + 1e-6) * STEP
    if rounded < least:
        return least, TOO_SHORT if by_time <= by_peak else TOO_HOT
    return round(rounded, 4), WORKING if by_time <= by_peak else PEAK


def _last(mass: Floats, spare: Floats) -> float:
    """The mass up to which there is something to spare, between those that were worked out by straight lines."""
    short = np.flatnonzero(spare < 0)
    if not short.size:
        return float(mass[-1])
    n = int(short[0])
    if n == 0:
        return 0.0
    share = spare[n - 1] / (spare[n - 1] - spare[n])
    return float(np.exp(np.log(mass[n - 1]) + share * np.log(mass[n] / mass[n - 1])))


def cups_for(net: float, resin: Resin, mixing: Mixing, shelf: Shelf) -> Cups:
    """Cups that together lay ``net`` kg of resin, each losing its share and what stays in it."""
    largest, limited = largest_cup(resin, mixing, shelf)
    if net <= 0:
        return Cups(0, 0.0, None, None, 0.0, largest, limited, 0.0)
    each_loss = shelf.rule("loss.cup")
    wanted = net * (1 + shelf.rule("loss.share"))
    count = ceil(wanted / max(largest - each_loss, 1e-3) - 1e-9)
    total = wanted + count * each_loss
    each = total / count
    working, peak = (None, None) if limited == TOO_COLD else _between(resin, each, mixing, shelf)
    return Cups(count, each, working, peak, total, largest, limited, float(needed_time(each, shelf)))


def _between(resin: Resin, mass: float, mixing: Mixing, shelf: Shelf) -> tuple[float, float]:
    """Working time and peak of a mass, from the curve where it holds it."""
    curve = working_curve(resin, mixing, shelf)
    if not curve.mass[0] <= mass <= curve.mass[-1]:
        return at_mass(resin, mass, mixing, shelf)
    place = np.log(mass)
    time = np.exp(np.interp(place, np.log(curve.mass), np.log(np.maximum(curve.time, LEAST_TIME))))
    return float(time), float(np.interp(place, np.log(curve.mass), curve.peak))
