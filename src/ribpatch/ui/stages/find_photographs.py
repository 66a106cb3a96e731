"""Photographs of a zone as thumbnails, each with its caption; a click shows one large."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.survey_edits import remove_photograph, set_photograph
from ribpatch.core.units import place_words
from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.readings import Photograph
    from ribpatch.jobfile.album import Album
    from ribpatch.ui.session import Session

THUMB = 104


@lru_cache(maxsize=256)
def _thumb(data: bytes) -> QPixmap:
    picture = QPixmap()
    picture.loadFromData(data)
    return picture.scaled(
        QSize(2 * THUMB, 2 * THUMB), Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
    )


def thumbnail(album: Album, member: str) -> QPixmap | None:
    """A photograph's thumbnail, or None where its bytes are gone."""
    data = album.get(f"photographs/{member}")
    if data is None:
        return None
    picture = _thumb(data)
    return None if picture.isNull() else picture


class PhotoPanel(QWidget):
    """``add_wanted`` nothing; ``pin_wanted``, ``show_wanted`` and ``straighten_wanted`` carry a Photograph."""

    add_wanted = Signal()
    pin_wanted = Signal(object)
    show_wanted = Signal(object)
    straighten_wanted = Signal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._shown: tuple[Photograph, ...] | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self._grid = QGridLayout()
        self._grid.setSpacing(6)
        column.addLayout(self._grid)
        self.add = QPushButton("Add photographs…")
        self.add.setToolTip("Add photographs, or drop them on the plan to pin them there (Ctrl+Shift+I)")
        self.add.clicked.connect(lambda: self.add_wanted.emit())
        column.addWidget(self.add)

    def show_zone(self, zone: Zone) -> None:
        """Show a zone's photographs."""
        photographs = zone.survey.photographs
        if photographs is self._shown:
            return
        self._shown = photographs
        clear_layout(self._grid)
        for number, photograph in enumerate(photographs):
            self._grid.addWidget(self._cell(zone.id, number, photograph), number // 3, number % 3)
        if not photographs:
            none = QLabel("None yet. Who, when and where are taken out of every picture.")
            none.setObjectName("soft")
            none.setWordWrap(True)
            self._grid.addWidget(none, 0, 0)

    def _cell(self, zone: str, number: int, photograph: Photograph) -> QWidget:
        cell = QWidget()
        column = QVBoxLayout(cell)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        face = QPushButton()
        face.setObjectName("plain")
        face.setFixedSize(THUMB + 6, 80)
        picture = thumbnail(self._session.album, photograph.member)
        if picture is None:
            there = self._session.album.get(f"photographs/{photograph.member}") is not None
            face.setText("is no\npicture" if there else "missing from\nthe file")
        else:
            face.setIcon(picture)
            face.setIconSize(QSize(THUMB, 74))
        pinned = (
            f", pinned at {place_words((photograph.x, photograph.y), self._session.system)}"
            if photograph.x is not None and photograph.y is not None
            else ""
        )
        face.setToolTip(f"P{number + 1} {photograph.caption}{pinned}: click to see it large")
        face.setAccessibleName(f"photograph {number + 1}")
        face.clicked.connect(lambda _checked=False, p=photograph: self.show_wanted.emit(p))
        column.addWidget(face)
        caption = QLineEdit(photograph.caption)
        caption.setPlaceholderText("caption")
        caption.setAccessibleName(f"caption of photograph {number + 1}")
        caption.editingFinished.connect(lambda e=caption, p=photograph: self._captioned(zone, p, e.text()))
        column.addWidget(caption)
        pin, straight, delete = QPushButton("pin"), QPushButton("flat"), QPushButton("×")
        straight.setToolTip("Set it straight, and lay it under the plan to trace on")
        straight.setAccessibleName(f"set photograph {number + 1} straight")
        straight.clicked.connect(lambda _checked=False, p=photograph: self.straighten_wanted.emit(p))
        pin.setToolTip("Then click on the plan where it was taken")
        delete.setToolTip("Delete this photograph; undo brings it back")
        delete.setAccessibleName(f"delete photograph {number + 1}")
        pin.clicked.connect(lambda _checked=False, p=photograph: self.pin_wanted.emit(p))
        delete.clicked.connect(lambda _checked=False, p=photograph: self._session.apply(remove_photograph(zone, p.id)))
        row = QGridLayout()
        for place, button in enumerate((pin, straight, delete)):
            button.setObjectName("plain")
            row.addWidget(button, 0, place)
        column.addLayout(row)
        return cell

    def _captioned(self, zone: str, photograph: Photograph, text: str) -> None:
        if text.strip() != photograph.caption and self._session.zone_id == zone:
            self._session.apply(set_photograph(zone, photograph.id, caption=text.strip()[:120]))
