"""What is chosen in a decision card in one line, for when it is folded. Keyed by stage and heading."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.facts import air_facts, boat_facts, zone_facts
from ribpatch.core.geometry import polygon_of
from ribpatch.core.laminate.original import known_by
from ribpatch.core.laminate.stack_text import named_text
from ribpatch.core.numerals import general
from ribpatch.core.patch.access.before import checklist
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.facts import Fact
    from ribpatch.core.job import Skin
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan

    Words = Callable[[Plan, ZonePlan], str]


def card_words(stage: str, title: str, plan: Plan, made: ZonePlan | None) -> str:
    """What is chosen in a card; empty where it says nothing, or where there is no zone yet."""
    words = WORDS.get((stage, title))
    if words is not None and made is not None:
        return words(plan, made)
    job_words = JOB_WORDS.get((stage, title))
    return job_words(plan) if job_words is not None else ""


def _references(_plan: Plan, made: ZonePlan) -> str:
    survey = made.zone.survey
    return f"{_counted(len(survey.references), 'reading')} marked as sound" if survey.references else "none marked yet"


def _sources(_plan: Plan, made: ZonePlan) -> str:
    loose = [f.name for f in made.zone.fittings if f.sealed is False]
    return f"unsealed: {', '.join(loose)}" if loose else "no fitting is known to be unsealed"


def _put_by_hand(plan: Plan) -> str:
    count = sum(bool(c.at) for c in plan.job.timetable.changes)
    return f"{_counted(count, 'step')} put by hand" if count else "nothing: the plan is free"


def _counted(count: int, one: str, many: str = "") -> str:
    return f"{count} {one}" if count == 1 else f"{count} {many or one + 's'}"


def _assumed(facts: tuple[Fact, ...]) -> str:
    left = sum(f.assumed for f in facts)
    return f"; {left} assumed" if left else ""


def _boat(plan: Plan) -> str:
    boat, system = plan.job.boat, plan.system
    size = " × ".join(shown(v.si, Kind.LENGTH, system) for v in (boat.length, boat.beam))
    return f"{size}, {shown(boat.displacement.si, Kind.LOAD, system)}{_assumed(boat_facts(boat))}"


def _air(plan: Plan) -> str:
    air = plan.job.air
    warm = shown(air.temperature.si, Kind.TEMPERATURE, plan.system)
    return f"{warm}, {shown(air.humidity.si, Kind.PERCENT)}{_assumed(air_facts(air))}"


def _facts(_plan: Plan, made: ZonePlan) -> str:
    left = sum(f.assumed for f in zone_facts(made.zone))
    return f"{left} still assumed" if left else "everything of this zone is stated"


def _zone(plan: Plan, made: ZonePlan) -> str:
    zone = made.zone
    return f"{zone.kind}, {zone.place.side}, {shown(zone.place.station.si, Kind.LENGTH, plan.system)} from the stern"


def _outline(plan: Plan, made: ZonePlan) -> str:
    x0, y0, x1, y1 = polygon_of(made.zone.outline).bounds
    size = " × ".join(shown(v, Kind.SIZE, plan.system) for v in (x1 - x0, y1 - y0))
    return f"{size}, {_counted(len(made.zone.outline), 'corner')}"


def _build(plan: Plan, made: ZonePlan) -> str:
    build, system = made.zone.build, plan.system

    def skin(one: Skin | None) -> str:
        from ribpatch.core.laminate.stack import skin_thickness

        return shown(skin_thickness(one, made.shelf), Kind.SIZE, system) if one is not None else ""

    if build.core is None:
        return f"{skin(build.outer)} solid"
    core = f"{made.shelf.core(build.core.core).code} {shown(build.core.thickness.si, Kind.SIZE, system)}"
    return " + ".join(part for part in (skin(build.outer), core, skin(build.inner)) if part)


def _fittings(_plan: Plan, made: ZonePlan) -> str:
    return ", ".join(f.name for f in made.zone.fittings) or "none"


def _edges(_plan: Plan, made: ZonePlan) -> str:
    return ", ".join(e.name for e in made.zone.edges) or "none named"


def _before(_plan: Plan, made: ZonePlan) -> str:
    items = checklist(made.zone, made.patch, made.shelf)
    left = sum(i.open for i in items)
    return f"{left} of {len(items)} still to see to" if left else "all seen to"


def _asked(stage: str) -> Words:
    def words(_plan: Plan, made: ZonePlan) -> str:
        asked = [a for a in made.asked if a.remedy.stage == stage]
        left = sum(a.standing == "open" for a in asked)
        return f"{left} of {len(asked)} open" if asked else "nothing yet"

    return words


def _side(_plan: Plan, made: ZonePlan) -> str:
    best = made.side_scores[0].side
    side = made.zone.scheme.access.side
    return side if side == best else f"{side}; {best} scores most"


def _cut(plan: Plan, made: ZonePlan) -> str:
    cut = made.zone.scheme.cut
    if cut.drawn is not None:
        return "drawn by you"
    past = f"{shown(cut.margin.si, Kind.SIZE, plan.system)} past" if cut.rule == "margin" else "as far again"
    return f"{past}, {cut.shape}{', skin kept' if cut.saved else ''}"


def _depth(plan: Plan, made: ZonePlan) -> str:
    if not made.zone.scheme.access.part_depth:
        return "right through"
    deepest = max((d.depth.si for d in made.zone.depths), default=0.0)
    return f"ground to {shown(deepest, Kind.SIZE, plan.system)}" if deepest else "no depth noted yet"


def _taper(_plan: Plan, made: ZonePlan) -> str:
    taper = made.zone.scheme.taper
    return f"{general(taper.ratio.si)} : 1, {taper.form}"


def _faces(_plan: Plan, made: ZonePlan) -> str:
    laminate = made.zone.scheme.laminate
    parts = ["both faces" if laminate.second else "one face", "backing strips" if laminate.backing else "no backing"]
    return ", ".join(parts)


def _scheme(_plan: Plan, made: ZonePlan) -> str:
    rest = len(made.zone.others)
    return made.zone.scheme.name + (f"; {_counted(rest, 'other')}" if rest else "")


def _plies(_plan: Plan, made: ZonePlan) -> str:
    return named_text(made.zone.scheme.laminate.plies, made.shelf) or "none chosen"


def _old(plan: Plan, made: ZonePlan) -> str:
    return known_by(made.zone.rebuilt_skin, plan.job.boat.year, made.shelf)


def _resin(_plan: Plan, made: ZonePlan) -> str:
    return made.shelf.resin(made.zone.scheme.resin.main).name


def _core(plan: Plan, made: ZonePlan) -> str:
    core = made.zone.scheme.core
    if core.material is None:
        return "the old one stays" if made.zone.build.core else "none"
    thick = shown(core.thickness.si, Kind.SIZE, plan.system) if core.thickness else ""
    return f"{made.shelf.core(core.material).name} {thick}".strip()


def _order(_plan: Plan, made: ZonePlan) -> str:
    scheme = made.zone.scheme
    between = "in the green window" if scheme.laying.between == "green" else "cured, washed, abraded"
    return f"{scheme.laminate.order}, {between}"


def _tabbing(plan: Plan, made: ZonePlan) -> str:
    tabbing = made.zone.scheme.laminate.tabbing
    return f"radius {shown(tabbing.radius.si, Kind.SIZE, plan.system)}" if tabbing else "flat, none"


def _coupons(plan: Plan, _made: ZonePlan) -> str:
    count = len(plan.shelf.coupons)
    return _counted(count, "coupon") if count else "none"


JOB_WORDS: dict[tuple[str, str], Callable[[Plan], str]] = {
    ("days", "Put by hand"): _put_by_hand,
    ("days", "Hours of work"): lambda _plan: "of all people, before days are looked at",
    ("days", "Papers"): lambda _plan: "a day's sheet, a calendar file",
    ("log", "What the shop learned"): lambda _plan: "hours, resin and cure, from all jobs",
    ("log", "Papers"): lambda _plan: "hand-over, coupon sheet, CSV",
    ("boat", "Boat"): _boat,
    ("boat", "Shed air"): _air,
}
WORDS: dict[tuple[str, str], Words] = {
    ("find", "Reading under the cursor"): lambda _plan, _made: "its note, who and when, its photographs",
    ("find", "Sound reference"): _references,
    ("find", "Where the water came in"): _sources,
    ("boat", "Measure first"): _facts,
    ("boat", "This zone"): _zone,
    ("boat", "Outline"): _outline,
    ("boat", "Original build-up"): _build,
    ("boat", "Fittings"): _fittings,
    ("boat", "Edges"): _edges,
    ("open", "Before cutting"): _before,
    ("open", "What the causes ask"): _asked("open"),
    ("open", "Side to open from"): _side,
    ("open", "Cut line"): _cut,
    ("open", "Depth of the damage"): _depth,
    ("open", "Taper"): _taper,
    ("open", "Other face and backing"): _faces,
    ("rebuild", "Scheme"): _scheme,
    ("rebuild", "Plies, deepest first"): _plies,
    ("rebuild", "The old laminate"): _old,
    ("rebuild", "Resin"): _resin,
    ("rebuild", "New core"): _core,
    ("rebuild", "Order of plies"): _order,
    ("rebuild", "Tabbing in a corner"): _tabbing,
    ("rebuild", "Coupons of this shop"): _coupons,
    ("rebuild", "What the causes ask"): _asked("rebuild"),
}
