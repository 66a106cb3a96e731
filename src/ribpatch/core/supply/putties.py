"""What one patch takes of putty, purpose by purpose, and what its high and low spots come to. Volumes in m3."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.laminate.comparison import new_core
from ribpatch.core.patch.access.sides import from_above
from ribpatch.core.patch.coring.work import core_work
from ribpatch.core.patch.fairing import Filling, filling_of, surface_of
from ribpatch.core.patch.pit import putty_by_depth
from ribpatch.core.patch.tabbing import fillet_volume
from ribpatch.core.supply.areas import covered_area, faired_region

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.records import Putty
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.made_parts import PartMade
    from ribpatch.core.patch.repair import Patch

FAIRING = ("fairing", "fill.")  # first words of the keys of putty that fairs
FAIRED_WITH = {"fairing": "light", "fill.deep": "chopped", "fill.middling": "silica", "fill.scratches": "light"}


class PuttyUse(Struct, frozen=True):
    """Putty for one purpose, of one recipe: volume in m3, mass in kg."""

    key: str
    name: str
    volume: float
    recipe: Putty

    @property
    def mass(self) -> float:
        """Mass of the putty, kg."""
        return self.volume * self.recipe.density

    @property
    def resin(self) -> float:
        """Resin in it, kg."""
        return self.mass * self.recipe.resin_share

    @property
    def filler(self) -> float:
        """Filler in it, kg."""
        return self.mass - self.resin


def putties_of(
    zone: Zone, patch: Patch, parts: tuple[PartMade, ...], depth: float, putty: Putty, shelf: Shelf
) -> tuple[PuttyUse, ...]:
    """Putty of a patch, a line a purpose; ``depth`` of the new core in m, 0 where none is put in."""
    scheme = zone.scheme
    area, perimeter = patch.cut.region.area, patch.cut.region.length
    volumes = []
    # What is poured fills its own bed and edges.
    if depth and scheme.core.material and not shelf.core(scheme.core.material).poured:
        room = zone.build.core.thickness.si if zone.build.core else 0.0
        new = new_core(scheme, scheme.core.material, depth, room, from_above(zone), shelf)
        name = "beddings on both sides of the core" if new.beds == 2 else "bedding under the core"
        volumes.append(("bedding", name, new.beds * area * new.bedding))
        if new.shim > 1e-9:
            volumes.append(("shim", "shim under a thinner core", area * new.shim))
        volumes.append(("gap", "gap round the core", perimeter * depth * shelf.rule("core.gap")))
    work = core_work(zone, patch, shelf)
    if work is not None and work.kerfs:
        volumes.append(("kerfs", "kerfs of the scored sheet", work.kerfs))
    holes = sum(f.putty for f in work.fastenings) if work else 0.0
    if holes:
        volumes.append(("holes", "overdrilled fastener holes", holes))
    pads = sum(f.pad for f in work.fastenings) if work else 0.0
    if pads:
        volumes.append(("pads", "sloped bearing pads", pads))
    if scheme.laminate.tabbing is not None and patch.outlines:
        length = sum(p.bounds[2] - p.bounds[0] for p in patch.cut.region.geoms)
        fillet = fillet_volume(scheme.laminate.tabbing.radius.si, scheme.laminate.tabbing.angle.si)
        volumes.append(("fillet", "fillets under the tabbing", length * fillet))
    if parts:
        volumes.append(
            ("parts", "beds of made parts", sum(p.bed * p.part.count for p in parts if p.part.fixing == "putty"))
        )
    if patch.saved is not None:
        volumes.append(
            (
                "saved",
                "bedding under the saved skin",
                sum(p.region.area for p in patch.saved.pieces) * zone.scheme.core.bedding.si,
            )
        )
    if patch.backing is not None:
        volumes.append(("laps", "bedding of the backing strips", patch.backing.lap_area * shelf.rule("lap.bed")))
    if patch.pit is not None:
        fills = putty_by_depth(patch.pit, patch.stack, shelf.rule("fill.deep"), shelf.rule("fill.shallow"))
        volumes += [(f"fill.{f.name}", f"filling by depth: {f.name}", f.volume) for f in fills if f.volume > 1e-9]
    elif patch.all_outlines:
        volumes += fairing_volumes(zone, patch, shelf)
    return tuple(
        PuttyUse(key, name, volume, shelf.putty(FAIRED_WITH[key]) if key in FAIRED_WITH else putty)
        for key, name, volume in volumes
    )


def fairing_volumes(zone: Zone, patch: Patch, shelf: Shelf) -> list[tuple[str, str, float]]:
    """Putty that fairs: by the spots that were read, or a mean depth over the patch; rolled onto the wet laminate where
    that is the way.
    """
    if zone.finish.way == "wet":
        return [("fairing", "fairing rolled onto the wet laminate", covered_area(patch) * shelf.rule("fair.skim"))]
    filling = filling_in(zone, patch, shelf)
    if filling is None:
        return [("fairing", "fairing over the patch", covered_area(patch) * shelf.rule("fair.depth"))]
    rows = (("deep", filling.deep), ("middling", filling.middling), ("scratches", filling.scratches))
    return [(f"fill.{name}", f"fairing by depth: {name}", level.volume) for name, level in rows if level.volume > 1e-9]


def filling_in(zone: Zone, patch: Patch, shelf: Shelf) -> Filling | None:
    """What the spots of a zone take to fill; None where none lies on what is faired."""
    if not zone.finish.spots:
        return None
    surface = surface_of(faired_region(patch), zone.finish.spots)
    return None if surface is None else filling_of(surface, shelf.rule("fill.deep"), shelf.rule("fill.shallow"))
