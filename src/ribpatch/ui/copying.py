"""Copying what has the keys: a figure, a table as text and HTML, a drawing as SVG and PNG."""

from __future__ import annotations

import atexit
from html import escape
from typing import TYPE_CHECKING

from PySide6.QtCore import QByteArray, QMimeData
from PySide6.QtGui import QImage, QTextDocument
from PySide6.QtWidgets import QApplication, QTableWidget, QTextEdit, QWidget

from ribpatch.formats.clip import as_html, as_text, figure_columns, table_words
from ribpatch.ui.widgets.canvas import Canvas
from ribpatch.ui.widgets.figure_button import FigureButton
from ribpatch.ui.widgets.table_view import TableView
from ribpatch.ui.widgets.themed import Themed
from ribpatch.ui.widgets.working import Overlay

if TYPE_CHECKING:
    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.core.units import System

SVG = "image/svg+xml"
_put: dict[str, QMimeData] = {}  # what lies on the clipboard from here
FINER = 2  # pixels of a copied picture to one on the screen


def copy_from(widget: QWidget | None, system: System) -> str:
    """Put what a widget shows on the clipboard; what was copied in words, empty where it shows nothing to copy."""
    made = _made(widget, system)
    if made is None:
        return ""
    data, said = made
    QApplication.clipboard().setMimeData(data)
    if not _put:
        atexit.register(_let_go)
    _put["data"] = data
    return said


def _let_go() -> None:
    """The program ends: leave on the clipboard what needs no Python any longer, text or a picture."""
    if QApplication.instance() is None:
        return
    clipboard = QApplication.clipboard()
    data = clipboard.mimeData()
    if data is not _put.pop("data"):
        return  # somebody else's by now
    text, image = data.text(), data.imageData() if data.hasImage() else None
    if isinstance(image, QImage):
        clipboard.setImage(image)
    else:
        clipboard.setText(text)


def _made(widget: QWidget | None, system: System) -> tuple[QMimeData, str] | None:
    if isinstance(widget, FigureButton) and widget.figure is not None:
        words = f"{widget.figure.name}: {widget.figure.shown(system)}"
        return _texts(words, f"{escape(widget.figure.name)}: <b>{escape(widget.figure.shown(system))}</b>"), words
    if isinstance(widget, Canvas) and widget.drawing is not None:
        return _drawing(widget, widget.drawing), "the drawing, as SVG and as a picture"
    if isinstance(widget, QTableWidget):
        parent = widget.parentWidget()
        table = parent.table if isinstance(parent, TableView) else None
        if table is not None:
            rows = table_words(table, system)
            return _texts(as_text(rows), as_html(rows, figure_columns(table), any(table.columns))), "the table"
        rows = _cells(widget)
        return _texts(as_text(rows), as_html(rows)), "the table"
    if isinstance(widget, QTextEdit):
        chosen = widget.textCursor()
        if chosen.hasSelection():
            return widget.createMimeDataFromSelection(), "the words chosen"
        return _texts(widget.toPlainText(), widget.toHtml()), "the page"
    if isinstance(widget, Overlay):
        document = QTextDocument()
        document.setHtml(f"<h3>{escape(widget.title.text())}</h3>{widget.text.text()}")
        return _texts(document.toPlainText(), document.toHtml()), "the working"
    if isinstance(widget, Themed):
        return _picture(widget), "the picture"
    return None


def _texts(text: str, html: str) -> QMimeData:
    data = QMimeData()
    data.setText(text)
    data.setHtml(html)
    return data


def _cells(table: QTableWidget) -> tuple[tuple[str, ...], ...]:
    """The words of a plain table as it is shown."""
    columns = [c for c in range(table.columnCount()) if not table.isColumnHidden(c)]
    heads = tuple(head.text() if (head := table.horizontalHeaderItem(c)) is not None else "" for c in columns)
    rows = (
        tuple(cell.text() if (cell := table.item(row, c)) is not None else "" for c in columns)
        for row in range(table.rowCount())
    )
    return (heads, *rows)


def _drawing(canvas: Canvas, drawing: Drawing) -> QMimeData:
    from ribpatch.report.export import drawing_bytes

    data = _picture(canvas)
    svg = drawing_bytes(drawing, canvas.heading, ".svg")
    data.setData(SVG, QByteArray(svg))
    data.setText(canvas.heading or canvas.accessibleName())
    return data


def _picture(widget: QWidget) -> QMimeData:
    """The widget as it is painted, without the mark of the keys, finer than the screen."""
    image = QImage(widget.size() * FINER, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(FINER)
    widget.clearFocus()
    widget.render(image)
    widget.setFocus()
    image.setDevicePixelRatio(1)
    data = QMimeData()
    data.setImageData(image)
    return data
