"""Measures words that are painted by hand: what is cut off, leaves its widget or lies over other words."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from PySide6.QtCore import QPoint, QPointF, QRect, QRectF
from PySide6.QtGui import QFontMetricsF, QPainter, QPixmap
from PySide6.QtWidgets import QApplication, QWidget

from ribpatch.ui.widgets.canvas import Canvas

CLOSE = 2.0  # pixels that nobody sees
LEAST = 0.25  # of the height of words that others must cover to be called over them


@dataclass(frozen=True)
class Words:
    """Words as painted: where they stand, how much of them is seen and what room they were given (empty where only a
    point), in pixels of what they are painted on.
    """

    text: str
    box: QRectF
    seen: QRectF
    room: QRectF


Painted = dict[tuple[int, str], list[Words]]  # by what they are painted on, its number and name


@contextmanager
def recorded() -> Iterator[Painted]:
    """While it lasts, all text that is painted on widgets and pictures, by what it is painted on."""
    made: Painted = {}
    plain = QPainter.drawText

    def draw(painter: QPainter, *args):
        words, on = _words(painter, args), painter.device()
        if words is not None and isinstance(on, QWidget | QPixmap):
            made.setdefault(_key(on), []).append(words)
        return plain(painter, *args)

    QPainter.drawText = draw
    try:
        yield made
    finally:
        QPainter.drawText = plain


def _key(on: QWidget | QPixmap) -> tuple[int, str]:
    if isinstance(on, QPixmap):
        return on.cacheKey(), f"picture of {on.width()}×{on.height()}"
    said = on.accessibleName() or (on.parentWidget().accessibleName() if on.parentWidget() else "")
    return id(on), f"{type(on).__name__} “{said}”"


def _words(painter: QPainter, args: tuple) -> Words | None:
    text = next((a for a in args if isinstance(a, str)), "")
    if not text.strip():
        return None
    metrics, room = QFontMetricsF(painter.font(), painter.device()), QRectF()
    if isinstance(args[0], QPointF | QPoint):
        box = QRectF(metrics.boundingRect(text)).translated(QPointF(args[0]))
    else:
        room = QRectF(args[0]) if isinstance(args[0], QRectF | QRect) else QRectF(*args[:4])
        flags = next(int(a.value) if hasattr(a, "value") else int(a) for a in args[1:] if not isinstance(a, str))
        box = metrics.boundingRect(room, flags, text)
    spare = metrics.descent() * box.height() / metrics.height()
    box, at = box.adjusted(0, spare / 2, 0, -spare / 2), painter.worldTransform()
    whole = _whole(painter)
    if painter.hasClipping():
        whole &= at.mapRect(painter.clipBoundingRect())
    return Words(text, at.mapRect(box), at.mapRect(box) & whole, at.mapRect(room))


def _whole(painter: QPainter) -> QRectF:
    on = painter.device()
    ratio = on.devicePixelRatioF() if isinstance(on, QPixmap) else 1.0
    return QRectF(0, 0, on.width() / ratio, on.height() / ratio)


def repainted(window: QWidget) -> None:
    """Have everything that is visible painted anew."""
    for widget in window.findChildren(QWidget):
        if widget.isVisible():
            getattr(widget, "refresh", widget.update)() if hasattr(widget, "tools") else widget.update()


def painted_faults(window: QWidget, made: Painted) -> list[str]:
    """Every fault of the words that a window paints, each in a sentence."""
    made.clear()
    repainted(window)
    QApplication.processEvents()
    return _faults(made)


def drawn_faults(canvas: Canvas, size: tuple[int, int]) -> list[str]:
    """Every fault of the words of what a canvas shows, were it so many pixels wide and high."""
    other = Canvas(canvas.objectName())
    for name in ("theme", "heading", "aside", "figures", "system", "legend", "legend_note", "margins", "under"):
        setattr(other, name, getattr(canvas, name))
    other.show_drawing(canvas.drawing)
    other.resize(*size)
    with recorded() as made:
        other.grab()
    return [f"at {size[0]}×{size[1]}: {fault}" for fault in _faults(made)]


def _faults(made: Painted) -> list[str]:
    told = []
    for (_, name), rows in made.items():
        alone = list({(r.text, r.box.getRect()): r for r in rows}.values())
        for n, one in enumerate(alone):
            if not one.room.isEmpty() and one.box.width() > one.room.width() + CLOSE:
                told.append(f"{name}: “{one.text[:48]}” is cut off: {one.room.width():.0f} of {one.box.width():.0f}")
            told += [
                f"{name}: “{one.text[:40]}” is painted over “{o.text[:40]}”" for o in alone[n + 1 :] if _over(one, o)
            ]
    return told


def _over(one: Words, other: Words) -> bool:
    shared = one.seen & other.seen
    return shared.width() > CLOSE and shared.height() > LEAST * min(one.box.height(), other.box.height())
