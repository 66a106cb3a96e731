"""How hot the plies of a repair get if they are laid at once, and how many may be laid at a sitting. SI, degC.

What lies under them decides: a core keeps the heat in, a laminate leads it away. Conductivity of a core follows from
its density (.02 + .00015 times it, W/(m K)); that of laminate is .3. Source: [27], judgement.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.memo import remembered
from ribpatch.core.resin.slab import Layer, Material, Slab, slab_course
from ribpatch.core.resin.vessel import kinetics

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.laminate.stack import StackUp
    from ribpatch.core.materials.records import Core, Resin
    from ribpatch.core.materials.shelf import Shelf

LAMINATE = Material(0.3, 1600.0, 1200.0)
SKIN = 0.003  # m, behind a core
WOOD, FOAM = 1600.0, 1400.0  # J/(kg K)
CELLS = 14
PEAKED = 0.75  # cured so far, a lay-up is past its peak


class LaidHeat(Struct, frozen=True):
    """All plies at once: how many, m, on what, the peak; and how many may be laid at a sitting (0: not even one)."""

    plies: int
    thickness: float
    base: str
    peak: float
    most: int


def core_material(core: Core) -> Material:
    """A core as it leads heat."""
    lead = 0.02 + 1.5e-4 * core.density
    return Material(lead, core.density, FOAM if core.faces == "open cells" else WOOD)


def base_of(zone: Zone, shelf: Shelf) -> tuple[str, tuple[Layer, ...]]:
    """What the plies are laid on: the new core, the old one, or what is left of the laminate."""
    scheme, build = zone.scheme.core, zone.build
    if scheme.material and scheme.thickness is not None and not zone.scheme.access.part_depth:
        core, depth = shelf.core(scheme.material), scheme.thickness.si
    elif build.core is not None:
        core, depth = shelf.core(build.core.core), build.core.thickness.si
    else:
        return "laminate", (Layer(SKIN, LAMINATE),)
    return core.name, (Layer(depth, core_material(core)), Layer(SKIN, LAMINATE))


def peak_of(stack: StackUp, count: int, zone: Zone, resin: Resin, air: float, shelf: Shelf) -> float:
    """The hottest that the first plies of a stack get, laid at once, degC."""
    plies = stack.plies[:count]
    thickness = sum(laid.ply.thickness for laid in plies)
    wet, dry = sum(laid.ply.resin for laid in plies), sum(laid.ply.fibre for laid in plies)
    laid = Material(LAMINATE.conductivity, (wet + dry) / thickness, LAMINATE.capacity)
    loss = shelf.rule("layup.loss")
    slab = Slab(thickness, laid, wet / (wet + dry), base_of(zone, shelf)[1], loss, loss)
    warmed = zone.scheme.resin.warmed
    return slab_course(slab, kinetics(resin, shelf), warmed.si if warmed else air, air, CELLS, PEAKED).peak


@remembered(24)
def laid_heat(stack: StackUp, zone: Zone, air: float, shelf: Shelf) -> LaidHeat | None:
    """All plies of a zone at once; None without plies, or too cold for the resin to be foretold."""
    resin, count = shelf.resin(zone.scheme.resin.main), len(stack.plies)
    if not count or air < resin.least_temperature:
        return None
    most, hottest = shelf.rule("layup.peak"), peak_of(stack, count, zone, resin, air, shelf)
    low, high = (count, count) if hottest <= most else (0, count)
    while high - low > 1:
        middle = (low + high) // 2
        fits = peak_of(stack, middle, zone, resin, air, shelf) <= most
        low, high = (middle, high) if fits else (low, middle)
    return LaidHeat(count, stack.thickness, base_of(zone, shelf)[0], hottest, low)
