"""What is written for others: papers, drawings, lists. Each action is a method of its id; the papers are one table."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ribpatch.report.page import Told
    from ribpatch.ui.window import Window


class PaperActions:
    """What is written for others: work pack, lists, reports, templates, drawings; and printing all of it."""

    def __init__(self, window: Window) -> None:
        self._w = window

    def print_paper(self) -> None:
        """Look at a paper page by page, and print it."""
        from ribpatch.ui.papers import FIRST
        from ribpatch.ui.print_dialog import PrintDialog

        first = FIRST.get(self._w.session.stage, "work_pack")
        dialog = PrintDialog(self._w, first, self.write)
        dialog.exec()
        dialog.deleteLater()

    def work_pack(self) -> None:
        """Write the work pack."""
        self.write("work_pack")

    def survey_report(self) -> None:
        """Write the survey report of the whole job."""
        self.write("survey_report")

    def findings_sheet(self) -> None:
        """Write the findings sheet of the zone worked on."""
        self.write("findings_sheet")

    def shopping_list(self) -> None:
        """Write what to buy as a table, a workbook that recomputes, or a paper."""
        self.write("shopping_list")

    def labels(self) -> None:
        """Write a label for each piece of cloth and core."""
        self.write("labels")

    def templates(self) -> None:
        """Write the ply templates of the zone worked on, full size."""
        self.write("templates")

    def set_off_sheet(self) -> None:
        """Write a sheet to set the shape of the zone off on, which reads back from a picture of it."""
        self.write("set_off_sheet")

    def cut_plan(self) -> None:
        """Write the rolls with all that is cut off them as SVG, DXF or PDF to scale."""
        self.write("cut_plan")

    def cut_core(self) -> None:
        """Write the sheets of core with all that is sawn out of them as SVG, DXF or PDF to scale."""
        self.write("cut_core")

    def export_plan(self) -> None:
        """Write the plan as it is shown as SVG, DXF or PDF to scale."""
        self.write("export_plan")

    def export_section(self) -> None:
        """Write the cut-through as it is shown as SVG, DXF or PDF to scale."""
        self.write("export_section")

    def day_sheet(self) -> None:
        """Write the sheet of the day looked at, else of the next one with work."""
        from ribpatch.ui.papers import scheduled

        made = scheduled(self._w)
        if made is not None:
            self.write("day_sheet", proposed=f"day-{made[2]}.pdf")

    def coupon_sheet(self) -> None:
        """Write the sheet of the set of coupons looked at, else of the last one planned."""
        self.write("coupon_sheet")

    def hand_over(self) -> None:
        """Write the hand-over report."""
        self.write("hand_over")

    def write(self, identity: str, paper: str = "", proposed: str = "") -> None:
        """Ask where to write a paper, and write it; on ``paper`` where that was chosen already."""
        from ribpatch.ui.papers import ON, PAPERS, usual_paper

        spec, documents = PAPERS[identity], self._w.documents
        make = spec.prepare(self._w)
        if make is None:
            return
        kind, name = "", proposed or spec.proposed
        path: Path | None
        if ";;" in spec.kinds and not paper:
            asked = documents.ask_kind(spec.title, name, spec.kinds)
            path, kind = asked if asked is not None else (None, "")
        else:
            pdf = str(Path(name).with_suffix(".pdf"))
            path = documents.ask_path(spec.title, *((pdf, "PDF (*.pdf)") if paper else (name, spec.kinds)))
        if path is None:
            return
        chosen = paper or next((p for words, p in ON.items() if words in kind), usual_paper(self._w))
        documents.write_paper(path, spec.said, lambda told: make(path.suffix, chosen, told))

    def export_ics(self) -> None:
        """Write the schedule as a calendar file."""
        from ribpatch.ui.papers import scheduled

        made = scheduled(self._w)
        path = self._w.documents.ask_path("Calendar file", "days.ics", "Calendar (*.ics)") if made else None
        if made is None or path is None:
            return
        days, schedule, _ = made
        boat = self._w.session.job.boat.name

        def make(_told: Told) -> bytes:
            from ribpatch.formats.days_ics import days_ics

            return days_ics(days, schedule, boat)

        self._w.documents.write_paper(path, "the calendar file", make)

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

        def make(_told: Told) -> bytes:
            from ribpatch.formats.log_csv import log_text

            return log_text(plan.job, logged_days(plan, day, ""), system).encode()

        self._w.documents.write_paper(path, "the log", make)
