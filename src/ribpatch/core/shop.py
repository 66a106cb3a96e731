"""What a shop has learned of itself, job by job: hours by kind of step, resin mixed, how its resins cure, laminates.
Applied over the shelf, so that every plan uses it and says whose it is.
"""

from __future__ import annotations

from math import exp, log
from typing import TYPE_CHECKING, Annotated

from ribpatch.core.cure_now import factors_of
from ribpatch.core.logbook.learning import learned
from ribpatch.core.logbook.standing import doings, standing
from ribpatch.core.logged import Mixed
from ribpatch.core.materials.records import Coupon, Id
from ribpatch.core.materials.shelf import merged
from ribpatch.core.numerals import fixed
from ribpatch.core.record import Limits, Record, evolve

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.days import Days
    from ribpatch.core.materials.records import Resin, Rule
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.materials.step_records import StepKind
    from ribpatch.core.plan import Plan

MOST_JOBS = 400
LOSS, MOST_LOSS = "loss.share", 0.6
CURE_JOBS = 1.0  # jobs that a resin's stated times are worth
TIMES = ("gel", "green_from", "green_to", "recoat", "sandable", "unclamp", "service")
Amount = Annotated[float, Limits(gt=0, le=1e9)]


class HoursSeen(Record):
    """Hours of one kind of step in a job: as usual, without what was learned, and as they were, s."""

    kind: Id
    usual: Amount
    actual: Amount


class CureSeen(Record):
    """How many times as long as stated a resin took in a job, by its nail tests."""

    resin: Id
    factor: Annotated[float, Limits(gt=0.1, le=10)]
    tests: Annotated[int, Limits(ge=1, le=10_000)]


class ShopJob(Record):
    """What one job taught."""

    job: Annotated[str, Limits(min_length=1, max_length=80)]
    boat: Annotated[str, Limits(max_length=120)]
    day: Annotated[str, Limits(max_length=10)] = ""
    hours: Annotated[tuple[HoursSeen, ...], Limits(max_length=100)] = ()
    cure: Annotated[tuple[CureSeen, ...], Limits(max_length=100)] = ()
    mixed: Amount | None = None
    planned: Amount | None = None
    coupons: Annotated[tuple[Coupon, ...], Limits(max_length=400)] = ()


class Shop(Record):
    """All jobs that taught something."""

    version: Annotated[int, Limits(ge=1, le=1)] = 1
    jobs: Annotated[tuple[ShopJob, ...], Limits(max_length=MOST_JOBS)] = ()

    def check(self) -> None:
        """A job is counted once."""
        if len({j.job for j in self.jobs}) != len(self.jobs):
            raise ValueError("a job is counted twice")

    def with_job(self, job: ShopJob) -> Shop:
        """With what a job taught, in place of what it taught before."""
        return evolve(self, jobs=(*(j for j in self.jobs if j.job != job.job), job))

    def without(self, job: str) -> Shop:
        """Without what a job taught."""
        return evolve(self, jobs=tuple(j for j in self.jobs if j.job != job))


def job_mark(plan: Plan) -> str:
    """By what a job is known again: its boat and its first entry."""
    first = next((e.at for e in plan.job.log.entries), "")
    return f"{plan.job.boat.name[:60]} {first[:10]}".strip()


def taught(plan: Plan, days: Days) -> ShopJob:
    """What a job teaches; steps that ended, cups that were logged, nail tests, coupons of laminates."""
    sums: dict[str, list[float]] = {}
    for doing in doings(plan.job.log):
        row = days.by_id.get(doing.step)
        if row is None or not doing.ended or doing.worked <= 0 or row.hours <= 0 or row.kind.id.startswith("own"):
            continue
        fixed = (row.kind.set_up + row.kind.clean_up) * 3600
        usual = (row.hours - fixed) / row.kind.pace + fixed if row.hours > fixed else row.hours
        known = sums.setdefault(row.kind.id, [0.0, 0.0])
        known[0] += usual
        known[1] += doing.worked
    mixed, planned = _resin(plan, days)
    return ShopJob(
        job=job_mark(plan),
        boat=plan.job.boat.name,
        day=max((e.at for e in plan.job.log.entries), default="")[:10],
        hours=tuple(HoursSeen(kind=k, usual=a, actual=b) for k, (a, b) in sums.items()),
        cure=tuple(CureSeen(resin=r, factor=f.middle, tests=f.tests) for r, f in factors_of(plan.job, days)),
        mixed=mixed,
        planned=planned,
        coupons=plan.job.own.coupons,
    )


def _resin(plan: Plan, days: Days) -> tuple[float | None, float | None]:
    """Resin mixed against what was planned, of zones whose laying has ended."""
    ended = {d.step for d in doings(plan.job.log) if d.ended}
    mixed = planned = 0.0
    for made in plan.zones:
        lays = [r.id for r in days.rows if r.zone == made.zone.id and r.lays]
        if not lays or not set(lays) <= ended:
            continue
        planned += sum(b.cups.total for b in made.needs.batches)
        cups = (e for e in standing(plan.job.log) if isinstance(e, Mixed) and e.step.partition(".")[0] == made.zone.id)
        mixed += sum(c.mass.si + c.hardener.si for c in cups)
    return (mixed, planned) if mixed > 0 and planned > 0 else (None, None)


def applied(shelf: Shelf, shop: Shop) -> Shelf:
    """The shelf with what the shop learned over it; what is applied is its own."""
    steps = tuple(s for s in (_step(kind, shop) for kind in shelf.steps) if s is not None)
    resins = tuple(r for r in (_resin_of(resin, shop) for resin in shelf.resins) if r is not None)
    rules = tuple(r for r in (_loss(rule, shop) for rule in shelf.rules if rule.id == LOSS) if r is not None)
    latest = {(c.fabric, c.process): c for j in shop.jobs for c in j.coupons}.values()
    coupons = tuple(evolve(c, id=f"shop-{n}") for n, c in enumerate(latest, 1))  # those of a job are c1, c2 in each
    if not (steps or resins or rules or coupons):
        return shelf
    return merged(shelf, steps=steps, resins=resins, rules=rules, coupons=coupons)


def ratios_of(kind: str, shop: Shop) -> list[float]:
    """Actual over usual hours of a kind of step, a job each."""
    return [h.actual / h.usual for j in shop.jobs for h in j.hours if h.kind == kind]


def _step(kind: StepKind, shop: Shop) -> StepKind | None:
    made = learned(ratios_of(kind.id, shop))
    if not made.jobs:
        return None
    pace = min(max(kind.pace * made.factor, 0.06), 19.0)
    words = f"yours, from {_jobs(made.jobs)}: {fixed(made.factor, 2)} times the usual; nine in ten of the next between "
    return evolve(kind, pace=pace, reason=f"{kind.reason}; {words}{fixed(made.low, 2)} and {fixed(made.high, 2)}")


def _jobs(count: int) -> str:
    return "one job" if count == 1 else f"{count} jobs"


def _resin_of(resin: Resin, shop: Shop) -> Resin | None:
    seen = [c.factor for j in shop.jobs for c in j.cure if c.resin == resin.id]
    if not seen:
        return None
    factor = exp(sum(map(log, seen)) / (len(seen) + CURE_JOBS))
    times = {t: getattr(resin, t) * factor for t in TIMES if getattr(resin, t) is not None}
    words = f"times are yours, from nail tests of {_jobs(len(seen))}: {fixed(factor, 2)} times those stated"
    return evolve(resin, **times, reason=f"{resin.reason}; {words}"[:4000])


def _loss(rule: Rule, shop: Shop) -> Rule | None:
    made = learned(_loss_ratios(shop.jobs))
    if not made.jobs:
        return None
    value = min(max((1 + rule.value) * made.factor - 1, rule.low), rule.high, MOST_LOSS)
    return evolve(rule, value=value, reason=f"{rule.reason}; yours, from {_jobs(made.jobs)}")


def _loss_ratios(jobs: Iterable[ShopJob]) -> list[float]:
    return [j.mixed / j.planned for j in jobs if j.mixed is not None and j.planned is not None]
