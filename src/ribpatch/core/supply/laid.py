"""How hot the plies of a repair get if they are laid at once, and how many may be laid at a sitting. SI, degC.

What lies under them decides: a core keeps the heat in, a laminate leads it away. Conductivity of a core follows from
its density (.02 + .00015 times it, W/(m K)); that of laminate is .3. Source: [27], judgement.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.memo import Known
from ribpatch.core.resin.slab import Layer, Material, Slab, slab_course
from ribpatch.core.resin.vessel import kinetics

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.laminate.stack import StackUp
    from ribpatch.core.materials.records import Core
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.resin.cure import Kinetics

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


class _Wet(Struct, frozen=True):
    """All that the peak of some plies depends on: thickness, fibre and resin of each, what lies under them, how the
    resin cures, the warmth of the cans and of the air, the loss of the faces.
    """

    plies: tuple[tuple[float, float, float], ...]
    base: tuple[Layer, ...]
    kinetics: Kinetics
    start: float
    air: float
    loss: float

    def peak(self, count: int) -> float:
        """The hottest that the first plies get, laid at once, degC."""
        thickness, dry, wet = (sum(ply[n] for ply in self.plies[:count]) for n in range(3))
        material = Material(LAMINATE.conductivity, (wet + dry) / thickness, LAMINATE.capacity)
        slab = Slab(thickness, material, wet / (wet + dry), self.base, self.loss, self.loss)
        return slab_course(slab, self.kinetics, self.start, self.air, CELLS, PEAKED).peak


_KNOWN: Known[tuple[_Wet, float], tuple[float, int]] = Known(48)


def laid_heat(stack: StackUp, zone: Zone, air: float, shelf: Shelf) -> LaidHeat | None:
    """All plies of a zone at once; None without plies, or too cold for the resin to be foretold."""
    resin, count = shelf.resin(zone.scheme.resin.main), len(stack.plies)
    if not count or air < resin.least_temperature:
        return None
    warmed, (name, base) = zone.scheme.resin.warmed, base_of(zone, shelf)
    plies = tuple((laid.ply.thickness, laid.ply.fibre, laid.ply.resin) for laid in stack.plies)
    start = warmed.si if warmed is not None else air
    wet, most = (
        _Wet(plies, base, kinetics(resin, shelf), start, air, shelf.rule("layup.loss")),
        shelf.rule("layup.peak"),
    )
    hottest, fits = _KNOWN.of((wet, most), lambda: _most(wet, most))
    return LaidHeat(count, stack.thickness, name, hottest, fits)


def _most(wet: _Wet, limit: float) -> tuple[float, int]:
    """The peak of all plies at once, degC, and how many stay below a limit."""
    count = len(wet.plies)
    hottest = wet.peak(count)
    low, high = (count, count) if hottest <= limit else (0, count)
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if wet.peak(middle) <= limit else (low, middle)
    return hottest, low
