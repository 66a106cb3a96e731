"""The commands that write what leaves the program: the work pack, lists, labels, drawings and templates."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from ribpatch.cli.opening import open_plan, write, zone_of
from ribpatch.core.paper_sizes import PAPERS
from ribpatch.core.units import SYSTEMS
from ribpatch.jobfile.album import Album

if TYPE_CHECKING:
    import argparse

TEMPLATE_PAPERS = tuple(PAPERS)


def add_papers(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the commands of this module."""
    made = commands.add_parser("report", help="the work pack as PDF")
    made.add_argument("file", type=Path)
    _on_paper(made)
    made.set_defaults(run=_report, paper_out=True)
    made = commands.add_parser("survey", help="the survey report as PDF, or the findings sheet of one zone")
    made.add_argument("file", type=Path)
    made.add_argument("--zone", default="", help="one zone on one page, by its id or name")
    _on_paper(made)
    made.set_defaults(run=_survey, paper_out=True)
    made = commands.add_parser("shopping", help="what to buy as .csv, .xlsx (with formulas) or .pdf")
    made.add_argument("file", type=Path)
    made.add_argument("-o", "--output", type=Path, required=True)
    made.add_argument("--units", choices=SYSTEMS, default="metric")
    made.set_defaults(run=_shopping, paper_out=True)
    made = commands.add_parser(
        "drawing", help="the plan, the cut-through or the survey map of a zone as .svg, .dxf or .pdf, to scale"
    )
    made.add_argument("file", type=Path)
    made.add_argument("zone", help="the zone's id or name")
    made.add_argument("what", choices=("plan", "section", "survey"))
    _on_paper(made)
    made.set_defaults(run=_drawing, paper_out=True)
    made = commands.add_parser(
        "templates",
        help="the ply templates of a zone, full size: .pdf, or .svg and .dxf by ply",
    )
    made.add_argument("file", type=Path)
    made.add_argument("zone", help="the zone's id or name")
    _on_paper(made, TEMPLATE_PAPERS)
    made.set_defaults(run=_templates, paper_out=True)
    made = commands.add_parser("labels", help="a label for each piece of cloth and core, as PDF")
    made.add_argument("file", type=Path)
    _on_paper(made)
    made.set_defaults(run=_labels, paper_out=True)
    made = commands.add_parser("cut", help="every piece of cloth on its roll as .svg, .dxf or .pdf, to scale")
    made.add_argument("file", type=Path)
    made.add_argument("--core", action="store_true", help="the pieces of core on their sheets instead")
    _on_paper(made)
    made.set_defaults(run=_cut, paper_out=True)
    made = commands.add_parser("days", help="the schedule as .ics, .json or, one day of it, as .pdf")
    made.add_argument("file", type=Path)
    made.add_argument("--begin", default="", help="the day on which it begins, where the job states none")
    made.add_argument("--day", default="", help="the day of the sheet")
    made.add_argument("--seconds", type=float, default=10.0, help="to search for a better plan in")
    _on_paper(made)
    made.set_defaults(run=_days, paper_out=True)


def _on_paper(made: argparse.ArgumentParser, papers: tuple[str, ...] = ("A4", "Letter")) -> None:
    """What every command asks for that writes a drawing or pages."""
    made.add_argument("-o", "--output", type=Path, required=True)
    made.add_argument("--units", choices=SYSTEMS, default="metric")
    made.add_argument("--paper", choices=papers, default="A4")


def _report(chosen: argparse.Namespace) -> None:
    from ribpatch.report.workpack import work_pack

    today = date.today().isoformat()
    write(chosen, work_pack(open_plan(chosen.file, chosen.units), chosen.units, chosen.paper, today))


def _survey(chosen: argparse.Namespace) -> None:
    from ribpatch.report.survey_report import findings_sheet, survey_report

    made, album = open_plan(chosen.file, chosen.units), Album(chosen.file)
    if chosen.zone:
        zone = zone_of(made.job, chosen.zone)
        write(chosen, findings_sheet(made, zone.id, album, chosen.units, chosen.paper))
    else:
        write(chosen, survey_report(made, album, chosen.units, chosen.paper))


def _shopping(chosen: argparse.Namespace) -> None:
    from ribpatch.report.order_list import order_file

    write(chosen, order_file(open_plan(chosen.file, chosen.units), chosen.output.suffix, chosen.units, ""))


def _labels(chosen: argparse.Namespace) -> None:
    from ribpatch.report.labels import label_pdf

    write(chosen, label_pdf(open_plan(chosen.file, chosen.units), chosen.units, chosen.paper))


def _drawing(chosen: argparse.Namespace) -> None:
    from ribpatch.core.drawing.plan_view import plan_view
    from ribpatch.core.drawing.section_view import default_line, section_view
    from ribpatch.core.drawing.survey_picture import survey_picture
    from ribpatch.report.export import drawing_bytes

    plan = open_plan(chosen.file, chosen.units)
    made = plan.zone(zone_of(plan.job, chosen.zone).id)
    if chosen.what == "plan":
        drawing = plan_view(made.zone, made.patch, None, plan.shelf, "rebuild", chosen.units)
    elif chosen.what == "survey":
        picture = survey_picture(made.zone, plan.shelf)
        drawing = plan_view(made.zone, made.patch, picture, plan.shelf, "find", chosen.units)
    else:
        drawing = section_view(made.zone, made.patch, plan.shelf, default_line(made.zone), True, chosen.units)
    title = f"{plan.job.boat.name}, {made.zone.name}"
    write(chosen, drawing_bytes(drawing, title, chosen.output.suffix, chosen.paper))


def _templates(chosen: argparse.Namespace) -> None:
    from ribpatch.core.zone_axes import AXES
    from ribpatch.report.export import plies_file

    plan = open_plan(chosen.file, chosen.units)
    made = plan.zone(zone_of(plan.job, chosen.zone).id)
    title, ways = f"{plan.job.boat.name}, {made.zone.name}", AXES[made.zone.kind]
    outlines = made.patch.all_outlines
    write(chosen, plies_file(outlines, title, chosen.output.suffix, chosen.paper, chosen.units, ways))


def _cut(chosen: argparse.Namespace) -> None:
    from ribpatch.core.drawing.cut_view import cut_view
    from ribpatch.core.drawing.sheet_view import sheet_view
    from ribpatch.report.export import drawing_bytes

    plan = open_plan(chosen.file, chosen.units)
    drawing = sheet_view(plan.core_sheets, chosen.units) if chosen.core else cut_view(plan.rolls, chosen.units)
    write(chosen, drawing_bytes(drawing, plan.job.boat.name, chosen.output.suffix, chosen.paper))


def _days(chosen: argparse.Namespace) -> None:
    from ribpatch.cli.days import days_bytes

    plan = open_plan(chosen.file, chosen.units)
    write(chosen, days_bytes(plan, chosen.output.suffix.lower(), chosen))
