"""The entries that stand: each correction in the place of what it corrects. And what was done, from them."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.logged import AirRead, Begun, Ended, Laid
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from ribpatch.core.logged import Logbook, LogEntry


@remembered(8)
def standing(log: Logbook) -> tuple[LogEntry, ...]:
    """The entries that hold, in the order of their moments; a correction of a correction stands for both."""
    gone = {e.corrects for e in log.entries if e.corrects}
    left = [e for e in log.entries if e.id not in gone and not e.void]
    return tuple(sorted(left, key=lambda e: (e.at, int(e.id[1:]))))


class Doing(Struct, frozen=True):
    """A step as it was done: when begun and ended (empty while it goes on), and hours of work of all people, s."""

    step: str
    begun: str
    ended: str
    worked: float


@remembered(8)
def doings(log: Logbook) -> tuple[Doing, ...]:
    """Every step that was begun or ended, with the stretches between counted by the people at each."""
    made: dict[str, Doing] = {}
    since: dict[str, tuple[str, int]] = {}
    for entry in standing(log):
        if not entry.step or not isinstance(entry, Begun | Ended):
            continue
        known = made.get(entry.step, Doing(entry.step, entry.at, "", 0.0))
        if isinstance(entry, Begun):
            since[entry.step] = (entry.at, entry.people)
            made[entry.step] = Doing(entry.step, known.begun, "", known.worked)
        else:
            start, people = since.pop(entry.step, (entry.at, entry.people))  # without a begin it adds nothing
            hours = max((_when(entry.at) - _when(start)).total_seconds(), 0.0) * max(people, entry.people)
            made[entry.step] = Doing(entry.step, known.begun, entry.at, known.worked + hours)
    return tuple(made.values())


def _when(text: str) -> datetime:
    return datetime.fromisoformat(text)


class WetThing(Struct, frozen=True):
    """Something that cures: of which step, with what, since when."""

    step: str
    resin: str
    since: str


@remembered(8)
def laid_things(log: Logbook) -> tuple[WetThing, ...]:
    """The last plies of each step that were laid."""
    made: dict[str, WetThing] = {}
    for entry in standing(log):
        if isinstance(entry, Laid) and entry.step:
            made[entry.step] = WetThing(entry.step, entry.resin, entry.at)
    return tuple(made.values())


@remembered(8)
def air_read(log: Logbook) -> tuple[tuple[str, float], ...]:
    """Temperatures that were read, by moment, degC; of several at a moment the last."""
    rows = {e.at: e.temperature.si for e in standing(log) if isinstance(e, AirRead)}
    return tuple(sorted(rows.items()))
