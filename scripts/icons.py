"""Draws the program's icon from its SVG in every size that a desktop asks for."""

from __future__ import annotations

import os
import sys
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

ICONS = Path(__file__).parent.parent / "src" / "ribpatch" / "resources" / "icons"
SIZES = (16, 22, 24, 32, 48, 64, 128, 256, 512)


def main() -> int:
    app = QGuiApplication([])
    drawn = QSvgRenderer(str(ICONS / "ribpatch.svg"))
    for size in SIZES:
        image = QImage(size, size, QImage.Format.Format_ARGB32_Premultiplied)
        image.fill(Qt.GlobalColor.transparent)
        painter = QPainter(image)
        drawn.render(painter)
        painter.end()
        image.save(str(ICONS / "hicolor" / f"{size}.png"))
    app.quit()
    return 0


if __name__ == "__main__":
    sys.exit(main())
