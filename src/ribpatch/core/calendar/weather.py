"""Air by the hour: what the shed makes of the weather, what a laminate makes of the shed, and when it may be laid in.

Temperatures in degC, relative humidity 0..1, rain in mm of an hour. Heat that is added leaves the water in the air as
it is, so that the dew point stays and the relative humidity falls. A heater lifts the air by its power over the heat
that the walls lose for each degree. A laminate follows the air like a body of one temperature: by exp(-t/lag).
Sources: [5] for the dew point; the rest is a balance of heat.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.calendar.clock import Warmth
from ribpatch.core.resin.air import MAGNUS_B, MAGNUS_C
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.units import System

HOUR = 3600.0
WET, DRY = 1.0, 0.02  # relative humidity


class Hours(Struct, frozen=True, eq=False):
    """Air from hour ``first`` on, hour by hour: temperature (n,), humidity (n,), rain (n,)."""

    first: int
    temperature: Floats
    humidity: Floats
    rain: Floats

    @property
    def dew(self) -> Floats:
        """Dew point of each hour, degC."""
        return dew_points(self.temperature, self.humidity)

    @property
    def last(self) -> int:
        """The hour after the last one."""
        return self.first + len(self.temperature)


class Aid(Struct, frozen=True):
    """Something that betters the air: ``heater`` (to a temperature, with a power in W), ``tent`` (a small warm room
    over the work), ``dehumidifier`` (to a humidity), ``blanket`` (the laminate itself to a temperature), ``cover``
    (keeps rain off).
    """

    kind: str
    degrees: float | None = None
    humidity: float | None = None
    power: float | None = None


class Shed(Struct, frozen=True):
    """What surrounds the boat: the heat its walls lose, W/K, by how many degrees it is warmer than outside by itself,
    whether rain stays off, and how long a laminate takes to follow its air, s.
    """

    loss: float
    warmer: float = 0.0
    roof: bool = True
    lag: float = 2 * HOUR


class WorkAir(Struct, frozen=True, eq=False):
    """Air at the work by the hour, the laminate's own temperature (n,), and whether rain falls on it (n,)."""

    air: Hours
    laminate: Floats
    rained: Floats


def dew_points(temperature: Floats, humidity: Floats) -> Floats:
    """Dew points, degC, of air of -45 to 60 degC; [5]."""
    gamma = np.log(np.clip(humidity, 1e-3, 1.0)) + MAGNUS_B * temperature / (MAGNUS_C + temperature)
    return np.asarray(MAGNUS_C * gamma / (MAGNUS_B - gamma))


def humidity_at(temperature: Floats, dew: Floats) -> Floats:
    """Relative humidity of air with a dew point at a temperature."""
    share = np.exp(MAGNUS_B * dew / (MAGNUS_C + dew) - MAGNUS_B * temperature / (MAGNUS_C + temperature))
    return np.asarray(np.clip(share, DRY, WET))


def repeated(hours: Hours, first: int, count: int) -> Hours:
    """Air of ``count`` hours from ``first`` on: as known, and where nothing is known as at the same hour of the nearest
    day that is.
    """
    wanted = np.arange(first, first + count) - hours.first
    known = len(hours.temperature)
    day = 24 if known >= 24 else 1
    over = np.maximum(wanted - known, -1) // day + 1  # days past the end
    under = np.maximum(-wanted - 1, -1) // day + 1  # days before the beginning
    place = np.clip(wanted - over * day * (wanted >= known) + under * day * (wanted < 0), 0, known - 1)
    return Hours(first, hours.temperature[place], hours.humidity[place], hours.rain[place])


def at_work(outside: Hours, shed: Shed, aids: tuple[Aid, ...] = ()) -> WorkAir:
    """Air at the work, and the laminate in it, from the weather outside."""
    dew = outside.dew
    loss, roof = shed.loss, shed.roof
    warm = outside.temperature + shed.warmer
    for aid in aids:
        if aid.kind == "tent":
            loss, roof = loss * TENT, True
        elif aid.kind == "cover":
            roof = True
    for aid in aids:
        if aid.kind == "heater" and aid.degrees is not None:
            most = np.inf if aid.power is None else aid.power / loss
            warm = np.maximum(warm, np.minimum(aid.degrees, warm + most))
    humidity = humidity_at(warm, dew)
    for aid in aids:
        if aid.kind == "dehumidifier" and aid.humidity is not None:
            humidity = np.minimum(humidity, aid.humidity)
    laminate = followed(warm, shed.lag)
    for aid in aids:
        if aid.kind == "blanket" and aid.degrees is not None:
            laminate = np.maximum(laminate, aid.degrees)
    rained = np.zeros(len(warm)) if roof else (outside.rain > 0).astype(float)
    return WorkAir(Hours(outside.first, warm, humidity, outside.rain), laminate, rained)


TENT = 0.2  # of the heat that the shed's walls lose, those of a tent over one zone


def followed(air: Floats, lag: float) -> Floats:
    """Temperature of a body in air that is held for an hour each, at the end of each; it begins as warm as the air."""
    if lag <= 0:
        return np.array(air)
    keep = float(np.exp(-HOUR / lag))
    made, now = np.empty(len(air)), float(air[0])
    for n, degrees in enumerate(air.tolist()):
        now = degrees + (now - degrees) * keep
        made[n] = now
    return made


def layable(work: WorkAir, least: float, most_humidity: float, margin: float) -> Floats:
    """Whether each hour may be laid in (n,), 1 or 0: warm enough for the system, the laminate ``margin`` K over the dew
    point, not too damp, no rain on it.
    """
    dew = work.air.dew
    cold = np.minimum(work.laminate, work.air.temperature) < least
    # One that is just at its limit may be laid in, however the numbers were rounded.
    damp = work.laminate < dew + margin - 1e-9
    return np.asarray(~(cold | damp | (work.air.humidity > most_humidity + 1e-9) | (work.rained > 0)), float)


def why_not(
    work: WorkAir, hour: int, least: float, most_humidity: float, margin: float, system: System = "metric"
) -> str:
    """What is wrong with an hour, in words; nothing where nothing is. Temperatures in degC, the margin in K."""
    n = hour - work.air.first
    dew, laminate = float(work.air.dew[n]), float(work.laminate[n])
    air, humidity = float(work.air.temperature[n]), float(work.air.humidity[n])
    told = []
    if min(laminate, air) < least:
        cold, wanted = (shown(v, Kind.TEMPERATURE, system) for v in (min(laminate, air), least))
        told.append(f"{cold}, under the system's {wanted}")
    if laminate < dew + margin - 1e-9:
        over, wanted = (shown(v, Kind.DIFFERENCE, system) for v in (laminate - dew, margin))
        told.append(f"the laminate is {over} over the dew point, {wanted} are wanted")
    if humidity > most_humidity + 1e-9:
        told.append(f"{humidity:.0%} humidity, over the system's {most_humidity:.0%}")
    if work.rained[n] > 0:
        told.append("rain on the work")
    return "; ".join(told)


def warmth_of(work: WorkAir) -> Warmth:
    """The laminate's temperatures for a clock: straight from the end of one hour to that of the next."""
    times = (work.air.first + 1.0 + np.arange(len(work.laminate), dtype=float)) * HOUR
    return Warmth(times, work.laminate)


def simulated(first: int, count: int, day_of_year: int, seed: int) -> Hours:
    """Weather that could be: a temperate lake shore at 47 degrees north, by the hour from midnight of a day of the
    year. The yearly and the daily swing, spells of days that go over into each other, damp nights and showers are
    drawn at random; the same ``seed`` gives the same weather.
    """
    rng = np.random.default_rng(seed)
    hours = np.arange(count)
    day = day_of_year + hours / 24
    season = 10.0 - 9.5 * np.cos(2 * np.pi * (day - 20) / 365.25)
    spells = _wandering(rng, count // 24 + 3, 0.75, 3.2)
    clear = np.clip(0.5 + 0.28 * _wandering(rng, count // 24 + 3, 0.6, 1.0), 0.05, 1.0)
    in_days = hours / 24
    spell, sky = (np.interp(in_days, np.arange(len(v)), v) for v in (spells, clear))
    swing = (2.0 + 7.0 * sky) * -np.cos(2 * np.pi * ((hours + first) % 24 - 3.5) / 24) / 1.6
    temperature = season + spell + swing + rng.normal(0, 0.3, count)
    dew = season + spell - 3.0 - 3.5 * sky + 0.15 * swing + rng.normal(0, 0.3, count)
    shower = (rng.random(count) < 0.16 * (1 - sky) ** 2) * rng.gamma(1.2, 1.0, count)
    humidity = np.clip(humidity_at(temperature, np.minimum(dew, temperature)) + 0.1 * (shower > 0), 0.2, 1.0)
    return Hours(first, np.round(temperature, 1), np.round(humidity, 2), np.round(shower, 1))


def _wandering(rng: np.random.Generator, count: int, keep: float, spread: float) -> Floats:
    """Values of a day each that remember the day before by ``keep``, with a standard deviation of ``spread``."""
    drawn = rng.normal(0, 1, count) * spread * np.sqrt(1 - keep**2)
    made = np.empty(count)
    now = rng.normal(0, spread)
    for n in range(count):
        now = keep * now + drawn[n]
        made[n] = now
    return made
