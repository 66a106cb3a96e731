"""What one patch uses, item by item: putties, resin, core and the weight that comes off and goes on.

Every item is an amount times a rate; the figures are made from these in ``supply.figures``. Masses in kg, areas in m2.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.geometry import clean
from ribpatch.core.laminate.comparison import prime_rule
from ribpatch.core.laminate.stack import skin_weight
from ribpatch.core.patch.coring.choice import core_bought
from ribpatch.core.patch.coring.pieces import core_pieces
from ribpatch.core.resin.catalyst import as_mixed
from ribpatch.core.resin.cup import Cups, Mixing, cups_for
from ribpatch.core.scheme import MOST_PLIES
from ribpatch.core.supply.areas import bedded_area, covered_area, plied_area
from ribpatch.core.supply.cloth import Cloth, cloth_for
from ribpatch.core.supply.coats import CoatNeeds, coats_of
from ribpatch.core.supply.consumables import Used, used_up
from ribpatch.core.supply.core_sheets import boxes_of, laid_on_sheets
from ribpatch.core.supply.putties import FAIRING, PuttyUse, putties_of
from ribpatch.core.text import together

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.records import Core, Putty, Resin
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.made_parts import PartMade
    from ribpatch.core.patch.plies import PlyOutline
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.scheme import ResinChoice, Scheme
    from ribpatch.core.supply.consumables import Basis


class ResinUse(Struct, frozen=True):
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


class Batch(Struct, frozen=True, eq=False):
    """All that is mixed of one resin: as it is mixed in this shed, what for, and in which cups."""

    resin: Resin
    uses: tuple[ResinUse, ...]
    cups: Cups


class Needs(Struct, frozen=True, eq=False):
    """Everything one patch uses and gives up. The first batch is of the resin that is laid first."""

    cloth: tuple[Cloth, ...]
    putty: Putty
    putties: tuple[PuttyUse, ...]
    batches: tuple[Batch, ...]
    core: Core | None
    core_area: float
    core_mass: float
    core_bought: float  # kg, with waste
    core_sheets: int
    peel_area: float
    peel_bought: float
    off: tuple[tuple[str, str, float], ...]  # key, name, kg
    on: tuple[tuple[str, str, float], ...]
    timber: float = 0.0  # kg, of a beam on posts with its posts
    bases: tuple[tuple[Basis, float], ...] = ()  # what is used up is counted by
    used: tuple[Used, ...] = ()  # what is used up beside the material
    coats: tuple[CoatNeeds, ...] = ()  # of the finish

    @property
    def resin(self) -> Resin:
        """The resin that is laid first."""
        return self.batches[0].resin

    @property
    def cups(self) -> Cups:
        """The cups of the resin that is laid first."""
        return self.batches[0].cups

    @property
    def uses(self) -> tuple[ResinUse, ...]:
        """What resin is used for, of all batches."""
        return tuple(use for batch in self.batches for use in batch.uses)

    @property
    def resin_net(self) -> float:
        """Mixed resin that is laid, kg."""
        return sum(use.mass for use in self.uses)


def needs_of(zone: Zone, patch: Patch, parts: tuple[PartMade, ...], temperature: float, shelf: Shelf) -> Needs:
    """What a zone's patch uses; shed temperature in degC."""
    scheme, area = zone.scheme, patch.cut.region.area
    putty = shelf.putty(scheme.resin.putty)
    renewed = scheme.core.material and scheme.core.thickness and area and not scheme.access.part_depth
    core = shelf.core(scheme.core.material) if scheme.core.material and renewed else None
    depth = scheme.core.thickness.si if core and scheme.core.thickness else 0.0
    putties = putties_of(zone, patch, parts, depth, putty, shelf)
    blanks = tuple(o for p in parts for o in p.outlines)
    peel_area = covered_area(patch) if scheme.laying.peel_ply else 0.0
    choice = scheme.resin
    last = max((o.laid.number for o in patch.outlines), default=1)
    rows: list[tuple[str, ResinUse]] = [
        *_resin_in_plies(zone, patch, blanks, core, shelf),
        *((choice.bedding or choice.main, use) for use in _core_faces(patch, core, depth, shelf)),
        *_putty_resin(putties, choice),
        *((choice.of_ply(last), use) for use in _peel_resin(peel_area, shelf)),
    ]
    batches = _batches(rows, scheme, temperature, shelf)
    uses = tuple(use for batch in batches for use in batch.uses)
    core_mass = _core_mass(zone, patch, core, depth, shelf) if core else 0.0
    timber = timber_mass(zone.scheme, shelf)
    core_area = area * (1 + (0.0 if core.poured else shelf.rule("core.waste"))) if core else 0.0
    bases = _bases(zone, patch, blanks, sum(b.cups.count for b in batches))
    return Needs(
        cloth=cloth_for(patch.all_outlines, shelf, blanks),
        putty=putty,
        putties=putties,
        batches=batches,
        core=core,
        core_area=core_area,
        core_mass=core_mass,
        core_bought=core_bought(core, area, depth, shelf) if core else 0.0,
        core_sheets=_sheets(zone, patch, shelf) if core else 0,
        peel_area=peel_area,
        peel_bought=peel_area * (1 + shelf.rule("cloth.waste")),
        off=_off(zone, patch, core is not None, shelf),
        on=(*_on(patch, parts, uses, putties, core_mass), ("timber", "beam on posts", timber)),
        timber=timber,
        bases=tuple(bases.items()),
        used=used_up(bases, shelf),
        coats=_coats(zone, patch, temperature, shelf),
    )


def _coats(zone: Zone, patch: Patch, temperature: float, shelf: Shelf) -> tuple[CoatNeeds, ...]:
    """What the finish takes on what is faired and as much round it as it takes to blend in."""
    area = covered_area(patch) * (1 + shelf.rule("finish.blend")) if patch.all_outlines else 0.0
    if zone.finish.system is None or not area:
        return ()
    return coats_of(shelf.finish(zone.finish.system), area, temperature)


def _bases(zone: Zone, patch: Patch, blanks: tuple[PlyOutline, ...], cups: int) -> dict[Basis, float]:
    """What the things that are used up are counted by, for one zone."""
    laid = sum(o.region.area for o in (*patch.all_outlines, *blanks))
    ground = covered_area(patch) if patch.all_outlines else 0.0
    bagged = ground if zone.scheme.laying.process in ("bag", "infusion") else 0.0
    edge = float(patch.cut.region.length)
    works = 1.0 if cups or edge else 0.0
    return {"cup": float(cups), "laid": laid, "ground": ground, "edge": edge, "bagged": bagged, "zone": works}


def _batches(rows: list[tuple[str, ResinUse]], scheme: Scheme, temperature: float, shelf: Shelf) -> tuple[Batch, ...]:
    """Uses by the resin that they take, that of the first ply first; one batch even where nothing is used."""
    grouped: dict[str, list[ResinUse]] = {scheme.resin.main: []}
    for resin, use in rows:
        grouped.setdefault(resin, []).append(use)
    mixing = mixing_of(scheme, temperature)
    made = []
    for resin, uses in grouped.items():
        mixed = as_mixed(shelf.resin(resin), temperature, shelf)
        made.append(Batch(mixed, tuple(uses), cups_for(sum(use.mass for use in uses), mixed, mixing, shelf)))
    return tuple(made)


def _sheets(zone: Zone, patch: Patch, shelf: Shelf) -> int:
    """Whole sheets that the pieces of the new core go on by themselves."""
    pieces = core_pieces(zone, patch, shelf)
    if pieces is None:
        return 0
    return laid_on_sheets(boxes_of(pieces), pieces.core, shelf.rule("saw.kerf")).whole


def mixing_of(scheme: Scheme, temperature: float) -> Mixing:
    """How a scheme's resin is mixed in a shed of ``temperature`` degC."""
    warmed = scheme.resin.warmed
    return Mixing(scheme.resin.vessel, warmed.si if warmed is not None else temperature, temperature)


def timber_mass(scheme: Scheme, shelf: Shelf) -> float:
    """Mass of a timber beam on posts, kg, its two posts counted as half its length."""
    timber = scheme.support.timber
    if timber is None or scheme.support.post is None:
        return 0.0
    return 1.5 * timber.span.si * timber.width.si * timber.height.si * shelf.rule("beam.density")


def _core_mass(zone: Zone, patch: Patch, core: Core, depth: float, shelf: Shelf) -> float:
    """The new core on the boat, kg: without the gap round it and the kerfs in it, which are putty."""
    area = patch.cut.region.area
    if core.poured:
        return core_bought(core, area, depth, shelf)
    net = max(area - patch.cut.region.length * shelf.rule("core.gap"), 0.0)
    kerfs = shelf.rule("kerf.share") if zone.scheme.core.scored else 0.0
    return net * depth * (1 - kerfs) * core.density


def _resin_in_plies(
    zone: Zone,
    patch: Patch,
    blanks: tuple[PlyOutline, ...],
    core: Core | None,
    shelf: Shelf,
) -> list[tuple[str, ResinUse]]:
    choice = zone.scheme.resin
    grouped: dict[str, list[tuple[str, PlyOutline]]] = {}
    for what, laid in _laid_things(patch, blanks):
        for outline in laid:
            # What is laid after all plies takes their last resin.
            number = MOST_PLIES if what == LOCAL else outline.laid.number
            grouped.setdefault(choice.of_ply(number), []).append((what, outline))
    uses: list[tuple[str, ResinUse]] = []
    for n, (resin, rows) in enumerate(grouped.items(), 1):
        area = sum(o.region.area for _, o in rows)
        wet = sum(o.region.area * o.laid.ply.resin for _, o in rows)
        if area:
            key = "plies" if n == 1 else f"plies.{n}"
            name = "resin in the plies" if len(grouped) == 1 else f"resin in {_plies(rows)}"
            uses.append((resin, ResinUse(key, name, area, wet / area, "", True)))
    bedded, plied = bedded_area(zone, patch, core is not None), plied_area(zone, patch, core is not None)
    if bedded + plied and (uses or core or patch.saved):
        rate = shelf.rule("prime.laminate")
        for key, name, area, resin in (
            ("prime", "prime coat under the first plies", plied, choice.main),
            ("prime.bed", "prime coat under the bed of the core", bedded, choice.bedding or choice.main),
        ):
            if area:
                uses.append((resin, ResinUse(key, name, area, rate, "prime.laminate", True)))
    return uses


MAIN, OTHER_FACE, BACKING, LOCAL, PARTS = "plies", "the other face", "backing strips", "local plies", "made parts"


def _laid_things(patch: Patch, blanks: tuple[PlyOutline, ...]) -> tuple[tuple[str, tuple[PlyOutline, ...]], ...]:
    """All that is laid, by what it is."""
    return (
        (BACKING, patch.backing.outlines if patch.backing else ()),
        (MAIN, patch.outlines),
        (OTHER_FACE, patch.second.outlines if patch.second else ()),
        (LOCAL, tuple(o for p in patch.pads for o in p.outlines)),
        (PARTS, blanks),
    )


def _plies(rows: list[tuple[str, PlyOutline]]) -> str:
    """What is laid with one resin: the plies of the main face by their numbers, all else by its name."""
    numbers = sorted({o.laid.number for what, o in rows if what == MAIN})
    words = [f"ply {numbers[0]}" if len(numbers) == 1 else f"plies {numbers[0]} to {numbers[-1]}"] if numbers else []
    words += [what for what in (OTHER_FACE, BACKING, LOCAL, PARTS) if any(w == what for w, _ in rows)]
    return together(words)


def _core_faces(patch: Patch, core: Core | None, depth: float, shelf: Shelf) -> list[ResinUse]:
    if core is None or core.poured:
        return []
    rule, faces = prime_rule(core), 2 * patch.cut.region.area + patch.cut.region.length * depth
    return [ResinUse("core-faces", "prime coat on faces and edges of the core", faces, shelf.rule(rule), rule, True)]


def _putty_resin(putties: tuple[PuttyUse, ...], choice: ResinChoice) -> list[tuple[str, ResinUse]]:
    """Resin in putty: what beds and fills takes the resin of the bedding, what fairs the one that is put on later."""
    rows = []
    fair = [use for use in putties if use.key.startswith(FAIRING)]
    beds = [use for use in putties if not use.key.startswith(FAIRING)]
    for key, name, uses, resin in (
        ("putty", "resin in the putty", beds, choice.bedding or choice.main),
        ("fairing", "resin in the fairing putty", fair, choice.later or choice.of_ply(MOST_PLIES)),
    ):
        mass = sum(use.mass for use in uses)
        if mass:
            rows.append((resin, ResinUse(key, name, mass, sum(use.resin for use in uses) / mass, "", True)))
    return rows


def _peel_resin(area: float, shelf: Shelf) -> list[ResinUse]:
    rule = "peel.uptake"
    return [ResinUse("peel", "resin taken by peel ply", area, shelf.rule(rule), rule, False)] if area else []


def _off(zone: Zone, patch: Patch, core_out: bool, shelf: Shelf) -> tuple[tuple[str, str, float], ...]:
    skin = zone.rebuilt_skin
    area, density = patch.cut.region.area, shelf.rule("old.skin.density")
    skins = patch.face.opening.region.area * skin_weight(skin, shelf) if patch.through else 0.0
    behind = zone.other_skin
    if patch.second is not None and behind is not None:
        skins += patch.second.opening.region.area * skin_weight(behind, shelf)
    dust = patch.ground_volume * density if patch.all_outlines else 0.0
    rows = [("skin", "skin cut out", skins), ("dust", "laminate ground off as dust", dust)]
    build = zone.build
    if core_out and build.core:
        old, depth = shelf.core(build.core.core), build.core.thickness.si
        wet = clean(patch.extent.likely.intersection(patch.cut.region)).area
        rows.append(("core", "old core, dry", area * depth * old.density))
        rows.append(("water", "water in the damaged core", wet * depth * old.water * shelf.rule("wet.core.share")))
    return tuple(rows)


def _on(
    patch: Patch,
    parts: tuple[PartMade, ...],
    uses: tuple[ResinUse, ...],
    putties: tuple[PuttyUse, ...],
    core_mass: float,
) -> tuple[tuple[str, str, float], ...]:
    fibre = sum(o.region.area * o.laid.ply.fibre for o in patch.all_outlines)
    fibre += sum(p.part.count * p.area * laid.ply.fibre for p in parts for laid in p.stack.plies)
    # What is trimmed off a made part was laid, and is not on the boat.
    trimmed = sum(p.part.count * (p.blank.area - p.area) * laid.ply.resin for p in parts for laid in p.stack.plies)
    resin = sum(use.mass for use in uses if use.stays) - trimmed
    filler = sum(use.filler for use in putties)
    return (
        ("fibre", "cloth", fibre),
        ("resin", "resin that stays", resin),
        ("core", "new core", core_mass),
        ("filler", "fillers", filler),
    )
