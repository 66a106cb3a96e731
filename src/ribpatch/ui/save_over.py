"""Names to save under, and saving over a file that something else changed: which of the two stays, and what could not
be held.
"""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from ribpatch.core.dates import moment_words
from ribpatch.core.job import Job, member_name
from ribpatch.jobfile.album import damaged_folder

if TYPE_CHECKING:
    from pathlib import Path

    from PySide6.QtWidgets import QWidget

MOST_NAMED = 4
KEEP_BOTH, RELOAD, OVERWRITE = "Keep both", "Take the file's", "Overwrite it"


def which_stays(path: Path, said: str, window: QWidget) -> str:
    """Ask what to do with a changed file: KEEP_BOTH, RELOAD, OVERWRITE, or nothing (empty)."""
    from PySide6.QtWidgets import QMessageBox

    box = QMessageBox(window)
    box.setWindowTitle("The file changed")
    box.setText(f"{path.name} {said} since it was read here{_how(path)}.")
    box.setInformativeText(
        f"{KEEP_BOTH} writes your work beside it under a new name. {RELOAD} shows what it holds now; undo brings yours "
        f"back. {OVERWRITE} keeps what it holds now as {path.name}~."
    )
    buttons = {box.addButton(KEEP_BOTH, QMessageBox.ButtonRole.AcceptRole): KEEP_BOTH}
    box.setDefaultButton(next(iter(buttons)))
    if path.is_file():
        buttons[box.addButton(RELOAD, QMessageBox.ButtonRole.ActionRole)] = RELOAD
    again = OVERWRITE if path.exists() else "Save it again"
    buttons[box.addButton(again, QMessageBox.ButtonRole.DestructiveRole)] = OVERWRITE
    box.addButton("Cancel", QMessageBox.ButtonRole.RejectRole)
    box.exec()
    return next((choice for button, choice in buttons.items() if button is box.clickedButton()), "")


def _how(path: Path) -> str:
    """When the file at ``path`` was written, in words; nothing where there is none."""
    try:
        return f" (written {moment_words(datetime.fromtimestamp(path.stat().st_mtime).isoformat())})"
    except OSError:
        return ""


def free_name(path: Path) -> Path:
    """A name beside ``path`` that nothing has yet: ``NAME 2.ribpatch``."""
    number = 2
    while (free := path.with_name(f"{path.stem} {number}{path.suffix}")).exists():
        number += 1
    return free


def left_out_words(names: tuple[str, ...], job: Job, path: Path) -> str:
    """That a save could not hold some photographs and recordings: which, and where to look for them."""
    said = [member_name(job, name) for name in names]
    shown = ", ".join(said[:MOST_NAMED]) + (f" and {len(said) - MOST_NAMED} more" if len(said) > MOST_NAMED else "")
    aside = damaged_folder(path)
    where = f" What is left of them is in “{aside.name}”." if aside.is_dir() else ""
    return f"Saved, but without {shown}: damaged or gone from the file.{where} An older copy may be in {path.name}~."


def ended(path: Path, endings: tuple[str, ...], window: QWidget) -> Path | None:
    """The path with one of the endings, the first where it had none; asks before that name's file is replaced."""
    if path.name.lower().endswith(endings):
        return path
    longer = path.with_name(path.name + endings[0])
    if longer.exists():
        from PySide6.QtWidgets import QMessageBox

        answer = QMessageBox.question(
            window,
            "Replace it?",
            f"{longer.name} is there already. Replace it?",
            QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.No,
            QMessageBox.StandardButton.No,
        )
        if answer != QMessageBox.StandardButton.Yes:
            return None
    return longer


def file_name(text: str) -> str:
    """A boat's name as a file name."""
    return "".join(c if c.isalnum() or c in " -_" else "-" for c in text).strip().replace(" ", "-").lower() or "job"
