"""Weather by the hour from CSV: a time, a temperature, a humidity and, if there is one, rain. Missing hours lie on a
line between their neighbours; several readings in an hour are averaged, their rain summed.

Which column is what, and in which unit, is guessed from the headings and the values; what is in doubt is said, and
asked. Times as 2026-12-01 14:00 or 2026-12-01T14:00; one that states a zone is brought to this computer's own clock.
"""

from __future__ import annotations

import contextlib
import re
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.errors import FileProblem
from ribpatch.core.numerals import general
from ribpatch.core.record import built
from ribpatch.core.text import together
from ribpatch.core.timetable import MOST_HOURS, Forecast
from ribpatch.formats.csv_lines import STRAY, lines_of, rows_of
from ribpatch.formats.csv_numbers import number
from ribpatch.formats.whole_file import read_whole

if TYPE_CHECKING:
    from pathlib import Path

Key = Literal["time", "temperature", "humidity", "rain"]
KEYS: tuple[Key, ...] = ("time", "temperature", "humidity", "rain")
NEEDED: tuple[Key, ...] = KEYS[:3]
MOST_BYTES = 8 * 2**20
MOST_WRONG = 20  # rows that are told
LOOKED_AT = 500  # rows read to guess the units
MARKS = (";", "\t", ",")
# A heading is of the key whose sign stands first in it.
SIGNS: dict[Key, str] = {
    "time": r"time|date|when|hour",
    "temperature": r"temp|deg ?[cf]\b|°\s?[cf]\b",
    "humidity": r"hum|\brh\b",
    "rain": r"rain|precip",
}
BESIDE = r"dew|wind|chill|feels|soil|surface|water|sensor|min\b|max\b|record"  # not the air's, or not the hour's
ADVICE = "The first row names the columns: time, temperature, humidity, rain."
GAP = 24  # hours that may be missing in a row
SHARE_MOST, WARMEST = 1.0, 42.0  # the largest share; degC over which a column without a unit is in doubt


class UnclearWeather(FileProblem):
    """A file whose columns or units are in doubt: a person must look."""


class WeatherColumns(Struct, frozen=True):
    """Which column is what (from 0; -1 is none), and the units: temperatures in degF, humidity as a share, rain in
    inches, times without a zone in UTC.
    """

    time: int
    temperature: int
    humidity: int
    rain: int = -1
    fahrenheit: bool = False
    share: bool = False
    inches: bool = False
    utc: bool = False

    def at(self, key: Key) -> int:
        """The column of a key."""
        return int(getattr(self, key))


class WeatherTable(Struct, frozen=True):
    """A file's rows of cells with their lines, its headings, what its columns are taken for, and what is in doubt."""

    name: str
    heads: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]
    wrong: tuple[str, ...]
    mark: str
    guess: WeatherColumns
    doubts: tuple[str, ...]


class _Row(Struct, frozen=True):
    hour: datetime
    temperature: float
    humidity: float
    rain: float


def read_text(path: Path) -> str:
    """The text of a file; raises FileProblem."""
    raw = read_whole(path, MOST_BYTES, FileProblem, "Take fewer hours.")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        return raw.decode("latin-1")


def read_weather(path: Path) -> Forecast:
    """The forecast in a file; raises FileProblem that says what, where and how to mend it."""
    return weather_of(read_text(path), path.name)


def weather_of(text: str, name: str) -> Forecast:
    """The forecast that a CSV tells, where nothing of it is in doubt: UnclearWeather otherwise."""
    table = weather_table(text, name)
    if table.doubts:
        raise UnclearWeather(name, reason="; ".join(table.doubts), advice=f"Name columns and units. {ADVICE}")
    return forecast_of(table, table.guess)


def weather_table(text: str, name: str) -> WeatherTable:
    """What a CSV holds, and what its columns are taken for. Raises FileProblem where there is nothing to choose."""
    lines, first, said = lines_of(text)
    if first >= len(lines):
        raise FileProblem(name, reason="is empty", advice=ADVICE)
    mark = said or next((m for m in MARKS if m in lines[first]), ",")
    heads = tuple(h.strip().strip('"').strip() for h in lines[first].split(mark))
    if len(heads) < len(NEEDED):
        lost = [k for k in NEEDED if not any(_key_of(h) == k for h in heads)]
        raise FileProblem(name, reason=f"has no column for {' and '.join(lost)}", advice=ADVICE)
    rows, wrong = [], []
    for line, cells, _ in rows_of(lines, first + 1, mark, lambda cells: len(cells) >= len(heads)):
        if cells is None:
            wrong.append(f"line {line + 1}: {STRAY}")
        elif any(c.strip() for c in cells):
            rows.append((line, tuple(c.strip() for c in cells)))
    guess, doubts = _guessed(heads, rows, mark)
    return WeatherTable(name, heads, tuple(rows), tuple(wrong), mark, guess, doubts)


def _key_of(head: str) -> Key | None:
    """What a heading seems to name: the first sign in it."""
    found = {k: m.start() for k, signs in SIGNS.items() if (m := re.search(signs, head.lower()))}
    if not found:
        return "humidity" if "%" in head else None
    return min(found, key=lambda k: found[k])


def _guessed(
    heads: tuple[str, ...], rows: list[tuple[int, tuple[str, ...]]], mark: str
) -> tuple[WeatherColumns, tuple[str, ...]]:
    """What the columns are taken for, and what of it is in doubt."""
    at: dict[str, int] = {}
    doubts = []
    for key in KEYS:
        every = [n for n, h in enumerate(heads) if _key_of(h) == key]
        plain = [n for n in every if not re.search(BESIDE, heads[n].lower())]
        chosen = (plain or every or [-1])[0]
        at[key] = chosen
        if chosen < 0:
            doubts += [f"no heading names the {key}"] if key in NEEDED else []
        elif (len(plain) != 1 and len(every) > 1) or not plain:
            doubts.append(f"“{heads[chosen][:40]}” is taken for the {key}")
    guess = WeatherColumns(
        at["time"],
        at["temperature"],
        at["humidity"],
        at["rain"],
        fahrenheit=bool(re.search(r"deg ?f\b|°\s?f\b|fahrenheit|[ ([]f[)\]]?$", _head(heads, at["temperature"]))),
        share=_as_share(heads, at, rows, mark, doubts),
        inches=bool(re.search(r"[ ([](in|inch|inches)[)\]]?$", _head(heads, at["rain"]))),
        utc=bool(re.search(r"\b(utc|gmt)\b", _head(heads, at["time"]))),
    )
    warm = _values(rows, at["temperature"], mark)
    stated = re.search(r"deg ?[cf]\b|°\s?[cf]\b|celsius|fahrenheit|[ ([][cf][)\]]?$", _head(heads, at["temperature"]))
    if warm and max(warm) > WARMEST and not stated:
        doubts.append(f"temperatures up to {general(max(warm))} without a unit: °C or °F")
    return guess, tuple(doubts)


def _head(heads: tuple[str, ...], at: int) -> str:
    return heads[at].lower() if at >= 0 else ""


def _as_share(
    heads: tuple[str, ...], at: dict[str, int], rows: list[tuple[int, tuple[str, ...]]], mark: str, doubts: list[str]
) -> bool:
    """Whether humidity is a share rather than percent: by its heading; without one by all its values together."""
    if at["humidity"] < 0:
        return False
    head, values = _head(heads, at["humidity"]), _values(rows, at["humidity"], mark)
    small = bool(values) and max(values) <= SHARE_MOST
    if re.search(r"share|fraction|0 ?(-|to|\.\.) ?1\b", head):
        return True
    if small:
        doubts.append(f"humidity is {general(max(values))} at most: percent or a share of 1")
    return small and "%" not in head


def _values(rows: list[tuple[int, tuple[str, ...]]], at: int, mark: str) -> list[float]:
    """The numbers of a column in its first rows."""
    found = []
    for _, cells in rows[:LOOKED_AT]:
        if 0 <= at < len(cells) and cells[at]:
            with contextlib.suppress(ValueError):
                found.append(number(cells[at], "", mark))
    return found


def forecast_of(table: WeatherTable, columns: WeatherColumns) -> Forecast:
    """The forecast of a table whose columns are what is said; raises FileProblem."""
    name = table.name
    lost = [key for key in NEEDED if columns.at(key) < 0]
    if lost:
        raise FileProblem(name, reason=f"has no column for {' and '.join(lost)}", advice=ADVICE)
    taken = [columns.at(k) for k in KEYS if columns.at(k) >= 0]
    if len(set(taken)) < len(taken):
        twice = [k for k in KEYS if columns.at(k) >= 0 and taken.count(columns.at(k)) > 1]
        raise FileProblem(name, reason=f"gives {together(twice)} in one column", advice="Choose a column for each.")
    rows, wrong = [], list(table.wrong)
    for line, cells in table.rows:
        try:
            rows.append(_row(cells, columns, table.mark))
        except ValueError as error:
            wrong.append(f"line {line + 1}: {error}")
    if wrong:
        more = f", and {len(wrong) - MOST_WRONG} more" if len(wrong) > MOST_WRONG else ""
        raise FileProblem(name, reason="; ".join(wrong[:MOST_WRONG]) + more, advice="Mend the lines, or take them out.")
    if not rows:
        raise FileProblem(name, reason="has no hours in it", advice=ADVICE)
    return _by_hour(rows, name)


def _row(cells: tuple[str, ...], columns: WeatherColumns, mark: str) -> _Row:
    def cell(key: Key) -> str:
        return cells[columns.at(key)] if 0 <= columns.at(key) < len(cells) else ""

    when = _local(cell("time"), columns.utc)
    degrees = number(cell("temperature"), "temperature", mark)
    degrees = (degrees - 32) / 1.8 if columns.fahrenheit else degrees
    humid = number(cell("humidity"), "humidity", mark) * (1.0 if columns.share else 0.01)
    rain = number(cell("rain") or "0", "rain", mark) * (25.4 if columns.inches else 1.0)
    for value, low, high, what, shown in (
        (degrees, -45, 60, "temperature", f"{general(degrees)} °C"),
        (humid, 0.02, 1, "humidity", f"{general(humid * 100)} %"),
        (rain, 0, 300, "rain", f"{general(rain)} mm"),
    ):
        if not low <= value <= high:
            limits = f"{general(low * 100)} to {general(high * 100)}" if what == "humidity" else f"{low} to {high}"
            raise ValueError(f"a {what} of {shown} is outside {limits}")
    return _Row(when.replace(minute=0, second=0, microsecond=0), degrees, humid, rain)


def _local(text: str, utc: bool) -> datetime:
    """The moment by this computer's clock."""
    try:
        when = datetime.fromisoformat(text)
        if when.tzinfo is None and utc:
            when = when.replace(tzinfo=UTC)
        return when if when.tzinfo is None else when.astimezone().replace(tzinfo=None)
    except (ValueError, OverflowError, OSError):
        raise ValueError(f"“{text[:40]}” is no time; write 2026-12-01 14:00") from None


def _by_hour(rows: list[_Row], name: str) -> Forecast:
    start, end = min(r.hour for r in rows), max(r.hour for r in rows)
    count = round((end - start).total_seconds() / 3600) + 1
    if count > MOST_HOURS:
        raise FileProblem(
            name, reason=f"spans {count / 24:.0f} days", advice=f"Take {MOST_HOURS // 24} days of it at the most."
        )
    place = np.array([round((r.hour - start).total_seconds() / 3600) for r in rows])
    many = np.bincount(place, minlength=count)
    known = np.flatnonzero(many)
    gaps = np.diff(known)
    if gaps.size and gaps.max() > GAP:
        last = start + timedelta(hours=int(known[int(gaps.argmax())]))
        raise FileProblem(
            name,
            reason=f"{int(gaps.max()) - 1} hours are missing after {last:%Y-%m-%d %H:%M}",
            advice=f"Up to {GAP - 1} hours in a row are filled in.",
        )

    def mean(values: list[float]) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
        sums = np.bincount(place, np.array(values), count)
        return np.interp(np.arange(count), known, sums[known] / many[known])

    rain = np.bincount(place, np.array([r.rain for r in rows]), count)
    return built(
        Forecast,
        start=start.isoformat(timespec="minutes"),
        temperature=tuple(np.round(mean([r.temperature for r in rows]), 3).tolist()),
        humidity=tuple(np.round(mean([r.humidity for r in rows]), 4).tolist()),
        rain=tuple(np.round(rain, 2).tolist()) if rain.any() else (),
        origin=f"from {name}"[:200],
    )


def weather_text(forecast: Forecast) -> str:
    """A forecast as CSV, the way back."""
    from datetime import timedelta

    start = datetime.fromisoformat(forecast.start)
    rain = forecast.rain or (0.0,) * len(forecast.temperature)
    rows = ["time,temperature degC,humidity %,rain mm"]
    for n, (t, h, r) in enumerate(zip(forecast.temperature, forecast.humidity, rain, strict=True)):
        when = (start + timedelta(hours=n)).isoformat(sep=" ", timespec="minutes")
        rows.append(f"{when},{t!r},{h * 100!r},{r!r}")
    return "\n".join(rows) + "\n"
