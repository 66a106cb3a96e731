"""Which of the shelf's cautions belong to a plan, and the limits that every paper states."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Caution
    from ribpatch.core.plan import Plan


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
    return tuple(c for c in plan.shelf.cautions if c.when in facts)


LIMITS = (
    "The figures are screening values from the stated methods. They certify nothing. Local codes, the builder's data, "
    "product data "
    "sheets and a licensed surveyor or naval architect come before them. The extent of damage is never known until it "
    "is opened."
)
