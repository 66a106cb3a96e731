"""Tables for the clipboard, drawings as PNG."""

from html.parser import HTMLParser
from io import BytesIO

from PIL import Image

from ribpatch.core.drawing.shapes import Area, Drawing
from ribpatch.core.figure import Figure
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind
from ribpatch.formats.clip import as_html, as_text, figure_columns, table_words
from ribpatch.report.export import drawing_bytes

TABLE = Table(
    ("what", "weight"),
    (
        Row("a", ("skin <outer>", Figure("w", "weight", 2.0, Kind.MASS, "as weighed"))),
        Row("b", ("core\tof foam\nin two", "–")),
    ),
)


class Cells(HTMLParser):
    def __init__(self, text):
        super().__init__()
        self.rows = []
        self.feed(text)

    def handle_starttag(self, tag, attrs):
        if tag == "tr":
            self.rows.append([])

    def handle_data(self, data):
        self.rows[-1].append(data)


def test_words_of_a_table_in_the_units_in_use():
    assert table_words(TABLE, "metric")[1] == ("skin <outer>", "2.00 kg")
    assert table_words(TABLE, "us")[1][1] == "4.41 lb"
    assert table_words(Table(("",), TABLE.rows), "metric") == table_words(TABLE, "metric")[1:]


def test_text_keeps_cells_apart_whatever_they_hold():
    assert as_text(table_words(TABLE, "metric")).splitlines()[2] == "core of foam in two\t–"


def test_html_reads_back_as_the_same_cells():
    words = table_words(TABLE, "metric")
    html = as_html(words, figure_columns(TABLE))
    assert Cells(html).rows[:2] == [list(r) for r in words[:2]] and figure_columns(TABLE) == [1]
    assert html.count('align="right"') == 3 and html.count("<th") == 2


def test_a_drawing_as_png_is_to_scale():
    square = ((0.0, 0.0), (0.5, 0.0), (0.5, 0.5), (0.0, 0.5))
    drawing = Drawing("a square", "", (0.0, 0.0, 0.5, 0.5), (Area((square,), "cut"),))
    picture = Image.open(BytesIO(drawing_bytes(drawing, "a square", ".png")))
    assert [round(d) for d in picture.info["dpi"]] == [300, 300]
    wide, high = (side / 300 * 25.4 for side in picture.size)
    assert sorted((round(wide), round(high))) == [210, 297]
