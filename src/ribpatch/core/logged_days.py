"""The days of a job with what its log says: steps that were begun or ended lie where they were, resins take as long as
nail tests showed, and the rest is planned from now on.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.cure_now import factors_of
from ribpatch.core.days import days_of
from ribpatch.core.days_stated import Done
from ribpatch.core.logbook.standing import doings
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from ribpatch.core.days import Days
    from ribpatch.core.plan import Plan


@remembered(6)
def logged_days(plan: Plan, today: str, now: str) -> Days:
    """The days of a job as logged; ``now`` is the moment before which nothing more can be begun, where anything was."""
    plain = days_of(plan, today)
    if not plan.job.log.entries:
        return plain
    done = tuple(Done(d.step, d.begun, d.ended) for d in doings(plan.job.log) if d.step in plain.by_id)
    factors = tuple((resin, f.middle) for resin, f in factors_of(plan.job, plain))
    return days_of(plan, today, done, now if done else "", factors)
