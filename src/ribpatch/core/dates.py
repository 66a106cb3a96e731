"""Days and moments as they are said, and as they are typed and shown in the order of the region."""

from __future__ import annotations

import re
from datetime import date

from ribpatch.core.numerals import day_order

CENTURY = 2000  # of a year of two figures
_TYPED = r"\s*(\d{1,4})\s*([-./ ])\s*(\d{1,2})\s*\2\s*(\d{1,4})\.?(?=$|[T\s])"
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
NAMES = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


def day_words(moment: str) -> str:
    """A day as it is said: Mon 30 Nov."""
    day = date.fromisoformat(moment[:10])
    return f"{NAMES[day.weekday()]} {short_day(moment)}"


def short_day(moment: str) -> str:
    """A day without its name: 30 Nov, or Nov 30 where the region says it so."""
    day = date.fromisoformat(moment[:10])
    month = MONTHS[day.month - 1]
    return f"{day.day} {month}" if day_order()[0] != "mdy" else f"{month} {day.day}"


def long_day(moment: str) -> str:
    """A day with its year: 30 Nov 2026, or Nov 30, 2026 where the region says it so."""
    return f"{short_day(moment)}{',' if day_order()[0] == 'mdy' else ''} {moment[:4]}"


def moment_words(moment: str) -> str:
    """A moment as it is said: Mon 30 Nov 14:30."""
    return f"{day_words(moment)} {moment[11:16]}"


def date_words(iso: str) -> str:
    """A day, 2026-12-24 in a file, in the order of the region; what is no day, or has a time, keeps the rest."""
    try:
        day = date.fromisoformat(iso[:10])
    except ValueError:
        return iso
    order, between = day_order()
    parts = {"y": f"{day.year}", "m": f"{day.month:02}", "d": f"{day.day:02}"}
    return between.join(parts[p] for p in order) + iso[10:].replace("T", " ")


def date_example() -> str:
    """How a day is typed, for a hint."""
    return date_words("2026-12-24")


def iso_date(text: str) -> str:
    """A typed day, with a time after it or without, as files hold it; what is not understood stays as it is."""
    found = re.match(_TYPED, text)
    order, _ = day_order()
    if not found or len(found[1]) == 4 or (order == "ymd" and found[2] != "."):
        return text.strip()  # with dots the day is first everywhere; otherwise the region says which is
    parts = {p: int(found[n]) for p, n in zip("dmy" if order == "ymd" else order, (1, 3, 4), strict=True)}
    year = parts["y"] + (CENTURY if parts["y"] < 100 else 0)
    try:
        return date(year, parts["m"], parts["d"]).isoformat() + text[found.end() :].rstrip()
    except ValueError:
        return text.strip()
