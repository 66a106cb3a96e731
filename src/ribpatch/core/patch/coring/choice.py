"""Cores compared for one zone: thickness that fits, stiffness against the old panel, weight, shear, bolts, water, cost.
SI.

Each core is as thick as the old one less its bedding: in sheets where they come to within a millimetre of it, else
planed from thicker ones; what is left is shimmed with putty. Where the panel is then softer than it was, the extra skin
that makes it up is found by halving. Screening by the same lamination theory.
"""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.figure import Figure, FigureBook, Given
from ribpatch.core.laminate.comparison import LaminateComparison, bed_of, new_core
from ribpatch.core.laminate.layup import scaled
from ribpatch.core.memo import remembered
from ribpatch.core.numerals import fixed, general, in_words
from ribpatch.core.patch.access.sides import from_above
from ribpatch.core.patch.coring.pieces import layers_of
from ribpatch.core.patch.coring.work import crushing, pour_mass
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.laminate.sandwich import Sandwich
    from ribpatch.core.materials.records import Core
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch

MOST_LAYERS = 4  # of sheets bonded together
BED_TAKES = 0.001  # m, that a bed can be thicker than it is stated; more is made up by planing a thicker sheet
MOST_SKIN = 3.0  # times the new skin: beyond it another core is the answer
COLUMNS = (
    "core",
    "sheet",
    "shim",
    "bend",
    "skin to add",
    "shear",
    "weight",
    "water",
    "bolts",
    "cost",
    "sheets",
)


class CoreChoice(Struct, frozen=True):
    """One core in this zone. Lengths m, weights kg, ratios new over old; ``extra`` skin in m, None where more cannot do
    it.
    """

    core: Core
    thickness: float
    shim: float
    bend: float
    extra: float | None
    shear: float
    shear_stiffness: float
    weight: float
    water: float
    bolts: float | None  # pressure under fittings over compressive strength
    cost: float | None
    sheets: int


def sheet_for(core: Core, room: float) -> float:
    """The thickness of a core for ``room`` m: the thickest of like sheets, one on another, where the bed takes up what
    is left; else as many sheets as it takes, the last planed to fit. All of it where the core is poured.
    """
    if not core.thicknesses:
        return room
    fitting = [n * t for t in core.thicknesses for n in range(1, MOST_LAYERS + 1) if n * t <= room + 1e-4]
    best, most = max(fitting, default=0.0), MOST_LAYERS * max(core.thicknesses)
    return best if room - best <= BED_TAKES else min(room, most)


def core_bought(core: Core, area: float, thickness: float, shelf: Shelf) -> float:
    """Mass of core to buy for an area m2, kg: sheets with their waste, or what is poured with its over-pack."""
    if core.poured:
        return pour_mass(area * thickness, core.density, shelf.rule("pour.pack"))
    return area * (1 + shelf.rule("core.waste")) * thickness * core.density


def core_sheets(core: Core, area: float, thickness: float, shelf: Shelf) -> int:
    """About how many sheets to buy for an area m2 in as many layers as it takes; none of a core that is poured."""
    if core.poured:
        return 0
    layers, _ = layers_of(core, thickness)
    return ceil(layers * area * (1 + shelf.rule("core.waste")) / (core.sheet[0] * core.sheet[1]) - 1e-9)


@remembered(64)
def core_choices(zone: Zone, patch: Patch, comparison: LaminateComparison, shelf: Shelf) -> tuple[CoreChoice, ...]:
    """Every core of the shelf; empty where the zone has no core or its panel is not a sandwich."""
    old = zone.build.core
    if old is None or comparison.old_sandwich is None:
        return ()
    return tuple(
        _choice(core, old.thickness.si, zone, patch, comparison.old_sandwich, comparison, shelf) for core in shelf.cores
    )


def _choice(
    core: Core, room: float, zone: Zone, patch: Patch, before: Sandwich, comparison: LaminateComparison, shelf: Shelf
) -> CoreChoice:
    beds = bed_of(zone.scheme, core) * (2 if from_above(zone) else 1)
    thickness = sheet_for(core, max(room - beds, 1e-3))
    new = new_core(zone.scheme, core.id, thickness, room, from_above(zone), shelf)
    panel = new.panel(before.below, comparison.skin.new)
    goal = min(before.layup.plate.bending)
    bend = float(min(panel.layup.plate.bending / before.layup.plate.bending))
    area = patch.cut.region.area
    price = shelf.price(core.id)
    bought = core_bought(core, area, thickness, shelf)
    return CoreChoice(
        core,
        thickness,
        new.shim,
        bend,
        0.0 if bend >= 1 else _extra_skin(panel, float(goal)),
        panel.shear_strength / before.shear_strength,
        panel.shear_stiffness / before.shear_stiffness,
        area * thickness * core.density,
        area * thickness * core.water,
        _bolts(zone, core, shelf),
        None if price is None else bought * price.price,
        core_sheets(core, area, thickness, shelf),
    )


def _extra_skin(panel: Sandwich, goal: float) -> float | None:
    """Skin to add in m so that the panel's softer way bends as the old one did."""
    first = panel.above.thickness

    def short(times: float) -> bool:
        made = replace(panel, above=scaled(panel.above, first * times))
        return float(min(made.layup.plate.bending)) < goal

    if short(MOST_SKIN):
        return None
    low, high = 1.0, MOST_SKIN
    for _ in range(20):
        middle = (low + high) / 2
        low, high = (middle, high) if short(middle) else (low, middle)
    return first * (high - 1)


def _bolts(zone: Zone, core: Core, shelf: Shelf) -> float | None:
    """Worst pressure under the fittings that have a pull, over what the core may carry; None where none has."""
    return max(
        (crushing(f.pull.si, f.shape.area, core, shelf) for f in zone.fittings if f.pull is not None), default=None
    )


def core_table(choices: tuple[CoreChoice, ...], zone: Zone, shelf: Shelf, prefix: str) -> Table:
    """The cores with their figures, old kind and the one chosen marked."""
    rows = [_row(choice, zone, shelf, prefix) for choice in choices]
    note = (
        "Bending, shear: new over old panel. Under bolts: pressure of the fittings that have a pull stated, over what "
        "the core may "
        "carry; over 100 % it wants an insert. "
        "Screening: a core's data sheet goes before these typical values."
    )
    return Table(
        COLUMNS,
        tuple(rows),
        note,
        "Use",
        "Cores are compared under the new skin: choose plies first. A solid laminate has none to compare.",
    )


def _row(c: CoreChoice, zone: Zone, shelf: Shelf, prefix: str) -> Row:
    book = FigureBook(f"{prefix}.core.{c.core.id}")
    given = (Given("core", c.core.name, None, shelf.origin(c.core.id), note=c.core.reason),)
    theory = "lamination theory with the core as a thick layer"

    def add(key: str, name: str, value: float, kind: Kind, how: str, source: str = "[17]") -> Figure:
        return book.add(key, name, value, kind, how, given, source=source, valid="screening")

    annulus = "; needs an annulus or insert at fasteners" if c.core.annulus else ""
    cells = (
        c.core.name,
        add(
            "thickness",
            "sheet",
            c.thickness,
            Kind.SIZE,
            "old core − beds: in like sheets, else planed from thicker ones",
            "",
        ),
        add(
            "shim",
            "shim",
            max(c.shim, 0.0),
            Kind.SIZE,
            "old core − beds − sheet; thickened putty or a thinner sheet with it",
            "",
        ),
        add("bend", "bending stiffness, new ÷ old", c.bend, Kind.PERCENT, theory, "[15]"),
        "too much"
        if c.extra is None
        else add(
            "extra",
            "extra skin to match",
            c.extra,
            Kind.SIZE,
            "skin added until it bends as before, the softer way",
            "[15]",
        ),
        add(
            "shear", "core shear strength, new ÷ old", c.shear, Kind.PERCENT, "core shear strength × distance of skins"
        ),
        add("weight", "weight of core", c.weight, Kind.MASS, "cut area × sheet × density", ""),
        add("water", "water it can hold", c.water, Kind.MASS, "cut area × sheet × water of a soaked core", ""),
        "–"
        if c.bolts is None
        else add(
            "bolts",
            "pressure under fittings ÷ strength",
            c.bolts,
            Kind.PERCENT,
            "pull × preload ÷ footprint ÷ compressive strength",
            "",
        ),
        "–" if c.cost is None else add("cost", "cost", c.cost, Kind.MONEY, "core to buy × price", ""),
        "poured" if c.core.poured else str(c.sheets),
    )
    chosen = zone.scheme.core.material == c.core.id
    soft = c.extra is None or (c.bolts is not None and c.bolts > 1)
    sheet = "" if c.core.poured else f"; sheets {general(c.core.sheet[0])} × {general(c.core.sheet[1])} m"
    why = f"{in_words(c.core.reason)}{sheet}; screws: {c.core.screws}{annulus}; up to {fixed(c.core.temperature, 0)} °C"
    return Row(c.core.id, cells, "chosen" if chosen else "warn" if soft else "", why)
