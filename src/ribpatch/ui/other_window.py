"""Another window is another run of the program: what goes wrong in one does not reach the other."""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path


def open_window(path: Path | None = None) -> bool:
    """Start the program once more, with a job; whether it started."""
    from PySide6.QtCore import QProcess

    arguments = ["-m", "ribpatch", *([str(path)] if path is not None else [])]
    return bool(QProcess.startDetached(sys.executable, arguments)[0])
