"""Warnings: what does not fit, is missing or will bite later. Each names its decision and what would clear it."""

from __future__ import annotations

from collections.abc import Iterator

from ribpatch.core.geometry import polygon_of
from ribpatch.core.job import Job, ShedAir, Zone
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.notice import Notice, Teller
from ribpatch.core.patch.repair import Patch
from ribpatch.core.resin.air import dew_point
from ribpatch.core.supply.needs import Needs
from ribpatch.core.survey_checks import cause_notices, survey_notices
from ribpatch.core.units import Kind, System, shown


def zone_notices(
    zone: Zone, patch: Patch, needs: Needs, air: ShedAir, shelf: Shelf, system: System
) -> tuple[Notice, ...]:
    """All warnings of one zone."""
    told = Teller(zone.id, system)
    return (
        *survey_notices(told, zone, patch, shelf),
        *cause_notices(told, zone, patch, shelf),
        *_fittings(told, zone),
        *_opening(told, zone, patch),
        *_stack(told, zone, patch, shelf),
        *_core(told, zone, patch),
        *_resin(told, zone, needs, air, shelf),
    )


def _fittings(told: Teller, zone: Zone) -> Iterator[Notice]:
    outline = polygon_of(zone.outline)
    for fitting in zone.fittings:
        if not fitting.shape.intersects(outline):
            yield told.say(
                "boat",
                "fittings",
                f"fitting.{fitting.id}.outside",
                f"{fitting.name} lies outside the zone's outline.",
                "Correct its place or the outline.",
            )
        elif fitting.sealed is False and zone.build.core is not None and fitting.holes:
            yield told.say(
                "boat",
                "fittings",
                f"fitting.{fitting.id}.unsealed",
                f"{fitting.name}: holes through the core ({fitting.holes}) are not sealed and let water in.",
                "Overdrill, fill with putty, redrill and seal when it goes back.",
            )
    for edge in zone.edges:
        if edge.side >= len(zone.outline):
            yield told.say(
                "boat",
                "edges",
                f"edge.{edge.side}",
                f"{edge.name} is set on side {edge.side + 1}, which the outline does not have.",
                f"Choose a side from 1 to {len(zone.outline)}.",
            )


def _opening(told: Teller, zone: Zone, patch: Patch) -> Iterator[Notice]:
    cut, band, scheme = patch.cut, patch.band, zone.scheme
    if cut.region.is_empty:
        return
    yield told.say(
        "open",
        "before",
        "support",
        "Before cutting: support and unload what this zone carries, and disconnect what runs behind it.",
        "Cannot be cleared here: check it on the boat.",
    )
    if cut.missed > 1e-4:
        left = shown(cut.missed, Kind.AREA, told.system)
        yield told.say(
            "open",
            "cut",
            "missed",
            f"The cut line leaves {left} of the bad area in place.",
            "Drag it out, or go back to the rule.",
            True,
        )
    if cut.trimmed:
        yield told.say(
            "open",
            "cut",
            "trimmed",
            "The cut line would run past the zone's edge and stops there.",
            "Enlarge the zone, or cut the edge out with it.",
        )
    for name in band.removed:
        yield told.say(
            "open",
            "cut",
            f"out.{name}",
            f"In the cut, to come out first: {name}.",
            "Unload it, then unbolt it.",
        )
    for number, tight in enumerate(band.tight, 1):
        ratio = shown(tight.ratio, Kind.RATIO, told.system)
        run = shown(tight.length, Kind.LENGTH, told.system)
        where = f"against {tight.against}"
        text = (
            f"The cut line meets {tight.against}: no taper fits."
            if tight.ratio < 0.05
            else f"Only {ratio} fits {where}, over {run} of the cut line."
        )
        yield told.say(
            "open",
            "taper",
            f"tight.{number}",
            text,
            "Choose that ratio, move the cut line or the fitting, step the taper, or add a local doubler.",
            tight.ratio < 8,
        )
    zone_area = polygon_of(zone.outline).area
    if band.outer.area > 0.98 * zone_area and zone_area > cut.region.area:
        best = shown(max(band.least_ratio, 0), Kind.RATIO, told.system)
        yield told.say(
            "open",
            "taper",
            "whole-panel",
            f"The taper takes up the whole panel. The largest ratio that fits all round is {best}.",
            "Choose a smaller ratio, or renew the whole skin.",
            True,
        )
    if scheme.side == "inside" and zone.build.inner is None:
        yield told.say(
            "open",
            "side",
            "no-inner",
            "There is no inner skin here; the outer skin is planned.",
            "Choose the outer skin.",
        )


def _stack(told: Teller, zone: Zone, patch: Patch, shelf: Shelf) -> Iterator[Notice]:
    scheme, stack = zone.scheme, patch.stack
    if patch.cut.region.is_empty:
        return
    if not stack.plies:
        yield told.say(
            "rebuild", "plies", "no-plies", "No plies are chosen.", "Add plies to reach the old skin's thickness.", True
        )
        return
    wanted = scheme.target.si if scheme.target else patch.band.thickness
    ratio = stack.thickness / wanted
    if ratio < 0.999:
        short = shown(wanted - stack.thickness, Kind.SIZE, told.system)
        yield told.say(
            "rebuild",
            "plies",
            "thin",
            f"The new laminate is {short} thinner than what it replaces.",
            "Add plies or a heavier fabric.",
            True,
        )
    elif ratio > shelf.rule("hard.surplus"):
        over = shown(stack.thickness - wanted, Kind.SIZE, told.system)
        yield told.say(
            "rebuild",
            "plies",
            "proud",
            f"The new laminate stands {over} proud: a hard spot, and fairing far out.",
            "Take a ply out.",
        )
    resin = shelf.resin(scheme.resin)
    has_mat = any(layer.kind == "mat" for laid in stack.plies for layer in laid.ply.fabric.layers)
    if has_mat and not resin.mat_binder:
        yield told.say(
            "rebuild",
            "plies",
            "mat-epoxy",
            f"Mat is dead weight with {resin.name}: its binder hardly dissolves and it drinks resin.",
            "Choose a stitched fabric without mat.",
        )
    if resin.family != "epoxy":
        yield told.say(
            "rebuild",
            "resin",
            "secondary",
            f"On old cured laminate {resin.name} makes a weaker secondary bond than epoxy, and shrinks.",
            "Choose an epoxy for what bonds to old laminate, or accept it where it must match.",
        )


def _core(told: Teller, zone: Zone, patch: Patch) -> Iterator[Notice]:
    scheme, old = zone.scheme, zone.build.core
    if patch.cut.region.is_empty or old is None:
        return
    if scheme.core is None or scheme.core_thickness is None:
        yield told.say(
            "rebuild",
            "core",
            "no-core",
            "The old core stays in place: only the skin is rebuilt.",
            "Choose a new core if it is wet or soft.",
        )
    elif abs(scheme.core_thickness.si + scheme.bedding.si - old.thickness.si) > 0.0021:
        total = shown(scheme.core_thickness.si + scheme.bedding.si, Kind.SIZE, told.system)
        yield told.say(
            "rebuild",
            "core",
            "core-thickness",
            f"New core and bedding make {total} against {shown(old.thickness.si, Kind.SIZE, told.system)} before.",
            "Choose the core or bedding thickness so that the skins line up.",
        )


def _resin(told: Teller, zone: Zone, needs: Needs, air: ShedAir, shelf: Shelf) -> Iterator[Notice]:
    if not needs.uses:
        return
    resin = needs.resin
    if air.temperature.si < resin.least_temperature:
        yield told.say(
            "rebuild",
            "resin",
            "cold",
            f"The shed is colder than the {shown(resin.least_temperature, Kind.TEMPERATURE, told.system)} that "
            f"{resin.name} needs to cure.",
            "Warm the shed or the part, or choose a faster hardener.",
            True,
        )
    if air.humidity.si > resin.most_humidity:
        yield told.say(
            "rebuild",
            "resin",
            "humid",
            f"The air is damper than the {shown(resin.most_humidity, Kind.PERCENT)} that {resin.name} allows.",
            "Dry the shed, or wait.",
            True,
        )
    if needs.cups.limited.startswith("too short"):
        yield told.say(
            "order",
            "cups",
            "cups",
            "Even the smallest cup gels before it can be laid.",
            "Cool the shed or choose a slower hardener.",
            True,
        )


def job_notices(job: Job, shelf: Shelf, system: System) -> tuple[Notice, ...]:
    """Warnings of the boat and its shed."""
    told = Teller("", system)
    found = []
    air = job.air
    if air.surface is not None:
        dew = dew_point(air.temperature.si, air.humidity.si)
        margin = air.surface.si - dew
        if margin < shelf.rule("dew.margin"):
            found.append(
                told.say(
                    "boat",
                    "air",
                    "dew",
                    f"The laminate is only {margin:.1f} K over the dew point: water may form on it.".replace("-", "−"),
                    f"Warm the laminate to {shown(dew + shelf.rule('dew.margin'), Kind.TEMPERATURE, system)} or dry the air.",
                    True,
                )
            )
    if not job.zones:
        found.append(told.say("boat", "zones", "no-zones", "No zone yet.", "Add the first place to survey."))
    for zone in job.zones:
        if zone.place.station.si > job.boat.length.si:
            found.append(
                Teller(zone.id, system).say(
                    "boat",
                    "place",
                    "beyond-bow",
                    f"{zone.name} is placed ahead of the bow.",
                    "Correct its distance from the stern or the length overall.",
                )
            )
    return tuple(found)
