"""Design pressures and plate thickness of small craft: a screening extract after ISO 12215-5, displacement mode.

SI: Pa, m, kg. Valid for mono-hulls of 2.5 to 24 m; no slamming at planing speed, no sailing loads. Source: [26].
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from ribpatch.core.units import FOOT

if TYPE_CHECKING:
    from ribpatch.core.job import Boat, Zone

Area = Literal["bottom", "side", "deck", "transom"]
CATEGORY = {"A": 1.0, "B": 0.8, "C": 0.6, "D": 0.4}
LEAST_DECK = 5000.0  # Pa
LONG_TON = 1016.0469088  # kg
METHOD = "pressure after ISO 12215-5, displacement mode, screening extract [26]"
VALID = "mono-hulls of 2.5 to 24 m at displacement speed; no slamming, no sailing loads"


class BoatSize(Struct, frozen=True):
    """What the rules ask of a boat: m, kg, and its design category."""

    length: float
    waterline: float
    beam: float
    depth: float
    displacement: float
    category: str = "C"

    @property
    def number(self) -> float:
        """The empirical number Sn."""
        return self.length * self.beam * self.depth / 28.32

    @property
    def heavy(self) -> float:
        """Displacement over length in long tons over (0.01 ft)3."""
        return self.displacement / LONG_TON / (0.01 * self.waterline / FOOT) ** 3

    @property
    def factor(self) -> float:
        """For heavy boats, 0.89 + DLR / 2500 where that is over 1."""
        return max(1.0, 0.89 + self.heavy / 2500)


def size_of(boat: Boat) -> BoatSize:
    """The sizes of a boat; category C where none is stated."""
    sides = boat.length.si, boat.waterline.si, boat.beam.si, boat.depth.si
    return BoatSize(*sides, boat.displacement.si, boat.category or "C")


class DesignPressure(Struct, frozen=True):
    """Pressure in Pa with the factors that made it."""

    value: float
    base: float
    category: float
    area: float
    along: float
    least: float


def area_of(zone: Zone, boat: Boat) -> Area:
    """Which part of the boat a zone is for the rule."""
    if zone.is_walked_on:
        return "deck"
    if zone.kind == "transom":
        return "transom"
    if zone.kind == "keel":
        return "bottom"
    return "bottom" if zone.place.height.si < 0.3 * boat.depth.si else "side"


def area_factor(length: float, width: float, mass: float, stiffener: bool = False) -> float:
    """kAR: the larger the panel the less of it is hit at once; 0.25 to 1. Sides in m, mass in kg."""
    short, long = min(length, width), max(length, width)
    area = long * short if stiffener else min(long * short, 2.5 * short**2)
    reduction = 1 - 2e-4 * long * 1e3 if stiffener else 1.5 - 3e-4 * short * 1e3
    return float(min(1.0, max(0.25, max(reduction, 0.4) * 0.1 * mass**0.15 / area**0.3)))


def along_factor(share: float) -> float:
    """kL: lower abaft 0.6 of the waterline, from its after end; 0.5 at the end."""
    return 1.0 if share >= 0.6 else 0.5 + 0.5 / 0.6 * max(share, 0.0)


def design_pressure(
    size: BoatSize, area: Area, sides: tuple[float, float], station: float, height: float, stiffener: bool = False
) -> DesignPressure:
    """Design pressure of a panel: its sides, its middle's distance from the stern and height over the keel, m."""
    mass, length = size.displacement, size.waterline
    category = CATEGORY[size.category]
    bottom, deck = 2400 * mass**0.33 + 20_000, 350 * length + 14_600
    k_area, k_along = area_factor(*sides, mass, stiffener), along_factor(station / length)
    if area == "bottom":
        base, least = bottom, 450 * mass**0.33 + 900 * length * category
    elif area == "deck":
        base, least = deck, LEAST_DECK
    else:
        freeboard = max(size.depth * 0.6, 0.1)
        over = min(max(height - 0.4 * size.depth, 0.0) / freeboard, 1.0)
        base, least = deck + (1 - over) * (bottom - deck), 900 * length * category
    value = max(base * category * k_area * k_along, least)
    return DesignPressure(value, base, category, k_area, k_along, least)


def aspect_factor(length: float, width: float) -> float:
    """k2: bending of a panel by its sides' ratio, 0.308 to 0.5."""
    ratio = max(length, width) / min(length, width)
    if ratio >= 2:
        return 0.5
    return min(0.5, max(0.308, (0.271 * ratio**2 + 0.91 * ratio - 0.554) / (ratio**2 - 0.313 * ratio + 1.351)))


def flexural_strength(fibre_fraction: float) -> float:
    """Bending strength of hand-laid glass by its fibre mass fraction, Pa: 107 + 502 psi2 MPa."""
    return (107 + 502 * fibre_fraction**2) * 1e6


def plate_thickness(short: float, pressure: float, k2: float, strength: float) -> float:
    """Least thickness of a solid panel, m: b sqrt(P k2 / (0.5 strength)); sides in m, Pa."""
    return float(short * (pressure * k2 / (0.5 * strength)) ** 0.5)
