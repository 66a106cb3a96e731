"""Measures a window: what is cut off, lies over its neighbour or sticks out of its parent. Goes to every place of it."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

import numpy as np
from PySide6.QtCore import QPoint, QRect, QSize, Qt
from PySide6.QtGui import QFontMetrics, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractScrollArea,
    QApplication,
    QCheckBox,
    QComboBox,
    QHeaderView,
    QLabel,
    QLineEdit,
    QScrollArea,
    QScrollBar,
    QSplitterHandle,
    QStyle,
    QStyleOptionComboBox,
    QTableWidget,
    QWidget,
)

from ribpatch.stages import STAGES
from ribpatch.ui.widgets.elided import Elided

CLOSE = 1  # pixels of rounding that nobody sees
MOST_ROWS = 40  # of a table that are measured
OVER = ("overlay", "spoken")  # object names of what is meant to lie over other parts


def name_of(widget: QWidget) -> str:
    """Words by which a person finds the widget."""
    said = widget.accessibleName() or (widget.text() if hasattr(widget, "text") else "") or widget.objectName()
    return f"{type(widget).__name__} “{str(said)[:48]}”"


def findings(root: QWidget) -> list[str]:
    """Every fault of geometry under ``root``, each in a sentence."""
    made: list[str] = []
    for widget in seen(root):
        made += _clipped(widget)
        made += _outside(widget)
        made += _overlaps(widget)
        if isinstance(widget, QTableWidget):
            made += _cells(widget)
    return made


def seen(root: QWidget) -> Iterator[QWidget]:
    """Everything that is visible, down to what holds no other."""
    yield root
    for child in root.children():
        if isinstance(child, QWidget) and child.isVisibleTo(root) and not child.isWindow():
            yield from seen(child)


def _inner(widget: QWidget) -> bool:
    """Whether Qt lays it out itself: inside of lists, tables, boxes and bars."""
    parent = widget.parentWidget()
    return isinstance(
        parent, (QAbstractItemView, QComboBox, QAbstractScrollArea, QLineEdit, QHeaderView, QScrollBar)
    ) or isinstance(widget, (QSplitterHandle, QScrollBar))


def _outside(widget: QWidget) -> list[str]:
    parent = widget.parentWidget()
    if parent is None or widget.isWindow() or _inner(widget):
        return []
    if isinstance(parent.parentWidget(), QScrollArea):  # what is scrolled: only its width is promised
        return []
    here = widget.geometry()
    if here.isEmpty() or parent.rect().adjusted(-CLOSE, -CLOSE, CLOSE, CLOSE).contains(here):
        return []
    return [f"{name_of(widget)} {_box(here)} sticks out of {name_of(parent)} {_box(parent.rect())}"]


def _overlaps(parent: QWidget) -> list[str]:
    if isinstance(parent, (QAbstractItemView, QComboBox, QAbstractScrollArea, QLineEdit, QHeaderView)):
        return []
    rows = [
        c
        for c in parent.children()
        if isinstance(c, QWidget)
        and c.isVisibleTo(parent)
        and not c.isWindow()
        and c.objectName() not in OVER
        and not c.geometry().isEmpty()
        and not isinstance(c, QSplitterHandle)
    ]
    made = []
    for n, one in enumerate(rows):
        for other in rows[n + 1 :]:
            shared = one.geometry().intersected(other.geometry())
            if shared.width() > CLOSE and shared.height() > CLOSE:
                made.append(f"{name_of(one)} {_box(one.geometry())} overlaps {name_of(other)} {_box(other.geometry())}")
    return made


def _box(rect: QRect) -> str:
    return f"[{rect.x()},{rect.y()} {rect.width()}×{rect.height()}]"


def _clipped(widget: QWidget) -> list[str]:
    need = _needed(widget)
    if need is None or widget.size().isEmpty():
        return []
    room = widget.size()
    short = [
        f"{axis} {has} of {wants}"
        for axis, has, wants in (("width", room.width(), need.width()), ("height", room.height(), need.height()))
        if wants > has + CLOSE
    ]
    return [f"{name_of(widget)} is cut off: {', '.join(short)}"] if short else []


def _needed(widget: QWidget) -> QSize | None:
    """The size that a widget's words need; None where it has none, or leaves them out on purpose (and says them in its
    tooltip).
    """
    if isinstance(widget, Elided):
        return QSize(0, widget.fontMetrics().height())
    if isinstance(widget, QLabel):
        return _label(widget)
    if isinstance(widget, QCheckBox):
        return widget.sizeHint()
    if isinstance(widget, QAbstractButton):
        if not widget.text():
            return None
        flag = Qt.TextFlag.TextShowMnemonic
        text = widget.fontMetrics().size(flag, widget.text())
        return QSize(text.width() + 2, text.height())
    if isinstance(widget, QComboBox):
        return _combo(widget)
    if isinstance(widget, QLineEdit):
        return _line(widget)
    return None


def _label(label: QLabel) -> QSize | None:
    if not label.text():
        return None
    if label.wordWrap():
        return QSize(0, label.heightForWidth(label.width()))
    if label.toolTip() and label.minimumWidth() == 20:
        return QSize(0, label.fontMetrics().height())
    return label.sizeHint()


def _combo(box: QComboBox) -> QSize:
    option = QStyleOptionComboBox()
    box.initStyleOption(option)
    field = box.style().subControlRect(
        QStyle.ComplexControl.CC_ComboBox, option, QStyle.SubControl.SC_ComboBoxEditField, box
    )
    text = box.fontMetrics().horizontalAdvance(option.currentText)  # what a Combo shows of its words
    return QSize(box.width() - field.width() + text, box.fontMetrics().height())


def _line(line: QLineEdit) -> QSize:
    words = line.text() or line.placeholderText()
    if line.text() and line.toolTip().startswith(line.text()):
        words = ""
    inside = line.contentsRect().width() - 2 * 2
    return QSize(line.width() - inside + line.fontMetrics().horizontalAdvance(words), line.fontMetrics().height())


def _cells(table: QTableWidget) -> list[str]:
    """Words of a table that are cut off, and do not stand whole in a tooltip."""
    made, head = [], table.horizontalHeader()
    for column in range(table.columnCount()):
        item = table.horizontalHeaderItem(column)
        if head.isVisible() and item is not None and not table.isColumnHidden(column):
            need = head.fontMetrics().horizontalAdvance(item.text())
            if need > head.sectionSize(column) + CLOSE:
                made.append(f"{name_of(table)} head “{item.text()}” is cut off: {head.sectionSize(column)} of {need}")
    for row in range(min(table.rowCount(), MOST_ROWS)):
        for column in range(table.columnCount()):
            item = table.item(row, column)
            if (
                item is None
                or not item.text()
                or table.isColumnHidden(column)
                or item.toolTip().startswith(item.text())
            ):
                continue
            room = QSize(table.columnWidth(column) - 2, table.rowHeight(row))
            fonts = QFontMetrics(item.font() if item.data(Qt.ItemDataRole.FontRole) else table.font())
            flag = Qt.TextFlag.TextWordWrap if table.wordWrap() else Qt.TextFlag.TextSingleLine
            need = fonts.boundingRect(QRect(0, 0, room.width(), 10_000), flag, item.text())
            if need.width() > room.width() + CLOSE or need.height() > room.height() + CLOSE:
                made.append(
                    f"{name_of(table)} cell “{item.text()[:40]}” is cut off: {room.width()}×{room.height()} of "
                    f"{need.width()}×{need.height()}"
                )
    return made


# ---- every place ----


def settle() -> None:
    for _ in range(6):
        QApplication.processEvents()


def places(window, zones=None, folded=(False,), stages=()) -> Iterator[str]:
    """Go to every stage, zone and page, one after the other; its name each time."""
    session = window.session
    for stage in STAGES:
        if stages and stage.id not in stages:
            continue
        here = zones or [z.id for z in session.job.zones]
        for zone in here:
            session.go(zone, stage.id)
            window.showing.finish()
            settle()
            for page in _pages(window):
                window.showing.finish()
                settle()
                for fold in folded:
                    window.showing.stage(stage.id).unfold_all(not fold)
                    settle()
                    yield f"{stage.id} {zone} {page}{' folded' if fold else ''}"


def _pages(window) -> Iterator[str]:
    bench = window.showing.centre.currentWidget()
    below = getattr(bench, "below", None)
    if below is None:
        yield ""
        return
    names = getattr(below, "names", None) or getattr(below, "_names", None) or ("",)
    for n, name in enumerate(names):
        if name:
            below.show_page(n if hasattr(below, "_names") else name)
        yield name


# ---- words ----


def words_of(widget: QWidget) -> Iterator[str]:
    """All words of a widget that a person can come to read or hear."""
    for name in ("text", "toPlainText", "placeholderText", "toolTip", "accessibleName", "accessibleDescription"):
        said = getattr(widget, name, str)
        yield str(said()) if callable(said) else ""
    if isinstance(widget, QComboBox):
        yield from (widget.itemText(n) for n in range(widget.count()))
    if isinstance(widget, QTableWidget):
        for column in range(widget.columnCount()):
            head = widget.horizontalHeaderItem(column)
            items = [head, *(widget.item(row, column) for row in range(min(widget.rowCount(), 5 * MOST_ROWS)))]
            yield from (words for i in items if i is not None for words in (i.text(), i.toolTip()))


PLAIN_NUMBER = re.compile(
    r"(?<![\d.,/])\d+\.(\d{1,2}|\d{4,})(?![\d.])|\b\d{4}-\d\d-\d\d\b(?! 14:00)"
)  # that hour is of a file


def plain_words(window: QWidget, painted: Iterable[str]) -> list[str]:
    """Words that a person can come to read or hear with a number or a day as files have it."""
    words = [w for widget in seen(window) for w in words_of(widget)]
    return [text for text in (*words, *painted) if PLAIN_NUMBER.search(text)]


# ---- where the keys are ----


def tab_path(most=300) -> Iterator[QWidget]:
    """Where Tab goes from the focus, once round; it ends early where it stays or is lost."""
    seen: list[QWidget] = []
    here = QApplication.focusWidget()
    while here is not None and here not in seen and len(seen) < most:
        seen.append(here)
        yield here
        QTest.keyClick(here, Qt.Key.Key_Tab)
        here = QApplication.focusWidget()


def focus_contrast(widget: QWidget) -> float:
    """How well it is seen that a widget has the keys now: its contrast with itself without them, at as many pixels as
    its shorter side is long.
    """
    room = widget.window()
    QApplication.processEvents()
    rect = QRect(widget.mapTo(room, QPoint(0, 0)), widget.size()).adjusted(-3, -3, 3, 3).intersected(room.rect())
    after = _light(room, rect)
    widget.clearFocus()
    QApplication.processEvents()
    before = _light(room, rect)
    widget.setFocus(Qt.FocusReason.TabFocusReason)
    ratio = np.sort(((np.maximum(before, after) + 0.05) / (np.minimum(before, after) + 0.05)).ravel())[::-1]
    return float(ratio[min(rect.width(), rect.height(), len(ratio) - 1)])


def _light(room: QWidget, rect: QRect):
    image = room.grab(rect).toImage().convertToFormat(QImage.Format.Format_RGB888)
    rows = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine())
    p = rows[:, : 3 * image.width()].reshape(image.height(), image.width(), 3) / 255.0
    return np.where(p <= 0.03928, p / 12.92, ((p + 0.055) / 1.055) ** 2.4) @ (0.2126, 0.7152, 0.0722)
