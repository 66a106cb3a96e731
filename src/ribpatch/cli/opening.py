"""What commands share: a job is opened, a zone is found, what is made is written."""

from __future__ import annotations

import json
import sys
from typing import TYPE_CHECKING

from ribpatch.core.errors import UnknownItem
from ribpatch.core.numerals import use_money
from ribpatch.core.plan import Plan, plan
from ribpatch.core.text import escaped_signs, printable
from ribpatch.core.units import SYSTEMS
from ribpatch.jobfile import archive
from ribpatch.jobfile.writing import write_output
from ribpatch.library.shelf import user_shelf

if TYPE_CHECKING:
    import argparse
    from pathlib import Path

    from ribpatch.core.errors import Fault
    from ribpatch.core.job import Job, Zone


def line(fault: Fault) -> str:
    """A fault on one line."""
    return " ".join(printable(fault.sentence).split())


def tell(text: str, error: bool = False) -> None:
    """A line on the terminal; what a job or a file's name holds of control signs stays out of it."""
    print(printable(text), file=sys.stderr if error else sys.stdout)


def tell_json(value: object, indent: int | None = None, ascii_only: bool = False) -> None:
    """JSON on the terminal, control signs and what is no character written as escapes."""
    text = json.dumps(value, indent=indent, ensure_ascii=ascii_only, allow_nan=False)
    print(escaped_signs(text))


def open_plan(path: Path, units: str = "metric") -> Plan:
    """The plan of a job; what is wrong with the user's own materials is told on stderr. Raises Fault."""
    job = archive.load(path)
    shelf, faults = user_shelf()
    for fault in faults:
        print(line(fault), file=sys.stderr)
    use_money(job.buying.currency)
    return plan(job, shelf, next((s for s in SYSTEMS if s == units), "metric"))


def write(chosen: argparse.Namespace, data: bytes) -> None:
    """Write the output whole or not at all, and never over what was read."""
    write_output(chosen.output, data, (chosen.file,))


def zone_of(job: Job, wanted: str) -> Zone:
    """A zone by its id or name. Raises UnknownItem."""
    for zone in job.zones:
        if wanted in (zone.id, zone.name):
            return zone
    names = ", ".join(f"{zone.id} ({zone.name})" for zone in job.zones) or "none yet"
    raise UnknownItem(what="zone", name=wanted, near=f"The zones are: {names}.")
