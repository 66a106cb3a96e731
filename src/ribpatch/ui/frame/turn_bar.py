"""Plan, page or choices: where text is large for the window only one of the three is shown."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QButtonGroup, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ribpatch.ui.frame.parts import CHOICES, PAGE, PARTS, PLAN
from ribpatch.ui.scaling import sized

TIPS = {PLAN: "the plan", PAGE: "the cut-through or page below it", CHOICES: "the choices of this stage"}


class TurnBar(QWidget):
    """Large buttons, one a part. ``turned`` carries the part wanted."""

    turned = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 6)
        self._group = QButtonGroup(self)
        self.buttons: dict[str, QPushButton] = {}
        for number, part in enumerate(PARTS):
            button = QPushButton("\n".join(part))
            button.setAccessibleName(part)
            button.setObjectName("plain")
            button.setProperty("tall", True)
            button.setCheckable(True)
            button.setToolTip(f"Show {TIPS[part]} (Ctrl+J turns from one to the next)")
            button.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
            sized(button, width=34)
            self._group.addButton(button, number)
            self.buttons[part] = button
            column.addWidget(button, len(part))
        self.buttons[PLAN].setChecked(True)
        self._group.idClicked.connect(lambda number: self.turned.emit(PARTS[number]))

    @property
    def part(self) -> str:
        """The part that is shown."""
        return PARTS[max(self._group.checkedId(), 0)]

    def offer(self, parts: tuple[str, ...], part: str) -> str:
        """Offer these parts to turn to, of one only there is nothing to turn; mark one of them as the one shown, the
        plan where it is none of them, and give it back.
        """
        part = part if part in parts else PLAN
        self.buttons[part].setChecked(True)
        for name, button in self.buttons.items():
            button.setVisible(name in parts)
        self.setVisible(len(parts) > 1)
        return part

    @property
    def next_part(self) -> str:
        """The part after the one shown."""
        offered = [p for p in PARTS if not self.buttons[p].isHidden()]
        return offered[(offered.index(self.part) + 1) % len(offered)] if self.part in offered else PLAN
