"""A boat's jobs side by side: when, what was repaired with what, hours and weight, what was found to be the cause."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.dates import date_words
from ribpatch.core.logbook.standing import doings
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System


def years_table(jobs: tuple[tuple[str, Plan], ...], system: System) -> Table:
    """A column a job, each by the name of its file; a row a fact, then a row a zone."""
    rows = [
        Row("boat", ("boat", *(p.job.boat.name for _, p in jobs))),
        Row("days", ("logged", *(_days(p) for _, p in jobs))),
        Row("hours", ("hours of work", *(_hours(p, system) for _, p in jobs))),
        Row("weight", ("net weight", *(_weight(p, system) for _, p in jobs))),
        Row("resin", ("laid with", *(_resins(p) for _, p in jobs))),
    ]
    names = list(dict.fromkeys(z.zone.name for _, p in jobs for z in p.zones))
    rows += [Row(f"zone.{n}", (f"zone: {n}", *(_zone(p, n, system) for _, p in jobs))) for n in names]
    rows.append(Row("notes", ("notes", *(p.job.notes[:300] or "–" for _, p in jobs))))
    return Table(("", *(name for name, _ in jobs)), tuple(rows), "", empty="Open other jobs of this boat beside it.")


def _days(plan: Plan) -> str:
    moments = sorted(e.at[:10] for e in plan.job.log.entries)
    if moments:
        first, last = date_words(moments[0]), date_words(moments[-1])
        return first if first == last else f"{first} to {last}"
    return date_words(plan.job.timetable.start) or "nothing"


def _hours(plan: Plan, system: System) -> str:
    planned = sum(r.hours for z in plan.zones for r in z.steps.rows)
    worked = sum(d.worked for d in doings(plan.job.log) if d.ended)
    told = f"{shown(planned, Kind.HOURS, system)} planned"
    return f"{told}, {shown(worked, Kind.HOURS, system)} logged" if worked else told


def _weight(plan: Plan, system: System) -> str:
    figure = plan.figure("job.weight.net")
    return figure.shown(system) if figure is not None else "–"


def _resins(plan: Plan) -> str:
    used = dict.fromkeys(b.resin.name for z in plan.zones for b in z.needs.batches if b.uses)
    return ", ".join(used) or "–"


def _zone(plan: Plan, name: str, system: System) -> str:
    made = next((z for z in plan.zones if z.zone.name == name), None)
    if made is None:
        return "–"
    cut = made.patch.cut.region.area
    if not cut:
        return "looked at" if made.zone.survey.readings else "not opened"
    plies = len(made.patch.stack.plies)
    return f"{shown(cut, Kind.AREA, system)} cut out, {plies} plies, {made.zone.scheme.access.side}"
