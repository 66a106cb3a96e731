"""The log as CSV, read by another reader."""

import csv
import io

from ribpatch.core.log_edits import correct, log_entry
from ribpatch.core.logged_days import logged_days
from ribpatch.core.plan import plan
from ribpatch.core.units import Measure
from ribpatch.formats.log_csv import log_text


def test_every_entry_has_a_row_with_its_numbers(job, shelf):
    made = log_entry(
        job,
        "mixed",
        at="2026-12-01T08:00",
        step="z4.prime",
        resin="epoxy-5-1-slow",
        mass=Measure(si=0.4),
        hardener=Measure(si=0.069),
        note='said "more", twice',
    ).change(job)
    made = correct(made, made.log.entries[0], mass=Measure(si=0.41)).change(made)
    rows = list(csv.DictReader(io.StringIO(log_text(made, logged_days(plan(made, shelf), "", "")))))
    assert [r["entry"] for r in rows] == ["e1", "e2"] and rows[1]["corrects"] == "e1"
    assert (float(rows[0]["resin kg"]), float(rows[1]["resin kg"])) == (0.4, 0.41)
    assert rows[0]["note"] == 'said "more", twice' and rows[0]["step"] == "Bow topside: prime coat"
    assert rows[0]["thickness m"] == "" and rows[0]["kind"] == "mixed"
