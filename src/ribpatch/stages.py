"""The stages of the work, in order: each is declared here once, and whatever shows or prints stages reads this table.

A stage costs nothing until it is looked at: its parts are named, and loaded by name when first wanted. To add one, add
its row and a module ``ui/stages/<id>.py`` with a ``STAGE``; a bench, pages below or pages of the work pack come with
modules of their own.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.drawing.plan_view import Depth
    from ribpatch.core.notice import Notice
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan

Dragged = Literal["", "outline", "extent", "cut"]


class Below(Struct, frozen=True):
    """A page below the plan: the name on its button and its module in ``ui/pages``."""

    name: str
    module: str


class Stage(Struct, frozen=True):
    """One stage.

    ``title`` carries its Alt letter behind an &, ``key`` opens it. ``begun`` tells from the plan, and from the plan of
    the zone worked on, whether anything is there yet. ``bench`` is its module in ``ui/bench`` where the centre is not
    the plan of the zone; on that plan, ``depth`` says how much is drawn, ``figures`` what stands in the heading and
    ``dragged`` whose corners can be moved. ``below`` are its pages, ``paper`` its module in ``report/pack``, ``looks``
    whether the boat strip marks where to look, ``told`` its warnings where they are worked out only for it.
    """

    id: str
    title: str
    key: str
    begun: Callable[[Plan, ZonePlan | None], bool]
    depth: Depth = "rebuild"
    figures: tuple[str, ...] = ()
    dragged: Dragged = ""
    bench: str = ""
    below: tuple[Below, ...] = ()
    paper: str = ""
    looks: bool = False
    told: Callable[[Plan, ZonePlan | None], tuple[Notice, ...]] | None = None

    @property
    def name(self) -> str:
        """The title as it is read."""
        return self.title.replace("&", "")


def _answered(plan: Plan, zone: ZonePlan | None) -> bool:
    from ribpatch.core.diagnosis.zone import said_in

    return zone is not None and bool(said_in(zone.zone, plan.shelf))


def _loaded(zone: ZonePlan | None) -> bool:
    from ribpatch.core.proof import Proof
    from ribpatch.core.record import known

    return zone is not None and zone.zone.proof != known(Proof)


def _strength_notices(plan: Plan, zone: ZonePlan | None) -> tuple[Notice, ...]:
    """Of a zone whose strength was worked out already: it is not for the ladder's sake."""
    return plan.prove_notices_of(zone.zone.id) if zone is not None and zone.has_strength else ()


DRAFT, SCHEMES = Below("Draft", "draft"), Below("Schemes", "schemes")
STAGES: tuple[Stage, ...] = (
    Stage(
        "boat",
        "&Boat",
        "F5",
        lambda plan, _zone: bool(plan.job.zones),
        depth="boat",
        figures=("zone.area",),
        dragged="outline",
    ),
    Stage(
        "find",
        "&Find",
        "F6",
        lambda _plan, zone: zone is not None and not zone.patch.extent.likely.is_empty,
        depth="find",
        figures=("extent.run", "extent.area", "extent.surely"),
        dragged="extent",
        paper="find",
    ),
    Stage(
        "cause",
        "&Cause",
        "F7",
        _answered,
        depth="find",
        figures=("extent.area",),
        bench="cause_bench",
        looks=True,
    ),
    Stage(
        "open",
        "&Open",
        "F8",
        lambda _plan, zone: zone is not None and not zone.patch.cut.region.is_empty,
        depth="open",
        figures=("extent.area", "cut.area", "taper.area"),
        dragged="cut",
        paper="open",
        below=(DRAFT, Below("Sides", "sides"), Below("Taper and bond", "bond"), SCHEMES),
    ),
    Stage(
        "rebuild",
        "&Rebuild",
        "F9",
        lambda _plan, zone: zone is not None and bool(zone.patch.outlines),
        figures=("cut.area", "taper.area", "stack.thickness"),
        paper="rebuild",
        below=(
            DRAFT,
            Below("Laminate", "laminate"),
            Below("Suggest", "suggest"),
            Below("Cores", "cores"),
            Below("Bonds", "bonds"),
            Below("Parts", "parts"),
            Below("Local plies", "pads"),
            Below("Fair and finish", "finish"),
            SCHEMES,
        ),
    ),
    Stage(
        "prove",
        "&Prove",
        "F10",
        lambda _plan, zone: _loaded(zone),
        bench="prove_bench",
        paper="prove",
        told=_strength_notices,
        below=(
            Below("Margins", "margins"),
            Below("Remedies", "remedies"),
            Below("Scantlings", "scantlings"),
            Below("Load test", "load_test"),
        ),
    ),
    Stage(
        "order",
        "Or&der",
        "F11",
        lambda _plan, zone: zone is not None and bool(zone.items),
        depth="boat",
        bench="order_bench",
        paper="order",
    ),
    Stage(
        "days",
        "Da&ys",
        "F12",
        lambda plan, _zone: plan.job.timetable.kept is not None,
        depth="boat",
        bench="days_bench",
        paper="days",
    ),
    Stage(
        "log",
        "&Log",
        "F4",
        lambda plan, _zone: bool(plan.job.log.entries),
        depth="boat",
        bench="log_bench",
    ),
)


def stage_of(wanted: str) -> Stage:
    """The stage of that id."""
    return next(s for s in STAGES if s.id == wanted)


def stage_state(stage: Stage, plan: Plan, zone: str) -> tuple[str, int, int]:
    """A stage's state in a word, its open warnings and how many of them are grave, for the zone worked on."""
    made = next((z for z in plan.zones if z.zone.id == zone), None)
    mine = [n for n in plan.notices_of(zone) if n.stage == stage.id] + list(
        stage.told(plan, made) if stage.told else ()
    )
    done = made is not None and stage.id in made.zone.done
    state = "done for now" if done else "begun" if stage.begun(plan, made) else "to do"
    return state, len(mine), sum(n.grave for n in mine)
