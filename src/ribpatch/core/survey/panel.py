"""A practice panel with a hidden truth, and the simulated instruments that read it.

The truth is a set of patches, random by seed or drawn. Wet patches surround rotted ones, as water comes before rot.
The instruments give the same records and sounds as real ones, and are read through the same code.
"""

from __future__ import annotations

from math import exp, pi, sqrt
from typing import TYPE_CHECKING, Any

import numpy as np
import shapely
from msgspec import Struct
from shapely.geometry import MultiPolygon, Polygon

from ribpatch.core.geometry import Floats, Point, Ring, clean, polygon_of, region_of
from ribpatch.core.memo import remembered
from ribpatch.core.readings import Moisture, Plug, State, Tap
from ribpatch.core.survey.hammer import Panel, any_panel, strike_wave

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Practice

DAMAGE: tuple[State, ...] = ("wet", "rotted", "disbonded")
# What the ear makes of a place: chances of ring, flat, dull, drummy, crunch.
EAR: dict[State, tuple[float, ...]] = {
    "sound": (0.90, 0.08, 0.015, 0.005, 0.0),
    "wet": (0.10, 0.25, 0.58, 0.05, 0.02),
    "rotted": (0.01, 0.06, 0.58, 0.10, 0.25),
    "disbonded": (0.01, 0.08, 0.08, 0.81, 0.02),
}
WORDS = ("ring", "flat", "dull", "drummy", "crunch")
METER: dict[State, tuple[float, float]] = {
    "sound": (12.0, 2.0), "wet": (42.0, 9.0), "rotted": (52.0, 10.0), "disbonded": (14.0, 3.0),
}  # fmt: skip  # mean and scatter of the meter's scale
FALSE_HIGH = 24.0  # scale points over metal or a tank
DRIFT, WARM_UP = (
    3.0,
    15,
)  # scale points that the meter shifts by as it warms, and the readings in which most of it comes


class Truth(Struct, frozen=True, eq=False):
    """The hidden truth of a panel, regions in m; ``behind`` is metal or a tank that fools the meter."""

    outline: Polygon
    regions: dict[State, BaseGeometry]
    behind: BaseGeometry
    drift: float
    panel: Panel

    @property
    def damaged(self) -> MultiPolygon:
        """All damage."""
        return clean(shapely.union_all([self.regions[s] for s in DAMAGE]))

    def states(self, x: Floats, y: Floats) -> list[State]:
        """State at places, m; where regions overlap rot goes before disbond, disbond before wet."""
        inside = {s: shapely.contains_xy(self.regions[s], x, y) for s in DAMAGE}
        order: tuple[State, ...] = ("rotted", "disbonded", "wet")
        return [next((s for s in order if inside[s][k]), "sound") for k in range(len(np.atleast_1d(x)))]

    def state(self, at: Point) -> State:
        """State at one place, m."""
        return self.states(np.array([at[0]]), np.array([at[1]]))[0]


def _blob(rng: np.random.Generator, centre: Point, radius: float) -> Polygon:
    """A patch with a wavy edge, stretched one way."""
    angle = np.linspace(0, 2 * pi, 60, endpoint=False)
    wave = sum(rng.normal(0, 0.16 / k) * np.cos(k * angle + rng.uniform(0, 2 * pi)) for k in (2, 3, 4, 5))
    r = radius * np.clip(1 + wave, 0.35, 1.8)
    stretch, turn = rng.uniform(1.0, 1.7), rng.uniform(0, pi)
    a, b = r * np.cos(angle) * sqrt(stretch), r * np.sin(angle) / sqrt(stretch)
    x, y = a * np.cos(turn) - b * np.sin(turn), a * np.sin(turn) + b * np.cos(turn)
    made = Polygon(np.column_stack([x + centre[0], y + centre[1]]))
    return made if made.is_valid else made.buffer(0)


def _spot(rng: np.random.Generator, zone: Polygon) -> Point:
    x0, y0, x1, y1 = zone.bounds
    for _ in range(200):
        at = (float(rng.uniform(x0, x1)), float(rng.uniform(y0, y1)))
        if zone.contains(shapely.Point(at)):
            return at
    middle = zone.representative_point()
    return float(middle.x), float(middle.y)


@remembered(64)
def truth_of(practice: Practice, outline: Ring) -> Truth:
    """The hidden truth of a practice panel, its outline in m: drawn patches where there are any, else random by its
    seed.
    """
    zone, rng = polygon_of(outline), np.random.default_rng(practice.seed)
    size = sqrt(zone.area)
    empty: BaseGeometry = MultiPolygon()
    regions: dict[State, BaseGeometry] = dict.fromkeys(DAMAGE, empty)
    if practice.drawn:
        for state in DAMAGE:
            regions[state] = region_of(p.ring for p in practice.drawn if p.state == state).intersection(zone)
    else:
        for _ in range(int(rng.integers(1, 3))):
            at, radius = _spot(rng, zone), size * rng.uniform(0.11, 0.22)
            regions["wet"] = regions["wet"].union(_blob(rng, at, radius))
            if rng.random() < 0.75:
                regions["rotted"] = regions["rotted"].union(_blob(rng, at, radius * rng.uniform(0.45, 0.75)))
        if rng.random() < 0.5:
            regions["disbonded"] = _blob(rng, _spot(rng, zone), size * rng.uniform(0.08, 0.15))
        regions = {state: region.intersection(zone) for state, region in regions.items()}
    behind = _blob(rng, _spot(rng, zone), size * 0.07).intersection(zone) if rng.random() < 0.5 else empty
    return Truth(zone, regions, behind, float(rng.normal(0, DRIFT)), any_panel(rng))


def _dice(truth: Truth, at: Point, nth: int) -> np.random.Generator:
    """Chance that is the same for the same place and reading of one panel."""
    key = [abs(round(v * 1e5)) for v in (*at, truth.drift)]
    return np.random.default_rng([*key, nth])


def read_meter(truth: Truth, at: Point, nth: int = 0, used: int = 0) -> Moisture:
    """The simulated capacitance meter: noise, temperature drift, false highs over metal or a tank.

    ``used`` is how many readings it took before: it starts true and drifts as it takes the panel's temperature.
    """
    mean, scatter = METER[truth.state(at)]
    drift = truth.drift * (1 - exp(-used / WARM_UP))
    value = mean + drift + _dice(truth, at, nth).normal(0, scatter)
    if shapely.contains_xy(truth.behind, *at):
        value += FALSE_HIGH
    return Moisture(id="new", x=at[0], y=at[1], value=round(float(np.clip(value, 0, 100)), 1))


def read_ear(truth: Truth, at: Point, nth: int = 0) -> Tap:
    """A simulated tap by ear at a place in m: the word that a trained ear would say, sometimes wrong."""
    word = _dice(truth, at, nth).choice(len(WORDS), p=EAR[truth.state(at)])
    return Tap(id="new", x=at[0], y=at[1], grade=WORDS[int(word)])


def read_hammer(truth: Truth, at: Point, nth: int = 0, over_noise: float = 26.0) -> Floats:
    """Samples of a simulated strike at a place in m, its first 20 ms ``over_noise`` dB over the noise; measure them as
    any recording.
    """
    return strike_wave(truth.panel, truth.state(at), _dice(truth, at, nth), over_noise)


def read_plug(truth: Truth, at: Point) -> Plug:
    """A simulated plug at a place in m: it shows what is there."""
    state = truth.state(at)
    seen: dict[State, dict[str, Any]] = {
        "sound": {"water": "dry", "core": "firm", "bond": "whole"},
        "wet": {"water": "wet", "core": "firm", "bond": "whole"},
        "rotted": {"water": "wet", "core": "soft", "bond": "torn"},
        "disbonded": {"water": "dry", "core": "firm", "bond": "clean"},
    }
    return Plug(id="new", x=at[0], y=at[1], **seen[state])
