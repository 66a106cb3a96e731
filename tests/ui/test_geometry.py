"""Nothing is cut off, lies over its neighbour or sticks out of its parent, at every place of the window.

Each size is walked with another system of units and another look; ``make walk`` walks all of them with all.
"""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QLocale, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QLabel, QPushButton, QWidget
from tests.ui.geometry import findings, places, settle
from tests.ui.painted import painted_faults, recorded

from ribpatch.core.numerals import PLAIN, use_numerals
from ribpatch.ui.region import numerals_of
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


@pytest.mark.parametrize(
    ("size", "system", "look", "zones"),
    [
        ((1024, 700), "us", "shed", ["z3"]),
        ((1280, 800), "metric", "", ["z1"]),
        ((1024, 700), "metric", "theme", ["z4"]),
        ((1920, 1080), "us", "theme", ["z2"]),
    ],
)
def test_nothing_is_cut_off_or_overlaps_at_any_place(seen, size, system, look, zones):
    window = seen(size, system, look)
    assert window.size() == QSize(*size)
    told = []
    with recorded() as painted:
        for place in places(window, zones):
            told += [f"{place}: {found}" for found in (*findings(window), *painted_faults(window, painted))]
    assert not told, "\n".join(told)


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
    room = Scrolled(page)
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
