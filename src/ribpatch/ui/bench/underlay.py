"""The photograph under the plan: set straight, laid where it belongs, as strong as its slider says."""

from __future__ import annotations

from math import ceil, floor, log2
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct
from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QImage, QPixmap
from PySide6.QtWidgets import QHBoxLayout, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.memo import remembered
from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.combo import Combo, Slide, show_items

if TYPE_CHECKING:
    from PySide6.QtGui import QPainter

    from ribpatch.core.geometry import Point, Ring
    from ribpatch.core.job import Zone
    from ribpatch.core.readings import Photograph
    from ribpatch.core.set_straight import Straight
    from ribpatch.ui.session import Session
    from ribpatch.ui.widgets.view import View

COLUMNS = 1100  # pixels of the picture laid flat, along the zone
ROUND = 0.35  # of the zone's size that the picture is laid beyond it
STEP = 1 / 16  # of the zone's size, by which the box is widened
USUAL = 70  # per cent of strength
NONE = ""


class Underlay(Struct, frozen=True, eq=False):
    """A picture over the box of the zone from ``low`` to ``high`` in m, and how strong it is shown, 0 to 1."""

    picture: QPixmap
    low: Point
    high: Point
    strength: float

    def paint(self, painter: QPainter, view: View) -> None:
        """Paint it through a view."""
        a, b = view.to(self.low), view.to(self.high)
        painter.save()
        painter.setOpacity(self.strength)
        painter.setRenderHint(painter.RenderHint.SmoothPixmapTransform)
        painter.drawPixmap(
            QRectF(a.x(), b.y(), b.x() - a.x(), a.y() - b.y()), self.picture, QRectF(self.picture.rect())
        )
        painter.restore()


def _flat(data: bytes, straight: Straight, outline: Ring) -> tuple[QPixmap, Point, Point] | None:
    """The picture around an outline. Its box goes by whole steps: a corner that is dragged seldom wants another."""
    xs, ys = zip(*outline, strict=True)
    low_x, low_y, high_x, high_y = min(xs), min(ys), max(xs), max(ys)
    step = STEP * max(high_x - low_x, high_y - low_y)
    step = 2.0 ** ceil(log2(step)) if step > 0 else STEP
    return _flat_in(
        data,
        straight,
        floor(low_x / step) * step,
        floor(low_y / step) * step,
        ceil(high_x / step) * step,
        ceil(high_y / step) * step,
    )


@remembered(2)
def _flat_in(
    data: bytes, straight: Straight, low_x: float, low_y: float, high_x: float, high_y: float
) -> tuple[QPixmap, Point, Point] | None:
    from ribpatch.core.photo.pixels import laid_flat
    from ribpatch.core.photo.straightened import straightened
    from ribpatch.formats.photographs import pixels_of

    try:
        made = straightened(straight)
        pixels = pixels_of(data, "photograph")
    except Fault:
        return None
    x, y = np.concatenate([np.array([(low_x, low_y), (high_x, high_y)]), made.marks]).T
    more = ROUND * float(max(np.ptp(x), np.ptp(y)))
    low, high = (float(x.min()) - more, float(y.min()) - more), (float(x.max()) + more, float(y.max()) + more)
    flat = laid_flat(pixels, made, low, high, COLUMNS)
    rows, columns = flat.shape[:2]
    image = QImage(flat.tobytes(), columns, rows, 4 * columns, QImage.Format.Format_RGBA8888)
    return QPixmap.fromImage(image), low, high


class UnderBar(QWidget):
    """Which photograph lies under the plan, and how strong. ``changed`` is told when either is another."""

    changed = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._wanted: dict[str, str] = {}  # by zone
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(5)
        self.pick = Combo()
        self.pick.setAccessibleName("photograph under the plan")
        sized(self.pick, most_width=200)
        self.pick.setToolTip("A photograph that was set straight, laid where it belongs in the zone")
        self.pick.activated.connect(lambda _index: self._picked())
        self.strength = Slide(Qt.Orientation.Horizontal)
        self.strength.setRange(0, 100)
        self.strength.setValue(USUAL)
        sized(self.strength, least_width=60, most_width=130)
        self.strength.setAccessibleName("strength of the photograph, per cent")
        self.strength.setToolTip("How strong the photograph is shown; the plan grows clear as it grows strong")
        self.strength.valueChanged.connect(lambda _value: self.changed.emit())
        for widget in (self.pick, self.strength):
            row.addWidget(widget)

    def lay(self, zone: str, photograph: str) -> None:
        """Lay a photograph under the plan of its zone."""
        self._wanted[zone] = photograph

    def forget(self) -> None:
        """Another job is open."""
        self._wanted.clear()

    def _picked(self) -> None:
        zone = self._session.zone
        if zone is not None:
            self._wanted[zone.id] = str(self.pick.currentData() or NONE)
            self.changed.emit()

    def show_zone(self, zone: Zone | None) -> None:
        """Offer the photographs of a zone that are set straight."""
        rows = straight_ones(zone)
        self.setVisible(bool(rows))
        if zone is None or not rows:
            return
        named = [(p.id, f"under the plan: P{n} {p.caption}".rstrip()) for n, p in rows]
        show_items(self.pick, [*named, (NONE, "nothing under the plan")])
        wanted = self._wanted.setdefault(zone.id, rows[-1][1].id)
        self.pick.setCurrentIndex(max(self.pick.findData(wanted), 0))

    def underlay(self, zone: Zone) -> Underlay | None:
        """What lies under the plan of a zone now."""
        rows = {p.id: p for _, p in straight_ones(zone)}
        if not rows:
            return None
        chosen = rows.get(self._wanted.setdefault(zone.id, next(reversed(rows))))
        if chosen is None or chosen.straight is None or not self.strength.value():
            return None
        data = self._session.album.get(f"photographs/{chosen.member}")
        made = _flat(data, chosen.straight, zone.outline) if data is not None else None
        return None if made is None else Underlay(*made, self.strength.value() / 100)


def straight_ones(zone: Zone | None) -> list[tuple[int, Photograph]]:
    """The photographs of a zone that are set straight, with their numbers."""
    if zone is None:
        return []
    return [(n, p) for n, p in enumerate(zone.survey.photographs, 1) if p.straight is not None]
