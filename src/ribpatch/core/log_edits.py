"""Edits of the log: entries are added, never changed; coupons are planned and read."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.edits import Edit, next_id
from ribpatch.core.errors import InvalidValue
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
    from ribpatch.core.job import Job
    from ribpatch.core.logged import LogEntry
    from ribpatch.core.materials.records import Preparation

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
    made = built(KINDS[kind], id=next_id("e", (e.id for e in job.log.entries)), **stated)
    _pictures(job, made)
    return Edit(SPOKEN[kind], lambda now: evolve(now, log=evolve(now.log, entries=(*now.log.entries, made))))


def _pictures(job: Job, entry: LogEntry) -> None:
    zone = next((z for z in job.zones if z.id == entry.step.partition(".")[0]), None)
    known = [p.id for p in zone.survey.photographs] if zone is not None else []
    lost = next((p for p in entry.photographs if p not in known), None)
    if lost is not None:
        there = f"it has {', '.join(known)}" if known else "it has none: add them to the zone first"
        raise InvalidValue("photographs", reason=f"the zone of the step has no photograph {lost}; {there}")


def take_back(job: Job, entry: str, at: str, note: str = "") -> Edit:
    """An entry that says that another does not hold; both stay in the log."""
    return Edit(
        "take an entry back",
        log_entry(job, "said", at=at, corrects=entry, void=True, note=note or "taken back").change,
    )


def correct(job: Job, entry: LogEntry, **changes: Any) -> Edit:
    """An entry that stands for another, with what is to be otherwise; both stay in the log."""
    made = evolve(entry, id=next_id("e", (e.id for e in job.log.entries)), corrects=entry.id, **changes)
    return Edit("correct an entry", lambda now: evolve(now, log=evolve(now.log, entries=(*now.log.entries, made))))


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


def take_preparation(job: Job, preparation: Preparation, factor: float, why: str) -> Edit:
    """Use a preparation in this job with the share of the bond's strength that coupons showed."""
    made = evolve(preparation, factor=round(factor, 4), reason=why[:4000])
    others = tuple(p for p in job.own.preparations if p.id != made.id)
    return Edit(
        f"take the coupons' word on {preparation.name}",
        lambda now: evolve(now, own=evolve(now.own, preparations=(*others, made))),
    )
