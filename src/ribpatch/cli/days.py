"""``ribpatch days``: the schedule of a job as a calendar file, as JSON, or the sheet of one day."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING

from ribpatch.core.day_words import clash_words
from ribpatch.core.days import days_of, spread_of
from ribpatch.core.errors import Fault, FileProblem, InvalidValue
from ribpatch.core.slots import HOUR_SLOTS
from ribpatch.core.timetable_typed import days_typed

if TYPE_CHECKING:
    import argparse

    from ribpatch.core.days import Days
    from ribpatch.core.plan import Plan
    from ribpatch.scheduler.search import Found


def days_bytes(plan: Plan, suffix: str, chosen: argparse.Namespace) -> bytes:
    """The bytes of a file of that suffix; raises Fault where there is no schedule or the suffix is another."""
    if suffix not in (".ics", ".json", ".pdf"):
        raise FileProblem(suffix or "no suffix", reason="is none of .ics, .json, .pdf", advice="End the name in one.")
    begin = _day(chosen.begin, "begin") or plan.job.timetable.start
    if not begin:
        raise InvalidValue("begin", reason="the job states no day to begin on; give one with --begin 2026-12-01")
    days = days_of(plan, begin)
    found = _searched(days, chosen.seconds, suffix == ".json")
    if found.schedule is None:
        words = clash_words(found.clash, days) if found.clash is not None else ("No schedule was found in the time.",)
        raise Fault(reason=" ".join(words))
    if suffix == ".ics":
        from ribpatch.formats.days_ics import days_ics

        return days_ics(days, found.schedule, plan.job.boat.name)
    if suffix == ".pdf":
        from ribpatch.report.day_sheet import day_pdf

        day = _day(chosen.day, "day") or days.start
        return day_pdf(plan, days, found.schedule, day, chosen.units, chosen.paper)
    return json.dumps(_told(days, found), indent=1).encode()


def _day(text: str, where: str) -> str:
    return days_typed(text, where)[0] if text else ""


def _searched(days: Days, seconds: float, ranged: bool) -> Found:
    from ribpatch.scheduler.search import Found, searched

    if days.kept is not None:
        return Found(days.kept)
    return searched(days.problem, seconds, days.first, None, spread_of(days) if ranged else None)


def _told(days: Days, found: Found) -> dict[str, object]:
    made, names = found.schedule, days.zone_names
    assert made is not None
    return {
        "begin": days.start,
        "finish": days.moment_of(made.finish),
        "bound": days.moment_of(made.bound),
        "nine in ten": None if found.span is None else [days.moment_of(s) for s in found.span],
        "proven": made.proven,
        "sandings": made.sandings,
        "late hours": made.late / HOUR_SLOTS,
        "steps": [
            {
                "id": p.id,
                "name": days.by_id[p.id].name,
                "zone": names.get(days.by_id[p.id].zone, ""),
                "start": days.moment_of(p.start),
                "end": days.moment_of(p.end),
                "who": list(p.who),
                "missed": p.missed,
            }
            for p in sorted(made.placed, key=lambda p: (p.start, p.id))
        ],
    }
