"""Days and moments as they are said."""

from __future__ import annotations

from datetime import date

from ribpatch.core.numerals import day_first

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
    return f"{day.day} {month}" if day_first() else f"{month} {day.day}"


def moment_words(moment: str) -> str:
    """A moment as it is said: Mon 30 Nov 14:30."""
    return f"{day_words(moment)} {moment[11:16]}"
