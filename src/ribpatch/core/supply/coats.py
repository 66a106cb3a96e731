"""Coats of a finish on an area: litres, mass, thinner, work, and when the next goes on in this shed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.resin.cure import time_factor

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.finish_records import FinishCoat, FinishSystem
    from ribpatch.core.materials.shelf import Shelf

WINDOWS_AT = 20.0  # degC that windows are stated for
ACTIVATION = 55_000.0  # J/mol, by which paints and coats follow the warmth
LITRE = 1e-3  # m3


class CoatNeeds(Struct, frozen=True):
    """One material of a finish on an area: volume in m3, mass in kg, thinner in m3, work in s, next coat from and to in
    s (None: any time, once it is sanded).
    """

    coat: FinishCoat
    area: float
    volume: float
    thinner: float
    work: float
    again_from: float
    again_to: float | None

    @property
    def mass(self) -> float:
        """Mass of the coat, kg."""
        return self.volume * self.coat.density


def coats_of(system: FinishSystem, area: float, temperature: float) -> tuple[CoatNeeds, ...]:
    """What each coat of a system takes on an area, m2, in a shed of ``temperature`` degC."""
    later = time_factor(temperature, ACTIVATION) / time_factor(WINDOWS_AT, ACTIVATION)
    made = []
    for coat in system.coats:
        volume = area * coat.coats / coat.spread * LITRE
        made.append(
            CoatNeeds(
                coat,
                area,
                volume,
                volume * coat.thinner,
                area * coat.coats * coat.hours * 3600,
                coat.again_from * later * 3600,
                None if coat.again_to is None else coat.again_to * later * 3600,
            )
        )
    return tuple(made)


def fairing_share(zone: Zone, shelf: Shelf) -> float:
    """Share of the usual hours that fairing takes by the way chosen."""
    return {"afterwards": 1.0, "wet": shelf.rule("fair.wet"), "peel ply": shelf.rule("fair.peeled")}[zone.finish.way]


def pinhole_time(zone: Zone, shelf: Shelf) -> float:
    """Work on the pinholes, s."""
    return zone.finish.pinholes * shelf.rule("pinhole.minutes")
