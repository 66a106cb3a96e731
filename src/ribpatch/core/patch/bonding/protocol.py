"""The bond plan: every interface of a repair, primary or secondary, how well the two go together, and its steps in
order.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import shapely
from msgspec import Struct

from ribpatch.core.table import Row, Table

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.records import Preparation, Resin
    from ribpatch.core.materials.repair_records import Compatibility
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch

KindOfBond = Literal["primary", "secondary"]


class Interface(Struct, frozen=True, eq=False):
    """One interface: what lies on what, the kind of bond, how the two suit, and the protocol."""

    key: str
    name: str
    kind: KindOfBond
    suits: Compatibility | None
    protocol: Preparation

    @property
    def steps(self) -> tuple[str, ...]:
        """What to do, in order: the remedy of a doubtful pair first."""
        remedy = (self.suits.remedy,) if self.suits and self.suits.remedy else ()
        return (*remedy, *self.protocol.steps)


def compatibility(under: str, over: str, shelf: Shelf) -> Compatibility | None:
    """What is known of one thing over another, or None."""
    return next((c for c in shelf.compatibility if c.under == under and c.over == over), None)


def old_family(zone: Zone, year: int | None, shelf: Shelf) -> str:
    """What the old laminate was laid with: its resin where the plies are known, else its era's."""
    skin = zone.rebuilt_skin
    return shelf.resin(skin.resin if skin.plies else shelf.era(skin.era, year).resin).family


def bond_plan(zone: Zone, patch: Patch, year: int | None, shelf: Shelf) -> tuple[Interface, ...]:
    """Every interface of the repair from the inside out; empty where nothing is cut."""
    if patch.cut.region.is_empty:
        return ()
    resin = shelf.resin(zone.scheme.resin.main)
    old = compatibility(old_family(zone, year, shelf), resin.family, shelf)
    ground = shelf.preparation(zone.scheme.bond.preparation)
    bed = shelf.resin(zone.scheme.resin.bedding or zone.scheme.resin.main)
    under = compatibility(old_family(zone, year, shelf), bed.family, shelf)
    rows = [*_core(zone, patch, under, ground, shelf)]
    if patch.backing is not None:
        rows.append(Interface("backing", "backing strips under the old skin", "secondary", old, ground))
    if patch.saved is not None:
        rows.append(Interface("saved", "saved skin back onto its bed", "secondary", old, ground))
    if patch.outlines:
        rows.append(Interface("scarf", "first ply on the taper of the old laminate", "secondary", old, ground))
        rows.append(_between(zone, shelf))
        rows += _changes(zone, len(patch.stack.plies), shelf)
    if patch.second is not None and patch.second.outlines:
        rows.append(Interface("second", "first ply on the other face's taper", "secondary", old, ground))
    rows += [
        Interface(f"part.{p.id}", f"{p.name} onto the old laminate", "secondary", old, ground)
        for p in zone.scheme.parts
    ]
    later = zone.scheme.resin.later
    last = shelf.resin(zone.scheme.resin.of_ply(len(patch.stack.plies)))
    rows += [
        Interface(f"pad.{p.pad.id}", f"{p.pad.name} where it reaches past the plies", "secondary", old, ground)
        for p in patch.pads
        if p.outlines and p.outlines[0].region.difference(shapely.union_all([o.region for o in patch.outlines])).area
    ]
    finish = compatibility(shelf.resin(later).family if later else last.family, "gelcoat", shelf)
    rows.append(
        Interface("finish", "gelcoat or paint over the repair", "secondary", finish, shelf.preparation("under-gelcoat"))
    )
    if later is not None:
        pair = compatibility(last.family, shelf.resin(later).family, shelf)
        name = f"{shelf.resin(later).name} over {last.name}"
        rows.append(Interface("later", name, "secondary", pair, cured_protocol(zone, shelf)))
    return tuple(rows)


def _changes(zone: Zone, plies: int, shelf: Shelf) -> list[Interface]:
    """Where one resin goes over another between two plies, or over another bedding."""
    choice, rows = zone.scheme.resin, []
    main = shelf.resin(choice.main)
    if choice.bedding not in (None, choice.main):
        bed = shelf.resin(choice.bedding)
        pair = compatibility(bed.family, main.family, shelf)
        rows.append(
            Interface(
                "bedding", f"{main.name} over beds and fillets of {bed.name}", "secondary", pair, _cured(bed, shelf)
            )
        )
    under = main
    for change in choice.sittings:
        over = shelf.resin(change.resin)
        if change.ply <= plies and over is not under:
            pair = compatibility(under.family, over.family, shelf)
            name = f"{over.name} over {under.name}, from ply {change.ply}"
            rows.append(Interface(f"change.{change.ply}", name, "secondary", pair, _cured(under, shelf)))
        under = over
    return rows


def _cured(resin: Resin, shelf: Shelf) -> Preparation:
    """How a cured resin is made ready for the next: washed first where it blushes."""
    return shelf.preparation("cured-wash" if resin.blushes else "cured")


def _core(zone: Zone, patch: Patch, old: Compatibility | None, ground: Preparation, shelf: Shelf) -> list[Interface]:
    if not (zone.build.core and zone.scheme.core.material and zone.scheme.core.thickness and patch.through):
        return []
    bed = Interface("bed", "bedding on the inside of the other skin", "secondary", old, ground)
    core = Interface("core", "new core into its wet bedding", "primary", None, shelf.preparation("core-face"))
    if not patch.outlines:
        return [bed, core]
    green = zone.scheme.laying.between == "green"
    over = Interface(
        "over-core",
        "first ply on the new core",
        "primary" if green else "secondary",
        None,
        shelf.preparation("core-face") if green else cured_protocol(zone, shelf),
    )
    return [bed, core, over]


def cured_protocol(zone: Zone, shelf: Shelf) -> Preparation:
    """How the cured resin of the scheme is made ready for the next: washed first where it blushes."""
    return _cured(shelf.resin(zone.scheme.resin.main), shelf)


def _between(zone: Zone, shelf: Shelf) -> Interface:
    if zone.scheme.laying.between == "green":
        return Interface("plies", "ply on ply", "primary", None, shelf.preparation("green"))
    return Interface("plies", "ply on ply", "secondary", None, cured_protocol(zone, shelf))


def sittings(zone: Zone, patch: Patch, shelf: Shelf) -> int:
    """In how many sittings the plies are laid: limited by their count and their thickness together."""
    if not patch.stack.plies:
        return 0
    count, thick, sat = 0, 0.0, 1
    for laid in patch.stack.plies:
        if count + 1 > shelf.rule("sitting.most") or thick + laid.ply.thickness > shelf.rule("sitting.thick"):
            sat, count, thick = sat + 1, 0, 0.0
        count, thick = count + 1, thick + laid.ply.thickness
    return sat


def coupon_test(zone: Zone, shelf: Shelf) -> tuple[str, ...]:
    """What to try before another resin goes on; empty where none does."""
    choice = zone.scheme.resin
    over = choice.later or (choice.sittings[-1].resin if choice.sittings else None)
    if over is None:
        return ()
    first, then = shelf.resin(choice.main), shelf.resin(over)
    return (
        f"Laminate a strip of two plies, 300 × 100 mm, with {first.name}; let it cure as the job did.",
        "Prepare half of it just as the job will be prepared; leave the other half as it came.",
        f"Lay two plies with {then.name} over both halves, the first 60 mm parted by release film; cure as the job "
        "will.",
        "Peel by hand from the parted end. It must tear fibres out of the laminate; a clean face means no bond.",
        "A scratch with a blade in the first hours: tacky or soft where it should be hard means that its cure is "
        "inhibited.",
        "Write down both halves in the notes; go on only with the preparation that tore fibres.",
    )


def plan_table(interfaces: tuple[Interface, ...]) -> Table:
    """The interfaces one a row; choosing one shows its steps."""
    rows = []
    for n, i in enumerate(interfaces, 1):
        verdict = i.suits.verdict if i.suits else "–"
        mark = "warn" if verdict in ("no", "with care") else ""
        rows.append(
            Row(
                i.key,
                (f"{n}. {i.name}", i.kind, verdict, i.protocol.name),
                mark,
                i.suits.reason if i.suits else i.protocol.reason,
            )
        )
    return Table(("interface", "bond", "together", "preparation"), tuple(rows), empty="Nothing is cut yet.")
