"""The days in words and tables: the finish, each step and why it lies where it lies, a day's sheet, what must be
ordered by when, and what clashes.
"""

from __future__ import annotations

from datetime import date, datetime, timedelta
from math import ceil
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.arrivals import uses
from ribpatch.core.calendar.weather import why_not
from ribpatch.core.calendar.words import freeing_words, ruling_words
from ribpatch.core.cautions import cautions_of
from ribpatch.core.dates import day_words, moment_words
from ribpatch.core.day_lanes import windows_of
from ribpatch.core.numerals import fixed, general
from ribpatch.core.slots import DAY_SLOTS, HOUR_SLOTS
from ribpatch.core.steps.records import COAT
from ribpatch.core.supply.buying import ordered_by
from ribpatch.core.supply.figures import batch_prefix
from ribpatch.core.table import Row, Table
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Clash, Placed, Schedule
    from ribpatch.core.days import Days
    from ribpatch.core.plan import Plan
    from ribpatch.core.steps.records import StepRow
    from ribpatch.core.supply.buying import Buy
    from ribpatch.core.supply.needs import Batch

SAME = 0.005  # h: two figures nearer than this are one
AMOUNTS = {"m2": Kind.AREA, "m": Kind.LENGTH, "kg": Kind.MASS}


def finish_words(days: Days, schedule: Schedule) -> str:
    """When all is done, how sure that is, and what is known of better ones, in a sentence or two."""
    if not schedule.placed:
        return "Nothing is to be done yet: cut and rebuild a zone first."
    told = [f"Done on {moment_words(days.moment_of(schedule.finish))}"]
    if days.range is not None:
        told.append(f"nine in ten between {day_words(days.range[0])} and {day_words(days.range[1])}")
    first = "; ".join(told) + "."
    if days.kept is None:
        return f"{first} A first plan: search for a better one."
    if schedule.best:
        return f"{first} No plan is done earlier, nor with fewer sandings or late hours."
    if schedule.proven:
        return f"{first} No plan is done earlier; sandings and late hours may be."
    gap = (schedule.finish - schedule.bound) / HOUR_SLOTS
    by = f"{fixed(gap / 24, 1)} days" if gap >= 48 else f"{fixed(gap, 0)} hours"
    return (
        f"{first} At most {by} could be gained: none can be done before {moment_words(days.moment_of(schedule.bound))}."
    )


def clash_words(clash: Clash, days: Days) -> tuple[str, ...]:
    """What clashes and what would free it, a line each."""

    def when(slot: int) -> str:
        return moment_words(days.moment_of(slot))

    against = "; ".join(ruling_words(r, days.problem, when) for r in clash.against)
    lines = [f"No plan can keep all of this: {against}."]
    frees = [freeing_words(r, days.problem, when) for r in clash.frees]
    return (*lines, *(f"What would free it: {words}." for words in frees))


def step_words(days: Days, schedule: Schedule, step: str, system: System = "metric") -> str:
    """A step, when, by whom, after what and in which window, in a few lines."""
    row, put = days.by_id[step], schedule.by_id[step]
    zone = days.zone_names.get(row.zone, "")
    lines = [f"{zone}: {row.name}" if zone else row.name]
    who = ", ".join(put.who)
    span = f"{moment_words(days.moment_of(put.start))} to {moment_words(days.moment_of(put.end))}"
    lines.append(f"{span}{f', {who}' if who else ''}")
    hours = hours_words(row, system)
    if hours:
        lines.append(hours)
    lines += wait_lines(days, schedule, step)
    if row.why:
        lines.append(f"{row.why[:1].upper()}{row.why[1:]}.")
    coming = days.arriving.get(step, "")
    if coming:
        lines.append(f"What it needs comes by {day_words(coming)}.")
    if row.kind.skill:
        lines.append(f"For who may {row.kind.skill}.")
    if put.missed:
        lines.append("⚠ Its window is missed: wash and abrade first; the hours for it are in.")
    return "\n".join(lines)


def hours_words(row: StepRow, system: System) -> str:
    """How the hours of a step come about; empty for one without people."""
    card = row.kind
    if not row.people:
        return ""
    total, around = row.hours / 3600, card.set_up + card.clean_up
    worked = row.amount * card.hours * card.pace
    if not card.hours or abs(worked + around - total) > SAME:
        beside = f", {general(around)} h of it to set up and clean up" if around and total > around else ""
        return f"Hours: {fixed(total, 1)} h as stated or worked out for it{beside}."
    pace = "" if card.pace == 1 else f" × {fixed(card.pace, 2)} as your log says"
    kind = AMOUNTS.get(card.unit)
    amount = (
        f"{general(row.amount)} × {general(card.hours)} h"
        if kind is None
        else f"{shown(row.amount, kind, system)}: {fixed(worked, 1)} h"
    )
    return f"Hours: {amount}{pace} + {general(around)} h to set up and clean up."


def wait_lines(days: Days, schedule: Schedule, step: str) -> list[str]:
    """What a step waits for, a line each, and its window."""
    made = []
    for wait in days.waits:
        if wait.after == step and wait.before in days.by_id:
            because = f": {wait.why}" if wait.why else ""
            made.append(f"after “{days.by_id[wait.before].name}”{because}")
    window = windows_of(days, schedule).get(step)
    if window is not None:
        opens, closes = (moment_words(days.moment_of(int(v))) for v in window)
        made.append(f"window from {opens} to {closes}")
    return made


def gripes(days: Days, schedule: Schedule, now: str = "") -> tuple[str, ...]:
    """What is wrong with the plan, in words: work overdue at a moment, windows missed, late work."""
    made = _overdue(days, schedule, now)
    made += [
        f"“{days.by_id[p.id].name}” misses its window: wash and abrade first." for p in schedule.placed if p.missed
    ]
    for wait in days.left_out:
        first, then = (days.by_id[i].name if i in days.by_id else i for i in (wait.before, wait.after))
        made.append(f"“{then}” cannot come after “{first}”, which comes after it: that wait is left out.")
    if schedule.late:
        made.append(f"{general(schedule.late / HOUR_SLOTS)} hours fall in the evening or on a day off.")
    return tuple(made)


def _overdue(days: Days, schedule: Schedule, now: str) -> list[str]:
    if not now or now[:10] <= days.start:
        return []
    here, done = days.slot_of(now), {d.step for d in days.done if d.end}
    late = [p for p in schedule.placed if p.who and p.end <= here and p.id not in done]
    if not late:
        return []
    steps = counted(len(late), "step is", "steps are")
    return [f"{steps} planned to be done by now and not logged: log them, or begin on another day."]


def step_table(days: Days, schedule: Schedule | None, system: System) -> Table:
    """Every step: when, hours, people, what it waits for."""
    put = schedule.by_id if schedule is not None else {}
    names = days.zone_names
    rows = []
    for row in sorted(days.rows, key=lambda r: put[r.id].start if r.id in put else 0):
        p = put.get(row.id)
        change = days.table.change_of(row.id)
        marks = []
        if change is not None:
            marks.append("put by hand" if change.at else "changed")
        if p is not None and p.missed:
            marks.append("window missed")
        hours = shown(row.hours, Kind.HOURS, system) if row.people else "waits"
        cells = (
            row.name,
            names.get(row.zone, "the whole job"),
            moment_words(days.moment_of(p.start)) if p else "–",
            moment_words(days.moment_of(p.end)) if p else "–",
            hours,
            ", ".join(p.who) if p and p.who else str(row.people or ""),
            ", ".join(marks),
        )
        rows.append(Row(row.id, cells, "", row.kind.reason))
    columns = ("step", "zone", "from", "to", "hours", "who", "")
    return Table(columns, tuple(rows), "", empty="Nothing is to be done yet: cut and rebuild a zone first.")


class SheetStep(Struct, frozen=True):
    """One step on a day's sheet."""

    step: str
    title: str
    time: str
    who: str
    lay_out: str
    cups: str
    notes: tuple[str, ...]
    cautions: tuple[str, ...]
    missed: bool


class DaySheet(Struct, frozen=True):
    """What is done on a day: steps in order, the air told for it, what cures meanwhile."""

    day: str
    steps: tuple[SheetStep, ...]
    air: str
    waits: tuple[str, ...]


def day_sheet(plan: Plan, days: Days, schedule: Schedule, day: str, system: System) -> DaySheet:
    """The sheet of a day."""
    first = days.slot_of(day)
    last = first + DAY_SLOTS
    put = sorted((p for p in schedule.placed if p.start < last and p.end > first), key=lambda p: (p.start, p.id))
    work = [p for p in put if p.who]
    rows = tuple(_sheet_step(plan, days, schedule, p, (first, last), system) for p in work)
    waits = [
        f"{days.by_id[p.id].name}, {days.zone_name(p.id)}: until {moment_words(days.moment_of(p.end))}"
        for p in put
        if not p.who
    ]
    return DaySheet(day, rows, air_words(days, day, system), tuple(waits))


def _sheet_step(
    plan: Plan, days: Days, schedule: Schedule, p: Placed, span: tuple[int, int], system: System
) -> SheetStep:
    row = days.by_id[p.id]
    zone = days.zone_names.get(row.zone, "the whole job")
    begin, end = max(p.start, span[0]), min(p.end, span[1])
    time = f"{days.moment_of(begin)[11:16]} to {days.moment_of(end)[11:16]}"
    if p.start < span[0]:
        time = f"goes on, to {days.moment_of(end)[11:16]}"
    elif p.end > span[1]:
        time = f"from {days.moment_of(begin)[11:16]}, goes on on {day_words(days.moment_of(p.end))}"
    return SheetStep(
        row.id,
        f"{zone}: {row.name}",
        time,
        ", ".join(p.who),
        row.kind.lay_out,
        cup_words(plan, days, row, system),
        tuple(wait_lines(days, schedule, p.id)),
        tuple(c.text for c in cautions_of(plan, row.zone) if c.step == row.kind.caution),
        p.missed,
    )


def cup_words(plan: Plan, days: Days, row: StepRow, system: System) -> str:
    """The cups of a step, in a line: its share of those of the zone by what it covers; nothing where none are mixed."""
    if not row.zone or not row.lays or row.lays == COAT or row.kind.id == "pour":
        return ""  # what is poured is a casting of its own
    made = plan.zone(row.zone)
    mine = [r for r in days.rows if r.zone == row.zone and r.lays == row.lays and r.kind.id != "pour"]
    every = sum(r.amount for r in mine)
    for n, batch in enumerate(made.needs.batches, 1):
        if batch.resin.id != row.lays or not batch.cups.count:
            continue
        count = ceil(batch.cups.count * row.amount / every - 1e-9) if every else batch.cups.count
        told = {key: made.by_id.get(f"{batch_prefix(n)}cup.{key}") for key in ("each", "working")}
        figures = {key: f.shown(system) for key, f in told.items() if f is not None}
        if len(figures) < 2:
            return f"{batch.resin.name}: too cold for its times to be foretold"
        return (
            f"{batch.resin.name}: about {counted(count, 'cup', 'cups')} of {figures['each']} "
            f"({_split(batch, system)}), to be used up in {figures['working']}"
        )
    return ""


def _split(batch: Batch, system: System) -> str:
    """Resin and hardener of one cup, by mass."""
    resin, hardener = batch.resin.mass_parts
    each = batch.cups.each
    parts = (each * resin / (resin + hardener), each * hardener / (resin + hardener))
    return " + ".join(shown(p, Kind.MASS, system) for p in parts)


def air_words(days: Days, day: str, system: System) -> str:
    """The air told for a day at the work, and when nothing may be laid."""
    work, first = days.work_air, days.slot_of(day) // HOUR_SLOTS
    hours = [h for h in range(first + 7, first + 19) if 0 <= h - work.air.first < len(work.laminate)]
    if not hours:
        return ""
    temperature = [float(work.air.temperature[h - work.air.first]) for h in hours]
    humid = [float(work.air.humidity[h - work.air.first]) for h in hours]
    low, high = (shown(v, Kind.TEMPERATURE, system) for v in (min(temperature), max(temperature)))
    words = f"7 to 19 h: {low} to {high}, {min(humid):.0%} to {max(humid):.0%} humidity"
    lays = sorted({r.lays for r in days.rows if r.lays and r.lays != COAT})
    margin = days.shelf.rule("dew.margin")
    for resin in lays[:1]:
        bad = [(h, why_not(work, h, *days.limits_of(resin), margin, system)) for h in hours]
        bad = [(h, why) for h, why in bad if why]
        if bad:
            words += (
                f". Not to be laid in at {bad[0][0] % 24} h{' and other hours' if len(bad) > 1 else ''}: {bad[0][1]}"
            )
    return words + "."


def order_table(plan: Plan, days: Days, schedule: Schedule, buys: tuple[Buy, ...], today: str) -> Table:
    """What is still to be bought, first wanted on which day, to be ordered by when."""
    rows = []
    for buy in buys:
        if buy.bought <= 0:
            continue
        day = wanted_on(plan, days, schedule, buy)
        by = ordered_by(day, buy.lead) if day else ""
        late = bool(by) and by < today
        told = f"{day_words(by)}{', late' if late else ''}" if by else "–"
        lead = "" if buy.lead is None else counted(ceil(buy.lead), "day", "days")
        cells = (buy.name, day_words(day) if day else "–", lead, told)
        rows.append((by or "9999", Row(buy.id, cells, "warn" if late else "", "")))
    rows.sort(key=lambda r: r[0])
    note = "Wanted on the day of the first step that uses it in any zone; a day before is kinder."
    return Table(
        ("what", "first wanted", "comes in", "order by"), tuple(r for _, r in rows), note, empty="All is there."
    )


def wanted_on(plan: Plan, days: Days, schedule: Schedule, buy: Buy) -> str:
    """The day on which something is first used; nothing where no step uses it."""
    put = schedule.by_id
    found: list[int] = []
    for made in plan.zones:
        if not any(i.id == buy.id for i in made.items):
            continue
        mine = [r for r in days.rows if r.zone == made.zone.id and r.id in put]
        used = [r for r in mine if uses(r, buy.group)] or mine
        found += [put[r.id].start for r in used]
    return days.moment_of(min(found))[:10] if found else ""


def weekend_after(day: str) -> tuple[str, str]:
    """From Saturday 8 h to Sunday 17 h of the weekend on or after a day."""
    start = date.fromisoformat(day)
    saturday = start + timedelta(days=(5 - start.weekday()) % 7) if start.weekday() != 6 else start
    sunday = saturday if start.weekday() == 6 else saturday + timedelta(days=1)
    return f"{saturday.isoformat()}T08:00", f"{sunday.isoformat()}T17:00"


def hours_between(first: str, last: str) -> float:
    """Hours between two moments."""
    return (datetime.fromisoformat(last) - datetime.fromisoformat(first)).total_seconds() / 3600
