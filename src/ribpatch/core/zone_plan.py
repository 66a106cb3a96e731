"""The plan of one zone: every figure, shape and need of it, each worked out when it is first asked for."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from ribpatch.core.zone_proof import ZoneProof

if TYPE_CHECKING:
    from ribpatch.core.figure import Figure
    from ribpatch.core.patch.bonding.figures import Joint
    from ribpatch.core.patch.coring.choice import CoreChoice
    from ribpatch.core.patch.coring.pieces import CorePieces
    from ribpatch.core.patch.made_parts import PartMade
    from ribpatch.core.steps.records import ZoneSteps
    from ribpatch.core.supply.cutting import FabricCuts
    from ribpatch.core.supply.needs import Needs
    from ribpatch.core.supply.shopping import Item


# The figures of a zone, in the order in which they are printed.
GROUPS = (
    "survey_figures",
    "kind_figures",
    "cause_figures",
    "opening_figures",
    "stack_figures",
    "comparison_figures",
    "bond_figures",
    "supply_figures",
)


# Ids, and first words of ids, that stand in some groups only.
GROUPS_OF: dict[str, tuple[str, ...]] = {
    word: groups
    for groups, words in (
        (("survey_figures",), ("survey", "zone", "extent")),
        (("kind_figures",), ("extent.wet", "extent.rotted", "extent.disbonded")),
        (("cause_figures",), ("cause",)),
        (("opening_figures",), ("cut", "taper", "skin")),
        (("stack_figures",), ("stack",)),
        (("comparison_figures",), ("lam", "match", "old", "panel")),
        (("bond_figures",), ("bond",)),
        (("prove_figures",), ("prove",)),
        (
            ("supply_figures",),
            ("batch", "cloth", "cost", "cup", "fair", "finish", "laid", "mix", "mixed", "use", "weight"),
        ),
    )
    for word in words
}


class ZonePlan(ZoneProof, frozen=True, eq=False, dict=True):
    """Everything that can be worked out for one zone, each part when it is first asked for."""

    @property
    def has_patch(self) -> bool:
        """Whether the geometry was worked out already."""
        return "patch" in self.__dict__

    @cached_property
    def parts(self) -> tuple[PartMade, ...]:
        """The made parts."""
        from ribpatch.core.patch.made_parts import part_made

        scheme = self.zone.scheme
        return tuple(part_made(p, scheme.resin.main, scheme.laying.process, self.shelf) for p in scheme.parts)

    @cached_property
    def needs(self) -> Needs:
        """What the repair uses."""
        from ribpatch.core.supply.needs import needs_of

        return needs_of(self.zone, self.patch, self.parts, self.air.temperature.si, self.shelf)

    @cached_property
    def cuts(self) -> tuple[FabricCuts, ...]:
        """Every piece of cloth to cut for it, by fabric."""
        from ribpatch.core.supply.cutting import cuts_of

        return cuts_of(self.zone, self.patch, self.parts, self.shelf)

    @cached_property
    def core_pieces(self) -> CorePieces | None:
        """How its new core is cut; None where none is renewed, or it is poured."""
        from ribpatch.core.patch.coring.pieces import core_pieces

        return core_pieces(self.zone, self.patch, self.shelf)

    @cached_property
    def items(self) -> tuple[Item, ...]:
        """What is to be bought for it."""
        from ribpatch.core.supply.shopping import items_of

        return items_of(self.needs)

    @cached_property
    def steps(self) -> ZoneSteps:
        """The steps of its repair, and what waits for what."""
        from ribpatch.core.steps.zone import steps_of

        return steps_of(self)

    @cached_property
    def core_choices(self) -> tuple[CoreChoice, ...]:
        """Every core of the shelf, as it would do here."""
        from ribpatch.core.patch.coring.choice import core_choices

        return core_choices(self.zone, self.patch, self.comparison, self.shelf) if self.comparison else ()

    @cached_property
    def joint(self) -> Joint | None:
        """The bond along the scarf; None where there is none."""
        from ribpatch.core.patch.bonding.figures import joint_of

        return joint_of(self.comparison.skin, self.patch, self.zone.scheme, self.shelf) if self.comparison else None

    @cached_property
    def survey_figures(self) -> tuple[Figure, ...]:
        """Figures of the survey."""
        from ribpatch.core.survey.figures import survey_figures

        return self.told("survey_figures", survey_figures(self.zone, self.shelf, self.zone.id))

    @cached_property
    def kind_figures(self) -> tuple[Figure, ...]:
        """The area of each kind of damage; none where nothing was read."""
        from ribpatch.core.survey.figures import kind_figures

        return self.told("kind_figures", kind_figures(self.zone, self.shelf, self.zone.id))

    @cached_property
    def cause_figures(self) -> tuple[Figure, ...]:
        """The chance of every cause."""
        from ribpatch.core.diagnosis.zone import cause_figures

        return self.told("cause_figures", cause_figures(self.zone, self.shelf, self.zone.id))

    @cached_property
    def opening_figures(self) -> tuple[Figure, ...]:
        """Figures of cut and taper."""
        from ribpatch.core.patch.figures import opening_figures

        bad = named(self.survey_figures, f"{self.zone.id}.extent.area")
        assert bad is not None, "every survey has a bad area, if only of nothing"
        made = opening_figures(self.zone, self.zone.rebuilt_skin, self.patch, bad, self.shelf, self.zone.id)
        return self.told("opening_figures", made)

    @cached_property
    def stack_figures(self) -> tuple[Figure, ...]:
        """Figures of the stack."""
        from ribpatch.core.laminate.figures import stack_figures

        zone, shelf = self.zone, self.shelf
        replaced = {f"{zone.id}.{key}": n for n, key in enumerate(("skin.thickness", "face.thickness", "pit.deepest"))}
        old = max((f for f in self.opening_figures if f.id in replaced), key=lambda f: replaced[f.id])
        return self.told("stack_figures", stack_figures(zone.scheme, self.patch.stack, old, shelf, zone.id))

    @cached_property
    def comparison_figures(self) -> tuple[Figure, ...]:
        """Figures of the new laminate beside the old one."""
        from ribpatch.core.laminate.comparison_figures import comparison_figures

        held, stack, zone = self.comparison, self.patch.stack, self.zone.id
        return self.told("comparison_figures", comparison_figures(held, stack, self.shelf, zone)) if held else ()

    @cached_property
    def bond_figures(self) -> tuple[Figure, ...]:
        """Figures of the bond along the scarf."""
        from ribpatch.core.patch.bonding.figures import bond_figures

        return self.told(
            "bond_figures", bond_figures(self.joint, self.zone.scheme, self.shelf, self.zone.id) if self.joint else ()
        )

    @cached_property
    def supply_figures(self) -> tuple[Figure, ...]:
        """Figures of what is used, weighs and costs."""
        from ribpatch.core.supply.figures import needs_figures
        from ribpatch.core.supply.shopping import cost_figures

        needs = needs_figures(self.zone, self.patch, self.needs, self.air, self.shelf, self.zone.id)
        return self.told("supply_figures", (*needs, *cost_figures(self.items, self.shelf, self.zone.id)))

    @cached_property
    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the zone but those of its strength, which are worked out where they are looked at."""
        return tuple(figure for group in GROUPS for figure in getattr(self, group))

    def figure(self, key: str) -> Figure | None:
        """The figure of an id without the zone's prefix; only as much is worked out as leads to it."""
        wanted = f"{self.zone.id}.{key}"
        if "by_id" in self.__dict__ and not key.startswith("prove."):
            return self.by_id.get(key)
        groups = GROUPS_OF.get(key) or GROUPS_OF.get(key.partition(".")[0], GROUPS)
        return next((found for group in groups if (found := named(getattr(self, group), wanted)) is not None), None)

    @cached_property
    def by_id(self) -> dict[str, Figure]:
        """Figures by their id without the zone's prefix."""
        return {f.id.removeprefix(f"{self.zone.id}."): f for f in self.figures}


def named(figures: tuple[Figure, ...], identity: str) -> Figure | None:
    """The figure of an id among figures, or None."""
    return next((f for f in figures if f.id == identity), None)
