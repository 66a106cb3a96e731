"""Days and moments as they are said."""

from __future__ import annotations

from datetime import date

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
NAMES = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


def day_words(moment: str) -> str:
    """A day as it is said: Mon 30 Nov."""
    day = date.fromisoformat(moment[:10])
    return f"{NAMES[day.weekday()]} {short_day(moment)}"


def short_day(moment: str) -> str:
    """A day without its name: 30 Nov."""
    day = date.fromisoformat(moment[:10])
    return f"{day.day} {MONTHS[day.month - 1]}"


def moment_words(moment: str) -> str:
    """A moment as it is said: Mon 30 Nov 14:30."""
    return f"{day_words(moment)} {moment[11:16]}"
