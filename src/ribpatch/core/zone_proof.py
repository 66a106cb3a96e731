"""What a zone's plan knows of its strength: new laminate against old, the panel or beam under its loads.

All of it is worked out when it is first asked for: nothing of structure is loaded until then.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from ribpatch.core.zone_lists import ZoneLists

if TYPE_CHECKING:
    from ribpatch.core.figure import Figure
    from ribpatch.core.job import Zone
    from ribpatch.core.laminate.comparison import LaminateComparison
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.notice import Notice
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.structure.strength import ZoneStrength
    from ribpatch.core.units import System


class ZoneProof(ZoneLists, frozen=True, eq=False, dict=True):
    """The laminates of a zone and what they carry."""

    @cached_property
    def comparison(self) -> LaminateComparison | None:
        """The new laminate beside the old one; None where no plies are chosen yet."""
        return zone_comparison(self.zone, self.patch, self.year, self.shelf)

    @cached_property
    def strength(self) -> ZoneStrength:
        """The zone as a structure."""
        from ribpatch.core.structure.strength import ZoneStrength

        return ZoneStrength(self.zone, self.boat, self.patch, self.comparison, self.shelf)

    @property
    def has_strength(self) -> bool:
        """Whether its strength was worked out already."""
        return "strength" in self.__dict__

    @property
    def prove_figures(self) -> tuple[Figure, ...]:
        """Figures of what the zone carries."""
        return self.told("prove_figures", self.strength.figures)

    def prove_notices(self, system: System) -> tuple[Notice, ...]:
        """Warnings of the zone's strength, worked out where they are looked at."""
        from ribpatch.core.structure.notices import prove_notices

        return prove_notices(self.strength, system)


def zone_comparison(zone: Zone, patch: Patch, year: int | None, shelf: Shelf) -> LaminateComparison | None:
    """The new laminate of a zone beside the old one; None where no plies are chosen yet. Opened from above both skins
    stay, whatever plies are stated.
    """
    from ribpatch.core.laminate.comparison import new_core, skin_comparison, standing_skin, whole_comparison
    from ribpatch.core.laminate.stack import skin_thickness
    from ribpatch.core.patch.access.sides import from_above

    scheme, build, skin = zone.scheme, zone.build, zone.rebuilt_skin
    target = scheme.laminate.target.si if scheme.laminate.target else None
    left = max(skin_thickness(skin, shelf) - patch.pit.deepest, 0.0) if patch.pit else 0.0
    second = patch.second.stack if patch.second and zone.other_skin is None else None
    standing = from_above(zone)
    match = (
        standing_skin(skin, year, shelf)
        if standing
        else skin_comparison(patch.stack, scheme.resin.main, skin, target, (left, second), year, shelf)
    )
    if match is None:
        return None
    new = None
    if scheme.core.material and scheme.core.thickness and build.core and not scheme.access.part_depth:
        new = new_core(scheme, scheme.core.material, scheme.core.thickness.si, build.core.thickness.si, standing, shelf)
    return whole_comparison(match, skin, zone.other_skin, build.core, new, year, shelf)
