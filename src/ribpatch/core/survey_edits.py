"""Edits of a survey and of what was said about causes: named pure functions from job to job, as in ``edits``."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from ribpatch.core.edits import Edit, in_zone, next_id
from ribpatch.core.job import Survey
from ribpatch.core.readings import Reading
from ribpatch.core.record import evolve
from ribpatch.core.survey.entry import reading_words


def _in_survey(name: str, zone: str, change: Callable[[Survey], Survey]) -> Edit:
    return in_zone(name, zone, lambda z: evolve(z, survey=change(z.survey)))


def add_readings(zone: str, readings: tuple[Reading, ...], name: str = "") -> Edit:
    """Add readings; each takes the next free id, whatever id it came with."""

    def change(survey: Survey) -> Survey:
        first = int(next_id("r", (r.id for r in survey.readings))[1:])
        new = tuple(evolve(r, id=f"r{first + i}") for i, r in enumerate(readings))
        return evolve(survey, readings=(*survey.readings, *new))

    return _in_survey(name or f"add {len(readings)} reading{'s' if len(readings) != 1 else ''}", zone, change)


def put_reading(zone: str, reading: Reading, near: float) -> Edit:
    """Enter a reading at a place; it replaces one of the same kind within ``near`` m, as when a square is read again."""

    def change(survey: Survey) -> Survey:
        there = [
            r for r in survey.readings
            if (r.kind, r.session) == (reading.kind, reading.session) and (r.x - reading.x) ** 2 + (r.y - reading.y) ** 2 <= near**2
        ]  # fmt: skip
        if there:
            new = evolve(reading, id=there[0].id)
            return evolve(survey, readings=tuple(new if r is there[0] else r for r in survey.readings))
        new = evolve(reading, id=next_id("r", (r.id for r in survey.readings)))
        return evolve(survey, readings=(*survey.readings, new))

    return _in_survey(f"read {reading_words(reading)}", zone, change)


def remove_readings(zone: str, ids: frozenset[str]) -> Edit:
    """Delete readings, and their marks as reference."""

    def change(survey: Survey) -> Survey:
        kept = tuple(r for r in survey.readings if r.id not in ids)
        # References go with their readings in one change, so that the record is whole at every step.
        bare = evolve(survey, references=tuple(r for r in survey.references if r not in ids))
        return evolve(bare, readings=kept)

    return _in_survey("delete readings" if len(ids) > 1 else "delete reading", zone, change)


def set_references(zone: str, ids: Iterable[str]) -> Edit:
    """Set which readings are the sound reference."""
    wanted = tuple(sorted(set(ids)))
    return _in_survey("set sound reference", zone, lambda survey: evolve(survey, references=wanted))
