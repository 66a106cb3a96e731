"""The actions of the window: made from the table, each a method of its id."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QFileDialog

from ribpatch import __version__
from ribpatch.core.cautions import LIMITS
from ribpatch.ui.actions import ACTIONS, ActionSpec, key_sheet
from ribpatch.ui.theme import apply_theme

if TYPE_CHECKING:
    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.report.page import Paper
    from ribpatch.ui.window import Window

DRAWINGS = "Drawings (*.svg *.dxf *.pdf)"


class WindowActions:
    """Builds the menus and carries the actions out."""

    def __init__(self, window: Window) -> None:
        self._w = window
        self.by_id: dict[str, QAction] = {}
        menus = {}
        for spec in ACTIONS:
            if spec.menu not in menus:
                # Alt+letters belong to the ladder's rungs; the menus take letters that no rung uses.
                menus[spec.menu] = window.menuBar().addMenu(
                    {"Job": "&Job", "Edit": "&Edit", "View": "&View", "Help": "&Help"}[spec.menu]
                )
            menus[spec.menu].addAction(self._made(spec))
        window.session.stack.indexChanged.connect(lambda _index: self.refresh())

    def _made(self, spec: ActionSpec) -> QAction:
        action = QAction(spec.text, self._w)
        if spec.key:
            action.setShortcut(QKeySequence(spec.key))
        words = spec.text.replace("&", "")
        action.setToolTip(f"{words} ({spec.key})" if spec.key else words)
        action.setStatusTip(spec.tip or words)
        action.triggered.connect(lambda checked=False, i=spec.id: getattr(self, i)())
        self.by_id[spec.id] = action
        return action

    def trigger(self, identity: str) -> None:
        """Carry out an action as if it were picked from its menu."""
        self.by_id[identity].trigger()

    def refresh(self) -> None:
        """Enable what can be done now, and name the steps that undo and redo would take."""
        session = self._w.session
        stack = session.stack
        can = {
            "nothing": True,
            "job": session.is_open,
            "zone": session.zone is not None,
            "undo": stack.canUndo(),
            "redo": stack.canRedo(),
        }
        for spec in ACTIONS:
            self.by_id[spec.id].setEnabled(can[spec.needs])
        self.by_id["undo"].setText(f"&Undo {stack.undoText()}".rstrip())
        self.by_id["redo"].setText(f"&Redo {stack.redoText()}".rstrip())

    # ---- job ----

    def new_job(self) -> None:
        """Begin a new job."""
        if self._w.documents.may_leave():
            self._w.show_new()

    def open_job(self) -> None:
        """Open a job file."""
        path = self._w.documents.ask_open()
        if path is not None:
            self._w.open_path(path)

    def start(self) -> None:
        """Go to the start page and back."""
        if self._w.at_work or not self._w.session.is_open:
            self._w.show_start()
        else:
            self._w.show_work()

    def demo_job(self) -> None:
        """Open the demo job as a job without a file."""
        from ribpatch.library.kept import kept_demo_job

        if self._w.documents.may_leave():
            self._w.show_new_job(kept_demo_job(), "open")

    def save(self) -> None:
        """Save."""
        self._w.documents.save()

    def save_as(self) -> None:
        """Save under another name."""
        self._w.documents.save_as()

    def work_pack(self) -> None:
        """Write the work pack."""
        documents, session = self._w.documents, self._w.session
        path = documents.ask_path("Work pack", "work-pack.pdf", "PDF (*.pdf)")
        if path is None:
            return
        plan, system = session.plan, session.system

        def make() -> bytes:
            from ribpatch.report.workpack import work_pack

            return work_pack(plan, system, "A4" if system == "metric" else "Letter")

        documents.write_paper(path, "the work pack", make)

    def shopping_list(self) -> None:
        """Write the shopping list."""
        from ribpatch.formats.shopping_csv import shopping_text

        documents, session = self._w.documents, self._w.session
        path = documents.ask_path("Shopping list", "shopping-list.csv", "CSV (*.csv)")
        if path is not None:
            text = shopping_text(session.plan, session.system)
            documents.write_paper(path, "the shopping list", lambda: text.encode())

    def quit(self) -> None:
        """Close the window."""
        self._w.close()

    # ---- edit ----

    def undo(self) -> None:
        """Take the last step back."""
        self._w.session.stack.undo()

    def redo(self) -> None:
        """Take the step again."""
        self._w.session.stack.redo()

    def import_readings(self) -> None:
        """Import readings from a CSV."""
        name, _ = QFileDialog.getOpenFileName(self._w, "Import readings", "", "CSV (*.csv *.txt);;All files (*)")
        if name:
            self._w.documents.import_readings(Path(name))

    def open_recording(self) -> None:
        """Open a recording of taps."""
        name, _ = QFileDialog.getOpenFileName(
            self._w, "Open a recording of taps", "", "Recordings (*.wav);;All files (*)"
        )
        if name:
            self._w.documents.open_recording(Path(name))

    def add_photographs(self) -> None:
        """Add photographs to the zone."""
        from ribpatch.ui.survey_desk import PICTURES

        self._w.documents.add_photographs(self._w.documents.ask_pictures(PICTURES))

    def practice(self) -> None:
        """Begin a practice panel as a job of its own, with a hidden truth not seen before."""
        from ribpatch.library.practice import practice_job

        if self._w.documents.may_leave():
            import secrets

            self._w.show_new_job(practice_job(secrets.randbelow(2**31)), "find")

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
        path = self._w.documents.ask_path("Ply templates", "templates.pdf", "PDF (*.pdf)") if zone else None
        if zone is None or path is None:
            return
        plan, system = self._w.session.plan, self._w.session.system
        outlines, name = plan.zone(zone.id).patch.all_outlines, f"{plan.job.boat.name}, {zone.name}"

        def make() -> bytes:
            from ribpatch.report.templates import template_pdf

            return template_pdf(outlines, name, "A4" if system == "metric" else "Letter", system)

        self._w.documents.write_paper(path, "the ply templates", make)

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

    def export_readings(self) -> None:
        """Write the zone's readings as CSV."""
        from ribpatch.formats.readings_csv import write_text

        zone = self._w.session.zone
        path = self._w.documents.ask_path("Readings", "readings.csv", "CSV (*.csv)") if zone else None
        if zone is not None and path is not None:
            survey = zone.survey
            text = write_text(survey.readings, survey.references, survey.sessions)
            self._w.documents.write_paper(path, "the readings", lambda: text.encode())

    def add_zone(self) -> None:
        """Add a zone."""
        self._w.add_zone()

    # ---- view ----

    def next_zone(self) -> None:
        """Go to the next zone."""
        session = self._w.session
        ids = [z.id for z in session.job.zones]
        session.go(ids[(ids.index(session.zone_id) + 1) % len(ids)])

    def next_page(self) -> None:
        """Show the next picture or table below the plan."""
        self._w.zone_bench.below.next_page()

    def units(self) -> None:
        """Switch units."""
        session = self._w.session
        session.set_system("us" if session.system == "metric" else "metric")
        self._w.settings.system = session.system

    def theme(self) -> None:
        """Switch between light and dark."""
        from PySide6.QtWidgets import QApplication

        settings = self._w.settings
        settings.theme = "dark" if settings.theme == "light" else "light"
        app = QApplication.instance()
        if isinstance(app, QApplication):
            apply_theme(app, settings.theme)
        self._w.use_theme(settings.theme)

    def fit(self) -> None:
        """Show the whole drawing."""
        self._w.zone_bench.plan_canvas.fit()
        self._w.zone_bench.section_canvas.fit()

    def find_figure(self) -> None:
        """Find any figure of the job by name."""
        session = self._w.session
        self._w.work.working.close_sheet()
        self._w.work.finder.look(session.plan, session.zone_id, session.system)

    # ---- help ----

    def keys(self) -> None:
        """Show the keys."""
        if not self._w.at_work:
            self._box("Keys and help", key_sheet())
            return
        self._w.work.sheet.show_sheet("Keys and help", key_sheet())

    def about(self) -> None:
        """Say what this is and its limits."""
        text = (
            f"<p>Rib Patch {__version__}, under the MIT licence. Font B612 under the SIL Open Font License "
            f"1.1.</p><p>{LIMITS}</p>"
        )
        if self._w.at_work:
            self._w.work.sheet.show_sheet("About Rib Patch", text)
        else:
            self._box("About Rib Patch", text)

    def _box(self, title: str, text: str) -> None:
        from PySide6.QtWidgets import QMessageBox

        box = QMessageBox(self._w)
        box.setWindowTitle(title)
        box.setText(text)
        box.exec()
