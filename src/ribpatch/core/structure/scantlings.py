"""How thick a boat of this size is built: an empirical number beside the pressure rule, area by area. SI.

Sn = length overall x beam x hull depth / 28.32 (m); a basic solid shell of 6.35 Sn^(1/3) mm, more for heavy boats and
where the load comes in. Valid for solid glass laminates of mat and woven cloth by hand, boats of 3 to 24 m and Sn of
0.2 to 250; neither rule knows this builder's laminate. Source: [26].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.numerals import fixed, general
from ribpatch.core.structure.pressure import (
    CATEGORY,
    Area,
    BoatSize,
    aspect_factor,
    design_pressure,
    flexural_strength,
    plate_thickness,
    size_of,
)

if TYPE_CHECKING:
    from ribpatch.core.job import Boat
    from ribpatch.core.materials.shelf import Shelf

EMPIRICAL = "empirical number [26]: solid shell 6.35 Sn^(1/3) mm"
LEAST_SN, MOST_SN = 0.2, 250.0
STRESSED = 1.25
CHAIN_PLATE = 1.3
WHOLE = 0.2  # m of full thickness where a thickening stands
RUNS_OUT = ("keel", "transom", "chain-plates")  # where the shell is thickened in a place, and runs out from there
RUN_OUT = 40.0  # times what is added, over which a local thickening runs out
PAD = 8.0  # width of a bulkhead's backing pad over the bulkhead's thickness


def shell_thickness(boat: Boat) -> float:
    """Basic solid shell by the empirical number, m."""
    return basic_shell(size_of(boat))


def basic_shell(size: BoatSize) -> float:
    """6.35 Sn^(1/3) mm with the factor of a heavy boat, m."""
    return float(6.35e-3 * size.number ** (1 / 3) * size.factor)


class Scantling(Struct, frozen=True):
    """One member of the boat: what the empirical number asks, what the pressure rule asks (none where it is silent), m.

    ``what`` says which size is meant.
    """

    key: str
    name: str
    what: str
    empirical: float
    pressure: float | None
    note: str
    panel: tuple[float, float]


def scantlings(size: BoatSize, panel: tuple[float, float], fraction: float) -> tuple[Scantling, ...]:
    """Every member by both rules: ``panel`` between stiffeners, m, ``fraction`` is the fibre mass fraction."""
    basic = basic_shell(size)
    sn = size.number

    def by_pressure(area: Area) -> float:
        p = design_pressure(size, area, panel, 0.7 * size.waterline, 0.5 * size.depth).value
        return plate_thickness(min(panel), p, aspect_factor(*panel), flexural_strength(fraction))

    stringer = 79.2e-3 * sn**0.28
    bulkhead = 11.4e-3 * sn**0.3
    frame = 78.7e-3 * sn**0.3
    thicker = f"{general(CHAIN_PLATE)} × the shell"
    rows = (
        ("bottom", "bottom shell", "thickness", basic, by_pressure("bottom"), ""),
        ("side", "side shell", "thickness", basic, by_pressure("side"), ""),
        ("deck", "deck, solid", "thickness", basic, by_pressure("deck"), "cored decks carry by their depth"),
        ("transom", "transom, solid skins together", "thickness", basic * STRESSED, by_pressure("transom"), "+25 %"),
        ("keel", "keel and stem", "thickness", basic * STRESSED, None, "+25 %, highly stressed"),
        ("chain-plates", "at chain plates", "thickness", basic * CHAIN_PLATE, None, thicker),
        ("stringer", "stringers", "width, half as high", stringer, None, ""),
        ("stringer-laminate", "laminate over stringers", "thickness", 4.32e-3 * sn**0.38, None, ""),
        ("bulkhead", "bulkheads, plywood", "thickness", bulkhead, None, ""),
        ("pad", "backing pads at bulkheads", "width", PAD * bulkhead, None, "8 × the bulkhead"),
        ("frame", "ring frames", "square", frame, None, ""),
        ("floor", "floors", "height, as ring frames", frame, None, ""),
    )
    return tuple(Scantling(key, name, what, e, p, note, panel) for key, name, what, e, p, note in rows)


class Change(Struct, frozen=True):
    """What becomes of the boat: length added, m; power, W; displacement added, kg; chain plates outside."""

    length: float = 0.0
    displacement: float = 0.0
    power: float = 0.0
    chain_plates: bool = False


def changed_size(size: BoatSize, change: Change) -> BoatSize:
    """The boat afterwards; an extension carries the waterline with it."""
    return replace(
        size,
        length=size.length + change.length,
        waterline=size.waterline + change.length,
        displacement=size.displacement + change.displacement,
    )


class Lighter(Struct, frozen=True):
    """A member that the changed boat asks more of: before and afterwards, m, the difference, and how far a local
    thickening of the shell reaches until it has run out, m; None for a shell that is thicker all over, and for a member
    whose own size grows.
    """

    key: str
    name: str
    now: float
    then: float
    reach: float | None

    @property
    def add(self) -> float:
        """m to add."""
        return self.then - self.now


def becomes_light(
    boat: Boat, change: Change, panel: tuple[float, float], fraction: float, old_power: float
) -> tuple[Lighter, ...]:
    """Every member that becomes too light where the boat was built just to the rules, the most first.

    More power asks of the transom by the square root of thrust, for the moment on a clamp grows with it.
    """
    size = size_of(boat)
    now = {s.key: s for s in scantlings(size, panel, fraction)}
    made = []
    for row in scantlings(changed_size(size, change), panel, fraction):
        before = max(now[row.key].empirical, now[row.key].pressure or 0.0)
        after = max(row.empirical, row.pressure or 0.0)
        if row.key == "transom" and change.power > old_power > 0:
            after *= (change.power / old_power) ** 0.5
        if row.key == "chain-plates" and not change.chain_plates:
            continue
        if row.key == "chain-plates":
            before = max(now["side"].empirical, now["side"].pressure or 0.0)
        if after > before * 1.005:
            reach = RUN_OUT * (after - before) + WHOLE / 2 if row.key in RUNS_OUT else None
            made.append(Lighter(row.key, row.name, before, after, reach))
    return tuple(sorted(made, key=lambda r: r.now - r.then))


def applies(boat: Boat) -> str:
    """Where neither rule may be used, in words; empty where they may."""
    size = size_of(boat)
    faults = []
    if not LEAST_SN <= size.number <= MOST_SN:
        faults.append(
            f"the empirical number is {fixed(size.number, 2)}, and the rule knows {general(LEAST_SN)} to "
            f"{general(MOST_SN)}"
        )
    if not 2.5 <= size.length <= 24:
        faults.append("the pressure rule is for boats of 2.5 to 24 m")
    if boat.category is None:
        faults.append(f"no design category is stated; C is taken ({general(CATEGORY['C'])})")
    return "; ".join(faults)


def plies_of(thickness: float, fabric: str, shelf: Shelf, resin: str) -> tuple[int, float]:
    """How many layers of a cloth by hand make a thickness, and one layer's thickness, m."""
    from ribpatch.core.laminate.ply import ply_of
    from ribpatch.core.laminate.stack import plies_for

    one = ply_of(shelf.fabric(fabric), shelf.resin(resin).density, "hand", shelf).thickness
    return plies_for(thickness, one), one
