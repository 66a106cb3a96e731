"""The log in tables: its entries with what corrects them, and what was estimated against what it came to."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ribpatch.core.cure_now import MARK_SAYS, countdown
from ribpatch.core.dates import moment_words
from ribpatch.core.log_checks import raised
from ribpatch.core.logbook.standing import doings, standing
from ribpatch.core.logged import (
    NAIL_WORDS,
    AirRead,
    Begun,
    Ended,
    Laid,
    Measured,
    Mixed,
    NailTest,
    Used,
)
from ribpatch.core.numerals import fixed, general
from ribpatch.core.supply.buying import unit_of
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.cure_now import Curing
    from ribpatch.core.days import Days
    from ribpatch.core.job import Job
    from ribpatch.core.logged import LogEntry
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System

SOON = 15  # minutes before a mark at which it is told


def entry_words(entry: LogEntry, days: Days, system: System) -> str:
    """What an entry says, without its moment and step."""
    if isinstance(entry, Begun):
        return "begun" + (f" by {entry.people}" if entry.people > 1 else "")
    if isinstance(entry, Ended):
        return "ended"
    if isinstance(entry, Mixed):
        parts = f"{shown(entry.mass.si, Kind.MASS, system)} + {shown(entry.hardener.si, Kind.MASS, system)}"
        warm = f" at {shown(entry.temperature.si, Kind.TEMPERATURE, system)}" if entry.temperature else ""
        used = f", used up in {shown(entry.used_up.si, Kind.TIME, system)}" if entry.used_up else ""
        return f"mixed {parts} of {days.shelf.resin(entry.resin).name}, {entry.vessel}{warm}{used}"
    if isinstance(entry, Laid):
        plies = f"ply {entry.first}" if entry.first == entry.last else f"plies {entry.first} to {entry.last}"
        return f"{plies} laid with {days.shelf.resin(entry.resin).name}"
    if isinstance(entry, Used):
        return f"used {general(entry.amount.si)} {unit_of(entry.material, days.shelf)} of {entry.material}"
    if isinstance(entry, Measured):
        return f"{shown(entry.thickness.si, Kind.SIZE, system)} thick"
    if isinstance(entry, AirRead):
        damp = f", {entry.humidity.si:.0%}" if entry.humidity is not None else ""
        return f"{shown(entry.temperature.si, Kind.TEMPERATURE, system)}{damp} at the work"
    if isinstance(entry, NailTest):
        return f"nail: {NAIL_WORDS[entry.state]}"
    return ""


def step_name(step: str, days: Days) -> str:
    """A step as it is read; its id where it is no longer planned."""
    row = days.by_id.get(step)
    if row is None:
        return step
    zone = days.zone_names.get(row.zone, "")
    return f"{zone}: {row.name}" if zone else row.name


def log_table(job: Job, days: Days, system: System) -> Table:
    """Every entry, the last first; what was corrected stays, and says by what."""
    by = {e.corrects: e.id for e in job.log.entries if e.corrects}
    rows = []
    for entry in sorted(job.log.entries, key=lambda e: (e.at, int(e.id[1:])), reverse=True):
        words = [entry_words(entry, days, system), entry.note]
        if entry.void:
            words.insert(0, f"takes {entry.corrects} back")
        elif entry.corrects:
            words.insert(0, f"corrects {entry.corrects}")
        warned = () if entry.id in by else raised(entry, job, days, system)
        mark = "head" if entry.id in by else "warn" if warned else ""
        if entry.id in by:
            words.append(f"corrected by {by[entry.id]}")
        told = "; ".join(w for w in (*words, *warned) if w)
        if entry.photographs:
            told += f"; photographs {', '.join(entry.photographs)}"
        step = step_name(entry.step, days) if entry.step else ""
        cells = (told, step, moment_words(entry.at), entry.who, entry.id)
        rows.append(Row(entry.id, cells, mark, " ".join(warned)))
    columns = ("what", "step", "when", "who", "no.")
    return Table(columns, tuple(rows), "", empty="Nothing is logged yet: begin a step, or mix a cup.")


def against_table(plan: Plan, days: Days, system: System) -> Table:
    """Estimate against actual: hours by step, resin and cloth by material."""
    job, rows = plan.job, []
    for doing in doings(job.log):
        row = days.by_id.get(doing.step)
        if row is None or not doing.ended or not row.hours:
            continue
        rows.append(_row(doing.step, step_name(doing.step, days), row.hours, doing.worked, Kind.HOURS, system))
    for material, name, planned, used, kind in _materials(plan):
        rows.append(_row(material, name, planned, used, kind, system))
    columns = ("what", "estimate", "came to", "times the estimate")
    return Table(columns, tuple(rows), "", empty="Nothing has ended yet, and no cup is logged.")


def _row(key: str, name: str, planned: float, actual: float, kind: Kind, system: System) -> Row:
    ratio = fixed(actual / planned, 2) if planned else "–"
    return Row(key, (name, shown(planned, kind, system), shown(actual, kind, system), ratio))


def _materials(plan: Plan) -> list[tuple[str, str, float, float, Kind]]:
    """Resin mixed, and cloth and the rest used, against what is needed; only what was logged."""
    mixed: dict[str, float] = {}
    used: dict[str, float] = {}
    for entry in standing(plan.job.log):
        if isinstance(entry, Mixed):
            mixed[entry.resin] = mixed.get(entry.resin, 0.0) + entry.mass.si + entry.hardener.si
        elif isinstance(entry, Used):
            used[entry.material] = used.get(entry.material, 0.0) + entry.amount.si
    rows = []
    for resin, mass in mixed.items():
        planned = sum(b.cups.total for z in plan.zones for b in z.needs.batches if b.resin.id == resin)
        rows.append((resin, plan.shelf.resin(resin).name, planned, mass, Kind.MASS))
    if used:
        for buy in plan.buys_with(plan.first_rolls):
            if buy.id in used:
                rows.append((buy.id, buy.name, buy.needed, used[buy.id], Kind.NUMBER))
    return rows


def clock_table(things: tuple[Curing, ...], days: Days, here: str) -> Table:
    """What cures, its state and what comes next with a countdown."""
    rows = []
    for c in things:
        nearest = (
            f"{MARK_SAYS[c.next_mark]} {countdown(c.next_at, here)}, {moment_words(c.next_at)}" if c.next_at else "–"
        )
        closes = dict(c.marks).get("green_to", "")
        window = (
            f"closes {moment_words(closes)}" if closes and closes > here else "closed" if closes else "not foretold"
        )
        clock = f"× {fixed(c.factor, 2)}, by {c.tests} nail tests" if c.tests else "as stated"
        state = "too cold: not foretold" if c.cold else c.state
        resin = days.shelf.resin(c.resin).name
        rows.append(
            Row(c.step, (step_name(c.step, days), resin, state, nearest, window, clock), "warn" if c.cold else "")
        )
    columns = ("what is wet", "with", "is now", "next", "its window", "clock")
    return Table(columns, tuple(rows), "", empty="Nothing is wet: log the plies as they are laid.")


def soon(things: tuple[Curing, ...], days: Days, here: str) -> tuple[tuple[tuple[str, str, str], str], ...]:
    """What comes within minutes, each with what it is known again by."""
    end = (datetime.fromisoformat(here) + timedelta(minutes=SOON)).isoformat(timespec="minutes")
    return tuple(
        (
            (c.step, c.since, c.next_mark),
            f"{step_name(c.step, days)}: {MARK_SAYS[c.next_mark]} {countdown(c.next_at, here)}.",
        )
        for c in things
        if c.next_at and here[:16] <= c.next_at <= end
    )
