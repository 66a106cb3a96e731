"""How large everything is: one factor for text, targets and what is painted, changed while the window runs.

What is painted by hand keeps its own pixels: its painter is scaled, and so are its room and the places of the mouse.
What has a fixed size says it once through ``sized`` and gets it anew when the factor changes.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from PySide6.QtCore import QPointF, QRectF, QSize
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QApplication, QWidget

if TYPE_CHECKING:
    from PySide6.QtGui import QMouseEvent
    from PySide6.QtWidgets import QTableView

SIZES = (0.9, 1.0, 1.15, 1.3, 1.5)  # of the usual text, to choose from
SHED = 1.5  # of shed mode
MOST_OF_WINDOW = 0.94  # that a dialog takes of the window under it
ALL_OF_IT = (4000, 3000)  # pixels: as large as the window lets a dialog be
_SIZED = "own size"
_now = {"factor": 1.0}


def factor() -> float:
    """How many times larger than usual everything is."""
    return _now["factor"]


def set_factor(value: float) -> None:
    """Change it for what is sized from now on; ``resize_all`` does so for what stands already."""
    _now["factor"] = value


def px(size: float) -> int:
    """Pixels of the screen of a usual size in pixels."""
    return round(size * factor())


def grown(size: QSize) -> QSize:
    """A usual size at the factor."""
    return QSize(px(size.width()), px(size.height()))


def sized(widget: QWidget, **given: int) -> None:
    """Fix sizes of a widget in usual pixels: ``width``, ``height``, ``least_width``, ``least_height``, ``most_width``;
    0 takes a limit away. ``rows`` are the heights of a table's rows.
    """
    kept = {**(widget.property(_SIZED) or {}), **given}
    widget.setProperty(_SIZED, kept)
    _apply(widget, kept)


def size_within(dialog: QWidget, wide: int, high: int) -> None:
    """Give a dialog a usual size in pixels at the factor, within the window that it stands over."""
    over, size = dialog.parentWidget(), grown(QSize(wide, high))
    dialog.resize(size.boundedTo(over.window().size() * MOST_OF_WINDOW) if over is not None else size)


def _apply(widget: QWidget, kept: dict[str, int]) -> None:
    for name, size in kept.items():
        if name == "width":
            widget.setFixedWidth(px(size))
        elif name == "height":
            widget.setFixedHeight(px(size))
        elif name == "least_width":
            widget.setMinimumWidth(px(size))
        elif name == "least_height":
            widget.setMinimumHeight(px(size))
        elif name == "most_width":
            widget.setMaximumWidth(px(size))
        elif name == "rows":
            cast("QTableView", widget).verticalHeader().setDefaultSectionSize(px(size))


def resize_all() -> None:
    """Give every widget that was sized its size at the factor as it is now."""
    for widget in QApplication.allWidgets():
        kept = widget.property(_SIZED)
        if kept:
            _apply(widget, kept)
        widget.updateGeometry()
        widget.update()


# ---- what is painted by hand -------------------------------------------------------------------------------------


def painter_of(widget: QWidget) -> QPainter:
    """A painter on a widget, scaled."""
    painter = QPainter(widget)
    painter.scale(factor(), factor())
    return painter


def room_of(widget: QWidget) -> QRectF:
    """The room of a widget in its painter's pixels."""
    return QRectF(0, 0, widget.width() / factor(), widget.height() / factor())


def place_of(event: QMouseEvent) -> QPointF:
    """Where the mouse is, in its painter's pixels."""
    return event.position() / factor()
