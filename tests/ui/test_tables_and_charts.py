"""Tables and charts on screen: what is shown, asked, taken, painted; the ratio said under the mouse; facts of
fittings.
"""

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication

from ribpatch.core.chart import Bars, Chart, Curve, Mark
from ribpatch.core.figure import Figure
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind
from ribpatch.ui.theme import colours
from ribpatch.ui.widgets.chart_view import ChartView, _round_step
from ribpatch.ui.widgets.sheet import Sheet
from ribpatch.ui.widgets.table_view import TableView

THICK = Figure("t", "thickness", 0.004, Kind.SIZE, "as measured")
HEAVY = Figure("w", "weight", 2.0, Kind.MASS, "as weighed")
TABLE = Table(
    ("what", "size", "weight"),
    (Row("a", ("first", THICK, HEAVY)), Row("b", ("second", THICK, "–"), "warn", "because"), Row("c", ("third", THICK, HEAVY), "chosen")),
    note="a note", take="Take",
)  # fmt: skip


@pytest.fixture
def table(qtbot, qapp):
    view = TableView("test table")
    qtbot.addWidget(view)
    view.resize(500, 240)
    view.show_table(TABLE, "metric")
    view.show()
    return view


def text(view, row, column):
    return view.grid.item(row, column).text()


def test_cells_show_words_and_figures_in_the_units_in_use(table):
    assert [text(table, 0, c) for c in range(3)] == ["first", "4.0 mm", "2.00 kg"]
    table.show_table(TABLE, "us")
    assert text(table, 0, 1) == "5/32 in"
    assert text(table, 1, 0) == "⚠ second" and text(table, 2, 0) == "● third"
    assert table.grid.item(1, 0).toolTip() == "because" and table.note.words == "a note"


def test_a_click_asks_a_figure_and_words_ask_nothing(table, qtbot):
    asked = []
    table.asked.connect(asked.append)
    for row, column in ((0, 1), (1, 2), (0, 0)):
        rect = table.grid.visualItemRect(table.grid.item(row, column))
        qtbot.mouseClick(table.grid.viewport(), Qt.MouseButton.LeftButton, pos=rect.center())
    assert asked == [THICK]


def test_enter_takes_a_row_where_rows_can_be_taken(table, qtbot):
    taken = []
    table.taken.connect(taken.append)
    table.grid.setCurrentCell(1, 0)
    qtbot.keyClick(table.grid, Qt.Key.Key_Return)
    table.show_table(Table(TABLE.columns, TABLE.rows), "metric")
    table.grid.setCurrentCell(0, 0)
    qtbot.keyClick(table.grid, Qt.Key.Key_Return)
    assert taken == ["b"]


def test_the_row_looked_at_stays_when_the_table_changes(table):
    table.grid.setCurrentCell(2, 0)
    table.show_table(Table(TABLE.columns, TABLE.rows[1:]), "metric")
    assert table.current_key == "c" and table.grid.currentRow() == 1


def test_an_empty_table_says_why(table):
    table.show_table(Table(("what",), (), empty="Nothing is cut yet."), "metric")
    assert table.grid.rowCount() == 0 and table.note.words == "Nothing is cut yet."


def test_a_theme_colours_the_figures(table):
    table.set_theme("dark")
    assert table.grid.item(0, 1).foreground().color() == colours("dark")["accent"]


# ---- charts ----


def painted(chart, qtbot, theme="light"):
    view = ChartView("test chart")
    qtbot.addWidget(view)
    view.resize(400, 220)
    view.set_theme(theme)
    view.show_chart(chart)
    view.show()
    QApplication.processEvents()
    return view.grab().toImage()


def count(image: QImage, colour) -> int:
    return sum(
        image.pixelColor(x, y) == colour for x in range(0, image.width(), 2) for y in range(0, image.height(), 2)
    )


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_bars_are_as_tall_as_their_values(qtbot, theme):
    accent = colours(theme)["accent"]
    heights = []
    for value in (0.5, 1.0):
        chart = Chart(
            "", "share", categories=("one",), bars=(Bars("a", (value,)),), limits=((1.25, "hard spot"),), top=2.0
        )
        heights.append(count(painted(chart, qtbot, theme), accent))
    assert heights[1] == pytest.approx(2 * heights[0], rel=0.2)


def test_curves_and_marks_are_painted_and_nothing_is_left_empty(qtbot):
    curve = Curve("mean", tuple((x, 1 / x) for x in range(1, 20)))
    second = Curve("at the peak", tuple((x, 2 / x) for x in range(1, 20)), "second")
    chart = Chart(
        "ratio",
        "used",
        (curve, second),
        (Mark(8, "8:1"), Mark(12, "12:1", True)),
        limits=((0.5, "your factor"),),
        top=2.0,
    )
    image = painted(chart, qtbot)
    for name in ("accent", "ink", "soft"):
        assert count(image, colours("light")[name]) > 0, name


def test_a_chart_of_nothing_paints_nothing_and_does_not_fail(qtbot):
    assert painted(None, qtbot).width() == 400
    assert painted(Chart("x", "y"), qtbot).width() == 400


@pytest.mark.parametrize(
    ("least", "step"), [(0.3, 0.5), (0.5, 0.5), (0.11, 0.2), (3.0, 5.0), (70.0, 100.0), (0.0, 1.0)]
)
def test_axes_step_by_round_numbers(least, step):
    assert _round_step(least) == pytest.approx(step)


# ---- on the plan and in Boat ----


def test_the_ratio_that_fits_is_said_under_the_mouse(window, qtbot):
    window.session.go("z1", "open")
    QApplication.processEvents()
    canvas, band = window.zone_bench.plan_canvas, window.session.plan.zone("z1").patch.band
    at = band.places[int(band.available_ratio.argmin())]
    qtbot.mouseMove(canvas, canvas.view.to((float(at[0]), float(at[1]))).toPoint())
    QApplication.processEvents()
    assert "fits here at most" in window.zone_bench.echo.text()
    qtbot.mouseMove(canvas, QPointF(canvas.view.to((0.05, 0.0))).toPoint())
    QApplication.processEvents()
    assert window.zone_bench.echo.text() == ""


def test_pull_and_slope_of_a_fitting_are_stated_in_boat(window, type_in):
    window.session.go("z1", "boat")
    stage = window.work.showing.stages["boat"]
    stage.fit_here.setCurrentIndex(stage.fit_here.findData("f2"))
    stage.fit_here.activated.emit(stage.fit_here.currentIndex())
    pull, slope = stage.fit_fields
    type_in(pull.edit, "1.5 kN")
    type_in(slope.edit, "4")
    hatch = next(f for f in window.session.zone.fittings if f.id == "f2")
    assert hatch.pull.si == pytest.approx(1500) and hatch.slope.si == pytest.approx(4)
    type_in(slope.edit, "80")
    assert "kept" in slope.note.text()


def test_a_sheet_is_filled_at_once_and_fitted_when_all_is_there(qtbot):
    sheet = Sheet(("name", "much"), "stock")
    qtbot.addWidget(sheet)
    sheet.resize(600, 200)
    sheet.show()
    told, widths = [], []
    sheet.itemChanged.connect(told.append)
    with sheet.filling(2):
        for row, words in enumerate(("1 kg", "a great many kilogrammes of it")):
            sheet.put(row, 0, "resin")
            sheet.put(row, 1, words)
            widths.append(sheet.columnWidth(1))
    assert told == [] and len(set(widths)) == 1 and sheet.columnWidth(1) > widths[0] and sheet.rowCount() == 2
    sheet.item(0, 1).setText("2 kg")
    assert [i.text() for i in told] == ["2 kg"]
    with pytest.raises(ValueError, match="half"), sheet.filling(1):
        raise ValueError("half")
    assert not sheet.signalsBlocked() and sheet.rowCount() == 1
