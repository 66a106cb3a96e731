"""Weather by the hour from CSV: a time, a temperature, a humidity and, if there is one, rain. Missing hours lie on a
line between their neighbours; several readings in an hour are averaged, their rain summed.

Times as 2026-12-01 14:00 or 2026-12-01T14:00; temperatures in degC, or degF where the heading says F; humidity in
percent or as a share; rain in mm, or inches where the heading says in.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.errors import FileProblem
from ribpatch.core.numerals import general
from ribpatch.core.record import built
from ribpatch.core.timetable import MOST_HOURS, Forecast
from ribpatch.formats.csv_lines import lines_of, rows_of
from ribpatch.formats.csv_numbers import number
from ribpatch.formats.whole_file import read_whole

if TYPE_CHECKING:
    from pathlib import Path

MOST_BYTES = 8 * 2**20
MOST_WRONG = 20  # rows that are told
MARKS = (";", "\t", ",")
WORDS = {
    "time": ("time", "date", "when", "hour"),
    "temperature": ("temp", "degc", "deg c", "°c", "degf", "°f"),
    "humidity": ("hum", "rh", "%"),
    "rain": ("rain", "precip"),
}
ADVICE = "The first row names the columns: time, temperature, humidity, rain."
GAP = 24  # hours that may be missing in a row


class _Row(Struct, frozen=True):
    hour: datetime
    temperature: float
    humidity: float
    rain: float


def read_weather(path: Path) -> Forecast:
    """The forecast in a file; raises FileProblem that says what, where and how to mend it."""
    raw = read_whole(path, MOST_BYTES, FileProblem, "Take fewer hours.")
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = raw.decode("latin-1")
    return weather_of(text, path.name)


def weather_of(text: str, name: str) -> Forecast:
    """The forecast that a CSV tells."""
    lines, first, said = lines_of(text)
    if first >= len(lines):
        raise FileProblem(name, reason="is empty", advice=ADVICE)
    mark = said or next((m for m in MARKS if m in lines[first]), ",")
    heads = [h.strip().strip('"').lower() for h in lines[first].split(mark)]
    at = {key: next((n for n, h in enumerate(heads) if any(w in h for w in words)), -1) for key, words in WORDS.items()}
    lost = [key for key in ("time", "temperature", "humidity") if at[key] < 0]
    if lost:
        raise FileProblem(name, reason=f"has no column for {' and '.join(lost)}", advice=ADVICE)
    rows, wrong = [], []
    for line, cells, _ in rows_of(lines, first + 1, mark, lambda cells: len(cells) >= len(heads)):
        if cells is None or not any(c.strip() for c in cells):
            continue
        try:
            rows.append(_row(cells, heads, at, mark))
        except ValueError as error:
            wrong.append(f"line {line + 1}: {error}")
    if wrong:
        more = f", and {len(wrong) - MOST_WRONG} more" if len(wrong) > MOST_WRONG else ""
        raise FileProblem(name, reason="; ".join(wrong[:MOST_WRONG]) + more, advice="Mend the lines, or take them out.")
    if not rows:
        raise FileProblem(name, reason="has no hours in it", advice=ADVICE)
    return _by_hour(rows, name)


def _row(cells: list[str], heads: list[str], at: dict[str, int], mark: str) -> _Row:
    def cell(key: str) -> str:
        return cells[at[key]].strip() if 0 <= at[key] < len(cells) else ""

    try:
        when = datetime.fromisoformat(cell("time"))
    except ValueError:
        raise ValueError(f"“{cell('time')[:40]}” is no time; write 2026-12-01 14:00") from None
    if when.tzinfo is not None:
        when = when.replace(tzinfo=None)
    degrees = number(cell("temperature"), "temperature", mark)
    head = heads[at["temperature"]]
    if "degf" in head or "°f" in head or head.endswith((" f", "(f)", "[f]")):
        degrees = (degrees - 32) / 1.8
    humid = number(cell("humidity"), "humidity", mark)
    humid = humid / 100 if humid > 1 else humid
    rain = number(cell("rain") or "0", "rain", mark) if at["rain"] >= 0 else 0.0
    if at["rain"] >= 0 and heads[at["rain"]].endswith((" in", "(in)", "[in]")):
        rain *= 25.4
    for value, low, high, what in (
        (degrees, -45, 60, "temperature"),
        (humid, 0.001, 1, "humidity"),
        (rain, 0, 300, "rain"),
    ):
        if not low <= value <= high:
            raise ValueError(f"a {what} of {general(value)} is outside {general(low)} to {general(high)}")
    return _Row(when.replace(minute=0, second=0, microsecond=0), degrees, humid, rain)


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
