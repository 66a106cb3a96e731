"""Readings from CSV: encodings, separators, decimal marks, units, and every bad row by its line."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.errors import FileProblem
from ribpatch.core.readings import Moisture, Tap
from ribpatch.formats.readings_csv import read_file, read_text, write_text
from ribpatch.formats.shopping_csv import shopping_text
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


taps = st.builds(
    lambda x, y, g: Tap(id="new", x=x, y=y, grade=g),
    st.floats(0, 2),
    st.floats(0, 1),
    st.sampled_from([t.id for t in SHELF.instrument("tap").grades]),
)
wets = st.builds(
    lambda x, y, v: Moisture(id="new", x=x, y=y, value=v), st.floats(0, 2), st.floats(0, 1), st.floats(0, 100)
)


@given(st.lists(st.one_of(taps, wets), max_size=30))
def test_out_and_in_again_is_exact(readings):
    text = write_text(tuple(readings))
    if readings:
        assert read(text).readings == tuple(readings)


def test_a_hundred_thousand_rows_are_the_most(monkeypatch):
    monkeypatch.setattr("ribpatch.formats.readings_csv.MOST_ROWS", 5)
    with pytest.raises(FileProblem, match="more than 5"):
        read("x,y,kind,value\n" + "1,1,tap,ring\n" * 6)


def test_shopping_list_sums_and_uses_plain_numbers(made):
    rows = [line.split(",") for line in shopping_text(made).splitlines()]
    assert rows[0] == ["group", "item", "amount", "unit", "note", "cost"]
    costs = [float(r[-1]) for r in rows[1:-1]]
    assert float(rows[-1][-1]) == pytest.approx(sum(costs), abs=0.02)
    assert "−" not in shopping_text(made, "us")
