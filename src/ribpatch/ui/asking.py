"""Asking for files: what to open, and where to write what."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from ribpatch.jobfile import archive
from ribpatch.ui.save_over import ended

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from ribpatch.ui.session import Session

PICTURES = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp", ".heic", ".heif")
OUTLINES = (".svg", ".dxf")


def _kinds(suffixes: tuple[str, ...]) -> str:
    return " ".join(f"*{suffix}" for suffix in suffixes)


class Asking(QObject):
    """File dialogs over a window; papers are proposed beside the job's own file."""

    def __init__(self, session: Session, window: QWidget) -> None:
        super().__init__(window)
        self._session, self._window = session, window

    def ask_open(self) -> Path | None:
        """Ask for a job file."""
        return self._opened("Open a job", f"Rib Patch jobs (*{archive.SUFFIX})")

    def ask_outline(self) -> Path | None:
        """Ask for a drawing or a picture of a set-off sheet."""
        return self._opened("Outline from a file", f"Drawings and pictures ({_kinds((*OUTLINES, *PICTURES))})")

    def ask_pictures(self) -> list[Path]:
        """Ask for pictures."""
        kinds = f"Pictures ({_kinds(PICTURES)});;All files (*)"
        from PySide6.QtWidgets import QFileDialog

        names, _ = QFileDialog.getOpenFileNames(self._window, "Add photographs", "", kinds)
        return [Path(name) for name in names]

    def ask_kind(self, title: str, proposed: str, kinds: str) -> tuple[Path, str] | None:
        """Ask where to write a paper, and as which of several kinds; the kind as it is worded."""
        name, kind = self._written(title, proposed, kinds)
        if not name:
            return None
        ending = kind[kind.index("*.") + 1 :].strip("() ") if "*." in kind else Path(name).suffix or ".pdf"
        stated = Path(name).suffix.lower()
        known = {part.split("*")[1].strip("() ") for part in kinds.split(";;")}
        path = ended(Path(name), (stated if stated in known else ending,), self._window)
        return None if path is None else (path, kind)

    def ask_path(self, title: str, proposed: str, kinds: str) -> Path | None:
        """Ask where to write a paper."""
        name, _ = self._written(title, proposed, kinds)
        endings = tuple(part.strip("*() ") for part in kinds[kinds.index("(") :].split())
        return ended(Path(name), endings, self._window) if name else None

    def _opened(self, title: str, kinds: str) -> Path | None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self._window, title, "", f"{kinds};;All files (*)")
        return Path(name) if name else None

    def _written(self, title: str, proposed: str, kinds: str) -> tuple[str, str]:
        folder = self._session.path.parent if self._session.path else Path.cwd()
        from PySide6.QtWidgets import QFileDialog

        return QFileDialog.getSaveFileName(self._window, title, str(folder / proposed), kinds)
