"""The bench in two parts, one over the other: each keeps the share that the user gave it, and the lower one can take
all of it.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QSplitter

from ribpatch.ui.widgets.by_eye import parts_by_eye

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget


USUAL = 0.43  # of the height, for the lower part
LEAST, MOST = 0.1, 0.9


class SplitRoom(QSplitter):
    """``shared`` carries the lower part's share when the user has moved the line between the parts."""

    shared = Signal(float)

    def __init__(self, upper: QWidget, lower: QWidget, parent: QWidget | None = None) -> None:
        super().__init__(Qt.Orientation.Vertical, parent)
        self.addWidget(upper)
        self.addWidget(lower)
        parts_by_eye(self)
        self.setChildrenCollapsible(False)
        self.handle(1).setAccessibleName("line between the plan and the page below")
        self._upper, self._lower = upper, lower
        self._alone, self._whole = "", False
        self.setStretchFactor(0, 64)
        self.setStretchFactor(1, 36)
        self.give(USUAL)
        self.splitterMoved.connect(lambda: self.shared.emit(self.share))

    @property
    def share(self) -> float:
        """The lower part's share of the height, 0 to 1."""
        upper, lower = self.sizes()
        return lower / max(upper + lower, 1)

    def give(self, share: float) -> None:
        """Give the lower part a share of the height, 0 to 1."""
        lower = min(max(share, LEAST), MOST)
        height = max(self.height(), 600)
        self.setSizes([round(height * (1 - lower)), round(height * lower)])

    def one(self, part: str) -> None:
        """Show the ``upper`` part alone, the ``lower`` alone, or (empty) both; it goes before ``set_whole``."""
        self._alone = part
        self._show()

    def set_whole(self, whole: bool) -> None:
        """Give the lower part all of the height, or only its share."""
        self._whole = whole
        self._show()

    def _show(self) -> None:
        alone = self._alone or ("lower" if self._whole else "")
        self._upper.setVisible(alone != "lower")
        self._lower.setVisible(alone != "upper")
