"""What an entry raises at once: a wrong ratio, a cup past its pot life, a ply outside its window, air not to lay in."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from ribpatch.core.calendar.clock import cure_clock
from ribpatch.core.cure_now import marks_of, warmth_had
from ribpatch.core.logbook.standing import air_read, standing
from ribpatch.core.logged import AirRead, Begun, Ended, Laid, Mixed
from ribpatch.core.numerals import fixed
from ribpatch.core.resin.air import dew_point
from ribpatch.core.resin.catalyst import as_mixed
from ribpatch.core.resin.cup import Mixing, at_mass
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.days import Days
    from ribpatch.core.job import Job
    from ribpatch.core.logged import LogEntry
    from ribpatch.core.materials.shelf import Shelf

RATIO_OFF = 0.05  # of the hardener that an epoxy forgives; judgement, below what its data sheets allow


def raised(entry: LogEntry, job: Job, days: Days, system: System) -> tuple[str, ...]:
    """What is wrong with an entry, in sentences; nothing where nothing is."""
    if isinstance(entry, Mixed):
        return (*_ratio(entry, job, days.shelf, system), *_pot(entry, job, days.shelf, system))
    if isinstance(entry, Laid):
        return (*_window(entry, job, days), *_too_cold(entry, job, days, system))
    if isinstance(entry, Ended):
        return _begun(entry, job)
    if isinstance(entry, AirRead):
        return _air(entry, days, system)
    return ()


def _begun(entry: Ended, job: Job) -> tuple[str, ...]:
    """An end closes what was begun since the end before it."""
    mine = [e for e in standing(job.log) if e.step == entry.step and isinstance(e, Begun | Ended)]
    before = mine[: next((n for n, e in enumerate(mine) if e.id == entry.id), len(mine))]
    if before and isinstance(before[-1], Begun):
        return ()
    return ("No begin of it is logged: its hours are not counted. Log a begin with the time at which it was.",)


def _temperature(entry: Mixed, job: Job) -> float:
    return entry.temperature.si if entry.temperature is not None else job.air.temperature.si


def _ratio(entry: Mixed, job: Job, shelf: Shelf, system: System) -> tuple[str, ...]:
    resin = shelf.resin(entry.resin)
    if resin.family != "epoxy":
        share = entry.hardener.si / entry.mass.si if entry.mass.si else 0.0
        low, high = shelf.rule("catalyst.least"), shelf.rule("catalyst.most")
        if low <= share <= high:
            return ()
        had, least, most = (fixed(part * 100, 1) for part in (share, low, high))
        return (f"{had}% of catalyst: {least}% to {most}% cures as it should. Throw it away where it is less.",)
    a, b = as_mixed(resin, _temperature(entry, job), shelf).mass_parts
    wanted = entry.mass.si * b / a
    off = entry.hardener.si / wanted - 1 if wanted else 0.0
    if abs(off) <= RATIO_OFF:
        return ()
    if off < 0:
        more = shown(wanted - entry.hardener.si, Kind.MASS, system)
        advice = f"stir {more} of hardener in at once, or do not use it"
    else:
        more = shown(entry.hardener.si * a / b - entry.mass.si, Kind.MASS, system)
        advice = f"stir {more} of resin in at once, or do not use it"
    return (
        f"The hardener is {abs(off):.0%} {'short' if off < 0 else 'too much'}: {advice}. "
        "It will not cure as it should.",
    )


def _pot(entry: Mixed, job: Job, shelf: Shelf, system: System) -> tuple[str, ...]:
    air, mass = _temperature(entry, job), entry.mass.si + entry.hardener.si
    resin = as_mixed(shelf.resin(entry.resin), air, shelf)
    if entry.used_up is None or mass <= 0:
        return ()
    if air < resin.least_temperature:
        least = shown(resin.least_temperature, Kind.TEMPERATURE, system)
        return (f"Mixed below {least}, the least for {resin.name}: its cure is not foretold.",)
    lasts, _ = at_mass(resin, mass, Mixing(entry.vessel, air, air), shelf)
    if entry.used_up.si <= lasts:
        return ()
    used, held = (shown(v, Kind.TIME, system) for v in (entry.used_up.si, lasts))
    return (
        f"Used up after {used}; such a cup can be worked for {held}. Look at what was laid last: it may not be wet "
        "through.",
    )


def _window(entry: Laid, job: Job, days: Days) -> tuple[str, ...]:
    """Over the last plies of the same zone before it."""
    zone = entry.step.partition(".")[0]
    before = [
        e
        for e in standing(job.log)
        if isinstance(e, Laid) and e.id != entry.id and e.at < entry.at and e.step.partition(".")[0] == zone
    ]
    if not zone or not before:
        return ()
    under = before[-1]
    resin, zero = days.shelf.resin(under.resin), datetime.fromisoformat(days.start)
    first, then = ((datetime.fromisoformat(e.at) - zero).total_seconds() for e in (under, entry))
    clock = cure_clock(warmth_had(days, air_read(job.log)), resin.activation, None, days.factor_of(resin.id))
    worth, needs = clock.progress(first, then), marks_of(resin)
    if worth < needs["gel"] or needs["green_from"] <= worth <= needs["green_to"]:
        return ()
    if worth < needs["green_from"]:
        return (f"Laid on {resin.name} that has gelled and is not green yet: it may drag and trap air.",)
    prepared = any(
        e.at > under.at and e.at <= entry.at and any(w in e.step for w in ("abrade", "scrape", "clean"))
        for e in standing(job.log)
    )
    if prepared:
        return ()
    return (
        f"The green window of {resin.name} had closed: unless it was washed and abraded, this ply hardly bonds. "
        "Test it at an edge, and log how it was made ready.",
    )


def _too_cold(entry: Laid, job: Job, days: Days, system: System) -> tuple[str, ...]:
    read = [(at, t) for at, t in air_read(job.log) if at[:10] == entry.at[:10] and at <= entry.at]
    resin = days.shelf.resin(entry.resin)
    if not read or read[-1][1] >= resin.least_temperature:
        return ()
    told = shown(read[-1][1], Kind.TEMPERATURE, system)
    least = shown(resin.least_temperature, Kind.TEMPERATURE, system)
    return (f"Laid at {told}, below {least}, the least for {resin.name}: warm it before it stops for good.",)


def _air(entry: AirRead, days: Days, system: System) -> tuple[str, ...]:
    if entry.humidity is None or not -45 <= entry.temperature.si <= 60:
        return ()
    dew, margin = dew_point(entry.temperature.si, entry.humidity.si), days.shelf.rule("dew.margin")
    if entry.temperature.si - dew >= margin:
        return ()
    over = shown(entry.temperature.si - dew, Kind.DIFFERENCE, system)
    return (f"Only {over} over the dew point: lay nothing until it is {shown(margin, Kind.DIFFERENCE, system)}.",)
