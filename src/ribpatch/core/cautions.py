"""Which of the shelf's cautions belong to a plan, and the limits that every paper states."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Caution
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan


def cautions_for(plan: Plan) -> tuple[Caution, ...]:
    """The cautions that apply to a plan."""
    return _of_zones(plan, plan.zones)


def cautions_of(plan: Plan, zone: str) -> tuple[Caution, ...]:
    """The cautions that apply to work in one zone; to all of them where none is named."""
    return _of_zones(plan, tuple(z for z in plan.zones if not zone or z.zone.id == zone))


def _of_zones(plan: Plan, zones: tuple[ZonePlan, ...]) -> tuple[Caution, ...]:
    families = {z.needs.resin.family for z in zones if z.needs.uses}
    facts = {"always", *families}
    if families & {"vinylester", "polyester"}:
        facts.add("styrene")
    if plan.job.boat.year is not None and plan.job.boat.year < 2000:
        facts.add("old paint")
    if any(z.zone.kind == "transom" or z.zone.is_beam or z.zone.is_shell for z in zones):
        facts.add("hull structure")
    if any(z.zone.kind == "transom" for z in zones):
        facts.add("transom")
    return tuple(c for c in plan.shelf.cautions if c.when in facts)


LIMITS = (
    "The figures are screening values from the stated methods. They certify nothing. Local codes, the builder's data, "
    "product data "
    "sheets and a licensed surveyor or naval architect come before them. The extent of damage is never known until it "
    "is opened."
)
