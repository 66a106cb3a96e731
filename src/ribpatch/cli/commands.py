"""The commands. Exit codes: 0 done, 1 the input is wrong (one line a fault on stderr), 2 wrong usage."""

from __future__ import annotations

import argparse
import contextlib
import io
import json
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from ribpatch import __version__
from ribpatch.core.errors import Fault, FileProblem, ManyFaults, UnknownItem
from ribpatch.core.job import Job, Zone, member_name, members_of
from ribpatch.core.plan import Plan, plan
from ribpatch.core.survey_edits import import_survey
from ribpatch.jobfile import archive
from ribpatch.jobfile.album import Album
from ribpatch.jobfile.lock import JobLock
from ribpatch.jobfile.writing import write_output
from ribpatch.library.shelf import user_shelf

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.survey.acoustics import Measured
    from ribpatch.formats.readings_csv import Read


def run(arguments: list[str]) -> int:
    """Run one command; the exit code."""
    parser = _parser()
    _speak_plainly()
    try:
        chosen = parser.parse_args(arguments)
    except SystemExit as stop:
        return 2 if stop.code else 0
    try:
        chosen.run(chosen)
        sys.stdout.flush()
    except ManyFaults as many:
        for fault in many.faults:
            print(_line(fault), file=sys.stderr)
        return 1
    except Fault as fault:
        print(_line(fault), file=sys.stderr)
        return 1
    except BrokenPipeError:
        _drop_output()  # the reader of our output has gone; there is nobody left to tell
    except OSError as error:
        _drop_output()
        print(f"ribpatch: the output cannot be written ({error.strerror or error}).", file=sys.stderr)
        return 1
    return 0


def _speak_plainly() -> None:
    """What a stream's encoding has no sign for is spelled out instead of stopping the command."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")


def _drop_output() -> None:
    """Let nothing more be written to the output, not even what is still held back for it."""
    with contextlib.suppress(OSError, ValueError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


def _line(fault: Fault) -> str:
    return " ".join(fault.sentence.split())


def _on_paper(made: argparse.ArgumentParser) -> None:
    """What every command asks for that writes a drawing or pages."""
    made.add_argument("-o", "--output", type=Path, required=True)
    made.add_argument("--units", choices=("metric", "us"), default="metric")
    made.add_argument("--paper", choices=("A4", "Letter"), default="A4")


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="ribpatch",
        description="Plan composite boat repairs. Without a command the window opens: ribpatch [--demo | FILE].",
    )
    parser.add_argument("--version", action="version", version=f"Rib Patch {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    made = commands.add_parser("plan", help="every figure of a job")
    made.add_argument("file", type=Path)
    made.add_argument("--json", action="store_true", help="as JSON: id, name, value (SI), unit kind, warnings")
    made.add_argument("--units", choices=("metric", "us"), default="metric")
    made.set_defaults(run=_plan)
    made = commands.add_parser("check", help="is the file a job that can be worked with? lists open warnings")
    made.add_argument("file", type=Path)
    made.set_defaults(run=_check)
    made = commands.add_parser("report", help="the work pack as PDF")
    made.add_argument("file", type=Path)
    _on_paper(made)
    made.set_defaults(run=_report)
    made = commands.add_parser("survey", help="the survey report as PDF, or the findings sheet of one zone")
    made.add_argument("file", type=Path)
    made.add_argument("--zone", default="", help="one zone on one page, by its id or name")
    _on_paper(made)
    made.set_defaults(run=_survey)
    made = commands.add_parser("taps", help="measure the strikes in a recording, and judge them by another")
    made.add_argument("wave", type=Path)
    made.add_argument("--reference", type=Path, help="a recording of taps on sound places of the same panel")
    made.set_defaults(run=_taps)
    made = commands.add_parser("export-readings", help="the readings of a zone as CSV")
    made.add_argument("file", type=Path)
    made.add_argument("zone", help="the zone's id or name")
    made.add_argument("-o", "--output", type=Path, required=True)
    made.set_defaults(run=_export)
    made = commands.add_parser("shopping", help="what to buy as .csv, .xlsx (with formulas) or .pdf")
    made.add_argument("file", type=Path)
    made.add_argument("-o", "--output", type=Path, required=True)
    made.add_argument("--units", choices=("metric", "us"), default="metric")
    made.set_defaults(run=_shopping)
    made = commands.add_parser(
        "drawing", help="the plan, the cut-through or the survey map of a zone as .svg, .dxf or .pdf, to scale"
    )
    made.add_argument("file", type=Path)
    made.add_argument("zone", help="the zone's id or name")
    made.add_argument("what", choices=("plan", "section", "survey"))
    _on_paper(made)
    made.set_defaults(run=_drawing)
    made = commands.add_parser("templates", help="the ply templates of a zone as PDF, full size on tiled sheets")
    made.add_argument("file", type=Path)
    made.add_argument("zone", help="the zone's id or name")
    _on_paper(made)
    made.set_defaults(run=_templates)
    made = commands.add_parser("labels", help="a label for each piece of cloth and core, as PDF")
    made.add_argument("file", type=Path)
    _on_paper(made)
    made.set_defaults(run=_labels)
    made = commands.add_parser("cut", help="every piece of cloth on its roll as .svg, .dxf or .pdf, to scale")
    made.add_argument("file", type=Path)
    _on_paper(made)
    made.set_defaults(run=_cut)
    made = commands.add_parser("schema", help="the JSON Schema of job.json")
    made.set_defaults(run=_schema)
    made = commands.add_parser("materials", help="the ids of materials, rules and words that a job may name")
    made.add_argument("kind", nargs="?", default="", help="one kind only, as fabrics or resins")
    made.set_defaults(run=_materials)
    made = commands.add_parser("import-readings", help="add the readings of a CSV to a zone")
    made.add_argument("file", type=Path)
    made.add_argument("zone", help="the zone's id or name")
    made.add_argument("csv", type=Path)
    made.add_argument("-o", "--output", type=Path, required=True)
    made.set_defaults(run=_import)
    made = commands.add_parser("calc", help="one method by itself: JSON in, JSON out, SI")
    made.add_argument(
        "method",
        choices=("panel", "beam", "section", "ply", "stack", "scarf", "cup", "slab", "trim", "nest", "sheets"),
    )
    made.add_argument("--schema", action="store_true", help="what it reads, as JSON Schema")
    made.set_defaults(run=_calc)
    made = commands.add_parser("demo-job", help="write the demo job")
    made.add_argument("-o", "--output", type=Path, required=True)
    made.set_defaults(run=_demo)
    return parser


def _open(path: Path, units: str = "metric") -> Plan:
    job = archive.load(path)
    shelf, faults = user_shelf()
    for fault in faults:
        print(_line(fault), file=sys.stderr)
    return plan(job, shelf, "us" if units == "us" else "metric")


def _write(chosen: argparse.Namespace, data: bytes) -> None:
    """Write the output whole or not at all, and never over what was read."""
    write_output(chosen.output, data, (chosen.file,))


def _plan(chosen: argparse.Namespace) -> None:
    made = _open(chosen.file, chosen.units)
    if chosen.json:
        from ribpatch.cli.plan_json import plan_json

        plain = not (sys.stdout.encoding or "").lower().replace("-", "").startswith("utf")
        print(json.dumps(plan_json(made), indent=1, ensure_ascii=plain))
        return
    for figure in made.all_figures:
        print(f"{figure.id:36}{figure.shown(chosen.units):>16}   {figure.name}")


def _check(chosen: argparse.Namespace) -> None:
    made = _open(chosen.file)
    bad = _bad_members(chosen.file, made.job)
    if bad:
        raise bad[0] if len(bad) == 1 else ManyFaults(bad)
    print(
        f"{chosen.file.name}: a job of version {made.job.version}, {len(made.job.zones)} zones, "
        f"{len(made.all_notices)} open warnings"
    )
    names = {zone.id: zone.name for zone in made.job.zones}
    for notice in made.all_notices:
        print(f"{'!' if notice.grave else '-'} {names.get(notice.zone, 'Boat')}: {notice.text} {notice.clears}")


def _bad_members(path: Path, job: Job) -> tuple[Fault, ...]:
    """Photographs and recordings that are damaged in the file, or that the job refers to and the file does not hold."""
    album = Album(path)
    names = sorted(archive.member_names(path) | members_of(job))
    advice = "An older copy may be in the file with ~ after its name."
    return tuple(
        FileProblem(
            f"{path.name}, {member_name(job, name)}",
            reason="is damaged" if name in album.damaged else "is not in the file",
            advice=advice,
        )
        for name in names
        if album.get(name) is None
    )


def _report(chosen: argparse.Namespace) -> None:
    from ribpatch.report.workpack import work_pack

    _write(chosen, work_pack(_open(chosen.file, chosen.units), chosen.units, chosen.paper))


def _survey(chosen: argparse.Namespace) -> None:
    from ribpatch.report.survey_report import findings_sheet, survey_report

    made, album = _open(chosen.file, chosen.units), Album(chosen.file)
    if chosen.zone:
        zone = _zone(made.job, chosen.zone)
        _write(chosen, findings_sheet(made, zone.id, album, chosen.units, chosen.paper))
    else:
        _write(chosen, survey_report(made, album, chosen.units, chosen.paper))


def _taps(chosen: argparse.Namespace) -> None:
    from ribpatch.core.survey.acoustics import strikes_in
    from ribpatch.core.survey.heard import heard_words
    from ribpatch.core.survey.strikes import verdict_of
    from ribpatch.formats.recordings import read_file, read_wave

    def strikes(path: Path) -> tuple[Measured, ...]:
        return strikes_in(*read_wave(read_file(path), path.name), path.name)

    shelf, _ = user_shelf()
    references = strikes(chosen.reference) if chosen.reference else ()
    print("start s  dominant Hz  centroid Hz  decay ms  contact ms  over noise dB  verdict")
    for s in strikes(chosen.wave):
        verdict = verdict_of(s, references, shelf)
        words = heard_words(verdict)
        print(
            f"{s.start:7.2f}{s.frequency:13.0f}{s.centroid:13.0f}"
            f"{s.decay * 1e3:10.1f}{s.contact * 1e3:12.2f}{s.over_noise:15.0f}  {words}"
        )


def _export(chosen: argparse.Namespace) -> None:
    from ribpatch.formats.readings_csv import write_text

    survey = _zone(archive.load(chosen.file), chosen.zone).survey
    _write(chosen, write_text(survey.readings, survey.references, survey.sessions).encode())


def _shopping(chosen: argparse.Namespace) -> None:
    from ribpatch.report.order_list import order_file

    _write(chosen, order_file(_open(chosen.file, chosen.units), chosen.output.suffix, chosen.units, ""))


def _labels(chosen: argparse.Namespace) -> None:
    from ribpatch.report.labels import label_pdf

    _write(chosen, label_pdf(_open(chosen.file, chosen.units), chosen.units, chosen.paper))


def _drawing(chosen: argparse.Namespace) -> None:
    from ribpatch.core.drawing.plan_view import plan_view
    from ribpatch.core.drawing.section_view import default_line, section_view
    from ribpatch.core.drawing.survey_picture import survey_picture
    from ribpatch.report.export import drawing_bytes

    plan = _open(chosen.file, chosen.units)
    made = plan.zone(_zone(plan.job, chosen.zone).id)
    if chosen.what == "plan":
        drawing = plan_view(made.zone, made.patch, None, plan.shelf, "rebuild", chosen.units)
    elif chosen.what == "survey":
        picture = survey_picture(made.zone, plan.shelf)
        drawing = plan_view(made.zone, made.patch, picture, plan.shelf, "find", chosen.units)
    else:
        drawing = section_view(made.zone, made.patch, plan.shelf, default_line(made.zone), True, chosen.units)
    title = f"{plan.job.boat.name}, {made.zone.name}"
    _write(chosen, drawing_bytes(drawing, title, chosen.output.suffix, chosen.paper))


def _templates(chosen: argparse.Namespace) -> None:
    from ribpatch.report.templates import template_pdf

    plan = _open(chosen.file, chosen.units)
    made = plan.zone(_zone(plan.job, chosen.zone).id)
    title = f"{plan.job.boat.name}, {made.zone.name}"
    _write(chosen, template_pdf(made.patch.all_outlines, title, chosen.paper, chosen.units))


def _cut(chosen: argparse.Namespace) -> None:
    from ribpatch.core.drawing.cut_view import cut_view
    from ribpatch.report.export import drawing_bytes

    plan = _open(chosen.file, chosen.units)
    drawing = cut_view(plan.rolls, chosen.units)
    _write(chosen, drawing_bytes(drawing, plan.job.boat.name, chosen.output.suffix, chosen.paper))


def _schema(chosen: argparse.Namespace) -> None:
    from ribpatch.jobfile.schema import schema_text

    sys.stdout.write(schema_text())


def _materials(chosen: argparse.Namespace) -> None:
    from ribpatch.library.shelf import FILES

    shelf, faults = user_shelf()
    for fault in faults:
        print(_line(fault), file=sys.stderr)
    kinds = [name for name in FILES if chosen.kind in ("", name)]
    if not kinds:
        raise UnknownItem(what="kind of material", name=chosen.kind, near=f"The kinds are: {', '.join(FILES)}.")
    for kind in kinds:
        for item in getattr(shelf, kind):
            print(f"{kind:14}{item.id:28}{getattr(item, 'name', '')}".rstrip())
            for word in getattr(item, "grades", ()):
                print(f"{'':14}{'  ' + word.id:28}{word.name}")


def _zone(job: Job, wanted: str) -> Zone:
    for zone in job.zones:
        if wanted in (zone.id, zone.name):
            return zone
    names = ", ".join(f"{zone.id} ({zone.name})" for zone in job.zones) or "none yet"
    raise UnknownItem(what="zone", name=wanted, near=f"The zones are: {names}.")


def _import(chosen: argparse.Namespace) -> None:
    from ribpatch.formats.readings_csv import read_file

    lock = _locked(chosen.output)
    try:
        _import_locked(chosen, read_file)
    finally:
        lock.release()


def _locked(path: Path) -> JobLock:
    """The lock of a job that is about to be written; raises JobInUse where a window has it open."""
    if path == Path() or path.is_dir():
        raise FileProblem(str(path), reason="is no file name", advice="Name the file to write.")
    lock = JobLock(path)
    if lock.fault is not None:
        print(_line(lock.fault), file=sys.stderr)
    return lock


def _import_locked(chosen: argparse.Namespace, read_file: Callable[..., Read]) -> None:
    job = archive.load(chosen.file)
    zone = _zone(job, chosen.zone)
    shelf, _ = user_shelf()
    read = read_file(chosen.csv, zone.outline, shelf)
    for row in read.bad:
        print(f"{chosen.csv.name}, line {row.line}: {row.reason}", file=sys.stderr)
    if not read.readings:
        raise FileProblem(chosen.csv.name, reason="holds no usable reading", advice="Nothing was written.")
    edit = import_survey(zone.id, read.readings, read.sessions, read.references)
    left_out = archive.save(edit.change(job), chosen.output, carry_from=chosen.file)
    repeats = f", {read.repeats} of them at a place that another row reads too" if read.repeats else ""
    print(
        f"{len(read.readings)} readings added to {zone.name}{repeats}, {len(read.bad)} left out; "
        f"understood as {read.understood}"
    )
    for name in left_out:
        print(
            f"{chosen.file.name}, {member_name(job, name)}: is damaged or not there, and is left out.", file=sys.stderr
        )


def _calc(chosen: argparse.Namespace) -> None:
    from ribpatch.cli.calc import run as calculate

    calculate(chosen.method, chosen.schema)


def _demo(chosen: argparse.Namespace) -> None:
    from ribpatch.library.demo import demo_job

    lock = _locked(chosen.output)
    try:
        _keep_other_job(chosen.output)
        archive.save(demo_job(), chosen.output)
    finally:
        lock.release()


def _keep_other_job(path: Path) -> None:
    """Raise FileProblem where ``path`` holds anything but the demo job."""
    from ribpatch.library.demo import demo_job

    try:
        other = path.is_file() and archive.load(path) != demo_job()
    except Fault:
        other = True
    if other:
        raise FileProblem(
            str(path), reason="is there already and holds something else", advice="Write to another name."
        )
