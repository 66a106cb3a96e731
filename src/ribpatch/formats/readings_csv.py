"""Readings from and to CSV: x, y, kind, value and whatever else was noted, in any common encoding, separator and
decimal mark.

The header may name a unit with a coordinate (``x mm``, ``y_m``, ``x (in)``); without one it is millimetres. Columns
that cannot be told by their names are asked for. Each bad row is listed by its line with the reason and left out.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.errors import Fault, FileProblem
from ribpatch.core.record import evolve
from ribpatch.core.survey.inside import all_inside
from ribpatch.formats.csv_columns import MARKS, Columns, columns_of, separator
from ribpatch.formats.csv_lines import STRAY, lines_of, rows_of
from ribpatch.formats.csv_numbers import thousands_of
from ribpatch.formats.csv_out import csv_text
from ribpatch.formats.csv_rows import ALWAYS, COLUMNS, facts_of, row_of, session_of
from ribpatch.formats.whole_file import read_whole

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping
    from pathlib import Path

    from ribpatch.core.geometry import Ring
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.readings import Reading, SurveySession

MOST_BYTES = 64 * 2**20
MOST_ROWS = 200_000
STEP = 1000  # rows between two tellings of progress


class BadRow(Struct, frozen=True):
    """A row left out: its line in the file, what it held, why."""

    line: int
    text: str
    reason: str


class Read(Struct, frozen=True):
    """What a file holds: readings with the sessions and references they name, bad rows, how it was understood."""

    readings: tuple[Reading, ...]
    sessions: tuple[SurveySession, ...]
    references: tuple[int, ...]  # places in ``readings``
    bad: tuple[BadRow, ...]
    understood: str
    repeats: int  # readings of one instrument at a place that another row reads too


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


def read_file(
    path: Path,
    outline: Ring,
    shelf: Shelf,
    mapping: Mapping[str, str] | None = None,
    steps: Callable[[float], None] | None = None,
) -> Read:
    """Read a CSV file; raises FileProblem where nothing in it can be used. ``steps`` is told how far it is, 0 to 1."""
    raw = read_whole(path, MOST_BYTES, FileProblem, "Split it.")
    return read_text(*decoded(raw, path.name), outline, shelf, path.name, mapping, steps)


def read_text(
    text: str,
    encoding: str,
    outline: Ring,
    shelf: Shelf,
    where: str = "CSV",
    mapping: Mapping[str, str] | None = None,
    steps: Callable[[float], None] | None = None,
) -> Read:
    """Read CSV text; raises FileProblem where it has no usable header."""
    lines, first, said = lines_of(text)
    if first == len(lines):
        raise FileProblem(where, reason="is empty", advice="It needs a first line x, y, kind, value.")
    mark = said or separator(lines[first])
    if mark not in MARKS:
        raise FileProblem(
            where, reason=f"says that “{mark}” parts its columns", advice="Use a comma, a semicolon or a tab."
        )
    header = next(rows_of(lines[: first + 1], first, mark, lambda _cells: False))[1]
    columns = columns_of(header or lines[first].split(mark), mark, where, mapping or {})
    if len(lines) - first - 1 > 2 * MOST_ROWS:
        raise FileProblem(where, reason=f"has over {MOST_ROWS} rows", advice="Split it.")
    rows = list(rows_of(lines, first + 1, mark, lambda cells: _is_row(cells, columns)))
    columns = replace(columns, thousands=thousands_of(rows, columns))
    good, bad, sessions, marked = _rows(rows, columns, shelf, steps)
    if len(good) + len(bad) > MOST_ROWS:
        raise FileProblem(where, reason=f"has {len(good) + len(bad)} rows, more than {MOST_ROWS}", advice="Split it.")
    kept = _inside(good, outline, bad)
    references = tuple(n for n, (line, _, _) in enumerate(kept) if line in marked)
    used = {r.session for _, r, _ in kept}
    readings = tuple(r for _, r, _ in kept)
    return Read(
        readings,
        tuple(s for s in sessions.values() if s.id in used),
        references,
        tuple(sorted(bad, key=lambda b: b.line)),
        f"{encoding}, {columns.words}",
        _repeats(readings),
    )


def _rows(
    rows: list[tuple[int, list[str] | None, str]], columns: Columns, shelf: Shelf, steps: Callable[[float], None] | None
) -> tuple[list[tuple[int, Reading, str]], list[BadRow], dict[str, SurveySession], set[int]]:
    good: list[tuple[int, Reading, str]] = []
    bad: list[BadRow] = []
    sessions: dict[str, SurveySession] = {}
    marked: set[int] = set()
    for count, (at, row, text) in enumerate(rows, 1):
        number = at + 1
        if steps is not None and count % STEP == 0:
            steps(min(count / len(rows), 1.0))
        if row is not None and not any(cell.strip() for cell in row):
            continue
        try:
            if row is None:
                raise ValueError(STRAY)
            reading, session, reference = facts_of(row, columns, shelf)
        except ValueError as error:
            bad.append(BadRow(number, text[:80], str(error)))
            continue
        except Fault as fault:
            bad.append(BadRow(number, text[:80], fault.sentence))
            continue
        if session is not None:
            session = session_of(session, sessions)
            reading = evolve(reading, session=session.id)
        if reference:
            marked.add(number)
        good.append((number, reading, text))
    return good, bad, sessions, marked


def _is_row(cells: list[str], columns: Columns) -> bool:
    """Whether cells begin like a reading: enough of them, and numbers for x and y."""
    if len(cells) <= max(columns.at.values()) and len(cells) < columns.width:
        return False
    try:
        for name in ("x", "y"):
            float(cells[columns.at[name]].strip().replace(",", "."))
    except (ValueError, IndexError):
        return False
    return True


def _inside(good: list[tuple[int, Reading, str]], outline: Ring, bad: list[BadRow]) -> list[tuple[int, Reading, str]]:
    """The readings that lie in the outline (a millimetre over counts as in); the others are told by line."""
    if not good:
        return []
    within = all_inside([r for _, r, _ in good], outline)
    for (line, _, text), ok in zip(good, within, strict=True):
        if not ok:
            bad.append(BadRow(line, text[:80], "lies outside the zone's outline"))
    return [row for row, ok in zip(good, within, strict=True) if ok]


def _repeats(readings: tuple[Reading, ...]) -> int:
    places = [(r.kind, r.session, r.x, r.y) for r in readings]
    return len(places) - len(set(places))


def write_text(
    readings: tuple[Reading, ...], references: tuple[str, ...] = (), sessions: tuple[SurveySession, ...] = ()
) -> str:
    """Readings as CSV text that ``read_text`` takes back exactly; places in m with full precision."""
    known = {s.id: s for s in sessions}
    marked = set(references)
    rows = [row_of(r, r.id in marked, known.get(r.session)) for r in readings]
    used = [name for name in COLUMNS if name in ALWAYS or any(name in row for row in rows)]
    return csv_text([used, *([row.get(name, "") for name in used] for row in rows)], paragraphs=True)
