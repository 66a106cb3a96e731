"""The log as CSV: every entry in the order in which it was made, corrections beside what they correct."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.log_tables import entry_words, step_name
from ribpatch.core.numerals import plainly
from ribpatch.formats.csv_out import csv_text

if TYPE_CHECKING:
    from ribpatch.core.days import Days
    from ribpatch.core.job import Job
    from ribpatch.core.units import System

HEAD = (
    "entry",
    "when",
    "who",
    "step",
    "step id",
    "kind",
    "what",
    "note",
    "corrects",
    "taken back",
    "people",
    "resin",
    "resin kg",
    "hardener kg",
    "temperature degC",
    "humidity",
    "used up s",
    "plies",
    "thickness m",
    "material",
    "amount",
    "photographs",
)


@plainly()
def log_text(job: Job, days: Days, system: System = "metric") -> str:
    """The log; numbers in SI with a point."""
    rows: list[list[object]] = [list(HEAD)]
    for e in job.log.entries:
        first, last = getattr(e, "first", ""), getattr(e, "last", "")
        rows.append(
            [
                e.id,
                e.at,
                e.who,
                step_name(e.step, days) if e.step else "",
                e.step,
                getattr(e, "kind", ""),
                entry_words(e, days, system),
                e.note,
                e.corrects,
                "yes" if e.void else "",
                getattr(e, "people", ""),
                getattr(e, "resin", ""),
                *(_si(e, name) for name in ("mass", "hardener", "temperature", "humidity", "used_up")),
                f"{first} to {last}" if first else "",
                _si(e, "thickness"),
                getattr(e, "material", ""),
                _si(e, "amount"),
                " ".join(e.photographs),
            ]
        )
    return csv_text(rows)


def _si(entry: object, name: str) -> str:
    value = getattr(entry, name, None)
    return "" if value is None else repr(value.si)
