"""Steps as the user changed them: skipped, joined to the one before, split into parts, renamed, with other hours, and
steps of their own among them.
"""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ribpatch.core.materials.step_records import StepKind
from ribpatch.core.record import known
from ribpatch.core.steps.records import StepRow, StepWait, Until

if TYPE_CHECKING:
    from ribpatch.core.timetable import OwnStep, StepChange, Timetable

Steps = tuple[tuple[StepRow, ...], tuple[StepWait, ...]]
OWN_KIND = known(StepKind, id="own", name="own step", unit="hours", reason="added by you")
OWN_SPLIT = known(StepKind, id="own", name="own step", unit="hours", split=True, reason="added by you")
OWN_WAIT = known(StepKind, id="own", name="own step", unit="hours", reason="added by you", people=0)


def changed(rows: tuple[StepRow, ...], waits: tuple[StepWait, ...], table: Timetable) -> Steps:
    """The steps and waits as changed; what is split is split first, so that its parts can be changed too."""
    rows, waits = _with_own(rows, waits, table)
    for change in sorted(table.changes, key=lambda c: c.parts == 1):
        row = next((r for r in rows if r.id == change.step), None)
        if row is None:
            continue
        rows = tuple(_told(r, change) if r is row else r for r in rows)
        if change.skipped:
            rows, waits = _skipped(rows, waits, row)
        elif change.joined:
            rows, waits = _joined(rows, waits, change.step)
        elif change.parts > 1:
            rows, waits = _split(rows, waits, change)
    return rows, waits


def without_circles(waits: tuple[StepWait, ...]) -> tuple[tuple[StepWait, ...], tuple[StepWait, ...]]:
    """The waits of which none closes a circle, each in its turn, and those that would have."""
    after: dict[str, set[str]] = {}
    kept, left = [], []

    def reaches(start: str, goal: str) -> bool:
        seen, waiting = {start}, [start]
        while waiting:
            here = waiting.pop()
            if here == goal:
                return True
            new = after.get(here, set()) - seen
            seen |= new
            waiting += new
        return False

    for wait in waits:
        if reaches(wait.after, wait.before):
            left.append(wait)
        else:
            after.setdefault(wait.before, set()).add(wait.after)
            kept.append(wait)
    return tuple(kept), tuple(left)


def _told(row: StepRow, change: StepChange) -> StepRow:
    hours = change.hours.si if change.hours is not None else row.hours
    waits = row.waits
    if row.people == 0 and change.hours is not None:
        hours, waits = 0.0, change.hours.si
    until = "" if row.people == 0 and change.hours is not None else row.until
    return replace(
        row,
        hours=hours,
        waits=waits,
        until=until,
        people=change.people or row.people if row.people else 0,
        name=change.name or row.name,
    )


def _with_own(rows: tuple[StepRow, ...], waits: tuple[StepWait, ...], table: Timetable) -> Steps:
    zones = {r.zone for r in rows}
    made, more = [*rows, *(_own_row(own, zones) for own in table.added)], list(waits)
    ids = {r.id for r in made}
    for own in table.added:
        least = Until("", worth=own.wait.si) if own.wait.si else None
        more += [StepWait(a, own.id, why="as you said") for a in own.after if a in ids]
        more += [StepWait(own.id, b, least, why="as you said") for b in own.before if b in ids]
    return tuple(made), tuple(more)


def _own_row(own: OwnStep, zones: set[str]) -> StepRow:
    zone = own.zone if own.zone in zones else ""  # a zone that is gone leaves its step to the whole job
    if own.people == 0:
        return StepRow(own.id, zone or "", OWN_WAIT, own.name, 0.0, 0.0, 0, waits=own.hours.si)
    kind = OWN_SPLIT if own.split else OWN_KIND
    return StepRow(own.id, zone or "", kind, own.name, own.hours.si, 0.0, own.people, why="added by you")


def _skipped(rows: tuple[StepRow, ...], waits: tuple[StepWait, ...], row: StepRow) -> Steps:
    """Without a step; what waited for it waits for what it waited for.

    Where it would have laid something, nothing waits for that to cure.
    """
    into = [w for w in waits if w.after == row.id]
    kept = [w for w in waits if row.id not in (w.before, w.after)]
    for b in (w for w in waits if w.before == row.id):
        for a in into:
            least = a.least if row.lays else a.least or b.least
            kept.append(StepWait(a.before, b.after, least, a.most, a.missed, a.missed_least, a.why or b.why))
    return tuple(r for r in rows if r.id != row.id), tuple(kept)


def _joined(rows: tuple[StepRow, ...], waits: tuple[StepWait, ...], step: str) -> Steps:
    """A step done together with the one that it follows directly."""
    mine = next(r for r in rows if r.id == step)
    before = next((w.before for w in reversed(waits) if w.after == step), None)
    if before is None:
        return rows, waits
    first = next(r for r in rows if r.id == before)
    both = replace(
        first,
        hours=first.hours + mine.hours,
        people=max(first.people, mine.people),
        name=f"{first.name} and {mine.name}",
        lays=mine.lays or first.lays,
        wet=first.wet or mine.wet,
    )
    kept = []
    for w in waits:
        new = replace(w, before=before if w.before == step else w.before, after=before if w.after == step else w.after)
        if new.before != new.after:
            kept.append(new)
    return tuple(both if r.id == before else r for r in rows if r.id != step), tuple(kept)


def _split(rows: tuple[StepRow, ...], waits: tuple[StepWait, ...], change: StepChange) -> Steps:
    """A step in parts, one after the other."""
    made: list[StepRow] = []
    for row in rows:
        if row.id != change.step:
            made.append(row)
            continue
        made += [
            replace(
                row,
                id=row.id if n == 1 else f"{row.id}.p{n}",
                hours=row.hours / change.parts,
                waits=row.waits / change.parts,
                name=f"{row.name}, part {n} of {change.parts}",
            )
            for n in range(1, change.parts + 1)
        ]
    last = f"{change.step}.p{change.parts}"
    more = [replace(w, before=last) if w.before == change.step else w for w in waits]
    parts = [change.step, *(f"{change.step}.p{n}" for n in range(2, change.parts + 1))]
    more += [StepWait(a, b) for a, b in pairwise(parts)]
    return tuple(made), tuple(more)
