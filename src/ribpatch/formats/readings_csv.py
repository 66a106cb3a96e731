"""Readings from CSV: columns x, y, kind, value, in any common encoding, separator and decimal mark.

The header may name a unit with a coordinate (``x mm``, ``y_m``, ``x (in)``); without one it is millimetres. Each bad row
is listed by its line with the reason and left out.
"""

from __future__ import annotations

import csv
import io
import math
import re
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import shapely

from ribpatch.core.errors import Fault, FileProblem
from ribpatch.core.geometry import Ring, polygon_of
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.readings import Moisture, Reading, Tap
from ribpatch.core.survey.entry import new_reading

MOST_BYTES = 32 * 2**20
MOST_ROWS = 100_000
UNITS = {"mm": 1e-3, "cm": 1e-2, "m": 1.0, "in": 0.0254, "inch": 0.0254, "ft": 0.3048}
NAMES = {
    "x": {"x", "along", "across"},
    "y": {"y", "up", "height"},
    "kind": {"kind", "type", "instrument", "what"},
    "value": {"value", "reading", "grade", "result"},
}
KINDS = {"tap": "tap", "hammer": "tap", "sound": "tap", "moisture": "moisture", "meter": "moisture", "wet": "moisture"}


@dataclass(frozen=True, slots=True)
class BadRow:
    """A row left out: its line in the file, what it held, why."""

    line: int
    text: str
    reason: str


@dataclass(frozen=True)
class Read:
    """What a file holds: good readings, bad rows, and how it was understood."""

    readings: tuple[Reading, ...]
    bad: tuple[BadRow, ...]
    understood: str


def decoded(raw: bytes, where: str) -> tuple[str, str]:
    """Text and encoding: by byte-order mark, then UTF-8, then Windows western."""
    names = ["utf-16"] if raw.startswith((b"\xff\xfe", b"\xfe\xff")) else ["utf-8-sig", "cp1252"]
    for name in names:
        try:
            text = raw.decode(name)
        except UnicodeDecodeError:
            continue
        if "\0" not in text:
            return text, name.removesuffix("-sig")
    raise FileProblem(where, reason="is no text file", advice="Export it as CSV with columns x, y, kind, value.")


def read_file(path: Path, outline: Ring, shelf: Shelf) -> Read:
    """Read a CSV file; raises FileProblem where nothing in it can be used."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise FileProblem(path.name, reason="is larger than 32 MiB", advice="Split it.")
        raw = path.read_bytes()
    except OSError as error:
        raise FileProblem(
            path.name, reason=f"cannot be read ({error.strerror})", advice="Check its name and permissions."
        ) from None
    return read_text(*decoded(raw, path.name), outline, shelf, path.name)


def read_text(text: str, encoding: str, outline: Ring, shelf: Shelf, where: str = "CSV") -> Read:
    """Read CSV text; raises FileProblem where it has no usable header."""
    lines = text.splitlines()
    first = next((i for i, line in enumerate(lines) if line.strip()), None)
    if first is None:
        raise FileProblem(where, reason="is empty", advice="It needs a first line x, y, kind, value.")
    mark = _separator(lines[first])
    head = next(csv.reader([lines[first]], delimiter=mark))
    width = len(head)
    columns, factors = _header(head, where)
    rows = list(csv.reader(io.StringIO("\n".join(lines[first + 1 :])), delimiter=mark))
    if len(rows) > MOST_ROWS:
        raise FileProblem(where, reason=f"has {len(rows)} rows, more than {MOST_ROWS}", advice="Split it.")
    good: list[tuple[int, Reading, str]] = []
    bad: list[BadRow] = []
    for number, row in enumerate(rows, first + 2):
        if not any(cell.strip() for cell in row):
            continue
        try:
            good.append((number, _reading(row, columns, width, factors, shelf, mark), mark.join(row)))
        except ValueError as error:
            bad.append(BadRow(number, mark.join(row)[:80], str(error)))
        except Fault as fault:
            bad.append(BadRow(number, mark.join(row)[:80], fault.sentence))
    kept = _inside(good, outline, bad)
    unit = next(u for u, f in UNITS.items() if f == factors[0])
    name = {",": "commas", ";": "semicolons", "\t": "tabs"}[mark]
    return Read(
        kept, tuple(sorted(bad, key=lambda b: b.line)), f"{encoding}, columns parted by {name}, places in {unit}"
    )


def _separator(header: str) -> str:
    return max((";", "\t", ","), key=header.count)


def _header(cells: list[str], where: str) -> tuple[dict[str, int], tuple[float, float]]:
    columns: dict[str, int] = {}
    units: dict[str, float] = {}
    for index, cell in enumerate(cells):
        words = re.findall(r"[a-z]+", cell.lower())
        for name, known in NAMES.items():
            if words and words[0] in known and name not in columns:
                columns[name] = index
                units[name] = next((UNITS[w] for w in words[1:] if w in UNITS), 1e-3)
    missing = [name for name in NAMES if name not in columns]
    if missing:
        raise FileProblem(
            where, reason=f"has no column {', '.join(missing)} in its first line",
            advice="The first line must name the columns x, y, kind and value.",
        )  # fmt: skip
    return columns, (units["x"], units["y"])


def _number(text: str, what: str, mark: str) -> float:
    clean = text.strip().replace("\u00a0", "").replace("−", "-")
    if "," in clean and "." not in clean and mark != ",":
        clean = clean.replace(",", ".")
    try:
        number = float(clean)
    except ValueError:
        raise ValueError(f"{what} “{text.strip()}” is no number") from None
    if not math.isfinite(number):
        raise ValueError(f"{what} “{text.strip()}” is no finite number")
    return number


def _reading(
    row: list[str], columns: dict[str, int], width: int, factors: tuple[float, float], shelf: Shelf, mark: str
) -> Reading:
    if len(row) <= max(columns.values()):
        raise ValueError(f"has {len(row)} columns, {max(columns.values()) + 1} are needed")
    if len(row) > width and mark == "," and any(row[width:]):
        raise ValueError("has too many columns: a decimal comma cannot stand in a file parted by commas")
    x = _number(row[columns["x"]], "x", mark) * factors[0]
    y = _number(row[columns["y"]], "y", mark) * factors[1]
    if max(abs(x), abs(y)) > 100:
        raise ValueError("lies more than 100 m away: check the unit in the header")
    kind = KINDS.get(row[columns["kind"]].strip().lower())
    if kind is None:
        raise ValueError(f"kind “{row[columns['kind']].strip()}” is neither tap nor moisture")
    value = row[columns["value"]].strip()
    if kind == "moisture":
        return new_reading(kind, x, y, _number(value.removesuffix("%"), "value", mark), shelf)
    return new_reading(kind, x, y, value.lower(), shelf)


def _inside(good: list[tuple[int, Reading, str]], outline: Ring, bad: list[BadRow]) -> tuple[Reading, ...]:
    """The readings that lie in the outline (a millimetre over counts as in); the others are told by line."""
    if not good:
        return ()
    zone = polygon_of(outline).buffer(1e-3)
    places = np.array([(r.x, r.y) for _, r, _ in good])
    within = shapely.contains_xy(zone, places[:, 0], places[:, 1])
    for (line, _, text), ok in zip(good, within, strict=True):
        if not ok:
            bad.append(BadRow(line, text[:80], "lies outside the zone's outline"))
    return tuple(r for (_, r, _), ok in zip(good, within, strict=True) if ok)


def write_text(readings: tuple[Reading, ...]) -> str:
    """Readings as CSV text that ``read_text`` takes back exactly; places in m with full precision."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\n")
    writer.writerow(["x m", "y m", "kind", "value"])
    for r in readings:
        if isinstance(r, Tap):
            writer.writerow([repr(r.x), repr(r.y), "tap", r.grade])
        elif isinstance(r, Moisture):
            writer.writerow([repr(r.x), repr(r.y), "moisture", repr(r.value)])
    return stream.getvalue()
