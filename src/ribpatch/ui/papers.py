"""Every paper in one table: what it is called, what it can be written as, and how it is made of the job as it is now.

``prepare`` looks at what is needed in the window's thread and returns what makes the paper beside it, or nothing where
it cannot be made, which is then told.
"""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING, cast

from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.calendar.problem import Schedule
    from ribpatch.core.days import Days
    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.report.page import Paper, Told
    from ribpatch.ui.window import Window

    # Of the ending of the file, the kind of paper, and what hears how far it is.
    Make = Callable[[str, str, Told], bytes]

PDF = "PDF (*.pdf)"
DRAWINGS = "Drawings (*.svg *.dxf *.pdf *.png)"
ORDERS = "Tables (*.csv *.xlsx *.pdf)"
# The paper is chosen with the kind of file: no further question is asked.
ON = {
    "on A4": "A4",
    "on Letter": "Letter",
    "on A3": "A3",
    "on Tabloid": "Tabloid",
    "on A1": "A1",
    "on A0": "A0",
    "610 mm": "roll-610",
    "914 mm": "roll-914",
}
TEMPLATES = ";;".join(
    (
        "PDF on the usual paper (*.pdf)",
        *(f"PDF {words} (*.pdf)" for words in ON if "mm" not in words),
        *(f"PDF on a roll of {words} (*.pdf)" for words in ON if "mm" in words),
        "SVG, a layer for each ply (*.svg)",
        "DXF, a layer for each ply (*.dxf)",
    )
)
SHEETS = ";;".join(kind for kind in TEMPLATES.split(";;") if "*.pdf" in kind and "roll" not in kind)


class PaperSpec(Struct, frozen=True):
    """A paper: the action's id, its title, how it is named in a sentence, a file name, the kinds of file."""

    id: str
    title: str
    said: str
    proposed: str
    kinds: str
    prepare: Callable[[Window], Make | None]

    @property
    def sizes(self) -> tuple[str, ...]:
        """The kinds of paper that it can be printed on beside the usual one."""
        return tuple(p for words, p in ON.items() if f"PDF {words}" in self.kinds or f"roll of {words}" in self.kinds)


def usual_paper(window: Window) -> Paper:
    """The paper that is usual where these units are."""
    return "A4" if window.session.system == "metric" else "Letter"


def _common(paper: str) -> Paper:
    return cast("Paper", paper if paper in ("A4", "Letter") else "A4")


def _work_pack(window: Window) -> Make | None:
    plan, system, today = window.session.plan, window.session.system, date.today().isoformat()

    def make(_suffix: str, paper: str, told: Told) -> bytes:
        from ribpatch.report.workpack import work_pack

        return work_pack(plan, system, _common(paper), today, told)

    return make


def _survey_report(window: Window) -> Make | None:
    plan, system, album = window.session.plan, window.session.system, window.session.album

    def make(_suffix: str, paper: str, told: Told) -> bytes:
        from ribpatch.report.survey_report import survey_report

        return survey_report(plan, album, system, _common(paper), told)

    return make


def _findings(window: Window) -> Make | None:
    session = window.session
    plan, system, album, zone = session.plan, session.system, session.album, session.zone
    if zone is None:
        return None

    def make(_suffix: str, paper: str, _told: Told) -> bytes:
        from ribpatch.report.survey_report import findings_sheet

        return findings_sheet(plan, zone.id, album, system, _common(paper))

    return make


def _shopping(window: Window) -> Make | None:
    plan, system, today = window.session.plan, window.session.system, date.today().isoformat()

    def make(suffix: str, paper: str, _told: Told) -> bytes:
        from ribpatch.report.order_list import order_file

        return order_file(plan, suffix, system, today)

    return make


def _labels(window: Window) -> Make | None:
    plan, system = window.session.plan, window.session.system
    if not any(z.needs.cloth or z.core_pieces for z in plan.zones):
        window.session.told.emit("Nothing is cut yet: choose plies or a core in Rebuild first.")
        return None

    def make(_suffix: str, paper: str, _told: Told) -> bytes:
        from ribpatch.report.labels import label_pdf

        return label_pdf(plan, system, _common(paper))

    return make


def _templates(window: Window) -> Make | None:
    zone, plan, system = window.session.zone, window.session.plan, window.session.system
    if zone is None:
        return None
    outlines, name = plan.zone(zone.id).patch.all_outlines, f"{plan.job.boat.name}, {zone.name}"

    def make(suffix: str, paper: str, _told: Told) -> bytes:
        from ribpatch.core.zone_axes import AXES
        from ribpatch.report.export import plies_file

        return plies_file(outlines, name, suffix, paper, system, AXES[zone.kind])

    return make


def _set_off(window: Window) -> Make | None:
    zone, system = window.session.zone, window.session.system
    if zone is None:
        return None
    name = f"{window.session.job.boat.name}, {zone.name}"

    def make(_suffix: str, paper: str, _told: Told) -> bytes:
        from ribpatch.report.set_off_sheet import set_off_pdf

        return set_off_pdf(name, paper, system)

    return make


# ---- days and log ------------------------------------------------------------------------------------------------


def scheduled(window: Window) -> tuple[Days, Schedule, str] | None:
    """The days, their schedule, and the day looked at, else the next with work; what is wrong is told."""
    from ribpatch.core.logged_days import logged_days
    from ribpatch.ui.bench.days_bench import today
    from ribpatch.ui.bench.days_plan import now

    session = window.session
    bench = window.showing.benches.get("days_bench")
    answer = getattr(bench, "answer", None)
    days = answer.days if answer is not None else logged_days(session.plan, today(), now())
    schedule = answer.schedule if answer is not None else days.schedule
    if schedule is None or not schedule.placed:
        session.told.emit("There is no plan of the days yet: go to Days first.")
        return None
    looked_at = getattr(getattr(bench, "day", None), "day", "") or max(today(), days.start)
    return days, schedule, looked_at


def _day_sheet(window: Window) -> Make | None:
    made = scheduled(window)
    if made is None:
        return None
    (days, schedule, day), plan, system = made, window.session.plan, window.session.system

    def make(_suffix: str, paper: str, _told: Told) -> bytes:
        from ribpatch.report.day_sheet import day_pdf

        return day_pdf(plan, days, schedule, day, system, _common(paper))

    return make


def _hand_over(window: Window) -> Make | None:
    from ribpatch.core.logged_days import logged_days
    from ribpatch.ui.bench.days_bench import today

    session = window.session
    plan, system, album, day = session.plan, session.system, session.album, today()

    def make(_suffix: str, paper: str, told: Told) -> bytes:
        from ribpatch.report.hand_over import hand_over

        return hand_over(plan, logged_days(plan, day, ""), album, system, _common(paper), told)

    return make


def _coupons(window: Window) -> Make | None:
    session = window.session
    sets = session.job.log.coupons
    if not sets:
        session.told.emit("No coupons are planned yet: plan a set in Log, on the page Bond coupons.")
        return None
    looked_at = getattr(getattr(window.showing.benches.get("log_bench"), "coupons", None), "set", None)
    wanted, plan = looked_at if looked_at is not None else sets[-1], session.plan

    def make(_suffix: str, paper: str, _told: Told) -> bytes:
        from ribpatch.report.coupon_sheet import coupon_pdf

        return coupon_pdf(plan, wanted, _common(paper))

    return make


# ---- drawings ----------------------------------------------------------------------------------------------------


def _cut_plan(window: Window) -> Make | None:
    plan, system = window.session.plan, window.session.system
    if not any(z.needs.cloth for z in plan.zones):
        window.session.told.emit("No cloth is laid yet: choose plies in Rebuild first.")
        return None

    def drawn() -> Drawing:
        from ribpatch.core.drawing.cut_view import cut_view

        return cut_view(plan.rolls, system)

    return _drawn(drawn, plan.job.boat.name)


def _cut_core(window: Window) -> Make | None:
    plan, system = window.session.plan, window.session.system
    if not plan.core_sheets:
        window.session.told.emit("No core is cut from sheets yet: choose one in Rebuild first.")
        return None

    def drawn() -> Drawing:
        from ribpatch.core.drawing.sheet_view import sheet_view

        return sheet_view(plan.core_sheets, system)

    return _drawn(drawn, plan.job.boat.name)


def _plan_drawing(window: Window) -> Make | None:
    return _shown(window, window.zone_bench.plan_canvas.drawing)


def _section_drawing(window: Window) -> Make | None:
    return _shown(window, window.zone_bench.section_canvas.drawing)


def _shown(window: Window, drawing: Drawing | None) -> Make | None:
    session = window.session
    if drawing is None or session.zone is None:
        session.told.emit("There is no drawing to export here. Go to Open or Rebuild of a zone first.")
        return None
    return _drawn(lambda: drawing, f"{session.job.boat.name}, {session.zone.name}")


def _drawn(drawing: Callable[[], Drawing], title: str) -> Make:
    def make(suffix: str, paper: str, _told: Told) -> bytes:
        from ribpatch.report.export import drawing_bytes

        return drawing_bytes(drawing(), title, suffix, _common(paper))

    return make


PAPERS: dict[str, PaperSpec] = {
    spec.id: spec
    for spec in (
        PaperSpec("work_pack", "Work pack", "the work pack", "work-pack.pdf", PDF, _work_pack),
        PaperSpec("survey_report", "Survey report", "the survey report", "survey-report.pdf", PDF, _survey_report),
        PaperSpec("findings_sheet", "Findings sheet", "the findings sheet", "findings.pdf", PDF, _findings),
        PaperSpec("shopping_list", "Shopping list", "the shopping list", "shopping-list.csv", ORDERS, _shopping),
        PaperSpec("labels", "Labels", "the labels", "labels.pdf", PDF, _labels),
        PaperSpec("templates", "Ply templates", "the ply templates", "templates.pdf", TEMPLATES, _templates),
        PaperSpec("set_off_sheet", "Set-off sheet", "the set-off sheet", "set-off.pdf", SHEETS, _set_off),
        PaperSpec(
            "cut_plan", "Cut plan of the cloth", "the cut plan of the cloth", "cut-plan.pdf", DRAWINGS, _cut_plan
        ),
        PaperSpec("cut_core", "Cut plan of the core", "the cut plan of the core", "core-plan.pdf", DRAWINGS, _cut_core),
        PaperSpec("export_plan", "The plan", "the plan", "plan.svg", DRAWINGS, _plan_drawing),
        PaperSpec(
            "export_section", "The cut-through", "the cut-through", "cut-through.svg", DRAWINGS, _section_drawing
        ),
        PaperSpec("day_sheet", "A day's sheet", "the day's sheet", "day.pdf", PDF, _day_sheet),
        PaperSpec("coupon_sheet", "Sheet for bond coupons", "the sheet for the coupons", "coupons.pdf", PDF, _coupons),
        PaperSpec("hand_over", "Hand-over report", "the hand-over report", "hand-over.pdf", PDF, _hand_over),
    )
}
# The paper that is looked at first, by stage; elsewhere the work pack.
FIRST = {
    "find": "survey_report",
    "cause": "survey_report",
    "order": "shopping_list",
    "days": "day_sheet",
    "log": "hand_over",
}
