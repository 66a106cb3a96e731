"""How a boat floats after a repair: sinkage, trim and heel from her waterplane. SI; x from the transom, y to port.

The waterplane is as wide at the transom as stated, widest from there to a stated share of its length, and a curve from
there to the stem: half breadth 1 - s^bow. Small changes of mass: she sinks by mass over water density and area, turns
about the centre of flotation by moment over displacement and metacentric height. Lengthwise that is I_L / volume (the
height of the centre of mass over that of buoyancy is small beside it), across I_T / volume less a stated share of the
depth of the hull. Source: [29]; shape and heights are judgements, rules float.*.
"""

from __future__ import annotations

from math import degrees
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.geometry import Floats

STATIONS = 400
LEAST_HEIGHT = 0.05  # m, metacentric height under which no heel is foretold


class Waterplane(Struct, frozen=True):
    """Area m2, centre of flotation m from the transom, second moments m4 about it and about the middle line."""

    area: float
    centre: float
    along: float
    across: float
    length: float


class Change(Struct, frozen=True):
    """Mass added (kg; less than 0 taken off) at a place, m."""

    mass: float
    x: float
    y: float


class Floating(Struct, frozen=True):
    """What a change does: mass kg and its centre m, sinkage m, how much deeper at the transom and the stem, m, heel to
    port in degrees (None where the metacentric height is too small to say).
    """

    mass: float
    x: float
    y: float
    sinkage: float
    transom: float
    stem: float
    heel: float | None


def waterplane(length: float, beam: float, transom: float, widest: float, bow: float) -> Waterplane:
    """A waterplane m: ``transom`` is its width there over the beam, ``widest`` where the bow's curve begins, a share of
    the length, ``bow`` the power of that curve.
    """
    s = (np.arange(STATIONS) + 0.5) / STATIONS
    aft = transom + (1 - transom) * s / max(widest, 1e-9)
    fore = 1 - np.clip((s - widest) / max(1 - widest, 1e-9), 0, 1) ** bow
    return planform(length * s, np.where(s < widest, aft, fore) * beam / 2, length)


def planform(x: Floats, half: Floats, length: float) -> Waterplane:
    """A waterplane by half breadths at the middles of even stretches of its length, m."""
    step = length / len(x)
    area = float(2 * half.sum() * step)
    centre = float(2 * (half * x).sum() * step) / area
    along = float(2 * (half * (x - centre) ** 2).sum() * step + area * step**2 / 12)
    return Waterplane(area, centre, along, float((2 / 3 * half**3).sum() * step), length)


def floating(
    plane: Waterplane, displacement: float, changes: Sequence[Change], water: float, lowered: float
) -> Floating:
    """What changes of mass do to a boat of ``displacement`` kg in water of a density, kg/m3; ``lowered`` is how far her
    centre of mass lies over that of buoyancy, m.
    """
    mass = sum(c.mass for c in changes)
    x, y = (sum(c.mass * at for c, at in zip(changes, places, strict=True)) for places in _places(changes))
    volume = displacement / water
    sinkage = mass / (water * plane.area)
    turn = (x - mass * plane.centre) / displacement / (plane.along / volume)  # bow down
    height = plane.across / volume - lowered
    heel = degrees(y / displacement / height) if height > LEAST_HEIGHT else None
    middle = mass if abs(mass) > 1e-9 else 1.0
    return Floating(
        mass,
        x / middle,
        y / middle,
        sinkage,
        sinkage - turn * plane.centre,
        sinkage + turn * (plane.length - plane.centre),
        heel,
    )


def _places(changes: Sequence[Change]) -> tuple[list[float], list[float]]:
    return [c.x for c in changes], [c.y for c in changes]
