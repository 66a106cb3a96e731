"""Warnings: what does not fit, is missing or will bite later. Each names its decision and what would clear it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from ribpatch.core.geometry import polygon_of
from ribpatch.core.notice import Notice, NoticeBuilder
from ribpatch.core.repair_checks import laminate_notices, opening_notices
from ribpatch.core.resin.air import dew_point
from ribpatch.core.resin.cup import TOO_HOT, TOO_SHORT
from ribpatch.core.supply.putties import filling_in
from ribpatch.core.survey_checks import cause_notices, survey_notices
from ribpatch.core.units import Kind, System, shown, shown_beside

if TYPE_CHECKING:
    from collections.abc import Iterator

    from ribpatch.core.job import Job, ShedAir, Zone
    from ribpatch.core.laminate.comparison import LaminateComparison
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.bonding.figures import Joint
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.supply.needs import Batch, Needs


class WorkedOut(Protocol):
    """What the warnings of a zone are judged by: the zone as stated, and what was worked out of it."""

    @property
    def zone(self) -> Zone:
        """The zone as stated."""

    @property
    def air(self) -> ShedAir:
        """The shed's air."""

    @property
    def year(self) -> int | None:
        """The boat's."""

    @property
    def shelf(self) -> Shelf:
        """Materials and rules."""

    @property
    def patch(self) -> Patch:
        """The geometry of the repair."""

    @property
    def needs(self) -> Needs:
        """What it uses."""

    @property
    def comparison(self) -> LaminateComparison | None:
        """The new laminate beside the old one."""

    @property
    def joint(self) -> Joint | None:
        """The bond along the scarf."""


def zone_notices(made: WorkedOut, system: System) -> tuple[Notice, ...]:
    """All warnings of one zone."""
    zone, patch, shelf = made.zone, made.patch, made.shelf
    told = NoticeBuilder(zone.id, system)
    return (
        *survey_notices(told, zone, patch, shelf),
        *cause_notices(told, zone, patch, shelf),
        *_fittings(told, zone),
        *opening_notices(told, zone, patch, shelf),
        *laminate_notices(told, zone, patch, made.comparison, made.joint, made.year, shelf),
        *_core(told, zone, patch),
        *_resin(told, zone, made.needs, made.air, shelf),
        *_finish(told, zone, patch, made.needs, shelf),
    )


def _finish(told: NoticeBuilder, zone: Zone, patch: Patch, needs: Needs, shelf: Shelf) -> Iterator[Notice]:
    """What would show through the finish, and what is low enough to be no matter of fairing."""
    filling = filling_in(zone, patch, shelf)
    if filling is not None and filling.highest > shelf.rule("fill.deep"):
        yield told.add(
            "rebuild",
            "finish",
            "high",
            f"A spot stands {shown(filling.highest, Kind.SIZE, told.system)} over fair: ground to fair it goes into "
            "the laminate.",
            "Bring the surface round it up, or take the reading again.",
        )
    if not needs.coats or not patch.outlines:
        return
    top = patch.outlines[-1].laid.ply.fabric
    if zone.finish.system and not all(x.kind == "mat" for x in top.layers) and top.weight > shelf.rule("print.weight"):
        weight = shown(top.weight, Kind.AREAL, told.system)
        yield told.add(
            "rebuild",
            "finish",
            "print",
            f"The last ply weighs {weight}: its bundles will show through the finish as the resin shrinks.",
            "End with a light cloth or mat, or let it cure warm before it is faired and painted.",
        )


def _fittings(told: NoticeBuilder, zone: Zone) -> Iterator[Notice]:
    outline = polygon_of(zone.outline)
    for fitting in zone.fittings:
        if not fitting.shape.intersects(outline):
            yield told.add(
                "boat",
                "fittings",
                f"fitting.{fitting.id}.outside",
                f"{fitting.name} lies outside the zone's outline.",
                "Correct its place or the outline.",
            )
        elif fitting.sealed is False and zone.build.core is not None and fitting.holes:
            yield told.add(
                "boat",
                "fittings",
                f"fitting.{fitting.id}.unsealed",
                f"{fitting.name}: holes through the core ({fitting.holes}) are not sealed and let water in.",
                "Overdrill, fill with putty, redrill and seal when it goes back.",
            )
    for edge in zone.edges:
        if edge.side >= len(zone.outline):
            yield told.add(
                "boat",
                "edges",
                f"edge.{edge.side}",
                f"{edge.name} is set on side {edge.side + 1}, which the outline does not have.",
                f"Choose a side from 1 to {len(zone.outline)}.",
            )


def _core(told: NoticeBuilder, zone: Zone, patch: Patch) -> Iterator[Notice]:
    scheme, old = zone.scheme, zone.build.core
    if patch.cut.region.is_empty or old is None or scheme.access.part_depth:
        return
    if scheme.core.material is None or scheme.core.thickness is None:
        yield told.add(
            "rebuild",
            "core",
            "no-core",
            "The old core stays in place: only the skin is rebuilt.",
            "Choose a new core if it is wet or soft.",
        )
    elif abs(scheme.core.thickness.si + scheme.core.bedding.si - old.thickness.si) > 0.0021:
        total = shown(scheme.core.thickness.si + scheme.core.bedding.si, Kind.SIZE, told.system)
        yield told.add(
            "rebuild",
            "core",
            "core-thickness",
            f"New core and bedding make {total} against {shown(old.thickness.si, Kind.SIZE, told.system)} before.",
            "Choose the core or bedding thickness so that the skins line up.",
        )


def _resin(told: NoticeBuilder, zone: Zone, needs: Needs, air: ShedAir, shelf: Shelf) -> Iterator[Notice]:
    for batch in needs.batches:
        if batch.uses:
            yield from _batch(told, batch, air)


def _batch(told: NoticeBuilder, batch: Batch, air: ShedAir) -> Iterator[Notice]:
    resin = batch.resin
    if air.temperature.si < resin.least_temperature:
        yield told.add(
            "rebuild",
            "resin",
            "cold",
            f"The shed is colder than the {shown(resin.least_temperature, Kind.TEMPERATURE, told.system)} that "
            f"{resin.name} needs to cure: no working time or cure is predicted.",
            "Warm the shed or the part, or choose a faster hardener.",
            True,
        )
    if air.humidity.si > resin.most_humidity:
        yield told.add(
            "rebuild",
            "resin",
            "humid",
            f"The air is damper than the {shown(resin.most_humidity, Kind.PERCENT)} that {resin.name} allows.",
            "Dry the shed, or wait.",
            True,
        )
    if batch.cups.limited in (TOO_SHORT, TOO_HOT):
        yield told.add(
            "order",
            "cups",
            "cups",
            "Even the smallest cup cannot be laid in time, or gets too hot.",
            "Work from a tray or a roller pan, cool the shed or the cans, or choose a slower hardener.",
            True,
        )


def job_notices(job: Job, shelf: Shelf, system: System) -> tuple[Notice, ...]:
    """Warnings of the boat and its shed."""
    told = NoticeBuilder("", system)
    found = []
    air = job.air
    if air.surface is not None:
        dew = dew_point(air.temperature.si, air.humidity.si)
        margin = air.surface.si - dew
        wanted = shelf.rule("dew.margin")
        if margin < wanted:
            found.append(
                told.add(
                    "boat",
                    "air",
                    "dew",
                    f"The laminate is only {shown_beside(margin, wanted, Kind.DIFFERENCE, system)} over the dew point: "
                    "water may form on it.",
                    f"Warm the laminate to {shown(dew + wanted, Kind.TEMPERATURE, system)} or dry the air.",
                    True,
                )
            )
    if not job.zones:
        found.append(told.add("boat", "zones", "no-zones", "No zone yet.", "Add the first place to survey."))
    for zone in job.zones:
        if zone.place.station.si > job.boat.length.si:
            found.append(
                NoticeBuilder(zone.id, system).add(
                    "boat",
                    "place",
                    "beyond-bow",
                    f"{zone.name} is placed ahead of the bow.",
                    "Correct its distance from the stern or the length overall.",
                )
            )
    return tuple(found)
