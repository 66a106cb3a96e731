"""One row of a CSV of readings, both ways. Numbers are written with full precision, so that the way back is exact."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.readings import (
    GradedReading,
    MeteredReading,
    Plug,
    Push,
    Reading,
    Sketch,
    Strike,
    SurveySession,
    TestCut,
)
from ribpatch.core.record import evolve
from ribpatch.core.survey.entry import METERS, made_reading
from ribpatch.formats.csv_columns import FURTHER, Columns
from ribpatch.formats.csv_numbers import number, place_number

if TYPE_CHECKING:
    from ribpatch.core.materials.shelf import Shelf

ALWAYS = ("x m", "y m", "kind", "value")
COLUMNS = (*ALWAYS, *FURTHER)
KINDS = {
    "hammer": "tap",
    "sound": "tap",
    "meter": "moisture",
    "wet": "moisture",
    "test cut": "cut",
    "crack": "sketch",
    "blister": "sketch",
}
YES = {"yes", "y", "1", "true", "x"}
SHAPE = 11  # numbers: six bands, three fades, early share, attack
Row = dict[str, str]


def row_of(reading: Reading, reference: bool, session: SurveySession | None) -> Row:
    """A reading as the cells of a row, by column; empty cells are left out."""
    row: Row = {"x m": repr(reading.x), "y m": repr(reading.y), "kind": reading.kind}
    if isinstance(reading, Sketch | TestCut):
        row["points m"] = "; ".join(f"{x!r} {y!r}" for x, y in reading.points)
    if isinstance(reading, TestCut):
        row["value"] = " ".join(reading.states)
    elif isinstance(reading, GradedReading):
        row["value"] = reading.grade
    elif isinstance(reading, MeteredReading):
        row["value"] = repr(reading.value)
    elif isinstance(reading, Push):
        row |= {"value": repr(reading.force), "deflection m": repr(reading.deflection)}
    elif isinstance(reading, Plug):
        row |= {"value": f"{reading.water} {reading.core} {reading.bond}", "layers": reading.layers}
    elif isinstance(reading, Strike):
        row |= {
            "value": repr(reading.frequency),
            "centroid hz": repr(reading.centroid),
            "decay s": repr(reading.decay),
            "contact s": repr(reading.contact),
            "recording": reading.recording,
            "start s": repr(reading.start),
        }
        if reading.bands:
            row["shape"] = " ".join(map(repr, (*reading.bands, *reading.fades, reading.early, reading.attack)))
    row |= {"time": reading.at, "who": reading.who, "note": reading.note, "photographs": " ".join(reading.photographs)}
    row["reference"] = "yes" if reference else ""
    if session is not None:
        row |= {
            "session": session.id,
            "session date": session.date,
            "session who": session.who,
            "session note": session.note,
        }
    return {name: text for name, text in row.items() if text}


def facts_of(row: list[str], columns: Columns, shelf: Shelf) -> tuple[Reading, SurveySession | None, bool]:
    """The reading of a row, its session as the row tells it, whether it is a reference. Raises ValueError or a
    Fault.
    """
    needed = max(columns.at[name] for name in ("x", "y", "value") if name in columns.at)
    if len(row) <= max(needed, columns.at.get("kind", 0)):
        raise ValueError(f"has {len(row)} columns, {max(needed, columns.at.get('kind', 0)) + 1} are needed")
    if len(row) > columns.width and columns.mark == "," and any(row[columns.width :]):
        raise ValueError("has too many columns: a decimal comma cannot stand in a file parted by commas")

    def cell(name: str) -> str:
        index = columns.at.get(name)
        return row[index].strip() if index is not None and index < len(row) else ""

    x, y = (place_number(cell(name), name, f, columns) * f for name, f in zip(("x", "y"), columns.factors, strict=True))
    if max(abs(x), abs(y)) > 100:
        raise ValueError("lies more than 100 m away: check the unit in the header")
    said = columns.kind or cell("kind").lower()
    kind = KINDS.get(said, said)
    if all(card.id != kind for card in shelf.instruments):
        names = ", ".join(card.id for card in shelf.instruments)
        raise ValueError(f"kind “{cell('kind')}” is neither tap nor moisture nor another instrument ({names})")
    facts = _facts(kind, cell, columns.mark) | {
        name: text
        for name, text in (
            ("at", cell("time")),
            ("who", cell("who")),
            ("note", cell("note")),
        )
        if text
    }
    if cell("photographs"):
        facts["photographs"] = tuple(cell("photographs").split())
    return made_reading(kind, shelf, x=x, y=y, **facts), _session(cell), cell("reference").lower() in YES


def _facts(kind: str, cell: Any, mark: str) -> dict[str, Any]:
    value = cell("value")
    if kind in METERS:
        return {"value": number(value.removesuffix("%").removesuffix("°C"), "value", mark)}
    if kind == "push":
        return {"force": number(value, "force", mark), "deflection": number(cell("deflection m"), "deflection m", mark)}
    if kind == "plug":
        words = value.lower().split()
        if len(words) != 3:
            raise ValueError(f"a plug is three words, like “wet soft torn”, not “{value}”")
        return {"water": words[0], "core": words[1], "bond": words[2], "layers": cell("layers")}
    if kind == "strike":
        names = (("centroid", "centroid hz"), ("decay", "decay s"), ("contact", "contact s"))
        more = {fact: number(cell(name), name, mark) for fact, name in names}
        start = {"start": number(cell("start s"), "start s", mark)} if cell("start s") else {}
        facts = {"frequency": number(value, "value", mark), **more, **start, "recording": cell("recording")}
        return facts | _shape(cell("shape"), mark)
    if kind == "cut":
        return {"states": tuple(value.lower().split()), "points": _points(cell("points m"), mark)}
    if kind == "sketch":
        return {"grade": value.lower(), "points": _points(cell("points m"), mark)}
    return {"grade": value.lower()}


def _shape(text: str, mark: str) -> dict[str, Any]:
    """The shape of a strike's sound: six shares by band, three times of fading, the early share, the attack in Hz."""
    if not text:
        return {}
    values = [number(part, "shape", mark) for part in text.split()]
    if len(values) != SHAPE:
        raise ValueError(f"the shape of a strike is {SHAPE} numbers, not {len(values)}")
    return {"bands": tuple(values[:6]), "fades": tuple(values[6:9]), "early": values[9], "attack": values[10]}


def _points(text: str, mark: str) -> tuple[tuple[float, float], ...]:
    found: list[tuple[float, float]] = []
    for part in text.split(";"):
        words = part.split()
        if len(words) != 2:
            raise ValueError(f"points “{part.strip()}” are not x and y")
        found.append((number(words[0], "points x", mark), number(words[1], "points y", mark)))
    return tuple(found)


def _session(cell: Any) -> SurveySession | None:
    identity = cell("session").lower() or ("s1" if cell("session date") else "")
    if not identity:
        return None
    try:
        return SurveySession(id=identity, date=cell("session date"), who=cell("session who"), note=cell("session note"))
    except ValueError:
        raise ValueError(f"session “{identity}” or its date “{cell('session date')}” cannot be read") from None


def session_of(told: SurveySession, known: dict[str, SurveySession]) -> SurveySession:
    """The session that a row tells of: one already known where it is the same, else a new one with a free id."""
    if told.id not in known or known[told.id] == told:
        return known.setdefault(told.id, told)
    same = next((s for s in known.values() if evolve(s, id=told.id) == told), None)
    if same is not None:
        return same
    number_ = next(n for n in range(1, len(known) + 2) if f"s{n}" not in known)
    return known.setdefault(f"s{number_}", evolve(told, id=f"s{number_}"))
