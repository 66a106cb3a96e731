"""Readings from CSV: encodings, separators, decimal marks, units, and every bad row by its line."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.strategies import any_reading

from ribpatch.core.errors import FileProblem
from ribpatch.core.readings import Moisture, SurveySession, Tap
from ribpatch.core.record import evolve
from ribpatch.formats.csv_columns import UnclearColumns
from ribpatch.formats.readings_csv import read_file, read_text, write_text
from ribpatch.library.shelf import shipped_shelf

ZONE = ((0.0, 0.0), (2.0, 0.0), (2.0, 1.0), (0.0, 1.0))
SHELF = shipped_shelf()


def read(text):
    return read_text(text, "utf-8", ZONE, SHELF)


@pytest.mark.parametrize(
    "text",
    [
        "x,y,kind,value\n500,250,tap,dull\n500,250,moisture,33.5\n", "x;y;kind;value\n500;250;tap;dull\n500;250;moisture;33,5\n",
        "x\ty\tkind\tvalue\n500\t250\ttap\tdull\n500\t250\tmoisture\t33.5\n", "X m,Y m,Kind,Value\n0.5,0.25,TAP,Dull\n0.5,0.25,Meter,33.5\n",
        "kind,value,y (mm),x (mm)\ntap,dull,250,500\nmoisture,33.5 %,250,500\n", "\n\nx;y;type;reading\n500,0;250,0;hammer;dull\n\n500;250;wet;33,5\n",
        'x,y,kind,value,note\n500,250,tap,dull,"by the hatch, port"\n500,250,moisture,33.5,\n',
    ],
)  # fmt: skip
def test_common_forms_are_read_alike(text):
    found = read(text)
    assert not found.bad
    tap, wet = found.readings
    assert isinstance(tap, Tap) and (tap.x, tap.y, tap.grade) == (0.5, 0.25, "dull")
    assert isinstance(wet, Moisture) and (wet.x, wet.y, wet.value) == (0.5, 0.25, 33.5)


def test_inches_and_feet_by_the_header():
    (reading,) = read("x (in),y ft,kind,value\n20,1,tap,ring\n").readings
    assert (reading.x, reading.y) == pytest.approx((0.508, 0.3048))


@pytest.mark.parametrize(
    ("row", "reason"),
    [
        ("a,1,tap,ring", "x “a” is no number"), ("1,,tap,ring", "y “” is no number"), ("1,1,bell,ring", "neither tap nor moisture"),
        ("1,1,tap,bong", "no tap grade “bong”"), ("1,1,moisture,140", "0 to 100"), ("1,1,moisture,nan", "no finite number"),
        ("5000,1,tap,ring", "outside the zone"), ("1,1,tap", "3 columns"), ("999999,1,tap,ring", "100 m away"), ("1,1,moisture,inf", "finite"),
        ("1,5,2,5,tap,ring", "too many columns"),
    ],
)  # fmt: skip
def test_bad_rows_are_told_by_line_and_the_others_come_in(row, reason):
    found = read(f"x,y,kind,value\n10,10,tap,ring\n{row}\n20,10,tap,dull\n")
    assert len(found.readings) == 2
    assert [b.line for b in found.bad] == [3] and reason in found.bad[0].reason


@pytest.mark.parametrize(
    ("text", "reason"), [("", "empty"), ("a,b\n1,2\n", "no column"), ("x,y,value\n1,2,3\n", "no column kind")]
)
def test_files_without_a_usable_header_are_refused(text, reason):
    with pytest.raises(FileProblem, match=reason):
        read(text)


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_encodings(tmp_path, encoding):
    path = tmp_path / "r.csv"
    path.write_bytes("x;y;kind;value;größe\n500;250;tap;dull;\n".encode(encoding))
    assert len(read_file(path, ZONE, SHELF).readings) == 1


def test_a_picture_is_no_csv(tmp_path):
    path = tmp_path / "p.csv"
    path.write_bytes(bytes(range(256)) * 10)
    with pytest.raises(FileProblem):
        read_file(path, ZONE, SHELF)


def test_a_missing_file_is_told(tmp_path):
    with pytest.raises(FileProblem, match="cannot be read"):
        read_file(tmp_path / "none.csv", ZONE, SHELF)


sessions = (SurveySession(id="s1", date="2026-05-14", who="yard hand"), SurveySession(id="s2", note="after, drying"))


@given(st.lists(st.tuples(any_reading, st.sampled_from(["", "s1", "s2"]), st.booleans()), min_size=1, max_size=12))
def test_out_and_in_again_is_exact_for_every_instrument(rows):
    readings = tuple(evolve(r, id=f"r{n}", session=session) for n, (r, session, _) in enumerate(rows))
    marked = tuple(r.id for r, (_, _, reference) in zip(readings, rows, strict=True) if reference)
    found = read(write_text(readings, marked, sessions))
    assert not found.bad
    back = tuple(evolve(r, id=f"r{n}") for n, r in enumerate(found.readings))
    assert back == readings
    assert tuple(back[n].id for n in found.references) == marked
    assert {s.id: s for s in found.sessions} == {s.id: s for s in sessions if s.id in {r.session for r in readings}}


def test_only_columns_in_use_are_written():
    text = write_text((Tap(id="r1", x=0.5, y=0.25, grade="dull"),))
    assert text == "x m,y m,kind,value\n0.5,0.25,tap,dull\n"


@pytest.mark.parametrize(
    ("row", "reason"),
    [
        ("10,10,plug,wet soft", "three words"), ("10,10,push,200", "deflection"), ("10,10,cut,sound", "points"), ("10,10,pin,wood", "no number"),
        ("10,10,strike,900", "centroid"), ("10,10,soap,foam", "soap"),
    ],
)  # fmt: skip
def test_rows_of_other_instruments_are_told_too(row, reason):
    found = read(f"x,y,kind,value\n{row}\n")
    assert not found.readings and reason in found.bad[0].reason


def test_dates_make_sessions_and_a_bad_date_is_told():
    found = read(
        "x,y,kind,value,session date\n10,10,tap,ring,2026-05-14\n20,10,tap,ring,2026-06-01\n30,10,tap,ring,soon\n"
    )
    assert [s.date for s in found.sessions] == ["2026-05-14", "2026-06-01"]
    assert [r.session for r in found.readings] == ["s1", "s2"] and "soon" in found.bad[0].reason


def test_unclear_columns_are_asked_for_and_a_mapping_answers():
    text = "left,top,number\n1,2,40\n2,2,12\n"
    with pytest.raises(UnclearColumns, match="no column x, y, kind, value") as asked:
        read(text)
    assert asked.value.cells == ("left", "top", "number")
    mapping = {"x": "left", "y": "top", "kind": "=moisture", "value": "number", "unit": "cm"}
    found = read_text(text, "utf-8", ZONE, SHELF, "CSV", mapping)
    assert [(r.x, r.value) for r in found.readings] == [(0.01, 40), (0.02, 12)]


def test_readings_that_repeat_a_place_are_counted():
    assert read("x,y,kind,value\n1,1,tap,ring\n1,1,tap,dull\n1,1,moisture,20\n").repeats == 1


def test_progress_is_told_and_stopping_stops():
    text = "x,y,kind,value\n" + "1,1,tap,ring\n" * 5000
    told = []
    assert len(read_text(text, "utf-8", ZONE, SHELF, steps=told.append).readings) == 5000
    assert told == sorted(told) and 0 < told[0] < told[-1] <= 1

    def stop(share):
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        read_text(text, "utf-8", ZONE, SHELF, steps=stop)


def test_a_hundred_thousand_rows_are_the_most(monkeypatch):
    monkeypatch.setattr("ribpatch.formats.readings_csv.MOST_ROWS", 5)
    with pytest.raises(FileProblem, match="more than 5"):
        read("x,y,kind,value\n" + "1,1,tap,ring\n" * 6)


def test_a_line_that_leaves_the_zone_is_told_by_its_row():
    found = read("x m,y m,kind,value,points m\n0.1,0.1,cut,wet,0.1 0.1; 0.5 0.5\n0.1,0.1,cut,wet,0.1 0.1; 2.5 0.5\n")
    assert len(found.readings) == 1 and [b.line for b in found.bad] == [3] and "outside the zone" in found.bad[0].reason


@given(st.text(alphabet='xykindvalue,;\t \n"0123456789.-%tapring', max_size=200))
def test_any_text_is_read_or_told_in_a_sentence(text):
    try:
        found = read("x,y,kind,value\n" + text)
    except FileProblem as fault:
        assert fault.sentence.endswith(".")
    else:
        assert all(b.reason and b.line > 1 for b in found.bad)


@given(st.binary(max_size=300))
def test_any_bytes_are_read_or_told_in_a_sentence(tmp_path_factory, raw):
    path = tmp_path_factory.mktemp("any") / "any.csv"
    path.write_bytes(raw)
    with pytest.raises(FileProblem) as caught:
        read_file(path, ZONE, SHELF)
    assert caught.value.sentence.startswith("any.csv")


# ---- what a stranger's file may do ----


@pytest.mark.parametrize("said", ["1.024", "1,024", "-1.024"])
def test_a_number_that_may_be_a_thousand_is_not_guessed(said):
    found = read(f"x;y;kind;value\n{said};20;tap;ring\n30;20;tap;ring\n")
    assert len(found.readings) == 1 and "may be" in found.bad[0].reason and found.bad[0].line == 2


def test_a_file_that_shows_what_its_marks_are_for_is_read_by_that():
    grouped = read("x;y;kind;value\n1.024,5;20;tap;ring\n1.900;30,5;tap;ring\n")
    assert [r.x for r in grouped.readings] == pytest.approx([1.0245, 1.9])
    decimal = read("x;y;kind;value\n1.024;20;tap;ring\n30.5;20.25;tap;ring\n")
    assert [r.x for r in decimal.readings] == pytest.approx([0.001024, 0.0305])
    assert read("x m;y m;kind;value\n1.024;0.2;tap;ring\n").readings[0].x == 1.024


@pytest.mark.parametrize(
    ("name", "factor"),
    [("x metres", 1), ("x in mm", 1e-3), ("x (in)", 0.0254), ("x inches", 0.0254), ("x [cm]", 1e-2), ("x feet", 0.3048), ("x in", 0.0254),
     ("x", 1e-3), ("along in metres", 1), ("x_mm", 1e-3)],
)  # fmt: skip
def test_the_unit_of_a_column_is_read_as_it_is_spelled(name, factor):
    (reading,) = read(f"{name},y,kind,value\n1.5,20,tap,ring\n").readings
    assert reading.x == pytest.approx(1.5 * factor)


def test_an_unknown_unit_is_told_and_not_taken_for_millimetres():
    with pytest.raises(FileProblem, match=r"x \(furlongs\)"):
        read("x (furlongs),y,kind,value\n1,1,tap,ring\n")
    with pytest.raises(FileProblem, match="two units"):
        read("x cm ft,y,kind,value\n1,1,tap,ring\n")


def test_an_open_quote_costs_its_own_row_only():
    rows = [f"{n},{n},tap,ring," for n in range(1, 60)]
    rows[4] += '"by the hatch'
    rows[40] += '"sound, dry"'
    found = read("x,y,kind,value,note\n" + "\n".join(rows) + "\n")
    assert [b.line for b in found.bad] == [6] and "not closed" in found.bad[0].reason
    assert len(found.readings) == 58 and found.readings[39].note == "sound, dry"


def test_a_note_of_several_lines_stays_one_cell():
    found = read('x,y,kind,value,note\n1,1,tap,ring,"first, line\nsecond line"\n2,2,tap,dull,\n')
    assert [r.note for r in found.readings] == ["first, line\nsecond line", ""] and not found.bad


@pytest.mark.parametrize("sign", ["\u2028", "\x0b", "\x0c", "\x1c", "\x85"])
def test_odd_line_ends_inside_a_note_part_no_rows(sign):
    found = read(f"x,y,kind,value,note\n1,1,tap,ring,a{sign}b\n2,2,tap,dull,\n")
    assert len(found.readings) == 2 and not found.bad and found.readings[0].note == f"a{sign}b"


def test_a_line_that_names_the_separator_is_taken():
    found = read("sep=;\nx;y;kind;value\n1,5;2;tap;ring\n")
    assert found.readings[0].x == pytest.approx(0.0015)
    with pytest.raises(FileProblem, match="parts its columns"):
        read("sep=|\nx|y|kind|value\n1|2|tap|ring\n")


@pytest.mark.parametrize("cell", ["n" * 200_000, '"' + "n" * 200_000 + '"'])
def test_a_huge_cell_is_told_by_its_line(cell):
    found = read(f"x,y,kind,value,note\n1,1,tap,ring,{cell}\n2,2,tap,ring,\n")
    assert [b.line for b in found.bad] == [2] and len(found.readings) == 1 and len(found.bad[0].reason) < 400


def test_fifty_thousand_rows_come_in():
    text = "x,y,kind,value\n" + "1,1,tap,ring\n" * 50_000
    assert len(read(text).readings) == 50_000
