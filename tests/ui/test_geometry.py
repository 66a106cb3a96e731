"""Nothing is cut off, lies over its neighbour or sticks out of its parent, at every place of the window.

Each size is walked with another system of units and another look; ``make walk`` walks all of them with all.
"""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QLocale, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QLabel, QPushButton, QWidget
from tests.ui.geometry import findings, places, plain_words, settle
from tests.ui.painted import drawn_faults, painted_faults, recorded

from ribpatch.core.drawing.shapes import Badge, Callout, Dimension, Drawing
from ribpatch.core.numerals import PLAIN, use_numerals
from ribpatch.ui.app import _fit_to_screen
from ribpatch.ui.region import numerals_of
from ribpatch.ui.widgets.canvas import Canvas
from ribpatch.ui.widgets.columns import shared_width
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.scrolled import Scrolled


@pytest.fixture
def seen(window):
    """The window at a size, in a system of units and a look."""

    def at(size, system="metric", look=""):
        window.settings.unfolded = True
        window.resize(*size)
        window.session.set_system(system)
        for action in look.split():
            window.menu_action(action).trigger()
        settle()
        return window

    return at


@pytest.fixture
def region(request):
    use_numerals(numerals_of(QLocale(request.param)))
    yield request.param
    use_numerals(PLAIN)


@pytest.mark.parametrize(
    ("region", "size", "system", "look", "zones"),
    [
        ("de_DE", (1024, 700), "us", "shed", ["z3"]),
        ("C", (1280, 800), "metric", "", ["z1"]),
        ("de_DE", (1024, 700), "metric", "theme", ["z4"]),
        ("C", (1920, 1080), "us", "theme", ["z2"]),
    ],
    indirect=["region"],
)
def test_nothing_is_cut_off_or_overlaps_at_any_place_nor_written_as_another_region_does(
    region, seen, size, system, look, zones
):
    window = seen(size, system, look)
    assert window.size() == QSize(*size)
    told = []
    with recorded() as painted:
        for place in places(window, zones):
            told += [f"{place}: {found}" for found in (*findings(window), *painted_faults(window, painted))]
            if region != "C":
                drawn = (w.text for rows in painted.values() for w in rows)
                told += [f"{place}: “{words}” is plain" for words in plain_words(window, drawn)]
    assert not told, "\n".join(told)


SMALL = ((210, 240), (300, 160), (404, 182), (404, 245), (560, 300), (900, 180))  # pixels of a canvas


def test_no_drawing_has_words_over_words_however_small_it_is_shown(seen):
    window, told, done = seen((1280, 800), "us"), [], set()
    for place in places(window, stages=("find", "open", "rebuild", "prove")):
        for canvas in window.findChildren(Canvas):
            if canvas.isVisible() and canvas.drawing is not None and id(canvas.drawing) not in done:
                done.add(id(canvas.drawing))
                told += [f"{place}: {fault}" for size in SMALL for fault in drawn_faults(canvas, size)]
    assert len(done) > 20 and not told, "\n".join(told)


@pytest.mark.parametrize(("size", "system", "look"), [((1000, 640), "us", ""), ((1280, 800), "metric", "shed")])
def test_nothing_is_cut_off_before_a_job_is_open(bare, size, system, look):
    bare.resize(*size)
    bare.session.set_system(system)
    for action in look.split():
        bare.menu_action(action).trigger()
    told = []
    for name in ("start", "new_job", "keys"):
        if name == "keys":
            bare.menu_action("demo_job").trigger()
            bare.menu_action("add_zone").trigger()
        else:
            bare.menu_action(name).trigger()
        settle()
        told += [f"{name}: {found}" for found in findings(bare)]
    assert not told, "\n".join(told)


@pytest.mark.parametrize("size", [(1405, 900), (1500, 900), (1920, 690)])
def test_in_the_shed_the_choices_beside_the_plan_leave_it_room(window, size):
    window.menu_action("shed").trigger()
    window.resize(*size)
    settle()
    told = [
        f"{place}: {found}"
        for place in places(window, ["z1"], (False, True), ("days", "prove"))
        for found in findings(window)
    ]
    assert window.size() == QSize(*size) and not told, "\n".join(told)


@pytest.mark.parametrize("system", ["metric", "us32"])
def test_nothing_is_cut_off_in_a_job_that_is_all_assumed(bare, system):
    use_numerals(numerals_of(QLocale("de_DE")))
    try:
        bare.resize(1024, 700)
        bare.session.set_system(system)
        bare.menu_action("new_job").trigger()
        bare.new_page.begin.click()
        settle()
        told = [
            f"{p}: {found}" for p in places(bare, stages=("boat", "find", "open", "prove")) for found in findings(bare)
        ]
    finally:
        use_numerals(PLAIN)
    assert bare.at_work and not told, "\n".join(told)


@pytest.mark.parametrize("room", [(960, 500), (640, 360)])
def test_on_a_small_screen_the_window_fits_and_its_parts_keep_their_size(window, room):
    window.fit_in(QSize(*room))
    settle()
    assert window.width() <= room[0] and window.height() <= room[1]
    told = [f"{place}: {found}" for place in places(window, ["z1"]) for found in findings(window)]
    assert not told, "\n".join(told)
    window.menu_action("new_job").trigger()
    settle()
    assert not findings(window)


def test_what_is_measured_would_be_found(qtbot):
    page = QWidget()
    qtbot.addWidget(page)
    page.resize(200, 100)
    label, button, beyond = QLabel("a long sentence", page), QPushButton("press this", page), QLabel("out", page)
    label.setGeometry(0, 0, 30, 20)
    button.setGeometry(10, 5, 120, 30)
    beyond.setGeometry(180, 80, 60, 20)
    page.show()
    told = " ".join(findings(page))
    assert "“a long sentence” is cut off" in told and "overlaps" in told and "“out”" in told and "sticks out" in told


class Over(QWidget):
    """Paints two words over each other and a third that is cut off."""

    def paintEvent(self, event):
        painter = QPainter(self)
        painter.drawText(QPointF(10, 40), "first words")
        painter.drawText(QPointF(30, 42), "others")
        painter.drawText(QPointF(10, 90), "apart")
        painter.drawText(QRectF(100, 80, 20, 20), Qt.AlignmentFlag.AlignLeft, "too long for it")
        painter.end()


@pytest.mark.parametrize(("platform", "frame"), [("xcb", (0, 32)), ("wayland", (6, 33)), ("wayland-egl", (6, 33))])
def test_a_window_and_its_frame_fit_the_screen(bare, platform, frame):
    class Screens:
        def platformName(self):
            return platform

        def screenAt(self, _place):
            return self

        def availableSize(self):
            return QSize(1024, 700)

    _fit_to_screen(Screens(), bare)
    assert bare.size() + QSize(*frame) == QSize(1024, 700)


def test_what_is_painted_would_be_found(qtbot):
    page = QWidget()
    qtbot.addWidget(page)
    page.resize(200, 100)
    Over(page).setGeometry(page.rect())
    page.show()
    with recorded() as painted:
        told = painted_faults(page, painted)
    assert (
        len(told) == 2 and "“first words” is painted over “others”" in told[0] and "“too long for it” is cut" in told[1]
    )


def painted_words(qtbot, shapes, size):
    """The words of a drawing of four by one metres at a size, with their boxes."""
    canvas = Canvas("drawing")
    qtbot.addWidget(canvas)
    canvas.show_drawing(Drawing("", "", (0.0, 0.0, 4.0, 1.0), shapes))
    canvas.resize(*size)
    with recorded() as painted:
        canvas.grab()
    return [row for rows in painted.values() for row in rows]


def test_callouts_that_say_the_same_are_said_once(qtbot):
    shapes = tuple(Callout((4.0, y), "no room", "right", "tight") for y in (0.1, 0.5, 0.9))
    shown = painted_words(qtbot, (*shapes, Callout((4.0, 0.2), "no room", "right")), (600, 260))
    assert sorted(w.text for w in shown) == ["no room", "⚠ no room"]


def test_where_callouts_have_no_room_warnings_find_it_first(qtbot):
    many = tuple(Callout((4.0, n / 40), f"place {n}", "right") for n in range(40))
    shown = painted_words(qtbot, (*many, Callout((4.0, 1.0), "no room", "right", "tight")), (600, 200))
    assert 5 < len(shown) < 20 and shown[0].text == "⚠ no room"
    boxes = [w.box for w in shown]
    assert all(b.top() >= 28 and b.bottom() <= 200 for b in boxes)
    assert not any(a.intersects(b) for n, a in enumerate(boxes) for b in boxes[n + 1 :])


@pytest.mark.parametrize("at", [0.5, 0.25, 0.75])
def test_a_size_stands_beside_what_lies_on_its_line(qtbot, at):
    badge = Badge((4.0 * at, 0.5), "1234", "next")
    words = painted_words(qtbot, (badge, Dimension((0.0, 0.5), (4.0, 0.5), "4.00 m")), (600, 200))
    one, size = (w.box for w in words)
    assert not one.intersects(size)
    assert painted_words(qtbot, (badge, badge), (600, 200))[1].box.intersects(one) is False


# ---- what gives way ----


@given(
    st.lists(st.tuples(st.integers(10, 400), st.integers(5, 200), st.booleans()), min_size=1, max_size=8),
    st.integers(0, 2000),
)
def test_columns_fill_the_room_and_none_gets_less_than_it_needs(columns, room):
    whole, least, gives = map(list, zip(*columns, strict=True))
    made = shared_width(room, whole, least, gives, 0)
    low = [min(a, b) if g else b for a, b, g in zip(least, whole, gives, strict=True)]
    assert all(m >= a for m, a in zip(made, low, strict=True))
    assert sum(made) <= max(room, sum(low))
    assert sum(made) >= min(room, sum(whole)) - len(made)  # whole pixels
    assert all(m == b for m, b, g in list(zip(made, whole, gives, strict=True))[1:] if not g)


def test_a_page_scrolls_only_once_it_cannot_give_way(qtbot):
    page = QWidget()
    page.setMinimumSize(100, 300)
    room = Scrolled()
    room.hold(page)
    qtbot.addWidget(room)
    room.resize(200, 400)
    room.show()
    assert page.size() == QSize(200, 400) and not room.verticalScrollBar().isVisible()
    room.resize(200, 150)
    settle()
    assert page.height() == 300 and room.verticalScrollBar().isVisible() and page.width() <= 200


def test_a_list_says_what_it_has_no_room_for(qtbot):
    box = Combo()
    qtbot.addWidget(box)
    box.addItems(["a very long name of a resin that is chosen", "short"])
    box.resize(120, 28)
    box.show()
    from PySide6.QtWidgets import QStyleOptionComboBox

    option = QStyleOptionComboBox()
    box.initStyleOption(option)
    assert option.currentText.endswith("…") and box.currentText().endswith("chosen")
    box.setCurrentIndex(1)
    box.initStyleOption(option)
    assert option.currentText == "short"
