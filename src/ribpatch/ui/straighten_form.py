"""What the dialog that sets a photograph straight is made of: the picture, what is measured, buttons, words."""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.set_straight import MEASURED, How
from ribpatch.ui.scaling import ALL_OF_IT, size_within, sized
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.photo_canvas import PhotoCanvas
from ribpatch.ui.widgets.soft import soft_label

HOWS: tuple[tuple[How, str], ...] = (
    ("rectangle", "a rectangle of known length and width"),
    ("tapes", "two tapes that cross square"),
    ("distances", "four points, all distances between them"),
)
TELLS: dict[How, str] = {
    "rectangle": "Set 1 to 4 on its corners in order round it: 1 to 2 is its length, along the zone's x.",
    "tapes": "Set 1 and 2 on the ends of one tape, 3 and 4 on those of the other.",
    "distances": "Set 1 to 4 in order round; measure all six distances between them.",
}
WIDE = 300  # pixels of the column, and of the picture laid flat
PAUSE = 120  # ms after the last change


class StraightenForm(QDialog):
    """``asked`` carries what a button asks for, ``way_changed`` that another way is known; ``rest`` runs out when
    nothing has changed for a moment.
    """

    asked = Signal(object)
    way_changed = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Set the photograph straight")
        self.canvas = PhotoCanvas()
        self.rest = QTimer(self)
        self.rest.setSingleShot(True)
        self.rest.setInterval(PAUSE)
        self._compose()
        size_within(self, *ALL_OF_IT)

    def _compose(self) -> None:
        column = QVBoxLayout()
        column.setSpacing(6)
        self._measured_part(column)
        self._place_part(column)
        self._more_part(column)
        self.flat = QLabel()
        self.flat.setAccessibleName("the picture laid flat")
        self.flat.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self.flat)
        self.words = self._text(column, "")
        column.addStretch(1)
        inside = QWidget()
        inside.setLayout(column)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # Tab brings what it stops at into view
        scroll.setWidget(inside)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        sized(scroll, least_width=WIDE + 40, most_width=WIDE + 90)
        right = QVBoxLayout()
        right.addWidget(scroll, 1)
        buttons = QHBoxLayout()
        self.take = QPushButton("Lay it under the plan")
        self.take.setToolTip("Keep this, and lay the straightened picture under the plan (Ctrl+Enter)")
        self.take.setShortcut("Ctrl+Return")
        self.take.clicked.connect(lambda: self.asked.emit("accepted"))
        cancel = QPushButton("Leave it")
        cancel.setObjectName("plain")
        cancel.clicked.connect(lambda: self.reject())
        buttons.addWidget(self.take, 1)
        buttons.addWidget(cancel)
        right.addLayout(buttons)
        whole = QHBoxLayout(self)
        whole.addWidget(self.canvas, 1)
        whole.addLayout(right)

    def _text(self, column: QVBoxLayout, words: str) -> QLabel:
        label = soft_label(words)
        column.addWidget(label)
        return label

    def _measured_part(self, column: QVBoxLayout) -> None:
        column.addWidget(QLabel("What is known in the picture"))
        self.how = Combo()
        self.how.setAccessibleName("what is known in the picture")
        for way, name in HOWS:
            self.how.addItem(name, way)
        self.how.currentIndexChanged.connect(lambda _index: self.show_way())
        column.addWidget(self.how)
        self.tells = self._text(column, "")
        grid = QGridLayout()
        self._size_labels = [QLabel() for _ in range(6)]
        self.sizes = [self._line("length between two marks") for _ in range(6)]
        for n, (label, edit) in enumerate(zip(self._size_labels, self.sizes, strict=True)):
            grid.addWidget(label, n // 2, 2 * (n % 2))
            grid.addWidget(edit, n // 2, 2 * (n % 2) + 1)
        column.addLayout(grid)

    def _place_part(self, column: QVBoxLayout) -> None:
        column.addWidget(QLabel("Where mark 1 lies in the zone, and the turn of 1 to 2"))
        row = QHBoxLayout()
        self.place_x, self.place_y, self.turn = self._line("x of mark 1"), self._line("y of mark 1"), self._line("turn")
        for edit, text in ((self.place_x, "x: 0"), (self.place_y, "y: 0"), (self.turn, "turn: 0°")):
            edit.setPlaceholderText(text)
            row.addWidget(edit)
        quarter = QPushButton("¼")
        quarter.setObjectName("plain")
        quarter.setToolTip("Turn by a quarter more")
        quarter.setAccessibleName("turn by a quarter")
        quarter.clicked.connect(lambda: self.asked.emit("quarter"))
        row.addWidget(quarter)
        column.addLayout(row)

    def _more_part(self, column: QVBoxLayout) -> None:
        column.addWidget(QLabel("Lens and checks"))
        row = QHBoxLayout()
        self.edge_button = self._toggle(
            "Straight edge",
            "Then click three or more points along one straight edge, or Enter at the cross of the arrows",
        )
        self.check_button = self._toggle(
            "Check", "Then click two places whose distance you measured, or Enter at the cross of the arrows"
        )
        self.back_button = QPushButton("Take back")
        self.back_button.setObjectName("plain")
        self.back_button.setToolTip("Take the last point, edge or check back (Backspace)")
        self.back_button.clicked.connect(lambda: self.asked.emit("take_back"))
        for button in (self.edge_button, self.check_button, self.back_button):
            row.addWidget(button)
        column.addLayout(row)
        printed = QHBoxLayout()
        self.find_button = QPushButton("Find printed marks")
        self.find_button.setObjectName("plain")
        self.find_button.setToolTip("Set 1 to 4 on the four printed marks of a set-off sheet")
        self.find_button.clicked.connect(lambda: self.asked.emit("find_marks"))
        self.line_button = QPushButton("Take the drawn line")
        self.line_button.setObjectName("plain")
        self.line_button.setToolTip("Make the closed line drawn between the marks the outline of the zone")
        self.line_button.clicked.connect(lambda: self.asked.emit("take_line"))
        printed.addWidget(self.find_button)
        printed.addWidget(self.line_button)
        column.addLayout(printed)
        self.check_length = self._line("measured distance of the check")
        self.check_length.setPlaceholderText("measured distance of the last check")
        self.check_length.hide()
        column.addWidget(self.check_length)

    def _toggle(self, text: str, tip: str) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("plain")
        button.setCheckable(True)
        button.setToolTip(tip)
        return button

    def _line(self, name: str) -> QLineEdit:
        edit = QLineEdit()
        edit.setAccessibleName(name)
        edit.textChanged.connect(lambda _text: self.rest.start())
        return edit

    @property
    def way(self) -> How:
        """What is known in the picture."""
        return HOWS[max(self.how.currentIndex(), 0)][0]

    def show_way(self) -> None:
        """Ask for the lengths that this way wants."""
        names = MEASURED[self.way]
        self.tells.setText(TELLS[self.way])
        for n, (label, edit) in enumerate(zip(self._size_labels, self.sizes, strict=True)):
            label.setVisible(n < len(names))
            edit.setVisible(n < len(names))
            if n < len(names):
                label.setText(names[n])
                edit.setAccessibleName(names[n])
        marks = frozenset({"marks"})
        self.canvas.pairs, self.canvas.closed = (marks, frozenset()) if self.way == "tapes" else (frozenset(), marks)
        self.way_changed.emit()
