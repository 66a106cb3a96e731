"""A photograph shown large."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import QDialog, QLabel, QVBoxLayout, QWidget

if TYPE_CHECKING:
    from ribpatch.core.readings import Photograph
    from ribpatch.jobfile.album import Album


class PhotoView(QDialog):
    """One photograph as large as the window allows; Esc closes it."""

    def __init__(self, album: Album, photograph: Photograph, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(photograph.caption or "Photograph")
        layout = QVBoxLayout(self)
        self.picture = QLabel()
        data = album.get(f"photographs/{photograph.member}")
        shown = QPixmap()
        if data is not None and shown.loadFromData(data):
            size = parent.size() * 0.85 if parent is not None else shown.size()
            keep, smooth = Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
            self.picture.setPixmap(
                shown.scaled(size, keep, smooth)
                if shown.width() > size.width() or shown.height() > size.height()
                else shown
            )
        else:
            missing = (
                "is missing from the job file" if data is None else "cannot be shown: it is no picture, or damaged"
            )
            self.picture.setText(f"This photograph {missing}.")
        layout.addWidget(self.picture)
        if photograph.caption:
            layout.addWidget(QLabel(photograph.caption))
