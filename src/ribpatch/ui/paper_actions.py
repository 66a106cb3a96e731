"""What is written for others: work pack, lists, reports, templates, drawings. Each action is a method of its id."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.calendar.problem import Schedule
    from ribpatch.core.days import Days
    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.report.page import Paper
    from ribpatch.ui.window import Window

DRAWINGS = "Drawings (*.svg *.dxf *.pdf)"
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
ORDERS = "Tables (*.csv *.xlsx *.pdf)"


class PaperActions:
    """What is written for others: work pack, lists, reports, templates, drawings."""

    def __init__(self, window: Window) -> None:
        self._w = window

    def work_pack(self) -> None:
        """Write the work pack."""
        documents, session = self._w.documents, self._w.session
        path = documents.ask_path("Work pack", "work-pack.pdf", "PDF (*.pdf)")
        if path is None:
            return
        plan, system, today = session.plan, session.system, date.today().isoformat()

        def make() -> bytes:
            from ribpatch.report.workpack import work_pack

            return work_pack(plan, system, "A4" if system == "metric" else "Letter", today)

        documents.write_paper(path, "the work pack", make)

    def shopping_list(self) -> None:
        """Write what to buy as a table, a workbook that recomputes, or a paper."""
        documents, session = self._w.documents, self._w.session
        path = documents.ask_path("Shopping list", "shopping-list.csv", ORDERS)
        if path is None:
            return
        plan, system, today = session.plan, session.system, date.today().isoformat()

        def make() -> bytes:
            from ribpatch.report.order_list import order_file

            return order_file(plan, path.suffix, system, today)

        documents.write_paper(path, "the shopping list", make)

    def labels(self) -> None:
        """Write a label for each piece of cloth and core."""
        documents, session = self._w.documents, self._w.session
        plan, system = session.plan, session.system
        if not any(z.needs.cloth or z.core_pieces for z in plan.zones):
            session.told.emit("Nothing is cut yet: choose plies or a core in Rebuild first.")
            return
        path = documents.ask_path("Labels", "labels.pdf", "PDF (*.pdf)")
        if path is None:
            return

        def make() -> bytes:
            from ribpatch.report.labels import label_pdf

            return label_pdf(plan, system, "A4" if system == "metric" else "Letter")

        documents.write_paper(path, "the labels", make)

    def day_sheet(self) -> None:
        """Write the sheet of the day looked at, else of the next one with work."""
        session = self._w.session
        made = self._scheduled()
        if made is None:
            return
        days, schedule, day = made
        path = self._w.documents.ask_path("A day's sheet", f"day-{day}.pdf", "PDF (*.pdf)")
        if path is None:
            return
        plan, system = session.plan, session.system

        def make() -> bytes:
            from ribpatch.report.day_sheet import day_pdf

            return day_pdf(plan, days, schedule, day, system, "A4" if system == "metric" else "Letter")

        self._w.documents.write_paper(path, "the day's sheet", make)

    def export_ics(self) -> None:
        """Write the schedule as a calendar file."""
        made = self._scheduled()
        path = self._w.documents.ask_path("Calendar file", "days.ics", "Calendar (*.ics)") if made else None
        if made is None or path is None:
            return
        days, schedule, _ = made
        boat = self._w.session.job.boat.name

        def make() -> bytes:
            from ribpatch.formats.days_ics import days_ics

            return days_ics(days, schedule, boat)

        self._w.documents.write_paper(path, "the calendar file", make)

    def hand_over(self) -> None:
        """Write the hand-over report."""
        from ribpatch.core.logged_days import logged_days
        from ribpatch.ui.bench.days_bench import today

        session = self._w.session
        path = self._w.documents.ask_path("Hand-over report", "hand-over.pdf", "PDF (*.pdf)")
        if path is None:
            return
        plan, system, album, day = session.plan, session.system, session.album, today()

        def make() -> bytes:
            from ribpatch.report.hand_over import hand_over

            paper: Paper = "A4" if system == "metric" else "Letter"
            return hand_over(plan, logged_days(plan, day, ""), album, system, paper)

        self._w.documents.write_paper(path, "the hand-over report", make)

    def coupon_sheet(self) -> None:
        """Write the sheet of the set of coupons looked at, else of the last one planned."""
        session = self._w.session
        sets = session.job.log.coupons
        if not sets:
            session.told.emit("No coupons are planned yet: plan a set in Log, on the page Bond coupons.")
            return
        looked_at = getattr(getattr(self._w.showing.benches.get("log_bench"), "coupons", None), "set", None)
        wanted = looked_at if looked_at is not None else sets[-1]
        path = self._w.documents.ask_path("Sheet for bond coupons", "coupons.pdf", "PDF (*.pdf)")
        if path is None:
            return
        plan, system = session.plan, session.system

        def make() -> bytes:
            from ribpatch.report.coupon_sheet import coupon_pdf

            return coupon_pdf(plan, wanted, "A4" if system == "metric" else "Letter")

        self._w.documents.write_paper(path, "the sheet for the coupons", make)

    def export_log(self) -> None:
        """Write the log as CSV."""
        from ribpatch.core.logged_days import logged_days
        from ribpatch.ui.bench.days_bench import today

        session = self._w.session
        if not session.job.log.entries:
            session.told.emit("Nothing is logged yet.")
            return
        path = self._w.documents.ask_path("Log", "log.csv", "CSV (*.csv)")
        if path is None:
            return
        plan, system, day = session.plan, session.system, today()

        def make() -> bytes:
            from ribpatch.formats.log_csv import log_text

            return log_text(plan.job, logged_days(plan, day, ""), system).encode()

        self._w.documents.write_paper(path, "the log", make)

    def _scheduled(self) -> tuple[Days, Schedule, str] | None:
        """The days, their schedule, and the day looked at; what is wrong is told."""
        from ribpatch.core.logged_days import logged_days
        from ribpatch.ui.bench.days_bench import today
        from ribpatch.ui.bench.days_plan import now

        session = self._w.session
        bench = self._w.showing.benches.get("days_bench")
        answer = getattr(bench, "answer", None)
        days = answer.days if answer is not None else logged_days(session.plan, today(), now())
        schedule = answer.schedule if answer is not None else days.schedule
        if schedule is None or not schedule.placed:
            session.told.emit("There is no plan of the days yet: go to Days first.")
            return None
        looked_at = getattr(getattr(bench, "day", None), "day", "") or max(today(), days.start)
        return days, schedule, looked_at

    def survey_report(self) -> None:
        """Write the survey report of the whole job."""
        self._report("Survey report", "survey-report.pdf", "")

    def findings_sheet(self) -> None:
        """Write the findings sheet of the zone worked on."""
        zone = self._w.session.zone
        if zone is not None:
            self._report("Findings sheet", "findings.pdf", zone.id)

    def templates(self) -> None:
        """Write the ply templates of the zone worked on, full size."""
        zone = self._w.session.zone
        asked = self._w.documents.ask_kind("Ply templates", "templates.pdf", TEMPLATES) if zone else None
        if zone is None or asked is None:
            return
        path, kind = asked
        plan, system = self._w.session.plan, self._w.session.system
        outlines, name = plan.zone(zone.id).patch.all_outlines, f"{plan.job.boat.name}, {zone.name}"
        paper = next((p for words, p in ON.items() if words in kind), "A4" if system == "metric" else "Letter")

        def make() -> bytes:
            from ribpatch.core.zone_axes import AXES
            from ribpatch.report.export import plies_file

            return plies_file(outlines, name, path.suffix, paper, system, AXES[zone.kind])

        self._w.documents.write_paper(path, "the ply templates", make)

    def set_off_sheet(self) -> None:
        """Write a sheet to set the shape of the zone off on, which reads back from a picture of it."""
        zone, system = self._w.session.zone, self._w.session.system
        asked = self._w.documents.ask_kind("Set-off sheet", "set-off.pdf", SHEETS) if zone else None
        if zone is None or asked is None:
            return
        path, kind = asked
        name = f"{self._w.session.job.boat.name}, {zone.name}"
        paper = next((p for words, p in ON.items() if words in kind), "A4" if system == "metric" else "Letter")

        def make() -> bytes:
            from ribpatch.report.set_off_sheet import set_off_pdf

            return set_off_pdf(name, paper, system)

        self._w.documents.write_paper(path, "the set-off sheet", make)

    def cut_plan(self) -> None:
        """Write the rolls with all that is cut off them as SVG, DXF or PDF to scale."""
        if not any(z.needs.cloth for z in self._w.session.plan.zones):
            self._w.session.told.emit("No cloth is laid yet: choose plies in Rebuild first.")
            return

        def drawn(plan: Plan, system: System) -> Drawing:
            from ribpatch.core.drawing.cut_view import cut_view

            return cut_view(plan.rolls, system)

        self._cut(drawn, "Cut plan of the cloth", "cut-plan")

    def cut_core(self) -> None:
        """Write the sheets of core with all that is sawn out of them as SVG, DXF or PDF to scale."""
        if not self._w.session.plan.core_sheets:
            self._w.session.told.emit("No core is cut from sheets yet: choose one in Rebuild first.")
            return

        def drawn(plan: Plan, system: System) -> Drawing:
            from ribpatch.core.drawing.sheet_view import sheet_view

            return sheet_view(plan.core_sheets, system)

        self._cut(drawn, "Cut plan of the core", "core-plan")

    def _cut(self, drawn: Callable[[Plan, System], Drawing], title: str, name: str) -> None:
        documents, session = self._w.documents, self._w.session
        plan, system = session.plan, session.system
        path = documents.ask_path(title, f"{name}.pdf", DRAWINGS)
        if path is None:
            return

        def make() -> bytes:
            from ribpatch.report.export import drawing_bytes

            paper: Paper = "A4" if system == "metric" else "Letter"
            return drawing_bytes(drawn(plan, system), plan.job.boat.name, path.suffix, paper)

        documents.write_paper(path, f"the {title[0].lower()}{title[1:]}", make)

    def export_plan(self) -> None:
        """Write the plan as it is shown as SVG, DXF or PDF to scale."""
        self._export(self._w.zone_bench.plan_canvas.drawing, "plan")

    def export_section(self) -> None:
        """Write the cut-through as it is shown as SVG, DXF or PDF to scale."""
        self._export(self._w.zone_bench.section_canvas.drawing, "cut-through")

    def _export(self, drawing: Drawing | None, what: str) -> None:
        documents, session = self._w.documents, self._w.session
        if drawing is None or session.zone is None:
            session.told.emit("There is no drawing to export here. Go to Open or Rebuild of a zone first.")
            return
        path = documents.ask_path(f"Export the {what}", f"{what}.svg", DRAWINGS)
        if path is None:
            return
        title, paper = f"{session.job.boat.name}, {session.zone.name}", "A4" if session.system == "metric" else "Letter"

        def make() -> bytes:
            from ribpatch.report.export import drawing_bytes

            return drawing_bytes(drawing, title, path.suffix, "Letter" if paper == "Letter" else "A4")

        documents.write_paper(path, f"the {what}", make)

    def _report(self, title: str, proposed: str, zone: str) -> None:
        documents, session = self._w.documents, self._w.session
        path = documents.ask_path(title, proposed, "PDF (*.pdf)")
        if path is None:
            return
        plan, system, album = session.plan, session.system, session.album

        def make() -> bytes:
            from ribpatch.report.survey_report import findings_sheet, survey_report

            paper: Paper = "A4" if system == "metric" else "Letter"
            return (
                findings_sheet(plan, zone, album, system, paper) if zone else survey_report(plan, album, system, paper)
            )

        documents.write_paper(path, f"the {title.lower()}", make)
