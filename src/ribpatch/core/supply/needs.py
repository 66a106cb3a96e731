"""What one patch uses, item by item: putties, resin, core and the weight that comes off and goes on.

Every item is an amount times a rate; the figures are made from these in ``supply.figures``. Masses in kg, areas in m2.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, pi

from ribpatch.core.geometry import clean
from ribpatch.core.job import Zone
from ribpatch.core.laminate.stack import StackUp, skin_thickness, skin_weight
from ribpatch.core.materials.records import Core, Putty, Resin
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.patch.cutline import CutLine
from ribpatch.core.patch.plies import PlyOutline
from ribpatch.core.patch.sides import rebuilt_skin
from ribpatch.core.patch.taper import Band
from ribpatch.core.resin.cup import Cups, cups_for
from ribpatch.core.supply.cloth import Cloth, cloth_for
from ribpatch.core.survey.field import Extent


@dataclass(frozen=True, slots=True)
class PuttyUse:
    """Putty for one purpose: volume in m3, mass in kg."""

    key: str
    name: str
    volume: float
    mass: float


@dataclass(frozen=True, slots=True)
class ResinUse:
    """Resin for one purpose: amount (m2, or kg of putty), rate (kg per amount), mass in kg, the rule it follows."""

    key: str
    name: str
    amount: float
    rate: float
    rule: str
    stays: bool  # on the boat

    @property
    def mass(self) -> float:
        """Mass of mixed resin in kg."""
        return self.amount * self.rate


@dataclass(frozen=True, eq=False)
class Needs:
    """Everything one patch uses and gives up."""

    cloth: tuple[Cloth, ...]
    putty: Putty
    putties: tuple[PuttyUse, ...]
    resin: Resin
    uses: tuple[ResinUse, ...]
    cups: Cups
    core: Core | None
    core_area: float
    core_mass: float
    core_bought: float  # kg, with waste
    core_sheets: int
    peel_area: float
    peel_bought: float
    off: tuple[tuple[str, str, float], ...]  # key, name, kg
    on: tuple[tuple[str, str, float], ...]

    @property
    def resin_net(self) -> float:
        """Mixed resin that is laid, kg."""
        return sum(use.mass for use in self.uses)


@dataclass(frozen=True, eq=False)
class Patch:
    """The worked-out geometry of a zone's repair that the quantities follow from."""

    extent: Extent
    cut: CutLine
    band: Band
    stack: StackUp
    outlines: tuple[PlyOutline, ...]


def needs_of(zone: Zone, patch: Patch, temperature: float, shelf: Shelf) -> Needs:
    """What a zone's patch uses; shed temperature in degC."""
    scheme, area = zone.scheme, patch.cut.region.area
    resin, putty = shelf.resin(scheme.resin), shelf.putty(scheme.putty)
    core = shelf.core(scheme.core) if scheme.core and scheme.core_thickness and area else None
    depth = scheme.core_thickness.si if core and scheme.core_thickness else 0.0
    putties = _putties(zone, patch, depth, putty, shelf)
    peel_area = patch.band.outer.area if scheme.peel_ply and patch.outlines else 0.0
    uses = _resin_uses(patch, putties, putty, core, peel_area, shelf)
    core_mass = area * depth * core.density if core else 0.0
    core_area = area * (1 + shelf.rule("core.waste")) if core else 0.0
    sheets = ceil(core_area / (core.sheet[0] * core.sheet[1]) - 1e-9) if core else 0
    return Needs(
        cloth=cloth_for(patch.outlines, shelf),
        putty=putty,
        putties=putties,
        resin=resin,
        uses=uses,
        cups=cups_for(sum(use.mass for use in uses), temperature, resin, shelf),
        core=core,
        core_area=core_area,
        core_mass=core_mass,
        core_bought=core_area * depth * core.density if core else 0.0,
        core_sheets=sheets,
        peel_area=peel_area,
        peel_bought=peel_area * (1 + shelf.rule("cloth.waste")),
        off=_off(zone, patch, core is not None, shelf),
        on=_on(patch, uses, putties, putty, core_mass),
    )


def _putties(zone: Zone, patch: Patch, depth: float, putty: Putty, shelf: Shelf) -> tuple[PuttyUse, ...]:
    area, perimeter = patch.cut.region.area, patch.cut.region.length
    volumes = []
    if depth:
        volumes.append(("bedding", "bedding under the core", area * zone.scheme.bedding.si))
        volumes.append(("gap", "gap round the core", perimeter * depth * shelf.rule("core.gap")))
    holes = hole_volume(zone, patch.band, shelf)
    if holes:
        volumes.append(("holes", "overdrilled fastener holes", holes))
    if patch.outlines:
        volumes.append(("fairing", "fairing over the patch", patch.band.outer.area * shelf.rule("fair.depth")))
    return tuple(PuttyUse(key, name, volume, volume * putty.density) for key, name, volume in volumes)


def hole_volume(zone: Zone, band: Band, shelf: Shelf) -> float:
    """Putty in m3 for the overdrilled holes of the fittings that stand in the cut."""
    depth = build_thickness(zone, shelf)
    oversize = shelf.rule("hole.oversize")
    return sum(
        f.holes * pi / 4 * (oversize * f.hole.si) ** 2 * depth
        for f in zone.fittings
        if f.holes and f.hole is not None and f.name in band.removed
    )


def build_thickness(zone: Zone, shelf: Shelf) -> float:
    """Whole thickness of the original build-up in m."""
    build = zone.build
    inner = skin_thickness(build.inner, shelf) if build.inner else 0.0
    return skin_thickness(build.outer, shelf) + inner + (build.core.thickness.si if build.core else 0.0)


def _resin_uses(
    patch: Patch, putties: tuple[PuttyUse, ...], putty: Putty, core: Core | None, peel_area: float, shelf: Shelf
) -> tuple[ResinUse, ...]:
    area = patch.cut.region.area
    plies = sum(o.region.area for o in patch.outlines)
    wet = sum(o.region.area * o.laid.ply.resin for o in patch.outlines)
    uses = []
    if plies:
        uses.append(ResinUse("plies", "resin in the plies", plies, wet / plies, "", True))
        bond = patch.band.region.area + (area if core else 0.0)
        uses.append(
            ResinUse(
                "prime", "prime coat on ground laminate", bond, shelf.rule("prime.laminate"), "prime.laminate", True
            )
        )
    if core:
        rule = "prime." + core.faces.replace(" ", "-")
        uses.append(ResinUse("core-faces", "prime coat on both core faces", 2 * area, shelf.rule(rule), rule, True))
    mass = sum(use.mass for use in putties)
    if mass:
        uses.append(ResinUse("putty", "resin in the putty", mass, putty.resin_share, "", True))
    if peel_area:
        uses.append(
            ResinUse("peel", "resin taken by peel ply", peel_area, shelf.rule("peel.uptake"), "peel.uptake", False)
        )
    return tuple(uses)


def _off(zone: Zone, patch: Patch, core_out: bool, shelf: Shelf) -> tuple[tuple[str, str, float], ...]:
    skin = rebuilt_skin(zone)
    area, density = patch.cut.region.area, shelf.rule("old.skin.density")
    rows = [
        ("skin", "skin cut out", area * skin_weight(skin, shelf)),
        ("dust", "laminate ground off as dust", patch.band.ground_volume * density if patch.outlines else 0.0),
    ]
    build = zone.build
    if core_out and build.core:
        old, depth = shelf.core(build.core.core), build.core.thickness.si
        wet = clean(patch.extent.likely.intersection(patch.cut.region)).area
        rows.append(("core", "old core, dry", area * depth * old.density))
        rows.append(("water", "water in the damaged core", wet * depth * old.water * shelf.rule("wet.core.share")))
    return tuple(rows)


def _on(
    patch: Patch, uses: tuple[ResinUse, ...], putties: tuple[PuttyUse, ...], putty: Putty, core_mass: float
) -> tuple[tuple[str, str, float], ...]:
    fibre = sum(o.region.area * o.laid.ply.fibre for o in patch.outlines)
    resin = sum(use.mass for use in uses if use.stays)
    filler = sum(use.mass for use in putties) * (1 - putty.resin_share)
    return (
        ("fibre", "cloth", fibre),
        ("resin", "resin that stays", resin),
        ("core", "new core", core_mass),
        ("filler", "fillers", filler),
    )
