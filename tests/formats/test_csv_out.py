"""The gate through which text goes out: no formula, no control sign, no line of its own; and words come back as they were."""

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.text import cell_text, escaped_signs, many_lines, printable, together, words_of_cell
from ribpatch.formats.csv_out import csv_text

EVIL = ["=1+1", "+cmd", "-2+3", "@SUM(A1)", "\t=1", "\r=1", "'=1", "''@x"]


@pytest.mark.parametrize("text", EVIL)
def test_no_cell_begins_as_a_formula_and_every_one_comes_back(text):
    out = cell_text(text)
    assert out[0] == "'" and words_of_cell(out) == text


@given(st.text(max_size=20))
def test_marking_words_is_undone_exactly(text):
    assert words_of_cell(cell_text(text)) == text
    assert cell_text(text)[:1] not in ("=", "+", "-", "@", "\t", "\r")


@given(st.lists(st.text(max_size=12), min_size=1, max_size=4))
def test_a_row_holds_nothing_that_cannot_be_printed_and_is_one_line(row):
    (read,) = csv.reader(io.StringIO(csv_text([row]), newline="")) if any(row) else ([""] * len(row),)
    for cell in read:
        assert not any(ord(c) < 32 or 0x7F <= ord(c) < 0xA0 or c == "\uffff" for c in cell)


def test_numbers_stay_numbers_and_paragraphs_stay_where_they_are_wanted():
    assert csv_text([["-3.5", "+2", "1e-3", "-x", 4.5]]) == "-3.5,+2,1e-3,'-x,4.5\n"
    assert csv_text([["one\r\ntwo\x1b[31m"]], paragraphs=True) == '"one\ntwo[31m"\n'
    assert csv_text([["one\ntwo\x1b[31m\uffff"]]) == "one two[31m\n"
    assert many_lines("a\rb\nc\x00") == "a\nb\nc" and printable("a\nb") == "a b"


def test_json_on_a_terminal_keeps_its_signs_as_escapes():
    import json

    text = json.dumps({"a": "x\x9b\uffff é"}, ensure_ascii=False)
    assert json.loads(escaped_signs(text)) == {"a": "x\x9b\uffff é"} and "\x9b" not in escaped_signs(text)


def test_words_in_a_row():
    assert [together(w) for w in ([], ["a"], ["a", "b"], ["a", "b", "c"])] == ["", "a", "a and b", "a, b and c"]


def test_no_paper_chokes_on_what_a_job_may_hold(job, shelf):
    """Names with control signs, formulas and what is no character, through every table and calendar."""
    from io import BytesIO

    from icalendar import Calendar
    from openpyxl import load_workbook

    from ribpatch.core.days import days_of
    from ribpatch.core.plan import plan
    from ribpatch.core.record import evolve
    from ribpatch.formats.days_ics import days_ics
    from ribpatch.formats.order_xlsx import order_workbook
    from ribpatch.formats.shopping_csv import shopping_text

    bad = "=cmd()\x1b[31m\x07\uffff\nsecond line"
    zones = tuple(evolve(z, name=bad) if z.id == "z4" else z for z in job.zones)
    job = evolve(job, zones=zones, boat=evolve(job.boat, name=bad), buying=evolve(job.buying, currency="=€"))
    made = plan(job, shelf)
    days = days_of(made, "2026-11-30")
    calendar = Calendar.from_ical(days_ics(days, days.first, bad))
    said = [str(e["summary"]) for e in calendar.walk("VEVENT")]
    assert any(s.startswith("=cmd()[31m second line: ") for s in said)
    book = load_workbook(BytesIO(order_workbook(made)))
    assert any(row[0].value == "'=cmd()[31m second line" for row in book["Estimate"].iter_rows())
    for row in csv.reader(io.StringIO(shopping_text(made))):
        assert not any(c.startswith(("=", "@")) or "\x1b" in c for c in row)
