"""Fingers, in the shed: what scrolls follows one that is drawn over it, and two look closer at a drawing."""

from __future__ import annotations

from weakref import WeakKeyDictionary

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtWidgets import QAbstractScrollArea, QGestureEvent, QPinchGesture, QScroller, QWidget

from ribpatch.ui.scaling import factor
from ribpatch.ui.widgets.canvas import Canvas
from ribpatch.ui.within import within

FOLLOWS = "follows fingers"


class Pinch(QObject):
    """Looks closer at the canvas that it belongs to."""

    def eventFilter(self, canvas: QObject, event: QEvent) -> bool:
        pinch = event.gesture(Qt.GestureType.PinchGesture) if isinstance(event, QGestureEvent) else None
        if not isinstance(pinch, QPinchGesture) or not isinstance(canvas, Canvas):
            return False
        canvas.look_closer(canvas.zoom * pinch.scaleFactor(), canvas.mapFromGlobal(pinch.centerPoint()) / factor())
        return True


_OF_WINDOW: WeakKeyDictionary[QWidget, Qt.GestureType] = WeakKeyDictionary()


def _drawn(window: QWidget) -> Qt.GestureType:
    """The gesture of a finger that is drawn over something: one for a window, as each one asked for stays for ever."""
    if window not in _OF_WINDOW:
        _OF_WINDOW[window] = QScroller.grabGesture(QObject(window), QScroller.ScrollerGestureType.TouchGesture)
    return _OF_WINDOW[window]


def touchable(widget: QWidget) -> None:
    """Have a widget and all in it follow fingers; once is enough."""
    every = [widget, *within(widget)]
    for area in (w for w in every if isinstance(w, QAbstractScrollArea)):
        if not area.property(FOLLOWS):
            area.setProperty(FOLLOWS, True)
            QScroller.scroller(area.viewport())
            area.viewport().grabGesture(_drawn(widget.window()))
            area.viewport().setAttribute(Qt.WidgetAttribute.WA_AcceptTouchEvents)
    for canvas in (w for w in every if isinstance(w, Canvas)):
        if canvas.findChild(Pinch) is None:
            canvas.grabGesture(Qt.GestureType.PinchGesture)
            canvas.installEventFilter(Pinch(canvas))
