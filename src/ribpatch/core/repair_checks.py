"""Warnings of Open and Rebuild: what must be seen to first, where cut and taper do not fit, what a laminate lacks."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.geometry import polygon_of
from ribpatch.core.laminate.comparison_figures import worry
from ribpatch.core.laminate.match import flags_of
from ribpatch.core.numerals import fixed
from ribpatch.core.patch.access.before import checklist
from ribpatch.core.patch.access.sides import from_above
from ribpatch.core.patch.bonding.protocol import bond_plan, sittings
from ribpatch.core.patch.repair import Patch, to_reach
from ribpatch.core.patch.tabbing import tab_section
from ribpatch.core.patch.taper import NO_TAPER
from ribpatch.core.text import together
from ribpatch.core.units import Kind, shown, shown_beside
from ribpatch.core.zone_axes import facing_words

if TYPE_CHECKING:
    from collections.abc import Iterator

    from ribpatch.core.job import Zone
    from ribpatch.core.laminate.comparison import LaminateComparison
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.notice import Notice, NoticeBuilder
    from ribpatch.core.patch.bonding.figures import Joint
    from ribpatch.core.patch.taper import Band, Tight
    from ribpatch.core.scheme import Tabbing

LEAST_RATIO = 8  # below the lowest school a tight place is grave


def opening_notices(told: NoticeBuilder, zone: Zone, patch: Patch, shelf: Shelf) -> Iterator[Notice]:
    """Warnings of Open."""
    cut, band, scheme = patch.cut, patch.band, zone.scheme
    if cut.region.is_empty:
        return
    for seen in checklist(zone, patch, shelf):
        if seen.open:
            yield told.add(
                "open",
                "before.item",
                f"before.{seen.item.id}",
                seen.item.text,
                "Tick it with a note once it is seen to.",
                seen.item.group == "support",
            )
    yield from _cutting(told, zone, patch, shelf)
    for name in band.removed:
        yield told.add(
            "open",
            "cut",
            f"out.{name}",
            f"In the cut, to come out first: {name}.",
            "Unload it, then unbolt it.",
        )
    yield from _tight(told, zone, band)
    zone_area = polygon_of(zone.outline).area
    if band.outer.area > 0.98 * zone_area and zone_area > cut.region.area:
        best = shown(max(band.least_ratio, 0), Kind.RATIO, told.system)
        yield told.add(
            "open",
            "taper",
            "whole-panel",
            f"The taper takes up the whole panel. The largest ratio that fits all round is {best}.",
            "Choose a smaller ratio, or renew the whole skin.",
            True,
        )
    if scheme.access.side == "inside" and zone.build.inner is None:
        yield told.add(
            "open",
            "side",
            "no-inner",
            "There is no inner skin here; the outer skin is planned.",
            "Choose the outer skin.",
        )
    if scheme.access.side == "above" and not from_above(zone):
        yield told.add(
            "open",
            "side",
            "no-above",
            "Opening from above between standing skins is for cored transoms and stringers; here it is as from "
            "outside.",
            "Choose outside or inside.",
        )


def _tight(told: NoticeBuilder, zone: Zone, band: Band) -> Iterator[Notice]:
    """Where the taper does not fit: a warning for each thing in its way, on which sides and with how much room."""
    sides, taper = facing_words(zone.kind), zone.scheme.taper
    groups: dict[tuple[str, bool], list[Tight]] = {}
    for tight in band.tight:
        groups.setdefault((tight.against, tight.ratio < NO_TAPER), []).append(tight)
    for number, ((against, none), found) in enumerate(groups.items(), 1):
        worst = min(found, key=lambda t: t.ratio)
        where = together(tuple(dict.fromkeys(sides[t.facing] for t in found)))
        run = shown(sum(t.length for t in found), Kind.LENGTH, told.system)
        ratio = shown_beside(worst.ratio, taper.ratio_at(worst.facing), Kind.RATIO, told.system)
        text = (
            f"The cut line meets {against} ({where}; {run} of it): no taper fits."
            if none
            else f"Only {ratio} fits against {against} ({where}), over {run} of the cut line."
        )
        clears = "Choose that ratio, move the cut line or the fitting, step the taper, or add a local doubler."
        if none:
            clears = "End the cut there with tabs or laps onto what it meets, or move the cut line or the fitting."
        yield told.add("open", "taper", f"tight.{number}", text, clears, worst.ratio < LEAST_RATIO)


def _cutting(told: NoticeBuilder, zone: Zone, patch: Patch, shelf: Shelf) -> Iterator[Notice]:
    cut, scheme = patch.cut, zone.scheme
    if scheme.cut.radius.si < shelf.rule("corner.least"):
        least = shown(shelf.rule("corner.least"), Kind.SIZE, told.system)
        yield told.add(
            "open",
            "cut",
            "sharp",
            "Sharp corners raise the stress and start cracks, inside corners most of all.",
            f"Give the corners a radius of {least} or more.",
        )
    if scheme.access.part_depth and patch.pit is None:
        yield told.add(
            "open",
            "depth",
            "no-depth",
            "No depth has been noted yet: nothing can be ground or filled on paper.",
            "Note how deep the damage goes in a few places.",
            True,
        )
    if cut.missed > 1e-4:
        left = shown(cut.missed, Kind.AREA, told.system)
        yield told.add(
            "open",
            "cut",
            "missed",
            f"The cut line leaves {left} of the bad area in place.",
            "Drag it out, or go back to the rule.",
            True,
        )
    if cut.trimmed:
        yield told.add(
            "open",
            "cut",
            "trimmed",
            "The cut line would run past the zone's edge and stops there.",
            "Enlarge the zone, or cut the edge out with it.",
        )


def _thickness(told: NoticeBuilder, zone: Zone, patch: Patch, shelf: Shelf) -> Iterator[Notice]:
    scheme, stack = zone.scheme, patch.stack
    if from_above(zone):
        return  # both skins stay
    if not stack.plies:
        yield told.add(
            "rebuild",
            "plies",
            "no-plies",
            "No plies are chosen.",
            "Add plies to reach the old skin's thickness.",
            True,
        )
        return
    wanted = to_reach(zone, patch)
    if wanted <= 0:
        return
    ratio = stack.thickness / wanted
    if ratio < 0.999:
        short = shown(wanted - stack.thickness, Kind.SIZE, told.system)
        yield told.add(
            "rebuild",
            "plies",
            "thin",
            f"The new laminate is {short} thinner than what it replaces.",
            "Add plies or a heavier fabric.",
            True,
        )
    elif stack.thickness > wanted * shelf.rule("hard.surplus") + scheme.laminate.crown.si:
        over = shown(stack.thickness - wanted, Kind.SIZE, told.system)
        yield told.add(
            "rebuild",
            "plies",
            "proud",
            f"The new laminate stands {over} proud: a hard spot, and fairing far out.",
            "Take a ply out, or state the crown that is meant.",
        )


def laminate_notices(
    told: NoticeBuilder,
    zone: Zone,
    patch: Patch,
    comparison: LaminateComparison | None,
    joint: Joint | None,
    year: int | None,
    shelf: Shelf,
) -> Iterator[Notice]:
    """Warnings of the plies and bonds of Rebuild."""
    if patch.cut.region.is_empty:
        return
    yield from _thickness(told, zone, patch, shelf)
    if comparison is not None and (patch.outlines or comparison.standing):
        yield from _matching(told, comparison, shelf)
    if comparison is not None and patch.outlines:
        yield from _laying(told, zone, patch, shelf)
    yield from _mat(told, zone, patch, shelf)
    if joint is not None and joint.preparation.factor < 1:
        yield told.add(
            "open",
            "taper",
            "preparation",
            f"{joint.preparation.name[0].upper()}{joint.preparation.name[1:]}: the bond keeps only "
            f"{joint.preparation.factor:.0%} of its strength.",
            joint.preparation.steps[-1],
        )
    yield from _bonds(told, zone, patch, year, shelf)
    yield from _tabbing(told, zone, patch, shelf)


def _matching(told: NoticeBuilder, comparison: LaminateComparison, shelf: Shelf) -> Iterator[Notice]:
    for flag in () if comparison.standing else flags_of(comparison.skin.new, shelf):
        yield told.add(
            "rebuild",
            "laminate",
            f"flag.{flag.key}",
            f"The new laminate {flag.words}.",
            "Order the plies alike about the middle, or balance them.",
        )
    least, most = shelf.rule("match.least"), shelf.rule("hard.surplus")
    held = (comparison.panel or comparison.skin).held
    worries = [
        (h, why) for h in held if (why := worry(h, least, most)) and h.key not in ("stiff.shear", "weight", "thickness")
    ]
    who = "The panel" if comparison.panel else "The laminate"
    for kind in ("softer", "weaker", "a hard spot"):
        found = [h for h, why in worries if why.startswith(kind)]
        if found:
            worst = min(found, key=lambda h: h.ratio) if kind != "a hard spot" else max(found, key=lambda h: h.ratio)
            words = "a hard spot" if kind == "a hard spot" else f"{kind} than it was"
            names = ", ".join(h.name for h in found[:3])
            yield told.add(
                "rebuild",
                "laminate",
                f"match.{kind.split()[-1]}",
                f"{who} is {words}: {names}, down to {worst.ratio:.0%}."
                if kind != "a hard spot"
                else f"{who} makes a hard spot: {names}, up to {worst.ratio:.0%}.",
                "See Laminate below the plan; Suggest looks for stacks that match.",
                worst.ratio < 0.8,
            )


def _laying(told: NoticeBuilder, zone: Zone, patch: Patch, shelf: Shelf) -> Iterator[Notice]:
    heavy = [p.number for p in patch.stack.plies if p.ply.weight > shelf.rule("overhead.most")]
    if zone.scheme.laying.overhead and heavy:
        numbers = ", ".join(map(str, heavy[:4]))
        most = shown(shelf.rule("overhead.most"), Kind.AREAL, told.system)
        yield told.add(
            "rebuild",
            "plies",
            "overhead",
            f"Too heavy to wet overhead: ply {numbers} weighs over {most} wet.",
            "Lay lighter cloth, more of it, or wet it on the bench.",
        )
    count = sittings(zone, patch, shelf)
    if count > 1:
        thick = shown(shelf.rule("sitting.thick"), Kind.SIZE, told.system)
        most = f"{fixed(shelf.rule('sitting.most'), 0)} plies or {thick}"
        yield told.add(
            "rebuild",
            "plies",
            "sittings",
            f"Too much for one sitting: at most {most}, so {count} sittings.",
            "Let the heat out between them; the green window decides whether you sand.",
        )


def _mat(told: NoticeBuilder, zone: Zone, patch: Patch, shelf: Shelf) -> Iterator[Notice]:
    resin = shelf.resin(zone.scheme.resin.main)
    mats = [any(layer.kind == "mat" for layer in laid.ply.fabric.layers) for laid in patch.stack.plies]
    if any(mats) and not resin.mat_binder:
        yield told.add(
            "rebuild",
            "plies",
            "mat-epoxy",
            f"Mat is dead weight with {resin.name}: its binder hardly dissolves and it drinks resin.",
            "Choose a stitched fabric without mat.",
        )
    if mats and resin.mat_binder and not mats[0]:
        yield told.add(
            "rebuild",
            "plies",
            "mat-missing",
            f"With {resin.name} the first ply on old laminate should be mat: it beds the cloth and bonds better.",
            "Begin with a ply of mat, or with a fabric that has one.",
        )
    if resin.family != "epoxy" and patch.stack.plies:
        yield told.add(
            "rebuild",
            "resin",
            "secondary",
            f"On old cured laminate {resin.name} makes a weaker secondary bond than epoxy, and shrinks.",
            "Choose an epoxy for what bonds to old laminate, or accept it where it must match.",
        )


def _bonds(told: NoticeBuilder, zone: Zone, patch: Patch, year: int | None, shelf: Shelf) -> Iterator[Notice]:
    for interface in bond_plan(zone, patch, year, shelf):
        if interface.suits is not None and interface.suits.verdict == "no":
            yield told.add(
                "rebuild",
                "resin",
                f"bond.{interface.key}",
                f"{interface.name[0].upper()}{interface.name[1:]}: {interface.suits.reason}.",
                interface.suits.remedy,
                True,
            )


def _tabbing(told: NoticeBuilder, zone: Zone, patch: Patch, shelf: Shelf) -> Iterator[Notice]:
    tabbing: Tabbing | None = zone.scheme.laminate.tabbing
    if tabbing is None and zone.kind == "tabbing run" and patch.stack.plies:
        yield told.add(
            "rebuild",
            "tabbing",
            "flat-tabbing",
            "These plies are planned flat, though this is a tabbed corner.",
            "Lay them as tabbing below: each ply wider than the one under it.",
        )
    if tabbing is None or not patch.stack.plies:
        return
    section = tab_section(patch.stack, tabbing, shelf.rule("tab.times"), shelf.rule("tab.least"))
    if not section.enough:
        leg, least = (shown(v, Kind.SIZE, told.system) for v in (section.leg, section.least))
        yield told.add(
            "rebuild",
            "tabbing",
            "short-leg",
            f"The tabbing laps only {leg}; it should lap {least}.",
            "Lengthen the first leg or the stagger.",
            True,
        )
