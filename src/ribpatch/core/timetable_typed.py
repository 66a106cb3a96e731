"""Hours, weekdays and days as they are typed and shown: 8-12, 13-17; Mon-Fri, Sat; 2026-12-24 to 2026-12-31."""

from __future__ import annotations

import re
from datetime import date, timedelta
from typing import TYPE_CHECKING

from ribpatch.core.dates import date_example, date_words, iso_date
from ribpatch.core.errors import InvalidValue
from ribpatch.core.record import built
from ribpatch.core.timetable import WEEKDAYS, DaySpan

if TYPE_CHECKING:
    from collections.abc import Iterable

MOST_DAYS = 120  # of one stretch of days
_SPAN = re.compile(r"^(\d{1,2})(?:[:.](\d{2}))?\s*(?:-|–|to)\s*(\d{1,2})(?:[:.](\d{2}))?$")


def spans_typed(text: str, where: str = "hours") -> tuple[DaySpan, ...]:
    """Stretches of a day; raises InvalidValue."""
    made = []
    for part in _parts(text):
        found = _SPAN.match(part)
        if found is None:
            raise InvalidValue(where, reason=f"“{part}” is no stretch of a day; write 8-17, or 8:30-12, 13-17")
        a, am, b, bm = found.groups()
        if int(am or 0) > 59 or int(bm or 0) > 59:
            raise InvalidValue(where, reason=f"“{part}”: an hour has 60 minutes")
        made.append(built(DaySpan, start=int(a) + int(am or 0) / 60, end=int(b) + int(bm or 0) / 60))
    return tuple(made)


def spans_text(spans: Iterable[DaySpan]) -> str:
    """Stretches of a day as they are typed."""
    return ", ".join(f"{_clock(s.start)}-{_clock(s.end)}" for s in spans)


def _clock(hours: float) -> str:
    minutes = round(hours * 60)
    return f"{minutes // 60}:{minutes % 60:02d}" if minutes % 60 else str(minutes // 60)


def weekdays_typed(text: str) -> tuple[int, ...]:
    """Days of the week by their first letters, 0 for Monday; raises InvalidValue."""
    days: set[int] = set()
    for part in _parts(text):
        ends = [_weekday(p) for p in re.split(r"\s*(?:-|–|to)\s*", part, maxsplit=1)]
        first, last = ends[0], ends[-1]
        days |= {n % 7 for n in range(first, last + 1 if last >= first else last + 8)}
    return tuple(sorted(days))


def _weekday(text: str) -> int:
    found = [n for n, name in enumerate(WEEKDAYS) if text.strip().lower().startswith(name.lower())]
    if not found:
        raise InvalidValue("days", reason=f"“{text}” is no day of the week; write Mon-Fri, or Mon, Wed, Sat")
    return found[0]


def weekdays_text(days: tuple[int, ...]) -> str:
    """Days of the week as they are typed."""
    runs: list[list[int]] = []
    for day in days:
        if runs and day == runs[-1][1] + 1:
            runs[-1][1] = day
        else:
            runs.append([day, day])
    return ", ".join(WEEKDAYS[a] if a == b else f"{WEEKDAYS[a]}-{WEEKDAYS[b]}" for a, b in runs)


def days_typed(text: str, where: str = "days") -> tuple[str, ...]:
    """Days, one by one or from one to another; raises InvalidValue."""
    made: list[str] = []
    for part in _parts(text):
        ends = [_day(p, where) for p in re.split(r"\s+(?:to|-|–)\s+", part, maxsplit=1)]
        span = (ends[-1] - ends[0]).days
        if not 0 <= span <= MOST_DAYS:
            raise InvalidValue(where, reason=f"“{part}” runs backwards, or over more than {MOST_DAYS} days")
        made += [(ends[0] + timedelta(days=n)).isoformat() for n in range(span + 1)]
    return tuple(dict.fromkeys(made))


def _day(text: str, where: str) -> date:
    try:
        return date.fromisoformat(iso_date(text))
    except ValueError:
        raise InvalidValue(where, reason=f"“{text.strip()}” is no date; write {date_example()}") from None


def days_text(days: Iterable[str]) -> str:
    """Days as they are typed, runs of them from the first to the last."""
    runs: list[list[date]] = []
    for day in sorted(date.fromisoformat(d) for d in days):
        if runs and day - runs[-1][1] == timedelta(days=1):
            runs[-1][1] = day
        else:
            runs.append([day, day])
    said = [(date_words(str(a)), date_words(str(b))) for a, b in runs]
    return ", ".join(a if a == b else f"{a} to {b}" for a, b in said)


def _parts(text: str) -> list[str]:
    return [part.strip() for part in text.split(",") if part.strip()]
