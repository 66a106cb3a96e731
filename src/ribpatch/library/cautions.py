"""Cautions that belong to steps, shipped as data: which step, when it applies, what to do."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache

from ribpatch import resources
from ribpatch.core.plan import Plan


@dataclass(frozen=True, slots=True)
class Caution:
    """One caution: the step it belongs to and its words."""

    step: str
    when: str
    text: str


@cache
def cautions() -> tuple[Caution, ...]:
    """All shipped cautions, in the order of the work."""
    return tuple(Caution(**row) for row in json.loads(resources.data("data/cautions.json"))["items"])


def cautions_for(plan: Plan) -> tuple[Caution, ...]:
    """The cautions that apply to a plan."""
    families = {z.needs.resin.family for z in plan.zones if z.needs.uses}
    facts = {"always", *families}
    if families & {"vinylester", "polyester"}:
        facts.add("styrene")
    if plan.job.boat.year is not None and plan.job.boat.year < 2000:
        facts.add("old paint")
    if any(z.zone.kind in ("transom", "stringer run", "hull panel") for z in plan.zones):
        facts.add("hull structure")
    if any(z.zone.kind == "transom" for z in plan.zones):
        facts.add("transom")
    return tuple(c for c in cautions() if c.when in facts)


LIMITS = (
    "The figures are screening values from the stated methods. They certify nothing. Local codes, the builder's data, product data "
    "sheets and a licensed surveyor or naval architect come before them. The extent of damage is never known until it is opened."
)
