"""What is wrong where: the survey's own answer to which kind of damage lies at which place, in words.

A state is told by its place where several readings, with those round them, speak of that kind rather than another. Two
states that cannot both be at one place can both be in one zone where the survey tells them apart so.
"""

from __future__ import annotations

from math import dist
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct
from shapely.geometry import LineString

from ribpatch.core.memo import remembered
from ribpatch.core.survey.field import posterior_of
from ribpatch.core.survey.structure import starts_of
from ribpatch.core.zone_axes import facing_words

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf

STATES = ("wet-core", "rotted-core", "disbond")  # of the survey's kinds
LEAST_PLACES = 2  # that speak of one kind before it is told by its place
SURELY_KIND = 0.6  # chance of the kind, of damage at a place
NEAR = 0.2  # m from the middle of the readings to what it is named after
BEYOND = {"up": "above it", "down": "below it", "port": "to port of it", "starboard": "to starboard of it"}
LOOKED_AT = ("kind", "outline", "edges", "fittings", "seams", "survey")


class Placed(Struct, frozen=True):
    """A state of the material told by its place: where the readings that speak of it lie (m), in words, and at how many
    places they were taken.
    """

    state: str
    at: tuple[float, float]
    words: str
    count: int


@remembered(128, zone=LOOKED_AT)
def placed_states(zone: Zone, shelf: Shelf) -> tuple[Placed, ...]:
    """The states that the survey finds, each with its place, what most readings speak of first."""
    made = posterior_of(zone.survey, zone.outline, shelf, starts_of(zone, shelf))
    if made is None or zone.survey.drawn is not None:
        return ()
    sites, found = made.sites.at, list[tuple[int, str, tuple[float, float], float]]()
    for number, state in enumerate(STATES):
        mine = sites[(made.here >= 0.5) & (made.kinds[:, number] >= SURELY_KIND)]
        if len(mine) >= LEAST_PLACES:
            x, y = np.median(mine, axis=0).tolist()
            wide = float(np.hypot(*(mine - (x, y)).T).mean())
            found.append((len(mine), state, (x, y), wide))
    placed: list[Placed] = []
    for count, state, at, wide in sorted(found, key=lambda row: (-row[0], row[1])):
        beside = _beside(zone, at, placed[0].at) if placed else ""
        words = _named(zone, at, wide)
        if any(p.words == words for p in placed):
            words = f"{words}, {beside}" if words and beside else words or beside
        placed.append(Placed(state, at, words or beside, count))
    return tuple(placed)


def _named(zone: Zone, at: tuple[float, float], wide: float) -> str:
    """What a place is named after: a fitting in its midst, or an edge or seam that it lies along."""
    place = shapely.Point(at)
    fittings = sorted((f.shape.distance(place), f.name) for f in zone.fittings)
    if fittings and fittings[0][0] <= max(NEAR, 0.5 * wide):
        return f"round {fittings[0][1]}"
    sides = [
        (LineString([zone.outline[e.side], zone.outline[(e.side + 1) % len(zone.outline)]]).distance(place), e.name)
        for e in zone.edges
        if e.side < len(zone.outline)
    ] + [(LineString(s.ends).distance(place), s.name) for s in zone.seams]
    near = min(sides, default=None)
    return f"along {near[1]}" if near and near[0] <= NEAR else ""


def _beside(zone: Zone, at: tuple[float, float], other: tuple[float, float]) -> str:
    """Which way from another place a place lies."""
    dx, dy = at[0] - other[0], at[1] - other[1]
    if max(abs(dx), abs(dy)) < NEAR:
        return ""
    along = abs(dx) >= abs(dy)
    way = facing_words(zone.kind)[("x+" if dx > 0 else "x-") if along else ("y+" if dy > 0 else "y-")]
    return BEYOND.get(way, f"{way} of it")


def told_apart(zone: Zone, shelf: Shelf) -> tuple[tuple[str, float], ...]:
    """Wet but sound core and rotted core where the survey finds them at different places, each with the chance that it
    is there; nothing where it does not tell them apart.
    """
    placed = {p.state: p for p in placed_states(zone, shelf)}
    wet, rotted = placed.get("wet-core"), placed.get("rotted-core")
    if wet is None or rotted is None or dist(wet.at, rotted.at) <= NEAR:
        return ()
    doubt = shelf.rule("finding.doubt")
    return tuple((p.state, 1 - doubt / p.count) for p in (wet, rotted))
