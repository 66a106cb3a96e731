"""Warnings of the survey and of the causes: what is missing, contradicts itself, or waits for an answer."""

from __future__ import annotations

from typing import TYPE_CHECKING

from shapely.geometry import Point

from ribpatch.core.diagnosis.zone import Asked, remedies_of
from ribpatch.core.geometry import Ring, polygon_of
from ribpatch.core.memo import Rows, remembered
from ribpatch.core.numerals import general
from ribpatch.core.readings import Moisture, Plug
from ribpatch.core.survey.edges import runs_on
from ribpatch.core.survey.inside import all_inside
from ribpatch.core.survey.lone import lone_readings
from ribpatch.core.survey.score import levels_of, scores_of
from ribpatch.core.survey.sessions import drying_curves
from ribpatch.core.text import counted, percent, upper
from ribpatch.core.units import Kind, place_words, shown

if TYPE_CHECKING:
    from collections.abc import Iterator

    from ribpatch.core.job import Survey, Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.notice import Notice, NoticeBuilder
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.readings import Reading
    from ribpatch.core.survey.extent import Extent

SOME_AREA = 1e-4  # m2 that is worth telling

_INSIDE: Rows[Reading, bool] = Rows()


@remembered(256)
def readings_outside(survey: Survey, outline: Ring) -> int:
    """How many readings lie outside the outline (m), with any point of a line (a millimetre over counts as in)."""
    inside = _INSIDE.of(survey.readings, outline, lambda some: all_inside(some, outline).tolist())
    return len(inside) - sum(inside)


def survey_notices(told: NoticeBuilder, zone: Zone, patch: Patch, shelf: Shelf) -> Iterator[Notice]:
    """Warnings beside the survey's decisions."""
    survey = zone.survey
    if not survey.readings and survey.drawn is None:
        yield told.add(
            "find",
            "extent",
            "nothing-read",
            "Nothing has been read here yet.",
            "Enter readings, import a CSV, or draw the extent.",
        )
        return
    yield from _references(told, survey, shelf)
    yield from _plugs(told, survey, shelf)
    yield from _lone(told, zone, shelf)
    yield from _extent(told, zone, patch, shelf)
    still = [d for d in drying_curves(survey, shelf) if d.says == "not drying"]
    if still:
        # What is cut out with its core need not dry; its water still comes from somewhere.
        stays = [d for d in still if not (patch.renews_core(zone) and patch.cut.region.contains(Point(d.at)))]
        yield told.add(
            "find",
            "sessions",
            "not-drying",
            f"{counted(len(still), 'place is', 'places are')} not drying{'' if stays else ', all of them cut out'}.",
            "Look for the source of the water before waiting longer."
            if stays
            else "Find the way in before it is closed: the new core would be wet again.",
            bool(stays),
        )


def _references(told: NoticeBuilder, survey: Survey, shelf: Shelf) -> Iterator[Notice]:
    scores = scores_of(survey, shelf)
    cards = [shelf.instrument(kind) for kind in {r.kind for r in survey.readings}]
    kinds = {card.name for card in cards if card.reference}
    if scores.left_out and kinds:
        what = " and ".join(sorted(kinds)).replace("capacitance ", "")
        silent = counted(scores.left_out, f"{what} reading says", f"{what} readings say")
        yield told.add(
            "find",
            "reference",
            "no-reference",
            f"Left out: {silent} nothing without a sound reference.",
            "Read a dry, sound place of the same panel with the same instrument and mark it as reference (key S).",
            True,
        )
    marked = set(survey.references)
    values = [r.value for r in survey.readings if isinstance(r, Moisture) and r.id in marked]
    limit, spread = shelf.rule("reference.wet"), shelf.rule("reference.spread")
    if values and max(values) > limit:
        yield told.add(
            "find",
            "reference",
            "reference-wet",
            f"A reference of {general(max(values))} is itself high: against a wet reference wet places look dry.",
            "Mark places that you know to be dry, on this boat or a like one.",
            True,
        )
    elif len(values) > 1 and max(values) - min(values) > spread:
        yield told.add(
            "find",
            "reference",
            "reference-spread",
            f"The references differ by {general(max(values) - min(values))} points.",
            "Read them again; unmark those that may be wet.",
        )
    levels = levels_of(survey, shelf)
    bad = [r for r in survey.readings if isinstance(r, Plug) and levels.get(r.id, 0) > shelf.rule("plug.contradicts")]
    near = shelf.rule("plug.reach")
    if bad and any(
        (r.x - p.x) ** 2 + (r.y - p.y) ** 2 < near**2
        for r in survey.readings
        if r.id in marked and r.kind != "plug"
        for p in bad
    ):
        yield told.add(
            "find",
            "reference",
            "reference-bad",
            "A plug beside a reference showed damage there.",
            "Unmark that reference.",
            True,
        )


def _plugs(told: NoticeBuilder, survey: Survey, shelf: Shelf) -> Iterator[Notice]:
    plugs = [r for r in survey.readings if isinstance(r, Plug)]
    levels, close, more = levels_of(survey, shelf), shelf.rule("plug.clash") ** 2, shelf.rule("plug.contradicts")
    for number, a in enumerate(plugs):
        for b in plugs[number + 1 :]:
            apart = (a.x - b.x) ** 2 + (a.y - b.y) ** 2
            if apart < close and a.session == b.session and abs(levels[a.id] - levels[b.id]) > more:
                yield told.add(
                    "find",
                    "extent",
                    f"plugs.{a.id}.{b.id}",
                    f"Two plugs {shown(apart**0.5, Kind.SIZE, told.system)} apart disagree; the edge must run between "
                    "them.",
                    "Look at both again; correct the one that was mistyped.",
                )
    overruled = scores_of(survey, shelf).overruled
    if overruled:
        yield told.add(
            "find",
            "extent",
            "overruled",
            f"{overruled} readings are overruled by a plug or test cut beside them.",
            "Nothing to do: what was seen outranks what was heard or metered.",
        )


def _lone(told: NoticeBuilder, zone: Zone, shelf: Shelf) -> Iterator[Notice]:
    if zone.survey.drawn is not None:
        return
    alone = lone_readings(zone, shelf)
    if alone:
        places = "; ".join(place_words((r.x, r.y), told.system) for r in alone[:3])
        more = f" and {len(alone) - 3} more" if len(alone) > 3 else ""
        verb = "stands" if len(alone) == 1 else "stand"
        yield told.add(
            "find",
            "extent",
            "again",
            f"{len(alone)} {'reading' if len(alone) == 1 else 'readings'} {verb} alone against what was read round "
            f"{'it' if len(alone) == 1 else 'them'}: {places}{more}.",
            "Take it again there, marked ? on the plan, before anything is made of it.",
        )


def _extent(told: NoticeBuilder, zone: Zone, patch: Patch, shelf: Shelf) -> Iterator[Notice]:
    survey, extent = zone.survey, patch.extent
    scored = scores_of(survey, shelf).x.size
    outside = readings_outside(survey, zone.outline)
    if outside:
        yield told.add(
            "find",
            "extent",
            "outside",
            f"{outside} readings lie outside the outline; they still count.",
            "Correct the outline in Boat, or delete them.",
        )
    if extent.from_readings and extent.unsurveyed_area > 0.1 * polygon_of(zone.outline).area and scored:
        part = shown(extent.unsurveyed_area, Kind.AREA, told.system)
        yield told.add(
            "find",
            "extent",
            "unsurveyed",
            f"{part} of this zone is not surveyed{_left_open(extent, told)}: it is neither in the extent nor called "
            "sound.",
            "Read there, or accept that it is not inspected.",
        )
    reached = runs_on(extent.likely, zone.outline, zone.edges) if extent.reaches_edge else ()
    if zone.is_run:  # across a run everything is edge; only its ends lead on
        x0, _, x1, _ = polygon_of(zone.outline).bounds
        reached = tuple(r for r in reached if min(r.at[0] - x0, x1 - r.at[0]) < 1e-3)
    if reached:
        where = ", ".join(f"{r.name} over {shown(r.length, Kind.LENGTH, told.system)}" for r in reached[:3])
        yield told.add(
            "find",
            "extent",
            "edge",
            f"The damage runs to the edge of the zone and may run on past {where}.",
            "Survey the neighbouring panel, or enlarge the zone.",
        )
    if extent.likely.is_empty and scored:
        unseen = shown(extent.unsurveyed_area, Kind.AREA, told.system)
        looked = f"; {unseen} is not surveyed{_left_open(extent, told)}" if extent.unsurveyed_area > SOME_AREA else ""
        yield told.add(
            "find",
            "extent",
            "no-damage",
            f"Sound as far as surveyed: no place speaks of damage at this confidence{looked}.",
            f"The chance of any damage is {percent(extent.any_damage)}; look where it would start, or raise the "
            "confidence.",
        )


def _left_open(extent: Extent, told: NoticeBuilder) -> str:
    """How much of what is not surveyed was read, but too little to settle it."""
    area = extent.left_open.area
    return f" ({shown(area, Kind.AREA, told.system)} of it read, but left open)" if area > SOME_AREA else ""


def met_checks(zone: Zone, patch: Patch) -> frozenset[str]:
    """The checks of remedies that the scheme meets by itself."""
    met: set[str] = set()
    opened = not patch.cut.region.is_empty
    if opened and patch.cut.missed < 1e-4:
        met.add("cut")
    if opened and zone.scheme.core.material is not None and zone.build.core is not None:
        met |= {"core", "replaced"}
    if zone.scheme.laminate.plies:
        met.add("stack")
    old = zone.rebuilt_skin.thickness
    core = zone.build.core
    thicker_core = (
        core is not None
        and zone.scheme.core.thickness is not None
        and zone.scheme.core.thickness.si > 1.1 * core.thickness.si
    )
    if thicker_core or (old and patch.stack.thickness > 1.1 * old.si):
        met.add("thicker")
    return frozenset(met)


def asked_of(zone: Zone, patch: Patch, shelf: Shelf) -> tuple[Asked, ...]:
    """What the likely causes ask of this repair, and how each stands."""
    return remedies_of(zone, shelf, met_checks(zone, patch))


def cause_notices(told: NoticeBuilder, zone: Zone, patch: Patch, shelf: Shelf) -> Iterator[Notice]:
    """A warning for each remedy that waits for an answer, at the stage where it is answered."""
    for asked in asked_of(zone, patch, shelf):
        if asked.standing == "open":
            yield told.add(
                asked.remedy.stage,
                "cause",
                f"remedy.{asked.remedy.id}",
                f"{upper(asked.cause.name)} ({percent(asked.chance)}): {asked.remedy.text}",
                "Say how the scheme does it, or overrule it with a reason, under “What the causes ask”.",
            )
