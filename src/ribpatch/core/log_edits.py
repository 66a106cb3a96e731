"""Edits of the log: entries are added, never changed; coupons are planned and read."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.edits import Edit, next_id
from ribpatch.core.errors import InvalidValue
from ribpatch.core.logbook.coupons import factor_of, row_results
from ribpatch.core.logged import (
    AirRead,
    Begun,
    CouponResult,
    CouponRow,
    CouponSet,
    Ended,
    Laid,
    Measured,
    Mixed,
    NailTest,
    Said,
    Used,
)
from ribpatch.core.record import built, evolve

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.job import Job
    from ribpatch.core.logged import LogEntry
    from ribpatch.core.materials.records import Preparation
    from ribpatch.core.materials.shelf import Shelf

KINDS: dict[str, type[LogEntry]] = {
    "begun": Begun,
    "ended": Ended,
    "mixed": Mixed,
    "laid": Laid,
    "used": Used,
    "measured": Measured,
    "air": AirRead,
    "nail": NailTest,
    "said": Said,
}
SPOKEN = {
    "begun": "log a begin",
    "ended": "log an end",
    "mixed": "log a cup",
    "laid": "log plies",
    "used": "log what was used",
    "measured": "log a thickness",
    "air": "log the air",
    "nail": "log a nail test",
    "said": "log a remark",
}


def log_entry(job: Job, kind: str, **stated: Any) -> Edit:
    """One entry more; raises Fault where it names a photograph that its zone does not have."""
    return _added(SPOKEN[kind], job, built(KINDS[kind], id=_next(job), **stated))


def _next(job: Job) -> str:
    return next_id("e", (e.id for e in job.log.entries))


def _added(name: str, job: Job, entry: LogEntry) -> Edit:
    _pictures(job, entry)
    return Edit(name, lambda now: evolve(now, log=evolve(now.log, entries=(*now.log.entries, entry))))


def _pictures(job: Job, entry: LogEntry) -> None:
    zone = next((z for z in job.zones if z.id == entry.step.partition(".")[0]), None)
    known = [p.id for p in zone.survey.photographs] if zone is not None else []
    lost = next((p for p in entry.photographs if p not in known), None)
    if lost is not None:
        there = f"it has {', '.join(known)}" if known else "it has none: add them to the zone first"
        raise InvalidValue("photographs", reason=f"the zone of the step has no photograph {lost}; {there}")


def take_back(job: Job, entry: str, at: str, note: str = "") -> Edit:
    """An entry that says that another does not hold; both stay in the log."""
    made = built(Said, id=_next(job), at=at, corrects=entry, void=True, note=note or "taken back")
    return _added("take an entry back", job, made)


def correct(job: Job, entry: LogEntry, **changes: Any) -> Edit:
    """An entry that stands for another, with what is to be otherwise; both stay in the log."""
    return _added("correct an entry", job, evolve(entry, id=_next(job), corrects=entry.id, **changes))


def _coupons(name: str, sets: tuple[CouponSet, ...]) -> Edit:
    return Edit(name, lambda job: evolve(job, log=evolve(job.log, coupons=sets)))


def add_coupons(job: Job, name: str, kind: str, each: int, rows: tuple[CouponRow, ...]) -> Edit:
    """Plan a set of bond coupons."""
    known = job.log.coupons
    made = built(CouponSet, id=next_id("c", (c.id for c in known)), name=name, kind=kind, each=each, rows=rows)
    return _coupons(f"plan the coupons {name}", (*known, made))


def remove_coupons(job: Job, wanted: str) -> Edit:
    """Take a set of coupons away."""
    return _coupons("take coupons away", tuple(c for c in job.log.coupons if c.id != wanted))


def read_coupon(job: Job, wanted: str, row: str, result: CouponResult) -> Edit:
    """One coupon of a row was parted."""

    def with_it(r: CouponRow) -> CouponRow:
        return evolve(r, results=(*r.results, result)) if r.id == row else r

    sets = tuple(evolve(c, rows=tuple(with_it(r) for r in c.rows)) if c.id == wanted else c for c in job.log.coupons)
    return _coupons("read a coupon", sets)


def take_factors(name: str, rows: Iterable[tuple[Preparation, float, str]]) -> Edit:
    """Use preparations in this job, each with its share of the bond's strength and why."""
    made = {p.id: evolve(p, factor=round(factor, 4), reason=why[:4000]) for p, factor, why in rows}

    def change(now: Job) -> Job:
        others = (p for p in now.own.preparations if p.id not in made)
        return evolve(now, own=evolve(now.own, preparations=(*others, *made.values())))

    return Edit(name, change)


def take_coupons(of: CouponSet, stated: Shelf) -> Edit:
    """Use every preparation of a set in this job as its coupons showed; ``stated`` is the shelf without the job."""
    known = {p.id: p for p in stated.preparations}
    rows = [
        (
            made,
            factor_of(seen, made.factor),
            f"{made.reason}; by {seen.count} coupons “{of.name}”: {seen.torn} tore fibres",
        )
        for seen in row_results(of)  # of several rows of one preparation the worst, which is the last, holds
        if (made := known.get(seen.row.preparation)) is not None
    ]
    return take_factors(f"take the word of the coupons {of.name}", rows)
