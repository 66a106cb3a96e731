"""Light and dark: one palette of names turned into Qt's palette and a style sheet. The font ships with the program."""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette

from ribpatch import resources
from ribpatch.core.drawing.palette import PALETTES
from ribpatch.ui.scaling import factor

if TYPE_CHECKING:
    from PySide6.QtWidgets import QApplication

FAMILY, FALLBACK = "B612", "DejaVu Sans"  # the other has the signs that the first lacks
POINTS = 10.0
LINE = 3  # pixels: thinner is a line, not a measure


def load_font() -> None:
    """Load the shipped font; raises RuntimeError where Qt does not take it."""
    for name in ("B612-Regular.ttf", "B612-Bold.ttf"):
        if QFontDatabase.addApplicationFontFromData(resources.data(f"fonts/{name}")) < 0:
            raise RuntimeError(f"the shipped font {name} could not be loaded")


def load_fallback() -> None:
    """Load the font that has the signs which the program's lacks; until then the system's own stands in."""
    if FALLBACK not in QFontDatabase.families():
        QFontDatabase.addApplicationFontFromData(resources.data("fonts/DejaVuSans.ttf"))


def font(size: float = POINTS, bold: bool = False) -> QFont:
    """The program's font in points."""
    made = QFont()
    made.setFamilies([FAMILY, FALLBACK])
    made.setPointSizeF(size)
    made.setBold(bold)
    return made


def text_font(size: float = POINTS, bold: bool = False) -> QFont:
    """The program's font in points for a widget, as large as text is now; painted by hand it is scaled by itself."""
    return font(size * factor(), bold)


@cache
def colours(theme: str) -> dict[str, QColor]:
    """The palette's colours by name."""
    return {name: QColor(value) for name, value in PALETTES[theme].items()}


def apply_theme(app: QApplication, theme: str) -> None:
    """Give the whole program one look, at the size of text as it is; setting the same look again costs nothing."""
    look = f"{theme} {factor()}"
    if app.property("ribpatch-theme") == look:
        return
    app.setProperty("ribpatch-theme", look)
    c = PALETTES[theme]
    app.setFont(text_font())
    palette = QPalette()
    for role, name in (
        (QPalette.ColorRole.Window, "paper"),
        (QPalette.ColorRole.WindowText, "ink"),
        (QPalette.ColorRole.Base, "panel"),
        (QPalette.ColorRole.AlternateBase, "paper"),
        (QPalette.ColorRole.Text, "ink"),
        (QPalette.ColorRole.Button, "panel"),
        (QPalette.ColorRole.ButtonText, "ink"),
        (QPalette.ColorRole.Highlight, "accent"),
        (QPalette.ColorRole.HighlightedText, "accent-ink"),
        (QPalette.ColorRole.ToolTipBase, "panel"),
        (QPalette.ColorRole.ToolTipText, "ink"),
        (QPalette.ColorRole.PlaceholderText, "soft"),
        (QPalette.ColorRole.Link, "accent"),
    ):
        palette.setColor(role, QColor(c[name]))
    palette.setColor(QPalette.ColorGroup.Disabled, QPalette.ColorRole.ButtonText, QColor(c["soft"]))
    app.setPalette(palette)
    sheet = (_SHEET + (_TARGETS if theme.startswith("shed") else "")).format(
        **{k.replace("-", "_"): v for k, v in c.items()}
    )
    # A sheet put over another costs a millisecond a widget, one put over none a fifth of that.
    app.setStyleSheet("")
    app.setStyleSheet(sheet if factor() == 1 else _grown(sheet))


def _grown(sheet: str) -> str:
    """A style sheet with its text and its larger measures at the factor; lines stay thin."""
    import re

    def larger(found: re.Match[str]) -> str:
        size, unit = float(found[1]), found[2]
        return found[0] if unit == "px" and size < LINE else f"{size * factor():.4g}{unit}"

    return re.sub(r"\b(\d+(?:\.\d+)?)(px|pt)\b", larger, sheet)


# For fingers in gloves.
_TARGETS = """
QPushButton, QLineEdit, QComboBox {{ min-height: 24px; }}
QPushButton#figure, QPushButton#big, QPushButton#fold {{ min-height: 20px; }}
QPushButton#rung {{ min-height: 0; }}
QScrollBar:vertical {{ background: {rail}; width: 18px; }}
QScrollBar::handle:vertical {{ border-radius: 6px; min-height: 40px; }}
QCheckBox::indicator {{ width: 20px; height: 20px; }}
QListWidget::item {{ min-height: 24px; }}
QTableWidget, QTextBrowser, QListWidget, QAbstractScrollArea#lanes {{ border: 2px solid {rail}; }}
QTableWidget:focus, QTextBrowser:focus, QListWidget:focus,
QAbstractScrollArea#lanes:focus {{ border: 2px solid {accent}; }}
"""

_SHEET = """
QMainWindow, QDialog {{ background: {paper}; }}
QToolTip {{ background: {panel}; color: {ink}; border: 1px solid {edge}; padding: 3px; }}
QMenuBar {{ background: {rail}; }} QMenuBar::item {{ padding: 3px 9px; background: transparent; }}
QMenuBar::item:selected, QMenu::item:selected {{ background: {accent}; color: {accent_ink}; }}
QMenu {{ background: {panel}; border: 1px solid {edge}; }} QMenu::item {{ padding: 4px 24px 4px 14px; }}
QMenu::item:disabled {{ color: {soft}; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: {paper}; border: 0; }}
QScrollArea#reads {{ border: 2px solid {paper}; }}
QScrollArea#reads:focus, QAbstractScrollArea#lanes:focus {{ border: 2px solid {accent}; }}
QTextBrowser, QListWidget, QAbstractScrollArea#lanes {{ border: 2px solid {edge}; }}
QTextBrowser:focus, QListWidget:focus {{ border: 2px solid {accent}; }}
QScrollBar:vertical {{ background: {paper}; width: 10px; }}
QScrollBar:horizontal {{ background: {paper}; height: 10px; }}
QScrollBar::handle:horizontal {{ background: {edge}; border-radius: 5px; min-width: 30px; }}
QScrollBar::add-line:horizontal, QScrollBar::sub-line:horizontal {{ width: 0; }}
QScrollBar::handle:vertical {{ background: {edge}; border-radius: 5px; min-height: 30px; }}
QScrollBar::add-line:vertical, QScrollBar::sub-line:vertical {{ height: 0; }}
QFrame#card {{ background: {panel}; border: 1px solid {edge}; border-radius: 6px; }}
QFrame#overlay {{ background: {panel}; border: 2px solid {accent}; border-radius: 6px; }}
QFrame#message {{ background: {warn_soft}; border: 1px solid {warn}; border-radius: 4px; }}
QLabel#title {{ font-size: 14pt; font-weight: bold; }}
QLabel#heading {{ color: {soft}; }}
QLabel#soft {{ color: {soft}; font-size: 9pt; }}
QLabel#warn {{ color: {warn}; font-size: 9pt; }}
QLabel#grave {{ color: {grave}; font-size: 9pt; font-weight: bold; }}
QLabel#echo {{ color: {ink}; font-size: 11pt; }}
QLineEdit, QPlainTextEdit, QComboBox {{ background: {paper}; border: 1px solid {edge}; border-radius: 4px;
  padding: 3px 6px;
  selection-background-color: {accent}; selection-color: {accent_ink}; }}
QLineEdit:focus, QPlainTextEdit:focus, QComboBox:focus {{ border: 2px solid {accent}; padding: 2px 5px; }}
QComboBox::drop-down {{ border: 0; width: 18px; }}
QComboBox QAbstractItemView {{ background: {panel}; border: 1px solid {edge}; }}
QPushButton {{ background: {panel}; border: 1px solid {accent}; border-radius: 4px; padding: 4px 10px;
  color: {accent}; }}
QPushButton:hover {{ background: {accent_soft}; }} QPushButton:focus {{ border: 2px solid {accent}; padding: 3px 9px; }}
QPushButton:checked {{ background: {accent}; color: {accent_ink}; }}
QPushButton:disabled {{ color: {soft}; border-color: {edge}; }}
QPushButton#plain {{ border: 1px solid {edge}; color: {ink}; }}
QPushButton#plain:focus {{ border: 2px solid {accent}; padding: 3px 9px; }}
QPushButton#plain:checked {{ background: {accent}; color: {accent_ink}; border-color: {accent}; }}
QPushButton:checked:focus, QPushButton#plain:checked:focus {{ border: 2px solid {accent_ink}; padding: 3px 9px; }}
QPushButton[tall="true"] {{ min-height: 72px; }}
QPushButton#fold {{ border: 0; background: transparent; color: {soft}; padding: 1px 2px; text-align: left; }}
QPushButton#fold:hover {{ color: {accent}; }} QPushButton#fold:focus {{ border: 1px solid {accent}; padding: 0 1px; }}
QPushButton#way {{ background: {accent}; color: {accent_ink}; padding: 1px 12px; }}
QPushButton#way:focus {{ border: 2px solid {accent_ink}; padding: 0 11px; }}
QPushButton#figure {{ border: 0; background: transparent; color: {accent}; padding: 1px 2px; text-align: right; }}
QPushButton#figure:hover {{ text-decoration: underline; }}
QPushButton#figure:focus {{ border: 1px solid {accent}; }}
QPushButton#big {{ border: 0; background: transparent; color: {accent}; font-size: 13pt; font-weight: bold;
  padding: 0 2px; text-align: right; }}
QPushButton#big:focus {{ border: 1px solid {accent}; }}
QTableWidget {{ background: {panel}; gridline-color: {edge}; border: 1px solid {edge};
  alternate-background-color: {paper}; }}
QTableWidget:focus {{ border: 1px solid {accent}; }}
QTableWidget::item:selected {{ background: {accent_soft}; color: {ink}; }}
QHeaderView::section {{ background: {rail}; border: 0; border-bottom: 1px solid {edge}; padding: 4px 6px;
  color: {soft}; }}
QTableWidget#table {{ font-size: 9pt; }}
QTableWidget#table QHeaderView::section {{ font-size: 8.5pt; padding: 2px 4px; }}
QTableWidget#table::item {{ padding: 1px 3px; }}
QTableCornerButton::section {{ background: {rail}; border: 0; }}
QSplitter::handle {{ background: {paper}; height: 8px; }}
"""
