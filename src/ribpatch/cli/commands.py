"""The commands. Exit codes: 0 done, 1 the input is wrong (one line a fault on stderr), 2 wrong usage."""

from __future__ import annotations

import argparse
import contextlib
import io
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from ribpatch import __version__
from ribpatch.cli.helps import SHELLS, completion, man_page
from ribpatch.cli.opening import line, open_plan, tell, tell_json, write, zone_of
from ribpatch.cli.papers import add_papers
from ribpatch.core.errors import Fault, FileProblem, ManyFaults, UnknownItem
from ribpatch.core.job import Job, member_name, members_of
from ribpatch.core.notice import warning_lines
from ribpatch.core.survey_edits import import_survey
from ribpatch.core.text import counted
from ribpatch.core.units import SYSTEMS
from ribpatch.jobfile import archive
from ribpatch.jobfile.album import Album
from ribpatch.jobfile.lock import JobLock
from ribpatch.jobfile.writing import refuse, refuse_any, same_file
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
        if getattr(chosen, "paper_out", False):
            refuse(chosen.output, (chosen.file,))  # before the work, which may take long
        chosen.run(chosen)
        sys.stdout.flush()
    except ManyFaults as many:
        for fault in many.faults:
            print(line(fault), file=sys.stderr)
        return 1
    except Fault as fault:
        print(line(fault), file=sys.stderr)
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


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="ribpatch",
        description="Plan composite boat repairs. Without a command the window opens: ribpatch [--demo | JOB ...].",
    )
    parser.add_argument("--version", action="version", version=f"Rib Patch {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    made = commands.add_parser("plan", help="every figure of a job")
    made.add_argument("file", type=Path)
    made.add_argument("--json", action="store_true", help="as JSON: id, name, value (SI), unit kind, warnings")
    made.add_argument("--units", choices=SYSTEMS, default="metric")
    made.set_defaults(run=_plan)
    made = commands.add_parser("check", help="is the file a job that can be worked with? lists open warnings")
    made.add_argument("file", type=Path)
    made.set_defaults(run=_check)
    add_papers(commands)
    made = commands.add_parser("taps", help="measure the strikes in a recording, and judge them by another")
    made.add_argument("wave", type=Path)
    made.add_argument("--reference", type=Path, help="a recording of taps on sound places of the same panel")
    made.set_defaults(run=_taps)
    made = commands.add_parser("export-readings", help="the readings of a zone as CSV")
    made.add_argument("file", type=Path)
    made.add_argument("zone", help="the zone's id or name")
    made.add_argument("-o", "--output", type=Path, required=True)
    made.set_defaults(run=_export, paper_out=True)
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
        choices=(
            *("panel", "beam", "section", "ply", "stack", "scarf", "cup", "slab", "mix"),
            *("offset", "trim", "nest", "sheets"),
            *("clock", "schedule", "straighten", "tapes", "trace"),
        ),
    )
    made.add_argument("--schema", action="store_true", help="what it reads, as JSON Schema")
    made.set_defaults(run=_calc)
    made = commands.add_parser(
        "outlines", help="the closed lines of an SVG or DXF, or the one drawn on a set-off sheet"
    )
    made.add_argument("drawing", type=Path, help=".svg, .dxf, or a picture of a set-off sheet")
    made.add_argument("--length", type=float, default=None, help="m between marks 1 and 2 of the sheet, as measured")
    made.add_argument("--width", type=float, default=None, help="m between marks 2 and 3")
    made.set_defaults(run=_outlines)
    made = commands.add_parser("man-page", help="the manual page, for man")
    made.set_defaults(run=lambda _chosen: print(man_page(_parser()), end=""))
    made = commands.add_parser("completion", help="completion of commands and options for a shell")
    made.add_argument("shell", choices=SHELLS)
    made.set_defaults(run=lambda chosen: print(completion(_parser(), chosen.shell), end=""))
    made = commands.add_parser("demo-job", help="write the demo job")
    made.add_argument("-o", "--output", type=Path, required=True)
    made.set_defaults(run=_demo)
    return parser


def _plan(chosen: argparse.Namespace) -> None:
    made = open_plan(chosen.file, chosen.units)
    if chosen.json:
        from ribpatch.cli.plan_json import plan_json

        plain = not (sys.stdout.encoding or "").lower().replace("-", "").startswith("utf")
        tell_json(plan_json(made), 1, plain)
        return
    for figure in made.all_figures:
        tell(f"{figure.id:36}{figure.shown(chosen.units):>16}   {figure.name}")


def _check(chosen: argparse.Namespace) -> None:
    made = open_plan(chosen.file)
    bad = _bad_members(chosen.file, made.job)
    if bad:
        raise bad[0] if len(bad) == 1 else ManyFaults(bad)
    tell(
        f"{chosen.file.name}: a job of version {made.job.version}, {counted(len(made.job.zones), 'zone', 'zones')}, "
        f"{counted(len(made.all_notices), 'open warning', 'open warnings')}"
    )
    names = {zone.id: zone.name for zone in made.job.zones}
    for words in warning_lines(made.all_notices, names):
        tell(words)


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


def _outlines(chosen: argparse.Namespace) -> None:
    """Rings in m, as JSON."""
    from ribpatch.formats.outlines import outlines_of

    path: Path = chosen.drawing
    if path.suffix.lower() in (".svg", ".dxf"):
        drawn = outlines_of(path)
        rings = [{"layer": layer, "ring": ring} for layer, ring in drawn.rings]
        tell_json({"units_stated": drawn.stated, "outlines": rings})
        return
    from ribpatch.formats.sheet_picture import read_sheet

    ring, made = read_sheet(path, chosen.length, chosen.width)
    tell_json({"outlines": [{"layer": "drawn line", "ring": ring}], "camera_misfit": made.camera})


def _export(chosen: argparse.Namespace) -> None:
    from ribpatch.formats.readings_csv import write_text

    survey = zone_of(archive.load(chosen.file), chosen.zone).survey
    write(chosen, write_text(survey.readings, survey.references, survey.sessions).encode())


def _schema(chosen: argparse.Namespace) -> None:
    from ribpatch.jobfile.schema import schema_text

    sys.stdout.write(schema_text())


def _materials(chosen: argparse.Namespace) -> None:
    from ribpatch.library.shelf import FILES

    shelf, faults = user_shelf()
    for fault in faults:
        print(line(fault), file=sys.stderr)
    kinds = [name for name in FILES if chosen.kind in ("", name)]
    if not kinds:
        raise UnknownItem(what="kind of material", name=chosen.kind, near=f"The kinds are: {', '.join(FILES)}.")
    for kind in kinds:
        for item in getattr(shelf, kind):
            tell(f"{kind:14}{item.id:28}{getattr(item, 'name', '')}".rstrip())
            for word in getattr(item, "grades", ()):
                tell(f"{'':14}{'  ' + word.id:28}{word.name}")


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
        print(line(lock.fault), file=sys.stderr)
    return lock


def _import_locked(chosen: argparse.Namespace, read_file: Callable[..., Read]) -> None:
    if not same_file(chosen.output, chosen.file):
        refuse_any(chosen.output)
    job = archive.load(chosen.file)
    zone = zone_of(job, chosen.zone)
    shelf, _ = user_shelf()
    read = read_file(chosen.csv, zone.outline, shelf)
    for row in read.bad:
        tell(f"{chosen.csv.name}, line {row.line}: {row.reason}", error=True)
    if not read.readings:
        raise FileProblem(chosen.csv.name, reason="holds no usable reading", advice="Nothing was written.")
    edit = import_survey(zone.id, read.readings, read.sessions, read.references)
    left_out = archive.save(edit.change(job), chosen.output, carry_from=chosen.file)
    repeats = f", {read.repeats} of them at a place that another row reads too" if read.repeats else ""
    came = counted(len(read.readings), "reading", "readings")
    tell(f"{came} added to {zone.name}{repeats}, {len(read.bad)} left out; understood as {read.understood}")
    for name in left_out:
        tell(f"{chosen.file.name}, {member_name(job, name)}: is damaged or not there, and is left out.", error=True)


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
