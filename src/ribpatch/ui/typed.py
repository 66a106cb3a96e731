"""Text that was typed but not entered: it is entered before the job is saved, closed or looked at elsewhere, or told.

A line that stands for a value enters it when asked. A line of a form that waits for its button (``wait_for``) is only
told of, with the button's words: pressing it may need more than the line.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QApplication, QLineEdit, QWidget

from ribpatch.ui.within import within

if TYPE_CHECKING:
    from PySide6.QtWidgets import QPlainTextEdit

_WAITS, _REFUSED, _TOLD, _ENTER = "waits_for", "refused", "told_of", "enters"
_LONGEST = 40


def wait_for(line: QLineEdit | QPlainTextEdit, button: str) -> None:
    """Say which button uses what is typed here."""
    line.setProperty(_WAITS, button)


def enter_by_return(line: QLineEdit) -> None:
    """What is typed here is entered by Enter, and may be entered without it."""
    line.setProperty(_ENTER, True)


def refuse(line: QLineEdit, sentence: str) -> None:
    """Note why what is typed here was not taken, as was told beside it."""
    line.setProperty(_REFUSED, sentence)
    line.setProperty(_TOLD, line.text())


def settle(*places: QWidget) -> str:
    """Enter what is typed in the line worked on; why not, or what else waits for its button, in a sentence. Empty where
    nothing is left. What was told once is not told again until it is changed."""
    said = [s for s in (_entered(QApplication.focusWidget(), places), *map(_waiting, _lines(places))) if s]
    return " ".join(dict.fromkeys(said))


def _entered(line: QWidget | None, places: tuple[QWidget, ...]) -> str:
    if line is None or not any(place.isAncestorOf(line) for place in places):
        return ""
    from PySide6.QtWidgets import QAbstractSpinBox

    if isinstance(line, QAbstractSpinBox):
        line.interpretText()
        return ""
    if not isinstance(line, QLineEdit) or not line.isModified():
        return ""
    text = line.text()
    if text == line.property(_TOLD):
        return ""
    line.setProperty(_REFUSED, "")
    if line.property(_ENTER):
        line.returnPressed.emit()
    line.editingFinished.emit()
    refused = str(line.property(_REFUSED) or "")
    return f"“{_short(text)}” was not entered. {refused}" if refused else ""


def _lines(places: tuple[QWidget, ...]) -> list[QLineEdit | QPlainTextEdit]:
    every = (widget for place in places for widget in within(place))
    from PySide6.QtWidgets import QPlainTextEdit

    return [w for w in every if isinstance(w, QLineEdit | QPlainTextEdit) and w.property(_WAITS)]


def _waiting(line: QLineEdit | QPlainTextEdit) -> str:
    if isinstance(line, QLineEdit):
        text, changed = line.text(), line.isModified()
        line.setModified(False)
    else:
        text, changed = line.toPlainText(), line.document().isModified()
        line.document().setModified(False)
    if not changed or not text.strip() or not line.isVisibleTo(line.window()):
        return ""
    name = line.accessibleName() or (line.placeholderText() if isinstance(line, QLineEdit) else "")
    return f"“{_short(text)}” ({name}) is typed but not used yet: press “{line.property(_WAITS)}”, or clear it."


def _short(text: str) -> str:
    line = " ".join(text.split())
    return line if len(line) <= _LONGEST else line[:_LONGEST] + "…"
